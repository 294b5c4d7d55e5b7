/* shown.c - the pins that light something, as pads and functions have them. */
#include "arm.h"

#include <stdlib.h>

#define FUNCTION_PWM  4u
#define FUNCTION_SIO  5u
#define FUNCTION_PIO0 6u

static unsigned pin_number(const struct lights_pin *light)
{
    return (unsigned)strtoul(light->name + 2, NULL, 10);
}

void shown_look(struct sim *sim)
{
    const struct chip *chip = sim->chip;

    for (unsigned i = 0; i < sim->lights.count; i++) {
        struct lights_pin *light = &sim->lights.pins[i];
        unsigned pin = pin_number(light);
        bool high = ((chip->out & chip->out_enabled) >> pin & 1u) != 0;
        if (chip->functions[pin] == FUNCTION_PIO0) {
            continue;
        }
        lights_set(light, chip_ns(sim),
                   chip->functions[pin] == FUNCTION_PWM
                       ? chip->pwm.shares[pin / 2 % PWM_SLICES][pin % 2]
                   : chip->functions[pin] == FUNCTION_SIO && high ? LIGHTS_FULL
                                                                  : 0);
    }
}

void shown_by_pio(struct sim *sim, unsigned pin, bool high, uint64_t at)
{
    for (unsigned i = 0; i < sim->lights.count; i++) {
        struct lights_pin *light = &sim->lights.pins[i];
        if (pin_number(light) == pin && sim->chip->functions[pin] == FUNCTION_PIO0) {
            lights_set(light, at, high ? LIGHTS_FULL : 0);
        }
    }
}
