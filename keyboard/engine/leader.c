/* leader.c - the keys behind the leader key.
 *
 * They wait in the queue while they may become a sequence; then all but the last leave it,
 * and the last one does what the sequence says. If they become none, they are worked out
 * like any others: nothing that was pressed is lost. */
#include "deciding.h"

#if UVK_USE_LEADER

/* Presses that wait, and whether another one would come too late. */
struct heard {
    uint8_t key[UVK_SEQUENCE_KEYS_MAX];
    uint8_t count;
    bool over;
};

static void listen(struct uvk_engine *engine, struct heard *heard)
{
    uint16_t within = engine->settings[UVK_SET_LEADER_WITHIN];
    uint16_t last = engine->leader.since;

    for (uint8_t i = 0; i < engine->queue.count; i++) {
        const struct uvk_event *event = uvk_queue_at(&engine->queue, i);
        if (!event->down) {
            continue;
        }
        if ((int16_t)(event->at - last) >= (int16_t)within ||
            heard->count == UVK_SEQUENCE_KEYS_MAX) {
            heard->over = true;
            return;
        }
        heard->key[heard->count++] = event->key;
        last = event->at;
    }
    heard->over =
        (int16_t)(engine->now - last) >= (int16_t)within || engine->queue.count == UVK_QUEUE;
}

/* How many of the keys of SEQUENCE were heard, in order, before another one was. */
static uint8_t match(const struct uvk_engine *engine, const struct uvk_sequence *sequence,
                     const struct heard *heard)
{
    uint8_t i = 0;

    while (i < sequence->keys && i < heard->count &&
           uvk_image_part(&engine->image, (uint16_t)(sequence->first + i)) == heard->key[i]) {
        i++;
    }
    return i;
}

/* Take the first COUNT presses out of the queue; their releases release nothing. */
static void drop_presses(struct uvk_queue *queue, uint8_t count)
{
    for (uint8_t i = 0; count > 0;) {
        if (uvk_queue_at(queue, i)->down) {
            uvk_queue_remove(queue, i);
            count--;
        } else {
            i++;
        }
    }
}

void uvk_leader_start(struct uvk_engine *engine)
{
    engine->leader.on = true;
    engine->leader.since = engine->now;
}

enum uvk_turn uvk_leader_turn(struct uvk_engine *engine)
{
    struct heard heard = {.count = 0};
    struct uvk_sequence best = {.keys = 0};
    bool wait = false;

    if (!engine->leader.on) {
        return UVK_TURN_NEXT;
    }
    listen(engine, &heard);
    for (uint16_t row = 0; row < uvk_image_sequences(&engine->image); row++) {
        struct uvk_sequence sequence;
        uint8_t matched;
        uvk_image_sequence(&engine->image, row, &sequence);
        matched = match(engine, &sequence, &heard);
        if (matched == sequence.keys && matched > best.keys) {
            best = sequence;
        }
        wait |= matched == heard.count && matched < sequence.keys;
    }
    if (wait && !heard.over) {
        const struct uvk_event *next = uvk_queue_at(&engine->queue, 0);
        return next == NULL || next->down ? UVK_TURN_WAIT : UVK_TURN_NEXT;
    }
    engine->leader.on = false;
    if (best.keys > 0) {
        drop_presses(&engine->queue, (uint8_t)(best.keys - 1u));
        uvk_front_say(engine, best.action, UVK_WHY_LEADER, 0);
        engine->front.asked = UVK_ASKED_ORDER | UVK_ASKED_COMBOS;
    }
    return UVK_TURN_DONE;
}

#endif
