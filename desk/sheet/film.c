/* film.c - the lights of a board at eight moments. */
#include "film.h"

#include "page.h"

#include "uvrek/names.h"
#include "uvrek/sheet.h"

#include <math.h>

#define MOMENTS    8u
#define PAGE_WIDTH 1240.0
#define GUTTER     32.0
#define NARROW     6.0 /* key units: boards so wide stand four in a row */
#define UNIT_MOST  80.0
#define TITLE_ROOM 270.0 /* a title may be wider than its board */
#define HEAD       64.0
#define LAMP       0.27 /* of a key unit: its radius */

/* A lamp that is lit for a hundredth of the time looks a tenth as bright. */
static unsigned seen(uint8_t part)
{
    return (unsigned)lround(sqrt(part / 255.0) * 255);
}

unsigned film_colour(struct uvk_colour sent)
{
    return seen(sent.red) << 16 | seen(sent.green) << 8 | seen(sent.blue);
}

static void draw_lamps(const struct page *page, const struct uvk_rig_lights *lights)
{
    const struct uvk_board *board = page->board;

    for (unsigned i = 0; i < lights->count; i++) {
        double x;
        double y;
        uvk_lamp_place(board, i / board->strip.count, i % board->strip.count, &x, &y);
        canvas_circle(page->canvas, page->left + x * page->unit, page->top + y * page->unit,
                      LAMP * page->unit, TONE_NONE, TONE_MIDDLE);
        canvas_colour(page->canvas, film_colour(lights->strip[i]));
    }
}

/* A backlight shines around the keys. */
static void draw_keys(const struct page *page, const struct uvk_rig_lights *lights)
{
    unsigned light = seen(lights->backlight);
    bool backlit = page->board->backlight.place.source != NULL;

    for (unsigned key = 0; key < page->board->key_count; key++) {
        struct square square = page_key(page, &page->board->keys[key]);
        page_cap(page, &square, false, TONE_PALE, TONE_MIDDLE);
        if (backlit) {
            canvas_colour(page->canvas, light << 16 | light * 9 / 10 << 8 | light * 6 / 10);
        }
        page_upright(page);
    }
}

static char *frame_title(const struct uvk_board *board, const struct uvk_frame *frame,
                         uint64_t start)
{
    const struct uvk_rig_lights *lights = &frame->lights;
    GString *out = g_string_new(NULL);

    g_string_printf(out, "%.0f ms", (double)(frame->time - start) / 1000);
    if (lights->known && lights->level == 0) {
        g_string_append(out, "   off");
    } else if (lights->known && uvk_board_lights_up(board)) {
        g_string_append_printf(out, "   level %u, %s", lights->level,
                               lights->effect < UVK_EFFECTS ? uvk_effect_names[lights->effect]
                                                            : "?");
    }
    for (unsigned i = 0; i < board->lamp_count; i++) {
        if ((lights->lamps >> i & 1u) != 0) {
            g_string_append_printf(out, "   %s", uvk_lamp_name(&board->lamps[i]));
        }
    }
    return g_string_free(out, FALSE);
}

static void draw_moment(const struct page *page, const struct uvk_frame *frame, uint64_t start)
{
    char *title = frame_title(page->board, frame, start);

    canvas_text(page->canvas, page->left + 3, page->top - page->small, page->small * 1.3,
                TONE_INK, ANCHOR_LEFT, false, title);
    draw_keys(page, &frame->lights);
    draw_lamps(page, &frame->lights);
    g_free(title);
}

/* Evenly spaced, the first and the last among them. */
static const struct uvk_frame *moment_of(const GArray *film, guint first, unsigned index)
{
    guint count = film->len - first;

    return &g_array_index(film, struct uvk_frame,
                          first + (guint)((guint64)index * (count - 1) / (MOMENTS - 1)));
}

static guint first_frame(const GArray *film, uint64_t start)
{
    guint first = 0;

    while (first + 1 < film->len && g_array_index(film, struct uvk_frame, first).time < start) {
        first++;
    }
    return first;
}

static bool draw(const struct uvk_board *board, const struct uvk_outcome *outcome,
                 const char *path, GError **error)
{
    unsigned columns = board->width <= NARROW ? 4 : 2;
    unsigned lines = MOMENTS / columns;
    double room = (PAGE_WIDTH - 2 * PAGE_MARGIN - (columns - 1) * GUTTER) / columns;
    struct canvas *canvas = canvas_new();
    struct page page = page_new(board, canvas, MIN(room / board->width, UNIT_MOST));
    guint first = first_frame(outcome->film, outcome->start);
    double across = MAX(page_width(&page), TITLE_ROOM) + GUTTER;
    double step;
    bool good;

    page.small = MAX(page.small, 10);
    step = page_height(&page) + page.small * 3.2;
    canvas_text(canvas, PAGE_MARGIN + 3, PAGE_MARGIN + 14, 19, TONE_INK, ANCHOR_LEFT, true,
                outcome->play->name);
    for (unsigned i = 0; i < MOMENTS; i++) {
        unsigned line = i / columns;
        page.left = PAGE_MARGIN + i % columns * across;
        page.top = PAGE_MARGIN + HEAD + line * step;
        draw_moment(&page, moment_of(outcome->film, first, i), outcome->start);
    }
    good = canvas_write(canvas, 2 * PAGE_MARGIN + columns * across - GUTTER,
                        PAGE_MARGIN + HEAD + lines * step, true, path, error);
    canvas_free(canvas);
    return good;
}

bool uvk_film_draw(const struct uvk_program *program, const struct uvk_outcome *outcome,
                   const char *path, GError **error)
{
    if (outcome->film == NULL || outcome->film->len == 0) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE,
                    "the board '%s' has no lights that could be seen", program->board->name);
        return false;
    }
    return draw(program->board, outcome, path, error);
}
