/* actions.c - a key goes down or comes up: what it does, and who else notices. */
#include "parts.h"
#ifdef __AVR__
#pragma GCC optimize("O2") /* part of every event: speed is worth the few bytes */
#endif
#include "uvrek/port.h"

#include <string.h>

/* A key of the host's keyboard, as opposed to modifiers alone. */
static bool is_typed(uvk_action action)
{
    return uvk_action_kind(action) == UVK_KEY && uvk_action_what(action) >= UVK_USAGE_FIRST;
}

/* Actions that are down as long as their key is: pressing a second key with the same one
 * must look to the host like a second press. Wheels, layers and modifiers are not. */
static bool is_pressed_key(uvk_action action)
{
    switch (uvk_action_kind(action)) {
    case UVK_KEY:
        return is_typed(action);
    case UVK_CONSUMER:
        return true;
    case UVK_DEVICE:
        return uvk_action_how(action) == UVK_DEVICE_SYSTEM ||
               uvk_action_how(action) == UVK_DEVICE_CLICK;
    default:
        return false;
    }
}

/* The action of a cell, chords resolved, typed keys without their modifier bits: those
 * go into *MODS. */
static uvk_action resolve(const struct uvk_image *image, uvk_action cell, uint8_t *mods)
{
    *mods = 0;
#if UVK_USE_CHORDS
    if (uvk_action_kind(cell) == UVK_CHORD) {
        cell = uvk_image_chord(image, uvk_action_value(cell), mods);
    }
#else
    (void)image;
#endif
    if (uvk_action_kind(cell) == UVK_KEY) {
        *mods |= uvk_action_mods(cell);
        cell = UVK_MAKE_KEY(0, uvk_action_what(cell));
    }
    return cell;
}

/* Could another key hold ACTION? What is down says so without asking every key. */
static bool may_be_held(const struct uvk_reports *reports, uvk_action action)
{
    uint8_t usage = uvk_action_what(action);

    return !is_typed(action) || (reports->bitmap[usage >> 3] & uvk_bit(usage)) != 0;
}

/* Older keys that hold the same ACTION are up for a moment. True if one was not yet: the host
 * has to see that release before the new press. */
static bool make_room(struct uvk_holds *holds, uvk_action action)
{
    bool found = false;

    for (uint8_t i = 0; i < holds->count; i++) {
        struct uvk_hold *hold = &holds->list[i];
        if (hold->action == action && !(hold->flags & UVK_HOLD_YIELDS)) {
            hold->flags |= UVK_HOLD_YIELDS;
            found = true;
        }
    }
    holds->yields |= found;
    return found;
}

/* The new press is there: what was up for it is down again, until all of them are up. */
static void come_back(struct uvk_holds *holds)
{

    if (!holds->yields) {
        return;
    }
    for (uint8_t i = 0; i < holds->count; i++) {
        struct uvk_hold *hold = &holds->list[i];
        hold->flags &= (uint8_t)~UVK_HOLD_YIELDS;
    }
    holds->yields = false;
}

/* A chord's modifiers belong to the chord: a key that is typed while the chord is still
 * down does not get them, unless it asks for them itself. Rolling from '?' to a types
 * "?a". Modifiers held by a key of their own stay. */
static void detach_mods(struct uvk_holds *holds, uint8_t wanted)
{

    for (uint8_t i = 0; i < holds->count; i++) {
        struct uvk_hold *hold = &holds->list[i];
        if (hold->mods != 0 && is_typed(hold->action)) {
            hold->mods &= wanted;
        }
    }
}

/* A DEVICE action takes effect once, at the press; what lasts is seen in the holds. */
static void device_down(struct uvk_engine *engine, struct uvk_port *port, uint8_t device,
                        uint8_t value)
{
    (void)engine;
    (void)port;
    (void)value;
    switch (device) {
#if UVK_USE_MOUSE
    case UVK_DEVICE_WHEEL:
        uvk_reports_wheel(&engine->reports, (enum uvk_wheel)value);
        break;
#endif
#if UVK_USE_BOARD
    case UVK_DEVICE_BOARD:
        if (value == UVK_BOARD_BOOTLOADER) {
            uvk_port_enter_bootloader(port);
        } else {
            uvk_port_restart(port); /* nothing is stored yet that a reset could forget */
        }
        break;
#endif
#if UVK_USE_BLOCKS
    case UVK_DEVICE_BLOCK:
        engine->blocked[value >> 3] ^= uvk_bit(value);
        break;
#endif
#if UVK_USE_LONG_PRESS
    case UVK_DEVICE_LONG_PRESS:
        engine->no_long_press = !engine->no_long_press;
        break;
#endif
#if UVK_USE_LEADER
    case UVK_DEVICE_LEADER:
        engine->leader.on = true;
        engine->leader.since = engine->now;
        break;
#endif
    default:
        break;
    }
}

/* What takes effect once, at the press. */
static void act_at_press(struct uvk_engine *engine, struct uvk_port *port, uvk_action action)
{
    uint8_t low = uvk_action_what(action);

    if (uvk_action_kind(action) == UVK_LAYER && uvk_action_how(action) == UVK_LAYER_WHILE) {
        uvk_layers_on(&engine->layers, low);
        return;
    }
#if UVK_USE_STICKY
    uvk_sticky_down(engine, action);
#endif
    if (uvk_action_kind(action) == UVK_DEVICE) {
        device_down(engine, port, uvk_action_how(action), low);
    }
}

#if UVK_USE_STICKY
/* What waits goes with HOLD, if it is a finger's. True: layers that waited go off now. */
static bool take_waiting(struct uvk_engine *engine, struct uvk_hold *hold)
{
    return !(hold->flags & UVK_HOLD_MACRO) && uvk_sticky_take(engine, hold);
}
#endif

#if UVK_USE_MACROS
/* A macro that runs is not interrupted by another one: it hurries instead. */
static bool must_wait(struct uvk_engine *engine, uvk_action action)
{
    bool wait = uvk_action_kind(action) == UVK_MACRO && engine->macro.on;

    if (wait) {
        uvk_macro_hurry(engine);
    }
    return wait;
}

/* A macro begins; modifiers go with what it presses, not with its key. */
static void start_macro(struct uvk_engine *engine, struct uvk_hold *hold)
{
    if (uvk_action_kind(hold->action) == UVK_MACRO) {
        uvk_macro_start(engine, uvk_action_value(hold->action), hold->key, hold->mods);
        hold->mods = 0;
    }
}
#endif

bool uvk_action_down(struct uvk_engine *engine, struct uvk_port *port, uint8_t key,
                     uint8_t flags, uvk_action action)
{
    struct uvk_holds *holds = &engine->holds;
    struct uvk_hold hold = {UVK_NOTHING, 0, key, flags};
    bool settle;

    hold.action = resolve(&engine->image, action, &hold.mods);
    settle = uvk_action_kind(hold.action) == UVK_LAYER;
#if UVK_USE_MACROS
    if (must_wait(engine, hold.action)) {
        return false;
    }
#endif
    if (is_pressed_key(hold.action) && may_be_held(&engine->reports, hold.action) &&
        make_room(holds, hold.action)) {
        uvk_reports_update(engine, true);
        return false;
    }
#if UVK_USE_MACROS
    if (flags & UVK_HOLD_MACRO) {
        hold.mods |= engine->macro.mods;
    }
#endif
#if UVK_USE_STICKY
    settle |= take_waiting(engine, &hold);
#endif
    if (is_typed(hold.action) && (engine->reports.mods != 0 || holds->yields)) {
        detach_mods(holds, hold.mods);
    }
#if UVK_USE_MACROS
    start_macro(engine, &hold);
#endif
    come_back(holds);
    holds->list[holds->count++] = hold;
#if UVK_USE_MACROS
    engine->macro.held = (uint8_t)(engine->macro.held + ((flags & UVK_HOLD_MACRO) != 0));
#endif
    act_at_press(engine, port, hold.action);
    if (settle) {
        uvk_layers_settle(engine);
    }
    uvk_reports_update(engine, false);
    return true;
}

/* Take the hold at INDEX out of the list; the others keep their order. */
static void remove_hold(struct uvk_holds *holds, uint8_t index)
{
    for (holds->count--; index < holds->count; index++) {
        holds->list[index] = holds->list[index + 1];
    }
}

/* Where the hold of KEY stands, other than by a macro; count: nowhere. */
static uint8_t place_of(const struct uvk_holds *holds, uint8_t key)
{
    uint8_t index = 0;

    while (index < holds->count && (holds->list[index].key != key ||
                                    (holds->list[index].flags & UVK_HOLD_MACRO) != 0)) {
        index++;
    }
    return index;
}

const struct uvk_hold *uvk_hold_of(const struct uvk_engine *engine, uint8_t key)
{
    uint8_t index = place_of(&engine->holds, key);

    return index < engine->holds.count ? &engine->holds.list[index] : NULL;
}

uint8_t uvk_action_up(struct uvk_engine *engine, uint8_t key)
{
    uint8_t index = place_of(&engine->holds, key);
    struct uvk_hold hold;

    if (index == engine->holds.count) {
        return 0; /* it went down unseen: before the start, or as a part of something */
    }
    hold = engine->holds.list[index];
    remove_hold(&engine->holds, index);
#if UVK_USE_STICKY
    uvk_sticky_up(engine, &hold);
#endif
#if UVK_USE_MACROS
    if (uvk_action_kind(hold.action) == UVK_MACRO) {
        uvk_macro_released(engine, uvk_action_value(hold.action), key);
    }
#endif
    if (uvk_action_kind(hold.action) == UVK_LAYER) {
        uvk_layers_settle(engine);
    }
    uvk_reports_update(engine, true);
    return hold.flags;
}

bool uvk_action_is_shifting(const struct uvk_image *image, uvk_action action)
{
    uint8_t mods;

    if (uvk_action_kind(action) == UVK_LAYER || uvk_action_kind(action) == UVK_MODS) {
        return true;
    }
    return (uvk_action_kind(action) == UVK_KEY || uvk_action_kind(action) == UVK_CHORD) &&
           resolve(image, action, &mods) == UVK_NOTHING && mods != 0;
}

#if UVK_USE_LONG_PRESS
uint8_t uvk_mods_of_keys(const struct uvk_engine *engine)
{
    const struct uvk_holds *holds = &engine->holds;
    uint8_t mods = 0;

    for (uint8_t i = 0; i < holds->count; i++) {
        const struct uvk_hold *hold = &holds->list[i];
        if (hold->action == UVK_NOTHING) {
            mods |= hold->mods;
        } else if (uvk_action_kind(hold->action) == UVK_MODS &&
                   uvk_action_how(hold->action) == UVK_MODS_ONCE) {
            mods |= uvk_action_what(hold->action);
        }
    }
#if UVK_USE_STICKY
    mods = (uint8_t)(uvk_sticky_mods(engine, mods) | engine->sticky.mods);
#endif
    return mods;
}
#endif

#if UVK_USE_MACROS
void uvk_action_let_go(struct uvk_engine *engine, uint8_t key, uvk_action action)
{
    struct uvk_holds *holds = &engine->holds;
    uint8_t mods;
    uvk_action wanted = resolve(&engine->image, action, &mods);

    for (uint8_t index = holds->count; index-- > 0;) {
        const struct uvk_hold *hold = &holds->list[index];
        bool same =
            action == UVK_NOTHING ||
            (hold->action == wanted && (wanted != UVK_NOTHING || (hold->mods & mods) == mods));
        if (hold->key != key || !(hold->flags & UVK_HOLD_MACRO) || !same) {
            continue;
        }
        remove_hold(holds, index);
        engine->macro.held--;
        if (action != UVK_NOTHING) {
            break;
        }
    }
    uvk_reports_update(engine, true);
}
#endif
