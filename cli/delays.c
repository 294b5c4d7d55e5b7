/* delays.c - `uvrek check --delays`: which keys can be held up, how long, and why. */
#include "cli.h"

#include <stdio.h>

struct delay {
    double most; /* microseconds */
    unsigned layer, key;
    const struct uvk_value *cell; /* a tap-hold, or NULL */
    const struct uvk_combo_text *combo;
};

/* What ends the waiting early, by enum uvk_decide. */
static const char *const early[] = {"when it comes up",
                                    "when it comes up, or another key is pressed",
                                    "when it comes up, or a key inside it does"};

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

/* A key waits for its combos, and for its tap-hold; both run from its press. */
static GArray *find_delays(const struct uvk_program *program)
{
    const struct uvk_keymap *keymap = program->keymap;
    GArray *delays = g_array_new(FALSE, TRUE, sizeof(struct delay));

    for (unsigned layer = 0; layer < keymap->layer_count; layer++) {
        for (unsigned key = 0; key < program->board->key_count; key++) {
            const struct uvk_value *cell = &keymap->layers[layer].cells[key];
            struct delay delay = {0, layer, key, NULL, slowest_combo(keymap, layer, key)};
            if (delay.combo != NULL) {
                delay.most = delay.combo->within;
            }
            if (cell->kind == UVK_VALUE_HOLD) {
                delay.cell = cell;
                delay.most = MAX(delay.most, keymap->feels[cell->feel].hold_after);
            }
            bool named = delay.combo != NULL && delay.combo->layer_count > 0;
            if (delay.most > 0 && (delay.cell != NULL || layer == 0 || named)) {
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

static void print_delay(const struct uvk_program *program, const struct delay *delay)
{
    const struct uvk_keymap *keymap = program->keymap;
    const struct uvk_key_place *place = &program->board->keys[delay->key];
    char *name = uvk_value_text(uvk_value_tap(&keymap->layers[delay->layer].cells[delay->key]));

    printf("  %-12s r%uc%u  %-8s at most %3g ms", name, place->row, place->col,
           keymap->layers[delay->layer].name, delay->most / 1000);
    if (delay->cell != NULL) {
        const struct uvk_feel_text *feel = &keymap->feels[delay->cell->feel];
        printf(", or %s", early[feel->decide]);
        if (feel->streak > 0) {
            printf("; at once within %g ms of another key", feel->streak / 1000);
        }
    } else {
        printf(", or when it comes up, or another key is pressed: it is part of a combo");
    }
    putchar('\n');
    g_free(name);
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
