/* lights.c - the state of the lights, the backlight, and lamps with a pin of their own. */
#include "lit.h"

#if UVK_USE_LIGHTS

#include <string.h>

#define A_SECOND     1000u /* ms */
#define SECONDS_MOST 60u

/* ---- brightness -------------------------------------------------------------------------- */

/* The eye sees twice the light as less than twice as bright: levels go up by their squares. */
uint8_t uvk_light_brightness(uint8_t level, uint8_t levels)
{
    uint8_t part = level < levels ? uvk_light_parts(level, levels) : UINT8_MAX;
    uint8_t brightness = uvk_light_scaled(part, part);

    return (uint8_t)(brightness + (level > 0 && brightness == 0));
}

/* Worked out once for a level: a small chip divides slowly. */
static uint8_t brightness_of(struct uvk_lights *lights, uint8_t level)
{
    if (lights->bright_of != level) {
        lights->bright_of = level;
        lights->brightness = uvk_light_brightness(level, lights->set.levels);
    }
    return lights->brightness;
}

/* ---- the state --------------------------------------------------------------------------- */

static void put_kept(const struct uvk_lit *lit, uint8_t kept[UVK_LIGHTS_KEPT])
{
    kept[0] = (uint8_t)(lit->level | (lit->off ? UVK_LIGHTS_OFF : 0u));
    kept[1] = lit->effect;
}

void uvk_lights_start(struct uvk_engine *engine)
{
    uvk_lights_reload(engine);
    engine->lit.level = engine->lights.set.level;
    engine->lit.effect = engine->lights.set.effect;
    put_kept(&engine->lit, engine->lights.kept);
    uvk_strip_start(engine);
}

/* What a live change says anew of the beginning is so at once; what was chosen by keys stays.
 */
static void begin_anew(struct uvk_engine *engine, const struct uvk_light *before)
{
    const struct uvk_light *set = &engine->lights.set;
    struct uvk_lit *lit = &engine->lit;

    if (set->effect != before->effect) {
        lit->effect = set->effect;
    }
    if (set->level != before->level || lit->level > set->levels) {
        lit->level = set->level;
    }
    put_kept(lit, engine->lights.kept);
}

void uvk_lights_reload(struct uvk_engine *engine)
{
    struct uvk_lights *lights = UVK_NEAR(&engine->lights);
    struct uvk_light before = lights->set;

    memset(&lights->set, 0, sizeof lights->set);
    lights->set.levels = 1;
    if (uvk_image_has_light(&engine->image)) {
        uvk_image_light(&engine->image, &lights->set);
    }
    begin_anew(engine, &before);
    lights->bright_of = UVK_BRIGHT_OF_NONE;
}

void uvk_lights_restore(struct uvk_engine *engine, const uint8_t *kept, uint8_t size)
{
    uint8_t level = size == UVK_LIGHTS_KEPT ? kept[0] & (uint8_t)~UVK_LIGHTS_OFF : UINT8_MAX;

    if (level <= engine->lights.set.levels && kept[1] < UVK_EFFECTS) {
        engine->lit.level = level;
        engine->lit.off = (kept[0] & UVK_LIGHTS_OFF) != 0;
        engine->lit.effect = kept[1];
        put_kept(&engine->lit, engine->lights.kept);
    }
}

bool uvk_lights_to_keep(const struct uvk_engine *engine, uint8_t out[UVK_LIGHTS_KEPT])
{
    put_kept(&engine->lit, out);
    return memcmp(out, engine->lights.kept, UVK_LIGHTS_KEPT) != 0;
}

void uvk_lights_are_kept(struct uvk_engine *engine, const uint8_t kept[UVK_LIGHTS_KEPT])
{
    memcpy(engine->lights.kept, kept, UVK_LIGHTS_KEPT);
}

#if UVK_USE_LIGHT_CELLS

/* The effects of this keyboard are the first ones of all. */
static uint8_t effects(const struct uvk_engine *engine)
{
#if UVK_USE_STRIP
    if (uvk_image_strip(&engine->image) > 0) {
        return engine->lights.places ? UVK_EFFECTS : UVK_EFFECT_RIPPLE;
    }
#endif
    (void)engine;
    return UVK_EFFECT_HUES;
}

static void step_effect(struct uvk_engine *engine, bool back)
{
    uint8_t count = effects(engine);
    uint8_t effect = engine->lit.effect;

    if (back) {
        effect = effect == 0 || effect >= count ? count : effect;
        effect--;
    } else {
        effect++;
        effect = effect < count ? effect : 0;
    }
    engine->lit.effect = effect;
}

/* Lights that are off come on at the level that they had. */
static void step_level(struct uvk_engine *engine, bool down)
{
    struct uvk_lit *lit = &engine->lit;
    uint8_t step = (uint8_t)engine->settings[UVK_SET_LIGHT_STEP];
    uint8_t levels = engine->lights.set.levels;

    if (lit->off) {
        lit->off = false;
    } else if (down) {
        lit->level = (uint8_t)(lit->level > step ? lit->level - step : 0);
    } else {
        lit->level = (uint8_t)(levels - lit->level > step ? lit->level + step : levels);
    }
}

void uvk_lights_act(struct uvk_engine *engine, uint8_t act)
{
    struct uvk_lit *lit = &engine->lit;
    bool dark = lit->off || lit->level == 0;

    switch (act) {
    case UVK_LIGHT_UP:
    case UVK_LIGHT_DOWN:
        step_level(engine, act == UVK_LIGHT_DOWN);
        return;
    case UVK_LIGHT_NEXT:
    case UVK_LIGHT_BACK:
        step_effect(engine, act == UVK_LIGHT_BACK);
        return;
    case UVK_LIGHT_BREATHE:
        lit->effect = lit->effect == UVK_EFFECT_BREATHE ? UVK_EFFECT_STILL : UVK_EFFECT_BREATHE;
        return;
    default:
        lit->off = act == UVK_LIGHT_TOGGLE ? !dark : act == UVK_LIGHT_OFF;
    }
    if (!lit->off && lit->level == 0) {
        step_level(engine, false);
    }
}

#else

void uvk_lights_act(struct uvk_engine *engine, uint8_t act)
{
    (void)engine;
    (void)act;
}

#endif

/* ---- what is lit ------------------------------------------------------------------------ */

static bool is_dark(const struct uvk_engine *engine, struct uvk_port *port)
{
    return engine->lit.off || uvk_port_host_sleeps(port);
}

/* The host's locks, and which layers are on that have a lamp. */
static uint8_t lit_of(const struct uvk_engine *engine, struct uvk_port *port)
{
    uint8_t lit = (uint8_t)(uvk_port_lamps(port) & 7u);
#if UVK_MAX_LAMPS > 0
    uint8_t bit = 1u << UVK_LIT_LAYERS;

    for (uint8_t i = 0; i < uvk_image_lamps(&engine->image); i++) {
        uint8_t layer;
        if (uvk_image_lamp(&engine->image, i, &layer) >= UVK_LAMP_LAYER) {
            lit = (uint8_t)(lit | (uvk_layers_are_on(&engine->layers, layer) ? bit : 0u));
            bit = (uint8_t)(bit << 1);
        }
    }
#else
    (void)engine;
#endif
    return lit;
}

static struct uvk_light_view view_of(const struct uvk_engine *engine, struct uvk_port *port)
{
    struct uvk_light_view view;

    view.level = engine->lit.level;
    if (is_dark(engine, port)) {
        view.level = 0;
    }
    view.effect = engine->lit.effect;
    view.layer = engine->layers.order[engine->layers.count - 1u];
    view.lit = lit_of(engine, port);
    if (uvk_port_host_sleeps(port)) {
        view.lit = 0;
    }
    return view;
}

#if UVK_USE_BACKLIGHT
static void show_backlight(struct uvk_engine *engine, struct uvk_port *port,
                           const struct uvk_light_view *view, uint8_t brightness)
{
    struct uvk_lights *lights = &engine->lights;

    if (view->effect == UVK_EFFECT_BREATHE) {
        brightness =
            uvk_light_scaled(brightness, uvk_effect_breath((uint16_t)(lights->phase >> 8)));
    }
    if (lights->shown.kind != UVK_SHOWN_ALL) {
        brightness = lights->shown.kind == UVK_SHOWN_BACKLIGHT ? UINT8_MAX : 0;
    }
    if (brightness != lights->backlight) {
        lights->backlight = brightness;
        uvk_port_backlight(port, brightness);
    }
}
#endif

#if UVK_MAX_LAMPS > 0
/* A bit for each lamp: VIEW has one for each thing that lamps tell. */
static void show_lamps(struct uvk_engine *engine, struct uvk_port *port,
                       const struct uvk_light_view *view)
{
    const struct uvk_shown *shown = &engine->lights.shown;
    uint8_t layers = (uint8_t)(view->lit >> UVK_LIT_LAYERS);
    uint8_t lit = 0;

    for (uint8_t i = 0; i < uvk_image_lamps(&engine->image); i++) {
        uint8_t layer;
        uint8_t tells = (uint8_t)uvk_image_lamp(&engine->image, i, &layer);
        bool on = (view->lit & uvk_bit(tells)) != 0;
        if (tells >= UVK_LAMP_LAYER) {
            on = tells == UVK_LAMP_LAYER && (layers & 1u) != 0;
            layers >>= 1;
        }
        if (shown->kind != UVK_SHOWN_ALL) {
            on = shown->kind == UVK_SHOWN_LAMP &&
                 (shown->lamp == i || shown->lamp == UVK_SHOWN_EACH);
        }
        if (on) {
            lit |= uvk_bit(i);
        }
    }
    uvk_port_lamps_light(port, lit);
}
#endif

/* ---- time -------------------------------------------------------------------------------- */

static void pass_time(struct uvk_engine *engine)
{
    struct uvk_lights *lights = UVK_NEAR(&engine->lights);
    uint16_t ms = (uint16_t)(engine->now - lights->at);

    lights->at = engine->now;
    lights->phase += (uint32_t)lights->set.pace * ms;
    if (lights->shown.kind != UVK_SHOWN_ALL) {
        lights->shown.ms = (uint16_t)(lights->shown.ms > ms ? lights->shown.ms - ms : 0);
        if (lights->shown.ms == 0) {
            lights->shown.kind = UVK_SHOWN_ALL;
        }
    }
}

UVK_ONE_COPY void uvk_lights_show(struct uvk_engine *engine, enum uvk_light_shown kind,
                                  uint8_t lamp, struct uvk_colour colour, uint8_t seconds)
{
    struct uvk_shown *shown = UVK_NEAR(&engine->lights.shown);

    shown->kind = (uint8_t)kind;
    shown->lamp = lamp;
    shown->colour = colour;
    shown->ms = (uint16_t)((seconds < SECONDS_MOST ? seconds : SECONDS_MOST) * A_SECOND);
    if (seconds == 0) {
        shown->kind = UVK_SHOWN_ALL;
    }
}

static void show(struct uvk_engine *engine, struct uvk_port *port,
                 const struct uvk_light_view *view)
{
    uint8_t brightness = brightness_of(&engine->lights, view->level);

    pass_time(engine);
#if UVK_USE_BACKLIGHT
    show_backlight(engine, port, view, brightness);
#endif
#if UVK_USE_STRIP
    uvk_strip_step(engine, port, view, brightness);
#endif
#if UVK_MAX_LAMPS > 0
    show_lamps(engine, port, view);
#endif
    (void)port;
    (void)brightness;
}

void uvk_lights_pass(struct uvk_engine *engine, struct uvk_port *port)
{
    engine->lights.view = view_of(engine, port);
    show(engine, port, &engine->lights.view);
}

#if UVK_USE_LINK

uint8_t uvk_lights_tell(const struct uvk_engine *engine, uint8_t index)
{
    const struct uvk_lights *lights = &engine->lights;

    switch (index) {
    case UVK_TOLD_LEVEL:
        return lights->view.level;
    case UVK_TOLD_PHASE:
        return (uint8_t)(lights->phase >> 16);
#if UVK_USE_STRIP
    case UVK_TOLD_EFFECT:
        return (uint8_t)(lights->view.effect | engine->strip.presses * UVK_TOLD_PRESS);
    default:
        return engine->strip.origin;
#else
    default:
        return index == UVK_TOLD_EFFECT ? lights->view.effect : 0;
#endif
    }
}

/* Both clocks run alike; a difference of two parts in 256 is what the way takes. */
static void follow_phase(struct uvk_lights *lights, uint8_t phase)
{
    uint8_t ahead = (uint8_t)(phase + 2u - (uint8_t)(lights->phase >> 16));

    if (ahead > 4u) {
        lights->phase = (uint32_t)phase << 16;
    }
}

void uvk_lights_hear(struct uvk_engine *engine, uint8_t index, uint8_t byte)
{
    uint8_t before = engine->lights.told[index];

    engine->lights.told[index] = byte;
    if (index == UVK_TOLD_PHASE) {
        follow_phase(&engine->lights, byte);
    }
#if UVK_USE_STRIP
    if (index == UVK_TOLD_EFFECT && (byte ^ before) >= UVK_TOLD_PRESS) {
        uvk_strip_press(engine, engine->lights.told[UVK_TOLD_ORIGIN]);
    } else if (index == UVK_TOLD_ORIGIN) {
        engine->strip.origin = byte;
    }
#endif
    (void)before;
}

uint8_t uvk_lights_tell_shown(const struct uvk_engine *engine, uint8_t out[UVK_ASK_SHOWN])
{
    const struct uvk_shown *shown = &engine->lights.shown;

    out[0] = shown->kind;
    out[1] = shown->lamp;
    out[2] = shown->colour.red;
    out[3] = shown->colour.green;
    out[4] = shown->colour.blue;
    return shown->kind != UVK_SHOWN_ALL ? UVK_ASK_SHOWN : 0;
}

/* Until a question says nothing of it; a second at the most, if there are no more. */
void uvk_lights_hear_shown(struct uvk_engine *engine, const uint8_t *shown, uint8_t size)
{
    struct uvk_colour colour;

    if (size < UVK_ASK_SHOWN || shown[0] >= UVK_SHOWN_KINDS) {
        engine->lights.shown.kind = UVK_SHOWN_ALL;
        return;
    }
    colour.red = shown[2];
    colour.green = shown[3];
    colour.blue = shown[4];
    uvk_lights_show(engine, (enum uvk_light_shown)shown[0], shown[1], colour, 1);
}

void uvk_lights_follow(struct uvk_engine *engine, struct uvk_port *port)
{
    const struct uvk_pair *pair = &engine->pair;
    const uint8_t *told = engine->lights.told;
    struct uvk_light_view view;

    view.level = told[UVK_TOLD_LEVEL];
    view.effect = (uint8_t)(told[UVK_TOLD_EFFECT] & UVK_TOLD_EFFECTS);
    view.layer = pair->layer;
    view.lit = pair->lamps;
    if (pair->silence >= UVK_HALF_GONE) {
        view.level = 0;
        view.lit = 0;
    }
    show(engine, port, &view);
}

#endif

#endif
