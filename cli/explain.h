/* explain.h - what the files of `uvrek explain` share. */
#ifndef UVREK_CLI_EXPLAIN_H
#define UVREK_CLI_EXPLAIN_H

#include "cli.h"

#include "uvrek/explain.h"

/* What is asked, and where. */
struct asked {
    const char *word;            /* NULL: all names */
    struct uvk_program *program; /* without errors; NULL: about no file */
    int layer;                   /* only this one; -1: all */
};

/* ---- asked.c ---- */

const struct uvk_board *board_of(const struct asked *asked);   /* NULL: none */
const struct uvk_keymap *keymap_of(const struct asked *asked); /* NULL: none */
void print_place(struct uvk_place place);

/* TEXT in lines of a terminal's width, INDENT spaces before each. */
void print_wrapped(const char *text, unsigned indent);

/* ---- meanings.c ---- */

/* Print everything that the word means: it may be a pin and a key. False: nothing. */
bool print_meanings(const struct asked *asked);

/* All that messages mean, as a page in Markdown; the heading of each is its code. */
void print_message_page(void);

/* ---- here.c ---- */

/* The cells for which TEST holds, or for a side of which it does, a layer a line. */
typedef bool (*cell_test)(const struct uvk_value *value, const void *data);
void print_cells(const struct asked *asked, cell_test test, const void *data);

/* Each says whether it knew the word. */
bool explain_layer(const struct asked *asked);
bool explain_own(const struct asked *asked); /* macros, dances, feels, lets, choices */
bool explain_wire(const struct asked *asked);
/* The keys on the wire of HALF that PIN has; false: it has none. */
bool print_wire_of_pin(const struct uvk_board *board, unsigned half, const struct uvk_pin *pin);
bool explain_address(const struct asked *asked);
bool explain_knob(const struct asked *asked);
bool explain_cell(const struct asked *asked);

/* ---- inforce.c ---- */

/* Of a word of a feel, a combo, a dance: what is said of it here, and where. False: nothing. */
bool print_in_force(const struct asked *asked);

/* Of a word that looks like a cell: what is wrong with it as one. False: nothing. */
bool print_cell_mistakes(const struct asked *asked);

#endif
