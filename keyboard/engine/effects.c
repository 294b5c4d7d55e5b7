/* effects.c - what a lamp of the strip shows. */
#include "lit.h"

#if UVK_USE_LIGHTS

/* A small chip divides slowly, and by code of its own for each width. */
uint8_t uvk_light_parts(uint16_t part, uint16_t whole)
{
    uint8_t parts = 0;

    for (uint8_t i = 0; i < 8; i++) {
        bool over = (part & 0x8000u) != 0;
        part = (uint16_t)(part << 1);
        parts = (uint8_t)(parts << 1);
        if (over || part >= whole) {
            part = (uint16_t)(part - whole);
            parts++;
        }
    }
    return parts;
}

/* Up and down again, by squares: as even to the eye as the levels are. */
uint8_t uvk_effect_breath(uint16_t phase)
{
    uint8_t at = (uint8_t)(phase >> 7); /* twice in a period from 0 to 255 */
    uint8_t up = (phase & 0x8000u) != 0 ? (uint8_t)~at : at;

    return (uint8_t)((uint16_t)(up * up) >> 8);
}

#if UVK_USE_STRIP

#define RING_GOES  9   /* bits: a ring goes 128 quarters of a key unit in a period */
#define RING_WIDE  8u  /* quarters */
#define RING_STEP  32u /* of brightness, for each quarter away from the ring */
#define RESTING    32u /* of 255: so much of its colour has a lamp where no ring is */
#define HUE_A_UNIT 16u /* of 256 */
#define A_THIRD    85u

static struct uvk_colour dimmed(struct uvk_colour colour, uint8_t scale)
{
    colour.red = uvk_light_scaled(colour.red, scale);
    colour.green = uvk_light_scaled(colour.green, scale);
    colour.blue = uvk_light_scaled(colour.blue, scale);
    return colour;
}

/* Red, blue, green and all between them. */
static struct uvk_colour hue_colour(uint8_t hue)
{
    struct uvk_colour colour;
    uint8_t more;

    if (hue < A_THIRD) {
        more = (uint8_t)(hue * 3u);
        colour.red = (uint8_t)(UINT8_MAX - more);
        colour.green = 0;
        colour.blue = more;
    } else if (hue < 2u * A_THIRD) {
        more = (uint8_t)((hue - A_THIRD) * 3u);
        colour.red = 0;
        colour.green = more;
        colour.blue = (uint8_t)(UINT8_MAX - more);
    } else {
        more = (uint8_t)((hue - 2u * A_THIRD) * 3u);
        colour.red = more;
        colour.green = (uint8_t)(UINT8_MAX - more);
        colour.blue = 0;
    }
    return colour;
}

static uint8_t apart(uint8_t a, uint8_t b)
{
    return (uint8_t)(a > b ? a - b : b - a);
}

/* The longer way, and half of the shorter one: near enough to the distance, without a root. */
static uint8_t distance(const struct uvk_strip_lamp *a, const struct uvk_strip_lamp *b)
{
    uint8_t x = apart(a->x, b->x);
    uint8_t y = apart(a->y, b->y);
    uint16_t far = (uint16_t)(x > y ? x + y / 2u : y + x / 2u);

    return (uint8_t)(far < UINT8_MAX ? far : UINT8_MAX);
}

static uint8_t ring(const struct uvk_engine *engine, const struct uvk_strip_lamp *place)
{
    const struct uvk_strip_state *strip = UVK_NEAR(&engine->strip);
    struct uvk_strip_lamp origin;
    uint8_t radius;
    uint8_t away;

    if (!strip->ripples) {
        return RESTING;
    }
    origin = uvk_image_strip_lamp(&engine->image, strip->origin);
    radius = (uint8_t)((uint16_t)(strip->began - strip->pressed) >> RING_GOES);
    away = apart(distance(place, &origin), radius);
    return (uint8_t)(away < RING_WIDE - 1u ? UINT8_MAX - away * RING_STEP : RESTING);
}

struct uvk_colour uvk_effect_colour(const struct uvk_engine *engine, uint8_t effect, uint8_t at,
                                    const struct uvk_strip_lamp *place)
{
    const struct uvk_strip_state *strip = UVK_NEAR(&engine->strip);

    switch (effect) {
    case UVK_EFFECT_BREATHE:
        return dimmed(strip->base, uvk_effect_breath(strip->began));
    case UVK_EFFECT_HUES:
        return strip->of_layer
                   ? strip->base
                   : hue_colour((uint8_t)((strip->began >> 8) - place->x * (HUE_A_UNIT / 4u)));
    case UVK_EFFECT_RIPPLE:
        return dimmed(strip->base, ring(engine, place));
    case UVK_EFFECT_KEYS:
        return dimmed(strip->base, strip->glow[at]);
    default:
        return strip->base;
    }
}

#endif

#endif
