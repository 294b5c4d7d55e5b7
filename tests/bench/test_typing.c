/* Fingers that type a text, and what is told of what happened. */
#include "support.h"

#include "uvrek/typing.h"

#include <string.h>

#define LETTERS                                                                                \
    BOARD9 "keymap k { host linux us\n"                                                        \
           "layer base { a b/shift c; nav shift e; f space g }\n"                              \
           "layer nav { 1 . '!'; . . . ; '-' . . } }\n"

/* Type TEXT on a keyboard of KEYMAP; what came out has to be WANTED. */
static struct uvk_typing type_at(struct desk *desk, const char *keymap, const char *text,
                                 const char *tempo, uint32_t seed, const char *wanted)
{
    struct uvk_typing typing;
    GError *error = NULL;

    desk_open(desk, keymap, NULL);
    if (!uvk_type(desk->program, desk->rig, text, uvk_tempo_named(tempo), seed, &typing,
                  &error)) {
        fail_msg("%s", error->message);
    }
    if (wanted != NULL) {
        assert_string_equal(typing.got, wanted);
    }
    return typing;
}

static struct uvk_typing type(struct desk *desk, const char *keymap, const char *text,
                              uint32_t seed, const char *wanted)
{
    return type_at(desk, keymap, text, "fast", seed, wanted);
}

static const struct uvk_typed_key *typed_at(const struct uvk_typing *typing, guint index)
{
    return &g_array_index(typing->keys, struct uvk_typed_key, index);
}

static void each_way_of_typing_is_found(void **state)
{
    struct desk desk;
    struct uvk_typing typing = type(&desk, LETTERS, "a1C! -b A", 4, "a1C! -b A");

    (void)state;
    assert_int_equal(typing.keys->len, 9);
    assert_int_equal(typed_at(&typing, 1)->key, 0); /* on the layer, where a is */
    assert_int_equal(typed_at(&typing, 2)->key, 2); /* with shift held */
    assert_int_equal(typed_at(&typing, 4)->key, 7);
    uvk_typing_clear(&typing);
    desk_close(&desk);
}

/* Everything that is not a key of the first layer with another held. */
static void each_harder_way_is_found(void **state)
{
    static const char *const keymap =
        BOARD9 "keymap k { host linux us\nfeel default { decide on-nested }\n"
               "dance d1 { tap -> x; tap tap -> y; tap hold -> z; within 250ms }\n"
               "combo a+b -> q { on base }\nlong-press { letters; after 150ms }\n"
               "layer base { a b once:shift; once:one toggle:two d1; space/three e/four f }\n"
               "layer one { 1 2 .; . . .; . . . }\nlayer two { 3 . .; . . .; . . 4 }\n"
               "layer three { 5 . .; . . .; . once:altgr . }\n"
               "layer four { 6 . .; . . .; . . . }\n"
               "layer five when three+four { 7 . .; . . .; . . . } }\n";
    static const char *const tempos[] = {"slow", "steady"};

    (void)state;
    for (unsigned i = 0; i < 2; i++) {
        struct desk desk;
        struct uvk_typing typing = type_at(&desk, keymap, "a1b2 34 xyz q 5b 7a f3 EF zz6e",
                                           tempos[i], 3 + i, "a1b2 34 xyz q 5b 7a f3 EF zz6e");
        assert_int_equal(typing.misfires->len, 0);
        uvk_typing_clear(&typing);
        desk_close(&desk);
    }
}

/* A hold that asks for the other hand is not tried for keys of its own. */
static void the_other_hand_is_taken(void **state)
{
    struct desk desk;
    struct uvk_typing typing = type_at(&desk,
                                       "board four { chip atmega32u4\n direct { pins B1 B2 B3 "
                                       "B4 }\n keys { d0 d1 | d2 d3 } }\n"
                                       "keymap k { host linux us\nfeel default { other-hand }\n"
                                       "layer one { a/shift b c d/shift } }\n",
                                       "aBcDAbC", "steady", 6, "aBcDAbC");

    (void)state;
    assert_int_equal(typing.misfires->len, 0);
    uvk_typing_clear(&typing);
    desk_close(&desk);
}

static const char *misfire_at(const struct uvk_typing *typing, guint index, unsigned *times)
{
    const struct uvk_misfire *misfire =
        &g_array_index(typing->misfires, struct uvk_misfire, index);

    assert_true(index < typing->misfires->len);
    *times = misfire->times;
    return misfire->text;
}

/* What goes wrong when fingers roll is counted, and only then. */
static void misfires_are_counted(void **state)
{
    static const char *const hasty =
        BOARD9 "keymap k { host linux us\nfeel default { decide on-press }\n"
               "layer base { a b/ctrl c; d e f; g space h } }\n";
    static const char *const together =
        BOARD9 "keymap k { host linux us\ncombo a+b -> esc { within 80ms }\n"
               "layer base { a b c; d e f; g space h } }\n";
    static const char *const text = "abc bad bed cab dab abba cabbage";
    struct desk desk;
    unsigned times = 0;
    struct uvk_typing typing = type_at(&desk, hasty, text, "racing", 5, NULL);

    (void)state;
    assert_string_equal(misfire_at(&typing, 0, &times), "b (r0c1) was held, not tapped");
    assert_in_range(times, 3, 9);
    assert_true(strcmp(typing.got, text) != 0);
    assert_true(typing.rolls > 12);
    uvk_typing_clear(&typing);
    desk_close(&desk);

    typing = type_at(&desk, hasty, text, "slow", 5, text);
    assert_int_equal(typing.misfires->len, 0);
    uvk_typing_clear(&typing);
    desk_close(&desk);

    typing = type_at(&desk, together, text, "racing", 5, NULL);
    assert_string_equal(misfire_at(&typing, 0, &times),
                        "a+b came together, which nobody meant");
    assert_in_range(times, 2, 7);
    uvk_typing_clear(&typing);
    desk_close(&desk);

    typing = type_at(&desk,
                     BOARD9 "keymap k { host linux us\nfeel default { rest 300ms }\n"
                            "layer base { a b c; d e/shift f; g space h } }\n",
                     "aAbB", "fast", 5, "aeabeb");
    assert_string_equal(misfire_at(&typing, 0, &times), "e (r1c1) was tapped, not held");
    assert_int_equal(times, 2);
    uvk_typing_clear(&typing);
    desk_close(&desk);
}

/* The slower, the more time between presses, and the fewer rolls. */
static void tempos_are_apart(void **state)
{
    static const char *const text = "abcdefghiacegbdfhiabcdefghigfedcbaihg";
    double last = 0;

    (void)state;
    assert_null(uvk_tempo_named("lento"));
    for (unsigned i = 0; i < UVK_TEMPOS; i++) {
        struct desk desk;
        struct uvk_typing typing =
            type_at(&desk, KEYMAP9("a b c; d e f; g h i"), text, uvk_tempos[i].name, 2, text);
        double speed = uvk_typing_speed(&typing, text);
        assert_true(speed > last * 1.3);
        assert_true(i > 0 || typing.rolls == 0);
        assert_true(i < UVK_TEMPOS - 1 || typing.rolls > 20);
        last = speed;
        uvk_typing_clear(&typing);
        desk_close(&desk);
    }
}

/* The model in typing.h, in figures. */
static void fingers_keep_to_the_model(void **state)
{
    struct desk desk;
    struct uvk_typing typing;
    unsigned overlaps = 0;
    unsigned quick = 0;
    GArray *moments;

    (void)state;
    typing = type(&desk, KEYMAP9("a b c; d e f; g h i"),
                  "abcdefghiacegbdfhiabcdefghigfedcbaihgfedcbabcbabebhbiacafg", 9,
                  "abcdefghiacegbdfhiabcdefghigfedcbaihgfedcbabcbabebhbiacafg");
    for (guint i = 1; i < typing.keys->len; i++) {
        uint64_t between = typed_at(&typing, i)->touched - typed_at(&typing, i - 1)->touched;
        assert_in_range(between, 60000, 240000);
        quick += between < 130000;
    }
    assert_true(quick > typing.keys->len / 2);
    moments = uvk_rig_moments(desk.rig);
    for (guint i = 1; i < moments->len; i++) {
        const struct uvk_moment *one = &g_array_index(moments, struct uvk_moment, i - 1);
        const struct uvk_moment *two = &g_array_index(moments, struct uvk_moment, i);
        assert_true(one->time <= two->time);
    }
    /* two fingers down at once */
    for (guint i = 0, down = 0; i < moments->len; i++) {
        const struct uvk_moment *moment = &g_array_index(moments, struct uvk_moment, i);
        if (moment->kind == UVK_MOMENT_TOUCH) {
            down += moment->down ? 1 : -1u;
            overlaps += down > 1;
        }
    }
    assert_in_range(overlaps, 5, typing.keys->len / 2);
    uvk_moments_free(moments);
    uvk_typing_clear(&typing);
    desk_close(&desk);
}

/* The same seed, the same fingers; another seed, others. */
static void a_seed_is_a_hand(void **state)
{
    struct desk desk;
    uint64_t times[3];
    static const uint32_t seeds[] = {7, 7, 8};

    (void)state;
    for (unsigned i = 0; i < 3; i++) {
        struct uvk_typing typing = type(&desk, LETTERS, "face a cage", seeds[i], "face a cage");
        times[i] = typing.time;
        uvk_typing_clear(&typing);
        desk_close(&desk);
    }
    assert_int_equal(times[0], times[1]);
    assert_true(times[0] != times[2]);
}

/* A plain key is reported at the next scan and poll; a tap-hold when it is decided. */
static void delays_are_those_of_the_keymap(void **state)
{
    struct desk desk;
    struct uvk_typing typing = type(&desk, LETTERS, "acb", 3, "acb");
    uint64_t plain = typed_at(&typing, 0)->reported - typed_at(&typing, 0)->touched;
    uint64_t held = typed_at(&typing, 2)->reported - typed_at(&typing, 2)->touched;

    (void)state;
    assert_in_range(plain, 0, 3000);
    assert_in_range(held, 50000, 140000); /* till it comes up */
    uvk_typing_clear(&typing);
    desk_close(&desk);
}

static void dead_keys_are_two_touches(void **state)
{
    struct desk desk;
    struct uvk_typing typing =
        type(&desk,
             BOARD9 "keymap k { host linux fr\nlayer base { 'a' 'e' left-bracket; 'i' "
                    "shift space; 'o' 'u' 'n' } }\n",
             "êu ïa", 5, "êu ïa");

    (void)state;
    assert_int_equal(typing.keys->len, 7);
    uvk_typing_clear(&typing);
    desk_close(&desk);
}

static void what_cannot_be_typed_is_named(void **state)
{
    struct desk desk;
    struct uvk_typing typing;
    GError *error = NULL;

    (void)state;
    desk_open(&desk, LETTERS, NULL);
    assert_false(
        uvk_type(desk.program, desk.rig, "a q\tz\n", &uvk_tempos[0], 1, &typing, &error));
    assert_string_equal(error->message, "no key of this keymap types these, with two others at "
                                        "most: 'q', a tab, 'z', the end of a line");
    g_error_free(error);
    uvk_typing_clear(&typing);
    desk_close(&desk);
}

/* ---- moments ------------------------------------------------------------------------ */

/* What is told of STEPS, from line to line. */
static void assert_told(const char *keymap, const char *steps, const char *const *wanted)
{
    struct desk desk;
    GArray *moments;
    GPtrArray *lines;
    guint next = 0;

    desk_open(&desk, keymap, NULL);
    desk_do(&desk, steps);
    moments = uvk_rig_moments(desk.rig);
    lines = uvk_moments_lines(desk.program, moments, 0);
    for (guint i = 0; i < lines->len && wanted[next] != NULL; i++) {
        next += strstr(g_ptr_array_index(lines, i), wanted[next]) != NULL;
    }
    if (wanted[next] != NULL) {
        for (guint i = 0; i < lines->len; i++) {
            print_error("%s\n", (char *)g_ptr_array_index(lines, i));
        }
        fail_msg("not told: %s", wanted[next]);
    }
    g_ptr_array_unref(lines);
    uvk_moments_free(moments);
    desk_close(&desk);
}

static void each_reason_has_its_words(void **state)
{
    static const char *const keymap = BOARD9_KNOB
        "keymap k { host linux us\nfeel nest { decide on-nested }\n"
        "feel quick { again 150ms; rest 90ms }\nfeel vain { alone tap }\n"
        "feel prompt { decide on-press }\n"
        "dance d1 { tap -> 1; tap tap -> 2; tap hold -> ctrl }\n"
        "leader { a -> x }\nlong-press { digits }\n"
        "layer base { a b/shift ~nest c/shift ~quick; d/alt ~vain e/gui ~prompt d1; "
        "leader 5 mute; knob jog wheel-up volume-up } }\n";

    (void)state;
    assert_told(keymap, "down b\nwait 20ms\ntap a\nup b\nsettle",
                (const char *const[]){"finger    b (r0c1) down",
                                      "keyboard  b (r0c1)  hold: a (r0c0) was pressed and came "
                                      "up inside, after ",
                                      "keyboard  a (r0c0)  pressed, after ",
                                      "host      shift down", "host      a down",
                                      "host      \"A\"", "host      shift up", NULL});
    assert_told(keymap, "tap a\nwait 10ms\ntap c\nsettle",
                (const char *const[]){"c (r0c2)  tap: no rest before it", NULL});
    assert_told(
        keymap, "tap c\nwait 90ms\ntap c\nsettle",
        (const char *const[]){"c (r0c2)  tap: came up in time", "tap: again, quickly", NULL});
    assert_told(keymap, "tap d for 300ms\nsettle",
                (const char *const[]){"d (r1c0)  hold: still down after its time, after 200 ms",
                                      "d (r1c0)  the tap is added: it was held in vain", NULL});
    assert_told(keymap, "down e\nwait 20ms\ntap a\nup e\nsettle",
                (const char *const[]){"e (r1c1)  hold: a (r0c0) was pressed, after ", NULL});
    assert_told(
        keymap, "tap d1\ntap d1\nsettle",
        (const char *const[]){"d1 (r1c2)  a dance: 2 touches", "host      2 down", NULL});
    assert_told(
        keymap, "tap d1\ndown d1\nwait 220ms\nup d1\nsettle",
        (const char *const[]){"a dance, the last touch held: 2 touches, after 200 ms", NULL});
    assert_told(keymap, "tap leader\ntap a\nsettle",
                (const char *const[]){"a (r0c0)  the last key of a leader sequence", NULL});
    assert_told(keymap, "down 5\nwait 30ms\ntap a\nup 5\nsettle",
                (const char *const[]){"5 (r2c1)  tap: a (r0c0) was pressed, after ", NULL});
    assert_told(keymap, "turn jog -1\nsettle",
                (const char *const[]){"finger    turns jog -1", "keyboard  jog -1  pressed",
                                      "host      wheel-up by 1", NULL});
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(each_way_of_typing_is_found),
        cmocka_unit_test(each_harder_way_is_found),
        cmocka_unit_test(the_other_hand_is_taken),
        cmocka_unit_test(misfires_are_counted),
        cmocka_unit_test(tempos_are_apart),
        cmocka_unit_test(fingers_keep_to_the_model),
        cmocka_unit_test(a_seed_is_a_hand),
        cmocka_unit_test(delays_are_those_of_the_keymap),
        cmocka_unit_test(dead_keys_are_two_touches),
        cmocka_unit_test(what_cannot_be_typed_is_named),
        cmocka_unit_test(each_reason_has_its_words),
    };
    return cmocka_run_group_tests_name("typing", tests, NULL, NULL);
}
