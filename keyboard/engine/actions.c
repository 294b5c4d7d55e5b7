/* actions.c - a key goes down or comes up: what it does, and who else notices. */
#include "macros.h"
#include "outputs.h"

/* Actions that are down as long as their key is: pressing a second key with the same one
 * must look to the host like a second press. Wheels, layers and modifiers are not. */
static bool is_pressed_key(uvk_action action)
{
    switch (uvk_action_kind(action)) {
    case UVK_KEY:
        return uvk_action_is_typed(action);
    case UVK_CONSUMER:
        return true;
    case UVK_DEVICE:
        return uvk_action_how(action) == UVK_DEVICE_SYSTEM ||
               uvk_action_how(action) == UVK_DEVICE_CLICK;
    default:
        return false;
    }
}

/* Could another key hold ACTION? What is down says so without asking every key. */
static bool may_be_held(const struct uvk_reports *reports, uvk_action action)
{
    uint8_t usage = uvk_action_what(action);

    return !uvk_action_is_typed(action) ||
           (reports->told.keys.bitmap[usage >> 3] & uvk_bit(usage)) != 0;
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
        if (hold->mods != 0 && uvk_action_is_typed(hold->action)) {
            hold->mods &= wanted;
        }
    }
}

/* What takes effect once, at the press. */
static UVK_ONE_COPY void act_at_press(struct uvk_engine *engine, struct uvk_port *port,
                                      uvk_action action)
{
    if (uvk_action_kind(action) == UVK_LAYER && uvk_action_how(action) == UVK_LAYER_WHILE) {
        uvk_layers_on(&engine->layers, uvk_action_what(action));
        return;
    }
    uvk_sticky_down(engine, action);
    if (uvk_action_kind(action) == UVK_DEVICE) {
        uvk_device_down(engine, port, action);
    }
}

/* What waits goes with HOLD, if it is a finger's; with a macro it goes with what that presses.
 * True: layers that waited go off now. */
static bool take_waiting(struct uvk_engine *engine, struct uvk_hold *hold)
{
    bool waited;

    if (hold->flags & UVK_HOLD_MACRO) {
        hold->mods |= uvk_macro_mods(engine);
        uvk_macro_holds(engine, 1);
        return false;
    }
    waited = uvk_sticky_take(engine, hold);
    if (uvk_action_kind(hold->action) == UVK_MACRO) {
        uvk_macro_give_mods(engine, hold->mods);
        hold->mods = 0;
    }
    return waited;
}

/* Older keys that hold the same as HOLD come up first. */
static bool must_yield(struct uvk_engine *engine, const struct uvk_hold *hold)
{
    return is_pressed_key(hold->action) && may_be_held(&engine->reports, hold->action) &&
           make_room(&engine->holds, hold->action);
}

enum uvk_turn uvk_action_down(struct uvk_engine *engine, struct uvk_port *port, uint8_t key,
                              uint8_t flags, uvk_action action)
{
    struct uvk_holds *holds = &engine->holds;
    struct uvk_hold hold = {UVK_NOTHING, 0, key, flags};
    bool settle;

    hold.action = uvk_chord_resolve(&engine->image, action, &hold.mods);
    if (must_yield(engine, &hold)) {
        uvk_told_update(engine, true);
        return UVK_TURN_DONE;
    }
    settle = take_waiting(engine, &hold) || uvk_action_kind(hold.action) == UVK_LAYER;
    if (uvk_action_is_typed(hold.action) &&
        (engine->reports.told.keys.mods != 0 || holds->yields)) {
        detach_mods(holds, hold.mods);
    }
    come_back(holds);
    holds->list[holds->count++] = hold;
    act_at_press(engine, port, hold.action);
    if (settle) {
        uvk_layers_settle(engine);
    }
    uvk_told_update(engine, false);
    return UVK_TURN_NEXT;
}

struct uvk_hold uvk_action_up(struct uvk_engine *engine, uint8_t key)
{
    struct uvk_hold hold = uvk_hold_take(&engine->holds, key);

    if (hold.key == UVK_NO_KEY) {
        return hold; /* it went down unseen: before the start, or as a part of something */
    }
    uvk_sticky_up(engine, &hold);
    if (uvk_action_kind(hold.action) == UVK_LAYER) {
        uvk_layers_settle(engine);
    }
    uvk_told_update(engine, true);
    return hold;
}

/* Is HOLD one of ACTION, which is WANTED with MODS when its chord is resolved? */
static bool is_same(const struct uvk_hold *hold, uvk_action wanted, uint8_t mods)
{
    return hold->action == wanted && (wanted != UVK_NOTHING || (hold->mods & mods) == mods);
}

void uvk_action_let_go(struct uvk_engine *engine, uint8_t key, uvk_action action)
{
    struct uvk_holds *holds = &engine->holds;
    uint8_t mods;
    uvk_action wanted = uvk_chord_resolve(&engine->image, action, &mods);

    for (uint8_t index = holds->count; index-- > 0;) {
        const struct uvk_hold *hold = &holds->list[index];
        if (hold->key != key || !(hold->flags & UVK_HOLD_MACRO) ||
            (action != UVK_NOTHING && !is_same(hold, wanted, mods))) {
            continue;
        }
        uvk_hold_remove(holds, index);
        uvk_macro_holds(engine, -1);
        if (action != UVK_NOTHING) {
            break;
        }
    }
    uvk_told_update(engine, true);
}
