/* image.h - the keymap image: one binary for flash, link and simulator.
 *
 * The format is written down in docs/image.md. In short:
 * 1. Little endian; a header of 20 bytes, a directory, then the tables, end to end.
 * 2. The CRC-32 (IEEE 802.3) covers every byte but its own four.
 * 3. uvk_image_open checks everything once: header, sum, table bounds, every value of
 *    every table. What it accepts, the other readers take without looking again.
 * 4. There is one reader (here) and one writer (uvk_image_write, on the desk).
 */
#ifndef UVREK_IMAGE_H
#define UVREK_IMAGE_H

#include "uvrek/action.h"
#include "uvrek/config.h"
#include "uvrek/status.h"

#include <stddef.h>
#include <stdint.h>

#define UVK_IMAGE_VERSION 1u
#define UVK_IMAGE_MAX     65535u  /* bytes; offsets are 16 bits wide */
#define UVK_NO_KEY        0xFFu   /* in the switch table: no switch stands here */
#define UVK_CHORDS_MAX    0x2000u /* rows of the chord table */

enum uvk_table {
    UVK_TABLE_SWITCHES = 0, /* 1 byte a row: key of each scan point, line by line */
    UVK_TABLE_SETTINGS = 1, /* 2 bytes a row, enum uvk_setting */
    UVK_TABLE_CELLS = 2,    /* 2 bytes a row: action words, layer by layer */
    UVK_TABLE_CHORDS = 3,   /* 3 bytes a row: modifiers, action word */
    UVK_TABLES = 4
};

enum uvk_setting {
    UVK_SET_DEBOUNCE = 0, /* milliseconds, 0..100: how long open before a release counts */
    UVK_SETTINGS = 1
};

#define UVK_DEBOUNCE_MAX 100u

typedef const UVK_ROM uint8_t *uvk_image_bytes;

/* An opened image: borrowed bytes and where their tables start. */
struct uvk_image {
    uvk_image_bytes bytes;
    uint16_t table[UVK_TABLES]; /* byte offset */
    uint16_t chords;            /* rows of the chord table */
    uint8_t keys, layers, lines, senses;
};

/* Check SIZE bytes completely and open them. BYTES stay the caller's and must outlive
 * IMAGE. UVK_OK, or what is wrong: then IMAGE is unchanged. */
enum uvk_status uvk_image_open(struct uvk_image *image, uvk_image_bytes bytes, uint16_t size);

/* The cell of KEY (< keys) on LAYER (< layers). */
uvk_action uvk_image_cell(const struct uvk_image *image, uint8_t layer, uint8_t key);

/* The key at a scan point (LINE < lines, SENSE < senses), or UVK_NO_KEY. */
uint8_t uvk_image_key_at(const struct uvk_image *image, uint8_t line, uint8_t sense);

/* The value of a setting, in the setting's unit. */
uint16_t uvk_image_setting(const struct uvk_image *image, enum uvk_setting setting);

/* A row of the chord table: all eight modifier bits into *MODS; returns the action. */
uvk_action uvk_image_chord(const struct uvk_image *image, uint16_t row, uint8_t *mods);

/* CRC-32 of SIZE more bytes; start with UVK_CRC_START, end with ~. */
#define UVK_CRC_START 0xFFFFFFFFu
uint32_t uvk_crc32(uint32_t crc, uvk_image_bytes bytes, uint16_t size);

#endif
