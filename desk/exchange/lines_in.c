/* lines_in.c - from places to lines of cells: where the pen must stand, be turned and be
 * lifted so that every key comes to lie where the JSON has it. */
#include "gaps.h"
#include "read.h"
#include "shape.h"

#include <math.h>
#include <string.h>

/* What the lines above have left behind. */
struct pen {
    double x, y;
    bool turned;
    double stagger[UVK_SIDE_MAX];
    unsigned staggered; /* columns */
};

/* One line while it is written. The text is read with one combination of choices: the pen
 * may stand in another place with each. */
struct line {
    const struct placed_board *placed;
    GPtrArray *keys; /* of struct placed_key * */
    double start, top;
    double stagger[UVK_SIDE_MAX];
    unsigned staggered;
    double pens[COMBINATIONS_MAX];
};

static const struct placed_key *line_key(const struct line *line, guint index)
{
    return g_ptr_array_index(line->keys, index);
}

/* ---- which keys -------------------------------------------------------------------------- */

static const struct placed_spot *usual_spot(const struct placed_key *key)
{
    return &key->spots[key->usual];
}

/* Keys in their own order, knobs where there is room for them. */
static void collect(struct line *line, unsigned half, unsigned number)
{
    for (guint i = 0; i < line->placed->keys->len; i++) {
        struct placed_key *key = &g_array_index(line->placed->keys, struct placed_key, i);
        guint at = line->keys->len;
        if (key->half != half || key->line != number) {
            continue;
        }
        while (key->is_knob && at > 0 &&
               usual_spot(line_key(line, at - 1))->along > key->spots->along) {
            at--;
        }
        g_ptr_array_insert(line->keys, (gint)at, key);
    }
    line->start = 1e9;
    line->top = 1e9;
    for (guint i = 0; i < line->keys->len; i++) {
        const struct placed_key *key = line_key(line, i);
        for (unsigned c = 0; c < line->placed->all.count; c++) {
            if (key_is_there(line->placed, key, c)) {
                line->start = MIN(line->start, key->spots[c].along);
                line->top = MIN(line->top, key->spots[c].below);
            }
        }
    }
}

static bool same_turn(struct text_out *out, const struct line *line)
{
    for (guint i = 1; i < line->keys->len; i++) {
        if (fabs(line_key(line, i)->turn - line_key(line, 0)->turn) > SMALL) {
            add_problem(out->problems, line_key(line, i)->pointer,
                        "the keys of a line have one turn; this one has another");
            return false;
        }
    }
    return true;
}

/* How much lower each column is. Columns are counted as they are there. */
static bool find_stagger(struct text_out *out, struct line *line)
{
    unsigned columns[COMBINATIONS_MAX] = {0};
    bool known[UVK_SIDE_MAX] = {false};

    for (guint i = 0; i < line->keys->len; i++) {
        const struct placed_key *key = line_key(line, i);
        for (unsigned c = 0; !key->is_knob && c < line->placed->all.count; c++) {
            double lower = key->spots[c].below - line->top;
            unsigned column = columns[c];
            if (!key_is_there(line->placed, key, c)) {
                continue;
            }
            columns[c]++;
            if (column >= UVK_SIDE_MAX
                    ? lower > SMALL
                    : known[column] && fabs(line->stagger[column] - lower) > SMALL) {
                add_problem(
                    out->problems, key->pointer,
                    "it lies lower than its line, and not so, or in another column, with "
                    "other layout choices: give it a line of its own");
                return false;
            }
            if (column < UVK_SIDE_MAX) {
                known[column] = true;
                line->stagger[column] = lower;
                line->staggered =
                    lower > SMALL ? MAX(line->staggered, column + 1) : line->staggered;
            }
        }
    }
    return true;
}

/* ---- moves of the pen ------------------------------------------------------------------- */

static void put_stagger(struct text_out *out, const struct line *line, struct pen *pen)
{
    bool same = pen->staggered == line->staggered;

    for (unsigned i = 0; same && i < line->staggered; i++) {
        same = fabs(pen->stagger[i] - line->stagger[i]) < SMALL;
    }
    if (same) {
        return;
    }
    out_put(out, "    stagger");
    for (unsigned i = 0; i < line->staggered; i++) {
        out_put(out, " ");
        out_number(out, line->stagger[i]);
        pen->stagger[i] = line->stagger[i];
    }
    out_put(out, "\n");
    pen->staggered = line->staggered;
}

static void move_pen(struct text_out *out, const struct line *line, struct pen *pen)
{
    double turn = line_key(line, 0)->turn;
    double angle = turn * G_PI / 180;
    double x = line->start * cos(angle) - line->top * sin(angle);
    double y = line->start * sin(angle) + line->top * cos(angle);

    put_stagger(out, line, pen);
    if (pen->turned) {
        out_put(out, "    turn 0\n");
        pen->turned = false;
    }
    if (turn != 0 || fabs(pen->x - x) > SMALL || fabs(pen->y - y) > SMALL) {
        out_put(out, "    at ");
        out_number(out, x);
        out_put(out, " ");
        out_number(out, y);
        out_put(out, "\n");
        pen->y = y;
    }
    if (turn != 0) {
        out_put(out, "    turn ");
        out_number(out, turn);
        out_put(out, "\n");
        pen->turned = true;
    }
    pen->x = 0;
    pen->y += 1;
}

/* ---- cells ------------------------------------------------------------------------------ */

/* False: the key would lie over the one before it. */
static bool measure_gaps(const struct line *line, const struct placed_key *key,
                         struct spot *gaps)
{
    for (unsigned c = 0; c < line->placed->all.count; c++) {
        gaps[c] = (struct spot){key->spots[c].along - line->start - line->pens[c], 0,
                                key_is_there(line->placed, key, c)};
        if (gaps[c].there && gaps[c].x < -SMALL) {
            return false;
        }
    }
    return true;
}

static void put_place(struct text_out *out, const struct placed_key *key)
{
    guint span = span_begin(out, g_strdup(key->pointer));

    if (key->is_knob) {
        out_put(out, "=%s", text_of(key->json, "name", ""));
    } else {
        const char *address = text_of(key->json, "address", "");
        const char *dot = strchr(address, '.');
        out_put(out, "%s", dot != NULL ? dot + 1 : address);
        if (key->width != 1 || key->height != 1) {
            out_put(out, "*");
            out_number(out, key->width);
        }
        if (key->height != 1) {
            out_put(out, "x");
            out_number(out, key->height);
        }
        if (json_object_get(key->json, "knob") != NULL) {
            out_put(out, "=%s", text_of(key->json, "knob", ""));
        }
    }
    span_end(out, span);
}

static void put_key(struct text_out *out, struct line *line, const struct placed_key *key,
                    const struct spot *measured)
{
    struct gaps gaps;
    unsigned groups = 0;

    find_gaps(&line->placed->all, key, measured, &gaps);
    out_put(out, " ");
    for (unsigned i = 0; i < line->placed->all.choices; i++) {
        if (key->option[i] >= 0) {
            put_choice(out, line->placed, i, (unsigned)key->option[i]);
            groups++;
        }
    }
    put_gaps(out, line->placed, key, &gaps);
    g_array_free(gaps.together, TRUE);
    put_place(out, key);
    while (groups-- > 0) {
        out_put(out, ")");
    }
}

static bool put_placed(struct text_out *out, struct line *line, const struct placed_key *key)
{
    struct spot *measured = g_new(struct spot, line->placed->all.count);
    bool good = measure_gaps(line, key, measured);

    if (good) {
        put_key(out, line, key, measured);
    } else {
        add_problem(out->problems, key->pointer,
                    "it stands left of the end of the key before it in its line");
    }
    g_free(measured);
    for (unsigned c = 0; good && c < line->placed->all.count; c++) {
        if (key_is_there(line->placed, key, c)) {
            line->pens[c] = key->spots[c].along - line->start + key->width;
        }
    }
    return good;
}

/* ---- hands ------------------------------------------------------------------------------- */

/* 0: the first hand, 1: either, 2: the second: the order in which they stand in a line. */
static unsigned hand_of(const struct placed_key *key)
{
    const char *hand = text_of(key->json, "hand", "");

    return strcmp(hand, "first") == 0 ? 0 : strcmp(hand, "second") == 0 ? 2 : 1;
}

/* How many keys are for each hand. False: a hand comes back behind another. */
static bool count_hands(struct text_out *out, const struct line *line, unsigned counts[3])
{
    unsigned last = 0;

    for (guint i = 0; i < line->keys->len; i++) {
        unsigned hand = hand_of(line_key(line, i));
        if (hand < last) {
            add_problem(out->problems, line_key(line, i)->pointer,
                        "in a line come the keys of the first hand, those of either, those of "
                        "the second");
            return false;
        }
        last = hand;
        counts[hand]++;
    }
    return true;
}

/* The keys with `|` where the hands part. */
static void put_placed_keys(struct text_out *out, struct line *line)
{
    unsigned counts[3] = {0};
    unsigned bars = 0;
    bool parted;

    if (!count_hands(out, line, counts)) {
        return;
    }
    parted = counts[0] + counts[2] > 0;
    for (guint i = 0; i <= line->keys->len; i++) {
        unsigned hand = i < line->keys->len ? hand_of(line_key(line, i)) : 2;
        unsigned wanted = !parted ? 0 : counts[1] > 0 ? hand : hand / 2;
        for (; bars < wanted; bars++) {
            out_put(out, " |");
        }
        if (i == line->keys->len || !put_placed(out, line, line_key(line, i))) {
            break;
        }
    }
}

static void put_line(struct text_out *out, const struct placed_board *placed, unsigned half,
                     unsigned number, struct pen *pen)
{
    struct line line = {.placed = placed, .keys = g_ptr_array_new()};

    collect(&line, half, number);
    if (line.keys->len == 0) { /* the lines behind it keep their numbers */
        out_put(out, "    +1\n");
        pen->x = 0;
        pen->y += 1;
    } else if (same_turn(out, &line) && find_stagger(out, &line)) {
        move_pen(out, &line, pen);
        out_put(out, "   ");
        put_placed_keys(out, &line);
        out_put(out, "\n");
    }
    g_ptr_array_free(line.keys, TRUE);
}

void put_lines_of_half(struct text_out *out, const struct placed_board *placed, unsigned half)
{
    struct pen pen = {.x = 0};

    out_put(out, "{\n");
    for (unsigned line = 0; line < placed->lines[half]; line++) {
        put_line(out, placed, half, line, &pen);
    }
    out_put(out, "  }\n");
}
