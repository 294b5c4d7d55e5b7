/* Images that were damaged and summed again: the reader refuses them, or the engine runs
 * them without harm. And each rule of the reader, broken once. */
#include "keyboard.h"

#include "../../../image/layout.h"

#include <string.h>

static const char *const rich =
    BOARD9_KNOB "keymap k { host linux us\n"
                "feel calm { decide on-nested; rest 100ms }\n"
                "dance spin { tap -> 1; hold -> nav; tap tap -> e/alt ~calm; within 50ms }\n"
                "dance turn { tap -> 3; within 60ms }\n"
                "leader { within 80ms; a b -> esc; c -> spin; d e f -> hello }\n"
                "macro hello { type \"Hi\"; wait 20ms; press shift; on-release { tap esc } }\n"
                "combo a+b -> esc { on base nav }\ncombo d+e+f -> nav/tab { until last-up }\n"
                "layer base { a/shift b c; d/nav ~calm e f; hello once:shift ctrl+volume-up }\n"
                "layer nav  { . -- '?'; toggle:nav only:num once:num; 1 2 mute }\n"
                "layer num  { sleep click-left wheel-up; block:gui toggle:ctrl leader; block:a "
                "point-up pace-fast; knob jog spin hello }\n"
                "layer sys when nav+num { 7 8 9; . . .; . turn board:restart } }\n";

static uint8_t *image;
static uint16_t size;
static struct uvk_image opened;

static int set_up(void **state)
{
    struct uvk_program *program = good_program(rich);

    (void)state;
    image = uvk_lower(program, &size);
    uvk_program_free(program);
    return image == NULL || uvk_image_open(&opened, image, size) != UVK_OK;
}

static int tear_down(void **state)
{
    (void)state;
    g_free(image);
    return 0;
}

static void sum_again(uint8_t *bytes)
{
    uint32_t crc = ~uvk_crc32(uvk_crc32(UVK_CRC_START, bytes, AT_SUM), bytes + AT_KEYS,
                              (uint16_t)(size - AT_KEYS));

    for (unsigned i = 0; i < 4; i++) {
        bytes[AT_SUM + i] = (uint8_t)(crc >> (8 * i));
    }
}

/* The image with two bytes of a table's row changed. */
static enum uvk_status with(enum uvk_table table, unsigned at, unsigned value, bool wide)
{
    uint8_t *copy = g_memdup2(image, size);
    struct uvk_image ignored;
    enum uvk_status status;

    copy[opened.table[table] + at] = (uint8_t)value;
    if (wide) {
        copy[opened.table[table] + at + 1] = (uint8_t)(value >> 8);
    }
    sum_again(copy);
    status = uvk_image_open(&ignored, copy, size);
    g_free(copy);
    return status;
}

static void assert_refused(enum uvk_table table, unsigned at, unsigned value, bool wide)
{
    if (with(table, at, value, wide) != UVK_BAD_VALUE) {
        fail_msg("table %u, byte %u, value %u was taken", table, at, value);
    }
}

/* The step that presses shift, see the macro. */
#define PRESS_ROW (3u * STEP_ROW)

static void each_rule_of_the_tables_holds(void **state)
{
    (void)state;
    assert_int_equal(opened.rows[UVK_TABLE_COMBOS], 2);
    /* settings */
    assert_refused(UVK_TABLE_SETTINGS, 2, 99, true);
    assert_refused(UVK_TABLE_SETTINGS, 2, 60001, true);
    assert_refused(UVK_TABLE_SETTINGS, 4, 49, true);
    assert_refused(UVK_TABLE_SETTINGS, 6, 9, true);
    assert_refused(UVK_TABLE_SETTINGS, 6, 5001, true);
    assert_refused(UVK_TABLE_SETTINGS, 8, 5001, true);
    assert_refused(UVK_TABLE_SETTINGS, 10, 101, true);
    /* switches: twice the same key, a turn of a knob */
    assert_refused(UVK_TABLE_SWITCHES, 1, 0, false);
    assert_refused(UVK_TABLE_SWITCHES, 1, 9, false);
    /* knobs */
    assert_refused(UVK_TABLE_KNOBS, 0, 0, false);
    assert_refused(UVK_TABLE_KNOBS, 0, 3, false);
    assert_refused(UVK_TABLE_KNOBS, 0, 8, false);
    /* dances: time, lines, taps, and what stands in them */
    assert_refused(UVK_TABLE_DANCES, 0, 30001, true);
    assert_refused(UVK_TABLE_DANCES, 2, opened.rows[UVK_TABLE_LINES] - 1u, true);
    assert_refused(UVK_TABLE_DANCES, 4, 0, false);
    assert_refused(UVK_TABLE_DANCES, 4, 200, false);
    assert_refused(UVK_TABLE_LINES, 0, UVK_MAKE(UVK_HOLD, 99), true);
    assert_refused(UVK_TABLE_LINES, 0, UVK_MAKE(UVK_HOLD, UVK_DANCE | 2u), true);
    assert_int_equal(with(UVK_TABLE_LINES, 0, UVK_SEE_THROUGH, true), UVK_OK);
    /* sequences: action, keys, how many */
    assert_refused(UVK_TABLE_SEQUENCES, 0, UVK_SEE_THROUGH, true);
    assert_refused(UVK_TABLE_SEQUENCES, 2, 500, true);
    assert_refused(UVK_TABLE_SEQUENCES, 4, 0, false);
    assert_refused(UVK_TABLE_SEQUENCES, 4, 7, false);
    /* devices: no such one, no such way, pace, usage, value of the leader */
    assert_refused(UVK_TABLE_CELLS, 0, UVK_MAKE_DEVICE(UVK_DEVICES, 0), true);
    assert_refused(UVK_TABLE_CELLS, 0, UVK_MAKE_DEVICE(UVK_DEVICE_POINT, 4), true);
    assert_refused(UVK_TABLE_CELLS, 0, UVK_MAKE_DEVICE(UVK_DEVICE_PACE, 2), true);
    assert_refused(UVK_TABLE_CELLS, 0, UVK_MAKE_DEVICE(UVK_DEVICE_BLOCK, 3), true);
    assert_refused(UVK_TABLE_CELLS, 0, UVK_MAKE_DEVICE(UVK_DEVICE_LEADER, 1), true);
    /* tap-holds: sides, feel */
    assert_refused(UVK_TABLE_HOLDS, 0, UVK_MAKE(UVK_HOLD, 0), true);
    assert_refused(UVK_TABLE_HOLDS, 0, UVK_SEE_THROUGH, true);
    assert_refused(UVK_TABLE_HOLDS, 2, UVK_MAKE_LAYER(4), true);
    assert_refused(UVK_TABLE_HOLDS, 4, opened.rows[UVK_TABLE_FEELS], false);
    assert_int_equal(with(UVK_TABLE_HOLDS, 4, 1, false), UVK_OK);
    /* feels */
    assert_refused(UVK_TABLE_FEELS, 0, 30001, true);
    assert_refused(UVK_TABLE_FEELS, 2, 30001, true);
    assert_refused(UVK_TABLE_FEELS, 4, 30001, true);
    assert_refused(UVK_TABLE_FEELS, 6, 64, false);
    assert_refused(UVK_TABLE_FEELS, 6, UVK_FEEL_HAND, false); /* no table of sides */
    /* whens: layer 0, layers that are not there, a layer by itself */
    assert_refused(UVK_TABLE_WHENS, 0, 0, false);
    assert_refused(UVK_TABLE_WHENS, 0, 4, false);
    assert_refused(UVK_TABLE_WHENS, 1, 4, false);
    assert_refused(UVK_TABLE_WHENS, 2, 4, false);
    assert_refused(UVK_TABLE_WHENS, 1, 3, false);
    /* combos: action, within, flags, keys, parts */
    assert_refused(UVK_TABLE_COMBOS, 0, UVK_SEE_THROUGH, true);
    assert_refused(UVK_TABLE_COMBOS, 0, UVK_MAKE(UVK_HOLD, 99), true);
    assert_refused(UVK_TABLE_COMBOS, 2, 30001, true);
    assert_refused(UVK_TABLE_COMBOS, 4, 2, false);
    assert_refused(UVK_TABLE_COMBOS, 5, 1, false);
    assert_refused(UVK_TABLE_COMBOS, 5, 9, false);
    assert_refused(UVK_TABLE_COMBOS, 6, 500, true);
    assert_refused(UVK_TABLE_PARTS, 0, 11, false);
    assert_refused(UVK_TABLE_PARTS, 2, 200, false); /* how many layers */
    assert_refused(UVK_TABLE_PARTS, 3, 4, false);   /* one of them */
    /* steps: operation, operands, the end */
    assert_refused(UVK_TABLE_STEPS, 0, 6, false);
    /* texts: "Hi" is two strokes and an end; the step behind the first one types it */
    assert_int_equal(opened.rows[UVK_TABLE_TEXTS], 3);
    assert_refused(UVK_TABLE_TEXTS, 0, 0x83, false);          /* no key, with shift */
    assert_refused(UVK_TABLE_TEXTS, 0, UVK_TEXT_MODS, false); /* its usage is the end */
    assert_refused(UVK_TABLE_TEXTS, 1, UVK_TEXT_MODS, false); /* its usage is not there */
    assert_refused(UVK_TABLE_TEXTS, 1, UVK_TEXT_KEEP, false); /* no end behind it */
    assert_refused(UVK_TABLE_TEXTS, 2, UVK_TEXT_KEEP, false); /* cut */
    assert_refused(UVK_TABLE_TEXTS, 1, UVK_TEXT_SAME, false); /* as what? */
    assert_refused(UVK_TABLE_TEXTS, 2, UVK_TEXT_SAME, false);
    assert_refused(UVK_TABLE_TEXTS, 2, 4, false); /* no end */
    assert_int_equal(with(UVK_TABLE_TEXTS, 0, UVK_TEXT_SAME, false), UVK_OK);
    assert_int_equal(with(UVK_TABLE_TEXTS, 0, UVK_TEXT_KEEP, false), UVK_OK);
    assert_int_equal(with(UVK_TABLE_TEXTS, 1, 0, false), UVK_OK); /* two texts */
    assert_refused(UVK_TABLE_STEPS, STEP_ROW + 1, 1, true);
    assert_refused(UVK_TABLE_STEPS, STEP_ROW + 1, 3, true);
    assert_refused(UVK_TABLE_SETTINGS, 12, UVK_TYPE_PACE_MAX + 1, true);
    assert_int_equal(with(UVK_TABLE_SETTINGS, 12, UVK_TYPE_PACE_MAX, true), UVK_OK);
    assert_int_equal(with(UVK_TABLE_STEPS, PRESS_ROW + 1, UVK_NOTHING, true), UVK_OK);
    assert_refused(UVK_TABLE_STEPS, PRESS_ROW + 1, UVK_SEE_THROUGH, true);
    assert_refused(UVK_TABLE_STEPS, PRESS_ROW + 1, UVK_MAKE_LAYER(1), true);
    assert_refused(UVK_TABLE_STEPS, PRESS_ROW + 1, UVK_MAKE(UVK_MACRO, 0), true);
    assert_refused(UVK_TABLE_STEPS, PRESS_ROW + 1, UVK_MAKE(UVK_HOLD, 0), true);
    assert_refused(UVK_TABLE_STEPS, PRESS_ROW + 1, UVK_MAKE_DEVICE(UVK_DEVICE_LEADER, 0), true);
    assert_refused(UVK_TABLE_STEPS, (opened.rows[UVK_TABLE_STEPS] - 1u) * STEP_ROW,
                   UVK_OP_RELEASE_PART, false);
    assert_refused(UVK_TABLE_STEPS, (opened.rows[UVK_TABLE_STEPS] - 1u) * STEP_ROW + 1, 1,
                   false);
    /* cells: a macro that begins in the middle of another, sticky operations */
    assert_refused(UVK_TABLE_CELLS, 12, UVK_MAKE(UVK_MACRO, 1), true);
    assert_refused(UVK_TABLE_CELLS, 12, UVK_MAKE(UVK_MACRO, 999), true);
    assert_refused(UVK_TABLE_CELLS, 14, UVK_MAKE_OP(UVK_MODS, 3, 2), true);
    assert_refused(UVK_TABLE_CELLS, 14, UVK_MAKE_OP(UVK_LAYER, 4, 1), true);
}

/* The byte AT of the last row of a table whose rows have SIZE bytes. */
static unsigned in_last_row(enum uvk_table table, unsigned row_size, unsigned at)
{
    assert_true(opened.rows[table] > 1);
    return (opened.rows[table] - 1u) * row_size + at;
}

/* Every row is looked at, and the largest values are good. */
static void the_last_rows_are_checked_too(void **state)
{
    const uint16_t waits = 2 * STEP_ROW;

    (void)state;
    assert_refused(UVK_TABLE_HOLDS, in_last_row(UVK_TABLE_HOLDS, HOLD_ROW, 4),
                   opened.rows[UVK_TABLE_FEELS], false);
    assert_refused(UVK_TABLE_FEELS, in_last_row(UVK_TABLE_FEELS, FEEL_ROW, 0), 30001, true);
    assert_refused(UVK_TABLE_COMBOS, in_last_row(UVK_TABLE_COMBOS, COMBO_ROW, 5), 9, false);
    assert_refused(UVK_TABLE_DANCES, in_last_row(UVK_TABLE_DANCES, DANCE_ROW, 0), 30001, true);
    assert_refused(UVK_TABLE_SEQUENCES, in_last_row(UVK_TABLE_SEQUENCES, SEQ_ROW, 4), 0, false);
    assert_refused(UVK_TABLE_PARTS, opened.rows[UVK_TABLE_PARTS] - 1u, 200, false);
    assert_refused(UVK_TABLE_CELLS, 0, UVK_MAKE(UVK_HOLD, opened.rows[UVK_TABLE_HOLDS]), true);
    assert_refused(UVK_TABLE_CELLS, 0, UVK_MAKE(UVK_MACRO, opened.rows[UVK_TABLE_STEPS]), true);
    assert_refused(UVK_TABLE_CELLS, 0,
                   UVK_MAKE(UVK_HOLD, UVK_DANCE | opened.rows[UVK_TABLE_DANCES]), true);
    assert_int_equal(with(UVK_TABLE_DANCES, 0, 30000, true), UVK_OK);
    assert_int_equal(with(UVK_TABLE_FEELS, 0, 30000, true), UVK_OK);
    assert_int_equal(with(UVK_TABLE_COMBOS, 2, 30000, true), UVK_OK);
    assert_int_equal(image[opened.table[UVK_TABLE_STEPS] + waits], UVK_OP_WAIT);
    assert_int_equal(with(UVK_TABLE_STEPS, waits + 1u, 30000, true), UVK_OK);
    assert_refused(UVK_TABLE_STEPS, waits + 1u, 30001, true);
}

/* Two bits a key: either hand, the first, the second; there is no third one. */
static void hands_are_checked(void **state)
{
    struct uvk_program *program = good_program(
        "board b { chip atmega32u4; matrix { rows B1; cols F4 F5 F6 F7 D0; flow row->col }\n"
        "keys { r0c0 r0c1 | r0c2 | r0c3 r0c4 } }\nkeymap k { feel f { other-hand }\n"
        "layer base { a/shift~f b c d e } }");
    uint8_t *whole = image;
    uint16_t whole_size = size;
    struct uvk_image whole_opened = opened;

    (void)state;
    image = uvk_lower(program, &size);
    assert_int_equal(uvk_image_open(&opened, image, size), UVK_OK);
    assert_int_equal(uvk_image_hand(&opened, 0), UVK_FIRST_HAND);
    assert_int_equal(uvk_image_hand(&opened, 1), UVK_FIRST_HAND);
    assert_int_equal(uvk_image_hand(&opened, 2), UVK_EITHER_HAND);
    assert_int_equal(uvk_image_hand(&opened, 3), UVK_SECOND_HAND);
    assert_int_equal(uvk_image_hand(&opened, 4), UVK_SECOND_HAND);
    for (unsigned key = 0; key < 4; key++) {
        assert_refused(UVK_TABLE_HANDS, 0, 3u << 2 * key, false);
        assert_int_equal(with(UVK_TABLE_HANDS, 0, 2u << 2 * key, false), UVK_OK);
    }
    assert_refused(UVK_TABLE_HANDS, 1, 3, false);
    assert_int_equal(with(UVK_TABLE_HANDS, 1, 0xFC, false), UVK_OK); /* behind the last key */
    g_free(image);
    uvk_program_free(program);
    image = whole;
    size = whole_size;
    opened = whole_opened;
}

/* A knob that jumps about. */
static GRand *knob_random;

static uint8_t read_knob(void *owner, uint8_t knob)
{
    (void)owner;
    (void)knob;
    return (uint8_t)g_rand_int_range(knob_random, 0, 4);
}

/* The whole image under random contacts; whatever it says, the engine stays in bounds. */
static void run_engine(GRand *random, const uint8_t *bytes)
{
    static struct uvk_engine engine;
    struct keyboard keyboard = {.host_fetches = true};

    keyboard.port.configured = true;
    keyboard_wire(&keyboard);
    keyboard.port.read_knob = read_knob;
    knob_random = random;
    if (uvk_engine_start(&engine, sizeof engine, bytes, size, 0) != UVK_OK) {
        return;
    }
    for (unsigned pass = 0; pass < 400; pass++) {
        if (g_rand_int_range(random, 0, 6) == 0) {
            keyboard.contacts[g_rand_int_range(random, 0, 3)] ^=
                1u << g_rand_int_range(random, 0, 3);
        }
        keyboard.port.time_us += (uint32_t)g_rand_int_range(random, 200, 9000);
        uvk_engine_pass(&engine, &keyboard.port, keyboard.port.time_us);
        assert_in_range(engine.layers.count, 1, engine.image.layers);
        assert_true(engine.queue.count <= UVK_QUEUE);
        assert_true(engine.holds.count <= sizeof engine.holds.list / sizeof *engine.holds.list);
        for (unsigned i = 0; i < UVK_INTERFACES; i++) {
            keyboard.port.endpoints[i].size = 0;
        }
    }
}

static void mutants_do_no_harm(void **state)
{
    GRand *random = g_rand_new_with_seed(2026);
    unsigned taken = 0;
    const unsigned rounds = 30000;

    (void)state;
    for (unsigned round = 0; round < rounds; round++) {
        uint8_t *copy = g_memdup2(image, size);
        struct uvk_image ignored;
        for (int flips = g_rand_int_range(random, 1, 5); flips > 0; flips--) {
            copy[g_rand_int_range(random, AT_KEYS, size)] =
                (uint8_t)g_rand_int_range(random, 0, g_rand_boolean(random) ? 256 : 12);
        }
        sum_again(copy);
        if (uvk_image_open(&ignored, copy, size) == UVK_OK) {
            taken++;
            run_engine(random, copy);
        }
        g_free(copy);
    }
    print_message("%u of %u mutants were taken and run\n", taken, rounds);
    assert_true(taken > rounds / 50);
    g_rand_free(random);
}

/* Random bytes with a good header are refused or run, never worse. */
static void noise_is_refused(void **state)
{
    GRand *random = g_rand_new_with_seed(77);

    (void)state;
    for (unsigned round = 0; round < 20000; round++) {
        uint8_t *copy = g_memdup2(image, size);
        struct uvk_image ignored;
        int from = g_rand_int_range(random, AT_KEYS, size);
        for (int at = from; at < size; at++) {
            copy[at] = (uint8_t)g_rand_int_range(random, 0, 256);
        }
        sum_again(copy);
        if (uvk_image_open(&ignored, copy, size) == UVK_OK) {
            run_engine(random, copy);
        }
        g_free(copy);
    }
    g_rand_free(random);
}

/* How often the usage, two hexadecimal digits, has gone down. */
static unsigned presses_of(const struct keyboard *keyboard, const char *usage)
{
    unsigned count = 0;
    bool down = false;

    for (guint i = 0; i < keyboard->reports->len; i++) {
        const char *report = g_ptr_array_index(keyboard->reports, i);
        bool now = strlen(report) > 7 && strstr(report + 7, usage) != NULL;
        count += now && !down;
        down = now;
    }
    return count;
}

/* While a macro runs, more keys than the queue holds: every press and release arrives. */
static void macro_and_a_full_queue(void **state)
{
    static struct keyboard keyboard;

    (void)state;
    keyboard_open(&keyboard, BOARD9 "keymap k { host linux us\nmacro slow { wait 2s; tap x }\n"
                                    "layer base { slow a b; c d e; f g h } }\n");
    keyboard_contact(&keyboard, "r0c0", true);
    keyboard_pass(&keyboard, 5);
    keyboard_contact(&keyboard, "r0c0", false);
    for (unsigned i = 0; i < 60; i++) {
        keyboard_contact(&keyboard, "r0c1", i % 2 == 0);
        keyboard_contact(&keyboard, "r1c1", i % 2 == 1);
        keyboard_pass(&keyboard, 10);
    }
    keyboard_contact(&keyboard, "r0c1", false);
    keyboard_contact(&keyboard, "r1c1", false);
    keyboard_pass(&keyboard, 2500);
    assert_true(uvk_engine_idle(&keyboard.engine));
    assert_int_equal(presses_of(&keyboard, " 1B"), 1);
    assert_int_equal(presses_of(&keyboard, " 04"), 30);
    assert_int_equal(presses_of(&keyboard, " 07"), 30);
    assert_string_equal(g_ptr_array_index(keyboard.reports, keyboard.reports->len - 1),
                        "keys 00");
    keyboard_close(&keyboard);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(each_rule_of_the_tables_holds),
        cmocka_unit_test(the_last_rows_are_checked_too),
        cmocka_unit_test(hands_are_checked),
        cmocka_unit_test(mutants_do_no_harm),
        cmocka_unit_test(noise_is_refused),
        cmocka_unit_test(macro_and_a_full_queue),
    };
    return cmocka_run_group_tests_name("mutants", tests, set_up, tear_down);
}
