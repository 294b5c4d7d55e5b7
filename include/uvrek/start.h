/* start.h - a first board, a first keymap: texts to go on from.
 *
 * 1. What is made has no mistakes and no doubts, and its plays pass.
 * 2. All texts are freed with g_free.
 */
#ifndef UVREK_START_H
#define UVREK_START_H

#include "uvrek/text.h"

#ifdef __cplusplus
extern "C" {
#endif

/* A board of which nothing is known but how many keys it has. */
struct uvk_blank {
    const char *name; /* of the board, a name of the language */
    const struct uvk_chip *chip;
    unsigned rows, columns; /* of each half */
    bool split;
    bool direct; /* a pin for each key, however many rows and columns */
};

/* The text of a grid of keys, on the first pins of its chip. NULL: the chip has not enough
 * pins, or it is more than a board can have. */
char *uvk_start_board(const struct uvk_blank *blank, GError **error);

/* A keymap for BOARD, which has no mistakes and at least one key, with a play for each of its
 * layers. NAME is the keymap's; it brings in the file BOARD_FILE. */
char *uvk_start_keymap(const struct uvk_board *board, const char *name, const char *board_file);

/* What to read first: which files are which, and what to do with them. */
char *uvk_start_readme(const struct uvk_board *board, const char *name, const char *board_file,
                       const char *keymap_file);

#ifdef __cplusplus
}
#endif

#endif
