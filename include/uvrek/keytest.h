/* keytest.h - are all keys of a keyboard there, and does each come alone? Desk side.
 *
 * 1. What the live door tells of contacts (live.h) is taken, event by event. It comes from the
 *    keyboard's own firmware, or from a probe (probe.h), which knows only pins.
 * 2. A key that opens and closes again within UVK_CHATTER_MS chatters: no finger is so fast.
 * 3. A finding says what is wrong, with the keys it is about, and where to look. The fewest
 * wires are suspected that explain which keys have not come.
 */
#ifndef UVREK_KEYTEST_H
#define UVREK_KEYTEST_H

#include "uvrek/live.h"

#ifdef __cplusplus
extern "C" {
#endif

#define UVK_CHATTER_MS 40u

/* What is known of a key; or of a turn of a knob, whose steps are presses. */
struct uvk_key_seen {
    bool down;          /* now */
    bool from_start;    /* it was down when the test began, and has not come up since */
    uint64_t since;     /* ms: when it went down, or came up */
    unsigned presses;   /* since the start */
    unsigned chatters;  /* how often it opened and closed again by itself */
    unsigned open_most; /* ms that it was open then, at the most, debouncing included */
    unsigned missed;    /* of a turn: changes of the contacts that were too fast to be seen */
    int with;           /* a key that came at the moment of one of its presses; -1: none */
    unsigned together;  /* how many of its presses were so */
};

struct uvk_keytest;

/* A test of BOARD, which has to outlive it. DEBOUNCE: the keyboard's, in ms. PROBE: the events
 * are a probe's, plugged into the controller of HALF. */
struct uvk_keytest *uvk_keytest_new(const struct uvk_board *board, unsigned debounce,
                                    bool probe, unsigned half);
void uvk_keytest_free(struct uvk_keytest *test);

/* As if nothing had come yet; keys that are down stay so. */
void uvk_keytest_reset(struct uvk_keytest *test);

/* EVENT happened at MS, since any moment. The cell that it is about, as cells of a layer are
 * counted; or one of these. */
#define UVK_TAKEN_STRAY   (-1) /* a switch that is no key of the board */
#define UVK_TAKEN_NOTHING (-2) /* nothing that counts: a knob on its way to the next detent */
int uvk_keytest_take(struct uvk_keytest *test, const struct uvk_live_event *event, uint64_t ms);

/* CELL is a key, or behind those a turn of a knob. */
const struct uvk_key_seen *uvk_keytest_seen(const struct uvk_keytest *test, unsigned cell);

/* Cells that have not come yet, of those that can. */
unsigned uvk_keytest_missing(const struct uvk_keytest *test);
/* Can CELL come at all? With a probe: only what is in the half that it is plugged into. */
bool uvk_keytest_has(const struct uvk_keytest *test, unsigned cell);
/* A key is down now that was not so from the start. */
bool uvk_keytest_is_down(const struct uvk_keytest *test);

/* ---- what is wrong ----------------------------------------------------------------------- */

enum uvk_finding_kind {
    UVK_FINDS_NOTHING,  /* no key has come at all */
    UVK_FINDS_WIRE,     /* nothing of a wire has come */
    UVK_FINDS_KEY,      /* a key has not come */
    UVK_FINDS_KNOB,     /* a knob was not turned that way, or misses changes */
    UVK_FINDS_STUCK,    /* a key is down all the time */
    UVK_FINDS_CHATTER,  /* a key opens and closes by itself */
    UVK_FINDS_TOGETHER, /* two keys always come together */
    UVK_FINDS_STRAY,    /* a switch that is no key of the board */
    UVK_FINDINGS
};
struct uvk_finding {
    enum uvk_finding_kind kind;
    char *text;    /* a sentence */
    GArray *cells; /* of unsigned */
};

/* "chatter". */
const char *uvk_finding_name(enum uvk_finding_kind kind);

/* All of them, each freed with the list. */
GPtrArray *uvk_keytest_findings(const struct uvk_keytest *test); /* of struct uvk_finding * */

#ifdef __cplusplus
}
#endif

#endif
