/* decide.c - tap or hold: what a tap-hold key comes to, seen from the keys behind it.
 *
 * Nothing is kept about a key that is undecided but its event, first in the queue; each pass
 * asks again, with what has come since. */
#include "parts.h"

#if UVK_USE_HOLDS

/* Times are 16 bits wide; what is older than this is forgotten. */
#define FORGET_AFTER (UVK_FEEL_TIME_MAX + 1000u)

static uint16_t since(uint16_t now, uint16_t then)
{
    return (uint16_t)(now - then);
}

/* Was another key than KEY pressed less than TIME before AT? */
static bool lacks_rest(const struct uvk_memory *memory, uint8_t key, uint16_t at, uint16_t time)
{
    uint8_t last = memory->pressed_key[0] == key ? 1 : 0;

    return memory->pressed_key[last] != UVK_NO_KEY &&
           since(at, memory->pressed_at[last]) < time;
}

#if UVK_USE_AGAIN
/* Where the memory has the taps of KEY. */
static uint16_t *taps_of(struct uvk_memory *memory, uint8_t key)
{
    return &memory->tapped_at[key < UVK_SOURCE_COMBO ? key
                                                     : key - UVK_SOURCE_COMBO + UVK_MAX_KEYS];
}

static bool is_again(struct uvk_memory *memory, uint8_t key, uint16_t at, uint16_t time)
{
    uint16_t tapped = *taps_of(memory, key);

    return tapped != 0 && since(at, tapped) < time;
}
#endif

/* Did the key of EVENT, a release, go down while it waited behind the first event? */
static bool pressed_before(struct uvk_queue *queue, const struct uvk_event *event)
{
    struct uvk_event *at = uvk_queue_at(queue, 0);

    for (at = uvk_queue_next(queue, at); at != event; at = uvk_queue_next(queue, at)) {
        if (at->down && at->key == event->key) {
            return true;
        }
    }
    return false;
}

/* Are both keys for the same hand, and not for either? */
static bool same_hand(const struct uvk_image *image, uint8_t a, uint8_t b)
{
#if UVK_USE_HANDS
    enum uvk_hand hand = uvk_image_hand(image, a);

    return hand != UVK_EITHER_HAND && uvk_image_hand(image, b) == hand;
#else
    (void)image;
    (void)a;
    (void)b;
    return false;
#endif
}

/* Another key, OTHER, went down while KEY was undecided. */
static enum uvk_reason ask_press(const struct uvk_image *image, uint8_t key, uint8_t other,
                                 uint8_t flags)
{
    if ((flags & UVK_FEEL_HAND) && same_hand(image, key, other)) {
        return UVK_WHY_HAND;
    }
    return (flags & UVK_FEEL_ON_PRESS)    ? UVK_WHY_PRESS
           : (flags & UVK_FEEL_TAP_PRESS) ? UVK_WHY_OTHER
                                          : UVK_WHY_PLAIN;
}

/* What one waiting event says about the undecided KEY; UVK_WHY_PLAIN: nothing. */
static enum uvk_reason ask_event(struct uvk_engine *engine, const struct uvk_event *event,
                                 uint8_t key, uint8_t flags)
{
    if (event->key == key) {
        return event->down ? UVK_WHY_PLAIN : UVK_WHY_UP;
    }
    if (event->down) {
        return ask_press(&engine->image, key, event->key, flags);
    }
    return (flags & UVK_FEEL_ON_NESTED) && pressed_before(&engine->queue, event)
               ? UVK_WHY_NESTED
               : UVK_WHY_PLAIN;
}

/* The waiting events in order, as far as they came before the time was over. */
static enum uvk_reason ask_events(struct uvk_engine *engine, const struct uvk_feel *feel,
                                  struct uvk_decision *decision)
{
    struct uvk_queue *queue = &engine->queue;
    struct uvk_event *event = uvk_queue_at(queue, 0);

    for (uint8_t left = queue->count; left > 1; left--) {
        enum uvk_reason reason;
        event = uvk_queue_next(queue, event);
        if (since(event->at, decision->pressed) >= feel->hold_after) {
            break;
        }
        reason = ask_event(engine, event, decision->key, feel->flags);
        if (reason != UVK_WHY_PLAIN) {
            decision->decided = event->at;
            decision->cause = reason == UVK_WHY_UP ? UVK_NO_KEY : event->key;
            return reason;
        }
    }
    if (since(engine->now, decision->pressed) >= feel->hold_after) {
        decision->decided = (uint16_t)(decision->pressed + feel->hold_after);
        return UVK_WHY_TIME;
    }
    return queue->count == UVK_QUEUE ? UVK_WHY_FULL : UVK_WHY_PLAIN;
}

static enum uvk_reason reason_for(struct uvk_engine *engine, const struct uvk_feel *feel,
                                  struct uvk_decision *decision)
{
    struct uvk_memory *memory = &engine->memory;

    decision->decided = decision->pressed;
#if UVK_USE_LONG_PRESS
    if ((feel->flags & UVK_FEEL_LONG) && engine->no_long_press) {
        return UVK_WHY_OFF;
    }
    if ((feel->flags & UVK_FEEL_LONG) && uvk_mods_of_keys(engine) != 0) {
        return UVK_WHY_MODS;
    }
#endif
    if (lacks_rest(memory, decision->key, decision->pressed, feel->rest)) {
        return UVK_WHY_REST;
    }
#if UVK_USE_AGAIN
    if (is_again(memory, decision->key, decision->pressed, feel->again)) {
        return UVK_WHY_AGAIN;
    }
#endif
    return ask_events(engine, feel, decision);
}

uint8_t uvk_decide_by_feel(struct uvk_engine *engine, uint8_t row,
                           struct uvk_decision *decision)
{
    struct uvk_feel feel = uvk_image_feel(&engine->image, row);

    decision->decided = decision->pressed;
    return (uint8_t)ask_events(engine, &feel, decision);
}

bool uvk_is_tap(uint8_t reason)
{
    return reason == UVK_WHY_UP || reason == UVK_WHY_REST || reason == UVK_WHY_AGAIN ||
           reason == UVK_WHY_OTHER || reason == UVK_WHY_HAND || reason == UVK_WHY_MODS ||
           reason == UVK_WHY_OFF;
}

/* *CELL is a tap-hold: it becomes the side that it comes to. False: it is too early. */
static bool decide_hold(struct uvk_engine *engine, uvk_action *cell,
                        struct uvk_decision *decision)
{
    struct uvk_feel feel;
    uvk_action held;
    uvk_action tap;
    uint8_t row;

    held = uvk_image_hold(&engine->image, uvk_action_row(*cell), &tap, &row);
    feel = uvk_image_feel(&engine->image, row);
    decision->reason = (uint8_t)reason_for(engine, &feel, decision);
    if (decision->reason == UVK_WHY_PLAIN) {
        return false;
    }
    *cell = uvk_is_tap(decision->reason) ? tap : held;
    return true;
}

/* A side of a tap-hold may be a dance, a line of a dance a tap-hold. A keymap that goes
 * deeper than this does nothing there. */
#define DEPTH_MAX 8u

bool uvk_decide(struct uvk_engine *engine, uvk_action cell, uvk_action *action,
                struct uvk_decision *decision)
{
    for (uint8_t depth = 0; depth < DEPTH_MAX; depth++) {
        if (uvk_action_kind(cell) != UVK_HOLD) {
            *action = cell;
            return true;
        }
#if UVK_USE_DANCES
        if (uvk_action_is_dance(cell)) {
            if (!uvk_dance_decide(engine, &cell, decision)) {
                return false;
            }
            continue;
        }
#endif
        if (!decide_hold(engine, &cell, decision)) {
            return false;
        }
    }
    *action = UVK_NOTHING;
    return true;
}

/* What one tap of ACTION does. */
static uvk_action one_tap(const struct uvk_engine *engine, uvk_action action)
{
    for (uint8_t depth = 0; depth < DEPTH_MAX; depth++) {
        uint8_t feel;
        if (uvk_action_kind(action) != UVK_HOLD) {
            return action;
        }
#if UVK_USE_DANCES
        if (uvk_action_is_dance(action)) {
            action = uvk_dance_one_tap(engine, action);
            continue;
        }
#endif
        (void)uvk_image_hold(&engine->image, uvk_action_row(action), &action, &feel);
    }
    return UVK_NOTHING;
}

void uvk_pulse_start(struct uvk_engine *engine, uint8_t key, uvk_action action,
                     enum uvk_reason reason)
{
    engine->pulse.action = one_tap(engine, action);
    engine->pulse.key = key;
    engine->pulse.reason = (uint8_t)reason;
    engine->pulse.taps = 0;
    engine->pulse.combo = 0;
#if UVK_USE_COMBOS
    if (key >= UVK_SOURCE_COMBO) {
        engine->pulse.combo = engine->fired[key - UVK_SOURCE_COMBO].row;
    }
#endif
    engine->pulse.next = 1;
}

/* A hold by time that nothing has used yet may become a tap after all. */
static void arm_alone(struct uvk_engine *engine, const struct uvk_decision *decision,
                      uvk_action cell)
{
    struct uvk_memory *memory = &engine->memory;
    uvk_action tap;
    uint8_t row;

    (void)uvk_image_hold(&engine->image, uvk_action_row(cell), &tap, &row);
    if (decision->reason == UVK_WHY_TIME &&
        (uvk_image_feel(&engine->image, row).flags & UVK_FEEL_ALONE_TAP)) {
        memory->alone_key = decision->key;
        memory->alone_tap = tap;
    }
}

void uvk_decide_pressed(struct uvk_engine *engine, const struct uvk_decision *decision,
                        uvk_action cell)
{
    struct uvk_memory *memory = &engine->memory;

    memory->alone_key = UVK_NO_KEY;
    if (memory->pressed_key[0] != decision->key) {
        memory->pressed_key[1] = memory->pressed_key[0];
        memory->pressed_at[1] = memory->pressed_at[0];
        memory->pressed_key[0] = decision->key;
    }
    memory->pressed_at[0] = decision->pressed;
    if (uvk_action_kind(cell) == UVK_HOLD && !uvk_action_is_dance(cell)) {
        arm_alone(engine, decision, cell);
    }
}

void uvk_decide_released(struct uvk_engine *engine, const struct uvk_event *event,
                         uint8_t flags)
{
    struct uvk_memory *memory = &engine->memory;

#if UVK_USE_AGAIN
    if (flags & UVK_HOLD_TAP) {
        *taps_of(memory, event->key) = event->at != 0 ? event->at : 1u;
    }
#else
    (void)flags;
#endif
    if (event->key == memory->alone_key) {
        uvk_pulse_start(engine, event->key, memory->alone_tap, UVK_WHY_ALONE);
        memory->alone_key = UVK_NO_KEY;
    }
}

void uvk_decide_age(struct uvk_engine *engine)
{
    struct uvk_memory *memory = &engine->memory;

    for (uint8_t i = 0; i < 2; i++) {
        if (since(engine->now, memory->pressed_at[i]) > FORGET_AFTER) {
            memory->pressed_key[i] = UVK_NO_KEY;
        }
    }
#if UVK_USE_AGAIN
    /* one key a pass: each is looked at long before its time has wrapped */
    if (since(engine->now, memory->tapped_at[memory->aging]) > FORGET_AFTER) {
        memory->tapped_at[memory->aging] = 0;
    }
    if (++memory->aging == sizeof memory->tapped_at / sizeof memory->tapped_at[0]) {
        memory->aging = 0;
    }
#endif
}

#endif
