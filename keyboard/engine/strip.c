/* strip.c - the lamps of the strip, one in a pass; when all are worked out they are sent. */
#include "lit.h"

#if UVK_USE_STRIP

#include <string.h>

/* A colour of a lamp takes 20 mA in full, and a lamp 1 mA besides. Sums of colours are counted
 * in quarters: so those of 255 lamps fit 16 bits. */
#define QUARTERS(ma) ((uint16_t)(3u * (ma) + 3u * (ma) / 16u)) /* 255 / 20 / 4 of each mA */
#define DARK_MA      1u

/* Of a period: a key that was let go has faded. And: its ring is beyond every board. */
#define FADES_IN_BITS 6 /* a quarter of a period, in 255 steps */
#define RING_ENDS     0xC000u

/* ---- which lamps ------------------------------------------------------------------------- */

struct own_lamps {
    uint8_t first, count;
};

/* Of two linked halves each lights so many, the first half the first ones. */
static struct own_lamps own_lamps(const struct uvk_engine *engine)
{
    struct own_lamps own;

    own.first = 0;
    own.count = uvk_image_strip(&engine->image);
#if UVK_USE_LINK
    if (engine->pair.linked) {
        own.count /= 2u;
        if (engine->pair.second) {
            own.first = own.count;
        }
    }
#endif
    return own;
}

void uvk_strip_start(struct uvk_engine *engine)
{
    uint8_t count = uvk_image_strip(&engine->image);

    for (uint8_t i = 0; i < count && !engine->lights.places; i++) {
        engine->lights.places = uvk_image_strip_lamp(&engine->image, i).line != UVK_NO_LINE;
    }
    engine->strip.differs = true; /* what the strip shows is not known */
}

void uvk_strip_touch(struct uvk_engine *engine, uint8_t line, uvk_bits closed)
{
    engine->strip.touched[line] |= closed;
}

/* ---- keys ------------------------------------------------------------------------------- */

static bool is_touched(const struct uvk_strip_state *strip, const struct uvk_strip_lamp *place)
{
    return place->line != UVK_NO_LINE &&
           ((uvk_bits)(strip->seen[place->line] >> place->sense) & 1u) != 0;
}

/* From here a ring spreads. */
UVK_ONE_COPY void uvk_strip_press(struct uvk_engine *engine, uint8_t at)
{
    struct uvk_strip_state *strip = UVK_NEAR(&engine->strip);

    strip->presses++;
    strip->origin = at;
    strip->pressed = strip->began;
    strip->ripples = true;
}

/* The main half sees all keys, and tells the other one. */
static bool follows(const struct uvk_engine *engine)
{
#if UVK_USE_LINK
    return engine->pair.linked && !engine->pair.leads;
#else
    (void)engine;
    return false;
#endif
}

static void let_glow(struct uvk_engine *engine, uint8_t at, const struct uvk_strip_lamp *place)
{
    struct uvk_strip_state *strip = &engine->strip;
    uint8_t glow = strip->glow[at];

    if (!is_touched(strip, place)) {
        strip->glow[at] = (uint8_t)(glow > strip->fade ? glow - strip->fade : 0);
        return;
    }
    if (glow < UINT8_MAX && !follows(engine)) {
        uvk_strip_press(engine, at);
    }
    strip->glow[at] = UINT8_MAX;
}

/* ---- one lamp --------------------------------------------------------------------------- */

static struct uvk_colour colour_of(struct uvk_engine *engine, uint8_t effect, uint8_t at,
                                   const struct uvk_strip_lamp *place)
{
    const struct uvk_shown *shown = UVK_NEAR(&engine->lights.shown);
    struct uvk_colour colour;

    if (shown->kind == UVK_SHOWN_ALL) {
        return uvk_effect_colour(engine, effect, at, place);
    }
    colour = shown->colour;
    if (shown->kind != UVK_SHOWN_STRIP ||
        (shown->lamp != UVK_SHOWN_EACH && shown->lamp != at)) {
        memset(&colour, 0, sizeof colour);
    }
    return colour;
}

static void put_colour(struct uvk_strip_state *strip, uint8_t own, struct uvk_colour colour)
{
    uint8_t *at = strip->colours + (uint16_t)(3u * own);
    uint16_t sum = (uint16_t)(colour.red + colour.green + colour.blue);

    strip->sum = (uint16_t)(strip->sum + (uint16_t)(sum + 3u) / 4u);
    if (at[0] != colour.red || at[1] != colour.green || at[2] != colour.blue) {
        at[0] = colour.red;
        at[1] = colour.green;
        at[2] = colour.blue;
        strip->differs = true;
    }
}

/* ---- a frame ---------------------------------------------------------------------------- */

static void begin_frame(struct uvk_engine *engine, const struct uvk_light_view *view)
{
    struct uvk_strip_state *strip = UVK_NEAR(&engine->strip);
    uint16_t phase = (uint16_t)(engine->lights.phase >> 8);
    uint16_t fade = (uint16_t)((uint16_t)(phase - strip->began) >> FADES_IN_BITS);

    strip->fade = (uint8_t)(fade < UINT8_MAX ? fade : UINT8_MAX);
    strip->began = phase;
    strip->sum = 0;
    memcpy(strip->seen, strip->touched, sizeof strip->seen);
    memset(strip->touched, 0, sizeof strip->touched);
    strip->ripples = strip->ripples && (uint16_t)(phase - strip->pressed) < RING_ENDS;
    strip->base = engine->lights.set.colour;
    strip->of_layer = uvk_image_colour(&engine->image, view->layer, &strip->base);
}

/* The scale at which the frame takes no more than it may; BRIGHTNESS, if that is less. */
static uint8_t scale_of(const struct uvk_engine *engine, uint8_t brightness, uint8_t own)
{
    uint16_t sum = engine->strip.sum;
    uint16_t limit = engine->lights.set.limit;
    uint16_t most;
    uint8_t parts;

#if UVK_USE_LINK
    if (engine->pair.linked) {
        limit /= 2u;
    }
#endif
    if (limit <= own * DARK_MA) {
        return 0;
    }
    most = QUARTERS(limit - own * DARK_MA);
    if (most >= sum) {
        return brightness;
    }
    /* as uvk_light_scaled takes them: one more than the scale */
    parts = uvk_light_parts(most, sum);
    return parts > brightness ? brightness : (uint8_t)(parts - (parts > 0));
}

static UVK_ONE_COPY void send(struct uvk_engine *engine, struct uvk_port *port, uint8_t scale,
                              uint8_t count)
{
    if (engine->strip.differs || scale != engine->lit.scale) {
        engine->lit.scale = scale;
        engine->strip.differs = false;
        uvk_port_strip_send(port, engine->strip.colours, count, scale);
    }
}

void uvk_strip_step(struct uvk_engine *engine, struct uvk_port *port,
                    const struct uvk_light_view *view, uint8_t brightness)
{
    struct uvk_strip_state *strip = &engine->strip;
    struct own_lamps own = own_lamps(engine);
    uint8_t count = uvk_image_strip(&engine->image);
    uint8_t at = strip->next;
    struct uvk_strip_lamp place;

    if (count == 0 || !uvk_port_strip_ready(port)) {
        return;
    }
    if (engine->lights.shown.kind != UVK_SHOWN_ALL) {
        brightness = UINT8_MAX;
    } else if (view->level == 0) { /* at once: the next frame may be a while */
        send(engine, port, 0, own.count);
        return;
    }
    if (at == 0) {
        begin_frame(engine, view);
    }
    place = uvk_image_strip_lamp(&engine->image, at);
    let_glow(engine, at, &place);
    if ((uint8_t)(at - own.first) < own.count) {
        put_colour(strip, (uint8_t)(at - own.first),
                   colour_of(engine, view->effect, at, &place));
    }
    at++;
    if (at == count) {
        at = 0;
        send(engine, port, scale_of(engine, brightness, own.count), own.count);
    }
    strip->next = at;
}

#endif
