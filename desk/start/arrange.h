/* arrange.h - which key does what in a first keymap. */
#ifndef UVREK_START_ARRANGE_H
#define UVREK_START_ARRANGE_H

#include "uvrek/text.h"

#define START_SECOND "more" /* the second layer; it is no word of the language */

struct start {
    const struct uvk_board *board;
    char **first, **second; /* a cell for each key, NULL: none yet */
    bool writes;            /* it has lines of letters */
    bool is_wide;           /* one of them is as wide as WIDE_LINE */
};

/* Give every key of the first layer a cell, and some of the second one. */
void start_fill(struct start *start);

/* The key that opens the second layer, -1: there is none. */
int start_second_key(const struct start *start);

#endif
