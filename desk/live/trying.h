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

/* A knob as a probe sees it. */
struct turning {
    uint8_t phases;   /* its contacts, as in knob.h */
    int8_t count;     /* changes since the last detent, clockwise; fewer than four */
    bool moves;       /* a contact has changed: */
    unsigned contact; /* which did so last, */
    uint64_t ms;      /* and when */
    unsigned missed;  /* since the last step */
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
    struct turning *turnings; /* of each knob */
    GArray *strays;           /* of struct stray */
};

/* knobtest.c: CONTACT (0, 1) of KNOB has changed, by a probe. The turn that it ends, as a cell;
 * UVK_TAKEN_NOTHING: none. */
int keytest_turn(struct uvk_keytest *test, unsigned knob, unsigned contact,
                 const struct uvk_live_event *event, uint64_t ms);

#endif
