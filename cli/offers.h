/* offers.h - what a cell can be: the names that match what somebody types. */
#ifndef UVREK_CLI_OFFERS_H
#define UVREK_CLI_OFFERS_H

#include "uvrek/text.h"

struct offers;

/* All names of PROGRAM, which has a keymap and no errors, and is to live as long. */
struct offers *offers_new(struct uvk_program *program);
void offers_free(struct offers *offers);

/* Find cells for what was TYPED, the likeliest first: TYPED itself, if it is a cell; names that
 * are it, begin with it, are called so by others, have it somewhere. Behind '/', '+' and ':'
 * only the last part is looked for. Returns how many there are. */
unsigned offers_find(struct offers *offers, const char *typed);

/* The text of a cell, and the usual words for it that matched (NULL: it matched itself). */
const char *offer_text(const struct offers *offers, unsigned index);
const char *offer_also(const struct offers *offers, unsigned index);

/* What TEXT does as a cell, or why it is none; *GOOD says which. Freed with g_free. */
char *offer_sentence(const struct offers *offers, const char *text, bool *good);

/* Where TEXT is: cells of all layers whose own text, or what it does, has it. */
struct offer_place {
    unsigned layer, cell;
};
GArray *offers_where(const struct offers *offers, const char *text); /* of struct offer_place */

#endif
