/* live.c - the live door's packets, one report each. */
#include "uvrek/usb.h"

#if UVK_USE_LIVE

#include "uvrek/door.h"

void uvk_live_start(struct uvk_usb *usb, struct uvk_port *port, uvk_image_bytes note,
                    uint16_t note_size)
{
    struct uvk_door_setup setup;

#if UVK_USE_JOURNAL
    setup.journal = usb->journal;
#else
    setup.journal = (struct uvk_journal *)0;
#endif
    setup.note = note;
    setup.note_size = note_size;
    setup.board = UVK_BOARD_PRINT;
    setup.features = UVK_FEATURE_BITS;
    uvk_door_start(uvk_usb_engine(usb), port, &setup);
}

bool uvk_live_is_free(const struct uvk_usb *usb)
{
    return uvk_door_is_free(uvk_usb_engine(usb));
}

/* What has another size than a report is none, and is not answered. */
void uvk_live_came(struct uvk_usb *usb, const uint8_t *bytes, uint8_t size)
{
    if (size == UVK_DOOR_BYTES) {
        uvk_door_take(uvk_usb_engine(usb), bytes);
        uvk_live_send(usb);
    }
}

/* A report that is taken from the door has to go out: the endpoint is asked first. */
void uvk_live_send(struct uvk_usb *usb)
{
    uint8_t report[UVK_DOOR_BYTES];

    if (uvk_usb_can_send(usb, UVK_LIVE_INTERFACE) &&
        uvk_door_next(uvk_usb_engine(usb), report)) {
        (void)uvk_usb_send(usb, UVK_LIVE_INTERFACE, report, UVK_DOOR_BYTES);
    }
}

bool uvk_live_spare(struct uvk_usb *usb)
{
    return uvk_door_spare(uvk_usb_engine(usb));
}

void uvk_live_tick(struct uvk_usb *usb, struct uvk_port *port)
{
    uvk_door_tick(uvk_usb_engine(usb), port);
    uvk_live_send(usb);
}

#endif
