/* played.h - the forms in which `uvrek play` tells its outcomes. */
#ifndef UVREK_CLI_PLAYED_H
#define UVREK_CLI_PLAYED_H

#include "cli.h"

#include "uvrek/bench.h"

struct played;

struct played_form {
    void (*begin)(const struct played *played);
    void (*play)(const struct played *played, const struct uvk_outcome *outcome);
    void (*end)(const struct played *played);
};
extern const struct played_form played_for_people, played_as_json, played_as_tap;

struct played {
    const struct uvk_program *program;
    const struct played_form *form;
    json_t *json;           /* played_as_json: what has been told so far */
    const char *chip;       /* NULL: in the simulator */
    bool why;               /* tell all that happened, of every play */
    unsigned expected;      /* plays that will be told */
    unsigned count, failed; /* plays that were told, this one included */
};

/* The last MOST lines of what happened, BEFORE in front of each. */
void print_moments(const struct uvk_program *program, const struct uvk_outcome *outcome,
                   const char *before, guint most);

#endif
