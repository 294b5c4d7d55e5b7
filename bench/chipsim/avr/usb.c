/* usb.c - the host's side of the cable, packet by packet. */
#include "avr.h"

#include <avr_usb.h>
#include <sim_io.h>
#include <string.h>

#define STEP_CYCLES    (50u * CYCLES_PER_US)     /* between two tries */
#define TIMEOUT_CYCLES (500000u * CYCLES_PER_US) /* of one packet (USB 2.0, 9.2.6.4) */
#define EP0_SIZE       8u

#define UDINT              0xE1u
#define UEINTX             0xE8u
#define UENUM              0xE9u
#define RXSTPI             0x08u
#define SUSPI              0x01u
#define EORSTI             0x08u
#define WAKEUPI            0x10u
#define USB_GENERAL_VECTOR 10u

static void wait(struct sim *sim, unsigned steps)
{
    sim_run(sim, chip_ns(sim) + steps * (uint64_t)(STEP_CYCLES * 1000u / CYCLES_PER_US));
}

/* One packet, tried until the chip takes it. */
static enum transfer packet(struct sim *sim, uint32_t request, uint8_t *bytes, uint32_t *size)
{
    uint64_t end = sim->chip->avr->cycle + TIMEOUT_CYCLES;

    while (sim->chip->avr->cycle < end && !sim->stopped) {
        struct avr_io_usb io = {0, *size, bytes};
        int answer = avr_ioctl(sim->chip->avr, request, &io);
        if (answer == AVR_IOCTL_USB_OK) {
            *size = io.sz;
            return TRANSFER_DONE;
        }
        if (answer == AVR_IOCTL_USB_STALL) {
            return TRANSFER_STALL;
        }
        wait(sim, 1);
    }
    return TRANSFER_TIMEOUT;
}

/* Data from the chip, up to a short packet or what was asked for. */
static enum transfer data_in(struct sim *sim, uint8_t *data, size_t wanted, size_t *size)
{
    *size = 0;
    for (;;) {
        uint32_t count = EP0_SIZE;
        enum transfer result = packet(sim, AVR_IOCTL_USB_READ, data + *size, &count);
        if (result != TRANSFER_DONE) {
            return result;
        }
        *size += count;
        if (count < EP0_SIZE || *size >= wanted) {
            return TRANSFER_DONE;
        }
    }
}

static enum transfer data_out(struct sim *sim, uint8_t *data, size_t size)
{
    for (size_t at = 0; at < size; at += EP0_SIZE) {
        uint32_t count = (uint32_t)(size - at < EP0_SIZE ? size - at : EP0_SIZE);
        enum transfer result = packet(sim, AVR_IOCTL_USB_WRITE, data + at, &count);
        if (result != TRANSFER_DONE) {
            return result;
        }
    }
    return TRANSFER_DONE;
}

/* RXSTPI of endpoint 0 (22.18.2). */
static bool setup_waits(const struct sim *sim)
{
    avr_t *avr = sim->chip->avr;
    uint8_t chosen = avr->data[UENUM];
    uint8_t flags;

    avr->data[UENUM] = 0;
    flags = avr->io[AVR_DATA_TO_IO(UEINTX)].r.c(avr, UEINTX,
                                                avr->io[AVR_DATA_TO_IO(UEINTX)].r.param);
    avr->data[UENUM] = chosen;
    return (flags & RXSTPI) != 0;
}

/* Silicon refuses data until the program has taken the setup packet; the simulator does not. */
static void wait_for_setup(struct sim *sim)
{
    uint64_t end = sim->chip->avr->cycle + TIMEOUT_CYCLES;

    while (setup_waits(sim) && sim->chip->avr->cycle < end && !sim->stopped) {
        wait(sim, 1);
    }
}

enum transfer usb_control(struct sim *sim, const uint8_t setup[8], uint8_t *data, size_t *size)
{
    uint8_t copy[8];
    uint8_t none[EP0_SIZE];
    uint32_t count = sizeof copy;
    size_t wanted = (size_t)setup[6] | (size_t)setup[7] << 8;
    bool in = (setup[0] & 0x80u) != 0;
    enum transfer result;

    memcpy(copy, setup, sizeof copy);
    result = packet(sim, AVR_IOCTL_USB_SETUP, copy, &count);
    wait_for_setup(sim);
    if (result == TRANSFER_DONE && wanted > 0) {
        result = in ? data_in(sim, data, wanted, size) : data_out(sim, data, *size);
    }
    if (result == TRANSFER_DONE) {
        count = in && wanted > 0 ? 0 : EP0_SIZE;
        result = packet(sim, in && wanted > 0 ? AVR_IOCTL_USB_WRITE : AVR_IOCTL_USB_READ, none,
                        &count);
    }
    wait(sim, 1);
    return result;
}

bool usb_poll(struct sim *sim, unsigned endpoint, uint8_t report[64], size_t *size)
{
    struct avr_io_usb io = {(uint8_t)endpoint, 64, report};

    if (avr_ioctl(sim->chip->avr, AVR_IOCTL_USB_READ, &io) != AVR_IOCTL_USB_OK) {
        return false;
    }
    *size = io.sz;
    return true;
}

enum transfer usb_give(struct sim *sim, unsigned endpoint, uint8_t *bytes, size_t size)
{
    struct avr_io_usb io = {(uint8_t)endpoint, (uint32_t)size, bytes};

    switch (avr_ioctl(sim->chip->avr, AVR_IOCTL_USB_WRITE, &io)) {
    case AVR_IOCTL_USB_OK:
        return TRANSFER_DONE;
    case AVR_IOCTL_USB_STALL:
        return TRANSFER_STALL;
    default:
        return TRANSFER_TIMEOUT;
    }
}

/* DETACH is bit 0 of UDCON; the controller is on with USBE, bit 7 of USBCON. */
bool usb_attached(const struct sim *sim)
{
    return (sim->chip->avr->data[0xD8] & 0x80) != 0 && (sim->chip->avr->data[0xE0] & 0x01) == 0;
}

void usb_reset(struct sim *sim)
{
    avr_ioctl(sim->chip->avr, AVR_IOCTL_USB_RESET, NULL);
}

/* Writing 0 clears a flag, writing 1 leaves it (section 22.18); the simulator takes the byte.
 */
static void write_udint(avr_t *avr, avr_io_addr_t address, uint8_t value, void *param)
{
    uint8_t flags = avr->data[address];

    (void)param;
    if (flags != 0) {
        flags |= sim_of(avr)->chip->coming;
        sim_of(avr)->chip->coming = 0;
    }
    avr->data[address] = flags & value;
}

void usb_attach(struct sim *sim)
{
    sim->chip->avr->io[AVR_DATA_TO_IO(UDINT)].w.c = write_udint;
}

static void raise_general(struct sim *sim, uint8_t flag)
{
    sim->chip->avr->data[UDINT] |= flag;
    raise_interrupt(sim, USB_GENERAL_VECTOR);
}

/* The simulator knows neither suspend nor wake-up; the flags are all that a program sees
 * of them. */
void usb_suspend(struct sim *sim, bool suspended)
{
    raise_general(sim, suspended ? SUSPI : WAKEUPI);
}

void usb_reset_then_suspend(struct sim *sim)
{
    sim->chip->coming = SUSPI;
    raise_general(sim, EORSTI);
}
