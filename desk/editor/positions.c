/* positions.c - see positions.h. */
#include "positions.h"

#include <string.h>

unsigned units_of(const char *character, enum units units)
{
    unsigned bytes = (unsigned)(g_utf8_next_char(character) - character);

    return units == UNITS_UTF8 ? bytes : bytes == 4 ? 2 : 1;
}

json_t *position_to_json(const char *text, size_t at, enum units units)
{
    const char *line = text;
    unsigned number = 0;
    unsigned column = 0;

    for (const char *next; (next = memchr(line, '\n', (size_t)(text + at - line))) != NULL;
         line = next + 1) {
        number++;
    }
    for (const char *here = line; here < text + at; here = g_utf8_next_char(here)) {
        column += units_of(here, units);
    }
    return json_pack("{s:i, s:i}", "line", (int)number, "character", (int)column);
}

json_t *range_to_json(const char *text, size_t at, size_t length, enum units units)
{
    return json_pack("{s:o, s:o}", "start", position_to_json(text, at, units), "end",
                     position_to_json(text, at + length, units));
}

/* The line of that NUMBER; the end of the text if there is none. */
static const char *find_line(const char *text, const char *end, json_int_t number)
{
    for (; number > 0; number--) {
        const char *next = memchr(text, '\n', (size_t)(end - text));
        if (next == NULL) {
            return end;
        }
        text = next + 1;
    }
    return text;
}

bool position_from_json(const char *text, size_t size, const json_t *position, enum units units,
                        size_t *at)
{
    const json_t *line = json_object_get(position, "line");
    const json_t *character = json_object_get(position, "character");
    const char *end = text + size;
    const char *here;
    json_int_t left;

    if (!json_is_integer(line) || !json_is_integer(character) || json_integer_value(line) < 0 ||
        json_integer_value(character) < 0) {
        return false;
    }
    here = find_line(text, end, json_integer_value(line));
    left = json_integer_value(character);
    while (here < end && *here != '\n' && left >= (json_int_t)units_of(here, units)) {
        left -= units_of(here, units);
        here = g_utf8_next_char(here);
    }
    if (here > text && here[-1] == '\r' && here < end && *here == '\n') {
        here--; /* a line ends before both */
    }
    *at = (size_t)(here - text);
    return true;
}
