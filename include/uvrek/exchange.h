/* exchange.h - board and keymap as JSON (RFC 8259), for other programs to read and to write.
 *
 * 1. The form is docs/exchange.schema.json, a JSON Schema (2020-12). uvk_exchange_schema makes
 *    that file, from the same table that checks what is read.
 * 2. All is worked out: every key has its place, every cell says what it does. What helps to
 *    write a text (let, mirror, pens, comments) is not there, and neither are plays.
 * 3. What is read becomes a text of the language. It means the same: the image of its keymap
 *    and the picture of its board are those of the text that was written as JSON.
 * 4. Lengths are in key units (19.05 mm), times in milliseconds, turns in degrees clockwise.
 * 5. What comes from outside is checked whole before anything is made of it: a member that is
 *    not in the form is a mistake.
 */
#ifndef UVREK_EXCHANGE_H
#define UVREK_EXCHANGE_H

#include "uvrek/text.h"

#ifdef __cplusplus
extern "C" {
#endif

/* Of the form. It changes whenever a member gets another name or meaning. */
#define UVK_EXCHANGE_VERSION 3

/* A mistake in JSON: POINTER says where (RFC 6901; "" is the whole). */
struct uvk_exchange_problem {
    char *pointer;
    unsigned line, column; /* of text that is no JSON; else 0 */
    char *text;
};

/* PROGRAM, which has a board and no errors, as JSON. The caller frees it with g_free. NULL
 * if there are too many combinations of layout choices to be worked out (256), or if a file
 * of the program cannot be read again. */
char *uvk_exchange_write(const struct uvk_program *program, GError **error);

/* The text of the language for JSON; the caller frees it with g_free. NULL: PROBLEMS, a list
 * that uvk_exchange_problems makes, has the mistakes. At most UVK_SOURCE_MAX bytes are read. */
char *uvk_exchange_read(const char *json, size_t size, GPtrArray *problems);

/* An empty list of struct uvk_exchange_problem *; freed with g_ptr_array_unref. */
GPtrArray *uvk_exchange_problems(void);

/* The JSON Schema of the form. The caller frees it with g_free. */
char *uvk_exchange_schema(void);

#ifdef __cplusplus
}
#endif

#endif
