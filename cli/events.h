/* events.h - what a program that listens to a keyboard knows from the events so far. */
#ifndef UVREK_CLI_EVENTS_H
#define UVREK_CLI_EVENTS_H

#include "uvrek/live.h"

struct events {
    bool begun;
    unsigned next;  /* the number that the next event should have */
    unsigned lost;  /* that are missing among the numbers */
    uint16_t last;  /* the latest time, as the keyboard counts */
    uint64_t ms;    /* the same since the first event */
    GArray *layers; /* of uint8_t: those that are on, the latest last */
};

void events_init(struct events *events);
void events_clear(struct events *events);

/* EVENT has come. How many were lost before it. */
unsigned events_take(struct events *events, const struct uvk_live_event *event);

/* When EVENT, the latest one that was taken, happened: milliseconds since the first one. The
 * keyboard's wrap every 65 seconds. */
uint64_t events_ms(const struct events *events, const struct uvk_live_event *event);

/* From now on Ctrl+C only ends the listening; has it been asked to end? */
void listening_begins(void);
bool listening_ends(void);

#endif
