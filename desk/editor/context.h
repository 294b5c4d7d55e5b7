/* context.h - where in a text somebody writes: found without its tree, for it is half written.
 */
#ifndef UVREK_EDITOR_CONTEXT_H
#define UVREK_EDITOR_CONTEXT_H

#include <glib.h>
#include <stdbool.h>
#include <stddef.h>

struct context {
    GPtrArray *blocks; /* the first words of the statements around, the outermost first */
    GPtrArray *before; /* the words of this statement before the one that is written */
    size_t word;       /* where that one begins */
    size_t part;       /* where its last part begins, behind / + : ~ = */
};

/* At the byte AT of TEXT. */
struct context context_at(const char *text, size_t at);
void context_clear(struct context *context);

/* The innermost block's first word; "" in none. */
const char *context_block(const struct context *context);
/* Word number INDEX of the statement before the one that is written; NULL: not so many. */
const char *context_before(const struct context *context, unsigned index);

/* Is WORD the first of them? */
bool context_begins(const struct context *context, const char *word);

/* Where the vocabulary has the words of BLOCK ("in a board"), two at the most; NULL: there are
 * none. */
const char *const *context_where(const char *block);

#endif
