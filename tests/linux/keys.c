/* keys.c - what Linux makes of a keyboard: the keys of /dev/input/event*, "KEY VALUE" a line as
 * linux/input-event-codes.h numbers them (1 down, 0 up). A device that comes later is read,
 * too; one that goes is forgotten. */
#include <fcntl.h>
#include <glob.h>
#include <linux/input.h>
#include <poll.h>
#include <stdio.h>
#include <string.h>
#include <unistd.h>

#define MOST    32
#define LOOK_MS 50

static struct device {
    char path[64];
    int file;
} devices[MOST];
static int count;

static int is_open(const char *path)
{
    for (int i = 0; i < count; i++) {
        if (strcmp(devices[i].path, path) == 0) {
            return 1;
        }
    }
    return 0;
}

static void open_new(void)
{
    glob_t found;

    if (glob("/dev/input/event*", 0, NULL, &found) != 0) {
        return;
    }
    for (size_t i = 0; i < found.gl_pathc && count < MOST; i++) {
        struct device *device = &devices[count];
        int file = is_open(found.gl_pathv[i]) ? -1 : open(found.gl_pathv[i], O_RDONLY);
        if (file >= 0) {
            device->file = file;
            (void)snprintf(device->path, sizeof device->path, "%s", found.gl_pathv[i]);
            count++;
        }
    }
    globfree(&found);
}

/* False: the device has gone. */
static int read_device(int file)
{
    struct input_event event;

    if (read(file, &event, sizeof event) != (ssize_t)sizeof event) {
        return 0;
    }
    if (event.type == EV_KEY && event.value != 2) { /* 2: the kernel repeats it */
        printf("%u %d\n", (unsigned)event.code, (int)event.value);
        (void)fflush(stdout);
    }
    return 1;
}

int main(void)
{
    struct pollfd files[MOST];

    for (;;) {
        open_new();
        for (int i = 0; i < count; i++) {
            files[i] = (struct pollfd){devices[i].file, POLLIN, 0};
        }
        (void)poll(files, (nfds_t)count, LOOK_MS);
        for (int i = count; i > 0; i--) {
            if (files[i - 1].revents != 0 && !read_device(files[i - 1].fd)) {
                (void)close(devices[i - 1].file);
                devices[i - 1] = devices[--count];
            }
        }
    }
}
