/* Print docs/characters.md: build/uvrek_characters >docs/characters.md */
#include "known.h"

#include <stdio.h>

int main(void)
{
    char *text = known_characters();

    fputs(text, stdout);
    g_free(text);
    return 0;
}
