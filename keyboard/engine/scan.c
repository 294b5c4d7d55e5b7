/* scan.c - read the matrix line by line and queue what changed. */
#include "parts.h"
#ifdef __AVR__
#pragma GCC optimize("O2") /* part of every pass: speed is worth the few bytes */
#endif
#include "uvrek/port.h"

/* False: there is no room. */
static bool push(struct uvk_engine *engine, struct uvk_event *event)
{
#if UVK_USE_COMBOS
    if (!event->down && engine->queue.count == UVK_QUEUE) {
        return false; /* a combo must not hear of a release that will come again */
    }
    if (!event->down && !uvk_combos_release(engine, event)) {
        return true;
    }
#endif
    return uvk_queue_push(&engine->queue, event);
}

/* Queue the flips of one line. What finds no room stays with the debouncer. */
static void queue_flips(struct uvk_engine *engine, uint8_t line, uvk_bits flips)
{
    uvk_bits bit = 1;

    for (uint8_t sense = 0; flips != 0; sense++, bit = (uvk_bits)(bit << 1)) {
        if (!(flips & bit)) {
            continue;
        }
        flips &= (uvk_bits)~bit;
        uint8_t key = uvk_image_key_at(&engine->image, line, sense);
        struct uvk_event event = {
            .at = engine->now, .key = key, .down = !(engine->debounce.down[line] & bit)};
        if (key == UVK_NO_KEY || !engine->scanned || push(engine, &event)) {
            uvk_debounce_accept(&engine->debounce, line, bit);
        }
    }
}

void uvk_scan(struct uvk_engine *engine, struct uvk_port *port)
{
    uint8_t window = (uint8_t)uvk_image_setting(&engine->image, UVK_SET_DEBOUNCE);
    bool pressed = false;

    for (uint8_t line = 0; line < engine->image.lines; line++) {
        uvk_bits closed = uvk_port_read_line(port, line);
        uvk_bits flips = uvk_debounce_line(&engine->debounce, line, engine->image.senses,
                                           closed, engine->now, window);
        if (flips != 0) {
            pressed |= (flips & closed) != 0;
            queue_flips(engine, line, flips);
        }
    }
    if (pressed && engine->scanned) {
        uvk_port_wake_host(port);
    }
    engine->scanned = true;
}
