/* page.c - see page.h. */
#include "page.h"

#include <string.h>

#define UNIT 62.0 /* the unit at which the sizes below hold */
#define GAP  2.5  /* between a key and its neighbour, on each side */

struct page page_new(const struct uvk_board *board, struct canvas *canvas, double unit)
{
    double scale = unit / UNIT;
    struct page page = {.board = board,
                        .canvas = canvas,
                        .unit = unit,
                        .title = MAX(17 * scale, 13),
                        .tap = 19 * scale,
                        .small = MAX(10.5 * scale, 8)};

    return page;
}

double page_width(const struct page *page)
{
    return page->board->width * page->unit;
}

double page_height(const struct page *page)
{
    return page->board->height * page->unit;
}

static struct square square_at(const struct page *page, double x, double y, double width,
                               double height)
{
    struct square square = {.x = page->left + x * page->unit + GAP,
                            .y = page->top + y * page->unit + GAP,
                            .width = width * page->unit - 2 * GAP,
                            .height = height * page->unit - 2 * GAP};

    square.middle_x = square.x + square.width / 2;
    square.middle_y = square.y + square.height / 2;
    return square;
}

struct square page_key(const struct page *page, const struct uvk_key_place *key)
{
    struct square square = square_at(page, key->x, key->y, key->width, key->height);

    canvas_turn(page->canvas, key->turn, square.middle_x, square.middle_y);
    return square;
}

void page_upright(const struct page *page)
{
    canvas_turn(page->canvas, 0, 0, 0);
}

struct square page_knob(const struct page *page, const struct uvk_knob *knob)
{
    return square_at(page, knob->x, knob->y, 1, 1);
}

void page_cap(const struct page *page, const struct square *square, bool round, enum tone fill,
              enum tone line)
{
    if (round) {
        canvas_circle(page->canvas, square->middle_x, square->middle_y,
                      MIN(square->width, square->height) / 2, fill, line);
    } else {
        canvas_cap(page->canvas, square->x, square->y, square->width, square->height,
                   page->unit * 0.11, fill, line);
    }
}

/* Where TEXT has to be broken so that its beginning is at most WIDTH wide: behind a space, or,
 * if a word is wider, anywhere. */
static size_t fitting(const struct page *page, double width, const char *text)
{
    size_t fits = 0;

    for (const char *at = text; *at != '\0'; at = g_utf8_next_char(at)) {
        const char *next = g_utf8_next_char(at);
        char *start = g_strndup(text, (gsize)(next - text));
        bool wide = canvas_text_width(page->small, false, start) > width;
        g_free(start);
        if (wide) {
            return fits > 0 ? fits : MAX((size_t)(at - text), (size_t)(next - text));
        }
        if (*at == ' ' || *next == '\0') {
            fits = (size_t)(next - text);
        }
    }
    return fits;
}

static unsigned set_lines(const struct page *page, double x, double y, double width,
                          enum tone tone, const char *text, bool draw)
{
    unsigned lines = 0;

    while (*text != '\0') {
        size_t size = fitting(page, width, text);
        char *line = g_strndup(text, size);
        if (draw) {
            canvas_text(page->canvas, x, y + lines * page->small * PAGE_LINE, page->small, tone,
                        ANCHOR_LEFT, false, g_strchomp(line));
        }
        g_free(line);
        text += size;
        lines++;
    }
    return lines;
}

unsigned page_paragraph(const struct page *page, double x, double y, double width,
                        enum tone tone, const char *text)
{
    return set_lines(page, x, y, width, tone, text, true);
}

unsigned page_lines(const struct page *page, double width, const char *text)
{
    return set_lines(page, 0, 0, width, TONE_INK, text, false);
}
