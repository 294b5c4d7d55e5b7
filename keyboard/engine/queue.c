/* queue.c - a bounded ring of key events. */
#include "parts.h"

static uint8_t wrap(uint8_t index)
{
    return index >= UVK_QUEUE ? (uint8_t)(index - UVK_QUEUE) : index;
}

const UVK_ROM uint8_t uvk_bits_of_a_byte[8] = {1, 2, 4, 8, 16, 32, 64, 128};

bool uvk_queue_push(struct uvk_queue *queue, const struct uvk_event *event)
{
    if (queue->count == UVK_QUEUE) {
        return false;
    }
    queue->events[wrap((uint8_t)(queue->first + queue->count))] = *event;
    queue->count++;
    return true;
}

struct uvk_event *uvk_queue_at(struct uvk_queue *queue, uint8_t index)
{
    return index >= queue->count ? NULL : &queue->events[wrap((uint8_t)(queue->first + index))];
}

struct uvk_event *uvk_queue_press(struct uvk_queue *queue)
{
    struct uvk_event *event = uvk_queue_at(queue, 0);

    for (uint8_t left = queue->count; left > 0; left--, event = uvk_queue_next(queue, event)) {
        if (event->down) {
            return event;
        }
    }
    return NULL;
}

void uvk_queue_to_front(struct uvk_queue *queue, uint8_t index)
{
    struct uvk_event moved = *uvk_queue_at(queue, index);

    for (; index > 0; index--) {
        *uvk_queue_at(queue, index) = *uvk_queue_at(queue, (uint8_t)(index - 1));
    }
    *uvk_queue_at(queue, 0) = moved;
}

UVK_ONE_COPY void uvk_queue_drop(struct uvk_queue *queue)
{
    queue->first = wrap((uint8_t)(queue->first + 1));
    queue->count--;
}

void uvk_queue_remove(struct uvk_queue *queue, uint8_t index)
{
    struct uvk_event *event = uvk_queue_at(queue, index);

    for (; index + 1 < queue->count; index++) {
        struct uvk_event *next = uvk_queue_next(queue, event);
        *event = *next;
        event = next;
    }
    queue->count--;
}
