/* tree.c - see tree.h. */
#include "tree.h"

void tree_read(struct tree *tree, const struct document *document)
{
    struct uvk_messages unheard;

    uvk_messages_init(&unheard);
    tree->source =
        (struct uvk_source){document->path, document->text->str, document->text->len};
    tree->arena = uvk_arena_new();
    tree->root = uvk_parse(&tree->source, tree->arena, &unheard);
    uvk_messages_clear(&unheard);
}

void tree_clear(struct tree *tree)
{
    uvk_arena_free(tree->arena);
}
