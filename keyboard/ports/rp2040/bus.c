/* bus.c - the USB device controller (4.1): cable events, and packets of the endpoints. A flag
 * in SIE_STATUS and BUFF_STATUS is cleared by writing 1 to it. */
#include "port_rp2040.h"
#include "registers.h"

/* Where the packets of each IN endpoint stand in the USB memory; endpoint 0 uses one place for
 * both directions, the chip has it so (4.1.2.5). */
static const uint16_t buffers[UVK_ENDPOINTS] = {
    0x100, 0x180, 0x1C0,
#if UVK_USE_LIVE
    0x200, 0x240 /* the latter OUT */
#endif
};

#if UVK_USE_LIVE
#define IN_ENDPOINTS UVK_LIVE_OUT
#else
#define IN_ENDPOINTS UVK_ENDPOINTS
#endif

/* The next packet of an endpoint is DATA1. */
static bool data1[UVK_ENDPOINTS];

#if UVK_USE_LIVE
static bool live_came; /* a packet is in the buffer of the live door */
#endif

static volatile uint8_t *memory(uint32_t offset)
{
    return (volatile uint8_t *)(uintptr_t)(USB_MEMORY + offset);
}

void uvk_bus_start(void)
{
    uvk_unreset(RESET_USBCTRL);
    for (uint32_t offset = 0; offset < USB_MEMORY_SIZE; offset += 4) {
        UVK_REG(USB_MEMORY + offset) = 0;
    }
    UVK_REG(USB_MUXING) = MUXING_TO_PHY | MUXING_SOFTCON;
    UVK_REG(USB_PWR) = PWR_VBUS | PWR_VBUS_OVER;
    UVK_REG(USB_MAIN_CTRL) = MAIN_ENABLE;
    UVK_REG(USB_INTE) = INT_BUFF_STATUS | INT_BUS_RESET | INT_SETUP | INT_SUSPEND | INT_RESUME;
    UVK_REG(NVIC_ISER) = IRQ_USBCTRL;
    UVK_REG(USB_SIE_CTRL) = SIE_EP0_EACH | SIE_PULLUP;
}

void uvk_bus_detach(void)
{
    uvk_unreset(RESET_USBCTRL); /* it may not have been started yet */
    UVK_CLEAR(USB_SIE_CTRL) = SIE_PULLUP;
}

/* ---- endpoints --------------------------------------------------------------------------- */

/* The controller runs from another clock: it must see the rest of the word before it sees that
 * the buffer is its own (4.1.2.5.1). Three of its cycles are eight of ours. */
static void hand_over(uint32_t control, uint32_t word)
{
    UVK_REG(control) = word;
    __asm__ volatile("nop\n nop\n nop\n nop\n nop\n nop\n nop\n nop\n nop\n nop");
    UVK_REG(control) = word | BUFFER_AVAIL;
}

#if UVK_USE_LIVE
/* A packet is wanted. */
static void expect_live(void)
{
    hand_over(USB_OUT_CTRL(UVK_LIVE_OUT),
              (data1[UVK_LIVE_OUT] ? BUFFER_DATA1 : 0) | UVK_DOOR_BYTES);
    data1[UVK_LIVE_OUT] = !data1[UVK_LIVE_OUT];
}

static void open_live(void)
{
    UVK_REG(USB_EP_OUT(UVK_LIVE_OUT)) =
        EP_ENABLE | EP_EACH_BUFFER | EP_INTERRUPT | buffers[UVK_LIVE_OUT];
    data1[UVK_LIVE_OUT] = false;
    live_came = false;
    expect_live();
}

/* A request stays in the buffer until the door can take it. */
static void take_live(struct uvk_usb *usb)
{
    uint8_t bytes[UVK_DOOR_BYTES];
    uint32_t size = UVK_REG(USB_OUT_CTRL(UVK_LIVE_OUT)) & BUFFER_LENGTH;

    if (!live_came || !uvk_live_is_free(usb)) {
        return;
    }
    for (uint32_t i = 0; i < size && i < sizeof bytes; i++) {
        bytes[i] = memory(buffers[UVK_LIVE_OUT])[i];
    }
    live_came = false;
    expect_live();
    uvk_live_came(usb, bytes, (uint8_t)size);
}
#else
static void open_live(void)
{
}
static void take_live(struct uvk_usb *usb)
{
    (void)usb;
}
#endif

void uvk_endpoint_open_all(void)
{
    for (uint32_t endpoint = 1; endpoint < IN_ENDPOINTS; endpoint++) {
        UVK_REG(USB_EP_CTRL(endpoint)) =
            EP_ENABLE | EP_EACH_BUFFER | EP_INTERRUPT | buffers[endpoint];
        UVK_REG(USB_IN_CTRL(endpoint)) = 0;
        data1[endpoint] = false;
    }
    open_live();
}

bool uvk_endpoint_is_free(uint8_t endpoint)
{
    return !(UVK_REG(USB_IN_CTRL(endpoint)) & BUFFER_AVAIL);
}

void uvk_endpoint_put(uint8_t endpoint, uint8_t at, uint8_t byte)
{
    memory(buffers[endpoint])[at] = byte;
}

void uvk_endpoint_send(uint8_t endpoint, uint8_t size)
{
    hand_over(USB_IN_CTRL(endpoint), BUFFER_FULL | (data1[endpoint] ? BUFFER_DATA1 : 0) | size);
    data1[endpoint] = !data1[endpoint];
}

/* Whatever comes on endpoint 0 is one packet, and so DATA1. */
void uvk_endpoint_expect(void)
{
    hand_over(USB_OUT_CTRL(0), BUFFER_DATA1 | UVK_EP0_SIZE);
}

void uvk_endpoint_refuse(void)
{
    UVK_REG(USB_EP_STALL_ARM) = 3; /* both directions (4.1.2.5.2) */
    UVK_REG(USB_IN_CTRL(0)) = BUFFER_STALL;
    UVK_REG(USB_OUT_CTRL(0)) = BUFFER_STALL;
}

void uvk_endpoint_halt(uint8_t endpoint, bool on)
{
    UVK_REG(USB_IN_CTRL(endpoint)) = on ? BUFFER_STALL : 0;
    data1[endpoint] = false;
}

/* ---- what has come ---------------------------------------------------------------------- */

static void take_setup(struct uvk_usb *usb)
{
    struct uvk_setup setup;
    uint8_t *bytes = (uint8_t *)&setup;

    UVK_REG(USB_SIE_STATUS) = STATUS_SETUP;
    for (uint32_t i = 0; i < sizeof setup; i++) {
        bytes[i] = *memory(i);
    }
    /* what waited is void */
    UVK_REG(USB_IN_CTRL(0)) = 0;
    UVK_REG(USB_OUT_CTRL(0)) = 0;
    UVK_REG(USB_BUFF_STATUS) = 3;
    data1[0] = true;
    uvk_usb_setup(usb, &setup);
}

#define LIVE_OUT_DONE (2u << 2u * UVK_LIVE_OUT)

/* A bit for each buffer that the controller has given back: IN of endpoint 0, OUT, IN of 1...
 */
static void take_buffers(struct uvk_usb *usb)
{
    uint32_t done = UVK_REG(USB_BUFF_STATUS);

    UVK_REG(USB_BUFF_STATUS) = done;
    if (done & 1u) {
        uvk_usb_sent(usb);
    }
#if UVK_USE_LIVE
    live_came = live_came || (done & LIVE_OUT_DONE) != 0;
#endif
    if (done & 2u) {
        uvk_usb_received(usb, *memory(buffers[0]),
                         (uint8_t)(UVK_REG(USB_OUT_CTRL(0)) & BUFFER_LENGTH));
    }
}

static void take_reset(struct uvk_usb *usb)
{
    UVK_REG(USB_SIE_STATUS) = STATUS_RESET;
    UVK_REG(USB_ADDR_ENDP) = 0;
    uvk_usb_resume(usb);
    uvk_usb_reset(usb);
}

/* Each flag is cleared before it is worked on: what comes meanwhile is seen the next time. */
void uvk_bus_task(struct uvk_usb *usb)
{
    uint32_t events = UVK_REG(USB_INTS);

    UVK_REG(NVIC_ICPR) = IRQ_USBCTRL;
    if (events & INT_BUS_RESET) {
        take_reset(usb);
    }
    if (events & INT_RESUME) {
        UVK_REG(USB_SIE_STATUS) = STATUS_RESUME;
        uvk_usb_resume(usb);
    } else if (events & INT_SUSPEND) {
        UVK_REG(USB_SIE_STATUS) = STATUS_SUSPEND;
        uvk_usb_suspend(usb);
    }
    if (events & INT_BUFF_STATUS) {
        take_buffers(usb);
    }
    if (events & INT_SETUP) {
        take_setup(usb);
    }
    take_live(usb);
}

/* ---- the bus ---------------------------------------------------------------------------- */

void uvk_bus_take_address(uint8_t address)
{
    UVK_REG(USB_ADDR_ENDP) = address;
}

void uvk_bus_suspend(void)
{
    uvk_clock_slow();
#if UVK_USE_LINK
    uvk_link_clock(UVK_CLOCK_SLOW);
#endif
    uvk_lights_clock(UVK_CLOCK_SLOW);
}

void uvk_bus_resume(void)
{
    uvk_clock_fast();
#if UVK_USE_LINK
    uvk_link_clock(UVK_CLOCK_FAST);
#endif
    uvk_lights_clock(UVK_CLOCK_FAST);
}

void uvk_bus_wake_host(void)
{
    UVK_SET(USB_SIE_CTRL) = SIE_RESUME;
}
