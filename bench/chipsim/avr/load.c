/* load.c - an ATmega32U4 is made, and started. */
#include "avr.h"

#include <avr_adc.h>
#include <avr_extint.h>

#include <stdlib.h>
#include <string.h>

#define FLASH_SIZE 32768u

const struct uvk_levels chip_levels = {70, 50000, 180, 380};

static void sleep_not(avr_t *avr, avr_cycle_count_t cycles)
{
    (void)avr;
    (void)cycles; /* time is virtual */
}

static void quiet(avr_t *avr, const int level, const char *format, va_list arguments)
{
    (void)avr;
    if (level <= LOG_ERROR) {
        vfprintf(stderr, format, arguments);
    }
}

/* The thermometer's noise, which whoever knows the seed can foresee: some millivolts more or
 * less at each conversion. */
#define THERMOMETER_MV 300u

static void on_conversion(struct avr_irq_t *irq, uint32_t value, void *param)
{
    struct sim *sim = param;

    (void)irq;
    (void)value;
    sim->chip->noise = sim->chip->noise * 1664525u + 1013904223u + sim->seed;
    avr_raise_irq(avr_io_getirq(sim->chip->avr, AVR_IOCTL_ADC_GETIRQ, ADC_IRQ_TEMP),
                  THERMOMETER_MV + (sim->chip->noise >> 24));
}

static void warm_up(struct sim *sim)
{
    avr_irq_register_notify(
        avr_io_getirq(sim->chip->avr, AVR_IOCTL_ADC_GETIRQ, ADC_IRQ_OUT_TRIGGER), on_conversion,
        sim);
}

bool chip_load(struct sim *sim, const uint8_t *code, size_t size)
{
    avr_t *avr;

    avr_global_logger_set(quiet);
    avr = size <= FLASH_SIZE ? avr_make_mcu_by_name("atmega32u4") : NULL;
    sim->chip = calloc(1, sizeof *sim->chip);
    if (avr == NULL || sim->chip == NULL || avr_init(avr) != 0) {
        free(sim->chip);
        sim->chip = NULL;
        return false;
    }
    avr->frequency = CYCLES_PER_US * 1000000u;
    avr->sleep = sleep_not;
    avr->log = LOG_ERROR;
    memset(avr->flash, 0xFF, FLASH_SIZE);
    memcpy(avr->flash, code, size);
    avr->codeend = FLASH_SIZE;
    sim->chip->avr = avr;
    memset(sim->chip->eeprom.bytes, 0xFF, EEPROM_SIZE);
    warm_up(sim);
    return true;
}

void chip_free(struct sim *sim)
{
    avr_terminate(sim->chip->avr);
    free(sim->chip->avr);
    free(sim->chip);
}

/* Nothing of ours has interrupts at a low level; looking for them at each cycle makes a low pin
 * very slow. */
static void look_less(avr_t *avr)
{
    for (uint8_t i = 0; i < EXTINT_COUNT; i++) {
        avr_extint_set_strict_lvl_trig(avr, i, 0);
    }
}

/* A reset of the chip takes the ports along; the net has to follow. */
static void on_reset(avr_t *avr)
{
    struct sim *sim = sim_of(avr);

    if (sim->chip->reset_before != NULL) {
        sim->chip->reset_before(avr);
    }
    look_less(avr);
    usart_reset(sim);
    pins_sync(sim);
}

void chip_start(struct sim *sim)
{
    sim->chip->avr->custom.data = sim;
    pins_attach(sim);
    usb_attach(sim);
    usart_attach(sim);
    eeprom_attach(sim);
    measure_attach(sim);
    measure_poison(sim);
    sim->chip->reset_before = sim->chip->avr->reset;
    sim->chip->avr->reset = on_reset;
    look_less(sim->chip->avr);
    pins_sync(sim);
}

void chip_power(struct sim *sim)
{
    eeprom_power_cut(sim);
    measure_poison(sim);
    avr_reset(sim->chip->avr);
}

void chip_button(struct sim *sim)
{
    avr_reset(sim->chip->avr);
}
