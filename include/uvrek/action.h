/* action.h - the action word: what a cell does, in 16 bits.
 *
 * 1. The lowest three bits are the kind; the other thirteen are the kind's value.
 * 2. The same word stands in a layer cell, on a knob, in a chord, a tap-hold, a combo, a
 *    dance, a leader sequence and a macro.
 * 3. Sticky modifiers without any modifier, 0x0000, let the layer below show through. A key
 *    without usage and modifiers, 0x0002, does nothing, on purpose.
 *
 *    kind        bits 15 .. 8               7 .. 3               2 .. 0
 *    MODS        modifiers, report bits     enum uvk_mods_op        0
 *    LAYER       layer                      enum uvk_layer_op       1
 *    KEY         usage of page 0x07,        modifiers (5 bits)      2
 *                0 = modifiers only
 *    DEVICE      its value                  enum uvk_device         3
 *    CHORD       row of the chord table (13 bits)                   4
 *    CONSUMER    usage of page 0x0C (13 bits)                       5
 *    HOLD        0, row of the tap-hold table; 1, row of the        6
 *                dances (12 bits each)
 *    MACRO       row of the steps where the macro begins (13 bits)  7
 *
 * The five modifier bits are control, shift, alt, gui, and "all of them the right
 * ones". Left and right mixed need the chord table.
 */
#ifndef UVREK_ACTION_H
#define UVREK_ACTION_H

#include <stdbool.h>
#include <stdint.h>

typedef uint16_t uvk_action;

enum uvk_action_kind {
    UVK_MODS = 0,
    UVK_LAYER = 1,
    UVK_KEY = 2,
    UVK_DEVICE = 3,
    UVK_CHORD = 4,
    UVK_CONSUMER = 5,
    UVK_HOLD = 6,
    UVK_MACRO = 7
};

/* How a LAYER action switches its layer. */
enum uvk_layer_op {
    UVK_LAYER_WHILE = 0,  /* on while the key is down */
    UVK_LAYER_TOGGLE = 1, /* on or off at each press */
    UVK_LAYER_ONLY = 2,   /* all but the first off, then this one on */
    UVK_LAYER_ONCE = 3    /* while down; after a tap for the next key only */
};

/* What a MODS action does with its modifiers. */
enum uvk_mods_op {
    UVK_MODS_ONCE = 0,   /* while down; after a tap for the next key only */
    UVK_MODS_TOGGLE = 1, /* stay down until pressed again */
    UVK_MODS_BLOCK = 2   /* are kept from the host until pressed again */
};

/* What a DEVICE action addresses. */
enum uvk_device {
    UVK_DEVICE_SYSTEM = 0, /* value: usage of page 0x01, 0x81..0x83; UVK_SYSTEM_MICROPHONE */
    UVK_DEVICE_CLICK = 1,  /* value: button 1..5 */
    UVK_DEVICE_WHEEL = 2,  /* value: enum uvk_wheel; one notch for each press */
    UVK_DEVICE_BOARD = 3,  /* value: enum uvk_board_act */
    UVK_DEVICE_POINT = 4,  /* value: enum uvk_wheel; the pointer moves while it is down */
    UVK_DEVICE_PACE = 5,   /* value: enum uvk_pace; for pointer and wheel, while it is down */
    UVK_DEVICE_BLOCK = 6,  /* value: a usage of page 0x07, kept from the host until the next */
    UVK_DEVICE_LEADER = 7, /* value: 0; the keys that follow may be a sequence */
    UVK_DEVICE_LONG_PRESS = 8, /* value: 0; long presses off, or on again */
    UVK_DEVICE_LIGHT = 9,      /* value: enum uvk_light_act */
    UVK_DEVICES = 10
};

/* Ways to go, of wheels and of the pointer. */
enum uvk_wheel { UVK_WHEEL_UP = 0, UVK_WHEEL_DOWN, UVK_WHEEL_LEFT, UVK_WHEEL_RIGHT };

enum uvk_pace { UVK_PACE_SLOW = 0, UVK_PACE_FAST = 1 };

enum uvk_board_act {
    UVK_BOARD_BOOTLOADER = 0,
    UVK_BOARD_RESTART = 1,
    UVK_BOARD_RESET = 2 /* forget what was stored, and restart */
};

/* In the order of uvk_light_acts (names.h). */
enum uvk_light_act {
    UVK_LIGHT_ON,
    UVK_LIGHT_OFF,
    UVK_LIGHT_TOGGLE,
    UVK_LIGHT_UP,     /* brighter */
    UVK_LIGHT_DOWN,   /* darker */
    UVK_LIGHT_NEXT,   /* the effect behind this one */
    UVK_LIGHT_BACK,   /* the one before it */
    UVK_LIGHT_BREATHE /* breathing, or still again */
};

#define UVK_SEE_THROUGH ((uvk_action)0x0000)
#define UVK_NOTHING     ((uvk_action)0x0002)

/* HID modifier bits as they stand in a keyboard report (HID 1.11, section 8.3). */
#define UVK_MOD_CTRL          0x01u
#define UVK_MOD_SHIFT         0x02u
#define UVK_MOD_ALT           0x04u
#define UVK_MOD_GUI           0x08u
#define UVK_MOD_RIGHT         0x10u /* in an action word: the four above are right ones */
#define UVK_USAGE_FIRST       0x04u /* the first usage of page 0x07 that is a key */
#define UVK_USAGE_LAST        0xDFu /* the last one; 0xE0..0xE7 are the modifiers */
#define UVK_BUTTONS           5
#define UVK_SYSTEM_MICROPHONE 0x84u   /* stands for usage 0xA9: microphone mute */
#define UVK_DANCE             0x1000u /* in the value of a HOLD: it is a dance */
#define UVK_CONSUMER_LAST     0x3FFu  /* the last usage of page 0x0C that a report can carry */

#define UVK_MAKE(kind, value)          ((uvk_action)(((unsigned)(value) << 3) | (unsigned)(kind)))
#define UVK_MAKE_OP(kind, how, what)   UVK_MAKE((kind), ((unsigned)(what) << 5) | (unsigned)(how))
#define UVK_MAKE_KEY(mods, usage)      UVK_MAKE_OP(UVK_KEY, (mods), (usage))
#define UVK_MAKE_LAYER(layer)          UVK_MAKE_OP(UVK_LAYER, UVK_LAYER_WHILE, (layer))
#define UVK_MAKE_DEVICE(device, value) UVK_MAKE_OP(UVK_DEVICE, (device), (value))

static inline enum uvk_action_kind uvk_action_kind(uvk_action action)
{
    return (enum uvk_action_kind)(action & 7u);
}

/* The thirteen bits above the kind. */
static inline uint16_t uvk_action_value(uvk_action action)
{
    return (uint16_t)(action >> 3);
}

/* KEY: the usage. LAYER: the layer. DEVICE: the value. MODS: the modifiers. */
static inline uint8_t uvk_action_what(uvk_action action)
{
    return (uint8_t)(action >> 8);
}

/* DEVICE: which one. KEY: the five modifier bits. LAYER, MODS: the operation. */
static inline uint8_t uvk_action_how(uvk_action action)
{
    return (uint8_t)((action >> 3) & 0x1Fu);
}

static inline bool uvk_action_is_dance(uvk_action action)
{
    return uvk_action_kind(action) == UVK_HOLD && (uvk_action_value(action) & UVK_DANCE) != 0;
}

/* HOLD: the row of its table. */
static inline uint16_t uvk_action_row(uvk_action action)
{
    return uvk_action_value(action) & (UVK_DANCE - 1u);
}

/* KEY: its modifiers as the eight bits of a report. */
static inline uint8_t uvk_action_mods(uvk_action action)
{
    uint8_t mods = (uint8_t)(uvk_action_how(action) & 0x0Fu);
    if (uvk_action_how(action) & UVK_MOD_RIGHT) {
        mods = (uint8_t)((unsigned)mods << 4);
    }
    return mods;
}

#endif
