/* reader.c - open an image, and read what it holds. check.c says whether its values mean
 * something: believe nothing, check everything, once. */
#include "layout.h"
#include "uvrek/image.h"

static const UVK_ROM uint8_t magic[4] = {'U', 'V', 'K', 'I'};
static const UVK_ROM uint8_t row_size[UVK_TABLES] = {ROW_SIZES};

static uint32_t get32(uvk_image_bytes at)
{
    return get16(at) | ((uint32_t)get16(at + 2) << 16);
}

static enum uvk_status check_header(uvk_image_bytes bytes, uint16_t size)
{
    uint32_t crc;

    if (size < HEADER_SIZE) {
        return UVK_BAD_LENGTH;
    }
    for (uint8_t i = 0; i < sizeof magic; i++) {
        if (bytes[AT_MAGIC + i] != magic[i]) {
            return UVK_BAD_MAGIC;
        }
    }
    if (bytes[AT_VERSION] != UVK_IMAGE_VERSION) {
        return UVK_BAD_VERSION;
    }
    if (get16(bytes + AT_LENGTH) != size) {
        return UVK_BAD_LENGTH;
    }
    crc = uvk_crc32(UVK_CRC_START, bytes, AT_SUM);
    crc = uvk_crc32(crc, bytes + AT_KEYS, (uint16_t)(size - AT_KEYS));
    return ~crc == get32(bytes + AT_SUM) ? UVK_OK : UVK_BAD_SUM;
}

static enum uvk_status read_shape(struct uvk_image *image)
{
    uvk_image_bytes bytes = image->bytes;

    image->keys = bytes[AT_KEYS];
    image->layers = bytes[AT_LAYERS];
    image->lines = bytes[AT_LINES];
    image->senses = bytes[AT_SENSES];
    if (image->keys == 0 || image->keys > UVK_KEYS_MAX || image->layers == 0 ||
        image->lines == 0 || image->senses == 0 || get32(bytes + AT_RESERVED) != 0) {
        return UVK_BAD_VALUE;
    }
    /* compared as unsigned ints, for where a limit is the type's own */
    if (image->keys + 0u > UVK_MAX_KEYS || image->layers + 0u > UVK_MAX_LAYERS ||
        image->lines > UVK_MAX_LINES || image->senses > UVK_MAX_SENSES) {
        return UVK_TOO_BIG;
    }
    return UVK_OK;
}

/* How many rows a table must have; from the chords on they say so themselves. */
static uint16_t wanted_rows(const struct uvk_image *image, uint8_t kind, uint16_t count)
{
    switch (kind) {
    case UVK_TABLE_SWITCHES:
        return (uint16_t)(image->lines * image->senses);
    case UVK_TABLE_SETTINGS:
        return UVK_SETTINGS;
    case UVK_TABLE_CELLS:
        return (uint16_t)(image->layers * (uint16_t)image->keys);
    default:
        return count;
    }
}

/* All tables are there, in order, end to end, and fill the image. */
static enum uvk_status read_directory(struct uvk_image *image, uint16_t size)
{
    uint32_t at = HEADER_SIZE + UVK_TABLES * ENTRY_SIZE;

    if (image->bytes[AT_TABLES] != UVK_TABLES || size < at) {
        return UVK_BAD_TABLE;
    }
    for (uint8_t kind = 0; kind < UVK_TABLES; kind++) {
        uvk_image_bytes entry = image->bytes + HEADER_SIZE + kind * ENTRY_SIZE;
        uint16_t count = get16(entry + ENTRY_COUNT);
        if (entry[ENTRY_KIND] != kind || entry[ENTRY_ROW] != row_size[kind] ||
            get16(entry + ENTRY_OFFSET) != at || count != wanted_rows(image, kind, count)) {
            return UVK_BAD_TABLE;
        }
        image->table[kind] = (uint16_t)at;
        image->rows[kind] = count;
        at += (uint32_t)count * row_size[kind];
        if (at > size) {
            return UVK_BAD_TABLE;
        }
    }
    return at == size ? UVK_OK : UVK_BAD_TABLE;
}

enum uvk_status uvk_image_open(struct uvk_image *image, uvk_image_bytes bytes, uint16_t size)
{
    struct uvk_image opened = {.bytes = bytes};
    enum uvk_status status = check_header(bytes, size);

    if (status == UVK_OK) {
        status = read_shape(&opened);
    }
    if (status == UVK_OK) {
        status = read_directory(&opened, size);
    }
    if (status != UVK_OK) {
        return status;
    }
    if (!uvk_image_values_are_valid(&opened)) {
        return UVK_BAD_VALUE;
    }
    *image = opened;
    return UVK_OK;
}

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
