/* wired.h - how a board is wired, told to a chip's simulator: all of it, or one half. */
#ifndef UVREK_BENCH_WIRED_H
#define UVREK_BENCH_WIRED_H

#include "rig.h"

/* The part of a board that one chip reads: HALF, or all of it (-1). */
struct wired {
    const struct uvk_board *board;
    int half;
};

/* Say LINE to the simulator; false: it does not answer, or answers with an error. */
typedef bool wired_say(void *simulator, const char *line);

/* Pins, switches, resistors and the cable to the other half. */
bool wired_tell(const struct wired *wired, const struct uvk_rig_options *options,
                wired_say *say, void *simulator);

/* A contact of the rig (rig.h) as the simulator counts those of this part; false: it is not of
 * it.
 */
bool wired_contact(const struct wired *wired, unsigned contact, unsigned *index);

/* The contacts that are closed all the time: the pin of the first half is joined to ground, two
 * pins are joined by a fault. How many, from *FIRST on. */
unsigned wired_closed(const struct wired *wired, const struct uvk_rig_options *options,
                      unsigned *first);

#endif
