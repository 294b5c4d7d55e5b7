/* wrong.h - what can be wrong with a board: wires, switches and diodes that are not as its file
 * says. Desk side.
 *
 * 1. A fault is ordered for a simulated board (bench.h), to try what finds it.
 * 2. A wire is called as the addresses of keys call it, r0 or c3, or d2 of a direct switch; or
 * by its pin. On halves the name of the half stands before it: left.c3.
 */
#ifndef UVREK_WRONG_H
#define UVREK_WRONG_H

#include "uvrek/board.h"
#include "uvrek/problem.h"

#ifdef __cplusplus
extern "C" {
#endif

enum uvk_wrong_kind {
    UVK_WRONG_SWAP,    /* swap c1 c2: two wires are on one another's pins */
    UVK_WRONG_OPEN,    /* open r2: a wire reaches no pin */
    UVK_WRONG_SHORT,   /* short F4 F5: two pins are joined */
    UVK_WRONG_DIODE,   /* diode r1c2: one diode is the other way round */
    UVK_WRONG_DIODES,  /* diodes: all are */
    UVK_WRONG_BRIDGED, /* bridged: wires in place of all diodes */
    UVK_WRONG_CHATTER, /* chatter r0c0: it opens for longer than debouncing covers */
    UVK_WRONG_DEAD,    /* dead r2c1: the switch never closes */
    UVK_WRONG_STUCK,   /* stuck r2c1: the switch never opens */
    UVK_WRONG_HALVES,  /* halves: each half's wires are on the other one's pins (one controller)
                        */
    UVK_WRONG_CABLE,   /* cable: the wrong one is in between two controllers: it joins pins of
                          the same name, or does not */
    UVK_WRONG_STRAP,   /* strap: `main pin PIN` is to ground on the other half; machine code
                          only */
    UVK_WRONG_KNOB,    /* knob NAME: its two contacts are on one another's pins */
    UVK_WRONGS
};

struct uvk_wrong {
    enum uvk_wrong_kind kind;
    struct uvk_wire a, b; /* SWAP, OPEN (A), SHORT */
    unsigned key;         /* DIODE, CHATTER, DEAD, STUCK; of KNOB the knob */
};

/* TEXT as above, for BOARD. False: *ERROR says what is wrong with the words. */
bool uvk_wrong_read(const struct uvk_board *board, const char *text, struct uvk_wrong *wrong,
                    GError **error);

/* Is one of KIND among COUNT of them? */
bool uvk_wrong_is_among(const struct uvk_wrong *wrongs, unsigned count,
                        enum uvk_wrong_kind kind);

#ifdef __cplusplus
}
#endif

#endif
