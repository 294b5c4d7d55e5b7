/* replay.h - `uvrek play --replay`: the same fingers on another keymap. */
#ifndef UVREK_CLI_REPLAY_H
#define UVREK_CLI_REPLAY_H

#include "recorded.h"

#include "uvrek/bench.h"

struct replay {
    const struct uvk_program *program;
    const char *path; /* of the recording */
    const struct uvk_image
        *image;          /* what the rig does; NULL: a chip, which keeps no decisions */
    struct uvk_rig *rig; /* fresh */
    const char *picture; /* a file; NULL: none */
    bool why;            /* tell all that happened */
};

/* Play the recording, and tell what came of it, on standard output or in JSON. False: *ERROR.
 */
bool replay(const struct replay *replay, json_t *json, GError **error);

#endif
