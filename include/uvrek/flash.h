/* flash.h - bootloaders: getting machine code into a chip.
 *
 * 1. The desk waits for a bootloader first, then says what to press: some stay for less
 *    than a second.
 * 2. Nothing is written before signature and size have been checked, and the bootloader's
 *    own pages are never touched.
 * 3. What was written is read back and compared. Then the bootloader is left.
 * 4. Every wait has an end.
 */
#ifndef UVREK_FLASH_H
#define UVREK_FLASH_H

#include "uvrek/chips.h"
#include "uvrek/problem.h"

#include <stdbool.h>
#include <stddef.h>
#include <stdint.h>

#ifdef __cplusplus
extern "C" {
#endif

/* ---- a serial line ---------------------------------------------------------------- */

/* Bytes both ways. The functions of a line that somebody else provides get SELF. */
struct uvk_line {
    void *self;
    /* All SIZE bytes, or false and *ERROR. */
    bool (*write)(void *self, const uint8_t *bytes, size_t size, GError **error);
    /* All SIZE bytes within TIMEOUT milliseconds, or false and *ERROR. */
    bool (*read)(void *self, uint8_t *bytes, size_t size, unsigned timeout, GError **error);
    void (*close)(void *self);
};

/* Open the serial port PATH. NULL: *ERROR; with UVK_PROBLEM, UVK_NOT_DONE. */
struct uvk_line *uvk_serial_open(const char *path, GError **error);
void uvk_line_close(struct uvk_line *line);

/* The names of all serial ports that look like a USB device, NULL-terminated; freed with
 * g_strfreev. */
char **uvk_serial_ports(void);

/* ---- the serial bootloader (AVR109) ----------------------------------------------- */

enum uvk_flash_stage {
    UVK_FLASH_WAITING, /* for the bootloader to appear; text: what to press */
    UVK_FLASH_FOUND,   /* text: where */
    UVK_FLASH_HINT,    /* something is in the way; text: what to do about it */
    UVK_FLASH_WRITING, /* done of total bytes */
    UVK_FLASH_VERIFYING,
    UVK_FLASH_DONE /* text: NULL, or a remark */
};

struct uvk_flash_options {
    const char *port;  /* the serial port to wait for; NULL: any that appears */
    const char *drive; /* the folder of the drive to wait for; NULL: any of the right kind */
    unsigned patience; /* seconds to wait for the bootloader */
    void (*progress)(void *data, enum uvk_flash_stage stage, const char *text, size_t done,
                     size_t total);
    void *data;
};

/* Can a board whose bootloader is of the kind BOOT be flashed? False: *ERROR. */
bool uvk_can_flash(const char *boot, GError **error);

/* Write CODE (from address 0) through the serial bootloader on LINE, verify, leave.
 * False: *ERROR, with UVK_NOT_WELL when what was read back differs. */
bool uvk_avr109_flash(struct uvk_line *line, const struct uvk_chip *chip, const uint8_t *code,
                      size_t size, const struct uvk_flash_options *options, GError **error);

/* ---- roads ------------------------------------------------------------------------- */

/* Wait for the bootloader of the kind BOOT of a chip, then write CODE, from the start of its
 * flash on, and let it run. What can be read back is verified. False: *ERROR. */
bool uvk_flash(const struct uvk_chip *chip, const char *boot, const uint8_t *code, size_t size,
               const struct uvk_flash_options *options, GError **error);

#ifdef __cplusplus
}
#endif

#endif
