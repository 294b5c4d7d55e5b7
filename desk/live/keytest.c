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
    test->strays = g_array_new(FALSE, TRUE, sizeof(struct stray));
    uvk_keytest_reset(test);
    return test;
}

void uvk_keytest_free(struct uvk_keytest *test)
{
    if (test != NULL) {
        g_array_unref(test->strays);
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
        return -1;
    }
    line = &test->plan.lines[event->key];
    half = &test->board->halves[line->half];
    rows = uvk_rows_are_lines(half);
    if (line->select == NULL || event->sense >= (rows ? half->col_count : half->row_count)) {
        return -1;
    }
    find_stray(test, line->half, line->select,
               rows ? half->cols[event->sense] : half->rows[event->sense]);
    return -1;
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

/* The contact of a knob, as a probe sees it, is no step. */
static bool is_knob_pin(const struct uvk_keytest *test, const struct uvk_pin *pin)
{
    for (unsigned i = 0; i < test->board->knob_count; i++) {
        const struct uvk_knob *knob = &test->board->knobs[i];
        if (knob->pins[0] == pin || knob->pins[1] == pin) {
            return true;
        }
    }
    return false;
}

/* Two pins, by a probe, which counts all pins of the chip; behind them is ground. */
static int take_pins(struct uvk_keytest *test, const struct uvk_live_event *event)
{
    const struct uvk_chip *chip = test->board->chip;
    const struct uvk_pin *low = event->key < chip->pin_count ? &chip->pins[event->key] : NULL;
    const struct uvk_pin *high = &chip->pins[event->sense];

    if (event->key > chip->pin_count || event->sense >= chip->pin_count) {
        return -1;
    }
    for (unsigned key = 0; key < test->board->key_count; key++) {
        if (uvk_keytest_has(test, key) && conducts(test->board, key, low, high)) {
            return (int)key;
        }
    }
    if (event->on && !(low == NULL && is_knob_pin(test, high))) {
        find_stray(test, test->half, high, low);
    }
    return -1;
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

int uvk_keytest_take(struct uvk_keytest *test, const struct uvk_live_event *event, uint64_t ms)
{
    int cell = event->kind == UVK_EVENT_CONTACT && !test->probe ? event->key
               : event->kind != UVK_EVENT_SWITCH                ? -1
               : test->probe                                    ? take_pins(test, event)
                                                                : take_spare(test, event);

    if (cell < 0 || (unsigned)cell >= test->cells) {
        return -1;
    }
    if ((unsigned)cell >= test->board->key_count) {
        turn(&test->seen[cell], event, ms);
    } else if (event->on && !test->seen[cell].down) {
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
    if (!test->probe) {
        return true;
    }
    return cell < test->board->key_count &&
           (uvk_one_controller(test->board) || test->board->keys[cell].half == test->half);
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
