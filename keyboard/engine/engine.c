/* engine.c - one scan pass, from contacts to reports. */
#include "deciding.h"
#include "lit.h"
#include "macros.h"
#include "outputs.h"
#include "uvrek/port.h"

#include <string.h>

/* Steps that one pass does at the most: it bounds the longest pass, and costs little, since
 * a host fetches one report from an endpoint in a millisecond anyway. */
#define STEPS_A_PASS 1u

void uvk_settings_read(struct uvk_engine *engine)
{
    for (uint8_t i = 0; i < UVK_SETTINGS; i++) {
        engine->settings[i] = uvk_image_setting(&engine->image, (enum uvk_setting)i);
    }
}

enum uvk_status uvk_engine_start(struct uvk_engine *engine, size_t room, uvk_image_bytes image,
                                 uint16_t size, uint32_t now_us)
{
    struct uvk_image opened;
    enum uvk_status status =
        room == sizeof *engine ? uvk_image_open(&opened, image, size) : UVK_OTHER_BUILD;

    if (status != UVK_OK) {
        return status;
    }
    memset(engine, 0, sizeof *engine);
    engine->image = opened;
    engine->clock_us = now_us;
    uvk_layers_reset(&engine->layers);
    uvk_settings_read(engine);
    uvk_history_start(engine);
    uvk_lights_start(engine);
    return UVK_OK;
}

/* Count whole milliseconds without a division, which a small chip would pay for. */
UVK_ONE_COPY void uvk_engine_clock(struct uvk_engine *engine, uint32_t now_us)
{
    while ((uint32_t)(now_us - engine->clock_us) >= 1000u) {
        engine->clock_us += 1000u;
        engine->now++;
    }
}

/* The first event, a press: what it belongs to, and what that does. */
static enum uvk_turn take_press(struct uvk_engine *engine, struct uvk_port *port)
{
    enum uvk_turn turn;

    uvk_front_order(engine);
    turn = uvk_combos_turn(engine);
    turn = turn == UVK_TURN_NEXT ? uvk_dances_turn(engine) : turn;
    return turn == UVK_TURN_NEXT ? uvk_press_turn(engine, port) : turn;
}

/* What is under way, or else the first event of the queue. */
static enum uvk_turn work(struct uvk_engine *engine, struct uvk_port *port)
{
    enum uvk_turn turn = uvk_pulse_turn(engine, port);
    const struct uvk_event *first;

    turn = turn == UVK_TURN_NEXT ? uvk_leader_turn(engine) : turn;
    turn = turn == UVK_TURN_NEXT ? uvk_dances_age(engine) : turn;
    first = uvk_queue_at(&engine->queue, 0);
    if (turn != UVK_TURN_NEXT || first == NULL) {
        return turn;
    }
    return first->down ? take_press(engine, port) : uvk_release_turn(engine);
}

/* The macro that runs goes on. When the queue is full the oldest event comes first, where the
 * macro waits or stands between two characters: nothing that is pressed is lost. */
static enum uvk_turn run_macro(struct uvk_engine *engine, struct uvk_port *port)
{
    bool full = engine->queue.count == UVK_QUEUE;
    bool between = full && uvk_macro_is_between(engine);
    enum uvk_turn turn;

    if (between && (uvk_type_unlift(engine) || work(engine, port) == UVK_TURN_DONE)) {
        return UVK_TURN_DONE;
    }
    turn = uvk_macro_step(engine, port);
    if (turn == UVK_TURN_WAIT && full && !between) {
        turn = work(engine, port);
    }
    return turn;
}

/* Does the release of HOLD change what the keys before it in the queue mean? */
static bool keeps_its_place(const struct uvk_engine *engine, const struct uvk_hold *hold)
{
    switch (uvk_action_kind(hold->action)) {
    case UVK_LAYER:
        return !uvk_dances_count(engine); /* what is counted has its meaning already */
    case UVK_MODS:
    case UVK_MACRO:
        return true;
    default:
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
            if (uvk_queue_press(&engine->queue) != NULL) {
                uvk_history_other(engine);
            }
            uvk_release(engine, event);
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
    if (uvk_macro_runs(
            engine)) { /* to its end, whatever started it; releases need not wait for it */
        return (engine->queue.count < UVK_QUEUE && pass_release(engine)) ||
               run_macro(engine, port) == UVK_TURN_DONE;
    }
    return work(engine, port) == UVK_TURN_DONE || pass_release(engine);
}

/* Time passes for what waits. True: that was the step of this pass. */
static bool age(struct uvk_engine *engine)
{
    uvk_history_age(engine);
    if (uvk_sticky_wear(engine)) {
        uvk_told_update(engine, false);
        return true;
    }
    if (uvk_sticky_expire(engine)) {
        uvk_layers_settle(engine);
    }
    return false;
}

void uvk_engine_pass(struct uvk_engine *engine, struct uvk_port *port, uint32_t now_us)
{
    uint8_t steps = STEPS_A_PASS;

    uvk_engine_clock(engine, now_us);
    if (age(engine)) {
        steps = 0;
    }
    uvk_reports_protocol(&engine->reports, uvk_port_boot_protocol(port));
    uvk_knobs(engine, port);
    uvk_scan(engine, port);
    uvk_pointer_move(engine);

    /* The next event is not looked at before every report of the last one is out: the
     * host sees events in their order, whichever endpoint they take. */
    for (; uvk_reports_send(&engine->reports, port); steps--) {
        if (steps == 0 || !step(engine, port)) {
            break;
        }
    }
    uvk_lights_pass(engine, port);
}

/* Is something under way that goes on without another event? */
static bool is_under_way(const struct uvk_engine *engine)
{
    return uvk_macro_runs(engine) || uvk_leader_listens(engine) || uvk_pulse_waits(engine) ||
           uvk_dances_count(engine);
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
