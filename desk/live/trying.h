/* trying.h - a test of keys, inside this room. */
#ifndef UVREK_LIVE_TRYING_H
#define UVREK_LIVE_TRYING_H

#include "uvrek/keytest.h"
#include "uvrek/scan.h"

/* A switch that is no key of the board: between two pins, or (B NULL) from one to ground. */
struct stray {
    const struct uvk_pin *a, *b;
    unsigned half;
    unsigned count;
};

/* The latest press of a key looked like chatter: what is taken back if another key came with
 * it. */
struct doubt {
    bool counted;
    unsigned open_before; /* open_most, until then */
};

struct uvk_keytest {
    const struct uvk_board *board;
    struct uvk_scan_plan plan;
    bool probe;
    unsigned half; /* of a probe */
    unsigned debounce;
    struct uvk_key_seen *seen;
    struct doubt *doubts; /* of each cell */
    unsigned cells;
    GArray *strays; /* of struct stray */
};

#endif
