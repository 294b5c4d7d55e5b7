/* hid.c - a HID interface that the kernel's own driver has, by hidapi: nothing is taken from
 * that driver, and the keyboard's other interfaces go on typing. */
#include "hid.h"

#include <errno.h>
#include <fcntl.h>
#include <hidapi.h>
#include <string.h>
#include <sys/file.h>
#include <unistd.h>

struct hid {
    hid_device *device;
    int lock; /* hidapi lets several programs in; a lock on the device file does not */
};

/* The device file PATH belongs to the USB device NAME: sysfs has it below that device. */
static bool is_of(const char *path, const char *name, unsigned interface)
{
    char *link = g_build_filename("/sys/class/hidraw", strrchr(path, '/') + 1, NULL);
    char *whole = realpath(link, NULL);
    char *part = g_strdup_printf("/%s:1.%u/", name, interface);
    bool is = whole != NULL && strstr(whole, part) != NULL;

    g_free(part);
    free(whole);
    g_free(link);
    return is;
}

/* NULL: the kernel has no device file for it, or this user may not open that. */
static char *path_of(const char *name, unsigned interface)
{
    struct hid_device_info *all = hid_enumerate(0, 0);
    char *path = NULL;

    for (struct hid_device_info *one = all; one != NULL && path == NULL; one = one->next) {
        if (one->path != NULL && strchr(one->path, '/') != NULL &&
            is_of(one->path, name, interface) && access(one->path, R_OK | W_OK) == 0) {
            path = g_strdup(one->path);
        }
    }
    hid_free_enumeration(all);
    return path;
}

static struct hid *open_at(const char *path, GError **error)
{
    struct hid *hid = g_new0(struct hid, 1);

    hid->lock = open(path, O_RDWR | O_CLOEXEC);
    if (hid->lock >= 0 && flock(hid->lock, LOCK_EX | LOCK_NB) != 0) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "somebody else has %s", path);
        hid_close_interface(hid);
        return NULL;
    }
    hid->device = hid->lock >= 0 ? hid_open_path(path) : NULL;
    if (hid->device == NULL) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "%s cannot be opened", path);
        hid_close_interface(hid);
        return NULL;
    }
    return hid;
}

bool hid_open_interface(const char *name, unsigned interface, struct hid **hid, GError **error)
{
    char *path = path_of(name, interface);

    *hid = path != NULL ? open_at(path, error) : NULL;
    if (path == NULL) {
        return true;
    }
    g_free(path);
    return *hid != NULL;
}

void hid_close_interface(struct hid *hid)
{
    if (hid == NULL) {
        return;
    }
    if (hid->device != NULL) {
        hid_close(hid->device);
    }
    if (hid->lock >= 0) {
        (void)close(hid->lock);
    }
    g_free(hid);
}

enum uvk_cable_result hid_receive(struct hid *hid, uint8_t *data, size_t *size, unsigned ms)
{
    int count;

    errno = 0;
    count = hid_read_timeout(hid->device, data, *size, (int)ms);
    *size = count > 0 ? (size_t)count : 0;
    if (count < 0 && errno != EINTR) { /* a signal has come: that is all */
        return UVK_CABLE_GONE;
    }
    return count > 0 ? UVK_CABLE_DONE : UVK_CABLE_LATE;
}

/* In front of the report stands its number; 0: the interface has one kind only (hidapi.h). */
enum uvk_cable_result hid_send(struct hid *hid, const uint8_t *data, size_t *size)
{
    uint8_t report[1 + 64] = {0};
    int count = -1;

    if (*size < sizeof report) {
        memcpy(report + 1, data, *size);
        count = hid_write(hid->device, report, 1 + *size);
    }
    *size = count > 0 ? (size_t)count - 1 : 0;
    return count > 0 ? UVK_CABLE_DONE : UVK_CABLE_GONE;
}
