/* combinations.h - all ways to choose among the options of a board's choices. */
#ifndef UVREK_EXCHANGE_COMBINATIONS_H
#define UVREK_EXCHANGE_COMBINATIONS_H

#include "uvrek/text.h"

#define COMBINATIONS_MAX 256u

/* Combination number C has option C / stride[i] % options[i] of choice i. */
struct combinations {
    unsigned choices;
    unsigned options[UVK_CHOICES_MAX], stride[UVK_CHOICES_MAX];
    unsigned count; /* 0: more than COMBINATIONS_MAX */
};

static inline void combinations_add(struct combinations *all, unsigned options)
{
    all->count = all->choices == 0 ? 1 : all->count;
    all->stride[all->choices] = all->count;
    all->options[all->choices++] = options;
    all->count = all->count * options <= COMBINATIONS_MAX ? all->count * options : 0;
}

static inline unsigned combination_option(const struct combinations *all, unsigned combination,
                                          unsigned choice)
{
    return combination / all->stride[choice] % all->options[choice];
}

#endif
