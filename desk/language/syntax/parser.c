/* parser.c - from words to the tree, whatever the words mean: statements and blocks.
 *
 * A statement with a mistake is reported, skipped to its end and marked as broken; the
 * next one is read as if nothing had happened. */
#include "parser.h"

#include <string.h>

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
    while (!parser_at(parser, TOKEN_END) && (open > 0 || !ends_statement(parser))) {
        if (parser_at(parser, TOKEN_OPEN_BLOCK)) {
            open++;
        } else if (parser_at(parser, TOKEN_CLOSE_BLOCK)) {
            open--;
        }
        parser_advance(parser);
    }
    parser->lexer.muted = false;
}

static struct uvk_node *parse_statements(struct parser *parser, enum mode mode, bool in_block);

static struct uvk_node *parse_block(struct parser *parser, enum mode mode)
{
    struct uvk_place open = parser->token.place;
    struct uvk_node *block;

    if (!parser_deeper(parser)) {
        return NULL;
    }
    parser_advance(parser);
    block = parse_statements(parser, mode, true);
    parser->depth--;
    block->place = uvk_place_span(open, parser->token.place);
    if (parser_at(parser, TOKEN_CLOSE_BLOCK)) {
        parser_advance(parser);
    } else if (!parser->give_up) {
        uvk_say(parser->lexer.messages, UVK_SAYS_NO_PARTNER, open, NULL,
                "this '{' is never closed");
        parser->give_up = true;
    }
    return block;
}

/* A line that starts with '{' goes on with the statement above it. */
static bool block_follows(struct parser *parser)
{
    struct parser ahead;

    if (parser_at(parser, TOKEN_OPEN_BLOCK)) {
        return true;
    }
    if (!parser_at(parser, TOKEN_LINE)) {
        return false;
    }
    ahead = *parser;
    ahead.lexer.muted = true;
    parser_skip_lines(&ahead);
    if (!parser_at(&ahead, TOKEN_OPEN_BLOCK)) {
        return false;
    }
    parser_skip_lines(parser);
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
    const char *word = first != NULL && first->kind == UVK_NODE_NAME ? first->text : NULL;

    return word == NULL                 ? MODE_CELLS
           : strcmp(word, "keys") == 0  ? MODE_PLACES
           : strcmp(word, "strip") == 0 ? MODE_LAMPS
                                        : MODE_CELLS;
}

static struct uvk_node *parse_statement(struct parser *parser, enum mode mode)
{
    struct uvk_node *statement = parser_node(parser, UVK_NODE_STATEMENT);
    struct uvk_node **end = &statement->child;

    parser->failed = false;
    statement->text = NULL;
    while (!parser->failed && !ends_statement(parser) && !parser_at(parser, TOKEN_OPEN_BLOCK)) {
        *end = parser_item(parser, items_mode(statement->child, mode));
        if (*end != NULL) {
            parser_extend(statement, *end);
            end = &(*end)->next;
        }
    }
    if (!parser->failed && block_follows(parser)) {
        *end = parse_block(parser, block_mode(statement->child));
        parser->failed = *end == NULL;
        if (!parser->failed && !ends_statement(parser)) {
            parser_expected(parser, "the end of the line behind '}'");
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
    struct uvk_node *block = parser_node(parser, UVK_NODE_BLOCK);
    struct uvk_node **end = &block->child;

    block->text = NULL;
    while (!parser_at(parser, TOKEN_END) && !parser->give_up) {
        if (parser_at(parser, TOKEN_LINE) || parser_at(parser, TOKEN_SEMICOLON)) {
            parser_advance(parser);
        } else if (!parser_at(parser, TOKEN_CLOSE_BLOCK)) {
            *end = parse_statement(parser, mode);
            end = &(*end)->next;
        } else if (in_block) {
            break;
        } else {
            uvk_say(parser->lexer.messages, UVK_SAYS_NO_PARTNER, parser->token.place, NULL,
                    "this '}' closes nothing");
            parser_advance(parser);
        }
    }
    return block;
}

struct uvk_node *uvk_parse(const struct uvk_source *source, struct uvk_arena *arena,
                           struct uvk_messages *messages)
{
    struct parser parser = {.lexer = {.source = source,
                                      .arena = arena,
                                      .messages = messages,
                                      .at = source->text + uvk_mark_size(source->text)}};
    struct uvk_node *block;

    parser_advance(&parser);
    block = parse_statements(&parser, MODE_CELLS, false);
    if (parser.give_up) {
        block->child = NULL; /* what was read may be anything */
    }
    return block;
}
