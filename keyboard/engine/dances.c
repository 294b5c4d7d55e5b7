/* dances.c - a key that counts taps.
 *
 * Each tap that may be part of something longer is taken from the queue and counted; the
 * press that may end the dance is decided like a tap-hold key of the first feel. */
#include "deciding.h"

#if UVK_USE_DANCES

static void dance_of(const struct uvk_engine *engine, uvk_action word, struct uvk_dance *dance)
{
    uvk_image_dance(&engine->image, uvk_action_row(word), dance);
}

/* What TAPS taps do, 1 to those of its longest line, or, if HELD, that many with the last one
 * held. UVK_SEE_THROUGH: there is no such line. */
static uvk_action line_of(const struct uvk_engine *engine, const struct uvk_dance *dance,
                          uint8_t taps, bool held)
{
    return uvk_image_line(&engine->image,
                          (uint16_t)(dance->first + 2u * (taps - 1u) + (held ? 1u : 0u)));
}

uvk_action uvk_dance_one_tap(const struct uvk_engine *engine, uvk_action word)
{
    struct uvk_dance dance;
    uvk_action action;

    dance_of(engine, word, &dance);
    action = line_of(engine, &dance, 1, false);
    return action == UVK_SEE_THROUGH ? UVK_NOTHING : action;
}

/* Do what the longest line says that fits the counted taps; the rest stays counted. */
static void do_longest(struct uvk_engine *engine)
{
    struct uvk_counting *counting = &engine->counting;
    struct uvk_dance dance;
    uint8_t taps = counting->taps;

    dance_of(engine, counting->word, &dance);
    while (taps > 0 && line_of(engine, &dance, taps, false) == UVK_SEE_THROUGH) {
        taps--;
    }
    if (taps == 0) {
        counting->taps = 0; /* no line begins like this */
        return;
    }
    counting->taps = (uint8_t)(counting->taps - taps);
    uvk_pulse_start(engine, counting->key, line_of(engine, &dance, taps, false), UVK_WHY_DANCE);
    engine->pulse.taps = taps;
    engine->pulse.combo = counting->combo;
}

/* Is the counting over, with NEXT the next press in the queue, or none? */
static bool is_over(const struct uvk_engine *engine, const struct uvk_event *next)
{
    const struct uvk_counting *counting = &engine->counting;
    struct uvk_dance dance;
    uint16_t at = next != NULL ? next->at : engine->now;

    dance_of(engine, counting->word, &dance);
    return (uint16_t)(at - counting->released) >= dance.within;
}

/* The next press comes before the releases that wait for the dance: modifiers are up when it
 * is done. */
static void press_first(struct uvk_engine *engine, const struct uvk_event *press)
{
    struct uvk_event *event = uvk_queue_at(&engine->queue, 0);
    uint8_t index = 0;

    for (; event != press; event = uvk_queue_next(&engine->queue, event)) {
        event->at = press->at;
        index++;
    }
    uvk_queue_to_front(&engine->queue, index);
}

static bool is_modifier(const struct uvk_engine *engine, uint8_t key)
{
    const struct uvk_hold *hold = uvk_hold_of(engine, key);

    return hold != NULL &&
           (hold->action == UVK_NOTHING ? hold->mods != 0
                                        : uvk_action_kind(hold->action) == UVK_MODS);
}

enum uvk_turn uvk_dances_age(struct uvk_engine *engine)
{
    const struct uvk_event *next = uvk_queue_press(&engine->queue);
    const struct uvk_event *first = uvk_queue_at(&engine->queue, 0);

    if (engine->counting.taps == 0) {
        return UVK_TURN_NEXT;
    }
    if (is_over(engine, next)) {
        do_longest(engine);
        return UVK_TURN_DONE;
    }
    if (first == NULL) {
        return UVK_TURN_WAIT;
    }
    if (first->down || !is_modifier(engine, first->key)) {
        return UVK_TURN_NEXT;
    }
    if (next == NULL) {
        return UVK_TURN_WAIT;
    }
    press_first(engine, next);
    return UVK_TURN_DONE;
}

/* Is EVENT, a press, of the place that the taps are counted of? */
static bool same_place(const struct uvk_engine *engine, const struct uvk_event *event)
{
    const struct uvk_counting *counting = &engine->counting;

    if (event->key != counting->key) {
        return false;
    }
    if (event->key >= UVK_FIRST_COMBO) {
        return uvk_combo_row(engine, event->key) == counting->combo;
    }
    return uvk_layers_cell(&engine->layers, &engine->image, event->key) == counting->cell;
}

enum uvk_turn uvk_dances_turn(struct uvk_engine *engine)
{
    if (engine->counting.taps == 0 || engine->front.reason == UVK_WHY_LEADER) {
        return UVK_TURN_NEXT;
    }
    if (!same_place(engine, uvk_queue_at(&engine->queue, 0))) {
        do_longest(engine);
        return UVK_TURN_DONE;
    }
    uvk_front_say(engine, engine->counting.word, engine->front.reason, 0);
    return UVK_TURN_NEXT;
}

/* The place in the queue where KEY, first in it, comes up. */
static uint8_t find_up(struct uvk_queue *queue, uint8_t key)
{
    uint8_t index = 1;

    while (uvk_queue_at(queue, index)->down || uvk_queue_at(queue, index)->key != key) {
        index++;
    }
    return index;
}

static bool other_pressed_before(struct uvk_queue *queue, uint8_t index)
{
    for (uint8_t i = 1; i < index; i++) {
        if (uvk_queue_at(queue, i)->down) {
            return true;
        }
    }
    return false;
}

/* The place at which the counting begins, and what it says there. */
static void remember_place(struct uvk_engine *engine, uint8_t key)
{
    struct uvk_counting *counting = &engine->counting;

    counting->key = key;
    counting->combo = uvk_combo_row(engine, key);
    if (key < UVK_FIRST_COMBO) {
        counting->cell = uvk_layers_cell(&engine->layers, &engine->image, key);
    }
}

/* The first event and the release at UP were one more tap. */
static void count_tap(struct uvk_engine *engine, const struct uvk_decision *decision,
                      uint8_t up)
{
    struct uvk_counting *counting = &engine->counting;

    if (counting->taps == 0) {
        remember_place(engine, decision->key);
    }
    uvk_history_pressed(engine, decision, UVK_NOTHING);
    counting->released = uvk_queue_at(&engine->queue, up)->at;
    counting->word = decision->action;
    counting->taps = decision->taps;
    uvk_queue_remove(&engine->queue, up);
    uvk_front_drop(engine);
}

/* The press of DECISION ends its taps, the last one HELD or not: that is what it means from
 * now on. Done: what was counted before it has to be done first. */
static enum uvk_turn finish(struct uvk_engine *engine, const struct uvk_dance *dance, bool held,
                            struct uvk_decision *decision)
{
    uint8_t taps = decision->taps;
    uvk_action action = held ? line_of(engine, dance, taps, true) : UVK_SEE_THROUGH;

    if (action == UVK_SEE_THROUGH) {
        action = line_of(engine, dance, taps, false);
    }
    if (action == UVK_SEE_THROUGH && taps > 1) {
        do_longest(engine);
        uvk_front_say(engine, UVK_SEE_THROUGH, UVK_WHY_PLAIN, 0);
        return UVK_TURN_DONE;
    }
    decision->action = action == UVK_SEE_THROUGH ? UVK_NOTHING : action;
    decision->reason = held ? UVK_WHY_DANCE_HELD : UVK_WHY_DANCE;
    engine->counting.taps = 0;
    uvk_front_say(engine, decision->action, decision->reason, taps);
    return UVK_TURN_NEXT;
}

enum uvk_turn uvk_dance_resolve(struct uvk_engine *engine, struct uvk_decision *decision)
{
    struct uvk_dance dance;
    uint8_t taps = (uint8_t)(engine->counting.taps + 1u);
    uint8_t reason = UVK_WHY_UP;
    uint8_t up;
    bool longer;

    dance_of(engine, decision->action, &dance);
    longer = taps < dance.taps;
    decision->taps = taps;
    if (longer || line_of(engine, &dance, taps, true) != UVK_SEE_THROUGH) {
        reason = uvk_feel_ask(engine, 0, decision);
        if (reason == UVK_WHY_PLAIN) {
            return UVK_TURN_WAIT;
        }
        up = reason == UVK_WHY_UP ? find_up(&engine->queue, decision->key) : 0;
        if (longer && up > 0 && !other_pressed_before(&engine->queue, up)) {
            count_tap(engine, decision, up);
            return UVK_TURN_DONE;
        }
    }
    return finish(engine, &dance, reason != UVK_WHY_UP, decision);
}

#endif
