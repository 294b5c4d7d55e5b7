/* tree.h - the tree of a text that is open, for as long as it is looked at. */
#ifndef UVREK_EDITOR_TREE_H
#define UVREK_EDITOR_TREE_H

#include "serving.h"

#include "uvrek/syntax.h"

struct tree {
    struct uvk_source source; /* the document's text */
    struct uvk_arena *arena;
    struct uvk_node *root;
};

/* Whatever is wrong with the text is told elsewhere. TREE stays where it is, for its nodes
 * point into it, and is cleared before the text changes. */
void tree_read(struct tree *tree, const struct document *document);
void tree_clear(struct tree *tree);

#endif
