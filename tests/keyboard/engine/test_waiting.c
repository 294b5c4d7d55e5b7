/* Dances, leader sequences and combos while the host does not fetch, when the queue is full,
 * when clocks wrap: nothing is lost, nothing is held for ever. */
#include "keyboard.h"

#include <string.h>

#define DANCING                                                                                \
    BOARD9                                                                                     \
    "keymap k { host linux us\n"                                                               \
    "dance d1 { tap -> 1; hold -> shift; tap tap -> 2; tap tap tap -> 3; within 100ms }\n"     \
    "leader { within 300ms; a b -> x; a b c -> y; c -> nav }\n"                                \
    "combo d+e -> esc\n"                                                                       \
    "layer base { a b c; d e f; d1 leader g }\nlayer nav { 7 . .; . . .; . . . } }\n"

static void tap(struct keyboard *keyboard, const char *address)
{
    keyboard_contact(keyboard, address, true);
    keyboard_pass(keyboard, 20);
    keyboard_contact(keyboard, address, false);
    keyboard_pass(keyboard, 20);
}

static void a_dance_waits_for_the_host(void **state)
{
    static struct keyboard keyboard;

    (void)state;
    keyboard_open(&keyboard, DANCING);
    keyboard.host_fetches = false;
    tap(&keyboard, "r2c0");
    tap(&keyboard, "r2c0");
    keyboard_pass(&keyboard, 200);
    keyboard.host_fetches = true;
    keyboard_pass(&keyboard, 20);
    assert_reports(&keyboard, "keys 00 1F", "keys 00", NULL);
    assert_true(uvk_engine_idle(&keyboard.engine));
    keyboard_close(&keyboard);
}

static void counting_keeps_the_keyboard_busy(void **state)
{
    static struct keyboard keyboard;

    (void)state;
    keyboard_open(&keyboard, DANCING);
    tap(&keyboard, "r2c0");
    assert_true(uvk_engine_busy(&keyboard.engine));
    keyboard_pass(&keyboard, 120);
    assert_false(uvk_engine_busy(&keyboard.engine));
    assert_reports(&keyboard, "keys 00 1E", "keys 00", NULL);
    tap(&keyboard, "r2c1");
    assert_true(uvk_engine_busy(&keyboard.engine));
    keyboard_pass(&keyboard, 320);
    assert_false(uvk_engine_busy(&keyboard.engine));
    keyboard_close(&keyboard);
}

/* More keys than the queue has room for, while a dance is undecided. */
static void a_full_queue_decides_the_dance(void **state)
{
    static struct keyboard keyboard;

    (void)state;
    keyboard_open(&keyboard,
                  BOARD9 "keymap k { host linux us\nfeel default { hold-after 20s }\n"
                         "dance d1 { tap -> 1; hold -> shift }\n"
                         "layer base { a b c; d e f; d1 h g } }\n");
    keyboard_contact(&keyboard, "r2c0", true);
    keyboard_pass(&keyboard, 5);
    for (unsigned i = 0; i < 20; i++) {
        tap(&keyboard, i % 2 == 0 ? "r0c0" : "r0c1");
    }
    keyboard_pass(&keyboard, 50);
    assert_string_equal(g_ptr_array_index(keyboard.reports, 0), "keys 02");
    assert_string_equal(g_ptr_array_index(keyboard.reports, 1), "keys 02 04");
    keyboard_contact(&keyboard, "r2c0", false);
    keyboard_pass(&keyboard, 50);
    assert_string_equal(g_ptr_array_index(keyboard.reports, keyboard.reports->len - 1),
                        "keys 00");
    keyboard_close(&keyboard);
}

/* Six keys of a sequence are twelve events; the seventh and on are typed. */
static void the_leader_and_a_full_queue(void **state)
{
    static struct keyboard keyboard;

    (void)state;
    keyboard_open(&keyboard,
                  BOARD9 "keymap k { host linux us\nleader { within 30s; a a a a a a -> "
                         "x; a a a a a b -> y }\n"
                         "layer base { a b c; d e f; h leader g } }\n");
    tap(&keyboard, "r2c1");
    for (unsigned i = 0; i < 6; i++) {
        tap(&keyboard, "r0c0");
    }
    assert_reports(&keyboard, "keys 00 1B", "keys 00", NULL);
    tap(&keyboard, "r2c1");
    for (unsigned i = 0; i < 5; i++) {
        tap(&keyboard, "r0c0");
    }
    tap(&keyboard, "r0c2"); /* fits nothing: all of it is typed */
    keyboard_pass(&keyboard, 60);
    assert_reports(&keyboard, "keys 00 04", "keys 00", "keys 00 04", "keys 00", "keys 00 04",
                   "keys 00", "keys 00 04", "keys 00", "keys 00 04", "keys 00", "keys 00 06",
                   "keys 00", NULL);
    keyboard_close(&keyboard);
}

/* A key of the sequence is still down when the sequence acts; it comes up as nothing. */
static void keys_of_a_sequence_may_overlap(void **state)
{
    static struct keyboard keyboard;

    (void)state;
    keyboard_open(&keyboard, DANCING);
    tap(&keyboard, "r2c1");
    keyboard_contact(&keyboard, "r0c0", true);
    keyboard_pass(&keyboard, 10);
    keyboard_contact(&keyboard, "r0c1", true);
    keyboard_pass(&keyboard, 10);
    keyboard_contact(&keyboard, "r0c2", true);
    keyboard_pass(&keyboard, 10);
    assert_reports(&keyboard, "keys 00 1C", NULL); /* y */
    keyboard_contact(&keyboard, "r0c0", false);
    keyboard_contact(&keyboard, "r0c1", false);
    keyboard_pass(&keyboard, 20);
    assert_reports(&keyboard, NULL);
    keyboard_contact(&keyboard, "r0c2", false);
    keyboard_pass(&keyboard, 20);
    assert_reports(&keyboard, "keys 00", NULL);
    keyboard_close(&keyboard);
}

/* A combo begins while a dance is being counted: the dance is done first. */
static void a_combo_ends_a_dance(void **state)
{
    static struct keyboard keyboard;

    (void)state;
    keyboard_open(&keyboard, DANCING);
    tap(&keyboard, "r2c0");
    keyboard_contact(&keyboard, "r1c0", true);
    keyboard_pass(&keyboard, 5);
    keyboard_contact(&keyboard, "r1c1", true);
    keyboard_pass(&keyboard, 30);
    assert_reports(&keyboard, "keys 00 1E", "keys 00", "keys 00 29", NULL);
    keyboard_contact(&keyboard, "r1c0", false);
    keyboard_contact(&keyboard, "r1c1", false);
    keyboard_pass(&keyboard, 30);
    assert_reports(&keyboard, "keys 00", NULL);
    keyboard_close(&keyboard);
}

/* The 16-bit clock wraps in the middle of a dance, and of a sequence. */
static void clocks_wrap(void **state)
{
    static struct keyboard keyboard;

    (void)state;
    for (unsigned before = 10; before <= 90; before += 20) {
        keyboard_open(&keyboard, DANCING);
        while (keyboard.engine.now != (uint16_t)(65536u - before)) {
            keyboard_pass(&keyboard, 1);
        }
        tap(&keyboard, "r2c0");
        tap(&keyboard, "r2c0");
        tap(&keyboard, "r2c0");
        assert_reports(&keyboard, "keys 00 20", "keys 00", NULL);
        keyboard_close(&keyboard);
        keyboard_open(&keyboard, DANCING);
        while (keyboard.engine.now != (uint16_t)(65536u - before)) {
            keyboard_pass(&keyboard, 1);
        }
        tap(&keyboard, "r2c1");
        tap(&keyboard, "r0c0");
        tap(&keyboard, "r0c1");
        keyboard_pass(&keyboard, 320);
        assert_reports(&keyboard, "keys 00 1B", "keys 00", NULL);
        keyboard_close(&keyboard);
    }
}

/* A combo is one up to its last millisecond, and no longer. */
static void the_last_millisecond_of_a_combo(void **state)
{
    static struct keyboard keyboard;

    (void)state;
    for (unsigned apart = 39; apart <= 42; apart++) {
        keyboard_open(&keyboard, DANCING);
        keyboard_pass(&keyboard, 3);
        keyboard_contact(&keyboard, "r1c0", true);
        keyboard_pass(&keyboard, apart);
        keyboard_contact(&keyboard, "r1c1", true);
        keyboard_pass(&keyboard, 5);
        if (apart <= 40) {
            assert_reports(&keyboard, "keys 00 29", NULL);
        } else {
            assert_reports(&keyboard, "keys 00 07", NULL);
        }
        keyboard_close(&keyboard);
    }
}

#define RESTING                                                                                \
    BOARD9                                                                                     \
    "keymap k { host linux us\n"                                                               \
    "feel calm { rest 120ms }\nfeel soon { again 150ms; hold-after 100ms }\n"                  \
    "layer base { a/ctrl~calm b c; d/alt~soon e f; g h i } }\n"

/* A rest is one from its last millisecond on; a press just before makes a tap at once. */
static void the_last_millisecond_of_a_rest(void **state)
{
    static struct keyboard keyboard;

    (void)state;
    for (unsigned apart = 118; apart <= 122; apart++) {
        keyboard_open(&keyboard, RESTING);
        keyboard_pass(&keyboard, 3);
        keyboard_contact(&keyboard, "r0c1", true);
        keyboard_pass(&keyboard, 20);
        keyboard_contact(&keyboard, "r0c1", false);
        keyboard_pass(&keyboard, apart - 20);
        keyboard_contact(&keyboard, "r0c0", true);
        keyboard_pass(&keyboard, 20);
        if (apart < 120) {
            assert_reports(&keyboard, "keys 00 05", "keys 00", "keys 00 04", NULL);
        } else {
            assert_reports(&keyboard, "keys 00 05", "keys 00", NULL);
        }
        keyboard_close(&keyboard);
    }
}

/* Pressed again: a tap at once, up to the last millisecond. */
static void the_last_millisecond_of_again(void **state)
{
    static struct keyboard keyboard;

    (void)state;
    for (unsigned apart = 148; apart <= 152; apart++) {
        keyboard_open(&keyboard, RESTING);
        keyboard_pass(&keyboard, 3);
        keyboard_contact(&keyboard, "r1c0", true);
        keyboard_pass(&keyboard, 30);
        keyboard_contact(&keyboard, "r1c0", false);
        keyboard_pass(&keyboard, 5 + apart); /* the release counts 5 ms after the contact */
        assert_reports(&keyboard, "keys 00 07", "keys 00", NULL);
        keyboard_contact(&keyboard, "r1c0", true);
        keyboard_pass(&keyboard, 20);
        if (apart < 150) {
            assert_reports(&keyboard, "keys 00 07", NULL);
        } else {
            assert_reports(&keyboard, NULL);
        }
        keyboard_close(&keyboard);
    }
}

/* 65.5 seconds later the 16-bit clock shows the same again: what was then is long forgotten. */
static void what_was_a_minute_ago_is_forgotten(void **state)
{
    static struct keyboard keyboard;

    (void)state;
    for (unsigned later = 65400; later <= 65640; later += 20) {
        keyboard_open(&keyboard, RESTING);
        tap(&keyboard, "r0c1"); /* another key, then the key itself */
        keyboard_pass(&keyboard, 200);
        tap(&keyboard, "r0c0");
        keyboard_pass(&keyboard, 200);
        g_ptr_array_set_size(keyboard.reports, 0);
        keyboard_pass(&keyboard, later - 480);
        keyboard_contact(&keyboard, "r0c0", true);
        keyboard_pass(&keyboard, 20);
        assert_reports(&keyboard, NULL);
        keyboard_close(&keyboard);
        keyboard_open(&keyboard, RESTING); /* another key long ago, its own just now */
        tap(&keyboard, "r0c1");
        for (unsigned i = 0; i < 8; i++) {
            keyboard_pass(&keyboard, (later - 8 * 40 - 40) / 8);
            tap(&keyboard, "r0c0");
        }
        keyboard_pass(&keyboard, (later - 8 * 40 - 40) % 8);
        g_ptr_array_set_size(keyboard.reports, 0);
        keyboard_contact(&keyboard, "r0c0", true);
        keyboard_pass(&keyboard, 20);
        assert_reports(&keyboard, NULL);
        keyboard_close(&keyboard);
        keyboard_open(&keyboard, RESTING); /* its own tap */
        tap(&keyboard, "r1c0");
        keyboard_pass(&keyboard, 200);
        g_ptr_array_set_size(keyboard.reports, 0);
        keyboard_pass(&keyboard, later - 220);
        keyboard_contact(&keyboard, "r1c0", true);
        keyboard_pass(&keyboard, 20);
        assert_reports(&keyboard, NULL);
        keyboard_close(&keyboard);
    }
}

/* Busy: something will come without another contact. Idle: nothing is held either. */
static void busy_and_idle(void **state)
{
    static struct keyboard keyboard;

    (void)state;
    keyboard_open(&keyboard,
                  BOARD9 "keymap k { host linux us\nmacro slow { tap 1; wait 50ms; tap 2 }\n"
                         "layer base { a/ctrl b slow; d e f; g h i } }\n");
    assert_true(uvk_engine_idle(&keyboard.engine));
    keyboard_contact(&keyboard, "r0c1", true);
    keyboard_pass(&keyboard, 10);
    assert_false(uvk_engine_busy(&keyboard.engine));
    assert_false(uvk_engine_idle(&keyboard.engine)); /* b is down */
    keyboard_contact(&keyboard, "r0c1", false);
    keyboard_pass(&keyboard, 10);
    assert_true(uvk_engine_idle(&keyboard.engine));
    keyboard_contact(&keyboard, "r0c0", true);
    keyboard_pass(&keyboard, 10);
    assert_true(uvk_engine_busy(&keyboard.engine)); /* undecided */
    keyboard_contact(&keyboard, "r0c0", false);
    keyboard_pass(&keyboard, 10);
    keyboard_contact(&keyboard, "r0c2", true);
    keyboard_pass(&keyboard, 30);
    assert_true(uvk_engine_busy(&keyboard.engine)); /* the macro waits */
    keyboard_contact(&keyboard, "r0c2", false);
    keyboard_pass(&keyboard, 60);
    assert_true(uvk_engine_idle(&keyboard.engine));
    keyboard.host_fetches = false;
    keyboard_contact(&keyboard, "r0c1", true);
    keyboard_pass(&keyboard, 10);
    keyboard_contact(&keyboard, "r0c1", false);
    keyboard_pass(&keyboard, 10);
    assert_true(uvk_engine_busy(&keyboard.engine)); /* a report has to be fetched */
    keyboard_close(&keyboard);
}

/* A host that does not fetch loses movement beyond what a report holds, and no more. */
static void movement_that_nobody_fetches(void **state)
{
    static const char *const addresses[] = {"r0c0", "r0c1", "r0c2", "r1c0"};
    static const int8_t ways[][2] = {{127, 0}, {-127, 0}, {0, 127}, {0, -127}};
    static struct keyboard keyboard;

    (void)state;
    for (unsigned i = 0; i < 4; i++) {
        uint8_t report[UVK_REPORT_MAX];
        keyboard_open(&keyboard, BOARD9 "keymap k { host linux us\n"
                                        "layer base { point-right point-left point-down\n"
                                        "point-up e f; g h i } }\n");
        keyboard.host_fetches = false;
        keyboard_contact(&keyboard, addresses[i], true);
        keyboard_pass(&keyboard, 2000);
        assert_int_equal(uvk_engine_report(&keyboard.engine, UVK_REPORT_MOUSE, report), 6);
        assert_int_equal((int8_t)report[2], ways[i][0]);
        assert_int_equal((int8_t)report[3], ways[i][1]);
        keyboard_close(&keyboard);
    }
}

/* A millisecond of the port is one of the engine, however many have passed. */
static void clocks_agree(void **state)
{
    static struct keyboard keyboard;

    (void)state;
    keyboard_open(&keyboard, RESTING);
    for (unsigned passes = 1; passes < 3000; passes++) {
        assert_int_equal(keyboard.engine.now, passes);
        keyboard_pass(&keyboard, 1);
    }
    keyboard_close(&keyboard);
}

/* A leader sequence that opens a layer: as long as its last key is down. */
static void a_sequence_holds_a_layer(void **state)
{
    static struct keyboard keyboard;

    (void)state;
    keyboard_open(&keyboard, DANCING);
    tap(&keyboard, "r2c1");
    keyboard_contact(&keyboard, "r0c2", true);
    keyboard_pass(&keyboard, 10);
    assert_int_equal(keyboard.engine.layers.count, 2);
    tap(&keyboard, "r0c0");
    keyboard_contact(&keyboard, "r0c2", false);
    keyboard_pass(&keyboard, 20);
    assert_int_equal(keyboard.engine.layers.count, 1);
    assert_reports(&keyboard, "keys 00 24", "keys 00", NULL);
    keyboard_close(&keyboard);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(a_dance_waits_for_the_host),
        cmocka_unit_test(counting_keeps_the_keyboard_busy),
        cmocka_unit_test(a_full_queue_decides_the_dance),
        cmocka_unit_test(the_leader_and_a_full_queue),
        cmocka_unit_test(keys_of_a_sequence_may_overlap),
        cmocka_unit_test(a_combo_ends_a_dance),
        cmocka_unit_test(clocks_wrap),
        cmocka_unit_test(a_sequence_holds_a_layer),
        cmocka_unit_test(the_last_millisecond_of_a_combo),
        cmocka_unit_test(busy_and_idle),
        cmocka_unit_test(clocks_agree),
        cmocka_unit_test(movement_that_nobody_fetches),
        cmocka_unit_test(the_last_millisecond_of_a_rest),
        cmocka_unit_test(the_last_millisecond_of_again),
        cmocka_unit_test(what_was_a_minute_ago_is_forgotten),
    };
    return cmocka_run_group_tests_name("waiting", tests, NULL, NULL);
}
