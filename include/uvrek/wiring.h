/* wiring.h - how a board is really wired, learned by pressing its keys, and its file made to
 * say so. Desk side.
 *
 * 1. A probe (probe.h) tells which pins conduct. Whoever asks gives that to a struct
 * uvk_wiring, key by key, in any order; a key may be given again, or be left out.
 * 2. From all of it together follows the pin of each wire. A wire that only one key was pressed
 * of keeps the pin that the file says, if that fits.
 * 3. A correction changes the words of the file that are wrong, and nothing else: comments and
 *    spacing stay.
 */
#ifndef UVREK_WIRING_H
#define UVREK_WIRING_H

#include "uvrek/problem.h"
#include "uvrek/text.h"

#ifdef __cplusplus
extern "C" {
#endif

/* While LOW was low, HIGH was too. LOW is NULL: ground. */
struct uvk_conducts {
    const struct uvk_pin *low, *high;
};

#define UVK_CONDUCTS_MAX 16u /* that one press is taken to show; more are left out */

struct uvk_wiring;

/* BOARD has to outlive it. HALF: the one whose controller the probe is in; of a board with one
 * controller all keys count. */
struct uvk_wiring *uvk_wiring_new(const struct uvk_board *board, unsigned half);
/* What WIRING has learned, for BOARD: the same one, by a file that was corrected. */
struct uvk_wiring *uvk_wiring_again(const struct uvk_wiring *wiring,
                                    const struct uvk_board *board);
void uvk_wiring_free(struct uvk_wiring *wiring);

/* Is KEY one of those, and KNOB? */
bool uvk_wiring_has(const struct uvk_wiring *wiring, unsigned key);
bool uvk_wiring_has_knob(const struct uvk_wiring *wiring, unsigned knob);

/* Pins that conduct both ways with no key down: they are joined. */
void uvk_wiring_join(struct uvk_wiring *wiring, const struct uvk_pin *a,
                     const struct uvk_pin *b);

/* How a press went. */
enum uvk_wiring_press {
    UVK_PRESS_TAKEN,
    UVK_PRESS_TWO,  /* more than one switch was closed: nothing was taken */
    UVK_PRESS_KNOWN /* it is a key that was given before: nothing was taken; that one in *OTHER
                     */
};

/* While KEY was pressed, COUNT pairs conducted. 0: nothing came of it. */
enum uvk_wiring_press uvk_wiring_take(struct uvk_wiring *wiring, unsigned key,
                                      const struct uvk_conducts *pairs, unsigned count,
                                      unsigned *other);
/* As if KEY had not been given. */
void uvk_wiring_forget(struct uvk_wiring *wiring, unsigned key);

/* KNOB was turned clockwise, and its contact on FIRST closed first, then that on SECOND. NULL:
 * nothing came of it. */
void uvk_wiring_take_knob(struct uvk_wiring *wiring, unsigned knob, const struct uvk_pin *first,
                          const struct uvk_pin *second);

/* ---- the cable between two controllers --------------------------------------------------- */

/* What a probe without a host says over the cable (call.h). */
struct uvk_calls;

struct uvk_calls *uvk_calls_new(const struct uvk_chip *chip);
void uvk_calls_free(struct uvk_calls *calls);

/* PIN was joined to ground at MS (modulo 65,536), or is not any more. */
void uvk_calls_take(struct uvk_calls *calls, const struct uvk_pin *pin, bool on, uint16_t ms);

/* The pin of the other probe that is joined to PIN; NULL: none has said its number twice in the
 * same way. */
const struct uvk_pin *uvk_calls_pin(const struct uvk_calls *calls, const struct uvk_pin *pin);

/* The words behind `link` for a cable that joins pins like that: two lines, which cross or are
 * straight, or one. Freed with g_free. NULL: no link is like that. */
char *uvk_calls_link(const struct uvk_calls *calls);

/* The halves were joined, with the computer's cable in the probe's half, and CALLS was heard
 * for long enough. */
void uvk_wiring_take_cable(struct uvk_wiring *wiring, const struct uvk_calls *calls);

/* PIN is joined to ground with no key down. */
void uvk_wiring_ground(struct uvk_wiring *wiring, const struct uvk_pin *pin);

/* ---- what came of it --------------------------------------------------------------------- */

/* What the file has wrong, and what cannot be told, a sentence each. Freed with the list. */
GPtrArray *uvk_wiring_told(const struct uvk_wiring *wiring); /* of char * */

/* Is there anything that the file could say better? */
bool uvk_wiring_differs(const struct uvk_wiring *wiring);

/* The source that names the wires, corrected, of one half also what both share if they are
 * wired ALIKE; its path into *PATH, borrowed. Freed with g_free. NULL: *ERROR says why it
 * cannot be done. */
char *uvk_wiring_mend(const struct uvk_wiring *wiring, bool alike, size_t *size,
                      const char **path, GError **error);

/* ---- from nothing ------------------------------------------------------------------------ */

/* A board of which only the chip is known: its keys are pressed one after the other, line by
 * line as they lie. */
struct uvk_discovery;

struct uvk_discovery *uvk_discovery_new(const struct uvk_chip *chip);
void uvk_discovery_free(struct uvk_discovery *discovery);

/* The next key was pressed, and COUNT pairs (at least one) conducted; or KNOWN: it is the key
 * number *OTHER, counted from 0, again. */
enum uvk_wiring_press uvk_discovery_key(struct uvk_discovery *discovery,
                                        const struct uvk_conducts *pairs, unsigned count,
                                        unsigned *other);
/* The next key begins another line. */
void uvk_discovery_line(struct uvk_discovery *discovery);
/* The last key was none. False: there is none. */
bool uvk_discovery_back(struct uvk_discovery *discovery);
/* A knob that was turned clockwise: its contact on FIRST closes first, then that on SECOND. */
struct uvk_turned {
    const struct uvk_pin *first, *second;
    unsigned detent; /* changes of its contacts from one detent to the next: 1, 2 or 4 */
};
void uvk_discovery_knob(struct uvk_discovery *discovery, const char *name,
                        const struct uvk_turned *turned);

unsigned uvk_discovery_count(const struct uvk_discovery *discovery);

/* What was learned of a board that one controller reads, or of one with a controller in each
 * half. */
struct uvk_discovered {
    const struct uvk_discovery *halves[UVK_HALVES]; /* the second one is NULL: no halves */
    const char *names[UVK_HALVES];                  /* of the halves */
    const char *link; /* the cable between them, as a board says it: "uart D3 D2" */
};

/* The text of a board NAME with those keys and knobs: a matrix, direct switches, or both; one
 * for both halves where they are wired alike. Freed with g_free. NULL: *ERROR says why the
 * switches make none. */
char *uvk_discovery_board(const struct uvk_discovered *discovered, const char *name,
                          GError **error);

#ifdef __cplusplus
}
#endif

#endif
