/* check.c - does every value of every table mean something?
 *
 * A table of a feature that this firmware was built without must be empty: the compiler
 * drops the rest of its check. */
#include "layout.h"
#include "uvrek/image.h"

/* Values of a DEVICE action, by enum uvk_device. */
static const UVK_ROM uint8_t device_first[] = {
    0x81, 1, UVK_WHEEL_UP, UVK_BOARD_BOOTLOADER, UVK_WHEEL_UP, UVK_PACE_SLOW, UVK_USAGE_FIRST,
    0,    0};
static const UVK_ROM uint8_t device_last[] = {UVK_SYSTEM_MICROPHONE,
                                              UVK_BUTTONS,
                                              UVK_WHEEL_RIGHT,
                                              UVK_BOARD_RESET,
                                              UVK_WHEEL_RIGHT,
                                              UVK_PACE_FAST,
                                              UVK_USAGE_LAST,
                                              0,
                                              0};
static const UVK_ROM uint8_t device_built[] = {
    UVK_USE_SYSTEM,  UVK_USE_MOUSE,  UVK_USE_MOUSE,  UVK_USE_BOARD,     UVK_USE_POINTER,
    UVK_USE_POINTER, UVK_USE_BLOCKS, UVK_USE_LEADER, UVK_USE_LONG_PRESS};

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
static bool once_is_valid(const struct uvk_image *image)
{
    return UVK_USE_STICKY && image->rows[UVK_TABLE_FEELS] > 0;
}

/* Where an action word stands: it decides what it may be. */
enum place { IN_CELL, IN_LINE, IN_HOLD, IN_STEP, IN_CHORD };

static bool layer_is_valid(const struct uvk_image *image, uvk_action action)
{
    uint8_t op = uvk_action_how(action);

    return uvk_action_what(action) < image->layers &&
           (op == UVK_LAYER_WHILE || (UVK_USE_STICKY && op < UVK_LAYER_ONCE) ||
            (op == UVK_LAYER_ONCE && once_is_valid(image)));
}

static bool mods_are_valid(const struct uvk_image *image, uvk_action action)
{
    uint8_t op = uvk_action_how(action);

    return op == UVK_MODS_ONCE ? once_is_valid(image) : UVK_USE_STICKY && op <= UVK_MODS_BLOCK;
}

/* A macro begins at the first step, or behind the end of another. */
static bool macro_begins(const struct uvk_image *image, uint16_t row)
{
    return row < image->rows[UVK_TABLE_STEPS] &&
           (row == 0 || uvk_image_step(image, (uint16_t)(row - 1)).op == UVK_OP_END);
}

static bool hold_is_valid(const struct uvk_image *image, uvk_action action, enum place place)
{
    uint16_t row = uvk_action_row(action);

    if (uvk_action_is_dance(action)) {
        return UVK_USE_DANCES && place <= IN_HOLD && row < image->rows[UVK_TABLE_DANCES];
    }
    return UVK_USE_HOLDS && place < IN_HOLD && row < image->rows[UVK_TABLE_HOLDS];
}

static bool action_is_valid(const struct uvk_image *image, uvk_action action, enum place place)
{
    uint16_t value = uvk_action_value(action);

    if (action == UVK_SEE_THROUGH) {
        return place <= IN_LINE;
    }
    switch (uvk_action_kind(action)) {
    case UVK_KEY:
        return key_is_valid(action);
    case UVK_CHORD:
        return UVK_USE_CHORDS && place != IN_CHORD && value < image->rows[UVK_TABLE_CHORDS];
    case UVK_LAYER:
        return place != IN_STEP && layer_is_valid(image, action);
    case UVK_MACRO:
        return UVK_USE_MACROS && place <= IN_HOLD && macro_begins(image, value);
    case UVK_CONSUMER:
        return UVK_USE_CONSUMER && value != 0 && value <= UVK_CONSUMER_LAST;
    case UVK_DEVICE:
        return device_is_valid(action) &&
               (place <= IN_HOLD || uvk_action_how(action) != UVK_DEVICE_LEADER);
    case UVK_HOLD:
        return hold_is_valid(image, action, place);
    case UVK_MODS:
        return place != IN_STEP && mods_are_valid(image, action);
    default:
        return false;
    }
}

/* An action that stands by itself: any cell but a see-through one. */
static bool result_is_valid(const struct uvk_image *image, uvk_action action)
{
    return action != UVK_SEE_THROUGH && action_is_valid(image, action, IN_LINE);
}

/* Each switch is a key of its own, and none is a turn of a knob: the engine has room for
 * each key once. */
static bool switches_are_valid(const struct uvk_image *image)
{
    uvk_image_bytes at = image->bytes + image->table[UVK_TABLE_SWITCHES];
    uint16_t count = (uint16_t)(image->lines * image->senses);
    uint8_t switches = (uint8_t)(image->keys - 2u * image->rows[UVK_TABLE_KNOBS]);
    uint8_t seen[(UVK_MAX_KEYS + 7) / 8] = {0};

    for (; count > 0; count--, at++) {
        uint8_t bit = (uint8_t)(1u << (*at & 7u));
        if (*at == UVK_NO_KEY) {
            continue;
        }
        if (*at >= switches || (seen[*at >> 3] & bit)) {
            return false;
        }
        seen[*at >> 3] |= bit;
    }
    return true;
}

static bool settings_are_valid(const struct uvk_image *image)
{
    static const UVK_ROM uint16_t least[UVK_SETTINGS] = {
        0, UVK_ONCE_FOR_MIN, UVK_LEADER_WITHIN_MIN, UVK_POINTER_SPEED_MIN, 0, 0, 0};
    static const UVK_ROM uint16_t most[UVK_SETTINGS] = {
        UVK_DEBOUNCE_MAX,     UVK_ONCE_FOR_MAX,    UVK_LEADER_WITHIN_MAX, UVK_POINTER_SPEED_MAX,
        UVK_POINTER_RAMP_MAX, UVK_WHEEL_SPEED_MAX, UVK_TYPE_PACE_MAX};

    for (uint8_t i = 0; i < UVK_SETTINGS; i++) {
        uint16_t value = uvk_image_setting(image, (enum uvk_setting)i);
        if (value < least[i] || value > most[i]) {
            return false;
        }
    }
    return true;
}

/* COUNT action words from AT on. */
static bool words_are_valid(const struct uvk_image *image, uvk_image_bytes at, uint16_t count,
                            enum place place)
{
    for (; count > 0; count--, at += 2) {
        if (!action_is_valid(image, get16(at), place)) {
            return false;
        }
    }
    return true;
}

static bool cells_are_valid(const struct uvk_image *image)
{
    return words_are_valid(image, image->bytes + image->table[UVK_TABLE_CELLS],
                           (uint16_t)(image->layers * (uint16_t)image->keys), IN_CELL);
}

static bool chords_are_valid(const struct uvk_image *image)
{
    if (!UVK_USE_CHORDS) {
        return image->rows[UVK_TABLE_CHORDS] == 0;
    }
    for (uint16_t row = 0; row < image->rows[UVK_TABLE_CHORDS]; row++) {
        uint8_t mods;
        if (!action_is_valid(image, uvk_image_chord(image, row, &mods), IN_CHORD)) {
            return false;
        }
    }
    return true;
}

static bool holds_are_valid(const struct uvk_image *image)
{
    if (!UVK_USE_HOLDS) {
        return image->rows[UVK_TABLE_HOLDS] == 0;
    }
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
    if (!(UVK_USE_HOLDS || UVK_USE_STICKY) || image->rows[UVK_TABLE_FEELS] > 255) {
        return image->rows[UVK_TABLE_FEELS] == 0;
    }
    for (uint8_t row = 0; row < image->rows[UVK_TABLE_FEELS]; row++) {
        struct uvk_feel feel = uvk_image_feel(image, row);
        if ((feel.flags & UVK_FEEL_HAND) && image->rows[UVK_TABLE_HANDS] == 0) {
            return false;
        }
        if ((!UVK_USE_LONG_PRESS && (feel.flags & UVK_FEEL_LONG)) ||
            (!UVK_USE_AGAIN && feel.again != 0)) {
            return false;
        }
        if (feel.hold_after > UVK_FEEL_TIME_MAX || feel.rest > UVK_FEEL_TIME_MAX ||
            feel.again > UVK_FEEL_TIME_MAX || (feel.flags & ~UVK_FEEL_FLAGS) != 0) {
            return false;
        }
    }
    return true;
}

/* There is a hand for every key, or no table. */
static bool hands_are_valid(const struct uvk_image *image)
{
    uint16_t rows = image->rows[UVK_TABLE_HANDS];

    if (rows == 0 || !UVK_USE_HANDS || rows != (image->keys + 3u) / 4u) {
        return rows == 0;
    }
    for (uint16_t key = 0; key < image->keys; key++) {
        if (uvk_image_hand(image, (uint8_t)key) > UVK_SECOND_HAND) {
            return false;
        }
    }
    return true;
}

/* A dance is held as long as the first feel says. */
static bool dances_are_valid(const struct uvk_image *image)
{
    uint16_t lines = image->rows[UVK_TABLE_LINES];
    uint16_t count = image->rows[UVK_TABLE_DANCES];

    if (!UVK_USE_DANCES) {
        return count == 0 && lines == 0;
    }
    if (count > 0 && image->rows[UVK_TABLE_FEELS] == 0) {
        return false;
    }
    for (uint16_t row = 0; row < count; row++) {
        struct uvk_dance dance = uvk_image_dance(image, row);
        if (dance.within > UVK_FEEL_TIME_MAX || dance.taps == 0 ||
            (uint32_t)dance.first + 2u * dance.taps > lines) {
            return false;
        }
    }
    return words_are_valid(image, image->bytes + image->table[UVK_TABLE_LINES], lines, IN_LINE);
}

static bool whens_are_valid(const struct uvk_image *image)
{
    if (!UVK_USE_WHENS || image->rows[UVK_TABLE_WHENS] > 254) {
        return image->rows[UVK_TABLE_WHENS] == 0;
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
           result_is_valid(image, combo->action) &&
           parts_are_valid(image, combo->first, combo->keys, image->keys) &&
           layers < image->rows[UVK_TABLE_PARTS] &&
           parts_are_valid(image, layers + 1, uvk_image_part(image, (uint16_t)layers),
                           image->layers);
}

static bool combos_are_valid(const struct uvk_image *image)
{
    if (!UVK_USE_COMBOS || image->rows[UVK_TABLE_COMBOS] > 255) {
        return image->rows[UVK_TABLE_COMBOS] == 0;
    }
    for (uint8_t row = 0; row < image->rows[UVK_TABLE_COMBOS]; row++) {
        struct uvk_combo combo = uvk_image_combo(image, row);
        if (!combo_is_valid(image, &combo)) {
            return false;
        }
    }
    return true;
}

static bool sequences_are_valid(const struct uvk_image *image)
{
    if (!UVK_USE_LEADER) {
        return image->rows[UVK_TABLE_SEQUENCES] == 0;
    }
    for (uint16_t row = 0; row < image->rows[UVK_TABLE_SEQUENCES]; row++) {
        struct uvk_sequence sequence = uvk_image_sequence(image, row);
        if (sequence.keys == 0 || sequence.keys > UVK_SEQUENCE_KEYS_MAX ||
            !result_is_valid(image, sequence.action) ||
            !parts_are_valid(image, sequence.first, sequence.keys, image->keys)) {
            return false;
        }
    }
    return true;
}

/* A text begins at the first row, or behind the end of another. */
static bool text_begins(const struct uvk_image *image, uint16_t row)
{
    return UVK_USE_TYPE && row < image->rows[UVK_TABLE_TEXTS] &&
           (row == 0 || uvk_image_text(image, (uint16_t)(row - 1)) == UVK_TEXT_END);
}

static bool usage_is_key(uint8_t usage)
{
    return usage >= UVK_USAGE_FIRST && usage <= UVK_USAGE_LAST;
}

/* Bytes of the place of a text at ROW; 0: it means nothing, or is cut off. Behind a byte that
 * looks like an end there is always another place: a text may begin there without harm. */
static uint8_t text_place(const struct uvk_image *image, uint32_t row)
{
    uint32_t left = image->rows[UVK_TABLE_TEXTS] - row;
    uint8_t byte = uvk_image_text(image, (uint16_t)row);
    uint8_t mods = left > 1 ? uvk_image_text(image, (uint16_t)(row + 1)) : 0;

    switch (byte) {
    case UVK_TEXT_END:
        return 1;
    case UVK_TEXT_MODS:
        return left > 2 && mods != 0 && usage_is_key(uvk_image_text(image, (uint16_t)(row + 2)))
                   ? 3
                   : 0;
    case UVK_TEXT_KEEP:
        return left > 1 ? 2 : 0;
    default:
        return usage_is_key(byte & (uint8_t)~UVK_TEXT_SHIFT) ? 1 : 0;
    }
}

/* Every place means something, behind UVK_TEXT_SAME stands a stroke, and the last text ends. */
static bool texts_are_valid(const struct uvk_image *image)
{
    uint32_t rows = image->rows[UVK_TABLE_TEXTS];
    uint8_t last = UVK_TEXT_END;
    uint32_t row = 0;

    if (!UVK_USE_TYPE) {
        return rows == 0;
    }
    while (row < rows) {
        uint8_t bytes;
        last = uvk_image_text(image, (uint16_t)row);
        if (last == UVK_TEXT_SAME) {
            row++;
            last = row < rows ? uvk_image_text(image, (uint16_t)row) : UVK_TEXT_END;
            if (last == UVK_TEXT_END || last == UVK_TEXT_KEEP) {
                return false;
            }
        }
        bytes = text_place(image, row);
        if (bytes == 0) {
            return false;
        }
        row += bytes;
    }
    return last == UVK_TEXT_END;
}

static bool step_is_valid(const struct uvk_image *image, const struct uvk_macro_step *step)
{
    switch (step->op) {
    case UVK_OP_END:
        return step->operand == 0;
    case UVK_OP_RELEASE_PART:
        return macro_begins(image, step->operand);
    case UVK_OP_PRESS:
    case UVK_OP_RELEASE:
        return action_is_valid(image, step->operand, IN_STEP);
    case UVK_OP_WAIT:
        return step->operand <= UVK_FEEL_TIME_MAX;
    case UVK_OP_TYPE:
        return text_begins(image, step->operand);
    default:
        return false;
    }
}

/* Every step means something, and the last macro ends as well. */
static bool steps_are_valid(const struct uvk_image *image)
{
    struct uvk_macro_step step = {UVK_OP_END, 0};

    if (!UVK_USE_MACROS) {
        return image->rows[UVK_TABLE_STEPS] == 0;
    }
    for (uint16_t row = 0; row < image->rows[UVK_TABLE_STEPS]; row++) {
        step = uvk_image_step(image, row);
        if (!step_is_valid(image, &step)) {
            return false;
        }
    }
    return step.op == UVK_OP_END;
}

/* Each knob is two of the keys. */
static bool knobs_are_valid(const struct uvk_image *image)
{
    uint16_t count = image->rows[UVK_TABLE_KNOBS];

    if (UVK_MAX_KNOBS == 0) {
        return count == 0;
    }
    if (count > UVK_MAX_KNOBS || 2u * count > image->keys) {
        return false;
    }
    for (uint8_t knob = 0; knob < count; knob++) {
        uint8_t changes = uvk_image_knob(image, knob);
        if (changes != 1 && changes != 2 && changes != 4) {
            return false;
        }
    }
    return true;
}

bool uvk_image_values_are_valid(const struct uvk_image *image)
{
    return knobs_are_valid(image) && switches_are_valid(image) && settings_are_valid(image) &&
           cells_are_valid(image) && chords_are_valid(image) && holds_are_valid(image) &&
           feels_are_valid(image) && hands_are_valid(image) && dances_are_valid(image) &&
           whens_are_valid(image) && combos_are_valid(image) && sequences_are_valid(image) &&
           texts_are_valid(image) && steps_are_valid(image);
}
