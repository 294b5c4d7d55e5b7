/* requests.c - what the host may ask on endpoint 0: USB 2.0, 9.4, and HID 1.11, 7.2.
 * Everything else is answered with STALL. */
#include "port_atmega32u4.h"

#include <avr/io.h>

/* bmRequestType */
#define TO_DEVICE      0x00
#define TO_INTERFACE   0x01
#define TO_ENDPOINT    0x02
#define FROM_DEVICE    0x80
#define FROM_INTERFACE 0x81
#define FROM_ENDPOINT  0x82
#define CLASS_SET      0x21
#define CLASS_GET      0xA1

#define FEATURE_HALT        0
#define FEATURE_REMOTE_WAKE 1
#define REPORT_INPUT        1
#define REPORT_OUTPUT       2
#define TYPE_HID            0x21
#define TYPE_REPORT         0x22

struct request {
    uint8_t type, code;
    uint8_t value_low, value_high;
    uint8_t index; /* interface or endpoint; always below 256 here */
    uint16_t length;
};

static bool send_rom(struct uvk_port *port, const struct request *request,
                     uvk_image_bytes bytes, uint16_t size)
{
    struct uvk_control *control = &port->control;

    if (!bytes) {
        return false;
    }
    control->stage = UVK_SENDING_ROM;
    control->rom = bytes;
    control->left = size < request->length ? size : request->length;
    control->finish_short = size < request->length;
    return true;
}

static bool send_answer(struct uvk_port *port, const struct request *request, uint8_t size)
{
    struct uvk_control *control = &port->control;

    control->stage = UVK_SENDING;
    control->ram = port->answer;
    control->left = size < request->length ? size : request->length;
    control->finish_short = size < request->length;
    return true;
}

static bool send_byte(struct uvk_port *port, const struct request *request, uint8_t byte)
{
    port->answer[0] = byte;
    return send_answer(port, request, 1);
}

/* ---- standard requests ------------------------------------------------------------ */

static bool get_status(struct uvk_port *port, const struct request *request)
{
    uint8_t endpoint = request->index & 0x0Fu;

    port->answer[0] = 0;
    port->answer[1] = 0;
    if (request->type == FROM_DEVICE) {
        port->answer[0] = port->may_wake ? 2 : 0;
    } else if (request->type == FROM_ENDPOINT) {
        if (endpoint >= UVK_ENDPOINTS) {
            return false;
        }
        port->answer[0] = (port->halted & _BV(endpoint)) ? 1 : 0;
    } else if (request->index >= UVK_INTERFACES) {
        return false;
    }
    return send_answer(port, request, 2);
}

static bool change_feature(struct uvk_port *port, const struct request *request, bool on)
{
    uint8_t endpoint = request->index & 0x0Fu;

    if (request->type == TO_DEVICE && request->value_low == FEATURE_REMOTE_WAKE) {
        port->may_wake = on;
        return true;
    }
    if (request->type != TO_ENDPOINT || request->value_low != FEATURE_HALT ||
        endpoint >= UVK_ENDPOINTS) {
        return false;
    }
    if (endpoint > 0) {
        port->halted = (uint8_t)(on ? port->halted | _BV(endpoint)
                                    : port->halted & (uint8_t)~_BV(endpoint));
        UENUM = endpoint;
        UECONX = (uint8_t)(_BV(EPEN) | (on ? _BV(STALLRQ) : _BV(STALLRQC) | _BV(RSTDT)));
        UENUM = 0;
    }
    return true;
}

static bool set_address(struct uvk_port *port, const struct request *request)
{
    port->control.address = request->value_low & 0x7Fu;
    UDADDR = port->control.address; /* not before the confirmation is out (22.7) */
    return true;
}

static bool get_descriptor(struct uvk_port *port, const struct request *request)
{
    uint16_t size;
    uvk_image_bytes bytes;

    if (request->type == FROM_DEVICE) {
        bytes = uvk_usb_descriptor(request->value_high, request->value_low, &size);
    } else if (request->index >= UVK_INTERFACES) {
        return false;
    } else if (request->value_high == TYPE_HID) {
        bytes = uvk_usb_hid_descriptor(request->index);
        size = 9;
    } else if (request->value_high == TYPE_REPORT) {
        bytes = uvk_report_descriptor(request->index, &size);
    } else {
        return false;
    }
    return send_rom(port, request, bytes, size);
}

static bool set_configuration(struct uvk_port *port, const struct request *request)
{
    if (request->value_low > 1) {
        return false;
    }
    port->configuration = request->value_low;
    return true;
}

/* ---- HID requests ----------------------------------------------------------------- */

static bool get_report(struct uvk_port *port, const struct request *request)
{
    uint8_t id = request->value_low;
    uint8_t size = 0;

    if (request->value_high == REPORT_OUTPUT && request->index == 0) {
        return send_byte(port, request, port->lamps);
    }
    if (request->value_high == REPORT_INPUT && id < UVK_REPORTS &&
        uvk_report_interface((enum uvk_report)id) == request->index) {
        size = uvk_engine_report(port->engine, (enum uvk_report)id, port->answer);
    }
    return size > 0 && send_answer(port, request, size);
}

static bool set_report(struct uvk_port *port, const struct request *request)
{
    if (request->value_high != REPORT_OUTPUT || request->index != 0 || request->length != 1) {
        return false;
    }
    port->control.stage = UVK_RECEIVING;
    return true;
}

void uvk_usb_received(struct uvk_port *port, uint8_t byte)
{
    port->lamps = byte;
}

static bool get_idle(struct uvk_port *port, const struct request *request)
{
    return request->index < UVK_INTERFACES &&
           send_byte(port, request, port->idle[request->index]);
}

static bool set_idle(struct uvk_port *port, const struct request *request)
{
    if (request->index >= UVK_INTERFACES) {
        return false;
    }
    port->idle[request->index] = request->value_high;
    port->idle_ms[request->index] = 0;
    return true;
}

static bool set_protocol(struct uvk_port *port, const struct request *request)
{
    if (request->index != 0 || request->value_low > 1) {
        return false;
    }
    port->protocol = request->value_low;
    return true;
}

/* ---- which is which ---------------------------------------------------------------- */

/* bmRequestType and bRequest as one number */
#define REQUEST(type, code) ((uint16_t)((type) << 8 | (code)))

/* A switch: on this chip calls through pointers cost more than all else here, and how deep they
 * go could not be told. */
static bool carry_out(struct uvk_port *port, const struct request *request)
{
    switch (REQUEST(request->type, request->code)) {
    case REQUEST(FROM_DEVICE, 0x00):
    case REQUEST(FROM_INTERFACE, 0x00):
    case REQUEST(FROM_ENDPOINT, 0x00):
        return get_status(port, request);
    case REQUEST(TO_DEVICE, 0x01):
    case REQUEST(TO_ENDPOINT, 0x01):
        return change_feature(port, request, false);
    case REQUEST(TO_DEVICE, 0x03):
    case REQUEST(TO_ENDPOINT, 0x03):
        return change_feature(port, request, true);
    case REQUEST(TO_DEVICE, 0x05):
        return set_address(port, request);
    case REQUEST(FROM_DEVICE, 0x06):
    case REQUEST(FROM_INTERFACE, 0x06):
        return get_descriptor(port, request);
    case REQUEST(FROM_DEVICE, 0x08):
        return send_byte(port, request, port->configuration);
    case REQUEST(TO_DEVICE, 0x09):
        return set_configuration(port, request);
    case REQUEST(FROM_INTERFACE, 0x0A):
        return request->index < UVK_INTERFACES && send_byte(port, request, 0);
    case REQUEST(TO_INTERFACE, 0x0B):
        return request->index < UVK_INTERFACES && request->value_low == 0;
    case REQUEST(CLASS_GET, 0x01):
        return get_report(port, request);
    case REQUEST(CLASS_GET, 0x02):
        return get_idle(port, request);
    case REQUEST(CLASS_GET, 0x03):
        return request->index == 0 && send_byte(port, request, port->protocol);
    case REQUEST(CLASS_SET, 0x09):
        return set_report(port, request);
    case REQUEST(CLASS_SET, 0x0A):
        return set_idle(port, request);
    case REQUEST(CLASS_SET, 0x0B):
        return set_protocol(port, request);
    default:
        return false;
    }
}

bool uvk_usb_request(struct uvk_port *port, const uint8_t setup[8])
{
    struct request request = {
        .type = setup[0],
        .code = setup[1],
        .value_low = setup[2],
        .value_high = setup[3],
        .index = setup[4],
        .length = (uint16_t)(setup[6] | (uint16_t)(setup[7] << 8)),
    };

    return carry_out(port, &request);
}
