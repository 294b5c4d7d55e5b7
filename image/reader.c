/* reader.c - what an opened image holds, row by row. */
#include "layout.h"
#include "uvrek/image.h"

uvk_action uvk_image_cell(const struct uvk_image *image, uint8_t layer, uint8_t key)
{
    uint16_t row = (uint16_t)(layer * (uint16_t)image->keys + key);

    return get16(image->bytes + image->table[UVK_TABLE_CELLS] + 2u * row);
}

uint8_t uvk_image_key_at(const struct uvk_image *image, uint8_t line, uint8_t sense)
{
    uint16_t row = (uint16_t)(line * image->senses + sense);

    return image->bytes[image->table[UVK_TABLE_SWITCHES] + row];
}

uint16_t uvk_image_setting(const struct uvk_image *image, enum uvk_setting setting)
{
    return get16(image->bytes + image->table[UVK_TABLE_SETTINGS] + 2u * (uint8_t)setting);
}

uvk_action uvk_image_chord(const struct uvk_image *image, uint16_t row, uint8_t *mods)
{
    uvk_image_bytes at = image->bytes + image->table[UVK_TABLE_CHORDS] + CHORD_ROW * row;

    *mods = at[0];
    return get16(at + 1);
}

uvk_action uvk_image_hold(const struct uvk_image *image, uint16_t row, uvk_action *tap,
                          uint8_t *feel)
{
    uvk_image_bytes at = image->bytes + image->table[UVK_TABLE_HOLDS] + HOLD_ROW * row;

    *tap = get16(at);
    *feel = at[4];
    return get16(at + 2);
}

struct uvk_feel uvk_image_feel(const struct uvk_image *image, uint8_t row)
{
    uvk_image_bytes at = image->bytes + image->table[UVK_TABLE_FEELS] + FEEL_ROW * row;
    struct uvk_feel feel = {get16(at), get16(at + 2), get16(at + 4), at[6]};

    return feel;
}

uint8_t uvk_image_when(const struct uvk_image *image, uint8_t row, uint8_t *a, uint8_t *b)
{
    uvk_image_bytes at = image->bytes + image->table[UVK_TABLE_WHENS] + WHEN_ROW * row;

    *a = at[1];
    *b = at[2];
    return at[0];
}

struct uvk_combo uvk_image_combo(const struct uvk_image *image, uint8_t row)
{
    uvk_image_bytes at = image->bytes + image->table[UVK_TABLE_COMBOS] + COMBO_ROW * row;
    struct uvk_combo combo = {get16(at), get16(at + 2), at[4], at[5], get16(at + 6)};

    return combo;
}

uint8_t uvk_image_part(const struct uvk_image *image, uint16_t row)
{
    return image->bytes[image->table[UVK_TABLE_PARTS] + row];
}

struct uvk_macro_step uvk_image_step(const struct uvk_image *image, uint16_t row)
{
    uvk_image_bytes at = image->bytes + image->table[UVK_TABLE_STEPS] + STEP_ROW * row;
    struct uvk_macro_step step = {at[0], get16(at + 1)};

    return step;
}

struct uvk_dance uvk_image_dance(const struct uvk_image *image, uint16_t row)
{
    uvk_image_bytes at = image->bytes + image->table[UVK_TABLE_DANCES] + DANCE_ROW * row;
    struct uvk_dance dance = {get16(at), get16(at + 2), at[4]};

    return dance;
}

uvk_action uvk_image_line(const struct uvk_image *image, uint16_t row)
{
    return get16(image->bytes + image->table[UVK_TABLE_LINES] + 2u * row);
}

struct uvk_sequence uvk_image_sequence(const struct uvk_image *image, uint16_t row)
{
    uvk_image_bytes at = image->bytes + image->table[UVK_TABLE_SEQUENCES] + SEQ_ROW * row;
    struct uvk_sequence sequence = {get16(at), get16(at + 2), at[4]};

    return sequence;
}

uint8_t uvk_image_knob(const struct uvk_image *image, uint8_t knob)
{
    return image->bytes[image->table[UVK_TABLE_KNOBS] + knob];
}

uint8_t uvk_image_text(const struct uvk_image *image, uint16_t row)
{
    return image->bytes[image->table[UVK_TABLE_TEXTS] + row];
}

enum uvk_hand uvk_image_hand(const struct uvk_image *image, uint8_t key)
{
    uint8_t byte;

    if (key >= image->keys) {
        return UVK_EITHER_HAND; /* a combo */
    }
    byte = image->bytes[image->table[UVK_TABLE_HANDS] + (key >> 2)];
    return (enum uvk_hand)((uint8_t)(byte >> (2u * (key & 3u))) & 3u);
}
