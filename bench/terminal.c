/* terminal.c - the pseudo-terminal that the bench's bootloader is reached on. */
#include "uvrek/bootloader.h"

#include <errno.h>
#include <fcntl.h>
#include <glib/gstdio.h>
#include <stdlib.h>
#include <termios.h>
#include <unistd.h>

struct uvk_terminal {
    int ours, theirs; /* theirs stays open, so that a client may come and go; -1: not open */
    char *path;
    bool linked; /* PATH leads to it */
};

static void make_raw(int file)
{
    struct termios settings;

    if (tcgetattr(file, &settings) == 0) {
        cfmakeraw(&settings);
        (void)tcsetattr(file, TCSANOW, &settings);
    }
}

/* A link to a terminal that is gone is left over from a bench that was killed. */
static bool is_left_over(const char *path)
{
    char *target = g_file_read_link(path, NULL);
    bool left = target != NULL && g_str_has_prefix(target, "/dev/pts/") &&
                !g_file_test(target, G_FILE_TEST_EXISTS);

    g_free(target);
    return left;
}

/* Make PATH lead to the terminal. What is there already stays. */
static bool link_to(const char *name, const char *path)
{
    if (is_left_over(path)) {
        (void)g_unlink(path);
    }
    return symlink(name, path) == 0;
}

/* A new pair of files, and the link to it. */
static bool open_pair(struct uvk_terminal *terminal)
{
    const char *name = NULL;

    terminal->ours = posix_openpt(O_RDWR | O_NOCTTY | O_CLOEXEC);
    if (terminal->ours >= 0 && grantpt(terminal->ours) == 0 && unlockpt(terminal->ours) == 0) {
        name = ptsname(terminal->ours);
    }
    if (name != NULL) {
        terminal->theirs = open(name, O_RDWR | O_NOCTTY | O_CLOEXEC);
        make_raw(terminal->theirs);
    }
    terminal->linked = terminal->theirs >= 0 && link_to(name, terminal->path);
    return terminal->linked;
}

bool uvk_terminal_show(struct uvk_terminal *terminal, GError **error)
{
    if (terminal->linked) {
        return true;
    }
    if (!open_pair(terminal)) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "cannot make the serial port %s: %s",
                    terminal->path, g_strerror(errno));
        uvk_terminal_hide(terminal);
        return false;
    }
    (void)fcntl(terminal->ours, F_SETFL, O_NONBLOCK);
    return true;
}

static void close_file(int *file)
{
    if (*file >= 0) {
        (void)close(*file);
    }
    *file = -1;
}

void uvk_terminal_hide(struct uvk_terminal *terminal)
{
    if (terminal->linked) {
        (void)g_unlink(terminal->path);
    }
    terminal->linked = false;
    close_file(&terminal->ours);
    close_file(&terminal->theirs);
}

struct uvk_terminal *uvk_terminal_new(const char *path, GError **error)
{
    struct uvk_terminal *terminal = g_new0(struct uvk_terminal, 1);

    terminal->path = g_strdup(path);
    terminal->ours = -1;
    terminal->theirs = -1;
    if (!uvk_terminal_show(terminal, error)) {
        g_clear_pointer(&terminal, uvk_terminal_free);
    }
    return terminal;
}

void uvk_terminal_free(struct uvk_terminal *terminal)
{
    if (terminal != NULL) {
        uvk_terminal_hide(terminal);
        g_free(terminal->path);
        g_free(terminal);
    }
}

bool uvk_terminal_was_touched(struct uvk_terminal *terminal)
{
    struct termios settings;
    bool touched = terminal->theirs >= 0 && tcgetattr(terminal->theirs, &settings) == 0 &&
                   cfgetospeed(&settings) == B1200;

    if (touched && cfsetspeed(&settings, B9600) == 0) {
        (void)tcsetattr(terminal->theirs, TCSANOW, &settings);
    }
    return touched;
}

int uvk_terminal_file(const struct uvk_terminal *terminal)
{
    return terminal->ours;
}

#define SLOW_US  10000
#define PATIENCE 2000 /* milliseconds that a client may leave answers unread */

static void send_all(int file, const uint8_t *bytes, size_t size)
{
    int waited = 0;

    while (size > 0) {
        ssize_t sent = write(file, bytes, size);
        if (sent < 0 && errno == EAGAIN && waited++ < PATIENCE) {
            g_usleep(1000);
            continue;
        }
        if (sent <= 0) {
            return;
        }
        bytes += sent;
        size -= (size_t)sent;
    }
}

void uvk_terminal_serve(struct uvk_terminal *terminal, struct uvk_bootloader *bootloader)
{
    uint8_t bytes[512];
    ssize_t got = read(terminal->ours, bytes, sizeof bytes);
    GByteArray *out;

    if (got <= 0) {
        return;
    }
    out = g_byte_array_new();
    uvk_bootloader_feed(bootloader, bytes, (size_t)got, out);
    if (bootloader->faults.slow) {
        g_usleep(SLOW_US);
    }
    send_all(terminal->ours, out->data, out->len);
    g_byte_array_free(out, TRUE);
}
