/* system.c - resets, clocks, watchdog, timer: each stands still until it is started as the
 * datasheet says. */
#include "arm.h"

#include <string.h>

#define PS_A_US          1000000u
#define RING_PS          153846u /* the ring oscillator of power-on, about 6.5 MHz (2.17) */
#define CRYSTAL_PS       83333u  /* 12 MHz */
#define CRYSTAL_WAITS    256u    /* cycles that STARTUP counts (2.16.3) */
#define PLL_LOCKS_US     100u
#define RESET_PLL_SYS    12u
#define RESET_PLL_USB    13u
#define RESET_TIMER      21u
#define ALL_RESETS       0x1FFFFFFu
#define WATCHDOG_ENABLE  (1u << 30)
#define WATCHDOG_TRIGGER (1u << 31)
#define REASON_TIMER     1u
#define REASON_FORCE     2u
#define ALL_BUT_CLOCKS   0x1FFFCu
#define CRYSTAL_CONTROL  0xFABAA0u
#define TIMER_IRQ        0u

static bool is_on(const struct sim *sim, uint64_t at)
{
    return at != 0 && sim->chip->ps >= at;
}

/* ---- clocks ----------------------------------------------------------------------------- */

static uint32_t pll_mhz(const struct sim *sim, unsigned which)
{
    const struct clock_state *clock = &sim->chip->clock;
    const uint32_t *pll = clock->pll[which];
    uint32_t post = (pll[3] >> 16 & 7u) * (pll[3] >> 12 & 7u);
    bool runs = is_on(sim, which == 0 ? clock->pll_sys_at : clock->pll_usb_at);

    return runs && (pll[1] & 0x8u) == 0 && post != 0 ? 12u * pll[2] / post : 0;
}

/* The system's clock follows CLK_SYS and CLK_REF. */
static void choose_clock(struct sim *sim)
{
    struct chip *chip = sim->chip;
    uint32_t mhz = pll_mhz(sim, 0);

    if ((chip->clock.sys_control & 1u) != 0) {
        if (mhz == 0 || (chip->clock.sys_control >> 5 & 7u) != 0) {
            arm_end(sim, "crashed", "the system runs from a PLL that does not");
            return;
        }
        chip->ps_a_cycle = PS_A_US / mhz;
    } else if ((chip->clock.ref_control & 3u) == 2u) {
        if (!is_on(sim, chip->clock.crystal_at)) {
            arm_end(sim, "crashed", "the system runs from a crystal that is not stable yet");
            return;
        }
        chip->ps_a_cycle = CRYSTAL_PS;
    } else {
        chip->ps_a_cycle = RING_PS;
    }
}

bool system_has_usb_clock(const struct sim *sim)
{
    return (sim->chip->clock.usb_control & (1u << 11)) != 0 && pll_mhz(sim, 1) == 48;
}

static bool read_clocks(struct sim *sim, uint32_t offset, uint32_t *value)
{
    const struct clock_state *clock = &sim->chip->clock;

    switch (offset) {
    case 0x30:
        *value = clock->ref_control;
        return true;
    case 0x38:
        *value = 1u << (clock->ref_control & 3u);
        return true;
    case 0x3C:
        *value = clock->sys_control;
        return true;
    case 0x44:
        *value = 1u << (clock->sys_control & 1u);
        return true;
    case 0x54:
        *value = clock->usb_control;
        return true;
    default:
        return false;
    }
}

static bool write_clocks(struct sim *sim, uint32_t offset, uint32_t value)
{
    struct clock_state *clock = &sim->chip->clock;
    uint32_t *control = offset == 0x30   ? &clock->ref_control
                        : offset == 0x3C ? &clock->sys_control
                        : offset == 0x54 ? &clock->usb_control
                                         : NULL;

    if (control == NULL) {
        return false;
    }
    *control = value;
    choose_clock(sim);
    return true;
}

static bool read_crystal(struct sim *sim, uint32_t offset, uint32_t *value)
{
    struct clock_state *clock = &sim->chip->clock;

    switch (offset) {
    case 0x0:
        *value = clock->crystal_control;
        return true;
    case 0x4:
        *value = is_on(sim, clock->crystal_at) ? 1u << 31 : 0;
        return true;
    case 0xC:
        *value = clock->crystal_startup;
        return true;
    default:
        return false;
    }
}

static bool write_crystal(struct sim *sim, uint32_t offset, uint32_t value)
{
    struct clock_state *clock = &sim->chip->clock;

    if (offset == 0xC) {
        clock->crystal_startup = value & 0x3FFFu;
    } else if (offset == 0x0) {
        clock->crystal_control = value;
        clock->crystal_at =
            value != CRYSTAL_CONTROL ? 0
            : clock->crystal_at != 0
                ? clock->crystal_at
                : sim->chip->ps + (uint64_t)clock->crystal_startup * CRYSTAL_WAITS * CRYSTAL_PS;
    } else {
        return false;
    }
    return true;
}

static bool read_pll(struct sim *sim, unsigned which, uint32_t offset, uint32_t *value)
{
    const struct clock_state *clock = &sim->chip->clock;
    bool locked = is_on(sim, which == 0 ? clock->pll_sys_at : clock->pll_usb_at);

    if (offset > 0xC) {
        return false;
    }
    *value = clock->pll[which][offset / 4] | (offset == 0 && locked ? 1u << 31 : 0);
    return true;
}

/* Powered up with a crystal to follow, it locks after a while (2.18.2.1). */
static bool write_pll(struct sim *sim, unsigned which, uint32_t offset, uint32_t value)
{
    struct clock_state *clock = &sim->chip->clock;
    uint64_t *at = which == 0 ? &clock->pll_sys_at : &clock->pll_usb_at;
    uint32_t vco;
    bool powered;

    if (offset > 0xC) {
        return false;
    }
    clock->pll[which][offset / 4] = value;
    vco = 12u * clock->pll[which][2];
    powered = (clock->pll[which][1] & 0x21u) == 0 && clock->pll[which][0] == 1u && vco >= 750 &&
              vco <= 1600 && is_on(sim, clock->crystal_at);
    if (!powered) {
        *at = 0;
    } else if (*at == 0) {
        *at = sim->chip->ps + PLL_LOCKS_US * (uint64_t)PS_A_US;
    }
    choose_clock(sim);
    return true;
}

static bool read_pll_sys(struct sim *sim, uint32_t offset, uint32_t *value)
{
    return read_pll(sim, 0, offset, value);
}

static bool write_pll_sys(struct sim *sim, uint32_t offset, uint32_t value)
{
    return write_pll(sim, 0, offset, value);
}

static bool read_pll_usb(struct sim *sim, uint32_t offset, uint32_t *value)
{
    return read_pll(sim, 1, offset, value);
}

static bool write_pll_usb(struct sim *sim, uint32_t offset, uint32_t value)
{
    return write_pll(sim, 1, offset, value);
}

/* ---- resets, power-on ------------------------------------------------------------------- */

static bool read_resets(struct sim *sim, uint32_t offset, uint32_t *value)
{
    if (offset != 0 && offset != 8) {
        return false;
    }
    *value = offset == 0 ? sim->chip->in_reset : ~sim->chip->in_reset & ALL_RESETS;
    return true;
}

static bool write_resets(struct sim *sim, uint32_t offset, uint32_t value)
{
    if (offset != 0) {
        return false;
    }
    sim->chip->in_reset = value & ALL_RESETS;
    return true;
}

static bool read_psm(struct sim *sim, uint32_t offset, uint32_t *value)
{
    *value = sim->chip->psm_reset;
    return offset == 0x8;
}

static bool write_psm(struct sim *sim, uint32_t offset, uint32_t value)
{
    sim->chip->psm_reset = value;
    return offset == 0x8;
}

static bool read_chip_reset(struct sim *sim, uint32_t offset, uint32_t *value)
{
    *value = sim->chip->reset_cause;
    return offset == 0x8;
}

static bool write_nothing(struct sim *sim, uint32_t offset, uint32_t value)
{
    (void)sim;
    (void)offset;
    (void)value;
    return false;
}

/* ---- watchdog and timer
 * ---------------------------------------------------------------------- */

static bool ticks(const struct sim *sim)
{
    return sim->chip->tick == ((1u << 9) | 12u) && is_on(sim, sim->chip->clock.crystal_at);
}

static bool read_watchdog(struct sim *sim, uint32_t offset, uint32_t *value)
{
    const struct chip *chip = sim->chip;

    if (offset >= 0xC && offset < 0x2C) {
        *value = chip->scratch[(offset - 0xC) / 4];
        return true;
    }
    *value = offset == 0 ? chip->watchdog : offset == 8 ? chip->reset_reason : chip->tick;
    return offset == 0 || offset == 8 || offset == 0x2C;
}

/* LOAD counts half microseconds (errata RP2040-E1). */
static void load_watchdog(struct sim *sim, uint32_t value)
{
    struct chip *chip = sim->chip;

    chip->watchdog = (chip->watchdog & ~0xFFFFFFu) | (value & 0xFFFFFFu);
    chip->watchdog_at = (chip->watchdog & WATCHDOG_ENABLE) != 0 && ticks(sim)
                            ? chip->ps + (uint64_t)(value & 0xFFFFFFu) * (PS_A_US / 2)
                            : 0;
}

static bool write_watchdog(struct sim *sim, uint32_t offset, uint32_t value)
{
    struct chip *chip = sim->chip;

    if (offset == 0xC) { /* the mark of a pass */
        if (value != 0) {
            pass_begins(sim, chip->instructions);
        } else {
            pass_ends(sim, chip->instructions);
        }
    }
    if (offset >= 0xC && offset < 0x2C) {
        chip->scratch[(offset - 0xC) / 4] = value;
    } else if (offset == 0) {
        chip->watchdog = (chip->watchdog & 0xFFFFFFu) | (value & WATCHDOG_ENABLE);
        load_watchdog(sim, chip->watchdog);
        if ((value & WATCHDOG_TRIGGER) != 0) {
            chip->reset_wanted = true;
            chip->reset_reason = REASON_FORCE;
            uc_emu_stop(chip->uc);
        }
    } else if (offset == 4) {
        load_watchdog(sim, value);
    } else if (offset == 0x2C) {
        chip->tick = value & 0x3FFu;
        chip->timer_start = chip->ps;
    } else {
        return false;
    }
    return true;
}

static uint32_t timer_now(const struct sim *sim)
{
    return ticks(sim) ? (uint32_t)((sim->chip->ps - sim->chip->timer_start) / PS_A_US) : 0;
}

static bool read_timer(struct sim *sim, uint32_t offset, uint32_t *value)
{
    const struct chip *chip = sim->chip;

    system_advance(sim);
    *value = offset == 0x28   ? timer_now(sim)
             : offset == 0x10 ? chip->alarm
             : offset == 0x34 ? chip->timer_pending
                              : chip->timer_enabled;
    return offset == 0x28 || offset == 0x10 || offset == 0x34 || offset == 0x38;
}

static bool write_timer(struct sim *sim, uint32_t offset, uint32_t value)
{
    struct chip *chip = sim->chip;

    system_advance(sim);
    if (offset == 0x10) {
        chip->alarm = value;
        chip->alarm_armed = true;
    } else if (offset == 0x34) {
        chip->timer_pending &= ~value;
    } else if (offset == 0x38) {
        chip->timer_enabled = value;
    } else {
        return false;
    }
    system_interrupt(sim, TIMER_IRQ, (chip->timer_pending & chip->timer_enabled) != 0);
    return true;
}

/* Picoseconds until the timer is at the alarm the next time: a whole round of it, if it has
 * just been there. */
static uint64_t next_alarm(const struct sim *sim)
{
    const struct chip *chip = sim->chip;
    uint32_t now = timer_now(sim);
    uint64_t left = (uint32_t)(chip->alarm - now);

    return chip->ps - (chip->ps - chip->timer_start) % PS_A_US +
           (left != 0 ? left : 1ull << 32) * PS_A_US;
}

void system_advance(struct sim *sim)
{
    struct chip *chip = sim->chip;

    if (chip->alarm_armed) {
        sim->chip->alarm_at = ticks(sim) ? next_alarm(sim) : UINT64_MAX;
        chip->alarm_armed = false;
    }
    if (chip->ps >= sim->chip->alarm_at) {
        sim->chip->alarm_at = UINT64_MAX;
        chip->timer_pending |= 1u;
        system_interrupt(sim, TIMER_IRQ, (chip->timer_enabled & 1u) != 0);
    }
    pio_advance(sim);
    if (chip->watchdog_at != 0 && chip->ps >= chip->watchdog_at) {
        chip->watchdog_at = 0;
        chip->reset_wanted = true;
        chip->reset_reason = REASON_TIMER;
        uc_emu_stop(chip->uc);
    }
}

uint64_t system_next(const struct sim *sim)
{
    uint64_t watchdog = sim->chip->watchdog_at;
    uint64_t next = pio_next(sim);

    next = watchdog != 0 && watchdog < next ? watchdog : next;
    return sim->chip->alarm_at < next ? sim->chip->alarm_at : next;
}

const struct peripheral system_peripherals[] = {
    {"RESETS", 0x4000C000u, NEVER_RESET, read_resets, write_resets},
    {"PSM", 0x40010000u, NEVER_RESET, read_psm, write_psm},
    {"CLOCKS", 0x40008000u, NEVER_RESET, read_clocks, write_clocks},
    {"XOSC", 0x40024000u, NEVER_RESET, read_crystal, write_crystal},
    {"PLL_SYS", 0x40028000u, RESET_PLL_SYS, read_pll_sys, write_pll_sys},
    {"PLL_USB", 0x4002C000u, RESET_PLL_USB, read_pll_usb, write_pll_usb},
    {"TIMER", 0x40054000u, RESET_TIMER, read_timer, write_timer},
    {"WATCHDOG", 0x40058000u, NEVER_RESET, read_watchdog, write_watchdog},
    {"CHIP_RESET", 0x40064000u, NEVER_RESET, read_chip_reset, write_nothing},
};
const size_t system_peripheral_count = sizeof system_peripherals / sizeof system_peripherals[0];

void system_reset(struct sim *sim)
{
    struct chip *chip = sim->chip;

    if (chip->reset_reason != 0 && chip->psm_reset != ALL_BUT_CLOCKS) {
        arm_end(sim, "crashed", "the watchdog is to reset %05x of %05x", chip->psm_reset,
                ALL_BUT_CLOCKS);
    }
    memset(&chip->clock, 0, sizeof chip->clock);
    for (unsigned which = 0; which < 2; which++) {
        chip->clock.pll[which][1] = 0x2Du; /* powered down */
    }
    chip->in_reset = ALL_RESETS;
    chip->psm_reset = 0;
    chip->watchdog = 0;
    chip->watchdog_at = 0;
    chip->tick = 0;
    chip->timer_pending = 0;
    chip->timer_enabled = 0;
    chip->alarm_armed = false;
    chip->irq_enabled = 0;
    chip->irq_pending = 0;
    chip->ps_a_cycle = RING_PS;
    sim->chip->alarm_at = UINT64_MAX;
}
