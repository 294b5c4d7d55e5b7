/* exported.c - the keyboard of a rig as a USB device for somebody else's host. The rig's own
 * host has met it before, and goes on listening. */
#include "uvrek/gadget.h"

static enum uvk_transfer control(void *self, const uint8_t setup[8], uint8_t *data,
                                 size_t *size)
{
    return uvk_rig_control(self, setup, data, size);
}

static bool fetch(void *self, unsigned endpoint, uint8_t packet[64], size_t *size)
{
    return uvk_rig_take_report(self, endpoint, packet, size);
}

static enum uvk_transfer give(void *self, unsigned endpoint, const uint8_t *packet, size_t size)
{
    return uvk_rig_give(self, endpoint, packet, size);
}

static void released(void *self)
{
    uvk_rig_forget_reports(self);
}

struct uvk_gadget uvk_rig_gadget(struct uvk_rig *rig)
{
    return (struct uvk_gadget){rig, control, fetch, give, released};
}
