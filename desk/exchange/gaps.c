/* gaps.c - the gap before a key, as it depends on the choices of layout. */
#include "gaps.h"

#include <math.h>

void put_choice(struct text_out *out, const struct placed_board *placed, unsigned choice,
                unsigned option)
{
    const json_t *json = json_array_get(json_object_get(placed->json, "choices"), choice);

    out_put(out, "(%s=%s: ", text_of(json, "name", ""),
            json_string_value(json_array_get(json_object_get(json, "options"), option)));
}

/* The choice whose option alone makes the move; -1: several together do. */
static int moved_by_one(const struct combinations *all, const struct placed_key *key,
                        const struct moved_by *move)
{
    int found = -1;

    for (unsigned i = 0; i < all->choices; i++) {
        if (combinations_free(all, key->option, move->combination, i) != 0) {
            if (found >= 0) {
                return -1;
            }
            found = (int)i;
        }
    }
    return found;
}

static void sort_moves(const struct combinations *all, const struct placed_key *key,
                       const GArray *moves, struct gaps *gaps)
{
    for (guint i = 0; i < moves->len; i++) {
        const struct moved_by *move = &g_array_index(moves, struct moved_by, i);
        int choice = moved_by_one(all, key, move);
        if (choice >= 0) {
            unsigned option = combination_option(all, move->combination, (unsigned)choice);
            gaps->added[choice][option] = move->x;
        } else {
            g_array_append_val(gaps->together, *move);
        }
    }
}

/* What the options of a choice add is never less than nothing. */
static void lift(const struct combinations *all, struct gaps *gaps)
{
    for (unsigned i = 0; i < all->choices; i++) {
        double least = 0;
        for (unsigned option = 0; option < all->options[i]; option++) {
            least = MIN(least, gaps->added[i][option]);
        }
        for (unsigned option = 0; option < all->options[i]; option++) {
            gaps->added[i][option] -= least;
        }
        gaps->always += least;
    }
}

void find_gaps(const struct combinations *all, const struct placed_key *key,
               const struct spot *measured, struct gaps *gaps)
{
    GArray *moves = combinations_moves(all, key->option, measured);

    *gaps = (struct gaps){.always = measured[key->usual].x,
                          .together = g_array_new(FALSE, FALSE, sizeof(struct moved_by))};
    sort_moves(all, key, moves, gaps);
    lift(all, gaps);
    g_array_free(moves, TRUE);
}

static void put_gap(struct text_out *out, double gap)
{
    if (fabs(gap) > SMALL) {
        out_put(out, "+");
        out_number(out, gap);
        out_put(out, " ");
    }
}

void put_gaps(struct text_out *out, const struct placed_board *placed,
              const struct placed_key *key, const struct gaps *gaps)
{
    const struct combinations *all = &placed->all;

    put_gap(out, gaps->always);
    for (unsigned i = 0; i < all->choices; i++) {
        for (unsigned option = 0; option < all->options[i]; option++) {
            if (gaps->added[i][option] > SMALL) {
                put_choice(out, placed, i, option);
                put_gap(out, gaps->added[i][option]);
                out_put(out, ") ");
            }
        }
    }
    for (guint move = 0; move < gaps->together->len; move++) {
        const struct moved_by *by = &g_array_index(gaps->together, struct moved_by, move);
        unsigned groups = 0;
        for (unsigned i = 0; i < all->choices; i++) {
            unsigned option = combinations_free(all, key->option, by->combination, i);
            if (option != 0) {
                put_choice(out, placed, i, option);
                groups++;
            }
        }
        put_gap(out, by->x);
        while (groups-- > 0) {
            out_put(out, ")");
        }
        out_put(out, " ");
    }
}
