/* words.h - what stands on a key of a sheet. */
#ifndef UVREK_SHEET_WORDS_H
#define UVREK_SHEET_WORDS_H

#include "uvrek/text.h"

struct label {
    char *tap;     /* "" for nothing */
    char *held;    /* NULL: the same as the tap, or nothing */
    char *shifted; /* NULL: nothing that one would not know */
    bool ghost;    /* it shows through from the first layer */
};

/* What CELL says on LAYER. Cleared with uvk_label_clear. */
struct label uvk_label_of(const struct uvk_program *program, unsigned layer, unsigned cell);
void uvk_label_clear(struct label *label);

/* What VALUE does, as short as it can be said: the sign that the host's layout types, if it
 * is one, else its name. Freed with g_free. */
char *label_text(const struct uvk_program *program, const struct uvk_value *value);

#endif
