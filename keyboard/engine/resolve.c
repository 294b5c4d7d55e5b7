/* resolve.c - a side of a tap-hold may be a dance, a line of a dance a tap-hold: down to what
 * is done. A keymap that goes deeper than this does nothing there. */
#include "deciding.h"

#if UVK_USE_HOLDS

#define DEPTH_MAX 8u

enum uvk_turn uvk_resolve(struct uvk_engine *engine, struct uvk_decision *decision,
                          uvk_action *by)
{
    *by = UVK_NOTHING;
    for (uint8_t depth = 0; depth < DEPTH_MAX; depth++) {
        uvk_action word = decision->action;
        enum uvk_turn turn;
        if (uvk_action_kind(word) != UVK_HOLD) {
            return UVK_TURN_NEXT;
        }
        if (uvk_action_is_dance(word)) {
            turn = uvk_dance_resolve(engine, decision);
        } else {
            turn = uvk_feel_turn(engine, decision);
            *by = word;
        }
        if (turn != UVK_TURN_NEXT) {
            return turn;
        }
    }
    decision->action = UVK_NOTHING;
    return UVK_TURN_NEXT;
}

uvk_action uvk_one_tap(const struct uvk_engine *engine, uvk_action action)
{
    for (uint8_t depth = 0; depth < DEPTH_MAX; depth++) {
        struct uvk_tap_hold hold;
        if (uvk_action_kind(action) != UVK_HOLD) {
            return action;
        }
        if (uvk_action_is_dance(action)) {
            action = uvk_dance_one_tap(engine, action);
        } else {
            uvk_image_hold(&engine->image, uvk_action_row(action), &hold);
            action = hold.tap;
        }
    }
    return UVK_NOTHING;
}

#endif
