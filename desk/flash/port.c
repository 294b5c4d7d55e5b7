/* port.c - the road by a serial port: wait for the bootloader's, then let it write. */
#include "roads.h"

void uvk_line_close(struct uvk_line *line)
{
    if (line != NULL) {
        line->close(line->self);
    }
}

struct looking {
    const struct uvk_flash_options *options;
    char **before; /* ports that were there when it began */
};

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
static bool look(void *data, char **found, GError **error)
{
    const struct looking *looking = data;
    const char *port = looking->options->port;
    char **now;

    (void)error;
    if (port != NULL) {
        *found = g_file_test(port, G_FILE_TEST_EXISTS) ? g_strdup(port) : NULL;
        return true;
    }
    now = uvk_serial_ports();
    *found = new_port(looking->before, now);
    g_strfreev(now);
    return true;
}

bool road_by_port(const struct uvk_chip *chip, const uint8_t *code, size_t size,
                  const struct uvk_flash_options *options, GError **error)
{
    struct looking looking = {options, uvk_serial_ports()};
    char *port = road_wait(options,
                           "press its reset button, twice if once does\n"
                           "nothing, or the key that its keymap has for it",
                           look, &looking, error);
    struct uvk_line *line = NULL;
    bool good = false;

    if (port != NULL) {
        road_tell(options, UVK_FLASH_FOUND, port, 0, 0);
        line = uvk_serial_open(port, error);
    }
    if (line != NULL) {
        good = uvk_avr109_flash(line, chip, code, size, options, error);
        uvk_line_close(line);
    }
    g_strfreev(looking.before);
    g_free(port);
    return good;
}
