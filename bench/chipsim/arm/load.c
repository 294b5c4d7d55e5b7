/* load.c - an RP2040 is made, and started. */
#include "arm.h"

#include <stdlib.h>
#include <string.h>

#define CAUSE_POWER  (1u << 8)
#define CAUSE_BUTTON (1u << 16)

const struct uvk_levels chip_levels = {125, 80000, 242, 606};

static bool map(struct sim *sim, const uint8_t *code, size_t size)
{
    static uint8_t rom[ROM_SIZE];
    static uint8_t erased[FLASH_MAX];
    uc_engine *uc = sim->chip->uc;

    rom_make(rom);
    memset(erased, 0xFF, sizeof erased);
    return uc_mem_map(uc, 0, ROM_SIZE, UC_PROT_READ | UC_PROT_EXEC) == UC_ERR_OK &&
           uc_mem_map(uc, FLASH_AT, FLASH_MAX, UC_PROT_READ | UC_PROT_EXEC) == UC_ERR_OK &&
           uc_mem_map(uc, RAM_AT, RAM_SIZE, UC_PROT_ALL) == UC_ERR_OK &&
           uc_mem_write(uc, 0, rom, ROM_SIZE) == UC_ERR_OK &&
           uc_mem_write(uc, FLASH_AT, erased, FLASH_MAX) == UC_ERR_OK &&
           uc_mem_write(uc, FLASH_AT, code, size) == UC_ERR_OK && bus_map(sim) &&
           run_watch(sim);
}

bool chip_load(struct sim *sim, const uint8_t *code, size_t size)
{
    sim->chip = calloc(1, sizeof *sim->chip);
    if (sim->chip == NULL || uc_open(UC_ARCH_ARM, UC_MODE_THUMB, &sim->chip->uc) != UC_ERR_OK ||
        uc_ctl_set_cpu_model(sim->chip->uc, UC_CPU_ARM_CORTEX_M0) != UC_ERR_OK ||
        !map(sim, code, size)) {
        if (sim->chip != NULL) {
            uc_close(sim->chip->uc);
            free(sim->chip->blocks);
        }
        free(sim->chip);
        sim->chip = NULL;
        return false;
    }
    return true;
}

/* The last sectors of the flash. */
#define MEMORY_SIZE 8192u
#define MEMORY_AT   (FLASH_AT + FLASH_MAX - MEMORY_SIZE)

uint8_t *chip_memory(struct sim *sim, size_t *size)
{
    *size = MEMORY_SIZE;
    if (sim->chip->memory == NULL) {
        sim->chip->memory = malloc(MEMORY_SIZE);
    }
    uc_mem_read(sim->chip->uc, MEMORY_AT, sim->chip->memory, MEMORY_SIZE);
    return sim->chip->memory;
}

void chip_memory_changed(struct sim *sim)
{
    uc_mem_write(sim->chip->uc, MEMORY_AT, sim->chip->memory, MEMORY_SIZE);
}

void chip_free(struct sim *sim)
{
    free(sim->chip->memory);
    uc_close(sim->chip->uc);
    free(sim->chip->blocks);
    free(sim->chip);
}

void chip_power(struct sim *sim)
{
    static uint8_t anything[RAM_SIZE];

    memset(anything, POISON, sizeof anything); /* who relies on zeros must fail here */
    uc_mem_write(sim->chip->uc, RAM_AT, anything, sizeof anything);
    arm_reset(sim, 0, CAUSE_POWER);
}

void chip_start(struct sim *sim)
{
    chip_power(sim);
}

void chip_button(struct sim *sim)
{
    arm_reset(sim, 0, CAUSE_BUTTON);
}
