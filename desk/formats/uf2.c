/* uf2.c - UF2 files: blocks that each say where their bytes go. */
#include "uvrek/formats.h"

#include <string.h>

#define MAGIC_FIRST  0x0A324655u /* "UF2\n" */
#define MAGIC_SECOND 0x9E5D5157u
#define MAGIC_LAST   0x0AB16F30u
#define PAYLOAD      256u /* what bootloaders take at once */
#define PAYLOAD_MOST 476u

#define NOT_MAIN_FLASH 0x00000001u
#define HAS_FAMILY     0x00002000u

/* Where the fields of a block stand; all are 32 bits wide, low byte first. */
enum {
    AT_FIRST = 0,
    AT_SECOND = 4,
    AT_FLAGS = 8,
    AT_ADDRESS = 12,
    AT_SIZE = 16,
    AT_NUMBER = 20,
    AT_COUNT = 24,
    AT_FAMILY = 28,
    AT_DATA = 32,
    AT_LAST = 508
};

static void put(uint8_t *at, uint32_t value)
{
    value = GUINT32_TO_LE(value);
    memcpy(at, &value, sizeof value);
}

static uint32_t get(const uint8_t *at)
{
    uint32_t value;

    memcpy(&value, at, sizeof value);
    return GUINT32_FROM_LE(value);
}

/* ---- writing ---------------------------------------------------------------------------- */

uint8_t *uvk_uf2_write(const uint8_t *bytes, size_t size, uint32_t address, uint32_t family,
                       size_t *blocks)
{
    uint32_t count = (uint32_t)((size + PAYLOAD - 1) / PAYLOAD);
    uint8_t *file = g_malloc0((size_t)count * UVK_UF2_BLOCK + 1);

    for (uint32_t number = 0; number < count; number++) {
        uint8_t *block = file + (size_t)number * UVK_UF2_BLOCK;
        size_t at = (size_t)number * PAYLOAD;
        put(block + AT_FIRST, MAGIC_FIRST);
        put(block + AT_SECOND, MAGIC_SECOND);
        put(block + AT_FLAGS, family != 0 ? HAS_FAMILY : 0);
        put(block + AT_ADDRESS, address + (uint32_t)at);
        put(block + AT_SIZE, PAYLOAD);
        put(block + AT_NUMBER, number);
        put(block + AT_COUNT, count);
        put(block + AT_FAMILY, family);
        memcpy(block + AT_DATA, bytes + at, MIN(PAYLOAD, size - at));
        put(block + AT_LAST, MAGIC_LAST);
    }
    *blocks = (size_t)count * UVK_UF2_BLOCK;
    return file;
}

/* ---- reading ---------------------------------------------------------------------------- */

/* What is read so far. */
struct reading {
    struct uvk_uf2 *uf2;
    size_t most;
    uint32_t taken; /* blocks for the main flash */
};

G_GNUC_PRINTF(3, 4)
static bool refuse(GError **error, size_t number, const char *format, ...)
{
    va_list arguments;
    char *what;

    va_start(arguments, format);
    what = g_strdup_vprintf(format, arguments);
    va_end(arguments);
    g_set_error(error, UVK_PROBLEM, UVK_NOT_WELL, "block %zu of the UF2 file %s", number + 1,
                what);
    g_free(what);
    return false;
}

static bool is_whole(const uint8_t *block, size_t number, size_t count, GError **error)
{
    if (get(block + AT_FIRST) != MAGIC_FIRST || get(block + AT_SECOND) != MAGIC_SECOND ||
        get(block + AT_LAST) != MAGIC_LAST) {
        return refuse(error, number, "is damaged, or no block at all");
    }
    if (get(block + AT_NUMBER) != number || get(block + AT_COUNT) != count) {
        return refuse(error, number, "says that it is block %" G_GUINT64_FORMAT " of %u",
                      (guint64)get(block + AT_NUMBER) + 1, get(block + AT_COUNT));
    }
    if (get(block + AT_SIZE) == 0 || get(block + AT_SIZE) > PAYLOAD_MOST) {
        return refuse(error, number, "says that it has %u bytes", get(block + AT_SIZE));
    }
    return true;
}

static bool take_block(struct reading *reading, const uint8_t *block, size_t number,
                       GError **error)
{
    struct uvk_uf2 *uf2 = reading->uf2;
    uint32_t family = (get(block + AT_FLAGS) & HAS_FAMILY) ? get(block + AT_FAMILY) : 0;
    uint32_t address = get(block + AT_ADDRESS);
    size_t size = get(block + AT_SIZE);

    if (reading->taken++ == 0) {
        uf2->family = family;
        uf2->address = address;
    }
    if (family != uf2->family) {
        return refuse(error, number, "is for other chips: family 0x%08x, not 0x%08x", family,
                      uf2->family);
    }
    if (address != uf2->address + (uint64_t)uf2->size) {
        return refuse(error, number, "goes to 0x%08x; 0x%08x would be next", address,
                      (unsigned)(uf2->address + uf2->size));
    }
    if (address + (uint64_t)size > UINT32_MAX + (uint64_t)1) {
        return refuse(error, number, "goes beyond the last address there is");
    }
    if (size > reading->most - uf2->size) {
        return refuse(error, number, "goes beyond the %zu bytes that there is room for",
                      reading->most);
    }
    memcpy(uf2->bytes + uf2->size, block + AT_DATA, size);
    uf2->size += size;
    return true;
}

static bool take_blocks(struct reading *reading, const uint8_t *file, size_t count,
                        GError **error)
{
    for (size_t number = 0; number < count; number++) {
        const uint8_t *block = file + number * UVK_UF2_BLOCK;
        if (!is_whole(block, number, count, error) ||
            (!(get(block + AT_FLAGS) & NOT_MAIN_FLASH) &&
             !take_block(reading, block, number, error))) {
            return false;
        }
    }
    return true;
}

bool uvk_uf2_read(const uint8_t *file, size_t size, size_t most, struct uvk_uf2 *uf2,
                  GError **error)
{
    struct reading reading = {uf2, most, 0};
    size_t count = size / UVK_UF2_BLOCK;

    memset(uf2, 0, sizeof *uf2);
    if (count == 0 || size % UVK_UF2_BLOCK != 0) {
        g_set_error(
            error, UVK_PROBLEM, UVK_NOT_WELL,
            "a UF2 file is made of blocks of %u bytes; this one has %zu bytes: it is cut",
            UVK_UF2_BLOCK, size);
        return false;
    }
    uf2->bytes = g_malloc(MIN(most, count * PAYLOAD_MOST) + 1);
    if (!take_blocks(&reading, file, count, error)) {
        g_clear_pointer(&uf2->bytes, g_free);
        return false;
    }
    if (reading.taken == 0) {
        g_clear_pointer(&uf2->bytes, g_free);
        g_set_error_literal(error, UVK_PROBLEM, UVK_NOT_WELL,
                            "the UF2 file has nothing for the chip's main flash");
        return false;
    }
    return true;
}
