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
        struct uvk_key_place place = {.x = key->spots[combination].x,
                                      .y = key->spots[combination].y,
                                      .width = key->width,
                                      .height = key->height,
                                      .turn = key->turn};
        struct uvk_point corners[4];
        if (key->half != half || !key_is_there(placed, key, combination)) {
            continue;
        }
        uvk_key_corners(&place, corners);
        for (unsigned at = 0; at < 4; at++) {
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

/* How the two halves lie with each combination, of struct extent, one after the other. */
static struct extent *all_extents(const struct placed_board *placed)
{
    struct extent *extents = g_new(struct extent, 2 * (size_t)placed->all.count);

    for (unsigned c = 0; c < placed->all.count; c++) {
        extents[2 * c] = extent_of(placed, 0, c);
        extents[2 * c + 1] = extent_of(placed, 1, c);
    }
    return extents;
}

static bool mirrors(const struct placed_board *placed, const struct extent *extents,
                    const struct placed_key *a, const struct placed_key *b)
{
    bool good = !a->is_knob && !b->is_knob && strcmp(wire_of(a), wire_of(b)) == 0 &&
                fabs(a->width - b->width) < SMALL && fabs(a->height - b->height) < SMALL &&
                fabs(a->turn + b->turn) < SMALL &&
                memcmp(a->option, b->option, sizeof a->option) == 0 &&
                json_object_get(a->json, "knob") == NULL &&
                json_object_get(b->json, "knob") == NULL;

    for (unsigned c = 0; good && c < placed->all.count; c++) {
        double sum = extents[2 * c].right + extents[2 * c + 1].left;
        good = !key_is_there(placed, a, c) ||
               (fabs(a->spots[c].x + a->width + b->spots[c].x - sum) < SMALL &&
                fabs(a->spots[c].y - b->spots[c].y) < SMALL);
    }
    return good;
}

/* Is the second half the first one seen in a mirror, each line backwards? */
static bool is_mirror(const struct placed_board *placed, const struct extent *extents)
{
    for (unsigned line = 0; line < MAX(placed->lines[0], placed->lines[1]); line++) {
        const struct placed_key *one = key_of_half(placed, 0, line, 1, NULL);
        const struct placed_key *two = key_of_half(placed, 1, line, -1, NULL);
        while (one != NULL && two != NULL && mirrors(placed, extents, one, two)) {
            one = key_of_half(placed, 0, line, 1, one);
            two = key_of_half(placed, 1, line, -1, two);
        }
        if (one != NULL || two != NULL) {
            return false;
        }
    }
    return true;
}

/* The second half is written from 0 on, and the gap says where that is: where the inner edges
 * move with the layout choices, all of it moves with them. */
static void move_to_zero(struct placed_board *placed, const struct extent *extents)
{
    for (guint i = 0; i < placed->keys->len; i++) {
        const struct placed_key *key = &g_array_index(placed->keys, struct placed_key, i);
        double angle = key->turn * G_PI / 180;
        for (unsigned c = 0; key->half == 1 && c < placed->all.count; c++) {
            key->spots[c].along -= extents[2 * c + 1].left * cos(angle);
            key->spots[c].below += extents[2 * c + 1].left * sin(angle);
        }
    }
}

/* From one half to the other it is as far with all layout choices. */
static bool same_gap_with_all_choices(struct text_out *out, const struct placed_board *placed,
                                      const struct extent *extents)
{
    double gap = extents[1].left - extents[0].right;

    for (unsigned c = 1; c < placed->all.count; c++) {
        if (fabs(extents[2 * c + 1].left - extents[2 * c].right - gap) > SMALL) {
            add_problem(out->problems, "/board/keys",
                        "the gap between the halves changes with the layout choices: such a "
                        "board cannot be written as text");
            return false;
        }
    }
    return true;
}

static void put_both_halves(struct text_out *out, struct placed_board *placed,
                            const struct extent *extents)
{
    double gap = extents[1].left - extents[0].right;

    out_put(out, "  keys %s ", half_name(placed, 0));
    put_lines_of_half(out, placed, 0);
    if (is_mirror(placed, extents) && gap > -SMALL) {
        out_put(out, "  keys %s mirror %s gap ", half_name(placed, 1), half_name(placed, 0));
        out_number(out, gap);
        out_put(out, "\n");
        return;
    }
    move_to_zero(placed, extents);
    out_put(out, "  keys %s gap ", half_name(placed, 1));
    out_number(out, gap);
    out_put(out, " ");
    put_lines_of_half(out, placed, 1);
}

void put_keys(struct text_out *out, struct placed_board *placed)
{
    struct extent *extents;

    if (placed->halves == 1) {
        out_put(out, "  keys ");
        put_lines_of_half(out, placed, 0);
        return;
    }
    extents = all_extents(placed);
    if (same_gap_with_all_choices(out, placed, extents)) {
        put_both_halves(out, placed, extents);
    }
    g_free(extents);
}
