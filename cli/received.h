/* received.h - what a simulated keyboard's host receives, told as it comes. */
#ifndef UVREK_CLI_RECEIVED_H
#define UVREK_CLI_RECEIVED_H

#include "uvrek/bench.h"

/* Print what RIG's host has noticed beyond the first *SEEN notices: keys, text, how far pointer
 * and wheels moved; a line for what came together, with the time of its first. TEXT grows by
 * the text. It is left there for expectations. */
void print_received(struct uvk_rig *rig, guint *seen, GString *text);

#endif
