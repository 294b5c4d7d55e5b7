/* memory.c - the last sectors of the flash: what outlives the power. While it is erased or
 * written it cannot be read, so that the code that does so runs in RAM, and nothing else runs
 * (2.8.3.1.3). The USB controller goes on answering by itself that it is busy. */
#include "port_rp2040.h"
#include "registers.h"

#if UVK_USE_JOURNAL

#include <string.h>

#define FLASH_AT   0x10000000u
#define PAGE       256u
#define BANKS_AT   (UVK_FLASH_BYTES - 2u * UVK_BANK_BYTES) /* from the start of the flash */
#define BLOCK      65536u /* larger than what is erased here: it is done by sectors */
#define BLOCK_CODE 0xD8u

/* An erasure takes up to 400 ms: the watchdog is told to wait longer. */
#define WAIT_US 1500000u

/* The ROM's functions, by their two letters (2.8.3.1.3). */
struct rom {
    void (*connect)(void);
    void (*exit_xip)(void);
    void (*erase)(uint32_t at, uint32_t count, uint32_t block, uint8_t code);
    void (*program)(uint32_t at, const uint8_t *bytes, uint32_t count);
    void (*flush)(void);
    void (*enter_xip)(void);
};

static void find_functions(struct rom *rom)
{
    rom->connect = (void (*)(void))uvk_rom_function('I' | 'F' << 8);
    rom->exit_xip = (void (*)(void))uvk_rom_function('E' | 'X' << 8);
    rom->erase =
        (void (*)(uint32_t, uint32_t, uint32_t, uint8_t))uvk_rom_function('R' | 'E' << 8);
    rom->program =
        (void (*)(uint32_t, const uint8_t *, uint32_t))uvk_rom_function('R' | 'P' << 8);
    rom->flush = (void (*)(void))uvk_rom_function('F' | 'C' << 8);
    rom->enter_xip = (void (*)(void))uvk_rom_function('C' | 'X' << 8);
}

/* In RAM, with all that it calls. PAGE: what is written; NULL: a run of sectors is erased. */
__attribute__((noinline, section(".in_ram"))) static void
change(const struct rom *rom, uint32_t at, const uint8_t *page)
{
    rom->connect();
    rom->exit_xip();
    if (page != NULL) {
        rom->program(at, page, PAGE);
    } else {
        rom->erase(at, UVK_ERASE_BYTES, BLOCK, BLOCK_CODE);
    }
    rom->flush();
    rom->enter_xip();
}

static void change_flash(uint32_t at, const uint8_t *page)
{
    struct rom rom;

    find_functions(&rom);
    UVK_REG(WATCHDOG_LOAD) = 2u * WAIT_US;
    change(&rom, at, page);
    uvk_power_alive(UVK_REG(TIMER_TIMERAWL));
}

bool uvk_port_memory_ready(struct uvk_port *self)
{
    (void)self;
    return true;
}

uint8_t uvk_port_memory_read(struct uvk_port *self, uint16_t at)
{
    (void)self;
    return *(const volatile uint8_t *)(uintptr_t)(FLASH_AT + BANKS_AT + at);
}

/* A page at a time: what is not meant is written as ones, which changes nothing. */
void uvk_port_memory_write(struct uvk_port *self, uint16_t at, const uint8_t *bytes,
                           uint8_t size)
{
    uint8_t page[PAGE];

    (void)self;
    while (size > 0) {
        uint32_t first = (BANKS_AT + at) % PAGE;
        uint8_t count = (uint8_t)(size < PAGE - first ? size : PAGE - first);
        memset(page, 0xFF, PAGE);
        memcpy(page + first, bytes, count);
        change_flash(BANKS_AT + at - first, page);
        at = (uint16_t)(at + count);
        bytes += count;
        size = (uint8_t)(size - count);
    }
}

void uvk_port_memory_erase(struct uvk_port *self, uint16_t at)
{
    (void)self;
    change_flash(BANKS_AT + at, NULL);
}

#endif
