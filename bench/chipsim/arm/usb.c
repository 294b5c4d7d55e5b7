/* usb.c - the USB device controller (4.1): its memory and its registers. */
#include "usb.h"

#include <string.h>

#define REGISTERS 0x50110000u
#define USB_IRQ   5u

/* ---- memory
 * ---------------------------------------------------------------------------------- */

bool usb_in_reset(const struct sim *sim)
{
    return (sim->chip->in_reset >> RESET_USBCTRL & 1u) != 0;
}

uint32_t usb_word(const struct sim *sim, uint32_t at)
{
    const uint8_t *bytes = &sim->chip->usb.memory[at];

    return bytes[0] | (uint32_t)bytes[1] << 8 | (uint32_t)bytes[2] << 16 |
           (uint32_t)bytes[3] << 24;
}

void usb_set_word(struct sim *sim, uint32_t at, uint32_t value)
{
    for (unsigned i = 0; i < 4; i++) {
        sim->chip->usb.memory[at + i] = (uint8_t)(value >> 8 * i);
    }
}

bool usb_read_memory(struct sim *sim, uint32_t offset, unsigned size, uint32_t *value)
{
    if (usb_in_reset(sim) || offset + size > sizeof sim->chip->usb.memory) {
        return false;
    }
    *value = 0;
    memcpy(value, &sim->chip->usb.memory[offset], size);
    return true;
}

/* The controller sees AVAILABLE before it sees what was written with it (4.1.2.5.1). */
static bool is_handed_over_well(const struct sim *sim, uint32_t offset, uint32_t value)
{
    uint32_t before = usb_word(sim, offset);

    return (value & AVAILABLE) == 0 || (before & AVAILABLE) != 0 ||
           (before | AVAILABLE) == value;
}

bool usb_write_memory(struct sim *sim, uint32_t offset, unsigned size, uint32_t value)
{
    bool control = offset >= 0x80u && offset < 0x100u;

    if (usb_in_reset(sim) || offset + size > sizeof sim->chip->usb.memory) {
        return false;
    }
    if (control && (size != 4 || !is_handed_over_well(sim, offset, value))) {
        arm_end(sim, "crashed", "a USB buffer is handed over in the write that describes it");
    }
    memcpy(&sim->chip->usb.memory[offset], &value, size);
    return true;
}

/* ---- registers
 * -------------------------------------------------------------------------------- */

static uint32_t raised(const struct usb_state *usb)
{
    uint32_t flags = usb->buffers_done != 0 ? 1u << 4 : 0;

    flags |= (usb->status & STATUS_RESET) != 0 ? 1u << 12 : 0;
    flags |= (usb->status & STATUS_SUSPEND) != 0 ? 1u << 14 : 0;
    flags |= (usb->status & STATUS_RESUME) != 0 ? 1u << 15 : 0;
    flags |= (usb->status & STATUS_SETUP) != 0 ? 1u << 16 : 0;
    return flags & usb->enabled;
}

void usb_update(struct sim *sim)
{
    system_interrupt(sim, USB_IRQ, raised(&sim->chip->usb) != 0);
}

static uint32_t *register_at(struct usb_state *usb, uint32_t offset)
{
    switch (offset) {
    case 0x00:
        return &usb->address;
    case 0x40:
        return &usb->main_control;
    case 0x4C:
        return &usb->sie_control;
    case 0x50:
        return &usb->status;
    case 0x58:
        return &usb->buffers_done;
    case 0x68:
        return &usb->stall_armed;
    case 0x74:
        return &usb->muxing;
    case 0x78:
        return &usb->power;
    case 0x90:
        return &usb->enabled;
    default:
        return NULL;
    }
}

static bool read_registers(struct sim *sim, uint32_t offset, uint32_t *value)
{
    uint32_t *known = register_at(&sim->chip->usb, offset);

    if (offset == 0x98) {
        *value = raised(&sim->chip->usb);
        return true;
    }
    *value = known != NULL ? *known : 0;
    return known != NULL;
}

static void write_status(struct usb_state *usb, uint32_t value)
{
    if ((value & STATUS_RESET) != 0 && usb->suspend_after_reset) {
        usb->suspend_after_reset = false;
        usb->status |= STATUS_SUSPEND;
    }
    usb->status &= ~value; /* ones clear */
}

static bool write_registers(struct sim *sim, uint32_t offset, uint32_t value)
{
    struct usb_state *usb = &sim->chip->usb;
    uint32_t *known = register_at(usb, offset);

    if (known == NULL) {
        return false;
    }
    if (offset == 0x50) {
        write_status(usb, value);
    } else if (offset == 0x58) {
        usb->buffers_done &= ~value;
    } else if (offset == 0x4C) {
        sim->wakeups += (value & SIE_RESUME) != 0;
        usb->sie_control = value & ~SIE_RESUME;
    } else {
        *known = value;
    }
    if (offset == 0x40 && (value & 1u) != 0 && !system_has_usb_clock(sim)) {
        arm_end(sim, "crashed", "USB is started without its clock of 48 MHz");
    }
    usb_update(sim);
    return true;
}

const struct peripheral usb_peripheral = {"USBCTRL", REGISTERS, RESET_USBCTRL, read_registers,
                                          write_registers};

void usb_state_reset(struct sim *sim)
{
    memset(&sim->chip->usb, 0, sizeof sim->chip->usb);
}
