/* debounce.c - a press at the first contact, a release after a quiet time. */
#include "parts.h"

/* Only keys that are held and open need a timer; they are few. */
static uvk_bits released(const uint8_t *since, uvk_bits open, uint8_t now, uint8_t window)
{
    uvk_bits done = 0;
    uvk_bits bit = 1;

    for (; open != 0; since++, bit = (uvk_bits)(bit << 1)) {
        if (!(open & bit)) {
            continue;
        }
        open &= (uvk_bits)~bit;
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
                           uvk_bits closed, uint16_t now, uint8_t window)
{
    uvk_bits down = debounce->down[line];
    uvk_bits open = down & (uvk_bits)~closed;
    uvk_bits flips = closed & (uvk_bits)~down;
    uvk_bits fresh;
    uint8_t *since;

    if (open == 0) {
        debounce->opening[line] = 0;
        return flips;
    }
    since = &debounce->since[(uint16_t)line * senses];
    fresh = open & (uvk_bits)~debounce->opening[line];
    debounce->opening[line] = open;
    start_timers(since, fresh, (uint8_t)now);
    return flips | released(since, open, (uint8_t)now, window);
}

void uvk_debounce_accept(struct uvk_debounce *debounce, uint8_t line, uvk_bits bit)
{
    debounce->down[line] ^= bit;
}
