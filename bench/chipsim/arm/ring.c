/* ring.c - the ring oscillator's bit that nobody can foresee: here whoever knows the seed can.
 */
#include "arm.h"

#define RANDOM_BIT 0x1Cu

static bool read_ring(struct sim *sim, uint32_t offset, uint32_t *value)
{
    uint32_t *noise = &sim->chip->noise;

    if (offset != RANDOM_BIT) {
        return false;
    }
    *noise = *noise != 0 ? *noise : sim->seed * 2654435761u + 1u;
    *noise ^= *noise << 13; /* xorshift (George Marsaglia, 2003) */
    *noise ^= *noise >> 17;
    *noise ^= *noise << 5;
    *value = *noise >> 31;
    return true;
}

static bool write_nothing(struct sim *sim, uint32_t offset, uint32_t value)
{
    (void)sim;
    (void)offset;
    (void)value;
    return false;
}

const struct peripheral ring_peripheral = {"ROSC", 0x40060000u, NEVER_RESET, read_ring,
                                           write_nothing};
