/* shape.h - what JSON may look like: a table that both checks it and becomes its schema. */
#ifndef UVREK_EXCHANGE_SHAPE_H
#define UVREK_EXCHANGE_SHAPE_H

#include "uvrek/exchange.h"

#include <jansson.h>

enum shape_kind {
    SHAPE_OBJECT, /* members */
    SHAPE_MAP,    /* an object with names that fit the pattern, and values `of` */
    SHAPE_LIST,   /* `of`, from least to most of them */
    SHAPE_TEXT,   /* fits the pattern, if there is one */
    SHAPE_WORD,   /* one of words */
    SHAPE_NUMBER, /* from least to most */
    SHAPE_WHOLE,  /* the same without a fraction */
    SHAPE_FLAG,
    SHAPE_EITHER /* `of`, a text, or `other`, an object */
};

struct shape {
    enum shape_kind kind;
    const char *what;             /* what it is, in a few words */
    const char *definition;       /* its name in the schema; NULL: it stands where it is used */
    const struct member *members; /* ended by a name of NULL */
    const struct shape *of, *other;
    const char *pattern; /* a regular expression */
    const char *const *words;
    double least, most;
};

struct member {
    const char *name;
    const struct shape *shape;
    bool needed;
    const char *what; /* NULL: what the shape says */
};

/* Say what is wrong with JSON, which stands at POINTER. */
void shape_check(const struct shape *shape, const json_t *json, const char *pointer,
                 GPtrArray *problems);

/* The schema of SHAPE, with its definitions. */
json_t *shape_schema(const struct shape *shape);

/* POINTER and one more NAME behind it (RFC 6901, section 3). Freed with g_free. */
char *pointer_to(const char *pointer, const char *name);

void add_problem(GPtrArray *problems, const char *pointer, const char *format, ...)
    G_GNUC_PRINTF(3, 4);

/* form.c: the whole. */
extern const struct shape exchange_form;

/* A name of the language, a key's address. */
#define NAME_PATTERN    "^[A-Za-z]([A-Za-z0-9-]*[A-Za-z0-9])?$"
#define ADDRESS_WORD    "([A-Za-z]([A-Za-z0-9-]*[A-Za-z0-9])?\\.)?(r[0-9]+c[0-9]+|d[0-9]+)"
#define ADDRESS_PATTERN "^" ADDRESS_WORD "$"

#endif
