/* board.c - the text of a blank board: a grid of keys on the first pins of its chip. */
#include "uvrek/problem.h"
#include "uvrek/start.h"

#include <string.h>

/* Where a chip's serial line comes out. */
static const struct {
    const char *chip, *transmit, *receive;
} links[] = {{"atmega32u4", "D3", "D2"}, {"rp2040", "GP0", "GP1"}};

static bool is_link_pin(const struct uvk_blank *blank, const char *pin)
{
    for (size_t i = 0; blank->split && i < G_N_ELEMENTS(links); i++) {
        if (strcmp(links[i].chip, blank->chip->name) == 0 &&
            (strcmp(links[i].transmit, pin) == 0 || strcmp(links[i].receive, pin) == 0)) {
            return true;
        }
    }
    return false;
}

/* COUNT pins from *NEXT of the chip's list on. */
static void append_pins(GString *out, const struct uvk_blank *blank, size_t *next,
                        unsigned count)
{
    while (count > 0) {
        const char *pin = blank->chip->pins[(*next)++].name;
        if (!is_link_pin(blank, pin)) {
            g_string_append_printf(out, " %s", pin);
            count--;
        }
    }
}

/* A matrix saves pins only from two rows and two columns on. */
static bool is_direct(const struct uvk_blank *blank)
{
    return blank->direct || blank->rows == 1 || blank->columns == 1;
}

static bool is_possible(const struct uvk_blank *blank, GError **error)
{
    unsigned needed =
        is_direct(blank) ? blank->rows * blank->columns : blank->rows + blank->columns;
    size_t free_pins = blank->chip->pin_count - (blank->split ? 2 : 0);
    unsigned half = blank->rows * blank->columns;
    unsigned keys = half * (blank->split ? 2 : 1);

    if (blank->rows == 0 || blank->columns == 0 || blank->rows > UVK_SIDE_MAX ||
        blank->columns > UVK_SIDE_MAX || keys > UVK_KEYS_MAX) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE,
                    "a board has from 1 to %u keys, in at most %u rows and columns",
                    UVK_KEYS_MAX, UVK_SIDE_MAX);
        return false;
    }
    if (needed > free_pins) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE,
                    "%u rows and %u columns%s take %u pins; the %s has %zu%s", blank->rows,
                    blank->columns, is_direct(blank) ? ", a pin for each key," : "", needed,
                    blank->chip->title, free_pins, blank->split ? " besides the link's" : "");
        return false;
    }
    return true;
}

static void append_halves(GString *out, const struct uvk_blank *blank)
{
    for (size_t i = 0; blank->split && i < G_N_ELEMENTS(links); i++) {
        if (strcmp(links[i].chip, blank->chip->name) == 0) {
            g_string_append_printf(out,
                                   "  halves left right {\n    main usb\n"
                                   "    link uart %s %s\n  }\n",
                                   links[i].transmit, links[i].receive);
        }
    }
}

static void append_wires(GString *out, const struct uvk_blank *blank)
{
    size_t pin = 0;

    if (is_direct(blank)) {
        g_string_append(out, "  direct {\n    pins");
        append_pins(out, blank, &pin, blank->rows * blank->columns);
        g_string_append(out,
                        "\n    to ground         # what a closed switch connects to\n  }\n");
        return;
    }
    g_string_append(out, "  matrix {\n    rows");
    append_pins(out, blank, &pin, blank->rows);
    g_string_append(out, "\n    cols");
    append_pins(out, blank, &pin, blank->columns);
    g_string_append(out, "\n    flow row->col     # or col->row: which way the diodes conduct\n"
                         "  }\n");
}

static void append_keys(GString *out, const struct uvk_blank *blank)
{
    g_string_append_printf(out, "  keys %s{\n", blank->split ? "left " : "");
    for (unsigned row = 0; row < blank->rows; row++) {
        g_string_append(out, "   ");
        for (unsigned column = 0; column < blank->columns; column++) {
            if (is_direct(blank)) {
                g_string_append_printf(out, " d%u", row * blank->columns + column);
            } else {
                g_string_append_printf(out, " r%uc%u", row, column);
            }
        }
        g_string_append_c(out, '\n');
    }
    g_string_append(out, "  }\n");
}

char *uvk_start_board(const struct uvk_blank *blank, GError **error)
{
    GString *out;

    if (!is_possible(blank, error)) {
        return NULL;
    }
    out = g_string_new(NULL);
    g_string_append_printf(out,
                           "# A blank to go on from: put in your own pins, and where the keys "
                           "are.\nboard %s {\n  title \"%s\"\n  chip  %s\n",
                           blank->name, blank->name, blank->chip->name);
    g_string_append(out, "  # numbers to try things out with; a keyboard that you give away "
                         "has its own\n"
                         "  usb   { vendor 0x1209; product 0x0001; maker \"me\" }\n");
    g_string_append_printf(out, "  boot  %s\n", blank->chip->boots[0]);
    append_halves(out, blank);
    append_wires(out, blank);
    append_keys(out, blank);
    g_string_append(out, blank->split ? "  keys right mirror left gap 3\n}\n" : "}\n");
    return g_string_free(out, FALSE);
}
