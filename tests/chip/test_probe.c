/* The probe's machine code, on each chip: what a board's switches join is told, pin by pin, to
 * everybody, and nothing is typed. */
#include "support.h"

#include "uvrek/door.h"
#include "uvrek/probe.h"
#include "uvrek/usb.h"

#include <stdio.h>
#include <string.h>

#define BOARD(chip, rows, cols, direct, knob)                                                  \
    "board nine {\n chip " chip "\n usb { vendor 0x1209; product 0x0009; maker \"T\" }\n"      \
    " matrix { rows " rows "; cols " cols "; flow row->col }\n direct { pins " direct " }\n"   \
    " knob jog { pins " knob " }\n keys { r0c0 r0c1 r0c2; r1c0 r1c1 r1c2; d0 =jog }\n}\n"      \
    "keymap k {\n layer base { a b c\n d e f\n g\n knob jog h i } }\n"

static const char *const boards[] = {
    BOARD("atmega32u4", "B1 B3", "F4 F5 F6", "C6", "D0 D1"),
    BOARD("rp2040", "GP2 GP3", "GP5 GP6 GP7", "GP28", "GP8 GP9"),
};

/* Under the sanitizers one chip is enough. */
static size_t chips(void)
{
    return g_getenv("UVREK_ONE_CHIP") != NULL ? 1 : G_N_ELEMENTS(boards);
}

static struct uvk_program *program;
static struct uvk_firmware *firmware;
static struct uvk_rig *rig;

static void run(unsigned ms)
{
    GError *error = NULL;

    if (!uvk_rig_run(rig, ms * 1000u, &error)) {
        fail_msg("%s", error->message);
    }
}

static void switch_on(const struct uvk_wrong *wrong)
{
    const struct uvk_rig_options options = {
        .seed = 1, .bounce = UVK_BOUNCE_DEFAULT, .wrongs = wrong, .wrong_count = wrong != NULL};
    GError *error = NULL;

    rig =
        uvk_rig_chip(program, firmware->code, firmware->size, firmware->elf, &options, &error);
    if (error != NULL) {
        fail_msg("%s", error->message);
    }
}

static void open_board(const char *text)
{
    char *cache = g_build_filename(scratch_folder(), "cache", NULL);
    struct uvk_build_options options = {NULL, NULL, cache};
    GError *error = NULL;

    program = good_program(text);
    firmware = uvk_build_probe(program->board, &options, &error);
    if (error != NULL) {
        fail_msg("%s", error->message);
    }
    g_free(cache);
}

static void close_board(void)
{
    uvk_firmware_free(firmware);
    uvk_program_free(program);
}

/* ---- what it tells ---------------------------------------------------------------------- */

static void watch(void)
{
    uint8_t packet[64] = {1, UVK_DOOR_WATCH, 1u << UVK_EVENT_SWITCH | UVK_WATCH_KEEPS};
    size_t size;

    while (uvk_rig_give(rig, UVK_LIVE_OUT, packet, UVK_DOOR_BYTES) != UVK_TRANSFER_DONE) {
        run(1);
    }
    for (unsigned waited = 0; !uvk_rig_take_report(rig, UVK_LIVE_IN, packet, &size); waited++) {
        assert_in_range(waited, 0, 100);
        run(1);
    }
    assert_int_equal(packet[0], 1);
    assert_int_equal(packet[1], UVK_DOOR_DONE);
}

static const char *pin_name(unsigned pin)
{
    const struct uvk_chip *chip = program->board->chip;

    return pin < chip->pin_count ? chip->pins[pin].name : "ground";
}

/* "F4-B1" is told: F4 was low while B1 was. Behind a `-` of a release stands nothing. */
static void add_event(GString *out, const uint8_t *event)
{
    assert_int_equal(event[0] & ~UVK_EVENT_ON, UVK_EVENT_SWITCH);
    g_string_append_printf(out, "%s%s%s-%s", out->len > 0 ? " " : "",
                           (event[0] & UVK_EVENT_ON) != 0 ? "" : "no ", pin_name(event[4]),
                           pin_name(event[1]));
}

/* All that has been told since, in MS more. */
static char *told(unsigned ms)
{
    GString *out = g_string_new(NULL);
    uint8_t packet[64];
    size_t size;

    run(ms);
    while (uvk_rig_take_report(rig, UVK_LIVE_IN, packet, &size)) {
        for (unsigned i = 0; packet[0] == 0 && i < packet[1]; i++) {
            add_event(out, packet + 4 + (size_t)UVK_EVENT_BYTES * i);
        }
    }
    return g_string_free(out, FALSE);
}

static void expect_told(const char *expected)
{
    char *text = told(60);

    assert_string_equal(text, expected);
    g_free(text);
}

/* EXPECTED and its undoing, of the two pins of each chip. */
static void expect_press(unsigned key, const char *const *pairs, size_t chip)
{
    char *undone = g_strconcat("no ", pairs[chip], NULL);

    uvk_rig_press(rig, key, true);
    expect_told(pairs[chip]);
    uvk_rig_press(rig, key, false);
    expect_told(undone);
    g_free(undone);
}

/* ---- tests ------------------------------------------------------------------------------ */

static void pins_that_a_key_joins_are_told(void **state)
{
    static const char *const first[] = {"B1-F4", "GP2-GP5"};
    static const char *const last[] = {"B3-F6", "GP3-GP7"};
    static const char *const direct[] = {"C6-ground", "GP28-ground"};
    uint8_t packet[64];
    size_t size;

    (void)state;
    for (size_t chip = 0; chip < chips(); chip++) {
        open_board(boards[chip]);
        switch_on(NULL);
        watch();
        uvk_rig_forget_reports(rig);
        expect_told("");
        expect_press(0, first, chip);
        expect_press(5, last, chip);
        expect_press(6, direct, chip);
        assert_false(uvk_rig_take_report(rig, 1, packet, &size));
        assert_false(uvk_rig_take_report(rig, 2, packet, &size));
        uvk_rig_free(rig);
        close_board();
    }
}

/* The contacts of a knob, one after the other. */
static void a_turn_is_told_contact_by_contact(void **state)
{
    static const char *const turns[] = {
        "D0-ground D1-ground no D0-ground no D1-ground",
        "GP8-ground GP9-ground no GP8-ground no GP9-ground",
    };

    (void)state;
    for (size_t chip = 0; chip < chips(); chip++) {
        open_board(boards[chip]);
        switch_on(NULL);
        watch();
        (void)uvk_rig_turn(rig, 0, 1);
        expect_told(turns[chip]);
        uvk_rig_free(rig);
        close_board();
    }
}

static void faults_are_seen_as_they_are(void **state)
{
    static const char *const joined[] = {"B3-B1 B1-B3", "GP3-GP2 GP2-GP3"};
    static const char *const turned[] = {"F4-B1", "GP5-GP2"};
    static const char *const exchanged[] = {"B1-F5", "GP2-GP6"};

    (void)state;
    for (size_t chip = 0; chip < chips(); chip++) {
        const struct {
            const char *fault, *press;
        } faults[] = {
            {"diode r0c0", turned[chip]},
            {"swap c0 c1", exchanged[chip]},
            {"dead r0c0", ""},
            {"open r0", ""},
        };
        struct uvk_wrong wrong;
        open_board(boards[chip]);
        for (size_t i = 0; i < G_N_ELEMENTS(faults); i++) {
            assert_true(uvk_wrong_read(program->board, faults[i].fault, &wrong, NULL));
            switch_on(&wrong);
            watch();
            uvk_rig_press(rig, 0, true);
            expect_told(faults[i].press);
            uvk_rig_free(rig);
        }
        /* what is joined from the start is told to whoever begins to watch */
        assert_true(uvk_wrong_read(program->board, "short r0 r1", &wrong, NULL));
        switch_on(&wrong);
        watch();
        expect_told(joined[chip]);
        uvk_rig_free(rig);
        close_board();
    }
}

/* A probe has nothing to hide, and nothing to type. */
static void the_door_of_a_probe_is_open(void **state)
{
    uint8_t packet[64] = {1, UVK_DOOR_WHO};
    size_t size = 0;

    (void)state;
    open_board(boards[0]);
    switch_on(NULL);
    assert_int_equal(uvk_rig_give(rig, UVK_LIVE_OUT, packet, UVK_DOOR_BYTES),
                     UVK_TRANSFER_DONE);
    run(10);
    assert_true(uvk_rig_take_report(rig, UVK_LIVE_IN, packet, &size));
    assert_int_equal(packet[3] & 0x0F, UVK_DOOR_IS_OPEN);
    assert_int_equal(packet[24] & UVK_PROBE_BIT >> 16, UVK_PROBE_BIT >> 16);
    uvk_rig_free(rig);
    close_board();
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(pins_that_a_key_joins_are_told),
        cmocka_unit_test(a_turn_is_told_contact_by_contact),
        cmocka_unit_test(faults_are_seen_as_they_are),
        cmocka_unit_test(the_door_of_a_probe_is_open),
    };

    return cmocka_run_group_tests(tests, NULL, NULL);
}
