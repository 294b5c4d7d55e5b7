/* tables.h - where the tables of an image stand, and how their bytes are read; for the reader.
 *
 * AT(image, NAME) is where the table UVK_TABLE_NAME begins, ROWS(image, NAME) how many rows it
 * has. In an image that is built in both are constants of the link. */
#ifndef UVREK_IMAGE_TABLES_H
#define UVREK_IMAGE_TABLES_H

#include "layout.h"

/* Every byte of a table is read here, so that a change can be seen from one place. */
static inline uint8_t uvk_image_byte(const struct uvk_image *image, uvk_image_bytes at)
{
    (void)image;
    return *at;
}

/* Two bytes, the low one first. */
static inline uint16_t uvk_image_word(const struct uvk_image *image, uvk_image_bytes at)
{
    return (uint16_t)(uvk_image_byte(image, at) |
                      (uint16_t)(uvk_image_byte(image, at + 1) << 8));
}

#if UVK_USE_DIRECTORY

#define AT(image, name)   ((image)->bytes + (image)->table[UVK_TABLE_##name])
#define ROWS(image, name) ((image)->rows[UVK_TABLE_##name])
#define KEYS(image)       ((image)->keys)
#define LINES(image)      ((image)->lines)
#define SENSES(image)     ((image)->senses)
#define SECOND(image)     ((image)->second != 0 ? (image)->second : (image)->lines)

#else

#define LINKED(name)                                                                           \
    extern const UVK_ROM uint8_t uvk_at_##name[];                                              \
    extern const uint8_t uvk_rows_##name[];
LINKED(SWITCHES)
LINKED(SETTINGS)
LINKED(CELLS)
LINKED(CHORDS)
LINKED(HOLDS)
LINKED(FEELS)
LINKED(WHENS)
LINKED(COMBOS)
LINKED(PARTS)
LINKED(STEPS)
LINKED(DANCES)
LINKED(LINES)
LINKED(SEQUENCES)
LINKED(KNOBS)
LINKED(HANDS)
LINKED(TEXTS)

/* The value of an absolute symbol. The compiler must not reason that no address is 0. */
static inline uint16_t uvk_linked(const uint8_t *symbol)
{
    uint16_t value = (uint16_t)(uintptr_t)symbol;

    __asm__("" : "+r"(value));
    return value;
}

#define AT(image, name)   ((void)(image), &uvk_at_##name[0])
#define ROWS(image, name) ((void)(image), uvk_linked(uvk_rows_##name))
#define KEYS(image)       ((void)(image), (uint8_t)UVK_MAX_KEYS)
#define LINES(image)      ((void)(image), (uint8_t)UVK_MAX_LINES)
#define SENSES(image)     ((void)(image), (uint8_t)UVK_MAX_SENSES)
#define SECOND(image)     ((void)(image), (uint8_t)UVK_SECOND_LINE)

#endif

#endif
