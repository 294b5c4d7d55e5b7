/* bus.c - the USB of this computer, by libusb. */
#include "ways.h"

#include "hid.h"

#include <libusb.h>
#include <string.h>
#include <unistd.h>

#define PORTS_MOST 7 /* hubs behind one another (USB 2.0, 4.1.1) */

struct wire {
    struct uvk_cable cable;
    libusb_context *context;
    libusb_device_handle *handle;
    struct hid *hid; /* the interface, where the kernel's driver gives it; else NULL */
};

bool uvk_has_usb(void)
{
    return true;
}

static bool begin(libusb_context **context, GError **error)
{
    int code = libusb_init(context);

    if (code != 0) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "USB cannot be reached: %s",
                    libusb_strerror(code));
    }
    return code == 0;
}

/* ---- what is there ---------------------------------------------------------------------- */

/* As Linux calls it: the bus, then the port of each hub on the way. */
static char *name_of(libusb_device *device)
{
    uint8_t ports[PORTS_MOST];
    int count = libusb_get_port_numbers(device, ports, PORTS_MOST);
    GString *name = g_string_new(NULL);

    g_string_append_printf(name, "%u", libusb_get_bus_number(device));
    for (int i = 0; i < count; i++) {
        g_string_append_printf(name, "%c%u", i == 0 ? '-' : '.', ports[i]);
    }
    return g_string_free(name, FALSE);
}

/* The kernel has read the strings already; nobody has to open the device for them. */
static char *title_of(const char *name)
{
    char *path = g_build_filename("/sys/bus/usb/devices", name, "product", NULL);
    char *text = NULL;

    if (g_file_get_contents(path, &text, NULL, NULL)) {
        g_strchomp(text);
    }
    g_free(path);
    return text;
}

static char *closed_file(libusb_device *device)
{
    char *path = g_strdup_printf("/dev/bus/usb/%03u/%03u", libusb_get_bus_number(device),
                                 libusb_get_device_address(device));

    if (access(path, R_OK | W_OK) == 0) {
        g_clear_pointer(&path, g_free);
    }
    return path;
}

static void add_interfaces(struct uvk_usb_device *device,
                           const struct libusb_config_descriptor *config)
{
    for (unsigned i = 0; i < config->bNumInterfaces; i++) {
        const struct libusb_interface *interface = &config->interface[i];
        if (interface->num_altsetting > 0 &&
            device->interface_count < UVK_USB_INTERFACES_MOST) {
            const struct libusb_interface_descriptor *first = &interface->altsetting[0];
            device->interfaces[device->interface_count++] = (struct uvk_usb_interface){
                first->bInterfaceNumber, first->bInterfaceClass, first->bInterfaceSubClass,
                first->bInterfaceProtocol};
        }
    }
}

static void add_device(GPtrArray *devices, libusb_device *found)
{
    struct libusb_device_descriptor descriptor;
    struct libusb_config_descriptor *config = NULL;
    struct uvk_usb_device *device;

    if (libusb_get_device_descriptor(found, &descriptor) != 0 ||
        descriptor.bDeviceClass == LIBUSB_CLASS_HUB) {
        return;
    }
    device = device_add(devices, name_of(found), descriptor.idVendor, descriptor.idProduct);
    device->title = title_of(device->name);
    device->closed = closed_file(found);
    if (libusb_get_config_descriptor(found, 0, &config) == 0) {
        add_interfaces(device, config);
        libusb_free_config_descriptor(config);
    }
}

GPtrArray *bus_devices(GError **error)
{
    libusb_context *context = NULL;
    libusb_device **list = NULL;
    GPtrArray *devices;

    if (!begin(&context, error)) {
        return NULL;
    }
    devices = device_list();
    if (libusb_get_device_list(context, &list) >= 0) {
        for (size_t i = 0; list[i] != NULL; i++) {
            add_device(devices, list[i]);
        }
        libusb_free_device_list(list, 1);
    }
    libusb_exit(context);
    return devices;
}

/* ---- one of them ------------------------------------------------------------------------ */

static enum uvk_cable_result result_of(int code)
{
    static const struct {
        int code;
        enum uvk_cable_result result;
    } known[] = {
        {LIBUSB_ERROR_PIPE, UVK_CABLE_STALL},
        {LIBUSB_ERROR_TIMEOUT, UVK_CABLE_LATE},
        {LIBUSB_ERROR_OVERFLOW, UVK_CABLE_STALL}, /* it sent more than it was asked for */
    };

    for (size_t i = 0; i < G_N_ELEMENTS(known); i++) {
        if (known[i].code == code) {
            return known[i].result;
        }
    }
    return code >= 0 ? UVK_CABLE_DONE : UVK_CABLE_GONE;
}

static enum uvk_cable_result wire_control(void *self, const uint8_t setup[8], uint8_t *data,
                                          size_t *size, unsigned ms)
{
    struct wire *wire = self;
    int count = libusb_control_transfer(
        wire->handle, setup[0], setup[1], (uint16_t)(setup[2] | setup[3] << 8),
        (uint16_t)(setup[4] | setup[5] << 8), data, (uint16_t)*size, ms);

    *size = count > 0 ? (size_t)count : 0;
    return result_of(count);
}

static enum uvk_cable_result wire_receive(void *self, uint8_t endpoint, uint8_t *data,
                                          size_t *size, unsigned ms)
{
    struct wire *wire = self;
    int count = 0;
    int code;

    if (wire->hid != NULL) {
        return hid_receive(wire->hid, data, size, ms);
    }
    code =
        libusb_interrupt_transfer(wire->handle, (unsigned char)(endpoint | LIBUSB_ENDPOINT_IN),
                                  data, (int)*size, &count, ms);
    *size = count > 0 ? (size_t)count : 0;
    return result_of(code);
}

static enum uvk_cable_result wire_send(void *self, uint8_t endpoint, const uint8_t *data,
                                       size_t *size, unsigned ms)
{
    struct wire *wire = self;
    int count = 0;
    int code;

    if (wire->hid != NULL) {
        return hid_send(wire->hid, data, size);
    }
    code = libusb_interrupt_transfer(wire->handle, endpoint, (unsigned char *)data, (int)*size,
                                     &count, ms);
    *size = count > 0 ? (size_t)count : 0;
    return result_of(code);
}

static void wire_reset(void *self)
{
    (void)libusb_reset_device(((struct wire *)self)->handle);
}

static void wire_close(void *self)
{
    struct wire *wire = self;

    hid_close_interface(wire->hid);
    if (wire->handle != NULL) {
        libusb_close(wire->handle);
    }
    libusb_exit(wire->context);
    g_free(wire);
}

/* The device NAME into *FOUND, which is to be given back; NULL: it has gone. */
static libusb_device *find(libusb_context *context, const char *name)
{
    libusb_device **list = NULL;
    libusb_device *found = NULL;

    if (libusb_get_device_list(context, &list) < 0) {
        return NULL;
    }
    for (size_t i = 0; list[i] != NULL && found == NULL; i++) {
        char *other = name_of(list[i]);
        if (strcmp(other, name) == 0) {
            found = libusb_ref_device(list[i]);
        }
        g_free(other);
    }
    libusb_free_device_list(list, 1);
    return found;
}

static bool opened(int code, GError **error)
{
    if (code == LIBUSB_ERROR_ACCESS) {
        g_set_error_literal(error, UVK_PROBLEM, UVK_NOT_DONE,
                            "this user may not open the device; `uvrek ready` says what to do");
    } else if (code != 0) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "the device cannot be opened: %s",
                    libusb_strerror(code));
    }
    return code == 0;
}

static bool take_interface(struct wire *wire, uint8_t interface, GError **error)
{
    (void)libusb_set_auto_detach_kernel_driver(wire->handle, 1);
    return opened(libusb_claim_interface(wire->handle, interface), error);
}

static bool open_wire(struct wire *wire, libusb_device *device, const char *name,
                      uint8_t interface, GError **error)
{
    if (!opened(libusb_open(device, &wire->handle), error)) {
        return false;
    }
    return interface == UVK_CONTROL_PIPE ||
           (hid_open_interface(name, interface, &wire->hid, error) &&
            (wire->hid != NULL || take_interface(wire, interface, error)));
}

struct uvk_cable *bus_open(const char *name, uint8_t interface, GError **error)
{
    struct wire *wire = g_new0(struct wire, 1);
    libusb_device *device;
    bool good = false;

    wire->cable =
        (struct uvk_cable){wire, wire_control, wire_receive, wire_send, wire_reset, wire_close};
    if (!begin(&wire->context, error)) {
        g_free(wire);
        return NULL;
    }
    device = find(wire->context, name);
    if (device == NULL) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "the device at %s has gone", name);
    } else {
        good = open_wire(wire, device, name, interface, error);
        libusb_unref_device(device);
    }
    if (!good) {
        wire_close(wire);
        return NULL;
    }
    return &wire->cable;
}
