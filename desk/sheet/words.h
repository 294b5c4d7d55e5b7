/* words.h - what stands on a key of a sheet. */
#ifndef UVREK_SHEET_WORDS_H
#define UVREK_SHEET_WORDS_H

#include "uvrek/ways.h"

struct label {
    char *tap;    /* "" for nothing */
    char *foot;   /* what it does held; NULL: nothing else */
    char *corner; /* with shift; NULL: nothing that one would not know */
    bool lower;   /* it shows through from a lower layer */
    bool finger;  /* a finger holds this key as long as the layer is on */
};

/* What CELL says on LAYER. Cleared with uvk_label_clear. */
struct label uvk_label_of(const struct uvk_program *program, const struct uvk_ways *ways,
                          unsigned layer, unsigned cell);
void uvk_label_clear(struct label *label);

/* What VALUE does, as short as it can be said: the sign that the host's layout types, if it
 * is one, else its name. Freed with g_free. */
char *label_text(const struct uvk_program *program, const struct uvk_value *value);

/* What KEY taps in the first layer; its address if that is nothing. Freed with g_free. */
char *label_of_key(const struct uvk_program *program, unsigned key);

/* The address of KEY without its half. Freed with g_free. */
char *label_address(const struct uvk_board *board, unsigned key);

#endif
