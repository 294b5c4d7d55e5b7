/* other.h - files that hold no board, and what they are. */
#ifndef UVREK_EXCHANGE_OTHER_H
#define UVREK_EXCHANGE_OTHER_H

#include <glib.h>
#include <jansson.h>
#include <stdbool.h>

/* Is JSON no board at all, or one of another version? Then a problem says what it is. */
bool is_other_json(const json_t *json, GPtrArray *problems);

/* What a TEXT is that is no JSON; NULL: nobody knows. */
const char *other_than_json(const char *text, size_t size);

#endif
