/* combinations.c - how a place depends on the choices of layout. */
#include "combinations.h"

void combinations_add(struct combinations *all, unsigned options)
{
    all->count = all->choices == 0 ? 1 : all->count;
    all->stride[all->choices] = all->count;
    all->options[all->choices++] = options;
    all->count = all->count * options <= COMBINATIONS_MAX ? all->count * options : 0;
}

unsigned combinations_usual(const struct combinations *all, const int *options)
{
    unsigned combination = 0;

    for (unsigned i = 0; i < all->choices; i++) {
        combination += (options[i] != ANY_OPTION ? (unsigned)options[i] : 0) * all->stride[i];
    }
    return combination;
}

bool combinations_have(const struct combinations *all, const int *options, unsigned combination)
{
    for (unsigned i = 0; i < all->choices; i++) {
        if (options[i] != ANY_OPTION &&
            (unsigned)options[i] != combination_option(all, combination, i)) {
            return false;
        }
    }
    return true;
}

unsigned combinations_free(const struct combinations *all, const int *options,
                           unsigned combination, unsigned choice)
{
    return options[choice] == ANY_OPTION ? combination_option(all, combination, choice) : 0;
}

/* How many options of a combination may move something. */
static unsigned count_free(const struct combinations *all, const int *options,
                           unsigned combination)
{
    unsigned count = 0;

    for (unsigned choice = 0; choice < all->choices; choice++) {
        count += combinations_free(all, options, combination, choice) != 0;
    }
    return count;
}

/* Does MOVE ask for nothing that COMBINATION has not? */
static bool applies(const struct combinations *all, const int *options,
                    const struct moved_by *move, unsigned combination)
{
    for (unsigned choice = 0; choice < all->choices; choice++) {
        unsigned wanted = combinations_free(all, options, move->combination, choice);
        if (wanted != 0 && wanted != combination_option(all, combination, choice)) {
            return false;
        }
    }
    return true;
}

/* What is left between the place in COMBINATION and the moves so far is a move of its own. */
static void add_move(GArray *moves, const struct combinations *all, const int *options,
                     const struct spot *spots, unsigned combination)
{
    const struct spot *from = &spots[combinations_usual(all, options)];
    struct moved_by rest = {combination, spots[combination].x - from->x,
                            spots[combination].y - from->y};

    for (guint i = 0; i < moves->len; i++) {
        const struct moved_by *move = &g_array_index(moves, struct moved_by, i);
        if (applies(all, options, move, combination)) {
            rest.x -= move->x;
            rest.y -= move->y;
        }
    }
    if (!is_near(rest.x, 0) || !is_near(rest.y, 0)) {
        g_array_append_val(moves, rest);
    }
}

GArray *combinations_moves(const struct combinations *all, const int *options,
                           const struct spot *spots)
{
    GArray *moves = g_array_new(FALSE, FALSE, sizeof(struct moved_by));

    for (unsigned count = 1; count <= all->choices; count++) {
        for (unsigned i = 0; i < all->count; i++) {
            if (spots[i].there && count_free(all, options, i) == count) {
                add_move(moves, all, options, spots, i);
            }
        }
    }
    return moves;
}
