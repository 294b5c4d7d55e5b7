/* delays.h - how long a press waits before it is decided what it is, and why.
 *
 * 1. What waits is told at its longest: a press that is followed by nothing.
 * 2. A key waits for its combos and for what its cell is. Both run from its press, so the
 *    longer one is the cause.
 * 3. Times are in microseconds.
 */
#ifndef UVREK_DELAYS_H
#define UVREK_DELAYS_H

#include "uvrek/text.h"

#ifdef __cplusplus
extern "C" {
#endif

enum uvk_delay_cause {
    UVK_DELAY_HOLD,  /* a tap-hold, by its feel */
    UVK_DELAY_DANCE, /* a dance */
    UVK_DELAY_COMBO  /* a combo that the key is part of */
};

struct uvk_delay {
    double most; /* 0: it does not wait */
    enum uvk_delay_cause cause;
    unsigned which; /* the feel or the dance; of combos 0 */
};

/* Of the cell at CELL of LAYER of a keymap without errors. Of a combo that works on all layers
 * only the first one tells, unless the cell waits anyway. */
struct uvk_delay uvk_cell_delay(const struct uvk_keymap *keymap, unsigned layer, unsigned cell);

/* "220 ms at most, tap-hold, feel calm: until it comes up", and a line for each thing that
 * makes it shorter. Freed with g_free. */
char *uvk_delay_text(const struct uvk_keymap *keymap, const struct uvk_delay *delay);

#ifdef __cplusplus
}
#endif

#endif
