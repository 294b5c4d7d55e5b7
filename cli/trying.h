/* trying.h - `uvrek keys`: the command in keys.c, the keyboard in keys_hear.c, what is told of
 * it in keys_lines.c, the screen in keys_screen.c. */
#ifndef UVREK_CLI_TRYING_H
#define UVREK_CLI_TRYING_H

#include "events.h"
#include "live.h"

#include "uvrek/keytest.h"

struct trying {
    struct session *session;
    struct uvk_keytest *test;
    struct events events;
    bool probe;       /* a probe tells of the contacts, no firmware with keys */
    char *halves;     /* what is to be said of them; NULL: nothing */
    int held;         /* the only key that is down; -1: none, or several */
    gint64 held_from; /* since then */
};

/* Find the keyboard, and begin to hear it; a probe is in the half called HALF_NAME. False:
 * *ERROR. */
bool trying_begin(struct trying *trying, const char *half_name, GError **error);

/* The next event, waited for up to MS. 1: there was one, about *CELL (as uvk_keytest_take
 * says), into *EVENT; 0: none; -1: *ERROR. */
int trying_next(struct trying *trying, unsigned ms, struct uvk_live_event *event, int *cell,
                GError **error);

/* Somebody holds one key for so long that it means: this is enough. */
#define ENOUGH_S 4
bool trying_is_enough(const struct trying *trying);

/* "all 12 keys have come"; what is left. Freed with g_free. */
char *trying_count_text(const struct trying *trying);

/* What the keys have come to: printed, or as JSON. The exit status. */
int trying_print(const struct trying *trying, bool as_json);

/* Until all has come, or it is enough: a line for each event. False: *ERROR. */
bool trying_in_lines(struct trying *trying, bool as_json, GError **error);

/* On a screen, until it is left. False: *ERROR. And: is there one in this program? */
bool trying_on_screen(struct trying *trying, GError **error);
bool trying_has_screen(void);

#endif
