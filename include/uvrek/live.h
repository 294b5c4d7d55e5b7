/* live.h - a running keyboard, from the desk: who it is, what it does now, and changes of that.
 *
 * 1. A keyboard is reached over a cable (cable.h), whether it is plugged in here or exported by
 *    another program. One program at a time may have it.
 * 2. Who it is, everybody is told. For all else the keyboard asks: whoever sits in front of it
 *    presses the keys that uvk_live_asked tells, in their order.
 * 3. A change is a keymap image that the keyboard is to do from now on. It takes effect as a
 *    whole when no key is down, and is kept when uvk_live_is_kept says so.
 * 4. What a keyboard tells is believed in nothing. A keyboard that is unplugged is an error
 * like any other; what was in force stays so.
 */
#ifndef UVREK_LIVE_H
#define UVREK_LIVE_H

#include "uvrek/cable.h"
#include "uvrek/door.h"
#include "uvrek/engine.h"
#include "uvrek/fit.h"
#include "uvrek/formats.h"
#include "uvrek/lights.h"
#include "uvrek/problem.h"
#include "uvrek/text.h"

#ifdef __cplusplus
extern "C" {
#endif

/* ---- which are there --------------------------------------------------------------------- */

struct uvk_live_facts {
    struct uvk_note note; /* firmware version, chip, board, keymap */
    enum uvk_door_state door;
    bool is_half, is_second, has_other; /* of a keyboard in two halves */
    bool keeps_other;                   /* it keeps changes of another built-in image */
    uint32_t serial;                    /* 0: it has no memory for one */
    uint32_t base;                      /* sum of the image that is built in */
    uint32_t sum;                       /* of the changed one; 0: nothing is changed */
    uint16_t built, size;               /* bytes of both */
    uint16_t room, used;                /* bytes for changes */
    uint32_t features;                  /* UVK_FEATURE_BITS of the firmware */
};

struct uvk_live_found {
    char *name; /* for uvk_live_open */
    uint16_t vendor, product;
    char *title; /* as the device calls itself; NULL: not known */
    bool answers;
    struct uvk_live_facts facts; /* if it answers */
    char *why;                   /* if not */
};

/* Keyboards with a live door at WHERE (as in cable.h), each freed with the list. NULL: *ERROR.
 */
GPtrArray *uvk_live_list(const char *where, GError **error); /* of struct uvk_live_found * */

/* ---- one of them ------------------------------------------------------------------------- */

struct uvk_live;

/* Open the keyboard NAME at WHERE. NULL: *ERROR. */
struct uvk_live *uvk_live_open(const char *where, const char *name, GError **error);
void uvk_live_close(struct uvk_live *live);
/* The name that it was opened by; the keyboard's own. */
const char *uvk_live_name(const struct uvk_live *live);
/* The cable that it is spoken with over, as long as it is open; for its control pipe only. */
struct uvk_cable *uvk_live_cable(const struct uvk_live *live);

/* Ask who it is, anew. False: *ERROR. */
bool uvk_live_who(struct uvk_live *live, struct uvk_live_facts *facts, GError **error);

/* ---- consent ----------------------------------------------------------------------------- */

struct uvk_live_asking {
    enum uvk_door_state state;
    enum uvk_door_ended ended; /* why it does not ask any more */
    unsigned pressed;          /* how many of KEYS */
    uint8_t keys[UVK_DOOR_KEYS];
    unsigned seconds; /* left */
};

/* Begin to ask; how far it is; the key that is due does not work, another one is picked; close
 * the door. False: *ERROR. */
bool uvk_live_ask(struct uvk_live *live, GError **error);
bool uvk_live_asked(struct uvk_live *live, struct uvk_live_asking *asking, GError **error);
bool uvk_live_skip(struct uvk_live *live, GError **error);
bool uvk_live_shut(struct uvk_live *live, GError **error);

/* ---- what it does, and is to do: with an open door -------------------------------------- */

/* What is in force, read from the keyboard; lasts until the next call of either, or of
 * uvk_live_change. NULL: *ERROR. */
const struct uvk_image *uvk_live_image(struct uvk_live *live, GError **error);
/* And what is built in. */
const struct uvk_image *uvk_live_built(struct uvk_live *live, GError **error);

/* WANTED takes effect. False: *ERROR says why not; UVK_NOT_WELL: it cannot be done live, and a
 * build and flash will do it. NEEDED: bytes of the room. */
bool uvk_live_change(struct uvk_live *live, const struct uvk_image *wanted, unsigned *needed,
                     GError **error);

/* Back to what is built in. */
bool uvk_live_forget(struct uvk_live *live, GError **error);

/* Wait until what is in force is kept. False: *ERROR. */
bool uvk_live_is_kept(struct uvk_live *live, GError **error);

bool uvk_live_restart(struct uvk_live *live, bool bootloader, GError **error);

/* One LAMP of that kind (lights.h) is lit in COLOUR, and nothing else, for SECONDS (at most 60;
 * 0: as ever). UVK_NOT_WELL: the keyboard has no lights. */
bool uvk_live_light(struct uvk_live *live, enum uvk_light_shown kind, unsigned lamp,
                    struct uvk_colour colour, unsigned seconds, GError **error);

/* ---- what happens ------------------------------------------------------------------------ */

struct uvk_live_event {
    enum uvk_door_event kind;
    bool on;                      /* a key went down; a layer went on */
    unsigned number;              /* modulo 65,536; what is missing was lost */
    uint8_t key;                  /* or the layer; of a switch without a key its scan line */
    uint8_t sense;                /* of a switch without a key */
    bool before;                  /* a contact that was down when the watching began */
    uint8_t missed;               /* of a turn: changes too fast to be seen one by one */
    uint16_t ms;                  /* modulo 65,536; of a decision: when the key went down */
    struct uvk_decision decision; /* of a decision: its action is of the image in force */
};

/* Tell of events of the kinds in MASK (a bit each) from now on; 0: no more. With
 * UVK_WATCH_KEEPS presses reach nobody else, as long as uvk_live_next is called each second. */
bool uvk_live_watch(struct uvk_live *live, unsigned mask, GError **error);

/* The next event, waited for up to MS. 1: there is one; 0: none; -1: *ERROR. */
int uvk_live_next(struct uvk_live *live, unsigned ms, struct uvk_live_event *event,
                  GError **error);

/* ---- in words ---------------------------------------------------------------------------- */

/* ACTION of IMAGE as the text of PROGRAM (lowered as WANTED) writes it, by the names that it
 * has there. Freed with g_free. */
char *uvk_live_text(const struct uvk_program *program, const struct uvk_image *wanted,
                    const struct uvk_image *image, uvk_action action);

/* The text of PROGRAM as it has to be to say what IMAGE does: each difference in the place that
 * says it now, what has no place at the end of the keymap, what has no name with one of its
 * own. SINCE as below. Freed with g_free. NULL: *ERROR. */
char *uvk_live_pull(const struct uvk_program *program, const struct uvk_image *image,
                    const struct uvk_image *since, size_t *size, GError **error);

/* Can IMAGE have ACTION? */
bool uvk_live_has_action(const struct uvk_image *image, uvk_action action);

/* One thing that two keymaps do differently. */
struct uvk_difference {
    char *where;          /* "r0c1 on nav", "feel calm", "combo a+b" */
    char *before, *after; /* NULL: there is none */
    int layer, cell;      /* of a cell; else -1 */
};

/* What IMAGE does and the keymap of PROGRAM (without errors, lowered as WANTED) does not, each
 * freed with the list. Only what SINCE did not do already counts, if it is not NULL: so what
 * was changed in a keyboard is found in a text that was changed as well. */
GPtrArray *uvk_live_differences(const struct uvk_program *program,
                                const struct uvk_image *image, const struct uvk_image *wanted,
                                const struct uvk_image *since); /* of struct uvk_difference * */

#ifdef __cplusplus
}
#endif

#endif
