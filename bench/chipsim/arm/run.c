/* run.c - the processor runs and sleeps. */
#include "arm.h"

#include <stdlib.h>

#define BLOCKS 4096u /* a power of two */

/* ---- code ---------------------------------------------------------------------------- */

/* A block of code, and how many instructions it has. */
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
    struct sim *sim = data;
    struct chip *chip = sim->chip;
    struct block *block = &chip->blocks[address / 2 % BLOCKS];

    if (address == ROM_TO_USB) {
        arm_end(sim, "bootloader", " ");
        return;
    }
    if (address < ROM_SIZE && !chip->counted) {
        rom_run(sim, (uint32_t)address);
    }
    if (chip->counted) { /* it has been stopped before this block ran */
        chip->counted = false;
        return;
    }
    if (block->address != address || block->size != size) {
        *block = (struct block){(uint32_t)address, size, 0};
        count(sim, block);
    }
    chip->instructions += block->instructions;
    chip->ps += (block->instructions + 1u) * (uint64_t)chip->ps_a_cycle;
    contacts_change(sim, chip_ns(sim), chip_sleeps(sim));
    system_advance(sim);
    if (chip->ps >= chip->limit) {
        chip->counted = true;
        uc_emu_stop(uc);
    }
}

bool run_watch(struct sim *sim)
{
    uc_hook hook;

    sim->chip->blocks = calloc(BLOCKS, sizeof *sim->chip->blocks);
    return sim->chip->blocks != NULL && uc_hook_add(sim->chip->uc, &hook, UC_HOOK_BLOCK,
                                                    (void *)on_block, sim, 1, 0) == UC_ERR_OK;
}

/* ---- running ------------------------------------------------------------------------- */

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
    contacts_change(sim, chip_ns(sim), chip_sleeps(sim));
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

static void run_to(struct sim *sim, uint64_t ps)
{
    struct chip *chip = sim->chip;

    chip->limit = ps;
    while (chip->ps < ps && !sim->stopped) {
        if (chip->end != NULL) {
            sim_stop(sim, chip_ns(sim), chip->end, chip->why);
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
    run_to(sim, until_ns * 1000u);
}
