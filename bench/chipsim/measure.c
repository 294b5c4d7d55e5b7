/* measure.c - what a pass costs, how deep the stack went, where symbols are. */
#include "chipsim.h"

#include <fcntl.h>
#include <gelf.h>
#include <sim_interrupts.h>
#include <sim_io.h>
#include <string.h>
#include <unistd.h>

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
    struct sim *sim = param;
    uint64_t cycles;

    avr->data[address] = value;
    if (value != 0) {
        sim->pass_start = avr->cycle;
        return;
    }
    cycles = avr->cycle - sim->pass_start;
    sim->passes++;
    sim->idle_cycles = cycles < sim->idle_cycles ? cycles : sim->idle_cycles;
    sim->worst_cycles = cycles > sim->worst_cycles ? cycles : sim->worst_cycles;
}

static struct {
    void *param;
    avr_io_write_t write;
} before_udcon;

static void watch_udcon(avr_t *avr, avr_io_addr_t address, uint8_t value, void *param)
{
    struct sim *sim = param;

    sim->wakeups += (value & RMWKUP) != 0;
    if (before_udcon.write != NULL) {
        before_udcon.write(avr, address, value & (uint8_t)~RMWKUP, before_udcon.param);
    }
}

static void interrupt_runs(struct avr_irq_t *irq, uint32_t value, void *param)
{
    struct sim *sim = param;

    (void)irq;
    if (value != 0) {
        sim->avr->cycle += ENTRY_CYCLES;
    }
}

void measure_attach(struct sim *sim)
{
    avr_t *avr = sim->avr;

    avr->io[AVR_DATA_TO_IO(GPIOR0)].w.c = pass_marker;
    avr->io[AVR_DATA_TO_IO(GPIOR0)].w.param = sim;
    before_udcon.param = avr->io[AVR_DATA_TO_IO(UDCON)].w.param;
    before_udcon.write = avr->io[AVR_DATA_TO_IO(UDCON)].w.c;
    avr->io[AVR_DATA_TO_IO(UDCON)].w.c = watch_udcon;
    avr->io[AVR_DATA_TO_IO(UDCON)].w.param = sim;
    avr_irq_register_notify(avr_get_interrupt_irq(avr, AVR_INT_ANY) + AVR_INT_IRQ_RUNNING,
                            interrupt_runs, sim);
}

/* RAM holds anything after power-on; a program that relies on zeros must fail here. */
void measure_poison(struct sim *sim)
{
    memset(sim->avr->data + RAM_FIRST, POISON, RAM_LAST + 1 - RAM_FIRST);
}

static unsigned symbol_in(Elf *elf, const char *name)
{
    Elf_Scn *section = NULL;

    while ((section = elf_nextscn(elf, section)) != NULL) {
        GElf_Shdr header;
        Elf_Data *data;
        if (gelf_getshdr(section, &header) == NULL || header.sh_type != SHT_SYMTAB ||
            header.sh_entsize == 0) {
            continue;
        }
        data = elf_getdata(section, NULL);
        for (int i = 0; data != NULL && i < (int)(header.sh_size / header.sh_entsize); i++) {
            GElf_Sym symbol;
            const char *text;
            if (gelf_getsym(data, i, &symbol) == NULL) {
                continue;
            }
            text = elf_strptr(elf, header.sh_link, symbol.st_name);
            if (text != NULL && strcmp(text, name) == 0) {
                return (unsigned)(symbol.st_value - AVR_RAM_BASE);
            }
        }
    }
    return 0;
}

unsigned measure_symbol(const struct sim *sim, const char *name)
{
    int file = sim->symbols_path != NULL ? open(sim->symbols_path, O_RDONLY) : -1;
    Elf *elf;
    unsigned address = 0;

    (void)elf_version(EV_CURRENT);
    elf = file >= 0 ? elf_begin(file, ELF_C_READ, NULL) : NULL;
    if (elf != NULL) {
        address = symbol_in(elf, name);
        elf_end(elf);
    }
    if (file >= 0) {
        close(file);
    }
    return address;
}

/* Bytes between the top of RAM and the deepest one that was ever written. */
static long stack_bytes(struct sim *sim)
{
    unsigned at = measure_symbol(sim, "_end");

    if (at < RAM_FIRST || at > RAM_LAST) {
        return -1;
    }
    while (at <= RAM_LAST && sim->avr->data[at] == POISON) {
        at++;
    }
    return (long)(RAM_LAST + 1 - at);
}

long measure_named(struct sim *sim, const char *name)
{
    const struct {
        const char *name;
        long value;
    } values[] = {
        {"idle-cycles", sim->passes > 0 ? (long)sim->idle_cycles : -1},
        {"worst-cycles", sim->passes > 0 ? (long)sim->worst_cycles : -1},
        {"passes", (long)sim->passes},
        {"wakeups", (long)sim->wakeups},
        {"usb-stopped", (sim->avr->data[USBCON] & FRZCLK) != 0},
    };

    if (strcmp(name, "stack-bytes") == 0) {
        return stack_bytes(sim);
    }
    if (strcmp(name, "forget") == 0) { /* start measuring anew */
        sim->idle_cycles = UINT64_MAX;
        sim->worst_cycles = 0;
        sim->passes = 0;
        return 0;
    }
    for (size_t i = 0; i < sizeof values / sizeof values[0]; i++) {
        if (strcmp(values[i].name, name) == 0) {
            return values[i].value;
        }
    }
    return -1;
}
