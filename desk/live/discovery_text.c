/* discovery_text.c - the text of a board that was learned from nothing. */
#include "discovery.h"

#include <string.h>

/* A board, and how each half is called where there are two. */
struct writing {
    const struct uvk_discovered *discovered;
    struct laid laid[UVK_HALVES];
    GString *out;
};

static bool is_split(const struct writing *writing)
{
    return writing->discovered->halves[1] != NULL;
}

/* Behind a keyword that is about one half: " left". */
static void append_half(const struct writing *writing, unsigned half)
{
    if (is_split(writing)) {
        g_string_append_printf(writing->out, " %s", writing->discovered->names[half]);
    }
}

/* ---- wires ------------------------------------------------------------------------------- */

static bool are_same(const GPtrArray *a, const GPtrArray *b)
{
    for (guint i = 0; a->len == b->len && i < a->len; i++) {
        if (discovery_place(b, a->pdata[i]) < 0) {
            return false;
        }
    }
    return a->len == b->len;
}

static const char *flow_of(const struct laid *laid)
{
    return laid->one_way == 0 ? "none" : laid->rows_first ? "row->col" : "col->row";
}

static void take_order(GPtrArray *of, const GPtrArray *as)
{
    for (guint i = 0; i < as->len; i++) {
        of->pdata[i] = as->pdata[i];
    }
}

/* Halves that have the same wires on the same pins share one matrix, in the order of the first
 * half: the other one was pressed from its other end. */
static bool share_wires(struct writing *writing)
{
    struct laid *first = &writing->laid[0];
    struct laid *second = &writing->laid[1];

    if (!is_split(writing) || !are_same(first->rows, second->rows) ||
        !are_same(first->cols, second->cols) || !are_same(first->direct, second->direct) ||
        strcmp(flow_of(first), flow_of(second)) != 0) {
        return false;
    }
    take_order(second->rows, first->rows);
    take_order(second->cols, first->cols);
    take_order(second->direct, first->direct);
    return true;
}

static void append_pins(GString *out, const char *word, const GPtrArray *pins)
{
    g_string_append_printf(out, "    %s ", word);
    for (guint i = 0; i < pins->len; i++) {
        g_string_append_printf(out, " %s", ((const struct uvk_pin *)pins->pdata[i])->name);
    }
    g_string_append_c(out, '\n');
}

/* SHARED: of both halves. */
static void append_wires(const struct writing *writing, unsigned half, bool shared)
{
    const struct laid *laid = &writing->laid[half];
    GString *out = writing->out;

    if (laid->rows->len > 0) {
        g_string_append(out, "  matrix");
        if (!shared) {
            append_half(writing, half);
        }
        g_string_append(out, " {\n");
        append_pins(out, "rows", laid->rows);
        append_pins(out, "cols", laid->cols);
        g_string_append_printf(out, "    flow  %s\n  }\n", flow_of(laid));
    }
    if (laid->direct->len > 0) {
        g_string_append(out, "  direct");
        if (!shared) {
            append_half(writing, half);
        }
        g_string_append(out, " {\n");
        append_pins(out, "pins", laid->direct);
        g_string_append(out, "    to    ground\n  }\n");
    }
}

static void append_knob_wires(const struct writing *writing, unsigned half)
{
    const struct uvk_discovery *discovery = writing->laid[half].discovery;

    for (guint i = 0; i < discovery->knobs->len; i++) {
        const struct knob *knob = &g_array_index(discovery->knobs, struct knob, i);
        g_string_append_printf(writing->out, "  knob %s", knob->name);
        append_half(writing, half);
        g_string_append_printf(writing->out, " { pins %s %s; detent %u }\n",
                               knob->turned.first->name, knob->turned.second->name,
                               knob->turned.detent);
    }
}

/* ---- keys -------------------------------------------------------------------------------- */

static int place_on(const GPtrArray *list, const struct found *key)
{
    return MAX(discovery_place(list, key->a), discovery_place(list, key->b));
}

static void append_key(GString *out, const struct laid *laid, const struct found *key)
{
    if (key->b == NULL) {
        g_string_append_printf(out, "  d%d", discovery_place(laid->direct, key->a));
    } else {
        g_string_append_printf(out, "  r%dc%d", place_on(laid->rows, key),
                               place_on(laid->cols, key));
    }
}

/* Knobs that were turned before the key number AT was pressed, in its LINE. */
static void append_knobs(GString *out, const struct laid *laid, guint at, unsigned line)
{
    for (guint i = 0; i < laid->discovery->knobs->len; i++) {
        const struct knob *knob = &g_array_index(laid->discovery->knobs, struct knob, i);
        if (knob->before == at && knob->line == line) {
            g_string_append_printf(out, "  =%s", knob->name);
        }
    }
}

static void append_keys(const struct writing *writing, unsigned half)
{
    const struct laid *laid = &writing->laid[half];
    const struct uvk_discovery *discovery = laid->discovery;
    GString *out = writing->out;

    g_string_append(out, "  keys");
    append_half(writing, half);
    g_string_append(out, " {\n");
    for (unsigned line = 0; line <= discovery->line; line++) {
        g_string_append(out, "  ");
        for (guint i = 0; i < discovery->keys->len; i++) {
            append_knobs(out, laid, i, line);
            if (discovery_at(discovery, i)->line == line) {
                append_key(out, laid, discovery_at(discovery, i));
            }
        }
        append_knobs(out, laid, discovery->keys->len, line);
        g_string_append_c(out, '\n');
    }
    g_string_append(out, "  }\n");
}

/* ---- all of it --------------------------------------------------------------------------- */

static void append_head(const struct writing *writing, const char *name)
{
    const struct uvk_discovered *discovered = writing->discovered;
    const struct uvk_chip *chip = discovered->halves[0]->chip;

    g_string_append_printf(writing->out,
                           "# As its keys were pressed; move them to where they lie.\n"
                           "board %s {\n  title \"%s\"\n  chip  %s\n",
                           name, name, chip->name);
    g_string_append(writing->out, "  # numbers to try things out with; a keyboard that you "
                                  "give away has its own\n"
                                  "  usb   { vendor 0x1209; product 0x0001; maker \"me\" }\n");
    g_string_append_printf(writing->out, "  boot  %s\n", chip->boots[0]);
    if (is_split(writing)) {
        g_string_append_printf(writing->out, "  halves %s %s { main usb; link %s }\n",
                               discovered->names[0], discovered->names[1], discovered->link);
    }
}

static void append_board(struct writing *writing, const char *name)
{
    bool shared = share_wires(writing);
    unsigned count = is_split(writing) ? UVK_HALVES : 1;

    append_head(writing, name);
    for (unsigned half = 0; half < (shared ? 1 : count); half++) {
        append_wires(writing, half, shared);
    }
    for (unsigned half = 0; half < count; half++) {
        append_knob_wires(writing, half);
    }
    for (unsigned half = 0; half < count; half++) {
        append_keys(writing, half);
    }
    g_string_append(writing->out, "}\n");
}

char *uvk_discovery_board(const struct uvk_discovered *discovered, const char *name,
                          GError **error)
{
    struct writing writing = {.discovered = discovered, .out = g_string_new(NULL)};
    bool good = true;

    for (unsigned half = 0; good && half < (is_split(&writing) ? UVK_HALVES : 1); half++) {
        good = discovery_lay_out(&writing.laid[half], discovered->halves[half], error);
        if (!good && is_split(&writing)) {
            g_prefix_error(error, "%s: ", discovered->names[half]);
        }
    }
    if (good) {
        append_board(&writing, name);
    }
    for (unsigned half = 0; half < UVK_HALVES; half++) {
        discovery_clear(&writing.laid[half]);
    }
    return g_string_free(writing.out, !good);
}
