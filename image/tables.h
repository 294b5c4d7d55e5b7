/* tables.h - where the tables of an image stand, and how their bytes are read; for the reader.
 *
 * ROW_AT(image, NAME, BYTES, ROW) is where row ROW of the table UVK_TABLE_NAME stands, each of
 * BYTES; ROWS(image, NAME) is how many it has. Where an image is built in, the linker knows the
 * shape of the board and the tables that go with it: FIXED_AT and FIXED_ROWS. Where it cannot
 * be changed either, it knows all tables. */
#ifndef UVREK_IMAGE_TABLES_H
#define UVREK_IMAGE_TABLES_H

#include "layout.h"

/* ---- what the linker knows --------------------------------------------------------------- */

#if UVK_USE_DIRECTORY

#define KEYS(image)   ((image)->keys)
#define LAYERS(image) ((image)->layers)
#define LINES(image)  ((image)->lines)
#define SENSES(image) ((image)->senses)
#define SECOND(image) ((image)->second != 0 ? (image)->second : (image)->lines)

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
LINKED(LIGHT)
LINKED(COLOURS)
LINKED(LAMPS)
LINKED(STRIP)

/* The value of an absolute symbol. The compiler must not reason that no address is 0. */
static inline uint16_t uvk_linked(const uint8_t *symbol)
{
    uint16_t value = (uint16_t)(uintptr_t)symbol;

    __asm__("" : "+r"(value));
    return value;
}

#define KEYS(image)   ((void)(image), (uint8_t)UVK_MAX_KEYS)
#define LAYERS(image) ((void)(image), (uint8_t)UVK_MAX_LAYERS)
#define LINES(image)  ((void)(image), (uint8_t)UVK_MAX_LINES)
#define SENSES(image) ((void)(image), (uint8_t)UVK_MAX_SENSES)
#define SECOND(image) ((void)(image), (uint8_t)UVK_SECOND_LINE)

#define LINKED_AT(image, name, bytes, row)                                                     \
    ((void)(image), &uvk_at_##name[0] + (uint16_t)((bytes) * (row)))
#define LINKED_ROWS(image, name) ((void)(image), uvk_linked(uvk_rows_##name))

#endif

/* ---- where the tables stand ------------------------------------------------------------- */

#if UVK_USE_DIRECTORY || UVK_USE_LIVE

typedef uint16_t uvk_image_place; /* bytes from the start of the image */

#define PLACE_OF(image, name, bytes, row)                                                      \
    ((uint16_t)((image)->table[UVK_TABLE_##name] + (bytes) * (row)))
#define ROWS(image, name) ((image)->rows[UVK_TABLE_##name])

#else

typedef uvk_image_bytes uvk_image_place;

#define PLACE_OF(image, name, bytes, row) LINKED_AT(image, name, bytes, row)
#define ROWS(image, name)                 LINKED_ROWS(image, name)

#endif

#if UVK_USE_DIRECTORY
#define FIXED_BYTE(image, name, row) uvk_image_byte((image), ROW_AT(image, name, 1u, row), 0)
#define FIXED_ROWS(image, name)      ROWS(image, name)
#else
#define FIXED_BYTE(image, name, row) (*LINKED_AT(image, name, 1u, row))
#define FIXED_ROWS(image, name)      LINKED_ROWS(image, name)
#endif

/* ---- bytes ------------------------------------------------------------------------------ */

/* Every byte of a table is read here, so that a change is seen from one place: byte FIELD of a
 * row; two bytes, the low one first; and a whole row into OUT, a struct that has its fields
 * where the row has them. A check reads what is staged by STAGED_AT and the `staged` ones. They
 * do the same; but on a chip the other ones then read the engine's image and no other, which
 * the compiler makes use of. */
#if UVK_USE_LIVE && !UVK_USE_DIRECTORY

#define ROW_AT(image, name, bytes, row)        uvk_row_at(image, UVK_TABLE_##name, row)
#define READ_ROW(image, name, bytes, row, out) uvk_image_row(image, UVK_TABLE_##name, row, out)
#define STAGED_AT(image, name, bytes, row)     PLACE_OF(image, name, bytes, row)

/* changes.c: on a chip each stands there once */
uvk_image_place uvk_row_at(const struct uvk_image *image, uint8_t table, uint16_t row);
uint8_t uvk_image_byte(const struct uvk_image *image, uvk_image_place row, uint8_t field);
uint16_t uvk_image_word(const struct uvk_image *image, uvk_image_place row, uint8_t field);
void uvk_image_row(const struct uvk_image *image, uint8_t table, uint16_t row, void *out);
uint8_t uvk_staged_byte(const struct uvk_image *image, uvk_image_place row, uint8_t field);
uint16_t uvk_staged_word(const struct uvk_image *image, uvk_image_place row, uint8_t field);

#else

#define ROW_AT(image, name, bytes, row)    PLACE_OF(image, name, bytes, row)
#define STAGED_AT(image, name, bytes, row) PLACE_OF(image, name, bytes, row)
#define READ_ROW(image, name, bytes, row, out)                                                 \
    read_row(image, PLACE_OF(image, name, bytes, row), (uint8_t *)(out), bytes)

static inline uint8_t uvk_image_byte(const struct uvk_image *image, uvk_image_place row,
                                     uint8_t field)
{
#if UVK_USE_DIRECTORY
    uint16_t at = (uint16_t)(row + field);

#if UVK_USE_LIVE
    if (image->changes != NULL) {
        return uvk_changed_byte(image, at);
    }
#endif
    return image->bytes[at];
#else
    (void)image;
    return row[field];
#endif
}

static inline uint16_t uvk_image_word(const struct uvk_image *image, uvk_image_place row,
                                      uint8_t field)
{
    return (uint16_t)(uvk_image_byte(image, row, field) |
                      (uint16_t)(uvk_image_byte(image, row, (uint8_t)(field + 1u)) << 8));
}

#define uvk_staged_byte uvk_image_byte
#define uvk_staged_word uvk_image_word

/* Without a loop, which takes a small chip longer: what SIZE is, is known where it is called.
 */
#define BYTE(i)                                                                                \
    if ((i) < size) {                                                                          \
        out[i] = uvk_image_byte(image, row, i);                                                \
    }                                                                                          \
    (void)0
static inline __attribute__((always_inline)) void
read_row(const struct uvk_image *image, uvk_image_place row, uint8_t *out, uint8_t size)
{
    _Static_assert(LIGHT_ROW == 11u, "the longest row");
    BYTE(0);
    BYTE(1);
    BYTE(2);
    BYTE(3);
    BYTE(4);
    BYTE(5);
    BYTE(6);
    BYTE(7);
    BYTE(8);
    BYTE(9);
    BYTE(10);
}
#undef BYTE

#endif

#endif
