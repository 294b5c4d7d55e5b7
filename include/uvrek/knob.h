/* knob.h - the two contacts of a knob, as a cycle of four places: what the engine counts in the
 * keyboard, and the desk where a probe tells of the contacts only.
 *
 * 1. Bit 0 is the first contact, bit 1 the second, set where it is closed.
 * 2. Clockwise the first one closes, then the second one, then the first one opens.
 */
#ifndef UVREK_KNOB_H
#define UVREK_KNOB_H

#include <stdbool.h>
#include <stdint.h>

#ifdef __cplusplus
extern "C" {
#endif

/* The place in the cycle that the contacts stand for, 0 to 3 clockwise. */
static inline uint8_t uvk_knob_place(uint8_t phases)
{
    return (uint8_t)((phases & 2u) ? 3u - (phases & 1u) : phases & 1u);
}

/* CHANGES (1, 2, 4) lie between two detents: one is at every fourth place, every second, or
 * everywhere. */
static inline bool uvk_knob_at_detent(uint8_t place, uint8_t changes)
{
    return (place & (changes - 1u)) == 0;
}

/* -1, 0 or 1: the step that a detent ends, COUNT places from the one before, clockwise. */
static inline int8_t uvk_knob_turned(int8_t count, uint8_t changes)
{
    int8_t half = (int8_t)((changes + 1) / 2);

    return (int8_t)((count >= half) - (count <= -half));
}

#ifdef __cplusplus
}
#endif

#endif
