/* open.c - is this an image, and where are its tables? Believe nothing, check everything, once.
 * Of an image that is built in only the sum is asked: the rest was, before it got there. */
#include "layout.h"
#include "uvrek/image.h"

/* A CRC over bytes and then over their own sum is always the same (CRC-32 of IEEE 802.3). */
#define CRC_OF_SUMMED 0xDEBB20E3u
#define SUM_SIZE      4u

/* The sum stands in the header; it is looked at last. */
static bool sum_is_right(uvk_image_bytes bytes, uint16_t size)
{
    uint16_t behind = (uint16_t)(size - SUM_SIZE);
    uint32_t crc = UVK_CRC_START;

    for (uint16_t i = 0; i < size; i++) {
        uint16_t at = i >= behind ? (uint16_t)(i - behind + AT_SUM) : i;
        if (i < behind && i >= AT_SUM) {
            at = (uint16_t)(i + SUM_SIZE);
        }
        crc = uvk_crc32(crc, bytes + at, 1);
    }
    return crc == CRC_OF_SUMMED;
}

enum uvk_status uvk_image_open(struct uvk_image *image, uvk_image_bytes bytes, uint16_t size)
{
    struct uvk_image opened = {.bytes = bytes};
    enum uvk_status status = UVK_USE_DIRECTORY ? uvk_image_read_header(bytes, size) : UVK_OK;

    if (status == UVK_OK && !sum_is_right(bytes, size)) {
        status = UVK_BAD_SUM;
    }
    if (status == UVK_OK && UVK_USE_DIRECTORY) {
        status = uvk_image_read_directory(&opened, size);
    }
    if (status == UVK_OK && UVK_USE_CHECKS && !uvk_image_values_are_valid(&opened)) {
        status = UVK_BAD_VALUE;
    }
    if (status == UVK_OK) {
        *image = opened;
    }
    return status;
}
