/* delays.c - see delays.h. */
#include "uvrek/delays.h"
#include "uvrek/ways.h"

/* What ends the waiting early, by enum uvk_decide. */
static const char *const early[] = {"it comes up", "it comes up or another key is pressed",
                                    "it comes up or another key is pressed and released"};

/* Has the dance a line beyond one tap? Then the first tap waits for a second. */
static bool goes_on(const struct uvk_dance_text *dance)
{
    return dance->taps > 1;
}

static bool has_holds(const struct uvk_dance_text *dance)
{
    for (unsigned i = 0; i < dance->taps; i++) {
        if (dance->lines[i].held.kind != UVK_VALUE_BROKEN) {
            return true;
        }
    }
    return false;
}

/* How long a press for a dance may be undecided. */
static double dance_time(const struct uvk_keymap *keymap, const struct uvk_dance_text *dance)
{
    double down = goes_on(dance) || has_holds(dance) ? keymap->feels[0].hold_after : 0;

    return down + (goes_on(dance) ? dance->within : 0);
}

/* How long a press of VALUE waits for what its cell is; 0: not at all. */
static struct uvk_delay own_delay(const struct uvk_keymap *keymap,
                                  const struct uvk_value *value)
{
    if (value->kind == UVK_VALUE_HOLD) {
        return (struct uvk_delay){keymap->feels[value->feel].hold_after, UVK_DELAY_HOLD,
                                  value->feel};
    }
    if (value->kind == UVK_VALUE_DANCE) {
        return (struct uvk_delay){dance_time(keymap, &keymap->dances[value->dance]),
                                  UVK_DELAY_DANCE, value->dance};
    }
    return (struct uvk_delay){0, UVK_DELAY_HOLD, 0};
}

/* The combo that keeps KEY waiting longest on LAYER; NULL: none. */
static const struct uvk_combo_text *slowest_combo(const struct uvk_keymap *keymap,
                                                  unsigned layer, unsigned key)
{
    const struct uvk_combo_text *slowest = NULL;

    for (const struct uvk_combo_text *combo = keymap->combos; combo != NULL;
         combo = combo->next) {
        for (unsigned i = 0; i < combo->key_count; i++) {
            if (combo->keys[i] == key && uvk_combo_is_on(combo, layer) &&
                (slowest == NULL || combo->within > slowest->within)) {
                slowest = combo;
            }
        }
    }
    return slowest;
}

struct uvk_delay uvk_cell_delay(const struct uvk_keymap *keymap, unsigned layer, unsigned cell)
{
    const struct uvk_combo_text *combo = slowest_combo(keymap, layer, cell);
    struct uvk_delay delay = own_delay(keymap, &keymap->layers[layer].cells[cell]);
    bool told_here = combo != NULL && (delay.most > 0 || layer == 0 || combo->layer_count > 0);

    return told_here && combo->within > delay.most
               ? (struct uvk_delay){combo->within, UVK_DELAY_COMBO, 0}
               : delay;
}

/* ---- in words ---------------------------------------------------------------------------- */

static void add_hold(GString *out, const struct uvk_feel_text *feel)
{
    if (feel->decide == UVK_LONG_PRESS) {
        g_string_append(out, "long press: until it comes up or another key is pressed");
    } else {
        g_string_append_printf(out, "tap-hold, feel %s: until %s", feel->name,
                               early[feel->decide]);
    }
    if (feel->rest > 0) {
        g_string_append_printf(out, "\nnot at all within %g ms of another key",
                               feel->rest / 1000);
    }
    if (feel->other_hand) {
        g_string_append(out, "\nno longer once a key of the same hand is pressed");
    }
}

static void add_dance(GString *out, const struct uvk_dance_text *dance)
{
    g_string_append_printf(out, "dance %s: until %sanother key is pressed", dance->name,
                           goes_on(dance) ? "" : "it comes up or ");
    if (goes_on(dance)) {
        g_string_append_printf(out, ", or %g ms after it came up", dance->within / 1000);
    }
}

char *uvk_delay_text(const struct uvk_keymap *keymap, const struct uvk_delay *delay)
{
    GString *out = g_string_new(NULL);

    g_string_append_printf(out, "%g ms at most, ", delay->most / 1000);
    switch (delay->cause) {
    case UVK_DELAY_HOLD:
        add_hold(out, &keymap->feels[delay->which]);
        break;
    case UVK_DELAY_DANCE:
        add_dance(out, &keymap->dances[delay->which]);
        break;
    default:
        g_string_append(out, "part of a combo: until it comes up or another key is pressed");
        break;
    }
    return g_string_free(out, FALSE);
}
