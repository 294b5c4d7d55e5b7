/* mentions.h - where the names of a text's own stand: defined, or used. */
#ifndef UVREK_EDITOR_MENTIONS_H
#define UVREK_EDITOR_MENTIONS_H

#include "serving.h"

#include "uvrek/syntax.h"

enum named { NAMED_CELL, NAMED_FEEL, NAMED_KNOB, NAMED_CHOICE };

struct mention {
    struct uvk_place place; /* of the name alone */
    struct uvk_place whole; /* of the statement, if it is defined there */
    char *name;
    const char *keyword; /* of that statement: "layer"; NULL: it is used here */
    enum named kind;
};

/* All names in the files of PROGRAM that may be its own, in their order. Freed with the list.
 */
GArray *mentions_of(const struct uvk_program *program); /* of struct mention */

/* STATEMENT with its block. */
struct uvk_place whole_statement(const struct uvk_node *statement);

/* The one of LIST that stands at AT of SOURCE; of it there is a definition. NULL: none. */
const struct mention *mention_at(const GArray *list, const struct uvk_source *source,
                                 size_t at);
/* Do both mean the same thing? */
bool is_same_name(const struct mention *a, const struct mention *b);

#endif
