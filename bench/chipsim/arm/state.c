/* state.c - what time it is, and how it ends. */
#include "arm.h"

#include <stdarg.h>

uint64_t chip_ns(const struct sim *sim)
{
    return sim->chip->ps / 1000u;
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

/* An interrupt stays pending when its source goes; only the program takes it back. */
void system_interrupt(struct sim *sim, unsigned number, bool asserted)
{
    if (asserted) {
        sim->chip->irq_pending |= 1u << number;
    }
}
