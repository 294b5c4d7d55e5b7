/* avr.h - an ATmega32U4 in libsimavr: what the files of this folder share. */
#ifndef UVREK_CHIPSIM_AVR_H
#define UVREK_CHIPSIM_AVR_H

#include "../chipsim.h"

#include <sim_avr.h>

#define BOOTLOADER    0x7000u
#define CYCLES_PER_US 16u

struct chip {
    avr_t *avr;
};

/* pins.c: the net on the chip's ports. */
void pins_attach(struct sim *sim);
void pins_sync(struct sim *sim); /* take over the drives from the port registers */

/* run.c: up to a cycle; an interrupt, by the number of its vector. */
void run_to(struct sim *sim, uint64_t cycle);
void raise_interrupt(struct sim *sim, unsigned number);

/* usb.c: make its registers as those of silicon. */
void usb_attach(struct sim *sim);

/* measure.c: watch passes, wake-ups and interrupts; fill RAM with anything. */
void measure_attach(struct sim *sim);
void measure_poison(struct sim *sim);

#endif
