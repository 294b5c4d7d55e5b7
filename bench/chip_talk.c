/* chip_talk.c - lines to the simulator of a chip, and what it answers. */
#include "chip.h"

#include <string.h>

#define ANSWER_MS 60000 /* a simulator that takes longer for an answer has stopped */

static int interface_of(const struct chip *chip, unsigned endpoint)
{
    for (int i = 0; i < (int)UVK_HOST_INTERFACES; i++) {
        if (chip->endpoints[i] == endpoint) {
            return i;
        }
    }
    return -1;
}

size_t chip_hex(const char *text, uint8_t *out, size_t room)
{
    size_t count = 0;

    while (g_ascii_isxdigit(text[0]) && g_ascii_isxdigit(text[1]) && count < room) {
        out[count++] =
            (uint8_t)(g_ascii_xdigit_value(text[0]) * 16 + g_ascii_xdigit_value(text[1]));
        text += 2;
    }
    return count;
}

/* report US ENDPOINT HEX */
static void take_report(struct chip *chip, const char *text)
{
    uint8_t bytes[64];
    char *end;
    guint64 time = g_ascii_strtoull(text, &end, 10);
    guint64 endpoint = g_ascii_strtoull(end, &end, 10);
    int interface = interface_of(chip, (unsigned)endpoint);
    size_t size = chip_hex(end + 1, bytes, sizeof bytes);

    if (interface >= 0) {
        rig_keep_report(&chip->rig, (unsigned)endpoint, bytes, size);
        uvk_host_report(chip->rig.host, (unsigned)interface, bytes, size, time);
    }
}

/* The time that an event tells, microseconds. */
static uint64_t time_in(const char *line)
{
    return g_ascii_strtoull(strchr(line, ' '), NULL, 10);
}

/* Read lines up to the answer; events are worked on as they come. NULL: it has ended, or
 * does not answer. */
static const char *hear(struct chip *chip)
{
    gint64 until = g_get_monotonic_time() + ANSWER_MS * (gint64)1000;
    const char *line;

    while ((line = simulator_line(&chip->simulator, until)) != NULL) {
        if (g_str_has_prefix(line, "ok")) {
            return line + (line[2] == ' ' ? 3 : 2);
        }
        if (g_str_has_prefix(line, "error")) {
            return NULL;
        }
        if (g_str_has_prefix(line, "report ")) {
            take_report(chip, line + strlen("report "));
        } else if (g_str_has_prefix(line, "bootloader")) {
            chip->rig.in_bootloader = true;
        } else if (g_str_has_prefix(line, "detached ")) {
            uvk_host_unplug(chip->rig.host, time_in(line));
        } else if (g_str_has_prefix(line, "attached ")) {
            chip->returned = !chip->attaching;
        } else if (g_str_has_prefix(line, "crashed")) {
            const char *why = strchr(line + strlen("crashed "), ' ');
            g_free(chip->crash);
            chip->crash = g_strdup(why != NULL ? why + 1 : "");
        }
    }
    return NULL;
}

const char *chip_say(struct chip *chip, const char *format, ...)
{
    va_list arguments;
    char *words;
    char *line;
    bool good;

    va_start(arguments, format);
    words = g_strdup_vprintf(format, arguments);
    va_end(arguments);
    line = g_strconcat(words, "\n", NULL);
    good = simulator_write(&chip->simulator, line);
    g_free(words);
    g_free(line);
    return good ? hear(chip) : NULL;
}

/* The halves of a board with a link, that with the host first; -1: one chip reads it all. */
int chip_half(const struct chip *chip, unsigned index)
{
    const struct uvk_board *board = chip->rig.program->board;
    int with_host = (int)uvk_main_half(board) ^ chip->rig.options.other_host;

    return chip->halves == 1 ? -1 : index == 0 ? with_host : 1 - with_host;
}

/* From now on all is for that chip. */
bool chip_choose(struct chip *chip, unsigned index)
{
    return chip->halves == 1 || chip_say(chip, "half %u", index) != NULL;
}
