/* run.c - the chip runs, and contacts change while it does. */
#include "chipsim.h"

uint64_t sim_ns(const struct sim *sim)
{
    return sim->avr->cycle * 1000u / CYCLES_PER_US;
}

/* Changes at one moment are for one scan: they come while the chip sleeps, between two of
 * them. A chip that does not sleep waits no longer than this. */
#define SLEEP_WITHIN_NS 2000000u

static bool is_between_scans(const struct sim *sim)
{
    const struct change *next = &sim->changes[sim->change_first];

    if (sim->change_first + 1 == sim->change_count || next[1].at != next->at) {
        return true;
    }
    return sim->avr->state == cpu_Sleeping || sim_ns(sim) >= next->at + SLEEP_WITHIN_NS;
}

/* Contacts that are due change now. */
static void apply_changes(struct sim *sim)
{
    while (sim->change_first < sim->change_count &&
           sim->changes[sim->change_first].at <= sim_ns(sim) && is_between_scans(sim)) {
        const struct change *change = &sim->changes[sim->change_first++];
        uvk_electric_contact(sim->net, change->index, change->closed, sim_ns(sim));
    }
}

static void stop(struct sim *sim, const char *what)
{
    sim->stopped = true;
    printf("%s %llu\n", what, (unsigned long long)(sim->avr->cycle / CYCLES_PER_US));
}

/* Awake, an instruction at a time: in longer runs, which are faster, interrupts and contacts
 * would come too late by as much. */
void sim_run(struct sim *sim, uint64_t until_cycle)
{
    avr_t *avr = sim->avr;

    while (avr->cycle < until_cycle && !sim->stopped) {
        int state;
        uint64_t left = until_cycle - avr->cycle;
        apply_changes(sim);
        avr->run_cycle_limit = avr->state != cpu_Sleeping ? 1
                               : left < 1000              ? (avr_cycle_count_t)left
                                                          : 1000;
        state = avr_run(avr);
        if (avr->pc >= BOOTLOADER) {
            stop(sim, "bootloader");
        } else if (state == cpu_Crashed || state == cpu_Done) {
            stop(sim, "crashed");
        }
    }
    if (sim->stopped && avr->cycle < until_cycle) {
        avr->cycle = until_cycle;
    }
}
