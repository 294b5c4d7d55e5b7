/* delays.c - `uvrek check --delays`: which presses can be held up, how long, and why. */
#include "cli.h"

#include "uvrek/delays.h"

#include <stdio.h>

/* Of one cell. */
struct delay {
    struct uvk_delay is;
    unsigned layer, cell;
};

static GArray *find_delays(const struct uvk_program *program)
{
    const struct uvk_keymap *keymap = program->keymap;
    GArray *delays = g_array_new(FALSE, TRUE, sizeof(struct delay));

    for (unsigned layer = 0; layer < keymap->layer_count; layer++) {
        for (unsigned cell = 0; cell < uvk_board_cells(program->board); cell++) {
            struct delay delay = {uvk_cell_delay(keymap, layer, cell), layer, cell};
            if (delay.is.most > 0) {
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

    if (left->is.most != right->is.most) {
        return left->is.most < right->is.most ? 1 : -1;
    }
    if (left->is.cause != right->is.cause) {
        return left->is.cause < right->is.cause ? -1 : 1;
    }
    if (left->is.which != right->is.which) {
        return left->is.which < right->is.which ? -1 : 1;
    }
    if (left->layer != right->layer) {
        return left->layer < right->layer ? -1 : 1;
    }
    return left->cell < right->cell ? -1 : 1;
}

static bool same_cause(const struct delay *a, const struct delay *b)
{
    return a->is.most == b->is.most && a->is.cause == b->is.cause && a->is.which == b->is.which;
}

static void print_cause(const struct uvk_keymap *keymap, const struct delay *delay)
{
    char *text = uvk_delay_text(keymap, &delay->is);
    char **lines = g_strsplit(text, "\n", -1);

    putchar('\n');
    for (unsigned i = 0; lines[i] != NULL; i++) {
        printf("%s%s\n", i > 0 ? "  " : "", lines[i]);
    }
    g_strfreev(lines);
    g_free(text);
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
        bool is_long = delay->is.cause == UVK_DELAY_HOLD &&
                       keymap->feels[delay->is.which].decide == UVK_LONG_PRESS;
        char *place = uvk_cell_place(program->board, delay->cell);
        json_t *object = add_object(list);
        put_number(object, "milliseconds", (json_int_t)(delay->is.most / 1000));
        put_text(object, "cause", is_long ? "long-press" : causes[delay->is.cause]);
        put_text(object, "layer", keymap->layers[delay->layer].name);
        put_text(object, "key", place);
        g_free(place);
    }
    g_array_free(delays, TRUE);
}
