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

/* ---- the flash --------------------------------------------------------------------------- */

#define SECTOR     4096u
#define PAGE       256u
#define ERASE_PS   45000000000ull /* of a sector, as such chips have it */
#define PROGRAM_PS 400000000ull   /* of a page */

/* Code in flash faults while the flash cannot be read. */
static void show_flash(struct sim *sim, bool shown)
{
    sim->chip->flash_hidden = !shown;
    uc_mem_protect(sim->chip->uc, FLASH_AT, FLASH_MAX,
                   shown ? UC_PROT_READ | UC_PROT_EXEC : UC_PROT_NONE);
}

void rom_show_flash(struct sim *sim)
{
    show_flash(sim, true);
}

static uint32_t argument(const struct sim *sim, int number)
{
    uint32_t value = 0;

    uc_reg_read(sim->chip->uc, UC_ARM_REG_R0 + number, &value);
    return value;
}

/* Is that a run of whole UNITs of the flash, which cannot be read just now? */
static bool may_change(struct sim *sim, uint32_t at, uint32_t count, uint32_t unit)
{
    if (!sim->chip->flash_hidden) {
        arm_end(sim, "crashed", "the flash is changed while code is read from it");
    } else if (at % unit != 0 || count % unit != 0 || at + count > FLASH_MAX) {
        arm_end(sim, "crashed", "the flash is changed from %08x on, %u bytes", at, count);
    } else {
        return true;
    }
    return false;
}

static void erase(struct sim *sim)
{
    static uint8_t erased[SECTOR];
    uint32_t at = argument(sim, 0);
    uint32_t count = argument(sim, 1);

    memset(erased, 0xFF, sizeof erased);
    for (uint32_t done = 0; may_change(sim, at, count, SECTOR) && done < count;
         done += SECTOR) {
        uc_mem_write(sim->chip->uc, FLASH_AT + at + done, erased, SECTOR);
        sim->chip->ps += ERASE_PS;
        sim->chip->sectors_erased++;
    }
}

/* Ones become zeros; there is no way back but by erasing. */
static void program(struct sim *sim)
{
    uint32_t at = argument(sim, 0);
    uint32_t from = argument(sim, 1);
    uint32_t count = argument(sim, 2);
    uint8_t page[PAGE];
    uint8_t bytes[PAGE];

    if (from >= FLASH_AT && from < FLASH_AT + FLASH_MAX) {
        arm_end(sim, "crashed", "the flash is written from what is in it");
    }
    for (uint32_t done = 0; may_change(sim, at, count, PAGE) && done < count; done += PAGE) {
        uc_mem_read(sim->chip->uc, FLASH_AT + at + done, page, PAGE);
        uc_mem_read(sim->chip->uc, from + done, bytes, PAGE);
        for (uint32_t i = 0; i < PAGE; i++) {
            page[i] &= bytes[i];
        }
        uc_mem_write(sim->chip->uc, FLASH_AT + at + done, page, PAGE);
        sim->chip->ps += PROGRAM_PS;
    }
}

static void connect(struct sim *sim)
{
    (void)sim;
}

static void exit_xip(struct sim *sim)
{
    show_flash(sim, false);
}

static void enter_xip(struct sim *sim)
{
    show_flash(sim, true);
}

/* Each is one instruction that returns, at an address that is known. */
static const struct function {
    char name[3];
    void (*run)(struct sim *);
} functions[] = {{"IF", connect}, {"EX", exit_xip}, {"RE", erase},
                 {"RP", program}, {"FC", connect},  {"CX", enter_xip}};
#define FUNCTIONS (sizeof functions / sizeof functions[0])

void rom_run(struct sim *sim, uint32_t address)
{
    uint32_t index = (address - ROM_FLASH) / 4u;

    if (address >= ROM_FLASH && index < FUNCTIONS && address % 4u == 0) {
        functions[index].run(sim);
    }
}

static void put_functions(uint8_t *rom, uint32_t table)
{
    for (size_t i = 0; i < FUNCTIONS; i++) {
        uint32_t at = ROM_FLASH + 4u * (uint32_t)i;
        put16(rom, table + 4u * (uint32_t)i,
              (unsigned)(functions[i].name[0] | functions[i].name[1] << 8));
        put16(rom, table + 4u * (uint32_t)i + 2u, at + 1u);
        put16(rom, at, 0x4770); /* bx lr */
    }
    put16(rom, table + 4u * (uint32_t)FUNCTIONS, 0);
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
    put_functions(rom, ROM_TABLE + 4);
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
