/* halves.c - a controller in each half: what they say to one another, and who gets which
 * firmware. */
#include "uvrek/firmware.h"
#include <string.h>

bool uvk_two_files(const struct uvk_board *board)
{
    return !uvk_one_controller(board) && board->main != UVK_MAIN_PIN &&
           board->main != UVK_MAIN_STORED && !uvk_halves_by_host(board);
}

char *uvk_files_reason(const struct uvk_board *board)
{
    if (uvk_one_controller(board)) {
        return NULL;
    }
    if (board->main == UVK_MAIN_PIN) {
        return g_strdup_printf(
            "both halves take the same file: pin %s tells each which one it is",
            uvk_pin_label(board, board->main_pin));
    }
    if (board->main == UVK_MAIN_STORED) {
        return g_strdup(
            "both halves take the same file, and remember which one they are: `uvrek "
            "flash` tells each the first time");
    }
    if (uvk_halves_by_host(board)) {
        return g_strdup_printf(
            "both halves take the same file: the one that is plugged into the computer is %s",
            board->halves[uvk_main_half(board)].name);
    }
    return board->main == UVK_MAIN_USB
               ? g_strdup("each half has a file of its own: nothing on the board tells a half "
                          "which one it is")
               : g_strdup("each half has a file of its own: they are wired differently");
}

bool uvk_set_half(uint8_t *bytes, size_t size, int half)
{
    struct uvk_note note;

    if (!uvk_note_find(bytes, size, &note) || note.half == 0) {
        return false;
    }
    bytes[note.half_at] = half == 0   ? UVK_HALF_FIRST
                          : half == 1 ? UVK_HALF_SECOND
                                      : UVK_HALF_ANY;
    return true;
}
