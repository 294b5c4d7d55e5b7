/* state.c - what time it is, whether it sleeps, and what wakes it. */
#include "avr.h"

#include <sim_interrupts.h>

void raise_interrupt(struct sim *sim, unsigned number)
{
    avr_t *avr = sim->chip->avr;

    for (int i = 0; i < avr->interrupts.vector_count; i++) {
        if (avr->interrupts.vector[i]->vector == number) {
            avr_raise_interrupt(avr, avr->interrupts.vector[i]);
        }
    }
}

uint64_t chip_ns(const struct sim *sim)
{
    return sim->chip->avr->cycle * 1000u / CYCLES_PER_US;
}

bool chip_sleeps(const struct sim *sim)
{
    return sim->chip->avr->state == cpu_Sleeping;
}
