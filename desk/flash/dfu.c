/* dfu.c - the host's end of DFU 1.1 (dfu.h); the chip maker's extension is in dfu_chip.c. */
#include "dfu.h"

#include <string.h>

#define INTERFACE 4

/* ---- what it says of itself ------------------------------------------------------------- */

bool uvk_dfu_find(const uint8_t *configuration, size_t size, struct uvk_dfu_function *function)
{
    bool inside = false;

    for (size_t at = 0; at + 2 <= size; at += configuration[at]) {
        const uint8_t *item = configuration + at;
        if (item[0] < 2 || item[0] > size - at) {
            return false;
        }
        if (item[1] == INTERFACE && item[0] >= 9) {
            inside = item[5] == UVK_DFU_CLASS && item[6] == UVK_DFU_SUBCLASS &&
                     item[7] == UVK_DFU_PROTOCOL;
            function->interface = item[2];
        } else if (inside && item[1] == UVK_DFU_FUNCTIONAL && item[0] >= 7) {
            function->attributes = item[2];
            function->transfer = (uint16_t)(item[5] | item[6] << 8);
            return function->transfer > 0;
        }
    }
    return false;
}

/* ---- DFU 1.1 as it is ------------------------------------------------------------------- */

static bool write_all(struct dfu *dfu, const uint8_t *code, size_t size, GError **error)
{
    size_t block = dfu->function.transfer;

    for (size_t at = 0; at < size; at += block) {
        size_t count = MIN(block, size - at);
        road_tell(dfu->options, UVK_FLASH_WRITING, NULL, at, size);
        if (!dfu_send(dfu, (uint16_t)(at / block), code + at, count, "to write", error)) {
            return at > 0 && road_emptied(error);
        }
        if (!dfu_settled(dfu, "to write", error)) {
            return road_emptied(error);
        }
    }
    road_tell(dfu->options, UVK_FLASH_WRITING, NULL, size, size);
    return true;
}

static bool read_all(struct dfu *dfu, uint8_t *code, size_t size, enum uvk_flash_stage stage,
                     GError **error)
{
    size_t block = dfu->function.transfer;

    for (size_t at = 0; at < size; at += block) {
        road_tell(dfu->options, stage, NULL, at, size);
        if (!dfu_fetch(dfu, (uint16_t)(at / block), code + at, MIN(block, size - at),
                       "to show what it holds", error)) {
            return false;
        }
    }
    road_tell(dfu->options, stage, NULL, size, size);
    return dfu_idle(dfu, error);
}

/* Only a device that is tolerant can still be asked. */
static bool can_verify(const struct dfu *dfu)
{
    unsigned needed = UVK_DFU_CAN_UPLOAD | UVK_DFU_TOLERANT;

    return (dfu->function.attributes & needed) == needed;
}

static bool verify_all(struct dfu *dfu, const uint8_t *code, size_t size, GError **error)
{
    uint8_t *got = g_malloc(size);
    bool good = read_all(dfu, got, size, UVK_FLASH_VERIFYING, error) &&
                dfu_compare(got, code, size, error);

    g_free(got);
    return good || road_emptied(error);
}

/* One that cannot be uploaded from shows nothing. */
static bool look(void *self, uint8_t *code, size_t room, bool *shown, GError **error)
{
    struct dfu *dfu = self;

    *shown = (dfu->function.attributes & UVK_DFU_CAN_UPLOAD) != 0;
    return !*shown || read_all(dfu, code, room, UVK_FLASH_READING, error);
}

static bool flash_plain(struct dfu *dfu, const uint8_t *code, size_t size, GError **error)
{
    bool verifies = can_verify(dfu);

    if (!road_ask_before(dfu->options, dfu->chip, look, dfu, error)) {
        return road_untouched(error);
    }
    dfu->blocks = (size + dfu->function.transfer - 1) / dfu->function.transfer;
    if (code != NULL && (!write_all(dfu, code, size, error) || !dfu_manifest(dfu, error) ||
                         (verifies && !verify_all(dfu, code, size, error)))) {
        return false;
    }
    dfu->cable->reset(dfu->cable->self);
    road_tell(dfu->options, UVK_FLASH_DONE,
              verifies || code == NULL ? NULL : "its bootloader does not let anybody verify it",
              size, size);
    return true;
}

/* ---- the door --------------------------------------------------------------------------- */

static bool begin(struct dfu *dfu, GError **error)
{
    size_t size = 0;
    uint8_t *configuration = uvk_cable_configuration(dfu->cable, &size);
    bool found = configuration != NULL && uvk_dfu_find(configuration, size, &dfu->function);

    g_free(configuration);
    if (!found) {
        g_set_error_literal(error, UVK_PROBLEM, UVK_NOT_DONE,
                            "what answers there is no DFU bootloader");
        return false;
    }
    return dfu_idle(dfu, error);
}

bool uvk_dfu_flash(struct uvk_cable *cable, const struct uvk_chip *chip, bool extended,
                   const uint8_t *code, size_t size, const struct uvk_flash_options *options,
                   GError **error)
{
    struct dfu dfu = {.cable = cable, .chip = chip, .options = options};

    if (!road_fits(chip, code, size, error) || !begin(&dfu, error)) {
        return road_untouched(error);
    }
    return extended ? dfu_chip_flash(&dfu, code, size, error)
                    : flash_plain(&dfu, code, size, error);
}
