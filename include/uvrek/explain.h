/* explain.h - the language in words: what its words mean, what a cell does, what a message
 * wants.
 *
 * 1. Sentences are English, without a full stop at the end unless there are several.
 * 2. What is said of a cell is what the keyboard does with it, times included.
 */
#ifndef UVREK_EXPLAIN_H
#define UVREK_EXPLAIN_H

#include "uvrek/text.h"

#ifdef __cplusplus
extern "C" {
#endif

/* A word of the language that is no key: a statement, a step, a prefix, a value. One word may
 * stand in several places; each has a row of its own. */
struct uvk_word {
    const char *name;  /* as it is written: "matrix", "toggle:" */
    const char *where; /* "in a board" */
    const char *what;  /* how it is written, and what it means */
};
const struct uvk_word *uvk_words(size_t *count);

/* A usual word, and what the language calls that: names with spaces between, the one that is
 * meant most first. */
struct uvk_synonym {
    const char *word, *names;
};
const struct uvk_synonym *uvk_synonyms(size_t *count);

/* The names for WORD, whatever its case, with spaces or hyphens. NULL: it is no such word. */
const char *uvk_synonyms_of(const char *word);

/* Why there is a message with CODE, and what to do about it. NULL: no such code. */
const char *uvk_code_advice(unsigned code);

/* What VALUE does. PROGRAM has a keymap and no errors. Freed with g_free. */
char *uvk_value_sentence(const struct uvk_program *program, const struct uvk_value *value);

/* The steps of a macro, "types \"- \", taps enter". Freed with g_free. */
char *uvk_macro_sentence(const struct uvk_program *program, unsigned macro);

/* How a feel decides, in sentences. Freed with g_free. */
char *uvk_feel_sentence(const struct uvk_feel_text *feel);

/* What a setting is for, its range, and what it is if nobody sets it. Freed with g_free. */
char *uvk_setting_sentence(const struct uvk_setting_name *setting);

/* The name of the `let` at INDEX, in the order of the text; NULL: there are not so many. */
const char *uvk_let_name(const struct uvk_program *program, unsigned index);

/* The `let` called NAME as it is written, "let undo = primary+z", and where; NULL: there is
 * none. Freed with g_free. */
char *uvk_let_text(const struct uvk_program *program, const char *name,
                   struct uvk_place *place);

/* What the cell at CELL of LAYER does; if it is see-through, also what shows through, see
 * ways.h. Freed with g_free. */
char *uvk_cell_sentence(const struct uvk_program *program, unsigned layer, unsigned cell);

/* Read TEXT as one cell of PROGRAM's keymap. False: it is none, and MESSAGES say why. What
 * VALUE points to lives as long as the program. */
bool uvk_cell_read(struct uvk_program *program, const char *text, struct uvk_messages *messages,
                   struct uvk_value *value);

#ifdef __cplusplus
}
#endif

#endif
