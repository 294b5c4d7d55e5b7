/* dances.c - a key that counts taps.
 *
 * Each tap that may be part of something longer is taken from the queue and counted; the
 * press that may end the dance is decided like a tap-hold key of the first feel. */
#include "parts.h"

#if UVK_USE_DANCES

static struct uvk_dance dance_of(const struct uvk_engine *engine, uvk_action word)
{
    return uvk_image_dance(&engine->image, uvk_action_row(word));
}

/* What TAPS taps do, or, if HELD, that many with the last one held. UVK_SEE_THROUGH: there
 * is no such line. */
static uvk_action line_of(const struct uvk_engine *engine, const struct uvk_dance *dance,
                          uint8_t taps, bool held)
{
    if (taps == 0 || taps > dance->taps) {
        return UVK_SEE_THROUGH;
    }
    return uvk_image_line(&engine->image,
                          (uint16_t)(dance->first + 2u * (taps - 1u) + (held ? 1u : 0u)));
}

uvk_action uvk_dance_one_tap(const struct uvk_engine *engine, uvk_action word)
{
    struct uvk_dance dance = dance_of(engine, word);
    uvk_action action = line_of(engine, &dance, 1, false);

    return action == UVK_SEE_THROUGH ? UVK_NOTHING : action;
}

/* Do what the longest line says that fits the counted taps; the rest stays counted. */
static void do_longest(struct uvk_engine *engine)
{
    struct uvk_counting *counting = &engine->counting;
    struct uvk_dance dance = dance_of(engine, counting->word);
    uint8_t taps = counting->taps < dance.taps ? counting->taps : dance.taps;

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
}

/* Is the counting over, with what comes next in the queue? */
static bool is_over(struct uvk_engine *engine)
{
    const struct uvk_counting *counting = &engine->counting;
    const struct uvk_event *next = uvk_queue_at(&engine->queue, 0);
    struct uvk_dance dance = dance_of(engine, counting->word);
    bool goes_on = next != NULL && next->down && next->key == counting->key;
    uint16_t at = goes_on ? next->at : engine->now;

    return counting->taps >= dance.taps ||
           (uint16_t)(at - counting->released) >= dance.within ||
           (next != NULL && next->down && !goes_on);
}

enum uvk_turn uvk_dance_look(struct uvk_engine *engine)
{
    if (engine->counting.taps == 0) {
        return UVK_TURN_NEXT;
    }
    if (is_over(engine)) {
        do_longest(engine);
        return UVK_TURN_DONE;
    }
    return engine->queue.count == 0 ? UVK_TURN_WAIT : UVK_TURN_NEXT;
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

/* The first event and the release at UP were one more tap. */
static void count_tap(struct uvk_engine *engine, uvk_action word,
                      const struct uvk_decision *decision, uint8_t taps, uint8_t up)
{
    struct uvk_counting *counting = &engine->counting;

    uvk_decide_pressed(engine, decision, UVK_NOTHING);
    counting->released = uvk_queue_at(&engine->queue, up)->at;
    counting->key = decision->key;
    counting->word = word;
    counting->taps = taps;
    counting->instead = UVK_NOTHING;
#if UVK_USE_LEADER
    engine->leader.found = false;
#endif
    uvk_queue_remove(&engine->queue, up);
    uvk_queue_drop(&engine->queue);
}

/* The press is decided: it ends TAPS taps, the last one HELD or not. False: what was counted
 * before it has to be done first. */
static bool finish(struct uvk_engine *engine, const struct uvk_dance *dance, uint8_t taps,
                   bool held, uvk_action *cell)
{
    uvk_action action = held ? line_of(engine, dance, taps, true) : UVK_SEE_THROUGH;

    if (action == UVK_SEE_THROUGH) {
        action = line_of(engine, dance, taps, false);
    }
    if (action == UVK_SEE_THROUGH && taps > 1) {
        do_longest(engine);
        return false;
    }
    *cell = action == UVK_SEE_THROUGH ? UVK_NOTHING : action;
    engine->counting.taps = 0;
    if (uvk_action_kind(*cell) == UVK_HOLD) {
        engine->counting.instead = *cell;
    }
    return true;
}

bool uvk_dance_decide(struct uvk_engine *engine, uvk_action *cell,
                      struct uvk_decision *decision)
{
    uvk_action word = *cell;
    struct uvk_dance dance = dance_of(engine, word);
    uint8_t taps = (uint8_t)(engine->counting.taps + 1u);
    bool longer = taps < dance.taps;
    bool can_hold = line_of(engine, &dance, taps, true) != UVK_SEE_THROUGH;
    uint8_t reason = UVK_WHY_UP;
    uint8_t up;

    decision->taps = taps;
    if (longer || can_hold) {
        reason = uvk_decide_by_feel(engine, 0, decision);
        if (reason == UVK_WHY_PLAIN) {
            return false;
        }
        up = reason == UVK_WHY_UP ? find_up(&engine->queue, decision->key) : 0;
        if (longer && up > 0 && !other_pressed_before(&engine->queue, up)) {
            count_tap(engine, word, decision, taps, up);
            return false;
        }
    }
    decision->reason = reason == UVK_WHY_UP ? UVK_WHY_DANCE : UVK_WHY_DANCE_HELD;
    return finish(engine, &dance, taps, reason != UVK_WHY_UP, cell);
}

#endif
