/* image_write.h - the one writer of keymap images. Desk side.
 *
 * 1. The caller fills a struct uvk_image_plan; everything in it is borrowed.
 * 2. The rows of a table are an array of what stands beside it in enum uvk_table: bytes,
 *    action words, or one of the structs here and in image.h.
 * 3. uvk_image_write lays it out, sums it, and then opens the result with the reader, so
 *    that nothing leaves the desk that a keyboard would refuse.
 */
#ifndef UVREK_IMAGE_WRITE_H
#define UVREK_IMAGE_WRITE_H

#include "uvrek/image.h"

#ifdef __cplusplus
extern "C" {
#endif

struct uvk_chord_row {
    uint8_t mods;
    uvk_action action;
};

struct uvk_hold_row {
    uvk_action tap, held;
    uint8_t feel;
};

struct uvk_when_row {
    uint8_t layer, a, b;
};

struct uvk_colour_row {
    uint8_t layer;
    struct uvk_colour colour;
};

struct uvk_lamp_row {
    uint8_t tells, layer; /* enum uvk_lamp */
};

struct uvk_image_plan {
    uint8_t keys, layers, lines, senses;
    uint8_t second; /* the first line of the second half; 0: there is none */
    uint16_t room;  /* bytes for live changes; 0: no live door */
    /* How many rows of switches, settings and cells there are follows from the shape: COUNT of
     * those is not looked at. */
    struct {
        const void *rows; /* may be NULL if there are none */
        size_t count;
    } tables[UVK_TABLES];
};

/* Bytes of a row of TABLE in memory, for whoever keeps rows of any table. */
size_t uvk_plan_row_size(enum uvk_table table);

/* Bytes that the image of PLAN takes; more than UVK_IMAGE_MAX means it cannot be. */
size_t uvk_image_size(const struct uvk_image_plan *plan);

/* Write the image of PLAN into OUT (ROOM bytes). UVK_NO_SPACE if it does not fit, or what
 * the reader says of it. */
enum uvk_status uvk_image_write(const struct uvk_image_plan *plan, uint8_t *out, size_t room);

#ifdef __cplusplus
}
#endif

#endif
