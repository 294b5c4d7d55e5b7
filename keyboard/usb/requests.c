/* requests.c - what the host may ask on endpoint 0: USB 2.0, 9.4, and HID 1.11, 7.2.
 * Everything else is answered with STALL. */
#include "uvrek/half.h"
#include "uvrek/usb.h"

#include <string.h>

/* bmRequestType */
#define TO_DEVICE      0x00
#define TO_INTERFACE   0x01
#define TO_ENDPOINT    0x02
#define FROM_DEVICE    0x80
#define FROM_INTERFACE 0x81
#define FROM_ENDPOINT  0x82
#define CLASS_SET      0x21
#define CLASS_GET      0xA1
#define VENDOR_GET     0xC0

#define FEATURE_HALT        0
#define FEATURE_REMOTE_WAKE 1
#define REPORT_INPUT        1
#define REPORT_OUTPUT       2

/* SIZE bytes are the answer, of which the host may have asked for less. */
static UVK_ONE_COPY void begin_answer(struct uvk_usb *usb, const struct uvk_setup *setup,
                                      uint16_t size)
{
    usb->ends_short = size < setup->length;
    usb->left = usb->ends_short ? size : setup->length;
}

static bool send_rom(struct uvk_usb *usb, const struct uvk_setup *setup, uvk_image_bytes bytes,
                     uint16_t size)
{
    if (!bytes) {
        return false;
    }
    usb->stage = UVK_SENDING_ROM;
    usb->rom = bytes;
    begin_answer(usb, setup, size);
    return true;
}

static UVK_ONE_COPY bool send_answer(struct uvk_usb *usb, const struct uvk_setup *setup,
                                     uint8_t size)
{
    usb->stage = UVK_SENDING;
    usb->ram = usb->answer;
    begin_answer(usb, setup, size);
    return true;
}

static bool send_byte(struct uvk_usb *usb, const struct uvk_setup *setup, uint8_t byte)
{
    usb->answer[0] = byte;
    return send_answer(usb, setup, 1);
}

/* ---- standard requests ------------------------------------------------------------ */

static bool get_status(struct uvk_usb *usb, const struct uvk_setup *setup)
{
    uint8_t endpoint = setup->index & 0x0Fu;

    usb->answer[0] = 0;
    usb->answer[1] = 0;
    if (setup->type == FROM_DEVICE) {
        usb->answer[0] = usb->may_wake ? 2 : 0;
    } else if (setup->type == FROM_ENDPOINT) {
        if (endpoint >= UVK_ENDPOINTS) {
            return false;
        }
        usb->answer[0] = usb->halted[endpoint];
    } else if (setup->index >= UVK_USB_INTERFACES) {
        return false;
    }
    return send_answer(usb, setup, 2);
}

static bool change_feature(struct uvk_usb *usb, const struct uvk_setup *setup, bool on)
{
    uint8_t endpoint = setup->index & 0x0Fu;

    if (setup->type == TO_DEVICE && setup->value_low == FEATURE_REMOTE_WAKE) {
        usb->may_wake = on;
        return true;
    }
    if (setup->type != TO_ENDPOINT || setup->value_low != FEATURE_HALT ||
        endpoint >= UVK_ENDPOINTS) {
        return false;
    }
    if (endpoint > 0) {
        usb->halted[endpoint] = on;
        uvk_endpoint_halt(endpoint, on);
    }
    return true;
}

static bool set_address(struct uvk_usb *usb, const struct uvk_setup *setup)
{
    usb->address = setup->value_low & 0x7Fu; /* not before the confirmation is out */
    return true;
}

static bool get_report_descriptor(struct uvk_usb *usb, const struct uvk_setup *setup)
{
    uint16_t size;
    uvk_image_bytes bytes = uvk_report_descriptor(setup->index, &size);

    return send_rom(usb, setup, bytes, size);
}

#if UVK_USE_LIVE
#define SERIAL_NUMBER 3
#define SERIAL_DIGITS 8u

/* As a string descriptor (USB 2.0, 9.6.7), in hexadecimal digits. */
static bool send_serial(struct uvk_usb *usb, const struct uvk_setup *setup)
{
    uint32_t serial = uvk_door_serial(uvk_usb_engine(usb));
    uint8_t *at = usb->answer;

    *at++ = 2u + 2u * SERIAL_DIGITS;
    *at++ = UVK_USB_STRING;
    for (uint8_t i = 0; i < SERIAL_DIGITS; i++, serial <<= 4) {
        uint8_t digit = (uint8_t)(serial >> 28);
        *at++ = (uint8_t)(digit < 10u ? '0' + digit : 'A' + digit - 10);
        *at++ = 0;
    }
    return send_answer(usb, setup, 2u + 2u * SERIAL_DIGITS);
}
#endif

/* What belongs to an interface is asked of it; all else of the device. */
static bool get_descriptor(struct uvk_usb *usb, const struct uvk_setup *setup)
{
    bool of_interface = setup->type == FROM_INTERFACE;
    uint8_t type = setup->value_high;
    uint8_t size = 0;
    uvk_image_bytes bytes;

    if (of_interface && type == UVK_USB_REPORT && setup->index < UVK_USB_INTERFACES) {
        return get_report_descriptor(usb, setup);
    }
    if (of_interface != (type == UVK_USB_HID) || (!of_interface && type > UVK_USB_STRING)) {
        return false;
    }
#if UVK_USE_LIVE
    if (type == UVK_USB_STRING && setup->value_low == SERIAL_NUMBER) {
        return send_serial(usb, setup);
    }
#endif
    bytes = uvk_usb_descriptor(type, of_interface ? setup->index : setup->value_low, &size);
    return send_rom(usb, setup, bytes, size);
}

static bool set_configuration(struct uvk_usb *usb, const struct uvk_setup *setup)
{
    if (setup->value_low > 1) {
        return false;
    }
    usb->configuration = setup->value_low;
    memset(usb->halted, 0, sizeof usb->halted);
    uvk_endpoint_open_all(); /* again as well: they begin anew (USB 2.0, 9.1.1.5) */
    return true;
}

/* ---- HID requests ----------------------------------------------------------------- */

static bool get_report(struct uvk_usb *usb, const struct uvk_setup *setup)
{
    uint8_t id = setup->value_low;
    uint8_t size = 0;

    if (setup->value_high == REPORT_OUTPUT && setup->index == 0) {
        return send_byte(usb, setup, usb->lamps);
    }
    if (setup->value_high == REPORT_INPUT && id < UVK_REPORTS &&
        uvk_report_interface((enum uvk_report)id) == setup->index) {
        size = uvk_engine_report(uvk_usb_engine(usb), (enum uvk_report)id, usb->answer);
    }
    return size > 0 && send_answer(usb, setup, size);
}

static bool set_report(struct uvk_usb *usb, const struct uvk_setup *setup)
{
    if (setup->value_high != REPORT_OUTPUT || setup->index != 0 || setup->length != 1) {
        return false;
    }
    usb->stage = UVK_RECEIVING;
    return true;
}

static bool set_idle(struct uvk_usb *usb, const struct uvk_setup *setup)
{
    usb->idle[setup->index] = setup->value_high;
    usb->idle_ms[setup->index] = 0;
    return true;
}

static bool set_protocol(struct uvk_usb *usb, const struct uvk_setup *setup)
{
    if (setup->index != 0 || setup->value_low > 1) {
        return false;
    }
    usb->protocol = setup->value_low;
    return true;
}

/* ---- our own ----------------------------------------------------------------------- */

#if UVK_USE_LINK
/* docs/link.md: what a half knows of the two. */
static bool tell_halves(struct uvk_usb *usb, const struct uvk_setup *setup)
{
#if UVK_USE_JOURNAL
    uint16_t erased = usb->journal != NULL ? usb->journal->erased : 0u;
#else
    const uint16_t erased = 0;
#endif

    uvk_half_tell(uvk_usb_engine(usb), erased, usb->answer);
    return send_answer(usb, setup, UVK_HALF_TOLD);
}
#endif

/* ---- which is which ---------------------------------------------------------------- */

/* Direction, kind and code in one byte; who is meant stands in the low half of the type. */
#define REQUEST(type, code) (((type)&0xF0u) | (code))
#define CODES               0x10u
#define MEANT(setup)        ((setup)->type & 0x0Fu)
#define DEVICE              0
#define AN_INTERFACE        1

/* A switch: on a small chip calls through pointers cost more than all else here, and how deep
 * they go could not be told. */
bool uvk_usb_request(struct uvk_usb *usb, const struct uvk_setup *setup)
{
    bool device = MEANT(setup) == DEVICE;
    bool interface = MEANT(setup) == AN_INTERFACE && setup->index < UVK_USB_INTERFACES;

    if (setup->code >= CODES) {
        return false;
    }
    switch (REQUEST(setup->type, setup->code)) {
    case REQUEST(FROM_DEVICE, 0x00):
        return get_status(usb, setup);
    case REQUEST(TO_DEVICE, 0x01):
        return change_feature(usb, setup, false);
    case REQUEST(TO_DEVICE, 0x03):
        return change_feature(usb, setup, true);
    case REQUEST(TO_DEVICE, 0x05):
        return device && set_address(usb, setup);
    case REQUEST(FROM_DEVICE, 0x06):
        return get_descriptor(usb, setup);
    case REQUEST(FROM_DEVICE, 0x08):
        return device && send_byte(usb, setup, usb->configuration);
    case REQUEST(TO_DEVICE, 0x09):
        return device && set_configuration(usb, setup);
    case REQUEST(FROM_INTERFACE, 0x0A):
        return interface && send_byte(usb, setup, 0);
    case REQUEST(TO_INTERFACE, 0x0B):
        return interface && setup->value_low == 0;
    case REQUEST(CLASS_GET, 0x01):
        return interface && get_report(usb, setup);
    case REQUEST(CLASS_GET, 0x02):
        return interface && send_byte(usb, setup, usb->idle[setup->index]);
    case REQUEST(CLASS_GET, 0x03):
        return interface && setup->index == 0 && send_byte(usb, setup, usb->protocol);
    case REQUEST(CLASS_SET, 0x09):
        return interface && set_report(usb, setup);
    case REQUEST(CLASS_SET, 0x0A):
        return interface && set_idle(usb, setup);
    case REQUEST(CLASS_SET, 0x0B):
        return interface && set_protocol(usb, setup);
#if UVK_USE_LINK
    case REQUEST(VENDOR_GET, 0x01):
        return device && tell_halves(usb, setup);
#endif
    default:
        return false;
    }
}
