/* host.c - the host at the other end of the cable, packet by packet. */
#include "usb.h"

#include <string.h>

#define LEAST_EP0 8u /* USB 2.0, 5.5.3 */
#define MOST_EP0  64u

#define STEP_NS    50000u     /* between two tries */
#define TIMEOUT_NS 500000000u /* of one packet (USB 2.0, 9.2.6.4) */

bool usb_attached(const struct sim *sim)
{
    const struct usb_state *usb = &sim->chip->usb;

    return !usb_in_reset(sim) && (usb->main_control & 1u) != 0 &&
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
    usb_update(sim);
}

void usb_suspend(struct sim *sim, bool suspended)
{
    sim->chip->usb.status |= suspended ? STATUS_SUSPEND : STATUS_RESUME;
    usb_update(sim);
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
    uint32_t control = usb_word(sim, IN_CTRL(endpoint));
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
    usb_set_word(sim, IN_CTRL(endpoint), control & ~(AVAILABLE | FULL));
    usb->buffers_done |= 1u << 2 * endpoint;
    usb_update(sim);
    return PACKET_TAKEN;
}

/* An OUT token: what the host has for the chip, whose buffer is at BUFFER. What comes on
 * endpoint 0 is always DATA1 here: there is no transfer of more than one packet. */
static enum packet give(struct sim *sim, unsigned endpoint, uint32_t buffer,
                        const uint8_t *bytes, size_t size)
{
    struct usb_state *usb = &sim->chip->usb;
    uint32_t control = usb_word(sim, OUT_CTRL(endpoint));
    bool armed = endpoint != 0 || (usb->stall_armed & 2u) != 0;
    bool data1 = endpoint == 0 || (usb->host_out1 >> endpoint & 1u) != 0;

    if ((control & STALL) != 0 && armed) {
        return PACKET_STALL;
    }
    if ((control & AVAILABLE) == 0 || (control & FULL) != 0 || (control & LENGTH) < size) {
        return PACKET_NAK;
    }
    if (((control & DATA1) != 0) != data1) {
        arm_end(sim, "crashed", "endpoint %u waits for DATA%d where the host sends DATA%d",
                endpoint, !data1, data1);
        return PACKET_NAK;
    }
    memcpy(&usb->memory[buffer], bytes, size);
    usb_set_word(sim, OUT_CTRL(endpoint),
                 (control & ~(AVAILABLE | LENGTH)) | FULL | (uint32_t)size);
    usb->buffers_done |= 2u << 2 * endpoint;
    usb->host_out1 ^= (uint16_t)(1u << endpoint);
    usb_update(sim);
    return PACKET_TAKEN;
}

static void wait(struct sim *sim)
{
    sim_run(sim, chip_ns(sim) + STEP_NS);
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
        enum packet packet = give(sim, 0, EP0_BUFFER, bytes, size);
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
        usb->host_out1 = 0;
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
    usb_update(sim);
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
    uint32_t control = usb_word(sim, 8u * endpoint);

    return usb_attached(sim) && (control & EP_ENABLE) != 0 &&
           fetch(sim, endpoint, control & BUFFER_AT, report, size) == PACKET_TAKEN;
}

/* The control word of an OUT endpoint stands behind that of IN. */
enum transfer usb_give(struct sim *sim, unsigned endpoint, uint8_t *bytes, size_t size)
{
    uint32_t control = usb_word(sim, 8u * endpoint + 4u);

    if (!usb_attached(sim) || (control & EP_ENABLE) == 0) {
        return TRANSFER_TIMEOUT;
    }
    switch (give(sim, endpoint, control & BUFFER_AT, bytes, size)) {
    case PACKET_TAKEN:
        return TRANSFER_DONE;
    case PACKET_STALL:
        return TRANSFER_STALL;
    default:
        return TRANSFER_TIMEOUT;
    }
}
