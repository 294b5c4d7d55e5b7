/* chip.h - a rig whose chip is simulated by a program of its own: chip.c; what it lights
 * up in chip_lights.c, the lines to it in chip_talk.c. */
#ifndef UVREK_BENCH_CHIP_H
#define UVREK_BENCH_CHIP_H

#include "simulator.h"
#include "wired.h"

struct chip {
    struct uvk_rig rig;
    struct simulator simulator;
    uint8_t endpoints[UVK_HOST_INTERFACES]; /* of each interface */
    unsigned halves;                        /* chips: two halves of a keyboard, or one */
    bool has_symbols;
    char *crash;    /* why it has crashed; NULL: it has not */
    bool returned;  /* it is on the bus again, and the host has not met it yet */
    bool attaching; /* the host is just meeting it */
};

/* chip_talk.c: a line goes to the simulator; what it answers, up to the next call. NULL: an
 * error, or nothing.
 */
const char *chip_say(struct chip *chip, const char *format, ...) G_GNUC_PRINTF(2, 3);

/* Bytes written as hex; how many. */
size_t chip_hex(const char *text, uint8_t *out, size_t room);

/* Which half of the board chip INDEX is, the main one first; -1: one chip reads it all. And:
 * from now on all is for that chip. */
int chip_half(const struct chip *chip, unsigned index);
bool chip_choose(struct chip *chip, unsigned index);

/* chip_lights.c: the simulator watches the pins that light something; what they do. */
bool chip_watch_lights(struct chip *chip);
bool chip_lights(struct uvk_rig *rig, struct uvk_rig_lights *lights);
bool chip_timing(struct uvk_rig *rig, struct uvk_strip_timing *timing);

#endif
