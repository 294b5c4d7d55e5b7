/* check.c - does every value of every table mean something? */
#include "layout.h"
#include "uvrek/image.h"

/* Values of a DEVICE action, by enum uvk_device. */
static const UVK_ROM uint8_t device_first[] = {0x81, 1, UVK_WHEEL_UP, UVK_BOARD_BOOTLOADER};
static const UVK_ROM uint8_t device_last[] = {0x83, UVK_BUTTONS, UVK_WHEEL_RIGHT,
                                              UVK_BOARD_RESTART};
static const UVK_ROM uint8_t device_built[] = {UVK_USE_SYSTEM, UVK_USE_MOUSE, UVK_USE_MOUSE,
                                               UVK_USE_BOARD};

static bool device_is_valid(uvk_action action)
{
    uint8_t device = uvk_action_high(action);
    uint8_t value = uvk_action_low(action);

    return device < sizeof device_first && device_built[device] &&
           value >= device_first[device] && value <= device_last[device];
}

static bool key_is_valid(uvk_action action)
{
    uint8_t usage = uvk_action_low(action);

    if (usage == 0) {
        return uvk_action_high(action) != UVK_MOD_RIGHT;
    }
    return usage >= UVK_USAGE_FIRST && usage <= UVK_USAGE_LAST;
}

/* Where an action word stands: it decides what it may be. */
enum place { IN_CELL, IN_HOLD, IN_STEP, IN_CHORD };

static bool layer_is_valid(const struct uvk_image *image, uvk_action action)
{
    uint8_t op = uvk_action_high(action);

    return uvk_action_low(action) < image->layers &&
           (op == UVK_LAYER_WHILE || (UVK_USE_STICKY && op <= UVK_LAYER_ONCE));
}

/* A macro begins at the first step, or behind the end of another. */
static bool macro_begins(const struct uvk_image *image, uint16_t row)
{
    return row < image->rows[UVK_TABLE_STEPS] &&
           (row == 0 || uvk_image_step(image, (uint16_t)(row - 1)).op == UVK_OP_END);
}

static bool action_is_valid(const struct uvk_image *image, uvk_action action, enum place place)
{
    uint16_t value = uvk_action_value(action);

    switch (uvk_action_kind(action)) {
    case UVK_KEY:
        return action == UVK_SEE_THROUGH ? place == IN_CELL : key_is_valid(action);
    case UVK_CHORD:
        return UVK_USE_CHORDS && place != IN_CHORD && value < image->rows[UVK_TABLE_CHORDS];
    case UVK_LAYER:
        return place != IN_STEP && layer_is_valid(image, action);
    case UVK_MACRO:
        return UVK_USE_MACROS && (place == IN_CELL || place == IN_HOLD) &&
               macro_begins(image, value);
    case UVK_CONSUMER:
        return UVK_USE_CONSUMER && value != 0 && value <= UVK_CONSUMER_LAST;
    case UVK_DEVICE:
        return device_is_valid(action);
    case UVK_HOLD:
        return UVK_USE_HOLDS && place == IN_CELL && value < image->rows[UVK_TABLE_HOLDS];
    case UVK_MODS:
        return UVK_USE_STICKY && place != IN_STEP && uvk_action_high(action) <= UVK_MODS_BLOCK;
    default:
        return false;
    }
}

static bool switches_are_valid(const struct uvk_image *image)
{
    uvk_image_bytes at = image->bytes + image->table[UVK_TABLE_SWITCHES];
    uint16_t count = (uint16_t)(image->lines * image->senses);

    for (; count > 0; count--, at++) {
        if (*at != UVK_NO_KEY && *at >= image->keys) {
            return false;
        }
    }
    return true;
}

static bool cells_are_valid(const struct uvk_image *image)
{
    uvk_image_bytes at = image->bytes + image->table[UVK_TABLE_CELLS];
    uint16_t count = (uint16_t)(image->layers * (uint16_t)image->keys);

    for (; count > 0; count--, at += 2) {
        if (!action_is_valid(image, get16(at), IN_CELL)) {
            return false;
        }
    }
    return true;
}

#if UVK_USE_CHORDS
static bool chords_are_valid(const struct uvk_image *image)
{
    for (uint16_t row = 0; row < image->rows[UVK_TABLE_CHORDS]; row++) {
        uint8_t mods;
        if (!action_is_valid(image, uvk_image_chord(image, row, &mods), IN_CHORD)) {
            return false;
        }
    }
    return true;
}

#endif

#if UVK_USE_HOLDS
static bool holds_are_valid(const struct uvk_image *image)
{
    for (uint16_t row = 0; row < image->rows[UVK_TABLE_HOLDS]; row++) {
        uvk_action tap;
        uint8_t feel;
        uvk_action held = uvk_image_hold(image, row, &tap, &feel);
        if (!action_is_valid(image, held, IN_HOLD) || !action_is_valid(image, tap, IN_HOLD) ||
            feel >= image->rows[UVK_TABLE_FEELS]) {
            return false;
        }
    }
    return true;
}

static bool feels_are_valid(const struct uvk_image *image)
{
    if (image->rows[UVK_TABLE_FEELS] > 255) {
        return false;
    }
    for (uint8_t row = 0; row < image->rows[UVK_TABLE_FEELS]; row++) {
        struct uvk_feel feel = uvk_image_feel(image, row);
        if (feel.hold_after > UVK_FEEL_TIME_MAX || feel.streak > UVK_FEEL_TIME_MAX ||
            feel.again > UVK_FEEL_TIME_MAX || (feel.flags & ~UVK_FEEL_FLAGS) != 0) {
            return false;
        }
    }
    return true;
}

#endif

#if UVK_USE_WHENS
static bool whens_are_valid(const struct uvk_image *image)
{
    if (image->rows[UVK_TABLE_WHENS] > 254) {
        return false;
    }
    for (uint8_t row = 0; row < image->rows[UVK_TABLE_WHENS]; row++) {
        uint8_t a;
        uint8_t b;
        uint8_t layer = uvk_image_when(image, row, &a, &b);
        if (layer == 0 || layer >= image->layers || a >= image->layers || b >= image->layers ||
            layer == a || layer == b) {
            return false;
        }
    }
    return true;
}
#endif

#if UVK_USE_COMBOS
/* COUNT parts from row FIRST on are there and below LIMIT. */
static bool parts_are_valid(const struct uvk_image *image, uint32_t first, uint8_t count,
                            uint8_t limit)
{
    if (first + count > image->rows[UVK_TABLE_PARTS]) {
        return false;
    }
    for (uint8_t i = 0; i < count; i++) {
        if (uvk_image_part(image, (uint16_t)(first + i)) >= limit) {
            return false;
        }
    }
    return true;
}

static bool combo_is_valid(const struct uvk_image *image, const struct uvk_combo *combo)
{
    uint32_t layers = (uint32_t)combo->first + combo->keys;

    return combo->keys >= 2 && combo->keys <= UVK_COMBO_KEYS_MAX &&
           combo->within <= UVK_FEEL_TIME_MAX && (combo->flags & ~UVK_COMBO_FLAGS) == 0 &&
           action_is_valid(image, combo->action, IN_CELL) && combo->action != UVK_SEE_THROUGH &&
           parts_are_valid(image, combo->first, combo->keys, image->keys) &&
           layers < image->rows[UVK_TABLE_PARTS] &&
           parts_are_valid(image, layers + 1, uvk_image_part(image, (uint16_t)layers),
                           image->layers);
}

static bool combos_are_valid(const struct uvk_image *image)
{
    if (image->rows[UVK_TABLE_COMBOS] > 255) {
        return false;
    }
    for (uint8_t row = 0; row < image->rows[UVK_TABLE_COMBOS]; row++) {
        struct uvk_combo combo = uvk_image_combo(image, row);
        if (!combo_is_valid(image, &combo)) {
            return false;
        }
    }
    return true;
}
#endif

#if UVK_USE_MACROS
static bool step_is_valid(const struct uvk_image *image, const struct uvk_macro_step *step)
{
    switch (step->op) {
    case UVK_OP_END:
    case UVK_OP_RELEASE_PART:
        return step->operand == 0;
    case UVK_OP_PRESS:
    case UVK_OP_RELEASE:
        return step->operand != UVK_SEE_THROUGH &&
               action_is_valid(image, step->operand, IN_STEP);
    case UVK_OP_WAIT:
        return step->operand <= UVK_FEEL_TIME_MAX;
    default:
        return false;
    }
}

/* Every step means something, and the last macro ends as well. */
static bool steps_are_valid(const struct uvk_image *image)
{
    struct uvk_macro_step step = {UVK_OP_END, 0};

    for (uint16_t row = 0; row < image->rows[UVK_TABLE_STEPS]; row++) {
        step = uvk_image_step(image, row);
        if (!step_is_valid(image, &step)) {
            return false;
        }
    }
    return step.op == UVK_OP_END;
}
#endif

/* Tables that this firmware was built without must be empty. */
static bool rows_are_valid(const struct uvk_image *image)
{
#if UVK_USE_CHORDS
    if (!chords_are_valid(image)) {
        return false;
    }
#else
    if (image->rows[UVK_TABLE_CHORDS] > 0) {
        return false;
    }
#endif
#if UVK_USE_HOLDS
    if (!holds_are_valid(image) || !feels_are_valid(image)) {
        return false;
    }
#else
    if (image->rows[UVK_TABLE_HOLDS] > 0 || image->rows[UVK_TABLE_FEELS] > 0) {
        return false;
    }
#endif
#if UVK_USE_MACROS
    if (!steps_are_valid(image)) {
        return false;
    }
#else
    if (image->rows[UVK_TABLE_STEPS] > 0) {
        return false;
    }
#endif
#if UVK_USE_COMBOS
    if (!combos_are_valid(image)) {
        return false;
    }
#else
    if (image->rows[UVK_TABLE_COMBOS] > 0 || image->rows[UVK_TABLE_PARTS] > 0) {
        return false;
    }
#endif
#if UVK_USE_WHENS
    return whens_are_valid(image);
#else
    return image->rows[UVK_TABLE_WHENS] == 0;
#endif
}

static bool settings_are_valid(const struct uvk_image *image)
{
    uint16_t once = uvk_image_setting(image, UVK_SET_ONCE_FOR);

    return uvk_image_setting(image, UVK_SET_DEBOUNCE) <= UVK_DEBOUNCE_MAX &&
           once >= UVK_ONCE_FOR_MIN && once <= UVK_ONCE_FOR_MAX;
}

bool image_values_are_valid(const struct uvk_image *image)
{
    return switches_are_valid(image) && settings_are_valid(image) && cells_are_valid(image) &&
           rows_are_valid(image);
}
