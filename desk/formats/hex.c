/* hex.c - Intel HEX files. */
#include "uvrek/formats.h"

#include <string.h>

#define RECORD_BYTES 16u
#define RECORD_MAX   255u

enum {
    RECORD_DATA = 0,
    RECORD_END = 1,
    RECORD_SEGMENT = 2,
    RECORD_START_SEGMENT = 3,
    RECORD_HIGH = 4,
    RECORD_START = 5
};

static void append_record(GString *out, unsigned type, unsigned address, const uint8_t *bytes,
                          unsigned count)
{
    unsigned sum = count + (address >> 8) + address + type;

    g_string_append_printf(out, ":%02X%04X%02X", count, address & 0xFFFFu, type);
    for (unsigned i = 0; i < count; i++) {
        g_string_append_printf(out, "%02X", bytes[i]);
        sum += bytes[i];
    }
    g_string_append_printf(out, "%02X\n", (0x100u - (sum & 0xFFu)) & 0xFFu);
}

char *uvk_hex_write(const uint8_t *bytes, size_t size)
{
    GString *out = g_string_new(NULL);

    for (size_t at = 0; at < size; at += RECORD_BYTES) {
        if (at > 0 && at % 0x10000u == 0) {
            uint8_t high[2] = {(uint8_t)(at >> 24), (uint8_t)(at >> 16)};
            append_record(out, RECORD_HIGH, 0, high, 2);
        }
        append_record(out, RECORD_DATA, at & 0xFFFFu, bytes + at,
                      (unsigned)MIN(RECORD_BYTES, size - at));
    }
    append_record(out, RECORD_END, 0, NULL, 0);
    return g_string_free(out, FALSE);
}

struct record {
    unsigned count, address, type;
    uint8_t data[RECORD_MAX + 5];
};

/* One line behind its colon, checked. NULL, or what is wrong. */
static const char *parse_record(const char *line, size_t length, struct record *record)
{
    size_t bytes = length / 2;
    unsigned sum = 0;

    if (length % 2 != 0 || bytes < 5 || bytes > sizeof record->data) {
        return "it has the wrong length";
    }
    for (size_t i = 0; i < bytes; i++) {
        int high = g_ascii_xdigit_value(line[2 * i]);
        int low = g_ascii_xdigit_value(line[2 * i + 1]);
        if (high < 0 || low < 0) {
            return "it has other than hexadecimal digits";
        }
        record->data[i] = (uint8_t)(high * 16 + low);
        sum += record->data[i];
    }
    record->count = record->data[0];
    record->address = (unsigned)record->data[1] << 8 | record->data[2];
    record->type = record->data[3];
    if (bytes != record->count + 5u) {
        return "it has the wrong length";
    }
    return (sum & 0xFFu) != 0 ? "its checksum is wrong" : NULL;
}

/* The state of a read. */
struct reading {
    uint8_t *bytes;
    uint8_t *taken; /* of each byte, whether a record has said what it is */
    size_t room;    /* of both, up to MOST */
    size_t most, size, base;
    bool ended;
};

static void make_room(struct reading *reading, size_t end)
{
    size_t room = MIN(MAX(2 * reading->room, end), reading->most);

    if (end > reading->room) {
        reading->bytes = g_realloc(reading->bytes, room);
        reading->taken = g_realloc(reading->taken, room);
        memset(reading->bytes + reading->room, 0xFF, room - reading->room);
        memset(reading->taken + reading->room, 0, room - reading->room);
        reading->room = room;
    }
}

static const char *take_data(struct reading *reading, size_t at, const struct record *record)
{
    if (at + record->count > reading->most) {
        return "its address is beyond the chip's flash";
    }
    if (record->address + record->count > 0x10000u) {
        return "its addresses go round from the last to the first";
    }
    if (record->count == 0) {
        return NULL;
    }
    make_room(reading, at + record->count);
    if (memchr(reading->taken + at, 1, record->count) != NULL) {
        return "it says again what an earlier line has said";
    }
    memset(reading->taken + at, 1, record->count);
    memcpy(reading->bytes + at, record->data + 4, record->count);
    reading->size = MAX(reading->size, at + record->count);
    return NULL;
}

static const char *apply_record(struct reading *reading, const struct record *record)
{
    const uint8_t *data = record->data + 4;
    size_t at = reading->base + record->address;

    switch (record->type) {
    case RECORD_DATA:
        return take_data(reading, at, record);
    case RECORD_END:
        reading->ended = true;
        return NULL;
    case RECORD_SEGMENT:
    case RECORD_HIGH:
        if (record->count != 2) {
            return "it has the wrong length";
        }
        reading->base = ((size_t)data[0] << 8 | data[1])
                        << (record->type == RECORD_HIGH ? 16 : 4);
        return NULL;
    case RECORD_START_SEGMENT:
    case RECORD_START:
        return NULL; /* where a program starts is for other machines */
    default:
        return "its type is unknown";
    }
}

static const char *read_lines(struct reading *reading, const char *text, unsigned *line)
{
    struct record record;

    for (*line = 1; *text != '\0' && !reading->ended; (*line)++) {
        size_t length = strcspn(text, "\r\n");
        const char *why = NULL;
        if (length > 0) {
            why = *text != ':' ? "it does not start with ':'"
                               : parse_record(text + 1, length - 1, &record);
            why = why == NULL ? apply_record(reading, &record) : why;
        }
        if (why != NULL) {
            return why;
        }
        text += length;
        text += strspn(text, "\r");
        text += *text == '\n';
    }
    return reading->ended ? NULL : "the file is cut: it has no end record";
}

uint8_t *uvk_hex_read(const char *text, size_t most, size_t *size, GError **error)
{
    struct reading reading = {.bytes = g_malloc(1), .taken = g_malloc(1), .most = most};
    unsigned line;
    const char *why;

    why = read_lines(&reading, text, &line);
    g_free(reading.taken);
    if (why == NULL && reading.size == 0) {
        why = "it holds no bytes";
    }
    if (why != NULL) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_WELL, "HEX file, line %u: %s", line, why);
        g_free(reading.bytes);
        return NULL;
    }
    *size = reading.size;
    return reading.bytes;
}
