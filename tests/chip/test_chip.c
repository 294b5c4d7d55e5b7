/* Machine code on each simulated chip: plays, USB as the standard has it, power. */
#include "support.h"

#include "uvrek/engine.h"

#include <string.h>

#define KEYMAP                                                                                 \
    BOARD9 "keymap k { host linux us\n"                                                        \
           "layer base { a shift mute; one '?' ctrl+right-alt+x; board:bootloader sleep "      \
           "click-left }\n"                                                                    \
           "layer one { 1 . wheel-up; . -- board:restart; . . . } }\n"

static struct uvk_program *program;
static struct uvk_firmware *firmware;
static struct uvk_rig *rig;

static int set_up(const char *chip)
{
    char *cache = g_build_filename(scratch_folder(), "cache", NULL);
    struct uvk_build_options options = {NULL, NULL, cache};
    GError *error = NULL;

    program = good_program(KEYMAP);
    if (strcmp(program->board->chip->name, chip) != 0) {
        move_to_chip(program, chip);
    }
    firmware = uvk_build(program, &options, &error);
    g_free(cache);
    if (error != NULL) {
        print_error("%s\n", error->message);
        g_error_free(error);
    }
    return firmware == NULL;
}

static int set_up_atmega32u4(void **state)
{
    (void)state;
    return set_up("atmega32u4");
}

static int set_up_rp2040(void **state)
{
    (void)state;
    return set_up("rp2040");
}

static int tear_down(void **state)
{
    (void)state;
    uvk_firmware_free(firmware);
    uvk_program_free(program);
    return 0;
}

static void start_with(const struct uvk_rig_options *options)
{
    GError *error = NULL;

    rig = uvk_rig_chip(program, firmware->code, firmware->size, firmware->elf, options, &error);
    if (error != NULL) {
        print_error("%s\n", error->message);
    }
    assert_null(error);
}

static int start(void **state)
{
    struct uvk_rig_options options = {.seed = 3, .bounce = UVK_BOUNCE_DEFAULT};

    (void)state;
    start_with(&options);
    return 0;
}

static int stop(void **state)
{
    (void)state;
    uvk_rig_free(rig);
    rig = NULL;
    return 0;
}

static void steps(const char *text)
{
    struct desk desk = {.program = program, .rig = rig};

    desk_do(&desk, text);
}

static enum uvk_transfer ask(uint8_t type, uint8_t code, uint16_t value, uint16_t index,
                             uint8_t *data, size_t *size)
{
    uint8_t setup[8] = {type,           code,
                        (uint8_t)value, (uint8_t)(value >> 8),
                        (uint8_t)index, (uint8_t)(index >> 8),
                        (uint8_t)*size, (uint8_t)(*size >> 8)};

    return uvk_rig_control(rig, setup, data, size);
}

static enum uvk_transfer tell(uint8_t type, uint8_t code, uint16_t value, uint16_t index)
{
    size_t none = 0;

    return ask(type, code, value, index, NULL, &none);
}

static void assert_answer(uint8_t type, uint8_t code, uint16_t value, uint16_t index,
                          size_t wanted, size_t size, const char *bytes)
{
    uint8_t data[256];

    assert_int_equal(ask(type, code, value, index, data, &wanted), UVK_TRANSFER_DONE);
    assert_int_equal(wanted, size);
    assert_memory_equal(data, bytes, size);
}

/* ---- typing ----------------------------------------------------------------------------- */

static void typing_on_the_chip(void **state)
{
    (void)state;
    steps("down shift\ntap a\nup shift\ntap a\ntap '?'\nexpect text \"Aa?\"");
    steps("down one\ndown r0c0\nexpect layers base one\nup one\nexpect held 1\nup r0c0\n"
          "expect layers base\nexpect held nothing\nexpect text \"1\"");
    steps("settle\ntap mute\ntap r1c2\ntap click-left\n");
    steps("expect keys shift+a a '?' 1 mute ctrl+right-alt+x click-left");
}

static void wheel_and_system_keys_on_the_chip(void **state)
{
    (void)state;
    steps("down one\ntap r0c2\ntap r0c2\nup one\ntap sleep\nexpect keys sleep");
    steps("expect wheel 0 2");
}

static void bouncing_on_the_chip(void **state)
{
    (void)state;
    for (uint32_t seed = 1; seed <= 10; seed++) {
        struct uvk_rig_options options = {.seed = seed, .bounce = 4000};
        uvk_rig_free(rig);
        start_with(&options);
        steps("tap a\ntap a\ntap a\nexpect text \"aaa\"");
    }
}

static void boot_protocol_on_the_chip(void **state)
{
    struct uvk_rig_options options = {.seed = 3, .boot_protocol = true};

    (void)state;
    uvk_rig_free(rig);
    start_with(&options);
    steps("down shift\ntap a\nup shift\ntap '?'\nexpect text \"A?\"");
    assert_answer(0xA1, 0x03, 0, 0, 1, 1, "\0");
}

static void wrong_wiring_shows_on_the_chip(void **state)
{
    struct uvk_wrong wrong = {.kind = UVK_WRONG_DIODES};
    struct uvk_rig_options options = {.seed = 3, .wrongs = &wrong, .wrong_count = 1};

    (void)state;
    uvk_rig_free(rig);
    start_with(&options);
    steps("tap a\nexpect keys nothing");
    uvk_rig_free(rig);
    wrong.kind = UVK_WRONG_BRIDGED;
    start_with(&options);
    /* the fourth corner, the click, is nobody's finger */
    steps("down '?'\ndown ctrl+right-alt+x\ndown sleep\nwait 20ms");
    steps("expect held slash ctrl+right-alt+x sleep click-left");
}

/* Long wires stay low for a while: the line behind must not see the keys of the one before. */
static void wires_of_any_length_make_no_phantom_keys(void **state)
{
    static const unsigned picofarads[] = {20, 60, 100, 250, 400};

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(picofarads); i++) {
        struct uvk_rig_options options = {.seed = 3, .picofarads = picofarads[i]};
        start_with(&options);
        steps("down a\nwait 100ms\nexpect held a\nup a\ndown r0c2\ndown r2c1\nwait 100ms\n"
              "expect held mute sleep\nup r0c2\nup r2c1\nsettle\n"
              "expect held nothing\nexpect text \"a\"");
        uvk_rig_free(rig);
    }
    rig = NULL;
}

/* A contact may close between the reading of its line and the letting go: its sense is low
 * then, though nothing was read. Bounces fall there once in a hundred presses or so. */
static void contact_that_closes_late_makes_no_phantom_key(void **state)
{
    struct uvk_rig_options options = {.seed = 9, .bounce = 4000, .picofarads = 400};
    GArray *presses;

    (void)state;
    start_with(&options);
    for (unsigned i = 0; i < 400; i++) {
        steps("tap a\nwait 7ms");
    }
    presses = uvk_host_take_presses(uvk_rig_host(rig));
    assert_int_equal(presses->len, 400);
    for (guint i = 0; i < presses->len; i++) {
        const struct uvk_press *press = &g_array_index(presses, struct uvk_press, i);
        assert_int_equal(press->usage, 4);
        assert_int_equal(press->mods, 0);
    }
    g_array_free(presses, TRUE);
    uvk_rig_free(rig);
    rig = NULL;
}

/* Random fingers: native and machine code give the same presses. */
static void native_and_chip_agree(void **state)
{
    GRand *random = g_rand_new_with_seed(5);
    uint16_t size;
    uint8_t *image = uvk_lower(program, &size);
    struct uvk_rig_options options = {.seed = 3};
    struct uvk_rig *native = uvk_rig_native(program, image, size, &options, NULL);
    bool down[9] = {false};
    GArray *presses[2];

    (void)state;
    assert_true(uvk_rig_run(native, 10000, NULL)); /* past its first scan */
    for (int event = 0; event < 1500; event++) {
        /* neither the bootloader key nor the restart key */
        static const unsigned keys[] = {0, 1, 2, 3, 4, 7, 8};
        unsigned key = keys[g_rand_int_range(random, 0, 7)];
        uint64_t time = (uint64_t)g_rand_int_range(random, 12, 60) * 1000;
        down[key] = !down[key];
        uvk_rig_press(native, key, down[key]);
        uvk_rig_press(rig, key, down[key]);
        assert_true(uvk_rig_run(native, time, NULL));
        assert_true(uvk_rig_run(rig, time, NULL));
    }
    assert_true(uvk_rig_settle(native, NULL));
    assert_true(uvk_rig_settle(rig, NULL));
    presses[0] = uvk_host_take_presses(uvk_rig_host(native));
    presses[1] = uvk_host_take_presses(uvk_rig_host(rig));
    assert_true(presses[0]->len > 300);
    for (guint i = 0; i < presses[0]->len && i < presses[1]->len; i++) {
        const struct uvk_press *one = &g_array_index(presses[0], struct uvk_press, i);
        const struct uvk_press *two = &g_array_index(presses[1], struct uvk_press, i);
        if (one->usage != two->usage || one->mods != two->mods || one->page != two->page) {
            fail_msg("press %u: native %02X:%02X with %02X at %u us, chip %02X:%02X with %02X "
                     "at %u us",
                     i, one->page, one->usage, one->mods, (unsigned)one->time, two->page,
                     two->usage, two->mods, (unsigned)two->time);
        }
    }
    assert_int_equal(presses[0]->len, presses[1]->len);
    g_array_free(presses[0], TRUE);
    g_array_free(presses[1], TRUE);
    uvk_rig_free(native);
    g_free(image);
    g_rand_free(random);
}

/* ---- USB -------------------------------------------------------------------------------- */

static void descriptors_are_as_the_standard_has_them(void **state)
{
    uint8_t data[256];
    size_t size = 255;

    (void)state;
    assert_answer(0x80, 6, 0x0100, 0, 64, 18,
                  "\x12\x01\x00\x02\x00\x00\x00\x08\x09\x12\x09\x00\x00\x01\x01\x02\x00\x01");
    assert_answer(0x80, 6, 0x0300, 0, 255, 4, "\x04\x03\x09\x04");
    assert_answer(0x80, 6, 0x0301, 0x0409, 255, 4, "\x04\x03T\0");
    assert_answer(0x80, 6, 0x0302, 0x0409, 255, 10, "\x0a\x03n\0i\0n\0e\0");
    assert_int_equal(ask(0x80, 6, 0x0200, 0, data, &size), UVK_TRANSFER_DONE);
    assert_int_equal(size, data[2] | data[3] << 8);
    assert_int_equal(data[4], 2);    /* interfaces */
    assert_int_equal(data[7], 0xA0); /* may wake the host */
    /* a report descriptor that fills its packets exactly is ended by an empty one */
    size = 255;
    assert_int_equal(ask(0x81, 6, 0x2200, 0, data, &size), UVK_TRANSFER_DONE);
    assert_int_equal(ask(0x81, 6, 0x2100, 1, data, &(size_t){9}), UVK_TRANSFER_DONE);
    assert_int_equal(data[1], 0x21);
}

static void state_can_be_asked_for(void **state)
{
    (void)state;
    assert_answer(0x80, 8, 0, 0, 1, 1, "\1");                 /* GET_CONFIGURATION */
    assert_answer(0x80, 0, 0, 0, 2, 2, "\0\0");               /* GET_STATUS */
    assert_int_equal(tell(0x00, 3, 1, 0), UVK_TRANSFER_DONE); /* remote wake-up on */
    assert_answer(0x80, 0, 0, 0, 2, 2, "\2\0");
    assert_int_equal(tell(0x00, 1, 1, 0), UVK_TRANSFER_DONE);
    assert_answer(0x80, 0, 0, 0, 2, 2, "\0\0");
    assert_answer(0x81, 0, 0, 1, 2, 2, "\0\0");
    assert_answer(0x81, 10, 0, 1, 1, 1, "\0"); /* GET_INTERFACE */
    assert_int_equal(tell(0x01, 11, 0, 1), UVK_TRANSFER_DONE);
    assert_int_equal(tell(0x02, 3, 0, 0x81), UVK_TRANSFER_DONE); /* halt an endpoint */
    assert_answer(0x82, 0, 0, 0x81, 2, 2, "\1\0");
    assert_int_equal(tell(0x02, 1, 0, 0x81), UVK_TRANSFER_DONE);
    assert_answer(0x82, 0, 0, 0x81, 2, 2, "\0\0");
}

/* The setup packet of the next request may come while the program looks at the empty one that
 * ended the last. */
static void requests_come_at_any_moment(void **state)
{
    unsigned count = few_rounds() ? 100 : 3000;

    (void)state;
    for (unsigned i = 0; i < count; i++) {
        assert_answer(0x80, 8, 0, 0, 1, 1, "\1");  /* GET_CONFIGURATION */
        uvk_rig_press(rig, i % 3, i / 3 % 2 == 0); /* long passes */
        assert_true(uvk_rig_run(rig, i % 61, NULL));
    }
}

/* The data toggles of its endpoints begin anew with a configuration; a packet with the other
 * one would be taken for one that was sent again, and be lost. */
static void configured_again_it_types_on(void **state)
{
    (void)state;
    steps("tap a\nexpect text \"a\"");
    assert_int_equal(tell(0x00, 9, 1, 0), UVK_TRANSFER_DONE);
    steps("tap a\nexpect text \"a\"");
    assert_int_equal(tell(0x02, 3, 0, 0x82), UVK_TRANSFER_DONE);
    assert_int_equal(tell(0x02, 1, 0, 0x82), UVK_TRANSFER_DONE);
    steps("tap a\nexpect text \"a\"");
}

static void hid_requests_are_answered(void **state)
{
    uint8_t lamps = 0x02;
    size_t size = 1;

    (void)state;
    assert_answer(0xA1, 3, 0, 0, 1, 1, "\1"); /* GET_PROTOCOL: report */
    assert_int_equal(tell(0x21, 0x0B, 0, 0), UVK_TRANSFER_DONE);
    assert_answer(0xA1, 3, 0, 0, 1, 1, "\0");
    assert_int_equal(tell(0x21, 0x0B, 1, 0), UVK_TRANSFER_DONE);
    assert_int_equal(tell(0x21, 0x0A, 0x7D00, 0), UVK_TRANSFER_DONE); /* SET_IDLE */
    assert_answer(0xA1, 2, 0, 0, 1, 1, "\x7D");
    assert_int_equal(ask(0x21, 9, 0x0200, 0, &lamps, &size), UVK_TRANSFER_DONE);
    assert_answer(0xA1, 1, 0x0200, 0, 1, 1, "\2"); /* the lamps, as they were set */
    steps("down a\nwait 20ms");
    assert_answer(0xA1, 1, 0x0101, 1, 30, 30,
                  "\x01\x00\x10\0\0\0\0\0\0\0\0\0\0\0\0\0\0\0\0\0\0\0\0\0\0\0\0\0\0\0");
    assert_answer(0xA1, 1, 0x0100, 0, 8, 8, "\0\0\0\0\0\0\0\0");
}

static void what_is_not_known_is_stalled(void **state)
{
    static const struct {
        uint8_t type, code;
        uint16_t value, index;
    } unknown[] = {
        {0x80, 6, 0x0600, 0}, /* device qualifier: not a high-speed device */
        {0x80, 6, 0x0303, 0}, /* no such string */
        {0x81, 6, 0x2200, 2}, /* no such interface */
        {0x81, 6, 0x2300, 0}, /* physical descriptor */
        {0x80, 7, 0x0100, 0}, /* SET_DESCRIPTOR the wrong way round */
        {0xC0, 1, 0, 0},      /* vendor request */
        {0xA1, 1, 0x0300, 0}, /* feature report */
        {0xA1, 1, 0x0107, 1}, /* no such report */
        {0xA1, 3, 0, 1},      /* interface 1 has no boot protocol */
        {0x82, 0, 0, 0x87},   /* no such endpoint */
        {0x81, 0, 0, 7},
    };
    uint8_t data[64];

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(unknown); i++) {
        size_t size = 8;
        assert_int_equal(ask(unknown[i].type, unknown[i].code, unknown[i].value,
                             unknown[i].index, data, &size),
                         UVK_TRANSFER_STALL);
    }
    assert_int_equal(tell(0x00, 9, 2, 0), UVK_TRANSFER_STALL); /* no second configuration */
    assert_int_equal(tell(0x21, 0x0B, 2, 0), UVK_TRANSFER_STALL);
    /* and the keyboard goes on */
    steps("tap a\nexpect text \"a\"");
}

static void idle_rate_repeats_reports(void **state)
{
    unsigned before;
    unsigned quiet;

    (void)state;
    steps("down a\nwait 50ms");
    before = uvk_host_reports(uvk_rig_host(rig), NULL);
    steps("wait 200ms");
    quiet = uvk_host_reports(uvk_rig_host(rig), NULL) - before;
    assert_int_equal(quiet, 0);
    assert_int_equal(tell(0x21, 0x0A, 0x0500, 1), UVK_TRANSFER_DONE); /* every 20 ms */
    before = uvk_host_reports(uvk_rig_host(rig), NULL);
    steps("wait 200ms");
    assert_in_range(uvk_host_reports(uvk_rig_host(rig), NULL) - before, 9, 11);
    steps("expect keys a");
}

/* ---- power ------------------------------------------------------------------------------ */

static void sleeping_host_is_woken_where_it_allows_that(void **state)
{
    (void)state;
    assert_int_equal(tell(0x00, 3, 1, 0), UVK_TRANSFER_DONE);
    uvk_rig_bus(rig, UVK_BUS_SUSPEND);
    steps("wait 300ms");
    assert_int_equal(uvk_rig_measure(rig, "wakeups"), 0);
    steps("down a\nwait 60ms");
    assert_int_equal(uvk_rig_measure(rig, "wakeups"), 1);
    uvk_rig_bus(rig, UVK_BUS_RESUME);
    steps("wait 20ms\nexpect held a\nup a\nsettle\nexpect held nothing\nexpect text \"a\"");
}

static void sleeping_host_is_left_alone_otherwise(void **state)
{
    (void)state;
    uvk_rig_bus(rig, UVK_BUS_SUSPEND);
    steps("wait 100ms\ntap a for 100ms\nwait 100ms");
    assert_int_equal(uvk_rig_measure(rig, "wakeups"), 0);
    uvk_rig_bus(rig, UVK_BUS_RESUME);
    steps("wait 50ms\ntap '?'\nexpect text \"a?\""); /* what was typed meanwhile comes then */
}

/* An event that comes while the flag of another is being cleared is not lost. */
static void suspend_right_behind_a_reset_is_seen(void **state)
{
    (void)state;
    uvk_rig_bus(rig, UVK_BUS_RESET_THEN_SUSPEND);
    steps("wait 20ms");
    assert_int_equal(uvk_rig_measure(rig, "usb-stopped"), 1);
    uvk_rig_measure(rig, "forget");
    steps("wait 160ms");
    assert_in_range(uvk_rig_measure(rig, "passes"), 8, 12); /* one in 16 ms, to save power */
    uvk_rig_bus(rig, UVK_BUS_RESUME);
    steps("wait 50ms");
    assert_int_equal(uvk_rig_measure(rig, "usb-stopped"), 0);
}

static void bootloader_is_reached_by_key(void **state)
{
    (void)state;
    steps("tap board:bootloader\nwait 500ms");
    assert_true(uvk_rig_in_bootloader(rig));
}

/* Firmware that is none, or another board's, is told as such. */
static void chip_that_is_no_keyboard_is_told(void **state)
{
    struct uvk_rig_options options = {.seed = 3};
    struct uvk_program *other;
    uint8_t *code = g_malloc(firmware->size);
    char **parts = g_strsplit(KEYMAP, "product 0x0009", 2);
    char *text = g_strjoinv("product 0x0008", parts);
    GError *error = NULL;

    (void)state;
    memset(code, 0xFF, firmware->size); /* an empty chip */
    assert_null(uvk_rig_chip(program, code, firmware->size, NULL, &options, &error));
    assert_non_null(strstr(error->message, "the chip cannot be enumerated"));
    g_clear_error(&error);
    memset(code, 0, firmware->size); /* nothing but NOPs */
    assert_null(uvk_rig_chip(program, code, firmware->size, NULL, &options, &error));
    g_clear_error(&error);
    other = good_program(text);
    if (program->board->chip != other->board->chip) {
        move_to_chip(other, program->board->chip->name);
    }
    assert_null(uvk_rig_chip(other, firmware->code, firmware->size, NULL, &options, &error));
    assert_non_null(strstr(error->message, "another vendor or product"));
    g_clear_error(&error);
    uvk_program_free(other);
    g_free(code);
    g_free(text);
    g_strfreev(parts);
}

/* A damaged image in the flash: the firmware goes to its bootloader instead of typing. */
static void damaged_keymap_starts_the_bootloader(void **state)
{
    struct uvk_rig_options options = {.seed = 3};
    uint8_t *code = g_memdup2(firmware->code, firmware->size);
    GError *error = NULL;
    uint8_t *image = NULL;

    (void)state;
    for (size_t at = 0; at + 4 < firmware->size; at++) {
        if (memcmp(code + at, "UVKI\4", 5) == 0) {
            image = code + at;
        }
    }
    assert_non_null(image);
    image[12] ^= 1;
    assert_null(uvk_rig_chip(program, code, firmware->size, firmware->elf, &options, &error));
    assert_non_null(strstr(error->message, "the chip cannot be enumerated"));
    g_clear_error(&error);
    g_free(code);
}

/* The host sees it go, lets go of what was held, and meets it again. */
static void restart_comes_up_again(void **state)
{
    (void)state;
    steps("tap a\nwait 20ms");
    steps("down shift\ndown one\nwait 20ms\nexpect held shift\ntap r1c2\nup one\nwait 100ms");
    steps("expect held nothing\nwait 300ms");
    assert_false(uvk_rig_in_bootloader(rig));
    assert_int_equal(uvk_rig_restarts(rig), 1);
    steps("up shift\nwait 20ms\nexpect text \"a\"\ntap a\nexpect text \"a\"");
    steps("down one\ntap r1c2\nup one\nwait 400ms\ntap a\nexpect text \"a\"");
    assert_int_equal(uvk_rig_restarts(rig), 2);
}

/* The reset button once restarts; twice within half a second, it is the way to the bootloader.
 */
static void second_tap_of_reset_starts_the_bootloader(void **state)
{
    (void)state;
    uvk_rig_reset_button(rig);
    steps("wait 600ms\ntap a\nexpect text \"a\"");
    assert_false(uvk_rig_in_bootloader(rig));
    uvk_rig_reset_button(rig);
    steps("wait 300ms");
    uvk_rig_reset_button(rig);
    steps("wait 10ms");
    assert_true(uvk_rig_in_bootloader(rig));
}

/* One controller for both halves: the lines of direct switches stand between those of the
 * matrices, and select nothing. */
static void halves_of_one_chip_are_scanned_each_by_its_own_pins(void **state)
{
    struct uvk_program *halves = good_program(
        "board pair {\n chip rp2040\n usb { vendor 0x1209; product 0x0009; maker \"T\" }\n"
        " halves left right { }\n"
        " matrix left { rows GP0 GP1; cols GP2 GP3; flow col->row }\n"
        " direct left { pins GP4 GP5; to ground }\n"
        " matrix right { rows GP6 GP7; cols GP8 GP9; flow col->row }\n"
        " direct right { pins GP10; to power }\n"
        " keys left {\n r0c0 r0c1 d0\n r1c0 r1c1 d1\n }\n"
        " keys right {\n r0c0 r0c1 d0\n r1c0 r1c1\n }\n}\n"
        "keymap k { host linux us\n layer base { a b c d e f\n g h i j k } }\n");
    char *cache = g_build_filename(scratch_folder(), "cache", NULL);
    struct uvk_build_options build = {.cache = cache};
    struct uvk_rig_options options = {.seed = 3, .picofarads = 400};
    struct uvk_firmware *built = uvk_build(halves, &build, NULL);
    struct uvk_program *before = program;

    (void)state;
    assert_non_null(built);
    rig = uvk_rig_chip(halves, built->code, built->size, built->elf, &options, NULL);
    assert_non_null(rig);
    program = halves;
    steps("tap a\ntap b\ntap c\ntap d\ntap e\ntap f\ntap g\ntap h\ntap i\ntap j\ntap k\n"
          "settle\nexpect text \"abcdefghijk\"");
    program = before;
    uvk_rig_free(rig);
    rig = NULL;
    uvk_firmware_free(built);
    uvk_program_free(halves);
    g_free(cache);
}

/* One byte of the second stage of booting is wrong: the ROM does not run it. */
static void flash_that_cannot_boot_stays_in_the_bootloader(void **state)
{
    struct uvk_rig_options options = {.seed = 3};
    uint8_t *code = g_memdup2(firmware->code, firmware->size);
    GError *error = NULL;

    (void)state;
    code[200] ^= 1;
    assert_null(uvk_rig_chip(program, code, firmware->size, NULL, &options, &error));
    assert_non_null(strstr(error->message, "the chip cannot be enumerated"));
    g_clear_error(&error);
    g_free(code);
}

static void stack_stays_within_what_is_kept_for_it(void **state)
{
    (void)state;
    steps(
        "down shift\ntap a\ndown one\ntap r0c0\ntap r0c2\nup one\nup shift\ntap mute\nsettle");
    assert_in_range(uvk_rig_measure(rig, "stack-bytes"), 20, firmware->stack);
    assert_in_range(firmware->stack, 64, program->board->chip->stack);
    assert_in_range(uvk_rig_measure(rig, "idle-cycles"), 100, 4000);
    assert_in_range(uvk_rig_measure(rig, "worst-cycles"), 500, 16000);
}

#define ON_CHIP(test) cmocka_unit_test_setup_teardown(test, start, stop)

int main(void)
{
    const struct CMUnitTest tests[] = {
        ON_CHIP(typing_on_the_chip),
        ON_CHIP(wheel_and_system_keys_on_the_chip),
        ON_CHIP(bouncing_on_the_chip),
        ON_CHIP(boot_protocol_on_the_chip),
        ON_CHIP(wrong_wiring_shows_on_the_chip),
        ON_CHIP(native_and_chip_agree),
        ON_CHIP(descriptors_are_as_the_standard_has_them),
        ON_CHIP(state_can_be_asked_for),
        ON_CHIP(requests_come_at_any_moment),
        ON_CHIP(configured_again_it_types_on),
        ON_CHIP(hid_requests_are_answered),
        ON_CHIP(what_is_not_known_is_stalled),
        ON_CHIP(idle_rate_repeats_reports),
        ON_CHIP(sleeping_host_is_woken_where_it_allows_that),
        ON_CHIP(sleeping_host_is_left_alone_otherwise),
        cmocka_unit_test(wires_of_any_length_make_no_phantom_keys),
        cmocka_unit_test(contact_that_closes_late_makes_no_phantom_key),
        ON_CHIP(suspend_right_behind_a_reset_is_seen),
        ON_CHIP(bootloader_is_reached_by_key),
        ON_CHIP(restart_comes_up_again),
        cmocka_unit_test(chip_that_is_no_keyboard_is_told),
        cmocka_unit_test(damaged_keymap_starts_the_bootloader),
        ON_CHIP(stack_stays_within_what_is_kept_for_it),
    };
    const struct CMUnitTest only_rp2040[] = {
        ON_CHIP(second_tap_of_reset_starts_the_bootloader),
        cmocka_unit_test(halves_of_one_chip_are_scanned_each_by_its_own_pins),
        cmocka_unit_test(flash_that_cannot_boot_stays_in_the_bootloader),
    };

    return cmocka_run_group_tests_name("ATmega32U4", tests, set_up_atmega32u4, tear_down) +
           cmocka_run_group_tests_name("RP2040", tests, set_up_rp2040, tear_down) +
           cmocka_run_group_tests_name("RP2040 alone", only_rp2040, set_up_rp2040, tear_down);
}
