/* wires.c - the wiring of a board in words: pins by the names that stand on the module. */
#include "uvrek/sheet.h"

#include <string.h>

char *uvk_key_wires(const struct uvk_board *board, unsigned key)
{
    const struct uvk_key_place *place = &board->keys[key];
    const struct uvk_half *half = &board->halves[place->half];
    const char *row;
    const char *col;

    if (place->direct) {
        return g_strdup_printf("%s %s", uvk_pin_label(board, half->direct[place->col]),
                               half->to_power ? "+" : "⏚");
    }
    row = uvk_pin_label(board, half->rows[place->row]);
    col = uvk_pin_label(board, half->cols[place->col]);
    if (half->flow == UVK_COL_TO_ROW) {
        return g_strdup_printf("%s→%s", col, row);
    }
    return g_strdup_printf("%s%s%s", row, half->flow == UVK_NO_DIODES ? "–" : "→", col);
}

static void append_knobs(GString *out, const struct uvk_board *board)
{
    for (unsigned i = 0; i < board->knob_count; i++) {
        const struct uvk_knob *knob = &board->knobs[i];
        g_string_append_printf(
            out, "knob %s: %s and %s%s%s\n", knob->name, uvk_pin_label(board, knob->pins[0]),
            uvk_pin_label(board, knob->pins[1]), board->half_count > 1 ? ", on " : "",
            board->half_count > 1 ? board->halves[knob->half].name : "");
    }
}

char *uvk_other_wires(const struct uvk_board *board)
{
    GString *out = g_string_new(NULL);

    append_knobs(out, board);
    if (board->link.one_wire) {
        g_string_append_printf(out, "link: one line, %s\n",
                               uvk_pin_label(board, board->link.transmit));
    } else if (board->link.place.source != NULL) {
        g_string_append_printf(out, "link: %s sends, %s receives%s\n",
                               uvk_pin_label(board, board->link.transmit),
                               uvk_pin_label(board, board->link.receive),
                               board->link.straight ? ", straight cable" : "");
    }
    if (board->main == UVK_MAIN_PIN && board->main_pin != NULL) {
        g_string_append_printf(out, "main half: told by %s\n",
                               uvk_pin_label(board, board->main_pin));
    }
    if (board->backlight.place.source != NULL) {
        g_string_append_printf(out, "backlight: %s, %u levels\n",
                               uvk_pin_label(board, board->backlight.pin),
                               board->backlight.levels);
    }
    if (board->strip.place.source != NULL) {
        g_string_append_printf(out, "strip: %s, %u lamps%s, at most %u mA\n",
                               uvk_pin_label(board, board->strip.pin), board->strip.count,
                               uvk_board_strips(board) > 1 ? " on each half" : "",
                               board->strip.limit);
    }
    for (unsigned i = 0; i < board->lamp_count; i++) {
        const struct uvk_lamp_text *lamp = &board->lamps[i];
        g_string_append_printf(out, "lamp %s: %s to %s\n", uvk_lamp_name(lamp),
                               uvk_pin_label(board, lamp->pin),
                               lamp->to_power ? "power" : "ground");
    }
    return g_strchomp(g_string_free(out, FALSE));
}
