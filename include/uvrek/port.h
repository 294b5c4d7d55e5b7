/* port.h - the whole hardware, as the engine sees it.
 *
 * 1. A port defines struct uvk_port and every function below; they are bound when the
 *    firmware is linked, so a small chip pays for no pointers.
 * 2. No function waits for the host, a key or a clock; the one bounded wait is the
 *    settle time of a scan line (a few microseconds).
 * 3. The engine calls them from one thread only, never from an interrupt. Interrupts of
 *    the port may change what they return at any time.
 * 4. A new chip is one folder under keyboard/ports/ with these functions; docs/porting.md goes
 *    through it step by step, examples/own_port.c is one in a page.
 */
#ifndef UVREK_PORT_H
#define UVREK_PORT_H

#include "uvrek/engine.h"

#ifdef __cplusplus
extern "C" {
#endif

/* Microseconds since some moment, wrapping at 2^32. Read by the port's own main loop,
 * which passes it to the engine. */
uint32_t uvk_port_time(struct uvk_port *port);

/* Select scan line LINE (0..lines-1), let it settle, read all sense pins, let the line
 * go. Bit n is set when the switch at sense n conducts. Takes the settle time. */
uvk_bits uvk_port_read_line(struct uvk_port *port, uint8_t line);

/* The two contacts of KNOB: bit 0 the first, bit 1 the second, set where it is closed. While
 * the knob turns clockwise, the first one closes first. */
uint8_t uvk_port_read_knob(struct uvk_port *port, uint8_t knob);

/* Hand a report of SIZE bytes (<= UVK_REPORT_MAX) for INTERFACE to the host. True: it
 * was taken, and goes out in order. False: the endpoint is busy, ask again at the next
 * pass. While no host has configured the keyboard, false. */
bool uvk_port_send(struct uvk_port *port, uint8_t interface, const uint8_t *report,
                   uint8_t size);

/* The protocol of interface 0 (HID 1.11, 7.2.6): true for boot, false for report. */
bool uvk_port_boot_protocol(struct uvk_port *port);

/* The lamps that the host wants lit: bit 0 num lock, 1 caps lock, 2 scroll lock. */
uint8_t uvk_port_lamps(struct uvk_port *port);

/* The host sleeps, and a key was pressed: wake it if it allowed that (USB 2.0, 7.1.7.7).
 * Does nothing when the host is awake. */
void uvk_port_wake_host(struct uvk_port *port);

/* Start over, or start the bootloader. Both take effect after the current pass. FORGET: what is
 * kept in memory (journal.h) is forgotten first, however long that takes. */
void uvk_port_restart(struct uvk_port *port, bool forget);
void uvk_port_enter_bootloader(struct uvk_port *port);

#if UVK_USE_PROBE
/* A host has set this chip up. And: select LINE from now on, or let it go; as
 * uvk_port_read_line does it for a moment. */
bool uvk_port_has_host(struct uvk_port *port);
void uvk_port_hold_line(struct uvk_port *port, uint8_t line, bool low);
#endif

#if UVK_USE_LIGHTS
/* The host sleeps (USB 2.0, 7.1.7.6): all is to be dark. */
bool uvk_port_host_sleeps(struct uvk_port *port);
#endif

#if UVK_USE_BACKLIGHT
/* How bright the backlight is from now on: 0 dark, 255 in full. It flickers too fast to be
 * seen, by itself. */
void uvk_port_backlight(struct uvk_port *port, uint8_t brightness);
#endif

#if UVK_USE_STRIP
/* The strip can take all its colours: what was sent last is out, and it has had its rest. */
bool uvk_port_strip_ready(struct uvk_port *port);

/* Send the colours of COUNT lamps (1..UVK_OWN_STRIP): red, green and blue of each, scaled by
 * uvk_light_scaled (lights.h). They stay as they are until it is ready again. It may take as
 * long as the lamps do, 30 us each, but then lets what is urgent in between any two. */
void uvk_port_strip_send(struct uvk_port *port, const uint8_t *colours, uint8_t count,
                         uint8_t scale);
#endif

#if UVK_MAX_LAMPS > 0
/* Lamps with a pin of their own: bit n is set when lamp n is lit. */
void uvk_port_lamps_light(struct uvk_port *port, uint8_t lit);
#endif

#if UVK_USE_LIVE
/* A byte that nobody can foresee, or what little of one there is: many are taken and mixed. */
uint8_t uvk_port_noise(struct uvk_port *port);
#endif

#if UVK_USE_JOURNAL
/* Two banks of UVK_BANK_BYTES that outlive the power, one behind the other; AT counts from the
 * start of the first. An erased byte is 0xFF, and a byte is written once after that. A byte at
 * AT. */
uint8_t uvk_port_memory_read(struct uvk_port *port, uint16_t at);

/* The last writing or erasing is over: the next one may begin. */
bool uvk_port_memory_ready(struct uvk_port *port);

/* Write SIZE bytes (1..UVK_MEMORY_PIECE) from AT on; erase UVK_ERASE_BYTES from AT on, a
 * multiple of those. Only when it is ready. */
void uvk_port_memory_write(struct uvk_port *port, uint16_t at, const uint8_t *bytes,
                           uint8_t size);
void uvk_port_memory_erase(struct uvk_port *port, uint16_t at);
#endif

#if UVK_USE_LINK
/* Begin to send SIZE bytes (1..UVK_FRAME_MAX, see link.h) to the other half of the keyboard.
 * Nothing is waited for, unless one wire is all there is and the chip has no hardware for that:
 * then it takes as long as the bytes do. What was still on its way is not cut off: these bytes
 * are dropped instead. */
void uvk_port_link_send(struct uvk_port *port, const uint8_t *bytes, uint8_t size);

/* A byte that the other half has sent, into *BYTE, in order. False: there is none. On one wire,
 * none of one's own. */
bool uvk_port_link_take(struct uvk_port *port, uint8_t *byte);
#endif

#ifdef __cplusplus
}
#endif

#endif
