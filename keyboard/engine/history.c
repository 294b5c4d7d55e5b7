/* history.c - what was pressed and tapped lately, as far as later decisions ask. */
#include "deciding.h"

#if UVK_USE_HOLDS

/* Times are 16 bits wide; what is older than this is forgotten. */
#define FORGET_AFTER (UVK_FEEL_TIME_MAX + 1000u)

static uint16_t since(uint16_t now, uint16_t then)
{
    return (uint16_t)(now - then);
}

void uvk_history_start(struct uvk_engine *engine)
{
    engine->memory.pressed_key[0] = UVK_NO_KEY;
    engine->memory.pressed_key[1] = UVK_NO_KEY;
    engine->memory.alone_key = UVK_NO_KEY;
}

bool uvk_history_lacks_rest(const struct uvk_memory *memory, uint8_t key, uint16_t at,
                            uint16_t time)
{
    uint8_t last = memory->pressed_key[0] == key ? 1 : 0;

    return memory->pressed_key[last] != UVK_NO_KEY &&
           since(at, memory->pressed_at[last]) < time;
}

/* ---- the taps of each key: for `again` -------------------------------------------------- */

#if UVK_USE_AGAIN
/* Where the memory has the taps of KEY. */
static uint16_t *taps_of(struct uvk_memory *memory, uint8_t key)
{
    return &memory
                ->tapped_at[key < UVK_FIRST_COMBO ? key : key - UVK_FIRST_COMBO + UVK_MAX_KEYS];
}

static void remember_tap(struct uvk_memory *memory, uint8_t key, uint16_t at)
{
    *taps_of(memory, key) = at != 0 ? at : 1u;
}

bool uvk_history_is_again(struct uvk_memory *memory, uint8_t key, uint16_t at, uint16_t time)
{
    uint16_t tapped = *taps_of(memory, key);

    return tapped != 0 && since(at, tapped) < time;
}

void uvk_history_forget_slot(struct uvk_engine *engine, uint8_t slot)
{
    engine->memory.tapped_at[UVK_MAX_KEYS + slot] = 0;
}

/* One key a pass: each is looked at long before its time has wrapped. */
static void age_taps(struct uvk_memory *memory, uint16_t now)
{
    if (since(now, memory->tapped_at[memory->aging]) > FORGET_AFTER) {
        memory->tapped_at[memory->aging] = 0;
    }
    if (++memory->aging == sizeof memory->tapped_at / sizeof memory->tapped_at[0]) {
        memory->aging = 0;
    }
}
#else
static void remember_tap(struct uvk_memory *memory, uint8_t key, uint16_t at)
{
    (void)memory;
    (void)key;
    (void)at;
}

bool uvk_history_is_again(struct uvk_memory *memory, uint8_t key, uint16_t at, uint16_t time)
{
    (void)memory;
    (void)key;
    (void)at;
    (void)time;
    return false;
}

void uvk_history_forget_slot(struct uvk_engine *engine, uint8_t slot)
{
    (void)engine;
    (void)slot;
}

static void age_taps(struct uvk_memory *memory, uint16_t now)
{
    (void)memory;
    (void)now;
}
#endif

/* ---- presses ---------------------------------------------------------------------------- */

/* A hold by time that nothing has used yet may become a tap after all. */
static void arm_alone(struct uvk_engine *engine, const struct uvk_decision *decision,
                      uvk_action by)
{
    struct uvk_memory *memory = &engine->memory;
    struct uvk_tap_hold hold;
    struct uvk_feel feel;

    if (decision->reason != UVK_WHY_TIME) {
        return;
    }
    uvk_image_hold(&engine->image, uvk_action_row(by), &hold);
    uvk_image_feel(&engine->image, hold.feel, &feel);
    if (feel.flags & UVK_FEEL_ALONE_TAP) {
        memory->alone_key = decision->key;
        memory->alone_tap = hold.tap;
    }
}

void uvk_history_pressed(struct uvk_engine *engine, const struct uvk_decision *decision,
                         uvk_action by)
{
    struct uvk_memory *memory = UVK_NEAR(&engine->memory);

    memory->alone_key = UVK_NO_KEY;
    if (memory->pressed_key[0] != decision->key) {
        memory->pressed_key[1] = memory->pressed_key[0];
        memory->pressed_at[1] = memory->pressed_at[0];
        memory->pressed_key[0] = decision->key;
    }
    memory->pressed_at[0] = decision->pressed;
    if (by != UVK_NOTHING) {
        arm_alone(engine, decision, by);
    }
}

void uvk_history_released(struct uvk_engine *engine, const struct uvk_event *event,
                          uint8_t flags)
{
    struct uvk_memory *memory = &engine->memory;

    if (flags & UVK_HOLD_TAP) {
        remember_tap(memory, event->key, event->at);
    }
    if (event->key == memory->alone_key) {
        uvk_pulse_start(engine, event->key, memory->alone_tap, UVK_WHY_ALONE);
        memory->alone_key = UVK_NO_KEY;
    }
}

void uvk_history_age(struct uvk_engine *engine)
{
    struct uvk_memory *memory = UVK_NEAR(&engine->memory);

    for (uint8_t i = 0; i < 2; i++) {
        if (since(engine->now, memory->pressed_at[i]) > FORGET_AFTER) {
            memory->pressed_key[i] = UVK_NO_KEY;
        }
    }
    age_taps(memory, engine->now);
}

#endif
