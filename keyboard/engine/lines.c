/* lines.c - the contacts of a scan line, of this half or the other, become events. */
#include "deciding.h"
#include "lit.h"
#include "live.h"

/* False: there is no room. */
static bool push(struct uvk_engine *engine, struct uvk_event *event)
{
    if (uvk_consent_takes(engine, event)) {
        return true;
    }
    if (engine->queue.count == UVK_QUEUE) {
        return false; /* a combo must not hear of a release that will come again */
    }
    uvk_watching_contact(engine, event);
    if (event->down && uvk_watching_keeps(engine)) {
        return true;
    }
    if (!event->down && !uvk_combos_release(engine, event)) {
        return true;
    }
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
        if (UVK_USE_PROBE || key == UVK_NO_KEY) {
            uvk_watching_switch(engine, line, sense, event.down);
        } else if (engine->scanned && !push(engine, &event)) {
            continue;
        }
        uvk_debounce_accept(&engine->debounce, line, bit);
    }
}

bool uvk_line_take(struct uvk_engine *engine, uint8_t line, uvk_bits closed)
{
    uint8_t window = (uint8_t)engine->settings[UVK_SET_DEBOUNCE];
    uint8_t press = 0;
    uvk_bits flips;

#if UVK_USE_PRESS_AFTER
    if (engine
            ->scanned) { /* what is down when the keyboard starts is so at once, and no press */
        press = (uint8_t)engine->settings[UVK_SET_PRESS_AFTER];
    }
#endif
    uvk_strip_touch(engine, line, closed);
    flips = uvk_debounce_line(&engine->debounce, line, uvk_image_senses(&engine->image), closed,
                              engine->now, window, press);
    if (flips == 0) {
        return false;
    }
    queue_flips(engine, line, flips);
    return (flips & closed) != 0;
}
