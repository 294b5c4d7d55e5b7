/* lexer.h - words of the language, one at a time. */
#ifndef UVREK_TEXT_LEXER_H
#define UVREK_TEXT_LEXER_H

#include "uvrek/syntax.h"

enum token_kind {
    TOKEN_END,
    TOKEN_LINE, /* end of a line */
    TOKEN_SEMICOLON,
    TOKEN_OPEN_BLOCK,
    TOKEN_CLOSE_BLOCK,
    TOKEN_OPEN,
    TOKEN_CLOSE,
    TOKEN_COMMA,
    TOKEN_NAME,
    TOKEN_NUMBER,
    TOKEN_TIME, /* number in microseconds */
    TOKEN_PERCENT,
    TOKEN_CURRENT, /* number in milliamperes */
    TOKEN_COLOUR,  /* number: 0xRRGGBB */
    TOKEN_SIZE,    /* number x second */
    TOKEN_STRING,
    TOKEN_CHARACTER,
    TOKEN_DOT,
    TOKEN_NOTHING,
    TOKEN_ARROW,
    TOKEN_PLUS,
    TOKEN_SLASH,
    TOKEN_STAR,
    TOKEN_EQUALS,
    TOKEN_COLON,
    TOKEN_TILDE,
    TOKEN_LESS,
    TOKEN_BAR,
    TOKEN_BAD /* already reported */
};

struct token {
    enum token_kind kind;
    struct uvk_place place;
    const char *text;
    double number, second;
    bool after_space; /* white space stands before it */
};

struct lexer {
    const struct uvk_source *source;
    struct uvk_arena *arena;
    struct uvk_messages *messages;
    const char *at;
    bool muted; /* what is wrong is not said */
};

struct token lexer_next(struct lexer *lexer);

#endif
