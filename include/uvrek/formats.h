/* formats.h - files that carry machine code, as bootloaders and programmers take them.
 *
 * Whatever is read is believed in nothing: a file that is cut, damaged or not what it says is
 * refused, with the line or block where that shows.
 */
#ifndef UVREK_FORMATS_H
#define UVREK_FORMATS_H

#include "uvrek/pair.h"
#include "uvrek/problem.h"

#include <stdbool.h>
#include <stddef.h>
#include <stdint.h>

#ifdef __cplusplus
extern "C" {
#endif

/* Intel HEX (Intel, Hexadecimal Object File Format, 1988): records of 16 bytes, types 00,
 * 01 and 04. The text is freed with g_free. */
char *uvk_hex_write(const uint8_t *bytes, size_t size);

/* The bytes of a HEX text from address 0 on, gaps as 0xFF; at most MOST bytes. NULL and
 * *ERROR, with the line, if it is broken. */
uint8_t *uvk_hex_read(const char *text, size_t most, size_t *size, GError **error);

/* A UF2 file (Microsoft, UF2 File Format): blocks of 512 bytes that say where their bytes go.
 */
struct uvk_uf2 {
    uint32_t family;  /* which chips it is for; 0: it does not say */
    uint32_t address; /* of the first byte, as the chip counts */
    uint8_t *bytes;   /* end to end */
    size_t size;
};
#define UVK_UF2_BLOCK 512u

/* The blocks of SIZE bytes that go to ADDRESS, 256 a block, the last one filled with zeros;
 * freed with g_free, their size into *BLOCKS. */
uint8_t *uvk_uf2_write(const uint8_t *bytes, size_t size, uint32_t address, uint32_t family,
                       size_t *blocks);

/* What a UF2 file has for the chip's main flash, at most MOST bytes; blocks for elsewhere are
 * passed over. False and *ERROR, with the number of the block, if a block is damaged, missing,
 * there twice or of another family than the first, or if there are gaps. UF2->bytes are freed
 * with g_free. */
bool uvk_uf2_read(const uint8_t *file, size_t size, size_t most, struct uvk_uf2 *uf2,
                  GError **error);

/* ---- any of them ------------------------------------------------------------------------- */

/* What a file brings: HEX, UF2, ELF and files with a DFU suffix (USB DFU 1.1, appendix B) are
 * told apart by what is in them, all else is bytes for the start of flash. */
struct uvk_carried {
    const char *form; /* "hex", "uf2", "elf", "dfu" or "bin" */
    uint32_t address; /* of the first byte, as the file counts */
    uint8_t *bytes;   /* freed with g_free */
    size_t size;
    uint32_t family;  /* of a UF2 file, else 0 */
    uint32_t machine; /* of an ELF file (e_machine), else 0 */
    /* Of a file with a DFU suffix: the bootloader's ids, 0xFFFF for any; else 0. */
    uint16_t vendor, product;
};

#define UVK_CARRIED_MOST (16u * 1024u * 1024u) /* bytes that a file may bring */

/* Read PATH. False: *ERROR, with the line or block that is wrong. */
bool uvk_carried_read(const char *path, struct uvk_carried *carried, GError **error);

/* The same of what a file holds, with a zero behind it. */
bool uvk_carried_take(char *file, size_t size, struct uvk_carried *carried, GError **error);

/* What a firmware of Uvrek says of itself, in words that stand in its flash behind the keymap.
 */
struct uvk_note {
    char version[16], chip[32], board[264], keymap[264];
    char half;      /* of a board with a controller in each half, below; else 0 */
    size_t half_at; /* where that stands: a byte that may be changed */
};
#define UVK_NOTE_MARK "UVKN" /* then the four, a blank between them, and a zero */
/* Where there is a half, a blank and its character (pair.h) stand before the zero. The firmware
 * reads it. */

/* False: there is none, or it is damaged. */
bool uvk_note_find(const uint8_t *bytes, size_t size, struct uvk_note *note);

#ifdef __cplusplus
}
#endif

#endif
