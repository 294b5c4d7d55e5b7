/* visit.c - see visit.h. */
#include "visit.h"

void visit_value(const struct uvk_keymap *keymap, const struct uvk_value *value, look_at look,
                 void *data)
{
    if (value->kind == UVK_VALUE_HOLD) {
        visit_value(keymap, value->tap, look, data);
        visit_value(keymap, value->held, look, data);
    } else if (value->kind == UVK_VALUE_DANCE) {
        const struct uvk_dance_text *dance = &keymap->dances[value->dance];
        for (unsigned i = 0; i < dance->taps; i++) {
            visit_value(keymap, &dance->lines[i].tapped, look, data);
            visit_value(keymap, &dance->lines[i].held, look, data);
        }
    } else {
        look(value, data);
    }
}

void visit_all(const struct reading *reading, look_at look, void *data)
{
    const struct uvk_keymap *keymap = reading->keymap;

    for (unsigned layer = 0; layer < keymap->layer_count; layer++) {
        for (unsigned cell = 0; cell < uvk_board_cells(reading->board); cell++) {
            visit_value(keymap, &keymap->layers[layer].cells[cell], look, data);
        }
    }
    for (const struct uvk_combo_text *combo = keymap->combos; combo != NULL;
         combo = combo->next) {
        visit_value(keymap, &combo->value, look, data);
    }
    for (const struct uvk_sequence_text *sequence = keymap->sequences; sequence != NULL;
         sequence = sequence->next) {
        visit_value(keymap, &sequence->value, look, data);
    }
}
