/* mentions.c - see mentions.h. */
#include "mentions.h"

#include <string.h>

/* ---- definitions ------------------------------------------------------------------------- */

static const struct {
    const char *block, *keyword; /* the statement KEYWORD in a BLOCK defines its second word */
    enum named kind;
} definitions[] = {
    {"keymap", "layer", NAMED_CELL},   {"keymap", "macro", NAMED_CELL},
    {"keymap", "dance", NAMED_CELL},   {"keymap", "let", NAMED_CELL},
    {"keymap", "feel", NAMED_FEEL},    {"board", "knob", NAMED_KNOB},
    {"board", "choice", NAMED_CHOICE},
};

/* Statements whose second word is such a name. */
static const struct {
    const char *keyword;
    enum named kind;
} uses[] = {{"knob", NAMED_KNOB}, {"turn", NAMED_KNOB}, {"choice", NAMED_CHOICE}};

static void clear_mention(void *data)
{
    g_free(((struct mention *)data)->name);
}

static const char *word_of(const struct uvk_node *node)
{
    bool named = node != NULL && (node->kind == UVK_NODE_NAME || node->kind == UVK_NODE_CALL);

    return named ? node->text : NULL;
}

static bool are_equal(const char *a, const char *b)
{
    return a != NULL && b != NULL && strcmp(a, b) == 0;
}

static void add(GArray *list, struct uvk_place place, const char *name, enum named kind)
{
    struct mention mention = {.place = place, .name = g_strdup(name), .kind = kind};

    mention.place.length = (uint32_t)strlen(name);
    g_array_append_val(list, mention);
}

/* ---- the tree ---------------------------------------------------------------------------- */

/* A name that stands last in NODE. */
static void add_last(GArray *list, const struct uvk_node *node, enum named kind)
{
    if (node->text != NULL) {
        add(list, uvk_last_word(node), node->text, kind);
    }
}

/* What stands in a cell, and in anything that looks like one. */
static void add_names(GArray *list, const struct uvk_node *node)
{
    switch (node->kind) {
    case UVK_NODE_NAME:
    case UVK_NODE_CALL:
        add(list, node->place, node->text, NAMED_CELL);
        break;
    case UVK_NODE_FEEL:
        add_last(list, node, NAMED_FEEL);
        break;
    case UVK_NODE_PUSH:
        add_last(list, node, NAMED_KNOB);
        break;
    case UVK_NODE_ADDRESS:
        return;
    default:
        break;
    }
    for (const struct uvk_node *at = node->child; at != NULL; at = at->next) {
        if (at->kind != UVK_NODE_BLOCK) {
            add_names(list, at);
        }
    }
}

struct uvk_place whole_statement(const struct uvk_node *statement)
{
    const struct uvk_node *last = statement->child;

    while (last != NULL && last->next != NULL) {
        last = last->next;
    }
    return last != NULL ? uvk_place_span(statement->place, last->place) : statement->place;
}

static bool add_definition(GArray *list, const struct uvk_node *statement, const char *block)
{
    const struct uvk_node *name = statement->child->next;

    for (size_t i = 0; i < G_N_ELEMENTS(definitions); i++) {
        if (are_equal(block, definitions[i].block) &&
            are_equal(word_of(statement->child), definitions[i].keyword) &&
            word_of(name) != NULL) {
            add(list, name->place, name->text, definitions[i].kind);
            g_array_index(list, struct mention, list->len - 1).keyword = definitions[i].keyword;
            g_array_index(list, struct mention, list->len - 1).whole =
                whole_statement(statement);
            return true;
        }
    }
    return false;
}

static enum named kind_behind(const char *keyword)
{
    for (size_t i = 0; i < G_N_ELEMENTS(uses); i++) {
        if (are_equal(keyword, uses[i].keyword)) {
            return uses[i].kind;
        }
    }
    return NAMED_CELL;
}

static void add_statements(GArray *list, const struct uvk_node *block, const char *within);

/* In a layer a line of cells begins with a cell, elsewhere with a keyword. */
static void add_statement(GArray *list, const struct uvk_node *statement, const char *within)
{
    const char *keyword = word_of(statement->child);
    const struct uvk_node *rest = statement->child;
    enum named kind = kind_behind(keyword);

    if (add_definition(list, statement, within)) {
        rest = rest->next->next;
    } else if (kind != NAMED_CELL && word_of(rest->next) != NULL) {
        add(list, rest->next->place, rest->next->text, kind);
        rest = rest->next->next;
    } else if (!are_equal(within, "layer")) {
        rest = rest->next;
    }
    for (; rest != NULL; rest = rest->next) {
        if (rest->kind == UVK_NODE_BLOCK) {
            add_statements(list, rest, keyword);
        } else {
            add_names(list, rest);
        }
    }
}

static void add_statements(GArray *list, const struct uvk_node *block, const char *within)
{
    for (const struct uvk_node *at = block->child; at != NULL; at = at->next) {
        if (at->child != NULL) {
            add_statement(list, at, within);
        }
    }
}

GArray *mentions_of(const struct uvk_program *program)
{
    GArray *list = g_array_new(FALSE, TRUE, sizeof(struct mention));
    struct uvk_arena *arena = uvk_arena_new();
    struct uvk_messages unheard;

    uvk_messages_init(&unheard);
    g_array_set_clear_func(list, clear_mention);
    for (guint i = 0; i < program->sources->len; i++) {
        add_statements(list, uvk_parse(program->sources->pdata[i], arena, &unheard), NULL);
    }
    uvk_messages_clear(&unheard);
    uvk_arena_free(arena);
    return list;
}

/* ---- looking ----------------------------------------------------------------------------- */

bool is_same_name(const struct mention *a, const struct mention *b)
{
    return a->kind == b->kind && strcmp(a->name, b->name) == 0;
}

static bool is_defined(const GArray *list, const struct mention *mention)
{
    for (guint i = 0; i < list->len; i++) {
        const struct mention *other = &g_array_index(list, struct mention, i);
        if (other->keyword != NULL && is_same_name(other, mention)) {
            return true;
        }
    }
    return false;
}

const struct mention *mention_at(const GArray *list, const struct uvk_source *source, size_t at)
{
    for (guint i = 0; i < list->len; i++) {
        const struct mention *mention = &g_array_index(list, struct mention, i);
        if (mention->place.source == source && mention->place.at <= at &&
            at <= (size_t)mention->place.at + mention->place.length &&
            is_defined(list, mention)) {
            return mention;
        }
    }
    return NULL;
}
