/* fingering.h - which keys make a character, as somebody who knows the keymap would type it. */
#ifndef UVREK_BENCH_FINGERING_H
#define UVREK_BENCH_FINGERING_H

#include "uvrek/text.h"

/* A few keys of the board, in the order in which they are touched. */
#define FEW_KEYS 8u
struct few_keys {
    unsigned key[FEW_KEYS];
    unsigned count;
};

struct fingering {
    struct few_keys before; /* tapped, each for itself: once:, toggle: */
    struct few_keys held;   /* stay down meanwhile */
    struct few_keys keys;   /* that make the character; several are a combo */
    struct few_keys after;  /* tapped behind it: a toggle: back */
    unsigned touches;       /* of the keys: a dance counts them */
    double longer;          /* microseconds that the last touch lasts at least; 0: a tap */
    double apart;           /* microseconds until its key can begin something new */
    uint16_t usage;         /* that the host sees, of the keyboard page */
};

/* All layers that can be reached with one or two keys, and how. */
struct fingerings;
struct fingerings *fingerings_new(const struct uvk_program *program);
void fingerings_free(struct fingerings *fingerings);

/* The easiest way to one stroke: the fewest touches; false if there is none. */
bool fingering_find(const struct fingerings *fingerings, struct uvk_stroke stroke,
                    struct fingering *found);

#endif
