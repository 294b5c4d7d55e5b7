/* combos.c - keys that are pressed together.
 *
 * Like a tap-hold key, a press that may become part of a combo keeps no state: each pass
 * looks at the queue again, with what has come since. */
#include "parts.h"

#if UVK_USE_COMBOS

static uint8_t count_combos(const struct uvk_engine *engine)
{
    return (uint8_t)engine->image.rows[UVK_TABLE_COMBOS];
}

/* Which key of a combo KEY is; the number of its keys if it is none. */
static uint8_t part_of(const struct uvk_image *image, const struct uvk_combo *combo,
                       uint8_t key)
{
    uint8_t i = 0;

    while (i < combo->keys && uvk_image_part(image, (uint16_t)(combo->first + i)) != key) {
        i++;
    }
    return i;
}

/* A combo is on where the highest layer is one that it names, or it names none. */
static bool is_on_here(const struct uvk_engine *engine, const struct uvk_combo *combo)
{
    uint8_t top = engine->layers.order[engine->layers.count - 1];
    uint16_t at = (uint16_t)(combo->first + combo->keys);
    uint8_t count = uvk_image_part(&engine->image, at);

    for (uint8_t i = 1; i <= count; i++) {
        if (uvk_image_part(&engine->image, (uint16_t)(at + i)) == top) {
            return true;
        }
    }
    return count == 0;
}

/* How a combo stands, given the queue. */
enum standing { IMPOSSIBLE, POSSIBLE, COMPLETE };

/* Its keys have to be pressed within its time of the first press, none may come up before
 * all are down, and no other key may come between. */
static enum standing stand(struct uvk_engine *engine, const struct uvk_combo *combo)
{
    const struct uvk_event *first = uvk_queue_at(&engine->queue, 0);
    uint8_t left = combo->keys;

    if (part_of(&engine->image, combo, first->key) == combo->keys ||
        !is_on_here(engine, combo)) {
        return IMPOSSIBLE;
    }
    for (uint8_t i = 0; i < engine->queue.count; i++) {
        const struct uvk_event *event = uvk_queue_at(&engine->queue, i);
        bool part = part_of(&engine->image, combo, event->key) < combo->keys;
        if ((uint16_t)(event->at - first->at) > combo->within || (event->down && !part)) {
            return IMPOSSIBLE;
        }
        if (event->down && --left == 0) {
            return COMPLETE;
        }
        if (!event->down && part) {
            return IMPOSSIBLE;
        }
    }
    return (uint16_t)(engine->now - first->at) <= combo->within ? POSSIBLE : IMPOSSIBLE;
}

static uint8_t free_slot(const struct uvk_engine *engine)
{
    uint8_t slot = 0;

    while (slot < UVK_COMBO_SLOTS && engine->fired[slot].down != 0) {
        slot++;
    }
    return slot;
}

/* The releases that are in the queue already are translated as later ones will be. */
static void translate_queue(struct uvk_engine *engine)
{
    uint8_t i = 1;

    while (i < engine->queue.count) {
        struct uvk_event *event = uvk_queue_at(&engine->queue, i);
        if (!event->down && event->key < UVK_SOURCE_COMBO &&
            !uvk_combos_release(engine, event)) {
            uvk_queue_remove(&engine->queue, i);
        } else {
            i++;
        }
    }
}

static void fire(struct uvk_engine *engine, uint8_t row, const struct uvk_combo *combo,
                 uint8_t slot)
{
    struct uvk_event *first = uvk_queue_at(&engine->queue, 0);
    uint8_t left = (uint8_t)(combo->keys - 1u);

    for (uint8_t i = 1; left > 0;) {
        if (uvk_queue_at(&engine->queue, i)->down) {
            uvk_queue_remove(&engine->queue, i);
            left--;
        } else {
            i++;
        }
    }
    engine->fired[slot].row = row;
    engine->fired[slot].down = (uint8_t)((1u << combo->keys) - 1u);
    engine->fired[slot].over = false;
    first->key = (uint8_t)(UVK_SOURCE_COMBO + slot);
    first->single = true;
    translate_queue(engine);
}

bool uvk_combos_look(struct uvk_engine *engine)
{
    struct uvk_event *first = uvk_queue_at(&engine->queue, 0);
    struct uvk_combo best = {.keys = 0};
    uint8_t best_row = 0;
    uint8_t slot = free_slot(engine);
    bool wait = false;

    if (first->single || slot == UVK_COMBO_SLOTS) {
        return true;
    }
    for (uint8_t row = 0; row < count_combos(engine); row++) {
        struct uvk_combo combo = uvk_image_combo(&engine->image, row);
        enum standing standing = stand(engine, &combo);
        if (standing == COMPLETE && combo.keys > best.keys) {
            best = combo;
            best_row = row;
        }
        wait |= standing == POSSIBLE;
    }
    /* a combo that is complete waits only for one that is larger, and so still possible */
    if (wait && engine->queue.count < UVK_QUEUE) {
        return false;
    }
    if (best.keys > 0) {
        fire(engine, best_row, &best, slot);
    }
    first->single = true;
    return true;
}

/* The slot that has KEY down, and which of its keys it is. */
static struct uvk_fired *holder_of(struct uvk_engine *engine, uint8_t key, uint8_t *bit)
{
    for (uint8_t slot = 0; slot < UVK_COMBO_SLOTS; slot++) {
        struct uvk_fired *fired = &engine->fired[slot];
        if (fired->down != 0) {
            struct uvk_combo combo = uvk_image_combo(&engine->image, fired->row);
            uint8_t part = part_of(&engine->image, &combo, key);
            *bit = (uint8_t)(1u << (part & 7u));
            if (part < combo.keys && (fired->down & *bit)) {
                return fired;
            }
        }
    }
    return NULL;
}

bool uvk_combos_release(struct uvk_engine *engine, struct uvk_event *event)
{
    uint8_t bit = 0;
    struct uvk_fired *fired = holder_of(engine, event->key, &bit);
    bool last_up;

    if (fired == NULL) {
        return true;
    }
    last_up = uvk_image_combo(&engine->image, fired->row).flags & UVK_COMBO_LAST_UP;
    fired->down = (uint8_t)(fired->down & (uint8_t)~bit);
    if (fired->over || (last_up && fired->down != 0)) {
        return false;
    }
    fired->over = true;
    event->key = (uint8_t)(UVK_SOURCE_COMBO + (uint8_t)(fired - engine->fired));
    return true;
}

uvk_action uvk_combos_action(const struct uvk_engine *engine, uint8_t source)
{
    uint8_t row = engine->fired[source - UVK_SOURCE_COMBO].row;

    return uvk_image_combo(&engine->image, row).action;
}

#endif
