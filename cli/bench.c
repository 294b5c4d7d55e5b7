/* bench.c - `uvrek bench`: a simulated keyboard that is worked by steps on standard input. */
#include "cli.h"
#include "received.h"

#include "uvrek/bench.h"
#include "uvrek/bootloader.h"
#include "uvrek/explain.h"
#include "uvrek/firmware.h"

#include <poll.h>
#include <stdio.h>
#include <string.h>
#include <unistd.h>

struct workbench {
    struct uvk_program *program;
    struct uvk_rig_options options;
    uint8_t *image;
    struct uvk_firmware *firmware;
    struct uvk_rig *rig; /* NULL while the chip is in its bootloader */
    struct uvk_terminal *terminal;
    struct uvk_bootloader bootloader;
    struct uvk_drive *drive;
    guint seen;        /* what the host has noticed and print_received has told */
    unsigned restarts; /* of the rig, that have been told */
    GString *text;     /* all that the host has received */
    unsigned failed;
    bool prompts;
};

static void print_end(const struct workbench *workbench)
{
    char *escaped = uvk_string_text(workbench->text->str);

    printf("the host received %s\n", escaped);
    g_free(escaped);
}

/* ---- steps ------------------------------------------------------------------------ */

static bool is_expectation(const struct uvk_step *step)
{
    return step->kind >= UVK_STEP_EXPECT_TEXT;
}

/* A finger's step is followed by the time that it takes to reach the host. */
#define REACH_US 15000u

static bool do_step(struct workbench *workbench, const struct uvk_step *step, GError **error)
{
    struct uvk_outcome outcome = {.play = NULL};
    int result = uvk_step_run(workbench->program, workbench->rig, step, &outcome, error);

    if (result == 0) {
        workbench->failed++;
        printf("failed: expected %s, got %s\n", outcome.expected, outcome.got);
    } else if (result == 1 && is_expectation(step)) {
        puts("passed");
    }
    if (result == 1 && (step->kind == UVK_STEP_DOWN || step->kind == UVK_STEP_UP) &&
        !uvk_rig_run(workbench->rig, REACH_US, error)) {
        result = -1;
    }
    uvk_outcome_clear(&outcome);
    return result >= 0;
}

/* What can be typed, with what it means. */
static void print_steps(void)
{
    size_t count;
    const struct uvk_word *words = uvk_words(&count);

    for (size_t i = 0; i < count; i++) {
        if (strcmp(words[i].where, "in a play") == 0) {
            puts(words[i].what);
        }
    }
}

/* What board: cells do is seen by nothing that the host receives. */
static void tell_restarts(struct workbench *workbench)
{
    unsigned restarts = uvk_rig_restarts(workbench->rig);

    if (restarts > workbench->restarts) {
        puts("the keyboard has restarted");
    }
    workbench->restarts = restarts;
}

/* A line of standard input. False: the chip has stopped. */
static bool do_line(struct workbench *workbench, const char *line, GError **error)
{
    struct uvk_messages messages;
    const struct uvk_step *step;
    bool going = true;

    if (strncmp(line, "help", 4) == 0 && line[4 + strspn(line + 4, " \n")] == '\0') {
        print_steps();
        return true;
    }
    uvk_messages_init(&messages);
    step = uvk_step_read(workbench->program, line, &messages);
    if (messages.errors > 0) {
        print_messages(&messages);
        workbench->failed++;
    } else if (step != NULL) {
        going = do_step(workbench, step, error);
        if (going && !is_expectation(step)) {
            print_received(workbench->rig, &workbench->seen, workbench->text);
            tell_restarts(workbench);
        }
    }
    uvk_messages_clear(&messages);
    return going;
}

/* ---- chip and bootloader ---------------------------------------------------------- */

#define LOOK_US 5000u /* between two looks into the drive */

/* Stay in the bootloader until it has been given a file; what is in flash then. NULL: *ERROR.
 */
static const uint8_t *serve_drive(struct workbench *workbench, GError **error)
{
    if (!uvk_drive_show(workbench->drive, error)) {
        return NULL;
    }
    puts("the chip is in its bootloader, its drive is there");
    (void)fflush(stdout);
    while (!uvk_drive_left(workbench->drive)) {
        g_usleep(LOOK_US);
        uvk_drive_serve(workbench->drive);
    }
    return uvk_drive_flash(workbench->drive);
}

/* The same, until it is told to start the firmware. */
static const uint8_t *serve_port(struct workbench *workbench)
{
    workbench->bootloader.left = false;
    puts("the chip is in its bootloader, its serial port is there");
    (void)fflush(stdout);
    while (!workbench->bootloader.left) {
        struct pollfd ready = {uvk_terminal_file(workbench->terminal), POLLIN, 0};
        if (poll(&ready, 1, -1) > 0) {
            uvk_terminal_serve(workbench->terminal, &workbench->bootloader);
        }
    }
    return workbench->bootloader.flash;
}

static bool serve_bootloader(struct workbench *workbench, GError **error)
{
    const struct uvk_chip *chip = workbench->program->board->chip;
    const uint8_t *flash =
        workbench->drive != NULL ? serve_drive(workbench, error) : serve_port(workbench);

    if (flash == NULL) {
        return false;
    }
    workbench->rig = uvk_rig_chip(workbench->program, flash, chip->flash - chip->bootloader,
                                  NULL, &workbench->options, error);
    if (workbench->rig != NULL) {
        puts("the chip has started what was flashed, and the host knows it");
        (void)fflush(stdout);
    }
    return workbench->rig != NULL;
}

/* The keyboard went to its bootloader: serve it if there is a port, else that is the end. */
static bool bootloader_entered(struct workbench *workbench, GError **error)
{
    puts("the keyboard has gone to its bootloader");
    if (workbench->terminal == NULL && workbench->drive == NULL) {
        g_set_error_literal(
            error, UVK_PROBLEM, UVK_NOT_DONE,
            "nothing runs any more; with --serial PATH or --drive PATH it can be flashed");
        return false;
    }
    g_clear_pointer(&workbench->rig, uvk_rig_free);
    workbench->seen = 0; /* the host meets a new keyboard */
    return serve_bootloader(workbench, error);
}

static bool work(struct workbench *workbench, GError **error)
{
    char *line = NULL;
    size_t room = 0;
    bool going = true;

    while (going) {
        if (workbench->prompts) {
            fputs("step> ", stdout);
        }
        (void)fflush(stdout);
        if (getline(&line, &room, stdin) < 0) {
            break;
        }
        going = do_line(workbench, line, error);
        if (going && uvk_rig_in_bootloader(workbench->rig)) {
            going = bootloader_entered(workbench, error);
        }
    }
    g_free(line);
    return going;
}

/* ---- starting --------------------------------------------------------------------- */

/* Faults of the bootloader, to order. */
struct faults {
    struct uvk_bootloader_faults port;
    struct uvk_drive_faults drive;
};

static const struct {
    const char *name;
    struct faults faults;
} known_faults[] = {
    {"other-chip", {{.other_chip = true}, {.other_chip = true}}},
    {"refused-write", {{.refuses_writes = true}, {.full = true}}},
    {"lost-bit", {{.forgets_a_bit = true}, {.damages = true}}},
    {"silence", {{.silent_after = 1000}, {.deaf = true}}},
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

enum inside { INSIDE_NATIVE, INSIDE_CHIP, INSIDE_EMPTY };

static bool begin_chip(struct workbench *workbench, GError **error)
{
    struct uvk_build_options options = {.folder = NULL};

    workbench->firmware = uvk_build(workbench->program, &options, error);
    if (workbench->firmware == NULL) {
        return false;
    }
    if (workbench->drive == NULL) {
        memcpy(workbench->bootloader.flash, workbench->firmware->code,
               workbench->firmware->size);
    }
    workbench->rig =
        uvk_rig_chip(workbench->program, workbench->firmware->code, workbench->firmware->size,
                     workbench->firmware->elf, &workbench->options, error);
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

/* Where the bootloader is reached; NULL: nowhere. */
struct roads {
    char *serial, *drive;
};

/* A board's bootloader is of one kind; the other one is not to be had. */
static bool has_roads(const struct workbench *workbench, const struct roads *roads)
{
    const struct uvk_board *board = workbench->program->board;
    bool drive = strcmp(board->boot, "uf2") == 0;
    const char *wrong = roads->drive != NULL && !drive   ? "--drive"
                        : roads->serial != NULL && drive ? "--serial"
                                                         : NULL;

    if (wrong != NULL) {
        complain("%s has a %s bootloader: %s is for others", board->name, board->boot, wrong);
    }
    return wrong == NULL;
}

static bool begin(struct workbench *workbench, enum inside inside, const struct roads *roads,
                  const struct faults *faults, GError **error)
{
    const struct uvk_chip *on_board = workbench->program->board->chip;

    uvk_bootloader_init(&workbench->bootloader, on_board);
    workbench->bootloader.faults = faults->port;
    if (roads->drive != NULL) {
        workbench->drive = uvk_drive_new(roads->drive, on_board, &faults->drive);
    }
    if (roads->serial != NULL) {
        workbench->terminal = uvk_terminal_new(roads->serial, error);
        if (workbench->terminal == NULL) {
            return false;
        }
    }
    switch (inside) {
    case INSIDE_EMPTY:
        return serve_bootloader(workbench, error);
    case INSIDE_CHIP:
        return begin_chip(workbench, error);
    default:
        return begin_native(workbench, error);
    }
}

static void clear(struct workbench *workbench)
{
    uvk_rig_free(workbench->rig);
    uvk_terminal_free(workbench->terminal);
    uvk_drive_free(workbench->drive);
    uvk_bootloader_clear(&workbench->bootloader);
    uvk_firmware_free(workbench->firmware);
    g_free(workbench->image);
    g_string_free(workbench->text, TRUE);
    uvk_program_free(workbench->program);
}

static int bench(const char *path, enum inside inside, const struct roads *roads, uint32_t seed,
                 const struct faults *faults)
{
    struct workbench workbench = {.options = {.seed = seed, .bounce = UVK_BOUNCE_DEFAULT},
                                  .prompts = isatty(STDIN_FILENO) && isatty(STDOUT_FILENO)};
    GError *error = NULL;
    int status;

    workbench.program = load_program(path, true, &status);
    if (workbench.program == NULL) {
        return status;
    }
    workbench.text = g_string_new(NULL);
    if (!has_roads(&workbench, roads)) {
        status = STATUS_NOT_DONE;
    } else if (!begin(&workbench, inside, roads, faults, &error) || !work(&workbench, &error)) {
        status = print_problem(error);
    } else {
        print_end(&workbench);
        status = workbench.failed > 0 ? STATUS_NOT_WELL : STATUS_WELL;
    }
    clear(&workbench);
    return status;
}

static gboolean chip, empty;
static struct roads roads;
static gchar *fault;
static gint seed = 1;

static const GOptionEntry options[] = {
    {"chip", 0, 0, G_OPTION_ARG_NONE, &chip, "Run the machine code on a simulated chip", NULL},
    {"empty", 0, 0, G_OPTION_ARG_NONE, &empty,
     "Start with an empty chip, waiting in its bootloader (needs --serial or --drive)", NULL},
    {"serial", 0, 0, G_OPTION_ARG_FILENAME, &roads.serial,
     "Make the bootloader's serial port there", "PATH"},
    {"drive", 0, 0, G_OPTION_ARG_FILENAME, &roads.drive,
     "Make the folder of the bootloader's drive there", "PATH"},
    {"fault", 0, 0, G_OPTION_ARG_STRING, &fault,
     "A fault of the bootloader: other-chip, refused-write, lost-bit or silence", "NAME"},
    {"seed", 0, 0, G_OPTION_ARG_INT, &seed, "How the contacts bounce", "N"},
    G_OPTION_ENTRY_NULL};

static int run(int count, char **files)
{
    struct faults faults = {.port = {.silent_after = 0}};

    (void)count;
    if (fault != NULL && !find_fault(fault, &faults)) {
        return STATUS_NOT_DONE;
    }
    if (empty && roads.serial == NULL && roads.drive == NULL) {
        complain("an empty chip can only be flashed; name its --serial port or its --drive");
        return STATUS_NOT_DONE;
    }
    return bench(files[0], empty ? INSIDE_EMPTY : (chip ? INSIDE_CHIP : INSIDE_NATIVE), &roads,
                 (uint32_t)seed, &faults);
}

const struct command command_bench = {
    "bench",
    "FILE",
    "Work a simulated keyboard: steps on standard input, what the host gets on output.",
    "echo 'tap a' | uvrek bench boards/subtitle-desk.uvk",
    options,
    1,
    run};
