/* descriptors.c - who this keyboard says it is: USB 2.0, 9.6, and HID 1.11, 6.2.1.
 *
 * All descriptors stand behind one another. Each begins with its length and its type, so that
 * one walk finds any of them. */
#include "uvrek/descriptors.h"
#include "uvrek/usb.h"

#define LOW(n)  ((n)&0xFF)
#define HIGH(n) (((n) >> 8) & 0xFF)

#if UVK_USE_LIVE
#define LIVE_SIZE     (9 + 9 + 7 + 7)
#define SERIAL_NUMBER 3 /* a string that is not written here */
#else
#define LIVE_SIZE     0
#define SERIAL_NUMBER 0
#endif
#define CONFIGURATION_SIZE (9 + 2 * (9 + 9 + 7) + LIVE_SIZE)

/* An endpoint; interface, HID and IN endpoint descriptor; the live door has two endpoints. */
#define ENDPOINT(address, size)                                                                \
    7, 5, (address), 3 /* interrupt */, LOW(size), HIGH(size), 1 /* ms */
#define INTERFACE(number, boot, endpoints, endpoint, size, length)                             \
    9, 4, (number), 0, (endpoints), 3 /* HID */, (boot), (boot), 0, 9, UVK_USB_HID,            \
        LOW(0x0111), HIGH(0x0111), 0, 1, UVK_USB_REPORT, LOW(length), HIGH(length),            \
        ENDPOINT(0x80 | (endpoint), size)

/* A string is UTF-16; TEXT has a comma before each byte. */
/* NOLINTNEXTLINE(bugprone-macro-parentheses) */
#define STRING(text) 1 + sizeof((uint8_t[]){0 text}), UVK_USB_STRING text
#define ENGLISH      , LOW(0x0409), HIGH(0x0409)

static const UVK_ROM uint8_t descriptors[] = {
    18,
    UVK_USB_DEVICE,
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
    SERIAL_NUMBER, /* maker, product, serial number */
    1,             /* one configuration */

    9,
    UVK_USB_CONFIGURATION,
    LOW(CONFIGURATION_SIZE),
    HIGH(CONFIGURATION_SIZE),
    UVK_USB_INTERFACES,
    1,
    0,
    0xA0,                      /* powered by the bus, may wake the host */
    UVK_USB_MILLIAMPERES / 2u, /* (table 9-10) */
    INTERFACE(0, 1, 1, 1, UVK_EP1_SIZE, UVK_BOOT_ITEMS_SIZE),
    INTERFACE(1, 0, 1, 2, UVK_EP2_SIZE, UVK_OTHER_ITEMS_SIZE),
#if UVK_USE_LIVE
    INTERFACE(UVK_LIVE_INTERFACE, 0, 2, UVK_LIVE_IN, UVK_DOOR_BYTES, UVK_LIVE_ITEMS_SIZE),
    ENDPOINT(UVK_LIVE_OUT, UVK_DOOR_BYTES),
#endif

    STRING(ENGLISH), /* the strings' one language */
    STRING(UVK_USB_MAKER),
    STRING(UVK_USB_TITLE),
    0, /* the end */
};

#define TOTAL_LENGTH 2 /* of a configuration, what belongs to it included */

uvk_image_bytes uvk_usb_descriptor(uint8_t type, uint8_t index, uint8_t *size)
{
    uvk_image_bytes at = descriptors;

    while (at[0] != 0) {
        if (at[1] == type && index-- == 0) {
            *size = at[type == UVK_USB_CONFIGURATION ? TOTAL_LENGTH : 0];
            return at;
        }
        at += at[0];
    }
    return (uvk_image_bytes)0;
}
