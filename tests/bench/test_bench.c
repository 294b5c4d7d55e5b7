/* The bench: current, bouncing, report descriptors, the host, plays. */
#include "support.h"

#include "uvrek/electric.h"
#include "uvrek/engine.h"

#include <string.h>

/* ---- current ------------------------------------------------------------------------ */

#define LATER 1000000u

/* A driver of 100 Ohm, a pull of 50 kOhm, 100 pF; low and high at a third of the supply. */
static struct uvk_electric *new_net(unsigned pins)
{
    const struct uvk_levels levels = {100, 50000, 333, 667};

    return uvk_electric_new(pins, &levels, 100, 1);
}

static void pulled_pin_reads_what_pulls_it(void **state)
{
    struct uvk_electric *net = new_net(3);
    unsigned ones = 0;

    (void)state;
    uvk_electric_drive(net, 0, UVK_PULL_UP, 0);
    uvk_electric_drive(net, 1, UVK_PULL_DOWN, 0);
    assert_true(uvk_electric_read(net, 0, LATER));
    assert_false(uvk_electric_read(net, 1, LATER));
    for (unsigned i = 0; i < 1000; i++) {
        ones += uvk_electric_read(net, 2, LATER); /* floating: noise */
    }
    assert_in_range(ones, 300, 700);
    uvk_electric_free(net);
}

static void diode_lets_low_through_one_way(void **state)
{
    struct uvk_electric *net = new_net(2);
    unsigned contact = uvk_electric_add(net, 0, 1, UVK_A_TO_B);

    (void)state;
    uvk_electric_contact(net, contact, true, 0);
    uvk_electric_drive(net, 0, UVK_PULL_UP, 0);
    uvk_electric_drive(net, 1, UVK_DRIVE_LOW, 0);
    assert_false(uvk_electric_read(net, 0, LATER));
    uvk_electric_drive(net, 1, UVK_PULL_UP, LATER);
    uvk_electric_drive(net, 0, UVK_DRIVE_LOW, LATER);
    assert_true(uvk_electric_read(net, 1, 2 * LATER)); /* against the diode */
    uvk_electric_drive(net, 0, UVK_DRIVE_HIGH, 2 * LATER);
    uvk_electric_drive(net, 1, UVK_PULL_DOWN, 2 * LATER);
    assert_true(uvk_electric_read(net, 1, 3 * LATER));
    assert_int_equal(uvk_electric_shorts(net), 0);
    uvk_electric_drive(net, 1, UVK_DRIVE_LOW, 3 * LATER);
    assert_true(uvk_electric_shorts(net) > 0);
    uvk_electric_free(net);
}

static void levels_take_their_time(void **state)
{
    struct uvk_electric *net = new_net(2);
    unsigned contact = uvk_electric_add(net, 0, 1, UVK_NO_DIODE);

    (void)state;
    uvk_electric_contact(net, contact, true, 0);
    uvk_electric_drive(net, 0, UVK_PULL_UP, 0);
    uvk_electric_drive(net, 1, UVK_DRIVE_LOW, LATER);
    /* R C ln 3, of two wires: 22 ns */
    assert_true(uvk_electric_read(net, 0, LATER + 20));
    assert_false(uvk_electric_read(net, 0, LATER + 23));
    uvk_electric_drive(net, 1, UVK_PULL_UP, 2 * LATER);
    /* 5493 ns, whatever is joined: each wire has its own pull */
    assert_false(uvk_electric_read(net, 0, 2 * LATER + 5480));
    assert_true(uvk_electric_read(net, 0, 2 * LATER + 5510));
    uvk_electric_free(net);
}

/* ---- wiring, seen from the keyboard --------------------------------------------------- */

static const char *const three_corners = "down r0c0\ndown r0c1\ndown r1c0\nwait 30ms";

static void ghost_appears_without_diodes(void **state)
{
    const struct uvk_wrong wrong = {.kind = UVK_WRONG_BRIDGED};
    struct uvk_rig_options options = {.seed = 1, .wrongs = &wrong, .wrong_count = 1};
    struct desk desk;

    (void)state;
    desk_open(&desk, KEYMAP9("a b c; d e f; g h i"), &options);
    desk_do(&desk, three_corners);
    desk_do(&desk, "expect held a b d e"); /* nobody presses e */
    desk_close(&desk);
}

static void no_ghost_with_diodes(void **state)
{
    struct desk desk;

    (void)state;
    desk_open(&desk, KEYMAP9("a b c; d e f; g h i"), NULL);
    desk_do(&desk, three_corners);
    desk_do(&desk, "expect held a b d");
    desk_close(&desk);
}

static void reversed_diodes_type_nothing(void **state)
{
    const struct uvk_wrong wrong = {.kind = UVK_WRONG_DIODES};
    struct uvk_rig_options options = {.seed = 1, .wrongs = &wrong, .wrong_count = 1};
    struct desk desk;

    (void)state;
    desk_open(&desk, KEYMAP9("a b c; d e f; g h i"), &options);
    desk_do(&desk, "tap a\ntap e\nexpect keys nothing");
    desk_close(&desk);
}

/* What a finger does on a board with a fault, on a board of nine keys. */
static void each_fault_does_what_it_says(void **state)
{
    static const struct {
        const char *fault, *steps;
    } faults[] = {
        {"swap c0 c1", "tap r0c0\ntap r1c1\nexpect text \"bd\""},
        {"swap B1 B2", "tap r0c0\ntap r2c1\nexpect text \"gb\""},
        {"swap r0 c0", "tap r1c1\ntap r0c0\nexpect text \"e\""},
        {"open r1", "tap r0c0\ntap r1c0\nexpect text \"a\""},
        {"short c0 c1", "down r0c0\nexpect held a b\nup r0c0\ndown r1c2\nexpect held f"},
        {"diode r1c1", "tap r1c0\ntap r1c1\nexpect text \"d\""},
        {"chatter r0c0", "tap r0c0\ntap r0c1\nexpect text \"aab\""},
        {"dead r2c1", "tap r2c1\ntap r2c2\nexpect text \"i\""},
        {"stuck r2c1", "tap r2c1\ntap r2c2\nexpect text \"i\""},
    };

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(faults); i++) {
        struct uvk_program *program = good_program(BOARD9);
        struct uvk_wrong wrong;
        struct uvk_rig_options options = {.seed = 1, .wrongs = &wrong, .wrong_count = 1};
        struct desk desk;
        assert_true(uvk_wrong_read(program->board, faults[i].fault, &wrong, NULL));
        desk_open(&desk, KEYMAP9("a b c; d e f; g h i"), &options);
        desk_do(&desk, faults[i].steps);
        desk_close(&desk);
        uvk_program_free(program);
    }
}

static void faults_that_there_are_not_are_refused(void **state)
{
    static const char *const texts[] = {
        "",         "swap",         "swap c0",    "swap c0 c9",    "dead r9c9", "halves",
        "knob jog", "open left.c0", "diodes all", "swap c0 c1 c2", "SWAP c0 c1"};
    struct uvk_program *program = good_program(BOARD9);

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(texts); i++) {
        struct uvk_wrong wrong;
        GError *error = NULL;
        assert_false(uvk_wrong_read(program->board, texts[i], &wrong, &error));
        assert_non_null(error);
        g_error_free(error);
    }
    uvk_program_free(program);
}

static void both_flows_and_none_work(void **state)
{
    static const char *const flows[] = {"row->col", "col->row", "none"};

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(flows); i++) {
        char **parts = g_strsplit(KEYMAP9("a b c; d e f; g h i"), "row->col", 2);
        char *text = g_strjoinv(flows[i], parts);
        struct desk desk;
        desk_open(&desk, text, NULL);
        desk_do(&desk, "tap a\ntap f\ntap h\nexpect text \"afh\"");
        desk_close(&desk);
        g_free(text);
        g_strfreev(parts);
    }
}

static void no_bouncing_types_twice(void **state)
{
    (void)state;
    for (uint32_t seed = 1; seed <= 200; seed++) {
        struct uvk_rig_options options = {.seed = seed, .bounce = 4000};
        struct desk desk;
        desk_open(&desk, KEYMAP9("a b c; d e f; g h i"), &options);
        desk_do(&desk, "tap a\ntap b\ntap a\ntap a\nexpect text \"abaa\"\nexpect held nothing");
        desk_close(&desk);
    }
}

/* A contact that chatters longer than the debounce time does type twice. */
static void bouncing_longer_than_the_debounce_time_shows(void **state)
{
    unsigned doubled = 0;

    (void)state;
    for (uint32_t seed = 1; seed <= 100; seed++) {
        struct uvk_rig_options options = {.seed = seed, .bounce = 30000};
        struct desk desk;
        char *text;
        desk_open(&desk,
                  "board x { chip atmega32u4; matrix { rows B1; cols F4; flow row->col\n"
                  "debounce 0ms }; keys { r0c0 } }\nkeymap k { layer base { a } }",
                  &options);
        desk_do(&desk, "tap a for 100ms\nwait 100ms");
        text = uvk_host_take_text(uvk_rig_host(desk.rig));
        doubled += strlen(text) > 1;
        g_free(text);
        desk_close(&desk);
    }
    assert_true(doubled > 50);
}

/* ---- report descriptors ----------------------------------------------------------------- */

static void own_descriptors_are_understood(void **state)
{
    const char *why = NULL;
    uint16_t size;
    uvk_image_bytes bytes = uvk_report_descriptor(0, &size);
    struct uvk_hid *hid = uvk_hid_parse(bytes, size, &why);
    const struct uvk_hid_field *mods;

    (void)state;
    assert_non_null(hid);
    assert_false(hid->has_ids);
    mods = &g_array_index(hid->fields, struct uvk_hid_field, 0);
    assert_int_equal(mods->application, 0x06);
    assert_int_equal(mods->count, 8);
    assert_int_equal(mods->usages[7], 0xE7);
    uvk_hid_free(hid);
    bytes = uvk_report_descriptor(1, &size);
    hid = uvk_hid_parse(bytes, size, &why);
    assert_non_null(hid);
    assert_true(hid->has_ids);
    uvk_hid_free(hid);
}

/* HID 1.11, 6.2.2.5: an array says which are down; that it is relative changes nothing. */
static void relative_array_is_an_array(void **state)
{
    static const uint8_t descriptor[] = {0x05, 0x07, 0x09, 0x06, 0xA1, 0x01, 0x05, 0x07,
                                         0x19, 0x00, 0x29, 0x65, 0x15, 0x00, 0x25, 0x65,
                                         0x75, 0x08, 0x95, 0x02, 0x81, 0x04, 0xC0};
    static const uint8_t reports[][2] = {{0x04, 0x00}, {0x00, 0x00}, {0xFF, 0xFF}};
    struct uvk_layout *layout = uvk_layout_load(UVK_LINUX, "us");
    struct uvk_host *host = uvk_host_new(layout, false);
    const char *why;
    char *text;

    (void)state;
    assert_true(uvk_host_describe(host, 0, descriptor, sizeof descriptor, &why));
    for (size_t i = 0; i < G_N_ELEMENTS(reports); i++) {
        assert_true(uvk_host_report(host, 0, reports[i], sizeof reports[i], i));
    }
    text = uvk_host_take_text(host);
    assert_string_equal(text, "a");
    g_free(text);
    uvk_host_free(host);
    uvk_layout_free(layout);
}

static void broken_descriptors_are_refused(void **state)
{
    static const struct {
        uint8_t bytes[12];
        size_t size;
        const char *why;
    } broken[] = {
        {{0x05}, 1, "the last item is cut"},
        {{0xA1, 0x01}, 2, "a collection never ends"},
        {{0xC0}, 1, "a collection ends that never began"},
        {{0x81, 0x02}, 2, "a field outside every collection"},
        {{0xA1, 0x01, 0xC0}, 3, "it describes no report"},
        {{0xA1, 0x01, 0x75, 0x40, 0x81, 0x02, 0xC0}, 7, "a field is too large"},
        {{0x85, 0x00}, 2, "a report id out of range"},
        {{0xF0}, 1, "an unknown main item"},
    };

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(broken); i++) {
        const char *why = NULL;
        assert_null(uvk_hid_parse(broken[i].bytes, broken[i].size, &why));
        assert_string_equal(why, broken[i].why);
    }
}

/* Any bytes are parsed or refused, within their bounds. */
static void random_descriptors_do_no_harm(void **state)
{
    GRand *random = g_rand_new_with_seed(7);
    unsigned parsed = 0;

    (void)state;
    for (int round = 0; round < 20000; round++) {
        uint16_t size;
        uvk_image_bytes own = uvk_report_descriptor(1, &size);
        uint8_t *bytes = g_memdup2(own, size);
        const char *why = NULL;
        struct uvk_hid *hid;
        for (int flips = g_rand_int_range(random, 1, 6); flips > 0; flips--) {
            bytes[g_rand_int_range(random, 0, size)] =
                (uint8_t)g_rand_int_range(random, 0, 256);
        }
        hid = uvk_hid_parse(bytes, (size_t)g_rand_int_range(random, 0, size + 1), &why);
        parsed += hid != NULL;
        assert_true((hid != NULL) == (why == NULL));
        uvk_hid_free(hid);
        g_free(bytes);
    }
    assert_true(parsed > 0);
    g_rand_free(random);
}

static void reports_that_do_not_fit_are_refused(void **state)
{
    struct uvk_layout *layout = uvk_layout_load(UVK_LINUX, "us");
    struct uvk_host *host = uvk_host_new(layout, false);
    uint8_t report[8] = {0};
    const char *why = NULL;
    uint16_t size;
    uvk_image_bytes bytes = uvk_report_descriptor(0, &size);

    (void)state;
    assert_false(uvk_host_report(host, 0, report, sizeof report, 0)); /* not described yet */
    assert_true(uvk_host_describe(host, 0, bytes, size, &why));
    assert_true(uvk_host_report(host, 0, report, 8, 0));
    assert_false(uvk_host_report(host, 0, report, 7, 0));
    assert_false(uvk_host_report(host, 9, report, 8, 0));
    assert_false(uvk_host_describe(host, 9, bytes, size, &why));
    uvk_host_free(host);
    uvk_layout_free(layout);
}

/* ---- the host --------------------------------------------------------------------------- */

static void boot_keyboard_reaches_the_host(void **state)
{
    struct uvk_rig_options options = {.seed = 1, .boot_protocol = true};
    struct desk desk;

    (void)state;
    desk_open(&desk, KEYMAP9("a b c; d e f; g shift i"), &options);
    desk_do(&desk, "down shift\ntap a\nup shift\ntap b\nexpect text \"Ab\"");
    /* seven keys: rollover, and the host keeps to what it knew */
    desk_do(&desk, "down a\ndown b\ndown c\ndown d\ndown e\ndown f\nwait 20ms\ndown g\n"
                   "wait 20ms\nexpect held a b c d e f");
    desk_close(&desk);
}

static void modifiers_stand_alone_only_when_nothing_else_is_pressed(void **state)
{
    (void)state;
    plays_pass(KEYMAP9(
        "shift ctrl a; ctrl+shift gui+l mute; -- -- --") "play \"alone\" { tap shift; expect "
                                                         "keys shift }\n"
                                                         "play \"with a key\" { down shift; "
                                                         "tap a; up shift; expect keys shift+a "
                                                         "}\n"
                                                         "play \"both\" { tap ctrl+shift; "
                                                         "expect keys ctrl+shift }\n"
                                                         "play \"media counts\" { down ctrl; "
                                                         "tap mute; up ctrl; expect keys "
                                                         "ctrl+mute }\n"
                                                         "play \"chord\" { tap gui+l; expect "
                                                         "keys gui+l }\n"
                                                         "play \"still down\" { down shift; "
                                                         "expect keys shift; expect held shift "
                                                         "}\n"
                                                         "play \"nothing\" { expect keys "
                                                         "nothing; expect held nothing; expect "
                                                         "text \"\" "
                                                         "}\n");
}

static void failing_expectation_shows_both_sides(void **state)
{
    struct desk desk;
    struct uvk_outcome outcome;

    (void)state;
    desk_open(
        &desk,
        KEYMAP9("a b c; d e f; g h i") "play \"x\" { tap a; tap b; expect text \"ac\" }\n",
        NULL);
    assert_int_equal(uvk_play_run(desk.program, desk.rig, desk.program->plays, &outcome, NULL),
                     0);
    assert_string_equal(outcome.expected, "\"ac\"");
    assert_string_equal(outcome.got, "\"ab\"");
    assert_int_equal(outcome.failed->kind, UVK_STEP_EXPECT_TEXT);
    uvk_outcome_clear(&outcome);
    desk_close(&desk);
}

static void every_expectation_can_fail(void **state)
{
    static const struct {
        const char *step, *expected, *got;
    } wrong[] = {
        {"expect text \"x\\n\"", "\"x\\n\"", "\"a\""},
        {"expect keys ctrl+a", "ctrl+a", "a"},
        {"expect held b", "b", "nothing"},
        {"expect held nothing", "nothing", "shift c"},
        {"expect layers base", "base", "base one"},
        {"expect layers one", "one", "base one"},
    };

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(wrong); i++) {
        char *text = g_strdup_printf(
            BOARD9 "keymap k { layer base { a b one; shift+c e f; g h i }\n"
                   "layer one { . . .; . . .; . . . } }\n"
                   "play \"x\" { tap a\n %s\n %s }\n",
            i >= 3 ? (i == 3 ? "down shift+c" : "down one") : "", wrong[i].step);
        struct uvk_outcome outcome;
        struct desk desk;
        desk_open(&desk, text, NULL);
        assert_int_equal(
            uvk_play_run(desk.program, desk.rig, desk.program->plays, &outcome, NULL), 0);
        assert_string_equal(outcome.expected, wrong[i].expected);
        assert_string_equal(outcome.got, wrong[i].got);
        uvk_outcome_clear(&outcome);
        desk_close(&desk);
        g_free(text);
    }
}

static void restart_lets_go_of_everything(void **state)
{
    struct desk desk;

    (void)state;
    desk_open(&desk, KEYMAP9("a board:restart board:bootloader; -- -- --; -- -- --"), NULL);
    desk_do(&desk, "down a\nwait 20ms\nexpect held a\ntap board:restart\nwait 20ms");
    /* the finger is still on a, but the restarted keyboard waits until it has come up */
    desk_do(&desk, "expect held nothing\nup a\nsettle\ntap a\nexpect keys a a");
    assert_false(uvk_rig_in_bootloader(desk.rig));
    assert_int_equal(uvk_rig_restarts(desk.rig), 1);
    desk_do(&desk, "tap board:bootloader\ntap a\nexpect keys nothing");
    assert_true(uvk_rig_in_bootloader(desk.rig));
    assert_int_equal(uvk_rig_measure(desk.rig, "passes"), -1);
    desk_close(&desk);
}

static void wheel_moves(void **state)
{
    struct desk desk;

    (void)state;
    desk_open(&desk, KEYMAP9("wheel-up wheel-down wheel-left; wheel-right -- --; -- -- --"),
              NULL);
    desk_do(&desk, "tap wheel-up\ntap wheel-up\ntap wheel-up\ntap wheel-down\ntap wheel-right");
    desk_do(&desk, "expect wheel 1 2\nexpect wheel 0 0\nexpect pointer 0 0");
    desk_do(&desk, "tap wheel-left\ntap wheel-down\nexpect wheel -1 -1");
    desk_close(&desk);
}

/* A key that is let go while its contact still chatters stays up. */
static void quick_finger_ends_the_chatter(void **state)
{
    (void)state;
    for (uint32_t seed = 1; seed <= 50; seed++) {
        struct uvk_rig_options options = {.seed = seed, .bounce = 10000};
        struct desk desk;
        desk_open(&desk, KEYMAP9("a b c; d e f; g h i"), &options);
        desk_do(&desk, "wait 20ms\ndown a\nwait 1ms\nup a\nsettle\nexpect held nothing");
        desk_close(&desk);
    }
}

/* ---- halves ------------------------------------------------------------------------ */

/* Microseconds from the contact of KEY to its report, so long after a pass. */
static uint64_t delay_of(struct uvk_rig *rig, unsigned key, unsigned after)
{
    uint64_t pressed;
    uint64_t when = 0;

    assert_true(uvk_rig_settle(rig, NULL));
    assert_true(uvk_rig_run(rig, 1000 - uvk_rig_now(rig) % 1000 + after, NULL));
    pressed = uvk_rig_now(rig);
    uvk_rig_press(rig, key, true);
    assert_true(uvk_rig_run(rig, 20000, NULL));
    assert_true(uvk_host_report_since(uvk_rig_host(rig), pressed, &when));
    uvk_rig_press(rig, key, false);
    return when - pressed;
}

/* What the other half tells comes over its link, at the link's speed. */
static void link_takes_time_and_not_much(void **state)
{
    const struct uvk_rig_options options = {.seed = 1};
    struct uvk_program *program =
        good_program("board pair { chip rp2040; usb { vendor 0x1209; product 9; maker \"T\" }\n"
                     " halves left right { main right; link uart GP0 GP1; speed 230400 }\n"
                     " matrix { rows GP2; cols GP4 GP5; flow row->col }\n"
                     " keys left { r0c0 r0c1 }; keys right { r0c0 r0c1 } }\n"
                     "keymap k { host linux us; layer base { a b c d } }\n");
    uint16_t size = 0;
    uint8_t *image = uvk_lower(program, &size);
    struct uvk_rig *rig = uvk_rig_native(program, image, size, &options, NULL);
    uint64_t added = 0;
    char *text;

    (void)state;
    for (unsigned after = 0; after < 1000; after += 100) {
        uint64_t own = delay_of(rig, 2, after);
        uint64_t other = delay_of(rig, 0, after);
        assert_in_range(own, 0, 2000);
        assert_in_range(other, own, own + 1000);
        added += other - own;
    }
    assert_in_range(added, 3000, 8000); /* a question and an answer are under way */
    text = uvk_host_take_text(uvk_rig_host(rig));
    assert_string_equal(text, "cacacacacacacacacaca");
    g_free(text);
    uvk_rig_free(rig);
    g_free(image);
    uvk_program_free(program);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(pulled_pin_reads_what_pulls_it),
        cmocka_unit_test(diode_lets_low_through_one_way),
        cmocka_unit_test(levels_take_their_time),
        cmocka_unit_test(ghost_appears_without_diodes),
        cmocka_unit_test(no_ghost_with_diodes),
        cmocka_unit_test(reversed_diodes_type_nothing),
        cmocka_unit_test(each_fault_does_what_it_says),
        cmocka_unit_test(faults_that_there_are_not_are_refused),
        cmocka_unit_test(both_flows_and_none_work),
        cmocka_unit_test(no_bouncing_types_twice),
        cmocka_unit_test(bouncing_longer_than_the_debounce_time_shows),
        cmocka_unit_test(own_descriptors_are_understood),
        cmocka_unit_test(relative_array_is_an_array),
        cmocka_unit_test(broken_descriptors_are_refused),
        cmocka_unit_test(random_descriptors_do_no_harm),
        cmocka_unit_test(reports_that_do_not_fit_are_refused),
        cmocka_unit_test(boot_keyboard_reaches_the_host),
        cmocka_unit_test(modifiers_stand_alone_only_when_nothing_else_is_pressed),
        cmocka_unit_test(failing_expectation_shows_both_sides),
        cmocka_unit_test(every_expectation_can_fail),
        cmocka_unit_test(restart_lets_go_of_everything),
        cmocka_unit_test(quick_finger_ends_the_chatter),
        cmocka_unit_test(wheel_moves),
        cmocka_unit_test(link_takes_time_and_not_much),
    };
    return cmocka_run_group_tests_name("bench", tests, NULL, NULL);
}
