/* dfu_flash.c - what the DFU bootloader does to the chip's flash, as DFU 1.1 has it, and by the
 * commands of the extension in dfu.h. */
#include "dfu.h"

#include <string.h>

#define SLOW_POLLS 20u

enum uvk_transfer boot_refuse(struct uvk_dfu_boot *boot, enum uvk_dfu_status status)
{
    boot->state = UVK_DFU_ERROR;
    boot->status = status;
    boot->asked = BOOT_NOTHING;
    return UVK_TRANSFER_STALL;
}

void boot_work(struct uvk_dfu_boot *boot)
{
    boot->state = UVK_DFU_DOWNLOAD_SYNC;
    boot->polls = boot->faults.slow ? SLOW_POLLS : 1;
}

/* Its own pages are at the end of flash; it has no way to change them. */
static size_t writable(const struct uvk_dfu_boot *boot)
{
    return boot->chip->flash - boot->chip->bootloader;
}

static void erase(struct uvk_dfu_boot *boot)
{
    memset(boot->flash, 0xFF, writable(boot));
}

/* Programming clears bits, only erasing sets them. */
static void program(struct uvk_dfu_boot *boot, size_t at, const uint8_t *data, size_t size)
{
    boot->struck = boot->struck || boot->faults.refuses_writes || boot->faults.forgets_a_bit;
    if (boot->faults.refuses_writes) {
        boot->failure = UVK_DFU_PROGRAM;
        return;
    }
    for (size_t i = 0; i < size; i++) {
        boot->flash[at + i] &= data[i];
    }
    if (boot->faults.forgets_a_bit && at == 0 && size > 0) {
        boot->flash[size / 2] ^= 0x01;
    }
}

/* ---- as DFU 1.1 has it ------------------------------------------------------------------ */

enum uvk_transfer boot_take_block(struct uvk_dfu_boot *boot, unsigned block,
                                  const uint8_t *data, size_t size)
{
    size_t at = (size_t)block * boot->kind.transfer;

    if (size == 0) {
        if (boot->state != UVK_DFU_DOWNLOAD_IDLE) {
            return boot_refuse(boot, UVK_DFU_NOT_DONE);
        }
        boot->whole = true;
        boot->state = UVK_DFU_MANIFEST_SYNC;
        return UVK_TRANSFER_DONE;
    }
    if (size > boot->kind.transfer || at + size > writable(boot)) {
        return boot_refuse(boot, UVK_DFU_ADDRESS);
    }
    if (boot->state == UVK_DFU_IDLE) {
        erase(boot);
        boot->whole = false;
    }
    program(boot, at, data, size);
    boot_work(boot);
    return UVK_TRANSFER_DONE;
}

enum uvk_transfer boot_give_block(struct uvk_dfu_boot *boot, unsigned block, uint8_t *data,
                                  size_t *size)
{
    size_t at = (size_t)block * boot->kind.transfer;
    size_t most = writable(boot);

    if (!boot->kind.uploads ||
        (boot->state != UVK_DFU_IDLE && boot->state != UVK_DFU_UPLOAD_IDLE)) {
        return boot_refuse(boot, UVK_DFU_STALLED);
    }
    boot->state = *size <= most - MIN(at, most) ? UVK_DFU_UPLOAD_IDLE : UVK_DFU_IDLE;
    *size = MIN(*size, most - MIN(at, most));
    memcpy(data, boot->flash + MIN(at, most), *size);
    return UVK_TRANSFER_DONE;
}

/* ---- the extension ---------------------------------------------------------------------- */

/* First and last address of a command, high bytes first. False: not within MOST bytes. */
static bool read_range(const uint8_t *data, size_t most, size_t *first, size_t *last)
{
    *first = (size_t)data[2] << 8 | data[3];
    *last = (size_t)data[4] << 8 | data[5];
    return *first <= *last && *last < most && *last - *first < UVK_DFU_AT_ONCE;
}

static enum uvk_transfer take_program(struct uvk_dfu_boot *boot, const uint8_t *data,
                                      size_t size)
{
    size_t first;
    size_t last;
    size_t begin;

    if (size < UVK_DFU_PACKET || data[1] != 0 ||
        !read_range(data, writable(boot), &first, &last)) {
        return boot_refuse(boot, UVK_DFU_ADDRESS);
    }
    begin = UVK_DFU_PACKET + first % UVK_DFU_PACKET;
    if (size != begin + (last - first + 1) + UVK_DFU_SUFFIX_SIZE) {
        return boot_refuse(boot, UVK_DFU_FILE);
    }
    program(boot, first, data + begin, last - first + 1);
    boot_work(boot);
    return UVK_TRANSFER_DONE;
}

static enum uvk_transfer take_display(struct uvk_dfu_boot *boot, const uint8_t *data,
                                      size_t size)
{
    size_t first;
    size_t last;

    if (size != UVK_DFU_RANGE_SIZE || data[1] != 0 ||
        !read_range(data, boot->chip->flash, &first, &last)) {
        return boot_refuse(boot, UVK_DFU_ADDRESS);
    }
    boot->first = first;
    boot->last = last;
    boot->asked = BOOT_FLASH;
    boot->state = UVK_DFU_DOWNLOAD_IDLE;
    return UVK_TRANSFER_DONE;
}

static enum uvk_transfer take_write(struct uvk_dfu_boot *boot, const uint8_t *data, size_t size)
{
    if (size == 3 && data[1] == UVK_DFU_ERASE_ALL && data[2] == 0xFF) {
        erase(boot);
        boot_work(boot);
        return UVK_TRANSFER_DONE;
    }
    if (size == 3 && data[1] == UVK_DFU_START && data[2] == 0) {
        boot->starts = true;
        boot->state = UVK_DFU_DOWNLOAD_IDLE;
        return UVK_TRANSFER_DONE;
    }
    return boot_refuse(boot, UVK_DFU_STALLED);
}

static enum uvk_transfer take_read(struct uvk_dfu_boot *boot, const uint8_t *data, size_t size)
{
    static const uint8_t which[] = {UVK_DFU_MAKER_CODE, UVK_DFU_FAMILY_CODE,
                                    UVK_DFU_PRODUCT_CODE};

    for (size_t i = 0; size == 3 && data[1] == UVK_DFU_READ_IDS && i < sizeof which; i++) {
        if (data[2] == which[i]) {
            boot->id = (uint8_t)(boot->chip->signature[i] ^ (boot->faults.other_chip ? 1 : 0));
            boot->asked = BOOT_ID;
            boot->state = UVK_DFU_DOWNLOAD_IDLE;
            return UVK_TRANSFER_DONE;
        }
    }
    return boot_refuse(boot, UVK_DFU_STALLED);
}

enum uvk_transfer boot_take_command(struct uvk_dfu_boot *boot, const uint8_t *data, size_t size)
{
    static enum uvk_transfer (*const commands[])(struct uvk_dfu_boot *, const uint8_t *,
                                                 size_t) = {
        [UVK_DFU_PROGRAM_COMMAND] = take_program,
        [UVK_DFU_DISPLAY_COMMAND] = take_display,
        [UVK_DFU_WRITE_COMMAND] = take_write,
        [UVK_DFU_READ_COMMAND] = take_read,
    };

    if (size == 0) {
        boot->left = boot->starts;
        boot->state = UVK_DFU_IDLE;
        return UVK_TRANSFER_DONE;
    }
    return data[0] < G_N_ELEMENTS(commands) && commands[data[0]] != NULL
               ? commands[data[0]](boot, data, size)
               : boot_refuse(boot, UVK_DFU_STALLED);
}

enum uvk_transfer boot_give_asked(struct uvk_dfu_boot *boot, uint8_t *data, size_t *size)
{
    enum boot_asked asked = boot->asked;

    boot->asked = BOOT_NOTHING;
    boot->state = UVK_DFU_IDLE;
    if (asked == BOOT_NOTHING) {
        return boot_refuse(boot, UVK_DFU_STALLED);
    }
    if (asked == BOOT_ID) {
        *size = MIN(*size, 1u);
        data[0] = boot->id;
    } else {
        *size = MIN(*size, boot->last - boot->first + 1);
        memcpy(data, boot->flash + boot->first, *size);
    }
    return UVK_TRANSFER_DONE;
}
