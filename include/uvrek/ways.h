/* ways.h - how the fingers get to each layer, and what shows through on it.
 *
 * 1. Of several ways the shortest one is told: the fewest keys, one behind the other.
 * 2. A way is looked for from the first layer on, through keys, knobs, combos and sequences,
 *    as they are on the layers that are on at that moment.
 */
#ifndef UVREK_WAYS_H
#define UVREK_WAYS_H

#include "uvrek/text.h"

#ifdef __cplusplus
extern "C" {
#endif

struct uvk_way {
    bool found;
    unsigned *on; /* the layers that are on then, lowest first; the last one is the layer */
    unsigned on_count;
    unsigned *held; /* keys of the board that stay down meanwhile */
    unsigned held_count;
    char *text;       /* "hold space", "hold mark, tap save"; "": there is nothing to do */
    char *short_text; /* only its last step: "from mark, tap save" */
};

struct uvk_ways {
    struct uvk_way *of; /* of each layer */
    unsigned count;
};

/* The ways of a program without errors that has a keymap. Freed with uvk_ways_free. */
struct uvk_ways *uvk_ways_find(const struct uvk_program *program);
void uvk_ways_free(struct uvk_ways *ways);

/* What CELL does when LAYER was reached on its way: the cell of the highest layer that is not
 * see-through. *FROM is that layer; if there is none, it is the first one. */
const struct uvk_value *uvk_cell_shown(const struct uvk_program *program,
                                       const struct uvk_ways *ways, unsigned layer,
                                       unsigned cell, unsigned *from);

/* Does KEY stay down while LAYER is on? */
bool uvk_way_holds(const struct uvk_ways *ways, unsigned layer, unsigned key);

/* Does COMBO work where LAYER is the highest? One that names no layer works on all. */
bool uvk_combo_is_on(const struct uvk_combo_text *combo, unsigned layer);

#ifdef __cplusplus
}
#endif

#endif
