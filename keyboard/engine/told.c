/* told.c - what all that is held adds up to: that is what the host is told. */
#include "macros.h"
#include "outputs.h"

#include <string.h>

static void add_device(struct uvk_told *told, struct uvk_ways *ways, uvk_action action)
{
    switch (uvk_action_how(action)) {
    case UVK_DEVICE_SYSTEM:
        uvk_system_add(told, uvk_action_what(action));
        break;
    case UVK_DEVICE_CLICK:
        uvk_mouse_add(told, uvk_action_what(action));
        break;
    default:
        uvk_pointer_add(ways, action);
        break;
    }
}

static void add_hold(struct uvk_told *told, struct uvk_ways *ways, const struct uvk_hold *hold)
{
    uvk_action action = hold->action;
    uint8_t usage = uvk_action_what(action);

    if (hold->flags & UVK_HOLD_YIELDS) {
        return;
    }
    told->keys.mods |= hold->mods;
    if (uvk_action_is_typed(action)) {
        told->keys.bitmap[usage >> 3] |= uvk_bit(usage);
    } else if (uvk_action_kind(action) == UVK_CONSUMER) {
        uvk_media_add(told, uvk_action_value(action));
    } else if (uvk_action_kind(action) == UVK_DEVICE) {
        add_device(told, ways, action);
    }
}

void uvk_told_update(struct uvk_engine *engine, bool release)
{
    const struct uvk_holds *holds = &engine->holds;
    struct uvk_told told;
    struct uvk_ways ways = {0, 0, 0};

    memset(&told, 0, sizeof told);
    for (uint8_t i = 0; i < holds->count; i++) {
        add_hold(&told, &ways, &holds->list[i]);
    }
    told.keys.mods = uvk_type_mods(engine, uvk_sticky_mods(engine, told.keys.mods));
    uvk_blocks_apply(engine, told.keys.bitmap);
    uvk_reports_take(&engine->reports, &told, release);
    uvk_pointer_held(engine, &ways);
}
