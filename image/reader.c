/* reader.c - what an opened image holds, row by row. */
#include "tables.h"
#include "uvrek/image.h"

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

uvk_action uvk_image_hold(const struct uvk_image *image, uint16_t row, uvk_action *tap,
                          uint8_t *feel)
{
    uvk_image_place at = ROW_AT(image, HOLDS, HOLD_ROW, row);

    *tap = uvk_image_word(image, at, 0);
    *feel = uvk_image_byte(image, at, 4);
    return uvk_image_word(image, at, 2);
}

struct uvk_feel uvk_image_feel(const struct uvk_image *image, uint8_t row)
{
    uvk_image_place at = ROW_AT(image, FEELS, FEEL_ROW, row);
    struct uvk_feel feel = {uvk_image_word(image, at, 0), uvk_image_word(image, at, 2),
                            uvk_image_word(image, at, 4), uvk_image_byte(image, at, 6)};

    return feel;
}

uint8_t uvk_image_when(const struct uvk_image *image, uint8_t row, uint8_t *a, uint8_t *b)
{
    uvk_image_place at = ROW_AT(image, WHENS, WHEN_ROW, row);

    *a = uvk_image_byte(image, at, 1);
    *b = uvk_image_byte(image, at, 2);
    return uvk_image_byte(image, at, 0);
}

struct uvk_combo uvk_image_combo(const struct uvk_image *image, uint8_t row)
{
    uvk_image_place at = ROW_AT(image, COMBOS, COMBO_ROW, row);
    struct uvk_combo combo = {uvk_image_word(image, at, 0), uvk_image_word(image, at, 2),
                              uvk_image_byte(image, at, 4), uvk_image_byte(image, at, 5),
                              uvk_image_word(image, at, 6)};

    return combo;
}

uint8_t uvk_image_part(const struct uvk_image *image, uint16_t row)
{
    return uvk_image_byte(image, ROW_AT(image, PARTS, 1u, row), 0);
}

struct uvk_macro_step uvk_image_step(const struct uvk_image *image, uint16_t row)
{
    uvk_image_place at = ROW_AT(image, STEPS, STEP_ROW, row);
    struct uvk_macro_step step = {uvk_image_byte(image, at, 0), uvk_image_word(image, at, 1)};

    return step;
}

struct uvk_dance uvk_image_dance(const struct uvk_image *image, uint16_t row)
{
    uvk_image_place at = ROW_AT(image, DANCES, DANCE_ROW, row);
    struct uvk_dance dance = {uvk_image_word(image, at, 0), uvk_image_word(image, at, 2),
                              uvk_image_byte(image, at, 4)};

    return dance;
}

uvk_action uvk_image_line(const struct uvk_image *image, uint16_t row)
{
    return uvk_image_word(image, ROW_AT(image, LINES, 2u, row), 0);
}

struct uvk_sequence uvk_image_sequence(const struct uvk_image *image, uint16_t row)
{
    uvk_image_place at = ROW_AT(image, SEQUENCES, SEQ_ROW, row);
    struct uvk_sequence sequence = {uvk_image_word(image, at, 0), uvk_image_word(image, at, 2),
                                    uvk_image_byte(image, at, 4)};

    return sequence;
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

struct uvk_light uvk_image_light(const struct uvk_image *image)
{
    uvk_image_place at = ROW_AT(image, LIGHT, LIGHT_ROW, 0u);
    struct uvk_light light = {uvk_image_byte(image, at, 0),
                              uvk_image_byte(image, at, 1),
                              uvk_image_byte(image, at, 2),
                              uvk_image_byte(image, at, 3),
                              uvk_image_word(image, at, 4),
                              uvk_image_word(image, at, 6),
                              {uvk_image_byte(image, at, 8), uvk_image_byte(image, at, 9),
                               uvk_image_byte(image, at, 10)}};

    return light;
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
