/* usb.c - the device on the bus: endpoint 0 packet by packet, reports, idle, suspend. */
#include "uvrek/usb.h"

#include <string.h>

/* As after plugging in (USB 2.0, 9.1.1.3). */
void uvk_usb_reset(struct uvk_usb *usb)
{
    const size_t kept = offsetof(struct uvk_usb, stage);

    memset((uint8_t *)usb + kept, 0, sizeof *usb - kept);
    usb->protocol = 1;
#if UVK_USE_LIVE
    uvk_door_close(uvk_usb_engine(usb));
#endif
}

/* ---- endpoint 0 ------------------------------------------------------------------------- */

static void send_packet(struct uvk_usb *usb)
{
    uint8_t count = usb->left < UVK_EP0_SIZE ? (uint8_t)usb->left : UVK_EP0_SIZE;

    for (uint8_t at = 0; at < count; at++) {
        uvk_endpoint_put(0, at, usb->stage == UVK_SENDING_ROM ? *usb->rom++ : *usb->ram++);
    }
    usb->left = (uint16_t)(usb->left - count);
    /* a full last packet of a short answer is followed by an empty one (USB 2.0, 8.5.3.2) */
    if (usb->left == 0 && (count < UVK_EP0_SIZE || !usb->ends_short)) {
        usb->stage = UVK_CONTROL_IDLE;
    }
    uvk_endpoint_send(0, count);
}

/* An empty packet says that the request was carried out. */
static void confirm(struct uvk_usb *usb)
{
    usb->stage = UVK_CONFIRMING;
    uvk_endpoint_send(0, 0);
}

void uvk_usb_setup(struct uvk_usb *usb, const struct uvk_setup *setup)
{
    usb->stage = UVK_CONTROL_IDLE;
    usb->address = 0;
    if (!uvk_usb_request(usb, setup)) {
        uvk_endpoint_refuse();
        return;
    }
    if (usb->stage == UVK_CONTROL_IDLE) {
        confirm(usb);
        return;
    }
    uvk_endpoint_expect();
    if (usb->stage != UVK_RECEIVING) {
        send_packet(usb);
    }
}

/* Data of SET_REPORT, or the host's empty packet at the end of an answer. */
void uvk_usb_received(struct uvk_usb *usb, uint8_t byte, uint8_t size)
{
    if (usb->stage != UVK_RECEIVING) {
        usb->stage = UVK_CONTROL_IDLE;
        return;
    }
    if (size > 0) {
        usb->lamps = byte;
    }
    confirm(usb);
}

void uvk_usb_sent(struct uvk_usb *usb)
{
    if (usb->stage == UVK_CONFIRMING) {
        usb->stage = UVK_CONTROL_IDLE;
        if (usb->address != 0) {
            uvk_bus_take_address(usb->address);
        }
    } else if (uvk_usb_is_sending(usb)) {
        send_packet(usb);
    }
}

/* ---- reports ---------------------------------------------------------------------------- */

/* HID 1.11, 7.2.4: with an idle rate, a report goes out again though nothing changed. */
void uvk_usb_tick(struct uvk_usb *usb)
{
    for (uint8_t i = 0; i < UVK_INTERFACES; i++) {
        if (usb->idle[i] != 0 && ++usb->idle_ms[i] >= (uint16_t)(usb->idle[i] * 4u)) {
            bool boot = i == 0;
            usb->idle_ms[i] = 0;
            if (boot != (usb->protocol != 0)) {
                uvk_engine_repeat(uvk_usb_engine(usb),
                                  boot ? UVK_REPORT_BOOT : UVK_REPORT_KEYS);
            }
        }
    }
}

bool uvk_usb_can_send(const struct uvk_usb *usb, uint8_t interface)
{
    uint8_t endpoint = (uint8_t)(interface + 1u);

    return usb->configuration != 0 && !usb->suspended && !usb->halted[endpoint] &&
           uvk_endpoint_is_free(endpoint);
}

bool uvk_usb_send(struct uvk_usb *usb, uint8_t interface, const uint8_t *report, uint8_t size)
{
    uint8_t endpoint = (uint8_t)(interface + 1u);

    if (!uvk_usb_can_send(usb, interface)) {
        return false;
    }
    for (uint8_t at = 0; at < size; at++) {
        uvk_endpoint_put(endpoint, at, report[at]);
    }
    uvk_endpoint_send(endpoint, size);
    usb->idle_ms[interface] = 0;
    return true;
}

/* ---- sleep ------------------------------------------------------------------------------ */

void uvk_usb_suspend(struct uvk_usb *usb)
{
    if (uvk_pair_may_sleep(usb)) {
        usb->suspended = true;
        uvk_bus_suspend();
    }
}

void uvk_usb_resume(struct uvk_usb *usb)
{
    if (usb->suspended) {
        uvk_bus_resume();
        usb->suspended = false;
    }
}

void uvk_usb_wake_host(struct uvk_usb *usb)
{
    if (usb->suspended && usb->may_wake) {
        uvk_usb_resume(usb);
        uvk_bus_wake_host();
    }
}
