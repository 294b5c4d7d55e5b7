/* found.c - every key of a board, and where it is in each combination of its choices. */
#include "found.h"

#include "uvrek/problem.h"

#include <string.h>

static const char *knob_at(const struct uvk_board *board, unsigned key)
{
    for (unsigned i = 0; i < board->knob_count; i++) {
        if (board->knobs[i].push == (int)key) {
            return board->knobs[i].name;
        }
    }
    return NULL;
}

/* The same cell of the text gives the same key; a mirror gives it to the other half too. */
static bool is_the_same(const struct found_key *a, const struct found_key *b)
{
    return a->key.place.at == b->key.place.at && a->key.half == b->key.half &&
           a->address == b->address && a->knob == b->knob && a->key.line == b->key.line &&
           a->key.hand == b->key.hand && is_near(a->key.turn, b->key.turn);
}

/* Key INDEX of a board. Texts are interned: the same ones have the same place. */
static struct found_key found_in(const struct uvk_board *board, unsigned index)
{
    char *address = uvk_cell_place(board, index);
    struct found_key found = {.key = board->keys[index],
                              .address = g_intern_string(address),
                              .knob = g_intern_string(knob_at(board, index))};

    if (board->half_count > 1) {
        found.key.hand = UVK_EITHER_HAND; /* the halves say it */
    }
    g_free(address);
    return found;
}

static void note_keys(GArray *all, const struct uvk_board *board,
                      const struct combinations *combinations, unsigned combination)
{
    for (unsigned i = 0; i < board->key_count; i++) {
        struct found_key found = found_in(board, i);
        guint at = 0;
        while (at < all->len &&
               !is_the_same(&g_array_index(all, struct found_key, at), &found)) {
            at++;
        }
        if (at == all->len) {
            g_array_append_val(all, found);
            g_array_index(all, struct found_key, at).spots =
                g_new0(struct spot, combinations->count);
        }
        g_array_index(all, struct found_key, at).spots[combination] =
            (struct spot){board->keys[i].x, board->keys[i].y, true};
    }
}

/* ---- the order of the eye -------------------------------------------------------------- */

static double along(const struct found_key *found, unsigned combination)
{
    const struct spot *spot = &found->spots[combination];
    double angle = found->key.turn * G_PI / 180;

    return (spot->x + found->key.width / 2) * cos(angle) +
           (spot->y + found->key.height / 2) * sin(angle) - found->key.width / 2;
}

/* -1, 1: where both are, A is to the left or to the right of B; 0: they are never together. */
static int side_of(const struct combinations *all, const struct found_key *a,
                   const struct found_key *b)
{
    for (unsigned i = 0; i < all->count; i++) {
        if (a->spots[i].there && b->spots[i].there) {
            return along(a, i) < along(b, i) ? -1 : 1;
        }
    }
    return 0;
}

static bool same_line(const struct found_key *a, const struct found_key *b)
{
    return a->key.line == b->key.line && a->key.half == b->key.half;
}

static gint in_order_of_lines(gconstpointer a, gconstpointer b)
{
    const struct found_key *left = a;
    const struct found_key *right = b;

    if (left->key.line != right->key.line) {
        return left->key.line < right->key.line ? -1 : 1;
    }
    if (left->key.half != right->key.half) {
        return left->key.half < right->key.half ? -1 : 1;
    }
    return (left->key.place.at > right->key.place.at) -
           (left->key.place.at < right->key.place.at);
}

/* A mirrored half has its lines' text from right to left. */
static bool is_backwards(const struct combinations *all, const GArray *keys, guint first,
                         guint behind)
{
    for (guint i = first + 1; i < behind; i++) {
        int side = side_of(all, &g_array_index(keys, struct found_key, first),
                           &g_array_index(keys, struct found_key, i));
        if (side != 0) {
            return side > 0;
        }
    }
    return false;
}

/* The next key of a line goes in front of the first one there that is to its right. */
static void put_in_line(const struct combinations *all, GArray *ordered, guint first,
                        struct found_key found)
{
    guint at = first;

    while (at < ordered->len &&
           side_of(all, &found, &g_array_index(ordered, struct found_key, at)) >= 0) {
        at++;
    }
    g_array_insert_val(ordered, at, found);
}

/* Line after line, half after half, from left to right. */
static GArray *in_order_of_the_eye(const struct combinations *all, GArray *keys)
{
    GArray *ordered = g_array_new(FALSE, TRUE, sizeof(struct found_key));

    g_array_sort(keys, in_order_of_lines);
    for (guint first = 0, behind; first < keys->len; first = behind) {
        const struct found_key *start = &g_array_index(keys, struct found_key, first);
        bool backwards;
        for (behind = first;
             behind < keys->len &&
             same_line(start, &g_array_index(keys, struct found_key, behind));) {
            behind++;
        }
        backwards = is_backwards(all, keys, first, behind);
        for (guint i = first; i < behind; i++) {
            put_in_line(all, ordered, first,
                        g_array_index(keys, struct found_key,
                                      backwards ? behind - 1 - (i - first) : i));
        }
    }
    return ordered;
}

/* The keys of one combination, which may be that of the program itself. */
static bool note_combination(GArray *keys, const struct uvk_program *program,
                             const struct combinations *all, unsigned combination,
                             GError **error)
{
    unsigned options[UVK_CHOICES_MAX];
    struct uvk_program *chosen;
    bool good;

    for (unsigned i = 0; i < all->choices; i++) {
        options[i] = combination_option(all, combination, i);
    }
    chosen = uvk_program_choosing(program, options);
    good = chosen->messages.errors == 0 && chosen->board != NULL;
    if (good) {
        note_keys(keys, chosen->board, all, combination);
    } else {
        const struct uvk_message *message =
            chosen->messages.list->len > 0 ? g_ptr_array_index(chosen->messages.list, 0) : NULL;
        g_set_error(error, UVK_PROBLEM, UVK_NOT_WELL,
                    "with other layout choices the board has mistakes: %s",
                    message != NULL ? message->text : "it is not there");
    }
    uvk_program_free(chosen);
    return good;
}

void found_keys_free(GArray *keys)
{
    for (guint i = 0; i < keys->len; i++) {
        g_free(g_array_index(keys, struct found_key, i).spots);
    }
    g_array_free(keys, TRUE);
}

GArray *found_keys(const struct uvk_program *program, const struct combinations *all,
                   GError **error)
{
    GArray *keys = g_array_new(FALSE, TRUE, sizeof(struct found_key));
    GArray *ordered;
    bool good = true;

    if (all->choices == 0) {
        note_keys(keys, program->board, all, 0);
    }
    for (unsigned i = 0; good && all->choices > 0 && i < all->count; i++) {
        good = note_combination(keys, program, all, i, error);
    }
    if (!good) {
        found_keys_free(keys);
        return NULL;
    }
    ordered = in_order_of_the_eye(all, keys);
    g_array_free(keys, TRUE);
    return ordered;
}
