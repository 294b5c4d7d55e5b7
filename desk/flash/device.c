/* device.c - the road by USB itself: a device in DFU mode. */
#include "roads.h"

#include "uvrek/dfu.h"

#include <string.h>

/* ---- finding it ------------------------------------------------------------------------- */

static const struct uvk_usb_interface *dfu_interface(const struct uvk_usb_device *device)
{
    for (unsigned i = 0; i < device->interface_count; i++) {
        const struct uvk_usb_interface *interface = &device->interfaces[i];
        if (interface->class_code == UVK_DFU_CLASS && interface->subclass == UVK_DFU_SUBCLASS &&
            interface->protocol == UVK_DFU_PROTOCOL) {
            return interface;
        }
    }
    return NULL;
}

/* The one that the chip's maker puts into it. */
static bool is_of_chip(const struct uvk_usb_device *device, const struct uvk_chip *chip)
{
    return chip->dfu_vendor != 0 && device->vendor == chip->dfu_vendor &&
           device->product == chip->dfu_product;
}

/* A file may say which bootloader it is for. */
static bool fits_id(uint16_t wanted, uint16_t id)
{
    return wanted == 0 || wanted == UVK_DFU_ANY_ID || wanted == id;
}

static bool is_for(const struct uvk_flash_options *options, const struct uvk_usb_device *device)
{
    return fits_id(options->for_vendor, device->vendor) &&
           fits_id(options->for_product, device->product);
}

/* The file names it, and no other. */
static bool is_named_by_file(const struct uvk_flash_options *options)
{
    return options->for_vendor != 0 && options->for_vendor != UVK_DFU_ANY_ID &&
           options->for_product != 0 && options->for_product != UVK_DFU_ANY_ID;
}

/* Any other does not tell its chip: it has to have the board's ids, or to be named, by a
 * person or by the file. */
static bool is_meant(const struct visit *visit, const struct uvk_usb_device *device)
{
    const struct uvk_flash_options *options = visit->options;
    bool of_board = options->vendor != 0 && device->vendor == options->vendor &&
                    device->product == options->product;

    return dfu_interface(device) != NULL && is_for(options, device) &&
           (is_named_by_file(options) || is_of_chip(device, visit->chip) || of_board ||
            (options->to != NULL && strcmp(options->to, device->name) == 0));
}

static bool fail_closed(const struct uvk_usb_device *device, GError **error)
{
    g_set_error(
        error, UVK_PROBLEM, UVK_NOT_DONE,
        "its bootloader is there, at USB %s, but this user may not open %s; nothing was "
        "written.\nA rule for udev allows it, which `uvrek flash --write-rule RULE.rules "
        "FILE` writes",
        device->name, device->closed);
    return false;
}

/* The devices that are meant, in FOUND. */
static bool look(struct visit *visit, GPtrArray *found, GError **error)
{
    GPtrArray *devices = uvk_usb_devices(visit->options->usbip, error);
    bool good = devices != NULL;

    for (guint i = 0; good && i < devices->len; i++) {
        const struct uvk_usb_device *device = devices->pdata[i];
        if (is_meant(visit, device)) {
            good = device->closed == NULL || fail_closed(device, error);
            g_ptr_array_add(found, g_strdup(device->name));
        }
    }
    g_clear_pointer(&devices, g_ptr_array_unref);
    return good;
}

/* ---- writing ---------------------------------------------------------------------------- */

/* The device NAME again; NULL: it has gone. */
static const struct uvk_usb_device *device_named(const GPtrArray *devices, const char *name)
{
    for (guint i = 0; devices != NULL && i < devices->len; i++) {
        const struct uvk_usb_device *device = devices->pdata[i];
        if (strcmp(device->name, name) == 0 && dfu_interface(device) != NULL) {
            return device;
        }
    }
    return NULL;
}

static bool write_to(struct visit *visit, const struct uvk_usb_device *device,
                     const uint8_t *code, size_t size, GError **error)
{
    const struct uvk_flash_options *options = visit->options;
    struct uvk_cable *cable =
        uvk_cable_open(options->usbip, device->name, dfu_interface(device)->number, error);
    bool good =
        cable != NULL && uvk_dfu_flash(cable, visit->chip, is_of_chip(device, visit->chip),
                                       code, size, options, error);

    uvk_cable_close(cable);
    return good;
}

static bool write_code(struct visit *visit, const char *name, const uint8_t *code, size_t size,
                       GError **error)
{
    GPtrArray *devices = uvk_usb_devices(visit->options->usbip, error);
    const struct uvk_usb_device *device = device_named(devices, name);
    bool good = false;

    if (device != NULL) {
        good = write_to(visit, device, code, size, error);
    } else if (devices != NULL) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE,
                    "the bootloader at USB %s has gone; nothing was written", name);
    }
    g_clear_pointer(&devices, g_ptr_array_unref);
    return good;
}

static bool on_usb(const char *name)
{
    (void)name;
    return true;
}

static const char *missing(void)
{
    return uvk_has_usb() ? NULL
                         : "this uvrek was built without libusb: install libusb-1.0-0-dev, and "
                           "build it again";
}

const struct road road_device = {
    "dfu",
    "its bootloader, on USB",
    "hold its boot button, if it has one, and press\n"
    "its reset button, or press the key that its keymap has for it",
    look,
    write_code,
    on_usb,
    missing,
    road_open_to_all};
