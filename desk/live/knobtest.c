/* knobtest.c - turns of a knob from its two contacts, which is all that a probe tells of. */
#include "trying.h"

#include "uvrek/knob.h"

/* A probe looks each 4 ms: two contacts that changed between two looks are told at once, and
 * nobody knows which was first. */
static void notice_missed(struct turning *turning, unsigned contact, uint64_t ms)
{
    turning->missed += turning->moves && turning->contact != contact && turning->ms == ms;
    turning->moves = true;
    turning->contact = contact;
    turning->ms = ms;
}

/* -1, 0 or 1: the step that ends with this change. At each detent the count starts anew. */
static int step_of(struct turning *turning, uint8_t phases, uint8_t changes)
{
    uint8_t place = uvk_knob_place(phases);
    uint8_t moved = (uint8_t)(place - uvk_knob_place(turning->phases)) & 3u;
    int8_t count = (int8_t)(turning->count + (moved == 1 ? 1 : -1));
    bool ends = uvk_knob_at_detent(place, changes);

    turning->phases = phases;
    turning->count = ends ? 0 : count;
    return ends ? uvk_knob_turned(count, changes) : 0;
}

int keytest_turn(struct uvk_keytest *test, unsigned knob, unsigned contact,
                 const struct uvk_live_event *event, uint64_t ms)
{
    struct turning *turning = &test->turnings[knob];
    unsigned bit = 1u << contact;
    uint8_t phases = (uint8_t)(event->on ? turning->phases | bit : turning->phases & ~bit);
    unsigned cell = test->board->key_count + 2 * knob;
    int step;

    if (event->before) { /* it lies so */
        turning->phases = phases;
    }
    if (phases == turning->phases) {
        return UVK_TAKEN_NOTHING;
    }
    notice_missed(turning, contact, ms);
    step = step_of(turning, phases, (uint8_t)test->board->knobs[knob].detent);
    if (step == 0) {
        return UVK_TAKEN_NOTHING;
    }
    cell += step > 0;
    test->seen[cell].presses++;
    test->seen[cell].since = ms;
    test->seen[cell].missed += turning->missed;
    turning->missed = 0;
    return (int)cell;
}
