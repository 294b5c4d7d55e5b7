/* typed.h - `uvrek play --type`. */
#ifndef UVREK_CLI_TYPED_H
#define UVREK_CLI_TYPED_H

#include "cli.h"

#include "uvrek/bench.h"
#include "uvrek/typing.h"

#include <stdio.h>

struct typing_request {
    const struct uvk_program *program;
    const char *text;
    const struct uvk_tempo *tempo; /* NULL: all */
    uint32_t seed;
    bool on_chip;
    struct uvk_rig *(*new_rig)(void *data, GError **error); /* one for each tempo */
    void *data;
    FILE *out; /* for what people read */
};

/* Type the text and tell what came out, to JSON (taken) or, if that is NULL, for people.
 * *WRONG: 1 if at some tempo it is not the text. False: it could not be done. */
bool type_text(const struct typing_request *request, json_t *json, unsigned *wrong,
               GError **error);

#endif
