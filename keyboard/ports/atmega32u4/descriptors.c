/* descriptors.c - who this keyboard says it is: USB 2.0, 9.6, and HID 1.11, 6.2.1. */
#include "uvrek/descriptors.h"
#include "port_atmega32u4.h"

#define LOW(n)  ((n)&0xFF)
#define HIGH(n) (((n) >> 8) & 0xFF)

static const UVK_ROM uint8_t device[] = {
    18,
    1, /* device descriptor */
    LOW(0x0200),
    HIGH(0x0200), /* USB 2.0 */
    0,
    0,
    0, /* each interface has its own class */
    UVK_EP0_SIZE,
    LOW(UVK_USB_VENDOR),
    HIGH(UVK_USB_VENDOR),
    LOW(UVK_USB_PRODUCT),
    HIGH(UVK_USB_PRODUCT),
    LOW(0x0100),
    HIGH(0x0100), /* release of the device */
    1,
    2,
    0, /* maker, product, no serial number */
    1, /* one configuration */
};

#define CONFIGURATION_SIZE    (9 + 2 * (9 + 9 + 7))
#define UVK_HID_AT(interface) (9 + (interface) * (9 + 9 + 7) + 9)

/* Interface, HID and endpoint descriptor. */
#define INTERFACE(number, boot, endpoint, size, length)                                        \
    9, 4, (number), 0, 1, 3 /* HID */, (boot), (boot), 0, 9, 0x21, LOW(0x0111), HIGH(0x0111),  \
        0, 1, 0x22, LOW(length), HIGH(length), 7, 5, 0x80 | (endpoint), 3 /* interrupt */,     \
        LOW(size), HIGH(size), 1 /* ms */

static const UVK_ROM uint8_t configuration[] = {
    9,
    2,
    LOW(CONFIGURATION_SIZE),
    HIGH(CONFIGURATION_SIZE),
    UVK_INTERFACES,
    1,
    0,
    0xA0, /* powered by the bus, may wake the host */
    50,   /* 100 mA */
    INTERFACE(0, 1, 1, UVK_EP1_SIZE, UVK_BOOT_ITEMS_SIZE),
    INTERFACE(1, 0, 2, UVK_EP2_SIZE, UVK_OTHER_ITEMS_SIZE),
};

/* Strings are UTF-16; their length comes first. */
static const UVK_ROM uint8_t languages[] = {4, 3, LOW(0x0409), HIGH(0x0409)};
static const UVK_ROM uint8_t maker[] = {2 + sizeof((uint8_t[]){UVK_USB_MAKER}), 3,
                                        UVK_USB_MAKER};
static const UVK_ROM uint8_t product[] = {2 + sizeof((uint8_t[]){UVK_USB_TITLE}), 3,
                                          UVK_USB_TITLE};

struct entry {
    uint8_t type, index;
    uvk_image_bytes bytes;
    uint8_t size;
};

static const UVK_ROM struct entry entries[] = {
    {1, 0, device, sizeof device},       {2, 0, configuration, sizeof configuration},
    {3, 0, languages, sizeof languages}, {3, 1, maker, sizeof maker},
    {3, 2, product, sizeof product},
};

uvk_image_bytes uvk_usb_descriptor(uint8_t type, uint8_t index, uint16_t *size)
{
    for (uint8_t i = 0; i < sizeof entries / sizeof entries[0]; i++) {
        if (entries[i].type == type && entries[i].index == index) {
            *size = entries[i].size;
            return entries[i].bytes;
        }
    }
    return (uvk_image_bytes)0;
}

uvk_image_bytes uvk_usb_hid_descriptor(uint8_t interface)
{
    return configuration + (interface == 0 ? UVK_HID_AT(0) : UVK_HID_AT(1));
}
