/* edit.h - change a text in place: what is changed is replaced, nothing else moves.
 *
 * 1. Edits are collected for one source and applied together; the source stays as it is.
 * 2. Edits do not overlap. Two at the same place are applied in the order of adding.
 * 3. Comments, spacing and order outside of the edited places stay, byte by byte.
 */
#ifndef UVREK_EDIT_H
#define UVREK_EDIT_H

#include "uvrek/text.h"

struct uvk_edits;

struct uvk_edits *uvk_edits_new(const struct uvk_source *source);
void uvk_edits_free(struct uvk_edits *edits);

/* Put TEXT in the place of the LENGTH bytes at AT; LENGTH 0 inserts. TEXT is copied. An edit
 * that changes nothing is forgotten. */
void uvk_edits_replace(struct uvk_edits *edits, uint32_t at, uint32_t length, const char *text);

/* How many edits change something. */
unsigned uvk_edits_count(const struct uvk_edits *edits);

/* The source with all edits; the caller frees it with g_free. NULL if edits overlap. */
char *uvk_edits_apply(struct uvk_edits *edits, size_t *size);

/* The source that was asked for, with the cells of each layer lined up in the shape of the
 * board: keys that lie above one another begin in the same column, the halves have a gap
 * between them. Comments stay where they were. A layer whose lines are not those of the
 * board (a name that stands for several cells, say) stays as it is. PROGRAM has no errors.
 * The caller frees it with g_free; CHANGED is how many places were changed. */
char *uvk_tidy(const struct uvk_program *program, size_t *size, unsigned *changed);

#endif
