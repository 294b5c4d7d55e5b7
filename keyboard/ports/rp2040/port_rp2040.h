/* port_rp2040.h - the rooms of this port.
 *
 * 1. Everything runs in the main loop of core 0; core 1 sleeps in the chip's ROM, where it
 * waits to be started. No interrupt ever runs: they are masked in the core, where a pending one
 * still wakes it from WFI (ARMv6-M, B1.5.18).
 * 2. The pins, the USB names and the sizes come from the configuration header.
 * 3. Section numbers are those of the RP2040 datasheet (2024-10-15).
 */
#ifndef UVREK_PORT_RP2040_H
#define UVREK_PORT_RP2040_H

#include "uvrek/half.h"
#include "uvrek/port.h"
#include "uvrek/usb.h"

struct uvk_port {
    struct uvk_usb usb;
#if UVK_USE_JOURNAL
    struct uvk_journal journal;
#endif
    bool wants_restart, wants_bootloader;
};

/* start.c: crystal, PLLs, the clocks of system and USB, the timer's microseconds. */
void uvk_clocks_start(void);
void uvk_clock_slow(void); /* the system runs from the crystal, its PLL is off */
void uvk_clock_fast(void);
#define UVK_CLOCK_SLOW 12000000u /* hertz */
#define UVK_CLOCK_FAST 125000000u
/* Take peripherals out of reset, a RESET_ bit each, and wait until they are. */
void uvk_unreset(uint32_t which);

/* matrix.c: set up the pins of each half that this chip reads; and a pin, with what its pad
 * does and who drives it (registers.h). IO_BANK0 and PADS_BANK0 are out of reset. */
void uvk_matrix_start(bool first, bool second);
void uvk_pin_start(uint32_t pin, uint32_t pad, uint32_t function);

#if UVK_USE_LINK
/* link.c: the cable to the other half, SECOND: from that end; the system's clock is HERTZ from
 * now on; what comes, and what there is to send, is to wake the chip. */
void uvk_link_start(bool second);
void uvk_link_clock(uint32_t hertz);
void uvk_link_before_sleep(void);
#endif

#if UVK_USE_LIGHTS
/* lights.c: set up its pins; go on with what waits to be sent. */
void uvk_lights_setup(struct uvk_port *self);
void uvk_lights_task(void);
/* What is still to come is to wake the chip; the system's clock is HERTZ from now on. */
void uvk_lights_before_sleep(void);
void uvk_lights_clock(uint32_t hertz);
#else
static inline void uvk_lights_setup(struct uvk_port *self)
{
    (void)self;
}
static inline void uvk_lights_task(void)
{
}
static inline void uvk_lights_before_sleep(void)
{
}
static inline void uvk_lights_clock(uint32_t hertz)
{
    (void)hertz;
}
#endif

/* bus.c: attach; work on what has happened on the cable; leave. */
void uvk_bus_start(void);
void uvk_bus_task(struct uvk_usb *usb);
void uvk_bus_detach(void);

/* power.c: watchdog, restart, bootloader. TIME is uvk_port_time's. */
void uvk_power_start(void);
void uvk_power_alive(uint32_t time);
void uvk_power_reset(bool bootloader) __attribute__((noreturn));
/* A function of the chip's ROM by the two letters of its name, the first in the low byte
 * (2.8.3). */
void *uvk_rom_function(uint32_t code);

#endif
