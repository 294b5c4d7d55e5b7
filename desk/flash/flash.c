/* flash.c - wait for the bootloader, then let it write. */
#include "uvrek/flash.h"

#include <string.h>

void uvk_line_close(struct uvk_line *line)
{
    if (line != NULL) {
        line->close(line->self);
    }
}

bool uvk_can_flash(const char *boot, GError **error)
{
    if (strcmp(boot, "serial") == 0) {
        return true;
    }
    g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE,
                "there is no flashing through a %s bootloader yet; `uvrek build` writes the "
                "files for a program that can",
                boot);
    return false;
}

#define LOOK_US 50000u /* between two looks for the port */

/* A port of NOW that was not there BEFORE. */
static char *new_port(char **before, char **now)
{
    for (; *now != NULL; now++) {
        if (!g_strv_contains((const char *const *)before, *now)) {
            return g_strdup(*now);
        }
    }
    return NULL;
}

/* The port to use, if it is there. */
static char *look(const struct uvk_flash_options *options, char **before)
{
    char **now;
    char *found;

    if (options->port != NULL) {
        bool there = g_file_test(options->port, G_FILE_TEST_EXISTS);
        return there ? g_strdup(options->port) : NULL;
    }
    now = uvk_serial_ports();
    found = new_port(before, now);
    g_strfreev(now);
    return found;
}

/* Stay until the bootloader's port is there, or patience has run out. */
static char *wait_for_port(const struct uvk_flash_options *options, GError **error)
{
    gint64 end = g_get_monotonic_time() + (gint64)options->patience * G_USEC_PER_SEC;
    char **before = uvk_serial_ports();
    char *found = look(options, before);

    if (found == NULL && options->progress != NULL) {
        options->progress(options->data, UVK_FLASH_WAITING, NULL, 0, 0);
    }
    while (found == NULL && g_get_monotonic_time() < end) {
        g_usleep(LOOK_US);
        found = look(options, before);
    }
    g_strfreev(before);
    if (found == NULL) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE,
                    "no bootloader appeared within %u s; nothing was written",
                    options->patience);
    }
    return found;
}

bool uvk_flash(const struct uvk_chip *chip, const uint8_t *code, size_t size,
               const struct uvk_flash_options *options, GError **error)
{
    char *port = wait_for_port(options, error);
    struct uvk_line *line;
    bool good = false;

    if (port == NULL) {
        return false;
    }
    if (options->progress != NULL) {
        options->progress(options->data, UVK_FLASH_FOUND, port, 0, 0);
    }
    line = uvk_serial_open(port, error);
    if (line != NULL) {
        good = uvk_avr109_flash(line, chip, code, size, options, error);
        uvk_line_close(line);
    }
    g_free(port);
    return good;
}
