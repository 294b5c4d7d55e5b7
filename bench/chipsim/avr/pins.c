/* pins.c - the electrical net on the ports of the chip.
 *
 * Reading a port's PIN register solves the net at that moment. What a program reads is
 * what the pin was 1.5 cycles ago: the synchroniser of the datasheet (section 10.2.4). */
#include "avr.h"

#include <sim_io.h>
#include <string.h>

#define SYNCHRONISER_NS 94u
#define PORT_REGISTERS  0x23u /* PINB; then DDRB, PORTB, PINC, ... */

static avr_io_addr_t pin_register(char port)
{
    return (avr_io_addr_t)(PORT_REGISTERS + 3u * (unsigned)(port - 'B'));
}

static unsigned pin_bit(const struct sim *sim, unsigned pin)
{
    return (unsigned)(sim->pin[pin][1] - '0');
}

bool chip_has_pin(const char *name)
{
    return name[0] >= 'B' && name[0] <= 'F' && name[1] >= '0' && name[1] <= '7' &&
           name[2] == '\0';
}

static uint8_t read_port(avr_t *avr, avr_io_addr_t address, void *param)
{
    struct sim *sim = param;
    uint8_t drives = avr->data[address + 1];
    uint8_t levels = avr->data[address + 2];
    uint64_t now = chip_ns(sim);
    /* pins that are not in the net read what they drive or pull */
    uint8_t value = (uint8_t)(levels | (uint8_t)~drives);

    for (unsigned i = 0; i < sim->pin_count; i++) {
        if (pin_register(sim->pin[i][0]) != address) {
            continue;
        }
        uint8_t bit = (uint8_t)(1u << pin_bit(sim, i));
        bool high =
            uvk_electric_read(sim->net, i, now > SYNCHRONISER_NS ? now - SYNCHRONISER_NS : 0);
        value = high ? (uint8_t)(value | bit) : (uint8_t)(value & ~bit);
    }
    return value;
}

void pins_sync(struct sim *sim)
{
    for (unsigned i = 0; i < sim->pin_count; i++) {
        avr_io_addr_t base = pin_register(sim->pin[i][0]);
        bool output = sim->chip->avr->data[base + 1] >> pin_bit(sim, i) & 1;
        bool high = sim->chip->avr->data[base + 2] >> pin_bit(sim, i) & 1;
        enum uvk_drive drive = output ? (high ? UVK_DRIVE_HIGH : UVK_DRIVE_LOW)
                               : high ? UVK_PULL_UP
                               : (sim->resistors >> i & 1u) != 0 ? UVK_PULL_DOWN
                                                                 : UVK_FLOATING;
        uvk_electric_drive(sim->net, i, drive, chip_ns(sim));
    }
}

/* Which of the handlers of DDRx and PORTx. */
static unsigned before_index(avr_io_addr_t address)
{
    unsigned offset = address - PORT_REGISTERS;

    return offset / 3 * 2 + (offset % 3 - 1);
}

/* A pin that lights something is high when it is driven so. */
void chip_lights(struct sim *sim)
{
    for (unsigned i = 0; i < sim->lights.count; i++) {
        struct lights_pin *pin = &sim->lights.pins[i];
        const uint8_t *port = &sim->chip->avr->data[pin_register(pin->name[0])];
        unsigned bit = (unsigned)(pin->name[1] - '0');
        lights_set(pin, chip_ns(sim), (port[1] & port[2]) >> bit & 1u ? LIGHTS_FULL : 0);
    }
}

static void write_port(avr_t *avr, avr_io_addr_t address, uint8_t value, void *param)
{
    struct sim *sim = param;
    const struct handler *before = &sim->chip->before_ports[before_index(address)];

    if (before->write != NULL) {
        before->write(avr, address, value, before->param);
    } else {
        avr->data[address] = value;
    }
    pins_sync(sim);
    usart_pin(sim);
    chip_lights(sim);
}

void pins_attach(struct sim *sim)
{
    for (unsigned port = 0; port < PORTS; port++) {
        avr_io_addr_t base = (avr_io_addr_t)(PORT_REGISTERS + 3 * port);
        sim->chip->avr->io[AVR_DATA_TO_IO(base)].r.c = read_port;
        sim->chip->avr->io[AVR_DATA_TO_IO(base)].r.param = sim;
        for (avr_io_addr_t address = (avr_io_addr_t)(base + 1); address <= base + 2;
             address++) {
            sim->chip->before_ports[before_index(address)] =
                (struct handler){sim->chip->avr->io[AVR_DATA_TO_IO(address)].w.param,
                                 sim->chip->avr->io[AVR_DATA_TO_IO(address)].w.c};
            sim->chip->avr->io[AVR_DATA_TO_IO(address)].w.c = write_port;
            sim->chip->avr->io[AVR_DATA_TO_IO(address)].w.param = sim;
        }
    }
}
