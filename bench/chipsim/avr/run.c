/* run.c - an ATmega32U4 runs. */
#include "avr.h"

#define SMCR       0x53u
#define SLEEP_MODE 0x0Eu
#define POWER_DOWN 0x04u
#define TIMSK0     0x6Eu
#define WDTCSR     0x60u
#define WDIE       0x40u

#define WATCHDOG_VECTOR 12u
#define WATCHDOG_US     16000u

/* In power-down the timers stand still (section 7.5), and the watchdog wakes as it was told
 * (8.4). The simulator knows neither. */
static void power_down(struct sim *sim)
{
    struct chip *chip = sim->chip;
    avr_t *avr = chip->avr;
    bool down = chip_sleeps(sim) && (avr->data[SMCR] & SLEEP_MODE) == POWER_DOWN;

    if (!down) {
        avr->data[TIMSK0] |= chip->timer_stopped;
        chip->timer_stopped = 0;
        chip->wakes = 0;
        return;
    }
    chip->timer_stopped |= avr->data[TIMSK0];
    avr->data[TIMSK0] = 0;
    if (chip->wakes == 0) {
        chip->wakes = avr->cycle + WATCHDOG_US * CYCLES_PER_US;
    } else if (avr->cycle >= chip->wakes && (avr->data[WDTCSR] & WDIE) != 0) {
        raise_interrupt(sim, WATCHDOG_VECTOR);
    }
}

#define STEP_CYCLES (LINE_STEP_NS * CYCLES_PER_US / 1000u)

static avr_cycle_count_t every_step(avr_t *avr, avr_cycle_count_t when, void *param)
{
    (void)avr;
    (void)param;
    return when + STEP_CYCLES;
}

/* The simulator lets a chip sleep up to its next timer: there is to be one in each step, for
 * the other half runs in between. A reset takes it away. */
static void limit_sleep(struct sim *sim)
{
    avr_t *avr = sim->chip->avr;

    if (sim->other != NULL && avr_cycle_timer_status(avr, every_step, sim) == 0) {
        avr_cycle_timer_register(avr, STEP_CYCLES, every_step, sim);
    }
}

/* How long no interrupt could come. */
static void blocked_watch(struct sim *sim)
{
    struct chip *chip = sim->chip;

    if (chip->avr->sreg[S_I] != 0) {
        chip->blocked_since = chip->avr->cycle;
    } else if (chip->avr->cycle - chip->blocked_since > chip->blocked_most) {
        chip->blocked_most = chip->avr->cycle - chip->blocked_since;
    }
}

/* Awake, an instruction at a time: in longer runs, which are faster, interrupts and contacts
 * would come too late by as much. */
void run_to(struct sim *sim, uint64_t cycle)
{
    avr_t *avr = sim->chip->avr;

    limit_sleep(sim);
    while (avr->cycle < cycle && !sim->stopped) {
        uint64_t left = cycle - avr->cycle;
        int state;
        contacts_change(sim, chip_ns(sim), chip_sleeps(sim));
        power_down(sim);
        usart_advance(sim, chip_ns(sim));
        avr->run_cycle_limit = avr->state != cpu_Sleeping ? 1
                               : left < 1000              ? (avr_cycle_count_t)left
                                                          : 1000;
        state = avr_run(avr);
        blocked_watch(sim);
        if (avr->pc >= BOOTLOADER) {
            sim_stop(sim, chip_ns(sim), "bootloader", NULL);
        } else if (state == cpu_Crashed || state == cpu_Done) {
            sim_stop(sim, chip_ns(sim), "crashed", "the program ran into nothing");
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
