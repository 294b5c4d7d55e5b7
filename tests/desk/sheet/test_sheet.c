/* Sheets: what stands where, in every form. */
#include "support.h"

#include "../../../desk/sheet/words.h"
#include "uvrek/sheet.h"

#include <glib/gstdio.h>
#include <string.h>

static char *drawn(const struct uvk_program *program, const struct uvk_sheet *sheet,
                   const char *suffix, gsize *size)
{
    char *name = g_strconcat("sheet", suffix, NULL);
    char *path = g_build_filename(scratch_folder(), name, NULL);
    GError *error = NULL;
    char *text = NULL;

    if (!uvk_sheet_draw(program, sheet, path, &error)) {
        fail_msg("%s", error->message);
    }
    assert_true(g_file_get_contents(path, &text, size, NULL));
    g_free(name);
    g_free(path);
    return text;
}

static unsigned count(const char *text, const char *part)
{
    unsigned found = 0;

    for (const char *at = text; (at = strstr(at, part)) != NULL; at++) {
        found++;
    }
    return found;
}

static void assert_label(const struct uvk_program *program, unsigned layer, unsigned cell,
                         const char *tap, const char *foot, const char *corner, bool lower)
{
    struct uvk_ways *ways = uvk_ways_find(program);
    struct label label = uvk_label_of(program, ways, layer, cell);

    assert_string_equal(label.tap, tap);
    assert_string_equal(label.foot != NULL ? label.foot : "", foot);
    assert_string_equal(label.corner != NULL ? label.corner : "", corner);
    assert_int_equal(label.lower, lower);
    uvk_label_clear(&label);
    uvk_ways_free(ways);
}

static void labels_say_what_one_would_read(void **state)
{
    struct uvk_program *program = good_program(
        BOARD9 "keymap k { host linux us\nmacro hello { type \"x\" }\n"
               "layer base { a 7/shift '?'; hello -- ctrl+c; nav toggle:nav volume-up }\n"
               "layer nav { . . .; pad-7 space once:alt; . '\\u{22}'/esc mute } }\n");

    (void)state;
    assert_label(program, 0, 0, "A", "", "", false);
    assert_label(program, 0, 1, "7", "shift", "&", false);
    assert_label(program, 0, 2, "?", "", "", false);
    assert_label(program, 0, 3, "hello", "", "", false);
    assert_label(program, 0, 4, "", "", "", false);
    assert_label(program, 0, 5, "ctrl+c", "", "", false);
    assert_label(program, 0, 6, "nav", "", "", false);
    assert_label(program, 0, 7, "toggle:nav", "", "", false);
    assert_label(program, 1, 0, "A", "", "", true);
    assert_label(program, 1, 1, "7", "shift", "", true);
    assert_label(program, 1, 3, "pad-7", "", "", false);
    assert_label(program, 1, 4, "space", "", "", false);
    assert_label(program, 1, 5, "once:alt", "", "", false);
    assert_label(program, 1, 7, "\"", "esc", "", false);
    uvk_program_free(program);
}

/* On a German host the key named y types z, and so it is shown. */
static void labels_follow_the_host(void **state)
{
    struct uvk_program *program = good_program(
        BOARD9 "keymap k { host linux de\nlayer base { y z minus; 2 '@' semicolon; "
               "left-bracket non-us-backslash q } }\n");

    (void)state;
    assert_label(program, 0, 0, "Z", "", "", false);
    assert_label(program, 0, 1, "Y", "", "", false);
    assert_label(program, 0, 2, "ß", "", "?", false);
    assert_label(program, 0, 3, "2", "", "\"", false);
    assert_label(program, 0, 4, "@", "", "", false);
    assert_label(program, 0, 5, "Ö", "", "", false);
    assert_label(program, 0, 6, "Ü", "", "", false);
    assert_label(program, 0, 7, "<", "", ">", false);
    uvk_program_free(program);
}

/* Every layer has its title, every key its cap, every combo its dots and its words. */
static void svg_holds_all_of_it(void **state)
{
    struct uvk_program *program = shipped("translator");
    struct uvk_sheet sheet = {.kind = UVK_SHEET_LAYERS, .layer = -1};
    gsize size;
    char *all = drawn(program, &sheet, ".svg", &size);
    char *one;

    (void)state;
    for (unsigned i = 0; i < program->keymap->layer_count; i++) {
        char *title = g_strdup_printf(">%s</text>", program->keymap->layers[i].name);
        assert_true(count(all, title) > 0);
        g_free(title);
    }
    /* a dot for each key of a combo */
    assert_int_equal(count(all, "<circle"), 3 * 2);
    assert_int_equal(count(all, ">X + C  →  ctrl+c</text>"), 1);
    /* the thumb keys are turned, with everything on them */
    assert_true(count(all, "<g transform=\"rotate(14.00 ") >= 5 * 4);
    assert_true(count(all, "<g transform=\"rotate(-14.00 ") >= 5 * 4);
    assert_int_equal(count(all, ">hold backspace and enter</text>"), 1);
    /* on it, two keys that fingers hold */
    assert_int_equal(count(all, ">held</text>"), 1 + 1 + 1 + 2);
    sheet.layer = 2;
    one = drawn(program, &sheet, ".svg", &size);
    assert_int_equal(count(one, ">{</text>"), 2); /* on its key, and above left-bracket */
    g_free(all);
    g_free(one);
    uvk_program_free(program);
}

static void knobs_are_round(void **state)
{
    struct uvk_program *program = shipped("subtitle-desk");
    struct uvk_sheet sheet = {.kind = UVK_SHEET_LAYERS, .layer = 0};
    gsize size;
    char *svg = drawn(program, &sheet, ".svg", &size);

    (void)state;
    assert_int_equal(count(svg, "<circle"), 1 + 4 * 2); /* the knob, and the dots of combos */
    assert_int_equal(count(svg, ">↶ ctrl+left   ↷ ctrl+right</text>"), 1);
    g_free(svg);
    uvk_program_free(program);
}

static void wiring_names_every_pin(void **state)
{
    struct uvk_program *program = shipped("lantern64");
    struct uvk_sheet sheet = {.kind = UVK_SHEET_WIRING};
    gsize size;
    char *svg = drawn(program, &sheet, ".svg", &size);
    char *text = uvk_sheet_text(program, &sheet, 80);

    (void)state;
    for (unsigned key = 0; key < program->board->key_count; key++) {
        char *wires = uvk_key_wires(program->board, key);
        assert_true(count(svg, wires) > 0);
        g_free(wires);
    }
    assert_int_equal(count(svg, "backlight: B7, 6 levels"), 1);
    assert_int_equal(count(text, "  rows     r0 F0, r1 F1, r2 F4, r3 F5, r4 F6\n"), 1);
    assert_int_equal(count(text, "  current flows from column to row\n"), 1);
    g_free(text);
    g_free(svg);
    uvk_program_free(program);
}

static void dark_and_light_differ_in_tones_only(void **state)
{
    struct uvk_program *program = shipped("subtitle-desk");
    struct uvk_sheet sheet = {.kind = UVK_SHEET_LAYERS, .layer = -1};
    gsize size;
    char *light = drawn(program, &sheet, ".svg", &size);
    char *dark;

    (void)state;
    sheet.dark = true;
    dark = drawn(program, &sheet, ".svg", &size);
    assert_true(strstr(light, "fill=\"#ffffff\"") != NULL);
    assert_true(strstr(dark, "fill=\"#ffffff\"") == NULL);
    assert_int_equal(count(light, "<text"), count(dark, "<text"));
    assert_int_equal(count(light, "<rect"), count(dark, "<rect"));
    g_free(light);
    g_free(dark);
    uvk_program_free(program);
}

static void png_and_pdf_are_what_they_say(void **state)
{
    struct uvk_program *program = shipped("box-office");
    struct uvk_sheet sheet = {.kind = UVK_SHEET_LAYERS, .layer = -1};
    gsize size;
    char *bytes = drawn(program, &sheet, ".png", &size);

    (void)state;
    assert_memory_equal(bytes, "\x89PNG\r\n\x1a\n", 8);
    assert_true(size > 10000);
    g_free(bytes);
    bytes = drawn(program, &sheet, ".pdf", &size);
    assert_memory_equal(bytes, "%PDF-1.", 7);
    assert_memory_equal(bytes + size - 6, "%%EOF\n", 6);
    g_free(bytes);
    uvk_program_free(program);
}

static void nothing_is_left_of_a_failure(void **state)
{
    struct uvk_program *program = shipped("box-office");
    struct uvk_sheet sheet = {.kind = UVK_SHEET_LAYERS, .layer = -1};
    GError *error = NULL;

    (void)state;
    assert_false(uvk_sheet_draw(program, &sheet, "/no/folder/x.svg", &error));
    g_clear_error(&error);
    assert_false(uvk_sheet_draw(program, &sheet, "/tmp/x.jpeg", &error));
    assert_false(g_file_test("/tmp/x.jpeg", G_FILE_TEST_EXISTS));
    g_clear_error(&error);
    uvk_program_free(program);
}

/* ---- the terminal ------------------------------------------------------------------------ */

static void assert_fits(const char *text, glong columns)
{
    char **lines = g_strsplit(text, "\n", -1);

    for (char **line = lines; *line != NULL; line++) {
        assert_true(g_utf8_strlen(*line, -1) <= columns);
    }
    g_strfreev(lines);
}

static void terminals_of_all_widths(void **state)
{
    static const char *const names[] = {"subtitle-desk", "translator", "box-office"};
    static const unsigned widths[] = {80, 100, 132, 200};

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(names); i++) {
        struct uvk_program *program = shipped(names[i]);
        for (size_t j = 0; j < G_N_ELEMENTS(widths); j++) {
            struct uvk_sheet sheet = {.kind = UVK_SHEET_LAYERS, .layer = -1};
            char *text = uvk_sheet_text(program, &sheet, widths[j]);
            assert_fits(text, widths[j]);
            g_free(text);
            sheet.kind = UVK_SHEET_WIRING;
            text = uvk_sheet_text(program, &sheet, widths[j]);
            assert_fits(text, widths[j]);
            g_free(text);
        }
        uvk_program_free(program);
    }
}

static void boxes_share_their_lines(void **state)
{
    struct uvk_program *program =
        good_program("board b {\n chip atmega32u4\n matrix { rows B1 B2; cols F4 F5; flow "
                     "row->col }\n keys {\n"
                     " r0c0*2 r0c1\n r1c0 r1c1*2\n } }\nkeymap k { layer base { a/nav b c d }\n"
                     "layer nav { . enter . -- } }\n");
    struct uvk_sheet sheet = {.kind = UVK_SHEET_LAYERS, .layer = -1};
    char *text = uvk_sheet_text(program, &sheet, 16);

    (void)state;
    assert_string_equal(text, "base\n"
                              "┌─────────┬────┐\n"
                              "│    A    │ B  │\n"
                              "│   nav   │    │\n"
                              "├────┬────┴────┤\n"
                              "│ C  │    D    │\n"
                              "│    │         │\n"
                              "└────┴─────────┘\n\n"
                              "nav: hold a\n"
                              "┌─────────┬────┐\n"
                              "│    A    │ ⏎  │\n"
                              "│    ■    │    │\n"
                              "├────┬────┴────┤\n"
                              "│ C  │    –    │\n"
                              "│ ·  │         │\n"
                              "└────┴─────────┘\n");
    g_free(text);
    uvk_program_free(program);
}

/* Each pair of pins is there once, and is what the electrical model says. */
static void pairs_are_those_of_the_wires(void **state)
{
    struct uvk_program *program = shipped("subtitle-desk");
    struct uvk_sheet sheet = {.kind = UVK_SHEET_PAIRS};
    char *text = uvk_sheet_text(program, &sheet, 80);

    (void)state;
    for (unsigned row = 0; row < 3; row++) {
        for (unsigned col = 0; col < 4; col++) {
            char *line = g_strdup_printf("  %s→%s", program->board->halves[0].rows[row]->name,
                                         program->board->halves[0].cols[col]->name);
            assert_int_equal(count(text, line), 1);
            g_free(line);
        }
    }
    assert_int_equal(count(text, "\nknob jog: D0 and D1\n"), 1);
    g_free(text);
    uvk_program_free(program);
}

/* What the lights do on a layer stands below it. */
static void lights_are_told_layer_by_layer(void **state)
{
    struct uvk_program *program = shipped("projection-room");
    const struct uvk_sheet sheet = {.kind = UVK_SHEET_LAYERS, .layer = -1};
    char *text = uvk_sheet_text(program, &sheet, 100);
    gsize size;
    char *picture = drawn(program, &sheet, ".svg", &size);

    (void)state;
    assert_non_null(strstr(text, "  lights     ripple #ff5a00\n"));
    assert_non_null(strstr(text, "  lights  #0050ff\n"));
    assert_non_null(strstr(text, "  lamp    numbers is lit\n"));
    assert_int_equal(count(picture, "#0050ff\""), 1); /* the dot beside the layer's name */
    g_free(picture);
    g_free(text);
    uvk_program_free(program);
}

/* Eighty columns are enough for every address, and for chords in their short form. */
static void narrow_terminals_lose_nothing(void **state)
{
    struct uvk_program *program = shipped("translator");
    struct uvk_sheet wiring = {.kind = UVK_SHEET_WIRING, .layer = -1};
    struct uvk_sheet layers = {.kind = UVK_SHEET_LAYERS, .layer = 1};
    char *text = uvk_sheet_text(program, &wiring, 80);

    (void)state;
    for (unsigned i = 0; i < program->board->key_count; i++) {
        char *place = uvk_cell_place(program->board, i);
        assert_int_equal(count(text, strchr(place, '.') + 1) >= 2, true);
        g_free(place);
    }
    g_free(text);
    text = uvk_sheet_text(program, &layers, 80);
    assert_int_equal(count(text, " ^← "), 1);
    assert_int_equal(count(text, " ^→ "), 1);
    assert_int_equal(count(text, "\xe2\x80\xa6"), 0);
    g_free(text);
    uvk_program_free(program);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(labels_say_what_one_would_read),
        cmocka_unit_test(labels_follow_the_host),
        cmocka_unit_test(svg_holds_all_of_it),
        cmocka_unit_test(knobs_are_round),
        cmocka_unit_test(wiring_names_every_pin),
        cmocka_unit_test(dark_and_light_differ_in_tones_only),
        cmocka_unit_test(png_and_pdf_are_what_they_say),
        cmocka_unit_test(nothing_is_left_of_a_failure),
        cmocka_unit_test(terminals_of_all_widths),
        cmocka_unit_test(boxes_share_their_lines),
        cmocka_unit_test(pairs_are_those_of_the_wires),
        cmocka_unit_test(lights_are_told_layer_by_layer),
        cmocka_unit_test(narrow_terminals_lose_nothing),
    };
    return cmocka_run_group_tests_name("sheet", tests, NULL, NULL);
}
