/* port_atmega32u4.h - the rooms of this port.
 *
 * 1. Everything runs in the main loop. Interrupts count milliseconds, wake the chip, and take
 *    bytes of the other half into a ring; they share nothing else with it.
 * 2. The pins, the USB names and the sizes come from the configuration header.
 * 3. Section numbers are those of the ATmega16U4/32U4 datasheet (7766).
 */
#ifndef UVREK_PORT_ATMEGA32U4_H
#define UVREK_PORT_ATMEGA32U4_H

#include "uvrek/half.h"
#include "uvrek/port.h"
#include "uvrek/usb.h"

struct uvk_port {
    uint32_t time_us;
    struct uvk_usb usb;
#if UVK_USE_JOURNAL
    struct uvk_journal journal;
#endif
    bool wants_restart, wants_bootloader;
};

/* main.c: milliseconds, a count that wraps. */
extern volatile uint8_t uvk_milliseconds;

/* matrix.c: set up the pins of each half that this chip reads. */
void uvk_matrix_start(bool first, bool second);

#if UVK_USE_LINK
/* link.c: the cable to the other half; has something come out of it? */
void uvk_link_start(void);
bool uvk_link_has_come(void);
#endif

#if UVK_USE_LIGHTS
/* lights.c: set up its pins; go on with what waits to be sent. */
void uvk_lights_setup(struct uvk_port *self);
void uvk_lights_task(void);
#else
static inline void uvk_lights_setup(struct uvk_port *self)
{
    (void)self;
}
static inline void uvk_lights_task(void)
{
}
#endif

/* bus.c: attach; work on what has happened on the cable; let it wake the chip. */
void uvk_bus_start(void);
void uvk_bus_task(struct uvk_usb *usb);
void uvk_bus_before_sleep(const struct uvk_usb *usb);

/* power.c: reset, bootloader, sleep while the host sleeps. */
void uvk_power_start(void);
void uvk_power_alive(void); /* the watchdog is fed */
void uvk_power_suspended(struct uvk_port *port);
void uvk_power_reset(bool bootloader) __attribute__((noreturn));

#endif
