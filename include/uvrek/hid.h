/* hid.h - numbers of the HID Usage Tables 1.3 that are spoken of by name. */
#ifndef UVREK_HID_H
#define UVREK_HID_H

/* Pages (section 3). */
#define UVK_HID_PAGE_DESKTOP  0x01u   /* section 4 */
#define UVK_HID_PAGE_KEYBOARD 0x07u   /* section 10 */
#define UVK_HID_PAGE_BUTTON   0x09u   /* section 12 */
#define UVK_HID_PAGE_VENDORS  0xFF00u /* and all behind it */
#define UVK_HID_PAGE_CONSUMER 0x0Cu   /* section 15 */

/* Of the desktop page. */
#define UVK_HID_X             0x30u
#define UVK_HID_Y             0x31u
#define UVK_HID_WHEEL         0x38u
#define UVK_HID_NO_MICROPHONE 0xA9u /* System Microphone Mute */

/* Of the consumer page. */
#define UVK_HID_AC_PAN 0x238u /* the wheel that turns left and right */

/* Of the keyboard page. */
#define UVK_HID_A            0x04u
#define UVK_HID_Z            0x1Du
#define UVK_HID_ENTER        0x28u
#define UVK_HID_TAB          0x2Bu
#define UVK_HID_SPACE        0x2Cu
#define UVK_HID_CAPS_LOCK    0x39u
#define UVK_HID_SCROLL_LOCK  0x47u
#define UVK_HID_NUM_LOCK     0x53u
#define UVK_HID_PAD_PLUS     0x57u
#define UVK_HID_PAD_1        0x59u /* then 2..9, 0 */
#define UVK_HID_PAD_0        0x62u
#define UVK_HID_NON_US_SLASH 0x64u /* the key beside left shift of ISO boards */
#define UVK_HID_FIRST_MOD    0xE0u /* left control */
#define UVK_HID_LAST_MOD     0xE7u /* right gui */

/* Modifiers as bits of a report (HID 1.11, 8.3). */
#define UVK_HID_SHIFTS 0x22u

#endif
