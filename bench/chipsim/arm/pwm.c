/* pwm.c - slices of PWM (4.5), as far as a light needs them: how long their pins are high. */
#include "arm.h"

#include <string.h>

#define RESET_PWM 14u
#define A_SLICE   20u /* bytes of registers */
enum { CSR, DIV, CTR, CC, TOP };

static uint32_t *register_at(struct sim *sim, uint32_t offset)
{
    return offset < A_SLICE * PWM_SLICES && offset % 4 == 0
               ? &sim->chip->pwm.registers[offset / A_SLICE][offset % A_SLICE / 4]
               : NULL;
}

static unsigned share_of(const uint32_t *registers, unsigned channel)
{
    uint32_t level = registers[CC] >> 16 * channel & 0xFFFFu;
    uint32_t period = (registers[TOP] & 0xFFFFu) + 1u;

    if ((registers[CSR] & 1u) == 0) {
        return 0;
    }
    return level >= period ? LIGHTS_FULL : (level * LIGHTS_FULL + period / 2) / period;
}

static bool read_pwm(struct sim *sim, uint32_t offset, uint32_t *value)
{
    const uint32_t *target = register_at(sim, offset);

    if (target != NULL) {
        *value = *target;
    }
    return target != NULL;
}

static bool write_pwm(struct sim *sim, uint32_t offset, uint32_t value)
{
    uint32_t *target = register_at(sim, offset);
    unsigned slice = offset / A_SLICE;

    if (target == NULL) {
        return false;
    }
    *target = value;
    for (unsigned channel = 0; channel < 2; channel++) {
        sim->chip->pwm.shares[slice][channel] =
            share_of(sim->chip->pwm.registers[slice], channel);
    }
    shown_look(sim);
    return true;
}

void pwm_reset(struct sim *sim)
{
    memset(&sim->chip->pwm, 0, sizeof sim->chip->pwm);
    for (unsigned i = 0; i < PWM_SLICES; i++) {
        sim->chip->pwm.registers[i][DIV] = 1u << 4;
        sim->chip->pwm.registers[i][TOP] = 0xFFFFu;
    }
}

const struct peripheral pwm_peripheral = {"PWM", 0x40050000u, RESET_PWM, read_pwm, write_pwm};
