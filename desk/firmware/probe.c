/* probe.c - the firmware that learns how a board is wired: every pin of its chip is a line and
 * a sense, and no key is anywhere. */
#include "parts.h"

#include "uvrek/probe.h"

#include <string.h>

/* Long wires of a board that nobody has looked at yet. */
#define SETTLE_US 5.0

/* A contact that bounces while one line after another is selected would seem to join its pin to
 * some of them: only what stays closed for a while counts. */
#define CLOSED "set press-after 3ms"

/* A keymap of one cell that does nothing, on a board of one key. Its one wire that is said here
 * is none of the board's. */
static struct uvk_program *read_keymap(const struct uvk_board *board)
{
    const struct uvk_chip *chip = board->chip;
    char *text =
        g_strdup_printf("board probe { chip %s\n matrix { rows %s; cols %s; flow none }\n"
                        " keys { r0c0 } }\n"
                        "keymap none { live { }\n " CLOSED "\n layer base { none } }\n",
                        chip->name, chip->pins[0].name, chip->pins[1].name);
    struct uvk_program *program = uvk_program_read("probe", text, strlen(text));

    g_free(text);
    return program;
}

/* All pins, in the order of the chip's list. Its one key stands where a pin meets itself, which
 * is not looked at. */
static void wire_all(struct uvk_board *board, struct uvk_key_place *key)
{
    const struct uvk_chip *chip = board->chip;
    struct uvk_half *half = &board->halves[0];

    memset(board->halves, 0, sizeof board->halves);
    for (unsigned i = 0; i < chip->pin_count; i++) {
        half->rows[i] = &chip->pins[i];
        half->cols[i] = &chip->pins[i];
        half->direct[i] = &chip->pins[i];
    }
    half->row_count = (unsigned)chip->pin_count;
    half->col_count = (unsigned)chip->pin_count;
    half->direct_count = (unsigned)chip->pin_count;
    half->flow = UVK_COL_TO_ROW; /* rows are selected */
    memset(key, 0, sizeof *key);
    board->keys = key;
    board->key_count = 1;
}

struct uvk_firmware *uvk_build_probe(const struct uvk_board *board,
                                     const struct uvk_build_options *options, GError **error)
{
    struct uvk_program *program = read_keymap(board);
    struct uvk_program probe = *program;
    struct uvk_keymap keymap = *program->keymap;
    struct uvk_board wired = *board;
    struct uvk_key_place key;
    struct uvk_firmware *firmware;

    wire_all(&wired, &key);
    wired.half_count = 1;
    wired.link.place.source = NULL;
    wired.knob_count = 0;
    wired.lamp_count = 0; /* nothing lights up */
    memset(&wired.backlight, 0, sizeof wired.backlight);
    memset(&wired.strip, 0, sizeof wired.strip);
    wired.settle = SETTLE_US;
    memcpy(wired.settings, program->board->settings, sizeof wired.settings);
    keymap.name = UVK_PROBE_KEYMAP;
    probe.keymap = &keymap;
    probe.board = &wired;
    firmware = build_probe(&probe, options, error);
    uvk_program_free(program);
    return firmware;
}
