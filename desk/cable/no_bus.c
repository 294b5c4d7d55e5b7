/* no_bus.c - without libusb: only what is exported over USB/IP can be reached. */
#include "ways.h"

static void *none(GError **error)
{
    g_set_error_literal(error, UVK_PROBLEM, UVK_NOT_DONE,
                        "this uvrek was built without libusb: it cannot reach USB devices. "
                        "Install libusb-1.0-0-dev and build it again");
    return NULL;
}

bool uvk_has_usb(void)
{
    return false;
}

GPtrArray *bus_devices(GError **error)
{
    return none(error);
}

struct uvk_cable *bus_open(const char *name, uint8_t interface, GError **error)
{
    (void)name;
    (void)interface;
    return none(error);
}
