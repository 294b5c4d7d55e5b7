/* From contacts to reports: debouncing, layers, chords, reports, order. */
#include "keyboard.h"

#include <string.h>

static struct keyboard keyboard;

static void press(const char *address)
{
    keyboard_contact(&keyboard, address, true);
    keyboard_pass(&keyboard, 1);
}

/* Let go and wait until the release counts. */
static void release(const char *address)
{
    keyboard_contact(&keyboard, address, false);
    keyboard_pass(&keyboard, 8);
}

#define LETTERS "a b c; d e f; g h i"

/* ---- debouncing ------------------------------------------------------------------- */

static void press_counts_at_the_first_contact(void **state)
{
    (void)state;
    keyboard_open(&keyboard, KEYMAP9(LETTERS));
    press("r0c0");
    assert_reports(&keyboard, "keys 00 04", NULL);
    keyboard_close(&keyboard);
}

static void release_counts_after_the_debounce_time(void **state)
{
    (void)state;
    keyboard_open(&keyboard, KEYMAP9(LETTERS));
    press("r0c0");
    keyboard_contact(&keyboard, "r0c0", false);
    keyboard_pass(&keyboard, 5);
    assert_reports(&keyboard, "keys 00 04", NULL);
    keyboard_pass(&keyboard, 1);
    assert_reports(&keyboard, "keys 00", NULL);
    keyboard_close(&keyboard);
}

static void bouncing_types_once(void **state)
{
    static const char pattern[] = "1011010111111111110100101000000000";

    (void)state;
    keyboard_open(&keyboard, KEYMAP9(LETTERS));
    for (const char *contact = pattern; *contact != '\0'; contact++) {
        keyboard_contact(&keyboard, "r1c1", *contact == '1');
        keyboard_pass(&keyboard, 1);
    }
    assert_reports(&keyboard, "keys 00 08", "keys 00", NULL);
    assert_true(uvk_engine_idle(&keyboard.engine));
    keyboard_close(&keyboard);
}

#define NOISY                                                                                  \
    BOARD9 "keymap k {\n host linux us\n set press-after 4ms\n layer base {\n" LETTERS         \
           "\n }\n}\n"

/* 1 and 0 are what the contact of r1c1 is at each pass, a millisecond apart. */
static void contact_pattern(const char *pattern)
{
    for (; *pattern != '\0'; pattern++) {
        keyboard_contact(&keyboard, "r1c1", *pattern == '1');
        keyboard_pass(&keyboard, 1);
    }
}

/* At least the time that was asked for, from the last break on. */
static void noise_is_no_press(void **state)
{
    (void)state;
    keyboard_open(&keyboard, NOISY);
    keyboard_pass(&keyboard, 1);
    contact_pattern("1000011110000001011101111000");
    assert_reports(&keyboard, NULL);
    contact_pattern("1110"
                    "11111");
    keyboard_pass(&keyboard, 1);
    assert_reports(&keyboard, "keys 00 08", NULL);
    contact_pattern("0111000000");
    assert_reports(&keyboard, "keys 00", NULL);
    assert_true(uvk_engine_idle(&keyboard.engine));
    keyboard_close(&keyboard);
}

/* What is down when it starts is no press, then or later. */
static void held_at_the_start_is_no_late_press(void **state)
{
    (void)state;
    keyboard_open(&keyboard, NOISY);
    keyboard_contact(&keyboard, "r1c1", true);
    assert_int_equal(uvk_engine_start(&keyboard.engine, sizeof keyboard.engine, keyboard.image,
                                      keyboard.size, 0),
                     UVK_OK);
    contact_pattern("11111111110000000000");
    assert_reports(&keyboard, NULL);
    contact_pattern("1111110000000");
    assert_reports(&keyboard, "keys 00 08", "keys 00", NULL);
    keyboard_close(&keyboard);
}

static void each_key_is_debounced_by_itself(void **state)
{
    (void)state;
    keyboard_open(&keyboard, KEYMAP9(LETTERS));
    press("r0c0");
    press("r1c0"); /* the same scan line */
    keyboard_contact(&keyboard, "r0c0", false);
    keyboard_pass(&keyboard, 3);
    keyboard_contact(&keyboard, "r1c0", false);
    keyboard_pass(&keyboard, 3);
    assert_reports(&keyboard, "keys 00 04", "keys 00 04 07", "keys 00 07", NULL);
    keyboard_pass(&keyboard, 3);
    assert_reports(&keyboard, "keys 00", NULL);
    keyboard_close(&keyboard);
}

static void no_debounce_releases_at_once(void **state)
{
    (void)state;
    keyboard_open(&keyboard,
                  "board x { chip atmega32u4; matrix { rows B1; cols F4; flow row->col\n"
                  "debounce 0ms }; keys { r0c0 } }\nkeymap k { layer base { a } }");
    press("r0c0");
    keyboard_contact(&keyboard, "r0c0", false);
    keyboard_pass(&keyboard, 1);
    assert_reports(&keyboard, "keys 00 04", "keys 00", NULL);
    keyboard_close(&keyboard);
}

static void time_may_wrap(void **state)
{
    (void)state;
    keyboard_open(&keyboard, KEYMAP9(LETTERS));
    keyboard.port.time_us = UINT32_MAX - 3500u;
    assert_int_equal(uvk_engine_start(&keyboard.engine, sizeof keyboard.engine, keyboard.image,
                                      keyboard.size, keyboard.port.time_us),
                     UVK_OK);
    keyboard_pass(&keyboard, 1);
    press("r0c0");
    release("r0c0");
    assert_reports(&keyboard, "keys 00 04", "keys 00", NULL);
    keyboard_close(&keyboard);
}

static void keys_down_at_the_start_do_nothing(void **state)
{
    (void)state;
    keyboard_open(&keyboard, KEYMAP9(LETTERS));
    keyboard_contact(&keyboard, "r0c0", true);
    assert_int_equal(uvk_engine_start(&keyboard.engine, sizeof keyboard.engine, keyboard.image,
                                      keyboard.size, 0),
                     UVK_OK);
    keyboard_pass(&keyboard, 20);
    press("r0c1");
    release("r0c0");
    assert_reports(&keyboard, "keys 00 05", NULL);
    press("r0c0");
    assert_reports(&keyboard, "keys 00 04 05", NULL);
    keyboard_close(&keyboard);
}

/* ---- layers ----------------------------------------------------------------------- */

#define LAYERS                                                                                 \
    BOARD9 "keymap k { host linux us\n"                                                        \
           "layer base { a b one; c d two; e one f }\n"                                        \
           "layer one { 1 2 .; 3 . two; . . -- }\n"                                            \
           "layer two { 5 . .; . 6 .; . . . } }\n"

static void key_comes_up_on_its_layer(void **state)
{
    (void)state;
    keyboard_open(&keyboard, LAYERS);
    press("r0c2"); /* one */
    press("r0c0"); /* 1 */
    release("r0c2");
    assert_reports(&keyboard, "keys 00 1E", NULL);
    press("r0c1"); /* b again */
    release("r0c0");
    release("r0c1");
    assert_reports(&keyboard, "keys 00 05 1E", "keys 00 05", "keys 00", NULL);
    keyboard_close(&keyboard);
}

static void later_layer_lies_above(void **state)
{
    (void)state;
    keyboard_open(&keyboard, LAYERS);
    press("r1c2"); /* two, then one on top of it */
    press("r0c2");
    assert_int_equal(keyboard.engine.layers.count, 3);
    assert_int_equal(keyboard.engine.layers.order[1], 2);
    assert_int_equal(keyboard.engine.layers.order[2], 1);
    press("r0c0");
    release("r0c0");
    assert_reports(&keyboard, "keys 00 1E", "keys 00", NULL); /* 1, not 5 */
    release("r0c2");
    press("r0c0");
    assert_reports(&keyboard, "keys 00 22", NULL); /* 5 */
    keyboard_close(&keyboard);
}

static void see_through_and_nothing(void **state)
{
    (void)state;
    keyboard_open(&keyboard, LAYERS);
    press("r0c2");
    press("r2c0"); /* see-through: e */
    release("r2c0");
    press("r2c2"); /* nothing on purpose */
    release("r2c2");
    assert_reports(&keyboard, "keys 00 08", "keys 00", NULL);
    keyboard_close(&keyboard);
}

static void two_keys_hold_one_layer(void **state)
{
    (void)state;
    keyboard_open(&keyboard, LAYERS);
    press("r0c2");
    press("r2c1"); /* see-through on layer one: the base's `one` */
    release("r0c2");
    press("r0c0");
    assert_reports(&keyboard, "keys 00 1E", NULL);
    release("r2c1");
    assert_int_equal(keyboard.engine.layers.count, 1);
    keyboard_close(&keyboard);
}

/* ---- chords ----------------------------------------------------------------------- */

static void shared_modifier_stays_until_the_last_lets_go(void **state)
{
    (void)state;
    keyboard_open(&keyboard, KEYMAP9("shift+a shift+b shift; shift ctrl+c d; '?' -- --"));
    press("r0c0");
    press("r0c1");
    release("r0c0");
    assert_reports(&keyboard, "keys 02 04", "keys 02 04 05", "keys 02 05", NULL);
    release("r0c1");
    press("r0c2"); /* two shift keys */
    press("r1c0");
    release("r0c2");
    assert_reports(&keyboard, "keys 00", "keys 02", NULL);
    release("r1c0");
    assert_reports(&keyboard, "keys 00", NULL);
    keyboard_close(&keyboard);
}

static void chord_keeps_its_modifiers_to_itself(void **state)
{
    (void)state;
    keyboard_open(&keyboard, KEYMAP9("'?' a shift; ctrl+c -- --; -- -- --"));
    press("r0c0"); /* '?' */
    press("r0c1"); /* a, unshifted */
    assert_reports(&keyboard, "keys 02 38", "keys 00 04 38", NULL);
    release("r0c0");
    release("r0c1");
    press("r0c2"); /* a real shift holds on */
    press("r0c1");
    assert_reports(&keyboard, "keys 00 04", "keys 00", "keys 02", "keys 02 04", NULL);
    keyboard_close(&keyboard);
}

static void same_key_twice_is_pressed_twice(void **state)
{
    (void)state;
    keyboard_open(&keyboard, KEYMAP9("c ctrl+c mute; mute click-left click-left; -- -- --"));
    press("r0c0");
    press("r0c1");
    assert_reports(&keyboard, "keys 00 06", "keys 00", NULL);
    keyboard_pass(&keyboard, 1);
    assert_reports(&keyboard, "keys 01 06", NULL);
    release("r0c0");
    release("r0c1");
    assert_reports(&keyboard, "keys 00", NULL);
    press("r0c2");
    press("r1c0");
    keyboard_pass(&keyboard, 1);
    assert_reports(&keyboard, "media 00E2", "media", "media 00E2", NULL);
    press("r1c1");
    press("r1c2");
    keyboard_pass(&keyboard, 1);
    assert_reports(&keyboard, "mouse 1 0 0", "mouse 0 0 0", "mouse 1 0 0", NULL);
    keyboard_close(&keyboard);
}

static void modifiers_of_a_click_go_first_and_leave_last(void **state)
{
    (void)state;
    keyboard_open(&keyboard,
                  KEYMAP9("ctrl+click-left ctrl+right-alt+x --; -- -- --; -- -- --"));
    press("r0c0");
    keyboard_pass(&keyboard, 2);
    release("r0c0");
    assert_reports(&keyboard, "keys 01", "mouse 1 0 0", "mouse 0 0 0", "keys 00", NULL);
    press("r0c1");
    assert_reports(&keyboard, "keys 41 1B", NULL);
    keyboard_close(&keyboard);
}

/* ---- reports ---------------------------------------------------------------------- */

static void every_kind_of_key_has_its_report(void **state)
{
    (void)state;
    keyboard_open(&keyboard, KEYMAP9("volume-up mute sleep; power-off click-right wheel-up;"
                                     "wheel-down wheel-left wheel-right"));
    press("r0c0");
    press("r0c1");
    release("r0c0");
    release("r0c1");
    assert_reports(&keyboard, "media 00E9", "media 00E9 00E2", "media 00E2", "media", NULL);
    press("r0c2");
    press("r1c0");
    release("r0c2");
    release("r1c0");
    assert_reports(&keyboard, "system 2", "system 3", "system 1", "system 0", NULL);
    press("r1c1");
    press("r1c2");
    release("r1c1");
    assert_reports(&keyboard, "mouse 2 0 0", "mouse 2 1 0", "mouse 0 0 0", NULL);
    release("r1c2");
    press("r2c0");
    press("r2c1");
    press("r2c2");
    assert_reports(&keyboard, "mouse 0 -1 0", "mouse 0 0 -1", "mouse 0 0 1", NULL);
    keyboard_close(&keyboard);
}

static void media_keys_beyond_four_wait(void **state)
{
    (void)state;
    keyboard_open(&keyboard,
                  KEYMAP9("mute volume-up volume-down; play-pause mail --; -- -- --"));
    press("r0c0");
    press("r0c1");
    press("r0c2");
    press("r1c0");
    press("r1c1");
    g_ptr_array_set_size(keyboard.reports, 0);
    release("r0c0");
    assert_reports(&keyboard, "media 00E9 00EA 00CD 018A", NULL);
    keyboard_close(&keyboard);
}

static void boot_protocol_says_rollover_beyond_six(void **state)
{
    static const char *const six[] = {"r0c0", "r0c1", "r0c2", "r1c0", "r1c1", "r1c2"};

    (void)state;
    keyboard_open(&keyboard, KEYMAP9(LETTERS));
    keyboard.port.boot_protocol = true;
    keyboard_pass(&keyboard, 2);
    g_ptr_array_set_size(keyboard.reports, 0);
    for (unsigned i = 0; i < 6; i++) {
        press(six[i]);
    }
    g_ptr_array_set_size(keyboard.reports, 0);
    press("r2c0");
    assert_reports(&keyboard, "boot 00 01 01 01 01 01 01", NULL);
    release("r0c0");
    assert_reports(&keyboard, "boot 00 05 06 07 08 09 0A", NULL);
    keyboard_close(&keyboard);
}

static void all_keys_at_once_in_report_protocol(void **state)
{
    char address[5] = "r0c0";

    (void)state;
    keyboard_open(&keyboard, KEYMAP9(LETTERS));
    for (address[1] = '0'; address[1] < '3'; address[1]++) {
        for (address[3] = '0'; address[3] < '3'; address[3]++) {
            press(address);
        }
    }
    g_ptr_array_remove_range(keyboard.reports, 0, 8);
    assert_reports(&keyboard, "keys 00 04 05 06 07 08 09 0A 0B 0C", NULL);
    keyboard_close(&keyboard);
}

static void held_keys_change_protocol_with_the_host(void **state)
{
    (void)state;
    keyboard_open(&keyboard, KEYMAP9("shift a b; -- -- --; -- -- --"));
    press("r0c0");
    press("r0c1");
    g_ptr_array_set_size(keyboard.reports, 0);
    keyboard.port.boot_protocol = true;
    keyboard_pass(&keyboard, 2);
    assert_reports(&keyboard, "boot 02 04", "keys 00", NULL);
    keyboard.port.boot_protocol = false;
    keyboard_pass(&keyboard, 2);
    assert_reports(&keyboard, "boot 00", "keys 02 04", NULL);
    keyboard_close(&keyboard);
}

static void repeat_sends_the_same_again(void **state)
{
    uint8_t report[UVK_REPORT_MAX];

    (void)state;
    keyboard_open(&keyboard, KEYMAP9(LETTERS));
    press("r0c0");
    uvk_engine_repeat(&keyboard.engine, UVK_REPORT_KEYS);
    keyboard_pass(&keyboard, 2);
    assert_reports(&keyboard, "keys 00 04", "keys 00 04", NULL);
    assert_int_equal(uvk_engine_report(&keyboard.engine, UVK_REPORT_BOOT, report), 8);
    assert_int_equal(uvk_engine_report(&keyboard.engine, UVK_REPORT_KEYS, report), 30);
    assert_int_equal(report[2], 0x10);
    assert_int_equal(uvk_engine_report(&keyboard.engine, UVK_REPORTS, report), 0);
    keyboard_close(&keyboard);
}

/* ---- a host that does not fetch ---------------------------------------------------- */

static void nothing_is_lost_while_the_host_is_away(void **state)
{
    (void)state;
    keyboard_open(&keyboard, KEYMAP9("a b shift; mute click-left c; -- -- --"));
    keyboard.host_fetches = false;
    press("r0c0");
    release("r0c0");
    press("r1c0");
    release("r1c0");
    press("r0c2");
    press("r0c1");
    release("r0c1");
    release("r0c2");
    press("r1c1");
    release("r1c1");
    assert_true(uvk_engine_busy(&keyboard.engine));
    keyboard.host_fetches = true;
    keyboard_pass(&keyboard, 20);
    assert_reports(&keyboard, "keys 00 04", "keys 00", "media 00E2", "media", "keys 02",
                   "keys 02 05", "keys 02", "keys 00", "mouse 1 0 0", "mouse 0 0 0", NULL);
    assert_true(uvk_engine_idle(&keyboard.engine));
    keyboard_close(&keyboard);
}

/* More events than the queue holds: what is still down when there is room is taken, and
 * no release is ever lost. */
static void full_queue_keeps_contacts_waiting(void **state)
{
    (void)state;
    keyboard_open(&keyboard, KEYMAP9(LETTERS));
    keyboard.host_fetches = false;
    for (unsigned i = 0; i < UVK_QUEUE; i++) {
        press("r0c0");
        release("r0c0");
    }
    assert_int_equal(keyboard.engine.queue.count, UVK_QUEUE);
    press("r2c2");
    keyboard.host_fetches = true;
    keyboard_pass(&keyboard, 200);
    assert_string_equal(g_ptr_array_index(keyboard.reports, keyboard.reports->len - 1),
                        "keys 00 0C");
    release("r2c2");
    assert_string_equal(g_ptr_array_index(keyboard.reports, keyboard.reports->len - 1),
                        "keys 00");
    assert_true(uvk_engine_idle(&keyboard.engine));
    keyboard_close(&keyboard);
}

static void unplugged_keyboard_keeps_its_events(void **state)
{
    (void)state;
    keyboard_open(&keyboard, KEYMAP9(LETTERS));
    keyboard.port.configured = false;
    keyboard_pass(&keyboard, 5);
    assert_false(keyboard.port.wants_wake);
    press("r0c0");
    assert_true(keyboard.port.wants_wake);
    keyboard.port.wants_wake = false;
    keyboard_pass(&keyboard, 50);
    assert_false(keyboard.port.wants_wake);
    assert_reports(&keyboard, NULL);
    keyboard.port.configured = true;
    keyboard_pass(&keyboard, 2);
    assert_reports(&keyboard, "keys 00 04", NULL);
    keyboard_close(&keyboard);
}

/* ---- clocks that wrap ---------------------------------------------------------------- */

/* The engine counts milliseconds in 16 bits: everything that waits works across the wrap,
 * and long ago is not taken for just now. */
static void waiting_works_across_the_wrap(void **state)
{
    (void)state;
    for (unsigned before = 1; before <= 260; before += 37) {
        keyboard_open(&keyboard,
                      BOARD9 "keymap k { host linux us\nset once-for 200ms\n"
                             "feel s { rest 100ms; again 100ms }\n"
                             "macro m1 { tap x; wait 150ms; tap y }\ncombo g+h -> z\n"
                             "layer base { a/shift b/shift ~s once:ctrl; m1 d e; g h i } }\n");
        keyboard_pass(&keyboard, 65535u - before);
        press("r0c0"); /* hold, by time */
        keyboard_pass(&keyboard, 205);
        assert_reports(&keyboard, "keys 02", NULL);
        release("r0c0");
        press("r1c0"); /* a macro that waits */
        release("r1c0");
        keyboard_pass(&keyboard, 200);
        assert_reports(&keyboard, "keys 00", "keys 00 1B", "keys 00", "keys 00 1C", "keys 00",
                       NULL);
        press("r0c2"); /* once, used up by the next key */
        release("r0c2");
        press("r1c1");
        release("r1c1");
        press("r0c2"); /* once, in vain */
        release("r0c2");
        keyboard_pass(&keyboard, 250);
        press("r1c1");
        release("r1c1");
        assert_reports(&keyboard, "keys 01 07", "keys 00", "keys 00 07", "keys 00", NULL);
        keyboard_close(&keyboard);
    }
}

static void long_ago_is_not_just_now(void **state)
{
    (void)state;
    keyboard_open(&keyboard, BOARD9 "keymap k { feel s { rest 100ms; again 100ms }\n"
                                    "layer base { a b/shift ~s c; d e f; g h i } }\n");
    press("r0c0");
    release("r0c0");
    press("r0c1"); /* no rest before it: a tap */
    release("r0c1");
    assert_reports(&keyboard, "keys 00 04", "keys 00", "keys 00 05", "keys 00", NULL);
    keyboard_pass(&keyboard, 65536u - 40u); /* nearly the same number of milliseconds */
    press("r0c1");
    keyboard_pass(&keyboard, 220);
    assert_reports(&keyboard, "keys 02", NULL);
    keyboard_close(&keyboard);
}

/* ---- the board -------------------------------------------------------------------- */

static void board_cells_reach_the_port(void **state)
{
    (void)state;
    keyboard_open(&keyboard, KEYMAP9("board:restart board:bootloader a; -- -- --; -- -- --"));
    press("r0c0");
    assert_true(keyboard.port.wants_restart);
    assert_false(keyboard.port.wants_bootloader);
    press("r0c1");
    assert_true(keyboard.port.wants_bootloader);
    assert_reports(&keyboard, NULL);
    keyboard.port.lamps = 2;
    assert_int_equal(uvk_port_lamps(&keyboard.port), 2);
    assert_int_equal(uvk_port_time(&keyboard.port), keyboard.port.time_us);
    keyboard_close(&keyboard);
}

/* A switch that the board file does not know is read, and does nothing. */
static void unknown_switch_does_nothing(void **state)
{
    (void)state;
    keyboard_open(&keyboard,
                  "board x { chip atmega32u4; matrix { rows B1 B2; cols F4 F5; flow col->row };"
                  "keys { r0c0 r1c1 } }\nkeymap k { layer base { a b } }");
    press("r0c1");
    release("r0c1");
    press("r1c1");
    assert_reports(&keyboard, "keys 00 05", NULL);
    keyboard_close(&keyboard);
}

/* A program that was compiled with another configuration has an engine of another size. */
static void engine_of_another_build_is_refused(void **state)
{
    struct uvk_engine engine;
    struct uvk_engine before;

    (void)state;
    memset(&engine, 0x5A, sizeof engine);
    before = engine;
    assert_int_equal(
        uvk_engine_start(&engine, sizeof engine - 1u, keyboard.image, keyboard.size, 0),
        UVK_OTHER_BUILD);
    assert_memory_equal(&engine, &before, sizeof engine);
}

static void bad_image_leaves_the_engine_alone(void **state)
{
    struct uvk_engine engine;
    uint8_t before[sizeof engine.image];

    (void)state;
    memset(&engine, 0x5A, sizeof engine);
    memcpy(before, &engine.image, sizeof before);
    assert_int_equal(uvk_engine_start(&engine, sizeof engine, (const uint8_t *)"UVKI", 4, 0),
                     UVK_BAD_LENGTH);
    assert_memory_equal(before, &engine.image, sizeof before);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(press_counts_at_the_first_contact),
        cmocka_unit_test(release_counts_after_the_debounce_time),
        cmocka_unit_test(noise_is_no_press),
        cmocka_unit_test(held_at_the_start_is_no_late_press),
        cmocka_unit_test(bouncing_types_once),
        cmocka_unit_test(each_key_is_debounced_by_itself),
        cmocka_unit_test(no_debounce_releases_at_once),
        cmocka_unit_test(time_may_wrap),
        cmocka_unit_test(keys_down_at_the_start_do_nothing),
        cmocka_unit_test(key_comes_up_on_its_layer),
        cmocka_unit_test(later_layer_lies_above),
        cmocka_unit_test(see_through_and_nothing),
        cmocka_unit_test(two_keys_hold_one_layer),
        cmocka_unit_test(shared_modifier_stays_until_the_last_lets_go),
        cmocka_unit_test(chord_keeps_its_modifiers_to_itself),
        cmocka_unit_test(same_key_twice_is_pressed_twice),
        cmocka_unit_test(modifiers_of_a_click_go_first_and_leave_last),
        cmocka_unit_test(every_kind_of_key_has_its_report),
        cmocka_unit_test(media_keys_beyond_four_wait),
        cmocka_unit_test(boot_protocol_says_rollover_beyond_six),
        cmocka_unit_test(all_keys_at_once_in_report_protocol),
        cmocka_unit_test(held_keys_change_protocol_with_the_host),
        cmocka_unit_test(repeat_sends_the_same_again),
        cmocka_unit_test(nothing_is_lost_while_the_host_is_away),
        cmocka_unit_test(full_queue_keeps_contacts_waiting),
        cmocka_unit_test(unplugged_keyboard_keeps_its_events),
        cmocka_unit_test(waiting_works_across_the_wrap),
        cmocka_unit_test(long_ago_is_not_just_now),
        cmocka_unit_test(board_cells_reach_the_port),
        cmocka_unit_test(unknown_switch_does_nothing),
        cmocka_unit_test(engine_of_another_build_is_refused),
        cmocka_unit_test(bad_image_leaves_the_engine_alone),
    };
    return cmocka_run_group_tests_name("engine", tests, NULL, NULL);
}
