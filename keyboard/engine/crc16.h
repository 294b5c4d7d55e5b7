/* crc16.h - CRC-16 as HDLC has it, not inverted (ITU-T V.41): polynomial 1021, start FFFF, not
 * reflected. What has its own CRC behind it, high byte first, gives 0. */
#ifndef UVREK_ENGINE_CRC16_H
#define UVREK_ENGINE_CRC16_H

#include <stdint.h>

#define CRC16_START 0xFFFFu

/* Eight bits at once, without a table. */
static inline uint16_t crc16_step(uint16_t crc, uint8_t byte)
{
    uint8_t mixed = (uint8_t)((crc >> 8) ^ byte);

    mixed ^= (uint8_t)(mixed >> 4);
    return (uint16_t)(crc << 8 ^ (uint16_t)mixed << 12 ^ (uint16_t)mixed << 5 ^ mixed);
}

#endif
