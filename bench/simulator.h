/* simulator.h - the program that simulates a chip, and the lines to it and from it. */
#ifndef UVREK_BENCH_SIMULATOR_H
#define UVREK_BENCH_SIMULATOR_H

#include "uvrek/problem.h"

#include <stdbool.h>

struct simulator {
    GPid process;
    int to, from;   /* -1: it has not started */
    GString *heard; /* bytes that have come, from the next line on */
    char *line;
};

/* Start the one for chips of the kind KIND ("avr"). False: *ERROR; it is to be ended all the
 * same.
 */
bool simulator_start(struct simulator *simulator, const char *kind, GError **error);
void simulator_end(struct simulator *simulator);

/* TEXT goes to it. False: it has gone. */
bool simulator_write(struct simulator *simulator, const char *text);

/* The next line from it, without its end, until UNTIL (g_get_monotonic_time); the simulator's
 * own, up to the next call. NULL: there is none. */
const char *simulator_line(struct simulator *simulator, gint64 until);

#endif
