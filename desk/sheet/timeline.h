/* timeline.h - the drawing of a play over time, and what its lanes share. */
#ifndef UVREK_SHEET_TIMELINE_H
#define UVREK_SHEET_TIMELINE_H

#include "canvas.h"

#include "uvrek/bench.h"

#define WIDTH  1280.0
#define RIGHT  40.0
#define LEFT   190.0 /* where time begins */
#define LANE   34.0
#define BAR    20.0
#define SMALL  12.0
#define NORMAL 14.0

struct drawing {
    const struct uvk_program *program;
    const struct uvk_outcome *outcome;
    struct canvas *canvas;
    uint64_t first, last; /* microseconds that the time axis covers */
    double y;             /* where the next thing goes */
    double top;           /* of the lanes */
    GPtrArray *notes;     /* of char *: the numbered decisions */
    bool *marked;         /* of each moment: a decision that has its number */
};

/* lane.c: where TIME is on the paper. */
double timeline_x(const struct drawing *drawing, uint64_t time);

/* What stands before the lane that is drawn now. */
void timeline_label(struct drawing *drawing, const char *text, bool bold);

/* timeline_lights.c: the lanes of strip, backlight and lamps, if there is a film. */
void timeline_lights(struct drawing *drawing);

#endif
