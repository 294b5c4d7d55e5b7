/* image_write.h - the one writer of keymap images. Desk side.
 *
 * 1. The caller fills a struct uvk_image_plan; everything in it is borrowed.
 * 2. uvk_image_write lays it out, sums it, and then opens the result with the reader, so
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

struct uvk_image_plan {
    uint8_t keys, layers, lines, senses;
    const uint8_t *switches; /* lines x senses keys, UVK_NO_KEY where there is none */
    const uvk_action *cells; /* layers x keys */
    const struct uvk_chord_row *chords;
    uint16_t chord_count;
    const struct uvk_hold_row *holds;
    uint16_t hold_count;
    const struct uvk_feel *feels;
    uint16_t feel_count;
    const struct uvk_when_row *whens;
    uint16_t when_count;
    const struct uvk_combo *combos;
    uint16_t combo_count;
    const uint8_t *parts;
    uint16_t part_count;
    const struct uvk_macro_step *steps;
    uint16_t step_count;
    const struct uvk_dance *dances;
    uint16_t dance_count;
    const uvk_action *dance_lines;
    uint16_t line_count;
    const struct uvk_sequence *sequences;
    uint16_t sequence_count;
    const uint8_t *hands; /* two bits for each key, four in a byte: enum uvk_hand */
    uint16_t hand_count;  /* bytes */
    const uint8_t *texts;
    uint16_t text_count;
    const uint8_t *knobs; /* changes of phase from detent to detent */
    uint16_t knob_count;
    uint16_t settings[UVK_SETTINGS];
};

/* Bytes that the image of PLAN takes; more than UVK_IMAGE_MAX means it cannot be. */
size_t uvk_image_size(const struct uvk_image_plan *plan);

/* Write the image of PLAN into OUT (ROOM bytes). UVK_NO_SPACE if it does not fit, or what
 * the reader says of it. */
enum uvk_status uvk_image_write(const struct uvk_image_plan *plan, uint8_t *out, size_t room);

#ifdef __cplusplus
}
#endif

#endif
