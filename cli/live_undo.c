/* live_undo.c - the texts before each live change: what `uvrek live undo` takes back. */
#include "live.h"

#include "uvrek/files.h"

#include <stdio.h>
#include <string.h>

/* Where the texts before each change are kept, the oldest first. Freed with g_free. */
static char *undo_folder(const char *path)
{
    char *whole = g_canonicalize_filename(path, NULL);
    char *sum = g_compute_checksum_for_string(G_CHECKSUM_SHA256, whole, -1);
    char *folder;

    sum[16] = '\0';
    folder = g_build_filename(g_get_user_state_dir(), "uvrek", "undo", sum, NULL);
    g_free(sum);
    g_free(whole);
    return folder;
}

#define UNDO_MOST 1000u

static char *undo_file(const char *folder, unsigned number)
{
    char name[16];

    g_snprintf(name, sizeof name, "%04u", number);
    return g_build_filename(folder, name, NULL);
}

/* How many are kept. */
static unsigned count_undos(const char *folder)
{
    unsigned count = 0;

    for (; count < UNDO_MOST; count++) {
        char *file = undo_file(folder, count);
        bool there = g_file_test(file, G_FILE_TEST_EXISTS);
        g_free(file);
        if (!there) {
            break;
        }
    }
    return count;
}

/* The sum of the text after the change, a new line, the text before it. */
bool undo_keep(const char *path, const char *before, const char *after, size_t size,
               GError **error)
{
    char *folder = undo_folder(path);
    char *file = undo_file(folder, count_undos(folder));
    char *sum = g_compute_checksum_for_data(G_CHECKSUM_SHA256, (const guchar *)after, size);
    char *kept = g_strconcat(sum, "\n", before, NULL);
    bool good = g_mkdir_with_parents(folder, 0700) == 0 &&
                uvk_file_write(file, kept, strlen(kept), error);

    if (!good && (error == NULL || *error == NULL)) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "%s cannot be made", folder);
    }
    g_free(kept);
    g_free(sum);
    g_free(file);
    g_free(folder);
    return good;
}

char *undo_last(const char *path, const char *now, size_t size, char **file, GError **error)
{
    char *folder = undo_folder(path);
    unsigned count = count_undos(folder);
    char *sum = g_compute_checksum_for_data(G_CHECKSUM_SHA256, (const guchar *)now, size);
    char *kept = NULL;
    char *before = NULL;

    *file = count > 0 ? undo_file(folder, count - 1) : NULL;
    if (*file == NULL || !g_file_get_contents(*file, &kept, NULL, NULL)) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "%s has no change by `live set` to undo",
                    path);
    } else if (!g_str_has_prefix(kept, sum) || kept[strlen(sum)] != '\n') {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE,
                    "%s was changed since by somebody else: undoing would lose that", path);
    } else {
        before = g_strdup(kept + strlen(sum) + 1);
    }
    g_free(kept);
    g_free(sum);
    g_free(folder);
    return before;
}
