/* pins.c - pads, functions and the processor's door to them, on the electrical net. */
#include "arm.h"

#include <stdlib.h>
#include <string.h>

#define PAD_RESET      0x56u /* pulled down (2.19.6.3) */
#define PAD_DOWN       (1u << 2)
#define PAD_UP         (1u << 3)
#define PAD_INPUT      (1u << 6)
#define FUNCTION_NULL  31u
#define FUNCTION_SIO   5u
#define RESET_IO_BANK0 5u
#define RESET_PADS     8u
#define SYNCHRONISER   16u /* nanoseconds: two cycles of 125 MHz (2.19.2) */

static unsigned pin_number(const struct sim *sim, unsigned index)
{
    return (unsigned)strtoul(sim->pin[index] + 2, NULL, 10);
}

bool chip_has_pin(const char *name)
{
    char *end;
    unsigned long number =
        strncmp(name, "GP", 2) == 0 ? strtoul(name + 2, &end, 10) : GPIO_PINS;

    return number < GPIO_PINS && *end == '\0' && name[2] != '\0';
}

static enum uvk_drive drive_of(const struct chip *chip, unsigned pin, bool resistor)
{
    if (chip->functions[pin] == FUNCTION_SIO && (chip->out_enabled >> pin & 1u) != 0) {
        return (chip->out >> pin & 1u) != 0 ? UVK_DRIVE_HIGH : UVK_DRIVE_LOW;
    }
    return (chip->pads[pin] & PAD_UP) != 0                 ? UVK_PULL_UP
           : (chip->pads[pin] & PAD_DOWN) != 0 || resistor ? UVK_PULL_DOWN
                                                           : UVK_FLOATING;
}

static void drive_net(struct sim *sim)
{
    for (unsigned i = 0; i < sim->pin_count; i++) {
        uvk_electric_drive(
            sim->net, i,
            drive_of(sim->chip, pin_number(sim, i), (sim->resistors >> i & 1u) != 0),
            chip_ns(sim));
    }
}

void pins_reset(struct sim *sim)
{
    struct chip *chip = sim->chip;

    for (unsigned pin = 0; pin < GPIO_PINS; pin++) {
        chip->pads[pin] = PAD_RESET;
        chip->functions[pin] = FUNCTION_NULL;
    }
    chip->out = 0;
    chip->out_enabled = 0;
    drive_net(sim);
}

static bool read_pads(struct sim *sim, uint32_t offset, uint32_t *value)
{
    if (offset < 4 || offset >= 4 + 4 * GPIO_PINS) {
        return false;
    }
    *value = sim->chip->pads[offset / 4 - 1];
    return true;
}

static bool write_pads(struct sim *sim, uint32_t offset, uint32_t value)
{
    if (offset < 4 || offset >= 4 + 4 * GPIO_PINS) {
        return false;
    }
    sim->chip->pads[offset / 4 - 1] = value & 0xFFu;
    drive_net(sim);
    return true;
}

static bool read_functions(struct sim *sim, uint32_t offset, uint32_t *value)
{
    if (offset >= 8 * GPIO_PINS || offset % 8 != 4) {
        return false;
    }
    *value = sim->chip->functions[offset / 8];
    return true;
}

static bool write_functions(struct sim *sim, uint32_t offset, uint32_t value)
{
    if (offset >= 8 * GPIO_PINS || offset % 8 != 4) {
        return false;
    }
    sim->chip->functions[offset / 8] = value & 0x1Fu;
    drive_net(sim);
    shown_look(sim);
    return true;
}

const struct peripheral pin_peripherals[] = {
    {"IO_BANK0", 0x40014000u, RESET_IO_BANK0, read_functions, write_functions},
    {"PADS_BANK0", 0x4001C000u, RESET_PADS, read_pads, write_pads},
};
const size_t pin_peripheral_count = sizeof pin_peripherals / sizeof pin_peripherals[0];

/* A pin that is not on the net reads what it drives or pulls; one without input reads low. */
static uint32_t levels(struct sim *sim)
{
    struct chip *chip = sim->chip;
    uint64_t now = chip_ns(sim);
    uint32_t value = 0;

    for (unsigned pin = 0; pin < GPIO_PINS; pin++) {
        enum uvk_drive drive = drive_of(chip, pin, false);
        value |= (uint32_t)(drive == UVK_PULL_UP || drive == UVK_DRIVE_HIGH) << pin;
    }
    for (unsigned i = 0; i < sim->pin_count; i++) {
        uint32_t bit = 1u << pin_number(sim, i);
        bool high = uvk_electric_read(sim->net, i, now > SYNCHRONISER ? now - SYNCHRONISER : 0);
        value = high ? value | bit : value & ~bit;
    }
    for (unsigned pin = 0; pin < GPIO_PINS; pin++) {
        value &= (chip->pads[pin] & PAD_INPUT) != 0 ? ~0u : ~(1u << pin);
    }
    return value;
}

bool pins_read_sio(struct sim *sim, uint32_t offset, uint32_t *value)
{
    switch (offset) {
    case 0x00: /* CPUID: core 0 */
        *value = 0;
        return true;
    case 0x04:
        *value = levels(sim);
        return true;
    case 0x10:
        *value = sim->chip->out;
        return true;
    case 0x20:
        *value = sim->chip->out_enabled;
        return true;
    default:
        return false;
    }
}

/* OUT and OE, each plain, and with its bits set, cleared and changed (2.3.1.7). */
bool pins_write_sio(struct sim *sim, uint32_t offset, uint32_t value)
{
    uint32_t *target = offset >= 0x20 ? &sim->chip->out_enabled : &sim->chip->out;

    if (offset < 0x10 || offset > 0x2C) {
        return false;
    }
    switch (offset & 0xFu) {
    case 0x0:
        *target = value;
        break;
    case 0x4:
        *target |= value;
        break;
    case 0x8:
        *target &= ~value;
        break;
    default:
        *target ^= value;
        break;
    }
    drive_net(sim);
    shown_look(sim);
    return true;
}
