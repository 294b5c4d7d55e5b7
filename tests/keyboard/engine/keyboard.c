/* keyboard.c - see keyboard.h. */
#include "keyboard.h"

#include <string.h>

static uvk_bits read_line(void *owner, uint8_t line)
{
    const struct keyboard *keyboard = owner;

    return keyboard->contacts[line];
}

void keyboard_wire(struct keyboard *keyboard)
{
    keyboard->port.read_line = read_line;
    keyboard->port.owner = keyboard;
}

void keyboard_open(struct keyboard *keyboard, const char *text)
{
    memset(keyboard, 0, sizeof *keyboard);
    keyboard->program = good_program(text);
    keyboard->image = uvk_lower(keyboard->program, &keyboard->size);
    assert_non_null(keyboard->image);
    keyboard->scan = uvk_board_scan(keyboard->program->board);
    keyboard_wire(keyboard);
    keyboard->port.configured = true;
    keyboard->host_fetches = true;
    keyboard->reports = g_ptr_array_new_with_free_func(g_free);
    assert_int_equal(uvk_engine_start(&keyboard->engine, sizeof keyboard->engine,
                                      keyboard->image, keyboard->size, 0),
                     UVK_OK);
    keyboard_pass(keyboard, 1); /* the first scan only looks */
}

void keyboard_close(struct keyboard *keyboard)
{
    g_ptr_array_free(keyboard->reports, TRUE);
    g_free(keyboard->image);
    uvk_program_free(keyboard->program);
}

void keyboard_contact(struct keyboard *keyboard, const char *address, bool closed)
{
    unsigned row = (unsigned)(address[1] - '0');
    unsigned col = (unsigned)(address[3] - '0');
    bool rows = uvk_rows_are_lines(&keyboard->program->board->halves[0]);
    unsigned line = rows ? row : col;
    unsigned sense = rows ? col : row;
    uint32_t bit = (uint32_t)1 << sense;

    keyboard->contacts[line] =
        closed ? keyboard->contacts[line] | bit : keyboard->contacts[line] & ~bit;
}

static char *describe_keys(const char *name, uint8_t mods, const uint8_t *bitmap)
{
    GString *out = g_string_new(NULL);

    g_string_printf(out, "%s %02X", name, mods);
    for (unsigned usage = 0; usage < UVK_BITMAP_BYTES * 8; usage++) {
        if (bitmap[usage / 8] >> (usage % 8) & 1) {
            g_string_append_printf(out, " %02X", usage);
        }
    }
    return g_string_free(out, FALSE);
}

static char *describe(unsigned interface, const uint8_t *bytes, uint8_t size)
{
    GString *out = g_string_new(NULL);

    if (interface == 0) {
        assert_int_equal(size, 8);
        assert_int_equal(bytes[1], 0);
        g_string_printf(out, "boot %02X", bytes[0]);
        for (unsigned i = 2; i < 8 && bytes[i] != 0; i++) {
            g_string_append_printf(out, " %02X", bytes[i]);
        }
    } else if (bytes[0] == UVK_REPORT_KEYS) {
        g_string_free(out, TRUE);
        return describe_keys("keys", bytes[1], bytes + 2);
    } else if (bytes[0] == UVK_REPORT_CONSUMER) {
        g_string_append(out, "media");
        for (unsigned i = 1; i < size; i += 2) {
            unsigned usage = bytes[i] | (unsigned)bytes[i + 1] << 8;
            if (usage != 0) {
                g_string_append_printf(out, " %04X", usage);
            }
        }
    } else if (bytes[0] == UVK_REPORT_SYSTEM) {
        g_string_printf(out, "system %d", bytes[1]);
    } else {
        g_string_printf(out, "mouse %d %d %d", bytes[1], (int8_t)bytes[4], (int8_t)bytes[5]);
    }
    return g_string_free(out, FALSE);
}

static void fetch(struct keyboard *keyboard)
{
    for (unsigned i = 0; i < UVK_INTERFACES; i++) {
        struct uvk_endpoint *endpoint = &keyboard->port.endpoints[i];
        if (endpoint->size > 0) {
            g_ptr_array_add(keyboard->reports, describe(i, endpoint->report, endpoint->size));
            endpoint->size = 0;
        }
    }
}

void keyboard_pass(struct keyboard *keyboard, unsigned count)
{
    for (; count > 0; count--) {
        if (keyboard->host_fetches) {
            fetch(keyboard);
        }
        keyboard->port.time_us += 1000;
        uvk_engine_pass(&keyboard->engine, &keyboard->port, keyboard->port.time_us);
    }
    if (keyboard->host_fetches) {
        fetch(keyboard);
    }
}

void assert_reports(struct keyboard *keyboard, ...)
{
    GString *expected = g_string_new(NULL);
    GString *got = g_string_new(NULL);
    va_list list;

    va_start(list, keyboard);
    for (const char *text = va_arg(list, const char *); text != NULL;
         text = va_arg(list, const char *)) {
        g_string_append_printf(expected, "%s\n", text);
    }
    va_end(list);
    for (guint i = 0; i < keyboard->reports->len; i++) {
        g_string_append_printf(got, "%s\n", (char *)g_ptr_array_index(keyboard->reports, i));
    }
    assert_string_equal(got->str, expected->str);
    g_ptr_array_set_size(keyboard->reports, 0);
    g_string_free(expected, TRUE);
    g_string_free(got, TRUE);
}
