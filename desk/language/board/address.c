/* address.c - r0c3 and d3: what a key is called by its wires. */
#include "reading.h"

static bool parse_number(const char **text, char letter, unsigned *out)
{
    char *end;
    guint64 number;

    if (**text != letter || !g_ascii_isdigit((*text)[1])) {
        return false;
    }
    number = g_ascii_strtoull(*text + 1, &end, 10);
    *text = end;
    *out = (unsigned)MIN(number, 10000);
    return number <= 999;
}

bool parse_address(const char *text, struct key_address *address)
{
    const char *at = text;

    address->direct = parse_number(&at, 'd', &address->col);
    if (address->direct) {
        address->row = 0;
        return *at == '\0';
    }
    at = text;
    return parse_number(&at, 'r', &address->row) && parse_number(&at, 'c', &address->col) &&
           *at == '\0';
}
