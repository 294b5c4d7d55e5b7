/* dfu.h - the DFU bootloader's insides: states in dfu.c, flash in dfu_flash.c. */
#ifndef UVREK_BENCH_DFU_H
#define UVREK_BENCH_DFU_H

#include "uvrek/gadget.h"

/* What the extension's UPLOAD brings. */
enum boot_asked { BOOT_NOTHING, BOOT_ID, BOOT_FLASH };

struct uvk_dfu_boot {
    const struct uvk_chip *chip;
    struct uvk_dfu_kind kind;
    struct uvk_dfu_faults faults;
    struct uvk_gadget gadget;
    uint8_t *flash;
    enum uvk_dfu_state state;
    enum uvk_dfu_status status, failure; /* told; found out while it was busy */
    unsigned requests, polls;            /* so far; to come until it is not busy */
    enum boot_asked asked;
    uint8_t id;
    size_t first, last; /* of the flash that is displayed */
    bool starts;        /* the next empty DNLOAD starts the firmware */
    bool whole;         /* all of a firmware was taken */
    bool left, vanished, heard, struck;
};

/* dfu_flash.c: the request is refused; it is in its error state. */
enum uvk_transfer boot_refuse(struct uvk_dfu_boot *boot, enum uvk_dfu_status status);

/* dfu_flash.c: it is busy for some time, and GETSTATUS tells how it went. */
void boot_work(struct uvk_dfu_boot *boot);

/* dfu_flash.c: DNLOAD and UPLOAD, plain and of the extension. */
enum uvk_transfer boot_take_block(struct uvk_dfu_boot *boot, unsigned block,
                                  const uint8_t *data, size_t size);
enum uvk_transfer boot_give_block(struct uvk_dfu_boot *boot, unsigned block, uint8_t *data,
                                  size_t *size);
enum uvk_transfer boot_take_command(struct uvk_dfu_boot *boot, const uint8_t *data,
                                    size_t size);
enum uvk_transfer boot_give_asked(struct uvk_dfu_boot *boot, uint8_t *data, size_t *size);

#endif
