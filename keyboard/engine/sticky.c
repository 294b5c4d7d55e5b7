/* sticky.c - layers and modifiers that outlive their key: toggled, and `once`. */
#include "deciding.h"
#include "outputs.h"

#include <string.h>

#if UVK_USE_STICKY

static void set_bit(uint8_t *bits, uint8_t index)
{
    bits[index >> 3] |= uvk_bit(index);
}

static void flip_bit(uint8_t *bits, uint8_t index)
{
    bits[index >> 3] ^= uvk_bit(index);
}

/* Switch off all layers but the first, then LAYER on. Keys that hold a layer lose it. */
static void only_layer(struct uvk_engine *engine, uint8_t layer)
{
    memset(engine->sticky.layers, 0, sizeof engine->sticky.layers);
    memset(engine->sticky.waiting, 0, sizeof engine->sticky.waiting);
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
        uvk_layers_on(&engine->layers, layer); /* off again: it does not stay */
    } else if (op == UVK_LAYER_ONCE) {
        uvk_layers_on(&engine->layers, layer);
    }
}

void uvk_sticky_down(struct uvk_engine *engine, uvk_action action)
{
    struct uvk_sticky *sticky = UVK_NEAR(&engine->sticky);
    uint8_t op = uvk_action_how(action);
    uint8_t low = uvk_action_what(action);

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
    return (uvk_action_kind(action) == UVK_LAYER && uvk_action_how(action) == UVK_LAYER_ONCE) ||
           (uvk_action_kind(action) == UVK_MODS && uvk_action_how(action) == UVK_MODS_ONCE);
}

void uvk_sticky_up(struct uvk_engine *engine, const struct uvk_hold *hold)
{
    struct uvk_sticky *sticky = &engine->sticky;

    if (!(hold->flags & UVK_HOLD_FRESH)) {
        return;
    }
    sticky->since = engine->at;
    sticky->waits = true;
    if (uvk_action_kind(hold->action) == UVK_LAYER) {
        set_bit(sticky->waiting, uvk_action_what(hold->action));
    } else {
        sticky->mods |= uvk_action_what(hold->action);
    }
}

/* A key that uses up what waits: not a modifier, not a layer key. */
static bool is_used_by(uvk_action action)
{
    switch (uvk_action_kind(action)) {
    case UVK_KEY:
        return uvk_action_what(action) != 0;
    case UVK_LAYER:
    case UVK_MODS:
        return false;
    default:
        return true;
    }
}

/* A `once` key that is down will not become sticky any more: it is an ordinary key, and its
 * modifiers, which nobody has seen so far, reach the host. */
static void stale(struct uvk_engine *engine)
{
    if (!engine->sticky.fresh) {
        return;
    }
    for (uint8_t i = 0; i < engine->holds.count; i++) {
        struct uvk_hold *hold = &engine->holds.list[i];
        if ((hold->flags & UVK_HOLD_FRESH) && uvk_action_kind(hold->action) == UVK_MODS) {
            hold->mods = uvk_action_what(hold->action);
        }
        hold->flags &= (uint8_t)~UVK_HOLD_FRESH;
    }
    engine->sticky.fresh = false;
}

static UVK_ONE_COPY void end_waiting(struct uvk_sticky *sticky)
{
    memset(sticky->waiting, 0, sizeof sticky->waiting);
    sticky->mods = 0;
    sticky->waits = false;
}

bool uvk_sticky_take(struct uvk_engine *engine, struct uvk_hold *hold)
{
    struct uvk_sticky *sticky = &engine->sticky;

    if (is_once(hold->action)) {
        hold->flags |= UVK_HOLD_FRESH;
        sticky->fresh = true;
        sticky->pressed = engine->at;
        return false;
    }
    stale(engine);
    if (!is_used_by(hold->action) || !sticky->waits) {
        return false;
    }
    hold->mods |= sticky->mods;
    end_waiting(sticky);
    return true;
}

/* An event that waits may be a little older than what the engine does by itself. */
#define A_LITTLE 4000u

/* Milliseconds from THEN to the event that is next, which is not late for waiting; without
 * one, to now. */
static uint16_t passed_since(struct uvk_engine *engine, uint16_t then)
{
    const struct uvk_event *first = uvk_queue_at(&engine->queue, 0);
    uint16_t at = first != NULL ? first->at : engine->now;

    return (uint16_t)(then - at) < A_LITTLE ? 0 : (uint16_t)(at - then);
}

bool uvk_sticky_wear(struct uvk_engine *engine)
{
    const struct uvk_sticky *sticky = &engine->sticky;
    struct uvk_feel feel;

    if (!sticky->fresh) {
        return false;
    }
    uvk_image_feel(&engine->image, 0, &feel);
    if (passed_since(engine, sticky->pressed) < feel.hold_after) {
        return false;
    }
    stale(engine);
    return true;
}

/* Taps that are counted, and those about to be done, were in time. */
bool uvk_sticky_expire(struct uvk_engine *engine)
{
    struct uvk_sticky *sticky = &engine->sticky;

    if (!sticky->waits || uvk_dances_count(engine) || uvk_pulse_waits(engine) ||
        passed_since(engine, sticky->since) < engine->settings[UVK_SET_ONCE_FOR]) {
        return false;
    }
    end_waiting(sticky);
    return true;
}

void uvk_sticky_keep(const struct uvk_engine *engine, uint8_t *layers)
{
    for (uint8_t i = 0; i < UVK_LAYER_BYTES; i++) {
        layers[i] |= (uint8_t)(engine->sticky.layers[i] | engine->sticky.waiting[i]);
    }
}

UVK_ONE_COPY uint8_t uvk_sticky_mods(const struct uvk_engine *engine, uint8_t mods)
{
    return (uint8_t)((mods | engine->sticky.toggled) & (uint8_t)~engine->sticky.blocked);
}

#endif
