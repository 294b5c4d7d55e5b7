/* start.c - vectors, variables, clocks: from reset to main. */
#include "port_rp2040.h"
#include "registers.h"

#include <string.h>

int main(void);

/* Made by the linker, see memory.ld. */
extern uint8_t uvk_stack_top[], uvk_data_from[], uvk_data_start[], uvk_data_end[],
    uvk_bss_start[], uvk_bss_end[];

void uvk_reset(void) __attribute__((noreturn, used));
void uvk_reset(void)
{
    __asm__ volatile("cpsid i"); /* for good: see port_rp2040.h */
    memcpy(uvk_data_start, uvk_data_from, (size_t)(uvk_data_end - uvk_data_start));
    memset(uvk_bss_start, 0, (size_t)(uvk_bss_end - uvk_bss_start));
    main();
    for (;;) {
    }
}

/* A fault, or what cannot come: the watchdog starts the keyboard anew. */
static void stop(void)
{
    for (;;) {
    }
}

#define SYSTEM_VECTORS 14u
#define INTERRUPTS     26u

/* ARMv6-M, B1.5.3. */
__attribute__((section(".vectors"), used)) static const struct {
    const uint8_t *stack;
    void (*reset)(void);
    void (*others[SYSTEM_VECTORS + INTERRUPTS])(void);
} vectors = {
    uvk_stack_top,
    uvk_reset,
    {stop, stop, stop, stop, stop, stop, stop, stop, stop, stop, stop, stop, stop, stop,
     stop, stop, stop, stop, stop, stop, stop, stop, stop, stop, stop, stop, stop, stop,
     stop, stop, stop, stop, stop, stop, stop, stop, stop, stop, stop, stop},
};

void uvk_unreset(uint32_t which)
{
    UVK_CLEAR(RESETS_RESET) = which;
    while ((UVK_REG(RESETS_RESET_DONE) & which) != which) {
    }
}

/* ---- clocks ------------------------------------------------------------------------------ */

/* 12 MHz, and 1 ms until it swings for sure, in 256 of its cycles (2.16.3). */
#define CRYSTAL_MHZ     12u
#define CRYSTAL_STARTUP 47u

static void start_crystal(void)
{
    UVK_REG(XOSC_STARTUP) = CRYSTAL_STARTUP;
    UVK_REG(XOSC_CTRL) = XOSC_ENABLE | XOSC_1_15_MHZ;
    while (!(UVK_REG(XOSC_STATUS) & XOSC_IS_STABLE)) {
    }
}

/* The crystal's 12 MHz times MULTIPLY, divided twice (2.18.2). */
static void start_pll(uint32_t pll, uint32_t multiply, uint32_t divide1, uint32_t divide2)
{
    UVK_REG(pll + PLL_CS) = 1;
    UVK_REG(pll + PLL_FBDIV) = multiply;
    UVK_CLEAR(pll + PLL_PWR) = PLL_PD | PLL_VCOPD;
    while (!(UVK_REG(pll + PLL_CS) & PLL_IS_LOCKED)) {
    }
    UVK_REG(pll + PLL_PRIM) = divide1 << 16 | divide2 << 12;
    UVK_CLEAR(pll + PLL_PWR) = PLL_POSTDIVPD;
}

/* 1500 MHz / 6 / 2 = 125 MHz */
void uvk_clock_fast(void)
{
    start_pll(PLL_SYS, 125, 6, 2);
    UVK_SET(CLK_SYS_CTRL) = CLK_SYS_AUX;
    while (!(UVK_REG(CLK_SYS_SELECTED) & (1u << CLK_SYS_AUX))) {
    }
}

void uvk_clock_slow(void)
{
    UVK_CLEAR(CLK_SYS_CTRL) = CLK_SYS_AUX; /* to the reference clock */
    while (!(UVK_REG(CLK_SYS_SELECTED) & 1u)) {
    }
    UVK_SET(PLL_SYS + PLL_PWR) = PLL_PD | PLL_VCOPD | PLL_POSTDIVPD;
}

void uvk_clocks_start(void)
{
    start_crystal();
    UVK_REG(CLK_REF_CTRL) = CLK_REF_XOSC;
    while (!(UVK_REG(CLK_REF_SELECTED) & (1u << CLK_REF_XOSC))) {
    }
    uvk_unreset(RESET_PLL_SYS | RESET_PLL_USB);
    uvk_clock_fast();
    start_pll(PLL_USB, 100, 5, 5); /* 1200 MHz / 5 / 5 = 48 MHz */
    UVK_REG(CLK_USB_CTRL) = CLK_USB_ENABLE;
    UVK_REG(WATCHDOG_TICK) = TICK_ENABLE | CRYSTAL_MHZ; /* the timer counts it too (4.6) */
    uvk_unreset(RESET_TIMER);
}
