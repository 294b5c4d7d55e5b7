/* rom.c - what the chip's ROM does that a program sees: it boots, and it has functions. */
#include "arm.h"

#include <string.h>

#define STAGE2_SIZE 256u
#define STAGE2_RUNS 0x20041F00u /* 2.8.1.2 */
#define ROM_LOOKUP  0x100u
#define ROM_TABLE   0x140u

/* CRC-32 with the polynomial 04C11DB7, from all ones, nothing reflected (2.8.1.3.1). */
static uint32_t checksum(const uint8_t *bytes, size_t size)
{
    uint32_t crc = 0xFFFFFFFFu;

    for (size_t i = 0; i < size; i++) {
        crc ^= (uint32_t)bytes[i] << 24;
        for (int bit = 0; bit < 8; bit++) {
            crc = (crc & 0x80000000u) != 0 ? crc << 1 ^ 0x04C11DB7u : crc << 1;
        }
    }
    return crc;
}

static void put16(uint8_t *rom, uint32_t at, unsigned value)
{
    rom[at] = (uint8_t)value;
    rom[at + 1] = (uint8_t)(value >> 8);
}

void rom_make(uint8_t rom[ROM_SIZE])
{
    /* r0 = table, r1 = code: ldrh r2, [r0]; found, or 0 at its end */
    static const uint16_t lookup[] = {0x8802, 0x2A00, 0xD005, 0x428A, 0xD001, 0x3004,
                                      0xE7F8, 0x8840, 0x4770, 0x2000, 0x4770};

    memset(rom, 0xDE, ROM_SIZE); /* UDF, where a program that is lost ends up */
    memcpy(&rom[0x10], "Mu\1", 4);
    put16(rom, 0x14, ROM_TABLE);
    put16(rom, 0x18, ROM_LOOKUP + 1);
    for (size_t i = 0; i < sizeof lookup / sizeof lookup[0]; i++) {
        put16(rom, ROM_LOOKUP + 2 * (uint32_t)i, lookup[i]);
    }
    put16(rom, ROM_TABLE, 'U' | 'B' << 8);
    put16(rom, ROM_TABLE + 2, ROM_TO_USB + 1);
    put16(rom, ROM_TABLE + 4, 0);
    put16(rom, ROM_TO_USB, 0xE7FE); /* for ever: see run.c */
}

uint32_t rom_boot(struct sim *sim)
{
    uint8_t stage2[STAGE2_SIZE];
    const uint8_t *sum = &stage2[STAGE2_SIZE - 4];

    if (uc_mem_read(sim->chip->uc, FLASH_AT, stage2, sizeof stage2) != UC_ERR_OK ||
        checksum(stage2, STAGE2_SIZE - 4) != ((uint32_t)sum[3] << 24 | (uint32_t)sum[2] << 16 |
                                              (uint32_t)sum[1] << 8 | sum[0])) {
        return 0;
    }
    uc_mem_write(sim->chip->uc, STAGE2_RUNS, stage2, sizeof stage2);
    return STAGE2_RUNS;
}
