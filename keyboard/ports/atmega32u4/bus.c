/* bus.c - the USB device controller (sections 21 and 22): cable events, and packets of the
 * endpoints. A flag is cleared by writing 0 to it; those written as 1 stay. */
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
#if UVK_USE_LIVE
    UENUM = UVK_LIVE_OUT;
    UEIENX = 0;
#endif
    UENUM = selected;
}

static void start_pll(void)
{
    PLLCSR = _BV(PINDIV) | _BV(PLLE); /* 16 MHz crystal (section 6.11) */
    while (!(PLLCSR & _BV(PLOCK))) {
    }
}

void uvk_bus_start(void)
{
    UHWCON = _BV(UVREGE);
    USBCON = _BV(USBE) | _BV(FRZCLK);
    start_pll();
    USBCON = _BV(USBE) | _BV(OTGPADE);
    UDCON = 0; /* full speed, attached */
}

void uvk_bus_before_sleep(const struct uvk_usb *usb)
{
    UDIEN = _BV(EORSTE) | _BV(SUSPE) | _BV(WAKEUPE);
    UENUM = 0;
    UEIENX = (uint8_t)(_BV(RXSTPE) | _BV(RXOUTE) | (uvk_usb_is_sending(usb) ? _BV(TXINE) : 0));
#if UVK_USE_LIVE
    UENUM = UVK_LIVE_OUT;
    UEIENX = uvk_live_is_free(usb) ? _BV(RXOUTE) : 0;
#endif
}

/* ---- endpoints -------------------------------------------------------------------- */

#define EP_SIZE_8  0x00
#define EP_SIZE_32 0x20
#define EP_OUT     (_BV(EPTYPE1) | _BV(EPTYPE0)) /* interrupt OUT */
#define EP_IN      (EP_OUT | _BV(EPDIR))

static UVK_ONE_COPY void open_endpoint(uint8_t number, uint8_t type, uint8_t memory)
{
    UENUM = number;
    UECONX = _BV(EPEN) | _BV(RSTDT);
    UECFG0X = type;
    UECFG1X = (uint8_t)(memory | _BV(ALLOC));
}

void uvk_endpoint_open_all(void)
{
    open_endpoint(1, EP_IN, EP_SIZE_8);
    open_endpoint(2, EP_IN, EP_SIZE_32);
#if UVK_USE_LIVE
    open_endpoint(UVK_LIVE_IN, EP_IN, EP_SIZE_32);
    open_endpoint(UVK_LIVE_OUT, EP_OUT, EP_SIZE_32);
#endif
}

bool uvk_endpoint_is_free(uint8_t endpoint)
{
    UENUM = endpoint;
    return (UEINTX & _BV(TXINI)) != 0;
}

/* The endpoint was selected by uvk_endpoint_is_free, or is 0. */
void uvk_endpoint_put(uint8_t endpoint, uint8_t at, uint8_t byte)
{
    (void)endpoint;
    (void)at;
    UEDATX = byte;
}

/* FIFOCON hands over the bank of an IN endpoint; endpoint 0 has no use for it (22.12). */
void uvk_endpoint_send(uint8_t endpoint, uint8_t size)
{
    (void)size;
    UENUM = endpoint;
    UEINTX = (uint8_t) ~(_BV(TXINI) | _BV(FIFOCON));
}

/* The controller takes a packet of the host whenever its bank is free. */
void uvk_endpoint_expect(void)
{
}

/* Endpoint 0 is selected: a request that is refused has touched no other. */
void uvk_endpoint_refuse(void)
{
    UECONX = _BV(EPEN) | _BV(STALLRQ);
}

void uvk_endpoint_halt(uint8_t endpoint, bool on)
{
    UENUM = endpoint;
    UECONX = (uint8_t)(_BV(EPEN) | (on ? _BV(STALLRQ) : _BV(STALLRQC) | _BV(RSTDT)));
}

static void take_setup(struct uvk_usb *usb)
{
    struct uvk_setup setup;
    uint8_t *bytes = (uint8_t *)&setup;

    for (uint8_t i = 0; i < sizeof setup; i++) {
        bytes[i] = UEDATX;
    }
    UECONX = _BV(EPEN) | _BV(STALLRQC);
    UEINTX = (uint8_t) ~(_BV(RXSTPI) | _BV(RXOUTI));
    uvk_usb_setup(usb, &setup);
}

/* The empty packet at the end of an answer is not read: by now a setup packet may stand in its
 * place (22.12), and would lose its first byte. */
static void take_packet(struct uvk_usb *usb)
{
    uint8_t size = usb->stage == UVK_RECEIVING ? UEBCLX : 0;
    uint8_t byte = size > 0 ? UEDATX : 0;

    UEINTX = (uint8_t)~_BV(RXOUTI);
    uvk_usb_received(usb, byte, size);
}

static void endpoint_zero(struct uvk_usb *usb)
{
    UENUM = 0;
    if (UEINTX & _BV(RXSTPI)) {
        take_setup(usb);
    } else if (UEINTX & _BV(RXOUTI)) {
        take_packet(usb);
    } else if (UEINTX & _BV(TXINI)) {
        uvk_usb_sent(usb);
    }
}

#if UVK_USE_LIVE
/* A request stays in the endpoint until the door can take it. */
static void live_endpoint(struct uvk_usb *usb)
{
    uint8_t bytes[UVK_DOOR_BYTES];
    uint8_t size;

    UENUM = UVK_LIVE_OUT;
    if (!(UEINTX & _BV(RXOUTI)) || !uvk_live_is_free(usb)) {
        return;
    }
    size = UEBCLX;
    for (uint8_t i = 0; i < size && i < sizeof bytes; i++) {
        bytes[i] = UEDATX;
    }
    UEINTX = (uint8_t) ~(_BV(RXOUTI) | _BV(FIFOCON));
    uvk_live_came(usb, bytes, size);
}
#else
static void live_endpoint(struct uvk_usb *usb)
{
    (void)usb;
}
#endif

/* ---- the bus ---------------------------------------------------------------------- */

void uvk_bus_take_address(uint8_t address)
{
    UDADDR = address; /* the two not at once (22.7) */
    UDADDR = (uint8_t)(address | _BV(ADDEN));
}

void uvk_bus_suspend(void)
{
    USBCON |= _BV(FRZCLK);
    PLLCSR = 0;
}

void uvk_bus_resume(void)
{
    start_pll();
    USBCON &= (uint8_t)~_BV(FRZCLK);
}

void uvk_bus_wake_host(void)
{
    UDCON |= _BV(RMWKUP);
}

void uvk_bus_task(struct uvk_usb *usb)
{
    uint8_t events = UDINT;

    UDINT = (uint8_t)~events; /* what comes in between stays for the next time */
    if (events & _BV(WAKEUPI)) {
        uvk_usb_resume(usb);
    } else if (events & _BV(SUSPI)) {
        uvk_usb_suspend(usb);
        return;
    }
    if (events & _BV(EORSTI)) {
        open_endpoint(0, 0, EP_SIZE_8);
        uvk_usb_reset(usb);
    }
    if (!usb->suspended) {
        endpoint_zero(usb);
        live_endpoint(usb);
    }
}
