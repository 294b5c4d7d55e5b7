/* editor_hooks.c - plays run and drawn, texts typed, for a text editor. */
#include "editor_hooks.h"
#include "typed.h"

#include "uvrek/firmware.h"
#include "uvrek/sheet.h"

#include <errno.h>
#include <glib/gstdio.h>
#include <stdio.h>
#include <string.h>

static char *outcome_text(struct uvk_program *program, const struct uvk_outcome *outcome)
{
    unsigned ms = (unsigned)(outcome->time / 1000);
    GString *text = g_string_new(NULL);
    GPtrArray *lines = uvk_moments_lines(program, outcome->moments, outcome->start);

    if (outcome->failed == NULL) {
        g_string_append_printf(text, "passed (%u ms)", ms);
    } else {
        g_string_append_printf(text, "failed after %u ms: expected %s, got %s", ms,
                               outcome->expected, outcome->got);
    }
    for (guint i = 0; i < lines->len; i++) {
        g_string_append_printf(text, "\n%s", (const char *)lines->pdata[i]);
    }
    g_ptr_array_unref(lines);
    return g_string_free(text, FALSE);
}

/* A keyboard, and what runs on it. */
struct simulated {
    struct uvk_program *program;
    uint8_t *image;
    uint16_t size;
};

static bool simulate(struct simulated *simulated, struct uvk_program *program, GError **error)
{
    simulated->program = program;
    simulated->image = uvk_lower(program, &simulated->size);
    if (simulated->image == NULL) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "the keymap is too large");
    }
    return simulated->image != NULL;
}

static struct uvk_rig *new_rig(void *data, GError **error)
{
    static const struct uvk_rig_options options = {.seed = 1, .bounce = UVK_BOUNCE_DEFAULT};
    const struct simulated *simulated = data;

    return uvk_rig_native(simulated->program, simulated->image, simulated->size, &options,
                          error);
}

static bool run(struct uvk_program *program, const struct uvk_play *play,
                struct uvk_outcome *outcome, GError **error)
{
    struct simulated simulated;
    struct uvk_rig *rig =
        simulate(&simulated, program, error) ? new_rig(&simulated, error) : NULL;
    int result = rig != NULL ? uvk_play_run(program, rig, play, outcome, error) : -1;

    uvk_rig_free(rig);
    g_free(simulated.image);
    return result >= 0;
}

char *editor_play(struct uvk_program *program, const struct uvk_play *play, void *data)
{
    struct uvk_outcome outcome = {.play = play};
    GError *error = NULL;
    char *text;

    (void)data;
    text = run(program, play, &outcome, &error)
               ? outcome_text(program, &outcome)
               : g_strdup_printf("could not be run: %s", error->message);
    g_clear_error(&error);
    uvk_outcome_clear(&outcome);
    return text;
}

/* ---- files ------------------------------------------------------------------------------- */

/* Where a file called NAME and ENDING goes: what is made for an editor replaces what was made
 * of the same name before. NULL: *ERROR. */
static char *file_for(const char *name, const char *ending, GError **error)
{
    char *folder = g_build_filename(g_get_user_cache_dir(), "uvrek", "editor", NULL);
    char *plain = g_strcanon(g_strdup(name), G_CSET_a_2_z G_CSET_A_2_Z G_CSET_DIGITS, '-');
    char *file = g_strdup_printf("%.64s%s", plain, ending);
    char *path = g_build_filename(folder, file, NULL);

    if (g_mkdir_with_parents(folder, 0755) != 0) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "cannot make the folder %s: %s", folder,
                    g_strerror(errno));
        g_clear_pointer(&path, g_free);
    }
    g_free(file);
    g_free(plain);
    g_free(folder);
    return path;
}

/* PATH, or what ERROR says: one of them is there. Both are taken. */
static char *path_or_why(char *path, GError *error, bool *good)
{
    char *why = error != NULL ? g_strdup(error->message) : NULL;

    *good = error == NULL;
    g_clear_error(&error);
    if (why != NULL) {
        g_free(path);
    }
    return why != NULL ? why : path;
}

char *editor_draw(struct uvk_program *program, const struct uvk_play *play, bool *good,
                  void *data)
{
    struct uvk_outcome outcome = {.play = play};
    GError *error = NULL;
    char *path = file_for(play->name, ".svg", &error);

    (void)data;
    if (path != NULL && run(program, play, &outcome, &error)) {
        (void)uvk_timeline_draw(program, &outcome, path, &error);
    }
    uvk_outcome_clear(&outcome);
    return path_or_why(path, error, good);
}

/* What people read of it. Freed with free. */
static char *typed(struct uvk_program *program, const char *text, GError **error)
{
    struct simulated simulated;
    char *report = NULL;
    size_t size = 0;
    FILE *out = open_memstream(&report, &size);
    unsigned wrong = 0;
    bool done = simulate(&simulated, program, error);
    const struct typing_request request = {program, text,    NULL,       1,
                                           false,   new_rig, &simulated, out};

    done = done && type_text(&request, NULL, &wrong, error);
    (void)fclose(out);
    g_free(simulated.image);
    if (!done) {
        g_clear_pointer(&report, free);
    }
    return report;
}

char *editor_type(struct uvk_program *program, const char *text, bool *good, void *data)
{
    GError *error = NULL;
    char *path = file_for("typed", ".txt", &error);
    char *report = path != NULL ? typed(program, text, &error) : NULL;

    (void)data;
    if (report != NULL) {
        (void)g_file_set_contents(path, report, -1, &error);
    }
    free(report);
    return path_or_why(path, error, good);
}

/* ---- messages ---------------------------------------------------------------------------- */

char *editor_messages(void)
{
    static const char *const pages[] = {"messages.md", "docs/messages.md"};
    char *folder = uvk_source_folder(NULL);
    char *uri = NULL;

    for (size_t i = 0; folder != NULL && uri == NULL && i < G_N_ELEMENTS(pages); i++) {
        char *path = g_build_filename(folder, pages[i], NULL);
        if (g_file_test(path, G_FILE_TEST_IS_REGULAR)) {
            uri = g_filename_to_uri(path, NULL, NULL);
        }
        g_free(path);
    }
    g_free(folder);
    return uri;
}
