/* knob_doubts.c - knobs that nothing answers, and cells that a knob cannot hold. */
#include "reading.h"

#include "uvrek/action.h"
#include "uvrek/hid.h"

static bool is_told(const struct uvk_keymap *keymap, unsigned cell)
{
    for (unsigned layer = 0; layer < keymap->layer_count; layer++) {
        enum uvk_value_kind kind = keymap->layers[layer].cells[cell].kind;
        if (kind != UVK_VALUE_THROUGH && kind != UVK_VALUE_BROKEN) {
            return true;
        }
    }
    return false;
}

/* Turned either way it does nothing, on any layer. */
static void doubt_silent(struct reading *reading, const struct uvk_knob *knob, unsigned left)
{
    char *fix;

    if (is_told(reading->keymap, left) || is_told(reading->keymap, left + 1)) {
        return;
    }
    fix = g_strdup_printf("knob %s volume-down volume-up, in a layer", knob->name);
    uvk_say(reading->messages, UVK_SAYS_IDLE_KNOB, knob->place, fix,
            "no layer says what the knob '%s' does", knob->name);
    g_free(fix);
}

/* A step is a press and a release at once: what lasts only while it is down is for nothing. */
static const char *lost_on_a_step(const struct uvk_value *value)
{
    if (value->kind == UVK_VALUE_LAYER && value->op == UVK_LAYER_WHILE) {
        return "a layer that is on while its key is held";
    }
    if (value->kind == UVK_VALUE_USAGE && value->page == UVK_HID_PAGE_KEYBOARD &&
        value->usage == 0) {
        return "a modifier";
    }
    if (value->kind == UVK_VALUE_USAGE && value->page == UVK_PAGE_OWN &&
        (value->usage == UVK_OWN_PACE_SLOW || value->usage == UVK_OWN_PACE_FAST)) {
        return "a pace";
    }
    return value->kind == UVK_VALUE_HOLD ? "what is held" : NULL;
}

static bool moves_pointer(const struct uvk_value *value)
{
    return value->kind == UVK_VALUE_USAGE && value->page == UVK_HID_PAGE_DESKTOP &&
           value->turn != 0 && value->usage != UVK_HID_WHEEL;
}

static void doubt_cell(struct reading *reading, unsigned layer, unsigned cell)
{
    const struct uvk_layer_text *text = &reading->keymap->layers[layer];
    const char *lost = lost_on_a_step(&text->cells[cell]);
    struct uvk_place place =
        text->places[cell].source != NULL ? text->places[cell] : text->place;

    if (moves_pointer(&text->cells[cell])) {
        uvk_say(reading->messages, UVK_SAYS_LOST_ON_KNOB, place,
                "wheel-up and wheel-down go by notches",
                "a step of a knob moves the pointer by one count only");
    }
    if (lost != NULL) {
        uvk_say(reading->messages, UVK_SAYS_LOST_ON_KNOB, place, NULL,
                "%s is nothing for a knob: a step is a press and a release at once", lost);
    }
}

void doubt_knobs(struct reading *reading)
{
    const struct uvk_board *board = reading->board;

    for (unsigned i = 0; i < board->knob_count; i++) {
        unsigned left = board->key_count + 2 * i;
        doubt_silent(reading, &board->knobs[i], left);
        for (unsigned layer = 0; layer < reading->keymap->layer_count; layer++) {
            doubt_cell(reading, layer, left);
            doubt_cell(reading, layer, left + 1);
        }
    }
}
