/* memory.c - what outlives the power of a keyboard on the bench: kept from one rig to the next,
 * and in a file. */
#include "workbench.h"

#include "uvrek/files.h"

#include <string.h>

/* MEMORY becomes the workbench's. */
static void keep(struct workbench *workbench, unsigned half, char *memory)
{
    g_free(workbench->memories[half]);
    workbench->memories[half] = memory;
    workbench->options.memories[half] = memory;
}

/* A line of hexadecimal digits for each half. A file that is not there is a new keyboard. */
bool memory_read(struct workbench *workbench, const char *path, GError **error)
{
    GError *why = NULL;
    char *text = NULL;
    char **lines;
    bool good = true;

    if (path == NULL) {
        return true;
    }
    if (!g_file_get_contents(path, &text, NULL, &why)) {
        if (!g_error_matches(why, G_FILE_ERROR, G_FILE_ERROR_NOENT)) {
            g_propagate_error(error, why);
            return false;
        }
        g_error_free(why);
        return true;
    }
    lines = g_strsplit(g_strchomp(text), "\n", UVK_HALVES + 1);
    g_free(text);
    for (unsigned half = 0; good && half < UVK_HALVES && lines[half] != NULL; half++) {
        good = lines[half][strspn(lines[half], "0123456789abcdef")] == '\0' &&
               strlen(lines[half]) % 2 == 0;
        keep(workbench, half, g_strdup(lines[half]));
    }
    g_strfreev(lines);
    if (!good) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "%s is no memory of a keyboard", path);
    }
    return good;
}

void memory_keep(struct workbench *workbench)
{
    for (unsigned half = 0; half < workbench->program->board->half_count; half++) {
        char *memory = workbench->rig != NULL ? uvk_rig_memory(workbench->rig, half) : NULL;
        if (memory != NULL) {
            keep(workbench, half, memory);
        }
    }
}

bool memory_write(struct workbench *workbench, const char *path, GError **error)
{
    GString *out = g_string_new(NULL);
    bool good = true;

    memory_keep(workbench);
    for (unsigned half = 0; half < UVK_HALVES && workbench->memories[half] != NULL; half++) {
        g_string_append_printf(out, "%s\n", workbench->memories[half]);
    }
    if (path != NULL && out->len > 0) {
        good = uvk_file_write(path, out->str, out->len, error);
    }
    g_string_free(out, TRUE);
    return good;
}
