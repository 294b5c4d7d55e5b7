/* bus.c - which peripheral an address belongs to, and how its bits are changed (2.1.2). */
#include "arm.h"

#include <string.h>

#define APB_AT   0x40000000u
#define APB_SIZE 0x00070000u
#define USB_AT   0x50100000u
#define USB_SIZE 0x00020000u
#define PIO_AT   0x50200000u
#define PIO_SIZE 0x00004000u
#define SSI_AT   0x18000000u
#define SIO_AT   0xD0000000u
#define PPB_AT   0xE0000000u
#define PPB_SIZE 0x00010000u
#define ALIAS    0x3000u

static const struct peripheral *find(uint32_t address)
{
    uint32_t base = address & ~0x3FFFu;

    for (size_t i = 0; i < system_peripheral_count; i++) {
        if (system_peripherals[i].base == base) {
            return &system_peripherals[i];
        }
    }
    for (size_t i = 0; i < pin_peripheral_count; i++) {
        if (pin_peripherals[i].base == base) {
            return &pin_peripherals[i];
        }
    }
    return usb_peripheral.base == base    ? &usb_peripheral
           : pio_peripheral.base == base  ? &pio_peripheral
           : pwm_peripheral.base == base  ? &pwm_peripheral
           : ring_peripheral.base == base ? &ring_peripheral
                                          : NULL;
}

static bool is_usable(struct sim *sim, const struct peripheral *peripheral, uint32_t address,
                      unsigned size)
{
    if (peripheral == NULL) {
        arm_end(sim, "crashed", "there is nothing that is known here at %08x", address);
    } else if (size != 4) {
        arm_end(sim, "crashed", "%s is used by %u bytes at %08x", peripheral->name, size,
                address);
    } else if (peripheral->reset_bit != NEVER_RESET &&
               (sim->chip->in_reset >> peripheral->reset_bit & 1u) != 0) {
        arm_end(sim, "crashed", "%s is used at %08x while it is held in reset",
                peripheral->name, address);
    } else {
        return true;
    }
    return false;
}

static uint64_t read_peripheral(struct sim *sim, uint32_t address, unsigned size)
{
    const struct peripheral *peripheral = find(address);
    uint32_t value = 0;

    if (is_usable(sim, peripheral, address, size) &&
        !peripheral->read(sim, address & 0xFFFu, &value)) {
        arm_end(sim, "crashed", "%s has no register that is known here at %08x",
                peripheral->name, address);
    }
    return value;
}

static void write_peripheral(struct sim *sim, uint32_t address, unsigned size, uint32_t value)
{
    const struct peripheral *peripheral = find(address);
    uint32_t before = 0;

    if (!is_usable(sim, peripheral, address, size)) {
        return;
    }
    if ((address & ALIAS) != 0) {
        (void)peripheral->read(sim, address & 0xFFFu, &before);
    }
    switch (address & ALIAS) {
    case 0x1000u:
        value ^= before;
        break;
    case 0x2000u:
        value |= before;
        break;
    case 0x3000u:
        value = before & ~value;
        break;
    default:
        break;
    }
    if (!peripheral->write(sim, address & 0xFFFu, value)) {
        arm_end(sim, "crashed", "%s has no register that is known here at %08x",
                peripheral->name, address);
    }
}

static uint64_t read_apb(uc_engine *uc, uint64_t offset, unsigned size, void *data)
{
    (void)uc;
    return read_peripheral(data, APB_AT + (uint32_t)offset, size);
}

static void write_apb(uc_engine *uc, uint64_t offset, unsigned size, uint64_t value, void *data)
{
    (void)uc;
    write_peripheral(data, APB_AT + (uint32_t)offset, size, (uint32_t)value);
}

static uint64_t read_usb(uc_engine *uc, uint64_t offset, unsigned size, void *data)
{
    uint32_t value = 0;

    (void)uc;
    if (offset >= 0x10000u) {
        return read_peripheral(data, USB_AT + (uint32_t)offset, size);
    }
    if (!usb_read_memory(data, (uint32_t)offset, size, &value)) {
        arm_end(data, "crashed", "the USB memory is read where it is not, or in reset");
    }
    return value;
}

static void write_usb(uc_engine *uc, uint64_t offset, unsigned size, uint64_t value, void *data)
{
    (void)uc;
    if (offset >= 0x10000u) {
        write_peripheral(data, USB_AT + (uint32_t)offset, size, (uint32_t)value);
    } else if (!usb_write_memory(data, (uint32_t)offset, size, (uint32_t)value)) {
        arm_end(data, "crashed", "the USB memory is written where it is not, or in reset");
    }
}

static uint64_t read_pio(uc_engine *uc, uint64_t offset, unsigned size, void *data)
{
    (void)uc;
    return read_peripheral(data, PIO_AT + (uint32_t)offset, size);
}

static void write_pio(uc_engine *uc, uint64_t offset, unsigned size, uint64_t value, void *data)
{
    (void)uc;
    write_peripheral(data, PIO_AT + (uint32_t)offset, size, (uint32_t)value);
}

static uint64_t read_sio(uc_engine *uc, uint64_t offset, unsigned size, void *data)
{
    uint32_t value = 0;

    (void)uc;
    if (size != 4 || !pins_read_sio(data, (uint32_t)offset, &value)) {
        arm_end(data, "crashed", "SIO has nothing that is known here at %08x",
                SIO_AT + (uint32_t)offset);
    }
    return value;
}

static void write_sio(uc_engine *uc, uint64_t offset, unsigned size, uint64_t value, void *data)
{
    (void)uc;
    if (size != 4 || !pins_write_sio(data, (uint32_t)offset, (uint32_t)value)) {
        arm_end(data, "crashed", "SIO has nothing that is known here at %08x",
                SIO_AT + (uint32_t)offset);
    }
}

/* The flash's interface is set up by the second stage of booting; nothing is seen of it here.
 */
static uint64_t read_ssi(uc_engine *uc, uint64_t offset, unsigned size, void *data)
{
    (void)uc;
    (void)offset;
    (void)size;
    (void)data;
    return 0;
}

static void write_ssi(uc_engine *uc, uint64_t offset, unsigned size, uint64_t value, void *data)
{
    (void)uc;
    (void)offset;
    (void)size;
    (void)value;
    (void)data;
}

/* Interrupts (2.4.8): ISER, ICER, ISPR, ICPR, and the table of vectors, which is never used. */
static uint64_t read_core(uc_engine *uc, uint64_t offset, unsigned size, void *data)
{
    struct sim *sim = data;

    (void)uc;
    (void)size;
    return offset == 0xE100 || offset == 0xE180   ? sim->chip->irq_enabled
           : offset == 0xE200 || offset == 0xE280 ? sim->chip->irq_pending
                                                  : 0;
}

static void write_core(uc_engine *uc, uint64_t offset, unsigned size, uint64_t value,
                       void *data)
{
    struct chip *chip = ((struct sim *)data)->chip;

    (void)uc;
    (void)size;
    switch (offset) {
    case 0xE100:
        chip->irq_enabled |= (uint32_t)value;
        break;
    case 0xE180:
        chip->irq_enabled &= ~(uint32_t)value;
        break;
    case 0xE280:
        chip->irq_pending &= ~(uint32_t)value;
        pio_interrupt(data); /* what still asks for it is pending again */
        break;
    case 0xED08:
        break;
    default:
        arm_end(data, "crashed", "the core has nothing that is known here at %08x",
                PPB_AT + (uint32_t)offset);
        break;
    }
}

bool bus_map(struct sim *sim)
{
    uc_engine *uc = sim->chip->uc;

    return uc_mmio_map(uc, APB_AT, APB_SIZE, read_apb, sim, write_apb, sim) == UC_ERR_OK &&
           uc_mmio_map(uc, USB_AT, USB_SIZE, read_usb, sim, write_usb, sim) == UC_ERR_OK &&
           uc_mmio_map(uc, PIO_AT, PIO_SIZE, read_pio, sim, write_pio, sim) == UC_ERR_OK &&
           uc_mmio_map(uc, SSI_AT, 0x1000, read_ssi, sim, write_ssi, sim) == UC_ERR_OK &&
           uc_mmio_map(uc, SIO_AT, 0x1000, read_sio, sim, write_sio, sim) == UC_ERR_OK &&
           uc_mmio_map(uc, PPB_AT, PPB_SIZE, read_core, sim, write_core, sim) == UC_ERR_OK;
}
