/* lane.c - what all lanes of a timeline share. */
#include "timeline.h"

double timeline_x(const struct drawing *drawing, uint64_t time)
{
    double share = (double)(MIN(time, drawing->last) - MIN(time, drawing->first)) /
                   (double)(drawing->last - drawing->first);

    return LEFT + share * (WIDTH - LEFT - RIGHT);
}

void timeline_label(struct drawing *drawing, const char *text, bool bold)
{
    canvas_text(drawing->canvas, LEFT - 12, drawing->y + LANE / 2 + 5, NORMAL, TONE_INK,
                ANCHOR_RIGHT, bold, text);
}
