/* gaps.h - the gap before a key, as it depends on the choices of layout. */
#ifndef UVREK_EXCHANGE_GAPS_H
#define UVREK_EXCHANGE_GAPS_H

#include "read.h"

/* The gap before KEY in each combination: what is always there, what an option of a choice
 * adds, and what several add together. */
struct gaps {
    double always;
    double added[UVK_CHOICES_MAX][UVK_OPTIONS_MAX];
    GArray *together; /* of struct moved_by */
};

/* From the gap MEASURED in each combination (as x). TOGETHER is freed with g_array_free. */
void find_gaps(const struct combinations *all, const struct placed_key *key,
               const struct spot *measured, struct gaps *gaps);
void put_gaps(struct text_out *out, const struct placed_board *placed,
              const struct placed_key *key, const struct gaps *gaps);

/* The beginning of a group, "(enter=iso: ". */
void put_choice(struct text_out *out, const struct placed_board *placed, unsigned choice,
                unsigned option);

#endif
