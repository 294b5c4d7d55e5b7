/* sources.c - where the sources of the firmware are, and which of them it is made of. */
#include "parts.h"

#include <string.h>

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

/* ---- which ------------------------------------------------------------------------------ */

#define LIST "keyboard/engine/sources.txt"

/* Does the configuration say that MACRO is 0? */
static bool is_left_out(const char *config, const char *macro)
{
    char *line = g_strdup_printf("#define %s 0\n", macro);
    bool out = strstr(config, line) != NULL;

    g_free(line);
    return out;
}

/* A line of the list: a file, and the macro that may leave it out. */
static void add_line(GPtrArray *files, const char *line, const char *config)
{
    char **words = g_strsplit(line, " ", 2);

    if (words[0] != NULL && *words[0] != '#' && *words[0] != '\0' &&
        (words[1] == NULL || !is_left_out(config, words[1]))) {
        g_ptr_array_add(files, g_strdup(words[0]));
    }
    g_strfreev(words);
}

static gint by_name(gconstpointer a, gconstpointer b)
{
    return strcmp(*(const char *const *)a, *(const char *const *)b);
}

/* The C files of FOLDER, in the order of their names. */
static void add_folder(GPtrArray *files, const struct compiler *compiler, const char *folder)
{
    char *path = g_build_filename(compiler->sources, folder, NULL);
    GDir *dir = g_dir_open(path, 0, NULL);
    GPtrArray *names = g_ptr_array_new();
    const char *name;

    while (dir != NULL && (name = g_dir_read_name(dir)) != NULL) {
        if (g_str_has_suffix(name, ".c")) {
            g_ptr_array_add(names, g_build_filename(folder, name, NULL));
        }
    }
    g_ptr_array_sort(names, by_name);
    g_ptr_array_extend_and_steal(files, names);
    g_clear_pointer(&dir, g_dir_close);
    g_free(path);
}

static void add_port(GPtrArray *files, const struct compiler *compiler)
{
    char *folder = g_build_filename("keyboard", "ports", compiler->chip->port, NULL);

    add_folder(files, compiler, "keyboard/usb");
    add_folder(files, compiler, folder);
    g_free(folder);
}

GPtrArray *sources_list(const struct compiler *compiler, GError **error)
{
    char *path = g_build_filename(compiler->sources, LIST, NULL);
    GPtrArray *files = NULL;
    char *text = NULL;

    if (g_file_get_contents(path, &text, NULL, error)) {
        char **lines = g_strsplit(text, "\n", -1);
        files = g_ptr_array_new_with_free_func(g_free);
        for (char **line = lines; *line != NULL; line++) {
            add_line(files, *line, compiler->config);
        }
        g_strfreev(lines);
        add_port(files, compiler);
    }
    g_free(text);
    g_free(path);
    return files;
}
