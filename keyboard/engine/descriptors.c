/* descriptors.c - the HID report descriptors in ROM. */
#include "uvrek/descriptors.h"

static const UVK_ROM uint8_t boot_keyboard[] = {UVK_BOOT_ITEMS};
static const UVK_ROM uint8_t all_the_rest[] = {UVK_OTHER_ITEMS};

uvk_image_bytes uvk_report_descriptor(uint8_t interface, uint16_t *size)
{
    if (interface == 0) {
        *size = sizeof boot_keyboard;
        return boot_keyboard;
    }
    *size = sizeof all_the_rest;
    return all_the_rest;
}
