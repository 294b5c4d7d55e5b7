/* check_words.c - does an action word mean something where it stands? */
#include "tables.h"

/* Values of a DEVICE action, by enum uvk_device. */
static const UVK_ROM uint8_t device_first[] = {
    0x81, 1, UVK_WHEEL_UP, UVK_BOARD_BOOTLOADER, UVK_WHEEL_UP, UVK_PACE_SLOW, UVK_USAGE_FIRST,
    0,    0, UVK_LIGHT_ON};
static const UVK_ROM uint8_t device_last[] = {UVK_SYSTEM_MICROPHONE,
                                              UVK_BUTTONS,
                                              UVK_WHEEL_RIGHT,
                                              UVK_BOARD_RESET,
                                              UVK_WHEEL_RIGHT,
                                              UVK_PACE_FAST,
                                              UVK_USAGE_LAST,
                                              0,
                                              0,
                                              UVK_LIGHT_BREATHE};
static const UVK_ROM uint8_t device_built[] = {
    UVK_USE_SYSTEM,  UVK_USE_MOUSE,  UVK_USE_MOUSE,  UVK_USE_BOARD,      UVK_USE_POINTER,
    UVK_USE_POINTER, UVK_USE_BLOCKS, UVK_USE_LEADER, UVK_USE_LONG_PRESS, UVK_USE_LIGHT_CELLS};

static bool device_is_valid(uvk_action action)
{
    uint8_t device = uvk_action_how(action);
    uint8_t value = uvk_action_what(action);

    return device < UVK_DEVICES && device_built[device] && value >= device_first[device] &&
           value <= device_last[device];
}

static bool key_is_valid(uvk_action action)
{
    uint8_t usage = uvk_action_what(action);

    if (usage == 0) {
        return uvk_action_how(action) != UVK_MOD_RIGHT;
    }
    return usage >= UVK_USAGE_FIRST && usage <= UVK_USAGE_LAST;
}

/* A `once` that is held longer than the first feel says does not stick. */
static UVK_ONE_COPY bool once_is_valid(const struct uvk_image *image)
{
    return UVK_USE_STICKY && ROWS(image, FEELS) > 0;
}

static bool layer_is_valid(const struct uvk_image *image, uvk_action action)
{
    uint8_t op = uvk_action_how(action);

    return uvk_action_what(action) < LAYERS(image) &&
           (op == UVK_LAYER_WHILE || (UVK_USE_STICKY && op < UVK_LAYER_ONCE) ||
            (op == UVK_LAYER_ONCE && once_is_valid(image)));
}

static bool mods_are_valid(const struct uvk_image *image, uvk_action action)
{
    uint8_t op = uvk_action_how(action);

    return op == UVK_MODS_ONCE ? once_is_valid(image) : UVK_USE_STICKY && op <= UVK_MODS_BLOCK;
}

bool uvk_macro_begins(const struct uvk_image *image, uint16_t row)
{
    return row < ROWS(image, STEPS) &&
           (row == 0 || uvk_staged_byte(image, STAGED_AT(image, STEPS, STEP_ROW, row - 1u),
                                        0) == UVK_OP_END);
}

static bool hold_is_valid(const struct uvk_image *image, uvk_action action,
                          enum uvk_word_place place)
{
    uint16_t row = uvk_action_row(action);

    if (uvk_action_is_dance(action)) {
        return UVK_USE_DANCES && place <= UVK_IN_HOLD && row < ROWS(image, DANCES);
    }
    return UVK_USE_HOLDS && place < UVK_IN_HOLD && row < ROWS(image, HOLDS);
}

bool uvk_word_is_valid(const struct uvk_image *image, uvk_action action,
                       enum uvk_word_place place)
{
    uint16_t value = uvk_action_value(action);

    if (action == UVK_SEE_THROUGH) {
        return place <= UVK_IN_LINE;
    }
    switch (uvk_action_kind(action)) {
    case UVK_KEY:
        return key_is_valid(action);
    case UVK_CHORD:
        return UVK_USE_CHORDS && place != UVK_IN_CHORD && value < ROWS(image, CHORDS);
    case UVK_LAYER:
        return place != UVK_IN_STEP && layer_is_valid(image, action);
    case UVK_MACRO:
        return UVK_USE_MACROS && place <= UVK_IN_HOLD && uvk_macro_begins(image, value);
    case UVK_CONSUMER:
        return UVK_USE_CONSUMER && value != 0 && value <= UVK_CONSUMER_LAST;
    case UVK_DEVICE:
        return device_is_valid(action) &&
               (place <= UVK_IN_HOLD || uvk_action_how(action) != UVK_DEVICE_LEADER);
    case UVK_HOLD:
        return hold_is_valid(image, action, place);
    case UVK_MODS:
        return place != UVK_IN_STEP && mods_are_valid(image, action);
    default:
        return false;
    }
}
