/* scan.h - the order in which the switches of a board are read. Desk side. */
#ifndef UVREK_SCAN_H
#define UVREK_SCAN_H

#include "uvrek/board.h"

#ifdef __cplusplus
extern "C" {
#endif

/* How a board is scanned: in each line one pin is selected and others are read; the last
 * lines of a half are its direct switches, which need no selecting. Without diodes, and with
 * diodes from column to row, rows are selected. */
struct uvk_scan_line {
    unsigned half;
    const struct uvk_pin *select; /* NULL: direct switches, from number FIRST on */
    unsigned index;               /* of the pin among rows or columns */
    unsigned first;
};
struct uvk_scan_plan {
    struct uvk_scan_line lines[2 * UVK_SIDE_MAX + 8];
    unsigned line_count, sense_count;
};
struct uvk_scan_plan uvk_board_scan(const struct uvk_board *board);

/* Are rows selected in this half? Then columns are read. */
bool uvk_rows_are_lines(const struct uvk_half *half);

/* Of the longest thing that one half of a board with a link says to the other, in bytes,
 * without what stands around it: docs/link.md. */
unsigned uvk_link_bytes(const struct uvk_board *board);

/* How long one half waits for the other one's answer (pair.h), milliseconds. */
uint8_t uvk_link_waits_ms(const struct uvk_board *board);

/* Where KEY is in the plan. */
void uvk_scan_switch(const struct uvk_scan_plan *plan, const struct uvk_board *board,
                     unsigned key, unsigned *line, unsigned *sense);

#ifdef __cplusplus
}
#endif

#endif
