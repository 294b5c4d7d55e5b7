/* descriptors.h - the HID report descriptors, as lists of bytes.
 *
 * 1. They are macros so that a port can write their lengths into its USB descriptors
 *    (HID 1.11, section 6.2.1) when it is compiled.
 * 2. They follow the reports of keyboard/engine/reports.c bit by bit; what is not built in is
 * not described. Item codes: HID 1.11, section 6.2.2.
 */
#ifndef UVREK_DESCRIPTORS_H
#define UVREK_DESCRIPTORS_H

#include "uvrek/engine.h"

/* clang-format off */
#define UVK_HID_USAGE_PAGE(n)      0x05, (n)
#define UVK_HID_USAGE(n)           0x09, (n)
#define UVK_HID_USAGE_MIN(n)       0x19, (n)
#define UVK_HID_USAGE_MAX(n)       0x29, (n)
#define UVK_HID_USAGE_MAX16(n)     0x2A, (n) & 0xFF, (n) >> 8
#define UVK_HID_LOGICAL_MIN(n)     0x15, (n)
#define UVK_HID_LOGICAL_MAX(n)     0x25, (n)
#define UVK_HID_LOGICAL_MAX16(n)   0x26, (n) & 0xFF, (n) >> 8
#define UVK_HID_REPORT_ID(n)       0x85, (n)
#define UVK_HID_REPORT_SIZE(n)     0x75, (n)
#define UVK_HID_REPORT_COUNT(n)    0x95, (n)
#define UVK_HID_APPLICATION        0xA1, 0x01
#define UVK_HID_PHYSICAL           0xA1, 0x00
#define UVK_HID_END                0xC0
#define UVK_HID_INPUT_ARRAY        0x81, 0x00
#define UVK_HID_INPUT_CONST        0x81, 0x01
#define UVK_HID_INPUT_VAR          0x81, 0x02
#define UVK_HID_INPUT_RELATIVE     0x81, 0x06
#define UVK_HID_OUTPUT_CONST       0x91, 0x01
#define UVK_HID_OUTPUT_VAR         0x91, 0x02

#define UVK_HID_MODIFIER_BITS                                                                  \
    UVK_HID_USAGE_PAGE(0x07), UVK_HID_USAGE_MIN(0xE0), UVK_HID_USAGE_MAX(0xE7),                \
    UVK_HID_LOGICAL_MIN(0), UVK_HID_LOGICAL_MAX(1),                                            \
    UVK_HID_REPORT_SIZE(1), UVK_HID_REPORT_COUNT(8), UVK_HID_INPUT_VAR

/* HID 1.11, appendix B.1: modifiers, the five lamps that the host lights, six keys. */
#define UVK_BOOT_ITEMS                                                                         \
    UVK_HID_USAGE_PAGE(0x01), UVK_HID_USAGE(0x06), UVK_HID_APPLICATION, UVK_HID_MODIFIER_BITS, \
    UVK_HID_REPORT_COUNT(1), UVK_HID_REPORT_SIZE(8), UVK_HID_INPUT_CONST,                      \
    UVK_HID_USAGE_PAGE(0x08), UVK_HID_USAGE_MIN(1), UVK_HID_USAGE_MAX(5),                      \
    UVK_HID_REPORT_SIZE(1), UVK_HID_REPORT_COUNT(5), UVK_HID_OUTPUT_VAR,                       \
    UVK_HID_REPORT_SIZE(3), UVK_HID_REPORT_COUNT(1), UVK_HID_OUTPUT_CONST,                     \
    UVK_HID_USAGE_PAGE(0x07), UVK_HID_USAGE_MIN(0), UVK_HID_USAGE_MAX(0xDF),                   \
    UVK_HID_LOGICAL_MIN(0), UVK_HID_LOGICAL_MAX16(0xDF),                                       \
    UVK_HID_REPORT_SIZE(8), UVK_HID_REPORT_COUNT(6), UVK_HID_INPUT_ARRAY,                      \
    UVK_HID_END

/* A bit for every key. */
#define UVK_HID_KEYS_ITEMS                                                                     \
    UVK_HID_USAGE_PAGE(0x01), UVK_HID_USAGE(0x06), UVK_HID_APPLICATION,                        \
    UVK_HID_REPORT_ID(UVK_REPORT_KEYS), UVK_HID_MODIFIER_BITS,                                 \
    UVK_HID_USAGE_MIN(0), UVK_HID_USAGE_MAX(0xDF), UVK_HID_REPORT_COUNT(0xE0),                 \
    UVK_HID_INPUT_VAR, UVK_HID_END

#if UVK_USE_CONSUMER
#define UVK_HID_CONSUMER_ITEMS                                                                 \
    , UVK_HID_USAGE_PAGE(0x0C), UVK_HID_USAGE(0x01), UVK_HID_APPLICATION,                      \
    UVK_HID_REPORT_ID(UVK_REPORT_CONSUMER),                                                    \
    UVK_HID_USAGE_MIN(0), UVK_HID_USAGE_MAX16(0x3FF),                                          \
    UVK_HID_LOGICAL_MIN(0), UVK_HID_LOGICAL_MAX16(0x3FF),                                      \
    UVK_HID_REPORT_SIZE(16), UVK_HID_REPORT_COUNT(UVK_CONSUMER_SLOTS), UVK_HID_INPUT_ARRAY,    \
    UVK_HID_END
#else
#define UVK_HID_CONSUMER_ITEMS
#endif

#if UVK_USE_SYSTEM
#define UVK_HID_SYSTEM_ITEMS                                                                   \
    , UVK_HID_USAGE_PAGE(0x01), UVK_HID_USAGE(0x80), UVK_HID_APPLICATION,                      \
    UVK_HID_REPORT_ID(UVK_REPORT_SYSTEM),                                                      \
    UVK_HID_USAGE_MIN(0x81), UVK_HID_USAGE_MAX(0x83),                                          \
    UVK_HID_LOGICAL_MIN(0), UVK_HID_LOGICAL_MAX(1),                                            \
    UVK_HID_REPORT_SIZE(1), UVK_HID_REPORT_COUNT(3), UVK_HID_INPUT_VAR,                        \
    UVK_HID_USAGE(0xA9), UVK_HID_REPORT_COUNT(1), UVK_HID_INPUT_VAR,                           \
    UVK_HID_REPORT_SIZE(4), UVK_HID_REPORT_COUNT(1), UVK_HID_INPUT_CONST,                      \
    UVK_HID_END
#else
#define UVK_HID_SYSTEM_ITEMS
#endif

/* Buttons; x, y and wheel; the wheel's sideways step (AC Pan, 0x0238). */
#if UVK_USE_MOUSE
#define UVK_HID_MOUSE_ITEMS                                                                    \
    , UVK_HID_USAGE_PAGE(0x01), UVK_HID_USAGE(0x02), UVK_HID_APPLICATION,                      \
    UVK_HID_REPORT_ID(UVK_REPORT_MOUSE), UVK_HID_USAGE(0x01), UVK_HID_PHYSICAL,                \
    UVK_HID_USAGE_PAGE(0x09), UVK_HID_USAGE_MIN(1), UVK_HID_USAGE_MAX(UVK_BUTTONS),            \
    UVK_HID_LOGICAL_MIN(0), UVK_HID_LOGICAL_MAX(1),                                            \
    UVK_HID_REPORT_SIZE(1), UVK_HID_REPORT_COUNT(UVK_BUTTONS), UVK_HID_INPUT_VAR,              \
    UVK_HID_REPORT_SIZE(8 - UVK_BUTTONS), UVK_HID_REPORT_COUNT(1), UVK_HID_INPUT_CONST,        \
    UVK_HID_USAGE_PAGE(0x01), UVK_HID_USAGE(0x30), UVK_HID_USAGE(0x31), UVK_HID_USAGE(0x38),   \
    UVK_HID_LOGICAL_MIN(0x81), UVK_HID_LOGICAL_MAX(0x7F),                                      \
    UVK_HID_REPORT_SIZE(8), UVK_HID_REPORT_COUNT(3), UVK_HID_INPUT_RELATIVE,                   \
    UVK_HID_USAGE_PAGE(0x0C), 0x0A, 0x38, 0x02, UVK_HID_REPORT_COUNT(1),                       \
    UVK_HID_INPUT_RELATIVE, UVK_HID_END, UVK_HID_END
#else
#define UVK_HID_MOUSE_ITEMS
#endif

/* The live door (door.h): reports both ways, of bytes that mean something to the desk alone. */
#define UVK_LIVE_ITEMS                                                                         \
    0x06, UVK_LIVE_PAGE & 0xFF, UVK_LIVE_PAGE >> 8, UVK_HID_USAGE(1), UVK_HID_APPLICATION,     \
    UVK_HID_LOGICAL_MIN(0), UVK_HID_LOGICAL_MAX16(0xFF), UVK_HID_REPORT_SIZE(8),               \
    UVK_HID_REPORT_COUNT(UVK_DOOR_BYTES), UVK_HID_USAGE(2), UVK_HID_INPUT_VAR,                 \
    UVK_HID_USAGE(3), UVK_HID_OUTPUT_VAR, UVK_HID_END

#define UVK_OTHER_ITEMS UVK_HID_KEYS_ITEMS UVK_HID_CONSUMER_ITEMS UVK_HID_SYSTEM_ITEMS UVK_HID_MOUSE_ITEMS
/* clang-format on */

#define UVK_BOOT_ITEMS_SIZE  sizeof((uint8_t[]){UVK_BOOT_ITEMS})
#define UVK_LIVE_ITEMS_SIZE  sizeof((uint8_t[]){UVK_LIVE_ITEMS})
#define UVK_OTHER_ITEMS_SIZE sizeof((uint8_t[]){UVK_OTHER_ITEMS})

#endif
