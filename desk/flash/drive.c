/* drive.c - the road by a drive: the bootloader shows itself as one, takes a UF2 file, and
 * starts the firmware when the last block is there. The drive may be gone before the file is
 * closed. */
#include "roads.h"

#include "uvrek/formats.h"

#include <errno.h>
#include <fcntl.h>
#include <gio/gunixmounts.h>
#include <string.h>
#include <unistd.h>

#define INFO      "INFO_UF2.TXT"
#define FILE_NAME "firmware.uf2"
#define CURRENT   "CURRENT.UF2"
#define AT_ONCE   (16u * UVK_UF2_BLOCK)
#define GONE_MS   5000u /* a drive that has taken all goes within that time */
#define LOOK_MS   50u
#define INFO_MOST 4096

/* ---- finding it ------------------------------------------------------------------------- */

/* What stands behind WORDS in the drive's description; NULL: it is no bootloader's drive. */
static char *told_by(const char *folder, const char *words)
{
    char *path = g_build_filename(folder, INFO, NULL);
    char *text = NULL;
    gsize size = 0;
    char *found = NULL;

    if (g_file_get_contents(path, &text, &size, NULL) && size < INFO_MOST) {
        const char *at = strstr(text, words);
        found = at != NULL ? g_strndup(at + strlen(words), strcspn(at + strlen(words), "\r\n"))
                           : NULL;
    }
    g_free(text);
    g_free(path);
    return found;
}

static bool is_right(const char *folder, const struct uvk_chip *chip)
{
    char *board = told_by(folder, "Board-ID: ");
    bool right = board != NULL && strcmp(board, chip->drive) == 0;

    g_free(board);
    return right;
}

/* The drive was named: another kind there is an error, not something to wait for. */
static bool look_there(const struct visit *visit, GPtrArray *found, GError **error)
{
    const char *folder = visit->options->drive;
    char *board = told_by(folder, "Board-ID: ");
    bool other = board != NULL && strcmp(board, visit->chip->drive) != 0;

    if (other) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE,
                    "%s is the drive of another board (%s, not %s); nothing was written",
                    folder, board, visit->chip->drive);
    } else if (board != NULL) {
        g_ptr_array_add(found, g_strdup(folder));
    }
    g_free(board);
    return !other;
}

/* It is plugged in, but no folder shows it. */
static void hint_at_mounting(struct visit *visit)
{
    char *device = g_build_filename("/dev/disk/by-label", visit->chip->drive, NULL);

    if (!visit->hinted && g_file_test(device, G_FILE_TEST_EXISTS)) {
        char *hint = g_strdup_printf("its drive is there, but not mounted; mount it with\n"
                                     "  udisksctl mount --block-device %s",
                                     device);
        road_tell(visit->options, UVK_FLASH_HINT, hint, 0, 0);
        visit->hinted = true;
        g_free(hint);
    }
    g_free(device);
}

static void look_everywhere(struct visit *visit, GPtrArray *found)
{
    GList *mounts = g_unix_mounts_get(NULL);

    for (GList *at = mounts; at != NULL; at = at->next) {
        const char *folder = g_unix_mount_get_mount_path(at->data);
        if (!g_unix_mount_is_system_internal(at->data) && is_right(folder, visit->chip)) {
            g_ptr_array_add(found, g_strdup(folder));
        }
    }
    g_list_free_full(mounts, (GDestroyNotify)g_unix_mount_free);
    if (found->len == 0) {
        hint_at_mounting(visit);
    }
}

static bool look(struct visit *visit, GPtrArray *found, GError **error)
{
    if (visit->options->drive != NULL) {
        return look_there(visit, found, error);
    }
    look_everywhere(visit, found);
    return true;
}

/* ---- writing ----------------------------------------------------------------------------- */

static bool is_there(const char *folder)
{
    char *path = g_build_filename(folder, INFO, NULL);
    bool there = g_file_test(path, G_FILE_TEST_EXISTS);

    g_free(path);
    return there;
}

static bool fail_at(size_t done, size_t size, int number, GError **error)
{
    const char *why = number == 0        ? "it has gone"
                      : number == ENOSPC ? "the drive is full"
                      : number == EROFS || number == EACCES || number == EPERM
                          ? "it cannot be written to"
                          : g_strerror(number);

    g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE,
                "the drive took %zu of the file's %zu bytes: %s. The board is still in its "
                "bootloader, or "
                "can be brought there again: flash once more",
                done, size, why);
    return false;
}

/* The UF2 file, and how many bytes of code are in it. */
struct cargo {
    uint8_t *file;
    size_t size, code;
};

/* Of each block of 512 bytes, 256 are code. */
static void tell_written(const struct uvk_flash_options *options, const struct cargo *cargo,
                         size_t done)
{
    size_t code = done / 2;

    road_tell(options, UVK_FLASH_WRITING, NULL, code < cargo->code ? code : cargo->code,
              cargo->code);
}

/* All of the file; the number of the error in *NUMBER, 0: none. Returns the bytes that were
 * taken. */
static size_t pour(int target, const char *folder, const struct cargo *cargo,
                   const struct uvk_flash_options *options, int *number)
{
    const size_t size = cargo->size;
    size_t done = 0;

    *number = 0;
    while (done < size && *number == 0 && is_there(folder)) {
        size_t wanted = size - done < AT_ONCE ? size - done : AT_ONCE;
        ssize_t count = write(target, cargo->file + done, wanted);
        if (count < 0 && errno != EINTR) {
            *number = errno;
        } else if (count > 0) {
            done += (size_t)count;
            tell_written(options, cargo, done);
        }
        if (*number == 0 && fsync(target) != 0) {
            *number = errno;
        }
    }
    return done;
}

/* The chip starts when it has the last block, and the drive goes: errors from then on are none.
 */
static bool copy(const char *folder, const struct cargo *cargo,
                 const struct uvk_flash_options *options, GError **error)
{
    char *path = g_build_filename(folder, FILE_NAME, NULL);
    int target = open(path, O_WRONLY | O_CREAT | O_TRUNC | O_CLOEXEC, 0666);
    int number = errno;
    size_t done = 0;

    g_free(path);
    if (target >= 0) {
        done = pour(target, folder, cargo, options, &number);
        (void)close(target);
    }
    return done == cargo->size || fail_at(done, cargo->size, number, error);
}

static bool wait_until_gone(const char *folder, GError **error)
{
    for (unsigned waited = 0; waited < GONE_MS; waited += LOOK_MS) {
        if (!is_there(folder)) {
            return true;
        }
        g_usleep(LOOK_MS * 1000u);
    }
    g_set_error(error, UVK_PROBLEM, UVK_NOT_WELL,
                "the drive is still there %u s after it got the whole file: the chip has not "
                "taken it. Flash once more, with another cable if that does not help",
                GONE_MS / 1000u);
    return false;
}

static bool write_file(struct visit *visit, const char *folder, const uint8_t *code,
                       size_t size, GError **error)
{
    const struct uvk_chip *chip = visit->chip;
    struct cargo cargo = {.code = size};
    bool good;

    cargo.file = uvk_uf2_write(code, size, chip->flash_at, chip->uf2_family, &cargo.size);
    good = copy(folder, &cargo, visit->options, error) && wait_until_gone(folder, error);
    g_free(cargo.file);
    if (good) {
        road_tell(visit->options, UVK_FLASH_DONE,
                  "the drive has gone, as it does when the chip starts that", size, size);
    }
    return good;
}

/* ---- before that ------------------------------------------------------------------------ */

/* Drives that can be read show what is in the chip as a file (UF2 File Format, "Files exposed
 * by bootloaders"). */
static bool ask_before(const struct visit *visit, const char *folder, GError **error)
{
    char *path = g_build_filename(folder, CURRENT, NULL);
    char *file = NULL;
    gsize size = 0;
    struct uvk_uf2 uf2 = {.size = 0};
    bool good;

    if (visit->options->before == NULL) {
        g_free(path);
        return true;
    }
    if (g_file_get_contents(path, &file, &size, NULL)) {
        (void)uvk_uf2_read((const uint8_t *)file, size, visit->chip->flash, &uf2, NULL);
    }
    good = road_before(visit->options, uf2.bytes, uf2.size, error);
    g_free(uf2.bytes);
    g_free(file);
    g_free(path);
    return good;
}

static bool write_code(struct visit *visit, const char *name, const uint8_t *code, size_t size,
                       GError **error)
{
    if (!road_fits(visit->chip, code, size, error) || !ask_before(visit, name, error)) {
        return false;
    }
    if (code == NULL) {
        road_tell(visit->options, UVK_FLASH_DONE, "its drive is still there", 0, 0);
        return true;
    }
    return write_file(visit, name, code, size, error);
}

/* A folder that only behaves like a drive has no USB behind it. */
static bool on_usb(const char *name)
{
    GUnixMountEntry *mount = g_unix_mount_at(name, NULL);
    bool real = mount != NULL;

    g_clear_pointer(&mount, g_unix_mount_free);
    return real;
}

const struct road road_drive = {
    "uf2",
    "the drive of its bootloader",
    "press its reset button twice, quickly, or hold\n"
    "its BOOT button while you plug it in, or press the key that its keymap has for it",
    look,
    write_code,
    on_usb,
    road_nothing_missing,
    road_open_to_all};
