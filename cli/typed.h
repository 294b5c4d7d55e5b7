/* typed.h - `uvrek play --type`. */
#ifndef UVREK_CLI_TYPED_H
#define UVREK_CLI_TYPED_H

#include "cli.h"

#include "uvrek/bench.h"

/* Type TEXT on RIG and tell what came out, to JSON (taken) or, if that is NULL, for people.
 * *WRONG: 1 if it is not the text. False: it could not be done. */
bool type_text(const struct uvk_program *program, struct uvk_rig *rig, const char *text,
               uint32_t seed, json_t *json, unsigned *wrong, GError **error);

#endif
