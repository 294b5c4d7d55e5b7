/* passes.c - what a pass costs; and the end of all passes. */
#include "chipsim.h"

void pass_begins(struct sim *sim, uint64_t count)
{
    sim->pass_start = count;
}

void pass_ends(struct sim *sim, uint64_t count)
{
    uint64_t taken = count - sim->pass_start;

    sim->passes++;
    sim->idle_cycles = taken < sim->idle_cycles ? taken : sim->idle_cycles;
    sim->worst_cycles = taken > sim->worst_cycles ? taken : sim->worst_cycles;
}

void sim_stop(struct sim *sim, uint64_t now, const char *what, const char *why)
{
    sim->stopped = true;
    if (sim->is_second) { /* the host sees nothing of it */
        printf("crashed %llu in the other half: %s\n", (unsigned long long)(now / 1000u),
               why != NULL && why[0] != ' ' ? why : what);
        return;
    }
    printf("%s %llu%s%s\n", what, (unsigned long long)(now / 1000u), why != NULL ? " " : "",
           why != NULL ? why : "");
}
