/* long_press.c - long presses: off and on, and where their keys are plain. */
#include "deciding.h"
#include "outputs.h"

#if UVK_USE_LONG_PRESS

void uvk_long_press_flip(struct uvk_engine *engine)
{
    engine->no_long_press = !engine->no_long_press;
}

/* Modifiers that HOLD has of its own: not those of a chord. */
static uint8_t own_mods(const struct uvk_hold *hold)
{
    if (hold->action == UVK_NOTHING) {
        return hold->mods;
    }
    return uvk_action_kind(hold->action) == UVK_MODS &&
                   uvk_action_how(hold->action) == UVK_MODS_ONCE
               ? uvk_action_what(hold->action)
               : 0;
}

/* Modifiers that keys of their own hold, or that wait or are toggled. */
static uint8_t mods_of_keys(const struct uvk_engine *engine)
{
    const struct uvk_holds *holds = &engine->holds;
    uint8_t mods = 0;

    for (uint8_t i = 0; i < holds->count; i++) {
        mods |= own_mods(&holds->list[i]);
    }
    return (uint8_t)(uvk_sticky_mods(engine, mods) | uvk_sticky_waiting(engine));
}

enum uvk_reason uvk_long_press_is_plain(const struct uvk_engine *engine)
{
    if (engine->no_long_press) {
        return UVK_WHY_OFF;
    }
    return mods_of_keys(engine) != 0 ? UVK_WHY_MODS : UVK_WHY_PLAIN;
}

#endif
