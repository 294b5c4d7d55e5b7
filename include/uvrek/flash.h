/* flash.h - bootloaders: getting machine code into a chip, and a copy of it out.
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

#include "uvrek/cable.h"
#include "uvrek/chips.h"
#include "uvrek/halves.h"
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

/* The USB ids of the device behind a serial port. False: they are not known. */
bool uvk_serial_ids(const char *path, uint16_t *vendor, uint16_t *product);

/* Open the port at 1200 baud and close it: many a keyboard that runs, and offers a serial port,
 * starts its bootloader at that. False: *ERROR. */
bool uvk_serial_touch(const char *path, GError **error);

/* ---- how it goes ------------------------------------------------------------------- */

enum uvk_flash_stage {
    UVK_FLASH_WAITING, /* for the bootloader to appear; text: what to press */
    UVK_FLASH_FOUND,   /* text: what, and where */
    UVK_FLASH_HINT,    /* something is in the way; text: what to do about it */
    UVK_FLASH_READING, /* what is in it, to be kept; done of total bytes, as of the next two */
    UVK_FLASH_WRITING,
    UVK_FLASH_VERIFYING,
    UVK_FLASH_DONE,   /* text: NULL, or a remark */
    UVK_FLASH_RUNNING /* the keyboard itself has come; text: who and where it is */
};

struct uvk_flash_options {
    const char *port;  /* the serial port to wait for; NULL: any that appears */
    const char *drive; /* the folder of the drive to wait for; NULL: any of the right kind */
    const char *to; /* of several bootloaders, the one that is called so; NULL: the only one */
    const char *usbip;        /* where USB devices are looked for, see cable.h; NULL: here */
    uint16_t vendor, product; /* of the board, which its own bootloaders have too; 0: unknown */
    uint16_t for_vendor, for_product; /* of the bootloader, as the file says; 0, 0xFFFF: any */
    unsigned patience;                /* seconds to wait for the bootloader */
    void (*progress)(void *data, enum uvk_flash_stage stage, const char *text, size_t done,
                     size_t total);
    const char *touch; /* a serial port that is touched first, see uvk_serial_touch; or NULL */
    /* Gets what is in the chip before anything is written, without what is empty at the end;
     * CODE is NULL where the bootloader does not tell. False and *ERROR: nothing is written.
     * NULL: nobody wants to know. */
    bool (*before)(void *data, const uint8_t *code, size_t size, GError **error);
    void *data;
};

/* Can a board whose bootloader is of the kind BOOT be flashed with what this program was built
 * with? And may this user do that, as far as can be told beforehand? False: *ERROR. */
bool uvk_can_flash(const char *boot, GError **error);
bool uvk_may_flash(const char *boot, GError **error);

/* Was this program built with the library for serial ports? */
bool uvk_has_serial(void);

/* ---- the serial bootloader (AVR109) ------------------------------------------------ */

/* Write CODE (from address 0) through the serial bootloader on LINE, verify, leave.
 * False: *ERROR, with UVK_NOT_WELL when what was read back differs. */
bool uvk_avr109_flash(struct uvk_line *line, const struct uvk_chip *chip, const uint8_t *code,
                      size_t size, const struct uvk_flash_options *options, GError **error);

/* ---- USB Device Firmware Upgrade 1.1, see dfu.h -------------------------------------- */

/* What the functional descriptor of an interface says (4.1.3). */
struct uvk_dfu_function {
    uint8_t interface, attributes;
    uint16_t transfer; /* bytes of the largest block */
};

/* The first interface that is in DFU mode, of a configuration descriptor with all that belongs
 * to it. False: there is none, or it is broken. */
bool uvk_dfu_find(const uint8_t *configuration, size_t size, struct uvk_dfu_function *function);

/* Write CODE through the bootloader on CABLE, and let it run. EXTENDED: it speaks the chip
 * maker's extension, which tells the chip and can be read; else what is in it is verified where
 * it offers that. False: *ERROR. */
bool uvk_dfu_flash(struct uvk_cable *cable, const struct uvk_chip *chip, bool extended,
                   const uint8_t *code, size_t size, const struct uvk_flash_options *options,
                   GError **error);

/* ---- roads ------------------------------------------------------------------------- */

/* Wait for the bootloader of the kind BOOT of a chip, then write CODE, from the start of its
 * flash on, and let it run. What can be read back is verified. Then wait for the keyboard
 * itself, if it can be known: OPTIONS has its ids, and the bootloader was on USB. CODE is NULL:
 * nothing is written, only read. False: *ERROR. */
bool uvk_flash(const struct uvk_chip *chip, const char *boot, const uint8_t *code, size_t size,
               const struct uvk_flash_options *options, GError **error);

/* ---- halves --------------------------------------------------------------------------- */

/* Wait until a keyboard of two halves, of the ids in OPTIONS, says that they understand one
 * another, for OPTIONS->patience seconds at the most; what it says meanwhile is a
 * UVK_FLASH_HINT. False: *ERROR, with what is wrong. */
bool uvk_await_halves(const struct uvk_flash_options *options, struct uvk_halves_told *told,
                      GError **error);

/* ---- what is here now ---------------------------------------------------------------- */

struct uvk_sighting {
    bool running; /* it is the keyboard itself; else it is, or may be, its bootloader */
    bool halves;  /* it is one in two halves, and has said how they are */
    struct uvk_halves_told told;
    char *what; /* "Lantern 64 (1209:0003) at USB 1-4" */
    char *mend; /* this user may not open it: what to do about that; NULL: it is open */
};

/* All that there is of a board with CHIP and a bootloader of the kind BOOT, and the ids in
 * OPTIONS; freed with g_ptr_array_unref. */
GPtrArray *
uvk_sightings(const struct uvk_chip *chip, const char *boot,
              const struct uvk_flash_options *options); /* of struct uvk_sighting * */

#ifdef __cplusplus
}
#endif

#endif
