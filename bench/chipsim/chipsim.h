/* chipsim.h - a chip on a board, run by lines of text.
 *
 * Every command is one line; every answer ends with a line "ok ..." or "error ...".
 *
 * The board:
 *   wires PF OHMS OHMS N N   of the net that follows: the capacitance of each, the resistance
 *                            of drivers and of pulls, thousandths of the supply that are low,
 *                            high
 *   pins NAME ...            the pins of the net, in the order of electric.h's indexes; the
 *                            indexes behind the last one are ground and power
 *   resistor INDEX           a resistor from that pin to ground
 *   switch A B DIODE         a switch between two of them (0 none, 1 A to B, 2 B to A)
 *   seed N                   for the noise of floating pins
 *   change NS INDEX CLOSED   a contact will close (1) or open (0) then
 *
 * The chip:
 *   load HEX                 machine code, from the start of flash on
 *   symbols HEX              the path of the ELF file it came from
 *   start                    power on
 *   button                   the reset button is pressed
 *   power                    it goes, and comes back
 *   memory [HEX]             what outlives the power: "ok HEX"; or what it holds from now on
 *   peek SYMBOL COUNT        bytes of RAM: "ok HEX"
 *   run US                   run up to that time. Before "ok US", in the order of events:
 *                              report US ENDPOINT HEX
 *                              attached US, detached US   (from the bus)
 *                              bootloader US      (it has jumped there; it stands still)
 *                              crashed US TEXT
 *   measure NAME             "ok N": idle-cycles, worst-cycles, stack-bytes, wakeups, passes,
 *                            usb-stopped (1: to save power), blocked-cycles (the longest time
 *                            without interrupts); forget: all of these from now on
 *
 * The host:
 *   poll ENDPOINT            it polls that IN endpoint in each millisecond from now on
 *   reset-bus                it resets the bus
 *   setup HEX [HEX]          a control transfer: the setup packet, and data for the chip.
 *                            "ok HEX", "ok stall" or "ok timeout"
 *   give ENDPOINT HEX        a packet to that OUT endpoint: "ok", "ok stall" or "ok later"
 *   attached                 "ok 1" when the chip shows itself on the bus
 *   suspend, resume          it goes to sleep, and wakes up
 *   reset-then-suspend       both, the second one when the flag of the first was just read
 *
 * The other half:
 *   half N                   of two chips, 0 or 1: what follows is for that one. The host is
 *                            at 0
 *   link SENDS RECEIVES NS   its pins of the cable between the two, one pin twice for one wire;
 *                            a bit's nanoseconds. When both have been told, they are joined
 *   cable in, out, crossed   it is joined, or pulled; or, of two lines, another one is in,
 *                            which joins pins of the same name where it should not, or the
 *                            other way round
 *   noise N                  of a hundred frames on it, so many are damaged
 *
 * Lights:
 *   watch PIN                what it lights counts from now on
 *   lit PIN                  "ok N": so many thousandths of the time it is high now
 *   strip PIN                what a strip on it shows: "ok FRAMES A B C D E F HEX", the
 *                            shortest and longest nanoseconds of a 0, of a 1, and from a bit
 *                            to the next
 *
 *   quit
 *
 * What all simulators share stands in this folder; a folder for each chip has the functions
 * chip_ and usb_ below.
 */
#ifndef UVREK_CHIPSIM_H
#define UVREK_CHIPSIM_H

#include "lights.h"
#include "line.h"

#include "uvrek/electric.h"

#include <stdbool.h>
#include <stddef.h>
#include <stdint.h>
#include <stdio.h>

#define PINS_MAX    32u
#define CHANGES_MAX 65536u
#define PIN_NAME    8u /* bytes */
#define CABLE_WIRES 2u
#define FLASH_MAX   2097152u
#define DATA_MAX    4096u /* of a control transfer */

struct change {
    uint64_t at; /* nanoseconds */
    unsigned index;
    bool closed;
};

struct chip; /* each folder's own */

/* A pin of the cable to the other half, as a wire of the net. What pulls it low at the other
 * end is a contact to ground. */
struct cable_pin {
    bool is_there;
    unsigned pin, contact;
};

struct sim {
    struct chip *chip; /* NULL: nothing is loaded yet */
    struct uvk_electric *net;
    uint32_t seed;
    unsigned picofarads;
    struct uvk_levels levels;
    unsigned pin_count;
    char pin[PINS_MAX][PIN_NAME];
    uint32_t resistors;     /* a bit for each pin that has one to ground */
    struct change *changes; /* by time */
    size_t change_count, change_first;
    uint16_t polled; /* a bit for each IN endpoint */
    bool stopped;    /* in the bootloader, or crashed */
    bool attached;   /* to the bus, when it was last looked at */
    /* measured */
    uint64_t pass_start, idle_cycles, worst_cycles, passes;
    unsigned wakeups;
    char *symbols_path;
    /* the other half of the keyboard */
    struct sim *other; /* NULL: there is none */
    bool is_second;    /* no host is at this one */
    struct line_end line;
    struct cable_pin cable[CABLE_WIRES]; /* the pin that sends, the one that receives */
    bool crossed;                        /* the cable of another keyboard is in */
    struct lights lights;
};

/* halves.c: up to UNTIL nanoseconds, together with the other half. */
void sim_run(struct sim *sim, uint64_t until);

/* A chip, and the other half of its keyboard. */
struct sims {
    struct sim sims[2];
    unsigned chosen;
};

/* ---- shared ------------------------------------------------------------------------------ */

/* commands.c: one line; false for quit. */
bool command_run(struct sims *sims, char *line);

/* halves.c: the commands about them. False: that makes no sense. */
bool halves_choose(struct sims *sims, unsigned half);
bool halves_link(struct sims *sims, const char *sends, const char *receives, uint64_t bit_ns);
bool halves_cable(struct sim *sim, const char *how);

/* contacts.c: those that are due at NOW, nanoseconds, change. */
void contacts_change(struct sim *sim, uint64_t now, bool sleeps);
/* When the next one is due, nanoseconds; UINT64_MAX: never. */
uint64_t contacts_next(const struct sim *sim);

/* shown.c: the commands watch, lit and strip. */
void shown_watch(struct sim *sim, const char *pin);
void shown_brightness(struct sim *sim, const char *pin);
void shown_strip(struct sim *sim, const char *pin);

/* symbols.c: the address of a symbol of the ELF file, 0 if there is none. */
uint32_t symbol_address(const struct sim *sim, const char *name);

/* A pass of the firmware begins or ends, by a count of cycles or instructions. */
void pass_begins(struct sim *sim, uint64_t count);
void pass_ends(struct sim *sim, uint64_t count);

/* It stands still from NOW on, nanoseconds: WHAT it says, and why (NULL: nothing more to say).
 */
void sim_stop(struct sim *sim, uint64_t now, const char *what, const char *why);

/* ---- of a chip --------------------------------------------------------------------------- */

extern const struct uvk_levels chip_levels; /* where nobody says others */

/* False: it cannot hold that. */
bool chip_load(struct sim *sim, const uint8_t *code, size_t size);
void chip_start(struct sim *sim);
void chip_button(struct sim *sim);
void chip_power(struct sim *sim); /* it goes, and comes back */
void chip_free(struct sim *sim);

/* The bytes that outlive its power, and their number; and: they have been changed from outside.
 */
uint8_t *chip_memory(struct sim *sim, size_t *size);
void chip_memory_changed(struct sim *sim);

uint64_t chip_ns(const struct sim *sim); /* since it was started */
void chip_run(struct sim *sim, uint64_t until_ns);
bool chip_sleeps(const struct sim *sim);

/* The pins that are watched are as they are now. */
void chip_lights(struct sim *sim);

/* False: there is no such pin. */
bool chip_has_pin(const char *name);
/* COUNT bytes of RAM from the symbol's address on; false: there are none. */
bool chip_peek(const struct sim *sim, uint32_t address, unsigned count, uint8_t *out);
/* -1: it does not measure that. */
long chip_measure(struct sim *sim, const char *name);

/* ---- the host's side of a chip's cable -------------------------------------------------- */

enum transfer { TRANSFER_DONE, TRANSFER_STALL, TRANSFER_TIMEOUT };
enum transfer usb_control(struct sim *sim, const uint8_t setup[8], uint8_t *data, size_t *size);
bool usb_poll(struct sim *sim, unsigned endpoint, uint8_t report[64], size_t *size);
/* One try to bring a packet to an OUT endpoint; TRANSFER_TIMEOUT: it is not taken now. */
enum transfer usb_give(struct sim *sim, unsigned endpoint, uint8_t *bytes, size_t size);
void usb_reset(struct sim *sim);
bool usb_attached(const struct sim *sim);
void usb_suspend(struct sim *sim, bool suspended);
/* A reset, and a suspend that comes when the program has just read that one's flag. */
void usb_reset_then_suspend(struct sim *sim);

#endif
