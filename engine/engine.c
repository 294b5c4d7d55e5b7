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
    engine->memory.tapped_key = UVK_NO_KEY;
    engine->memory.tap_key = UVK_NO_KEY;
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
    if (engine->counting.instead != UVK_NOTHING) {
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

/* A key went down: decide what that comes to, and do it. */
static bool press(struct uvk_engine *engine, struct uvk_port *port,
                  const struct uvk_event *event)
{
    uvk_action cell = cell_of(engine, event->key);
    uvk_action action = cell;
    struct uvk_decision decision = {event->at,  engine->now,
                                    cell,       event->key,
                                    UVK_NO_KEY, first_reason(engine, event->key),
                                    0,          0};

#if UVK_USE_DANCES
    if (engine->counting.taps != 0 && engine->counting.key != event->key) {
        return false; /* it has become a combo: first the dance that this ends */
    }
#endif
#if UVK_USE_HOLDS
    if (!uvk_decide(engine, cell, &action, &decision)) {
        return false;
    }
#endif
    if (!uvk_action_down(engine, port, decision.key, action)) {
        return false;
    }
#if UVK_USE_LEADER
    engine->leader.found = false;
#endif
#if UVK_USE_DANCES
    engine->counting.instead = UVK_NOTHING;
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

static void release(struct uvk_engine *engine, const struct uvk_event *event)
{
#if UVK_USE_HOLDS
    uvk_decide_released(engine, event);
#endif
    uvk_action_up(engine, event->key);
}

#if UVK_USE_HOLDS
static void pulse(struct uvk_engine *engine, struct uvk_port *port)
{
    struct uvk_pulse *pulse = &engine->pulse;
    struct uvk_decision decision = {engine->now, engine->now,   pulse->action, pulse->key,
                                    UVK_NO_KEY,  pulse->reason, pulse->taps,   0};

    if (pulse->next == 2) {
        uvk_action_up(engine, pulse->key);
        pulse->next = 0;
    } else if (uvk_action_down(engine, port, pulse->key, pulse->action)) {
        remember(engine, &decision);
        pulse->next = 2;
    }
}
#endif

/* Before the next event is looked at: what is under way goes on. True: it did something, or
 * it waits; *WAITS says which. */
static bool go_on(struct uvk_engine *engine, struct uvk_port *port, bool *waits)
{
    enum uvk_turn turn = UVK_TURN_NEXT;

#if UVK_USE_MACROS
    if (engine->macro.on) { /* to its end, whatever started it */
        *waits = !uvk_macro_step(engine, port);
        return true;
    }
#endif
#if UVK_USE_HOLDS
    if (engine->pulse.next != 0) {
        pulse(engine, port);
        return true;
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
    *waits = turn == UVK_TURN_WAIT;
    return turn != UVK_TURN_NEXT;
}

/* Is the first event, a press, still waiting for others to make a combo? */
static bool waits_for_combo(struct uvk_engine *engine)
{
#if UVK_USE_LEADER
    if (engine->leader.found) {
        return false;
    }
#endif
#if UVK_USE_COMBOS
    return !uvk_combos_look(engine);
#else
    (void)engine;
    return false;
#endif
}

/* One step: the first event of the queue. False: nothing can be done now. */
static bool step(struct uvk_engine *engine, struct uvk_port *port)
{
    const struct uvk_event *event;
    uint8_t dirty = engine->reports.dirty;
    bool waits = false;

    if (go_on(engine, port, &waits)) {
        return !waits;
    }
    event = uvk_queue_at(&engine->queue, 0);
    if (event == NULL || (event->down && waits_for_combo(engine))) {
        return false;
    }
    if (!event->down) {
        release(engine, event);
    } else if (!press(engine, port, event)) {
        return engine->reports.dirty != dirty; /* else it waits for time to pass */
    }
    uvk_queue_drop(&engine->queue);
    return true;
}

void uvk_engine_pass(struct uvk_engine *engine, struct uvk_port *port, uint32_t now_us)
{
    advance_clock(engine, now_us);
#if UVK_USE_HOLDS
    uvk_decide_age(engine);
#endif
#if UVK_USE_STICKY
    uvk_sticky_expire(engine);
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
    for (uint8_t left = STEPS_A_PASS; uvk_reports_send(&engine->reports, port); left--) {
        if (left == 0 || !step(engine, port)) {
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
#if UVK_USE_HOLDS
    if (engine->pulse.next != 0) {
        return true;
    }
#endif
#if UVK_USE_DANCES
    if (engine->counting.taps != 0) {
        return true;
    }
#endif
#if UVK_USE_LEADER
    if (engine->leader.on) {
        return true;
    }
#endif
    (void)engine;
    return false;
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
