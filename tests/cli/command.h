/* command.h - a test runs command lines, as a person would. */
#ifndef UVREK_TESTS_COMMAND_H
#define UVREK_TESTS_COMMAND_H

#include "support.h"

struct ran {
    int status;
    char *out, *err; /* freed with g_free */
};

/* Run a shell command line with the programs of the build in its path. */
struct ran run(const char *command);

void assert_has(const char *text, const char *part);

/* Run it; its status is STATUS, and OUT and ERR are in what it prints. OUT is NULL: whatever
 * that is; ERR is NULL: it prints nothing there. */
void expect(const char *command, int status, const char *out, const char *err);

#endif
