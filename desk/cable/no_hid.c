/* no_hid.c - without hidapi: interfaces are taken from the kernel's driver instead. */
#include "hid.h"

bool hid_open_interface(const char *name, unsigned interface, struct hid **hid, GError **error)
{
    (void)name;
    (void)interface;
    (void)error;
    *hid = NULL;
    return true;
}

void hid_close_interface(struct hid *hid)
{
    (void)hid;
}

enum uvk_cable_result hid_receive(struct hid *hid, uint8_t *data, size_t *size, unsigned ms)
{
    (void)hid;
    (void)data;
    (void)ms;
    *size = 0;
    return UVK_CABLE_GONE;
}

enum uvk_cable_result hid_send(struct hid *hid, const uint8_t *data, size_t *size)
{
    (void)hid;
    (void)data;
    *size = 0;
    return UVK_CABLE_GONE;
}
