/* typing.h - fingers that type a text on a simulated keyboard, as a person would.
 *
 * 1. Which keys make the text follows from the keymap: a key of the first layer, one with a
 *    modifier held, one on a layer whose key is held, or a longer press.
 * 2. The fingers' timing, by a seed: a key comes down 60 to 200 ms after the one before it
 *    (most often near 110) and stays down for 50 to 130 ms, so that keys often overlap. What
 *    is held for others comes down 70 to 130 ms before them, and up 30 to 60 ms after them.
 *    A key that comes again has been up for 40 ms. A longer press is 40 ms longer than it
 *    need be.
 * 3. The fingers do not look at the screen: what the keyboard takes for something else is
 *    not corrected, and shows in what came out.
 */
#ifndef UVREK_TYPING_H
#define UVREK_TYPING_H

#include "uvrek/bench.h"

/* One character, and how long it took. */
struct uvk_typed_key {
    gunichar character;
    unsigned key;      /* of the board */
    uint64_t touched;  /* microseconds: when the contact closed */
    uint64_t reported; /* when the host saw it; 0: never */
};

struct uvk_typing {
    char *got;     /* what came out */
    GArray *keys;  /* of struct uvk_typed_key, in the order of the text */
    uint64_t time; /* microseconds from the first contact to the last */
};

/* Type TEXT on RIG, whose program is PROGRAM. False: there are characters that no key types
 * (UVK_NOT_WELL, they are named), or the rig stopped. */
bool uvk_type(const struct uvk_program *program, struct uvk_rig *rig, const char *text,
              uint32_t seed, struct uvk_typing *typing, GError **error);
void uvk_typing_clear(struct uvk_typing *typing);

#endif
