/* names.h - what a firmware build says of a board's USB. */
#define UVK_USB_VENDOR  0x1209
#define UVK_USB_PRODUCT 0x0001
#define UVK_USB_MAKER   , 0x53, 0x00
#define UVK_USB_TITLE
