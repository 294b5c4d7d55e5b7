/* figures.c - the figures of DESIGN's budgets, measured, beside the budgets.
 *
 *   make bench
 */
#include "figures.h"

#include "uvrek/bench.h"
#include "uvrek/bootloader.h"
#include "uvrek/firmware.h"
#include "uvrek/flash.h"
#include "uvrek/port_linux.h"

#include <fcntl.h>
#include <glib/gstdio.h>
#include <poll.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/resource.h>
#include <sys/wait.h>
#include <unistd.h>

static double now(void)
{
    return (double)g_get_monotonic_time() / G_USEC_PER_SEC;
}

/* Only a line whose budget is a number can be over it. */
void row(const char *what, double value, const char *unit, double budget, bool at_least)
{
    bool good = at_least ? value >= budget : value <= budget;

    printf("%-52s %12.7g %-8s %s %-8.7g %s\n", what, value, unit,
           at_least ? "at least" : "at most ", budget, good ? "" : "OVER BUDGET");
}

/* ---- a board of 64 keys ------------------------------------------------------------------ */

static const char *const cells[] = {"a",         "b",
                                    "c",         "d",
                                    "ctrl+c",    "'?'",
                                    "volume-up", "mute",
                                    ".",         "esc",
                                    "shift",     "f12",
                                    "gui+l",     "wheel-up",
                                    "--",        "ctrl+right-alt+x",
                                    "f/shift",   "j/ctrl ~calm",
                                    "once:alt",  "toggle:shift",
                                    "block:gui", "once:n2",
                                    "spin",      "leader",
                                    "point-up",  "point-right",
                                    "pace-slow", "block:caps-lock",
                                    "greet"};

/* A chip, the pins of eight rows, eight columns and a knob; budgets of a scan pass, which are
 * counted in UNIT. */
struct target {
    const char *chip, *rows, *columns, *knob, *unit;
    double idle, worst;
};
static const struct target avr = {
    "atmega32u4", "B0 B1 B2 B3 B4 B5 B6 B7", "F0 F1 F4 F5 F6 F7 D4 D6", "D0 D1", "cycles", 1800,
    12000};
static const struct target arm = {"rp2040",
                                  "GP0 GP1 GP2 GP3 GP4 GP5 GP6 GP7",
                                  "GP8 GP9 GP10 GP11 GP12 GP13 GP14 GP15",
                                  "GP20 GP21",
                                  "instr.",
                                  4000,
                                  16000};

/* 8 x 8 keys and LAYERS layers with every kind of cell there is. */
static char *large_text(const struct target *target, unsigned layers)
{
    GString *text = g_string_new(NULL);

    g_string_append_printf(
        text,
        "board big { title \"Figures\"; chip %s\n matrix { rows %s; cols %s; "
        "flow col->row }\n knob jog { pins %s }\n keys {\n",
        target->chip, target->rows, target->columns, target->knob);

    for (int key = 0; key < 64; key++) {
        g_string_append_printf(text, " r%dc%d%s", key / 8, key % 8,
                               key == 63      ? "=jog\n"
                               : key % 8 == 7 ? "\n"
                                              : "");
    }
    g_string_append(text,
                    "} }\nkeymap k {\n feel calm { decide on-nested; rest 120ms }\n"
                    " macro greet { type \"Good evening,\\n\"; wait 50ms; tap ctrl+s; "
                    "on-release { tap esc } }\n"
                    " dance spin { tap -> 1; hold -> f1; tap tap -> f11; tap hold -> ctrl+1 }\n"
                    " leader { r0c1 r0c2 -> greet; r0c2 -> n2; r0c3 r0c4 r0c5 -> spin }\n"
                    " long-press { digits symbols }\n"
                    " combo r7c0+r7c1 -> greet\n combo r7c2+r7c3+r7c4 -> n2/tab\n"
                    " combo r7c5+r7c6 -> ctrl { until last-up }\n");
    for (unsigned layer = 0; layer < layers; layer++) {
        g_string_append_printf(text, "layer n%u%s {\n", layer, layer == 7 ? " when n1+n2" : "");
        for (unsigned key = 0; key < 64; key++) {
            if (key < 8 && layer == 0) {
                g_string_append_printf(text, " n%u", key + 1 < layers ? key + 1 : 1);
            } else if (key == 62 && layer == 1) {
                g_string_append(text, " board:bootloader");
            } else if (key == 63 && layer == 1) {
                g_string_append(text, " sleep");
            } else {
                g_string_append_printf(text, " %s",
                                       cells[(key + layer * 5) % G_N_ELEMENTS(cells)]);
            }
            g_string_append(text, key % 8 == 7 ? "\n" : "");
        }
        g_string_append_printf(text, " knob jog wheel-up %s\n}\n", layer == 0 ? "spin" : ".");
    }
    g_string_append(text, "}\n");
    return g_string_free(text, FALSE);
}

struct uvk_program *read_program(const char *text)
{
    struct uvk_program *program = uvk_program_read("figures.uvk", text, strlen(text));

    for (guint i = 0; i < program->messages.list->len; i++) {
        const struct uvk_message *message = g_ptr_array_index(program->messages.list, i);
        char *shown = uvk_message_render(message, false);
        if (message->severity == UVK_ERROR) {
            fputs(shown, stderr);
        }
        g_free(shown);
    }
    return program;
}

/* ---- building --------------------------------------------------------------------------- */

static struct uvk_firmware *build(struct uvk_program *program, const char *cache,
                                  double *seconds)
{
    struct uvk_build_options options = {.cache = cache};
    GError *error = NULL;
    double start = now();
    struct uvk_firmware *firmware = uvk_build(program, &options, &error);

    *seconds = now() - start;
    if (firmware == NULL) {
        fprintf(stderr, "%s\n", error->message);
        g_error_free(error);
    }
    return firmware;
}

/* ---- on the chip
 * ------------------------------------------------------------------------------ */

/* Quiet for a second, then fingers on many keys at once. */
static void measure_chip(const struct uvk_program *program, const struct uvk_firmware *firmware,
                         const struct target *target)
{
    struct uvk_rig_options options = {.seed = 1, .bounce = UVK_BOUNCE_DEFAULT};
    GError *error = NULL;
    struct uvk_rig *rig =
        uvk_rig_chip(program, firmware->code, firmware->size, firmware->elf, &options, &error);
    GRand *random;
    unsigned keys = program->board->key_count;
    bool *down;
    int64_t idle;

    if (rig == NULL) {
        fprintf(stderr, "%s\n", error->message);
        g_error_free(error);
        return;
    }
    random = g_rand_new_with_seed(1);
    down = g_new0(bool, keys);
    (void)uvk_rig_measure(rig, "forget");
    (void)uvk_rig_run(rig, 1000000, NULL);
    idle = uvk_rig_measure(rig, "worst-cycles");
    for (int event = 0; event < 4000; event++) {
        unsigned key = (unsigned)g_rand_int_range(random, 0, (gint)keys);
        if (program->keymap->layers[0].cells[key].kind == UVK_VALUE_BOARD) {
            continue;
        }
        if (program->board->knob_count > 0 && event % 16 == 0) {
            (void)uvk_rig_turn(rig, 0, event % 32 == 0 ? 1 : -2);
        }
        down[key] = !down[key];
        uvk_rig_press(rig, key, down[key]);
        (void)uvk_rig_run(rig, (uint64_t)g_rand_int_range(random, 0, 8) * 1000u, NULL);
        if (uvk_rig_in_bootloader(rig)) {
            break;
        }
    }
    row("  scan pass, idle", (double)idle, target->unit, target->idle, false);
    row("  scan pass, worst", (double)uvk_rig_measure(rig, "worst-cycles"), target->unit,
        target->worst, false);
    row("  stack used", (double)uvk_rig_measure(rig, "stack-bytes"), "bytes",
        (double)firmware->stack, false);
    uvk_rig_free(rig);
    g_free(down);
    g_rand_free(random);
}

static void measure_firmware(struct uvk_program *program, const struct target *target,
                             const char *cache, double flash_budget, double ram_budget)
{
    double seconds;
    struct uvk_firmware *firmware = build(program, cache, &seconds);

    if (firmware == NULL) {
        return;
    }
    row("  flash", (double)firmware->size, "bytes", flash_budget, false);
    row("  RAM with stack", (double)(firmware->ram_used + firmware->stack), "bytes", ram_budget,
        false);
    measure_chip(program, firmware, target);
    uvk_firmware_free(firmware);
}

/* ---- on the desk
 * ------------------------------------------------------------------------------- */

static uint32_t contacts[8];

static uvk_bits read_line(void *owner, uint8_t line)
{
    (void)owner;
    return contacts[line];
}

/* A key event in every pass, as fast typing is but for the pace. */
static void measure_events(struct uvk_program *program)
{
    static struct uvk_engine engine;
    const unsigned events = 2000000;
    struct uvk_port port = {.read_line = read_line, .configured = true};
    uint16_t size;
    uint8_t *image = uvk_lower(program, &size);
    double start = now();

    if (image == NULL || uvk_engine_start(&engine, sizeof engine, image, size, 0) != UVK_OK) {
        return;
    }
    for (unsigned event = 0; event < events; event++) {
        /* rolling over the keys, three fingers down: press one, let the one before last go */
        unsigned key = 8 + (event / 2 + (event % 2 == 0 ? 2 : 0)) % 48;
        contacts[key / 8] ^= 1u << key % 8;
        port.time_us += 10000; /* longer than the debounce time: a release counts at once */
        uvk_engine_pass(&engine, &port, port.time_us);
        port.endpoints[0].size = 0;
        port.endpoints[1].size = 0;
    }
    row("engine on the desk", events / (now() - start), "events/s", 6e6, true);
    g_free(image);
}

static void measure_check(void)
{
    char *text = large_text(&avr, 16);
    const int rounds = 200;
    double start = now();

    for (int round = 0; round < rounds; round++) {
        struct uvk_program *program = uvk_program_read("x.uvk", text, strlen(text));
        uint16_t size;
        g_free(uvk_lower(program, &size));
        uvk_program_free(program);
    }
    row("check and lower, 64 keys, 16 layers", (now() - start) / rounds * 1000, "ms", 2, false);
    g_free(text);
}

static void measure_rebuild(const char *cache)
{
    struct uvk_program *one =
        read_program("use \"boards/tidepad12.uvk\"\nkeymap k { layer one { a b "
                     "c d e f g h i j k l } }\n");
    struct uvk_program *two =
        read_program("use \"boards/tidepad12.uvk\"\nkeymap k { layer one { a b "
                     "c d e f g h i j k m } }\n");
    double first;
    double changed;
    double same;

    uvk_firmware_free(build(one, cache, &first));
    uvk_firmware_free(build(two, cache, &changed));
    uvk_firmware_free(build(two, cache, &same));
    row("first build, nothing kept", first, "s", 30, false);
    row("rebuild after a keymap change", changed, "s", 0.2, false);
    row("rebuild with no change", same, "s", 0.05, false);
    uvk_program_free(one);
    uvk_program_free(two);
}

/* ---- large texts ------------------------------------------------------------------------ */

/* A text of 5,000 lines: 200 layers of 64 keys, and plays. */
static char *long_text(void)
{
    char *keymap = large_text(&avr, 200);
    GString *text = g_string_new(keymap);
    unsigned lines = 0;

    for (const char *at = keymap; *at != '\0'; at++) {
        lines += *at == '\n';
    }
    for (; lines < 5000; lines++) {
        g_string_append_printf(text, "play \"line %u\" { tap r1c0; settle; expect keys a }\n",
                               lines + 1);
    }
    g_free(keymap);
    return g_string_free(text, FALSE);
}

/* The most memory that `uvrek check` of TEXT has at once, in MiB; -1: it cannot be run. */
static double memory_of(const char *text, const char *folder)
{
    char *path = g_build_filename(folder, "text.uvk", NULL);
    struct rusage usage = {.ru_maxrss = -1024};
    int status = -1;
    pid_t child = g_file_set_contents(path, text, -1, NULL) ? fork() : -1;

    if (child == 0) {
        int nothing = open("/dev/null", O_WRONLY);
        (void)dup2(nothing, STDOUT_FILENO);
        (void)dup2(nothing, STDERR_FILENO);
        (void)execl("build/uvrek", "uvrek", "check", path, (char *)NULL);
        _exit(2);
    }
    if (child > 0 && (wait4(child, &status, 0, &usage) < 0 || WEXITSTATUS(status) == 2)) {
        usage.ru_maxrss = -1024;
    }
    (void)g_unlink(path);
    g_free(path);
    return (double)usage.ru_maxrss / 1024;
}

static void measure_large(const char *folder)
{
    char *text = long_text();
    char *big = large_text(&avr, 16);
    double start = now();
    struct uvk_program *program = read_program(text);
    double read = now() - start;
    uint16_t size = 0;

    g_free(uvk_lower(program, &size));
    printf("%-52s %12.4g ms       (and lower: %.4g ms, %u bytes as an image)\n",
           "check a file of 5,000 lines, 200 layers", 1000 * read, 1000 * (now() - start),
           size);
    printf("%-52s %12.3g MiB\n", "memory of check, 5,000 lines", memory_of(text, folder));
    printf("%-52s %12.3g MiB\n", "memory of check, 64 keys, 16 layers", memory_of(big, folder));
    measure_editor("64 keys", big);
    measure_editor("5,000 lines", text);
    uvk_program_free(program);
    g_free(text);
    g_free(big);
}

/* ---- impatient bootloaders -------------------------------------------------------------- */

#define TRIES    20u
#define UNTIL_US 200000
#define STAYS_MS 750

struct appearing {
    struct uvk_terminal *terminal;
    double heard_ms; /* from its appearing to the first byte; STAYS_MS: none came */
};

/* A port that appears after a while, and waits for the first byte. */
static gpointer appear(gpointer data)
{
    struct appearing *appearing = data;
    struct pollfd ready;
    double since;

    g_usleep(UNTIL_US);
    (void)uvk_terminal_show(appearing->terminal, NULL);
    since = now();
    ready = (struct pollfd){uvk_terminal_file(appearing->terminal), POLLIN, 0};
    appearing->heard_ms = poll(&ready, 1, STAYS_MS) > 0 ? (now() - since) * 1000 : STAYS_MS;
    uvk_terminal_hide(appearing->terminal);
    return NULL;
}

static void measure_first_byte(const char *folder)
{
    char *port = g_build_filename(folder, "port", NULL);
    const struct uvk_flash_options options = {.port = port, .patience = 5};
    struct appearing appearing = {uvk_terminal_new(port, NULL), 0};
    const uint8_t code[2] = {0, 0};
    double worst = 0;

    uvk_terminal_hide(appearing.terminal);
    for (unsigned i = 0; i < TRIES; i++) {
        GThread *thread = g_thread_new("port", appear, &appearing);
        (void)uvk_flash(uvk_chip_named("atmega32u4"), "serial", code, sizeof code, &options,
                        NULL);
        g_thread_join(thread);
        worst = MAX(worst, appearing.heard_ms);
    }
    row("serial port appears to first byte, worst of 20", worst, "ms", 50, false);
    uvk_terminal_free(appearing.terminal);
    g_free(port);
}

int main(void)
{
    char *cache;
    struct uvk_program *small =
        read_program("use \"boards/tidepad12.uvk\"\nkeymap plain {\n"
                     " layer base { a b c d e f g h num i j volume-up }\n"
                     " layer num { 1 2 3 4 5 6 7 8 . '?' ctrl+z mute } }\n");
    char *text = large_text(&avr, 8);
    struct uvk_program *large = read_program(text);
    char *other_text = large_text(&arm, 8);
    struct uvk_program *other = read_program(other_text);

    if (small->messages.errors > 0 || large->messages.errors > 0 ||
        other->messages.errors > 0) {
        return 1;
    }
    cache = g_dir_make_tmp("uvrek-figures-XXXXXX", NULL);
    printf("tidepad12, 12 keys, 2 plain layers, ATmega32U4\n");
    measure_firmware(small, &avr, cache, 6.25 * 1024, 0.55 * 1024);
    printf("64 keys, 8 layers, every kind of cell, combos, ATmega32U4\n");
    measure_firmware(large, &avr, cache, 16 * 1024, 1.1 * 1024);
    printf("the same keymap, RP2040\n");
    measure_firmware(other, &arm, cache, 2048 * 1024, 264 * 1024);
    measure_events(large);
    measure_check();
    measure_large(cache);
    measure_rebuild(cache);
    measure_first_byte(cache);
    measure_halves(cache);
    measure_live(cache);
    measure_lights(cache);
    uvk_program_free(small);
    uvk_program_free(large);
    uvk_program_free(other);
    g_free(text);
    g_free(other_text);
    g_free(cache);
    return 0;
}
