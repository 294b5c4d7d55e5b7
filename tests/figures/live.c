/* live.c - the live door of both chips: how fast it answers, what a change takes, what passes
 * cost while it is open. */
#include "figures.h"

#include "uvrek/bench.h"
#include "uvrek/door.h"
#include "uvrek/firmware.h"
#include "uvrek/fit.h"
#include "uvrek/usb.h"

#include <stdio.h>
#include <stdlib.h>
#include <string.h>

static const struct chip {
    const char *name, *board;
} chips[] = {
    {"ATmega32U4", "board nine {\n chip atmega32u4\n usb { vendor 0x1209; product 9; maker "
                   "\"S\" }\n matrix { rows "
                   "B1 B3 B2; cols F4 F5 F6; flow row->col }\n"},
    {"RP2040", "board nine {\n chip rp2040\n usb { vendor 0x1209; product 9; maker \"S\" }\n "
               "matrix { rows GP2 "
               "GP3 GP4; cols GP5 GP6 GP7; flow row->col }\n"},
};

#define KEYS " keys { r0c0 r0c1 r0c2; r1c0 r1c1 r1c2; r2c0 r2c1 r2c2 }\n}\n"
#define KEYMAP                                                                                 \
    "keymap k {\n host linux us\n live { room 256 }\n layer base { %s b c; d e f; g h i "      \
    "}\n}\n"

struct talking {
    struct uvk_rig *rig;
    uint8_t number;
    uint8_t answer[64];
};

static void stop(const char *why)
{
    fprintf(stderr, "the live door: %s\n", why);
    exit(1);
}

static void run(struct talking *talking, unsigned us)
{
    if (!uvk_rig_run(talking->rig, us, NULL)) {
        stop("the chip has stopped");
    }
}

/* The answer's content is behind its first two bytes. */
static void ask(struct talking *talking, enum uvk_door_request code, const uint8_t *content,
                size_t size)
{
    uint8_t packet[64] = {0};
    size_t length;

    packet[0] = ++talking->number;
    packet[1] = (uint8_t)code;
    if (size > 0) {
        memcpy(packet + 2, content, size);
    }
    while (uvk_rig_give(talking->rig, UVK_LIVE_OUT, packet, UVK_DOOR_BYTES) !=
           UVK_TRANSFER_DONE) {
        run(talking, 100);
    }
    for (unsigned waited = 0; waited < 10000; waited++) {
        run(talking, 100);
        while (uvk_rig_take_report(talking->rig, UVK_LIVE_IN, talking->answer, &length)) {
            if (talking->answer[0] == talking->number) {
                return;
            }
        }
    }
    stop("it does not answer");
}

static void open_door(struct talking *talking)
{
    ask(talking, UVK_DOOR_OPEN, NULL, 0);
    run(talking, 20000);
    ask(talking, UVK_DOOR_ASKED, NULL, 0);
    for (unsigned i = 0; i < UVK_DOOR_KEYS; i++) {
        uint8_t key = talking->answer[2 + 3 + i];
        uvk_rig_press(talking->rig, key, true);
        run(talking, 30000);
        uvk_rig_press(talking->rig, key, false);
        run(talking, 60000);
    }
    ask(talking, UVK_DOOR_ASKED, NULL, 0);
    if (talking->answer[2] != UVK_DOOR_IS_OPEN) {
        stop("it stays closed");
    }
}

static struct uvk_program *program_of(const struct chip *chip, const char *cell)
{
    char *keymap = g_strdup_printf(KEYMAP, cell);
    char *text = g_strconcat(chip->board, KEYS, keymap, NULL);
    struct uvk_program *program = read_program(text);

    g_free(text);
    g_free(keymap);
    return program;
}

static void open_image(struct uvk_program *program, uint8_t **bytes, struct uvk_image *image)
{
    uint16_t size;

    *bytes = uvk_lower(program, &size);
    if (uvk_image_open(image, *bytes, size) != UVK_OK) {
        stop("there is no image");
    }
}

/* Milliseconds from the first request until another cell is in force. */
static double change_cell(struct talking *talking, const struct chip *chip,
                          const struct uvk_image *built)
{
    static struct uvk_changes changes;
    struct uvk_program *other = program_of(chip, "q");
    struct uvk_image wanted;
    uint8_t *bytes;
    uint8_t content[UVK_DOOR_CONTENT] = {0};
    uint64_t start = uvk_rig_now(talking->rig);
    unsigned needed;

    open_image(other, &bytes, &wanted);
    if (uvk_image_fit(built, &wanted, &changes, &needed) != UVK_FITS) {
        stop("a cell does not fit");
    }
    content[2] = (uint8_t)uvk_changes_used(&changes);
    memcpy(content + 3, changes.room, content[2]);
    ask(talking, UVK_DOOR_WRITE, content, 3u + content[2]);
    ask(talking, UVK_DOOR_TAKE, (const uint8_t *)&changes.base, UVK_CHANGES_HEAD - 4);
    do {
        ask(talking, UVK_DOOR_STAGED, NULL, 0);
    } while (talking->answer[2] == UVK_STAGED_CHECKING ||
             talking->answer[2] == UVK_STAGED_WAITING);
    if (talking->answer[2] != UVK_STAGED_TAKEN) {
        stop("a cell is refused");
    }
    g_free(bytes);
    uvk_program_free(other);
    return (double)(uvk_rig_now(talking->rig) - start) / 1000;
}

/* Milliseconds, the longest of many. */
static double round_trip(struct talking *talking)
{
    uint64_t most = 0;

    for (unsigned i = 0; i < 100; i++) {
        uint64_t start;
        run(talking, 1000 + i * 37 % 1000);
        start = uvk_rig_now(talking->rig);
        ask(talking, UVK_DOOR_WHO, NULL, 0);
        most = MAX(most, uvk_rig_now(talking->rig) - start);
    }
    return (double)most / 1000;
}

/* All events are told, and fingers are busy. */
static void watch_passes(struct talking *talking, const struct chip *chip)
{
    const uint8_t mask = 0xFE;
    const char *unit = strcmp(chip->name, "RP2040") == 0 ? "instructions" : "cycles";
    bool arm = strcmp(chip->name, "RP2040") == 0;
    char *name;

    ask(talking, UVK_DOOR_WATCH, &mask, 1);
    (void)uvk_rig_measure(talking->rig, "forget");
    for (unsigned i = 0; i < 40; i++) {
        uvk_rig_press(talking->rig, i % 9, i / 9 % 2 == 0);
        run(talking, 7000);
    }
    name = g_strdup_printf("%s, 9 keys, door open, idle pass", chip->name);
    row(name, (double)uvk_rig_measure(talking->rig, "idle-cycles"), unit, arm ? 4000 : 1800,
        false);
    g_free(name);
    name = g_strdup_printf("%s, 9 keys, all of it watched, worst pass", chip->name);
    row(name, (double)uvk_rig_measure(talking->rig, "worst-cycles"), unit, arm ? 16000 : 12000,
        false);
    g_free(name);
}

static void measure_chip(const struct chip *chip, const char *cache)
{
    struct uvk_build_options options = {NULL, NULL, cache};
    struct uvk_rig_options usual = {.seed = 1};
    struct uvk_program *program = program_of(chip, "a");
    struct uvk_firmware *firmware = uvk_build(program, &options, NULL);
    struct talking talking = {.rig = NULL};
    struct uvk_image built;
    uint8_t *bytes;
    char *name;

    open_image(program, &bytes, &built);
    talking.rig = firmware != NULL ? uvk_rig_chip(program, firmware->code, firmware->size,
                                                  firmware->elf, &usual, NULL)
                                   : NULL;
    if (talking.rig == NULL) {
        stop("the chip does not start");
    }
    open_door(&talking);
    name = g_strdup_printf("%s, a question to the live door, and its answer", chip->name);
    row(name, round_trip(&talking), "ms", 2, false);
    g_free(name);
    name = g_strdup_printf("%s, live change of one key", chip->name);
    row(name, change_cell(&talking, chip, &built), "ms", 5, false);
    g_free(name);
    watch_passes(&talking, chip);
    uvk_rig_free(talking.rig);
    g_free(bytes);
    uvk_firmware_free(firmware);
    uvk_program_free(program);
}

void measure_live(const char *cache)
{
    for (size_t i = 0; i < G_N_ELEMENTS(chips); i++) {
        measure_chip(&chips[i], cache);
    }
}
