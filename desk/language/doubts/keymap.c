/* doubts.c - what is no mistake, but probably not meant. Asked of texts without mistakes. */
#include "model/visit.h"
#include "reading.h"

#include "uvrek/action.h"
#include "uvrek/hid.h"

#include <string.h>

/* ---- layers that nothing reaches ---------------------------------------------------- */

static void note_layer(const struct uvk_value *value, void *data)
{
    bool *reached = data;

    if (value->kind == UVK_VALUE_LAYER) {
        reached[value->layer] = true;
    }
}

static void doubt_layers(struct reading *reading)
{
    const struct uvk_keymap *keymap = reading->keymap;
    bool *reached = g_new0(bool, keymap->layer_count);

    visit_all(reading, note_layer, reached);
    for (unsigned i = 1; i < keymap->layer_count; i++) {
        if (!reached[i] && !keymap->layers[i].has_when) {
            uvk_say(reading->messages, UVK_SAYS_UNREACHED, keymap->layers[i].place,
                    "name it in a cell of another layer", "nothing reaches the layer '%s'",
                    keymap->layers[i].name);
        }
    }
    g_free(reached);
}

/* ---- names that nothing uses -------------------------------------------------------- */

static void doubt_names(struct reading *reading)
{
    for (guint i = 0; i < reading->own->len; i++) {
        const struct own_name *own = &g_array_index(reading->own, struct own_name, i);
        if ((own->kind == OWN_LET || own->kind == OWN_MACRO || own->kind == OWN_DANCE) &&
            !own->used) {
            uvk_say_mend(uvk_say(reading->messages, UVK_SAYS_UNUSED, own->place, NULL,
                                 "'%s' is never used", own->name),
                         UVK_MEND_REMOVE, NULL);
        }
    }
    for (unsigned i = 1; i < reading->keymap->feel_count; i++) {
        const struct uvk_feel_text *feel = &reading->keymap->feels[i];
        if (!feel->used && feel->place.source != NULL) {
            uvk_say_mend(uvk_say(reading->messages, UVK_SAYS_UNUSED, feel->place, NULL,
                                 "the feel '%s' is never used", feel->name),
                         UVK_MEND_REMOVE, NULL);
        }
    }
}

/* ---- the way to the bootloader ------------------------------------------------------- */

static void note_bootloader(const struct uvk_value *value, void *data)
{
    bool *found = data;

    *found |= value->kind == UVK_VALUE_BOARD && value->usage == UVK_BOARD_BOOTLOADER;
}

static void doubt_bootloader(struct reading *reading)
{
    bool found = false;

    visit_all(reading, note_bootloader, &found);
    if (!found) {
        uvk_say(reading->messages, UVK_SAYS_NO_BOOTLOADER, reading->keymap->place,
                "put board:bootloader on a layer",
                "no key starts the bootloader: only the board's reset button will");
    }
}

/* ---- keys that cannot be reached ------------------------------------------------------ */

/* The layer that a cell opens while it is held, -1: none. */
static int opens(const struct uvk_value *cell)
{
    const struct uvk_value *held = cell->kind == UVK_VALUE_HOLD ? cell->held : cell;

    return held->kind == UVK_VALUE_LAYER && held->op == UVK_LAYER_WHILE ? (int)held->layer : -1;
}

/* While a finger holds a layer key, what that layer has at the same place is out of reach. */
static void doubt_own_places(struct reading *reading)
{
    const struct uvk_keymap *keymap = reading->keymap;

    for (unsigned layer = 0; layer < keymap->layer_count; layer++) {
        for (unsigned key = 0; key < reading->board->key_count; key++) {
            int to = opens(&keymap->layers[layer].cells[key]);
            const struct uvk_value *there = to >= 0 ? &keymap->layers[to].cells[key] : NULL;
            if (there != NULL && to != (int)layer && there->kind == UVK_VALUE_USAGE) {
                char *lost = uvk_value_text(there);
                char *place = uvk_cell_place(reading->board, key);
                uvk_say(reading->messages, UVK_SAYS_OWN_PLACE, keymap->layers[to].place, NULL,
                        "%s at %s cannot be reached while that very key holds this layer", lost,
                        place);
                g_free(lost);
                g_free(place);
            }
        }
    }
}

/* ---- letters that misfire ------------------------------------------------------------- */

static bool is_letter(const struct uvk_value *value)
{
    return value->kind == UVK_VALUE_USAGE && value->page == UVK_HID_PAGE_KEYBOARD &&
           value->mods == 0 && value->usage >= UVK_HID_A && value->usage <= UVK_HID_Z;
}

static void doubt_letters(struct reading *reading)
{
    const struct uvk_keymap *keymap = reading->keymap;

    for (unsigned key = 0; key < reading->board->key_count; key++) {
        const struct uvk_value *cell = &keymap->layers[0].cells[key];
        const struct uvk_feel_text *feel =
            cell->kind == UVK_VALUE_HOLD ? &keymap->feels[cell->feel] : NULL;
        if (feel != NULL && is_letter(cell->tap) && feel->decide == UVK_ON_PRESS &&
            feel->rest <= 0) {
            char *letter = uvk_value_text(cell->tap);
            uvk_say(reading->messages, UVK_SAYS_EASY_HOLD, keymap->layers[0].place,
                    "decide on-nested, or a rest",
                    "%s is held as soon as another key is pressed: rolling over it misfires",
                    letter);
            g_free(letter);
            return; /* one is enough to make the point */
        }
    }
}

/* ---- plays ------------------------------------------------------------------------------- */

/* Two of one name cannot be chosen apart. */
static void doubt_plays(struct reading *reading)
{
    GHashTable *names = g_hash_table_new(g_str_hash, g_str_equal);

    for (const struct uvk_play *play = reading->program->plays; play != NULL;
         play = play->next) {
        const struct uvk_play *first = g_hash_table_lookup(names, play->name);
        if (first != NULL) {
            uvk_say_other(uvk_say(reading->messages, UVK_SAYS_PLAYS_OF_ONE_NAME, play->place,
                                  NULL, "a play of this name stands further up already"),
                          first->place);
        } else {
            g_hash_table_insert(names, (gpointer)play->name, (gpointer)play);
        }
    }
    g_hash_table_unref(names);
}

/* ---- tap-holds the wrong way round ------------------------------------------------------- */

/* Tapped it would do nothing that lasts, held it would be typed. */
static bool is_turned_round(const struct uvk_value *value)
{
    return value->kind == UVK_VALUE_HOLD && value->tap->kind == UVK_VALUE_LAYER &&
           value->tap->op == UVK_LAYER_WHILE && value->held->kind == UVK_VALUE_USAGE &&
           value->held->usage != 0;
}

static void tell_turned_round(struct reading *reading, unsigned layer, unsigned cell)
{
    const struct uvk_layer_text *text = &reading->keymap->layers[layer];
    struct uvk_place place = text->places[cell];
    char *tap = uvk_cell_name(reading->program, text->cells[cell].tap);
    char *held = uvk_cell_name(reading->program, text->cells[cell].held);
    char *fix = g_strdup_printf("%s/%s", held, tap);
    struct uvk_message *message;

    message = uvk_say(
        reading->messages, UVK_SAYS_TURNED_ROUND, place.source != NULL ? place : text->place,
        fix, "tapped, the layer %s is on for a moment only; is it meant the other way round?",
        tap);
    if (place.source != NULL) {
        uvk_say_mend(message, UVK_MEND_WORDS, fix);
    }
    g_free(tap);
    g_free(held);
    g_free(fix);
}

static void doubt_sides(struct reading *reading)
{
    const struct uvk_keymap *keymap = reading->keymap;

    for (unsigned layer = 0; layer < keymap->layer_count; layer++) {
        for (unsigned cell = 0; cell < uvk_board_cells(reading->board); cell++) {
            if (is_turned_round(&keymap->layers[layer].cells[cell])) {
                tell_turned_round(reading, layer, cell);
            }
        }
    }
}

void tell_doubts(struct reading *reading)
{
    if (reading->keymap == NULL || reading->board == NULL || reading->messages->errors > 0) {
        return;
    }
    doubt_layers(reading);
    doubt_names(reading);
    doubt_bootloader(reading);
    doubt_own_places(reading);
    doubt_letters(reading);
    doubt_stuck_layers(reading);
    doubt_combos(reading);
    doubt_missing_keys(reading);
    doubt_keypad(reading);
    doubt_settings(reading);
    doubt_lights(reading);
    doubt_knobs(reading);
    doubt_plays(reading);
    doubt_sides(reading);
}
