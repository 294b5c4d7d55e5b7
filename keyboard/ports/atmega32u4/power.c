/* power.c - start, watchdog, bootloader, and sleep while the host sleeps. */
#include "port_atmega32u4.h"

#include <avr/interrupt.h>
#include <avr/io.h>
#include <avr/sleep.h>
#include <avr/wdt.h>

/* Survives a reset; says that the bootloader was asked for. */
#define WANTS_BOOTLOADER 0x5A17u
static volatile uint16_t request __attribute__((section(".noinit")));

/* Before main and before any variable is set up: a chip that was just reset is the state
 * in which a bootloader expects it. The watchdog is still running then (section 8.2). */
void uvk_power_early(void) __attribute__((naked, used, section(".init3")));
void uvk_power_early(void)
{
    uint8_t cause = MCUSR;

    MCUSR = 0;
    wdt_disable();
    if ((cause & _BV(WDRF)) && request == WANTS_BOOTLOADER) {
        request = 0;
        __asm__ volatile("jmp %0" ::"i"(UVK_BOOTLOADER_START));
    }
    request = 0;
}

void uvk_power_start(void)
{
    /* full speed, whatever the fuses say (section 6.9) */
    CLKPR = _BV(CLKPCE);
    CLKPR = 0;
    /* JTAG off, so that F4..F7 are pins: twice within four cycles (section 26.5) */
    MCUCR = _BV(JTD);
    MCUCR = _BV(JTD);
    wdt_enable(WDTO_250MS);
}

void uvk_power_alive(void)
{
    wdt_reset();
}

void uvk_power_reset(bool bootloader)
{
    cli();
    request = bootloader ? WANTS_BOOTLOADER : 0;
    UDCON |= _BV(DETACH); /* the host must see that the keyboard is gone */
    wdt_enable(WDTO_120MS);
    for (;;) {
    }
}

ISR(WDT_vect)
{
}

/* The watchdog as a timer of about 16 ms that wakes instead of resetting (section 8.4). */
static void watchdog_wakes(void)
{
    cli();
    wdt_reset();
    WDTCSR |= _BV(WDCE) | _BV(WDE);
    WDTCSR = _BV(WDIE);
    sei();
}

#define NAP_US 16000u

void uvk_power_suspended(struct uvk_port *port)
{
    watchdog_wakes();
    SMCR = _BV(SM1) | _BV(SE); /* power-down (section 7) */
    sleep_cpu();
    SMCR = 0;
    wdt_enable(WDTO_250MS);
    port->time_us += NAP_US;
}
