/* delays.c - `uvrek check --delays`: which presses can be held up, how long, and why. */
#include "cli.h"

#include "uvrek/ways.h"

#include <stdio.h>

/* Why a press waits. */
enum cause {
    CAUSE_HOLD,  /* of a feel */
    CAUSE_DANCE, /* of a dance */
    CAUSE_COMBO  /* of all combos that wait as long */
};

struct delay {
    double most; /* microseconds */
    enum cause cause;
    unsigned which; /* feel or dance; of combos 0 */
    unsigned layer, cell;
};

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
static struct delay own_delay(const struct uvk_keymap *keymap, const struct uvk_value *value)
{
    if (value->kind == UVK_VALUE_HOLD) {
        return (struct delay){keymap->feels[value->feel].hold_after, CAUSE_HOLD, value->feel, 0,
                              0};
    }
    if (value->kind == UVK_VALUE_DANCE) {
        return (struct delay){dance_time(keymap, &keymap->dances[value->dance]), CAUSE_DANCE,
                              value->dance, 0, 0};
    }
    return (struct delay){0, CAUSE_HOLD, 0, 0, 0};
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

/* A key waits for its combos and for what its cell is; both run from its press, so the longer
 * one is the cause. */
static struct delay delay_of(const struct uvk_keymap *keymap, unsigned layer, unsigned cell)
{
    const struct uvk_combo_text *combo = slowest_combo(keymap, layer, cell);
    struct delay delay = own_delay(keymap, &keymap->layers[layer].cells[cell]);
    bool told_here = combo != NULL && (delay.most > 0 || layer == 0 || combo->layer_count > 0);

    if (told_here && combo->within > delay.most) {
        delay = (struct delay){combo->within, CAUSE_COMBO, 0, 0, 0};
    }
    delay.layer = layer;
    delay.cell = cell;
    return delay;
}

static GArray *find_delays(const struct uvk_program *program)
{
    const struct uvk_keymap *keymap = program->keymap;
    GArray *delays = g_array_new(FALSE, TRUE, sizeof(struct delay));

    for (unsigned layer = 0; layer < keymap->layer_count; layer++) {
        for (unsigned cell = 0; cell < uvk_board_cells(program->board); cell++) {
            struct delay delay = delay_of(keymap, layer, cell);
            if (delay.most > 0) {
                g_array_append_val(delays, delay);
            }
        }
    }
    return delays;
}

/* The longest first, one cause after the other; of a cause as the cells stand. */
static gint worst_first(gconstpointer a, gconstpointer b)
{
    const struct delay *left = a;
    const struct delay *right = b;

    if (left->most != right->most) {
        return left->most < right->most ? 1 : -1;
    }
    if (left->cause != right->cause) {
        return left->cause < right->cause ? -1 : 1;
    }
    if (left->which != right->which) {
        return left->which < right->which ? -1 : 1;
    }
    if (left->layer != right->layer) {
        return left->layer < right->layer ? -1 : 1;
    }
    return left->cell < right->cell ? -1 : 1;
}

static bool same_cause(const struct delay *a, const struct delay *b)
{
    return a->most == b->most && a->cause == b->cause && a->which == b->which;
}

static void print_hold(const struct uvk_feel_text *feel)
{
    if (feel->decide == UVK_LONG_PRESS) {
        printf("long press: until it comes up or another key is pressed");
    } else {
        printf("tap-hold, feel %s: until %s", feel->name, early[feel->decide]);
    }
    if (feel->rest > 0) {
        printf("\n  not at all within %g ms of another key", feel->rest / 1000);
    }
    if (feel->other_hand) {
        printf("\n  no longer once a key of the same hand is pressed");
    }
}

static void print_dance(const struct uvk_dance_text *dance)
{
    printf("dance %s: until %sanother key is pressed", dance->name,
           goes_on(dance) ? "" : "it comes up or ");
    if (goes_on(dance)) {
        printf(", or %g ms after it came up", dance->within / 1000);
    }
}

static void print_cause(const struct uvk_keymap *keymap, const struct delay *delay)
{
    printf("\n%g ms at most, ", delay->most / 1000);
    switch (delay->cause) {
    case CAUSE_HOLD:
        print_hold(&keymap->feels[delay->which]);
        break;
    case CAUSE_DANCE:
        print_dance(&keymap->dances[delay->which]);
        break;
    default:
        printf("part of a combo: until it comes up or another key is pressed");
        break;
    }
    putchar('\n');
}

#define LINE_WIDTH 76u

/* The keys of one cause on one layer; the index behind them. */
static guint print_layer(const struct uvk_program *program, const GArray *delays, guint first)
{
    const struct delay *start = &g_array_index(delays, struct delay, first);
    const char *layer = program->keymap->layers[start->layer].name;
    unsigned column = LINE_WIDTH + 1;
    guint i;

    for (i = first; i < delays->len; i++) {
        const struct delay *delay = &g_array_index(delays, struct delay, i);
        const struct uvk_value *value =
            &program->keymap->layers[delay->layer].cells[delay->cell];
        char *name;
        unsigned width;
        if (!same_cause(start, delay) || delay->layer != start->layer) {
            break;
        }
        name = uvk_cell_name(program, uvk_value_tap(value));
        width = (unsigned)g_utf8_strlen(name, -1) + 2;
        if (column + width > LINE_WIDTH) {
            column =
                (unsigned)printf("%s  %-10s", i > first ? "\n" : "", i > first ? "" : layer);
        }
        printf("  %s", name);
        column += width;
        g_free(name);
    }
    putchar('\n');
    return i;
}

void print_delays(const struct uvk_program *program)
{
    GArray *delays = find_delays(program);
    const struct delay *last = NULL;

    g_array_sort(delays, worst_first);
    puts(delays->len == 0 ? "\nNo key waits: every press is reported at the next scan."
                          : "\nThese presses wait before they are decided:");
    for (guint i = 0; i < delays->len;) {
        const struct delay *delay = &g_array_index(delays, struct delay, i);
        if (last == NULL || !same_cause(last, delay)) {
            print_cause(program->keymap, delay);
        }
        last = delay;
        i = print_layer(program, delays, i);
    }
    g_array_free(delays, TRUE);
}

void delays_to_json(json_t *json, const struct uvk_program *program)
{
    static const char *const causes[] = {"tap-hold", "dance", "combo"};
    const struct uvk_keymap *keymap = program->keymap;
    GArray *delays = find_delays(program);
    json_t *list = put_list(json, "delays");

    g_array_sort(delays, worst_first);
    for (guint i = 0; i < delays->len; i++) {
        const struct delay *delay = &g_array_index(delays, struct delay, i);
        bool is_long =
            delay->cause == CAUSE_HOLD && keymap->feels[delay->which].decide == UVK_LONG_PRESS;
        char *place = uvk_cell_place(program->board, delay->cell);
        json_t *object = add_object(list);
        put_number(object, "milliseconds", (json_int_t)(delay->most / 1000));
        put_text(object, "cause", is_long ? "long-press" : causes[delay->cause]);
        put_text(object, "layer", keymap->layers[delay->layer].name);
        put_text(object, "key", place);
        g_free(place);
    }
    g_array_free(delays, TRUE);
}
