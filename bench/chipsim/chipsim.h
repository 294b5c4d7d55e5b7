/* chipsim.h - an ATmega32U4 on a board, run by lines of text.
 *
 * Every command is one line; every answer ends with a line "ok ..." or "error ...".
 *
 *   wires PF OHMS OHMS N N   of the net that follows: the capacitance of each, the resistance
 * of drivers and of pulls, thousandths of the supply that are low, high pins NAME ... the pins
 * of the net, in the order of electric.h's indexes; the indexes behind the last one are ground
 * and power resistor INDEX           a resistor from that pin to ground switch A B DIODE a
 * switch between two of them (0 none, 1 A to B, 2 B to A) seed N                   for the
 * noise of floating pins load PATH                machine code, from address 0 on symbols PATH
 * the ELF file it came from start                    power on change NS INDEX CLOSED   a
 * contact will close (1) or open (0) then poll ENDPOINT            the host polls that IN
 * endpoint in each millisecond from now on run US                   run up to that time. Before
 * "ok US", in the order of events: report US ENDPOINT HEX bootloader US      (it has jumped
 * there; it stands still) crashed US TEXT reset-bus                the host resets the bus
 *   setup HEX [HEX]          a control transfer: the setup packet, and data for the chip.
 *                            "ok HEX", "ok stall" or "ok timeout"
 *   attached                 "ok 1" when the chip shows itself on the bus
 *                            while it runs, "attached US" and "detached US" tell of changes
 *   peek SYMBOL COUNT        bytes of RAM: "ok HEX"
 *   suspend, resume          the host goes to sleep, and wakes up
 *   reset-then-suspend       both, the second one when the flag of the first was just read
 *   measure NAME             "ok N": idle-cycles, worst-cycles, stack-bytes, wakeups, passes,
 *                            usb-stopped (1: to save power)
 *   quit
 */
#ifndef UVREK_CHIPSIM_H
#define UVREK_CHIPSIM_H

#include "uvrek/electric.h"

#include <sim_avr.h>
#include <stddef.h>
#include <stdio.h>

#define PINS_MAX      32u
#define CHANGES_MAX   65536u
#define BOOTLOADER    0x7000u
#define CYCLES_PER_US 16u

struct change {
    uint64_t at; /* nanoseconds */
    unsigned index;
    bool closed;
};

struct sim {
    avr_t *avr;
    struct uvk_electric *net;
    uint32_t seed;
    unsigned picofarads;
    struct uvk_levels levels;
    /* the net's pins: port register base and bit */
    unsigned pin_count;
    char pin_port[PINS_MAX];
    unsigned pin_bit[PINS_MAX];
    uint32_t resistors;     /* a bit for each pin that has one to ground */
    struct change *changes; /* by time */
    size_t change_count, change_first;
    uint16_t polled; /* a bit for each IN endpoint */
    bool stopped;    /* in the bootloader, or crashed */
    bool attached;   /* to the bus, when it was last looked at */
    /* measured */
    uint64_t pass_start, idle_cycles, worst_cycles, passes;
    unsigned wakeups;
    /* symbols */
    char *symbols_path;
};

/* matrix.c: the net on the chip's ports. */
void matrix_attach(struct sim *sim);
void matrix_sync(struct sim *sim); /* take over the drives from the port registers */

/* usb.c: the host's side of the cable. */
enum transfer { TRANSFER_DONE, TRANSFER_STALL, TRANSFER_TIMEOUT };
enum transfer usb_control(struct sim *sim, const uint8_t setup[8], uint8_t *data, size_t *size);
bool usb_poll(struct sim *sim, unsigned endpoint, uint8_t *report, size_t *size);
void usb_reset(struct sim *sim);
void usb_attach(struct sim *sim); /* make its registers as those of silicon */
void usb_suspend(struct sim *sim, bool suspended);
/* A reset, and a suspend that comes when the program has just read that one's flag. */
void usb_reset_then_suspend(struct sim *sim);

/* measure.c: passes, wake-ups, stack. */
void measure_attach(struct sim *sim);
void measure_poison(struct sim *sim);
long measure_named(struct sim *sim, const char *name);
/* The address of a symbol in RAM, 0 if there is none. */
unsigned measure_symbol(const struct sim *sim, const char *name);

/* run.c */
void sim_run(struct sim *sim, uint64_t until_cycle);
uint64_t sim_ns(const struct sim *sim);

/* commands.c: one line; false for quit. */
bool command_run(struct sim *sim, char *line);
void command_poll(struct sim *sim); /* poll all endpoints, print what came */

#endif
