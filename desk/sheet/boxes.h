/* boxes.h - a board in boxes of letters, for a terminal. */
#ifndef UVREK_SHEET_BOXES_H
#define UVREK_SHEET_BOXES_H

#include "grid.h"

#include "uvrek/sheet.h"

/* What stands in the two lines of a key; both are freed. */
struct box_lines {
    char *upper, *lower; /* lower NULL: the upper one may take both */
    bool upper_first;    /* it takes both rather than to be cut */
};
typedef struct box_lines (*box_lines_of)(const void *data, unsigned key);

/* BOARD, COLUMNS wide; what TELL says of each key with DATA stands in its box. A board that is
 * wider comes in parts. */
void boxes_append(GString *out, const struct uvk_board *board, unsigned columns,
                  box_lines_of tell, const void *data);

/* BOARD with UNIT characters and ROWS lines to a key unit, 3 or 2; with 2 only the upper line
 * is there. Where each key stands into SPOTS. The grid is the caller's. */
struct grid boxes_grid(const struct uvk_board *board, int unit, int rows, box_lines_of tell,
                       const void *data, struct uvk_spot *spots);

/* TEXT behind HEAD, broken at spaces so that no line has more than COLUMNS characters. */
void boxes_wrapped(GString *out, const char *head, unsigned indent, const char *text,
                   unsigned columns);

#endif
