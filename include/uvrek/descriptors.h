/* descriptors.h - the HID report descriptors, as lists of bytes.
 *
 * 1. They are macros so that a port can write their lengths into its USB descriptors
 *    (HID 1.11, section 6.2.1) when it is compiled.
 * 2. They follow the reports of engine/reports.c bit by bit; what is not built in is not
 *    described. Item codes: HID 1.11, section 6.2.2.
 */
#ifndef UVREK_DESCRIPTORS_H
#define UVREK_DESCRIPTORS_H

#include "uvrek/engine.h"

/* clang-format off */
#define HID_USAGE_PAGE(n)   0x05, (n)
#define HID_USAGE(n)        0x09, (n)
#define HID_USAGE_MIN(n)    0x19, (n)
#define HID_USAGE_MAX(n)    0x29, (n)
#define HID_USAGE_MAX16(n)  0x2A, (n) & 0xFF, (n) >> 8
#define HID_LOGICAL_MIN(n)  0x15, (n)
#define HID_LOGICAL_MAX(n)  0x25, (n)
#define HID_LOGICAL_MAX16(n) 0x26, (n) & 0xFF, (n) >> 8
#define HID_REPORT_ID(n)    0x85, (n)
#define HID_REPORT_SIZE(n)  0x75, (n)
#define HID_REPORT_COUNT(n) 0x95, (n)
#define HID_APPLICATION     0xA1, 0x01
#define HID_PHYSICAL        0xA1, 0x00
#define HID_END             0xC0
#define HID_INPUT_ARRAY     0x81, 0x00
#define HID_INPUT_CONST     0x81, 0x01
#define HID_INPUT_VAR       0x81, 0x02
#define HID_INPUT_RELATIVE  0x81, 0x06
#define HID_OUTPUT_CONST    0x91, 0x01
#define HID_OUTPUT_VAR      0x91, 0x02


#define HID_MODIFIER_BITS                                                      \
    HID_USAGE_PAGE(0x07), HID_USAGE_MIN(0xE0), HID_USAGE_MAX(0xE7),            \
    HID_LOGICAL_MIN(0), HID_LOGICAL_MAX(1),                                    \
    HID_REPORT_SIZE(1), HID_REPORT_COUNT(8), HID_INPUT_VAR

/* HID 1.11, appendix B.1: modifiers, the five lamps that the host lights, six keys. */
#define UVK_BOOT_ITEMS                                                         \
    HID_USAGE_PAGE(0x01), HID_USAGE(0x06), HID_APPLICATION, HID_MODIFIER_BITS, \
    HID_REPORT_COUNT(1), HID_REPORT_SIZE(8), HID_INPUT_CONST,                  \
    HID_USAGE_PAGE(0x08), HID_USAGE_MIN(1), HID_USAGE_MAX(5),                  \
    HID_REPORT_SIZE(1), HID_REPORT_COUNT(5), HID_OUTPUT_VAR,                   \
    HID_REPORT_SIZE(3), HID_REPORT_COUNT(1), HID_OUTPUT_CONST,                 \
    HID_USAGE_PAGE(0x07), HID_USAGE_MIN(0), HID_USAGE_MAX(0xDF),               \
    HID_LOGICAL_MIN(0), HID_LOGICAL_MAX16(0xDF),                               \
    HID_REPORT_SIZE(8), HID_REPORT_COUNT(6), HID_INPUT_ARRAY,                  \
    HID_END

/* A bit for every key. */
#define HID_KEYS_ITEMS                                                         \
    HID_USAGE_PAGE(0x01), HID_USAGE(0x06), HID_APPLICATION,                    \
    HID_REPORT_ID(UVK_REPORT_KEYS), HID_MODIFIER_BITS,                         \
    HID_USAGE_MIN(0), HID_USAGE_MAX(0xDF), HID_REPORT_COUNT(0xE0),             \
    HID_INPUT_VAR, HID_END

#if UVK_USE_CONSUMER
#define HID_CONSUMER_ITEMS                                                     \
    , HID_USAGE_PAGE(0x0C), HID_USAGE(0x01), HID_APPLICATION,                  \
    HID_REPORT_ID(UVK_REPORT_CONSUMER),                                        \
    HID_USAGE_MIN(0), HID_USAGE_MAX16(0x3FF),                                  \
    HID_LOGICAL_MIN(0), HID_LOGICAL_MAX16(0x3FF),                              \
    HID_REPORT_SIZE(16), HID_REPORT_COUNT(UVK_CONSUMER_SLOTS), HID_INPUT_ARRAY, \
    HID_END
#else
#define HID_CONSUMER_ITEMS
#endif

#if UVK_USE_SYSTEM
#define HID_SYSTEM_ITEMS                                                       \
    , HID_USAGE_PAGE(0x01), HID_USAGE(0x80), HID_APPLICATION,                  \
    HID_REPORT_ID(UVK_REPORT_SYSTEM),                                          \
    HID_USAGE_MIN(0x81), HID_USAGE_MAX(0x83),                                  \
    HID_LOGICAL_MIN(0), HID_LOGICAL_MAX(1),                                    \
    HID_REPORT_SIZE(1), HID_REPORT_COUNT(3), HID_INPUT_VAR,                    \
    HID_REPORT_SIZE(5), HID_REPORT_COUNT(1), HID_INPUT_CONST,                  \
    HID_END
#else
#define HID_SYSTEM_ITEMS
#endif

/* Buttons; x, y and wheel; the wheel's sideways step (AC Pan, 0x0238). */
#if UVK_USE_MOUSE
#define HID_MOUSE_ITEMS                                                        \
    , HID_USAGE_PAGE(0x01), HID_USAGE(0x02), HID_APPLICATION,                  \
    HID_REPORT_ID(UVK_REPORT_MOUSE), HID_USAGE(0x01), HID_PHYSICAL,            \
    HID_USAGE_PAGE(0x09), HID_USAGE_MIN(1), HID_USAGE_MAX(UVK_BUTTONS),        \
    HID_LOGICAL_MIN(0), HID_LOGICAL_MAX(1),                                    \
    HID_REPORT_SIZE(1), HID_REPORT_COUNT(UVK_BUTTONS), HID_INPUT_VAR,          \
    HID_REPORT_SIZE(8 - UVK_BUTTONS), HID_REPORT_COUNT(1), HID_INPUT_CONST,    \
    HID_USAGE_PAGE(0x01), HID_USAGE(0x30), HID_USAGE(0x31), HID_USAGE(0x38),   \
    HID_LOGICAL_MIN(0x81), HID_LOGICAL_MAX(0x7F),                              \
    HID_REPORT_SIZE(8), HID_REPORT_COUNT(3), HID_INPUT_RELATIVE,               \
    HID_USAGE_PAGE(0x0C), 0x0A, 0x38, 0x02, HID_REPORT_COUNT(1),               \
    HID_INPUT_RELATIVE, HID_END, HID_END
#else
#define HID_MOUSE_ITEMS
#endif

#define UVK_OTHER_ITEMS HID_KEYS_ITEMS HID_CONSUMER_ITEMS HID_SYSTEM_ITEMS HID_MOUSE_ITEMS
/* clang-format on */

#define UVK_BOOT_ITEMS_SIZE  sizeof((uint8_t[]){UVK_BOOT_ITEMS})
#define UVK_OTHER_ITEMS_SIZE sizeof((uint8_t[]){UVK_OTHER_ITEMS})

#endif
