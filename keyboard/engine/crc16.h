/* crc16.h - CRC-16 as HDLC has it, not inverted (ITU-T V.41): polynomial 1021, start FFFF, not
 * reflected. What has its own CRC behind it, high byte first, gives 0. */
#ifndef UVREK_ENGINE_CRC16_H
#define UVREK_ENGINE_CRC16_H

#include <stdint.h>

#define CRC16_START 0xFFFFu

uint16_t uvk_crc16_byte(uint16_t crc, uint8_t byte);

#endif
