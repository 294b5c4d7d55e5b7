/* asking.h - `uvrek wires`: the command in wires.c, the questions in wires_ask.c, what the
 * probe and the person answer in wires_hear.c, turns of knobs in wires_turn.c. */
#ifndef UVREK_CLI_ASKING_H
#define UVREK_CLI_ASKING_H

#include "events.h"
#include "live.h"

#include "uvrek/wiring.h"

/* What the probe tells, and what is typed here. */
struct hearing {
    struct uvk_live *live;
    const struct uvk_chip *chip;
    GArray *background; /* of struct uvk_conducts: what conducts with no key down */
    GArray *closed;     /* what conducts now, beside that */
    GArray *press;      /* what has conducted since the last question */
    uint64_t grounded;  /* a bit for each pin that is joined to ground now */
    char *said;         /* the latest line that was typed */
    GString *typed;     /* what has been typed, and is not read yet */
    struct events events;
    bool ended; /* nothing will be typed any more */
};

bool hearing_begin(struct hearing *hearing, struct uvk_live *live, const struct uvk_chip *chip,
                   GError **error);
void hearing_end(struct hearing *hearing);
/* Go on with another probe of that chip. */
bool hearing_move(struct hearing *hearing, struct uvk_live *live, GError **error);

/* What is joined with no key down. */
void hearing_join(const struct hearing *hearing, struct uvk_wiring *wiring);

/* What the press has shown, by the names of BOARD's pins (NULL: the chip's): "it joins B1 to
 * F4". Freed with g_free. */
char *hearing_text(const struct hearing *hearing, const struct uvk_board *board);

enum heard {
    HEARD_PRESS,   /* a key went down and came up: PRESS has what conducted */
    HEARD_NOTHING, /* somebody says that nothing comes of it */
    HEARD_BACK,    /* the last answer was wrong */
    HEARD_STOP,    /* no more questions */
    HEARD_WORDS,   /* something else was typed: SAID */
    HEARD_LATE,    /* a minute has passed */
    HEARD_TROUBLE  /* *ERROR */
};

/* Listen for what another probe says over the cable between the halves, long enough to know it:
 * then HEARD_PRESS. */
enum heard hear_cable(struct hearing *hearing, struct uvk_calls *calls, GError **error);

/* Wait for a press; or for a turn of a knob to the right: its detent is known if the turn began
 * with one click. */
enum heard hear_press(struct hearing *hearing, GError **error);
enum heard hear_turn(struct hearing *hearing, struct uvk_turned *turned, GError **error);

/* wires_hear.c, for wires_turn.c: the next event, waited for a moment, as uvk_live_next; which
 * pins it is about (false: of none that the chip has); until when an answer is waited for, and
 * whether there is none (*HEARD) and time is left. */
int hearing_next(struct hearing *hearing, struct uvk_live_event *event, GError **error);
bool hearing_pair(const struct hearing *hearing, const struct uvk_live_event *event,
                  struct uvk_conducts *pair);
gint64 hearing_until(void);
bool hearing_goes_on(struct hearing *hearing, gint64 end, enum heard *heard);

/* Wait for a line that is typed, whatever the probe says, if there is one. */
enum heard hear_line(struct hearing *hearing);

/* Ask for every key of WIRING, or those that ONLY names, and for its knobs. False: *ERROR. */
bool ask_all(struct hearing *hearing, struct uvk_wiring *wiring,
             const struct uvk_program *program, char *const *only, GError **error);

/* wires_new.c: a board of which only the chip is known is learned, and written to PATH. The
 * exit status. */
int learn_board(const struct live_wishes *wishes, const char *chip_name, const char *path);

#endif
