/* explain.h - what explain.c and meanings.c share. */
#ifndef UVREK_CLI_EXPLAIN_H
#define UVREK_CLI_EXPLAIN_H

#include "cli.h"

/* What is asked, and where. */
struct asked {
    const char *word;
    const struct uvk_program *program; /* without errors; NULL: about no file */
};

/* Print everything that the word means: it may be a pin and a key. False: nothing. */
bool print_meanings(const struct asked *asked);

#endif
