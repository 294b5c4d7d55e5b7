/* names.h - what a firmware build says of a board's USB. */
#define UVK_USB_VENDOR     0x1209
#define UVK_USB_PRODUCT    0x0001
#define UVK_USB_MAKER      , 0x53, 0x00
/* of a keyboard in two halves */
#define UVK_HALF_ROLE      UVK_HALF_WITH_HOST
#define UVK_HALVES_BY_HOST 0
#define UVK_SECOND_WINS    0
#define UVK_SECOND_KNOBS   0
#define UVK_LINK_ANSWER_MS 2
#define UVK_USB_TITLE
#define UVK_BOARD_PRINT      0x1234
#define UVK_USB_MILLIAMPERES 100
