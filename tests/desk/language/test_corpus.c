/* Files with mistakes, and what is said of them: tests/mistakes has a mistake or a doubt each,
 * by its name, tests/broken many at a time, as they are met. NAME.messages has what is said of
 * NAME.uvk: every mistake once, on its place, with the fix where there is one. Each file is
 * read cut off at every byte as well. */
#include "support.h"

#include "uvrek/edit.h"

#include <stdio.h>
#include <string.h>

/* As tools/test runs it: paths are told in messages. */
static const char *const folders[] = {"tests/broken/", "tests/mistakes/"};

/* The files of a folder, without their ending. */
static void add_files(GPtrArray *names, const char *path)
{
    GDir *folder = g_dir_open(path, 0, NULL);
    const char *name;

    assert_non_null(folder);
    while ((name = g_dir_read_name(folder)) != NULL) {
        if (g_str_has_suffix(name, ".uvk")) {
            char *base = g_strndup(name, strlen(name) - strlen(".uvk"));
            g_ptr_array_add(names, g_strconcat(path, base, NULL));
            g_free(base);
        }
    }
    g_dir_close(folder);
}

/* Freed with g_ptr_array_unref. */
static GPtrArray *broken_files(void)
{
    GPtrArray *names = g_ptr_array_new_with_free_func(g_free);

    for (size_t i = 0; i < G_N_ELEMENTS(folders); i++) {
        guint before = names->len;
        add_files(names, folders[i]);
        assert_true(names->len > before + 30);
    }
    return names;
}

static void each_place_is_in_a_file(const struct uvk_program *program)
{
    for (guint i = 0; i < program->messages.list->len; i++) {
        const struct uvk_message *message = g_ptr_array_index(program->messages.list, i);
        const struct uvk_source *source = message->place.source;
        char *shown = uvk_message_render(message, false);
        assert_non_null(source);
        assert_true(message->place.at + message->place.length <= source->size);
        assert_non_null(shown);
        g_free(shown);
    }
}

static bool is_told(const char *name)
{
    char *path = g_strconcat(name, ".uvk", NULL);
    char *answer = g_strconcat(name, ".messages", NULL);
    struct uvk_program *program = uvk_program_load(path);
    char *got = messages_of_program(program);
    char *expected = NULL;
    bool good;

    if (!g_file_get_contents(answer, &expected, NULL, NULL)) {
        expected = g_strdup("(there is no such file)");
    }
    good = strcmp(got, expected) == 0;
    if (!good) {
        printf("-- %s\nexpected:\n%sgot:\n%s", answer, expected, got);
    }
    each_place_is_in_a_file(program);
    uvk_program_free(program);
    g_free(expected);
    g_free(got);
    g_free(answer);
    g_free(path);
    return good;
}

static void each_file_gets_its_messages(void **state)
{
    GPtrArray *names = broken_files();
    int wrong = 0;

    (void)state;
    for (guint i = 0; i < names->len; i++) {
        wrong += !is_told(g_ptr_array_index(names, i));
    }
    g_ptr_array_unref(names);
    assert_int_equal(wrong, 0);
}

/* No prefix of a file is read past its end, and none is told of another place. */
static void each_beginning_is_read(void **state)
{
    GPtrArray *names = broken_files();

    (void)state;
    for (guint i = 0; i < names->len; i++) {
        char *path = g_strconcat(g_ptr_array_index(names, i), ".uvk", NULL);
        char *text;
        gsize size;
        assert_true(g_file_get_contents(path, &text, &size, NULL));
        for (gsize length = 0; length < size; length++) {
            struct uvk_program *program = uvk_program_read(path, text, length);
            each_place_is_in_a_file(program);
            uvk_program_free(program);
        }
        g_free(text);
        g_free(path);
    }
    g_ptr_array_unref(names);
}

/* Messages of CODE that a program with TEXT gets. */
static unsigned told_of(const char *path, const char *text, enum uvk_code code)
{
    struct uvk_program *program = uvk_program_read(path, text, strlen(text));
    unsigned count = 0;

    for (guint i = 0; i < program->messages.list->len; i++) {
        const struct uvk_message *message = g_ptr_array_index(program->messages.list, i);
        count += message->code == code;
    }
    uvk_program_free(program);
    return count;
}

/* With its mend a message is gone. */
static void expect_mended(const struct uvk_program *program, const struct uvk_message *message)
{
    const struct uvk_source *source = message->place.source;
    struct uvk_edits *edits = uvk_edits_new(source);
    size_t size;
    char *text;

    assert_true(uvk_edit_mend(edits, message, NULL));
    text = uvk_edits_apply(edits, &size);
    assert_non_null(text);
    if (source == program->sources->pdata[0] &&
        told_of(source->path, text, message->code) >=
            told_of(source->path, source->text, message->code)) {
        fail_msg("U%03u '%s' stays with '%s' in %s:\n%s", (unsigned)message->code,
                 message->text, message->mend_text != NULL ? message->mend_text : "",
                 source->path, text);
    }
    g_free(text);
    uvk_edits_free(edits);
}

static void each_mend_mends(void **state)
{
    GPtrArray *names = broken_files();
    unsigned ways[UVK_MEND_REMOVE + 1] = {0};

    (void)state;
    for (guint i = 0; i < names->len; i++) {
        char *path = g_strconcat(g_ptr_array_index(names, i), ".uvk", NULL);
        struct uvk_program *program = uvk_program_load(path);
        for (guint j = 0; j < program->messages.list->len; j++) {
            const struct uvk_message *message = g_ptr_array_index(program->messages.list, j);
            ways[message->mend]++;
            if (message->mend != UVK_MEND_NONE) {
                expect_mended(program, message);
            }
        }
        uvk_program_free(program);
        g_free(path);
    }
    g_ptr_array_unref(names);
    for (size_t i = 0; i < G_N_ELEMENTS(ways); i++) {
        assert_true(ways[i] > 1); /* or nothing was tried */
    }
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(each_mend_mends),
        cmocka_unit_test(each_file_gets_its_messages),
        cmocka_unit_test(each_beginning_is_read),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
