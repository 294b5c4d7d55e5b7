/* named.c - which cell of a board is called so. */
#include "uvrek/board.h"

#include <string.h>

int uvk_cell_at(const struct uvk_board *board, const char *place)
{
    for (unsigned cell = 0; cell < uvk_board_cells(board); cell++) {
        char *name = uvk_cell_place(board, cell);
        bool same = strcmp(name, place) == 0;
        g_free(name);
        if (same) {
            return (int)cell;
        }
    }
    return -1;
}
