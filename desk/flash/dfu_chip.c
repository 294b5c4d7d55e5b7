/* dfu_chip.c - the extension of DFU that the bootloaders in AVR chips speak (dfu.h): it tells
 * the chip, and its memory can be read. */
#include "dfu.h"

#include <string.h>

static bool send_command(struct dfu *dfu, const uint8_t *bytes, size_t size, const char *what,
                         GError **error)
{
    return dfu_send(dfu, 0, bytes, size, what, error);
}

/* ---- who is there ----------------------------------------------------------------------- */

static bool check_signature(struct dfu *dfu, GError **error)
{
    static const uint8_t which[] = {UVK_DFU_MAKER_CODE, UVK_DFU_FAMILY_CODE,
                                    UVK_DFU_PRODUCT_CODE};
    const uint8_t *wanted = dfu->chip->signature;
    uint8_t got[sizeof which];

    for (size_t i = 0; i < sizeof which; i++) {
        const uint8_t bytes[] = {UVK_DFU_READ_COMMAND, UVK_DFU_READ_IDS, which[i]};
        if (!send_command(dfu, bytes, sizeof bytes, "to tell its signature", error) ||
            !dfu_fetch(dfu, 0, &got[i], 1, "to tell its signature", error)) {
            return false;
        }
    }
    if (memcmp(got, wanted, sizeof got) != 0) {
        g_set_error(
            error, UVK_PROBLEM, UVK_NOT_DONE,
            "another chip is there: it says %02X %02X %02X, the %s says %02X %02X %02X; "
            "nothing was written",
            got[0], got[1], got[2], dfu->chip->title, wanted[0], wanted[1], wanted[2]);
        return false;
    }
    return true;
}

/* ---- writing and reading
 * ---------------------------------------------------------------------- */

static bool erase(struct dfu *dfu, GError **error)
{
    const uint8_t bytes[] = {UVK_DFU_WRITE_COMMAND, UVK_DFU_ERASE_ALL, 0xFF};

    return send_command(dfu, bytes, sizeof bytes, "to erase", error) &&
           dfu_settled(dfu, "to erase", error);
}

/* The command for COUNT bytes from AT on. */
static void put_range(uint8_t *out, uint8_t code, size_t at, size_t count)
{
    size_t last = at + count - 1;

    out[0] = code;
    out[1] = 0;
    out[2] = (uint8_t)(at >> 8);
    out[3] = (uint8_t)at;
    out[4] = (uint8_t)(last >> 8);
    out[5] = (uint8_t)last;
}

/* The end of a file that is sent whole: here of each block, and nobody looks at its sum. */
static void put_suffix(uint8_t *out, const struct uvk_chip *chip)
{
    const uint8_t suffix[UVK_DFU_SUFFIX_SIZE] = {0,
                                                 0,
                                                 (uint8_t)chip->dfu_product,
                                                 (uint8_t)(chip->dfu_product >> 8),
                                                 (uint8_t)chip->dfu_vendor,
                                                 (uint8_t)(chip->dfu_vendor >> 8),
                                                 0x10,
                                                 0x01,
                                                 'U',
                                                 'F',
                                                 'D',
                                                 UVK_DFU_SUFFIX_SIZE};

    memcpy(out, suffix, sizeof suffix);
}

static bool program(struct dfu *dfu, const uint8_t *code, size_t at, size_t count,
                    GError **error)
{
    size_t begin = UVK_DFU_PACKET + at % UVK_DFU_PACKET;
    size_t all = begin + count + UVK_DFU_SUFFIX_SIZE;
    uint8_t *bytes = g_malloc0(all);
    bool good;

    put_range(bytes, UVK_DFU_PROGRAM_COMMAND, at, count);
    memcpy(bytes + begin, code + at, count);
    put_suffix(bytes + begin + count, dfu->chip);
    good =
        send_command(dfu, bytes, all, "to write", error) && dfu_settled(dfu, "to write", error);
    g_free(bytes);
    return good;
}

static bool write_all(struct dfu *dfu, const uint8_t *code, size_t size, GError **error)
{
    for (size_t at = 0; at < size; at += UVK_DFU_AT_ONCE) {
        road_tell(dfu->options, UVK_FLASH_WRITING, NULL, at, size);
        if (!program(dfu, code, at, MIN(UVK_DFU_AT_ONCE, size - at), error)) {
            return false;
        }
    }
    road_tell(dfu->options, UVK_FLASH_WRITING, NULL, size, size);
    return true;
}

static bool read_all(struct dfu *dfu, uint8_t *code, size_t size, enum uvk_flash_stage stage,
                     GError **error)
{
    for (size_t at = 0; at < size; at += UVK_DFU_AT_ONCE) {
        size_t count = MIN(UVK_DFU_AT_ONCE, size - at);
        uint8_t bytes[UVK_DFU_RANGE_SIZE];
        put_range(bytes, UVK_DFU_DISPLAY_COMMAND, at, count);
        road_tell(dfu->options, stage, NULL, at, size);
        if (!send_command(dfu, bytes, sizeof bytes, "to show what it holds", error) ||
            !dfu_fetch(dfu, 0, code + at, count, "to show what it holds", error)) {
            return false;
        }
    }
    road_tell(dfu->options, stage, NULL, size, size);
    return true;
}

static bool verify_all(struct dfu *dfu, const uint8_t *code, size_t size, GError **error)
{
    uint8_t *got = g_malloc(size);
    bool good = read_all(dfu, got, size, UVK_FLASH_VERIFYING, error) &&
                dfu_compare(got, code, size, error);

    g_free(got);
    return good;
}

/* By a reset; the chip may be gone before it confirms that. NULL, or a remark. */
static const char *start(struct dfu *dfu)
{
    const uint8_t bytes[] = {UVK_DFU_WRITE_COMMAND, UVK_DFU_START, 0};
    bool good = send_command(dfu, bytes, sizeof bytes, "to start the firmware", NULL);

    if (good) {
        (void)dfu_send(dfu, 0, (const uint8_t *)"", 0, "to start the firmware", NULL);
    }
    return good ? NULL : "it did not answer at the end: if it does not start, plug it in again";
}

/* A chip whose memory is locked refuses to show it, and takes a new firmware all the same. */
static bool look(void *self, uint8_t *code, size_t room, bool *shown, GError **error)
{
    struct dfu *dfu = self;
    GError *reason = NULL;

    *shown = read_all(dfu, code, room, UVK_FLASH_READING, &reason);
    if (dfu->lost) {
        g_propagate_error(error, reason);
        return false;
    }
    g_clear_error(&reason);
    return dfu_idle(dfu, error);
}

static bool replace_all(struct dfu *dfu, const uint8_t *code, size_t size, GError **error)
{
    return (erase(dfu, error) && write_all(dfu, code, size, error) &&
            verify_all(dfu, code, size, error)) ||
           road_emptied(error);
}

bool dfu_chip_flash(struct dfu *dfu, const uint8_t *code, size_t size, GError **error)
{
    bool good = (check_signature(dfu, error) &&
                 road_ask_before(dfu->options, dfu->chip, look, dfu, error)) ||
                road_untouched(error);

    good = good && (code == NULL || replace_all(dfu, code, size, error));
    if (good) {
        road_tell(dfu->options, UVK_FLASH_DONE, start(dfu), size, size);
    }
    return good;
}
