/* value.h - what a cell does, as the language says it. Desk side.
 *
 * Values live as long as the program that they are read from.
 */
#ifndef UVREK_VALUE_H
#define UVREK_VALUE_H

#include "uvrek/image.h"

#ifdef __cplusplus
extern "C" {
#endif

/* What a cell does. Everything that the host can be told is a HID usage. */
enum uvk_value_kind {
    UVK_VALUE_NOTHING,
    UVK_VALUE_THROUGH,
    UVK_VALUE_USAGE, /* mods, page, usage, turn */
    UVK_VALUE_LAYER, /* op (enum uvk_layer_op), layer */
    UVK_VALUE_MODS,  /* op (enum uvk_mods_op), mods */
    UVK_VALUE_HOLD,  /* tap, held, feel */
    UVK_VALUE_MACRO, /* macro */
    UVK_VALUE_DANCE, /* dance */
    UVK_VALUE_BLOCK, /* usage of page 7 that is turned off */
    UVK_VALUE_BOARD, /* usage: enum uvk_board_act */
    UVK_VALUE_LIGHT, /* usage: enum uvk_light_act */
    UVK_VALUE_BROKEN /* a mistake that has been told */
};

struct uvk_value {
    enum uvk_value_kind kind;
    uint8_t mods;         /* eight report bits */
    uint16_t page, usage; /* HID page and usage; page 7 usage 0 is modifiers alone */
    int turn;             /* of wheels: -1 or 1 */
    unsigned layer;       /* index into the keymap's layers */
    unsigned op;
    const struct uvk_value *tap, *held;
    unsigned feel;  /* index into the keymap's feels */
    unsigned macro; /* index into the keymap's macros */
    unsigned dance; /* index into the keymap's dances */
};

/* Keys that only this keyboard knows have usages of their own on this page. */
#define UVK_PAGE_OWN 0xFF00u /* HID Usage Tables 1.3, section 3: for vendors */
enum uvk_own_usage {
    UVK_OWN_PACE_SLOW = 1,
    UVK_OWN_PACE_FAST = 2,
    UVK_OWN_LEADER = 3,
    UVK_OWN_LONG_PRESS = 4 /* toggle:long-press */
};

/* What a key's tap is: the tap of a tap-hold, or the value itself. */
const struct uvk_value *uvk_value_tap(const struct uvk_value *value);

bool uvk_value_equal(const struct uvk_value *a, const struct uvk_value *b);

/* The value as the language writes it, as far as it has a name. Freed with g_free. */
char *uvk_value_text(const struct uvk_value *value);

#ifdef __cplusplus
}
#endif

#endif
