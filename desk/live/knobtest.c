/* knobtest.c - turns of a knob, from its two contacts: a probe sees them, and knows no steps.
 */
#include "trying.h"

/* The place in the cycle of four, clockwise: the first contact closes, then the second one,
 * then the first one opens. */
static unsigned place_of(unsigned closed)
{
    static const unsigned places[] = {0, 1, 3, 2};

    return places[closed];
}

/* A probe looks each 4 ms: two contacts that changed between two looks are told at once, and
 * nobody knows which was first. */
static void notice_missed(struct turning *turning, unsigned contact, uint64_t ms)
{
    turning->missed += turning->changes > 0 && turning->contact != contact && turning->ms == ms;
    turning->changes++;
    turning->contact = contact;
    turning->ms = ms;
}

/* -1, 0 or 1: the step that ends with this change. At each detent the count starts anew. */
static int step_of(struct turning *turning, unsigned closed, int detent)
{
    unsigned place = place_of(closed);
    int half = (detent + 1) / 2;
    int count;

    turning->count += ((place - place_of(turning->closed)) & 3u) == 1 ? 1 : -1;
    turning->closed = closed;
    if (place % (unsigned)detent != 0) {
        return 0;
    }
    count = turning->count;
    turning->count = 0;
    return (count >= half) - (count <= -half);
}

int keytest_turn(struct uvk_keytest *test, unsigned knob, unsigned contact,
                 const struct uvk_live_event *event, uint64_t ms)
{
    struct turning *turning = &test->turnings[knob];
    unsigned bit = 1u << contact;
    unsigned closed = event->on ? turning->closed | bit : turning->closed & ~bit;
    unsigned cell = test->board->key_count + 2 * knob;
    int step;

    if (event->before) { /* it lies so */
        turning->closed = closed;
    }
    if (closed == turning->closed) {
        return UVK_TAKEN_NOTHING;
    }
    notice_missed(turning, contact, ms);
    step = step_of(turning, closed, (int)test->board->knobs[knob].detent);
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
