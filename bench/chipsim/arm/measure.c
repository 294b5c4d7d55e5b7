/* measure.c - what is in RAM, and how deep the stack went. */
#include "arm.h"

#include <string.h>

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
