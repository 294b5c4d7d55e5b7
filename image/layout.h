/* layout.h - where things stand in an image; for the reader and the writer alone.
 * docs/image.md says the same in words. */
#ifndef UVREK_IMAGE_LAYOUT_H
#define UVREK_IMAGE_LAYOUT_H

#include "uvrek/image.h"

#include <stdbool.h>

#if defined __BYTE_ORDER__ && __BYTE_ORDER__ != __ORDER_LITTLE_ENDIAN__
#error "an image has the low byte first: this needs a processor that has, too"
#endif

enum {
    AT_MAGIC = 0, /* "UVKI" */
    AT_VERSION = 4,
    AT_TABLES = 5,    /* entries of the directory */
    AT_LENGTH = 6,    /* of the whole image */
    AT_SUM = 8,       /* CRC-32 of all other bytes */
    AT_KEYS = 12,     /* 1..254 */
    AT_LAYERS = 13,   /* 1..255 */
    AT_LINES = 14,    /* 1..32 */
    AT_SENSES = 15,   /* 1..32 */
    AT_SECOND = 16,   /* the first line of the second half; 0: there is none */
    AT_ROOM = 17,     /* bytes for live changes, two bytes; 0: no live door */
    AT_RESERVED = 19, /* a zero */
    HEADER_SIZE = 20,

    /* an entry of the directory */
    ENTRY_COUNT = 0,
    ENTRY_OFFSET = 2,
    ENTRY_SIZE = 4,

    TABLES_AT = HEADER_SIZE + UVK_TABLES * ENTRY_SIZE /* the first table */
};

#define CHORD_ROW  3u
#define HOLD_ROW   5u
#define FEEL_ROW   7u
#define WHEN_ROW   3u
#define COMBO_ROW  8u
#define STEP_ROW   3u
#define DANCE_ROW  5u
#define SEQ_ROW    5u
#define LIGHT_ROW  11u
#define COLOUR_ROW 4u
#define LAMP_ROW   2u
#define STRIP_ROW  4u

/* Bytes of a row, in the order of enum uvk_table. */
#define ROW_SIZES                                                                              \
    1, 2, 2, CHORD_ROW, HOLD_ROW, FEEL_ROW, WHEN_ROW, COMBO_ROW, 1, STEP_ROW, DANCE_ROW, 2,    \
        SEQ_ROW, 1, 1, 1, LIGHT_ROW, COLOUR_ROW, LAMP_ROW, STRIP_ROW

extern const UVK_ROM uint8_t uvk_row_size[UVK_TABLES]; /* directory.c */

/* Two bytes, the low one first. */
static inline uint16_t get16(uvk_image_bytes at)
{
    return (uint16_t)(at[0] | (uint16_t)(at[1] << 8));
}

static inline uint32_t get32(uvk_image_bytes at)
{
    return get16(at) | ((uint32_t)get16(at + 2) << 16);
}

/* A CRC over bytes and then over their own sum is always the same (CRC-32 of IEEE 802.3). */
#define CRC_OF_SUMMED 0xDEBB20E3u
#define SUM_SIZE      4u

/* The place that is looked at as number I of SIZE: the sum stands in the header, and comes
 * last. */
static inline uint16_t summed_place(uint16_t i, uint16_t size)
{
    uint16_t behind = (uint16_t)(size - SUM_SIZE);

    if (i >= behind) {
        return (uint16_t)(i - behind + AT_SUM);
    }
    return i >= AT_SUM ? (uint16_t)(i + SUM_SIZE) : i;
}

/* crc32.c */
uint32_t uvk_crc32_byte(uint32_t crc, uint8_t byte);

/* directory.c: is this an image of this version, of SIZE bytes? */
enum uvk_status uvk_image_read_header(uvk_image_bytes bytes, uint16_t size);
/* The shape and the tables of an image whose sum is right. */
enum uvk_status uvk_image_read_directory(struct uvk_image *image, uint16_t size);

/* check.c: every value of an image whose sum and tables are right. */
enum uvk_status uvk_image_check_values(const struct uvk_image *image);

#if UVK_USE_LIVE
/* changes.c: a byte of an image that has changes. */
uint8_t uvk_changed_byte(const struct uvk_image *image, uint16_t at);
#endif

/* check_words.c: where an action word stands decides what it may be. */
enum uvk_word_place { UVK_IN_CELL, UVK_IN_LINE, UVK_IN_HOLD, UVK_IN_STEP, UVK_IN_CHORD };
bool uvk_word_is_valid(const struct uvk_image *image, uvk_action action,
                       enum uvk_word_place place);
/* A macro begins at the first step, or behind the end of another. */
bool uvk_macro_begins(const struct uvk_image *image, uint16_t row);

#endif
