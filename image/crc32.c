/* crc32.c - CRC-32 of IEEE 802.3, a bit at a time: small matters more than fast here,
 * it runs once at the start. */
#include "layout.h"

UVK_ONE_COPY uint32_t uvk_crc32_byte(uint32_t crc, uint8_t byte)
{
    crc ^= byte;
    for (uint8_t bit = 0; bit < 8; bit++) {
        crc = (crc & 1u) ? (crc >> 1) ^ 0xEDB88320u : crc >> 1;
    }
    return crc;
}

uint32_t uvk_crc32(uint32_t crc, uvk_image_bytes bytes, uint16_t size)
{
    while (size-- > 0) {
        crc = uvk_crc32_byte(crc, *bytes++);
    }
    return crc;
}
