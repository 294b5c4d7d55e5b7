/* engine.c - one scan pass, from contacts to reports. */
#include "parts.h"
#include "uvrek/port.h"

#include <string.h>

/* Events that one pass works out at the most: it bounds the longest pass. Ten fingers that
 * land within one millisecond take five passes. */
#define EVENTS_A_PASS 2u

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

/* Work out the first event. False: it has to wait for a report to go out. */
static bool work_out(struct uvk_engine *engine, struct uvk_port *port,
                     const struct uvk_event *event)
{
    if (event->down) {
        return uvk_action_down(engine, port, event->key);
    }
    uvk_action_up(engine, event->key);
    return true;
}

void uvk_engine_pass(struct uvk_engine *engine, struct uvk_port *port, uint32_t now_us)
{
    const struct uvk_event *event;

    advance_clock(engine, now_us);
    uvk_reports_protocol(&engine->reports, uvk_port_boot_protocol(port));
    uvk_scan(engine, port);

    /* The next event is not looked at before every report of the last one is out: the
     * host sees events in their order, whichever endpoint they take. */
    for (uint8_t left = EVENTS_A_PASS; uvk_reports_send(&engine->reports, port); left--) {
        event = uvk_queue_first(&engine->queue);
        if (event == NULL || left == 0) {
            break;
        }
        if (work_out(engine, port, event)) {
            uvk_queue_drop(&engine->queue);
        }
    }
}

bool uvk_engine_busy(const struct uvk_engine *engine)
{
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
