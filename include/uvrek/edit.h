/* edit.h - change a text in place: what is changed is replaced, nothing else moves.
 *
 * 1. Edits are collected for one source and applied together; the source stays as it is.
 * 2. Edits do not overlap. Two at the same place are applied in the order of adding.
 * 3. Comments, spacing and order outside of the edited places stay, byte by byte.
 */
#ifndef UVREK_EDIT_H
#define UVREK_EDIT_H

#include "uvrek/text.h"

#ifdef __cplusplus
extern "C" {
#endif

struct uvk_edits;

struct uvk_edits *uvk_edits_new(const struct uvk_source *source);
void uvk_edits_free(struct uvk_edits *edits);

/* Put TEXT in the place of the LENGTH bytes at AT; LENGTH 0 inserts. TEXT is copied. An edit
 * that changes nothing is forgotten. */
void uvk_edits_replace(struct uvk_edits *edits, uint32_t at, uint32_t length, const char *text);

/* One of them, as long as EDITS are; in the order of adding until they are applied. */
struct uvk_edit {
    uint32_t at, length; /* bytes of the source */
    const char *text;
};
struct uvk_edit uvk_edits_get(const struct uvk_edits *edits, unsigned index);

/* The source that EDITS are for. */
const struct uvk_source *uvk_edits_source(const struct uvk_edits *edits);

/* How many edits change something. */
unsigned uvk_edits_count(const struct uvk_edits *edits);

/* The source with all edits; the caller frees it with g_free. NULL if edits overlap. */
char *uvk_edits_apply(struct uvk_edits *edits, size_t *size);

/* --- changes ---------------------------------------------------------------------------
 * Each is false, and nothing is added to EDITS, if it cannot be done: then *ERROR says why.
 * What is changed stands in the source of EDITS; columns behind it stay where they are as far
 * as there are spaces. The new text has to be read to know whether it has mistakes. */

/* The cell at CELL of LAYER becomes TEXT, which is one cell of PROGRAM's keymap. A knob that
 * the layer does not mention gets a line. */
bool uvk_edit_cell(struct uvk_edits *edits, struct uvk_program *program, unsigned layer,
                   unsigned cell, const char *text, GError **error);

/* STATEMENT becomes the last one of the block that the statement around OF has: of a layer for
 * its place in the model, of the keymap for that of one of its settings. OF.source NULL: it
 * becomes the last one of the file. */
bool uvk_edit_insert(struct uvk_edits *edits, struct uvk_place of, const char *statement,
                     GError **error);

/* The statement of the block around OF that says something about the same thing (the feel,
 * macro or dance of that name, the setting, the combo of these keys, the leader) becomes
 * STATEMENT; if there is none, STATEMENT is inserted. */
bool uvk_edit_put(struct uvk_edits *edits, struct uvk_place of, const char *statement,
                  GError **error);

/* The innermost statement around OF becomes STATEMENT. */
bool uvk_edit_replace(struct uvk_edits *edits, struct uvk_place of, const char *statement,
                      GError **error);

/* The innermost statement around OF goes, its block included. Comments beside it stay. */
bool uvk_edit_remove(struct uvk_edits *edits, struct uvk_place of, GError **error);

/* What mends MESSAGE, see source.h, is done. */
bool uvk_edit_mend(struct uvk_edits *edits, const struct uvk_message *message, GError **error);

/* TEXT is the source of PROGRAM (which has no errors) after changes of its cells. Where a
 * combo, the leader or a play named a key by what it tapped, and that names no single key any
 * more, the key's address stands in its place: the returned text says so of the same keys as
 * before. *COUNT, if it is not NULL: how often. *SIZE is that of TEXT, and becomes that of the
 * result; freed with g_free.
 */
char *uvk_edit_name_keys(struct uvk_program *program, const char *text, size_t *size,
                         unsigned *count);

/* --- tidy ------------------------------------------------------------------------------ */

/* The source that was asked for, with the cells of each layer lined up in the shape of the
 * board: keys that lie above one another begin in the same column, the halves have a gap
 * between them. Comments stay where they were. A layer whose lines are not those of the
 * board (a name that stands for several cells, say) stays as it is. PROGRAM has no errors.
 * The caller frees it with g_free; CHANGED is how many places were changed. */
char *uvk_tidy(const struct uvk_program *program, size_t *size, unsigned *changed);

#ifdef __cplusplus
}
#endif

#endif
