/* wiring_told.c - what a board's file has wrong, in sentences with their evidence. */
#include "wired.h"

#include <string.h>

/* Takes TEXT over. */
static void tell(GPtrArray *list, char *text)
{
    g_ptr_array_add(list, text);
}

static const char *label(const struct uvk_wiring *wiring, const struct uvk_pin *pin)
{
    return uvk_pin_label(wiring->board, pin);
}

/* ---- the wires of a half ----------------------------------------------------------------- */

struct telling {
    const struct uvk_wiring *wiring;
    GPtrArray *list;
    unsigned half;
    struct found_half found;
};

/* "r0c1 r1c1": the keys of WIRE that came. */
static char *evidence(const struct telling *telling, const struct uvk_wire *wire)
{
    GString *out = g_string_new(NULL);

    for (unsigned key = 0; key < telling->wiring->board->key_count; key++) {
        if (uvk_wire_has_key(telling->wiring->board, wire, key) &&
            telling->wiring->keys[key].came) {
            char *place = uvk_cell_place(telling->wiring->board, key);
            g_string_append_printf(out, "%s%s", out->len > 0 ? " " : "", place);
            g_free(place);
        }
    }
    return g_string_free(out, FALSE);
}

/* The wire of the same side whose pin of the file WIRE is on; -1: none. */
static int stands_for(const struct telling *telling, const struct uvk_wire *wire)
{
    const struct uvk_board *board = telling->wiring->board;
    const struct uvk_pin *pin = wiring_pin(&telling->found, wire);

    for (unsigned i = 0; i < uvk_wire_count(&board->halves[wire->half], wire->side); i++) {
        const struct uvk_wire other = {wire->half, wire->side, i};
        if (pin != NULL && uvk_wire_pin(board, &other) == pin) {
            return (int)i;
        }
    }
    return -1;
}

static void tell_swap(struct telling *telling, const struct uvk_wire *a,
                      const struct uvk_wire *b)
{
    const struct uvk_board *board = telling->wiring->board;
    char *first = uvk_wire_name(board, a);
    char *second = uvk_wire_name(board, b);
    char *keys = evidence(telling, a);

    tell(telling->list,
         g_strdup_printf("%s and %s are exchanged: %s is on %s, and %s on %s (seen by %s)",
                         first, second, first,
                         label(telling->wiring, wiring_pin(&telling->found, a)), second,
                         label(telling->wiring, wiring_pin(&telling->found, b)), keys));
    g_free(keys);
    g_free(second);
    g_free(first);
}

static void tell_other_pin(struct telling *telling, const struct uvk_wire *wire)
{
    char *text = uvk_wire_text(telling->wiring->board, wire);
    char *keys = evidence(telling, wire);

    tell(telling->list,
         g_strdup_printf("%s is on %s (seen by %s)", text,
                         label(telling->wiring, wiring_pin(&telling->found, wire)), keys));
    g_free(keys);
    g_free(text);
}

static bool is_wrong(const struct telling *telling, const struct uvk_wire *wire)
{
    const struct uvk_pin *pin = wiring_pin(&telling->found, wire);

    return pin != NULL && pin != uvk_wire_pin(telling->wiring->board, wire);
}

/* Two wires that are on one another's pins are told once. */
static void tell_wire(struct telling *telling, const struct uvk_wire *wire)
{
    int other = stands_for(telling, wire);
    struct uvk_wire partner = {wire->half, wire->side, (unsigned)MAX(other, 0)};

    if (!is_wrong(telling, wire)) {
        return;
    }
    if (other >= 0 && stands_for(telling, &partner) == (int)wire->index) {
        if (wire->index < partner.index) {
            tell_swap(telling, wire, &partner);
        }
        return;
    }
    tell_other_pin(telling, wire);
}

static bool pin_is_of(const struct uvk_board *board, unsigned half, enum uvk_wire_side side,
                      const struct uvk_pin *pin)
{
    for (unsigned i = 0; i < uvk_wire_count(&board->halves[half], side); i++) {
        const struct uvk_wire wire = {half, side, i};
        if (uvk_wire_pin(board, &wire) == pin) {
            return true;
        }
    }
    return false;
}

/* All wires that are known are on pins of HALF's OTHER side (or, of another half, the same
 * one).
 */
static bool all_are_on(const struct telling *telling, unsigned half, bool exchanged)
{
    unsigned known = 0;

    for (enum uvk_wire_side side = UVK_WIRE_ROW; side <= UVK_WIRE_COL; side++) {
        enum uvk_wire_side wanted = !exchanged             ? side
                                    : side == UVK_WIRE_ROW ? UVK_WIRE_COL
                                                           : UVK_WIRE_ROW;
        unsigned count = uvk_wire_count(&telling->wiring->board->halves[telling->half], side);
        for (unsigned i = 0; i < count; i++) {
            const struct uvk_wire wire = {telling->half, side, i};
            const struct uvk_pin *pin = wiring_pin(&telling->found, &wire);
            if (pin == NULL) {
                continue;
            }
            known++;
            if (!pin_is_of(telling->wiring->board, half, wanted, pin)) {
                return false;
            }
        }
    }
    return known > 1;
}

/* ---- diodes ------------------------------------------------------------------------------ */

static const char *flow_text(enum uvk_flow flow)
{
    return flow == UVK_ROW_TO_COL ? "row->col" : flow == UVK_COL_TO_ROW ? "col->row" : "none";
}

static void tell_flow(struct telling *telling)
{
    const struct uvk_half *half = &telling->wiring->board->halves[telling->half];
    enum uvk_flow flow = wiring_flow(telling->wiring, telling->half, &telling->found);
    unsigned seen = flow == UVK_NO_DIODES    ? telling->found.both
                    : flow == UVK_ROW_TO_COL ? telling->found.row_to_col
                                             : telling->found.col_to_row;

    if (flow != half->flow && half->row_count > 0) {
        tell(telling->list, g_strdup_printf("flow is %s, not %s: so conduct %u of %u keys",
                                            flow_text(flow), flow_text(half->flow), seen,
                                            telling->found.both + telling->found.row_to_col +
                                                telling->found.col_to_row));
    }
}

/* A key that does not do what all others do. */
static void tell_odd_key(struct telling *telling, unsigned key)
{
    const struct uvk_wiring *wiring = telling->wiring;
    const struct found_key *found = &wiring->keys[key];
    const struct uvk_key_place *place = &wiring->board->keys[key];
    const struct uvk_pin *row = telling->found.rows[place->row];
    const struct uvk_pin *col = telling->found.cols[place->col];
    enum uvk_flow flow = wiring_flow(wiring, telling->half, &telling->found);
    enum way way = flow == UVK_NO_DIODES ? WAY_BOTH : WAY_HIGH_TO_LOW;
    bool turned =
        found->way == WAY_HIGH_TO_LOW && found->a != (flow == UVK_ROW_TO_COL ? row : col);
    char *name = uvk_cell_place(wiring->board, key);

    if (found->way == WAY_TO_GROUND) {
        tell(telling->list,
             g_strdup_printf("%s joins %s to ground: it is no key of the matrix, "
                             "but a switch of its own",
                             name, label(wiring, found->a)));
    } else if (row == NULL || col == NULL) {
        g_free(name); /* nothing is known of its wires */
        return;
    } else if (!((found->a == row && found->b == col) ||
                 (found->a == col && found->b == row))) {
        tell(telling->list,
             g_strdup_printf(
                 "%s is between %s and %s, unlike the other keys of its row and column: "
                 "look at its joints",
                 name, label(wiring, found->a), label(wiring, found->b)));
    } else if (found->way == WAY_BOTH && way != WAY_BOTH) {
        tell(telling->list,
             g_strdup_printf("%s has no diode, or a wire beside it: it conducts both ways",
                             name));
    } else if (way == WAY_HIGH_TO_LOW && turned) {
        tell(telling->list,
             g_strdup_printf("the diode of %s is the other way round: turn it", name));
    }
    g_free(name);
}

/* ---- what did not come ------------------------------------------------------------------- */

/* Keys of WIRE that were asked for in vain, if there are several, and all of them were. */
static unsigned in_vain(const struct telling *telling, const struct uvk_wire *wire)
{
    unsigned all = 0;

    for (unsigned key = 0; key < telling->wiring->board->key_count; key++) {
        if (uvk_wire_has_key(telling->wiring->board, wire, key)) {
            if (!telling->wiring->keys[key].given || telling->wiring->keys[key].came) {
                return 0;
            }
            all++;
        }
    }
    return all > 1 ? all : 0;
}

static bool is_explained(const struct telling *telling, unsigned key)
{
    struct uvk_wire wire;

    for (enum uvk_wire_side side = UVK_WIRE_ROW; side <= UVK_WIRE_COL; side++) {
        if (uvk_key_wire(telling->wiring->board, key, side, &wire) &&
            in_vain(telling, &wire) > 0) {
            return true;
        }
    }
    return false;
}

static void tell_in_vain(struct telling *telling)
{
    const struct uvk_board *board = telling->wiring->board;

    for (enum uvk_wire_side side = UVK_WIRE_ROW; side <= UVK_WIRE_COL; side++) {
        for (unsigned i = 0; i < uvk_wire_count(&board->halves[telling->half], side); i++) {
            const struct uvk_wire wire = {telling->half, side, i};
            if (in_vain(telling, &wire) > 0) {
                char *text = uvk_wire_text(board, &wire);
                tell(telling->list,
                     g_strdup_printf(
                         "%s never came: its wire reaches no pin, or that pin is dead", text));
                g_free(text);
            }
        }
    }
    for (unsigned key = 0; key < board->key_count; key++) {
        if (board->keys[key].half == telling->half && telling->wiring->keys[key].given &&
            !telling->wiring->keys[key].came && !is_explained(telling, key)) {
            char *name = uvk_cell_place(board, key);
            tell(telling->list,
                 g_strdup_printf("%s never came: its switch, its diode or a joint", name));
            g_free(name);
        }
    }
}

/* ---- all --------------------------------------------------------------------------------- */

static void tell_wires(struct telling *telling)
{
    const struct uvk_board *board = telling->wiring->board;

    for (enum uvk_wire_side side = UVK_WIRE_ROW; side < UVK_WIRE_SIDES; side++) {
        for (unsigned i = 0; i < uvk_wire_count(&board->halves[telling->half], side); i++) {
            const struct uvk_wire wire = {telling->half, side, i};
            tell_wire(telling, &wire);
        }
    }
}

/* Every wire of this half is on its own pin. */
static bool all_are_right(const struct telling *telling)
{
    const struct uvk_board *board = telling->wiring->board;

    for (enum uvk_wire_side side = UVK_WIRE_ROW; side < UVK_WIRE_SIDES; side++) {
        for (unsigned i = 0; i < uvk_wire_count(&board->halves[telling->half], side); i++) {
            const struct uvk_wire wire = {telling->half, side, i};
            if (is_wrong(telling, &wire)) {
                return false;
            }
        }
    }
    return true;
}

static void tell_half(const struct uvk_wiring *wiring, GPtrArray *list, unsigned half)
{
    struct telling telling = {wiring, list, half, wiring_solve(wiring, half)};
    const struct uvk_board *board = wiring->board;

    if (!all_are_right(&telling) && all_are_on(&telling, half, true)) {
        tell(list, g_strdup_printf("rows and columns are exchanged%s%s%s: each row is on a "
                                   "column's pin",
                                   board->half_count > 1 ? " in '" : "",
                                   board->halves[half].name, board->half_count > 1 ? "'" : ""));
    } else if (board->half_count > 1 && uvk_one_controller(board) &&
               all_are_on(&telling, 1 - half, false) && !all_are_right(&telling)) {
        tell(list,
             g_strdup_printf("the halves are exchanged: the wires of '%s' are on the pins of "
                             "'%s'",
                             board->halves[half].name, board->halves[1 - half].name));
    } else {
        tell_wires(&telling);
    }
    tell_flow(&telling);
    for (unsigned key = 0; key < board->key_count; key++) {
        if (board->keys[key].half == half && !board->keys[key].direct &&
            wiring->keys[key].came) {
            tell_odd_key(&telling, key);
        }
    }
    tell_in_vain(&telling);
}

static void tell_knob(const struct uvk_wiring *wiring, GPtrArray *list, unsigned number)
{
    const struct uvk_knob *knob = &wiring->board->knobs[number];
    const struct found_knob *found = &wiring->knobs[number];
    const struct uvk_pin *first = knob->pins[knob->flipped];
    const struct uvk_pin *second = knob->pins[!knob->flipped];

    if (!found->given) {
        return;
    }
    if (found->first == NULL) {
        tell(list,
             g_strdup_printf("the knob %s never came: its wires, or its ground", knob->name));
    } else if (found->first == second && found->second == first) {
        tell(list, g_strdup_printf("the knob %s turns the other way: %s closes before %s",
                                   knob->name, label(wiring, second), label(wiring, first)));
    } else if (found->first != first || found->second != second) {
        tell(list, g_strdup_printf("the knob %s is on %s and %s", knob->name,
                                   label(wiring, found->first), label(wiring, found->second)));
    }
}

GPtrArray *uvk_wiring_told(const struct uvk_wiring *wiring)
{
    GPtrArray *list = g_ptr_array_new_with_free_func(g_free);

    for (guint i = 0; i < wiring->joined->len; i++) {
        const struct joined_pins *pair = &g_array_index(wiring->joined, struct joined_pins, i);
        tell(list, g_strdup_printf("%s and %s are joined, with no key down: look for a bridge",
                                   label(wiring, pair->a), label(wiring, pair->b)));
    }
    wiring_tell_cable(wiring, list);
    wiring_tell_main(wiring, list);
    for (unsigned half = 0; half < wiring->board->half_count; half++) {
        if (wiring_has_half(wiring, half)) {
            tell_half(wiring, list, half);
        }
    }
    for (unsigned i = 0; i < wiring->board->knob_count; i++) {
        tell_knob(wiring, list, i);
    }
    return list;
}
