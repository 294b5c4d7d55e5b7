/* engine.c - one scan pass, from contacts to reports. */
#include "parts.h"
#include "uvrek/port.h"

#include <string.h>

/* Steps that one pass does at the most: it bounds the longest pass, and costs little, since
 * a host fetches one report from an endpoint in a millisecond anyway. */
#define STEPS_A_PASS 1u

enum uvk_status uvk_engine_start(struct uvk_engine *engine, uvk_image_bytes image,
                                 uint16_t size, uint32_t now_us)
{
    struct uvk_image opened;
    enum uvk_status status = uvk_image_open(&opened, image, size);

    if (status != UVK_OK) {
        return status;
    }
    memset(engine, 0, sizeof *engine);
    engine->image = opened;
    engine->clock_us = now_us;
    uvk_layers_reset(&engine->layers);
#if UVK_USE_HOLDS
    engine->memory.pressed_key[0] = UVK_NO_KEY;
    engine->memory.pressed_key[1] = UVK_NO_KEY;
    engine->memory.alone_key = UVK_NO_KEY;
#endif
    return UVK_OK;
}

/* Count whole milliseconds without a division, which a small chip would pay for. */
static void advance_clock(struct uvk_engine *engine, uint32_t now_us)
{
    while ((uint32_t)(now_us - engine->clock_us) >= 1000u) {
        engine->clock_us += 1000u;
        engine->now++;
    }
}

#if UVK_TRACE
static void remember(struct uvk_engine *engine, const struct uvk_decision *decision)
{
    engine->trace.list[engine->trace.count++ % UVK_TRACE] = *decision;
}
#else
#define remember(engine, decision) ((void)(engine), (void)(decision))
#endif

/* What a key, a combo, a sequence or a dance that goes on says here. */
static uvk_action cell_of(const struct uvk_engine *engine, uint8_t source)
{
#if UVK_USE_DANCES
    if (engine->counting.instead != UVK_SEE_THROUGH) {
        return engine->counting.instead;
    }
#endif
#if UVK_USE_LEADER
    if (engine->leader.found) {
        return engine->leader.action;
    }
#endif
#if UVK_USE_DANCES
    if (engine->counting.taps != 0) { /* of this key: see press() */
        return engine->counting.word;
    }
#endif
#if UVK_USE_COMBOS
    if (source >= UVK_SOURCE_COMBO) {
        return uvk_combos_action(engine, source);
    }
#endif
    return uvk_layers_cell(&engine->layers, &engine->image, source);
}

static uint8_t first_reason(const struct uvk_engine *engine, uint8_t source)
{
#if UVK_USE_LEADER
    if (engine->leader.found) {
        return UVK_WHY_LEADER;
    }
#endif
    (void)engine;
    return source >= UVK_SOURCE_COMBO ? UVK_WHY_COMBO : UVK_WHY_PLAIN;
}

/* A tap of a tap-hold is remembered by its hold. */
static uint8_t flags_of(uvk_action cell, uint8_t reason)
{
#if UVK_USE_HOLDS
    return uvk_action_kind(cell) == UVK_HOLD && !uvk_action_is_dance(cell) && uvk_is_tap(reason)
               ? UVK_HOLD_TAP
               : 0;
#else
    (void)cell;
    (void)reason;
    return 0;
#endif
}

/* A key went down: decide what that comes to, and do it. False: it is too early, or
 * something else has to be done first. */
static bool press(struct uvk_engine *engine, struct uvk_port *port,
                  const struct uvk_event *event)
{
    uvk_action cell = cell_of(engine, event->key);
    uvk_action action = cell;
    struct uvk_decision decision = {event->at,  engine->now,
                                    cell,       event->key,
                                    UVK_NO_KEY, first_reason(engine, event->key),
                                    0,          0};

#if UVK_USE_HOLDS
    if (!uvk_decide(engine, cell, &action, &decision)) {
        return false;
    }
#endif
    if (!uvk_action_down(engine, port, decision.key, flags_of(cell, decision.reason), action)) {
        return false;
    }
#if UVK_USE_LEADER
    engine->leader.found = false;
#endif
#if UVK_USE_DANCES
    engine->counting.instead = UVK_SEE_THROUGH;
#endif
#if UVK_USE_HOLDS
    uvk_decide_pressed(engine, &decision, cell);
#endif
    decision.action = action;
#if UVK_USE_COMBOS && UVK_TRACE
    if (event->key >= UVK_SOURCE_COMBO) {
        decision.combo = engine->fired[event->key - UVK_SOURCE_COMBO].row;
    }
#endif
    remember(engine, &decision);
    return true;
}

/* Is this the release of a macro's key whose release part has to wait for another macro? */
static bool must_wait(struct uvk_engine *engine, const struct uvk_event *event)
{
#if UVK_USE_MACROS
    const struct uvk_hold *hold = engine->macro.on ? uvk_hold_of(engine, event->key) : NULL;

    if (hold != NULL && uvk_action_kind(hold->action) == UVK_MACRO &&
        uvk_macro_has_release_part(engine, uvk_action_value(hold->action))) {
        uvk_macro_hurry(engine);
        return true;
    }
#endif
    (void)engine;
    (void)event;
    return false;
}

static void release(struct uvk_engine *engine, const struct uvk_event *event)
{
    engine->at = event->at;
#if UVK_USE_HOLDS
    uvk_decide_released(engine, event, uvk_action_up(engine, event->key));
#else
    (void)uvk_action_up(engine, event->key);
#endif
}

#if UVK_USE_HOLDS
static void pulse(struct uvk_engine *engine, struct uvk_port *port)
{
    struct uvk_pulse *pulse = &engine->pulse;
    struct uvk_decision decision = {engine->now, engine->now,   pulse->action, pulse->key,
                                    UVK_NO_KEY,  pulse->reason, pulse->taps,   pulse->combo};

    engine->at = engine->now;
    if (pulse->next == 2) {
        (void)uvk_action_up(engine, pulse->key);
        pulse->next = 0;
    } else if (uvk_action_down(engine, port, pulse->key, 0, pulse->action)) {
        remember(engine, &decision);
        pulse->next = 2;
    }
}
#endif

/* Before the next event is looked at: what is under way goes on. */
static enum uvk_turn go_on(struct uvk_engine *engine, struct uvk_port *port)
{
    enum uvk_turn turn = UVK_TURN_NEXT;

#if UVK_USE_HOLDS
    if (engine->pulse.next != 0) {
        pulse(engine, port);
        return UVK_TURN_DONE;
    }
#endif
#if UVK_USE_LEADER
    turn = uvk_leader_look(engine);
#endif
#if UVK_USE_DANCES
    if (turn == UVK_TURN_NEXT) {
        turn = uvk_dance_look(engine);
    }
#endif
    (void)engine;
    (void)port;
    return turn;
}

static bool is_shifting(const struct uvk_engine *engine, const struct uvk_event *event)
{
    return event->down && event->key < engine->image.keys &&
           uvk_action_is_shifting(&engine->image,
                                  uvk_layers_cell(&engine->layers, &engine->image, event->key));
}

/* Of what closed in the same scan as the first event, modifiers and layer keys come first. */
static void shifting_first(struct uvk_engine *engine)
{
    struct uvk_event *first = uvk_queue_at(&engine->queue, 0);
    struct uvk_event *event = first;

    for (uint8_t index = 1; index < engine->queue.count; index++) {
        event = uvk_queue_next(&engine->queue, event);
        if (event->at != first->at || (index == 1 && is_shifting(engine, first))) {
            return;
        }
        if (is_shifting(engine, event)) {
            uvk_queue_to_front(&engine->queue, index);
            return;
        }
    }
}

/* What the first event, a press, belongs to: a combo, a dance that is counted. */
static enum uvk_turn look_at_press(struct uvk_engine *engine)
{
    enum uvk_turn turn = UVK_TURN_NEXT;

#if UVK_USE_LEADER
    if (engine->leader.found) {
        return turn;
    }
    if (!engine->leader.on) {
        shifting_first(engine);
    }
#else
    shifting_first(engine);
#endif
#if UVK_USE_COMBOS
    turn = uvk_combos_look(engine);
    if (turn != UVK_TURN_NEXT) {
        return turn;
    }
#endif
#if UVK_USE_DANCES
    turn = uvk_dance_press(engine);
#endif
    return turn;
}

/* What is under way, or else the first event of the queue. */
static enum uvk_turn work(struct uvk_engine *engine, struct uvk_port *port)
{
    const struct uvk_event *event;
    uint8_t dirty = engine->reports.dirty;
    enum uvk_turn turn = go_on(engine, port);

    if (turn != UVK_TURN_NEXT) {
        return turn;
    }
    event = uvk_queue_at(&engine->queue, 0);
    if (event != NULL && event->down) {
        turn = look_at_press(engine);
        event = uvk_queue_at(&engine->queue, 0);
    }
    if (event == NULL || turn != UVK_TURN_NEXT) {
        return event == NULL ? UVK_TURN_WAIT : turn;
    }
    engine->at = event->at;
    if (event->down ? !press(engine, port, event) : must_wait(engine, event)) {
        return engine->reports.dirty != dirty ? UVK_TURN_DONE : UVK_TURN_WAIT;
    }
    if (!event->down) {
        release(engine, event);
    }
    uvk_queue_drop(&engine->queue);
    return UVK_TURN_DONE;
}

#if UVK_USE_MACROS
/* The macro that runs goes on. When the queue is full the oldest event comes first, where the
 * macro waits or stands between two characters: nothing that is pressed is lost. */
static enum uvk_turn run_macro(struct uvk_engine *engine, struct uvk_port *port)
{
    bool full = engine->queue.count == UVK_QUEUE;
    bool between = full && uvk_macro_is_between(engine);
    enum uvk_turn turn;

    if (between && (uvk_macro_unlift(engine) || work(engine, port) == UVK_TURN_DONE)) {
        return UVK_TURN_DONE;
    }
    turn = uvk_macro_step(engine, port);
    if (turn == UVK_TURN_WAIT && full && !between) {
        turn = work(engine, port);
    }
    return turn;
}
#endif

/* Does the release of HOLD change what the keys before it in the queue mean? */
static bool keeps_its_place(const struct uvk_engine *engine, const struct uvk_hold *hold)
{
    switch (uvk_action_kind(hold->action)) {
    case UVK_LAYER:
#if UVK_USE_DANCES
        return engine->counting.taps == 0; /* what is counted has its meaning already */
#else
        return true;
#endif
    case UVK_MODS:
    case UVK_MACRO:
        return true;
    default:
        (void)engine;
        return hold->action == UVK_NOTHING && hold->mods != 0;
    }
}

/* Is the event at INDEX the release of a key that went down before all that waits? */
static bool may_pass(struct uvk_engine *engine, uint8_t index, const struct uvk_event *event)
{
    const struct uvk_hold *hold = event->down ? NULL : uvk_hold_of(engine, event->key);

    if (hold == NULL || keeps_its_place(engine, hold)) {
        return false;
    }
    while (index-- > 0) {
        if (uvk_queue_at(&engine->queue, index)->key == event->key) {
            return false;
        }
    }
    return true;
}

/* Releases that one pass looks at, from where the last one ended: more would be felt by a
 * small chip, and fingers let go of no more at once. */
#define RELEASES_A_PASS 1u

/* While the first event waits: a plain key that is up behind it does not. */
static bool pass_release(struct uvk_engine *engine)
{
    uint8_t count = engine->queue.count;
    uint8_t index = engine->looked;
    uint8_t looks = 0;

    for (uint8_t left = count; left > 0 && looks < RELEASES_A_PASS; left--) {
        struct uvk_event *event;
        index = index < count ? index : 0;
        event = uvk_queue_at(&engine->queue, index);
        looks = (uint8_t)(looks + !event->down);
        if (may_pass(engine, index, event)) {
#if UVK_USE_HOLDS
            if (uvk_queue_press(&engine->queue) != NULL) {
                engine->memory.alone_key = UVK_NO_KEY; /* another key was pressed */
            }
#endif
            release(engine, event);
            uvk_queue_remove(&engine->queue, index);
            return true;
        }
        index++;
    }
    engine->looked = index;
    return false;
}

/* One step. False: nothing can be done now. */
static bool step(struct uvk_engine *engine, struct uvk_port *port)
{
#if UVK_USE_MACROS
    if (engine->macro.on) { /* to its end, whatever started it; releases need not wait for it */
        return (engine->queue.count < UVK_QUEUE && pass_release(engine)) ||
               run_macro(engine, port) == UVK_TURN_DONE;
    }
#endif
    return work(engine, port) == UVK_TURN_DONE || pass_release(engine);
}

void uvk_engine_pass(struct uvk_engine *engine, struct uvk_port *port, uint32_t now_us)
{
    uint8_t steps = STEPS_A_PASS;

    advance_clock(engine, now_us);
#if UVK_USE_HOLDS
    uvk_decide_age(engine);
#endif
#if UVK_USE_STICKY
    if (uvk_sticky_expire(engine)) {
        steps = 0; /* that was the step of this pass */
    }
#endif
    uvk_reports_protocol(&engine->reports, uvk_port_boot_protocol(port));
#if UVK_MAX_KNOBS > 0
    uvk_knobs(engine, port);
#endif
    uvk_scan(engine, port);
#if UVK_USE_POINTER
    uvk_pointer_move(engine);
#endif

    /* The next event is not looked at before every report of the last one is out: the
     * host sees events in their order, whichever endpoint they take. */
    for (; uvk_reports_send(&engine->reports, port); steps--) {
        if (steps == 0 || !step(engine, port)) {
            break;
        }
    }
}

/* Is something under way that goes on without another event? */
static bool is_under_way(const struct uvk_engine *engine)
{
#if UVK_USE_MACROS
    if (engine->macro.on) {
        return true;
    }
#endif
#if UVK_USE_LEADER
    if (engine->leader.on) {
        return true;
    }
#endif
    return uvk_taps_wait(engine);
}

bool uvk_engine_busy(const struct uvk_engine *engine)
{
    return engine->queue.count != 0 || engine->reports.dirty != 0 || is_under_way(engine);
}

bool uvk_engine_idle(const struct uvk_engine *engine)
{
    return engine->holds.count == 0 && !uvk_engine_busy(engine);
}

void uvk_engine_repeat(struct uvk_engine *engine, enum uvk_report report)
{
    engine->reports.dirty = (uint8_t)(engine->reports.dirty | (1u << report));
}

uint8_t uvk_engine_report(const struct uvk_engine *engine, enum uvk_report report,
                          uint8_t out[UVK_REPORT_MAX])
{
    return uvk_reports_write(&engine->reports, report, out);
}
