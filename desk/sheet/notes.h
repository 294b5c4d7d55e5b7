/* notes.h - what has no room on keys: it is listed under each layer. */
#ifndef UVREK_SHEET_NOTES_H
#define UVREK_SHEET_NOTES_H

#include "uvrek/ways.h"

struct note {
    char *head; /* "jog", "A", "greet" */
    char *text; /* "types \"Good evening\"" */
    bool combo; /* the head is its letter */
};

/* Turns of knobs, combos, what dances and macros on the layer do, leader sequences. Each note
 * is freed with the list. */
GPtrArray *notes_of(const struct uvk_program *program, const struct uvk_ways *ways,
                    unsigned layer); /* of struct note * */

/* The letter of the combo at INDEX in the keymap: A to Z, then A1 and on. Freed with g_free. */
char *note_letter(unsigned index);

/* Is COMBO told on LAYER? One that is on everywhere is told on the first. */
bool note_has_combo(const struct uvk_combo_text *combo, unsigned layer);

#endif
