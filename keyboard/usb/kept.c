/* kept.c - what the keyboard keeps, millisecond by millisecond. */
#include "uvrek/lights.h"
#include "uvrek/usb.h"

#if UVK_USE_JOURNAL

#define REST_MS 1000u /* without a key being down */

#if UVK_USE_LIGHT_CELLS

_Static_assert(UVK_LIGHTS_KEPT <= UVK_RECORD_SHORT, "lights are kept in a short record");

static void keep_lights(struct uvk_usb *usb)
{
    uint8_t kept[UVK_LIGHTS_KEPT];

    if (uvk_lights_to_keep(uvk_usb_engine(usb), kept) &&
        uvk_journal_put(usb->journal, UVK_RECORD_LIGHTS, kept, UVK_LIGHTS_KEPT)) {
        uvk_lights_are_kept(uvk_usb_engine(usb), kept);
    }
}

void uvk_kept_start(struct uvk_usb *usb, struct uvk_port *port)
{
    uint8_t kept[UVK_LIGHTS_KEPT];
    uint8_t size =
        (uint8_t)uvk_journal_get(usb->journal, port, UVK_RECORD_LIGHTS, kept, UVK_LIGHTS_KEPT);

    uvk_lights_restore(uvk_usb_engine(usb), kept, size);
}

#else

static void keep_lights(struct uvk_usb *usb)
{
    (void)usb;
}

void uvk_kept_start(struct uvk_usb *usb, struct uvk_port *port)
{
    (void)usb;
    (void)port;
}

#endif

void uvk_kept_tick(struct uvk_usb *usb, struct uvk_port *port)
{
    if (usb->journal != NULL) {
        bool idle = uvk_engine_idle(uvk_usb_engine(usb));
        usb->quiet = idle ? (uint16_t)(usb->quiet + (usb->quiet < REST_MS)) : 0;
        keep_lights(usb);
        uvk_journal_task(usb->journal, port, 1, usb->quiet == REST_MS);
    }
}

bool uvk_kept_all(const struct uvk_usb *usb)
{
    return usb->journal == NULL || uvk_journal_is_idle(usb->journal);
}

void uvk_kept_forget(struct uvk_usb *usb)
{
    if (usb->journal != NULL) {
        uvk_journal_forget(usb->journal);
    }
}

#endif
