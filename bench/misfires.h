/* misfires.h - what a keyboard took for something else than the fingers meant. */
#ifndef UVREK_BENCH_MISFIRES_H
#define UVREK_BENCH_MISFIRES_H

#include "uvrek/bench.h"

enum finger_meaning {
    MEANS_TAP,
    MEANS_HOLD,
    MEANS_COUNT, /* a touch of a dance */
    MEANS_COMBO
};

/* A finger comes down or up. */
struct finger_touch {
    uint64_t time; /* microseconds from the start of the text */
    unsigned key;
    bool down;
    enum finger_meaning meaning;
};

/* Compare what the keyboard decided since START with what TOUCHES meant; add what differs to
 * MISFIRES, of struct uvk_misfire. */
void find_misfires(const struct uvk_program *program, struct uvk_rig *rig,
                   const GArray *touches, uint64_t start, GArray *misfires);

#endif
