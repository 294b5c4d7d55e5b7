/* wiring.c - the wiring of a board as a picture, and the board with each of its choices. */
#include "labels.h"
#include "page.h"
#include "pictures.h"
#include "words.h"

#include "uvrek/sheet.h"

#include <string.h>

#define UNIT       62.0
#define SMALL_UNIT 46.0 /* of boards that only show where keys are */
#define PAGE_WIDTH 1240.0
#define GUTTER     36.0

/* ---- wiring ------------------------------------------------------------------------------ */

static void draw_wired_key(const struct page *page, unsigned key)
{
    struct square square = page_key(page, &page->board->keys[key]);
    char *address = label_address(page->board, key);
    char *wires = uvk_key_wires(page->board, key);

    page_cap(page, &square, uvk_knob_of_key(page->board, key) != NULL, TONE_PAPER, TONE_INK);
    label_draw(page->canvas, square.middle_x, square.middle_y - page->small * 0.8,
               square.width - 8, square.height / 2, page->tap * 0.8, TONE_INK, true, address);
    label_draw(page->canvas, square.middle_x, square.middle_y + page->small * 1.4,
               square.width - 6, page->small * 1.4, page->small * 1.1, TONE_ACCENT, false,
               wires);
    page_upright(page);
    g_free(address);
    g_free(wires);
}

static void draw_named_knob(const struct page *page, const struct uvk_knob *knob)
{
    struct square square = page_knob(page, knob);

    if (knob->push < 0) {
        page_cap(page, &square, true, TONE_PAPER, TONE_INK);
        label_draw(page->canvas, square.middle_x, square.middle_y, square.width * 0.7,
                   square.height * 0.6, page->small * 1.1, TONE_INK, false, knob->name);
    }
}

/* The number of each lamp of the strip, in the upper corner of the key above it. */
static void draw_lamp_numbers(const struct page *page)
{
    const struct uvk_board *board = page->board;

    for (unsigned i = 0; i < uvk_board_strips(board) * board->strip.count; i++) {
        double x;
        double y;
        char number[12];
        uvk_lamp_place(board, i / board->strip.count, i % board->strip.count, &x, &y);
        x = page->left + (x + 0.34) * page->unit;
        y = page->top + (y - 0.34) * page->unit;
        g_snprintf(number, sizeof number, "%u", i % board->strip.count + 1);
        canvas_circle(page->canvas, x, y, page->small * 0.8, TONE_PAPER, TONE_MIDDLE);
        canvas_text(page->canvas, x, y + page->small * 0.35, page->small * 0.9, TONE_INK,
                    ANCHOR_MIDDLE, false, number);
    }
}

/* Below the board, a line each: what is wired beside the keys. Returns the height. */
static double draw_other_wires(const struct page *page, double width)
{
    char *text = uvk_other_wires(page->board);
    char **lines = g_strsplit(text, "\n", -1);
    double y = page->top + page_height(page) + page->small * 2;

    for (char **line = lines; *line != NULL; line++) {
        y += page_paragraph(page, page->left + 3, y, width, TONE_INK, *line) * page->small *
             PAGE_LINE;
    }
    g_strfreev(lines);
    g_free(text);
    return y - page->top - page_height(page);
}

void picture_wiring(const struct uvk_program *program, struct canvas *canvas, double *width,
                    double *height)
{
    struct page page = page_new(program->board, canvas, UNIT);
    char *title = g_strdup_printf("%s: the address of each key, and its pins the way the "
                                  "current flows",
                                  program->board->title);
    double inner = MAX(page_width(&page), canvas_text_width(page.title, true, title));

    page.left = PAGE_MARGIN;
    page.top = PAGE_MARGIN + page.title * 1.7;
    canvas_text(canvas, page.left + 3, PAGE_MARGIN + page.title * 0.9, page.title, TONE_INK,
                ANCHOR_LEFT, true, title);
    for (unsigned key = 0; key < program->board->key_count; key++) {
        draw_wired_key(&page, key);
    }
    for (unsigned i = 0; i < program->board->knob_count; i++) {
        draw_named_knob(&page, &program->board->knobs[i]);
    }
    draw_lamp_numbers(&page);
    *height = page.top + page_height(&page) + draw_other_wires(&page, inner) + PAGE_MARGIN / 2;
    *width = inner + 2 * PAGE_MARGIN;
    g_free(title);
}

/* ---- choices ---------------------------------------------------------------------------- */

/* Keys that the board does not have as it is chosen stand out: white on black. */
static void draw_place(const struct page *page, const struct uvk_board *usual, unsigned key)
{
    struct square square = page_key(page, &page->board->keys[key]);
    char *address = label_address(page->board, key);
    bool new = usual != NULL && !uvk_board_has_key(usual, &page->board->keys[key]);

    page_cap(page, &square, uvk_knob_of_key(page->board, key) != NULL,
             new ? TONE_INK : TONE_PAPER, TONE_INK);
    label_draw(page->canvas, square.middle_x, square.middle_y, square.width - 8,
               square.height - 8, page->small * 1.2, new ? TONE_PAPER : TONE_INK, new, address);
    page_upright(page);
    g_free(address);
}

/* One board with its title, at LEFT, TOP; returns its height. USUAL NULL: it is the usual. */
static double draw_variant(struct canvas *canvas, const struct uvk_board *board,
                           const struct uvk_board *usual, const char *title, double left,
                           double top)
{
    struct page page = page_new(board, canvas, SMALL_UNIT);

    page.left = left;
    page.top = top + page.title * 1.7;
    canvas_text(canvas, left + 3, top + page.title * 0.9, page.title, TONE_INK, ANCHOR_LEFT,
                true, title);
    for (unsigned key = 0; key < board->key_count; key++) {
        draw_place(&page, usual, key);
    }
    for (unsigned i = 0; i < board->knob_count; i++) {
        draw_named_knob(&page, &board->knobs[i]);
    }
    return page.title * 1.7 + page_height(&page) + GUTTER / 2;
}

void picture_choices(const struct uvk_program *program, struct canvas *canvas, double *width,
                     double *height)
{
    GPtrArray *variants = uvk_board_variants(program);
    struct page page = page_new(program->board, canvas, SMALL_UNIT);
    double step = page_width(&page) + 1.5 * SMALL_UNIT + GUTTER; /* a choice may be wider */
    unsigned fit = MAX(1, (unsigned)((PAGE_WIDTH - 2 * PAGE_MARGIN + GUTTER) / step));
    unsigned columns = MIN(fit, variants->len);
    double top = PAGE_MARGIN;

    for (guint i = 0; i < variants->len; i += columns) {
        double line = 0;
        for (guint j = i; j < MIN(i + columns, variants->len); j++) {
            const struct uvk_variant *variant = g_ptr_array_index(variants, j);
            double drawn =
                draw_variant(canvas, variant->program->board, j > 0 ? program->board : NULL,
                             variant->title, PAGE_MARGIN + (j - i) * step, top);
            line = MAX(line, drawn);
        }
        top += line;
    }
    *width = MAX(2 * PAGE_MARGIN + columns * step - GUTTER, 420);
    *height = top + PAGE_MARGIN / 2;
    g_ptr_array_free(variants, TRUE);
}
