/* kept.c - what the keyboard keeps, millisecond by millisecond. */
#include "uvrek/usb.h"

#if UVK_USE_JOURNAL

#define REST_MS 1000u /* without a key being down */

void uvk_kept_tick(struct uvk_usb *usb, struct uvk_port *port)
{
    if (usb->journal != NULL) {
        bool idle = uvk_engine_idle(usb->engine);
        usb->quiet = idle ? (uint16_t)(usb->quiet + (usb->quiet < REST_MS)) : 0;
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
