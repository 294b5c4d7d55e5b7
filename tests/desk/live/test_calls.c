/* What a probe says over the cable between two halves: its pulses become pins, and the file is
 * made to name them. */
#include "support.h"

#include "uvrek/call.h"
#include "uvrek/wiring.h"

#include <string.h>

#define FRAME_MS (UVK_CALL_SLOTS * UVK_CALL_SLOT_MS)

static const char *const chips[] = {"atmega32u4", "rp2040"};
static uint32_t random_state = 1;

static unsigned random_below(unsigned limit)
{
    random_state = random_state * 1664525u + 1013904223u;
    return (random_state >> 8) % limit;
}

/* A pin that calls NUMBER is seen on PIN, from START ms on, each change up to LATE ms late. */
static void say(struct uvk_calls *calls, const struct uvk_pin *pin, unsigned number,
                unsigned start, unsigned late)
{
    for (unsigned bit = 0; bit < UVK_CALL_BITS; bit++) {
        unsigned at = start + bit * UVK_CALL_SLOT_MS;
        unsigned low = UVK_CALL_SHORT_MS * ((number >> bit & 1u) != 0 ? UVK_CALL_ONE : 1u);
        uvk_calls_take(calls, pin, true, (uint16_t)(at + random_below(late + 1)));
        uvk_calls_take(calls, pin, false, (uint16_t)(at + low + random_below(late + 1)));
    }
}

/* So often that it is believed: the last one has a pause behind it. */
static void say_often(struct uvk_calls *calls, const struct uvk_pin *pin, unsigned number)
{
    for (unsigned i = 0; i < 3; i++) {
        say(calls, pin, number, i * FRAME_MS, 0);
    }
}

static const struct uvk_pin *pin_of(const char *chip, const char *name)
{
    return uvk_chip_pin(uvk_chip_named(chip), name);
}

static unsigned number_of(const char *chip, const char *name)
{
    return (unsigned)(pin_of(chip, name) - uvk_chip_named(chip)->pins);
}

/* Seen as late as a probe may see it, and over the end of its clock. */
static void every_pin_of_every_chip_is_understood(void **state)
{
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(chips); i++) {
        const struct uvk_chip *chip = uvk_chip_named(chips[i]);
        assert_in_range(chip->pin_count, 1, 1u << UVK_CALL_BITS);
        for (unsigned number = 0; number < chip->pin_count; number++) {
            struct uvk_calls *calls = uvk_calls_new(chip);
            unsigned start = random_below(UINT16_MAX);
            assert_null(uvk_calls_pin(calls, &chip->pins[2]));
            for (unsigned frame = 0; frame < 3; frame++) {
                say(calls, &chip->pins[2], number, start + frame * FRAME_MS, UVK_CALL_LATE_MS);
            }
            assert_ptr_equal(uvk_calls_pin(calls, &chip->pins[2]), &chip->pins[number]);
            uvk_calls_free(calls);
        }
    }
}

/* What began in the middle, what was said once only, and two numbers in turn are none. */
static void a_number_is_believed_when_it_comes_twice(void **state)
{
    const struct uvk_chip *chip = uvk_chip_named("rp2040");
    struct uvk_calls *calls = uvk_calls_new(chip);
    const struct uvk_pin *pin = &chip->pins[0];

    (void)state;
    uvk_calls_take(calls, pin, false, 0);
    uvk_calls_take(calls, pin, true, 20);
    uvk_calls_take(calls, pin, false, 36);
    say(calls, pin, 5, FRAME_MS, 0);
    assert_null(uvk_calls_pin(calls, pin));
    say(calls, pin, 6, 2 * FRAME_MS, 0);
    assert_null(uvk_calls_pin(calls, pin));
    say(calls, pin, 6, 3 * FRAME_MS, 0);
    assert_null(uvk_calls_pin(calls, pin)); /* the second one has not ended */
    say(calls, pin, 6, 4 * FRAME_MS, 0);
    assert_ptr_equal(uvk_calls_pin(calls, pin), &chip->pins[6]);
    say(calls, pin, 31, 5 * FRAME_MS, 0);
    say(calls, pin, 31, 6 * FRAME_MS, 0);
    say(calls, pin, 31, 7 * FRAME_MS, 0);
    assert_null(uvk_calls_pin(calls, pin)); /* the chip has no such pin */
    uvk_calls_free(calls);
}

/* Fingers and noise are no calls, and do no harm. */
static void anything_may_be_heard(void **state)
{
    const struct uvk_chip *chip = uvk_chip_named("atmega32u4");
    struct uvk_calls *calls = uvk_calls_new(chip);
    uint16_t ms = 0;

    (void)state;
    for (unsigned i = 0; i < 200000; i++) {
        const struct uvk_pin *pin = &chip->pins[random_below((unsigned)chip->pin_count)];
        const struct uvk_pin *heard;
        ms = (uint16_t)(ms + random_below(200));
        uvk_calls_take(calls, pin, random_below(2) != 0, ms);
        heard = uvk_calls_pin(calls, pin);
        assert_true(heard == NULL ||
                    (heard >= chip->pins && heard < chip->pins + chip->pin_count));
    }
    uvk_calls_free(calls);
}

/* ---- the link --------------------------------------------------------------------------- */

/* Two pins, each with what calls over it; NULL: nothing. */
struct cable {
    const char *here[2], *there[2];
};

static struct uvk_calls *calls_over(const char *chip, const struct cable *cable)
{
    struct uvk_calls *calls = uvk_calls_new(uvk_chip_named(chip));

    for (unsigned i = 0; i < 2; i++) {
        if (cable->here[i] != NULL) {
            say_often(calls, pin_of(chip, cable->here[i]), number_of(chip, cable->there[i]));
        }
    }
    return calls;
}

static void a_cable_is_a_link_in_words(void **state)
{
    static const struct {
        const char *chip;
        struct cable cable;
        const char *words;
    } links[] = {
        {"atmega32u4", {{"D2"}, {"D2"}}, "wire D2"},
        {"atmega32u4", {{"D2", "D3"}, {"D3", "D2"}}, "uart D3 D2"},
        {"rp2040", {{"GP4", "GP5"}, {"GP5", "GP4"}}, "uart GP4 GP5"},
        {"rp2040", {{"GP4", "GP5"}, {"GP4", "GP5"}}, "uart GP4 GP5 straight"},
        {"rp2040", {{"GP4", "GP5"}, {"GP5", "GP5"}}, NULL},
        {"rp2040", {{"GP4"}, {"GP5"}}, NULL},
        {"rp2040", {{NULL}, {NULL}}, NULL},
    };

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(links); i++) {
        struct uvk_calls *calls = calls_over(links[i].chip, &links[i].cable);
        char *words = uvk_calls_link(calls);
        if (links[i].words == NULL) {
            assert_null(words);
        } else {
            assert_string_equal(words, links[i].words);
        }
        g_free(words);
        uvk_calls_free(calls);
    }
}

/* ---- the file --------------------------------------------------------------------------- */

/* HALVES of a board of CHIP with CABLE, whose computer's cable is in HALF: what is TOLD, and
 * what the file says of them then; NULL: nothing else. */
struct joining {
    const char *chip, *halves;
    struct cable cable;
    unsigned half;
    const char *told, *mended;
};

static char *board_text(const char *chip, const char *halves)
{
    bool avr = strcmp(chip, "atmega32u4") == 0;

    return g_strdup_printf("board two {\n chip %s\n"
                           " usb { vendor 0x1209; product 9; maker \"T\" }\n"
                           " halves left right { %s } # between them\n"
                           " matrix { rows %s; cols %s; flow row->col }\n"
                           " keys left { r0c0 }\n keys right { r0c0 } }\n",
                           chip, halves, avr ? "B1" : "GP10", avr ? "B3" : "GP11");
}

static void expect_joining(const struct joining *joining)
{
    char *text = board_text(joining->chip, joining->halves);
    struct uvk_program *program = good_program(text);
    struct uvk_wiring *wiring = uvk_wiring_new(program->board, joining->half);
    struct uvk_calls *calls = calls_over(joining->chip, &joining->cable);
    GPtrArray *told;
    const char *path;
    size_t size;
    char *mended;

    uvk_wiring_take_cable(wiring, calls);
    told = uvk_wiring_told(wiring);
    assert_int_equal(told->len, joining->told != NULL);
    if (joining->told != NULL) {
        assert_string_equal(told->pdata[0], joining->told);
    }
    mended = uvk_wiring_mend(wiring, false, &size, &path, NULL);
    if (joining->mended == NULL) {
        assert_null(mended);
    } else {
        char *wanted = board_text(joining->chip, joining->mended);
        assert_string_equal(mended, wanted);
        g_free(wanted);
    }
    g_free(mended);
    g_ptr_array_unref(told);
    uvk_calls_free(calls);
    uvk_wiring_free(wiring);
    uvk_program_free(program);
    g_free(text);
}

#define JOINS "the cable between the halves joins "
#define MAIN(it)                                                                               \
    "the main half is wrong: the computer's cable is in '" it "', and the file says main "
#define OTHERS ", so the keys of each half do what those of the other are for"

static void the_file_is_made_to_say_how_the_halves_are_joined(void **state)
{
    static const struct joining joinings[] = {
        {"rp2040",
         "main usb; link uart GP4 GP5",
         {{"GP4", "GP5"}, {"GP5", "GP4"}},
         0,
         NULL,
         NULL},
        {"rp2040",
         "main usb; link uart GP4 GP5 straight",
         {{"GP4", "GP5"}, {"GP4", "GP5"}},
         1,
         NULL,
         NULL},
        {"rp2040",
         "main usb; link uart GP4  GP5   straight; speed 9600",
         {{"GP4", "GP5"}, {"GP5", "GP4"}},
         0,
         JOINS
         "GP4 here to GP5 of the other half, GP5 here to GP4 of the other half: its lines "
         "cross, and the file says `straight`",
         "main usb; link uart GP4 GP5; speed 9600"},
        {"rp2040",
         "link uart GP0 GP1; main left",
         {{"GP4", "GP5"}, {"GP5", "GP4"}},
         0,
         JOINS "GP4 here to GP5 of the other half, GP5 here to GP4 of the other half: the file "
               "says otherwise",
         "link uart GP4 GP5; main left"},
        {"rp2040",
         "main usb; link wire GP0",
         {{"GP7"}, {"GP7"}},
         0,
         JOINS "GP7 here to GP7 of the other half: the file says otherwise",
         "main usb; link wire GP7"},
        {"rp2040",
         "main usb; link uart GP4 GP5",
         {{"GP4"}, {"GP5"}},
         0,
         JOINS "GP4 here to GP5 of the other half: nothing comes over the other line: it is "
               "broken",
         NULL},
        {"rp2040",
         "main usb; link uart GP4 GP5",
         {{"GP4", "GP5"}, {"GP5", "GP5"}},
         0,
         JOINS "GP4 here to GP5 of the other half, GP5 here to GP5 of the other half: its two "
               "lines are joined: look for a bridge",
         NULL},
        {"atmega32u4",
         "main usb; link uart D3 D2",
         {{"D2", "D3"}, {"D2", "D3"}},
         0,
         JOINS "D2 here to D2 of the other half, D3 here to D3 of the other half: its lines do "
               "not cross, and the file says that they do",
         NULL},
        {"atmega32u4", "main left; link wire D2", {{"D2"}, {"D2"}}, 0, NULL, NULL},
        {"atmega32u4",
         "main left; link wire D2",
         {{NULL}, {NULL}},
         1,
         "nothing comes over the cable between the halves: it is out or broken, brings no "
         "power, "
         "or there is no probe in the other half",
         NULL},
        {"atmega32u4",
         "main left; link wire D2",
         {{"D2"}, {"D2"}},
         1,
         MAIN("right") "left" OTHERS,
         "main right; link wire D2"},
        {"atmega32u4",
         "link wire D2; main right",
         {{"D2"}, {"D2"}},
         0,
         MAIN("left") "right" OTHERS,
         "link wire D2; main left"},
    };

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(joinings); i++) {
        expect_joining(&joinings[i]);
    }
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(every_pin_of_every_chip_is_understood),
        cmocka_unit_test(a_number_is_believed_when_it_comes_twice),
        cmocka_unit_test(anything_may_be_heard),
        cmocka_unit_test(a_cable_is_a_link_in_words),
        cmocka_unit_test(the_file_is_made_to_say_how_the_halves_are_joined),
    };

    return cmocka_run_group_tests(tests, NULL, NULL);
}
