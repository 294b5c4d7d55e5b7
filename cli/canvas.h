/* canvas.h - a board on a whole screen of a terminal, and text around it. */
#ifndef UVREK_CLI_CANVAS_H
#define UVREK_CLI_CANVAS_H

#include "uvrek/sheet.h"

#include <curses.h>

/* ---- the terminal ------------------------------------------------------------------------ */

/* False: *ERROR; WITHOUT says what to do where there is no terminal. */
bool canvas_begin(const char *without, GError **error);
/* Leave the screen, for good or for a while; and come back. */
void canvas_leave(void);
void canvas_return(void);
/* The next key, waited for up to MS. False: there is none. *IS_CODE: it is one of curses' own.
 */
bool canvas_key(unsigned ms, int *key, bool *is_code);

/* ---- text -------------------------------------------------------------------------------- */

/* TEXT from column X on, as much as the line takes. Returns where it ends. */
int canvas_put(int y, int x, attr_t attributes, const char *text);
/* TEXT over at most LINES lines, broken at spaces. Returns how many it takes. */
int canvas_wrapped(int y, int x, int lines, const char *text);
/* A bar over the whole line. */
void canvas_bar(int y, const char *left, const char *right);

/* ---- the picture, from line 1 on --------------------------------------------------------- */

struct canvas_frame {
    const struct uvk_view *view;
    int left, top; /* of the view, in the corner */
    int lines;     /* that are shown */
};

/* As much of VIEW as fits into ROOM lines, around CELL. */
struct canvas_frame canvas_frame(const struct uvk_view *view, unsigned cell, int room);
void canvas_lines(const struct canvas_frame *frame);
/* What lies at a spot, drawn with ATTRIBUTES; and with thick walls. */
void canvas_paint(const struct canvas_frame *frame, const struct uvk_spot *spot,
                  attr_t attributes);
void canvas_thicken(const struct canvas_frame *frame, const struct uvk_spot *spot);
/* The cell that is the nearest one to FROM, so many to the right or down. */
unsigned canvas_beside(const struct uvk_view *view, unsigned from, int right, int down);

#endif
