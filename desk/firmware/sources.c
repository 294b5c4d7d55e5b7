/* sources.c - where the sources of the firmware are. */
#include "parts.h"

static bool has_sources(const char *folder)
{
    char *probe = g_build_filename(folder, "keyboard", "engine", "engine.c", NULL);
    bool found = g_file_test(probe, G_FILE_TEST_IS_REGULAR);

    g_free(probe);
    return found;
}

/* Beside the running program: in a source tree, or in an installed prefix. */
static char *beside_program(void)
{
    static const char *const beside[] = {"..", "../share/uvrek"};
    char *program = g_file_read_link("/proc/self/exe", NULL);
    char *folder = program != NULL ? g_path_get_dirname(program) : NULL;
    char *found = NULL;

    for (size_t i = 0; folder != NULL && found == NULL && i < G_N_ELEMENTS(beside); i++) {
        found = g_canonicalize_filename(beside[i], folder);
        if (!has_sources(found)) {
            g_clear_pointer(&found, g_free);
        }
    }
    g_free(program);
    g_free(folder);
    return found;
}

char *uvk_source_folder(GError **error)
{
    const char *home = g_getenv("UVREK_HOME");
    char *found = home != NULL && has_sources(home) ? g_canonicalize_filename(home, NULL)
                                                    : beside_program();

    if (found == NULL && has_sources(UVK_DATA_DIR)) {
        found = g_strdup(UVK_DATA_DIR);
    }
    if (found == NULL) {
        g_set_error_literal(error, UVK_PROBLEM, UVK_NOT_DONE,
                            "the firmware's sources are not where Uvrek was installed; "
                            "name their folder in UVREK_HOME");
    }
    return found;
}
