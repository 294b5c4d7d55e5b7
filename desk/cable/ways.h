/* ways.h - the two ways to a device. */
#ifndef UVREK_CABLE_WAYS_H
#define UVREK_CABLE_WAYS_H

#include "uvrek/cable.h"

/* bus.c: plugged in here. */
GPtrArray *bus_devices(GError **error);
struct uvk_cable *bus_open(const char *name, uint8_t interface, GError **error);

/* remote.c: exported by a USB/IP server. */
GPtrArray *remote_devices(const char *where, GError **error);
struct uvk_cable *remote_open(const char *where, const char *name, GError **error);

/* devices.c: an empty list of devices that frees them, and a device in it. */
GPtrArray *device_list(void);
struct uvk_usb_device *device_add(GPtrArray *devices, char *name, uint16_t vendor,
                                  uint16_t product);

#endif
