/* delays.c - `uvrek check --delays`: which keys can be held up, how long, and why. */
#include "cli.h"

#include <stdio.h>

struct delay {
    double most; /* microseconds */
    unsigned layer, cell;
    const struct uvk_value *value;
    const struct uvk_combo_text *combo; /* the slowest that it is part of, or NULL */
};

/* What ends the waiting early, by enum uvk_decide. */
static const char *const early[] = {
    "when it comes up", "when it comes up, or another key is pressed",
    "when it comes up, or a key inside it does", "when it comes up, or another key is pressed"};

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

/* How long a press of VALUE may be undecided. */
static double longest(const struct uvk_keymap *keymap, const struct uvk_value *value)
{
    if (value->kind == UVK_VALUE_HOLD) {
        return keymap->feels[value->feel].hold_after;
    }
    if (value->kind == UVK_VALUE_DANCE) {
        const struct uvk_dance_text *dance = &keymap->dances[value->dance];
        double down = goes_on(dance) || has_holds(dance) ? keymap->feels[0].hold_after : 0;
        return down + (goes_on(dance) ? dance->within : 0);
    }
    return 0;
}

static bool is_on(const struct uvk_combo_text *combo, unsigned layer)
{
    for (unsigned i = 0; i < combo->layer_count; i++) {
        if (combo->layers[i] == layer) {
            return true;
        }
    }
    return combo->layer_count == 0;
}

/* The combo that keeps KEY waiting longest on LAYER; NULL: none. */
static const struct uvk_combo_text *slowest_combo(const struct uvk_keymap *keymap,
                                                  unsigned layer, unsigned key)
{
    const struct uvk_combo_text *slowest = NULL;

    for (const struct uvk_combo_text *combo = keymap->combos; combo != NULL;
         combo = combo->next) {
        for (unsigned i = 0; i < combo->key_count; i++) {
            if (combo->keys[i] == key && is_on(combo, layer) &&
                (slowest == NULL || combo->within > slowest->within)) {
                slowest = combo;
            }
        }
    }
    return slowest;
}

/* A key waits for its combos, and for what its cell is; both run from its press. */
static GArray *find_delays(const struct uvk_program *program)
{
    const struct uvk_keymap *keymap = program->keymap;
    GArray *delays = g_array_new(FALSE, TRUE, sizeof(struct delay));

    for (unsigned layer = 0; layer < keymap->layer_count; layer++) {
        for (unsigned cell = 0; cell < uvk_board_cells(program->board); cell++) {
            struct delay delay = {0, layer, cell, &keymap->layers[layer].cells[cell],
                                  slowest_combo(keymap, layer, cell)};
            double own = longest(keymap, delay.value);
            bool named = delay.combo != NULL && delay.combo->layer_count > 0;
            delay.most = MAX(own, delay.combo != NULL ? delay.combo->within : 0);
            if (delay.most > 0 && (own > 0 || layer == 0 || named)) {
                g_array_append_val(delays, delay);
            }
        }
    }
    return delays;
}

static gint worst_first(gconstpointer a, gconstpointer b)
{
    const struct delay *left = a;
    const struct delay *right = b;

    return (right->most > left->most) - (right->most < left->most);
}

static void print_reason(const struct uvk_keymap *keymap, const struct delay *delay)
{
    if (delay->value->kind == UVK_VALUE_HOLD) {
        const struct uvk_feel_text *feel = &keymap->feels[delay->value->feel];
        printf(", or %s", early[feel->decide]);
        if (feel->rest > 0) {
            printf("; at once within %g ms of another key", feel->rest / 1000);
        }
    } else if (delay->value->kind == UVK_VALUE_DANCE) {
        const struct uvk_dance_text *dance = &keymap->dances[delay->value->dance];
        printf(": a dance");
        if (goes_on(dance)) {
            printf("; %g ms after it comes up, or when another key is pressed",
                   dance->within / 1000);
        }
    } else {
        printf(", or when it comes up, or another key is pressed: it is part of a combo");
    }
}

static void print_delay(const struct uvk_program *program, const struct delay *delay)
{
    const struct uvk_keymap *keymap = program->keymap;
    char *name = uvk_cell_name(program, uvk_value_tap(delay->value));
    char *where = uvk_cell_place(program->board, delay->cell);

    printf("  %-12s %-7s %-8s at most %3g ms", name, where, keymap->layers[delay->layer].name,
           delay->most / 1000);
    print_reason(keymap, delay);
    putchar('\n');
    g_free(name);
    g_free(where);
}

void print_delays(const struct uvk_program *program)
{
    GArray *delays = find_delays(program);

    g_array_sort(delays, worst_first);
    if (delays->len == 0) {
        puts("no key waits: every press is reported at the next scan");
    } else {
        printf("keys that wait before they are decided, worst first:\n");
    }
    for (guint i = 0; i < delays->len; i++) {
        print_delay(program, &g_array_index(delays, struct delay, i));
    }
    g_array_free(delays, TRUE);
}
