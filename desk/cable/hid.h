/* hid.h - a HID interface of a device that is plugged in here, through the kernel's driver. */
#ifndef UVREK_CABLE_HID_H
#define UVREK_CABLE_HID_H

#include "uvrek/cable.h"

struct hid;

/* Open INTERFACE of the USB device NAME. *HID is NULL if the kernel has none that this user may
 * open. False: *ERROR, as when another program has it. */
bool hid_open_interface(const char *name, unsigned interface, struct hid **hid, GError **error);
void hid_close_interface(struct hid *hid);

/* As of struct uvk_cable; a report that is sent has at most 64 bytes. */
enum uvk_cable_result hid_receive(struct hid *hid, uint8_t *data, size_t *size, unsigned ms);
enum uvk_cable_result hid_send(struct hid *hid, const uint8_t *data, size_t *size);

#endif
