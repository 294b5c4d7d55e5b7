/* bootloader.h - the bench's bootloader: the other end of flash.h.
 *
 * 1. uvk_bootloader_feed is the bootloader itself: bytes in, bytes out, into a simulated
 *    chip's flash. It behaves as the AVR109 note says, mistakes of its caller included.
 * 2. A terminal is a pseudo-terminal that it can be reached on, under a name of its own.
 * 3. A drive is the other kind of bootloader: a folder that takes a UF2 file and goes.
 * 4. Faults make it misbehave as real ones do, so that the desk's side can be tested.
 */
#ifndef UVREK_BOOTLOADER_H
#define UVREK_BOOTLOADER_H

#include "uvrek/chips.h"
#include "uvrek/problem.h"

#include <stdbool.h>
#include <stddef.h>
#include <stdint.h>

#ifdef __cplusplus
extern "C" {
#endif

struct uvk_bootloader_faults {
    bool other_chip;     /* it tells another signature */
    bool refuses_writes; /* it answers '?' to a block */
    bool forgets_a_bit;  /* one bit of what is written is lost */
    bool slow;           /* each answer takes ten milliseconds, and then it comes */
    /* after so many bytes, 0: never */
    size_t silent_after;   /* it does not answer any more */
    size_t nonsense_after; /* it answers with bytes that mean nothing */
    size_t cut_after;      /* its port goes away */
};

struct uvk_bootloader {
    const struct uvk_chip *chip;
    uint8_t *flash; /* chip->flash bytes; the last part is the bootloader's own */
    struct uvk_bootloader_faults faults;
    bool left;   /* it was told to start the firmware */
    bool struck; /* a fault has happened */
    bool cut;    /* of that kind, and whoever serves it has to do it */
    /* how far it is */
    uint8_t command[3];
    size_t command_size, command_wanted;
    uint8_t *block;
    size_t block_size, block_wanted;
    size_t address; /* bytes */
    bool programming;
    size_t heard;
};

/* A bootloader in an erased chip. Freed with uvk_bootloader_clear. */
void uvk_bootloader_init(struct uvk_bootloader *bootloader, const struct uvk_chip *chip);
void uvk_bootloader_clear(struct uvk_bootloader *bootloader);

/* Somebody has pressed reset: it begins anew; what is in flash stays. MENDED: without faults.
 */
void uvk_bootloader_begin(struct uvk_bootloader *bootloader, bool mended);

/* Bytes arrive; the answers are added to OUT. */
void uvk_bootloader_feed(struct uvk_bootloader *bootloader, const uint8_t *bytes, size_t size,
                         GByteArray *out);

struct uvk_terminal;

/* A pseudo-terminal that is reached as PATH (a symbolic link that goes with it). */
struct uvk_terminal *uvk_terminal_new(const char *path, GError **error);
void uvk_terminal_free(struct uvk_terminal *terminal);

/* The port goes away, as when its cable is pulled; and comes again. */
void uvk_terminal_hide(struct uvk_terminal *terminal);
bool uvk_terminal_show(struct uvk_terminal *terminal, GError **error);

/* Somebody has opened it at 1200 baud since the last call. */
bool uvk_terminal_was_touched(struct uvk_terminal *terminal);

/* The file to wait on for bytes; negative: the port is away. */
int uvk_terminal_file(const struct uvk_terminal *terminal);

/* Pass what has arrived to the bootloader, and its answers back. */
void uvk_terminal_serve(struct uvk_terminal *terminal, struct uvk_bootloader *bootloader);

/* ---- as a drive ------------------------------------------------------------------------ */

struct uvk_drive_faults {
    bool other_chip; /* it says that it is another board's */
    bool full;       /* it has no room */
    bool deaf;       /* it takes nothing, and stays */
    bool damages;    /* one bit of what is written is lost */
    bool slow;       /* it takes a second after the last block, and then works */
    bool vanishes;   /* it goes before it has taken anything */
    bool nonsense;   /* it tells nothing of itself that could be read */
};

struct uvk_drive;

/* A bootloader in an erased chip, that shows itself as a drive: as FOLDER, which is made when
 * it is shown and goes when it has taken a UF2 file for the chip. */
struct uvk_drive *uvk_drive_new(const char *folder, const struct uvk_chip *chip,
                                const struct uvk_drive_faults *faults);
void uvk_drive_free(struct uvk_drive *drive);

/* The chip is in its bootloader. False: the folder cannot be made, *ERROR says why. */
bool uvk_drive_show(struct uvk_drive *drive, GError **error);

/* Look at what has been put into it; to be called every few milliseconds. */
void uvk_drive_serve(struct uvk_drive *drive);

/* It goes, with what was put into it. MENDED: it comes back without faults. */
void uvk_drive_hide(struct uvk_drive *drive, bool mended);

/* It has taken a file, and started it; somebody has put a file there; a fault has happened. */
bool uvk_drive_left(const struct uvk_drive *drive);
bool uvk_drive_heard(const struct uvk_drive *drive);
bool uvk_drive_struck(const struct uvk_drive *drive);

/* The chip's flash, chip->flash bytes. */
uint8_t *uvk_drive_flash(struct uvk_drive *drive);

#ifdef __cplusplus
}
#endif

#endif
