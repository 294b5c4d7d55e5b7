/* usb.h - a keyboard as a USB device, apart from the chip's USB controller.
 *
 * 1. The room keyboard/usb/ does what the standards say a device does: USB 2.0, chapter 9
 *    (requests, descriptors, address, configuration) and 7.1.7 (suspend, remote wake-up), HID
 *    1.11, chapter 7 (reports, idle, protocol). It does so once for all chips.
 * 2. A port moves packets. It tells the room what has come (uvk_usb_setup and its neighbours),
 * and gives it the controller in the functions uvk_endpoint_ and uvk_bus_ below; they are bound
 * when the firmware is linked. A chip has one controller, so those take no object.
 * 3. All calls, both ways, are from one thread: the port's main loop. None waits for the host.
 * 4. Endpoint 0 is the control pipe, endpoint 1 the boot keyboard's IN, endpoint 2 the IN of
 * all the rest. Interface N is on endpoint N + 1. With a live door (door.h) there is a third
 * interface, with an endpoint OUT as well, number 4.
 * 5. Data toggles are the port's: what goes out on endpoint 0 after a SETUP begins with DATA1,
 * every other endpoint begins with DATA0 when it is opened, and when its halt is lifted
 * (9.4.5).
 */
#ifndef UVREK_USB_H
#define UVREK_USB_H

#include "uvrek/engine.h"
#include "uvrek/journal.h"

#ifdef __cplusplus
extern "C" {
#endif

/* Bytes of the longest packet of each endpoint (USB 2.0, 5.5.3 and 5.7.3). */
#define UVK_EP0_SIZE 8u
#define UVK_EP1_SIZE 8u
#define UVK_EP2_SIZE 32u
#if UVK_USE_LIVE
#define UVK_ENDPOINTS      5u
#define UVK_USB_INTERFACES 3u
#else
#define UVK_ENDPOINTS      3u
#define UVK_USB_INTERFACES UVK_INTERFACES
#endif

/* A SETUP packet as it comes on the wire (USB 2.0, 9.3), low byte first. */
struct uvk_setup {
    uint8_t type, code; /* bmRequestType, bRequest */
    uint8_t value_low, value_high;
    uint8_t index, index_high; /* interface or endpoint; below 256 here */
    uint16_t length;
};
#if defined __BYTE_ORDER__ && __BYTE_ORDER__ != __ORDER_LITTLE_ENDIAN__
#error "struct uvk_setup is as the wire has it: this needs a chip with the low byte first"
#endif

/* A control transfer under way (USB 2.0, 8.5.3). */
enum uvk_stage {
    UVK_CONTROL_IDLE,
    UVK_RECEIVING,   /* waits for the host's data */
    UVK_SENDING,     /* an answer in RAM; from here on something goes out */
    UVK_SENDING_ROM, /* an answer in ROM */
    UVK_CONFIRMING   /* the empty packet that ends it */
};

/* A device on the bus. The port sets ENGINE, which has been started, and JOURNAL, and all else
 * to 0 before it attaches; then all of it is the room's own. */
struct uvk_usb {
    struct uvk_engine *engine;
#if UVK_USE_JOURNAL
    struct uvk_journal *journal; /* what it keeps; NULL: nothing */
    uint16_t quiet;              /* ms without a key being down, up to a second */
#endif
    enum uvk_stage stage;
    bool ends_short; /* the answer is shorter than asked for: end it with a short packet */
    uint16_t left;   /* bytes of the answer */
    uvk_image_bytes rom;
    const uint8_t *ram;
    uint8_t address;                      /* takes effect when confirmed; 0: none */
    uint8_t configuration;                /* 0: not configured */
    uint8_t protocol;                     /* of interface 0: 0 boot, 1 report */
    uint8_t idle[UVK_USB_INTERFACES];     /* in 4 ms, 0: only when something changes */
    uint16_t idle_ms[UVK_USB_INTERFACES]; /* since the last report */
    uint8_t lamps;                        /* see uvk_port_lamps */
    bool halted[UVK_ENDPOINTS];           /* by the host */
    bool may_wake;                        /* the host allows remote wake-up */
    bool suspended;
    uint8_t answer[UVK_REPORT_MAX]; /* small answers */
};

static inline struct uvk_engine *uvk_usb_engine(const struct uvk_usb *usb)
{
#if !__STDC_HOSTED__
    (void)usb;
    return &uvk_keyboard; /* it is no other */
#else
    return usb->engine;
#endif
}

/* ---- what the port tells the room ------------------------------------------------------- */

/* The host has reset the bus. The port has opened endpoint 0 again. */
void uvk_usb_reset(struct uvk_usb *usb);

/* A SETUP packet has come on endpoint 0, where what waited to go out is void. */
void uvk_usb_setup(struct uvk_usb *usb, const struct uvk_setup *setup);

/* A packet of SIZE bytes has come on endpoint 0; BYTE is its first one, if there is any. */
void uvk_usb_received(struct uvk_usb *usb, uint8_t byte, uint8_t size);

/* The packet that went out last on endpoint 0 has been fetched. */
void uvk_usb_sent(struct uvk_usb *usb);

/* The bus has been idle for 3 ms, or is not any more. */
void uvk_usb_suspend(struct uvk_usb *usb);
void uvk_usb_resume(struct uvk_usb *usb);

/* A millisecond has passed. */
void uvk_usb_tick(struct uvk_usb *usb);

/* ---- what the port's own functions (port.h) are made of --------------------------------- */

/* Would a report of INTERFACE be taken now? And: as uvk_port_send. */
bool uvk_usb_can_send(const struct uvk_usb *usb, uint8_t interface);
bool uvk_usb_send(struct uvk_usb *usb, uint8_t interface, const uint8_t *report, uint8_t size);

/* As uvk_port_wake_host. */
void uvk_usb_wake_host(struct uvk_usb *usb);

/* Is an answer on its way? Then the port is to be woken when a packet has been fetched. */
static inline bool uvk_usb_is_sending(const struct uvk_usb *usb)
{
    return usb->stage >= UVK_SENDING;
}

/* ---- what is kept ------------------------------------------------------------------------ */

#if UVK_USE_JOURNAL
/* The journal has been opened, and live changes are in force: what it kept of the lights is so
 * again. */
void uvk_kept_start(struct uvk_usb *usb, struct uvk_port *port);

/* A millisecond has passed: whatever waits to be kept goes on its way. */
void uvk_kept_tick(struct uvk_usb *usb, struct uvk_port *port);

/* Nothing waits: it may restart. And: it is to forget all, which takes a while. */
bool uvk_kept_all(const struct uvk_usb *usb);
void uvk_kept_forget(struct uvk_usb *usb);
#else
static inline void uvk_kept_start(struct uvk_usb *usb, struct uvk_port *port)
{
    (void)usb;
    (void)port;
}
static inline void uvk_kept_tick(struct uvk_usb *usb, struct uvk_port *port)
{
    (void)usb;
    (void)port;
}
static inline bool uvk_kept_all(const struct uvk_usb *usb)
{
    (void)usb;
    return true;
}
static inline void uvk_kept_forget(struct uvk_usb *usb)
{
    (void)usb;
}
#endif

/* ---- the live door ----------------------------------------------------------------------- */

#if UVK_USE_LIVE
/* The engine has been started, the journal opened: the door is there. NOTE: what stands behind
 * the image, of NOTE_SIZE bytes. */
void uvk_live_start(struct uvk_usb *usb, struct uvk_port *port, uvk_image_bytes note,
                    uint16_t note_size);

/* Can a request be taken? If not, its packet stays in the endpoint, and the host waits. */
bool uvk_live_is_free(const struct uvk_usb *usb);

/* A packet of SIZE bytes has come on endpoint UVK_LIVE_OUT. */
void uvk_live_came(struct uvk_usb *usb, const uint8_t *bytes, uint8_t size);

/* A millisecond has passed. And: what waits goes out, if the endpoint is free. */
void uvk_live_tick(struct uvk_usb *usb, struct uvk_port *port);
void uvk_live_send(struct uvk_usb *usb);

/* As uvk_door_spare. */
bool uvk_live_spare(struct uvk_usb *usb);
#else
static inline void uvk_live_tick(struct uvk_usb *usb, struct uvk_port *port)
{
    (void)usb;
    (void)port;
}

static inline bool uvk_live_spare(struct uvk_usb *usb)
{
    (void)usb;
    return false;
}
#endif

/* ---- one half of two --------------------------------------------------------------------- */

#if UVK_USE_LINK
/* The engine has been started: become the half that this one is, of the two of half.h, as the
 * configuration says. SECOND: what it has been told. */
void uvk_pair_start(struct uvk_usb *usb, bool second);

/* Are the pins of the first half, or of the SECOND one, this chip's? */
bool uvk_pair_has(const struct uvk_usb *usb, bool second);

/* A millisecond has passed, it is NOW_US. True: this is the main half, a pass is due. */
bool uvk_pair_tick(struct uvk_usb *usb, struct uvk_port *port, uint32_t now_us);

/* As uvk_half_hear. */
void uvk_pair_hear(struct uvk_usb *usb, struct uvk_port *port);

/* May it sleep when its bus is silent? A half without a host has nothing else. */
bool uvk_pair_may_sleep(const struct uvk_usb *usb);

/* Which half the firmware is for, see pair.h. */
extern const UVK_ROM uint8_t uvk_this_half;
#else
static inline bool uvk_pair_tick(struct uvk_usb *usb, struct uvk_port *port, uint32_t now_us)
{
    (void)usb;
    (void)port;
    (void)now_us;
    return true;
}
static inline void uvk_pair_hear(struct uvk_usb *usb, struct uvk_port *port)
{
    (void)usb;
    (void)port;
}
static inline bool uvk_pair_may_sleep(const struct uvk_usb *usb)
{
    return !UVK_USE_PROBE || usb->configuration != 0; /* without a host it calls, see call.h */
}
#endif

/* ---- what the port gives ---------------------------------------------------------------- */

/* Can ENDPOINT (IN) take a packet? */
bool uvk_endpoint_is_free(uint8_t endpoint);

/* Byte AT, counted from 0 and in order, of ENDPOINT's next packet. */
void uvk_endpoint_put(uint8_t endpoint, uint8_t at, uint8_t byte);

/* The packet of SIZE bytes that was put goes out when the host asks for it. */
void uvk_endpoint_send(uint8_t endpoint, uint8_t size);

/* Endpoint 0: a packet of the host is wanted, of data or to end an answer. */
void uvk_endpoint_expect(void);

/* Endpoint 0: the request is refused; STALL until the next SETUP (USB 2.0, 8.5.3.4). */
void uvk_endpoint_refuse(void);

/* ENDPOINT (not 0) answers STALL, or does so no longer. */
void uvk_endpoint_halt(uint8_t endpoint, bool on);

/* The host has set the configuration, perhaps again: all endpoints but 0 begin anew, with
 * DATA0. */
void uvk_endpoint_open_all(void);

/* Answer to ADDRESS from now on. */
void uvk_bus_take_address(uint8_t address);

/* Save power: the host sleeps. And back: what was stopped runs again. */
void uvk_bus_suspend(void);
void uvk_bus_resume(void);

/* Drive the bus so that the host wakes (USB 2.0, 7.1.7.7). */
void uvk_bus_wake_host(void);

/* ---- inside the room -------------------------------------------------------------------- */

/* Types of descriptors (USB 2.0, table 9-5; HID 1.11, 7.1). */
#define UVK_USB_DEVICE        1
#define UVK_USB_CONFIGURATION 2
#define UVK_USB_STRING        3
#define UVK_USB_HID           0x21
#define UVK_USB_REPORT        0x22

/* descriptors.c: descriptor INDEX, counted from 0, of a type, its length into *SIZE; NULL if
 * there is none. Of HID descriptors the index is that of the interface. */
uvk_image_bytes uvk_usb_descriptor(uint8_t type, uint8_t index, uint8_t *size);

/* requests.c: carry out a SETUP packet. False: refused. */
bool uvk_usb_request(struct uvk_usb *usb, const struct uvk_setup *setup);

#ifdef __cplusplus
}
#endif

#endif
