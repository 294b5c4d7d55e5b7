/* check.c - does every value of every table mean something?
 *
 * A table of a feature that this firmware was built without must be empty. */
#include "tables.h"
#include "uvrek/image.h"

/* ---- fields: what each says by itself ---------------------------------------------------- */

enum rule_kind {
    ACTION, /* an action word; LIMIT: enum uvk_word_place */
    RESULT, /* an action word of a cell that is not see-through */
    ROW_OF, /* a row of the table LIMIT */
    MOST,   /* at most LIMIT */
    BITS,   /* no other bits than LIMIT */
    LAYER   /* a layer */
};

/* SIZE bytes, AT bytes into each row of TABLE. */
struct rule {
    uint8_t table, at, size, kind;
    uint16_t limit;
};

static const UVK_ROM struct rule rules[] = {
    {UVK_TABLE_CELLS, 0, 2, ACTION, UVK_IN_CELL},
    {UVK_TABLE_CHORDS, 1, 2, ACTION, UVK_IN_CHORD},
    {UVK_TABLE_HOLDS, 0, 2, ACTION, UVK_IN_HOLD},
    {UVK_TABLE_HOLDS, 2, 2, ACTION, UVK_IN_HOLD},
    {UVK_TABLE_HOLDS, 4, 1, ROW_OF, UVK_TABLE_FEELS},
    {UVK_TABLE_FEELS, 0, 2, MOST, UVK_FEEL_TIME_MAX},
    {UVK_TABLE_FEELS, 2, 2, MOST, UVK_FEEL_TIME_MAX},
    {UVK_TABLE_FEELS, 4, 2, MOST, UVK_USE_AGAIN ? UVK_FEEL_TIME_MAX : 0},
    {UVK_TABLE_FEELS, 6, 1, BITS, UVK_FEEL_FLAGS & ~(UVK_USE_LONG_PRESS ? 0 : UVK_FEEL_LONG)},
    {UVK_TABLE_WHENS, 0, 1, LAYER, 0},
    {UVK_TABLE_WHENS, 1, 1, LAYER, 0},
    {UVK_TABLE_WHENS, 2, 1, LAYER, 0},
    {UVK_TABLE_COMBOS, 0, 2, RESULT, 0},
    {UVK_TABLE_COMBOS, 2, 2, MOST, UVK_FEEL_TIME_MAX},
    {UVK_TABLE_COMBOS, 4, 1, BITS, UVK_COMBO_FLAGS},
    {UVK_TABLE_COMBOS, 5, 1, MOST, UVK_COMBO_KEYS_MAX},
    {UVK_TABLE_DANCES, 0, 2, MOST, UVK_FEEL_TIME_MAX},
    {UVK_TABLE_LINES, 0, 2, ACTION, UVK_IN_LINE},
    {UVK_TABLE_SEQUENCES, 0, 2, RESULT, 0},
    {UVK_TABLE_SEQUENCES, 4, 1, MOST, UVK_SEQUENCE_KEYS_MAX},
};

static bool value_is_valid(const struct uvk_image *image, const struct rule *rule,
                           uint16_t value)
{
    switch (rule->kind) {
    case ACTION:
        return uvk_word_is_valid(image, value, (enum uvk_word_place)rule->limit);
    case RESULT:
        return value != UVK_SEE_THROUGH && uvk_word_is_valid(image, value, UVK_IN_LINE);
    case ROW_OF:
        return value < image->rows[rule->limit];
    case MOST:
        return value <= rule->limit;
    case BITS:
        return (value & ~rule->limit) == 0;
    default:
        return value < image->layers;
    }
}

static bool rule_holds(const struct uvk_image *image, const struct rule *rule)
{
    uvk_image_bytes at = image->bytes + image->table[rule->table] + rule->at;

    for (uint16_t left = image->rows[rule->table]; left > 0;
         left--, at += uvk_row_size[rule->table]) {
        if (!value_is_valid(image, rule,
                            rule->size == 1 ? uvk_image_byte(image, at)
                                            : uvk_image_word(image, at))) {
            return false;
        }
    }
    return true;
}

static bool fields_are_valid(const struct uvk_image *image)
{
    for (uint8_t i = 0; i < sizeof rules / sizeof rules[0]; i++) {
        struct rule rule = rules[i];
        if (!rule_holds(image, &rule)) {
            return false;
        }
    }
    return true;
}

/* ---- tables: how many rows each may have
 * ----------------------------------------------------- */

static const UVK_ROM struct {
    uint8_t table;
    uint16_t most;
} counts[] = {
    {UVK_TABLE_CHORDS, UVK_USE_CHORDS ? UVK_ROWS_MAX : 0},
    {UVK_TABLE_HOLDS, UVK_USE_HOLDS ? UVK_HOLDS_MAX : 0},
    {UVK_TABLE_FEELS, UVK_USE_HOLDS || UVK_USE_STICKY ? 255 : 0},
    {UVK_TABLE_WHENS, UVK_USE_WHENS ? 254 : 0},
    {UVK_TABLE_COMBOS, UVK_USE_COMBOS ? 255 : 0},
    {UVK_TABLE_STEPS, UVK_USE_MACROS ? UVK_ROWS_MAX : 0},
    {UVK_TABLE_DANCES, UVK_USE_DANCES ? UVK_HOLDS_MAX : 0},
    {UVK_TABLE_LINES, UVK_USE_DANCES ? UVK_IMAGE_MAX : 0},
    {UVK_TABLE_SEQUENCES, UVK_USE_LEADER ? UVK_IMAGE_MAX : 0},
    {UVK_TABLE_KNOBS, UVK_MAX_KNOBS},
    {UVK_TABLE_HANDS, UVK_USE_HANDS ? UVK_KEYS_MAX : 0},
    {UVK_TABLE_TEXTS, UVK_USE_TYPE ? UVK_IMAGE_MAX : 0},
};

static bool counts_are_valid(const struct uvk_image *image)
{
    for (uint8_t i = 0; i < sizeof counts / sizeof counts[0]; i++) {
        if (image->rows[counts[i].table] > counts[i].most) {
            return false;
        }
    }
    return true;
}

/* ---- what fields say together
 * ---------------------------------------------------------------- */

/* Each switch is a key of its own, and none is a turn of a knob: the engine has room for
 * each key once. */
static bool switches_are_valid(const struct uvk_image *image)
{
    uvk_image_bytes at = image->bytes + image->table[UVK_TABLE_SWITCHES];
    uint16_t count = (uint16_t)(image->lines * image->senses);
    uint8_t switches = (uint8_t)(image->keys - 2u * image->rows[UVK_TABLE_KNOBS]);
    uint8_t seen[(UVK_MAX_KEYS + 7) / 8] = {0};

    for (; count > 0; count--, at++) {
        uint8_t key = uvk_image_byte(image, at);
        uint8_t bit = (uint8_t)(1u << (key & 7u));
        if (key == UVK_NO_KEY) {
            continue;
        }
        if (key >= switches || (seen[key >> 3] & bit)) {
            return false;
        }
        seen[key >> 3] |= bit;
    }
    return true;
}

static bool settings_are_valid(const struct uvk_image *image)
{
    static const UVK_ROM uint16_t least[UVK_SETTINGS] = {
        0, UVK_ONCE_FOR_MIN, UVK_LEADER_WITHIN_MIN, UVK_POINTER_SPEED_MIN, 0, 0, 0, 0};
    static const UVK_ROM uint16_t most[UVK_SETTINGS] = {
        UVK_DEBOUNCE_MAX,      UVK_ONCE_FOR_MAX,
        UVK_LEADER_WITHIN_MAX, UVK_POINTER_SPEED_MAX,
        UVK_POINTER_RAMP_MAX,  UVK_WHEEL_SPEED_MAX,
        UVK_TYPE_PACE_MAX,     UVK_USE_PRESS_AFTER ? UVK_PRESS_AFTER_MAX : 0};

    for (uint8_t i = 0; i < UVK_SETTINGS; i++) {
        uint16_t value = uvk_image_setting(image, (enum uvk_setting)i);
        if (value < least[i] || value > most[i]) {
            return false;
        }
    }
    return true;
}

/* A feel that asks for hands needs them. */
static bool feels_are_valid(const struct uvk_image *image)
{
    for (uint16_t row = 0; row < image->rows[UVK_TABLE_FEELS]; row++) {
        if ((uvk_image_feel(image, (uint8_t)row).flags & UVK_FEEL_HAND) &&
            image->rows[UVK_TABLE_HANDS] == 0) {
            return false;
        }
    }
    return true;
}

/* There is a hand for every key, or no table. */
static bool hands_are_valid(const struct uvk_image *image)
{
    uint16_t rows = image->rows[UVK_TABLE_HANDS];

    if (rows != (image->keys + 3u) / 4u) {
        return rows == 0;
    }
    for (uint16_t key = 0; key < image->keys; key++) {
        if (uvk_image_hand(image, (uint8_t)key) > UVK_SECOND_HAND) {
            return false;
        }
    }
    return true;
}

/* A dance is held as long as the first feel says, and its lines are there. */
static bool dances_are_valid(const struct uvk_image *image)
{
    for (uint16_t row = 0; row < image->rows[UVK_TABLE_DANCES]; row++) {
        struct uvk_dance dance = uvk_image_dance(image, row);
        if (image->rows[UVK_TABLE_FEELS] == 0 || dance.taps == 0 ||
            (uint32_t)dance.first + 2u * dance.taps > image->rows[UVK_TABLE_LINES]) {
            return false;
        }
    }
    return true;
}

static bool whens_are_valid(const struct uvk_image *image)
{
    for (uint16_t row = 0; row < image->rows[UVK_TABLE_WHENS]; row++) {
        uint8_t a;
        uint8_t b;
        uint8_t layer = uvk_image_when(image, (uint8_t)row, &a, &b);
        if (layer == 0 || layer == a || layer == b) {
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

/* The keys of a combo, then how many layers, then those. */
static bool combos_are_valid(const struct uvk_image *image)
{
    for (uint16_t row = 0; row < image->rows[UVK_TABLE_COMBOS]; row++) {
        struct uvk_combo combo = uvk_image_combo(image, (uint8_t)row);
        uint32_t layers = (uint32_t)combo.first + combo.keys;
        if (combo.keys < 2 || !parts_are_valid(image, combo.first, combo.keys, image->keys) ||
            layers >= image->rows[UVK_TABLE_PARTS] ||
            !parts_are_valid(image, layers + 1, uvk_image_part(image, (uint16_t)layers),
                             image->layers)) {
            return false;
        }
    }
    return true;
}

static bool sequences_are_valid(const struct uvk_image *image)
{
    for (uint16_t row = 0; row < image->rows[UVK_TABLE_SEQUENCES]; row++) {
        struct uvk_sequence sequence = uvk_image_sequence(image, row);
        if (sequence.keys == 0 ||
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
        return uvk_macro_begins(image, step->operand);
    case UVK_OP_PRESS:
    case UVK_OP_RELEASE:
        return uvk_word_is_valid(image, step->operand, UVK_IN_STEP);
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

    if (2u * count > image->keys) {
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
    return counts_are_valid(image) && fields_are_valid(image) && knobs_are_valid(image) &&
           switches_are_valid(image) && settings_are_valid(image) && feels_are_valid(image) &&
           hands_are_valid(image) && dances_are_valid(image) && whens_are_valid(image) &&
           combos_are_valid(image) && sequences_are_valid(image) && texts_are_valid(image) &&
           steps_are_valid(image);
}
