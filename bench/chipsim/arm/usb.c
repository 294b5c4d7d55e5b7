/* usb.c - the USB device controller (4.1), and the host at the other end of its cable. */
#include "arm.h"

#include <string.h>

#define REGISTERS     0x50110000u
#define RESET_USBCTRL 24u
#define USB_IRQ       5u

#define IN_CTRL(n)  (0x80u + 8u * (n))
#define OUT_CTRL(n) (0x84u + 8u * (n))
#define EP0_BUFFER  0x100u
#define FULL        (1u << 15)
#define DATA1       (1u << 13)
#define STALL       (1u << 11)
#define AVAILABLE   (1u << 10)
#define LENGTH      0x3FFu
#define EP_ENABLE   (1u << 31)
#define BUFFER_AT   0xFFC0u

#define STATUS_RESET   (1u << 19)
#define STATUS_SETUP   (1u << 17)
#define STATUS_RESUME  (1u << 11)
#define STATUS_SUSPEND (1u << 4)
#define SIE_PULLUP     (1u << 16)
#define SIE_RESUME     (1u << 12)
#define EP0_BOTH       3u
#define LEAST_EP0      8u /* USB 2.0, 5.5.3 */
#define MOST_EP0       64u

#define STEP_NS    50000u     /* between two tries */
#define TIMEOUT_NS 500000000u /* of one packet (USB 2.0, 9.2.6.4) */

/* ---- memory
 * ---------------------------------------------------------------------------------- */

static bool in_reset(const struct sim *sim)
{
    return (sim->chip->in_reset >> RESET_USBCTRL & 1u) != 0;
}

static uint32_t word(const struct sim *sim, uint32_t at)
{
    const uint8_t *bytes = &sim->chip->usb.memory[at];

    return bytes[0] | (uint32_t)bytes[1] << 8 | (uint32_t)bytes[2] << 16 |
           (uint32_t)bytes[3] << 24;
}

static void set_word(struct sim *sim, uint32_t at, uint32_t value)
{
    for (unsigned i = 0; i < 4; i++) {
        sim->chip->usb.memory[at + i] = (uint8_t)(value >> 8 * i);
    }
}

bool usb_read_memory(struct sim *sim, uint32_t offset, unsigned size, uint32_t *value)
{
    if (in_reset(sim) || offset + size > sizeof sim->chip->usb.memory) {
        return false;
    }
    *value = 0;
    memcpy(value, &sim->chip->usb.memory[offset], size);
    return true;
}

/* The controller sees AVAILABLE before it sees what was written with it (4.1.2.5.1). */
static bool is_handed_over_well(const struct sim *sim, uint32_t offset, uint32_t value)
{
    uint32_t before = word(sim, offset);

    return (value & AVAILABLE) == 0 || (before & AVAILABLE) != 0 ||
           (before | AVAILABLE) == value;
}

bool usb_write_memory(struct sim *sim, uint32_t offset, unsigned size, uint32_t value)
{
    bool control = offset >= 0x80u && offset < 0x100u;

    if (in_reset(sim) || offset + size > sizeof sim->chip->usb.memory) {
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

static void update(struct sim *sim)
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
    update(sim);
    return true;
}

const struct peripheral usb_peripheral = {"USBCTRL", REGISTERS, RESET_USBCTRL, read_registers,
                                          write_registers};

void usb_state_reset(struct sim *sim)
{
    memset(&sim->chip->usb, 0, sizeof sim->chip->usb);
}

/* ---- the host
 * ------------------------------------------------------------------------------------ */

bool usb_attached(const struct sim *sim)
{
    const struct usb_state *usb = &sim->chip->usb;

    return !in_reset(sim) && (usb->main_control & 1u) != 0 &&
           (usb->sie_control & SIE_PULLUP) != 0 && (usb->muxing & 9u) == 9u &&
           (usb->power & 0xCu) == 0xCu;
}

void usb_reset(struct sim *sim)
{
    struct usb_state *usb = &sim->chip->usb;

    usb->status |= STATUS_RESET;
    usb->host_address = 0;
    usb->host_data1 = 0;
    usb->ep0_size = LEAST_EP0;
    update(sim);
}

void usb_suspend(struct sim *sim, bool suspended)
{
    sim->chip->usb.status |= suspended ? STATUS_SUSPEND : STATUS_RESUME;
    update(sim);
}

void usb_reset_then_suspend(struct sim *sim)
{
    sim->chip->usb.suspend_after_reset = true;
    usb_reset(sim);
}

enum packet { PACKET_TAKEN, PACKET_NAK, PACKET_STALL };

/* An IN token: what the chip has for the host. The data toggle has to be the one that the host
 * waits for, or the packet would be taken for one that was sent again (USB 2.0, 8.6). */
static enum packet fetch(struct sim *sim, unsigned endpoint, uint32_t buffer, uint8_t *bytes,
                         size_t *size)
{
    struct usb_state *usb = &sim->chip->usb;
    uint32_t control = word(sim, IN_CTRL(endpoint));
    bool armed = endpoint != 0 || (usb->stall_armed & 1u) != 0;

    if ((control & STALL) != 0 && armed) {
        return PACKET_STALL;
    }
    if ((control & AVAILABLE) == 0) {
        return PACKET_NAK;
    }
    *size = control & LENGTH;
    if ((control & FULL) == 0 || *size > MOST_EP0) {
        arm_end(sim, "crashed", "a USB buffer is handed over empty, or too long");
        return PACKET_NAK;
    }
    if (((control & DATA1) != 0) != ((usb->host_data1 >> endpoint & 1u) != 0)) {
        arm_end(sim, "crashed", "endpoint %u sends DATA%d where the host waits for the other",
                endpoint, (control & DATA1) != 0);
        return PACKET_NAK;
    }
    usb->host_data1 ^= (uint16_t)(1u << endpoint);
    memcpy(bytes, &usb->memory[buffer], *size);
    set_word(sim, IN_CTRL(endpoint), control & ~(AVAILABLE | FULL));
    usb->buffers_done |= 1u << 2 * endpoint;
    update(sim);
    return PACKET_TAKEN;
}

/* An OUT token on endpoint 0, always DATA1 here: there is no transfer of more than one packet.
 */
static enum packet give(struct sim *sim, const uint8_t *bytes, size_t size)
{
    struct usb_state *usb = &sim->chip->usb;
    uint32_t control = word(sim, OUT_CTRL(0));

    if ((control & STALL) != 0 && (usb->stall_armed & 2u) != 0) {
        return PACKET_STALL;
    }
    if ((control & AVAILABLE) == 0 || (control & FULL) != 0 || (control & LENGTH) < size) {
        return PACKET_NAK;
    }
    if ((control & DATA1) == 0) {
        arm_end(sim, "crashed", "endpoint 0 waits for DATA0 where the host sends DATA1");
        return PACKET_NAK;
    }
    memcpy(&usb->memory[EP0_BUFFER], bytes, size);
    set_word(sim, OUT_CTRL(0), (control & ~(AVAILABLE | LENGTH)) | FULL | (uint32_t)size);
    usb->buffers_done |= 2u;
    update(sim);
    return PACKET_TAKEN;
}

static void wait(struct sim *sim)
{
    chip_run(sim, chip_ns(sim) + STEP_NS);
}

static enum transfer fetch_until_taken(struct sim *sim, uint8_t *bytes, size_t *size)
{
    uint64_t end = chip_ns(sim) + TIMEOUT_NS;

    while (chip_ns(sim) < end && !sim->stopped) {
        enum packet packet = fetch(sim, 0, EP0_BUFFER, bytes, size);
        if (packet != PACKET_NAK) {
            return packet == PACKET_STALL ? TRANSFER_STALL : TRANSFER_DONE;
        }
        wait(sim);
    }
    return TRANSFER_TIMEOUT;
}

static enum transfer give_until_taken(struct sim *sim, const uint8_t *bytes, size_t size)
{
    uint64_t end = chip_ns(sim) + TIMEOUT_NS;

    while (chip_ns(sim) < end && !sim->stopped) {
        enum packet packet = give(sim, bytes, size);
        if (packet != PACKET_NAK) {
            return packet == PACKET_STALL ? TRANSFER_STALL : TRANSFER_DONE;
        }
        wait(sim);
    }
    return TRANSFER_TIMEOUT;
}

static enum transfer data_in(struct sim *sim, uint8_t *data, size_t wanted, size_t *size)
{
    *size = 0;
    for (;;) {
        uint8_t packet[MOST_EP0];
        size_t count;
        enum transfer result = fetch_until_taken(sim, packet, &count);
        if (result != TRANSFER_DONE) {
            return result;
        }
        count = count < DATA_MAX - *size ? count : DATA_MAX - *size;
        memcpy(data + *size, packet, count);
        *size += count;
        if (count < sim->chip->usb.ep0_size || *size >= wanted) {
            return TRANSFER_DONE;
        }
    }
}

/* Endpoints begin anew with DATA0 (USB 2.0, 9.1.1.5 and 9.4.5). */
static void follow(struct sim *sim, const uint8_t setup[8], const uint8_t *data, size_t size)
{
    struct usb_state *usb = &sim->chip->usb;

    if (setup[0] == 0x00 && setup[1] == 5) {
        usb->host_address = setup[2];
    } else if (setup[0] == 0x80 && setup[1] == 6 && setup[3] == 1 && size >= 8) {
        usb->ep0_size = data[7]; /* of a device descriptor */
    } else if (setup[0] == 0x00 && setup[1] == 9) {
        usb->host_data1 = 0;
    } else if (setup[0] == 0x02 && setup[1] == 1) {
        usb->host_data1 &= (uint16_t) ~(1u << (setup[4] & 0xFu));
    }
}

enum transfer usb_control(struct sim *sim, const uint8_t setup[8], uint8_t *data, size_t *size)
{
    struct usb_state *usb = &sim->chip->usb;
    size_t wanted = (size_t)setup[6] | (size_t)setup[7] << 8;
    bool in = (setup[0] & 0x80u) != 0 && wanted > 0;
    uint8_t none[MOST_EP0];
    size_t count;
    enum transfer result = TRANSFER_DONE;

    if (!usb_attached(sim) || usb->address != usb->host_address) {
        return TRANSFER_TIMEOUT; /* it answers to nobody, or to another address */
    }
    memcpy(usb->memory, setup, 8);
    usb->status |= STATUS_SETUP;
    usb->stall_armed = 0;
    usb->host_data1 |= 1u;
    update(sim);
    wait(sim);
    if (in) {
        result = data_in(sim, data, wanted, size);
    } else if (wanted > 0) {
        result = give_until_taken(sim, data, *size);
    }
    if (result == TRANSFER_DONE) {
        usb->host_data1 |= 1u;
        result = in ? give_until_taken(sim, none, 0) : fetch_until_taken(sim, none, &count);
    }
    if (result == TRANSFER_DONE) {
        follow(sim, setup, data, in ? *size : 0);
    }
    wait(sim);
    return result;
}

bool usb_poll(struct sim *sim, unsigned endpoint, uint8_t report[64], size_t *size)
{
    uint32_t control = word(sim, 8u * endpoint);

    return usb_attached(sim) && (control & EP_ENABLE) != 0 &&
           fetch(sim, endpoint, control & BUFFER_AT, report, size) == PACKET_TAKEN;
}
