/* line.h - the cable between two chips, as edges: what one end does, the other one sees a step
 * later. So two chips can run in turn, a step at a time, and miss nothing of one another.
 *
 * 1. Times are nanoseconds. An edge is posted before it is seen, and may be posted ahead.
 * 2. On one wire both ends pull the same line low, and a resistor pulls it up. On two, what one
 *    end sends is what the other one receives.
 */
#ifndef UVREK_CHIPSIM_LINE_H
#define UVREK_CHIPSIM_LINE_H

#include <stdbool.h>
#include <stddef.h>
#include <stdint.h>

#define LINE_STEP_NS 2000u /* in which two chips run in turn; the cable delays by as much */
#define LINE_EDGES   256u

struct line_edge {
    uint64_t at; /* when it is seen */
    bool low;
};

/* One end. All zeros: there is no link. */
struct line_end {
    struct line_end *other; /* NULL: nobody is joined to it */
    bool one_wire;
    char sends[8], receives[8]; /* pins */
    uint64_t bit_ns;
    unsigned picofarads;
    unsigned high_permille;             /* of the supply: what is surely read as high */
    bool pulled;                        /* the cable is out */
    bool drives_low;                    /* as posted last */
    uint64_t released;                  /* one wire: from then on its own low is gone */
    bool sees_low;                      /* of the other end */
    struct line_edge edges[LINE_EDGES]; /* that are still to be seen, by time */
    size_t first, count;
    /* noise: of a hundred frames of the other end, so many have a bit turned round */
    unsigned noise;
    uint32_t random;
    uint64_t quiet_since, turned_from, turned_to;
};

/* Join two ends. */
void line_join(struct line_end *one, struct line_end *two);

/* END drives its line low, or not any more, AT that time. */
void line_post(struct line_end *end, uint64_t at, bool low);

/* Is the line that END listens to high at NOW? Times never go back. */
bool line_is_high(struct line_end *end, uint64_t now);

/* When it may change the next time; UINT64_MAX: nothing is known to come. */
uint64_t line_next(const struct line_end *end);

/* The cable of both ends comes out, or goes in. */
void line_pull(struct line_end *end, bool pulled);

#endif
