/* A keyboard in two halves as two simulated chips, on each kind of chip and each kind of cable.
 */
#include "support.h"

#include "uvrek/half.h"

#include <string.h>

/* Two by two keys a half and a knob on the right one. */
#define BOARD(chip, halves, rows, cols, knob)                                                  \
    "board pair {\n chip " chip "\n usb { vendor 0x1209; product 0x0009; maker \"T\" }\n"      \
    " halves left right { " halves " }\n matrix { rows " rows "; cols " cols                   \
    "; flow row->col }\n knob jog right { pins " knob " }\n"                                   \
    " keys left { r0c0 r0c1; r1c0 r1c1 }\n keys right { r0c0 r0c1 =jog; r1c0 r1c1 }\n}\n"
#define AVR(halves) BOARD("atmega32u4", halves, "B1 B2", "F4 F5", "D6 D7")
#define ARM(halves) BOARD("rp2040", halves, "GP2 GP3", "GP4 GP5", "GP6 GP7")

#define KEYMAP                                                                                 \
    "keymap k {\n host linux us\n layer base {\n a b c d\n shift f g board:restart\n"          \
    " knob jog left right\n }\n}\n"

static struct uvk_program *program;
static struct uvk_firmware *firmware;
static struct uvk_rig *rig;

/* Two RP2040 take minutes under the sanitizers. */
static bool is_wanted(const char *board)
{
    return g_getenv("UVREK_ONE_CHIP") == NULL || strstr(board, "rp2040") == NULL;
}

static struct uvk_firmware *build(struct uvk_program *of)
{
    char *cache = g_build_filename(scratch_folder(), "cache", NULL);
    struct uvk_build_options options = {NULL, NULL, cache};
    GError *error = NULL;
    struct uvk_firmware *built = uvk_build(of, &options, &error);

    g_free(cache);
    if (error != NULL) {
        fail_msg("%s", error->message);
    }
    return built;
}

static void switch_on(const struct uvk_rig_options *options)
{
    GError *error = NULL;

    rig = uvk_rig_chip(program, firmware->code, firmware->size, firmware->elf, options, &error);
    if (error != NULL) {
        fail_msg("%s", error->message);
    }
}

static struct uvk_program *good_program_of(const char *board, const char *layer)
{
    char *text = g_strconcat(board, "keymap k {\n host linux us\n layer base {\n", layer,
                             " knob jog left right\n }\n}\n", NULL);
    struct uvk_program *read = good_program(text);

    g_free(text);
    return read;
}

static void open_board(const char *board, const char *rest)
{
    char *text = g_strconcat(board, KEYMAP, rest, NULL);

    program = good_program(text);
    firmware = build(program);
    g_free(text);
}

static void close_board(void)
{
    uvk_firmware_free(firmware);
    uvk_program_free(program);
}

/* ---- all plays of a cable, on all cables ------------------------------------------------ */

static const char *const cables[] = {
    AVR("main usb; link uart D3 D2"),
    AVR("main usb; link wire D2"),
    AVR("main usb; link uart D3 D2; speed 115200"),
    AVR("main usb; link uart D3 D2; speed 500000"),
    ARM("main usb; link uart GP0 GP1"),
    ARM("main usb; link uart GP0 GP1 straight; speed 1000000"),
    ARM("main usb; link wire GP28"),
};

/* Under the sanitizers the first two cables say enough. */
static bool is_tried(size_t index)
{
    return (index < 2 || !few_rounds()) && is_wanted(cables[index]);
}

static void play_all(void)
{
    for (const struct uvk_play *play = program->plays; play != NULL; play = play->next) {
        struct uvk_rig_options options = {.seed = 3, .bounce = UVK_BOUNCE_DEFAULT};
        struct uvk_outcome outcome;
        GError *error = NULL;
        switch_on(&options);
        if (uvk_play_run(program, rig, play, &outcome, &error) != 1) {
            fail_msg("%s %u: %s: expected %s, got %s", program->board->chip->name,
                     program->board->link.speed, play->name,
                     error != NULL ? error->message : outcome.expected, outcome.got);
        }
        uvk_outcome_clear(&outcome);
        uvk_rig_free(rig);
    }
}

static void plays_pass_over_every_cable(void **state)
{
    char *text = NULL;
    const char *plays;

    (void)state;
    assert_true(g_file_get_contents(SOURCE_FOLDER "/tests/plays/cable.uvk", &text, NULL, NULL));
    plays = strstr(text, "play \"");
    assert_non_null(plays);
    for (size_t i = 0; i < G_N_ELEMENTS(cables); i++) {
        if (!is_tried(i)) {
            continue;
        }
        open_board(cables[i], plays);
        play_all();
        close_board();
    }
    g_free(text);
}

/* ---- which half is which ---------------------------------------------------------------- */

static void tap(unsigned key)
{
    uvk_rig_press(rig, key, true);
    assert_true(uvk_rig_run(rig, 20000, NULL));
    uvk_rig_press(rig, key, false);
    assert_true(uvk_rig_run(rig, 20000, NULL));
}

/* Keys 0 and 4 are the first of each half: "a" and "c". */
static void assert_both_type(void)
{
    char *text;

    assert_true(uvk_rig_run(rig, 30000, NULL));
    tap(0);
    tap(2);
    text = uvk_host_take_text(uvk_rig_host(rig));
    assert_string_equal(text, "ac");
    g_free(text);
}

/* Whatever says which half is which, the keys of both arrive as their own. */
static void each_rule_names_the_halves(void **state)
{
    static const char *const rules[] = {
        AVR("main left; link wire D2"),      AVR("main right; link uart D3 D2"),
        AVR("main pin B0; link uart D3 D2"), ARM("main left; link uart GP0 GP1"),
        ARM("main pin GP9; link wire GP0"),  ARM("main right; link wire GP0"),
    };
    const struct uvk_rig_options options = {.seed = 1};

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(rules); i++) {
        if (!is_wanted(rules[i])) {
            continue;
        }
        open_board(rules[i], "");
        switch_on(&options);
        assert_both_type();
        uvk_rig_free(rig);
        close_board();
    }
}

/* The other half runs what another keymap made: nothing of it is taken. */
static void halves_of_two_firmwares_do_not_mix(void **state)
{
    struct uvk_rig_options options = {.seed = 1};
    struct uvk_program *other;
    struct uvk_firmware *old;
    char *text;

    (void)state;
    open_board(ARM("main usb; link uart GP0 GP1"), "");
    other =
        good_program(ARM("main usb; link uart GP0 GP1") "keymap old {\n host linux us\n"
                                                        " layer base {\n a b c d\n shift f g "
                                                        "h\n knob jog left right\n }\n}\n");
    old = build(other);
    options.other_flash = old->code;
    options.other_size = old->size;
    switch_on(&options);
    assert_true(uvk_rig_run(rig, 50000, NULL));
    tap(0);
    tap(2);
    text = uvk_host_take_text(uvk_rig_host(rig));
    assert_string_equal(text, "a");
    g_free(text);
    uvk_rig_free(rig);
    uvk_firmware_free(old);
    uvk_program_free(other);
    close_board();
}

/* ---- what is kept ----------------------------------------------------------------------- */

#define STORED_AVR AVR("main stored; link uart D3 D2")
#define STORED_ARM ARM("main stored; link wire GP0")

static const char *const stored[] = {STORED_AVR, STORED_ARM};

/* The firmware that `flash` puts into the half that a person names. */
static uint8_t *told(int half)
{
    uint8_t *code = g_memdup2(firmware->code, firmware->size);

    assert_true(uvk_set_half(code, firmware->size, half));
    return code;
}

/* Both halves of a board are told once which ones they are; then they have a firmware that says
 * nothing of that, and what they have kept. MEMORIES are freed by the caller, behind the rig.
 */
static void tell_both_once(const char *board, const char *layer, char *memories[2])
{
    struct uvk_rig_options options = {.seed = 1};
    uint8_t *right;

    program = good_program_of(board, layer);
    firmware = build(program);
    right = told(1);
    options.other_flash = right;
    options.other_size = firmware->size;
    assert_true(uvk_set_half(firmware->code, firmware->size, 0));
    switch_on(&options);
    assert_true(uvk_rig_run(rig, 400000, NULL));
    memories[0] = uvk_rig_memory(rig, 0);
    memories[1] = uvk_rig_memory(rig, 1);
    uvk_rig_free(rig);
    g_free(right);
    assert_true(uvk_set_half(firmware->code, firmware->size, -1));
    options.other_flash = firmware->code;
    options.memories[0] = memories[0];
    options.memories[1] = memories[1];
    switch_on(&options);
}

static void forget_both(char *memories[2])
{
    uvk_rig_free(rig);
    g_free(memories[0]);
    g_free(memories[1]);
    close_board();
}

/* Told once, a half remembers what it is, whatever firmware comes later. */
static void a_half_remembers_which_one_it_is(void **state)
{
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(stored); i++) {
        char *memories[2];
        if (is_wanted(stored[i])) {
            tell_both_once(stored[i], "a b c d\n shift f g h\n", memories);
            assert_string_not_equal(memories[0], memories[1]);
            assert_both_type();
            forget_both(memories);
        }
    }
}

/* The record: its kind, its size, its one byte, the character of the first half. */
#define KEPT_FIRST "020131"

static void a_reset_forgets_it(void **state)
{
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(stored); i++) {
        char *memories[2];
        char *after;
        if (!is_wanted(stored[i])) {
            continue;
        }
        tell_both_once(stored[i], "a b c d\n board:reset f g h\n", memories);
        assert_non_null(strstr(memories[0], KEPT_FIRST));
        uvk_rig_press(rig, 4, true);
        assert_true(uvk_rig_run(rig, 50000, NULL));
        uvk_rig_press(rig, 4, false);
        assert_true(uvk_rig_run(rig, 5000000, NULL));
        after = uvk_rig_memory(rig, 0);
        assert_null(strstr(after, KEPT_FIRST));
        assert_int_equal(uvk_rig_restarts(rig), 1);
        g_free(after);
        forget_both(memories);
    }
}

/* The power goes at any moment while it is being kept. */
static void power_cuts_leave_a_half_that_starts(void **state)
{
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(stored); i++) {
        struct uvk_rig_options options = {.seed = 1};
        uint8_t *right;
        if (!is_wanted(stored[i])) {
            continue;
        }
        open_board(stored[i], "");
        right = told(1);
        options.other_flash = right;
        options.other_size = firmware->size;
        switch_on(&options);
        for (unsigned cut = 0; cut < 60; cut++) {
            uvk_rig_restart_half(rig, 1);
            assert_true(uvk_rig_run(rig, 1000u * cut + 300u, NULL));
        }
        uvk_rig_restart_half(rig, 1);
        assert_true(uvk_rig_run(rig, 100000, NULL));
        assert_both_type();
        uvk_rig_free(rig);
        g_free(right);
        close_board();
    }
}

/* ---- what it costs ---------------------------------------------------------------------- */

/* While the host sleeps, a key of the other half wakes it. */
static void a_key_of_the_other_half_wakes_the_host(void **state)
{
    static const char *const boards[] = {
        AVR("main usb; link uart D3 D2"), AVR("main usb; link wire D2"),
        ARM("main usb; link uart GP0 GP1"), ARM("main usb; link wire GP0")};
    const struct uvk_rig_options options = {.seed = 1};

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(boards); i++) {
        if (!is_wanted(boards[i])) {
            continue;
        }
        uint8_t may_wake[8] = {0x00, 3, 1, 0, 0, 0, 0, 0};
        size_t none = 0;
        open_board(boards[i], "");
        switch_on(&options);
        assert_int_equal(uvk_rig_control(rig, may_wake, NULL, &none), UVK_TRANSFER_DONE);
        assert_true(uvk_rig_run(rig, 50000, NULL));
        uvk_rig_bus(rig, UVK_BUS_SUSPEND);
        assert_true(uvk_rig_run(rig, 200000, NULL));
        assert_int_equal(uvk_rig_measure(rig, "wakeups"), 0);
        uvk_rig_press(rig, 2, true);
        assert_true(uvk_rig_run(rig, 200000, NULL));
        assert_true(uvk_rig_measure(rig, "wakeups") > 0);
        uvk_rig_free(rig);
        close_board();
    }
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(plays_pass_over_every_cable),
        cmocka_unit_test(each_rule_names_the_halves),
        cmocka_unit_test(halves_of_two_firmwares_do_not_mix),
        cmocka_unit_test(a_half_remembers_which_one_it_is),
        cmocka_unit_test(a_reset_forgets_it),
        cmocka_unit_test(power_cuts_leave_a_half_that_starts),
        cmocka_unit_test(a_key_of_the_other_half_wakes_the_host),
    };

    return cmocka_run_group_tests(tests, NULL, NULL);
}
