/* drive.c - a bootloader that shows itself as a drive: a folder that behaves like one. It takes
 * the blocks of a UF2 file, and goes when it has all of them. */
#include "uvrek/bootloader.h"
#include "uvrek/formats.h"

#include <errno.h>
#include <glib/gstdio.h>
#include <string.h>
#include <unistd.h>

#define INFO      "INFO_UF2.TXT"
#define DAMAGED   3u /* the block that loses a bit, with that fault */
#define FULL_FILE "firmware.uf2"

struct uvk_drive {
    const struct uvk_chip *chip;
    char *folder;
    struct uvk_drive_faults faults;
    uint8_t *flash;
    bool shown, left, heard, struck;
};

#define SLOW_US 1000000u

static bool write_info(const struct uvk_drive *drive, GError **error)
{
    char *path = g_build_filename(drive->folder, INFO, NULL);
    char *text = drive->faults.nonsense
                     ? g_strdup("\xA5\xA5\xA5\xA5")
                     : g_strdup_printf("UF2 Bootloader\r\nModel: %s\r\nBoard-ID: %s\r\n",
                                       drive->chip->title,
                                       drive->faults.other_chip ? "OTHER" : drive->chip->drive);
    bool good = g_file_set_contents(path, text, -1, error);

    g_free(text);
    g_free(path);
    return good;
}

/* A drive without room: what is written to its file meets a device that has none. */
static bool fill(const struct uvk_drive *drive, GError **error)
{
    char *path = g_build_filename(drive->folder, FULL_FILE, NULL);
    bool good = !drive->faults.full || symlink("/dev/full", path) == 0;

    if (!good) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "cannot make %s: %s", path,
                    g_strerror(errno));
    }
    g_free(path);
    return good;
}

bool uvk_drive_show(struct uvk_drive *drive, GError **error)
{
    drive->left = false;
    drive->heard = false;
    drive->struck = drive->faults.nonsense;
    if (g_mkdir(drive->folder, 0755) != 0) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "cannot make the drive's folder %s: %s",
                    drive->folder, g_strerror(errno));
        return false;
    }
    drive->shown = true;
    return write_info(drive, error) && fill(drive, error);
}

struct uvk_drive *uvk_drive_new(const char *folder, const struct uvk_chip *chip,
                                const struct uvk_drive_faults *faults)
{
    struct uvk_drive *drive = g_new0(struct uvk_drive, 1);

    drive->chip = chip;
    drive->folder = g_strdup(folder);
    drive->faults = *faults;
    drive->flash = g_malloc(chip->flash);
    memset(drive->flash, 0xFF, chip->flash);
    return drive;
}

/* It goes, with all that was put into it. */
static void vanish(struct uvk_drive *drive)
{
    GDir *dir = g_dir_open(drive->folder, 0, NULL);
    const char *name;

    while (dir != NULL && (name = g_dir_read_name(dir)) != NULL) {
        char *path = g_build_filename(drive->folder, name, NULL);
        (void)g_unlink(path);
        g_free(path);
    }
    g_clear_pointer(&dir, g_dir_close);
    (void)g_rmdir(drive->folder);
    drive->shown = false;
}

void uvk_drive_hide(struct uvk_drive *drive, bool mended)
{
    if (drive->shown) {
        vanish(drive);
    }
    if (mended) {
        memset(&drive->faults, 0, sizeof drive->faults);
    }
}

void uvk_drive_free(struct uvk_drive *drive)
{
    if (drive == NULL) {
        return;
    }
    uvk_drive_hide(drive, false);
    g_free(drive->folder);
    g_free(drive->flash);
    g_free(drive);
}

/* A whole file for this chip goes into its flash. */
static bool take(struct uvk_drive *drive, const uint8_t *file, size_t size)
{
    const struct uvk_chip *chip = drive->chip;
    struct uvk_uf2 uf2;
    size_t at;

    if (!uvk_uf2_read(file, size, chip->flash, &uf2, NULL)) {
        return false; /* not all of it is there yet, or it is none */
    }
    at = uf2.address - chip->flash_at;
    if (uf2.family != chip->uf2_family || uf2.address < chip->flash_at ||
        at + uf2.size > chip->flash) {
        g_free(uf2.bytes);
        return false;
    }
    memcpy(drive->flash + at, uf2.bytes, uf2.size);
    if (drive->faults.damages) {
        drive->flash[at + (DAMAGED % (uf2.size / 256u + 1u)) * 256u] ^= 0x10;
    }
    g_free(uf2.bytes);
    return true;
}

/* What somebody has put there; a full drive has a file of its own in the way. */
static bool is_put(const struct uvk_drive *drive, const char *path, const char *name)
{
    return strcmp(name, INFO) != 0 &&
           (drive->faults.full || g_file_test(path, G_FILE_TEST_IS_REGULAR));
}

static void look_at(struct uvk_drive *drive, const char *path)
{
    const struct uvk_drive_faults *faults = &drive->faults;
    char *file = NULL;
    gsize size = 0;

    drive->heard = true;
    drive->struck = faults->full || faults->deaf || faults->vanishes || faults->damages;
    if (!faults->full && !faults->deaf && !faults->vanishes &&
        g_file_get_contents(path, &file, &size, NULL)) {
        drive->left = take(drive, (const uint8_t *)file, size);
    }
    if (drive->left && faults->slow) {
        g_usleep(SLOW_US);
    }
    g_free(file);
}

void uvk_drive_serve(struct uvk_drive *drive)
{
    GDir *dir = g_dir_open(drive->folder, 0, NULL);
    const char *name;

    while (dir != NULL && !drive->left && (name = g_dir_read_name(dir)) != NULL) {
        char *path = g_build_filename(drive->folder, name, NULL);
        if (is_put(drive, path, name)) {
            look_at(drive, path);
        }
        g_free(path);
    }
    g_clear_pointer(&dir, g_dir_close);
    if (drive->left || (drive->heard && drive->faults.vanishes)) {
        vanish(drive);
    }
}

bool uvk_drive_left(const struct uvk_drive *drive)
{
    return drive->left;
}

bool uvk_drive_heard(const struct uvk_drive *drive)
{
    return drive->heard;
}

bool uvk_drive_struck(const struct uvk_drive *drive)
{
    return drive->struck;
}

uint8_t *uvk_drive_flash(struct uvk_drive *drive)
{
    return drive->flash;
}
