/* parser.c - from words to the tree, whatever the words mean.
 *
 * A statement with a mistake is reported, skipped to its end and marked as broken; the
 * next one is read as if nothing had happened. */
#include "lexer.h"

#include <string.h>

/* What a statement's items may be. In a `keys` block and behind `turn`, + is a sign. */
enum mode { MODE_CELLS, MODE_PLACES };

struct parser {
    struct lexer lexer;
    struct token token; /* the one that is looked at */
    unsigned depth;
    bool failed;  /* the current statement has a mistake */
    bool give_up; /* the rest of the file is not worth reading */
};

static void advance(struct parser *parser)
{
    parser->token = lexer_next(&parser->lexer);
}

static bool at(const struct parser *parser, enum token_kind kind)
{
    return parser->token.kind == kind;
}

static struct uvk_node *new_node(struct parser *parser, enum uvk_node_kind kind)
{
    struct uvk_node *node = uvk_arena_take(parser->lexer.arena, sizeof *node);

    node->kind = kind;
    node->place = parser->token.place;
    node->text = parser->token.text;
    node->number = parser->token.number;
    node->second = parser->token.second;
    return node;
}

static struct uvk_node *parent(struct parser *parser, enum uvk_node_kind kind,
                               struct uvk_node *child)
{
    struct uvk_node *node = new_node(parser, kind);

    node->child = child;
    node->place = child->place;
    node->text = NULL;
    return node;
}

static void extend(struct uvk_node *node, const struct uvk_node *last)
{
    node->place = uvk_place_span(node->place, last->place);
}

/* How a word looks in a message. */
static char *describe(const struct token *token)
{
    switch (token->kind) {
    case TOKEN_END:
        return g_strdup("the end of the file");
    case TOKEN_LINE:
        return g_strdup("the end of the line");
    default:
        return g_strdup_printf("'%.*s'", (int)token->place.length,
                               token->place.source->text + token->place.at);
    }
}

static struct uvk_node *expected(struct parser *parser, const char *what)
{
    if (!at(parser, TOKEN_BAD) && !parser->failed) {
        char *found = describe(&parser->token);
        uvk_say(parser->lexer.messages, 12, parser->token.place, NULL, "expected %s, found %s",
                what, found);
        g_free(found);
    }
    parser->failed = true;
    return NULL;
}

/* One level deeper; past the limit the file is given up. */
static bool deeper(struct parser *parser)
{
    if (++parser->depth <= UVK_DEPTH_MAX) {
        return true;
    }
    if (!parser->give_up) {
        uvk_say(parser->lexer.messages, 5, parser->token.place, NULL,
                "nested more than %u deep; the rest of the file is not read", UVK_DEPTH_MAX);
    }
    parser->failed = true;
    parser->give_up = true;
    return false;
}

static void skip_lines(struct parser *parser)
{
    while (at(parser, TOKEN_LINE)) {
        advance(parser);
    }
}

static struct uvk_node *take(struct parser *parser, enum uvk_node_kind kind)
{
    struct uvk_node *node = new_node(parser, kind);

    advance(parser);
    return node;
}

static struct uvk_node *parse_item(struct parser *parser, enum mode mode);

/* (a, b): the arguments of a call, up to and with the closing parenthesis. */
static struct uvk_node *parse_arguments(struct parser *parser, struct uvk_node *call)
{
    struct uvk_node **end = &call->child;

    advance(parser);
    skip_lines(parser);
    while (!at(parser, TOKEN_CLOSE)) {
        *end = parse_item(parser, MODE_CELLS);
        if (*end == NULL) {
            return NULL;
        }
        end = &(*end)->next;
        skip_lines(parser);
        if (at(parser, TOKEN_COMMA)) {
            advance(parser);
            skip_lines(parser);
        } else if (!at(parser, TOKEN_CLOSE)) {
            return expected(parser, "',' or ')'");
        }
    }
    call->place.length = parser->token.place.at + 1 - call->place.at;
    advance(parser);
    return call;
}

static struct uvk_node *parse_primary(struct parser *parser, enum mode mode);

/* name, name(...), name:value, half.address */
static struct uvk_node *parse_named(struct parser *parser, enum mode mode)
{
    struct uvk_node *node = take(parser, UVK_NODE_NAME);
    bool close = !parser->token.after_space;

    if (at(parser, TOKEN_OPEN) && mode == MODE_CELLS && close) {
        struct uvk_node *call;
        node->kind = UVK_NODE_CALL;
        if (!deeper(parser)) {
            return NULL;
        }
        call = parse_arguments(parser, node);
        parser->depth--;
        return call;
    }
    if (at(parser, TOKEN_COLON) && mode == MODE_CELLS) {
        advance(parser);
        node->kind = UVK_NODE_QUALIFIED;
        node->child = parse_primary(parser, mode);
        if (node->child != NULL) {
            extend(node, node->child);
        }
        return node->child != NULL ? node : NULL;
    }
    if (at(parser, TOKEN_DOT) && close) {
        advance(parser);
        if (!at(parser, TOKEN_NAME) || parser->token.after_space) {
            return expected(parser, "an address behind the '.'");
        }
        node->kind = UVK_NODE_ADDRESS;
        node->child = take(parser, UVK_NODE_NAME);
        extend(node, node->child);
    }
    return node;
}

static struct uvk_node *parse_primary(struct parser *parser, enum mode mode)
{
    static const struct {
        enum token_kind token;
        enum uvk_node_kind node;
    } simple[] = {
        {TOKEN_NUMBER, UVK_NODE_NUMBER}, {TOKEN_TIME, UVK_NODE_TIME},
        {TOKEN_STRING, UVK_NODE_STRING}, {TOKEN_CHARACTER, UVK_NODE_CHARACTER},
        {TOKEN_DOT, UVK_NODE_THROUGH},   {TOKEN_NOTHING, UVK_NODE_NOTHING},
    };

    if (at(parser, TOKEN_NAME)) {
        struct uvk_node *node;
        if (!deeper(parser)) {
            return NULL;
        }
        node = parse_named(parser, mode);
        parser->depth--;
        return node;
    }
    for (size_t i = 0; i < G_N_ELEMENTS(simple); i++) {
        if (at(parser, simple[i].token)) {
            return take(parser, simple[i].node);
        }
    }
    return expected(parser, mode == MODE_CELLS ? "a key, a name or a value" : "a place");
}

/* Children joined by a sign, as in ctrl+shift+esc or tap/held. */
static struct uvk_node *parse_joined(struct parser *parser, enum token_kind sign,
                                     enum uvk_node_kind kind,
                                     struct uvk_node *(*parse)(struct parser *))
{
    struct uvk_node *first = parse(parser);
    struct uvk_node *node;

    if (first == NULL || !at(parser, sign)) {
        return first;
    }
    node = parent(parser, kind, first);
    for (struct uvk_node *last = first; at(parser, sign); last = last->next) {
        advance(parser);
        last->next = parse(parser);
        if (last->next == NULL) {
            return NULL;
        }
        extend(node, last->next);
    }
    return node;
}

static struct uvk_node *parse_cell_primary(struct parser *parser)
{
    return parse_primary(parser, MODE_CELLS);
}

static struct uvk_node *parse_chord(struct parser *parser)
{
    return parse_joined(parser, TOKEN_PLUS, UVK_NODE_CHORD, parse_cell_primary);
}

static struct uvk_node *parse_cell(struct parser *parser)
{
    struct uvk_node *cell = parse_joined(parser, TOKEN_SLASH, UVK_NODE_TAP_HOLD, parse_chord);

    if (cell != NULL && at(parser, TOKEN_TILDE)) {
        struct uvk_node *node = parent(parser, UVK_NODE_FEEL, cell);
        advance(parser);
        if (!at(parser, TOKEN_NAME)) {
            return expected(parser, "the name of a feel");
        }
        node->text = parser->token.text;
        node->place = uvk_place_span(node->place, parser->token.place);
        advance(parser);
        return node;
    }
    return cell;
}

/* =KNOB behind an address, or alone where there is no switch. */
static struct uvk_node *parse_push(struct parser *parser, struct uvk_node *child)
{
    struct uvk_node *node = new_node(parser, UVK_NODE_PUSH);

    node->child = child;
    if (child != NULL) {
        node->place = child->place;
    }
    advance(parser);
    if (!at(parser, TOKEN_NAME)) {
        return expected(parser, "the name of a knob");
    }
    node->text = parser->token.text;
    node->place = uvk_place_span(node->place, parser->token.place);
    advance(parser);
    return node;
}

/* address[*WxH][=KNOB] */
static struct uvk_node *parse_place(struct parser *parser)
{
    struct uvk_node *place = parse_primary(parser, MODE_PLACES);

    if (place != NULL && at(parser, TOKEN_STAR)) {
        struct uvk_node *sized = parent(parser, UVK_NODE_SIZED, place);
        advance(parser);
        if (!at(parser, TOKEN_NUMBER) && !at(parser, TOKEN_SIZE)) {
            return expected(parser, "a size");
        }
        sized->number = parser->token.number;
        sized->second = at(parser, TOKEN_SIZE) ? parser->token.second : 1;
        sized->place = uvk_place_span(sized->place, parser->token.place);
        advance(parser);
        place = sized;
    }
    if (place != NULL && at(parser, TOKEN_EQUALS)) {
        return parse_push(parser, place);
    }
    return place;
}

/* +G: a gap, or a count with its sign */
static struct uvk_node *parse_gap(struct parser *parser)
{
    struct uvk_node *gap = new_node(parser, UVK_NODE_GAP);

    advance(parser);
    if (!at(parser, TOKEN_NUMBER)) {
        return expected(parser, "a number behind the '+'");
    }
    gap->number = parser->token.number;
    gap->place = uvk_place_span(gap->place, parser->token.place);
    advance(parser);
    return gap;
}

/* (choice=value: places) */
static struct uvk_node *parse_choice(struct parser *parser)
{
    struct uvk_node *choice = new_node(parser, UVK_NODE_CHOICE);
    struct uvk_node **end = &choice->child;

    advance(parser);
    skip_lines(parser);
    if (!at(parser, TOKEN_NAME)) {
        return expected(parser, "the name of a choice");
    }
    choice->text = parser->token.text;
    advance(parser);
    if (!at(parser, TOKEN_EQUALS)) {
        return expected(parser, "'='");
    }
    advance(parser);
    if (!at(parser, TOKEN_NAME)) {
        return expected(parser, "what was chosen");
    }
    *end = take(parser, UVK_NODE_NAME);
    end = &(*end)->next;
    if (!at(parser, TOKEN_COLON)) {
        return expected(parser, "':'");
    }
    advance(parser);
    for (skip_lines(parser); !at(parser, TOKEN_CLOSE); skip_lines(parser)) {
        *end = parse_item(parser, MODE_PLACES);
        if (*end == NULL) {
            return NULL;
        }
        end = &(*end)->next;
    }
    choice->place = uvk_place_span(choice->place, parser->token.place);
    advance(parser);
    return choice;
}

static struct uvk_node *parse_place_item(struct parser *parser)
{
    switch (parser->token.kind) {
    case TOKEN_PLUS:
        return parse_gap(parser);
    case TOKEN_EQUALS:
        return parse_push(parser, NULL);
    case TOKEN_OPEN: {
        struct uvk_node *choice = deeper(parser) ? parse_choice(parser) : NULL;
        parser->depth--;
        return choice;
    }
    default:
        return parse_place(parser);
    }
}

static struct uvk_node *parse_item(struct parser *parser, enum mode mode)
{
    static const struct {
        enum token_kind token;
        enum uvk_node_kind node;
    } signs[] = {
        {TOKEN_ARROW, UVK_NODE_ARROW},
        {TOKEN_EQUALS, UVK_NODE_EQUALS},
        {TOKEN_LESS, UVK_NODE_LESS},
        {TOKEN_COMMA, UVK_NODE_COMMA},
    };

    if (mode == MODE_PLACES) {
        return parse_place_item(parser);
    }
    for (size_t i = 0; i < G_N_ELEMENTS(signs); i++) {
        if (at(parser, signs[i].token)) {
            return take(parser, signs[i].node);
        }
    }
    return parse_cell(parser);
}

static bool ends_statement(const struct parser *parser)
{
    switch (parser->token.kind) {
    case TOKEN_END:
    case TOKEN_LINE:
    case TOKEN_SEMICOLON:
    case TOKEN_CLOSE_BLOCK:
        return true;
    default:
        return false;
    }
}

/* Skip what is left of a broken statement, its blocks and parentheses included. */
static void skip_statement(struct parser *parser)
{
    unsigned open = 0;

    parser->lexer.muted = true;
    while (!at(parser, TOKEN_END) && (open > 0 || !ends_statement(parser))) {
        if (at(parser, TOKEN_OPEN_BLOCK)) {
            open++;
        } else if (at(parser, TOKEN_CLOSE_BLOCK)) {
            open--;
        }
        advance(parser);
    }
    parser->lexer.muted = false;
}

static struct uvk_node *parse_statements(struct parser *parser, enum mode mode, bool in_block);

static struct uvk_node *parse_block(struct parser *parser, enum mode mode)
{
    struct uvk_place open = parser->token.place;
    struct uvk_node *block;

    if (!deeper(parser)) {
        return NULL;
    }
    advance(parser);
    block = parse_statements(parser, mode, true);
    parser->depth--;
    block->place = uvk_place_span(open, parser->token.place);
    if (at(parser, TOKEN_CLOSE_BLOCK)) {
        advance(parser);
    } else if (!parser->give_up) {
        uvk_say(parser->lexer.messages, 11, open, NULL, "this '{' is never closed");
        parser->give_up = true;
    }
    return block;
}

/* A line that starts with '{' goes on with the statement above it. */
static bool block_follows(struct parser *parser)
{
    struct parser ahead;

    if (at(parser, TOKEN_OPEN_BLOCK)) {
        return true;
    }
    if (!at(parser, TOKEN_LINE)) {
        return false;
    }
    ahead = *parser;
    ahead.lexer.muted = true;
    skip_lines(&ahead);
    if (!at(&ahead, TOKEN_OPEN_BLOCK)) {
        return false;
    }
    skip_lines(parser);
    return true;
}

static enum mode items_mode(const struct uvk_node *first, enum mode block)
{
    bool turn = first != NULL && first->text != NULL && first->kind == UVK_NODE_NAME &&
                strcmp(first->text, "turn") == 0;

    return turn ? MODE_PLACES : block;
}

static enum mode block_mode(const struct uvk_node *first)
{
    bool keys = first != NULL && first->kind == UVK_NODE_NAME && first->text != NULL &&
                strcmp(first->text, "keys") == 0;

    return keys ? MODE_PLACES : MODE_CELLS;
}

static struct uvk_node *parse_statement(struct parser *parser, enum mode mode)
{
    struct uvk_node *statement = new_node(parser, UVK_NODE_STATEMENT);
    struct uvk_node **end = &statement->child;

    parser->failed = false;
    statement->text = NULL;
    while (!parser->failed && !ends_statement(parser) && !at(parser, TOKEN_OPEN_BLOCK)) {
        *end = parse_item(parser, items_mode(statement->child, mode));
        if (*end != NULL) {
            extend(statement, *end);
            end = &(*end)->next;
        }
    }
    if (!parser->failed && block_follows(parser)) {
        *end = parse_block(parser, block_mode(statement->child));
        parser->failed = *end == NULL;
        if (!parser->failed && !ends_statement(parser)) {
            expected(parser, "the end of the line behind '}'");
        }
    }
    if (parser->failed) {
        skip_statement(parser);
        statement->kind = UVK_NODE_BROKEN;
    }
    return statement;
}

static struct uvk_node *parse_statements(struct parser *parser, enum mode mode, bool in_block)
{
    struct uvk_node *block = new_node(parser, UVK_NODE_BLOCK);
    struct uvk_node **end = &block->child;

    block->text = NULL;
    while (!at(parser, TOKEN_END) && !parser->give_up) {
        if (at(parser, TOKEN_LINE) || at(parser, TOKEN_SEMICOLON)) {
            advance(parser);
        } else if (!at(parser, TOKEN_CLOSE_BLOCK)) {
            *end = parse_statement(parser, mode);
            end = &(*end)->next;
        } else if (in_block) {
            break;
        } else {
            uvk_say(parser->lexer.messages, 11, parser->token.place, NULL,
                    "this '}' closes nothing");
            advance(parser);
        }
    }
    return block;
}

struct uvk_node *uvk_parse(const struct uvk_source *source, struct uvk_arena *arena,
                           struct uvk_messages *messages)
{
    struct parser parser = {
        .lexer = {.source = source, .arena = arena, .messages = messages, .at = source->text}};

    struct uvk_node *block;

    advance(&parser);
    block = parse_statements(&parser, MODE_CELLS, false);
    if (parser.give_up) {
        block->child = NULL; /* what was read may be anything */
    }
    return block;
}
