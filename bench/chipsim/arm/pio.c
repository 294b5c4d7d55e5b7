/* pio.c - state machines of PIO0 (chapter 3), those of their instructions that a serial line
 * and a strip need, on the two pins of the cable to the other half, and the strip's. They run
 * when the processor looks, up to the moment at which it does. */
#include "arm.h"

#include <stdlib.h>
#include <string.h>

#define MACHINES   4u
#define PIO_IRQ    7u
#define RESET_PIO0 10u
#define FUNCTION   6u
#define DEEPEST    8u /* of two joined FIFOs */

#define OUT_RIGHT  (1u << 19)
#define IN_RIGHT   (1u << 18)
#define AUTO_ANY   (3u << 16)
#define JOIN_TX    (1u << 30)
#define JOIN_RX    (1u << 31)
#define SIDE_THERE (1u << 30)
#define SIDE_DIRS  (1u << 29)

enum { OP_JMP, OP_WAIT, OP_IN, OP_OUT, OP_PUSH_PULL, OP_MOV, OP_IRQ, OP_SET };
enum { JMP_ALWAYS = 0, JMP_X_DEC = 2, JMP_PIN = 6 };

static struct pio_machine *machine_of(struct sim *sim, unsigned index)
{
    return &sim->chip->pio.machines[index];
}

static bool is_enabled(const struct sim *sim, unsigned index)
{
    return (sim->chip->pio.control >> index & 1u) != 0;
}

/* ---- FIFOs ------------------------------------------------------------------------------ */

static unsigned depth(const struct pio_machine *machine, bool receives)
{
    if ((machine->shift_control & (JOIN_TX | JOIN_RX)) == 0) {
        return DEEPEST / 2;
    }
    return ((machine->shift_control & JOIN_RX) != 0) == receives ? DEEPEST : 0;
}

static bool put(struct pio_fifo *fifo, unsigned room, uint32_t word)
{
    if (fifo->count >= room) {
        return false;
    }
    fifo->words[fifo->count++] = word;
    return true;
}

static bool take(struct pio_fifo *fifo, uint32_t *word)
{
    if (fifo->count == 0) {
        return false;
    }
    *word = fifo->words[0];
    fifo->count--;
    memmove(fifo->words, fifo->words + 1, fifo->count * sizeof fifo->words[0]);
    return true;
}

static uint32_t status(struct sim *sim)
{
    uint32_t bits = 0;

    for (unsigned i = 0; i < MACHINES; i++) {
        const struct pio_machine *machine = machine_of(sim, i);
        bits |= (uint32_t)(machine->in.count >= depth(machine, true)) << i;
        bits |= (uint32_t)(machine->in.count == 0) << (8 + i);
        bits |= (uint32_t)(machine->out.count >= depth(machine, false)) << (16 + i);
        bits |= (uint32_t)(machine->out.count == 0) << (24 + i);
    }
    return bits;
}

void pio_interrupt(struct sim *sim)
{
    uint32_t now = status(sim);
    uint32_t asserted = (~now >> 8 & 0xFu) | (~now >> 16 & 0xFu) << 4;

    system_interrupt(sim, PIO_IRQ, (asserted & sim->chip->pio.enabled) != 0);
}

/* ---- pins ------------------------------------------------------------------------------- */

static unsigned link_pin(const char *name)
{
    return (unsigned)strtoul(name + 2, NULL, 10);
}

/* What the pin of the cable that sends does, AT that moment, nanoseconds. */
static void drive(struct sim *sim, uint64_t at)
{
    const struct pio_state *pio = &sim->chip->pio;
    unsigned pin = link_pin(sim->line.sends);

    line_post(&sim->line, at,
              sim->chip->functions[pin] == FUNCTION && (pio->directions >> pin & 1u) != 0 &&
                  (pio->levels >> pin & 1u) == 0);
}

static void change(struct sim *sim, uint32_t *bits, unsigned pin, bool value, uint64_t at)
{
    *bits = (*bits & ~(1u << pin)) | (uint32_t)value << pin;
    if (sim->other != NULL && pin == link_pin(sim->line.sends)) {
        drive(sim, at);
    }
    if (bits == &sim->chip->pio.levels && (sim->chip->pio.directions >> pin & 1u) != 0) {
        shown_by_pio(sim, pin, value, at);
    }
}

static bool read_pin(struct sim *sim, unsigned pin, uint64_t at)
{
    if (sim->other == NULL || pin != link_pin(sim->line.receives) ||
        sim->chip->functions[pin] != FUNCTION || (sim->chip->pads[pin] & 0x40u) == 0) {
        arm_end(sim, "crashed", "PIO0 reads pin %u, which is not its own input", pin);
        return true;
    }
    return line_is_high(&sim->line, at);
}

/* ---- instructions ----------------------------------------------------------------------- */

static void jump(struct sim *sim, struct pio_machine *machine, uint32_t code, uint64_t at)
{
    bool taken = false;

    switch (code >> 5 & 7u) {
    case JMP_ALWAYS:
        taken = true;
        break;
    case JMP_X_DEC:
        taken = machine->x-- != 0;
        break;
    case JMP_PIN:
        taken = read_pin(sim, machine->exec_control >> 24 & 31u, at);
        break;
    default:
        arm_end(sim, "crashed", "PIO0 has a jump that is not known here: %04x", code);
        break;
    }
    machine->pc = taken ? code & 31u : machine->pc;
}

/* One bit at a time, from and to a pin. */
static void shift(struct sim *sim, struct pio_machine *machine, uint32_t code, uint64_t at)
{
    bool in = code >> 13 == OP_IN;
    unsigned target = code >> 5 & 7u;
    bool right = (machine->shift_control & (in ? IN_RIGHT : OUT_RIGHT)) != 0;

    if ((code & 31u) != 1 || (in && !right) || (machine->shift_control & AUTO_ANY) != 0 ||
        (in ? target != 0 : target != 0 && target != 4)) {
        arm_end(sim, "crashed", "PIO0 shifts in a way that is not known here: %04x", code);
        return;
    }
    if (in) {
        machine->isr = machine->isr >> 1 |
                       (uint32_t)read_pin(sim, machine->pin_control >> 15 & 31u, at) << 31;
    } else {
        change(sim, target == 0 ? &sim->chip->pio.levels : &sim->chip->pio.directions,
               machine->pin_control & 31u, (machine->osr & (right ? 1u : 1u << 31)) != 0, at);
        machine->osr = right ? machine->osr >> 1 : machine->osr << 1;
    }
}

static void set(struct sim *sim, struct pio_machine *machine, uint32_t code, uint64_t at)
{
    unsigned target = code >> 5 & 7u;
    unsigned pin = machine->pin_control >> 5 & 31u;

    if (target == 1) {
        machine->x = code & 31u;
    } else if ((target == 0 || target == 4) && (machine->pin_control >> 26 & 7u) == 1) {
        change(sim, target == 0 ? &sim->chip->pio.levels : &sim->chip->pio.directions, pin,
               (code & 1u) != 0, at);
    } else {
        arm_end(sim, "crashed", "PIO0 sets what is not known here: %04x", code);
    }
}

/* False: it stalls. */
static bool push_or_pull(struct sim *sim, struct pio_machine *machine, uint32_t code)
{
    bool pulls = (code & 0x80u) != 0;
    bool blocks = (code & 0x20u) != 0;
    bool well;

    if (pulls) {
        well = take(&machine->out, &machine->osr);
    } else {
        well = put(&machine->in, depth(machine, true), machine->isr);
        machine->isr = well || !blocks ? 0 : machine->isr;
    }
    pio_interrupt(sim);
    return well || !blocks;
}

/* A side-set happens when the instruction begins, even if it then stalls (3.5.1). */
static void side_set(struct sim *sim, const struct pio_machine *machine, uint32_t code,
                     uint64_t at)
{
    if ((machine->exec_control & SIDE_THERE) != 0 && (code >> 12 & 1u) != 0) {
        change(sim,
               (machine->exec_control & SIDE_DIRS) != 0 ? &sim->chip->pio.directions
                                                        : &sim->chip->pio.levels,
               machine->pin_control >> 10 & 31u, (code >> 11 & 1u) != 0, at);
    }
}

static unsigned delay_of(const struct pio_machine *machine, uint32_t code)
{
    return code >> 8 & ((machine->exec_control & SIDE_THERE) != 0 ? 7u : 31u);
}

/* False: it stalls, and is tried again a cycle later. */
static bool execute(struct sim *sim, struct pio_machine *machine, uint32_t code, uint64_t at)
{
    side_set(sim, machine, code, at);
    switch (code >> 13) {
    case OP_JMP:
        jump(sim, machine, code, at);
        return true;
    case OP_WAIT:
        if ((code >> 5 & 3u) != 1 || (code & 31u) != 0) {
            break;
        }
        return read_pin(sim, machine->pin_control >> 15 & 31u, at) == ((code >> 7 & 1u) != 0);
    case OP_IN:
    case OP_OUT:
        shift(sim, machine, code, at);
        return true;
    case OP_PUSH_PULL:
        return push_or_pull(sim, machine, code);
    case OP_SET:
        set(sim, machine, code, at);
        return true;
    default:
        break;
    }
    arm_end(sim, "crashed", "PIO0 has an instruction that is not known here: %04x", code);
    return true;
}

/* ---- time ------------------------------------------------------------------------------- */

static uint64_t period(const struct sim *sim, const struct pio_machine *machine)
{
    return (uint64_t)sim->chip->ps_a_cycle * (machine->divider >> 8) / 256u;
}

static void step(struct sim *sim, struct pio_machine *machine)
{
    uint32_t code = sim->chip->pio.memory[machine->pc];
    uint32_t before = machine->pc;
    uint64_t cycle = period(sim, machine);

    machine->pc = before == (machine->exec_control >> 12 & 31u)
                      ? machine->exec_control >> 7 & 31u
                      : before + 1u;
    machine->stalls = !execute(sim, machine, code, machine->at / 1000u);
    machine->pc = machine->stalls ? before : machine->pc;
    machine->at += machine->stalls ? cycle : (delay_of(machine, code) + 1u) * cycle;
}

/* While it stalls nothing happens before the line changes, or the processor writes: then it
 * goes on at the next of its cycles. */
static void skip(struct sim *sim, struct pio_machine *machine, uint64_t until)
{
    uint64_t next = line_next(&sim->line);
    uint64_t to = next < until / 1000u ? next * 1000u : until;
    uint64_t cycle = period(sim, machine);

    if (machine->stalls && to > machine->at && cycle > 0) {
        machine->at += (to - machine->at) / cycle * cycle;
    }
}

/* The machine that comes first, up to NOW; NULL: there is none. */
static struct pio_machine *first_machine(struct sim *sim, uint64_t now)
{
    struct pio_machine *first = NULL;

    for (unsigned i = 0; i < MACHINES; i++) {
        struct pio_machine *machine = machine_of(sim, i);
        if (is_enabled(sim, i) && machine->at <= now &&
            (first == NULL || machine->at < first->at)) {
            first = machine;
        }
    }
    return first;
}

/* How far a machine that stalls may skip: to where another one may change the line. */
static uint64_t skip_limit(struct sim *sim, const struct pio_machine *skips, uint64_t now)
{
    for (unsigned i = 0; i < MACHINES; i++) {
        const struct pio_machine *machine = machine_of(sim, i);
        if (is_enabled(sim, i) && machine != skips && !machine->stalls && machine->at < now) {
            now = machine->at;
        }
    }
    return now;
}

void pio_advance(struct sim *sim)
{
    struct chip *chip = sim->chip;
    struct pio_machine *machine;

    if (chip->pio.control == 0 || (chip->in_reset >> RESET_PIO0 & 1u) != 0) {
        return;
    }
    while (chip->end == NULL && (machine = first_machine(sim, chip->ps)) != NULL) {
        step(sim, machine); /* before it skips: the line may have changed since it stalled */
        skip(sim, machine, skip_limit(sim, machine, chip->ps));
    }
    (void)line_is_high(&sim->line, chip_ns(sim)); /* edges that nobody has looked for */
    pio_interrupt(sim);
}

uint64_t pio_next(const struct sim *sim)
{
    const struct pio_state *pio = &sim->chip->pio;
    uint64_t edge = line_next(&sim->line);
    uint64_t next = UINT64_MAX;

    for (unsigned i = 0; i < MACHINES; i++) {
        if (is_enabled(sim, i) && !pio->machines[i].stalls && pio->machines[i].at < next) {
            next = pio->machines[i].at;
        }
    }
    edge = pio->control != 0 && edge < UINT64_MAX / 1000u ? (edge + 1u) * 1000u : UINT64_MAX;
    return edge < next ? edge : next;
}

/* ---- registers -------------------------------------------------------------------------- */

#define AT_TX       0x10u
#define AT_RX       0x20u
#define AT_MEMORY   0x48u
#define AT_MACHINES 0xC8u
#define AT_INTE     0x12Cu
#define A_MACHINE   24u /* bytes of registers */

static bool read_pio(struct sim *sim, uint32_t offset, uint32_t *value)
{
    struct pio_state *pio = &sim->chip->pio;

    pio_advance(sim);
    *value = 0;
    if (offset == 0x0) {
        *value = pio->control;
    } else if (offset == 0x4) {
        *value = status(sim);
    } else if (offset >= AT_RX && offset < AT_RX + 4 * MACHINES) {
        if (!take(&machine_of(sim, (offset - AT_RX) / 4)->in, value)) {
            arm_end(sim, "crashed", "PIO0 is read where nothing has come");
        }
    } else if (offset == AT_INTE) {
        *value = pio->enabled;
    } else {
        return false;
    }
    pio_interrupt(sim);
    return true;
}

static bool write_machine(struct sim *sim, struct pio_machine *machine, uint32_t offset,
                          uint32_t value)
{
    uint32_t *const registers[] = {
        &machine->divider,    &machine->exec_control, &machine->shift_control, NULL, NULL,
        &machine->pin_control};

    if (offset == 16) { /* an instruction, at once */
        if (!execute(sim, machine, value, chip_ns(sim))) {
            arm_end(sim, "crashed", "PIO0 is given an instruction that stalls");
        }
        return true;
    }
    if (offset % 4 != 0 || registers[offset / 4] == NULL) {
        return false;
    }
    *registers[offset / 4] = value;
    return true;
}

static void enable(struct sim *sim, uint32_t value)
{
    struct pio_state *pio = &sim->chip->pio;

    for (unsigned i = 0; i < MACHINES; i++) {
        if ((value >> i & 1u) != 0 && !is_enabled(sim, i)) {
            machine_of(sim, i)->at = sim->chip->ps;
        }
    }
    pio->control = value & 0xFu;
}

static bool write_pio(struct sim *sim, uint32_t offset, uint32_t value)
{
    struct pio_state *pio = &sim->chip->pio;

    pio_advance(sim);
    if (offset == 0x0) {
        enable(sim, value);
    } else if (offset >= AT_TX && offset < AT_TX + 4 * MACHINES) {
        struct pio_machine *machine = machine_of(sim, (offset - AT_TX) / 4);
        machine->stalls = false; /* it may have waited for that */
        if (!put(&machine->out, depth(machine, false), value)) {
            arm_end(sim, "crashed", "PIO0 is written where there is no room");
        }
    } else if (offset >= AT_MEMORY && offset < AT_MEMORY + 4 * PIO_CODE) {
        pio->memory[(offset - AT_MEMORY) / 4] = value & 0xFFFFu;
    } else if (offset >= AT_MACHINES && offset < AT_MACHINES + A_MACHINE * MACHINES) {
        return write_machine(sim, machine_of(sim, (offset - AT_MACHINES) / A_MACHINE),
                             (offset - AT_MACHINES) % A_MACHINE, value);
    } else if (offset == AT_INTE) {
        pio->enabled = value;
    } else {
        return false;
    }
    pio_interrupt(sim);
    return true;
}

void pio_reset(struct sim *sim)
{
    memset(&sim->chip->pio, 0, sizeof sim->chip->pio);
    for (unsigned i = 0; i < MACHINES; i++) {
        machine_of(sim, i)->divider = 1u << 16;
        machine_of(sim, i)->exec_control = 31u << 12;
    }
    line_post(&sim->line, chip_ns(sim), false);
}

const struct peripheral pio_peripheral = {"PIO0", 0x50200000u, RESET_PIO0, read_pio, write_pio};
