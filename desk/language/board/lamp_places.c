/* lamp_places.c - where the lamps of a strip are: below the keys that the text says, else
 * between them. */
#include "uvrek/board.h"

/* The next lamp with a key above it, from AT on by steps of WAY; -1: there is none. */
static int next_key(const struct uvk_strip *strip, unsigned which, int at, int way)
{
    for (; at >= 0 && at < (int)strip->count; at += way) {
        if (strip->keys[which][at] >= 0) {
            return strip->keys[which][at];
        }
    }
    return -1;
}

static double middle_x(const struct uvk_key_place *key)
{
    return key->x + key->width / 2;
}

static double middle_y(const struct uvk_key_place *key)
{
    return key->y + key->height / 2;
}

void uvk_lamp_place(const struct uvk_board *board, unsigned which, unsigned lamp, double *x,
                    double *y)
{
    const struct uvk_strip *strip = &board->strip;
    int before = next_key(strip, which, (int)lamp, -1);
    int behind = next_key(strip, which, (int)lamp, 1);
    unsigned all = uvk_board_strips(board) * strip->count;

    if (before < 0 && behind < 0) {
        *x = (which * strip->count + lamp + 0.5) / all * board->width;
        *y = board->height / 2;
        return;
    }
    before = before >= 0 ? before : behind;
    behind = behind >= 0 ? behind : before;
    *x = (middle_x(&board->keys[before]) + middle_x(&board->keys[behind])) / 2;
    *y = (middle_y(&board->keys[before]) + middle_y(&board->keys[behind])) / 2;
}
