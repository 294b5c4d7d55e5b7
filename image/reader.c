/* reader.c - what an opened image holds, row by row. */
#include "tables.h"
#include "uvrek/image.h"

#include <stddef.h>

/* What READ_ROW needs: the last field of a struct ends with the row. */
#define IS_ROW(type, last, size)                                                               \
    _Static_assert(offsetof(struct type, last) + sizeof((struct type *)0)->last == (size),     \
                   "its fields stand as in the image")
IS_ROW(uvk_tap_hold, feel, HOLD_ROW);
IS_ROW(uvk_feel, flags, FEEL_ROW);
IS_ROW(uvk_when, b, WHEN_ROW);
IS_ROW(uvk_combo, first, COMBO_ROW);
IS_ROW(uvk_dance, taps, DANCE_ROW);
IS_ROW(uvk_sequence, keys, SEQ_ROW);
IS_ROW(uvk_light, colour, LIGHT_ROW);

uint8_t uvk_image_keys(const struct uvk_image *image)
{
    return KEYS(image);
}

uint8_t uvk_image_lines(const struct uvk_image *image)
{
    return LINES(image);
}

uint8_t uvk_image_senses(const struct uvk_image *image)
{
    return SENSES(image);
}

UVK_ONE_COPY uint8_t uvk_image_second_line(const struct uvk_image *image)
{
    return SECOND(image);
}

UVK_ONE_COPY uint16_t uvk_image_room(const struct uvk_image *image)
{
    return get16(image->bytes + AT_ROOM);
}

#if UVK_USE_LINK
uint16_t uvk_image_print(const struct uvk_image *image)
{
    uvk_image_bytes sum = image->bytes + AT_SUM;

    return (uint16_t)((sum[0] ^ sum[2]) << 8 | (sum[1] ^ sum[3]));
}
#endif

uint8_t uvk_image_combos(const struct uvk_image *image)
{
    return (uint8_t)ROWS(image, COMBOS);
}

uint8_t uvk_image_whens(const struct uvk_image *image)
{
    return (uint8_t)ROWS(image, WHENS);
}

uint16_t uvk_image_sequences(const struct uvk_image *image)
{
    return ROWS(image, SEQUENCES);
}

uint8_t uvk_image_knobs(const struct uvk_image *image)
{
    return (uint8_t)FIXED_ROWS(image, KNOBS);
}

uvk_action uvk_image_cell(const struct uvk_image *image, uint8_t layer, uint8_t key)
{
    uint16_t row = (uint16_t)(layer * (uint16_t)KEYS(image) + key);

    return uvk_image_word(image, ROW_AT(image, CELLS, 2u, row), 0);
}

uint8_t uvk_image_key_at(const struct uvk_image *image, uint8_t line, uint8_t sense)
{
    uint16_t row = (uint16_t)(line * SENSES(image) + sense);

    return FIXED_BYTE(image, SWITCHES, row);
}

uint16_t uvk_image_setting(const struct uvk_image *image, enum uvk_setting setting)
{
    return uvk_image_word(image, ROW_AT(image, SETTINGS, 2u, (uint8_t)setting), 0);
}

uvk_action uvk_image_chord(const struct uvk_image *image, uint16_t row, uint8_t *mods)
{
    uvk_image_place at = ROW_AT(image, CHORDS, CHORD_ROW, row);

    *mods = uvk_image_byte(image, at, 0);
    return uvk_image_word(image, at, 1);
}

UVK_ONE_COPY void uvk_image_hold(const struct uvk_image *image, uint16_t row,
                                 struct uvk_tap_hold *hold)
{
    READ_ROW(image, HOLDS, HOLD_ROW, row, hold);
}

UVK_ONE_COPY void uvk_image_feel(const struct uvk_image *image, uint8_t row,
                                 struct uvk_feel *feel)
{
    READ_ROW(image, FEELS, FEEL_ROW, row, feel);
}

void uvk_image_when(const struct uvk_image *image, uint8_t row, struct uvk_when *when)
{
    READ_ROW(image, WHENS, WHEN_ROW, row, when);
}

void uvk_image_combo(const struct uvk_image *image, uint8_t row, struct uvk_combo *combo)
{
    READ_ROW(image, COMBOS, COMBO_ROW, row, combo);
}

uint8_t uvk_image_part(const struct uvk_image *image, uint16_t row)
{
    return uvk_image_byte(image, ROW_AT(image, PARTS, 1u, row), 0);
}

struct uvk_macro_step uvk_image_step(const struct uvk_image *image, uint16_t row)
{
    uint8_t read[STEP_ROW];
    struct uvk_macro_step step;

    READ_ROW(image, STEPS, STEP_ROW, row, read);
    step.op = read[0];
    step.operand = (uint16_t)(read[1] | read[2] << 8);
    return step;
}

void uvk_image_dance(const struct uvk_image *image, uint16_t row, struct uvk_dance *dance)
{
    READ_ROW(image, DANCES, DANCE_ROW, row, dance);
}

uvk_action uvk_image_line(const struct uvk_image *image, uint16_t row)
{
    return uvk_image_word(image, ROW_AT(image, LINES, 2u, row), 0);
}

void uvk_image_sequence(const struct uvk_image *image, uint16_t row,
                        struct uvk_sequence *sequence)
{
    READ_ROW(image, SEQUENCES, SEQ_ROW, row, sequence);
}

uint8_t uvk_image_knob(const struct uvk_image *image, uint8_t knob)
{
    return FIXED_BYTE(image, KNOBS, knob);
}

#if UVK_USE_LIGHTS
bool uvk_image_has_light(const struct uvk_image *image)
{
    return FIXED_ROWS(image, LIGHT) > 0;
}

void uvk_image_light(const struct uvk_image *image, struct uvk_light *light)
{
    READ_ROW(image, LIGHT, LIGHT_ROW, 0, light);
}

bool uvk_image_colour(const struct uvk_image *image, uint8_t layer, struct uvk_colour *colour)
{
    for (uint16_t row = 0; row < ROWS(image, COLOURS); row++) {
        uvk_image_place at = ROW_AT(image, COLOURS, COLOUR_ROW, row);
        if (uvk_image_byte(image, at, 0) == layer) {
            colour->red = uvk_image_byte(image, at, 1);
            colour->green = uvk_image_byte(image, at, 2);
            colour->blue = uvk_image_byte(image, at, 3);
            return true;
        }
    }
    return false;
}

uint8_t uvk_image_strip(const struct uvk_image *image)
{
    return (uint8_t)FIXED_ROWS(image, STRIP);
}

struct uvk_strip_lamp uvk_image_strip_lamp(const struct uvk_image *image, uint8_t row)
{
    uint16_t first = (uint16_t)(row * STRIP_ROW);
    struct uvk_strip_lamp lamp = {
        FIXED_BYTE(image, STRIP, first), FIXED_BYTE(image, STRIP, first + 1u),
        FIXED_BYTE(image, STRIP, first + 2u), FIXED_BYTE(image, STRIP, first + 3u)};

    return lamp;
}

uint8_t uvk_image_lamps(const struct uvk_image *image)
{
    return (uint8_t)FIXED_ROWS(image, LAMPS);
}

enum uvk_lamp uvk_image_lamp(const struct uvk_image *image, uint8_t row, uint8_t *layer)
{
    uint16_t first = (uint16_t)(row * LAMP_ROW);

    *layer = FIXED_BYTE(image, LAMPS, first + 1u);
    return (enum uvk_lamp)FIXED_BYTE(image, LAMPS, first);
}
#endif

uint8_t uvk_image_text(const struct uvk_image *image, uint16_t row)
{
    return uvk_image_byte(image, ROW_AT(image, TEXTS, 1u, row), 0);
}

UVK_ONE_COPY enum uvk_hand uvk_image_hand(const struct uvk_image *image, uint8_t key)
{
    uint8_t byte;

    if (key >= KEYS(image)) {
        return UVK_EITHER_HAND; /* a combo */
    }
    byte = FIXED_BYTE(image, HANDS, key >> 2);
    return (enum uvk_hand)((uint8_t)(byte >> (2u * (key & 3u))) & 3u);
}
