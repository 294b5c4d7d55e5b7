/* debounce.c - a press at the first contact, or after a time without a break if the keymap asks
 * for that; a release after a quiet time. */
#include "parts.h"

/* Which of the CHANGING contacts have been so for WINDOW. Only those need a timer; they are
 * few.
 */
static uvk_bits ripe(const uint8_t *since, uvk_bits changing, uint8_t now, uint8_t window)
{
    uvk_bits done = 0;
    uvk_bits bit = 1;

    for (; changing != 0; since++, bit = (uvk_bits)(bit << 1)) {
        if (!(changing & bit)) {
            continue;
        }
        changing &= (uvk_bits)~bit;
        if ((uint8_t)(now - *since) >= window) {
            done |= bit;
        }
    }
    return done;
}

static void start_timers(uint8_t *since, uvk_bits fresh, uint8_t now)
{
    for (; fresh != 0; since++, fresh = (uvk_bits)(fresh >> 1)) {
        if (fresh & 1u) {
            *since = now;
        }
    }
}

uvk_bits uvk_debounce_line(struct uvk_debounce *debounce, uint8_t line, uint8_t senses,
                           uvk_bits closed, uint16_t now, uint8_t window, uint8_t press)
{
    uvk_bits down = debounce->down[line];
    uvk_bits changing = down & (uvk_bits)~closed;
    uvk_bits flips = closed & (uvk_bits)~down;
    uvk_bits fresh;
    uint8_t *since;

    (void)press; /* 0, unless that is built in */
#if UVK_USE_PRESS_AFTER
    if (press != 0) {
        changing |= flips;
        flips = 0;
    }
#endif
    if (changing == 0) {
        debounce->changing[line] = 0;
        return flips;
    }
    since = &debounce->since[(uint16_t)line * senses];
    fresh = changing & (uvk_bits)~debounce->changing[line];
    debounce->changing[line] = changing;
    start_timers(since, fresh, (uint8_t)now);
#if UVK_USE_PRESS_AFTER
    /* a millisecond that has begun is not over */
    flips |= ripe(since, changing & (uvk_bits)~down, (uint8_t)now, (uint8_t)(press + 1u));
#endif
    return flips | ripe(since, changing & down, (uint8_t)now, window);
}

void uvk_debounce_accept(struct uvk_debounce *debounce, uint8_t line, uvk_bits bit)
{
    debounce->down[line] ^= bit;
#if UVK_USE_PRESS_AFTER
    debounce->changing[line] &= (uvk_bits)~bit; /* the next change has a time of its own */
#endif
}
