/* avr.h - an ATmega32U4 in libsimavr: what the files of this folder share. */
#ifndef UVREK_CHIPSIM_AVR_H
#define UVREK_CHIPSIM_AVR_H

#include "../chipsim.h"

#include <sim_avr.h>

#define BOOTLOADER    0x7000u
#define CYCLES_PER_US 16u

#define PORTS 5u /* B to F */

/* A handler of the simulator's own, which is called first. */
struct handler {
    void *param;
    avr_io_write_t write;
};

/* The USART, and the byte that is on its way in. */
struct usart {
    uint8_t control; /* UCSR1B */
    bool fast;       /* U2X1 */
    uint8_t sends;   /* the buffer of what goes out */
    bool is_full;    /* there is something in it */
    uint64_t sent;   /* nanoseconds: the shift register is busy till then */
    struct received {
        uint8_t byte;
        bool broken, lost; /* no stop bit; a byte before it was lost */
    } in[2];
    uint8_t count;
    bool lost;
    uint64_t sample; /* nanoseconds: the next look at the line; 0: it waits for a start bit */
    uint8_t bits;    /* looked at so far */
    uint16_t shift;
    uint64_t next; /* nanoseconds: nothing happens before */
};

#define EEPROM_SIZE 1024u

struct eeprom {
    uint8_t bytes[EEPROM_SIZE];
    unsigned wear[EEPROM_SIZE]; /* how often each was erased */
    unsigned at;                /* the byte that is at work, or was last */
    uint64_t armed;             /* cycle: EEMPE was set */
    uint64_t busy_until;        /* nanoseconds */
};

struct chip {
    uint32_t noise; /* of the thermometer */
    avr_t *avr;
    struct eeprom eeprom;
    struct handler before_ports[2 * PORTS], before_udcon;
    void (*reset_before)(avr_t *);
    uint8_t
        coming; /* flags of UDINT that come just before the program clears what it has read */
    /* in power-down */
    uint8_t timer_stopped; /* the timer's interrupts */
    uint64_t wakes;        /* cycle; 0: it does not sleep so deep */
    struct usart usart;
    uint64_t blocked_since, blocked_most; /* cycles without interrupts */
};

static inline struct sim *sim_of(const avr_t *avr)
{
    return avr->custom.data;
}

/* pins.c: the net on the chip's ports. */
void pins_attach(struct sim *sim);
void pins_sync(struct sim *sim); /* take over the drives from the port registers */

/* run.c: up to a cycle. */
void run_to(struct sim *sim, uint64_t cycle);

/* state.c: an interrupt, by the number of its vector. */
void raise_interrupt(struct sim *sim, unsigned number);

/* eeprom.c; and the power goes: the byte that is at work holds anything. */
void eeprom_attach(struct sim *sim);
void eeprom_power_cut(struct sim *sim);

/* usart.c: the serial line; what has happened on it up to NOW, nanoseconds. And on one wire:
 * the program drives the pin that it listens to. */
void usart_attach(struct sim *sim);
void usart_reset(struct sim *sim);
void usart_advance(struct sim *sim, uint64_t now);
void usart_pin(struct sim *sim);

/* usb.c: make its registers as those of silicon. */
void usb_attach(struct sim *sim);

/* measure.c: watch passes, wake-ups and interrupts; fill RAM with anything. */
void measure_attach(struct sim *sim);
void measure_poison(struct sim *sim);

#endif
