/* Lights as the port gets them: what is sent, when, how bright, and how much it takes. */
#include "keyboard.h"

#include "uvrek/lights.h"

#include <string.h>

#define STRIP_OF(count, limit, rest)                                                           \
    "board glow {\n chip rp2040\n matrix { rows GP0 GP1; cols GP2 GP3 GP4; flow row->col }\n"  \
    " backlight GP9 { levels 6; start 6 }\n"                                                   \
    " strip GP8 { count " count "; limit " limit "; at r0c0 r0c1 r0c2 r1c0 r1c1 r1c2 }\n"      \
    " lamp num-lock GP10\n lamp cue GP11\n"                                                    \
    " keys {\n r0c0 r0c1 r0c2\n r1c0 r1c1 r1c2\n }\n}\n" rest

#define KEYS                                                                                   \
    " layer base {\n a b cue\n light:toggle light:up light:next\n }\n"                         \
    " layer cue {\n light #0000ff\n . . .\n light:breathe light:down light:back\n }\n}\n"
#define SHOWS(what) "keymap k {\n lights { " what " }\n" KEYS

static struct keyboard keyboard;

static int close_keyboard(void **state)
{
    (void)state;
    keyboard_close(&keyboard);
    return 0;
}

static const uint8_t *lamp(unsigned index)
{
    return keyboard.port.strip + (size_t)3 * index;
}

static unsigned brightness(unsigned index)
{
    return (unsigned)lamp(index)[0] + lamp(index)[1] + lamp(index)[2];
}

static void tap(const char *address)
{
    keyboard_contact(&keyboard, address, true);
    keyboard_pass(&keyboard, 10);
    keyboard_contact(&keyboard, address, false);
    keyboard_pass(&keyboard, 10);
}

static void levels_go_from_dark_to_full(void **state)
{
    (void)state;
    for (unsigned levels = 1; levels <= UVK_LEVELS_MAX; levels++) {
        uint8_t before = uvk_light_brightness(0, (uint8_t)levels);
        assert_int_equal(before, 0);
        for (unsigned level = 1; level <= levels; level++) {
            uint8_t now = uvk_light_brightness((uint8_t)level, (uint8_t)levels);
            assert_true(now > 0);
            assert_true(now >= before);
            before = now;
        }
        assert_int_equal(before, UINT8_MAX);
    }
}

/* A lamp in each pass; the whole is sent when all are known, and not again before it differs.
 */
static void one_lamp_in_a_pass(void **state)
{
    (void)state;
    keyboard_open(&keyboard, STRIP_OF("20", "3000mA", SHOWS("effect still; colour #102030")));
    keyboard_pass(&keyboard, 18); /* and one when it was opened */
    assert_int_equal(keyboard.port.strip_frames, 0);
    keyboard_pass(&keyboard, 1);
    assert_int_equal(keyboard.port.strip_frames, 1);
    assert_int_equal(keyboard.port.strip_count, 20);
    for (unsigned i = 0; i < 20; i++) {
        assert_memory_equal(lamp(i), ((const uint8_t[]){0x10, 0x20, 0x30}), 3);
    }
    keyboard_pass(&keyboard, 500);
    assert_int_equal(keyboard.port.strip_frames, 1);
}

/* Milliamperes, as lights.h counts them. */
static double taken(void)
{
    double sum = 0;

    for (unsigned i = 0; i < keyboard.port.strip_count; i++) {
        sum += brightness(i);
    }
    return sum * 20 / 255 + keyboard.port.strip_count;
}

static void the_current_stays_within_its_limit(void **state)
{
    static const unsigned limits[] = {20, 21, 60, 300, 999, 5000};
    static const unsigned counts[] = {6, 7, 19, 100, 255};

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(limits) * G_N_ELEMENTS(counts); i++) {
        unsigned limit = limits[i % G_N_ELEMENTS(limits)];
        unsigned count = counts[i / G_N_ELEMENTS(limits)];
        for (unsigned effect = 0; effect < UVK_EFFECTS; effect++) {
            char *text = g_strdup_printf(
                STRIP_OF("%u", "%umA", SHOWS("effect %s; colour #ffffff; speed 0.5s")), count,
                limit, uvk_effect_names[effect]);
            keyboard_open(&keyboard, text);
            for (unsigned ms = 0; ms < 1000; ms++) {
                if (ms == 300 || ms == 700) {
                    keyboard_contact(&keyboard, "r0c0", ms == 300);
                }
                keyboard_pass(&keyboard, 1);
                /* what a dark strip takes cannot be helped */
                assert_true(taken() <= MAX(limit, count));
            }
            keyboard_close(&keyboard);
            g_free(text);
        }
    }
    keyboard_open(&keyboard, STRIP_OF("6", "5000mA", SHOWS("colour #ffffff")));
    keyboard_pass(&keyboard, 20);
    assert_int_equal(brightness(0), 3 * 255); /* what fits is not held back */
}

static void all_is_dark_while_the_host_sleeps(void **state)
{
    (void)state;
    keyboard_open(&keyboard, STRIP_OF("100", "5000mA", SHOWS("effect hues")));
    keyboard.port.lamps = 1;
    keyboard_contact(&keyboard, "r0c2", true);
    keyboard_pass(&keyboard, 250);
    assert_int_equal(keyboard.port.lit, 3);
    assert_int_equal(keyboard.port.backlight, 255);
    assert_true(taken() > 100);
    keyboard.port.host_sleeps = true;
    keyboard_pass(&keyboard, 1); /* at once, not when the next lamps are known */
    assert_int_equal(keyboard.port.lit, 0);
    assert_int_equal(keyboard.port.backlight, 0);
    assert_int_equal((int)taken(), 100);
    keyboard.port.host_sleeps = false;
    keyboard_pass(&keyboard, 250);
    assert_int_equal(keyboard.port.lit, 3);
    assert_int_equal(keyboard.port.backlight, 255);
    assert_true(taken() > 100);
}

static void hues_come_round(void **state)
{
    uint8_t first[18];

    (void)state;
    keyboard_open(&keyboard, STRIP_OF("6", "5000mA", SHOWS("effect hues; speed 1s")));
    keyboard_pass(&keyboard, 599);
    memcpy(first, keyboard.port.strip, sizeof first);
    for (unsigned i = 0; i < 6; i++) {
        assert_in_range(brightness(i), 250, 255); /* as bright, whatever the hue */
        assert_true(i % 3 == 0 || memcmp(lamp(i), lamp(i - 1), 3) != 0);
    }
    keyboard_pass(&keyboard, 300);
    assert_memory_not_equal(first, keyboard.port.strip, sizeof first);
    keyboard_pass(&keyboard, 702); /* a period, of whole frames */
    for (unsigned i = 0; i < 18; i++) {
        assert_in_range(keyboard.port.strip[i] + 8, first[i], first[i] + 16u);
    }
}

static void breathing_goes_from_dark_to_full(void **state)
{
    unsigned least = 1000;
    unsigned most = 0;
    unsigned darkest = 255;

    (void)state;
    keyboard_open(&keyboard,
                  STRIP_OF("6", "5000mA", SHOWS("effect breathe; colour #ff0000; speed 1s")));
    keyboard_pass(&keyboard, 100);
    for (unsigned ms = 0; ms < 1000; ms++) {
        keyboard_pass(&keyboard, 1);
        least = MIN(least, brightness(0));
        most = MAX(most, brightness(0));
        darkest = MIN(darkest, keyboard.port.backlight);
    }
    assert_in_range(least, 0, 3);
    assert_in_range(most, 250, 255);
    assert_in_range(darkest, 0, 3);
}

/* The ring is at a lamp the later, the farther that is from the key. */
static void a_ring_spreads_from_the_key(void **state)
{
    unsigned brightest[3] = {0, 0, 0};
    unsigned when[3] = {0, 0, 0};

    (void)state;
    keyboard_open(&keyboard,
                  STRIP_OF("6", "5000mA", SHOWS("effect ripple; colour #ffffff; speed 4s")));
    keyboard_pass(&keyboard, 100);
    assert_in_range(brightness(0), 1, 150); /* at rest: a little */
    keyboard_contact(&keyboard, "r0c0", true);
    for (unsigned ms = 0; ms < 1000; ms++) {
        keyboard_pass(&keyboard, 1);
        for (unsigned i = 0; i < 3; i++) {
            if (brightness(i) > brightest[i]) {
                brightest[i] = brightness(i);
                when[i] = ms;
            }
        }
    }
    assert_true(when[0] < when[1] && when[1] < when[2]);
    for (unsigned i = 0; i < 3; i++) {
        assert_in_range(brightest[i], 700, 765);
    }
    keyboard_pass(&keyboard, 4000);
    assert_in_range(brightness(2), 1, 150);
}

/* A key that is touched for a moment lights its lamp, however long the strip is. */
static void a_short_touch_is_seen(void **state)
{
    (void)state;
    keyboard_open(&keyboard,
                  STRIP_OF("200", "5000mA", SHOWS("effect keys; colour #00ff00; speed 4s")));
    keyboard_pass(&keyboard, 450);
    assert_int_equal(brightness(1), 0);
    keyboard_contact(&keyboard, "r0c1", true);
    keyboard_pass(&keyboard, 3);
    keyboard_contact(&keyboard, "r0c1", false);
    keyboard_pass(&keyboard, 400);
    assert_true(brightness(1) > 100);
    assert_int_equal(brightness(2), 0);
    keyboard_pass(&keyboard, 1600);
    assert_int_equal(brightness(1), 0);
}

static void what_is_kept(void **state)
{
    static const uint8_t bad[][2] = {{7, 0}, {0x7F, 0}, {3, UVK_EFFECTS}, {3, 0xFF}};
    uint8_t kept[UVK_LIGHTS_KEPT];

    (void)state;
    keyboard_open(&keyboard, STRIP_OF("6", "3000mA", SHOWS("effect still")));
    assert_false(uvk_lights_to_keep(&keyboard.engine, kept));
    tap("r1c2"); /* the next effect */
    tap("r1c0"); /* off */
    assert_true(uvk_lights_to_keep(&keyboard.engine, kept));
    assert_int_equal(kept[0], 6 | UVK_LIGHTS_OFF);
    assert_int_equal(kept[1], UVK_EFFECT_BREATHE);
    uvk_lights_are_kept(&keyboard.engine, kept);
    assert_false(uvk_lights_to_keep(&keyboard.engine, kept));
    for (size_t i = 0; i < G_N_ELEMENTS(bad); i++) {
        uvk_lights_restore(&keyboard.engine, bad[i], 2);
        assert_false(uvk_lights_to_keep(&keyboard.engine, kept));
    }
    uvk_lights_restore(&keyboard.engine, (const uint8_t[]){2, UVK_EFFECT_HUES}, 1);
    assert_false(uvk_lights_to_keep(&keyboard.engine, kept));
    uvk_lights_restore(&keyboard.engine, (const uint8_t[]){2, UVK_EFFECT_HUES}, 2);
    assert_int_equal(keyboard.engine.lit.level, 2);
    assert_int_equal(keyboard.engine.lit.effect, UVK_EFFECT_HUES);
    assert_false(keyboard.engine.lit.off);
}

/* The desk looks at one lamp; afterwards all is as before. */
static void one_thing_alone_is_shown(void **state)
{
    const struct uvk_colour red = {200, 0, 0};

    (void)state;
    keyboard_open(&keyboard, STRIP_OF("6", "5000mA", SHOWS("colour #00ff00")));
    keyboard.port.lamps = 1;
    tap("r1c0"); /* lights that are off, too */
    uvk_lights_show(&keyboard.engine, UVK_SHOWN_STRIP, 3, red, 2);
    keyboard_pass(&keyboard, 20);
    for (unsigned i = 0; i < 6; i++) {
        assert_int_equal(brightness(i), i == 3 ? 200 : 0);
    }
    assert_int_equal(keyboard.port.lit, 0);
    uvk_lights_show(&keyboard.engine, UVK_SHOWN_STRIP, UVK_SHOWN_EACH, red, 2);
    keyboard_pass(&keyboard, 20);
    assert_int_equal(brightness(0) + brightness(5), 400);
    uvk_lights_show(&keyboard.engine, UVK_SHOWN_LAMP, 1, red, 2);
    keyboard_pass(&keyboard, 20);
    assert_int_equal(keyboard.port.lit, 2);
    assert_int_equal(brightness(3), 0);
    uvk_lights_show(&keyboard.engine, UVK_SHOWN_BACKLIGHT, 0, red, 2);
    keyboard_pass(&keyboard, 1990);
    assert_int_equal(keyboard.port.backlight, 255);
    assert_int_equal(keyboard.port.lit, 0);
    keyboard_pass(&keyboard, 20);
    assert_int_equal(keyboard.port.backlight, 0);
    assert_int_equal(keyboard.port.lit, 1);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(levels_go_from_dark_to_full),
        cmocka_unit_test_teardown(one_lamp_in_a_pass, close_keyboard),
        cmocka_unit_test_teardown(the_current_stays_within_its_limit, close_keyboard),
        cmocka_unit_test_teardown(all_is_dark_while_the_host_sleeps, close_keyboard),
        cmocka_unit_test_teardown(hues_come_round, close_keyboard),
        cmocka_unit_test_teardown(breathing_goes_from_dark_to_full, close_keyboard),
        cmocka_unit_test_teardown(a_ring_spreads_from_the_key, close_keyboard),
        cmocka_unit_test_teardown(a_short_touch_is_seen, close_keyboard),
        cmocka_unit_test_teardown(what_is_kept, close_keyboard),
        cmocka_unit_test_teardown(one_thing_alone_is_shown, close_keyboard),
    };

    return cmocka_run_group_tests_name("lights", tests, NULL, NULL);
}
