/* visit.h - look at every cell of a keymap, wherever it stands. */
#ifndef UVREK_TEXT_VISIT_H
#define UVREK_TEXT_VISIT_H

#include "reading.h"

typedef void (*look_at)(const struct uvk_value *value, void *data);

/* VALUE itself, or both sides of a tap-hold, or all lines of a dance. */
void visit_value(const struct uvk_keymap *keymap, const struct uvk_value *value, look_at look,
                 void *data);

/* Everything that stands in a layer, on a knob, in a combo, in a leader sequence. */
void visit_all(const struct reading *reading, look_at look, void *data);

#endif
