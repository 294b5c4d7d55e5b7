/* port.c - the road by a serial port: wait for the bootloader's, then let it write. */
#include "roads.h"

#include <grp.h>
#include <string.h>
#include <unistd.h>

#define GROUP       "dialout"
#define GROUPS_MOST 256
#define OPEN_US     500000 /* a port that has just appeared is not open to its group at once */
#define AGAIN_US    5000u
#define TOUCH_US    2000000

void uvk_line_close(struct uvk_line *line)
{
    if (line != NULL) {
        line->close(line->self);
    }
}

/* What was touched goes, to come back as its bootloader; a port that stays did not care. */
static void wait_until_gone(const char *port)
{
    gint64 end = g_get_monotonic_time() + TOUCH_US;

    while (g_file_test(port, G_FILE_TEST_EXISTS) && g_get_monotonic_time() < end) {
        g_usleep(AGAIN_US);
    }
}

static bool touch(const char *port, GError **error)
{
    if (!uvk_serial_touch(port, error)) {
        return false;
    }
    wait_until_gone(port);
    return true;
}

/* A keyboard that runs, and has a serial port beside its keys, may be asked for its bootloader:
 * it has the ids of the board. */
static bool touch_running(struct visit *visit, GError **error)
{
    const struct uvk_flash_options *options = visit->options;

    visit->hinted = true;
    if (options->touch != NULL && !touch(options->touch, error)) {
        return false;
    }
    for (char **port = visit->before; options->vendor != 0 && *port != NULL; port++) {
        uint16_t vendor = 0;
        uint16_t product = 0;
        if (uvk_serial_ids(*port, &vendor, &product) && vendor == options->vendor &&
            product == options->product) {
            (void)touch(*port, NULL);
        }
    }
    return true;
}

/* Which of the ports can be meant: the one that was named, else any that was not there before.
 */
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
    bool good =
        line != NULL && uvk_avr109_flash(line, visit->chip, code, size, visit->options, error);

    uvk_line_close(line);
    return good;
}

static bool on_usb(const char *name)
{
    uint16_t vendor;
    uint16_t product;

    return uvk_serial_ids(name, &vendor, &product);
}

static const char *missing(void)
{
    return uvk_has_serial() ? NULL
                            : "this uvrek was built without libserialport: install "
                              "libserialport-dev, and build it again";
}

/* The group that Debian gives serial ports to. */
static bool is_in_group(const char *name)
{
    const struct group *group = getgrnam(name);
    gid_t groups[GROUPS_MOST];
    int count = getgroups((int)G_N_ELEMENTS(groups), groups);
    bool member = geteuid() == 0 || (group != NULL && getegid() == group->gr_gid);

    for (int i = 0; group != NULL && i < count; i++) {
        member = member || groups[i] == group->gr_gid;
    }
    return member;
}

static bool may(const char *name, GError **error)
{
    bool open = name != NULL ? access(name, R_OK | W_OK) == 0 : is_in_group(GROUP);

    if (!open) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE,
                    "this user may not open serial ports. As root:\n  adduser %s " GROUP
                    "\nThen log in again",
                    g_get_user_name());
    }
    return open;
}

const struct road road_port = {"serial",
                               "a serial port that may be its bootloader",
                               "press its reset button, twice if once does\n"
                               "nothing, or the key that its keymap has for it",
                               look,
                               write_code,
                               on_usb,
                               missing,
                               may};
