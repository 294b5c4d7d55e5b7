/* typing.h - fingers that type a text on a simulated keyboard, as a person would.
 *
 * 1. Which keys make the text follows from the keymap: the easiest way, of all that one or two
 *    keys more make possible. A key of the first layer or of one that is held, switched on or
 *    on for one key; with a modifier held or waiting; a longer press; a dance; a combo.
 * 2. The fingers' timing follows from the tempo and a seed, see uvk_tempos. The faster the
 * tempo, the more keys roll: the next one is down before the last is up. What is held for
 * others comes down some time before them and up some time after. A key that comes again has
 * been up for 40 ms. The keys of a combo close within 15 ms. A longer press is 40 ms longer
 * than it need be.
 * 3. The fingers do not look at the screen: what the keyboard takes for something else is
 *    not corrected, and shows in what came out.
 * 4. What the keyboard took for something else is counted: a tap-hold key that was held and
 *    should have been tapped, or the other way round, a combo that nobody meant. A chip keeps
 *    no decisions: there it is not counted.
 */
#ifndef UVREK_TYPING_H
#define UVREK_TYPING_H

#include "uvrek/bench.h"

#ifdef __cplusplus
extern "C" {
#endif

/* How fast. Times in milliseconds, from the least to the most. */
struct uvk_tempo {
    const char *name;  /* "steady" */
    int between_least; /* from one press to the next */
    int between_often; /* most of the time below this */
    int between_most;
    int down_least, down_most; /* how long a key stays down */
    int lead_least, lead_most; /* from what is held to the first key for which it is */
    int lag_least, lag_most;   /* from the last such key's release to its own */
};
#define UVK_TEMPOS 4u
extern const struct uvk_tempo uvk_tempos[UVK_TEMPOS];      /* the slowest first */
const struct uvk_tempo *uvk_tempo_named(const char *name); /* NULL: there is none */

/* One character, and how long it took. */
struct uvk_typed_key {
    gunichar character;
    unsigned key;      /* of the board */
    uint64_t touched;  /* microseconds: when the contact closed */
    uint64_t reported; /* when the host saw it; 0: never */
};

/* Something that was taken for something else. */
struct uvk_misfire {
    char *text; /* "s (r0c0) was held, not tapped" */
    unsigned times;
};

struct uvk_typing {
    char *got;        /* what came out */
    GArray *keys;     /* of struct uvk_typed_key, in the order of the text */
    GArray *misfires; /* of struct uvk_misfire, the most frequent first */
    unsigned rolls;   /* keys that came down while the one before was down */
    uint64_t time;    /* microseconds from the first contact to the last */
};

/* Type TEXT on RIG, whose program is PROGRAM. False: there are characters that no key types
 * (UVK_NOT_WELL, they are named), or the rig stopped. */
bool uvk_type(const struct uvk_program *program, struct uvk_rig *rig, const char *text,
              const struct uvk_tempo *tempo, uint32_t seed, struct uvk_typing *typing,
              GError **error);
void uvk_typing_clear(struct uvk_typing *typing); /* may be all zero */

/* Words of five characters a minute. */
double uvk_typing_speed(const struct uvk_typing *typing, const char *text);

#ifdef __cplusplus
}
#endif

#endif
