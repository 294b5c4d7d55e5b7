/* asked.c - what a question is about, and how its answers are printed. */
#include "explain.h"

#include <stdio.h>

#define WIDTH 78

const struct uvk_board *board_of(const struct asked *asked)
{
    return asked->program != NULL ? asked->program->board : NULL;
}

const struct uvk_keymap *keymap_of(const struct asked *asked)
{
    return asked->program != NULL ? asked->program->keymap : NULL;
}

void print_place(struct uvk_place place)
{
    struct uvk_position position = uvk_place_position(place);

    printf("%s:%u:%u", place.source->path, position.line, position.column);
}

void print_wrapped(const char *text, unsigned indent)
{
    char **words = g_strsplit(text, " ", -1);
    glong column = 0;

    for (char **word = words; *word != NULL; word++) {
        glong length = g_utf8_strlen(*word, -1);
        if (column == 0 || column + 1 + length > WIDTH) {
            printf("%s%*s", column == 0 ? "" : "\n", (int)indent, "");
            column = indent;
        } else {
            putchar(' ');
            column++;
        }
        fputs(*word, stdout);
        column += length;
    }
    putchar('\n');
    g_strfreev(words);
}
