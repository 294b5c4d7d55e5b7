/* lower_values.c - from what a cell does to its action word. */
#include "lowering.h"

#include "uvrek/hid.h"

#include <string.h>

uint16_t milliseconds(double microseconds)
{
    return (uint16_t)((microseconds + 999) / 1000);
}

/* Page 0x01: pointer, wheel, system (HID Usage Tables 1.3, section 4). */
static uvk_action desktop_action(const struct uvk_value *value)
{
    bool more = value->turn > 0;

    switch (value->usage) {
    case UVK_HID_X:
        return UVK_MAKE_DEVICE(UVK_DEVICE_POINT, more ? UVK_WHEEL_RIGHT : UVK_WHEEL_LEFT);
    case UVK_HID_Y: /* downwards is more */
        return UVK_MAKE_DEVICE(UVK_DEVICE_POINT, more ? UVK_WHEEL_DOWN : UVK_WHEEL_UP);
    case UVK_HID_WHEEL:
        return UVK_MAKE_DEVICE(UVK_DEVICE_WHEEL, more ? UVK_WHEEL_UP : UVK_WHEEL_DOWN);
    case UVK_HID_NO_MICROPHONE:
        return UVK_MAKE_DEVICE(UVK_DEVICE_SYSTEM, UVK_SYSTEM_MICROPHONE);
    default:
        return UVK_MAKE_DEVICE(UVK_DEVICE_SYSTEM, value->usage);
    }
}

/* The word of a usage without modifiers. */
static uvk_action plain_action(const struct uvk_value *value)
{
    switch (value->page) {
    case UVK_HID_PAGE_KEYBOARD:
        return UVK_MAKE_KEY(0, value->usage);
    case UVK_HID_PAGE_BUTTON:
        return UVK_MAKE_DEVICE(UVK_DEVICE_CLICK, value->usage);
    case UVK_HID_PAGE_DESKTOP:
        return desktop_action(value);
    case UVK_PAGE_OWN:
        return value->usage == UVK_OWN_LEADER       ? UVK_MAKE_DEVICE(UVK_DEVICE_LEADER, 0)
               : value->usage == UVK_OWN_LONG_PRESS ? UVK_MAKE_DEVICE(UVK_DEVICE_LONG_PRESS, 0)
               : value->usage == UVK_OWN_PACE_SLOW
                   ? UVK_MAKE_DEVICE(UVK_DEVICE_PACE, UVK_PACE_SLOW)
                   : UVK_MAKE_DEVICE(UVK_DEVICE_PACE, UVK_PACE_FAST);
    default:
        if (value->turn != 0) {
            return UVK_MAKE_DEVICE(UVK_DEVICE_WHEEL,
                                   value->turn > 0 ? UVK_WHEEL_RIGHT : UVK_WHEEL_LEFT);
        }
        return UVK_MAKE(UVK_CONSUMER, value->usage);
    }
}

/* The row of TABLE that is ROW, all of it; the same row is kept once. */
static guint find_or_add(struct lowering *lowering, enum uvk_table table, const void *row)
{
    const GArray *rows = lowering->tables[table];
    size_t size = uvk_plan_row_size(table);
    guint at = 0;

    while (at < rows->len && memcmp(rows->data + at * size, row, size) != 0) {
        at++;
    }
    if (at == rows->len) {
        add_row(lowering, table, row);
    }
    return at;
}

static uvk_action chord_action(struct lowering *lowering, uint8_t mods, uvk_action action)
{
    struct uvk_chord_row row;

    memset(&row, 0, sizeof row); /* what is between the fields is compared too */
    row.mods = mods;
    row.action = action;
    return UVK_MAKE(UVK_CHORD, find_or_add(lowering, UVK_TABLE_CHORDS, &row));
}

/* Modifiers of one side and a key fit the action word; the rest needs the table. */
static uvk_action usage_action(struct lowering *lowering, const struct uvk_value *value)
{
    uvk_action action = plain_action(value);
    unsigned left = value->mods & 0x0Fu;
    unsigned right = value->mods >> 4;

    if (value->mods == 0) {
        return action;
    }
    if (value->page != UVK_HID_PAGE_KEYBOARD || (left != 0 && right != 0)) {
        return chord_action(lowering, value->mods, action);
    }
    return right != 0 ? UVK_MAKE_KEY(right | UVK_MOD_RIGHT, value->usage)
                      : UVK_MAKE_KEY(left, value->usage);
}

static uvk_action hold_action(struct lowering *lowering, const struct uvk_value *value)
{
    struct uvk_hold_row row;

    memset(&row, 0, sizeof row);
    row.tap = lower_value(lowering, value->tap);
    row.held = lower_value(lowering, value->held);
    row.feel = (uint8_t)value->feel;
    return UVK_MAKE(UVK_HOLD, find_or_add(lowering, UVK_TABLE_HOLDS, &row));
}

uvk_action lower_value(struct lowering *lowering, const struct uvk_value *value)
{
    switch (value->kind) {
    case UVK_VALUE_THROUGH:
        return UVK_SEE_THROUGH;
    case UVK_VALUE_USAGE:
        return usage_action(lowering, value);
    case UVK_VALUE_LAYER:
        lowering->once |= value->op == UVK_LAYER_ONCE;
        return UVK_MAKE_OP(UVK_LAYER, value->op, value->layer);
    case UVK_VALUE_MODS:
        lowering->once |= value->op == UVK_MODS_ONCE;
        return UVK_MAKE_OP(UVK_MODS, value->op, value->mods);
    case UVK_VALUE_HOLD:
        return hold_action(lowering, value);
    case UVK_VALUE_MACRO:
        return UVK_MAKE(UVK_MACRO, lowering->macros[value->macro]);
    case UVK_VALUE_DANCE:
        return UVK_MAKE(UVK_HOLD, UVK_DANCE | value->dance);
    case UVK_VALUE_BLOCK:
        return UVK_MAKE_DEVICE(UVK_DEVICE_BLOCK, value->usage);
    case UVK_VALUE_BOARD:
        return UVK_MAKE_DEVICE(UVK_DEVICE_BOARD, value->usage);
    case UVK_VALUE_LIGHT:
        return uvk_board_lights_up(lowering->program->board)
                   ? UVK_MAKE_DEVICE(UVK_DEVICE_LIGHT, value->usage)
                   : UVK_NOTHING;
    default:
        return UVK_NOTHING;
    }
}
