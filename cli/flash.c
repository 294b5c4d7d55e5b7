/* flash.c - `uvrek flash`: wait for the bootloader, write, verify. */
#include "carried.h"

#include "uvrek/firmware.h"
#include "uvrek/flash.h"

#include <signal.h>
#include <stdio.h>
#include <string.h>
#include <unistd.h>

#define BAR_WIDTH 40u

static volatile sig_atomic_t writing; /* for who stops it then */

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
    writing =
        stage == UVK_FLASH_FOUND || stage == UVK_FLASH_WRITING || stage == UVK_FLASH_VERIFYING;
    (void)fflush(stdout);
}

/* ---- Ctrl-C -------------------------------------------------------------------------- */

/* Whatever is in the chip's flash then, its bootloader is not touched. */
static void on_interrupt(int number)
{
    static const char before[] = "\nuvrek: stopped; nothing was written\n";
    static const char amid[] =
        "\nuvrek: stopped; the firmware may be half written. The bootloader "
        "is as it was: flash once more\n";
    const char *text = writing != 0 ? amid : before;
    ssize_t told = write(STDERR_FILENO, text, strlen(text));

    (void)number;
    (void)told;
    _exit(STATUS_NOT_DONE);
}

static void catch_interrupt(void)
{
    struct sigaction action = {.sa_handler = on_interrupt};

    sigemptyset(&action.sa_mask);
    (void)sigaction(SIGINT, &action, NULL);
    (void)sigaction(SIGTERM, &action, NULL);
}

/* ---- one firmware --------------------------------------------------------------------- */

/* What is to be written, and where. */
struct errand {
    const struct uvk_chip *chip;
    const char *title, *boot;
    const uint8_t *code;
    size_t size;
};

struct wishes {
    struct uvk_flash_options flash;
    const char *chip; /* NULL: nobody says */
    gboolean dry_run;
};

static int run_errand(const struct errand *errand, const struct wishes *wishes)
{
    struct uvk_flash_options options = wishes->flash;
    struct shown shown = {errand->title, isatty(STDOUT_FILENO) != 0, UVK_FLASH_WAITING};
    GError *error = NULL;

    if (!uvk_can_flash(errand->boot, &error)) {
        return print_problem(error);
    }
    if (wishes->dry_run) {
        printf("%zu bytes would go to the %s of %s through its %s bootloader; nothing was "
               "written\n",
               errand->size, errand->chip->title, errand->title, errand->boot);
        return STATUS_WELL;
    }
    options.progress = progress;
    options.data = &shown;
    catch_interrupt();
    if (!uvk_flash(errand->chip, errand->boot, errand->code, errand->size, &options, &error)) {
        if (shown.terminal && shown.last >= UVK_FLASH_WRITING) {
            putchar('\n');
        }
        return print_problem(error);
    }
    return STATUS_WELL;
}

static int flash(const char *path, const struct wishes *wishes)
{
    int status;
    struct uvk_program *program = load_program(path, true, &status);
    struct uvk_build_options build = {.folder = NULL};
    struct uvk_firmware *firmware;
    GError *error = NULL;

    if (program == NULL) {
        return status;
    }
    firmware =
        uvk_can_build(program->board, &error) && uvk_can_flash(program->board->boot, &error)
            ? uvk_build(program, &build, &error)
            : NULL;
    if (firmware == NULL) {
        status = print_problem(error);
    } else {
        const struct errand errand = {program->board->chip, program->board->title,
                                      program->board->boot, firmware->code, firmware->size};
        status = run_errand(&errand, wishes);
    }
    uvk_firmware_free(firmware);
    uvk_program_free(program);
    return status;
}

/* A file that was made before, here or elsewhere. */
static int flash_file(const char *path, const struct wishes *wishes)
{
    struct carried carried;
    struct errand errand;
    GError *error = NULL;
    uint8_t *code;
    int status;

    if (!carried_read(path, wishes->chip, &carried, &error)) {
        return print_problem(error);
    }
    carried_print(&carried, path);
    if (carried.chip == NULL) {
        complain("name the chip that %s is for: --chip CHIP", path);
        carried_clear(&carried);
        return STATUS_NOT_DONE;
    }
    errand = (struct errand){
        .chip = carried.chip,
        .title = carried.noted ? carried.note.board : carried.chip->title,
        .boot = carried.chip->boots[0],
    };
    code = carried_code(&carried, &errand.size, &error);
    errand.code = code;
    status = code != NULL ? run_errand(&errand, wishes) : print_problem(error);
    g_free(code);
    carried_clear(&carried);
    return status;
}

static struct wishes wishes;
static gint patience = 60;

static const GOptionEntry options[] = {
    {"port", 'p', 0, G_OPTION_ARG_FILENAME, &wishes.flash.port,
     "The serial port of the bootloader (default: the next one to appear)", "PATH"},
    {"drive", 'd', 0, G_OPTION_ARG_FILENAME, &wishes.flash.drive,
     "The folder of the bootloader's drive (default: the next one to be mounted)", "PATH"},
    {"chip", 0, 0, G_OPTION_ARG_STRING, &wishes.chip,
     "Of a file with machine code that does not say it: which chip it is for", "CHIP"},
    {"wait", 'w', 0, G_OPTION_ARG_INT, &patience,
     "Seconds to wait for the bootloader (default: 60)", "N"},
    {"dry-run", 0, 0, G_OPTION_ARG_NONE, &wishes.dry_run,
     "Build and check only; say what would be written", NULL},
    G_OPTION_ENTRY_NULL};

static int run(int count, char **files)
{
    (void)count;
    if (patience < 0 || patience > 86400) {
        complain("--wait is from 0 to 86400 seconds");
        return STATUS_NOT_DONE;
    }
    wishes.flash.patience = (unsigned)patience;
    if (is_carried(files[0])) {
        return flash_file(files[0], &wishes);
    }
    if (wishes.chip != NULL) {
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
