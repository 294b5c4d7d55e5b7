/* items.c - the items of a statement: cells, places, values, signs. */
#include "parser.h"

#include <string.h>

void parser_advance(struct parser *parser)
{
    parser->token = lexer_next(&parser->lexer);
}

bool parser_at(const struct parser *parser, enum token_kind kind)
{
    return parser->token.kind == kind;
}

struct uvk_node *parser_node(struct parser *parser, enum uvk_node_kind kind)
{
    struct uvk_node *node = uvk_arena_take(parser->lexer.arena, sizeof *node);

    node->kind = kind;
    node->place = parser->token.place;
    node->text = parser->token.text;
    node->number = parser->token.number;
    node->second = parser->token.second;
    return node;
}

struct uvk_place uvk_last_word(const struct uvk_node *node)
{
    struct uvk_place place = node->place;
    uint32_t length = (uint32_t)strlen(node->text);

    place.at += place.length - length;
    place.length = length;
    return place;
}

static struct uvk_node *parent(struct parser *parser, enum uvk_node_kind kind,
                               struct uvk_node *child)
{
    struct uvk_node *node = parser_node(parser, kind);

    node->child = child;
    node->place = child->place;
    node->text = NULL;
    return node;
}

void parser_extend(struct uvk_node *node, const struct uvk_node *last)
{
    node->place = uvk_place_span(node->place, last->place);
}

/* How a word looks in a message. */
static char *describe(const struct token *token)
{
    switch (token->kind) {
    case TOKEN_END:
        return g_strdup("the end of the text");
    case TOKEN_LINE:
        return g_strdup("the end of the line");
    default:
        return g_strdup_printf("'%.*s'", (int)token->place.length,
                               token->place.source->text + token->place.at);
    }
}

struct uvk_node *parser_expected(struct parser *parser, const char *what)
{
    if (!parser_at(parser, TOKEN_BAD) && !parser->failed) {
        char *found = describe(&parser->token);
        const char *fix = parser_at(parser, TOKEN_BAR)
                              ? "a tap-hold is TAP/HELD; a sign that is typed stands in quotes"
                              : NULL;
        uvk_say(parser->lexer.messages, UVK_SAYS_EXPECTED, parser->token.place, fix,
                "expected %s, found %s", what, found);
        g_free(found);
    }
    parser->failed = true;
    return NULL;
}

/* One level deeper; past the limit the file is given up. */
bool parser_deeper(struct parser *parser)
{
    if (++parser->depth <= UVK_DEPTH_MAX) {
        return true;
    }
    if (!parser->give_up) {
        uvk_say(parser->lexer.messages, UVK_SAYS_TOO_DEEP, parser->token.place, NULL,
                "nested more than %u deep; the rest of the file is not read", UVK_DEPTH_MAX);
    }
    parser->failed = true;
    parser->give_up = true;
    return false;
}

void parser_skip_lines(struct parser *parser)
{
    while (parser_at(parser, TOKEN_LINE)) {
        parser_advance(parser);
    }
}

static struct uvk_node *take(struct parser *parser, enum uvk_node_kind kind)
{
    struct uvk_node *node = parser_node(parser, kind);

    parser_advance(parser);
    return node;
}

/* (a, b): the arguments of a call, up to and with the closing parenthesis. */
static struct uvk_node *parse_arguments(struct parser *parser, struct uvk_node *call)
{
    struct uvk_node **end = &call->child;

    parser_advance(parser);
    parser_skip_lines(parser);
    while (!parser_at(parser, TOKEN_CLOSE)) {
        *end = parser_item(parser, MODE_CELLS);
        if (*end == NULL) {
            return NULL;
        }
        end = &(*end)->next;
        parser_skip_lines(parser);
        if (parser_at(parser, TOKEN_COMMA)) {
            parser_advance(parser);
            parser_skip_lines(parser);
        } else if (!parser_at(parser, TOKEN_CLOSE)) {
            return parser_expected(parser, "',' or ')'");
        }
    }
    call->place.length = parser->token.place.at + 1 - call->place.at;
    parser_advance(parser);
    return call;
}

static struct uvk_node *parse_primary(struct parser *parser, enum mode mode);

/* name, name(...), name:value, half.address */
static struct uvk_node *parse_named(struct parser *parser, enum mode mode)
{
    struct uvk_node *node = take(parser, UVK_NODE_NAME);
    bool close = !parser->token.after_space;

    if (parser_at(parser, TOKEN_OPEN) && mode == MODE_CELLS && close) {
        struct uvk_node *call;
        node->kind = UVK_NODE_CALL;
        if (!parser_deeper(parser)) {
            return NULL;
        }
        call = parse_arguments(parser, node);
        parser->depth--;
        return call;
    }
    if (parser_at(parser, TOKEN_COLON) && mode == MODE_CELLS) {
        parser_advance(parser);
        node->kind = UVK_NODE_QUALIFIED;
        node->child = parse_primary(parser, mode);
        if (node->child != NULL) {
            parser_extend(node, node->child);
        }
        return node->child != NULL ? node : NULL;
    }
    if (parser_at(parser, TOKEN_DOT) && close) {
        parser_advance(parser);
        if (!parser_at(parser, TOKEN_NAME) || parser->token.after_space) {
            return parser_expected(parser, "an address behind the '.'");
        }
        node->kind = UVK_NODE_ADDRESS;
        node->child = take(parser, UVK_NODE_NAME);
        parser_extend(node, node->child);
    }
    return node;
}

static struct uvk_node *parse_primary(struct parser *parser, enum mode mode)
{
    static const struct {
        enum token_kind token;
        enum uvk_node_kind node;
    } simple[] = {
        {TOKEN_NUMBER, UVK_NODE_NUMBER},       {TOKEN_TIME, UVK_NODE_TIME},
        {TOKEN_PERCENT, UVK_NODE_PERCENT},     {TOKEN_STRING, UVK_NODE_STRING},
        {TOKEN_CURRENT, UVK_NODE_CURRENT},     {TOKEN_COLOUR, UVK_NODE_COLOUR},
        {TOKEN_CHARACTER, UVK_NODE_CHARACTER}, {TOKEN_DOT, UVK_NODE_THROUGH},
        {TOKEN_NOTHING, UVK_NODE_NOTHING},
    };

    if (parser_at(parser, TOKEN_NAME)) {
        struct uvk_node *node;
        if (!parser_deeper(parser)) {
            return NULL;
        }
        node = parse_named(parser, mode);
        parser->depth--;
        return node;
    }
    for (size_t i = 0; i < G_N_ELEMENTS(simple); i++) {
        if (parser_at(parser, simple[i].token)) {
            return take(parser, simple[i].node);
        }
    }
    return parser_expected(parser, mode == MODE_CELLS ? "a key, a name or a value" : "a place");
}

/* Children joined by a sign, as in ctrl+shift+esc or tap/held. */
static struct uvk_node *parse_joined(struct parser *parser, enum token_kind sign,
                                     enum uvk_node_kind kind,
                                     struct uvk_node *(*parse)(struct parser *))
{
    struct uvk_node *first = parse(parser);
    struct uvk_node *node;

    if (first == NULL || !parser_at(parser, sign)) {
        return first;
    }
    node = parent(parser, kind, first);
    for (struct uvk_node *last = first; parser_at(parser, sign); last = last->next) {
        parser_advance(parser);
        last->next = parse(parser);
        if (last->next == NULL) {
            return NULL;
        }
        parser_extend(node, last->next);
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

    if (cell != NULL && parser_at(parser, TOKEN_TILDE)) {
        struct uvk_node *node = parent(parser, UVK_NODE_FEEL, cell);
        parser_advance(parser);
        if (!parser_at(parser, TOKEN_NAME)) {
            return parser_expected(parser, "the name of a feel");
        }
        node->text = parser->token.text;
        node->place = uvk_place_span(node->place, parser->token.place);
        parser_advance(parser);
        return node;
    }
    return cell;
}

/* =KNOB behind an address, or alone where there is no switch. */
static struct uvk_node *parse_push(struct parser *parser, struct uvk_node *child)
{
    struct uvk_node *node = parser_node(parser, UVK_NODE_PUSH);

    node->child = child;
    if (child != NULL) {
        node->place = child->place;
    }
    parser_advance(parser);
    if (!parser_at(parser, TOKEN_NAME)) {
        return parser_expected(parser, "the name of a knob");
    }
    node->text = parser->token.text;
    node->place = uvk_place_span(node->place, parser->token.place);
    parser_advance(parser);
    return node;
}

/* address[*WxH][=KNOB]; an `=KNOB` behind a space stands for itself */
static struct uvk_node *parse_place(struct parser *parser)
{
    struct uvk_node *place = parse_primary(parser, MODE_PLACES);

    if (place != NULL && parser_at(parser, TOKEN_STAR)) {
        struct uvk_node *sized = parent(parser, UVK_NODE_SIZED, place);
        parser_advance(parser);
        if (!parser_at(parser, TOKEN_NUMBER) && !parser_at(parser, TOKEN_SIZE)) {
            return parser_expected(parser, "a size");
        }
        sized->number = parser->token.number;
        sized->second = parser_at(parser, TOKEN_SIZE) ? parser->token.second : 1;
        sized->place = uvk_place_span(sized->place, parser->token.place);
        parser_advance(parser);
        place = sized;
    }
    if (place != NULL && parser_at(parser, TOKEN_EQUALS) && !parser->token.after_space) {
        return parse_push(parser, place);
    }
    return place;
}

/* +G: a gap, or a count with its sign */
static struct uvk_node *parse_gap(struct parser *parser)
{
    struct uvk_node *gap = parser_node(parser, UVK_NODE_GAP);

    parser_advance(parser);
    if (!parser_at(parser, TOKEN_NUMBER)) {
        return parser_expected(parser, "a number behind the '+'");
    }
    gap->number = parser->token.number;
    gap->place = uvk_place_span(gap->place, parser->token.place);
    parser_advance(parser);
    return gap;
}

/* (choice=value: places) */
static struct uvk_node *parse_choice(struct parser *parser)
{
    struct uvk_node *choice = parser_node(parser, UVK_NODE_CHOICE);
    struct uvk_node **end = &choice->child;

    parser_advance(parser);
    parser_skip_lines(parser);
    if (!parser_at(parser, TOKEN_NAME)) {
        return parser_expected(parser, "the name of a choice");
    }
    choice->text = parser->token.text;
    choice->place = parser->token.place; /* where a choice that is not there is told */
    parser_advance(parser);
    if (!parser_at(parser, TOKEN_EQUALS)) {
        return parser_expected(parser, "'='");
    }
    parser_advance(parser);
    if (!parser_at(parser, TOKEN_NAME)) {
        return parser_expected(parser, "what was chosen");
    }
    *end = take(parser, UVK_NODE_NAME);
    end = &(*end)->next;
    if (!parser_at(parser, TOKEN_COLON)) {
        return parser_expected(parser, "':'");
    }
    parser_advance(parser);
    for (parser_skip_lines(parser); !parser_at(parser, TOKEN_CLOSE);
         parser_skip_lines(parser)) {
        *end = parser_item(parser, MODE_PLACES);
        if (*end == NULL) {
            return NULL;
        }
        end = &(*end)->next;
    }
    parser_advance(parser);
    return choice;
}

static struct uvk_node *parse_place_item(struct parser *parser)
{
    switch (parser->token.kind) {
    case TOKEN_PLUS:
        return parse_gap(parser);
    case TOKEN_EQUALS:
        return parse_push(parser, NULL);
    case TOKEN_BAR:
        return take(parser, UVK_NODE_BAR);
    case TOKEN_OPEN: {
        struct uvk_node *choice = parser_deeper(parser) ? parse_choice(parser) : NULL;
        parser->depth--;
        return choice;
    }
    default:
        return parse_place(parser);
    }
}

struct uvk_node *parser_item(struct parser *parser, enum mode mode)
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

    if (mode == MODE_LAMPS && parser_at(parser, TOKEN_PLUS)) {
        return take(parser, UVK_NODE_PLUS);
    }
    if (mode != MODE_CELLS) {
        return parse_place_item(parser);
    }
    for (size_t i = 0; i < G_N_ELEMENTS(signs); i++) {
        if (parser_at(parser, signs[i].token)) {
            return take(parser, signs[i].node);
        }
    }
    return parse_cell(parser);
}
