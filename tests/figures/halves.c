/* halves.c - keyboards with a controller in each half: delays, sizes, and what a bad cable
 * does. */
#include "figures.h"

#include "uvrek/bench.h"
#include "uvrek/firmware.h"
#include "uvrek/half.h"
#include "uvrek/port_linux.h"
#include "uvrek/scan.h"

#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#define KEYS                                                                                   \
    " q w e r t y u i o p\n a s d f g h j k l semicolon\n z x c v b n m comma dot slash\n"     \
    " 1 2 3 4 5 6 7 8\n"

/* The wires of wherry38 on each chip, by each kind of cable. */
static const struct cable {
    const char *name, *chip, *link, *rows, *columns;
} cables[] = {
    {"ATmega32U4, two wires", "atmega32u4", "uart D3 D2", "B4 B5 B6 B7", "F4 F5 F6 F7 C6"},
    {"ATmega32U4, one wire", "atmega32u4", "wire D2", "B4 B5 B6 B7", "F4 F5 F6 F7 C6"},
    {"RP2040, two wires", "rp2040", "uart GP0 GP1", "GP2 GP3 GP4 GP5", "GP6 GP7 GP8 GP9 GP10"},
    {"RP2040, one wire", "rp2040", "wire GP0", "GP2 GP3 GP4 GP5", "GP6 GP7 GP8 GP9 GP10"},
};

static char *board_text(const struct cable *cable, const char *main_rule, const char *lights)
{
    return g_strdup_printf(
        "board split { title \"Split\"; chip %s\n usb { vendor 0x1209; product 9; maker \"S\" "
        "}\n"
        " halves left right { main %s; link %s }\n matrix { rows %s; cols %s; flow col->row; "
        "spare r3c4 }\n %s keys left { r0c0 r0c1 r0c2 r0c3 r0c4; r1c0 r1c1 r1c2 r1c3 r1c4\n"
        " r2c0 r2c1 r2c2 r2c3 r2c4; r3c0 r3c1 r3c2 r3c3 }\n keys right mirror left\n}\n",
        cable->chip, main_rule, cable->link, cable->rows, cable->columns, lights);
}

/* ---- delays ----------------------------------------------------------------------------- */

#define PRESSES 150u

static int by_size(const void *a, const void *b)
{
    double left = *(const double *)a;
    double right = *(const double *)b;

    return (left > right) - (left < right);
}

/* Milliseconds from a contact to the report, of KEY pressed at any moment. */
static void measure_delays(struct uvk_rig *rig, unsigned key, double delays[PRESSES])
{
    for (unsigned i = 0; i < PRESSES; i++) {
        uint64_t pressed;
        uint64_t when = 0;
        (void)uvk_rig_run(rig, 20000 + i * 37 % 1000, NULL);
        pressed = uvk_rig_now(rig);
        uvk_rig_press(rig, key, true);
        (void)uvk_rig_run(rig, 10000, NULL);
        (void)uvk_host_report_since(uvk_rig_host(rig), pressed, &when);
        delays[i] = (double)(when - pressed) / 1000;
        uvk_rig_press(rig, key, false);
    }
    qsort(delays, PRESSES, sizeof delays[0], by_size);
}

static void print_delays(const char *what, const double delays[PRESSES])
{
    printf("  %-12s %.3f  %.3f  %.3f\n", what, delays[0], delays[PRESSES / 2],
           delays[PRESSES - 1]);
}

static void measure_rig(const char *name, struct uvk_rig *rig)
{
    double near_half[PRESSES];
    double other_half[PRESSES];

    (void)uvk_rig_measure(rig, "forget");
    measure_delays(rig, 0, near_half);
    measure_delays(rig, 5, other_half);
    printf("%s, contact to report in ms (fastest, median, worst of %u)\n", name, PRESSES);
    print_delays("main half", near_half);
    print_delays("other half", other_half);
    row("the link adds, worst against worst", other_half[PRESSES - 1] - near_half[PRESSES - 1],
        "ms", 2, false);
    if (uvk_rig_measure(rig, "worst-cycles") > 0) {
        printf("%-52s %12lld idle, %lld worst\n", "scan pass of the main half",
               (long long)uvk_rig_measure(rig, "idle-cycles"),
               (long long)uvk_rig_measure(rig, "worst-cycles"));
    }
    if (uvk_rig_measure(rig, "blocked-cycles") > 0) {
        printf("%-52s %12.4g us\n", "longest time without interrupts",
               (double)uvk_rig_measure(rig, "blocked-cycles") / 16.0);
    }
}

static struct uvk_firmware *build(struct uvk_program *program, const char *cache)
{
    struct uvk_build_options options = {.cache = cache};
    GError *error = NULL;
    struct uvk_firmware *firmware = uvk_build_of_any_size(program, &options, &error);

    if (firmware == NULL) {
        fprintf(stderr, "%s\n", error->message);
        g_error_free(error);
    }
    return firmware;
}

static void measure_cable(const struct cable *cable, const char *cache)
{
    const struct uvk_rig_options options = {.seed = 1};
    char *board = board_text(cable, "usb", "");
    char *text = g_strconcat(board, "keymap plain {\n layer base {\n" KEYS " } }\n", NULL);
    struct uvk_program *program = read_program(text);
    struct uvk_firmware *firmware = build(program, cache);
    struct uvk_rig *rig = firmware != NULL
                              ? uvk_rig_chip(program, firmware->code, firmware->size,
                                             firmware->elf, &options, NULL)
                              : NULL;

    if (rig != NULL) {
        measure_rig(cable->name, rig);
    }
    uvk_rig_free(rig);
    uvk_firmware_free(firmware);
    uvk_program_free(program);
    g_free(text);
    g_free(board);
}

/* ---- sizes ------------------------------------------------------------------------------ */

#define RICH                                                                                   \
    "keymap rich {\n live { room 256 }\n feel calm { decide on-nested; rest 120ms; "           \
    "other-hand; again 90ms }\n"                                                               \
    " macro greet { type \"Good evening,\\n\"; wait 50ms; tap ctrl+s; on-release { tap esc } " \
    "}\n dance spin { tap -> 1; hold -> f1; tap tap -> f11; tap hold -> ctrl+1 }\n"            \
    " leader { left.r0c1 left.r0c2 -> greet; left.r0c2 -> n2 }\n long-press { digits }\n"      \
    " combo left.r2c0+left.r2c1 -> greet\n combo left.r2c2+left.r2c3 -> ctrl { until last-up " \
    "}\n layer base {\n q w/shift ~calm e r t y u i o p\n mute s d f greet spin leader k l "   \
    "semicolon\n"                                                                              \
    " z x once:alt toggle:n2 b n m click-left wheel-up slash\n 1 2 n1 n2 block:gui 6 "         \
    "point-up "                                                                                \
    "sleep\n }\n layer n1 {\n '?' ctrl+right-alt+x pace-slow block:caps-lock ctrl+click-left " \
    ". . . . .\n . . . . . . . . . .\n . . . . . . . . . .\n . . . . . %s %s "                 \
    "board:bootloader\n "                                                                      \
    "}\n layer n2 {\n . . . . . . . . . .\n . . . . . . . . . .\n . . . . . . . . . .\n"       \
    " . . . . . . . .\n }\n layer n3 when n1+n2 {\n . . . . . . . . . .\n . . . . . . . . . ." \
    "\n . . . . . . . . . .\n . . . . . . . board:reset\n }\n}\n"

/* Of 38 keys with link, journal, live door and every kind of cell: no lights, one kind of
 * them, the other kind. */
static const struct lit {
    const char *name, *board, *cells[2];
} lit[] = {
    {"", "", {".", "."}},
    {", backlight", "backlight B0 { levels 8 }\n", {"light:up", "light:next"}},
    {", strip of 38 lamps",
     "strip D4 { count 38; order grb; limit 300mA }\n",
     {"light:up", "light:next"}},
};

static void measure_size(const struct lit *with, const char *cache)
{
    char *board = board_text(&cables[1], "stored", with->board);
    char *keymap = g_strdup_printf(RICH, with->cells[0], with->cells[1]);
    char *text = g_strconcat(board, keymap, NULL);
    struct uvk_program *program = read_program(text);
    struct uvk_firmware *firmware = build(program, cache);

    printf("split, 38 keys, link, journal, live door, every kind of cell%s, ATmega32U4\n",
           with->name);
    if (firmware != NULL) {
        row("flash", (double)firmware->size, "bytes", 26.0 * 1024, false);
        row("RAM with stack", (double)(firmware->ram_used + firmware->stack), "bytes", 2304,
            false);
    }
    uvk_firmware_free(firmware);
    uvk_program_free(program);
    g_free(text);
    g_free(keymap);
    g_free(board);
}

/* ---- a bad cable ------------------------------------------------------------------------ */

#define EVENTS  1000000u
#define FINGERS 8u  /* keys of the other half that go up and down at once */
#define LEAST   30u /* milliseconds that a contact stays as it is, at the least */
#define LINES   32u

struct bad {
    struct uvk_engine engines[2];
    struct uvk_port ports[2];
    uint32_t contacts[2][LINES];
    unsigned loss; /* of a hundred frames */
    GRand *random;
    uint8_t inbox[2][UVK_FRAME_MAX];
    uint8_t count[2], taken[2];
    unsigned presses[FINGERS];
    bool down[FINGERS];
};

struct end {
    struct bad *bad;
    unsigned which;
};

static uvk_bits read_contacts(void *owner, uint8_t line)
{
    const struct end *end = owner;

    return end->bad->contacts[end->which][line];
}

/* A frame arrives whole, or with a bit that is wrong. */
static void send(void *link, const uint8_t *bytes, uint8_t size)
{
    const struct end *end = link;
    struct bad *bad = end->bad;
    unsigned to = 1 - end->which;

    memcpy(bad->inbox[to], bytes, size);
    bad->count[to] = size;
    bad->taken[to] = 0;
    if ((unsigned)g_rand_int_range(bad->random, 0, 100) < bad->loss) {
        bad->inbox[to][g_rand_int_range(bad->random, 0, size)] ^=
            (uint8_t)(1u << g_rand_int_range(bad->random, 0, 8));
    }
}

static bool take(void *link, uint8_t *byte)
{
    const struct end *end = link;
    struct bad *bad = end->bad;

    if (bad->taken[end->which] == bad->count[end->which]) {
        return false;
    }
    *byte = bad->inbox[end->which][bad->taken[end->which]++];
    return true;
}

/* The usages of the first cells of the right half: y, u, i ... */
static const uint8_t usages[FINGERS] = {0x1C, 0x18, 0x0C, 0x12, 0x13, 0x0B, 0x0D, 0x0E};

static void look_at_report(struct bad *bad)
{
    struct uvk_endpoint *endpoint = &bad->ports[0].endpoints[1];

    for (unsigned i = 0;
         endpoint->size > 0 && endpoint->report[0] == UVK_REPORT_KEYS && i < FINGERS; i++) {
        bool now = (endpoint->report[2 + usages[i] / 8] >> usages[i] % 8 & 1) != 0;
        bad->presses[i] += now && !bad->down[i];
        bad->down[i] = now;
    }
    endpoint->size = 0;
    bad->ports[0].endpoints[0].size = 0;
}

static void millisecond(struct bad *bad)
{
    look_at_report(bad);
    for (unsigned i = 0; i < 2; i++) {
        bad->ports[i].time_us += 1000;
        uvk_half_tick(&bad->engines[i], &bad->ports[i], bad->ports[i].time_us, i == 0);
        uvk_half_hear(&bad->engines[1 - i], &bad->ports[1 - i]);
    }
    uvk_half_hear(&bad->engines[0], &bad->ports[0]);
    uvk_engine_pass(&bad->engines[0], &bad->ports[0], bad->ports[0].time_us);
}

/* Where the fingers' keys are on the right half: line and sense. */
struct place {
    unsigned line, sense;
};

static void press_and_release(struct bad *bad, const struct place places[FINGERS])
{
    unsigned closings[FINGERS] = {0};
    uint64_t next[FINGERS];
    bool closed[FINGERS] = {false};
    unsigned events = 0;
    unsigned lost = 0;
    unsigned doubled = 0;
    unsigned stuck = 0;

    for (unsigned i = 0; i < FINGERS; i++) {
        next[i] = LEAST + 5u * i;
    }
    for (uint64_t ms = 0; events < EVENTS; ms++) {
        for (unsigned i = 0; i < FINGERS; i++) {
            if (ms >= next[i]) {
                bad->contacts[1][places[i].line] ^= 1u << places[i].sense;
                closed[i] = !closed[i];
                closings[i] += closed[i];
                next[i] = ms + LEAST + (unsigned)g_rand_int_range(bad->random, 0, 20);
                events++;
            }
        }
        millisecond(bad);
    }
    memset(bad->contacts, 0, sizeof bad->contacts);
    for (unsigned ms = 0; ms < 200; ms++) {
        millisecond(bad);
    }
    for (unsigned i = 0; i < FINGERS; i++) {
        lost += closings[i] > bad->presses[i] ? closings[i] - bad->presses[i] : 0;
        doubled += bad->presses[i] > closings[i] ? bad->presses[i] - closings[i] : 0;
        stuck += bad->down[i];
    }
    printf("  %2u %%   stuck %u   doubled %u   lost %u\n", bad->loss, stuck, doubled, lost);
}

static void start(struct bad *bad, struct end ends[2], const uint8_t *image, uint16_t size)
{
    for (unsigned i = 0; i < 2; i++) {
        const struct uvk_half_setup setup = {.second = i == 1, .answer_ms = 1};
        ends[i] = (struct end){bad, i};
        bad->ports[i] = (struct uvk_port){.read_line = read_contacts,
                                          .owner = &ends[i],
                                          .link_send = send,
                                          .link_take = take,
                                          .link = &ends[i],
                                          .configured = true};
        (void)uvk_engine_start(&bad->engines[i], sizeof bad->engines[i], image, size, 0);
        (void)uvk_half_start(&bad->engines[i], &setup);
    }
}

static void measure_loss(void)
{
    static const unsigned losses[] = {0, 1, 10, 30};
    struct uvk_program *program = read_program(
        "use \"boards/wherry38.uvk\"\nkeymap plain {\n layer base {\n" KEYS " } }\n");
    struct uvk_scan_plan scan = uvk_board_scan(program->board);
    static const unsigned keys[FINGERS] = {5, 6, 7, 8, 9, 15, 16, 17}; /* of the right half */
    struct place places[FINGERS];
    uint16_t size = 0;
    uint8_t *image = uvk_lower(program, &size);

    for (unsigned i = 0; i < FINGERS; i++) {
        uvk_scan_switch(&scan, program->board, keys[i], &places[i].line, &places[i].sense);
    }
    printf("the other half's keys, %u contacts that open and close, frames damaged\n", EVENTS);
    for (size_t i = 0; i < G_N_ELEMENTS(losses); i++) {
        struct bad *bad = g_new0(struct bad, 1);
        struct end ends[2];
        bad->loss = losses[i];
        bad->random = g_rand_new_with_seed(7);
        start(bad, ends, image, size);
        for (unsigned ms = 0; ms < 50; ms++) {
            millisecond(bad);
        }
        press_and_release(bad, places);
        g_rand_free(bad->random);
        g_free(bad);
    }
    g_free(image);
    uvk_program_free(program);
}

/* ---- all of it -------------------------------------------------------------------------- */

static void measure_in_simulator(void)
{
    const struct uvk_rig_options options = {.seed = 1};
    struct uvk_program *program = read_program(
        "use \"boards/wherry38.uvk\"\nkeymap plain {\n layer base {\n" KEYS " } }\n");
    uint16_t size = 0;
    uint8_t *image = uvk_lower(program, &size);
    struct uvk_rig *rig = uvk_rig_native(program, image, size, &options, NULL);

    measure_rig("wherry38 in the simulator", rig);
    uvk_rig_free(rig);
    g_free(image);
    uvk_program_free(program);
}

void measure_halves(const char *cache)
{
    for (size_t i = 0; i < G_N_ELEMENTS(lit); i++) {
        measure_size(&lit[i], cache);
    }
    measure_in_simulator();
    for (size_t i = 0; i < G_N_ELEMENTS(cables); i++) {
        measure_cable(&cables[i], cache);
    }
    measure_loss();
}
