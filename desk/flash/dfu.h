/* dfu.h - what the parts of the DFU road share. */
#ifndef UVREK_FLASH_DFU_H
#define UVREK_FLASH_DFU_H

#include "roads.h"
#include "uvrek/dfu.h"

/* A bootloader that is spoken with. */
struct dfu {
    struct uvk_cable *cable;
    const struct uvk_chip *chip;
    const struct uvk_flash_options *options;
    struct uvk_dfu_function function;
    size_t blocks; /* that were sent */
    bool lost;     /* it does not answer, or is gone */
};

/* What GETSTATUS brings; WAIT in milliseconds. */
struct dfu_status {
    uint8_t status;
    uint32_t wait;
    uint8_t state;
};

/* dfu_talk.c: DNLOAD and UPLOAD of SIZE bytes, and waiting until a DNLOAD is done. WHAT was
 * asked for, in words: "to write". False: *ERROR. */
bool dfu_send(struct dfu *dfu, uint16_t block, const uint8_t *data, size_t size,
              const char *what, GError **error);
bool dfu_fetch(struct dfu *dfu, uint16_t block, uint8_t *data, size_t size, const char *what,
               GError **error);
bool dfu_settled(struct dfu *dfu, const char *what, GError **error);

/* dfu_talk.c: end whatever was left over from before. */
bool dfu_idle(struct dfu *dfu, GError **error);

/* dfu_talk.c: all has been sent; wait until it has been taken over. */
bool dfu_manifest(struct dfu *dfu, GError **error);

/* dfu_talk.c: is that what was written? */
bool dfu_compare(const uint8_t *got, const uint8_t *code, size_t size, GError **error);

/* dfu_chip.c: through the extension. */
bool dfu_chip_flash(struct dfu *dfu, const uint8_t *code, size_t size, GError **error);

#endif
