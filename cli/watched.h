/* watched.h - the last seconds of what was watched, for a picture. */
#ifndef UVREK_CLI_WATCHED_H
#define UVREK_CLI_WATCHED_H

#include "uvrek/live.h"
#include "uvrek/program.h"

struct watched;

/* Of a keyboard that does what PROGRAM says. */
struct watched *watched_new(const struct uvk_program *program);
void watched_free(struct watched *watched);

/* An event that the keyboard told MS after the first one; WHY: of a decision, in words. */
void watched_event(struct watched *watched, const struct uvk_live_event *event, uint64_t ms,
                   const char *why);

/* Draw it, and say how much of it that is. False: *ERROR. */
bool watched_draw(const struct watched *watched, const char *path, GError **error);

#endif
