/* flash.c - `uvrek flash`: wait for the bootloader, write, verify. */
#include "carried.h"

#include "uvrek/firmware.h"
#include "uvrek/flash.h"

#include <stdio.h>
#include <unistd.h>

#define BAR_WIDTH 40u

struct shown {
    const char *title; /* of the board, or the chip */
    bool terminal;
    enum uvk_flash_stage last;
};

static void show_bar(const char *what, size_t done, size_t total)
{
    unsigned full = (unsigned)(done * BAR_WIDTH / total);

    printf("\r%-9s [", what);
    for (unsigned i = 0; i < BAR_WIDTH; i++) {
        putchar(i < full ? '#' : '.');
    }
    printf("] %3u %%", (unsigned)(done * 100 / total));
    if (done == total) {
        putchar('\n');
    }
    (void)fflush(stdout);
}

static void progress(void *data, enum uvk_flash_stage stage, const char *text, size_t done,
                     size_t total)
{
    struct shown *shown = data;
    const char *what = stage == UVK_FLASH_WRITING ? "writing" : "verifying";

    switch (stage) {
    case UVK_FLASH_WAITING:
        printf("Start the bootloader of %s: %s.\n", shown->title, text);
        break;
    case UVK_FLASH_HINT:
        printf("%s\n", text);
        break;
    case UVK_FLASH_FOUND:
        printf("found a bootloader at %s\n", text);
        break;
    case UVK_FLASH_DONE:
        printf("%zu bytes written%s; %s\n", total,
               shown->last == UVK_FLASH_VERIFYING ? " and verified" : "",
               text != NULL ? text : "the keyboard has started");
        break;
    default:
        if (shown->terminal) {
            show_bar(what, done, total);
        } else if (shown->last != stage) {
            printf("%s %zu bytes\n", what, total);
        }
        break;
    }
    shown->last = stage;
    (void)fflush(stdout);
}

static int flash(const char *path, const struct uvk_flash_options *wishes)
{
    int status;
    struct uvk_program *program = load_program(path, true, &status);
    struct uvk_build_options build = {.folder = NULL};
    struct shown shown = {NULL, isatty(STDOUT_FILENO) != 0, UVK_FLASH_WAITING};
    struct uvk_flash_options options = *wishes;
    struct uvk_firmware *firmware;
    GError *error = NULL;

    if (program == NULL) {
        return status;
    }
    shown.title = program->board->title;
    options.progress = progress;
    options.data = &shown;
    firmware =
        uvk_can_build(program->board, &error) && uvk_can_flash(program->board->boot, &error)
            ? uvk_build(program, &build, &error)
            : NULL;
    if (firmware == NULL || !uvk_flash(program->board->chip, program->board->boot,
                                       firmware->code, firmware->size, &options, &error)) {
        if (shown.terminal && shown.last >= UVK_FLASH_WRITING) {
            putchar('\n');
        }
        status = print_problem(error);
    }
    uvk_firmware_free(firmware);
    uvk_program_free(program);
    return status;
}

/* A file that was made before, here or elsewhere. */
static int flash_file(const char *path, const char *chip,
                      const struct uvk_flash_options *wishes)
{
    struct uvk_flash_options options = *wishes;
    struct shown shown = {NULL, isatty(STDOUT_FILENO) != 0, UVK_FLASH_WAITING};
    struct carried carried;
    GError *error = NULL;
    uint8_t *code;
    size_t size;
    int status = STATUS_WELL;

    if (!carried_read(path, chip, &carried, &error)) {
        return print_problem(error);
    }
    carried_print(&carried, path);
    if (carried.chip == NULL) {
        complain("name the chip that %s is for: --chip CHIP", path);
        carried_clear(&carried);
        return STATUS_NOT_DONE;
    }
    shown.title = carried.noted ? carried.note.board : carried.chip->title;
    options.progress = progress;
    options.data = &shown;
    code = carried_code(&carried, &size, &error);
    if (code == NULL ||
        !uvk_flash(carried.chip, carried.chip->boots[0], code, size, &options, &error)) {
        status = print_problem(error);
    }
    g_free(code);
    carried_clear(&carried);
    return status;
}

static gchar *port, *drive, *chip_name;
static gint patience = 60;

static const GOptionEntry options[] = {
    {"port", 'p', 0, G_OPTION_ARG_FILENAME, &port,
     "The serial port of the bootloader (default: the next one to appear)", "PATH"},
    {"drive", 'd', 0, G_OPTION_ARG_FILENAME, &drive,
     "The folder of the bootloader's drive (default: the next one to be mounted)", "PATH"},
    {"chip", 0, 0, G_OPTION_ARG_STRING, &chip_name,
     "Of a file with machine code that does not say it: which chip it is for", "CHIP"},
    {"wait", 'w', 0, G_OPTION_ARG_INT, &patience,
     "Seconds to wait for the bootloader (default: 60)", "N"},
    G_OPTION_ENTRY_NULL};

static int run(int count, char **files)
{
    struct uvk_flash_options wishes = {.port = port, .drive = drive};

    (void)count;
    if (patience < 0 || patience > 86400) {
        complain("--wait is from 0 to 86400 seconds");
        return STATUS_NOT_DONE;
    }
    wishes.patience = (unsigned)patience;
    if (is_carried(files[0])) {
        return flash_file(files[0], chip_name, &wishes);
    }
    if (chip_name != NULL) {
        complain("--chip is for files with machine code; %s says it itself", files[0]);
        return STATUS_NOT_DONE;
    }
    return flash(files[0], &wishes);
}

const struct command command_flash = {
    "flash",
    "FILE",
    "Build the firmware, or take a .hex, .uf2, .elf or .bin, and write it into the keyboard.",
    "uvrek flash boards/subtitle-desk.uvk",
    options,
    1,
    run};
