/* lights.c - see lights.h. */
#include "lights.h"

#include <stdio.h>
#include <string.h>

#define BETWEEN_NS 550u /* a shorter high is a 0, a longer one a 1 */

bool lights_watch(struct lights *lights, const char *name, uint64_t now)
{
    struct lights_pin *pin;

    if (lights_find(lights, name) != NULL) {
        return true;
    }
    if (lights->count == LIGHTS_MAX) {
        return false;
    }
    pin = &lights->pins[lights->count++];
    memset(pin, 0, sizeof *pin);
    snprintf(pin->name, sizeof pin->name, "%s", name);
    pin->since = pin->rose = now;
    pin->strip.zero.least = pin->strip.one.least = pin->strip.rest.least = UINT64_MAX;
    return true;
}

struct lights_pin *lights_find(struct lights *lights, const char *name)
{
    for (unsigned i = 0; i < lights->count; i++) {
        if (strcmp(lights->pins[i].name, name) == 0) {
            return &lights->pins[i];
        }
    }
    return NULL;
}

static void widen(struct lights_range *range, uint64_t value)
{
    range->least = value < range->least ? value : range->least;
    range->most = value > range->most ? value : range->most;
}

/* ---- the strip --------------------------------------------------------------------------- */

static void take_bit(struct lights_strip *strip, uint64_t high)
{
    bool one = high >= BETWEEN_NS;
    uint8_t *byte = &strip->bytes[strip->bits / 8];

    widen(one ? &strip->one : &strip->zero, high);
    if (strip->bits / 8 < LIGHTS_BYTES) {
        *byte = (uint8_t)(strip->bits % 8 == 0 ? 0 : *byte);
        *byte = (uint8_t)(*byte | (one ? 0x80u >> strip->bits % 8 : 0));
        strip->bits++;
    }
}

/* After a rest that is long enough the lamps show what has come. */
static void rest(struct lights_strip *strip, uint64_t low)
{
    if (low < LIGHTS_LATCH_NS) {
        return;
    }
    if (strip->bits > 0) {
        memcpy(strip->shown, strip->bytes, strip->bits / 8);
        strip->shown_size = strip->bits / 8;
        strip->frames++;
    }
    strip->bits = 0;
}

const struct lights_strip *lights_strip(struct lights_pin *pin, uint64_t now)
{
    if (pin->share == 0 && now > pin->since) {
        rest(&pin->strip, now - pin->since);
    }
    return &pin->strip;
}

/* ---- how bright -------------------------------------------------------------------------- */

void lights_set(struct lights_pin *pin, uint64_t now, unsigned share)
{
    uint64_t lasted = now - pin->since;

    if (share == pin->share || now < pin->since) {
        return;
    }
    if (share == 0) {
        take_bit(&pin->strip, lasted);
        pin->high = lasted;
    } else {
        if (lasted >= LIGHTS_LATCH_NS) {
            rest(&pin->strip, lasted);
        } else if (pin->strip.bits > 0) {
            widen(&pin->strip.rest, lasted);
        }
        pin->period = now - pin->rose;
        pin->rose = now;
    }
    pin->share = share;
    pin->since = now;
}

unsigned lights_now(const struct lights_pin *pin, uint64_t now)
{
    bool steady = now - pin->since >= LIGHTS_STEADY_NS || pin->period == 0 ||
                  pin->period >= LIGHTS_STEADY_NS;

    if (steady || (pin->share != 0 && pin->share != LIGHTS_FULL)) {
        return pin->share;
    }
    return (unsigned)((pin->high * LIGHTS_FULL + pin->period / 2) / pin->period);
}
