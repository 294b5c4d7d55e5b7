/* devices.c - lists of devices. */
#include "ways.h"

static void free_device(gpointer data)
{
    struct uvk_usb_device *device = data;

    g_free(device->name);
    g_free(device->title);
    g_free(device->closed);
    g_free(device);
}

GPtrArray *device_list(void)
{
    return g_ptr_array_new_with_free_func(free_device);
}

struct uvk_usb_device *device_add(GPtrArray *devices, char *name, uint16_t vendor,
                                  uint16_t product)
{
    struct uvk_usb_device *device = g_new0(struct uvk_usb_device, 1);

    device->name = name;
    device->vendor = vendor;
    device->product = product;
    g_ptr_array_add(devices, device);
    return device;
}
