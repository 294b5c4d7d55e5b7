/* visit.h - look at every cell of a keymap, wherever it stands. */
#ifndef UVREK_TEXT_VISIT_H
#define UVREK_TEXT_VISIT_H

#include "reading.h"

typedef void (*look_at)(const struct uvk_value *value, void *data);

/* A walk that goes into each dance once, however often it is met. */
struct visit {
    const struct uvk_keymap *keymap;
    look_at look;
    void *data;
    bool *seen; /* of each dance */
};

struct visit visit_begin(const struct uvk_keymap *keymap, look_at look, void *data);
void visit_end(struct visit *visit);

/* VALUE itself, or both sides of a tap-hold, or all lines of a dance. */
void visit_value(struct visit *visit, const struct uvk_value *value);

/* Everything that stands in a layer, on a knob, in a combo, in a leader sequence. */
void visit_all(const struct reading *reading, look_at look, void *data);

#endif
