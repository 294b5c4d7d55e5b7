/* open.c - is this an image, and where are its tables? Believe nothing, check everything, once.
 * Of an image that is built in only the sum is asked: the rest was, before it got there. */
#include "layout.h"
#include "uvrek/image.h"

static bool sum_is_right(uvk_image_bytes bytes, uint16_t size)
{
    uint32_t crc = UVK_CRC_START;

    for (uint16_t i = 0; i < size; i++) {
        crc = uvk_crc32(crc, bytes + summed_place(i, size), 1);
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
    if (status == UVK_OK && (UVK_USE_DIRECTORY || UVK_USE_LIVE)) {
        status = uvk_image_read_directory(&opened, size);
    }
    if (status == UVK_OK && UVK_USE_CHECKS) {
        status = uvk_image_check_values(&opened);
    }
    if (status == UVK_OK) {
        *image = opened;
    }
    return status;
}
