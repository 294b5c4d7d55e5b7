/* reader.c - open an image: believe nothing, check everything, once. */
#include "layout.h"
#include "uvrek/image.h"

#include <stdbool.h>

static const UVK_ROM uint8_t magic[4] = {'U', 'V', 'K', 'I'};
static const UVK_ROM uint8_t row_size[UVK_TABLES] = {1, 2, 2, CHORD_ROW};

static uint16_t get16(uvk_image_bytes at)
{
    return (uint16_t)(at[0] | (uint16_t)(at[1] << 8));
}

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
    if (image->keys == 0 || image->keys == UVK_NO_KEY || image->layers == 0 ||
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

/* How many rows a table must have; the chord table says so itself. */
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
        image->chords = count; /* the last table leaves its own */
        at += (uint32_t)count * row_size[kind];
        if (at > size) {
            return UVK_BAD_TABLE;
        }
    }
    return at == size ? UVK_OK : UVK_BAD_TABLE;
}

/* Values of a DEVICE action, by enum uvk_device. */
static const UVK_ROM uint8_t device_first[] = {0x81, 1, UVK_WHEEL_UP, UVK_BOARD_BOOTLOADER};
static const UVK_ROM uint8_t device_last[] = {0x83, UVK_BUTTONS, UVK_WHEEL_RIGHT,
                                              UVK_BOARD_RESTART};
static const UVK_ROM uint8_t device_built[] = {UVK_USE_SYSTEM, UVK_USE_MOUSE, UVK_USE_MOUSE,
                                               UVK_USE_BOARD};

static bool device_is_valid(uvk_action action)
{
    uint8_t device = uvk_action_high(action);
    uint8_t value = uvk_action_low(action);

    return device < sizeof device_first && device_built[device] &&
           value >= device_first[device] && value <= device_last[device];
}

static bool key_is_valid(uvk_action action)
{
    uint8_t usage = uvk_action_low(action);

    if (usage == 0) {
        return uvk_action_high(action) != UVK_MOD_RIGHT;
    }
    return usage >= UVK_USAGE_FIRST && usage <= UVK_USAGE_LAST;
}

static bool action_is_valid(const struct uvk_image *image, uvk_action action, bool in_chord)
{
    switch (uvk_action_kind(action)) {
    case UVK_KEY:
        return action == UVK_SEE_THROUGH ? !in_chord : key_is_valid(action);
    case UVK_CHORD:
        return UVK_USE_CHORDS && !in_chord && uvk_action_value(action) < image->chords;
    case UVK_LAYER:
        return uvk_action_high(action) == 0 && uvk_action_low(action) < image->layers;
    case UVK_CONSUMER:
        return UVK_USE_CONSUMER && uvk_action_value(action) != 0 &&
               uvk_action_value(action) <= UVK_CONSUMER_LAST;
    case UVK_DEVICE:
        return device_is_valid(action);
    default:
        return false;
    }
}

static bool switches_are_valid(const struct uvk_image *image)
{
    uvk_image_bytes at = image->bytes + image->table[UVK_TABLE_SWITCHES];
    uint16_t count = (uint16_t)(image->lines * image->senses);

    for (; count > 0; count--, at++) {
        if (*at != UVK_NO_KEY && *at >= image->keys) {
            return false;
        }
    }
    return true;
}

static bool cells_are_valid(const struct uvk_image *image)
{
    uvk_image_bytes at = image->bytes + image->table[UVK_TABLE_CELLS];
    uint16_t count = (uint16_t)(image->layers * (uint16_t)image->keys);

    for (; count > 0; count--, at += 2) {
        if (!action_is_valid(image, get16(at), false)) {
            return false;
        }
    }
    return true;
}

static bool chords_are_valid(const struct uvk_image *image)
{
    for (uint16_t row = 0; row < image->chords; row++) {
        uint8_t mods;
        if (!action_is_valid(image, uvk_image_chord(image, row, &mods), true)) {
            return false;
        }
    }
    return true;
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
    if (!switches_are_valid(&opened) || !cells_are_valid(&opened) ||
        !chords_are_valid(&opened) ||
        uvk_image_setting(&opened, UVK_SET_DEBOUNCE) > UVK_DEBOUNCE_MAX) {
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
