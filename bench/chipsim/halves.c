/* halves.c - two chips that are the halves of one keyboard. */
#include "chipsim.h"

#include <string.h>

/* ---- the wires of the cable ------------------------------------------------------------- */

/* Bytes go by line.h. What a program does to a pin itself is a level, which the net of the
 * other half sees. */
static void find_pin(struct sim *sim, const char *name, struct cable_pin *found)
{
    for (unsigned i = 0; i < sim->pin_count && !found->is_there; i++) {
        if (strcmp(sim->pin[i], name) == 0) {
            found->is_there = true;
            found->pin = i;
            found->contact = uvk_electric_add(sim->net, i, sim->pin_count, UVK_NO_DIODE);
        }
    }
}

static bool pulls_low(const struct sim *sim, const struct cable_pin *pin)
{
    return pin->is_there && uvk_electric_drives(sim->net, pin->pin) == UVK_DRIVE_LOW;
}

/* What one half sends the other receives, and the other way round; not so where the wrong cable
 * is in. */
static void join_levels(struct sim *sim)
{
    struct sim *other = sim->other;
    bool in = !sim->line.pulled || sim->crossed;

    for (unsigned i = 0; i < CABLE_WIRES; i++) {
        unsigned far = sim->crossed ? i : CABLE_WIRES - 1u - i;
        if (sim->cable[i].is_there) {
            uvk_electric_contact(sim->net, sim->cable[i].contact,
                                 in && pulls_low(other, &other->cable[far]), chip_ns(sim));
        }
    }
}

bool halves_cable(struct sim *sim, const char *how)
{
    bool in = strcmp(how, "in") == 0;
    bool crossed = strcmp(how, "crossed") == 0;

    if (!in && !crossed && strcmp(how, "out") != 0) {
        return false;
    }
    line_pull(&sim->line, !in);
    sim->crossed = crossed;
    if (sim->other != NULL) {
        sim->other->crossed = crossed;
    }
    return true;
}

/* ---- both run --------------------------------------------------------------------------- */

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
        join_levels(sim);
        join_levels(sim->other);
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
    find_pin(sim, sends, &sim->cable[0]);
    find_pin(sim, receives, &sim->cable[1]);
    if (sims->sims[0].line.bit_ns != 0 && sims->sims[1].line.bit_ns != 0) {
        sims->sims[0].other = &sims->sims[1];
        sims->sims[1].other = &sims->sims[0];
        line_join(&sims->sims[0].line, &sims->sims[1].line);
    }
    return true;
}
