/* feel.c - tap or hold: what a tap-hold key comes to, seen from the keys behind it.
 *
 * Nothing is kept about a key that is undecided but its event, first in the queue; each pass
 * asks again, with what has come since. */
#include "deciding.h"

#if UVK_USE_HOLDS

static uint16_t since(uint16_t now, uint16_t then)
{
    return (uint16_t)(now - then);
}

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
    enum uvk_hand hand = UVK_USE_HANDS ? uvk_image_hand(image, a) : UVK_EITHER_HAND;

    return hand != UVK_EITHER_HAND && uvk_image_hand(image, b) == hand;
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
    enum uvk_reason plain =
        (feel->flags & UVK_FEEL_LONG) ? uvk_long_press_is_plain(engine) : UVK_WHY_PLAIN;

    decision->decided = decision->pressed;
    if (plain != UVK_WHY_PLAIN) {
        return plain;
    }
    if (uvk_history_lacks_rest(memory, decision->key, decision->pressed, feel->rest)) {
        return UVK_WHY_REST;
    }
    if (uvk_history_is_again(memory, decision->key, decision->pressed, feel->again)) {
        return UVK_WHY_AGAIN;
    }
    return ask_events(engine, feel, decision);
}

uint8_t uvk_feel_ask(struct uvk_engine *engine, uint8_t row, struct uvk_decision *decision)
{
    struct uvk_feel feel;

    uvk_image_feel(&engine->image, row, &feel);
    decision->decided = decision->pressed;
    return (uint8_t)ask_events(engine, &feel, decision);
}

bool uvk_reason_is_tap(uint8_t reason)
{
    return reason == UVK_WHY_UP || reason == UVK_WHY_REST || reason == UVK_WHY_AGAIN ||
           reason == UVK_WHY_OTHER || reason == UVK_WHY_HAND || reason == UVK_WHY_MODS ||
           reason == UVK_WHY_OFF;
}

enum uvk_turn uvk_feel_turn(struct uvk_engine *engine, struct uvk_decision *decision)
{
    struct uvk_tap_hold hold;
    struct uvk_feel feel;
    enum uvk_reason reason;

    uvk_image_hold(&engine->image, uvk_action_row(decision->action), &hold);
    uvk_image_feel(&engine->image, hold.feel, &feel);
    reason = reason_for(engine, &feel, decision);
    if (reason == UVK_WHY_PLAIN) {
        return UVK_TURN_WAIT;
    }
    decision->reason = (uint8_t)reason;
    decision->action = uvk_reason_is_tap(decision->reason) ? hold.tap : hold.held;
    return UVK_TURN_NEXT;
}

#endif
