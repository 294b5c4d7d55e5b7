/* appear.c - after flashing: the keyboard itself, as the host sees it on USB. */
#include "roads.h"

#include <string.h>

#define APPEAR_S      10
#define LOOK_US       50000u
#define HID_INTERFACE 3

static bool is_keyboard(const struct uvk_usb_device *device,
                        const struct uvk_flash_options *options)
{
    bool speaks = false;

    for (unsigned i = 0; i < device->interface_count; i++) {
        speaks = speaks || device->interfaces[i].class_code == HID_INTERFACE;
    }
    return speaks && device->vendor == options->vendor && device->product == options->product;
}

char *road_keyboard_text(const struct uvk_flash_options *options,
                         const struct uvk_usb_device *device)
{
    char *title = g_strdup(device->title);
    char *text;

    if (title == NULL && options->usbip != NULL) {
        struct uvk_cable *cable =
            uvk_cable_open(options->usbip, device->name, device->interfaces[0].number, NULL);
        title = cable != NULL ? uvk_cable_string(cable, 2) : NULL;
        uvk_cable_close(cable);
    }
    text = g_strdup_printf("%s (%04x:%04x) at USB %s", title != NULL ? title : "a keyboard",
                           device->vendor, device->product, device->name);
    g_free(title);
    return text;
}

GPtrArray *road_keyboards(const struct uvk_flash_options *options)
{
    GPtrArray *devices = options->vendor != 0 ? uvk_usb_devices(options->usbip, NULL) : NULL;

    for (guint i = devices != NULL ? devices->len : 0; i-- > 0;) {
        if (!is_keyboard(devices->pdata[i], options)) {
            g_ptr_array_remove_index(devices, i);
        }
    }
    return devices;
}

static bool is_among(const GPtrArray *devices, const struct uvk_usb_device *device)
{
    for (guint i = 0; i < devices->len; i++) {
        if (strcmp(((const struct uvk_usb_device *)devices->pdata[i])->name, device->name) ==
            0) {
            return true;
        }
    }
    return false;
}

/* What is new, as a person reads it; NULL: nothing. */
static char *look(const struct uvk_flash_options *options, const GPtrArray *before)
{
    GPtrArray *now = road_keyboards(options);
    char *text = NULL;

    for (guint i = 0; now != NULL && i < now->len && text == NULL; i++) {
        if (!is_among(before, now->pdata[i])) {
            text = road_keyboard_text(options, now->pdata[i]);
        }
    }
    g_clear_pointer(&now, g_ptr_array_unref);
    return text;
}

bool road_await_keyboard(const struct uvk_flash_options *options, const GPtrArray *before,
                         GError **error)
{
    gint64 end = g_get_monotonic_time() + APPEAR_S * G_USEC_PER_SEC;
    char *text = look(options, before);

    while (text == NULL && g_get_monotonic_time() < end) {
        g_usleep(LOOK_US);
        text = look(options, before);
    }
    if (text == NULL) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_WELL,
                    "the firmware was written, but no keyboard %04x:%04x has appeared within "
                    "%d s. Plug it in again; if that does not help, flash once more",
                    options->vendor, options->product, APPEAR_S);
        return false;
    }
    road_tell(options, UVK_FLASH_RUNNING, text, 0, 0);
    g_free(text);
    return true;
}
