/* line.c - see line.h. */
#include "line.h"

#include <math.h>

#define PULL_UP_OHMS 2200u /* of one wire, see docs/link.md */
#define NOISE_BYTES  2u    /* noise hits a bit of one of so many: the first of a frame */
#define BYTE_BITS    10u   /* a start bit, eight, a stop bit */
#define QUIET_BITS   20u   /* a frame begins behind so many */
#define PERCENT      100u

void line_join(struct line_end *one, struct line_end *two)
{
    one->other = two;
    two->other = one;
    one->random = 7;
    two->random = 11;
}

static uint32_t random_below(struct line_end *end, uint32_t limit)
{
    end->random ^= end->random << 13;
    end->random ^= end->random >> 17;
    end->random ^= end->random << 5;
    return end->random % limit;
}

/* A line that is let go comes up by its resistor. */
static uint64_t rise_ns(const struct line_end *end)
{
    double tau = PULL_UP_OHMS * (double)end->picofarads / 1000.0;

    return end->one_wire ? (uint64_t)(tau * -log(1.0 - end->high_permille / 1000.0)) : 0;
}

/* The first edge behind a pause: a frame begins, and perhaps a bit of it will be wrong. */
static void disturb(struct line_end *end, uint64_t at)
{
    if (at > end->quiet_since + QUIET_BITS * end->bit_ns &&
        random_below(end, PERCENT) < end->noise) {
        unsigned bit = random_below(end, NOISE_BYTES) * BYTE_BITS + 1u + random_below(end, 8);
        end->turned_from = at + bit * end->bit_ns;
        end->turned_to = end->turned_from + end->bit_ns;
    }
    end->quiet_since = at;
}

void line_post(struct line_end *end, uint64_t at, bool low)
{
    struct line_end *other = end->other;
    uint64_t rise = low ? 0 : rise_ns(end);

    if (low == end->drives_low) {
        return;
    }
    end->drives_low = low;
    end->released = at + rise;
    if (other == NULL || other->pulled || other->count == LINE_EDGES) {
        return;
    }
    at += LINE_STEP_NS + rise;
    disturb(other, at);
    other->edges[(other->first + other->count++) % LINE_EDGES] = (struct line_edge){at, low};
}

static void take_edges(struct line_end *end, uint64_t now)
{
    while (end->count > 0 && end->edges[end->first].at <= now) {
        end->sees_low = end->edges[end->first].low;
        end->first = (end->first + 1) % LINE_EDGES;
        end->count--;
    }
}

bool line_is_high(struct line_end *end, uint64_t now)
{
    bool own_low = end->one_wire && (end->drives_low || now < end->released);
    bool turned = now >= end->turned_from && now < end->turned_to;

    take_edges(end, now);
    return (!end->sees_low && !own_low) != turned;
}

uint64_t line_next(const struct line_end *end)
{
    return end->count > 0 ? end->edges[end->first].at : UINT64_MAX;
}

static void pull_end(struct line_end *end, bool pulled)
{
    end->pulled = pulled;
    end->count = 0;
    end->sees_low = !pulled && end->other->drives_low;
}

void line_pull(struct line_end *end, bool pulled)
{
    if (end->other != NULL) {
        pull_end(end, pulled);
        pull_end(end->other, pulled);
    }
}
