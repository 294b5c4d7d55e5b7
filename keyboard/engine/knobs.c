/* knobs.c - two contacts that open and close in turn become steps to the left and right.
 *
 * Each step is a press and a release of a key of its own: whatever a cell can hold, a knob
 * can do. A bouncing contact goes back and forth and adds up to nothing; two contacts that
 * changed between two looks went on the way that they were going; and at each detent the
 * count starts anew, so that no mistake outlives a step. */
#include "deciding.h"
#include "live.h"
#include "uvrek/half.h"
#include "uvrek/knob.h"
#include "uvrek/port.h"

#if UVK_MAX_KNOBS > 0

/* Changes of phase since the last look: -2..2. */
static int8_t moved(struct uvk_turning *turning, uint8_t place)
{
    uint8_t steps = (uint8_t)(place - turning->place) & 3u;

    turning->place = place;
    if (steps == 2) { /* one was missed */
#if UVK_USE_LIVE
        turning->missed = (uint8_t)(turning->missed + (turning->missed < UINT8_MAX));
#endif
        return turning->clockwise ? 2 : -2;
    }
    if (steps != 0) {
        turning->clockwise = steps == 1;
    }
    return steps == 3 ? -1 : (int8_t)steps;
}

/* -1, 0 or 1: the step that a look completed. */
static int8_t look(struct uvk_turning *turning, uint8_t phases, uint8_t changes)
{
    uint8_t place = uvk_knob_place(phases);
    int8_t count;

    if (place == turning->place) {
        return 0;
    }
    turning->count = (int8_t)(turning->count + moved(turning, place));
    if (!uvk_knob_at_detent(place, changes)) {
        return 0;
    }
    count = turning->count;
    turning->count = 0;
    return uvk_knob_turned(count, changes);
}

/* True: whoever watches is told of the step, and it goes nowhere else. */
static bool tell_step(struct uvk_engine *engine, struct uvk_turning *turning, uint8_t key)
{
#if UVK_USE_LIVE
    uint8_t missed = turning->missed;

    turning->missed = 0;
    return uvk_watching_step(engine, key, missed);
#else
    (void)engine;
    (void)turning;
    (void)key;
    return false;
#endif
}

static bool push_step(struct uvk_engine *engine, struct uvk_turning *turning, uint8_t key)
{
    struct uvk_event event = {.at = engine->now, .key = key, .down = true};

    if (engine->queue.count + 2u > UVK_QUEUE) {
        return false;
    }
    if (tell_step(engine, turning, key)) {
        return true;
    }
    (void)uvk_queue_push(&engine->queue, &event);
    event.down = false;
    return uvk_queue_push(&engine->queue, &event);
}

/* Steps that find no room in the queue stay owed, up to what a byte can count. */
static void pay(struct uvk_engine *engine, struct uvk_turning *turning, uint8_t left)
{
    while (turning->owed != 0 &&
           push_step(engine, turning, (uint8_t)(left + (turning->owed > 0 ? 1u : 0u)))) {
        turning->owed = (int8_t)(turning->owed + (turning->owed > 0 ? -1 : 1));
    }
}

static void owe(struct uvk_turning *turning, int8_t steps)
{
    if (turning->owed > -100 && turning->owed < 100) {
        turning->owed = (int8_t)(turning->owed + (steps > 0) - (steps < 0));
    }
}

/* The step that this look has completed; the first look only looks. */
static int8_t read_step(struct uvk_engine *engine, struct uvk_port *port, uint8_t knob)
{
    struct uvk_turning *turning = &engine->turning[knob];
    uint8_t phases = uvk_port_read_knob(port, knob);

    if (!engine->scanned) {
        turning->place = uvk_knob_place(phases);
        return 0;
    }
    return look(turning, phases, uvk_image_knob(&engine->image, knob));
}

#if UVK_USE_LINK
int8_t uvk_knob_step(struct uvk_engine *engine, struct uvk_port *port, uint8_t knob)
{
    return read_step(engine, port, knob);
}

void uvk_knob_owe(struct uvk_engine *engine, uint8_t knob, int8_t steps)
{
    for (; steps != 0; steps = (int8_t)(steps - (steps > 0) + (steps < 0))) {
        owe(&engine->turning[knob], steps);
    }
}
#else
#define uvk_half_has_knob(engine, knob) true
#endif

void uvk_knobs(struct uvk_engine *engine, struct uvk_port *port)
{
    uint8_t count = uvk_image_knobs(&engine->image);

    for (uint8_t knob = 0; knob < count; knob++) {
        struct uvk_turning *turning = &engine->turning[knob];
        if (uvk_half_has_knob(engine, knob)) {
            owe(turning, read_step(engine, port, knob));
        }
        pay(engine, turning,
            (uint8_t)(uvk_image_keys(&engine->image) - 2u * (uint8_t)(count - knob)));
    }
}

#endif
