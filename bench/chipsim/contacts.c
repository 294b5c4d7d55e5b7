/* contacts.c - switches close and open while the chip runs. */
#include "chipsim.h"

/* Changes at one moment are for one scan: they come while the chip sleeps, between two of
 * them. A chip that does not sleep waits no longer than this. */
#define SLEEP_WITHIN_NS 2000000u

static bool is_between_scans(const struct sim *sim, uint64_t now, bool sleeps)
{
    const struct change *next = &sim->changes[sim->change_first];

    if (sim->change_first + 1 == sim->change_count || next[1].at != next->at) {
        return true;
    }
    return sleeps || now >= next->at + SLEEP_WITHIN_NS;
}

void contacts_change(struct sim *sim, uint64_t now, bool sleeps)
{
    while (contacts_next(sim) <= now && is_between_scans(sim, now, sleeps)) {
        const struct change *change = &sim->changes[sim->change_first++];
        uvk_electric_contact(sim->net, change->index, change->closed, now);
    }
}

uint64_t contacts_next(const struct sim *sim)
{
    return sim->change_first < sim->change_count ? sim->changes[sim->change_first].at
                                                 : UINT64_MAX;
}
