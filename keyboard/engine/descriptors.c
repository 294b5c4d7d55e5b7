/* descriptors.c - the HID report descriptors in ROM. */
#include "uvrek/descriptors.h"

static const UVK_ROM uint8_t boot_keyboard[] = {UVK_BOOT_ITEMS};
static const UVK_ROM uint8_t all_the_rest[] = {UVK_OTHER_ITEMS};

#if UVK_USE_LIVE
static const UVK_ROM uint8_t live_door[] = {UVK_LIVE_ITEMS};
_Static_assert(sizeof live_door == UVK_LIVE_ITEM_BYTES, "the desk knows the door by that");
#endif

uvk_image_bytes uvk_report_descriptor(uint8_t interface, uint16_t *size)
{
    if (interface == 0) {
        *size = sizeof boot_keyboard;
        return boot_keyboard;
    }
#if UVK_USE_LIVE
    if (interface == 2) {
        *size = sizeof live_door;
        return live_door;
    }
#endif
    *size = sizeof all_the_rest;
    return all_the_rest;
}
