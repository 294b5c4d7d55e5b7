/* formats.h - files that carry machine code, as bootloaders and programmers take them.
 *
 * Whatever is read is believed in nothing: a file that is cut, damaged or not what it says is
 * refused, with the line or block where that shows.
 */
#ifndef UVREK_FORMATS_H
#define UVREK_FORMATS_H

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

#ifdef __cplusplus
}
#endif

#endif
