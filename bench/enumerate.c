/* enumerate.c - a USB host meets a device (USB 2.0, 9.1.2 and 9.4; HID 1.11, 7). */
#include "rig.h"

#include <string.h>

#define DESCRIPTOR_DEVICE        1
#define DESCRIPTOR_CONFIGURATION 2
#define DESCRIPTOR_INTERFACE     4
#define DESCRIPTOR_ENDPOINT      5
#define DESCRIPTOR_HID           0x21
#define DESCRIPTOR_REPORT        0x22
#define CLASS_HID                3
#define SUBCLASS_BOOT            1
#define PROTOCOL_KEYBOARD        1
#define BYTES_MAX                4096u

struct interface {
    uint8_t number, subclass, protocol, endpoint;
    uint16_t report_length;
};

static bool fail(GError **error, const char *what)
{
    g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "the chip cannot be enumerated: %s", what);
    return false;
}

static enum uvk_transfer request(struct uvk_rig *rig, uint8_t type, uint8_t code,
                                 uint16_t value, uint16_t index, uint8_t *data, size_t *size)
{
    uint8_t setup[8] = {type,           code,
                        (uint8_t)value, (uint8_t)(value >> 8),
                        (uint8_t)index, (uint8_t)(index >> 8),
                        (uint8_t)*size, (uint8_t)(*size >> 8)};

    return uvk_rig_control(rig, setup, data, size);
}

static bool set(struct uvk_rig *rig, uint8_t type, uint8_t code, uint16_t value, uint16_t index)
{
    size_t none = 0;

    return request(rig, type, code, value, index, NULL, &none) == UVK_TRANSFER_DONE;
}

static bool read_device(struct uvk_rig *rig, GError **error)
{
    uint8_t device[18];
    size_t size = 8;

    /* only the first eight bytes are certain to come in one packet */
    if (request(rig, 0x80, 6, DESCRIPTOR_DEVICE << 8, 0, device, &size) != UVK_TRANSFER_DONE ||
        size != 8 || device[0] != 18 || device[1] != DESCRIPTOR_DEVICE) {
        return fail(error, "no device descriptor");
    }
    if (!set(rig, 0x00, 5, 1, 0)) {
        return fail(error, "it takes no address");
    }
    size = sizeof device;
    if (request(rig, 0x80, 6, DESCRIPTOR_DEVICE << 8, 0, device, &size) != UVK_TRANSFER_DONE ||
        size != sizeof device) {
        return fail(error, "the device descriptor is cut");
    }
    if ((device[8] | device[9] << 8) != (int)rig->program->board->usb_vendor ||
        (device[10] | device[11] << 8) != (int)rig->program->board->usb_product) {
        return fail(error, "it tells another vendor or product than the board");
    }
    return true;
}

/* The HID interfaces of a configuration descriptor; -1: it is broken. */
static int parse_configuration(const uint8_t *bytes, size_t size,
                               struct interface interfaces[UVK_HOST_INTERFACES])
{
    int count = 0;
    bool hid = false;

    for (size_t at = 0; at < size; at += bytes[at]) {
        const uint8_t *item = bytes + at;
        if (size - at < 2 || item[0] < 2 || item[0] > size - at) {
            return -1;
        }
        if (item[1] == DESCRIPTOR_INTERFACE && item[0] >= 9) {
            hid = item[5] == CLASS_HID && count < (int)UVK_HOST_INTERFACES;
            if (hid) {
                interfaces[count++] = (struct interface){item[2], item[6], item[7], 0, 0};
            }
        } else if (hid && item[1] == DESCRIPTOR_HID && item[0] >= 9) {
            interfaces[count - 1].report_length = (uint16_t)(item[7] | item[8] << 8);
        } else if (hid && item[1] == DESCRIPTOR_ENDPOINT && item[0] >= 7 && (item[2] & 0x80)) {
            interfaces[count - 1].endpoint = item[2] & 0x0F;
        }
    }
    return count;
}

static int read_configuration(struct uvk_rig *rig,
                              struct interface interfaces[UVK_HOST_INTERFACES])
{
    uint8_t bytes[BYTES_MAX];
    size_t size = 9;

    if (request(rig, 0x80, 6, DESCRIPTOR_CONFIGURATION << 8, 0, bytes, &size) !=
            UVK_TRANSFER_DONE ||
        size != 9) {
        return -1;
    }
    size = MIN((size_t)(bytes[2] | bytes[3] << 8), BYTES_MAX);
    if (request(rig, 0x80, 6, DESCRIPTOR_CONFIGURATION << 8, 0, bytes, &size) !=
            UVK_TRANSFER_DONE ||
        !set(rig, 0x00, 9, bytes[5], 0)) {
        return -1;
    }
    return parse_configuration(bytes, size, interfaces);
}

static bool set_up_interface(struct uvk_rig *rig, const struct interface *interface,
                             GError **error)
{
    uint8_t bytes[BYTES_MAX];
    size_t size = interface->report_length;
    const char *why = NULL;
    bool boot =
        interface->subclass == SUBCLASS_BOOT && interface->protocol == PROTOCOL_KEYBOARD;

    rig->boot_interface = boot ? interface->number : rig->boot_interface;
    (void)set(rig, 0x21, 0x0A, 0, interface->number); /* report only changes */
    if (boot && rig->options.boot_protocol && !set(rig, 0x21, 0x0B, 0, interface->number)) {
        return fail(error, "it refuses the boot protocol");
    }
    if (size > BYTES_MAX ||
        request(rig, 0x81, 6, DESCRIPTOR_REPORT << 8, interface->number, bytes, &size) !=
            UVK_TRANSFER_DONE ||
        size != interface->report_length) {
        return fail(error, "a report descriptor cannot be read");
    }
    if (!uvk_host_describe(rig->host, interface->number, bytes, size, &why)) {
        return fail(error, why != NULL ? why : "too many interfaces");
    }
    return true;
}

bool rig_set_protocol(struct uvk_rig *rig, bool boot)
{
    return set(rig, 0x21, 0x0B, boot ? 0 : 1, (uint16_t)rig->boot_interface);
}

bool rig_enumerate(struct uvk_rig *rig, uint8_t endpoints[UVK_HOST_INTERFACES], GError **error)
{
    struct interface interfaces[UVK_HOST_INTERFACES];
    int count;

    memset(endpoints, 0, UVK_HOST_INTERFACES);
    if (!read_device(rig, error)) {
        return false;
    }
    count = read_configuration(rig, interfaces);
    if (count <= 0) {
        return fail(error,
                    "its configuration descriptor is broken, or it has no HID interface");
    }
    for (int i = 0; i < count; i++) {
        if (!set_up_interface(rig, &interfaces[i], error)) {
            return false;
        }
        endpoints[interfaces[i].number % UVK_HOST_INTERFACES] = interfaces[i].endpoint;
    }
    return true;
}
