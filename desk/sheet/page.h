/* page.h - a board on paper: where its keys are, and what all pictures of boards share. */
#ifndef UVREK_SHEET_PAGE_H
#define UVREK_SHEET_PAGE_H

#include "canvas.h"

#include "uvrek/text.h"

#define PAGE_MARGIN 28.0
#define PAGE_LINE   1.35 /* from one line of small text to the next, in sizes */

/* Lengths are pixels; those of text grow with the unit. */
struct page {
    const struct uvk_board *board;
    struct canvas *canvas;
    double unit;              /* of one key */
    double title, tap, small; /* sizes of text */
    double left, top;         /* of the board that is drawn now */
};

struct page page_new(const struct uvk_board *board, struct canvas *canvas, double unit);
double page_width(const struct page *page);  /* of a board, without margins */
double page_height(const struct page *page); /* the same */

/* The square of a key, from which the gap to its neighbours is taken. */
struct square {
    double x, y, width, height, middle_x, middle_y;
};

/* Where KEY is; what is drawn from now on is turned with it, until page_upright. */
struct square page_key(const struct page *page, const struct uvk_key_place *key);
void page_upright(const struct page *page);

/* Where a knob that has no switch is. */
struct square page_knob(const struct page *page, const struct uvk_knob *knob);

/* The outline of a key or, ROUND, of a knob's. */
void page_cap(const struct page *page, const struct square *square, bool round, enum tone fill,
              enum tone line);

/* TEXT from X on, at most WIDTH wide, in as many lines as it takes, the first with its
 * baseline at Y. Returns how many lines. */
unsigned page_paragraph(const struct page *page, double x, double y, double width,
                        enum tone tone, const char *text);

/* How many lines that would be. */
unsigned page_lines(const struct page *page, double width, const char *text);

#endif
