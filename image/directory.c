/* directory.c - is this an image, what is its shape, and where are its tables? */
#include "tables.h"
#include "uvrek/changes.h"

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
        bytes[AT_SECOND] >= image->lines) {
        return UVK_BAD_VALUE;
    }
    /* compared as unsigned ints, for where a limit is the type's own */
    if (get16(bytes + AT_ROOM) > (UVK_USE_LIVE ? UVK_LIVE_ROOM : 0u) ||
        image->keys + 0u > UVK_MAX_KEYS || image->layers + 0u > UVK_MAX_LAYERS ||
        image->lines > UVK_MAX_LINES || image->senses > UVK_MAX_SENSES) {
        return UVK_TOO_BIG;
    }
    return UVK_OK;
}

#endif

#if UVK_USE_DIRECTORY || UVK_USE_LIVE

/* How many rows a table must have; from the chords on they say so themselves. */
static UVK_ONE_COPY uint16_t wanted_rows(const struct uvk_image *image, uint8_t kind,
                                         uint16_t count)
{
    switch (kind) {
    case UVK_TABLE_SWITCHES:
        return (uint16_t)(LINES(image) * SENSES(image));
    case UVK_TABLE_SETTINGS:
        return UVK_SETTINGS;
    case UVK_TABLE_CELLS:
        return (uint16_t)((uint16_t)LAYERS(image) * (uint16_t)KEYS(image));
    default:
        return count;
    }
}

/* Entry KIND of the directory. Its table stands somewhere in the SIZE bytes. */
static bool read_entry(struct uvk_image *image, uint8_t kind, uint16_t size)
{
    uint16_t entry = (uint16_t)(HEADER_SIZE + kind * ENTRY_SIZE);
    uint16_t count = uvk_staged_word(image, entry, ENTRY_COUNT);
    uint16_t at = uvk_staged_word(image, entry, ENTRY_OFFSET);

    image->table[kind] = at;
    image->rows[kind] = count;
    return at >= TABLES_AT && count == wanted_rows(image, kind, count) &&
           at + (uint32_t)count * uvk_row_size[kind] <= size;
}

static UVK_ONE_COPY enum uvk_status read_entries(struct uvk_image *image, uint16_t size)
{
    for (uint8_t kind = 0; kind < UVK_TABLES; kind++) {
        if (!read_entry(image, kind, size)) {
            return UVK_BAD_TABLE;
        }
    }
    return UVK_OK;
}

#if UVK_USE_DIRECTORY

/* All tables stand in order, end to end, and fill the image. */
static bool are_in_order(const struct uvk_image *image, uint16_t size)
{
    uint32_t end = TABLES_AT;

    for (uint8_t kind = 0; kind < UVK_TABLES; kind++) {
        if (image->table[kind] != end) {
            return false;
        }
        end += (uint32_t)image->rows[kind] * uvk_row_size[kind];
    }
    return end == size;
}

enum uvk_status uvk_image_read_directory(struct uvk_image *image, uint16_t size)
{
    enum uvk_status status = read_shape(image);

    if (status != UVK_OK) {
        return status;
    }
    if (image->bytes[AT_TABLES] != UVK_TABLES || size < TABLES_AT) {
        return UVK_BAD_TABLE;
    }
    status = read_entries(image, size);
    return status == UVK_OK && !are_in_order(image, size) ? UVK_BAD_TABLE : status;
}

#else

enum uvk_status uvk_image_read_directory(struct uvk_image *image, uint16_t size)
{
    return read_entries(image, size);
}

#endif

#if UVK_USE_LIVE
UVK_ONE_COPY enum uvk_status uvk_image_open_changed(struct uvk_image *image,
                                                    const struct uvk_image *built,
                                                    const struct uvk_changes *changes)
{
    *image = *built;
    image->changes = changes;
    return read_entries(image, changes->size);
}
#endif

#endif
