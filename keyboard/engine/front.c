/* front.c - what the first press in the queue means: what has been said of it, and by whom. */
#include "deciding.h"

#include <string.h>

#if UVK_USE_COMBOS
UVK_ONE_COPY uint8_t uvk_combo_row(const struct uvk_engine *engine, uint8_t key)
{
    return key >= UVK_FIRST_COMBO ? engine->fired[key - UVK_FIRST_COMBO].row : 0;
}
#endif

static UVK_ONE_COPY void forget(struct uvk_engine *engine)
{
    memset(&engine->front, 0, sizeof engine->front);
}

static bool is_shifting(const struct uvk_engine *engine, const struct uvk_event *event)
{
    return event->down && event->key < uvk_image_keys(&engine->image) &&
           uvk_action_is_shifting(&engine->image,
                                  uvk_layers_cell(&engine->layers, &engine->image, event->key));
}

/* The place of the event that goes first; 0: the first one itself. */
static uint8_t find_shifting(struct uvk_engine *engine)
{
    struct uvk_event *first = uvk_queue_at(&engine->queue, 0);
    struct uvk_event *event = first;

    for (uint8_t index = 1; index < engine->queue.count; index++) {
        event = uvk_queue_next(&engine->queue, event);
        if (event->at != first->at || (index == 1 && is_shifting(engine, first))) {
            return 0;
        }
        if (is_shifting(engine, event)) {
            return index;
        }
    }
    return 0;
}

void uvk_front_order(struct uvk_engine *engine)
{
    uint8_t index;

    if (engine->front.asked & UVK_ASKED_ORDER) {
        return;
    }
    index = find_shifting(engine);
    if (index != 0) {
        uvk_queue_to_front(&engine->queue, index);
        forget(engine);
    }
    engine->front.asked |= UVK_ASKED_ORDER;
}

UVK_ONE_COPY void uvk_front_say(struct uvk_engine *engine, uvk_action word, uint8_t reason,
                                uint8_t taps)
{
    engine->front.word = word;
    engine->front.reason = reason;
    engine->front.taps = taps;
}

struct uvk_decision uvk_front_read(struct uvk_engine *engine)
{
    const struct uvk_event *event = uvk_queue_at(&engine->queue, 0);
    const struct uvk_front *front = &engine->front;
    struct uvk_decision decision = {
        .pressed = event->at,
        .decided = engine->now,
        .action = front->word,
        .key = event->key,
        .cause = UVK_NO_KEY,
        .reason = front->reason,
        .taps = front->taps,
        .combo = uvk_combo_row(engine, event->key),
    };

    if (front->word == UVK_SEE_THROUGH) {
        decision.action = uvk_layers_cell(&engine->layers, &engine->image, event->key);
    }
    return decision;
}

void uvk_front_drop(struct uvk_engine *engine)
{
    uvk_queue_drop(&engine->queue);
    forget(engine);
}
