/* holds.c - what keys hold, in the order of pressing. */
#include "parts.h"

/* Where the hold of KEY stands, other than by a macro; count: nowhere. */
static uint8_t place_of(const struct uvk_holds *holds, uint8_t key)
{
    const struct uvk_hold *hold = holds->list;
    uint8_t index = 0;

    for (; index < holds->count; index++, hold++) {
        if (hold->key == key && (hold->flags & UVK_HOLD_MACRO) == 0) {
            break;
        }
    }
    return index;
}

const struct uvk_hold *uvk_hold_of(const struct uvk_engine *engine, uint8_t key)
{
    uint8_t index = place_of(&engine->holds, key);

    return index < engine->holds.count ? &engine->holds.list[index] : NULL;
}

void uvk_hold_remove(struct uvk_holds *holds, uint8_t index)
{
    struct uvk_hold *hold = &holds->list[index];

    /* field by field: a whole struct takes a small chip twice as long */
    for (holds->count--; index < holds->count; index++, hold++) {
        hold[0].action = hold[1].action;
        hold[0].mods = hold[1].mods;
        hold[0].key = hold[1].key;
        hold[0].flags = hold[1].flags;
    }
}

struct uvk_hold uvk_hold_take(struct uvk_holds *holds, uint8_t key)
{
    struct uvk_hold hold; /* set field by field: a constant of it would lie in RAM on AVR */
    uint8_t index = place_of(holds, key);

    if (index < holds->count) {
        hold = holds->list[index];
        uvk_hold_remove(holds, index);
    } else {
        hold.action = UVK_NOTHING;
        hold.mods = 0;
        hold.key = UVK_NO_KEY;
        hold.flags = 0;
    }
    return hold;
}
