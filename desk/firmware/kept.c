/* kept.c - files that are kept from one build to the next, and trusted only as far as their
 * contents are still what was written.
 *
 * Beside each kept file stands NAME.sum, the SHA-256 of its contents. What a build makes is
 * made in a folder of its own and renamed when it is whole; a file without its sum, or with
 * another one, is made anew. A build that was killed leaves its folder, which the next one
 * takes away. */
#include "parts.h"

#include "uvrek/files.h"

#include <errno.h>
#include <fcntl.h>
#include <glib/gstdio.h>
#include <signal.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

#define WORK_PREFIX "work-"

static char *sum_of(const char *path)
{
    char *bytes = NULL;
    gsize size = 0;
    char *sum = NULL;

    if (g_file_get_contents(path, &bytes, &size, NULL)) {
        sum = g_compute_checksum_for_data(G_CHECKSUM_SHA256, (const guchar *)bytes, size);
    }
    g_free(bytes);
    return sum;
}

bool kept_is_good(const char *path)
{
    char *beside = g_strconcat(path, ".sum", NULL);
    char *told = NULL;
    char *sum = sum_of(path);
    bool good =
        sum != NULL && g_file_get_contents(beside, &told, NULL, NULL) && strcmp(told, sum) == 0;

    g_free(beside);
    g_free(told);
    g_free(sum);
    return good;
}

/* What stands in PATH reaches the disk before its name does. */
static bool sync_file(const char *path)
{
    int file = g_open(path, O_RDONLY, 0);
    bool good = file >= 0 && fsync(file) == 0;

    if (file >= 0) {
        (void)close(file);
    }
    return good;
}

bool kept_take(const char *made, const char *path, GError **error)
{
    char *beside = g_strconcat(path, ".sum", NULL);
    char *sum = sum_of(made);
    bool good = sum != NULL && sync_file(made) && g_rename(made, path) == 0;

    if (!good) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "cannot write %s: %s", path,
                    g_strerror(errno));
    } else {
        good = uvk_file_write(beside, sum, strlen(sum), error);
    }
    g_free(beside);
    g_free(sum);
    return good;
}

bool kept_text(const char *path, const char *text, GError **error)
{
    char *there = NULL;
    bool same = g_file_get_contents(path, &there, NULL, NULL) && strcmp(there, text) == 0;

    g_free(there);
    return same || uvk_file_write(path, text, strlen(text), error);
}

void kept_remove_folder(const char *path)
{
    GDir *dir = g_dir_open(path, 0, NULL);
    const char *name;

    while (dir != NULL && (name = g_dir_read_name(dir)) != NULL) {
        char *inside = g_build_filename(path, name, NULL);
        (void)g_unlink(inside);
        g_free(inside);
    }
    g_clear_pointer(&dir, g_dir_close);
    (void)g_rmdir(path);
}

/* Does the process whose number stands behind the prefix still run? */
static bool is_alive(const char *name)
{
    long number = strtol(name + strlen(WORK_PREFIX), NULL, 10);

    return number > 0 && (kill((pid_t)number, 0) == 0 || errno == EPERM);
}

static void remove_dead(const char *cache)
{
    GDir *dir = g_dir_open(cache, 0, NULL);
    const char *name;

    while (dir != NULL && (name = g_dir_read_name(dir)) != NULL) {
        if (g_str_has_prefix(name, WORK_PREFIX) && !is_alive(name)) {
            char *path = g_build_filename(cache, name, NULL);
            kept_remove_folder(path);
            g_free(path);
        }
    }
    g_clear_pointer(&dir, g_dir_close);
}

char *kept_work_folder(const char *cache, GError **error)
{
    char *path = g_strdup_printf("%s/" WORK_PREFIX "%ld-XXXXXX", cache, (long)getpid());

    remove_dead(cache);
    if (g_mkdtemp(path) == NULL) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "cannot make a folder in %s: %s", cache,
                    g_strerror(errno));
        g_clear_pointer(&path, g_free);
    }
    return path;
}
