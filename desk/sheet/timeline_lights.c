/* timeline_lights.c - lanes of a timeline: what lit up. */
#include "film.h"
#include "timeline.h"

#define STRIP_LANE 64.0
#define ROWS_MOST  32u

/* What is drawn of a frame: a number that is the same while nothing changes. */
typedef unsigned frame_value(const struct uvk_rig_lights *lights, unsigned which);

static unsigned strip_value(const struct uvk_rig_lights *lights, unsigned which)
{
    return film_colour(lights->strip[which]);
}

static unsigned backlight_value(const struct uvk_rig_lights *lights, unsigned which)
{
    (void)which;
    return lights->backlight;
}

static unsigned lamp_value(const struct uvk_rig_lights *lights, unsigned which)
{
    return lights->lamps >> which & 1u;
}

static unsigned value_at(const GArray *film, guint at, frame_value *value, unsigned which)
{
    return value(&g_array_index(film, struct uvk_frame, at).lights, which);
}

/* The frames from AT on that say the same: how many, and from where to where. */
static guint same_frames(const struct drawing *drawing, guint at, frame_value *value,
                         unsigned which, double *x, double *width)
{
    const GArray *film = drawing->outcome->film;
    guint next = at + 1;
    uint64_t to = drawing->last;

    while (next < film->len &&
           value_at(film, next, value, which) == value_at(film, at, value, which)) {
        next++;
    }
    if (next < film->len) {
        to = g_array_index(film, struct uvk_frame, next).time;
    }
    *x = timeline_x(drawing,
                    MAX(g_array_index(film, struct uvk_frame, at).time, drawing->first));
    *width = timeline_x(drawing, MAX(to, drawing->first)) - *x;
    return next - at;
}

/* A row for each lamp, or for one of several. */
static void draw_strip(struct drawing *drawing)
{
    const GArray *film = drawing->outcome->film;
    unsigned count = g_array_index(film, struct uvk_frame, 0).lights.count;
    unsigned rows = MIN(count, ROWS_MOST);
    double height = STRIP_LANE / MAX(rows, 1);
    double x;
    double width;

    if (rows == 0) {
        return;
    }
    canvas_text(drawing->canvas, LEFT - 12, drawing->y + STRIP_LANE / 2 + 5, NORMAL, TONE_INK,
                ANCHOR_RIGHT, false, "strip");
    for (unsigned row = 0; row < rows; row++) {
        unsigned lamp = row * count / rows;
        for (guint i = 0; i < film->len;) {
            unsigned colour = value_at(film, i, strip_value, lamp);
            i += same_frames(drawing, i, strip_value, lamp, &x, &width);
            canvas_box(drawing->canvas, x, drawing->y + row * height, width, height, TONE_NONE,
                       TONE_NONE, false);
            canvas_colour(drawing->canvas, colour);
        }
    }
    drawing->y += STRIP_LANE + 8;
}

/* A lane of VALUE, as high as that is of MOST. */
static void draw_level(struct drawing *drawing, const char *label, frame_value *value,
                       unsigned which, unsigned most)
{
    const GArray *film = drawing->outcome->film;

    timeline_label(drawing, label, false);
    for (guint i = 0; i < film->len;) {
        double height = value_at(film, i, value, which) * BAR / most;
        double x;
        double width;
        i += same_frames(drawing, i, value, which, &x, &width);
        if (height > 0 && width > 0) {
            canvas_box(drawing->canvas, x, drawing->y + (LANE + BAR) / 2 - height, width,
                       height, TONE_MIDDLE, TONE_NONE, false);
        }
    }
    drawing->y += LANE;
}

static void draw_own_lamps(struct drawing *drawing)
{
    const struct uvk_board *board = drawing->program->board;

    for (unsigned i = 0; i < board->lamp_count; i++) {
        char *label = g_strdup_printf("lamp %s", uvk_lamp_name(&board->lamps[i]));
        draw_level(drawing, label, lamp_value, i, 1);
        g_free(label);
    }
}

void timeline_lights(struct drawing *drawing)
{
    const GArray *film = drawing->outcome->film;

    if (film == NULL || film->len == 0) {
        return;
    }
    canvas_text(drawing->canvas, LEFT, drawing->y + 14, SMALL, TONE_MIDDLE, ANCHOR_LEFT, false,
                "lights");
    drawing->y += 20;
    draw_strip(drawing);
    if (drawing->program->board->backlight.place.source != NULL) {
        draw_level(drawing, "backlight", backlight_value, 0, UINT8_MAX);
    }
    draw_own_lamps(drawing);
}
