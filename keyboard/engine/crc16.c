/* crc16.c - see crc16.h. Eight bits at once, without a table. */
#include "crc16.h"

#include "uvrek/config.h"

uint16_t uvk_crc16_byte(uint16_t crc, uint8_t byte)
{
    uint8_t mixed = (uint8_t)((crc >> 8) ^ byte);

    mixed ^= (uint8_t)(mixed >> 4);
    return (uint16_t)(crc << 8 ^ (uint16_t)mixed << 12 ^ (uint16_t)mixed << 5 ^ mixed);
}
