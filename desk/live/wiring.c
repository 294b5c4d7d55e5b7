/* wiring.c - from the pins that keys join to the pin of each wire. */
#include "wired.h"

#include <string.h>

struct uvk_wiring *uvk_wiring_new(const struct uvk_board *board, unsigned half)
{
    struct uvk_wiring *wiring = g_new0(struct uvk_wiring, 1);

    wiring->board = board;
    wiring->half = half;
    wiring->keys = g_new0(struct found_key, board->key_count + 1u);
    wiring->knobs = g_new0(struct found_knob, board->knob_count + 1u);
    wiring->joined = g_array_new(FALSE, TRUE, sizeof(struct joined_pins));
    wiring->grounded = g_array_new(FALSE, TRUE, sizeof(const struct uvk_pin *));
    wiring->across = g_array_new(FALSE, TRUE, sizeof(struct joined_pins));
    return wiring;
}

struct uvk_wiring *uvk_wiring_again(const struct uvk_wiring *wiring,
                                    const struct uvk_board *board)
{
    struct uvk_wiring *again = uvk_wiring_new(board, wiring->half);
    unsigned keys = MIN(board->key_count, wiring->board->key_count);
    unsigned knobs = MIN(board->knob_count, wiring->board->knob_count);

    memcpy(again->keys, wiring->keys, keys * sizeof wiring->keys[0]);
    memcpy(again->knobs, wiring->knobs, knobs * sizeof wiring->knobs[0]);
    g_array_append_vals(again->joined, wiring->joined->data, wiring->joined->len);
    g_array_append_vals(again->grounded, wiring->grounded->data, wiring->grounded->len);
    g_array_append_vals(again->across, wiring->across->data, wiring->across->len);
    again->listened = wiring->listened;
    return again;
}

void uvk_wiring_free(struct uvk_wiring *wiring)
{
    if (wiring != NULL) {
        g_array_unref(wiring->joined);
        g_array_unref(wiring->grounded);
        g_array_unref(wiring->across);
        g_free(wiring->keys);
        g_free(wiring->knobs);
        g_free(wiring);
    }
}

bool wiring_has_half(const struct uvk_wiring *wiring, unsigned half)
{
    return uvk_one_controller(wiring->board) || half == wiring->half;
}

bool uvk_wiring_has(const struct uvk_wiring *wiring, unsigned key)
{
    return wiring_has_half(wiring, wiring->board->keys[key].half);
}

bool uvk_wiring_has_knob(const struct uvk_wiring *wiring, unsigned knob)
{
    return wiring_has_half(wiring, wiring->board->knobs[knob].half);
}

/* ---- pins that are joined ---------------------------------------------------------------- */

/* The pin that stands for all that are joined to PIN: the first of the chip's list. */
static const struct uvk_pin *leader_of(const struct uvk_wiring *wiring,
                                       const struct uvk_pin *pin)
{
    bool changed = true;

    while (changed) {
        changed = false;
        for (guint i = 0; i < wiring->joined->len; i++) {
            const struct joined_pins *pair =
                &g_array_index(wiring->joined, struct joined_pins, i);
            if (pair->b == pin) {
                pin = pair->a;
                changed = true;
            }
        }
    }
    return pin;
}

/* The earlier one leads, so that no circle can come of it. */
void uvk_wiring_join(struct uvk_wiring *wiring, const struct uvk_pin *a,
                     const struct uvk_pin *b)
{
    struct joined_pins pair = {a < b ? a : b, a < b ? b : a};

    for (guint i = 0; i < wiring->joined->len; i++) {
        const struct joined_pins *old = &g_array_index(wiring->joined, struct joined_pins, i);
        if (old->a == pair.a && old->b == pair.b) {
            return;
        }
    }
    if (a != b) {
        g_array_append_val(wiring->joined, pair);
    }
}

/* ---- one press --------------------------------------------------------------------------- */

static bool same_switch(const struct found_key *key, const struct uvk_pin *low,
                        const struct uvk_pin *high)
{
    return (key->a == high && key->b == low) ||
           (key->a == low && key->b == high && low != NULL);
}

/* False: there are two of them. */
static bool add_pair(struct found_key *key, const struct uvk_pin *low,
                     const struct uvk_pin *high)
{
    if (!key->came) {
        *key = (struct found_key){.given = true,
                                  .came = true,
                                  .way = low == NULL ? WAY_TO_GROUND : WAY_HIGH_TO_LOW,
                                  .a = high,
                                  .b = low};
        return true;
    }
    if (same_switch(key, low, high) && (key->a != high || key->b != low)) {
        key->way = WAY_BOTH;
    }
    return same_switch(key, low, high);
}

static bool is_joined(const struct uvk_wiring *wiring, const struct uvk_pin *pin)
{
    for (guint i = 0; i < wiring->joined->len; i++) {
        const struct joined_pins *pair = &g_array_index(wiring->joined, struct joined_pins, i);
        if (pair->a == pin || pair->b == pin) {
            return true;
        }
    }
    return false;
}

/* The key that was given before with the same switch; -1: none. Where pins are joined, several
 * keys are the same switch. */
static int known_key(const struct uvk_wiring *wiring, unsigned key,
                     const struct found_key *found)
{
    if (is_joined(wiring, found->a) || is_joined(wiring, found->b)) {
        return -1;
    }
    for (unsigned i = 0; i < wiring->board->key_count; i++) {
        const struct found_key *other = &wiring->keys[i];
        if (i != key && other->came && same_switch(other, found->b, found->a)) {
            return (int)i;
        }
    }
    return -1;
}

enum uvk_wiring_press uvk_wiring_take(struct uvk_wiring *wiring, unsigned key,
                                      const struct uvk_conducts *pairs, unsigned count,
                                      unsigned *other)
{
    struct found_key found = {.given = true};
    int known;

    for (unsigned i = 0; i < count; i++) {
        const struct uvk_pin *high = leader_of(wiring, pairs[i].high);
        const struct uvk_pin *low =
            pairs[i].low != NULL ? leader_of(wiring, pairs[i].low) : NULL;
        if (low != high && !add_pair(&found, low, high)) {
            return UVK_PRESS_TWO;
        }
    }
    known = found.came ? known_key(wiring, key, &found) : -1;
    if (known >= 0) {
        *other = (unsigned)known;
        return UVK_PRESS_KNOWN;
    }
    wiring->keys[key] = found;
    return UVK_PRESS_TAKEN;
}

void uvk_wiring_forget(struct uvk_wiring *wiring, unsigned key)
{
    memset(&wiring->keys[key], 0, sizeof wiring->keys[key]);
}

void uvk_wiring_take_knob(struct uvk_wiring *wiring, unsigned knob, const struct uvk_pin *first,
                          const struct uvk_pin *second)
{
    wiring->knobs[knob] = (struct found_knob){true, first, second};
}

/* ---- all of them ------------------------------------------------------------------------- */

struct solving {
    const struct uvk_wiring *wiring;
    struct found_half *found;
    const struct uvk_pin *taken[2 * UVK_SIDE_MAX]; /* pins that are some wire's already */
    unsigned taken_count;
};

static bool is_taken(const struct solving *solving, const struct uvk_pin *pin)
{
    for (unsigned i = 0; i < solving->taken_count; i++) {
        if (solving->taken[i] == pin) {
            return true;
        }
    }
    return false;
}

/* How many keys of WIRE are on PIN. */
static unsigned votes_for(const struct solving *solving, const struct uvk_wire *wire,
                          const struct uvk_pin *pin)
{
    unsigned votes = 0;

    for (unsigned key = 0; key < solving->wiring->board->key_count; key++) {
        const struct found_key *found = &solving->wiring->keys[key];
        votes += found->came && found->b != NULL && (found->a == pin || found->b == pin) &&
                 uvk_wire_has_key(solving->wiring->board, wire, key);
    }
    return votes;
}

/* The pin that most keys of WIRE share, if no other one is as good. *SURE: more than one key
 * says so. */
static const struct uvk_pin *elect(const struct solving *solving, const struct uvk_wire *wire,
                                   bool *sure)
{
    const struct uvk_chip *chip = solving->wiring->board->chip;
    const struct uvk_pin *best = NULL;
    unsigned most = 0;
    bool alone = false;

    for (size_t i = 0; i < chip->pin_count; i++) {
        const struct uvk_pin *pin = &chip->pins[i];
        unsigned votes = is_taken(solving, pin) ? 0 : votes_for(solving, wire, pin);
        if (votes > most) {
            best = pin;
            most = votes;
            alone = true;
        } else if (votes == most) {
            alone = false;
        }
    }
    *sure = alone && most > 1;
    return alone ? best : NULL;
}

static void settle(struct solving *solving, const struct uvk_wire *wire,
                   const struct uvk_pin *pin)
{
    if (wire->side == UVK_WIRE_ROW) {
        solving->found->rows[wire->index] = pin;
    } else {
        solving->found->cols[wire->index] = pin;
    }
    solving->taken[solving->taken_count++] = pin;
}

static bool is_settled(const struct solving *solving, const struct uvk_wire *wire)
{
    return wiring_pin(solving->found, wire) != NULL;
}

/* Wires for which one pin stands out; those with several keys first. False: nothing is new. */
static bool settle_some(struct solving *solving, unsigned half, bool only_sure)
{
    bool news = false;

    for (enum uvk_wire_side side = UVK_WIRE_ROW; side <= UVK_WIRE_COL; side++) {
        unsigned count = uvk_wire_count(&solving->wiring->board->halves[half], side);
        for (unsigned i = 0; i < count; i++) {
            const struct uvk_wire wire = {half, side, i};
            bool sure = false;
            const struct uvk_pin *pin =
                is_settled(solving, &wire) ? NULL : elect(solving, &wire, &sure);
            if (pin != NULL && (sure || !only_sure)) {
                settle(solving, &wire, pin);
                news = true;
            }
        }
    }
    return news;
}

/* Where a single key leaves two pins, the file's one is taken. */
static bool settle_by_file(struct solving *solving, unsigned half)
{
    for (enum uvk_wire_side side = UVK_WIRE_ROW; side <= UVK_WIRE_COL; side++) {
        unsigned count = uvk_wire_count(&solving->wiring->board->halves[half], side);
        for (unsigned i = 0; i < count; i++) {
            const struct uvk_wire wire = {half, side, i};
            const struct uvk_pin *pin = uvk_wire_pin(solving->wiring->board, &wire);
            if (!is_settled(solving, &wire) && !is_taken(solving, pin) &&
                votes_for(solving, &wire, pin) > 0) {
                settle(solving, &wire, pin);
                return true;
            }
        }
    }
    return false;
}

static void count_ways(struct solving *solving, unsigned half)
{
    const struct uvk_board *board = solving->wiring->board;

    for (unsigned key = 0; key < board->key_count; key++) {
        const struct found_key *found = &solving->wiring->keys[key];
        const struct uvk_pin *row = solving->found->rows[board->keys[key].row];
        if (board->keys[key].half != half || board->keys[key].direct || !found->came) {
            continue;
        }
        solving->found->both += found->way == WAY_BOTH;
        solving->found->row_to_col += found->way == WAY_HIGH_TO_LOW && found->a == row;
        solving->found->col_to_row += found->way == WAY_HIGH_TO_LOW && found->b == row;
    }
}

struct found_half wiring_solve(const struct uvk_wiring *wiring, unsigned half)
{
    struct found_half found;
    struct solving solving = {wiring, &found, {NULL}, 0};

    memset(&found, 0, sizeof found);
    for (unsigned key = 0; key < wiring->board->key_count; key++) {
        const struct uvk_key_place *place = &wiring->board->keys[key];
        if (place->half == half && place->direct && wiring->keys[key].way == WAY_TO_GROUND) {
            found.direct[place->col] = wiring->keys[key].a;
        }
    }
    while (settle_some(&solving, half, true)) {
    }
    while (settle_some(&solving, half, false) || settle_by_file(&solving, half)) {
    }
    count_ways(&solving, half);
    return found;
}

const struct uvk_pin *wiring_pin(const struct found_half *found, const struct uvk_wire *wire)
{
    return wire->side == UVK_WIRE_ROW   ? found->rows[wire->index]
           : wire->side == UVK_WIRE_COL ? found->cols[wire->index]
                                        : found->direct[wire->index];
}

enum uvk_flow wiring_flow(const struct uvk_wiring *wiring, unsigned half,
                          const struct found_half *found)
{
    unsigned most = MAX(found->both, MAX(found->row_to_col, found->col_to_row));

    return most == 0                   ? wiring->board->halves[half].flow
           : most == found->both       ? UVK_NO_DIODES
           : most == found->row_to_col ? UVK_ROW_TO_COL
                                       : UVK_COL_TO_ROW;
}
