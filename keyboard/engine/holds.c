/* holds.c - what keys hold, in the order of pressing. */
#include "parts.h"

/* Where the hold of KEY stands, other than by a macro; count: nowhere. */
static uint8_t place_of(const struct uvk_holds *holds, uint8_t key)
{
    uint8_t index = 0;

    while (index < holds->count && (holds->list[index].key != key ||
                                    (holds->list[index].flags & UVK_HOLD_MACRO) != 0)) {
        index++;
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
    for (holds->count--; index < holds->count; index++) {
        holds->list[index] = holds->list[index + 1];
    }
}

struct uvk_hold uvk_hold_take(struct uvk_holds *holds, uint8_t key)
{
    struct uvk_hold hold = {UVK_NOTHING, 0, UVK_NO_KEY, 0};
    uint8_t index = place_of(holds, key);

    if (index < holds->count) {
        hold = holds->list[index];
        uvk_hold_remove(holds, index);
    }
    return hold;
}
