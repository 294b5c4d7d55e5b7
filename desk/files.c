/* files.c - write files whole or not at all. */
#define _GNU_SOURCE /* O_TMPFILE */
#include "uvrek/files.h"

#include <errno.h>
#include <fcntl.h>
#include <glib/gstdio.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/stat.h>
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

/* PATH, or where its symbolic links lead; NULL and an error if that is no place for a file. */
static char *place_of(const char *path, struct stat *there, bool *exists, GError **error)
{
    struct stat link;
    char *real = NULL;

    *exists = stat(path, there) == 0;
    if (!*exists && lstat(path, &link) == 0) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "cannot write %s: it leads nowhere",
                    path);
        return NULL;
    }
    if (*exists && !S_ISREG(there->st_mode)) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "cannot write %s: it is no plain file",
                    path);
        return NULL; /* a rename would replace a device or a folder */
    }
    if (*exists && (access(path, W_OK) != 0 || (there->st_mode & 0222) == 0)) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "cannot write %s: it is read-only", path);
        return NULL;
    }
    if (*exists && (real = realpath(path, NULL)) != NULL) {
        char *copy = g_strdup(real);
        free(real);
        return copy;
    }
    return g_strdup(path);
}

/* The new file is as readable, and belongs to whom the old one did: it may hold secrets. */
static bool keep_rights(int file, const struct stat *there)
{
    return (there->st_uid == geteuid() && there->st_gid == getegid()
                ? true
                : fchown(file, there->st_uid, there->st_gid) == 0) &&
           fchmod(file, there->st_mode & 07777) == 0;
}

/* The folder's own entry reaches the disk too. */
static void sync_folder_of(const char *path)
{
    char *folder = g_path_get_dirname(path);
    int file = g_open(folder, O_RDONLY | O_DIRECTORY, 0);

    if (file >= 0) {
        (void)fsync(file);
        (void)close(file);
    }
    g_free(folder);
}

/* A file without a name gets one when it is whole: a program that is killed leaves nothing.
 * Where the file system knows no such files, it has a temporary name from the start. */
static int open_nameless(const char *path)
{
    char *folder = g_path_get_dirname(path);
    int file = open(folder, O_TMPFILE | O_RDWR | O_CLOEXEC, 0666);

    g_free(folder);
    return file;
}

static bool give_name(int file, const char *name)
{
    char *self = g_strdup_printf("/proc/self/fd/%d", file);
    bool good = linkat(AT_FDCWD, self, AT_FDCWD, name, AT_SYMLINK_FOLLOW) == 0;

    g_free(self);
    return good;
}

static bool fill(int file, const void *bytes, size_t size, const struct stat *there)
{
    return write_all(file, bytes, size) && (there == NULL || keep_rights(file, there)) &&
           fsync(file) == 0;
}

/* Write to TEMPORARY, a name that is free; what was opened is closed. */
static bool write_temporary(const char *path, char *temporary, const void *bytes, size_t size,
                            const struct stat *there)
{
    int file = open_nameless(path);
    bool named = file < 0;
    bool good;

    if (named) {
        file = g_mkstemp_full(temporary, O_RDWR | O_CLOEXEC, 0666);
    } else {
        char *suffix = temporary + strlen(temporary) - strlen("XXXXXX");
        g_snprintf(suffix, strlen("XXXXXX") + 1, "%06x", g_random_int() & 0xFFFFFFu);
    }
    if (file < 0) {
        return false;
    }
    good = fill(file, bytes, size, there) && (named || give_name(file, temporary));
    return close(file) == 0 && good;
}

bool uvk_file_write(const char *path, const void *bytes, size_t size, GError **error)
{
    struct stat there;
    bool exists;
    char *place = place_of(path, &there, &exists, error);
    char *temporary;
    bool good;

    if (place == NULL) {
        return false;
    }
    temporary = g_strconcat(place, ".XXXXXX", NULL);
    good = write_temporary(place, temporary, bytes, size, exists ? &there : NULL) &&
           g_rename(temporary, place) == 0;
    if (good) {
        sync_folder_of(place);
    } else {
        int reason = errno;
        (void)g_unlink(temporary);
        errno = reason;
    }
    g_free(temporary);
    g_free(place);
    return good || cannot_write(path, error);
}
