/* perform.c - keys do what was found out about them, and stop doing it. */
#include "deciding.h"
#include "live.h"
#include "macros.h"

/* What DECISION says begins. Anything but UVK_TURN_NEXT: not yet. */
static enum uvk_turn begin(struct uvk_engine *engine, struct uvk_port *port, uint8_t flags,
                           const struct uvk_decision *decision)
{
    bool starts = uvk_action_kind(decision->action) == UVK_MACRO;
    enum uvk_turn turn;

    if (starts && uvk_macro_runs(engine)) {
        uvk_macro_hurry(engine); /* one is not interrupted by another */
        return UVK_TURN_WAIT;
    }
    turn = uvk_action_down(engine, port, decision->key, flags, decision->action);
    if (turn == UVK_TURN_NEXT) {
        if (starts) {
            uvk_macro_start(engine, uvk_action_value(decision->action), decision->key);
        }
        uvk_trace(engine, decision);
        uvk_watching_decision(engine, decision);
    }
    return turn;
}

/* What KEY does ends; the flags of its hold. */
static uint8_t end(struct uvk_engine *engine, uint8_t key)
{
    struct uvk_hold hold = uvk_action_up(engine, key);

    if (uvk_action_kind(hold.action) == UVK_MACRO) {
        uvk_macro_released(engine, uvk_action_value(hold.action), key);
    }
    return hold.flags;
}

enum uvk_turn uvk_press_turn(struct uvk_engine *engine, struct uvk_port *port)
{
    struct uvk_decision decision = uvk_front_read(engine);
    uvk_action by = UVK_NOTHING;
    enum uvk_turn turn;
    bool tapped;

    engine->at = decision.pressed;
    turn = uvk_resolve(engine, &decision, &by);
    if (turn != UVK_TURN_NEXT) {
        return turn;
    }
    tapped = by != UVK_NOTHING && uvk_reason_is_tap(decision.reason);
    turn = begin(engine, port, tapped ? UVK_HOLD_TAP : 0, &decision);
    if (turn != UVK_TURN_NEXT) {
        return turn;
    }
    uvk_history_pressed(engine, &decision, by);
    uvk_front_drop(engine);
    return UVK_TURN_DONE;
}

void uvk_release(struct uvk_engine *engine, const struct uvk_event *event)
{
    engine->at = event->at;
    uvk_history_released(engine, event, end(engine, event->key));
}

/* Is this the release of a macro's key whose release part has to wait for another macro? */
static bool must_wait(const struct uvk_engine *engine, uint8_t key)
{
    const struct uvk_hold *hold = uvk_macro_runs(engine) ? uvk_hold_of(engine, key) : NULL;

    return hold != NULL && uvk_action_kind(hold->action) == UVK_MACRO &&
           uvk_macro_has_release_part(engine, uvk_action_value(hold->action));
}

enum uvk_turn uvk_release_turn(struct uvk_engine *engine)
{
    const struct uvk_event *event = uvk_queue_at(&engine->queue, 0);

    if (must_wait(engine, event->key)) {
        engine->at = event->at;
        uvk_macro_hurry(engine);
        return UVK_TURN_WAIT;
    }
    uvk_release(engine, event);
    uvk_queue_drop(&engine->queue);
    return UVK_TURN_DONE;
}

#if UVK_USE_HOLDS
enum uvk_turn uvk_pulse_turn(struct uvk_engine *engine, struct uvk_port *port)
{
    struct uvk_pulse *pulse = &engine->pulse;
    struct uvk_decision decision = {engine->now, engine->now,   pulse->action, pulse->key,
                                    UVK_NO_KEY,  pulse->reason, pulse->taps,   pulse->combo};
    enum uvk_turn turn = UVK_TURN_NEXT;

    if (!uvk_pulse_waits(engine)) {
        return turn;
    }
    engine->at = engine->now;
    if (pulse->next == 2) {
        (void)end(engine, pulse->key);
        pulse->next = 0;
        return UVK_TURN_DONE;
    }
    decision.action = uvk_one_tap(engine, pulse->action);
    turn = begin(engine, port, 0, &decision);
    if (turn == UVK_TURN_NEXT) {
        pulse->next = 2;
        turn = UVK_TURN_DONE;
    }
    return turn;
}
#endif
