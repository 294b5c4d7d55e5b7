/* changes.c - words of an image that are exchanged, and bytes behind its end. */
#include "uvrek/changes.h"

#include "tables.h"

#if UVK_USE_LIVE

void uvk_changes_clear(struct uvk_changes *changes, uvk_image_bytes bytes)
{
    changes->built = get16(bytes + AT_LENGTH);
    changes->base = get32(bytes + AT_SUM);
    changes->sum = 0;
    changes->size = changes->built;
    changes->words = 0;
}

static uint16_t bytes_of_words(const struct uvk_changes *changes)
{
    return (uint16_t)(UVK_CHANGED_WORD * changes->words);
}

UVK_ONE_COPY uint16_t uvk_changes_used(const struct uvk_changes *changes)
{
    return (uint16_t)(bytes_of_words(changes) + changes->size - changes->built);
}

bool uvk_changes_fit(const struct uvk_changes *changes, uint16_t limit)
{
    uint16_t words = changes->words;

    return changes->size >= changes->built && words <= limit / UVK_CHANGED_WORD &&
           changes->size - changes->built <= limit - bytes_of_words(changes);
}

uint8_t *uvk_changes_bytes(struct uvk_changes *changes)
{
    return (uint8_t *)&changes->serial;
}

uint16_t uvk_changes_size(const struct uvk_changes *changes)
{
    return (uint16_t)(UVK_CHANGES_HEAD + uvk_changes_used(changes));
}

/* ---- reading ---------------------------------------------------------------------------- */

/* The words stand by their offsets: look for the one that holds the byte AT. */
uint8_t uvk_changed_byte(const struct uvk_image *image, uint16_t at)
{
    const struct uvk_changes *changes = image->changes;
    uint16_t low = 0;
    uint16_t high = changes->words;
    uint16_t wanted = at & (uint16_t)~1u;

    if (at >= changes->built) {
        return changes->room[bytes_of_words(changes) + (uint16_t)(at - changes->built)];
    }
    while (low < high) {
        uint16_t middle = (uint16_t)((low + high) / 2u);
        const uint8_t *word = changes->room + UVK_CHANGED_WORD * middle;
        uint16_t offset = (uint16_t)(word[0] | word[1] << 8);
        if (offset == wanted) {
            return word[2u + (at & 1u)];
        }
        if (offset < wanted) {
            low = (uint16_t)(middle + 1u);
        } else {
            high = middle;
        }
    }
    return image->bytes[at];
}

uint8_t uvk_image_byte_at(const struct uvk_image *image, uint16_t at)
{
    return uvk_image_byte(image, at, 0);
}

#if !UVK_USE_DIRECTORY
__attribute__((noinline)) uvk_image_place uvk_row_at(const struct uvk_image *image,
                                                     uint8_t table, uint16_t row)
{
    return (uint16_t)(image->table[table] + uvk_row_size[table] * row);
}

static inline uint8_t byte_at(const struct uvk_image *image, uint16_t at)
{
    return image->changes != NULL ? uvk_changed_byte(image, at) : image->bytes[at];
}

__attribute__((noinline)) uint8_t uvk_image_byte(const struct uvk_image *image,
                                                 uvk_image_place row, uint8_t field)
{
    return byte_at(image, (uint16_t)(row + field));
}

__attribute__((noinline)) uint16_t uvk_image_word(const struct uvk_image *image,
                                                  uvk_image_place row, uint8_t field)
{
    uvk_image_place at = (uint16_t)(row + field);

    return (uint16_t)(uvk_image_byte(image, at, 0) |
                      (uint16_t)(uvk_image_byte(image, (uint16_t)(at + 1u), 0) << 8));
}

__attribute__((noinline)) void uvk_image_row(const struct uvk_image *image, uint8_t table,
                                             uint16_t row, void *out)
{
    uvk_image_place at = uvk_row_at(image, table, row);
    uint8_t left = uvk_row_size[table];
    uint8_t *to = out;

    do {
        *to++ = uvk_image_byte(image, at++, 0);
    } while (--left > 0);
}

__attribute__((noinline)) uint8_t uvk_staged_byte(const struct uvk_image *image,
                                                  uvk_image_place row, uint8_t field)
{
    return byte_at(image, (uint16_t)(row + field));
}

__attribute__((noinline)) uint16_t uvk_staged_word(const struct uvk_image *image,
                                                   uvk_image_place row, uint8_t field)
{
    return (uint16_t)(uvk_staged_byte(image, row, field) |
                      (uint16_t)(uvk_staged_byte(image, row, (uint8_t)(field + 1u)) << 8));
}
#endif

#endif
