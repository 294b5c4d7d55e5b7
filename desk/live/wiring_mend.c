/* wiring_mend.c - the file of a board is made to say how it is wired. */
#include "wired.h"

#include "uvrek/edit.h"

#include <string.h>

/* What is to be replaced, and where from. */
struct mending {
    const struct uvk_wiring *wiring;
    struct uvk_edits *edits; /* NULL: they are only counted */
    const struct uvk_source *source;
    bool alike; /* what both halves share may be replaced */
    unsigned count;
    const char *why_not; /* NULL: it can be done */
};

/* The words at PLACE become TEXT. All of it has to stand in one file. */
static void replace(struct mending *mending, struct uvk_place place, const char *text)
{
    mending->count++;
    if (mending->source == NULL) {
        mending->source = place.source;
    }
    if (place.source == NULL || place.source != mending->source) {
        mending->why_not = "the wires are named in several files";
    } else if (mending->edits != NULL) {
        uvk_edits_replace(mending->edits, place.at, place.length, text);
    }
}

#define SHARED                                                                                 \
    "both halves share one `matrix`. If the other one is wired like this, say --alike; else "  \
    "write "                                                                                   \
    "a `matrix` for each"

/* One statement for both halves cannot say what is so in one of them only. */
static bool is_shared(const struct uvk_board *board, struct uvk_place place,
                      const struct uvk_wire *wire)
{
    struct uvk_wire twin = {1 - wire->half, wire->side, wire->index};
    struct uvk_place other;

    if (board->half_count < 2 ||
        wire->index >= uvk_wire_count(&board->halves[twin.half], wire->side)) {
        return false;
    }
    other = uvk_wire_place(board, &twin);
    return other.source == place.source && other.at == place.at;
}

/* The pin that WIRE has by the corrected file. */
static const struct uvk_pin *pin_after(const struct uvk_board *board,
                                       const struct found_half *found,
                                       const struct uvk_wire *wire)
{
    const struct uvk_pin *pin = wiring_pin(found, wire);

    return pin != NULL ? pin : uvk_wire_pin(board, wire);
}

/* Has another wire of that half the same pin then? It was not asked for. */
static bool is_named_twice(const struct uvk_board *board, const struct found_half *found,
                           const struct uvk_wire *wire)
{
    struct uvk_wire other = {wire->half, UVK_WIRE_ROW, 0};

    for (; other.side < UVK_WIRE_SIDES; other.side++) {
        unsigned count = uvk_wire_count(&board->halves[other.half], other.side);
        for (other.index = 0; other.index < count; other.index++) {
            if (!uvk_same_wire(&other, wire) &&
                pin_after(board, found, &other) == pin_after(board, found, wire)) {
                return true;
            }
        }
    }
    return false;
}

static void mend_wire(struct mending *mending, const struct found_half *found,
                      const struct uvk_wire *wire)
{
    const struct uvk_board *board = mending->wiring->board;
    const struct uvk_pin *pin = wiring_pin(found, wire);
    struct uvk_place place = uvk_wire_place(board, wire);

    if (pin == NULL || pin == uvk_wire_pin(board, wire)) {
        return;
    }
    if (is_named_twice(board, found, wire)) {
        mending->count++;
        mending->why_not = "a pin would be named twice; ask for the keys of that wire as well";
        return;
    }
    if (!mending->alike && is_shared(board, place, wire)) {
        mending->count++;
        mending->why_not = SHARED;
        return;
    }
    replace(mending, place, uvk_pin_label(board, pin));
}

static void mend_flow(struct mending *mending, unsigned number, const struct found_half *found)
{
    static const char *const texts[] = {
        [UVK_ROW_TO_COL] = "row->col", [UVK_COL_TO_ROW] = "col->row", [UVK_NO_DIODES] = "none"};
    const struct uvk_board *board = mending->wiring->board;
    const struct uvk_half *half = &board->halves[number];
    enum uvk_flow flow = wiring_flow(mending->wiring, number, found);

    if (flow == half->flow || half->flow_place.source == NULL) {
        return;
    }
    if (!mending->alike && board->half_count > 1 &&
        board->halves[1 - number].flow_place.at == half->flow_place.at &&
        board->halves[1 - number].flow_place.source == half->flow_place.source) {
        mending->count++;
        mending->why_not = SHARED;
        return;
    }
    replace(mending, half->flow_place, texts[flow]);
}

/* ---- all --------------------------------------------------------------------------------- */

static void mend_half(struct mending *mending, unsigned number)
{
    const struct found_half found = wiring_solve(mending->wiring, number);

    for (enum uvk_wire_side side = UVK_WIRE_ROW; side < UVK_WIRE_SIDES; side++) {
        unsigned count = uvk_wire_count(&mending->wiring->board->halves[number], side);
        for (unsigned i = 0; i < count; i++) {
            const struct uvk_wire wire = {number, side, i};
            mend_wire(mending, &found, &wire);
        }
    }
    mend_flow(mending, number, &found);
}

/* The two pins change places, or become others; `flipped` stays as it is. */
static void mend_knob(struct mending *mending, unsigned number)
{
    const struct uvk_board *board = mending->wiring->board;
    const struct uvk_knob *knob = &board->knobs[number];
    const struct found_knob *found = &mending->wiring->knobs[number];
    const struct uvk_pin *pins[2];

    if (!found->given || found->first == NULL) {
        return;
    }
    pins[knob->flipped] = found->first;
    pins[!knob->flipped] = found->second;
    for (unsigned i = 0; i < 2; i++) {
        if (pins[i] != knob->pins[i]) {
            replace(mending, knob->pin_places[i], uvk_pin_label(board, pins[i]));
        }
    }
}

static void mend_halves(struct mending *mending)
{
    const struct uvk_board *board = mending->wiring->board;
    const char *why_not = NULL;
    char *link = wiring_link_words(mending->wiring, &why_not);
    char *main_half = wiring_main_words(mending->wiring);

    if (link != NULL) {
        replace(mending, board->link.words, link);
    } else if (why_not != NULL) {
        mending->count++;
        mending->why_not = why_not;
    }
    if (main_half != NULL) {
        replace(mending, board->main_words, main_half);
    }
    g_free(link);
    g_free(main_half);
}

static void mend(struct mending *mending)
{
    const struct uvk_board *board = mending->wiring->board;

    mend_halves(mending);

    for (unsigned half = 0; half < board->half_count; half++) {
        if (wiring_has_half(mending->wiring, half)) {
            mend_half(mending, half);
        }
    }
    for (unsigned i = 0; i < board->knob_count; i++) {
        mend_knob(mending, i);
    }
}

bool uvk_wiring_differs(const struct uvk_wiring *wiring)
{
    struct mending mending = {.wiring = wiring};

    mend(&mending);
    return mending.count > 0;
}

char *uvk_wiring_mend(const struct uvk_wiring *wiring, bool alike, size_t *size,
                      const char **path, GError **error)
{
    struct mending mending = {.wiring = wiring, .alike = alike};
    char *text = NULL;

    mend(&mending); /* to find the file */
    if (mending.source != NULL && mending.why_not == NULL) {
        *path = mending.source->path;
        mending.edits = uvk_edits_new(mending.source);
        mend(&mending);
        text = uvk_edits_apply(mending.edits, size);
        uvk_edits_free(mending.edits);
    }
    if (text == NULL) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_WELL, "the file cannot be corrected: %s",
                    mending.why_not != NULL ? mending.why_not : "nothing of it is wrong");
    }
    return text;
}
