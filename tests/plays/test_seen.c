/* Nothing of a play has changed unseen, by not even a millisecond: fingers, decisions, what the
 * host saw. seen.txt keeps a sum of each play. When a change is meant, look at `uvrek play
 * --why` of both versions, then `UVREK_KEEP_SEEN=1 build/test_seen` writes the file anew. */
#include "support.h"

#include <string.h>

#define FOLDER SOURCE_FOLDER "/tests/plays"
#define KEPT   FOLDER "/seen.txt"

/* All that happened in PLAY, one thing a line. */
static char *what_happened(const struct uvk_program *program, const uint8_t *image,
                           uint16_t size, const struct uvk_play *play)
{
    struct uvk_rig_options options = {.seed = 3, .bounce = UVK_BOUNCE_DEFAULT};
    struct uvk_outcome outcome = {.play = play};
    GString *text = g_string_new(NULL);
    GError *error = NULL;
    struct uvk_rig *rig = uvk_rig_native(program, image, size, &options, &error);
    GPtrArray *lines;

    assert_non_null(rig);
    assert_int_not_equal(uvk_play_run(program, rig, play, &outcome, &error), -1);
    lines = uvk_moments_lines(program, outcome.moments, outcome.start);
    for (guint i = 0; i < lines->len; i++) {
        g_string_append_printf(text, "%s\n", (const char *)g_ptr_array_index(lines, i));
    }
    g_ptr_array_unref(lines);
    uvk_outcome_clear(&outcome);
    uvk_rig_free(rig);
    return g_string_free(text, FALSE);
}

/* A line for each play of the file NAME: its sum, the file, the play. */
static void add_sums(GString *sums, GHashTable *texts, const char *name)
{
    char *path = g_build_filename(SOURCE_FOLDER, name, NULL);
    struct uvk_program *program = uvk_program_load(path);
    uint16_t size;
    uint8_t *image = uvk_lower(program, &size);

    assert_non_null(image);
    for (const struct uvk_play *play = program->plays; play != NULL; play = play->next) {
        char *happened = what_happened(program, image, size, play);
        char *sum = g_compute_checksum_for_string(G_CHECKSUM_SHA256, happened, -1);
        char *line = g_strdup_printf("%.16s %s: %s", sum, name, play->name);
        g_string_append_printf(sums, "%s\n", line);
        g_hash_table_insert(texts, line, happened);
        g_free(sum);
    }
    g_free(image);
    uvk_program_free(program);
    g_free(path);
}

static int by_name(const void *a, const void *b)
{
    return strcmp(*(const char *const *)a, *(const char *const *)b);
}

/* The files of plays, in order; each is freed with the array. */
static GPtrArray *files_of_plays(void)
{
    static const char *const others[] = {
        "boards/subtitle-desk.uvk", "boards/box-office.uvk", "boards/translator.uvk",
        "docs/behaviours/behaviours.uvk", "docs/behaviours/halves.uvk"};
    GPtrArray *files = g_ptr_array_new_with_free_func(g_free);
    GDir *folder = g_dir_open(FOLDER, 0, NULL);
    const char *name;

    while ((name = g_dir_read_name(folder)) != NULL) {
        if (g_str_has_suffix(name, ".uvk") && strcmp(name, "nine.uvk") != 0) {
            g_ptr_array_add(files, g_strconcat("tests/plays/", name, NULL));
        }
    }
    g_dir_close(folder);
    for (size_t i = 0; i < G_N_ELEMENTS(others); i++) {
        g_ptr_array_add(files, g_strdup(others[i]));
    }
    g_ptr_array_sort(files, by_name);
    return files;
}

/* Tell of each line of NOW that KEPT does not have, and what happened in that play. */
static void tell_what_is_new(const char *kept, const char *now, GHashTable *texts)
{
    char **lines = g_strsplit(now, "\n", -1);

    for (unsigned i = 0; lines[i] != NULL; i++) {
        char *line = g_strconcat(lines[i], "\n", NULL);
        if (*lines[i] != '\0' && strstr(kept, line) == NULL) {
            print_error("not as kept: %s%s", line,
                        (const char *)g_hash_table_lookup(texts, lines[i]));
        }
        g_free(line);
    }
    g_strfreev(lines);
}

static void each_play_goes_as_it_went(void **state)
{
    GPtrArray *files = files_of_plays();
    GHashTable *texts = g_hash_table_new_full(g_str_hash, g_str_equal, g_free, g_free);
    GString *now = g_string_new(NULL);
    char *kept = NULL;

    (void)state;
    for (guint i = 0; i < files->len; i++) {
        add_sums(now, texts, g_ptr_array_index(files, i));
    }
    if (g_getenv("UVREK_KEEP_SEEN") != NULL) {
        assert_true(g_file_set_contents(KEPT, now->str, (gssize)now->len, NULL));
    }
    assert_true(g_file_get_contents(KEPT, &kept, NULL, NULL));
    tell_what_is_new(kept, now->str, texts);
    assert_true(strcmp(kept, now->str) == 0);
    g_free(kept);
    g_string_free(now, TRUE);
    g_hash_table_unref(texts);
    g_ptr_array_unref(files);
}

int main(void)
{
    const struct CMUnitTest tests[] = {cmocka_unit_test(each_play_goes_as_it_went)};
    return cmocka_run_group_tests_name("seen", tests, NULL, NULL);
}
