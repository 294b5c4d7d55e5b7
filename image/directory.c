/* directory.c - is this an image, what is its shape, and where are its tables? */
#include "layout.h"

const UVK_ROM uint8_t uvk_row_size[UVK_TABLES] = {ROW_SIZES};

#if UVK_USE_DIRECTORY

static const UVK_ROM uint8_t magic[4] = {'U', 'V', 'K', 'I'};

enum uvk_status uvk_image_read_header(uvk_image_bytes bytes, uint16_t size)
{
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
    return get16(bytes + AT_LENGTH) == size ? UVK_OK : UVK_BAD_LENGTH;
}

static enum uvk_status read_shape(struct uvk_image *image)
{
    uvk_image_bytes bytes = image->bytes;

    image->keys = bytes[AT_KEYS];
    image->layers = bytes[AT_LAYERS];
    image->lines = bytes[AT_LINES];
    image->senses = bytes[AT_SENSES];
    image->second = bytes[AT_SECOND];
    if (image->keys == 0 || image->keys > UVK_KEYS_MAX || image->layers == 0 ||
        image->lines == 0 || image->senses == 0 || bytes[AT_RESERVED] != 0 ||
        get16(bytes + AT_RESERVED + 1) != 0 || bytes[AT_SECOND] >= image->lines) {
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
static enum uvk_status read_tables(struct uvk_image *image, uint16_t size)
{
    uint32_t at = HEADER_SIZE + UVK_TABLES * ENTRY_SIZE;

    if (image->bytes[AT_TABLES] != UVK_TABLES || size < at) {
        return UVK_BAD_TABLE;
    }
    for (uint8_t kind = 0; kind < UVK_TABLES; kind++) {
        uvk_image_bytes entry = image->bytes + HEADER_SIZE + kind * ENTRY_SIZE;
        uint16_t count = get16(entry + ENTRY_COUNT);
        if (entry[ENTRY_KIND] != kind || entry[ENTRY_ROW] != uvk_row_size[kind] ||
            get16(entry + ENTRY_OFFSET) != at || count != wanted_rows(image, kind, count)) {
            return UVK_BAD_TABLE;
        }
        image->table[kind] = (uint16_t)at;
        image->rows[kind] = count;
        at += (uint32_t)count * uvk_row_size[kind];
        if (at > size) {
            return UVK_BAD_TABLE;
        }
    }
    return at == size ? UVK_OK : UVK_BAD_TABLE;
}

enum uvk_status uvk_image_read_directory(struct uvk_image *image, uint16_t size)
{
    enum uvk_status status = read_shape(image);

    return status == UVK_OK ? read_tables(image, size) : status;
}

#endif
