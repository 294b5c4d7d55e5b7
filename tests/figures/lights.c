/* lights.c - a strip of 64 lamps on both chips: what it receives, what it costs. */
#include "figures.h"

#include "uvrek/bench.h"
#include "uvrek/firmware.h"

#include <stdio.h>
#include <stdlib.h>

static const struct chip {
    const char *name, *board;
    double idle, worst; /* budgets of a pass */
} chips[] = {
    {"ATmega32U4",
     "board glow {\n chip atmega32u4\n usb { vendor 0x1209; product 9; maker \"S\" }\n"
     " matrix { rows B0 B1 B2; cols F0 F1 F4; flow row->col }\n backlight B7 { levels 8 }\n%s",
     1800, 12000},
    {"RP2040",
     "board glow {\n chip rp2040\n usb { vendor 0x1209; product 9; maker \"S\" }\n"
     " matrix { rows GP2 GP3 GP4; cols GP5 GP6 GP7; flow row->col }\n backlight GP9 { levels 8 "
     "}\n%s",
     4000, 16000},
};

#define STRIP_AVR " strip D0 { count 64; limit 5000mA; at r0c0 r0c1 r0c2 r1c0 r1c1 r1c2 }\n"
#define STRIP_ARM " strip GP10 { count 64; limit 5000mA; at r0c0 r0c1 r0c2 r1c0 r1c1 r1c2 }\n"
#define KEYS      " keys { r0c0 r0c1 r0c2; r1c0 r1c1 r1c2; r2c0 r2c1 r2c2 }\n}\n"
#define KEYMAP                                                                                 \
    "keymap k {\n host linux us\n lights { effect %s; speed 1s }\n layer base { a b c; d e "   \
    "f; "                                                                                      \
    "g h i }\n}\n"

static void stop(const char *why)
{
    fprintf(stderr, "lights: %s\n", why);
    exit(1);
}

static struct uvk_program *program_of(const struct chip *chip, const char *strip,
                                      const char *effect)
{
    char *board = g_strdup_printf(chip->board, strip);
    char *keymap = g_strdup_printf(KEYMAP, effect);
    char *text = g_strconcat(board, KEYS, keymap, NULL);
    struct uvk_program *program = read_program(text);

    g_free(board);
    g_free(keymap);
    g_free(text);
    return program;
}

static struct uvk_firmware *build(struct uvk_program *program, const char *cache)
{
    struct uvk_build_options options = {.cache = cache};
    GError *error = NULL;
    struct uvk_firmware *firmware = uvk_build(program, &options, &error);

    if (firmware == NULL) {
        stop(error->message);
    }
    return firmware;
}

static void tap_along(struct uvk_rig *rig)
{
    for (unsigned i = 0; i < 12; i++) {
        uvk_rig_press(rig, i % 9, true);
        if (!uvk_rig_run(rig, 25000, NULL)) {
            stop("the chip has stopped");
        }
        uvk_rig_press(rig, i % 9, false);
        (void)uvk_rig_run(rig, 25000, NULL);
    }
}

static void tell_timing(struct uvk_rig *rig, bool avr)
{
    struct uvk_strip_timing timing;

    if (!uvk_rig_strip_timing(rig, &timing)) {
        stop("the strip cannot be seen");
    }
    row("a 0: high, longest", timing.zero[1], "ns", 380, false);
    row("a 0: high, shortest", timing.zero[0], "ns", 220, true);
    row("a 1: high, longest", timing.one[1], "ns", 950, false);
    row("a 1: high, shortest", timing.one[0], "ns", 650, true);
    row("low between two bits, shortest", timing.rest[0], "ns", 300, true);
    row("low between two bits, longest", timing.rest[1], "ns", 9000, false);
    if (avr) {
        row("longest time without interrupts",
            (double)uvk_rig_measure(rig, "blocked-cycles") / 16, "us", 31, false);
    }
}

/* Ripples and key lights work out the most; the strip is sent behind the pass. */
static void measure_chip(const struct chip *chip, const char *strip, const char *cache)
{
    bool avr = chip == &chips[0];
    struct uvk_program *with = program_of(chip, strip, "ripple");
    struct uvk_program *without = program_of(chip, "", "still");
    struct uvk_firmware *firmware = build(with, cache);
    struct uvk_firmware *less = build(without, cache);
    struct uvk_rig_options options = {.seed = 7, .bounce = UVK_BOUNCE_DEFAULT};
    struct uvk_rig *rig =
        uvk_rig_chip(with, firmware->code, firmware->size, firmware->elf, &options, NULL);

    if (rig == NULL) {
        stop("the chip cannot be started");
    }
    printf("a strip of 64 lamps, ripples, %s\n", chip->name);
    (void)uvk_rig_measure(rig, "forget");
    tap_along(rig);
    row("idle pass", (double)uvk_rig_measure(rig, "idle-cycles"),
        avr ? "cycles" : "instructions", chip->idle, false);
    row("worst pass", (double)uvk_rig_measure(rig, "worst-cycles"),
        avr ? "cycles" : "instructions", chip->worst, false);
    tell_timing(rig, avr);
    row("flash that the strip takes", (double)(firmware->size - less->size), "B", 2560, false);
    row("RAM that the strip takes", (double)(firmware->ram_used - less->ram_used), "B", 448,
        false);
    uvk_rig_free(rig);
    uvk_firmware_free(firmware);
    uvk_firmware_free(less);
    uvk_program_free(with);
    uvk_program_free(without);
}

void measure_lights(const char *cache)
{
    measure_chip(&chips[0], STRIP_AVR, cache);
    measure_chip(&chips[1], STRIP_ARM, cache);
}
