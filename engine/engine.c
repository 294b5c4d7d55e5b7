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

/* What a key, or a combo, says here. */
static uvk_action cell_of(const struct uvk_engine *engine, uint8_t source)
{
#if UVK_USE_COMBOS
    if (source >= UVK_SOURCE_COMBO) {
        return uvk_combos_action(engine, source);
    }
#endif
    return uvk_layers_cell(&engine->layers, &engine->image, source);
}

/* A key went down: decide what that comes to, and do it. */
static bool press(struct uvk_engine *engine, struct uvk_port *port,
                  const struct uvk_event *event)
{
    uvk_action cell = cell_of(engine, event->key);
    uvk_action action = cell;
    struct uvk_decision decision = {event->at,  engine->now, cell,
                                    event->key, UVK_NO_KEY,  UVK_WHY_PLAIN};

    if (event->key >= UVK_SOURCE_COMBO) {
        decision.reason = UVK_WHY_COMBO;
    }
#if UVK_USE_HOLDS
    if (!uvk_decide(engine, cell, &action, &decision)) {
        return false;
    }
#endif
    if (!uvk_action_down(engine, port, event->key, action)) {
        return false;
    }
#if UVK_USE_HOLDS
    uvk_decide_pressed(engine, &decision, cell);
#endif
    decision.action = action;
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
/* A tap that is added behind a hold takes two steps: it has to be seen to go down. */
static void pulse(struct uvk_engine *engine, struct uvk_port *port)
{
    struct uvk_memory *memory = &engine->memory;
    struct uvk_decision decision = {engine->now,       engine->now, memory->alone_tap,
                                    memory->alone_key, UVK_NO_KEY,  UVK_WHY_ALONE};

    if (memory->pulse == 1) {
        if (uvk_action_down(engine, port, memory->alone_key, memory->alone_tap)) {
            remember(engine, &decision);
            memory->pulse = 2;
        }
    } else {
        uvk_action_up(engine, memory->alone_key);
        memory->alone_key = UVK_NO_KEY;
        memory->pulse = 0;
    }
}
#endif

/* One step: the first event of the queue. False: nothing can be done now. */
static bool step(struct uvk_engine *engine, struct uvk_port *port)
{
    const struct uvk_event *event = uvk_queue_at(&engine->queue, 0);
    uint8_t dirty = engine->reports.dirty;

#if UVK_USE_MACROS
    if (engine->macro.on) { /* to its end, whatever started it */
        return uvk_macro_step(engine, port);
    }
#endif
#if UVK_USE_HOLDS
    if (engine->memory.pulse != 0) {
        pulse(engine, port);
        return true;
    }
#endif
    if (event == NULL) {
        return false;
    }
#if UVK_USE_COMBOS
    if (event->down && !uvk_combos_look(engine)) {
        return false;
    }
#endif
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
    uvk_scan(engine, port);

    /* The next event is not looked at before every report of the last one is out: the
     * host sees events in their order, whichever endpoint they take. */
    for (uint8_t left = STEPS_A_PASS; uvk_reports_send(&engine->reports, port); left--) {
        if (left == 0 || !step(engine, port)) {
            break;
        }
    }
}

bool uvk_engine_busy(const struct uvk_engine *engine)
{
#if UVK_USE_MACROS
    if (engine->macro.on) {
        return true;
    }
#endif
#if UVK_USE_HOLDS
    if (engine->memory.pulse != 0) {
        return true;
    }
#endif
    return engine->queue.count != 0 || engine->reports.dirty != 0;
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
