/* combos.c - keys that are pressed together.
 *
 * Like a tap-hold key, a press that may become part of a combo keeps no state: each pass
 * looks at the queue again, with what has come since. */
#include "deciding.h"

#if UVK_USE_COMBOS

/* Which of COUNT keys, from the part FIRST on, KEY is; COUNT if it is none. */
static uint8_t part_of(const struct uvk_image *image, uint16_t first, uint8_t count,
                       uint8_t key)
{
    uint8_t i = 0;

    while (i < count && uvk_image_part(image, (uint16_t)(first + i)) != key) {
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
static UVK_ONE_COPY enum standing stand(struct uvk_engine *engine,
                                        const struct uvk_combo *combo)
{
    const struct uvk_event *first = uvk_queue_at(&engine->queue, 0);
    struct uvk_event *event = uvk_queue_at(&engine->queue, 0);
    uint8_t left = combo->keys;

    if (!is_on_here(engine, combo)) {
        return IMPOSSIBLE;
    }
    for (uint8_t i = engine->queue.count; i > 0;
         i--, event = uvk_queue_next(&engine->queue, event)) {
        bool part =
            part_of(&engine->image, combo->first, combo->keys, event->key) < combo->keys;
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

/* Nothing of what stood in SLOT is left: keys, events, what it holds. */
static bool is_free(struct uvk_engine *engine, uint8_t slot)
{
    uint8_t key = (uint8_t)(UVK_FIRST_COMBO + slot);
    struct uvk_event *event = uvk_queue_at(&engine->queue, 0);

    if (engine->fired[slot].down != 0 || uvk_hold_of(engine, key) != NULL) {
        return false;
    }
    for (uint8_t left = engine->queue.count; left > 0;
         left--, event = uvk_queue_next(&engine->queue, event)) {
        if (event->key == key) {
            return false;
        }
    }
    return true;
}

/* A slot for the combo at ROW, its latest one if it can be: so a combo that is pressed again
 * is the same key again. Else the one that was taken the longest time ago. */
static uint8_t slot_for(struct uvk_engine *engine, uint8_t row)
{
    uint8_t slot = engine->fired_last;

    for (uint8_t i = 0; i < UVK_COMBO_SLOTS; i++) {
        if (engine->fired[i].row == row && is_free(engine, i)) {
            return i;
        }
    }
    for (uint8_t left = UVK_COMBO_SLOTS; left > 0; left--) {
        slot = slot + 1u < UVK_COMBO_SLOTS ? (uint8_t)(slot + 1) : 0;
        if (is_free(engine, slot)) {
            engine->fired_last = slot;
            return slot;
        }
    }
    return UVK_COMBO_SLOTS;
}

/* What a release is to a combo that has fired. */
enum release { RELEASE_OTHER, RELEASE_NOTHING, RELEASE_ENDS };

/* EVENT, a release: is its key one that the combo in SLOT has down? The release that ends it
 * becomes the combo's own. */
static enum release release_from(struct uvk_engine *engine, uint8_t slot,
                                 struct uvk_event *event)
{
    struct uvk_fired *fired = UVK_NEAR(&engine->fired[slot]);
    uint8_t part;
    uint8_t bit;

    if (fired->down == 0) {
        return RELEASE_OTHER;
    }
    part = part_of(&engine->image, fired->first, fired->keys, event->key);
    bit = uvk_bit(part);
    if (part == fired->keys || !(fired->down & bit)) {
        return RELEASE_OTHER;
    }
    fired->down &= (uint8_t)~bit;
    if (fired->over || (fired->last_up && fired->down != 0)) {
        return RELEASE_NOTHING;
    }
    fired->over = true;
    event->key = (uint8_t)(UVK_FIRST_COMBO + slot);
    return RELEASE_ENDS;
}

/* The releases that are in the queue already are translated as later ones will be. Those of
 * the other combos were, when they came. */
static void translate_queue(struct uvk_engine *engine, uint8_t slot)
{
    for (uint8_t i = 1; i < engine->queue.count;) {
        struct uvk_event *event = uvk_queue_at(&engine->queue, i);
        if (!event->down && event->key < UVK_FIRST_COMBO &&
            release_from(engine, slot, event) == RELEASE_NOTHING) {
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
    if (engine->fired[slot].row != row) {
        uvk_history_forget_slot(engine, slot);
    }
    engine->fired[slot].row = row;
    engine->fired[slot].keys = combo->keys;
    engine->fired[slot].first = combo->first;
    engine->fired[slot].last_up = (combo->flags & UVK_COMBO_LAST_UP) != 0;
    engine->fired[slot].down = (uint8_t)((1u << combo->keys) - 1u);
    engine->fired[slot].over = false;
    first->key = (uint8_t)(UVK_FIRST_COMBO + slot);
    uvk_front_say(engine, combo->action, UVK_WHY_COMBO, 0);
    translate_queue(engine, slot);
}

enum uvk_turn uvk_combos_turn(struct uvk_engine *engine)
{
    struct uvk_combo best = {.keys = 0};
    uint8_t best_row = 0;
    uint8_t slot;
    bool wait = false;

    if (engine->front.asked & UVK_ASKED_COMBOS) {
        return UVK_TURN_NEXT;
    }
    for (uint8_t row = 0; row < uvk_image_combos(&engine->image); row++) {
        struct uvk_combo combo;
        enum standing standing;
        uvk_image_combo(&engine->image, row, &combo);
        standing = stand(engine, &combo);
        if (standing == COMPLETE && combo.keys > best.keys) {
            best = combo;
            best_row = row;
        }
        wait |= standing == POSSIBLE;
    }
    /* a combo that is complete waits only for one that is larger, and so still possible */
    if (wait && engine->queue.count < UVK_QUEUE) {
        return UVK_TURN_WAIT;
    }
    engine->front.asked |= UVK_ASKED_COMBOS;
    slot = best.keys > 0 ? slot_for(engine, best_row) : UVK_COMBO_SLOTS;
    if (slot == UVK_COMBO_SLOTS) {
        return UVK_TURN_NEXT;
    }
    fire(engine, best_row, &best, slot);
    return UVK_TURN_DONE; /* what it does comes at the next pass: this one was long enough */
}

bool uvk_combos_release(struct uvk_engine *engine, struct uvk_event *event)
{
    for (uint8_t slot = 0; slot < UVK_COMBO_SLOTS; slot++) {
        enum release release = release_from(engine, slot, event);
        if (release != RELEASE_OTHER) {
            return release == RELEASE_ENDS;
        }
    }
    return true;
}

#endif
