/* Every limit says itself and the number that is over it; one less is taken. */
#include "support.h"

#include <string.h>

static void append_board(GString *text, unsigned rows, unsigned cols)
{
    static const char *const pins[] = {"B0", "B1", "B2", "B3", "B4", "B5", "B6", "B7", "C6",
                                       "C7", "D0", "D1", "D2", "D3", "D4", "D5", "D6", "D7",
                                       "E2", "E6", "F0", "F1", "F4", "F5", "F6", "F7"};

    g_string_append(text, "board wide { chip atmega32u4\n matrix { rows");
    for (unsigned i = 0; i < rows; i++) {
        g_string_append_printf(text, " %s", pins[i]);
    }
    g_string_append(text, "; cols");
    for (unsigned i = 0; i < cols; i++) {
        g_string_append_printf(text, " %s", pins[rows + i]);
    }
    g_string_append(text, "; flow col->row }\n keys {\n");
    for (unsigned row = 0; row < rows; row++) {
        for (unsigned col = 0; col < cols; col++) {
            g_string_append_printf(text, " r%uc%u", row, col);
        }
        g_string_append_c(text, '\n');
    }
    g_string_append(text, "} }\n");
}

static void append_cells(GString *text, unsigned count, const char *cell)
{
    for (unsigned i = 0; i < count; i++) {
        g_string_append_printf(text, " %s", cell);
    }
}

/* The messages of the text, and of lowering it, that have the code 27. */
static char *limits_of(const char *text)
{
    struct uvk_program *program = uvk_program_read("limits.uvk", text, strlen(text));
    GString *out = g_string_new(NULL);

    if (program->messages.errors == 0 && program->keymap != NULL) {
        uint16_t size;
        g_free(uvk_lower(program, &size));
    }
    for (guint i = 0; i < program->messages.list->len; i++) {
        const struct uvk_message *message = g_ptr_array_index(program->messages.list, i);
        if (message->severity == UVK_ERROR) {
            g_string_append_printf(out, "U%03u %s\n", message->code, message->text);
        }
    }
    uvk_program_free(program);
    return g_string_free(out, FALSE);
}

static void assert_limit(GString *text, const char *message)
{
    char *got = limits_of(text->str);

    assert_string_equal(got, message);
    g_free(got);
    g_string_free(text, TRUE);
}

static GString *layers(unsigned count)
{
    GString *text = g_string_new(NULL);

    append_board(text, 1, 1);
    g_string_append(text, "keymap k {\n");
    for (unsigned i = 0; i < count; i++) {
        g_string_append_printf(text, "layer n%u { %s }\n", i, i == 0 ? "n1" : "a");
    }
    g_string_append(text, "}\n");
    return text;
}

static void layers_have_a_limit(void **state)
{
    (void)state;
    assert_limit(layers(255), "");
    assert_limit(layers(256), "U027 256 layers; a keymap has at most 255\n");
}

/* A matrix of 13 x 13 is the most that the pins allow; halves and direct pins make more. */
static GString *keys(unsigned direct)
{
    GString *text =
        g_string_new("board many { chip rp2040\n halves left right { link uart GP28 "
                     "GP29 }\n matrix { rows GP0 GP1 GP2 GP3 GP4 GP5 GP6 GP7 GP8 "
                     "GP9; cols GP10 GP11 GP12 GP13 GP14 GP15 GP16 GP17 GP18 GP19 "
                     "GP20; flow col->row }\n direct { pins");

    for (unsigned i = 0; i < 7; i++) {
        g_string_append_printf(text, " GP%u", 21 + i);
    }
    g_string_append(text, " }\n keys left {\n");
    for (unsigned row = 0; row < 10; row++) {
        for (unsigned col = 0; col < 11; col++) {
            g_string_append_printf(text, " r%uc%u", row, col);
        }
        g_string_append_c(text, '\n');
    }
    for (unsigned i = 0; i < direct; i++) {
        g_string_append_printf(text, " d%u", i);
    }
    g_string_append(text, "\n }\n keys right mirror left\n}\n");
    return text;
}

static void keys_have_a_limit(void **state)
{
    (void)state;
    assert_limit(keys(7), "");
    /* 234 keys; four knobs more are eight */
    GString *text = keys(7);
    g_string_truncate(text, text->len - 2);
    assert_limit(text, "U011 this '{' is never closed\n");
}

static void knobs_count_as_two_keys(void **state)
{
    GString *text =
        g_string_new("board many { chip rp2040\n halves left right { link uart GP28 "
                     "GP29 }\n matrix { rows GP0 GP1 GP2 GP3 GP4 GP5 GP6 GP7 GP8 "
                     "GP9; cols GP10 GP11 GP12 GP13 GP14 GP15 GP16 GP17 GP18 GP19 "
                     "GP20 GP21; flow col->row }\n knob k1 left { pins GP22 GP23 }\n"
                     " keys left {\n");

    (void)state;
    for (unsigned row = 0; row < 10; row++) {
        for (unsigned col = 0; col < 12; col++) {
            g_string_append_printf(text, " r%uc%u", row, col);
        }
        g_string_append(text, row == 9 ? " =k1\n" : "\n");
    }
    g_string_append(text, " }\n keys right mirror left\n}\n");
    assert_limit(text, "U027 240 keys and 1 knobs; a board has at most 240, a knob counting as "
                       "two keys\n");
}

/* A keymap on nine keys with COUNT times what FORMAT makes of a number. */
static GString *many(unsigned count, const char *before, const char *format, const char *after)
{
    GString *text = g_string_new(BOARD9 "keymap k {\n");

    g_string_append(text, before);
    for (unsigned i = 0; i < count; i++) {
        char *number = g_strdup_printf("%u", i);
        char **parts = g_strsplit(format, "#", -1);
        char *one = g_strjoinv(number, parts);
        g_string_append(text, one);
        g_free(one);
        g_strfreev(parts);
        g_free(number);
    }
    g_string_append(text, after);
    g_string_append(text, "\n}\n");
    return text;
}

#define CELLS9 "layer base { a b c d e f g h i }"

static void feels_have_a_limit(void **state)
{
    (void)state;
    assert_limit(many(254, "", "feel f# { }\n", CELLS9), "");
    assert_limit(many(255, "", "feel f# { }\n", CELLS9),
                 "U027 a keymap has at most 255 feels\n");
}

static void combos_have_a_limit(void **state)
{
    (void)state;
    assert_limit(many(255, CELLS9 "\n", "combo a+b -> esc\n", ""), "");
    assert_limit(many(256, CELLS9 "\n", "combo a+b -> esc\n", ""),
                 "U027 a keymap has at most 255 combos\n");
}

static void dances_have_limits(void **state)
{
    (void)state;
    assert_limit(many(255, "dance d1 { ", "tap ", "-> a }\n" CELLS9), "");
    assert_limit(many(256, "dance d1 { ", "tap ", "-> a }\n" CELLS9),
                 "U017 a line of a dance has at most 255 touches\n");
    assert_limit(many(6, "", "dance d#d { hold -> b }\n",
                      "dance x1 { tap -> a; hold -> b/shift }\n" CELLS9),
                 "");
}

/* d0 -> d1 -> ... -> a: six deep is the most. */
static void dances_go_so_deep(void **state)
{
    GString *six = g_string_new(BOARD9 "keymap k {\ndance d0 { tap -> a }\n");
    GString *seven;

    (void)state;
    for (unsigned i = 1; i < 6; i++) {
        g_string_append_printf(six, "dance d%u { tap -> d%u }\n", i, i - 1);
    }
    seven = g_string_new(six->str);
    g_string_append(six, CELLS9 "\n}\n");
    g_string_append(seven, "dance d6 { tap -> d5 }\n" CELLS9 "\n}\n");
    assert_limit(six, "");
    assert_limit(seven,
                 "U026 'd6' is part of itself, or more than 6 dances and tap-holds deep\n");
}

static void macros_have_room_for_so_many_steps(void **state)
{
    (void)state;
    /* press and release for each tap, and the end */
    assert_limit(many(4095, "macro m1 { ", "tap a; ", "}\n" CELLS9), "");
    assert_limit(many(4096, "macro m1 { ", "tap a; ", "}\n" CELLS9),
                 "U027 this keymap takes 24724 bytes, 0 chords, 0 tap-holds, 0 dances, 8193 "
                 "steps of macros; an image has at most 65535 bytes, 8192 chords, 4096 "
                 "tap-holds, 4096 dances, 8192 steps\n");
}

/* 250 layers of 169 keys are more than an image holds. */
static void image_has_a_limit(void **state)
{
    GString *text = g_string_new(NULL);
    char *got;

    (void)state;
    append_board(text, 13, 13);
    g_string_append(text, "keymap k {\n");
    for (unsigned i = 0; i < 250; i++) {
        g_string_append_printf(text, "layer n%u {", i);
        append_cells(text, 169, "a");
        g_string_append(text, " }\n");
    }
    g_string_append(text, "}\n");
    got = limits_of(text->str);
    assert_non_null(strstr(got, "U027 this keymap takes 847"));
    assert_non_null(strstr(got, "an image has at most 65535 bytes"));
    g_free(got);
    g_string_free(text, TRUE);
}

static void sequences_have_limits(void **state)
{
    (void)state;
    assert_limit(many(1, CELLS9 "\nleader { ", "a b c d e f -> esc", " }"), "");
    assert_limit(many(1, CELLS9 "\nleader { ", "a b c d e f g -> esc", " }"),
                 "U017 a leader sequence has at most 6 keys\n");
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(layers_have_a_limit),
        cmocka_unit_test(keys_have_a_limit),
        cmocka_unit_test(knobs_count_as_two_keys),
        cmocka_unit_test(feels_have_a_limit),
        cmocka_unit_test(combos_have_a_limit),
        cmocka_unit_test(dances_have_limits),
        cmocka_unit_test(dances_go_so_deep),
        cmocka_unit_test(macros_have_room_for_so_many_steps),
        cmocka_unit_test(image_has_a_limit),
        cmocka_unit_test(sequences_have_limits),
    };
    return cmocka_run_group_tests_name("limits", tests, NULL, NULL);
}
