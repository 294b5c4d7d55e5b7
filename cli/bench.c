/* bench.c - `uvrek bench`: a simulated keyboard that is worked by steps on standard input. */
#include "workbench.h"

#include "uvrek/explain.h"
#include "uvrek/probe.h"

#include <stdio.h>
#include <string.h>
#include <unistd.h>

/* ---- faults ----------------------------------------------------------------------------- */

/* So far into the writing that half of it is done. */
#define AMID_BYTES    3000u
#define AMID_REQUESTS 80u

static const struct {
    const char *name;
    struct faults faults;
} known_faults[] = {
    {"other-chip", {{.other_chip = true}, {.other_chip = true}, {.other_chip = true}}},
    {"refused-write", {{.refuses_writes = true}, {.full = true}, {.refuses_writes = true}}},
    {"lost-bit", {{.forgets_a_bit = true}, {.damages = true}, {.forgets_a_bit = true}}},
    {"silence",
     {{.silent_after = AMID_BYTES}, {.deaf = true}, {.after = AMID_REQUESTS, .silent = true}}},
    {"cut",
     {{.cut_after = AMID_BYTES},
      {.vanishes = true},
      {.after = AMID_REQUESTS, .vanishes = true}}},
    {"slow", {{.slow = true}, {.slow = true}, {.slow = true}}},
    {"nonsense",
     {{.nonsense_after = AMID_BYTES},
      {.nonsense = true},
      {.after = AMID_REQUESTS, .nonsense = true}}},
};

/* False, and a message: there is no fault of that NAME. */
static bool find_fault(const char *name, struct faults *faults)
{
    for (size_t i = 0; i < G_N_ELEMENTS(known_faults); i++) {
        if (strcmp(known_faults[i].name, name) == 0) {
            *faults = known_faults[i].faults;
            return true;
        }
    }
    fputs("uvrek: unknown fault; choose from: ", stderr);
    for (size_t i = 0; i < G_N_ELEMENTS(known_faults); i++) {
        fprintf(stderr, "%s%s", i > 0 ? ", " : "", known_faults[i].name);
    }
    fputc('\n', stderr);
    return false;
}

/* ---- starting --------------------------------------------------------------------------- */

enum inside { INSIDE_NATIVE, INSIDE_CHIP, INSIDE_PROBE, INSIDE_EMPTY };

/* What runs now, a bootloader that is reached later finds in flash. */
static void fill_flash(struct workbench *workbench)
{
    const struct uvk_firmware *firmware = workbench->firmware;
    const struct uvk_board *board = workbench->program->board;
    size_t size = board->chip->flash - board->chip->bootloader;

    for (unsigned half = 0; half < board->half_count; half++) {
        workbench->flashes[half] = g_malloc(size);
        memset(workbench->flashes[half], 0xFF, size);
        memcpy(workbench->flashes[half], firmware->code, firmware->size);
        if (uvk_two_files(board)) {
            (void)uvk_set_half(workbench->flashes[half], size, (int)half);
        }
    }
}

static bool begin_chip(struct workbench *workbench, bool probe, GError **error)
{
    struct uvk_build_options options = {.folder = NULL};

    workbench->firmware = probe ? uvk_build_probe(workbench->program->board, &options, error)
                                : uvk_build(workbench->program, &options, error);
    if (workbench->firmware == NULL) {
        return false;
    }
    fill_flash(workbench);
    workbench->rig =
        uvk_rig_chip(workbench->program, workbench->firmware->code, workbench->firmware->size,
                     workbench->firmware->elf, &workbench->options, error);
    if (workbench->rig != NULL) {
        plug_keyboard(workbench);
    }
    if (workbench->rig != NULL && probe && !uvk_one_controller(workbench->program->board)) {
        uvk_rig_cable(workbench->rig, UVK_CABLE_OUT); /* `join` puts it in */
    }
    return workbench->rig != NULL;
}

static bool begin_native(struct workbench *workbench, GError **error)
{
    uint16_t size;

    workbench->image = uvk_lower(workbench->program, &size);
    if (workbench->image == NULL) {
        g_set_error_literal(error, UVK_PROBLEM, UVK_NOT_WELL, "the keymap is too large");
        return false;
    }
    workbench->rig =
        uvk_rig_native(workbench->program, workbench->image, size, &workbench->options, error);
    return workbench->rig != NULL;
}

/* That one half takes itself for the other only machine code shows. */
static bool needs_chip(const struct workbench *workbench)
{
    return uvk_wrong_is_among(workbench->options.wrongs, workbench->options.wrong_count,
                              UVK_WRONG_STRAP);
}

static bool begin(struct workbench *workbench, enum inside inside, GError **error)
{
    switch (inside == INSIDE_NATIVE && needs_chip(workbench) ? INSIDE_CHIP : inside) {
    case INSIDE_EMPTY:
        return serve_bootloader(workbench, error);
    case INSIDE_CHIP:
    case INSIDE_PROBE:
        return begin_chip(workbench, inside == INSIDE_PROBE, error);
    default:
        return begin_native(workbench, error);
    }
}

/* ---- working ---------------------------------------------------------------------------- */

static bool work(struct workbench *workbench, GError **error)
{
    GError *reason = NULL;
    char *line;

    while (reason == NULL && (line = outlets_next_line(workbench, &reason)) != NULL) {
        (void)workbench_line(workbench, line, &reason);
        g_free(line);
    }
    if (reason != NULL) {
        g_propagate_error(error, reason);
    }
    return reason == NULL;
}

static void print_end(const struct workbench *workbench)
{
    char *escaped = uvk_string_text(workbench->text->str);

    printf("the host received %s\n", escaped);
    g_free(escaped);
}

static void clear(struct workbench *workbench)
{
    outlets_close(workbench);
    uvk_rig_free(workbench->rig);
    uvk_firmware_free(workbench->firmware);
    g_free(workbench->image);
    g_free(workbench->wrongs);
    g_free(workbench->flashes[0]);
    g_free(workbench->flashes[1]);
    g_free(workbench->memories[0]);
    g_free(workbench->memories[1]);
    g_string_free(workbench->text, TRUE);
    uvk_program_free(workbench->program);
}

/* What the command line asks for. */
struct wishes {
    enum inside inside;
    struct outlets outlets;
    struct faults faults;
    const char *memory; /* the file that it is kept in */
    const char *cable;  /* the half that has the computer's; NULL: the board's main one */
    unsigned stays;
    uint32_t seed;
    char **wrongs; /* of the board, as they were written; NULL: none */
};

/* False: *ERROR. */
static bool read_wrongs(struct workbench *workbench, char *const *texts, GError **error)
{
    unsigned count = texts != NULL ? g_strv_length((char **)texts) : 0;
    bool good = true;

    workbench->wrongs = g_new0(struct uvk_wrong, count + 1u);
    for (unsigned i = 0; good && i < count; i++) {
        good =
            uvk_wrong_read(workbench->program->board, texts[i], &workbench->wrongs[i], error);
    }
    workbench->options.wrongs = workbench->wrongs;
    workbench->options.wrong_count = count;
    return good;
}

/* False: *ERROR. */
static bool read_cable(struct workbench *workbench, const char *half, GError **error)
{
    const struct uvk_board *board = workbench->program->board;
    int at;

    if (half == NULL) {
        return true;
    }
    if (uvk_one_controller(board)) {
        g_set_error_literal(error, UVK_PROBLEM, UVK_NOT_DONE,
                            "--cable is for a board with a controller in each half");
        return false;
    }
    at = uvk_half_named(board, half);
    if (at < 0) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "the board has no half '%s'", half);
        return false;
    }
    workbench->options.other_host = uvk_main_half(board) != (unsigned)at;
    return true;
}

static int bench(const char *path, const struct wishes *wishes)
{
    struct workbench workbench = {
        .options = {.seed = wishes->seed, .bounce = UVK_BOUNCE_DEFAULT},
        .stays = wishes->stays,
        .prompts = isatty(STDIN_FILENO) && isatty(STDOUT_FILENO)};
    GError *error = NULL;
    int status;

    workbench.program = load_program(path, true, &status);
    if (workbench.program == NULL) {
        return status;
    }
    workbench.text = g_string_new(NULL);
    if (!read_wrongs(&workbench, wishes->wrongs, &error) ||
        !read_cable(&workbench, wishes->cable, &error) ||
        !memory_read(&workbench, wishes->memory, &error) ||
        !outlets_open(&workbench, &wishes->outlets, &wishes->faults, &error) ||
        !begin(&workbench, wishes->inside, &error) || !work(&workbench, &error) ||
        !memory_write(&workbench, wishes->memory, &error)) {
        status = print_problem(error);
    } else {
        print_end(&workbench);
        status = workbench.failed > 0 ? STATUS_NOT_WELL : STATUS_WELL;
    }
    clear(&workbench);
    return status;
}

/* ---- the command ------------------------------------------------------------------------ */

static struct wishes wishes;
static gboolean chip, empty, probe;
static gchar *fault, *memory, *cable;
static gint seed = 1, stays;

static const GOptionEntry options[] = {
    {"chip", 0, 0, G_OPTION_ARG_NONE, &chip, "Run the machine code on a simulated chip", NULL},
    {"empty", 0, 0, G_OPTION_ARG_NONE, &empty,
     "Start with an empty chip, waiting in its bootloader (needs --serial, --drive or --usbip)",
     NULL},
    {"probe", 0, 0, G_OPTION_ARG_NONE, &probe,
     "Run what learns the wiring, in place of the keymap (implies --chip; see `uvrek wires`)",
     NULL},
    {"serial", 0, 0, G_OPTION_ARG_FILENAME, &wishes.outlets.serial,
     "Make the bootloader's serial port there", "PATH"},
    {"drive", 0, 0, G_OPTION_ARG_FILENAME, &wishes.outlets.drive,
     "Make the folder of the bootloader's drive there", "PATH"},
    {"usbip", 0, 0, G_OPTION_ARG_STRING, &wishes.outlets.usbip,
     "Export keyboard and DFU bootloader as USB devices, over USB/IP (implies --chip)",
     "[ADDRESS:]PORT"},
    {"fault", 0, 0, G_OPTION_ARG_STRING, &fault,
     "A fault of the bootloader: other-chip, refused-write, lost-bit, silence, cut, slow or "
     "nonsense",
     "NAME"},
    {"wire-fault", 0, 0, G_OPTION_ARG_STRING_ARRAY, &wishes.wrongs,
     "A fault of the board, such as 'swap c1 c2' or 'dead r2c1'; once for each "
     "(docs/wiring.md)",
     "FAULT"},
    {"stays", 0, 0, G_OPTION_ARG_INT, &stays,
     "Milliseconds that the bootloader waits for a word before it goes (default: for ever)",
     "MS"},
    {"memory", 0, 0, G_OPTION_ARG_FILENAME, &memory,
     "Keep what outlives the power in this file (implies --chip)", "FILE"},
    {"cable", 0, 0, G_OPTION_ARG_STRING, &cable,
     "The computer's cable is in that half (implies --chip)", "HALF"},
    {"seed", 0, 0, G_OPTION_ARG_INT, &seed, "How the contacts bounce", "N"},
    G_OPTION_ENTRY_NULL};

static int run(int count, char **files)
{
    const struct outlets *outlets = &wishes.outlets;

    (void)count;
    if (fault != NULL && !find_fault(fault, &wishes.faults)) {
        return STATUS_NOT_DONE;
    }
    if (stays < 0) {
        complain("--stays is a number of milliseconds");
        return STATUS_NOT_DONE;
    }
    if (empty && outlets->serial == NULL && outlets->drive == NULL && outlets->usbip == NULL) {
        complain("an empty chip can only be flashed; name its --serial port, its --drive or a "
                 "--usbip port");
        return STATUS_NOT_DONE;
    }
    wishes.memory = memory;
    wishes.cable = cable;
    chip = chip || outlets->usbip != NULL || memory != NULL || cable != NULL;
    wishes.inside = empty   ? INSIDE_EMPTY
                    : probe ? INSIDE_PROBE
                    : chip  ? INSIDE_CHIP
                            : INSIDE_NATIVE;
    wishes.stays = (unsigned)stays;
    wishes.seed = (uint32_t)seed;
    return bench(files[0], &wishes);
}

const struct command command_bench = {
    "bench",
    "FILE",
    "Work a simulated keyboard: steps on standard input, what the host gets on output.",
    "echo 'tap a' | uvrek bench boards/subtitle-desk.uvk",
    options,
    1,
    run};
