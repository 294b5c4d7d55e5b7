/* usb.c - the USB device controller (sections 21 and 22): cable events and endpoint 0. */
#include "port_atmega32u4.h"

#include <avr/interrupt.h>
#include <avr/io.h>

/* Interrupts only wake the chip; the main loop looks at the flags. What has woken it is
 * masked until the main loop has dealt with it. */
ISR(USB_GEN_vect)
{
    UDIEN = 0;
}

ISR(USB_COM_vect)
{
    uint8_t selected = UENUM;

    UENUM = 0;
    UEIENX = 0;
    UENUM = selected;
}

static void start_pll(void)
{
    PLLCSR = _BV(PINDIV) | _BV(PLLE); /* 16 MHz crystal (section 6.11) */
    while (!(PLLCSR & _BV(PLOCK))) {
    }
}

void uvk_usb_start(struct uvk_port *port)
{
    (void)port;
    UHWCON = _BV(UVREGE);
    USBCON = _BV(USBE) | _BV(FRZCLK);
    start_pll();
    USBCON = _BV(USBE) | _BV(OTGPADE);
    UDCON = 0; /* full speed, attached */
}

void uvk_usb_before_sleep(const struct uvk_port *port)
{
    bool sending = port->control.stage == UVK_SENDING || port->control.stage == UVK_SENDING_ROM;

    UDIEN = _BV(EORSTE) | _BV(SUSPE) | _BV(WAKEUPE);
    UENUM = 0;
    UEIENX = (uint8_t)(_BV(RXSTPE) | _BV(RXOUTE) | (sending ? _BV(TXINE) : 0));
}

/* ---- endpoints -------------------------------------------------------------------- */

#define EP_SIZE_8  0x00
#define EP_SIZE_32 0x20
#define EP_TWO     _BV(EPBK0)
#define EP_IN      (_BV(EPTYPE1) | _BV(EPTYPE0) | _BV(EPDIR)) /* interrupt IN */

static void open_endpoint(uint8_t number, uint8_t type, uint8_t memory)
{
    UENUM = number;
    UECONX = _BV(EPEN);
    UECFG0X = type;
    UECFG1X = (uint8_t)(memory | _BV(ALLOC));
}

/* The host has reset the bus: as after plugging in (USB 2.0, 9.1.1.3). */
static void bus_reset(struct uvk_port *port)
{
    open_endpoint(0, 0, EP_SIZE_8);
    port->control.stage = UVK_IDLE;
    port->control.address = 0;
    port->configuration = 0;
    port->protocol = 1;
    port->may_wake = false;
    port->suspended = false;
    port->halted = 0;
}

/* Called by SET_CONFIGURATION. */
static void open_endpoints(void)
{
    open_endpoint(1, EP_IN, EP_SIZE_8);
    open_endpoint(2, EP_IN, EP_SIZE_32);
    UENUM = 0;
}

/* ---- endpoint 0 ------------------------------------------------------------------- */

static void send_packet(struct uvk_control *control)
{
    uint8_t count = UVK_EP0_SIZE;

    if (control->left < UVK_EP0_SIZE) {
        count = (uint8_t)control->left;
    }
    for (uint8_t i = 0; i < count; i++) {
        UEDATX = control->stage == UVK_SENDING_ROM ? *control->rom++ : *control->ram++;
    }
    control->left = (uint16_t)(control->left - count);
    UEINTX = (uint8_t)~_BV(TXINI);
    /* a full last packet of a short answer is followed by an empty one (USB 2.0, 8.5.3.2) */
    if (control->left == 0 && (count < UVK_EP0_SIZE || !control->finish_short)) {
        control->stage = UVK_IDLE;
    }
}

static void stall(struct uvk_control *control)
{
    UECONX = _BV(EPEN) | _BV(STALLRQ);
    control->stage = UVK_IDLE;
}

/* An empty packet says that the request was carried out. */
static void confirm(struct uvk_control *control)
{
    UEINTX = (uint8_t)~_BV(TXINI);
    control->stage = control->address != 0 ? UVK_CONFIRMING : UVK_IDLE;
}

static void setup_packet(struct uvk_port *port)
{
    struct uvk_control *control = &port->control;
    uint8_t setup[8];
    uint8_t before = port->configuration;

    for (uint8_t i = 0; i < sizeof setup; i++) {
        setup[i] = UEDATX;
    }
    UECONX = _BV(EPEN) | _BV(STALLRQC);
    UEINTX = (uint8_t) ~(_BV(RXSTPI) | _BV(RXOUTI));
    control->stage = UVK_IDLE;
    control->address = 0;
    if (!uvk_usb_request(port, setup)) {
        stall(control);
        return;
    }
    if (port->configuration != 0 && before == 0) {
        open_endpoints();
    }
    if (control->stage == UVK_IDLE) {
        confirm(control);
    } else if (control->stage != UVK_RECEIVING) {
        send_packet(control);
    }
}

/* Data from the host, or its empty packet at the end of an answer. */
static void out_packet(struct uvk_port *port)
{
    struct uvk_control *control = &port->control;

    if (control->stage == UVK_RECEIVING) {
        if (UEBCLX > 0) {
            uvk_usb_received(port, UEDATX);
        }
        UEINTX = (uint8_t)~_BV(RXOUTI);
        confirm(control);
    } else {
        UEINTX = (uint8_t)~_BV(RXOUTI);
        control->stage = UVK_IDLE;
    }
}

static void endpoint_zero(struct uvk_port *port)
{
    struct uvk_control *control = &port->control;

    UENUM = 0;
    if (UEINTX & _BV(RXSTPI)) {
        setup_packet(port);
    } else if (UEINTX & _BV(RXOUTI)) {
        out_packet(port);
    } else if ((UEINTX & _BV(TXINI)) && control->stage != UVK_IDLE &&
               control->stage != UVK_RECEIVING) {
        if (control->stage == UVK_CONFIRMING) {
            UDADDR = (uint8_t)(control->address | _BV(ADDEN));
            control->stage = UVK_IDLE;
        } else {
            send_packet(control);
        }
    }
}

/* ---- the cable -------------------------------------------------------------------- */

static void suspend(struct uvk_port *port)
{
    port->suspended = true;
    USBCON |= _BV(FRZCLK);
    PLLCSR = 0;
}

static void resume(struct uvk_port *port)
{
    start_pll();
    USBCON &= (uint8_t)~_BV(FRZCLK);
    port->suspended = false;
}

/* All flags are taken at once: an event that comes between the reading and the writing,
 * two cycles, would have to be the second one within that time. */
static uint8_t take_events(void)
{
    uint8_t events = UDINT;

    UDINT = 0;
    return events;
}

void uvk_usb_task(struct uvk_port *port)
{
    uint8_t events = take_events();

    if (events & _BV(WAKEUPI)) {
        if (port->suspended) {
            resume(port);
        }
    } else if (events & _BV(SUSPI)) {
        suspend(port);
        return;
    }
    if (events & _BV(EORSTI)) {
        bus_reset(port);
    }
    if (!port->suspended) {
        endpoint_zero(port);
    }
}

/* HID 1.11, 7.2.4: with an idle rate, a report goes out again though nothing changed. */
void uvk_usb_tick(struct uvk_port *port)
{
    for (uint8_t i = 0; i < UVK_INTERFACES; i++) {
        if (port->idle[i] != 0 && ++port->idle_ms[i] >= (uint16_t)(port->idle[i] * 4u)) {
            bool boot = i == 0;
            port->idle_ms[i] = 0;
            if (boot != (port->protocol != 0)) {
                uvk_engine_repeat(port->engine, boot ? UVK_REPORT_BOOT : UVK_REPORT_KEYS);
            }
        }
    }
}

bool uvk_port_send(struct uvk_port *port, uint8_t interface, const uint8_t *report,
                   uint8_t size)
{
    uint8_t endpoint = (uint8_t)(interface + 1u);

    if (port->configuration == 0 || port->suspended || (port->halted & _BV(endpoint))) {
        return false;
    }
    UENUM = endpoint;
    if (!(UEINTX & _BV(TXINI))) {
        return false;
    }
    for (uint8_t i = 0; i < size; i++) {
        UEDATX = report[i];
    }
    UEINTX = (uint8_t) ~(_BV(TXINI) | _BV(FIFOCON));
    port->idle_ms[interface] = 0;
    return true;
}

bool uvk_port_boot_protocol(struct uvk_port *port)
{
    return port->protocol == 0;
}

void uvk_port_wake_host(struct uvk_port *port)
{
    if (port->suspended && port->may_wake) {
        resume(port);
        UDCON |= _BV(RMWKUP);
    }
}
