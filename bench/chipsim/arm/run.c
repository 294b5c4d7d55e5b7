/* run.c - the processor runs, sleeps, and is reset. */
#include "arm.h"

#include <stdarg.h>
#include <stdlib.h>
#include <string.h>

#define POISON       0xC5u
#define CAUSE_POWER  (1u << 8)
#define CAUSE_BUTTON (1u << 16)
#define BLOCKS       4096u /* a power of two */

const struct uvk_levels chip_levels = {125, 80000, 242, 606};

uint64_t chip_ns(const struct sim *sim)
{
    return sim->chip->ps / 1000u;
}

uint64_t arm_us(const struct sim *sim)
{
    return sim->chip->ps / 1000000u;
}

bool chip_sleeps(const struct sim *sim)
{
    return sim->chip->sleeps;
}

void arm_end(struct sim *sim, const char *what, const char *format, ...)
{
    struct chip *chip = sim->chip;
    va_list arguments;

    if (chip->end != NULL) {
        return; /* the first word counts */
    }
    chip->end = what;
    va_start(arguments, format);
    vsnprintf(chip->why, sizeof chip->why, format, arguments);
    va_end(arguments);
    uc_emu_stop(chip->uc);
}

/* ---- code
 * -------------------------------------------------------------------------------------- */

/* Instructions of a block, and whether it ends in WFI. */
struct block {
    uint32_t address, size;
    uint32_t instructions;
};

static void count(struct sim *sim, struct block *block)
{
    uint8_t code[4096];
    uint32_t size = block->size < sizeof code ? block->size : sizeof code;

    block->instructions = 0;
    if (uc_mem_read(sim->chip->uc, block->address, code, size) != UC_ERR_OK) {
        return;
    }
    for (uint32_t at = 0; at + 1 < size; block->instructions++) {
        at += code[at + 1] >= 0xE8u ? 4u : 2u; /* ARMv6-M, A5.1 */
    }
}

/* A block of code is about to run. */
static void on_block(uc_engine *uc, uint64_t address, uint32_t size, void *data)
{
    static struct block known[BLOCKS];
    struct sim *sim = data;
    struct chip *chip = sim->chip;
    struct block *block = &known[address / 2 % BLOCKS];

    if (address == ROM_TO_USB) {
        arm_end(sim, "bootloader", " ");
        return;
    }
    if (block->address != address || block->size != size) {
        *block = (struct block){(uint32_t)address, size, 0};
        count(sim, block);
    }
    chip->instructions += block->instructions;
    chip->ps += (block->instructions + 1u) * (uint64_t)chip->ps_a_cycle;
    contacts_change(sim);
    system_advance(sim);
    if (chip->ps >= chip->limit) {
        uc_emu_stop(uc);
    }
}

/* ---- memory and power
 * -------------------------------------------------------------------------- */

static bool map(struct sim *sim, const uint8_t *code, size_t size)
{
    static uint8_t rom[ROM_SIZE];
    static uint8_t erased[FLASH_MAX];
    uc_engine *uc = sim->chip->uc;
    uc_hook hook;

    rom_make(rom);
    memset(erased, 0xFF, sizeof erased);
    return uc_mem_map(uc, 0, ROM_SIZE, UC_PROT_READ | UC_PROT_EXEC) == UC_ERR_OK &&
           uc_mem_map(uc, FLASH_AT, FLASH_MAX, UC_PROT_READ | UC_PROT_EXEC) == UC_ERR_OK &&
           uc_mem_map(uc, RAM_AT, RAM_SIZE, UC_PROT_ALL) == UC_ERR_OK &&
           uc_mem_write(uc, 0, rom, ROM_SIZE) == UC_ERR_OK &&
           uc_mem_write(uc, FLASH_AT, erased, FLASH_MAX) == UC_ERR_OK &&
           uc_mem_write(uc, FLASH_AT, code, size) == UC_ERR_OK && bus_map(sim) &&
           uc_hook_add(uc, &hook, UC_HOOK_BLOCK, (void *)on_block, sim, 1, 0) == UC_ERR_OK;
}

bool chip_load(struct sim *sim, const uint8_t *code, size_t size)
{
    sim->chip = calloc(1, sizeof *sim->chip);
    if (sim->chip == NULL || uc_open(UC_ARCH_ARM, UC_MODE_THUMB, &sim->chip->uc) != UC_ERR_OK ||
        uc_ctl_set_cpu_model(sim->chip->uc, UC_CPU_ARM_CORTEX_M0) != UC_ERR_OK ||
        !map(sim, code, size)) {
        if (sim->chip != NULL) {
            uc_close(sim->chip->uc);
        }
        free(sim->chip);
        sim->chip = NULL;
        return false;
    }
    return true;
}

void chip_free(struct sim *sim)
{
    uc_close(sim->chip->uc);
    free(sim->chip);
}

void arm_reset(struct sim *sim, uint32_t reason, uint32_t cause)
{
    struct chip *chip = sim->chip;
    uint32_t start;

    chip->reset_reason = reason;
    chip->reset_cause = cause;
    chip->reset_wanted = false;
    chip->sleeps = false;
    chip->end = NULL;
    system_reset(sim);
    pins_reset(sim);
    usb_state_reset(sim);
    start = rom_boot(sim);
    if (start == 0) {
        arm_end(sim, "bootloader", "the second stage of booting has a wrong checksum");
        return;
    }
    start |= 1u;
    uc_reg_write(chip->uc, UC_ARM_REG_PC, &start);
}

void chip_start(struct sim *sim)
{
    static uint8_t anything[RAM_SIZE];

    memset(anything, POISON, sizeof anything); /* who relies on zeros must fail here */
    uc_mem_write(sim->chip->uc, RAM_AT, anything, sizeof anything);
    arm_reset(sim, 0, CAUSE_POWER);
}

void chip_button(struct sim *sim)
{
    arm_reset(sim, 0, CAUSE_BUTTON);
}

/* ---- running
 * -------------------------------------------------------------------------------------- */

static uint32_t pc_of(const struct chip *chip)
{
    uint32_t pc = 0;

    uc_reg_read(chip->uc, UC_ARM_REG_PC, &pc);
    return pc;
}

static bool is_woken(struct sim *sim)
{
    return (sim->chip->irq_pending & sim->chip->irq_enabled) != 0;
}

/* WFI, the instruction before PC. */
static bool waits(const struct chip *chip, uint32_t pc)
{
    uint8_t code[2] = {0, 0};

    return uc_mem_read(chip->uc, pc - 2, code, 2) == UC_ERR_OK && code[0] == 0x30 &&
           code[1] == 0xBF;
}

/* Time passes while the processor waits: up to what comes next, or to the limit. */
static void sleep_on(struct sim *sim)
{
    struct chip *chip = sim->chip;
    uint64_t contact = contacts_next(sim);
    uint64_t next = system_next(sim);

    if (is_woken(sim)) {
        chip->sleeps = false;
        return;
    }
    contact = contact < UINT64_MAX / 1000u ? contact * 1000u : UINT64_MAX;
    next = contact > chip->ps && contact < next ? contact : next;
    chip->ps = next < chip->limit ? (next > chip->ps ? next : chip->ps + 1) : chip->limit;
    contacts_change(sim);
    system_advance(sim);
    chip->sleeps = !is_woken(sim);
}

static void execute(struct sim *sim)
{
    struct chip *chip = sim->chip;
    uint32_t pc = pc_of(chip);
    uc_err error = uc_emu_start(chip->uc, pc | 1u, 0xFFFFFFFEu, 0, 0);

    pc = pc_of(chip);
    if (error != UC_ERR_OK) {
        arm_end(sim, "crashed", "%s at %08x", uc_strerror(error), pc);
    } else if (chip->ps < chip->limit && chip->end == NULL && !chip->reset_wanted) {
        if (!waits(chip, pc)) {
            arm_end(sim, "crashed", "the processor stopped at %08x", pc);
        }
        chip->sleeps = !is_woken(sim);
    }
}

void arm_run_to(struct sim *sim, uint64_t ps)
{
    struct chip *chip = sim->chip;

    chip->limit = ps;
    while (chip->ps < ps && !sim->stopped) {
        if (chip->end != NULL) {
            sim_stop(sim, chip->end, chip->why);
        } else if (chip->reset_wanted) {
            arm_reset(sim, chip->reset_reason, 0);
        } else if (chip->sleeps) {
            sleep_on(sim);
        } else {
            execute(sim);
        }
    }
    if (sim->stopped && chip->ps < ps) {
        chip->ps = ps;
    }
}

void chip_run(struct sim *sim, uint64_t until_ns)
{
    arm_run_to(sim, until_ns * 1000u);
}

/* ---- looking at it
 * -------------------------------------------------------------------------------- */

bool chip_peek(const struct sim *sim, uint32_t address, unsigned size, uint8_t *out)
{
    return address >= RAM_AT && size <= RAM_SIZE && address - RAM_AT <= RAM_SIZE - size &&
           uc_mem_read(sim->chip->uc, address, out, size) == UC_ERR_OK;
}

/* Bytes between the top of RAM and the deepest one that was ever written; the ROM uses the last
 * 256 of them. */
static long stack_bytes(struct sim *sim)
{
    static uint8_t ram[RAM_SIZE];
    uint32_t at = symbol_address(sim, "_end");

    if (at < RAM_AT || at >= RAM_AT + RAM_SIZE ||
        uc_mem_read(sim->chip->uc, RAM_AT, ram, sizeof ram) != UC_ERR_OK) {
        return -1;
    }
    for (at -= RAM_AT; at < RAM_SIZE && ram[at] == POISON; at++) {
    }
    return (long)(RAM_SIZE - at);
}

long chip_measure(struct sim *sim, const char *name)
{
    if (strcmp(name, "stack-bytes") == 0) {
        return stack_bytes(sim);
    }
    return strcmp(name, "usb-stopped") == 0 ? (sim->chip->clock.sys_control & 1u) == 0 : -1;
}
