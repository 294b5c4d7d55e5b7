/* recorded.h - what `uvrek live watch --json` has written, read again: what fingers did, and
 * what the keyboard made of it. */
#ifndef UVREK_CLI_RECORDED_H
#define UVREK_CLI_RECORDED_H

#include "cli.h"

#include "uvrek/program.h"

struct touch {
    uint64_t time; /* microseconds since the first one */
    unsigned cell; /* a key of the board; behind those, two turns of each knob */
    bool down;
    GString *does; /* down: what was decided about this press; empty: nothing of its own */
};

struct recorded {
    GPtrArray *touches; /* of struct touch *, by time */
    unsigned lost;      /* events that are missing, as the recording says */
};

/* Read the recording at PATH, made on a board like that of PROGRAM. NULL: *ERROR. */
struct recorded *recorded_read(const char *path, const struct uvk_program *program,
                               GError **error);
void recorded_free(struct recorded *recorded);

/* The press of CELL that was the last one at TIME; NULL: there was none. */
struct touch *recorded_press(const GPtrArray *touches, unsigned cell, uint64_t time);

/* One more touch at the end, or one more thing that was decided about it. */
struct touch *recorded_add(GPtrArray *touches, uint64_t time, unsigned cell, bool down);
void recorded_does(struct touch *touch, const char *text);
GPtrArray *recorded_touches(void);

#endif
