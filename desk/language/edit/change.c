/* change.c - change a cell, put a statement in, take one out; all else stays where it is. */
#include "uvrek/edit.h"
#include "uvrek/explain.h"
#include "uvrek/problem.h"

#include <string.h>

#define INDENT 2u /* spaces of a block that has no statement yet */

static uint32_t end_of(struct uvk_place place)
{
    return place.at + place.length;
}

/* ---- where a statement stands ---------------------------------------------------------- */

/* The tree of a source, for as long as it is needed. */
struct tree {
    const struct uvk_source *source;
    struct uvk_arena *arena;
    const struct uvk_node *file;
};

static struct tree tree_of(const struct uvk_source *source)
{
    struct tree tree = {source, uvk_arena_new(), NULL};
    struct uvk_messages messages;

    uvk_messages_init(&messages);
    tree.file = uvk_parse(source, tree.arena, &messages);
    uvk_messages_clear(&messages);
    return tree;
}

static const struct uvk_node *block_of(const struct uvk_node *statement)
{
    const struct uvk_node *last = statement->child;

    while (last != NULL && last->next != NULL) {
        last = last->next;
    }
    return last != NULL && last->kind == UVK_NODE_BLOCK ? last : NULL;
}

/* The words of a statement, and its block. */
static struct uvk_place whole_of(const struct uvk_node *statement)
{
    const struct uvk_node *block = block_of(statement);

    return block != NULL ? uvk_place_span(statement->place, block->place) : statement->place;
}

/* The innermost statement around AT; with WITH_BLOCK, of those that have a block. */
static const struct uvk_node *statement_at(const struct tree *tree, uint32_t at,
                                           bool with_block)
{
    const struct uvk_node *list = tree->file->child;
    const struct uvk_node *found = NULL;

    while (list != NULL) {
        const struct uvk_node *block = block_of(list);
        if (at < list->place.at || at >= end_of(whole_of(list))) {
            list = list->next;
            continue;
        }
        found = block != NULL || !with_block ? list : found;
        list = block != NULL && at >= block->place.at ? block->child : NULL;
    }
    return found;
}

/* ---- in the text ------------------------------------------------------------------------ */

static uint32_t skip_spaces(const char *text, uint32_t at)
{
    while (text[at] == ' ' || text[at] == '\t') {
        at++;
    }
    return at;
}

static uint32_t line_start(const char *text, uint32_t at)
{
    while (at > 0 && text[at - 1] != '\n') {
        at--;
    }
    return at;
}

static bool ends_line(const char *text, uint32_t at)
{
    return text[at] == '\n' || text[at] == '\0';
}

/* Behind the end of a statement, its ';' and a comment: the end of its line. */
static uint32_t line_end(const char *text, uint32_t at)
{
    while (!ends_line(text, at)) {
        at++;
    }
    return at;
}

static bool stands_here(const struct uvk_edits *edits, struct uvk_place place, GError **error)
{
    if (place.source == uvk_edits_source(edits)) {
        return true;
    }
    g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "this stands in another file, %s",
                place.source->path);
    return false;
}

/* ---- cells ------------------------------------------------------------------------------ */

/* Keep what stands behind a cell in its column: fewer or more spaces, but one at least. */
static void replace_cell(struct uvk_edits *edits, struct uvk_place place, const char *text)
{
    const char *source = place.source->text;
    uint32_t end = end_of(place);
    uint32_t next = skip_spaces(source, end);
    glong more = g_utf8_strlen(text, -1) - g_utf8_strlen(source + place.at, place.length);
    glong spaces = MAX((glong)(next - end) - more, 1);
    char *padded = g_strdup_printf("%s%*s", text, (int)spaces, "");

    if (next > end && !ends_line(source, next) && source[next] != '}') {
        uvk_edits_replace(edits, place.at, next - place.at, padded);
    } else {
        uvk_edits_replace(edits, place.at, place.length, text);
    }
    g_free(padded);
}

/* A knob's line that the layer does not have yet; the other direction is see-through. */
static bool add_knob_line(struct uvk_edits *edits, const struct uvk_program *program,
                          unsigned layer, unsigned turn, const char *text, GError **error)
{
    const char *knob = program->board->knobs[turn / 2].name;
    char *line = g_strdup_printf("knob %s %s %s", knob, turn % 2 == 0 ? text : ".",
                                 turn % 2 == 0 ? "." : text);
    bool good = uvk_edit_insert(edits, program->keymap->layers[layer].place, line, error);

    g_free(line);
    return good;
}

/* Is TEXT one statement with nothing before or behind it, as a comment would be? What stands
 * behind it in its line would belong to the comment. */
static bool is_whole(const char *text)
{
    struct uvk_source source = {(char *)"", (char *)text, strlen(text)};
    struct uvk_arena *arena = uvk_arena_new();
    struct uvk_messages messages;
    const struct uvk_node *first;
    struct uvk_place place = {&source, 0, 0};
    bool whole;

    uvk_messages_init(&messages);
    first = uvk_parse(&source, arena, &messages)->child;
    if (first != NULL) {
        place = whole_of(first);
    }
    whole = first != NULL && first->next == NULL && messages.errors == 0 && place.at == 0 &&
            end_of(place) == source.size;
    uvk_messages_clear(&messages);
    uvk_arena_free(arena);
    return whole;
}

static bool is_cell(struct uvk_program *program, const char *text, GError **error)
{
    struct uvk_messages messages;
    struct uvk_value value;
    bool good;

    uvk_messages_init(&messages);
    good = uvk_cell_read(program, text, &messages, &value);
    if (!good) {
        const struct uvk_message *message =
            messages.list->len > 0 ? g_ptr_array_index(messages.list, 0) : NULL;
        g_set_error(error, UVK_PROBLEM, UVK_NOT_WELL, "'%s' is no cell: %s", text,
                    message != NULL ? message->text : "there is nothing");
    } else if (!is_whole(text)) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_WELL,
                    "'%s' is more than a cell: no comment, ';' or new line goes with it", text);
        good = false;
    }
    uvk_messages_clear(&messages);
    return good;
}

bool uvk_edit_cell(struct uvk_edits *edits, struct uvk_program *program, unsigned layer,
                   unsigned cell, const char *text, GError **error)
{
    const struct uvk_layer_text *in = &program->keymap->layers[layer];
    struct uvk_place place = in->places[cell];

    if (!is_cell(program, text, error)) {
        return false;
    }
    if (place.source == NULL && cell >= program->board->key_count) {
        return add_knob_line(edits, program, layer, cell - program->board->key_count, text,
                             error);
    }
    if (place.source == NULL) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE,
                    "this cell of the layer '%s' is one of several that a name stands for",
                    in->name);
        return false;
    }
    if (!stands_here(edits, place, error)) {
        return false;
    }
    replace_cell(edits, place, text);
    return true;
}

/* ---- statements ------------------------------------------------------------------------- */

/* Behind LAST, the last statement of a block or of the file. */
static void insert_behind(struct uvk_edits *edits, const struct uvk_node *last,
                          const char *statement)
{
    const char *text = uvk_edits_source(edits)->text;
    uint32_t end = end_of(whole_of(last));
    uint32_t next = skip_spaces(text, end);
    uint32_t start = line_start(text, last->place.at);
    bool semicolon = text[next] == ';';
    char *indented;

    next = semicolon ? skip_spaces(text, next + 1) : next;
    if (ends_line(text, next) ||
        text[next] == '#') { /* a line of its own, indented like LAST */
        indented = g_strdup_printf("\n%.*s%s", (int)(skip_spaces(text, start) - start),
                                   text + start, statement);
        uvk_edits_replace(edits, line_end(text, next), 0, indented);
    } else {
        indented = g_strdup_printf("; %s", statement);
        uvk_edits_replace(edits, end, 0, indented);
    }
    g_free(indented);
}

/* Into the empty block of OWNER. */
static void insert_first(struct uvk_edits *edits, const struct uvk_node *owner,
                         const struct uvk_node *block, const char *statement)
{
    const char *text = uvk_edits_source(edits)->text;
    uint32_t start = line_start(text, owner->place.at);
    uint32_t inside = block->place.at + 1;
    uint32_t next = skip_spaces(text, inside);
    char *filled;

    if (text[next] == '}') {
        filled = g_strdup_printf(" %s ", statement);
        uvk_edits_replace(edits, inside, next - inside, filled);
    } else {
        filled = g_strdup_printf("\n%.*s%*s%s", (int)(skip_spaces(text, start) - start),
                                 text + start, (int)INDENT, "", statement);
        uvk_edits_replace(edits, line_end(text, next), 0, filled);
    }
    g_free(filled);
}

static void append_to_file(struct uvk_edits *edits, const char *statement)
{
    const struct uvk_source *source = uvk_edits_source(edits);
    bool open = source->size > 0 && source->text[source->size - 1] != '\n';
    char *text = g_strdup_printf("%s%s\n", open ? "\n" : "", statement);

    uvk_edits_replace(edits, (uint32_t)source->size, 0, text);
    g_free(text);
}

bool uvk_edit_insert(struct uvk_edits *edits, struct uvk_place of, const char *statement,
                     GError **error)
{
    struct tree tree;
    const struct uvk_node *owner;
    const struct uvk_node *last;

    if (of.source == NULL) {
        append_to_file(edits, statement);
        return true;
    }
    if (!stands_here(edits, of, error)) {
        return false;
    }
    if (!is_whole(statement)) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_WELL,
                    "'%s' is not one whole statement: no comment, ';' or new line goes with it",
                    statement);
        return false;
    }
    tree = tree_of(of.source);
    owner = statement_at(&tree, of.at, true);
    last = owner != NULL ? block_of(owner)->child : NULL;
    while (last != NULL && last->next != NULL) {
        last = last->next;
    }
    if (owner == NULL) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "here is no block");
    } else if (last != NULL) {
        insert_behind(edits, last, statement);
    } else {
        insert_first(edits, owner, block_of(owner), statement);
    }
    uvk_arena_free(tree.arena);
    return owner != NULL;
}

/* ---- a statement about the same thing ---------------------------------------------------- */

/* Those of which a block may have many: they are told apart by their second word. */
static const char *const many[] = {"set",   "feel",  "let",   "macro",
                                   "dance", "combo", "layer", NULL};

static bool same_words(const struct uvk_node *a, const struct uvk_node *b)
{
    return a != NULL && b != NULL && a->place.length == b->place.length &&
           memcmp(a->place.source->text + a->place.at, b->place.source->text + b->place.at,
                  a->place.length) == 0;
}

static bool same_thing(const struct uvk_node *a, const struct uvk_node *b)
{
    const struct uvk_node *word = a->child;

    if (!same_words(word, b->child)) {
        return false;
    }
    return word->text == NULL || !g_strv_contains(many, word->text) ||
           same_words(word->next, b->child->next);
}

bool uvk_edit_put(struct uvk_edits *edits, struct uvk_place of, const char *statement,
                  GError **error)
{
    struct uvk_source given = {
        .path = "", .text = (char *)statement, .size = strlen(statement)};
    struct tree tree = tree_of(uvk_edits_source(edits));
    struct tree put = tree_of(&given);
    const struct uvk_node *owner =
        of.source == tree.source ? statement_at(&tree, of.at, true) : NULL;
    const struct uvk_node *old = owner != NULL ? block_of(owner)->child : NULL;
    bool good = true;

    while (old != NULL && put.file->child != NULL && !same_thing(old, put.file->child)) {
        old = old->next;
    }
    if (old != NULL && put.file->child != NULL && is_whole(statement)) {
        struct uvk_place place = whole_of(old);
        uvk_edits_replace(edits, place.at, place.length, statement);
    } else {
        good = uvk_edit_insert(edits, of, statement, error);
    }
    uvk_arena_free(tree.arena);
    uvk_arena_free(put.arena);
    return good;
}

bool uvk_edit_replace(struct uvk_edits *edits, struct uvk_place of, const char *statement,
                      GError **error)
{
    struct tree tree;
    const struct uvk_node *old;
    bool good;

    if (!stands_here(edits, of, error)) {
        return false;
    }
    tree = tree_of(of.source);
    old = statement_at(&tree, of.at, false);
    good = old != NULL && is_whole(statement);
    if (good) {
        struct uvk_place place = whole_of(old);
        uvk_edits_replace(edits, place.at, place.length, statement);
    } else {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "'%s' has no place here", statement);
    }
    uvk_arena_free(tree.arena);
    return good;
}

/* ---- taking out ------------------------------------------------------------------------- */

/* What goes with STATEMENT: its line, if nothing else is there; else its ';'. */
static void remove_statement(struct uvk_edits *edits, struct uvk_place place)
{
    const char *text = uvk_edits_source(edits)->text;
    uint32_t start = line_start(text, place.at);
    uint32_t at = place.at;
    uint32_t end = skip_spaces(text, end_of(place));
    bool alone = skip_spaces(text, start) == at;

    if (text[end] == ';') {
        end = skip_spaces(text, end + 1);
    }
    if (alone && ends_line(text, end)) {
        at = start;
        end += text[end] == '\n';
    } else if (ends_line(text, end) || text[end] == '}' || (text[end] == '#' && !alone)) {
        while (at > start && (text[at - 1] == ' ' || text[at - 1] == '\t')) {
            at--;
        }
        at -= at > start && text[at - 1] == ';';
        end = end_of(place); /* the space before what follows stays */
        end += text[end] == ';';
    }
    uvk_edits_replace(edits, at, end - at, "");
}

bool uvk_edit_remove(struct uvk_edits *edits, struct uvk_place of, GError **error)
{
    struct tree tree;
    const struct uvk_node *statement;

    if (!stands_here(edits, of, error)) {
        return false;
    }
    tree = tree_of(of.source);
    statement = statement_at(&tree, of.at, false);
    if (statement == NULL) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "here is no statement");
    } else {
        remove_statement(edits, whole_of(statement));
    }
    uvk_arena_free(tree.arena);
    return statement != NULL;
}

bool uvk_edit_mend(struct uvk_edits *edits, const struct uvk_message *message, GError **error)
{
    const struct uvk_place place = message->place;

    switch (message->mend) {
    case UVK_MEND_ADD:
        return uvk_edit_insert(edits, place, message->mend_text, error);
    case UVK_MEND_REMOVE:
        return uvk_edit_remove(edits, place, error);
    case UVK_MEND_WORDS:
        if (stands_here(edits, place, error)) {
            uvk_edits_replace(edits, place.at, place.length, message->mend_text);
            return true;
        }
        return false;
    default:
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "nothing mends this for sure");
        return false;
    }
}
