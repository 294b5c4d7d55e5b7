/* parser.h - what items.c and parser.c share. */
#ifndef UVREK_TEXT_PARSER_H
#define UVREK_TEXT_PARSER_H

#include "lexer.h"

/* What a statement's items may be. In a `keys` block and behind `turn`, + is a sign; in a
 * `strip` block it stands by itself. */
enum mode { MODE_CELLS, MODE_PLACES, MODE_LAMPS };

struct parser {
    struct lexer lexer;
    struct token token; /* the one that is looked at */
    unsigned depth;
    bool failed;  /* the current statement has a mistake */
    bool give_up; /* the rest of the file is not worth reading */
};

/* Look at the next word; is the current one a KIND? */
void parser_advance(struct parser *parser);
bool parser_at(const struct parser *parser, enum token_kind kind);
void parser_skip_lines(struct parser *parser);

/* A node made of the current word; the place of NODE reaches to the end of LAST. */
struct uvk_node *parser_node(struct parser *parser, enum uvk_node_kind kind);
void parser_extend(struct uvk_node *node, const struct uvk_node *last);

/* The statement is broken: WHAT was expected. Always NULL. */
struct uvk_node *parser_expected(struct parser *parser, const char *what);

/* One level deeper; past the limit the file is given up. The caller counts back. */
bool parser_deeper(struct parser *parser);

/* items.c: one item of a statement; NULL and a message if it has a mistake. */
struct uvk_node *parser_item(struct parser *parser, enum mode mode);

#endif
