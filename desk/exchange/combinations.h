/* combinations.h - all ways to choose among the options of a board's choices, and how a place
 * depends on them. */
#ifndef UVREK_EXCHANGE_COMBINATIONS_H
#define UVREK_EXCHANGE_COMBINATIONS_H

#include "uvrek/text.h"

#include <math.h>

#define COMBINATIONS_MAX 4096u

/* Combination number C has option C / stride[i] % options[i] of choice i. */
struct combinations {
    unsigned choices;
    unsigned options[UVK_CHOICES_MAX], stride[UVK_CHOICES_MAX];
    unsigned count; /* 0: more than COMBINATIONS_MAX */
};

#define ANY_OPTION (-1) /* in a list of options: a choice that is left free */

/* A place in one combination. */
struct spot {
    double x, y;
    bool there;
};

/* What the options of COMBINATION that are not the first add to a place. */
struct moved_by {
    unsigned combination;
    double x, y;
};

void combinations_add(struct combinations *all, unsigned options);

/* The combination with OPTIONS, and the first option of each choice that they leave free. */
unsigned combinations_usual(const struct combinations *all, const int *options);

/* The option of CHOICE in a combination, if OPTIONS leave it free; else 0, the first one. */
unsigned combinations_free(const struct combinations *all, const int *options,
                           unsigned combination, unsigned choice);

/* The moves, of struct moved_by, that add up to all of SPOTS (one for each combination) from
 * the usual one on: those by single options first, then what two of them add together, and so
 * on. */
GArray *combinations_moves(const struct combinations *all, const int *options,
                           const struct spot *spots);

static inline unsigned combination_option(const struct combinations *all, unsigned combination,
                                          unsigned choice)
{
    return combination / all->stride[choice] % all->options[choice];
}

/* Does the combination have OPTIONS? */
bool combinations_have(const struct combinations *all, const int *options,
                       unsigned combination);

/* Places that are the same but for what adding up has lost. */
static inline bool is_near(double a, double b)
{
    return fabs(a - b) < 1e-6;
}

#endif
