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
    return uvk_action_kind(action) == UVK_KEY && uvk_action_low(action) >= UVK_USAGE_FIRST;
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
        return uvk_action_high(action) == UVK_DEVICE_SYSTEM ||
               uvk_action_high(action) == UVK_DEVICE_CLICK;
    default:
        return false;
    }
}

/* The action of a cell, chords resolved, typed keys without their modifier bits: those
 * go into *MODS. */
static uvk_action resolve(const struct uvk_image *image, uvk_action cell, uint8_t *mods)
{
    *mods = 0;
    if (uvk_action_kind(cell) == UVK_MODS && uvk_action_high(cell) == UVK_MODS_ONCE) {
        *mods = uvk_action_low(cell); /* while it is down, an ordinary modifier */
    }
#if UVK_USE_CHORDS
    if (uvk_action_kind(cell) == UVK_CHORD) {
        cell = uvk_image_chord(image, uvk_action_value(cell), mods);
    }
#else
    (void)image;
#endif
    if (uvk_action_kind(cell) == UVK_KEY) {
        *mods |= uvk_action_mods(cell);
        cell = UVK_MAKE_KEY(0, uvk_action_low(cell));
    }
    return cell;
}

/* Could another key hold ACTION? What is down says so without asking every key. */
static bool may_be_held(const struct uvk_reports *reports, uvk_action action)
{
    uint8_t usage = uvk_action_low(action);

    return !is_typed(action) || (reports->bitmap[usage >> 3] & uvk_bit(usage)) != 0;
}

/* An older key that holds the same ACTION gives it up. True if there was one: the host
 * has to see that release before the new press. */
static bool take_over(struct uvk_holds *holds, uvk_action action)
{
    struct uvk_hold *hold = holds->list;
    bool found = false;

    for (uint8_t left = holds->count; left > 0; left--, hold++) {
        if (hold->action == action) {
            hold->action = UVK_NOTHING;
            hold->mods = 0;
            found = true;
        }
    }
    return found;
}

/* A chord's modifiers belong to the chord: a key that is typed while the chord is still
 * down does not get them, unless it asks for them itself. Rolling from '?' to a types
 * "?a". Modifiers held by a key of their own stay. */
static void detach_mods(struct uvk_holds *holds, uint8_t wanted)
{
    struct uvk_hold *hold = holds->list;

    for (uint8_t left = holds->count; left > 0; left--, hold++) {
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
    uint8_t low = uvk_action_low(action);

    if (uvk_action_kind(action) == UVK_LAYER && uvk_action_high(action) == UVK_LAYER_WHILE) {
        uvk_layers_on(&engine->layers, low);
        return;
    }
#if UVK_USE_STICKY
    uvk_sticky_down(engine, action);
#endif
    if (uvk_action_kind(action) == UVK_DEVICE) {
        device_down(engine, port, uvk_action_high(action), low);
    }
}

bool uvk_action_down(struct uvk_engine *engine, struct uvk_port *port, uint8_t key,
                     uvk_action action)
{
    struct uvk_holds *holds = &engine->holds;
    struct uvk_hold hold = {UVK_NOTHING, 0, key, false};
    bool settle;

    hold.action = resolve(&engine->image, action, &hold.mods);
    settle = uvk_action_kind(hold.action) == UVK_LAYER;
    if (is_pressed_key(hold.action) && may_be_held(&engine->reports, hold.action) &&
        take_over(holds, hold.action)) {
        uvk_reports_update(engine, true);
        return false;
    }
#if UVK_USE_STICKY
    settle |= uvk_sticky_take(engine, &hold);
#endif
    if (is_typed(hold.action) && engine->reports.mods != 0) {
        detach_mods(holds, hold.mods);
    }
    holds->list[holds->count++] = hold;
    act_at_press(engine, port, hold.action);
#if UVK_USE_MACROS
    if (uvk_action_kind(hold.action) == UVK_MACRO) {
        uvk_macro_start(engine, uvk_action_value(hold.action), key);
    }
#endif
    if (settle) {
        uvk_layers_settle(engine);
    }
    uvk_reports_update(engine, false);
    return true;
}

/* Take the hold of KEY out of the list; the others keep their order. */
static struct uvk_hold remove_hold(struct uvk_holds *holds, uint8_t key)
{
    struct uvk_hold hold = {UVK_NOTHING, 0, key, false};
    struct uvk_hold *to = holds->list;

    for (struct uvk_hold *from = to, *end = to + holds->count; from != end; from++) {
        if (from->key == key) {
            hold = *from;
            holds->count--;
        } else {
            if (to != from) {
                *to = *from;
            }
            to++;
        }
    }
    return hold;
}

void uvk_action_up(struct uvk_engine *engine, uint8_t key)
{
    struct uvk_hold hold = remove_hold(&engine->holds, key);

#if UVK_USE_STICKY
    uvk_sticky_up(engine, &hold);
#endif
#if UVK_USE_MACROS
    if (uvk_action_kind(hold.action) == UVK_MACRO) {
        uvk_macro_released(engine, key);
    }
#endif
    if (uvk_action_kind(hold.action) == UVK_LAYER) {
        uvk_layers_settle(engine);
    }
    uvk_reports_update(engine, true);
}

#if UVK_USE_MACROS
void uvk_action_let_go(struct uvk_engine *engine, uint8_t key, uvk_action action)
{
    struct uvk_holds *holds = &engine->holds;
    struct uvk_hold *to = holds->list;
    uint8_t mods;
    uvk_action wanted = resolve(&engine->image, action, &mods);

    for (struct uvk_hold *from = to, *end = to + holds->count; from != end; from++) {
        bool same = from->key == key &&
                    (action == UVK_NOTHING ||
                     (from->action == wanted && (wanted != UVK_NOTHING || from->mods == mods)));
        if (same) {
            holds->count--;
        } else {
            if (to != from) {
                *to = *from;
            }
            to++;
        }
    }
    uvk_reports_update(engine, true);
}
#endif
