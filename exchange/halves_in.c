/* halves_in.c - the `keys` statements: the second half beside the first, or its mirror. */
#include "read.h"
#include "shape.h"

#include <math.h>
#include <string.h>

/* Of the keys of a half, from left to right. */
struct extent {
    double left, right;
};

static struct extent extent_of(const struct placed_board *placed, unsigned half,
                               unsigned combination)
{
    struct extent extent = {1e9, -1e9};

    for (guint i = 0; i < placed->keys->len; i++) {
        const struct placed_key *key = &g_array_index(placed->keys, struct placed_key, i);
        struct uvk_key_place place = {.x = key->x,
                                      .y = key->y,
                                      .width = key->width,
                                      .height = key->height,
                                      .turn = key->turn};
        struct uvk_point corners[4];
        uvk_key_corners(&place, corners);
        for (unsigned at = 0;
             key->half == half && key_is_there(placed, key, combination) && at < 4; at++) {
            extent.left = MIN(extent.left, corners[at].x);
            extent.right = MAX(extent.right, corners[at].x);
        }
    }
    return extent;
}

static const char *half_name(const struct placed_board *placed, unsigned half)
{
    return text_of(json_array_get(json_object_get(placed->json, "halves"), half), "name", "");
}

static const char *wire_of(const struct placed_key *key)
{
    return strchr(text_of(key->json, "address", "."), '.');
}

static const struct placed_key *key_of_half(const struct placed_board *placed, unsigned half,
                                            unsigned line, int step,
                                            const struct placed_key *from)
{
    guint count = placed->keys->len;
    guint at = from != NULL ? (guint)(from - &g_array_index(placed->keys, struct placed_key, 0))
                            : (step > 0 ? G_MAXUINT : count);

    for (at += (guint)step; at < count; at += (guint)step) {
        const struct placed_key *key = &g_array_index(placed->keys, struct placed_key, at);
        if (key->half == half && key->line == line) {
            return key;
        }
    }
    return NULL;
}

static bool mirrors(const struct placed_key *a, const struct placed_key *b, double sum)
{
    return !a->is_knob && !b->is_knob && strcmp(wire_of(a), wire_of(b)) == 0 &&
           fabs(a->x + a->width + b->x - sum) < SMALL && fabs(a->y - b->y) < SMALL &&
           fabs(a->width - b->width) < SMALL && fabs(a->height - b->height) < SMALL &&
           fabs(a->turn + b->turn) < SMALL &&
           memcmp(a->option, b->option, sizeof a->option) == 0 &&
           json_object_get(a->json, "knob") == NULL && json_object_get(b->json, "knob") == NULL;
}

/* Is the second half the first one seen in a mirror, each line backwards? */
static bool is_mirror(const struct placed_board *placed, struct extent first,
                      struct extent second)
{
    double sum = first.right + second.left;

    for (unsigned line = 0; line < MAX(placed->lines[0], placed->lines[1]); line++) {
        const struct placed_key *one = key_of_half(placed, 0, line, 1, NULL);
        const struct placed_key *two = key_of_half(placed, 1, line, -1, NULL);
        while (one != NULL && two != NULL && mirrors(one, two, sum)) {
            one = key_of_half(placed, 0, line, 1, one);
            two = key_of_half(placed, 1, line, -1, two);
        }
        if (one != NULL || two != NULL) {
            return false;
        }
    }
    return true;
}

/* The left edge of the second half where KEY is there; the same with all choices with which it
 * is. False: it is not the same. */
static bool left_edge_for(const struct placed_board *placed, const struct placed_key *key,
                          double *left)
{
    bool known = false;

    for (unsigned c = 0; c < placed->all.count; c++) {
        double now = extent_of(placed, 1, c).left;
        if (!key_is_there(placed, key, c)) {
            continue;
        }
        if (known && fabs(now - *left) > SMALL) {
            return false;
        }
        *left = now;
        known = true;
    }
    return known;
}

/* The second half is written from 0 on, and the gap says where that is: where the inner edges
 * move with the layout choices, all of it moves with them. */
static bool move_to_zero(struct text_out *out, struct placed_board *placed)
{
    double *lefts = g_new0(double, placed->keys->len + 1);
    bool good = true;

    for (guint i = 0; i < placed->keys->len && good; i++) {
        const struct placed_key *key = &g_array_index(placed->keys, struct placed_key, i);
        good = key->half != 1 || left_edge_for(placed, key, &lefts[i]);
        if (!good) {
            add_problem(out->problems, key->pointer,
                        "the left edge of its half moves with the layout choices, and this key "
                        "does not");
        }
    }
    for (guint i = 0; i < placed->keys->len && good; i++) {
        struct placed_key *key = &g_array_index(placed->keys, struct placed_key, i);
        double angle = key->turn * G_PI / 180;
        if (key->half == 1) {
            key->along -= lefts[i] * cos(angle);
            key->below += lefts[i] * sin(angle);
        }
    }
    g_free(lefts);
    return good;
}

/* From one half to the other it is as far with all layout choices. */
static bool same_gap_with_all_choices(struct text_out *out, const struct placed_board *placed)
{
    double gap = extent_of(placed, 1, 0).left - extent_of(placed, 0, 0).right;

    for (unsigned c = 1; c < placed->all.count; c++) {
        double now = extent_of(placed, 1, c).left - extent_of(placed, 0, c).right;
        if (fabs(now - gap) > SMALL) {
            add_problem(out->problems, "/board/keys",
                        "the gap between the halves changes with the layout choices: such a "
                        "board cannot be written as text");
            return false;
        }
    }
    return true;
}

void put_keys(struct text_out *out, struct placed_board *placed)
{
    struct extent first = extent_of(placed, 0, placed->chosen);
    struct extent second;

    if (placed->halves == 1) {
        out_put(out, "  keys ");
        put_lines_of_half(out, placed, 0);
        return;
    }
    if (!same_gap_with_all_choices(out, placed)) {
        return;
    }
    second = extent_of(placed, 1, placed->chosen);
    out_put(out, "  keys %s ", half_name(placed, 0));
    put_lines_of_half(out, placed, 0);
    if (is_mirror(placed, first, second) && second.left - first.right > -SMALL) {
        out_put(out, "  keys %s mirror %s gap ", half_name(placed, 1), half_name(placed, 0));
        out_number(out, second.left - first.right);
        out_put(out, "\n");
        return;
    }
    if (!move_to_zero(out, placed)) {
        return;
    }
    out_put(out, "  keys %s gap ", half_name(placed, 1));
    out_number(out, second.left - first.right);
    out_put(out, " ");
    put_lines_of_half(out, placed, 1);
}
