/* keytest.c - what has come of each key. */
#include "trying.h"

#include <string.h>

/* Two keys that come so soon after one another are one press; a probe looks each 4 ms. */
#define TOGETHER_MS       2u
#define PROBE_TOGETHER_MS 6u

struct uvk_keytest *uvk_keytest_new(const struct uvk_board *board, unsigned debounce,
                                    bool probe, unsigned half)
{
    struct uvk_keytest *test = g_new0(struct uvk_keytest, 1);

    test->board = board;
    test->plan = uvk_board_scan(board);
    test->probe = probe;
    test->half = half;
    test->debounce = debounce;
    test->cells = uvk_board_cells(board);
    test->seen = g_new0(struct uvk_key_seen, test->cells);
    test->doubts = g_new0(struct doubt, test->cells);
    test->turnings = g_new0(struct turning, board->knob_count);
    test->strays = g_array_new(FALSE, TRUE, sizeof(struct stray));
    uvk_keytest_reset(test);
    return test;
}

void uvk_keytest_free(struct uvk_keytest *test)
{
    if (test != NULL) {
        g_array_unref(test->strays);
        g_free(test->turnings);
        g_free(test->seen);
        g_free(test->doubts);
        g_free(test);
    }
}

void uvk_keytest_reset(struct uvk_keytest *test)
{
    for (unsigned i = 0; i < test->cells; i++) {
        bool down = test->seen[i].down;
        bool from_start = test->seen[i].from_start;
        uint64_t since = test->seen[i].since;
        test->seen[i] = (struct uvk_key_seen){
            .down = down, .from_start = from_start, .since = since, .with = -1};
        test->doubts[i].counted = false;
    }
    for (unsigned i = 0; i < test->board->knob_count; i++) {
        test->turnings[i].missed = 0;
    }
    g_array_set_size(test->strays, 0);
}

/* ---- which key an event is about --------------------------------------------------------- */

static void find_stray(struct uvk_keytest *test, unsigned half, const struct uvk_pin *a,
                       const struct uvk_pin *b)
{
    struct stray stray = {a, b, half, 1};

    for (guint i = 0; i < test->strays->len; i++) {
        struct stray *old = &g_array_index(test->strays, struct stray, i);
        if (old->half == half && old->a == a && old->b == b) {
            old->count++;
            return;
        }
    }
    g_array_append_val(test->strays, stray);
}

/* A place of the matrix, by the keyboard's own firmware, where the file has no key. */
static int take_spare(struct uvk_keytest *test, const struct uvk_live_event *event)
{
    const struct uvk_scan_line *line;
    const struct uvk_half *half;
    bool rows;

    if (event->key >= test->plan.line_count || !event->on) {
        return UVK_TAKEN_NOTHING;
    }
    line = &test->plan.lines[event->key];
    half = &test->board->halves[line->half];
    rows = uvk_rows_are_lines(half);
    if (line->select == NULL || event->sense >= (rows ? half->col_count : half->row_count)) {
        return UVK_TAKEN_NOTHING;
    }
    find_stray(test, line->half, line->select,
               rows ? half->cols[event->sense] : half->rows[event->sense]);
    return UVK_TAKEN_STRAY;
}

/* Does KEY conduct when LOW is low, and pull HIGH low? LOW is NULL for ground. */
static bool conducts(const struct uvk_board *board, unsigned key, const struct uvk_pin *low,
                     const struct uvk_pin *high)
{
    const struct uvk_key_place *place = &board->keys[key];
    const struct uvk_half *half = &board->halves[place->half];
    const struct uvk_pin *row;
    const struct uvk_pin *col;

    if (place->direct) {
        return low == NULL && half->direct[place->col] == high;
    }
    row = half->rows[place->row];
    col = half->cols[place->col];
    return (half->flow != UVK_COL_TO_ROW && row == high && col == low) ||
           (half->flow != UVK_ROW_TO_COL && col == high && row == low);
}

/* Is PIN a contact of a knob of the half that the probe is in? *KNOB, *CONTACT. */
static bool find_contact(const struct uvk_keytest *test, const struct uvk_pin *pin,
                         unsigned *knob, unsigned *contact)
{
    const struct uvk_board *board = test->board;

    for (*knob = 0; *knob < board->knob_count; (*knob)++) {
        const struct uvk_knob *one = &board->knobs[*knob];
        if (!uvk_keytest_has(test, board->key_count + 2 * *knob)) {
            continue;
        }
        for (*contact = 0; *contact < 2; (*contact)++) {
            if (one->pins[*contact ^ one->flipped] == pin) {
                return true;
            }
        }
    }
    return false;
}

/* Two pins, by a probe, which counts all pins of the chip; behind them is ground. */
static int take_pins(struct uvk_keytest *test, const struct uvk_live_event *event, uint64_t ms)
{
    const struct uvk_chip *chip = test->board->chip;
    const struct uvk_pin *low = event->key < chip->pin_count ? &chip->pins[event->key] : NULL;
    const struct uvk_pin *high = &chip->pins[event->sense];
    unsigned knob;
    unsigned contact;

    if (event->key > chip->pin_count || event->sense >= chip->pin_count) {
        return UVK_TAKEN_NOTHING;
    }
    for (unsigned key = 0; key < test->board->key_count; key++) {
        if (uvk_keytest_has(test, key) && conducts(test->board, key, low, high)) {
            return (int)key;
        }
    }
    if (low == NULL && find_contact(test, high, &knob, &contact)) {
        return keytest_turn(test, knob, contact, event, ms);
    }
    if (!event->on) {
        return UVK_TAKEN_NOTHING;
    }
    find_stray(test, test->half, high, low);
    return UVK_TAKEN_STRAY;
}

/* ---- what it says of that key ------------------------------------------------------------ */

/* Two keys that are joined come again when the other one is pressed: that is no chatter. */
static void pair_with(struct uvk_keytest *test, unsigned cell, unsigned other)
{
    struct uvk_key_seen *seen = &test->seen[cell];
    struct doubt *doubt = &test->doubts[cell];

    if (doubt->counted) {
        seen->chatters--;
        seen->open_most = doubt->open_before;
        doubt->counted = false;
    }
    if (seen->with < 0) {
        seen->with = (int)other;
    }
    seen->together += seen->with == (int)other;
}

/* Which other key went down at the same moment? */
static void find_company(struct uvk_keytest *test, unsigned cell, uint64_t ms)
{
    unsigned limit = test->probe ? PROBE_TOGETHER_MS : TOGETHER_MS;

    for (unsigned i = 0; i < test->board->key_count; i++) {
        const struct uvk_key_seen *other = &test->seen[i];
        if (i != cell && other->down && !other->from_start && other->presses > 0 &&
            ms - other->since < limit) {
            pair_with(test, cell, i);
            pair_with(test, i, cell);
        }
    }
}

static void press(struct uvk_keytest *test, unsigned cell, bool before, uint64_t ms)
{
    struct uvk_key_seen *seen = &test->seen[cell];
    uint64_t open = ms - seen->since;

    if (before) {
        seen->down = true;
        seen->from_start = true;
        seen->since = ms;
        return;
    }
    test->doubts[cell] = (struct doubt){false, seen->open_most};
    if (seen->presses > 0 && open < UVK_CHATTER_MS) {
        test->doubts[cell].counted = true;
        seen->chatters++;
        seen->open_most = MAX(seen->open_most, (unsigned)open + test->debounce);
    }
    seen->down = true;
    seen->since = ms;
    seen->presses++;
    find_company(test, cell, ms);
}

/* A finger that was there when the test began was no press of it; now it is one. */
static void release(struct uvk_key_seen *seen, uint64_t ms)
{
    seen->presses += seen->from_start;
    seen->from_start = false;
    seen->down = false;
    seen->since = ms;
}

static void turn(struct uvk_key_seen *seen, const struct uvk_live_event *event, uint64_t ms)
{
    seen->presses++;
    seen->missed += event->missed;
    seen->since = ms;
}

/* The keyboard's own firmware tells of a key, or of a turn of a knob. */
static int take_contact(struct uvk_keytest *test, const struct uvk_live_event *event,
                        uint64_t ms)
{
    if (event->key >= test->cells) {
        return UVK_TAKEN_NOTHING;
    }
    if (event->key >= test->board->key_count) {
        turn(&test->seen[event->key], event, ms);
    }
    return event->key;
}

int uvk_keytest_take(struct uvk_keytest *test, const struct uvk_live_event *event, uint64_t ms)
{
    int cell = event->kind == UVK_EVENT_CONTACT && !test->probe ? take_contact(test, event, ms)
               : event->kind != UVK_EVENT_SWITCH                ? UVK_TAKEN_NOTHING
               : test->probe                                    ? take_pins(test, event, ms)
                                                                : take_spare(test, event);

    if (cell < 0 || (unsigned)cell >= test->board->key_count) {
        return cell;
    }
    if (event->on && !test->seen[cell].down) {
        press(test, (unsigned)cell, event->before, ms);
    } else if (!event->on) {
        release(&test->seen[cell], ms);
    }
    return cell;
}

/* ---- questions --------------------------------------------------------------------------- */

const struct uvk_key_seen *uvk_keytest_seen(const struct uvk_keytest *test, unsigned cell)
{
    return &test->seen[cell];
}

bool uvk_keytest_has(const struct uvk_keytest *test, unsigned cell)
{
    const struct uvk_board *board = test->board;

    if (!test->probe || uvk_one_controller(board)) {
        return cell < test->cells;
    }
    return cell < test->cells &&
           (cell < board->key_count
                ? board->keys[cell].half
                : board->knobs[(cell - board->key_count) / 2].half) == test->half;
}

unsigned uvk_keytest_missing(const struct uvk_keytest *test)
{
    unsigned count = 0;

    for (unsigned i = 0; i < test->cells; i++) {
        count += uvk_keytest_has(test, i) && test->seen[i].presses == 0;
    }
    return count;
}

bool uvk_keytest_is_down(const struct uvk_keytest *test)
{
    for (unsigned i = 0; i < test->board->key_count; i++) {
        if (test->seen[i].down && !test->seen[i].from_start) {
            return true;
        }
    }
    return false;
}
