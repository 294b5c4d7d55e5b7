/* visit.c - see visit.h. */
#include "visit.h"

struct visit visit_begin(const struct uvk_keymap *keymap, look_at look, void *data)
{
    struct visit visit = {keymap, look, data, g_new0(bool, keymap->dance_count + 1)};

    return visit;
}

void visit_end(struct visit *visit)
{
    g_free(visit->seen);
}

static void visit_dance(struct visit *visit, unsigned index)
{
    const struct uvk_dance_text *dance = &visit->keymap->dances[index];

    if (visit->seen[index]) {
        return;
    }
    visit->seen[index] = true;
    for (unsigned i = 0; i < dance->taps; i++) {
        visit_value(visit, &dance->lines[i].tapped);
        visit_value(visit, &dance->lines[i].held);
    }
}

void visit_value(struct visit *visit, const struct uvk_value *value)
{
    if (value->kind == UVK_VALUE_HOLD) {
        visit_value(visit, value->tap);
        visit_value(visit, value->held);
    } else if (value->kind == UVK_VALUE_DANCE) {
        visit_dance(visit, value->dance);
    } else {
        visit->look(value, visit->data);
    }
}

void visit_all(const struct reading *reading, look_at look, void *data)
{
    const struct uvk_keymap *keymap = reading->keymap;
    struct visit visit = visit_begin(keymap, look, data);

    for (unsigned layer = 0; layer < keymap->layer_count; layer++) {
        for (unsigned cell = 0; cell < uvk_board_cells(reading->board); cell++) {
            visit_value(&visit, &keymap->layers[layer].cells[cell]);
        }
    }
    for (const struct uvk_combo_text *combo = keymap->combos; combo != NULL;
         combo = combo->next) {
        visit_value(&visit, &combo->value);
    }
    for (const struct uvk_sequence_text *sequence = keymap->sequences; sequence != NULL;
         sequence = sequence->next) {
        visit_value(&visit, &sequence->value);
    }
    visit_end(&visit);
}
