/* power.c - watchdog, restart, and the bootloader in the chip's ROM. */
#include "port_rp2040.h"
#include "registers.h"

/* Two resets within half a second, by the button: the second one finds this word in RAM, which
 * a reset leaves as it is. */
#define TAPPED     0x7A91C35Eu
#define DOUBLE_TAP 500000u /* microseconds */
static volatile uint32_t tapped __attribute__((section(".noinit")));

/* It counts down twice in each microsecond (4.7.2; errata RP2040-E1). */
#define WATCHDOG_US 250000u

/* Detached so long, every host has seen it go (USB 2.0, 7.1.7.3). */
#define DETACHED_US 20000u

/* The ROM's functions are found by two letters (2.8.3). */
#define ROM_FUNCTIONS 0x14u
#define ROM_LOOKUP    0x18u
#define RESET_TO_USB  ('U' | 'B' << 8)

void *uvk_rom_function(uint32_t code)
{
    typedef void *lookup_function(uint16_t * table, uint32_t code);
    const uint16_t *functions = (const uint16_t *)(uintptr_t)ROM_FUNCTIONS;
    lookup_function *lookup;

    __asm__("" : "+r"(functions)); /* an address that low is no mistake here */
    lookup = (lookup_function *)(uintptr_t)functions[(ROM_LOOKUP - ROM_FUNCTIONS) / 2];
    return lookup((uint16_t *)(uintptr_t)functions[0], code);
}

static void enter_rom(void)
{
    typedef void reset_function(uint32_t activity_pins, uint32_t disabled);
    reset_function *reset = (reset_function *)uvk_rom_function(RESET_TO_USB);

    reset(0, 0);
}

/* What the watchdog resets: the whole chip, not its oscillators (2.13.5). */
void uvk_power_start(void)
{
    bool button = (UVK_REG(CHIP_RESET) & HAD_RUN) != 0 && UVK_REG(WATCHDOG_REASON) == 0;

    if (button && tapped == TAPPED) {
        tapped = 0;
        enter_rom();
    }
    tapped = button ? TAPPED : 0;
    UVK_REG(PSM_WDSEL) = PSM_ALL_BUT_CLOCK;
    UVK_REG(WATCHDOG_LOAD) = 2u * WATCHDOG_US;
    UVK_SET(WATCHDOG_CTRL) = WATCHDOG_ENABLE;
}

void uvk_power_alive(uint32_t time)
{
    UVK_REG(WATCHDOG_LOAD) = 2u * WATCHDOG_US;
    if (time > DOUBLE_TAP) {
        tapped = 0;
    }
}

void uvk_power_reset(bool bootloader)
{
    uint32_t start = UVK_REG(TIMER_TIMERAWL);

    uvk_bus_detach();
    while (UVK_REG(TIMER_TIMERAWL) - start < DETACHED_US) {
    }
    if (bootloader) {
        enter_rom();
    }
    UVK_SET(WATCHDOG_CTRL) = WATCHDOG_TRIGGER;
    for (;;) {
    }
}
