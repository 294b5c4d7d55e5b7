/* outline.c - what a text has in it: its statements with blocks, and where they can be folded.
 */
#include "mentions.h"
#include "tree.h"

#include <string.h>

/* What a client shows a statement as: kinds of the protocol's symbols. */
#define SYMBOL_NAMESPACE 3
#define SYMBOL_CLASS     5
#define SYMBOL_FUNCTION  12
#define SYMBOL_VARIABLE  13
#define SYMBOL_EVENT     24

static const struct {
    const char *keyword;
    int kind;
} symbols[] = {
    {"board", SYMBOL_NAMESPACE}, {"keymap", SYMBOL_NAMESPACE}, {"layer", SYMBOL_CLASS},
    {"macro", SYMBOL_FUNCTION},  {"dance", SYMBOL_FUNCTION},   {"feel", SYMBOL_VARIABLE},
    {"let", SYMBOL_VARIABLE},    {"knob", SYMBOL_VARIABLE},    {"choice", SYMBOL_VARIABLE},
    {"play", SYMBOL_EVENT},      {"keys", SYMBOL_CLASS},       {"matrix", SYMBOL_CLASS},
    {"leader", SYMBOL_CLASS},    {"combo", SYMBOL_EVENT},
};

/* A list of what ADD finds in the text that is asked about. */
static json_t *look(struct uvk_editor *editor, const json_t *params, struct failure *failure,
                    void (*add)(const struct tree *, json_t *, enum units))
{
    struct document *document = document_from(editor, params, failure);
    struct tree tree;
    json_t *list;

    if (document == NULL) {
        return NULL;
    }
    tree_read(&tree, document);
    list = json_array();
    add(&tree, list, editor->units);
    tree_clear(&tree);
    return list;
}

static const struct uvk_node *block_of(const struct uvk_node *statement)
{
    const struct uvk_node *at = statement->child;

    while (at != NULL && at->kind != UVK_NODE_BLOCK) {
        at = at->next;
    }
    return at;
}

/* ---- the outline ------------------------------------------------------------------------- */

static int kind_of(const struct uvk_node *statement)
{
    const struct uvk_node *first = statement->child;

    for (size_t i = 0; i < G_N_ELEMENTS(symbols); i++) {
        if (first != NULL && first->kind == UVK_NODE_NAME &&
            strcmp(first->text, symbols[i].keyword) == 0) {
            return symbols[i].kind;
        }
    }
    return 0;
}

/* "layer nav": its words before the block, or before what it stands for. */
static char *title_of(const struct tree *tree, const struct uvk_node *statement)
{
    const struct uvk_node *last = statement->child;
    size_t from = statement->place.at;

    while (last->next != NULL && last->next->kind != UVK_NODE_BLOCK &&
           last->next->kind != UVK_NODE_EQUALS && last->next->kind != UVK_NODE_ARROW) {
        last = last->next;
    }
    return g_strndup(tree->source.text + from, last->place.at + last->place.length - from);
}

static json_t *symbols_in(const struct tree *tree, const struct uvk_node *block,
                          enum units units)
{
    json_t *list = json_array();

    for (const struct uvk_node *at = block->child; at != NULL; at = at->next) {
        const struct uvk_node *inside = block_of(at);
        struct uvk_place whole = whole_statement(at);
        char *title;
        if (kind_of(at) == 0) {
            continue;
        }
        title = title_of(tree, at);
        (void)json_array_append_new(
            list,
            json_pack("{s:s, s:i, s:o, s:o, s:o}", "name", title, "kind", kind_of(at), "range",
                      range_to_json(tree->source.text, whole.at, whole.length, units),
                      "selectionRange",
                      range_to_json(tree->source.text, at->place.at, strlen(title), units),
                      "children",
                      inside != NULL ? symbols_in(tree, inside, units) : json_array()));
        g_free(title);
    }
    return list;
}

static void add_symbols(const struct tree *tree, json_t *list, enum units units)
{
    json_t *symbols_of_all = symbols_in(tree, tree->root, units);

    (void)json_array_extend(list, symbols_of_all);
    json_decref(symbols_of_all);
}

ANSWER(answer_symbols)
{
    return look(editor, params, failure, add_symbols);
}

/* ---- folding ----------------------------------------------------------------------------- */

/* From 0. */
static json_int_t line_of(const struct tree *tree, uint32_t at)
{
    return (json_int_t)uvk_place_position((struct uvk_place){&tree->source, at, 0}).line - 1;
}

static void add_folds(const struct tree *tree, const struct uvk_node *block, json_t *list)
{
    for (const struct uvk_node *at = block->child; at != NULL; at = at->next) {
        const struct uvk_node *inside = block_of(at);
        json_int_t first;
        json_int_t last;
        if (inside == NULL) {
            continue;
        }
        first = line_of(tree, inside->place.at);
        last = line_of(tree, inside->place.at + inside->place.length);
        if (last > first) {
            (void)json_array_append_new(
                list, json_pack("{s:I, s:I}", "startLine", first, "endLine", last));
        }
        add_folds(tree, inside, list);
    }
}

static void add_all_folds(const struct tree *tree, json_t *list, enum units units)
{
    (void)units; /* only lines are told */
    add_folds(tree, tree->root, list);
}

ANSWER(answer_folding)
{
    return look(editor, params, failure, add_all_folds);
}
