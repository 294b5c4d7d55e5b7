/* Lights on the machine code of both chips: what a strip receives, how bright a pin is, what
 * outlives the power, and that nothing else suffers. */
#include "support.h"

#include "uvrek/lights.h"

#include <string.h>

#define BOARD(chip, matrix, backlight, strip)                                                  \
    "board glow {\n chip " chip "\n usb { vendor 0x1209; product 0x0033; maker \"T\" }\n"      \
    " matrix { " matrix "; flow row->col }\n backlight " backlight                             \
    " { levels 8; start 4 }\n strip " strip "\n keys { r0c0 r0c1 r0c2; r1c0 r1c1 r1c2 }\n}\n"
#define AVR(count, order)                                                                      \
    BOARD("atmega32u4", "rows B0 B1; cols F0 F1 F4", "B7",                                     \
          "D0 { count " count "; order " order "; limit 5000mA }")
#define ARM(count, order)                                                                      \
    BOARD("rp2040", "rows GP2 GP3; cols GP4 GP5 GP6", "GP9",                                   \
          "GP10 { count " count "; order " order "; limit 5000mA }")

#define KEYMAP(lights)                                                                         \
    "keymap k {\n host linux us\n lights { " lights " }\n"                                     \
    " layer base { a b light:down; light:toggle light:up light:next }\n}\n"

struct lit {
    struct uvk_program *program;
    struct uvk_firmware *firmware;
    struct uvk_rig *rig;
};

static void open_lit(struct lit *lit, const char *board, const char *keymap)
{
    char *text = g_strconcat(board, keymap, NULL);
    char *cache = g_build_filename(scratch_folder(), "cache", NULL);
    struct uvk_build_options build = {.cache = cache};
    struct uvk_rig_options options = {.seed = 5};
    GError *error = NULL;

    lit->program = good_program(text);
    lit->firmware = uvk_build(lit->program, &build, &error);
    assert_null(error);
    lit->rig = uvk_rig_chip(lit->program, lit->firmware->code, lit->firmware->size,
                            lit->firmware->elf, &options, &error);
    assert_null(error);
    g_free(text);
    g_free(cache);
}

static void close_lit(struct lit *lit)
{
    uvk_rig_free(lit->rig);
    uvk_firmware_free(lit->firmware);
    uvk_program_free(lit->program);
}

static void run(const struct lit *lit, unsigned ms)
{
    GError *error = NULL;

    assert_true(uvk_rig_run(lit->rig, ms * (uint64_t)1000, &error));
}

static void tap(const struct lit *lit, unsigned key)
{
    uvk_rig_press(lit->rig, key, true);
    run(lit, 20);
    uvk_rig_press(lit->rig, key, false);
    run(lit, 20);
}

static struct uvk_rig_lights look(const struct lit *lit)
{
    struct uvk_rig_lights lights;

    assert_true(uvk_rig_lights(lit->rig, &lights));
    assert_true(lights.known);
    return lights;
}

static bool one_chip(void)
{
    return g_getenv("UVREK_ONE_CHIP") != NULL;
}

/* ---- the strip --------------------------------------------------------------------------- */

/* What the lamps' makers allow, nanoseconds: the narrower of the old ones and the new ones. */
#define ZERO_LEAST 220u
#define ZERO_MOST  380u
#define ONE_LEAST  650u
#define ONE_MOST   950u
#define REST_LEAST 300u
#define REST_MOST  9000u /* far below what any of them takes for the end */

static void assert_timing(const struct lit *lit)
{
    struct uvk_strip_timing timing;

    assert_true(uvk_rig_strip_timing(lit->rig, &timing));
    assert_true(timing.frames > 5);
    assert_in_range(timing.zero[0], ZERO_LEAST, ZERO_MOST);
    assert_in_range(timing.zero[1], ZERO_LEAST, ZERO_MOST);
    assert_in_range(timing.one[0], ONE_LEAST, ONE_MOST);
    assert_in_range(timing.one[1], ONE_LEAST, ONE_MOST);
    assert_in_range(timing.rest[0], REST_LEAST, REST_MOST);
    assert_in_range(timing.rest[1], REST_LEAST, REST_MOST);
}

/* 64 lamps that change all the time, while somebody types. */
static void strip_is_in_time(const char *board)
{
    struct lit lit;
    char *text;

    open_lit(&lit, board, KEYMAP("effect hues; speed 1s"));
    for (unsigned i = 0; i < 20; i++) {
        tap(&lit, i % 2);
    }
    text = uvk_host_take_text(uvk_rig_host(lit.rig));
    assert_string_equal(text, "abababababababababab");
    assert_timing(&lit);
    g_free(text);
    close_lit(&lit);
}

static void strips_are_in_time(void **state)
{
    (void)state;
    strip_is_in_time(AVR("64", "grb"));
    if (!one_chip()) {
        strip_is_in_time(ARM("64", "grb"));
    }
}

/* Each colour where the lamps have it; of four, what all have in common is white. */
static void order_is_the_lamps_own(void **state)
{
    static const char *const boards[] = {AVR("3", "grb"), AVR("3", "rgb"), AVR("3", "grbw"),
                                         ARM("3", "rgbw"), ARM("3", "grb")};

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(boards); i++) {
        struct lit lit;
        struct uvk_rig_lights lights;
        if (i >= 3 && one_chip()) {
            break;
        }
        open_lit(&lit, boards[i], KEYMAP("colour #c08040"));
        run(&lit, 30);
        lights = look(&lit);
        assert_int_equal(lights.count, 3);
        for (unsigned at = 0; at < 3; at++) {
            assert_int_equal(lights.strip[at].red, uvk_light_scaled(0xC0, lights.scale));
            assert_int_equal(lights.strip[at].green, uvk_light_scaled(0x80, lights.scale));
            assert_int_equal(lights.strip[at].blue, uvk_light_scaled(0x40, lights.scale));
        }
        close_lit(&lit);
    }
}

/* So long, at the most, no interrupt is heard: the lamp that is being sent. */
#define LAMP_US 31u

static void interrupts_wait_for_one_lamp(void **state)
{
    struct lit lit;
    int64_t cycles;

    (void)state;
    open_lit(&lit, AVR("64", "grb"), KEYMAP("effect hues; speed 1s"));
    (void)uvk_rig_measure(lit.rig, "forget");
    run(&lit, 300);
    cycles = uvk_rig_measure(lit.rig, "blocked-cycles");
    assert_in_range(cycles, 24 * 19, LAMP_US * 16);
    close_lit(&lit);
}

/* ---- the backlight ----------------------------------------------------------------------- */

static void levels_of(const char *board)
{
    struct lit lit;

    open_lit(&lit, board, KEYMAP("colour #000000"));
    for (unsigned level = 4;; level++) {
        unsigned wanted = uvk_light_brightness((uint8_t)level, 8);
        run(&lit, 30);
        assert_int_equal(look(&lit).level, level);
        assert_in_range(look(&lit).backlight + 2u, wanted, wanted + 4u);
        if (level == 8) {
            break;
        }
        tap(&lit, 4);
    }
    tap(&lit, 3);
    run(&lit, 30);
    assert_int_equal(look(&lit).backlight, 0);
    close_lit(&lit);
}

static void levels_are_as_bright_as_they_say(void **state)
{
    (void)state;
    levels_of(AVR("1", "grb"));
    if (!one_chip()) {
        levels_of(ARM("1", "grb"));
    }
}

/* ---- the power --------------------------------------------------------------------------- */

static void is_kept_on(const char *board)
{
    struct lit lit;

    open_lit(&lit, board, KEYMAP("effect still"));
    tap(&lit, 4);
    tap(&lit, 5);
    run(&lit, 7000); /* it is written when it has rested */
    uvk_rig_restart_half(lit.rig, 0);
    run(&lit, 500);
    assert_int_equal(look(&lit).level, 5);
    assert_int_equal(look(&lit).effect, UVK_EFFECT_BREATHE);
    close_lit(&lit);
}

static void state_outlives_the_power(void **state)
{
    (void)state;
    is_kept_on(AVR("2", "grb"));
    if (!one_chip()) {
        is_kept_on(ARM("2", "grb"));
    }
}

static bool is_dark(const struct uvk_rig_lights *lights)
{
    bool dark = lights->backlight == 0;

    for (unsigned i = 0; i < lights->count; i++) {
        dark =
            dark && lights->strip[i].red + lights->strip[i].green + lights->strip[i].blue == 0;
    }
    return dark;
}

static void sleeps_dark(const char *board)
{
    struct lit lit;
    struct uvk_rig_lights lights;

    open_lit(&lit, board, KEYMAP("colour #ffffff"));
    run(&lit, 50);
    lights = look(&lit);
    assert_false(is_dark(&lights));
    uvk_rig_bus(lit.rig, UVK_BUS_SUSPEND);
    run(&lit, 100);
    lights = look(&lit);
    assert_true(is_dark(&lights));
    uvk_rig_bus(lit.rig, UVK_BUS_RESUME);
    run(&lit, 100);
    lights = look(&lit);
    assert_false(is_dark(&lights));
    close_lit(&lit);
}

static void a_sleeping_host_makes_it_dark(void **state)
{
    (void)state;
    sleeps_dark(AVR("9", "grb"));
    if (!one_chip()) {
        sleeps_dark(ARM("9", "grb"));
    }
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(strips_are_in_time),
        cmocka_unit_test(order_is_the_lamps_own),
        cmocka_unit_test(interrupts_wait_for_one_lamp),
        cmocka_unit_test(levels_are_as_bright_as_they_say),
        cmocka_unit_test(state_outlives_the_power),
        cmocka_unit_test(a_sleeping_host_makes_it_dark),
    };

    return cmocka_run_group_tests_name("lit", tests, NULL, NULL);
}
