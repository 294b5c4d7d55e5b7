/* check.c - `uvrek check`: every mistake and doubt, with the fix. */
#include "cli.h"

#include "uvrek/firmware.h"

#include <stdio.h>

/* "12 keys on a 3x4 matrix and a knob, ATmega32U4" */
static void print_board(const struct uvk_board *board)
{
    printf("%s: %u keys", board->name, board->key_count);
    for (unsigned i = 0; i < board->half_count; i++) {
        const struct uvk_half *half = &board->halves[i];
        printf("%s", i == 0 ? " on " : " and ");
        if (half->row_count > 0) {
            printf("a %ux%u matrix", half->row_count, half->col_count);
        }
        if (half->direct_count > 0) {
            printf("%s%u direct pins", half->row_count > 0 ? " and " : "", half->direct_count);
        }
        if (board->half_count > 1) {
            printf(" (%s)", half->name);
        }
    }
    if (board->knob_count > 0) {
        printf(", %u knob%s", board->knob_count, board->knob_count == 1 ? "" : "s");
    }
    for (unsigned i = 0; i < board->choice_count; i++) {
        const struct uvk_choice *choice = &board->choices[i];
        printf(", %s %s", choice->name, choice->options[choice->chosen]);
    }
    printf(", %s\n", board->chip->title);
}

#define ROUND       100u /* bytes: it is an estimate */
#define NEARLY_FULL 95u  /* per cent of the flash; the estimate may be 5 % off */

/* How much of the chip an image will take, as far as anybody knows before it is built. */
static void print_share(const struct uvk_program *program, size_t flash)
{
    const struct uvk_chip *chip = program->board->chip;
    size_t room = chip->flash - chip->bootloader;

    if (flash == 0) {
        puts("firmware: none for this board yet");
        return;
    }
    printf("firmware: about %s bytes, %s of the flash%s\n",
           thousands((flash + ROUND / 2) / ROUND * ROUND), share(flash, room),
           flash > room / 100 * NEARLY_FULL ? "; `uvrek build` says whether it fits" : "");
}

static void print_summary(const struct uvk_program *program, uint16_t size, size_t flash)
{
    const struct uvk_board *board = program->board;
    unsigned plays = 0;

    for (const struct uvk_play *play = program->plays; play != NULL; play = play->next) {
        plays++;
    }
    print_board(board);
    if (program->keymap != NULL) {
        printf("%s: %u layers, %u plays, %u bytes as an image\n", program->keymap->name,
               program->keymap->layer_count, plays, size);
        print_share(program, flash);
    }
}

static void print_as_json(const struct uvk_program *program, uint16_t size, size_t flash,
                          bool delays)
{
    json_t *json = json_object();

    put_number(json, "errors", program->messages.errors);
    put_number(json, "warnings", program->messages.warnings);
    if (program->messages.errors == 0 && program->board != NULL) {
        put_text(json, "board", program->board->name);
        put_number(json, "keys", program->board->key_count);
    }
    if (program->messages.errors == 0 && program->keymap != NULL) {
        put_text(json, "keymap", program->keymap->name);
        put_number(json, "layers", program->keymap->layer_count);
        put_number(json, "image-bytes", size);
        if (flash > 0) {
            put_number(json, "flash-estimate", (json_int_t)flash);
        }
        if (delays) {
            delays_to_json(json, program);
        }
    }
    messages_to_json(json, &program->messages);
    print_json(json);
}

static int check(const char *path, bool as_json, bool delays)
{
    struct uvk_program *program = uvk_program_load(path);
    uint8_t *image = NULL;
    uint16_t size = 0;
    size_t flash = 0;
    int status;

    if (program->messages.errors == 0 && program->keymap != NULL) {
        image = uvk_lower(program, &size);
        flash = image != NULL ? uvk_estimate(program, image, size) : 0;
        g_free(image);
    }
    if (as_json) {
        print_as_json(program, size, flash, delays);
    } else {
        print_messages(&program->messages);
        if (program->messages.errors == 0) {
            print_summary(program, size, flash);
            if (delays && program->keymap != NULL) {
                print_delays(program);
            }
        }
    }
    status = status_of(&program->messages);
    uvk_program_free(program);
    return status;
}

static gboolean as_json, delays;

static const GOptionEntry options[] = {
    {"delays", 0, 0, G_OPTION_ARG_NONE, &delays,
     "Say which keys wait before they are decided, how long, and why", NULL},
    {"json", 0, 0, G_OPTION_ARG_NONE, &as_json, "Print JSON, for other programs", NULL},
    G_OPTION_ENTRY_NULL};

static int run(int count, char **files)
{
    (void)count;
    return check(files[0], as_json, delays);
}

const struct command command_check = {"check",
                                      "FILE",
                                      "Find every mistake and doubt in a board or keymap.",
                                      "uvrek check boards/subtitle-desk.uvk",
                                      options,
                                      1,
                                      run};
