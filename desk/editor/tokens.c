/* tokens.c - what each word of a text is, for clients that colour by it: a name is coloured as
 * what it was defined as. */
#include "mentions.h"
#include "tree.h"

#include "uvrek/names.h"

#include <limits.h>
#include <string.h>

/* In the order of their names below, which is the protocol's. */
enum token {
    TOKEN_KEYWORD,
    TOKEN_LAYER,
    TOKEN_MACRO,
    TOKEN_LET,
    TOKEN_PARAMETER,
    TOKEN_FEEL,
    TOKEN_KEY,
    TOKEN_PREFIX,
    TOKEN_ADDRESS,
    TOKEN_NUMBER,
    TOKEN_STRING,
    TOKEN_COMMENT,
    TOKEN_NONE
};

static const char *const token_names[TOKEN_NONE] = {
    "keyword",    "class",    "macro", "variable", "parameter", "property",
    "enumMember", "modifier", "type",  "number",   "string",    "comment"};

/* What a definition's statement makes of its name. */
static const struct {
    const char *keyword;
    enum token token;
} defined[] = {{"layer", TOKEN_LAYER}, {"macro", TOKEN_MACRO}, {"dance", TOKEN_MACRO},
               {"let", TOKEN_LET},     {"feel", TOKEN_FEEL},   {"knob", TOKEN_LET},
               {"choice", TOKEN_LET}};

static const struct {
    enum uvk_node_kind kind;
    enum token token;
} plain[] = {{UVK_NODE_NUMBER, TOKEN_NUMBER},    {UVK_NODE_TIME, TOKEN_NUMBER},
             {UVK_NODE_PERCENT, TOKEN_NUMBER},   {UVK_NODE_CURRENT, TOKEN_NUMBER},
             {UVK_NODE_COLOUR, TOKEN_NUMBER},    {UVK_NODE_STRING, TOKEN_STRING},
             {UVK_NODE_CHARACTER, TOKEN_STRING}, {UVK_NODE_ADDRESS, TOKEN_ADDRESS}};

/* A word of the text. */
struct word {
    uint32_t at, length; /* bytes */
    enum token token;
};

struct painter {
    GHashTable *own; /* of enum token and one more, by the name: those that are defined */
    GArray *words;   /* of struct word, in their order */
};

/* ---- names ------------------------------------------------------------------------------- */

/* Which names the program defines, and as what. */
static GHashTable *names_of(const struct uvk_program *program)
{
    GHashTable *own = g_hash_table_new_full(g_str_hash, g_str_equal, g_free, NULL);
    GArray *mentions = mentions_of(program);

    for (guint i = 0; i < mentions->len; i++) {
        const struct mention *mention = &g_array_index(mentions, struct mention, i);
        for (size_t k = 0; mention->keyword != NULL && k < G_N_ELEMENTS(defined); k++) {
            if (strcmp(mention->keyword, defined[k].keyword) == 0) {
                g_hash_table_insert(own, g_strdup(mention->name),
                                    GUINT_TO_POINTER(defined[k].token + 1));
            }
        }
    }
    g_array_unref(mentions);
    return own;
}

/* r1c2, d3. */
static bool is_address(const char *text)
{
    const char *at = text + 1;

    if (text[0] == 'r' && g_ascii_isdigit(*at)) {
        at += strspn(at, "0123456789");
        if (*at != 'c') {
            return false;
        }
        at++;
    } else if (text[0] != 'd') {
        return false;
    }
    return g_ascii_isdigit(*at) && at[strspn(at, "0123456789")] == '\0';
}

/* A word that is not where a statement has its keyword. */
static enum token token_of(const struct painter *painter, const char *name)
{
    void *own = g_hash_table_lookup(painter->own, name);

    return own != NULL                       ? (enum token)(GPOINTER_TO_UINT(own) - 1)
           : uvk_key_named(name) != NULL     ? TOKEN_KEY
           : is_address(name)                ? TOKEN_ADDRESS
           : uvk_setting_named(name) != NULL ? TOKEN_FEEL
                                             : TOKEN_KEYWORD;
}

/* ---- the tree ---------------------------------------------------------------------------- */

static void add(struct painter *painter, uint32_t at, size_t length, enum token token)
{
    struct word word = {at, (uint32_t)length, token};

    g_array_append_val(painter->words, word);
}

static void add_block(struct painter *painter, const struct uvk_node *block, bool cells);

static void add_node(struct painter *painter, const struct uvk_node *node);

static void add_children(struct painter *painter, const struct uvk_node *node)
{
    for (const struct uvk_node *at = node->child; at != NULL; at = at->next) {
        add_node(painter, at);
    }
}

static void add_node(struct painter *painter, const struct uvk_node *node)
{
    for (size_t i = 0; i < G_N_ELEMENTS(plain); i++) {
        if (node->kind == plain[i].kind) {
            add(painter, node->place.at, node->place.length, plain[i].token);
            return;
        }
    }
    if (node->kind == UVK_NODE_NAME || node->kind == UVK_NODE_CALL) {
        add(painter, node->place.at, strlen(node->text), token_of(painter, node->text));
    } else if (node->kind == UVK_NODE_QUALIFIED) {
        add(painter, node->place.at, strlen(node->text), TOKEN_PREFIX);
    }
    add_children(painter, node);
    if (node->kind == UVK_NODE_FEEL || node->kind == UVK_NODE_PUSH) {
        const struct uvk_place last = uvk_last_word(node);
        add(painter, last.at, last.length,
            node->kind == UVK_NODE_FEEL ? TOKEN_FEEL : TOKEN_LET);
    }
}

/* The parameters of a `let` are its own: they count as long as its words are added. */
static void begin_let(struct painter *painter, const struct uvk_node *name)
{
    for (const struct uvk_node *at = name->child; at != NULL; at = at->next) {
        if (at->kind == UVK_NODE_NAME && g_hash_table_lookup(painter->own, at->text) == NULL) {
            g_hash_table_insert(painter->own, g_strdup(at->text),
                                GUINT_TO_POINTER(TOKEN_PARAMETER + 1));
        }
    }
}

static void end_let(struct painter *painter, const struct uvk_node *name)
{
    for (const struct uvk_node *at = name->child; at != NULL; at = at->next) {
        if (at->kind == UVK_NODE_NAME && g_hash_table_lookup(painter->own, at->text) ==
                                             GUINT_TO_POINTER(TOKEN_PARAMETER + 1)) {
            g_hash_table_remove(painter->own, at->text);
        }
    }
}

/* Of a board, a keymap, a module: what it is called. */
static bool is_title(const char *keyword)
{
    return strcmp(keyword, "board") == 0 || strcmp(keyword, "keymap") == 0 ||
           strcmp(keyword, "module") == 0;
}

/* Where cells stand, a line may begin with one. */
static void add_statement(struct painter *painter, const struct uvk_node *statement, bool cells)
{
    const struct uvk_node *first = statement->child;
    const struct uvk_node *name = first->next;
    bool is_let = first->kind == UVK_NODE_NAME && strcmp(first->text, "let") == 0 &&
                  name != NULL && name->kind == UVK_NODE_CALL;
    bool is_layer = first->kind == UVK_NODE_NAME && strcmp(first->text, "layer") == 0;
    bool is_keyword = first->kind == UVK_NODE_NAME && !cells;

    if (is_let) {
        begin_let(painter, name);
    }
    if (is_keyword) {
        add(painter, first->place.at, first->place.length, TOKEN_KEYWORD);
        first = name;
    }
    if (is_keyword && name != NULL && name->kind == UVK_NODE_NAME &&
        is_title(statement->child->text)) {
        add(painter, name->place.at, name->place.length, TOKEN_LAYER);
        first = name->next;
    }
    for (const struct uvk_node *at = first; at != NULL; at = at->next) {
        if (at->kind == UVK_NODE_BLOCK) {
            add_block(painter, at, is_layer);
        } else {
            add_node(painter, at);
        }
    }
    if (is_let) {
        end_let(painter, name);
    }
}

static void add_block(struct painter *painter, const struct uvk_node *block, bool cells)
{
    for (const struct uvk_node *at = block->child; at != NULL; at = at->next) {
        if (at->child != NULL) {
            add_statement(painter, at, cells);
        }
    }
}

/* ---- the text ---------------------------------------------------------------------------- */

/* Where the text is while its words are told: each is told by what lies between it and the one
 * before. */
struct pen {
    const struct document *document;
    enum units units;
    struct range range;
    unsigned line, column;           /* of the place */
    unsigned told_line, told_column; /* of the latest word */
    json_t *data;
};

static void pen_go(struct pen *pen, const char *from, const char *to)
{
    for (const char *at = from; at < to; at = g_utf8_next_char(at)) {
        if (*at == '\n') {
            pen->line++;
            pen->column = 0;
        } else {
            pen->column += units_of(at, pen->units);
        }
    }
}

static void pen_tell(struct pen *pen, size_t at, size_t length, enum token token)
{
    const char *text = pen->document->text->str + at;
    unsigned column =
        pen->line == pen->told_line ? pen->column - pen->told_column : pen->column;
    json_int_t numbers[] = {pen->line - pen->told_line, column, 0, token, 0};

    for (const char *here = text; here < text + length; here = g_utf8_next_char(here)) {
        numbers[2] += units_of(here, pen->units);
    }
    if (at < pen->range.start || at > pen->range.end) {
        return;
    }
    for (size_t i = 0; i < G_N_ELEMENTS(numbers); i++) {
        (void)json_array_append_new(pen->data, json_integer(numbers[i]));
    }
    pen->told_line = pen->line;
    pen->told_column = pen->column;
}

/* Between words a # begins a comment; what is a colour is a word. */
static void tell_comments(struct pen *pen, size_t from, size_t to)
{
    const char *text = pen->document->text->str;
    const char *at = text + from;

    while (at < text + to) {
        size_t length = *at == '#' ? strcspn(at, "\r\n") : 0;
        const char *next = length > 0 ? at + length : g_utf8_next_char(at);
        if (length > 0) {
            pen_tell(pen, (size_t)(at - text), length, TOKEN_COMMENT);
        }
        pen_go(pen, at, next);
        at = next;
    }
}

static void tell_words(struct pen *pen, const GArray *words)
{
    const char *text = pen->document->text->str;
    size_t done = 0;

    for (guint i = 0; i < words->len; i++) {
        const struct word *word = &g_array_index(words, struct word, i);
        if (word->at < done) {
            continue; /* a mistake in the text: it was told as another word */
        }
        tell_comments(pen, done, word->at);
        pen_tell(pen, word->at, word->length, word->token);
        pen_go(pen, text + word->at, text + word->at + word->length);
        done = word->at + word->length;
    }
    tell_comments(pen, done, pen->document->text->len);
}

static json_t *tokens_in(struct uvk_editor *editor, const struct range *range)
{
    struct painter painter = {.own = names_of(whole_program(editor, range->document)),
                              .words = g_array_new(FALSE, TRUE, sizeof(struct word))};
    struct pen pen = {.document = range->document,
                      .units = editor->units,
                      .range = *range,
                      .data = json_array()};
    struct tree tree;

    tree_read(&tree, range->document);
    add_block(&painter, tree.root, false);
    tell_words(&pen, painter.words);
    tree_clear(&tree);
    g_hash_table_unref(painter.own);
    g_array_unref(painter.words);
    return json_pack("{s:o}", "data", pen.data);
}

json_t *token_kinds(void)
{
    json_t *names = json_array();

    for (size_t i = 0; i < G_N_ELEMENTS(token_names); i++) {
        (void)json_array_append_new(names, json_string(token_names[i]));
    }
    return json_pack("{s:{s:o, s:[]}, s:b, s:b}", "legend", "tokenTypes", names,
                     "tokenModifiers", "full", 1, "range", 1);
}

ANSWER(answer_tokens)
{
    struct range range = {document_from(editor, params, failure), 0, SIZE_MAX};

    return range.document != NULL ? tokens_in(editor, &range) : NULL;
}

ANSWER(answer_range_tokens)
{
    struct range range;

    return range_from(editor, params, &range, failure) ? tokens_in(editor, &range) : NULL;
}
