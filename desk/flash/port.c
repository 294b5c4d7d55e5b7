/* port.c - the road by a serial port: wait for the bootloader's, then let it write. */
#include "roads.h"

#include <string.h>

#define OPEN_US  500000 /* a port that has just appeared is not open to its group at once */
#define AGAIN_US 5000u

void uvk_line_close(struct uvk_line *line)
{
    if (line != NULL) {
        line->close(line->self);
    }
}

/* A keyboard that runs, and has a serial port beside its keys, may be asked for its bootloader:
 * it has the ids of the board. */
static bool touch_running(struct visit *visit, GError **error)
{
    const struct uvk_flash_options *options = visit->options;

    visit->hinted = true;
    if (options->touch != NULL && !uvk_serial_touch(options->touch, error)) {
        return false;
    }
    for (char **port = visit->before; options->vendor != 0 && *port != NULL; port++) {
        uint16_t vendor = 0;
        uint16_t product = 0;
        if (uvk_serial_ids(*port, &vendor, &product) && vendor == options->vendor &&
            product == options->product) {
            (void)uvk_serial_touch(*port, NULL);
        }
    }
    return true;
}

/* Which of the ports can be meant: the one that was named, else any that was not there before. */
static bool is_meant(const struct visit *visit, const char *port)
{
    const char *to = visit->options->to;

    return to != NULL ? strcmp(port, to) == 0
                      : !g_strv_contains((const char *const *)visit->before, port);
}

static bool look(struct visit *visit, GPtrArray *found, GError **error)
{
    const char *port = visit->options->port;
    char **now;

    if (!visit->hinted && !touch_running(visit, error)) {
        return false;
    }
    if (port != NULL) {
        if (g_file_test(port, G_FILE_TEST_EXISTS)) {
            g_ptr_array_add(found, g_strdup(port));
        }
        return true;
    }
    now = uvk_serial_ports();
    for (char **at = now; *at != NULL; at++) {
        if (is_meant(visit, *at)) {
            g_ptr_array_add(found, g_strdup(*at));
        }
    }
    g_strfreev(now);
    return true;
}

static struct uvk_line *open_soon(const char *name, GError **error)
{
    gint64 end = g_get_monotonic_time() + OPEN_US;
    struct uvk_line *line = uvk_serial_open(name, error);

    while (line == NULL && g_get_monotonic_time() < end) {
        g_clear_error(error);
        g_usleep(AGAIN_US);
        line = uvk_serial_open(name, error);
    }
    return line;
}

static bool write_code(struct visit *visit, const char *name, const uint8_t *code, size_t size,
                       GError **error)
{
    struct uvk_line *line = open_soon(name, error);
    bool good = line != NULL &&
                uvk_avr109_flash(line, visit->chip, code, size, visit->options, error);

    uvk_line_close(line);
    return good;
}

static bool on_usb(const char *name)
{
    uint16_t vendor;
    uint16_t product;

    return uvk_serial_ids(name, &vendor, &product);
}

const struct road road_port = {"serial",
                               "press its reset button, twice if once does\n"
                               "nothing, or the key that its keymap has for it",
                               look, write_code, on_usb};
