/* noise.c - what nobody can foresee: a bit at a time of the ring oscillator, which nothing else
 * here depends on (2.17.5). */
#include "port_rp2040.h"
#include "registers.h"

#if UVK_USE_LIVE

uint8_t uvk_port_noise(struct uvk_port *self)
{
    uint8_t noise = 0;

    (void)self;
    for (uint32_t i = 0; i < 8; i++) {
        __asm__ volatile("nop\n nop\n nop\n nop\n nop\n nop\n nop\n nop");
        noise = (uint8_t)(noise << 1 | (UVK_REG(ROSC_RANDOMBIT) & 1u));
    }
    return noise ^ (uint8_t)UVK_REG(TIMER_TIMERAWL);
}

#endif
