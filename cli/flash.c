/* flash.c - `uvrek flash`: what is to be flashed, and how that is wished for. */
#include "carried.h"
#include "flashing.h"

#include "uvrek/probe.h"

#include <stdio.h>
#include <string.h>
#include <unistd.h>

#define PATIENCE_MOST 86400

/* ---- where it comes from ---------------------------------------------------------------- */

static void take_ids(struct wishes *wishes, const struct uvk_board *board)
{
    wishes->flash.vendor = (uint16_t)board->usb_vendor;
    wishes->flash.product = (uint16_t)board->usb_product;
}

static struct errand errand_of(const struct uvk_board *board)
{
    return (struct errand){
        .chip = board->chip, .title = board->title, .boot = board->boot, .board = board->name};
}

static int build_and_run(struct uvk_program *program, const struct wishes *wishes)
{
    struct uvk_build_options build = {.folder = NULL};
    struct errand errand = errand_of(program->board);
    GError *error = NULL;
    struct uvk_firmware *firmware = !uvk_can_flash(errand.boot, &error) ? NULL
                                    : wishes->probe
                                        ? uvk_build_probe(program->board, &build, &error)
                                        : uvk_build(program, &build, &error);
    int status;

    if (firmware == NULL) {
        return print_problem(error);
    }
    errand.code = firmware->code;
    errand.size = firmware->size;
    status = uvk_one_controller(program->board) || wishes->probe
                 ? run_errand(&errand, wishes, NULL)
                 : flash_halves(program->board, &errand, wishes);
    uvk_firmware_free(firmware);
    return status;
}

static int flash(const char *path, struct wishes *wishes)
{
    int status;
    struct uvk_program *program =
        load_program(path, wishes->rule == NULL && !wishes->probe, &status);
    bool written = false;

    if (program == NULL) {
        return status;
    }
    if (program->board == NULL) {
        complain("%s has no board", path);
        uvk_program_free(program);
        return STATUS_NOT_WELL;
    }
    take_ids(wishes, program->board);
    if (wishes->half != NULL && uvk_one_controller(program->board)) {
        complain("--half is for boards with a controller in each half; %s has one",
                 program->board->name);
        status = STATUS_NOT_DONE;
    } else if (wishes->rule != NULL) {
        const struct errand errand = errand_of(program->board);
        status = run_errand(&errand, wishes, NULL);
    } else if (wishes->dry_run || wishes->probe ||
               rescue_changes(path, wishes, &written, &status)) {
        if (written) {
            uvk_program_free(program);
            program = load_program(path, true, &status);
        }
        status = program != NULL ? build_and_run(program, wishes) : status;
    }
    if (program != NULL) {
        uvk_program_free(program);
    }
    return status;
}

/* A chip may be used with several kinds of bootloaders; a file does not say which. */
static const char *boot_of(const struct uvk_chip *chip, const struct wishes *wishes)
{
    bool by_usb = wishes->flash.usbip != NULL || wishes->flash.for_vendor != 0;

    for (size_t i = 0; by_usb && chip->boots[i] != NULL; i++) {
        if (strcmp(chip->boots[i], "dfu") == 0) {
            return chip->boots[i];
        }
    }
    return chip->boots[0];
}

/* A file that was made before, here or elsewhere. */
static int flash_file(const char *path, struct wishes *wishes)
{
    struct carried carried;
    struct errand errand;
    GError *error = NULL;
    uint8_t *code;
    int status;

    if (!carried_read(path, wishes->chip, &carried, &error)) {
        return print_problem(error);
    }
    if (!wishes->as_json) {
        carried_print(&carried, path);
    }
    if (carried.chip == NULL) {
        complain("name the chip that %s is for: --chip CHIP", path);
        carried_clear(&carried);
        return STATUS_NOT_DONE;
    }
    wishes->flash.for_vendor = carried.file.vendor;
    wishes->flash.for_product = carried.file.product;
    errand = (struct errand){
        .chip = carried.chip,
        .title = carried.noted ? carried.note.board : carried.chip->title,
        .boot = boot_of(carried.chip, wishes),
        .board = carried.noted ? carried.note.board : NULL,
    };
    code = carried_code(&carried, &errand.size, &error);
    errand.code = code;
    status = code != NULL ? run_errand(&errand, wishes, NULL) : print_problem(error);
    g_free(code);
    carried_clear(&carried);
    return status;
}

/* The probe for a chip that is on a board nobody has described yet. */
static int flash_bare_probe(const struct wishes *wishes, const struct uvk_chip *chip)
{
    char *text = g_strdup_printf("board new { title \"%s\"; chip %s\n"
                                 " usb { vendor 0x1209; product 0x0001; maker \"me\" }\n"
                                 " direct { pins %s } keys { d0 } }\n",
                                 chip->title, chip->name, chip->pins[0].name);
    struct uvk_program *program = uvk_program_read("new", text, strlen(text));
    int status = build_and_run(program, wishes);

    uvk_program_free(program);
    g_free(text);
    return status;
}

/* No file: only a copy, or a rule. */
static int flash_nothing(const struct wishes *wishes)
{
    const struct uvk_chip *chip = wishes->chip != NULL ? uvk_chip_named(wishes->chip) : NULL;
    struct errand errand;

    if (wishes->save == NULL && wishes->rule == NULL && !wishes->probe) {
        complain("flash needs a FILE, or --save, --write-rule or --probe with --chip CHIP");
        return STATUS_NOT_DONE;
    }
    if (chip == NULL) {
        complain("without a FILE, say which chip is meant: --chip CHIP");
        return STATUS_NOT_DONE;
    }
    if (wishes->probe) {
        return flash_bare_probe(wishes, chip);
    }
    errand = (struct errand){.chip = chip, .title = chip->title, .boot = boot_of(chip, wishes)};
    return run_errand(&errand, wishes, NULL);
}

/* ---- the command ------------------------------------------------------------------------ */

static struct wishes wishes;
static gint patience = 60;

static const GOptionEntry options[] = {
    {"port", 'p', 0, G_OPTION_ARG_FILENAME, &wishes.flash.port,
     "The serial port of the bootloader (default: the next one to appear)", "PATH"},
    {"drive", 'd', 0, G_OPTION_ARG_FILENAME, &wishes.flash.drive,
     "The folder of the bootloader's drive (default: the next one to be mounted)", "PATH"},
    {"to", 't', 0, G_OPTION_ARG_STRING, &wishes.flash.to,
     "Of several bootloaders, the one that is called so", "NAME"},
    {"touch", 0, 0, G_OPTION_ARG_FILENAME, &wishes.flash.touch,
     "First open this serial port of the running keyboard at 1200 baud, which starts many a "
     "bootloader",
     "PATH"},
    {"usbip", 0, 0, G_OPTION_ARG_STRING, &wishes.flash.usbip,
     "Look for USB devices at this USB/IP server, such as the bench", "[ADDRESS:]PORT"},
    {"chip", 0, 0, G_OPTION_ARG_STRING, &wishes.chip,
     "Which chip it is, where no FILE says that", "CHIP"},
    {"save", 's', 0, G_OPTION_ARG_FILENAME, &wishes.save,
     "Keep a copy of what is in the chip, as .hex, .bin or .uf2; without FILE, only that",
     "COPY"},
    {"half", 0, 0, G_OPTION_ARG_STRING, &wishes.half,
     "Of a keyboard with a controller in each half, only this one (default: one after the "
     "other)",
     "NAME"},
    {"other-board", 0, 0, G_OPTION_ARG_NONE, &wishes.other_board,
     "Write even if the chip holds the firmware of another board", NULL},
    {"live-changes", 0, 0, G_OPTION_ARG_STRING, &wishes.changes,
     "What was changed live and FILE does not say: keep (FILE says it then) or drop (default: "
     "ask)",
     "keep|drop"},
    {"probe", 0, 0, G_OPTION_ARG_NONE, &wishes.probe,
     "In place of the keymap, write what learns the wiring (see `uvrek wires`)", NULL},
    {"write-rule", 0, 0, G_OPTION_ARG_FILENAME, &wishes.rule,
     "Write udev's rule that lets you open keyboard and bootloader; nothing is flashed",
     "RULE"},
    {"wait", 'w', 0, G_OPTION_ARG_INT, &patience,
     "Seconds to wait for the bootloader (default: 60)", "N"},
    {"dry-run", 0, 0, G_OPTION_ARG_NONE, &wishes.dry_run,
     "Build and check only; say what would be written", NULL},
    {"json", 0, 0, G_OPTION_ARG_NONE, &wishes.as_json,
     "Print what happens as JSON, an event a line, for other programs", NULL},
    G_OPTION_ENTRY_NULL};

static int run(int count, char **files)
{
    if (count > 1) {
        complain("flash needs one FILE");
        return STATUS_NOT_DONE;
    }
    if (patience < 0 || patience > PATIENCE_MOST) {
        complain("--wait is from 0 to %d seconds", PATIENCE_MOST);
        return STATUS_NOT_DONE;
    }
    if (wishes.changes != NULL && strcmp(wishes.changes, "keep") != 0 &&
        strcmp(wishes.changes, "drop") != 0) {
        complain("--live-changes is keep or drop");
        return STATUS_NOT_DONE;
    }
    wishes.flash.patience = (unsigned)patience;
    if (count == 0) {
        return flash_nothing(&wishes);
    }
    if (wishes.probe && is_carried(files[0])) {
        complain("--probe is made for a board; name its .uvk file");
        return STATUS_NOT_DONE;
    }
    if (is_carried(files[0])) {
        if (wishes.half != NULL) {
            complain(
                "--half is for keymaps: a file with machine code is for one half, or for both");
            return STATUS_NOT_DONE;
        }
        return flash_file(files[0], &wishes);
    }
    if (wishes.chip != NULL) {
        complain("--chip is for files with machine code; %s says it itself", files[0]);
        return STATUS_NOT_DONE;
    }
    return flash(files[0], &wishes);
}

const struct command command_flash = {"flash",
                                      "[FILE]",
                                      "Build the firmware, or take a .hex, .uf2, .elf, .dfu or "
                                      ".bin, and write it into the keyboard.",
                                      "uvrek flash boards/subtitle-desk.uvk",
                                      options,
                                      ANY_WORDS,
                                      run};
