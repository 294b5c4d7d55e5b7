/* together.c - combos that get in one another's way, or in the way of typing. */
#include "model/visit.h"

#include "uvrek/hid.h"
#include "uvrek/ways.h"

static bool has_key(const struct uvk_combo_text *combo, unsigned key)
{
    for (unsigned i = 0; i < combo->key_count; i++) {
        if (combo->keys[i] == key) {
            return true;
        }
    }
    return false;
}

static bool same_keys(const struct uvk_combo_text *a, const struct uvk_combo_text *b)
{
    for (unsigned i = 0; i < a->key_count; i++) {
        if (!has_key(b, a->keys[i])) {
            return false;
        }
    }
    return a->key_count == b->key_count;
}

/* Is FIRST on wherever SECOND is? */
static bool covers(const struct uvk_keymap *keymap, const struct uvk_combo_text *first,
                   const struct uvk_combo_text *second)
{
    for (unsigned layer = 0; layer < keymap->layer_count; layer++) {
        if (uvk_combo_is_on(second, layer) && !uvk_combo_is_on(first, layer)) {
            return false;
        }
    }
    return true;
}

/* Of two combos of the same keys, the first one in the text wins, if it waits as long. */
static void doubt_shadowed(struct reading *reading, const struct uvk_combo_text *combo)
{
    const struct uvk_keymap *keymap = reading->keymap;

    for (const struct uvk_combo_text *first = keymap->combos; first != combo;
         first = first->next) {
        if (same_keys(first, combo) && covers(keymap, first, combo) &&
            first->within >= combo->within) {
            struct uvk_message *message =
                uvk_say(reading->messages, UVK_SAYS_SHADOWED_COMBO, combo->place, NULL,
                        "another combo of the same keys always wins over this one");
            uvk_say_other(message, first->place);
            uvk_say_mend(message, UVK_MEND_REMOVE, NULL);
            return;
        }
    }
}

static bool is_typed(const struct uvk_value *value)
{
    value = uvk_value_tap(value);
    return value->kind == UVK_VALUE_USAGE && value->page == UVK_HID_PAGE_KEYBOARD &&
           value->usage != 0;
}

/* On LAYER all keys of the combo type something else than in the first one. */
static bool is_hidden_on(const struct uvk_keymap *keymap, const struct uvk_combo_text *combo,
                         unsigned layer)
{
    for (unsigned i = 0; i < combo->key_count; i++) {
        const struct uvk_value *there = &keymap->layers[layer].cells[combo->keys[i]];
        const struct uvk_value *here = &keymap->layers[0].cells[combo->keys[i]];
        if (!is_typed(there) || uvk_value_equal(uvk_value_tap(there), uvk_value_tap(here))) {
            return false;
        }
    }
    return true;
}

static void doubt_hidden(struct reading *reading, const struct uvk_combo_text *combo)
{
    const struct uvk_keymap *keymap = reading->keymap;

    for (unsigned layer = 1; combo->layer_count == 0 && layer < keymap->layer_count; layer++) {
        if (is_hidden_on(keymap, combo, layer)) {
            char *fix = g_strdup_printf("'on %s' keeps it there, 'on' all layers says it is "
                                        "meant",
                                        keymap->layers[0].name);
            uvk_say(reading->messages, UVK_SAYS_HIDDEN_COMBO, combo->place, fix,
                    "on the layer '%s' these keys type something else, and together still do "
                    "this",
                    keymap->layers[layer].name);
            g_free(fix);
            return;
        }
    }
}

void doubt_combos(struct reading *reading)
{
    for (const struct uvk_combo_text *combo = reading->keymap->combos; combo != NULL;
         combo = combo->next) {
        doubt_shadowed(reading, combo);
        doubt_hidden(reading, combo);
        doubt_pairs(reading, combo);
    }
}
