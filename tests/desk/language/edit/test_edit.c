/* Changing a text in place: what changes, and that nothing else does. */
#include "support.h"

#include "uvrek/edit.h"

#include <string.h>

enum change { CELL, INSERT, REMOVE };

/* The place of WORD's first appearance in the source that was asked for. */
static struct uvk_place place_of(const struct uvk_program *program, const char *word)
{
    const struct uvk_source *source = g_ptr_array_index(program->sources, 0);
    const char *found = strstr(source->text, word);
    struct uvk_place place = {source, 0, 1};

    assert_non_null(found);
    place.at = (uint32_t)(found - source->text);
    return place;
}

/* KEYMAP behind BOARD9_KNOB, changed: at WORD (or in cell CELL of the layer WORD). */
static void becomes(enum change change, const char *word, unsigned cell, const char *text,
                    const char *before, const char *after)
{
    char *whole = g_strconcat(BOARD9_KNOB, before, NULL);
    struct uvk_program *program = good_program(whole);
    struct uvk_edits *edits = uvk_edits_new(g_ptr_array_index(program->sources, 0));
    GError *error = NULL;
    bool good = false;
    size_t size;
    char *got;

    if (change == CELL) {
        good = uvk_edit_cell(edits, program, (unsigned)(word[0] - '0'), cell, text, &error);
    } else if (change == INSERT) {
        good = uvk_edit_insert(edits, place_of(program, word), text, &error);
    } else {
        good = uvk_edit_remove(edits, place_of(program, word), &error);
    }
    if (!good) {
        fail_msg("%s", error->message);
    }
    got = uvk_edits_apply(edits, &size);
    assert_string_equal(got + strlen(BOARD9_KNOB), after);
    uvk_program_free(good_program(got));
    uvk_edits_free(edits);
    uvk_program_free(program);
    g_free(got);
    g_free(whole);
}

#define ONE_LAYER(cells)                                                                       \
    "keymap k {\n  set once-for 2s # why\n  layer base {\n" cells "  }\n}\n"

static void a_cell_changes_alone(void **state)
{
    (void)state;
    becomes(CELL, "0", 1, "volume-up",
            ONE_LAYER("    a  b          c # x\n    d e f\n    g h i\n"),
            ONE_LAYER("    a  volume-up  c # x\n    d e f\n    g h i\n"));
    becomes(CELL, "0", 1, "volume-up", ONE_LAYER("    a  b  c\n    d e f\n    g h i\n"),
            ONE_LAYER("    a  volume-up c\n    d e f\n    g h i\n"));
    becomes(CELL, "0", 3, "x", ONE_LAYER("    a b c\n    enter  e  f  # end\n    g h i\n"),
            ONE_LAYER("    a b c\n    x      e  f  # end\n    g h i\n"));
    becomes(CELL, "0", 8, "ctrl+c", ONE_LAYER("    a b c; d e f; g h i\n"),
            ONE_LAYER("    a b c; d e f; g h ctrl+c\n"));
    becomes(CELL, "0", 2, "'\xc3\xa4'",
            "keymap k { host linux de\n layer base { a b '\xc3\xbc'; d e f; g h i } }\n",
            "keymap k { host linux de\n layer base { a b '\xc3\xa4'; d e f; g h i } }\n");
}

static void a_knob_gets_its_line(void **state)
{
    (void)state;
    becomes(CELL, "0", 10, "mute",
            ONE_LAYER("    a b c\n    d e f\n    g h i\n    knob jog x y # z\n"),
            ONE_LAYER("    a b c\n    d e f\n    g h i\n    knob jog x mute # z\n"));
    becomes(CELL, "0", 9, "mute", ONE_LAYER("    a b c\n    d e f\n    g h i # last\n"),
            ONE_LAYER("    a b c\n    d e f\n    g h i # last\n    knob jog mute .\n"));
    becomes(CELL, "0", 10, "mute", "keymap k { layer base { a b c; d e f; g h i } }",
            "keymap k { layer base { a b c; d e f; g h i; knob jog . mute } }");
}

#define LAYER9 "  layer base { a b c; d e f; g h i }\n"

static void statements_come_in(void **state)
{
    (void)state;
    becomes(INSERT, "keymap", 0, "set once-for 3s", "keymap k {\n" LAYER9 "}\n",
            "keymap k {\n" LAYER9 "  set once-for 3s\n}\n");
    becomes(INSERT, "keymap", 0, "set once-for 3s", "keymap k {\n" LAYER9 "  # end\n}\n# more",
            "keymap k {\n" LAYER9 "  set once-for 3s\n  # end\n}\n# more");
    becomes(INSERT, "keymap", 0, "combo a+b -> c",
            "keymap k { layer base { a b c; d e f; g h i } }",
            "keymap k { layer base { a b c; d e f; g h i }; combo a+b -> c }");
    becomes(INSERT, "feel", 0, "rest 90ms", "keymap k {\n  feel calm { }\n" LAYER9 "}\n",
            "keymap k {\n  feel calm { rest 90ms }\n" LAYER9 "}\n");
    becomes(INSERT, "feel", 0, "rest 90ms",
            "keymap k {\n  feel calm { # quiet\n  }\n" LAYER9 "}\n",
            "keymap k {\n  feel calm { # quiet\n    rest 90ms\n  }\n" LAYER9 "}\n");
    becomes(INSERT, "feel", 0, "rest 90ms",
            "keymap k {\n  feel calm { again 80ms; }\n" LAYER9 "}\n",
            "keymap k {\n  feel calm { again 80ms; rest 90ms; }\n" LAYER9 "}\n");
}

static void statements_go_out(void **state)
{
    (void)state;
    becomes(REMOVE, "set once", 0, NULL,
            "keymap k {\n  # a\n  set once-for 3s\n  # b\n" LAYER9 "}\n",
            "keymap k {\n  # a\n  # b\n" LAYER9 "}\n");
    becomes(REMOVE, "set once", 0, NULL, "keymap k {\n  set once-for 3s  # b\n" LAYER9 "}\n",
            "keymap k {\n  # b\n" LAYER9 "}\n");
    becomes(REMOVE, "once-for", 0, NULL, "keymap k { set once-for 3s; " LAYER9 "}\n",
            "keymap k { layer base { a b c; d e f; g h i }\n}\n");
    becomes(REMOVE, "rest", 0, NULL,
            "keymap k {\n  feel calm { again 80ms; rest 90ms } # c\n" LAYER9 "}\n",
            "keymap k {\n  feel calm { again 80ms } # c\n" LAYER9 "}\n");
    becomes(REMOVE, "again", 0, NULL,
            "keymap k {\n  feel calm { again 80ms; rest 90ms }\n" LAYER9 "}\n",
            "keymap k {\n  feel calm { rest 90ms }\n" LAYER9 "}\n");
    becomes(REMOVE, "feel", 0, NULL,
            "keymap k {\n  feel calm {\n    again 80ms\n  }\n" LAYER9 "}\n",
            "keymap k {\n" LAYER9 "}\n");
    becomes(REMOVE, "set once", 0, NULL, "keymap k {\n" LAYER9 "  set once-for 3s }\n",
            "keymap k {\n" LAYER9 " }\n");
}

static void a_file_grows_at_its_end(void **state)
{
    struct uvk_source source = {(char *)"x", (char *)"use \"y\"", 7};
    struct uvk_edits *edits = uvk_edits_new(&source);
    struct uvk_place end = {NULL, 0, 0};
    size_t size;
    char *text;

    (void)state;
    assert_true(uvk_edit_insert(edits, end, "play \"z\" { settle }", NULL));
    text = uvk_edits_apply(edits, &size);
    assert_string_equal(text, "use \"y\"\nplay \"z\" { settle }\n");
    g_free(text);
    uvk_edits_free(edits);
}

static void what_cannot_be_is_told(void **state)
{
    struct uvk_program *program =
        good_program(BOARD9 "keymap k { let two = a b; layer base { two c; d e f; g h i } }");
    struct uvk_source other = {(char *)"x", (char *)"", 0};
    struct uvk_edits *edits = uvk_edits_new(g_ptr_array_index(program->sources, 0));
    struct uvk_edits *elsewhere = uvk_edits_new(&other);
    GError *error = NULL;

    (void)state;
    assert_false(uvk_edit_cell(edits, program, 0, 1, "x", &error));
    assert_string_equal(
        error->message,
        "this cell of the layer 'base' is one of several that a name stands for");
    g_clear_error(&error);
    assert_false(uvk_edit_cell(edits, program, 0, 3, "nope", &error));
    assert_string_equal(error->message, "'nope' is no cell: no key or name 'nope'");
    g_clear_error(&error);
    assert_false(uvk_edit_cell(edits, program, 0, 3, "a }", &error));
    g_clear_error(&error);
    /* a comment would take the rest of the line with it */
    assert_false(uvk_edit_cell(edits, program, 0, 3, "a # later", &error));
    assert_non_null(strstr(error->message, "more than a cell"));
    g_clear_error(&error);
    assert_false(uvk_edit_cell(edits, program, 0, 3, "a;", &error));
    g_clear_error(&error);
    assert_false(uvk_edit_cell(edits, program, 0, 3, "a\n", &error));
    uvk_edits_free(NULL); /* as free(NULL) */
    g_clear_error(&error);
    assert_false(uvk_edit_cell(elsewhere, program, 0, 3, "x", &error));
    assert_string_equal(error->message, "this stands in another file, test.uvk");
    g_clear_error(&error);
    assert_false(uvk_edit_remove(elsewhere, program->keymap->place, &error));
    g_clear_error(&error);
    assert_int_equal(uvk_edits_count(edits) + uvk_edits_count(elsewhere), 0);
    uvk_edits_free(edits);
    uvk_edits_free(elsewhere);
    uvk_program_free(program);
}

/* ---- all that ships --------------------------------------------------------------------- */

static char *without_spaces(const char *text)
{
    GString *out = g_string_new(NULL);

    for (; *text != '\0'; text++) {
        if (*text != ' ') {
            g_string_append_c(out, *text);
        }
    }
    return g_string_free(out, FALSE);
}

static void assert_only_cell_differs(const struct uvk_program *a, const struct uvk_program *b,
                                     unsigned layer, unsigned cell)
{
    for (unsigned i = 0; i < a->keymap->layer_count; i++) {
        for (unsigned j = 0; j < uvk_board_cells(a->board); j++) {
            char *one = uvk_cell_name(a, &a->keymap->layers[i].cells[j]);
            char *two = uvk_cell_name(b, &b->keymap->layers[i].cells[j]);
            assert_true(strcmp(one, two) == 0 || (i == layer && j == cell));
            g_free(one);
            g_free(two);
        }
    }
}

/* Each cell of a keymap becomes another key; back again, and the text is as it was, spaces at
 * the end of long cells apart. */
static void every_cell_can_be_changed(void **state)
{
    static const char *const names[] = {"subtitle-desk", "translator", "box-office"};

    (void)state;
    for (size_t n = 0; n < (few_rounds() ? 1 : G_N_ELEMENTS(names)); n++) {
        struct uvk_program *program = shipped(names[n]);
        const struct uvk_source *source = g_ptr_array_index(program->sources, 0);
        for (unsigned layer = 1; layer < program->keymap->layer_count; layer++) {
            for (unsigned cell = 0; cell < uvk_board_cells(program->board); cell++) {
                struct uvk_place place = program->keymap->layers[layer].places[cell];
                struct uvk_edits *edits = uvk_edits_new(source);
                struct uvk_program *other;
                size_t size;
                char *text;
                assert_true(uvk_edit_cell(edits, program, layer, cell, "pad-7", NULL));
                text = uvk_edits_apply(edits, &size);
                other = uvk_program_read(source->path, text, size);
                assert_int_equal(other->messages.errors, 0);
                assert_only_cell_differs(program, other, layer, cell);
                if (place.source != NULL) { /* the rest is the same, byte by byte */
                    char *before = g_strndup(source->text, place.at);
                    char *behind = without_spaces(source->text + place.at + place.length);
                    char *got = without_spaces(text + place.at + strlen("pad-7"));
                    assert_true(g_str_has_prefix(text, before));
                    assert_string_equal(got, behind);
                    g_free(before);
                    g_free(behind);
                    g_free(got);
                }
                uvk_edits_free(edits);
                uvk_program_free(other);
                g_free(text);
            }
        }
        uvk_program_free(program);
    }
}

/* A statement put into each layer, feel, macro and the keymap goes out again without a trace.
 */
static void what_comes_in_goes_out(void **state)
{
    char *path = g_strdup(SOURCE_FOLDER "/boards/subtitle-desk.uvk");
    struct uvk_program *program = uvk_program_load(path);
    const struct uvk_source *source = g_ptr_array_index(program->sources, 0);
    struct uvk_arena *arena = uvk_arena_new();
    struct uvk_messages messages;
    unsigned blocks = 0;

    (void)state;
    uvk_messages_init(&messages);
    for (const struct uvk_node *at = uvk_parse(source, arena, &messages)->child; at != NULL;
         at = at->next) {
        struct uvk_edits *edits = uvk_edits_new(source);
        struct uvk_source changed = {(char *)"changed", NULL, 0};
        struct uvk_place there = {&changed, 0, 1};
        char *back;
        size_t size;
        if (uvk_edit_insert(edits, at->child->place, "zebra 7 { a; b }", NULL)) {
            changed.text = uvk_edits_apply(edits, &changed.size);
            there.at = (uint32_t)(strstr(changed.text, "zebra") - changed.text);
            uvk_edits_free(edits);
            edits = uvk_edits_new(&changed);
            assert_true(uvk_edit_remove(edits, there, NULL));
            back = uvk_edits_apply(edits, &size);
            assert_string_equal(back, source->text);
            g_free(back);
            g_free(changed.text);
            blocks++;
        }
        uvk_edits_free(edits);
    }
    assert_true(blocks > 15);
    uvk_messages_clear(&messages);
    uvk_arena_free(arena);
    uvk_program_free(program);
    g_free(path);
}

/* Cell 0 of the first layer, which others name by what it taps, becomes TEXT. */
static void named(const char *text, unsigned expected, const char *after)
{
    static const char whole[] = BOARD9
        "keymap k {\n host linux us\n leader { a b -> c }\n layer base {\n  a b leader d e "
        "f g h i\n }\n combo a+d -> z # a\n}\nplay \"a\" { tap a; tap b; expect text \"ab\" "
        "}\n";
    struct uvk_program *program = good_program(whole);
    struct uvk_edits *edits = uvk_edits_new(g_ptr_array_index(program->sources, 0));
    size_t size;
    unsigned count;
    char *changed;
    char *got;

    assert_true(uvk_edit_cell(edits, program, 0, 0, text, NULL));
    changed = uvk_edits_apply(edits, &size);
    got = uvk_edit_name_keys(program, changed, &size, &count);
    assert_int_equal(size, strlen(got));
    assert_string_equal(got + strlen(BOARD9), after);
    assert_int_equal(count, expected);
    uvk_program_free(good_program(got));
    g_free(got);
    g_free(changed);
    uvk_edits_free(edits);
    uvk_program_free(program);
}

static void keys_that_lose_their_name_get_an_address(void **state)
{
    (void)state;
    named(
        "x", 3,
        "keymap k {\n host linux us\n leader { r0c0 b -> c }\n layer base {\n  x b leader d e "
        "f g h i\n }\n combo r0c0+d -> z # a\n}\nplay \"a\" { tap r0c0; tap b; expect text "
        "\"ab\" }\n");
    /* a second key that taps it: the first one is meant still */
    named(
        "b", 5,
        "keymap k {\n host linux us\n leader { r0c0 r0c1 -> c }\n layer base {\n  b b leader d "
        "e f g h i\n }\n combo r0c0+d -> z # a\n}\nplay \"a\" { tap r0c0; tap r0c1; expect "
        "text \"ab\" }\n");
    named("a/ctrl", 0,
          "keymap k {\n host linux us\n leader { a b -> c }\n layer base {\n  a/ctrl b leader "
          "d e "
          "f g h i\n }\n combo a+d -> z # a\n}\nplay \"a\" { tap a; tap b; expect text \"ab\" "
          "}\n");
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(a_cell_changes_alone),
        cmocka_unit_test(a_knob_gets_its_line),
        cmocka_unit_test(statements_come_in),
        cmocka_unit_test(statements_go_out),
        cmocka_unit_test(a_file_grows_at_its_end),
        cmocka_unit_test(what_cannot_be_is_told),
        cmocka_unit_test(every_cell_can_be_changed),
        cmocka_unit_test(what_comes_in_goes_out),
        cmocka_unit_test(keys_that_lose_their_name_get_an_address),
    };

    return cmocka_run_group_tests_name("edit", tests, NULL, NULL);
}
