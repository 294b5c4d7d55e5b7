/* run.c - an ATmega32U4 is made, started, and runs. */
#include "avr.h"

#include <sim_interrupts.h>
#include <stdlib.h>
#include <string.h>

#define FLASH_SIZE 32768u
#define SMCR       0x53u
#define SLEEP_MODE 0x0Eu
#define POWER_DOWN 0x04u
#define TIMSK0     0x6Eu
#define WDTCSR     0x60u
#define WDIE       0x40u

#define WATCHDOG_VECTOR 12u
#define WATCHDOG_US     16000u

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
    return true;
}

void chip_free(struct sim *sim)
{
    avr_terminate(sim->chip->avr);
    free(sim->chip->avr);
    free(sim->chip);
}

/* A reset of the chip takes the ports along; the net has to follow. */
static struct sim *resetting;
static void (*reset_before)(avr_t *);

static void on_reset(avr_t *avr)
{
    if (reset_before != NULL) {
        reset_before(avr);
    }
    pins_sync(resetting);
}

void chip_start(struct sim *sim)
{
    pins_attach(sim);
    usb_attach(sim);
    measure_attach(sim);
    measure_poison(sim);
    resetting = sim;
    reset_before = sim->chip->avr->reset;
    sim->chip->avr->reset = on_reset;
    pins_sync(sim);
}

void chip_button(struct sim *sim)
{
    avr_reset(sim->chip->avr);
}

uint64_t chip_ns(const struct sim *sim)
{
    return sim->chip->avr->cycle * 1000u / CYCLES_PER_US;
}

bool chip_sleeps(const struct sim *sim)
{
    return sim->chip->avr->state == cpu_Sleeping;
}

void raise_interrupt(struct sim *sim, unsigned number)
{
    avr_t *avr = sim->chip->avr;

    for (int i = 0; i < avr->interrupts.vector_count; i++) {
        if (avr->interrupts.vector[i]->vector == number) {
            avr_raise_interrupt(avr, avr->interrupts.vector[i]);
        }
    }
}

/* In power-down the timers stand still (section 7.5), and the watchdog wakes as it was told
 * (8.4). The simulator knows neither. */
static void power_down(struct sim *sim)
{
    static uint8_t stopped; /* the timer's interrupts */
    static uint64_t wakes;  /* cycle; 0: it does not sleep so deep */
    avr_t *avr = sim->chip->avr;
    bool down = chip_sleeps(sim) && (avr->data[SMCR] & SLEEP_MODE) == POWER_DOWN;

    if (!down) {
        avr->data[TIMSK0] |= stopped;
        stopped = 0;
        wakes = 0;
        return;
    }
    stopped |= avr->data[TIMSK0];
    avr->data[TIMSK0] = 0;
    if (wakes == 0) {
        wakes = avr->cycle + WATCHDOG_US * CYCLES_PER_US;
    } else if (avr->cycle >= wakes && (avr->data[WDTCSR] & WDIE) != 0) {
        raise_interrupt(sim, WATCHDOG_VECTOR);
    }
}

/* Awake, an instruction at a time: in longer runs, which are faster, interrupts and contacts
 * would come too late by as much. */
void run_to(struct sim *sim, uint64_t cycle)
{
    avr_t *avr = sim->chip->avr;

    while (avr->cycle < cycle && !sim->stopped) {
        uint64_t left = cycle - avr->cycle;
        int state;
        contacts_change(sim);
        power_down(sim);
        avr->run_cycle_limit = avr->state != cpu_Sleeping ? 1
                               : left < 1000              ? (avr_cycle_count_t)left
                                                          : 1000;
        state = avr_run(avr);
        if (avr->pc >= BOOTLOADER) {
            sim_stop(sim, "bootloader", NULL);
        } else if (state == cpu_Crashed || state == cpu_Done) {
            sim_stop(sim, "crashed", "the program ran into nothing");
        }
    }
    if (sim->stopped && avr->cycle < cycle) {
        avr->cycle = cycle;
    }
}

void chip_run(struct sim *sim, uint64_t until_ns)
{
    run_to(sim, (until_ns * CYCLES_PER_US + 999u) / 1000u);
}
