/* Messages as they are shown, and texts that are hardly any. What is said of which mistake:
 * tests/mistakes and test_corpus.c. */
#include "support.h"

#include <stdio.h>

#include <string.h>

#define BOARD4                                                                                 \
    "board b {\n chip atmega32u4\n matrix { rows B1 B3; cols F4 F5; flow row->col }\n"         \
    " keys {\n  r0c0 r0c1\n  r1c0 r1c1\n }\n}\n"
#define KEYMAP4(top, cells) BOARD4 "keymap k {\n" top "layer base {\n" cells "\n}\n}\n"

/* Every message lies inside the text, and its place can be shown. */
static void cut_anywhere_every_message_has_a_place(void **state)
{
    static const char whole[] =
        KEYMAP4("let go = ctrl+'\\u{e9}'\nfeel f { rest 1.5s }\ncombo a+b -> esc\n",
                "a/b ~f mod(a, --)\nc d") "play \"x\" { tap a; expect text \"\\\"x\" }\n";

    (void)state;
    for (size_t cut = 0; cut < sizeof whole; cut++) {
        struct uvk_program *program = uvk_program_read("cut.uvk", whole, cut);
        for (guint i = 0; i < program->messages.list->len; i++) {
            const struct uvk_message *message = g_ptr_array_index(program->messages.list, i);
            char *shown = uvk_message_render(message, true);
            assert_non_null(message->place.source);
            assert_true(message->place.at <= cut);
            assert_non_null(uvk_code_text(message->code));
            g_free(shown);
        }
        uvk_program_free(program);
    }
}

static void message_is_shown_as_documented(void **state)
{
    static const char text[] = KEYMAP4("", "\tvolme-up  a\nc d");
    struct uvk_program *program = uvk_program_read("desk.uvk", text, strlen(text));
    char *shown = uvk_message_render(g_ptr_array_index(program->messages.list, 0), false);

    (void)state;
    assert_string_equal(shown, "desk.uvk:11:2: error[U021]: no key or name 'volme-up'\n"
                               "   11 |  volme-up  a\n"
                               "      |  ^^^^^^^^ did you mean 'volume-up'?\n");
    g_free(shown);
    uvk_program_free(program);
}

static void columns_count_characters(void **state)
{
    char *got = messages_of(KEYMAP4("", "'\u00e9' nonono\nc d"));

    (void)state;
    assert_non_null(strstr(got, "U021 11:5 "));
    g_free(got);
}

static void long_lines_are_shown_in_part(void **state)
{
    GString *text = g_string_new(BOARD4 "keymap k {\nlayer base {\n");
    struct uvk_program *program;
    char *shown;

    (void)state;
    for (int i = 0; i < 500; i++) {
        g_string_append(text, "a ");
    }
    g_string_append(text, "nonono\n}\n}\n");
    program = uvk_program_read("long.uvk", text->str, text->len);
    shown = uvk_message_render(g_ptr_array_index(program->messages.list, 1), false);
    assert_non_null(strstr(shown, "...a a a"));
    assert_true(strlen(shown) < 300);
    g_free(shown);
    uvk_program_free(program);
    g_string_free(text, TRUE);
}

/* ---- bad input ---------------------------------------------------------------------- */

static void assert_first_code(const char *text, size_t size, unsigned code)
{
    struct uvk_program *program = uvk_program_read("bad.uvk", text, size);
    const struct uvk_message *message;

    assert_true(program->messages.list->len > 0);
    message = g_ptr_array_index(program->messages.list, 0);
    assert_int_equal(message->code, code);
    uvk_program_free(program);
}

static void bytes_that_are_no_text(void **state)
{
    (void)state;
    assert_first_code("board \xff\xfe", 8, 2);
    assert_first_code("board b\0{}", 10, 2);
    assert_first_code("\x7f"
                      "ELF",
                      4, 6);
}

static void braces_without_end(void **state)
{
    size_t size = 10u << 20;
    char *text = g_malloc(size);

    (void)state;
    memset(text, '{', size);
    assert_first_code(text, size, 3);
    assert_first_code(text, 3u << 20, 5);
    memset(text, '(', size);
    assert_first_code(text, 3u << 20, 12);
    memset(text, '}', size);
    assert_first_code(text, 1u << 20, 11);
    memset(text, '@', size);
    assert_first_code(text, 3u << 20, 6);
    for (size_t i = 0; i + 1 < size; i += 2) {
        memcpy(text + i, "a(", 2);
    }
    assert_first_code(text, 3u << 20, 5);
    for (size_t i = 0; i + 1 < size; i += 2) {
        memcpy(text + i, "a:", 2);
    }
    assert_first_code(text, 3u << 20, 5);
    g_free(text);
}

static void mistakes_are_counted_beyond_those_told(void **state)
{
    GString *text = g_string_new(NULL);
    struct uvk_program *program;

    (void)state;
    for (int i = 0; i < 1000; i++) {
        g_string_append(text, "nothing known\n");
    }
    program = uvk_program_read("many.uvk", text->str, text->len);
    assert_int_equal(program->messages.list->len, UVK_ERRORS_MAX);
    assert_int_equal(program->messages.errors, 1000);
    uvk_program_free(program);
    g_string_free(text, TRUE);
}

static void names_of_ten_thousand_characters(void **state)
{
    char *name = g_strnfill(10000, 'q');
    char *text = g_strdup_printf(BOARD4 "keymap k {\nlayer base {\n%s b\nc d\n}\n}\n", name);
    char *got = messages_of(text);

    (void)state;
    assert_string_equal(got, "U010 11:1 a name of 10000 characters; a name has at most 64\n");
    g_free(got);
    g_free(text);
    g_free(name);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(cut_anywhere_every_message_has_a_place),
        cmocka_unit_test(message_is_shown_as_documented),
        cmocka_unit_test(columns_count_characters),
        cmocka_unit_test(long_lines_are_shown_in_part),
        cmocka_unit_test(bytes_that_are_no_text),
        cmocka_unit_test(braces_without_end),
        cmocka_unit_test(mistakes_are_counted_beyond_those_told),
        cmocka_unit_test(names_of_ten_thousand_characters),
    };
    return cmocka_run_group_tests_name("messages", tests, NULL, NULL);
}
