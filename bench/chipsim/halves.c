/* halves.c - two chips that are the halves of one keyboard. */
#include "chipsim.h"

#include <string.h>

/* In turn, a step at a time: what one does on the cable reaches the other a step later. */
void sim_run(struct sim *sim, uint64_t until)
{
    if (sim->other == NULL) {
        chip_run(sim, until);
        return;
    }
    while (chip_ns(sim) < until && !sim->stopped) {
        uint64_t step = chip_ns(sim) + LINE_STEP_NS;
        step = step < until ? step : until;
        chip_run(sim, step);
        chip_run(sim->other, step);
    }
    chip_run(sim, until);
}

bool halves_choose(struct sims *sims, unsigned half)
{
    if (half > 1) {
        return false;
    }
    sims->chosen = half;
    sims->sims[1].is_second = true;
    return true;
}

bool halves_link(struct sims *sims, const char *sends, const char *receives, uint64_t bit_ns)
{
    struct sim *sim = &sims->sims[sims->chosen];
    struct line_end *end = &sim->line;

    if (!chip_has_pin(sends) || !chip_has_pin(receives) || bit_ns == 0) {
        return false;
    }
    snprintf(end->sends, sizeof end->sends, "%s", sends);
    snprintf(end->receives, sizeof end->receives, "%s", receives);
    end->one_wire = strcmp(sends, receives) == 0;
    end->bit_ns = bit_ns;
    end->picofarads = sim->picofarads;
    end->high_permille = sim->levels.high_permille;
    if (sims->sims[0].line.bit_ns != 0 && sims->sims[1].line.bit_ns != 0) {
        sims->sims[0].other = &sims->sims[1];
        sims->sims[1].other = &sims->sims[0];
        line_join(&sims->sims[0].line, &sims->sims[1].line);
    }
    return true;
}
