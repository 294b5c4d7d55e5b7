/* depth.c - how deep things of a keymap stand in one another. */
#include "reading.h"

unsigned *nested_depths(const struct uvk_keymap *keymap, unsigned count, unsigned rounds,
                        depth_function *depth)
{
    unsigned *known = g_new0(unsigned, count + 1);
    unsigned *next = g_new0(unsigned, count + 1);

    for (unsigned round = 0; round < rounds; round++) {
        unsigned *spare = known;
        for (unsigned i = 0; i < count; i++) {
            next[i] = depth(keymap, i, known);
        }
        known = next;
        next = spare;
    }
    g_free(next);
    return known;
}
