/* fingers.h - fingers that were recorded work a simulated keyboard. */
#ifndef UVREK_CLI_FINGERS_H
#define UVREK_CLI_FINGERS_H

#include "recorded.h"

#include "uvrek/bench.h"

/* Do TOUCHES (of struct touch *) so that they count at their times, and wait until nothing is
 * pending. *START: when the first one came, as the rig counts. False: the chip has stopped,
 * *ERROR. */
bool fingers_play(const struct uvk_program *program, struct uvk_rig *rig,
                  const GPtrArray *touches, uint64_t *start, GError **error);

#endif
