/* serial.c - serial lines. libserialport finds the ports of USB devices; the bytes go
 * through termios, which takes any terminal device by its path, pseudo-terminals too. */
#include "uvrek/flash.h"

#include <errno.h>
#include <fcntl.h>
#include <libserialport.h>
#include <poll.h>
#include <termios.h>
#include <unistd.h>

struct serial {
    struct uvk_line line;
    int file;
};

#define WRITE_MS 2000

static bool cut(GError **error)
{
    g_set_error_literal(error, UVK_PROBLEM, UVK_NOT_DONE,
                        "the line to the bootloader was cut; reset the board and try again");
    return false;
}

static bool serial_write(void *self, const uint8_t *bytes, size_t size, GError **error)
{
    const struct serial *serial = self;

    while (size > 0) {
        struct pollfd ready = {serial->file, POLLOUT, 0};
        ssize_t written;
        if (poll(&ready, 1, WRITE_MS) <= 0 || (ready.revents & (POLLHUP | POLLERR))) {
            return cut(error);
        }
        written = write(serial->file, bytes, size);
        if (written < 0 && errno != EINTR && errno != EAGAIN) {
            return cut(error);
        }
        if (written > 0) {
            bytes += written;
            size -= (size_t)written;
        }
    }
    return true;
}

static bool serial_read(void *self, uint8_t *bytes, size_t size, unsigned timeout,
                        GError **error)
{
    const struct serial *serial = self;
    gint64 end = g_get_monotonic_time() + (gint64)timeout * 1000;

    while (size > 0) {
        struct pollfd ready = {serial->file, POLLIN, 0};
        gint64 left = (end - g_get_monotonic_time()) / 1000;
        ssize_t got;
        if (left <= 0 || poll(&ready, 1, (int)left) == 0) {
            g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE,
                        "no answer from the bootloader within %u ms", timeout);
            return false;
        }
        if (!(ready.revents & POLLIN)) {
            return cut(error);
        }
        got = read(serial->file, bytes, size);
        if (got == 0 || (got < 0 && errno != EINTR && errno != EAGAIN)) {
            return cut(error);
        }
        if (got > 0) {
            bytes += got;
            size -= (size_t)got;
        }
    }
    return true;
}

static void serial_close(void *self)
{
    struct serial *serial = self;

    (void)close(serial->file);
    g_free(serial);
}

/* Raw bytes, 8N1; a USB bootloader does not care for the speed, others have 57600. */
static bool make_raw(int file)
{
    struct termios settings;

    if (tcgetattr(file, &settings) != 0) {
        return false;
    }
    cfmakeraw(&settings);
    settings.c_cflag |= CLOCAL | CREAD;
    settings.c_cc[VMIN] = 0;
    settings.c_cc[VTIME] = 0;
    return cfsetspeed(&settings, B57600) == 0 && tcsetattr(file, TCSANOW, &settings) == 0 &&
           tcflush(file, TCIOFLUSH) == 0;
}

struct uvk_line *uvk_serial_open(const char *path, GError **error)
{
    int file = open(path, O_RDWR | O_NOCTTY | O_NONBLOCK | O_CLOEXEC);
    struct serial *serial;

    if (file < 0 || !make_raw(file)) {
        int reason = errno;
        bool denied = reason == EACCES || reason == EPERM;
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "cannot open %s: %s%s", path,
                    g_strerror(reason),
                    denied ? "; as root: adduser YOU dialout, then log in again" : "");
        if (file >= 0) {
            (void)close(file);
        }
        return NULL;
    }
    serial = g_new0(struct serial, 1);
    serial->file = file;
    serial->line = (struct uvk_line){serial, serial_write, serial_read, serial_close};
    return &serial->line;
}

bool uvk_has_serial(void)
{
    return true;
}

char **uvk_serial_ports(void)
{
    struct sp_port **ports = NULL;
    GPtrArray *names = g_ptr_array_new();

    if (sp_list_ports(&ports) == SP_OK) {
        for (size_t i = 0; ports[i] != NULL; i++) {
            if (sp_get_port_transport(ports[i]) == SP_TRANSPORT_USB) {
                g_ptr_array_add(names, g_strdup(sp_get_port_name(ports[i])));
            }
        }
        sp_free_port_list(ports);
    }
    g_ptr_array_add(names, NULL);
    return (char **)g_ptr_array_free(names, FALSE);
}

bool uvk_serial_ids(const char *path, uint16_t *vendor, uint16_t *product)
{
    struct sp_port *port = NULL;
    int ids[2] = {0, 0};
    bool known = sp_get_port_by_name(path, &port) == SP_OK &&
                 sp_get_port_usb_vid_pid(port, &ids[0], &ids[1]) == SP_OK;

    if (port != NULL) {
        sp_free_port(port);
    }
    *vendor = (uint16_t)ids[0];
    *product = (uint16_t)ids[1];
    return known;
}

bool uvk_serial_touch(const char *path, GError **error)
{
    int file = open(path, O_RDWR | O_NOCTTY | O_NONBLOCK | O_CLOEXEC);
    struct termios settings;
    bool good = file >= 0 && tcgetattr(file, &settings) == 0 &&
                cfsetspeed(&settings, B1200) == 0 && tcsetattr(file, TCSANOW, &settings) == 0;
    int reason = errno;

    if (!good) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "cannot touch %s: %s", path,
                    g_strerror(reason));
    }
    if (file >= 0) {
        (void)close(file);
    }
    return good;
}
