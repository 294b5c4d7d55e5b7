/* terminal.c - the pseudo-terminal that the bench's bootloader is reached on. */
#include "uvrek/bootloader.h"

#include <errno.h>
#include <fcntl.h>
#include <glib/gstdio.h>
#include <stdlib.h>
#include <termios.h>
#include <unistd.h>

struct uvk_terminal {
    int ours, theirs; /* theirs stays open, so that a client may come and go */
    char *path;
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

struct uvk_terminal *uvk_terminal_new(const char *path, GError **error)
{
    struct uvk_terminal *terminal = g_new0(struct uvk_terminal, 1);
    const char *name = NULL;

    terminal->theirs = -1;
    terminal->ours = posix_openpt(O_RDWR | O_NOCTTY | O_CLOEXEC);
    if (terminal->ours >= 0 && grantpt(terminal->ours) == 0 && unlockpt(terminal->ours) == 0) {
        name = ptsname(terminal->ours);
    }
    if (name != NULL) {
        terminal->theirs = open(name, O_RDWR | O_NOCTTY | O_CLOEXEC);
        make_raw(terminal->theirs);
    }
    if (terminal->theirs < 0 || !link_to(name, path)) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "cannot make the serial port %s: %s",
                    path, g_strerror(errno));
        uvk_terminal_free(terminal);
        return NULL;
    }
    terminal->path = g_strdup(path);
    (void)fcntl(terminal->ours, F_SETFL, O_NONBLOCK);
    return terminal;
}

void uvk_terminal_free(struct uvk_terminal *terminal)
{
    if (terminal == NULL) {
        return;
    }
    if (terminal->path != NULL) {
        (void)g_unlink(terminal->path);
    }
    if (terminal->ours >= 0) {
        (void)close(terminal->ours);
    }
    if (terminal->theirs >= 0) {
        (void)close(terminal->theirs);
    }
    g_free(terminal->path);
    g_free(terminal);
}

int uvk_terminal_file(const struct uvk_terminal *terminal)
{
    return terminal->ours;
}

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
    send_all(terminal->ours, out->data, out->len);
    g_byte_array_free(out, TRUE);
}
