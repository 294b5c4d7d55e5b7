/* writer.c - lay an image out. */
#include "uvrek/image_write.h"

#include "layout.h"

#include <string.h>

/* ---- rows as they are in memory, and the order of their fields in an image -------------- */

#define FIELDS_MAX 9

/* SIZE bytes of a field, AT bytes into the row; a field of no size ends the list. */
struct field {
    uint8_t at, size;
};

struct form {
    size_t row; /* bytes in memory */
    struct field fields[FIELDS_MAX];
};

#define FIELD(type, name)                                                                      \
    {                                                                                          \
        offsetof(struct type, name), sizeof(((struct type *)NULL)->name)                       \
    }
#define BYTES                                                                                  \
    {                                                                                          \
        1,                                                                                     \
        {                                                                                      \
            {                                                                                  \
                0, 1                                                                           \
            }                                                                                  \
        }                                                                                      \
    }
#define WORDS                                                                                  \
    {                                                                                          \
        2,                                                                                     \
        {                                                                                      \
            {                                                                                  \
                0, 2                                                                           \
            }                                                                                  \
        }                                                                                      \
    }

static const struct form forms[UVK_TABLES] = {
    [UVK_TABLE_SWITCHES] = BYTES,
    [UVK_TABLE_SETTINGS] = WORDS,
    [UVK_TABLE_CELLS] = WORDS,
    [UVK_TABLE_CHORDS] = {sizeof(struct uvk_chord_row),
                          {FIELD(uvk_chord_row, mods), FIELD(uvk_chord_row, action)}},
    [UVK_TABLE_HOLDS] = {sizeof(struct uvk_hold_row),
                         {FIELD(uvk_hold_row, tap), FIELD(uvk_hold_row, held),
                          FIELD(uvk_hold_row, feel)}},
    [UVK_TABLE_FEELS] = {sizeof(struct uvk_feel),
                         {FIELD(uvk_feel, hold_after), FIELD(uvk_feel, rest),
                          FIELD(uvk_feel, again), FIELD(uvk_feel, flags)}},
    [UVK_TABLE_WHENS] = {sizeof(struct uvk_when_row),
                         {FIELD(uvk_when_row, layer), FIELD(uvk_when_row, a),
                          FIELD(uvk_when_row, b)}},
    [UVK_TABLE_COMBOS] = {sizeof(struct uvk_combo),
                          {FIELD(uvk_combo, action), FIELD(uvk_combo, within),
                           FIELD(uvk_combo, flags), FIELD(uvk_combo, keys),
                           FIELD(uvk_combo, first)}},
    [UVK_TABLE_PARTS] = BYTES,
    [UVK_TABLE_STEPS] = {sizeof(struct uvk_macro_step),
                         {FIELD(uvk_macro_step, op), FIELD(uvk_macro_step, operand)}},
    [UVK_TABLE_DANCES] = {sizeof(struct uvk_dance),
                          {FIELD(uvk_dance, within), FIELD(uvk_dance, first),
                           FIELD(uvk_dance, taps)}},
    [UVK_TABLE_LINES] = WORDS,
    [UVK_TABLE_SEQUENCES] = {sizeof(struct uvk_sequence),
                             {FIELD(uvk_sequence, action), FIELD(uvk_sequence, first),
                              FIELD(uvk_sequence, keys)}},
    [UVK_TABLE_KNOBS] = BYTES,
    [UVK_TABLE_HANDS] = BYTES,
    [UVK_TABLE_TEXTS] = BYTES,
    [UVK_TABLE_LIGHT] = {sizeof(struct uvk_light),
                         {FIELD(uvk_light, effect), FIELD(uvk_light, levels),
                          FIELD(uvk_light, level), FIELD(uvk_light, backlight),
                          FIELD(uvk_light, pace), FIELD(uvk_light, limit),
                          FIELD(uvk_light, colour.red), FIELD(uvk_light, colour.green),
                          FIELD(uvk_light, colour.blue)}},
    [UVK_TABLE_COLOURS] = {sizeof(struct uvk_colour_row),
                           {FIELD(uvk_colour_row, layer), FIELD(uvk_colour_row, colour.red),
                            FIELD(uvk_colour_row, colour.green),
                            FIELD(uvk_colour_row, colour.blue)}},
    [UVK_TABLE_LAMPS] = {sizeof(struct uvk_lamp_row),
                         {FIELD(uvk_lamp_row, tells), FIELD(uvk_lamp_row, layer)}},
    [UVK_TABLE_STRIP] = {sizeof(struct uvk_strip_lamp),
                         {FIELD(uvk_strip_lamp, line), FIELD(uvk_strip_lamp, sense),
                          FIELD(uvk_strip_lamp, x), FIELD(uvk_strip_lamp, y)}},
};

size_t uvk_plan_row_size(enum uvk_table table)
{
    return forms[table].row;
}

/* ---- laying out
 * ------------------------------------------------------------------------------ */

static void put16(uint8_t *at, unsigned value)
{
    at[0] = (uint8_t)(value & 0xFFu);
    at[1] = (uint8_t)(value >> 8 & 0xFFu);
}

static void put32(uint8_t *at, uint32_t value)
{
    put16(at, value & 0xFFFFu);
    put16(at + 2, value >> 16);
}

static size_t count_rows(const struct uvk_image_plan *plan, size_t table)
{
    switch (table) {
    case UVK_TABLE_SWITCHES:
        return (size_t)plan->lines * plan->senses;
    case UVK_TABLE_SETTINGS:
        return UVK_SETTINGS;
    case UVK_TABLE_CELLS:
        return (size_t)plan->layers * plan->keys;
    default:
        return plan->tables[table].count;
    }
}

size_t uvk_image_size(const struct uvk_image_plan *plan)
{
    size_t size = HEADER_SIZE + (size_t)UVK_TABLES * ENTRY_SIZE;

    for (size_t table = 0; table < UVK_TABLES; table++) {
        size += count_rows(plan, table) * uvk_row_size[table];
    }
    return size;
}

static void write_header(const struct uvk_image_plan *plan, uint8_t *out, size_t size)
{
    memset(out, 0, HEADER_SIZE);
    memcpy(out + AT_MAGIC, "UVKI", 4);
    out[AT_VERSION] = UVK_IMAGE_VERSION;
    out[AT_TABLES] = UVK_TABLES;
    put16(out + AT_LENGTH, (unsigned)size);
    out[AT_KEYS] = plan->keys;
    out[AT_LAYERS] = plan->layers;
    out[AT_LINES] = plan->lines;
    out[AT_SENSES] = plan->senses;
    out[AT_SECOND] = plan->second;
    put16(out + AT_ROOM, plan->room);
}

/* One row from memory; answers where the next one goes. */
static uint8_t *write_row(const struct form *form, const uint8_t *row, uint8_t *at)
{
    for (unsigned i = 0; i < FIELDS_MAX && form->fields[i].size != 0; i++) {
        uint16_t word;
        if (form->fields[i].size == 1) {
            *at++ = row[form->fields[i].at];
            continue;
        }
        memcpy(&word, row + form->fields[i].at, sizeof word);
        put16(at, word);
        at += 2;
    }
    return at;
}

/* Each table behind the one before it, and its entry in the directory. */
static void write_tables(const struct uvk_image_plan *plan, uint8_t *out)
{
    uint8_t *at = out + HEADER_SIZE + (size_t)UVK_TABLES * ENTRY_SIZE;

    for (size_t table = 0; table < UVK_TABLES; table++) {
        uint8_t *entry = out + HEADER_SIZE + table * ENTRY_SIZE;
        size_t count = count_rows(plan, table);
        const uint8_t *row = plan->tables[table].rows;
        put16(entry + ENTRY_COUNT, (unsigned)count);
        put16(entry + ENTRY_OFFSET, (unsigned)(at - out));
        for (size_t i = 0; i < count; i++, row += forms[table].row) {
            at = write_row(&forms[table], row, at);
        }
    }
}

enum uvk_status uvk_image_write(const struct uvk_image_plan *plan, uint8_t *out, size_t room)
{
    size_t size = uvk_image_size(plan);
    struct uvk_image opened;
    uint32_t crc;

    if (size > room || size > UVK_IMAGE_MAX) {
        return UVK_NO_SPACE;
    }
    write_header(plan, out, size);
    write_tables(plan, out);
    crc = uvk_crc32(UVK_CRC_START, out, AT_SUM);
    crc = uvk_crc32(crc, out + AT_KEYS, (uint16_t)(size - AT_KEYS));
    put32(out + AT_SUM, ~crc);
    return uvk_image_open(&opened, out, (uint16_t)size);
}
