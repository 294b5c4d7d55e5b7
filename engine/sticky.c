/* sticky.c - layers and modifiers that outlive their key: toggled, and `once`. */
#include "parts.h"

#include <string.h>

#if UVK_USE_STICKY

static bool bit_of(const uint8_t *bits, uint8_t index)
{
    return (bits[index >> 3] & uvk_bit(index)) != 0;
}

static void flip_bit(uint8_t *bits, uint8_t index)
{
    bits[index >> 3] ^= uvk_bit(index);
}

/* Switch off all layers but the first, then LAYER on. Keys that hold a layer lose it. */
static void only_layer(struct uvk_engine *engine, uint8_t layer)
{
    memset(engine->sticky.layers, 0, sizeof engine->sticky.layers);
    engine->sticky.layer = 0;
    uvk_layers_reset(&engine->layers);
    if (layer != 0) {
        flip_bit(engine->sticky.layers, layer);
        uvk_layers_on(&engine->layers, layer);
    }
}

static void layer_down(struct uvk_engine *engine, uint8_t op, uint8_t layer)
{
    if (op == UVK_LAYER_ONLY) {
        only_layer(engine, layer);
    } else if (op == UVK_LAYER_TOGGLE && layer != 0) {
        flip_bit(engine->sticky.layers, layer);
        if (bit_of(engine->sticky.layers, layer)) {
            uvk_layers_on(&engine->layers, layer);
        }
    } else if (op == UVK_LAYER_ONCE) {
        uvk_layers_on(&engine->layers, layer);
    }
}

void uvk_sticky_down(struct uvk_engine *engine, uvk_action action)
{
    struct uvk_sticky *sticky = &engine->sticky;
    uint8_t op = uvk_action_high(action);
    uint8_t low = uvk_action_low(action);

    if (uvk_action_kind(action) == UVK_LAYER) {
        layer_down(engine, op, low);
    } else if (uvk_action_kind(action) == UVK_MODS && op == UVK_MODS_TOGGLE) {
        sticky->toggled ^= low;
    } else if (uvk_action_kind(action) == UVK_MODS && op == UVK_MODS_BLOCK) {
        sticky->blocked ^= low;
    }
}

static bool is_once(uvk_action action)
{
    return (uvk_action_kind(action) == UVK_LAYER &&
            uvk_action_high(action) == UVK_LAYER_ONCE) ||
           (uvk_action_kind(action) == UVK_MODS && uvk_action_high(action) == UVK_MODS_ONCE);
}

void uvk_sticky_up(struct uvk_engine *engine, const struct uvk_hold *hold)
{
    struct uvk_sticky *sticky = &engine->sticky;

    if (!hold->fresh || !is_once(hold->action)) {
        return;
    }
    sticky->since = engine->now;
    if (uvk_action_kind(hold->action) == UVK_LAYER) {
        sticky->layer = uvk_action_low(hold->action);
    } else {
        sticky->mods |= hold->mods;
    }
}

/* A key that uses up what waits: not a modifier, not a layer key. */
static bool is_used_by(uvk_action action)
{
    switch (uvk_action_kind(action)) {
    case UVK_KEY:
        return uvk_action_low(action) != 0;
    case UVK_LAYER:
    case UVK_MODS:
        return false;
    default:
        return true;
    }
}

/* Another key is pressed: a `once` key that is down will not become sticky any more. */
static void stale(struct uvk_engine *engine)
{
    for (uint8_t i = 0; engine->sticky.fresh && i < engine->holds.count; i++) {
        engine->holds.list[i].fresh = false;
    }
    engine->sticky.fresh = false;
}

bool uvk_sticky_take(struct uvk_engine *engine, struct uvk_hold *hold)
{
    struct uvk_sticky *sticky = &engine->sticky;
    bool ends = false;

    if (is_once(hold->action)) {
        hold->fresh = true;
        sticky->fresh = true;
        return false;
    }
    stale(engine);
    if (is_used_by(hold->action)) {
        ends = sticky->layer != 0;
        hold->mods |= sticky->mods;
        sticky->mods = 0;
        sticky->layer = 0;
    }
    return ends;
}

void uvk_sticky_expire(struct uvk_engine *engine)
{
    struct uvk_sticky *sticky = &engine->sticky;
    uint16_t once_for = uvk_image_setting(&engine->image, UVK_SET_ONCE_FOR);

    if ((sticky->mods != 0 || sticky->layer != 0) &&
        (uint16_t)(engine->now - sticky->since) >= once_for) {
        sticky->mods = 0;
        sticky->layer = 0;
        uvk_layers_settle(engine);
    }
}

void uvk_sticky_keep(const struct uvk_engine *engine, uint8_t *layers)
{
    uint8_t once = engine->sticky.layer;

    for (uint8_t i = 0; i < sizeof engine->sticky.layers; i++) {
        layers[i] |= engine->sticky.layers[i];
    }
    layers[once >> 3] |= uvk_bit(once); /* 0 is the first layer, which is on anyway */
}

uint8_t uvk_sticky_mods(const struct uvk_engine *engine, uint8_t mods)
{
    return (uint8_t)((mods | engine->sticky.toggled) & (uint8_t)~engine->sticky.blocked);
}

#endif
