/* positions.h - places in a text as the protocol counts them: lines from 0, and in a line the
 * code units of the encoding that both sides have agreed on. */
#ifndef UVREK_EDITOR_POSITIONS_H
#define UVREK_EDITOR_POSITIONS_H

#include <glib.h>
#include <jansson.h>
#include <stdbool.h>

enum units { UNITS_UTF16, UNITS_UTF8 };

/* As many as CHARACTER takes. */
unsigned units_of(const char *character, enum units units);

/* Of the byte at AT of TEXT, which is UTF-8. */
json_t *position_to_json(const char *text, size_t at, enum units units);
json_t *range_to_json(const char *text, size_t at, size_t length, enum units units);

/* The byte of TEXT (SIZE bytes) at POSITION; beyond the end of its line that end, beyond the
 * last line the end of the text, as the protocol wants it. False: POSITION is none. */
bool position_from_json(const char *text, size_t size, const json_t *position, enum units units,
                        size_t *at);

#endif
