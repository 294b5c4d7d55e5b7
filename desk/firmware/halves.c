/* halves.c - a controller in each half: what they say to one another, and who gets which firmware. */
#include "features.h"
#include "parts.h"

#include "uvrek/link.h"
#include "uvrek/scan.h"

#include <string.h>

#define LINK_BYTES_LEAST 5u /* a question has as many */
#define LINK_BYTES_HEAD  3u /* of an answer, before the knobs and the lines */

static unsigned bytes_of_half(const struct uvk_board *board, const struct uvk_scan_plan *scan,
                              unsigned half)
{
    unsigned bytes = LINK_BYTES_HEAD;

    for (unsigned i = 0; i < scan->line_count; i++) {
        bytes += scan->lines[i].half == half ? (scan->sense_count + 7u) / 8u : 0;
    }
    for (unsigned i = 0; i < board->knob_count; i++) {
        bytes += board->knobs[i].half == half;
    }
    return bytes;
}

unsigned link_bytes(const struct uvk_board *board)
{
    struct uvk_scan_plan scan = uvk_board_scan(board);
    unsigned first = bytes_of_half(board, &scan, 0);
    unsigned second = bytes_of_half(board, &scan, 1);

    return MAX(LINK_BYTES_LEAST, MAX(first, second));
}

bool uvk_can_build(const struct uvk_board *board, GError **error)
{
    unsigned bytes = uvk_one_controller(board) ? 0 : link_bytes(board);

    if (bytes <= UVK_FRAME_BYTES_MAX) {
        return true;
    }
    g_set_error(error, UVK_PROBLEM, UVK_NOT_WELL,
                "a half of %s has more lines and knobs than can be told over the link: %u "
                "bytes, %u at the most",
                board->name, bytes, UVK_FRAME_BYTES_MAX);
    return false;
}

bool uvk_two_files(const struct uvk_board *board)
{
    return !uvk_one_controller(board) && board->main != UVK_MAIN_PIN && !uvk_halves_by_host(board);
}

char *uvk_files_reason(const struct uvk_board *board)
{
    if (uvk_one_controller(board)) {
        return NULL;
    }
    if (board->main == UVK_MAIN_PIN) {
        return g_strdup_printf("both halves take the same file: pin %s tells each which one it is",
                               uvk_pin_label(board, board->main_pin));
    }
    if (uvk_halves_by_host(board)) {
        return g_strdup_printf(
            "both halves take the same file: the one that is plugged into the computer is %s",
            board->halves[board->main == UVK_MAIN_SECOND].name);
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
    bytes[note.half_at] = half == 0 ? UVK_HALF_FIRST : half == 1 ? UVK_HALF_SECOND : UVK_HALF_ANY;
    return true;
}
