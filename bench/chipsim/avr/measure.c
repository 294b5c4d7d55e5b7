/* measure.c - when a pass begins and ends, how deep the stack went, what is in RAM. */
#include "avr.h"

#include <sim_interrupts.h>
#include <sim_io.h>
#include <string.h>

#define GPIOR0       0x3Eu
#define USBCON       0xD8u
#define FRZCLK       0x20u
#define UDCON        0xE0u
#define RMWKUP       0x02u
#define RAM_FIRST    0x100u
#define RAM_LAST     0xAFFu
#define POISON       0xC5u
#define ENTRY_CYCLES 5u /* silicon takes them to enter an interrupt, the simulator none */
#define AVR_RAM_BASE 0x800000u

static void pass_marker(avr_t *avr, avr_io_addr_t address, uint8_t value, void *param)
{
    avr->data[address] = value;
    if (value != 0) {
        pass_begins(param, avr->cycle);
    } else {
        pass_ends(param, avr->cycle);
    }
}

static void watch_udcon(avr_t *avr, avr_io_addr_t address, uint8_t value, void *param)
{
    struct sim *sim = param;

    sim->wakeups += (value & RMWKUP) != 0;
    if (sim->chip->before_udcon.write != NULL) {
        sim->chip->before_udcon.write(avr, address, value & (uint8_t)~RMWKUP,
                                      sim->chip->before_udcon.param);
    }
}

static void interrupt_runs(struct avr_irq_t *irq, uint32_t value, void *param)
{
    struct sim *sim = param;

    (void)irq;
    if (value != 0) {
        sim->chip->avr->cycle += ENTRY_CYCLES;
    }
}

void measure_attach(struct sim *sim)
{
    avr_t *avr = sim->chip->avr;

    avr->io[AVR_DATA_TO_IO(GPIOR0)].w.c = pass_marker;
    avr->io[AVR_DATA_TO_IO(GPIOR0)].w.param = sim;
    sim->chip->before_udcon = (struct handler){avr->io[AVR_DATA_TO_IO(UDCON)].w.param,
                                               avr->io[AVR_DATA_TO_IO(UDCON)].w.c};
    avr->io[AVR_DATA_TO_IO(UDCON)].w.c = watch_udcon;
    avr->io[AVR_DATA_TO_IO(UDCON)].w.param = sim;
    avr_irq_register_notify(avr_get_interrupt_irq(avr, AVR_INT_ANY) + AVR_INT_IRQ_RUNNING,
                            interrupt_runs, sim);
}

/* RAM holds anything after power-on; a program that relies on zeros must fail here. */
void measure_poison(struct sim *sim)
{
    memset(sim->chip->avr->data + RAM_FIRST, POISON, RAM_LAST + 1 - RAM_FIRST);
}

/* Bytes between the top of RAM and the deepest one that was ever written. */
static long stack_bytes(struct sim *sim)
{
    uint32_t at = symbol_address(sim, "_end") - AVR_RAM_BASE;

    if (at < RAM_FIRST || at > RAM_LAST) {
        return -1;
    }
    while (at <= RAM_LAST && sim->chip->avr->data[at] == POISON) {
        at++;
    }
    return (long)(RAM_LAST + 1 - at);
}

long chip_measure(struct sim *sim, const char *name)
{
    if (strcmp(name, "blocked-cycles") == 0) {
        return (long)sim->chip->blocked_most;
    }
    if (strcmp(name, "forget") == 0) {
        sim->chip->blocked_most = 0;
        return 0;
    }
    if (strcmp(name, "stack-bytes") == 0) {
        return stack_bytes(sim);
    }
    return strcmp(name, "usb-stopped") == 0 ? (sim->chip->avr->data[USBCON] & FRZCLK) != 0 : -1;
}

bool chip_peek(const struct sim *sim, uint32_t address, unsigned count, uint8_t *out)
{
    uint32_t at = address - AVR_RAM_BASE;

    if (at < RAM_FIRST || at > RAM_LAST || count > RAM_LAST + 1 - at) {
        return false;
    }
    memcpy(out, sim->chip->avr->data + at, count);
    return true;
}
