/* lit.c - the pins that light something, up to now. */
#include "arm.h"

void chip_lights(struct sim *sim)
{
    pio_advance(sim);
    shown_look(sim);
}
