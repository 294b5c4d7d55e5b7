/* found.h - the keys of a board with all its choices of layout. */
#ifndef UVREK_EXCHANGE_FOUND_H
#define UVREK_EXCHANGE_FOUND_H

#include "combinations.h"

/* A key, as a cell of the board's text; where it is in each combination of choices. */
struct found_key {
    struct uvk_key_place key;
    const char *address;
    const char *knob;   /* whose switch it is, NULL: none */
    struct spot *spots; /* one for each combination */
};

/* The keys of the program's board, of struct found_key: line after line, half after half, from
 * left to right. NULL: *ERROR. Freed with found_keys_free. */
GArray *found_keys(const struct uvk_program *program, const struct combinations *all,
                   GError **error);
void found_keys_free(GArray *keys);

#endif
