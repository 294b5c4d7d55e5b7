/* pulse.c - a tap that the engine adds by itself. perform.c does it, in two steps. */
#include "deciding.h"

#if UVK_USE_HOLDS

UVK_ONE_COPY void uvk_pulse_start(struct uvk_engine *engine, uint8_t key, uvk_action action,
                                  enum uvk_reason reason)
{
    engine->pulse.action = action;
    engine->pulse.key = key;
    engine->pulse.reason = (uint8_t)reason;
    engine->pulse.taps = 0;
    engine->pulse.combo = uvk_combo_row(engine, key);
    engine->pulse.next = 1;
}

#endif
