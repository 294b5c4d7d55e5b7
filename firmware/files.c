/* files.c - write files whole, and find the sources. */
#include "parts.h"

#include <errno.h>
#include <fcntl.h>
#include <glib/gstdio.h>
#include <stdio.h>
#include <string.h>
#include <unistd.h>

static bool write_all(int file, const char *bytes, size_t size)
{
    while (size > 0) {
        ssize_t written = write(file, bytes, size);
        if (written < 0 && errno == EINTR) {
            continue;
        }
        if (written <= 0) {
            return false;
        }
        bytes += written;
        size -= (size_t)written;
    }
    return true;
}

static bool cannot_write(const char *path, GError **error)
{
    g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "cannot write %s: %s", path,
                g_strerror(errno));
    return false;
}

bool uvk_file_write(const char *path, const void *bytes, size_t size, GError **error)
{
    char *temporary;
    int file;
    bool well;

    if (g_file_test(path, G_FILE_TEST_EXISTS) && !g_file_test(path, G_FILE_TEST_IS_REGULAR)) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "cannot write %s: it is no plain file",
                    path);
        return false; /* a rename would replace a device or a folder */
    }
    temporary = g_strdup_printf("%s.XXXXXX", path);
    file = g_mkstemp_full(temporary, O_RDWR, 0644);
    well = file >= 0;

    if (well) {
        well = write_all(file, bytes, size);
        well = fsync(file) == 0 && well;
        well = close(file) == 0 && well;
        well = well && g_rename(temporary, path) == 0;
        if (!well) {
            int reason = errno;
            (void)g_unlink(temporary);
            errno = reason;
        }
    }
    g_free(temporary);
    return well || cannot_write(path, error);
}

static bool has_sources(const char *folder)
{
    char *probe = g_build_filename(folder, "engine", "engine.c", NULL);
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
    char *found = home != NULL && has_sources(home) ? g_strdup(home) : beside_program();

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
