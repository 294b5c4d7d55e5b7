/* features.c - which features an image needs, and what of it is there for their sake. */
#include "features.h"

#include "uvrek/firmware.h"

const struct feature_text feature_texts[FEATURES] = {
    [FEATURE_CONSUMER] = {"UVK_USE_CONSUMER", "media keys", 0},
    [FEATURE_SYSTEM] = {"UVK_USE_SYSTEM", "sleep, wake, mute of the microphone", 0},
    [FEATURE_MOUSE] = {"UVK_USE_MOUSE", "mouse: buttons, wheels, pointer",
                       FEATURE_BIT(FEATURE_POINTER)},
    [FEATURE_POINTER] = {"UVK_USE_POINTER", "pointer and held wheels", 0},
    [FEATURE_BOARD] = {"UVK_USE_BOARD", "board: cells", 0},
    [FEATURE_CHORDS] = {"UVK_USE_CHORDS", "chords of several kinds", 0},
    [FEATURE_HOLDS] = {"UVK_USE_HOLDS", "tap-hold keys, long press, dances",
                       FEATURE_BIT(FEATURE_HANDS) | FEATURE_BIT(FEATURE_AGAIN) |
                           FEATURE_BIT(FEATURE_LONG_PRESS) | FEATURE_BIT(FEATURE_DANCES)},
    [FEATURE_HANDS] = {"UVK_USE_HANDS", "other-hand", 0},
    [FEATURE_AGAIN] = {"UVK_USE_AGAIN", "again", 0},
    [FEATURE_LONG_PRESS] = {"UVK_USE_LONG_PRESS", "long press", 0},
    [FEATURE_DANCES] = {"UVK_USE_DANCES", "dances", 0},
    [FEATURE_STICKY] = {"UVK_USE_STICKY", "once:, toggle:, only:, block: of modifiers", 0},
    [FEATURE_BLOCKS] = {"UVK_USE_BLOCKS", "block: of keys", 0},
    [FEATURE_WHENS] = {"UVK_USE_WHENS", "layers with `when`", 0},
    [FEATURE_COMBOS] = {"UVK_USE_COMBOS", "combos", 0},
    [FEATURE_LEADER] = {"UVK_USE_LEADER", "leader", 0},
    [FEATURE_MACROS] = {"UVK_USE_MACROS", "macros", FEATURE_BIT(FEATURE_TYPE)},
    [FEATURE_TYPE] = {"UVK_USE_TYPE", "texts that macros type", 0},
    [FEATURE_PRESS_AFTER] = {"UVK_USE_PRESS_AFTER", "press-after", 0},
    [FEATURE_KNOBS] = {NULL, "knobs", 0},
    [FEATURE_PROBE] = {"UVK_USE_PROBE", "learning the wiring", 0},
    [FEATURE_LIVE] = {"UVK_USE_LIVE", "live: the door, changes and where they are kept", 0},
    [FEATURE_LIGHTS] = {"UVK_USE_LIGHTS", "all lights",
                        FEATURE_BIT(FEATURE_LIGHT_CELLS) | FEATURE_BIT(FEATURE_BACKLIGHT) |
                            FEATURE_BIT(FEATURE_STRIP) | FEATURE_BIT(FEATURE_LAMPS)},
    [FEATURE_LIGHT_CELLS] = {"UVK_USE_LIGHT_CELLS", "light: cells, and what they changed kept",
                             0},
    [FEATURE_BACKLIGHT] = {"UVK_USE_BACKLIGHT", "backlight", 0},
    [FEATURE_STRIP] = {"UVK_USE_STRIP", "strip", 0},
    [FEATURE_LAMPS] = {NULL, "lamps with a pin of their own", 0},
};

static uint32_t bit_if(bool wanted, enum feature feature)
{
    return wanted ? FEATURE_BIT(feature) : 0;
}

static const struct {
    uint8_t device;
    uint32_t features;
} devices[] = {
    {UVK_DEVICE_SYSTEM, FEATURE_BIT(FEATURE_SYSTEM)},
    {UVK_DEVICE_POINT, FEATURE_BIT(FEATURE_POINTER) | FEATURE_BIT(FEATURE_MOUSE)},
    {UVK_DEVICE_PACE, FEATURE_BIT(FEATURE_POINTER)},
    {UVK_DEVICE_CLICK, FEATURE_BIT(FEATURE_MOUSE)},
    {UVK_DEVICE_WHEEL, FEATURE_BIT(FEATURE_MOUSE)},
    {UVK_DEVICE_BLOCK, FEATURE_BIT(FEATURE_BLOCKS)},
    {UVK_DEVICE_LEADER, FEATURE_BIT(FEATURE_LEADER)},
    {UVK_DEVICE_LONG_PRESS, FEATURE_BIT(FEATURE_LONG_PRESS)},
    {UVK_DEVICE_BOARD, FEATURE_BIT(FEATURE_BOARD)},
    {UVK_DEVICE_LIGHT, FEATURE_BIT(FEATURE_LIGHT_CELLS)},
};

static uint32_t features_of_device(uint8_t device)
{
    for (size_t i = 0; i < G_N_ELEMENTS(devices); i++) {
        if (devices[i].device == device) {
            return devices[i].features;
        }
    }
    return 0;
}

static uint32_t features_of_action(uvk_action action)
{
    if (action == UVK_SEE_THROUGH) {
        return 0;
    }
    switch (uvk_action_kind(action)) {
    case UVK_MODS:
        return FEATURE_BIT(FEATURE_STICKY);
    case UVK_LAYER:
        return bit_if(uvk_action_how(action) != UVK_LAYER_WHILE, FEATURE_STICKY);
    case UVK_CONSUMER:
        return FEATURE_BIT(FEATURE_CONSUMER);
    case UVK_DEVICE:
        return features_of_device(uvk_action_how(action));
    default:
        return 0;
    }
}

/* A wheel on a key goes on turning while the key is held; on a knob it never is. Where else
 * one stands (a combo, a dance) does not make enough difference to look. */
static bool wheel_is_held(const struct uvk_image *image)
{
    unsigned switches = image->keys - 2u * image->rows[UVK_TABLE_KNOBS];

    for (unsigned layer = 0; layer < image->layers; layer++) {
        for (unsigned key = 0; key < switches; key++) {
            uvk_action action = uvk_image_cell(image, (uint8_t)layer, (uint8_t)key);
            if (uvk_action_kind(action) == UVK_DEVICE &&
                uvk_action_how(action) == UVK_DEVICE_WHEEL) {
                return uvk_image_setting(image, UVK_SET_WHEEL_SPEED) > 0;
            }
        }
    }
    return false;
}

static uint32_t features_of_cells(const struct uvk_image *image)
{
    uint32_t features = 0;

    for (unsigned layer = 0; layer < image->layers; layer++) {
        for (unsigned key = 0; key < image->keys; key++) {
            features |= features_of_action(uvk_image_cell(image, (uint8_t)layer, (uint8_t)key));
        }
    }
    return features;
}

/* The actions that stand in the tables behind the cells. */
static uint32_t features_of_tables(const struct uvk_image *image)
{
    uint32_t features = 0;

    for (uint16_t row = 0; row < image->rows[UVK_TABLE_CHORDS]; row++) {
        uint8_t mods;
        features |= features_of_action(uvk_image_chord(image, row, &mods));
    }
    for (unsigned row = 0; row < image->rows[UVK_TABLE_COMBOS]; row++) {
        struct uvk_combo combo;
        uvk_image_combo(image, (uint8_t)row, &combo);
        features |= features_of_action(combo.action);
    }
    for (uint16_t row = 0; row < image->rows[UVK_TABLE_LINES]; row++) {
        features |= features_of_action(uvk_image_line(image, row));
    }
    for (uint16_t row = 0; row < image->rows[UVK_TABLE_SEQUENCES]; row++) {
        struct uvk_sequence sequence;
        uvk_image_sequence(image, row, &sequence);
        features |= features_of_action(sequence.action);
    }
    for (uint16_t row = 0; row < image->rows[UVK_TABLE_HOLDS]; row++) {
        struct uvk_tap_hold both;
        uvk_image_hold(image, row, &both);
        features |= features_of_action(both.held) | features_of_action(both.tap);
    }
    return features;
}

static uint32_t features_of_steps(const struct uvk_image *image)
{
    uint32_t features = 0;

    for (uint16_t row = 0; row < image->rows[UVK_TABLE_STEPS]; row++) {
        struct uvk_macro_step macro_step = uvk_image_step(image, row);
        if (macro_step.op == UVK_OP_PRESS) {
            features |= features_of_action(macro_step.operand);
        }
        features |= bit_if(macro_step.op == UVK_OP_TYPE, FEATURE_TYPE);
    }
    return features;
}

static uint32_t features_of_feels(const struct uvk_image *image)
{
    uint32_t features = 0;

    for (unsigned row = 0; row < image->rows[UVK_TABLE_FEELS]; row++) {
        struct uvk_feel feel;
        uvk_image_feel(image, (uint8_t)row, &feel);
        features |= bit_if((feel.flags & UVK_FEEL_LONG) != 0, FEATURE_LONG_PRESS);
        features |= bit_if(feel.again != 0, FEATURE_AGAIN);
    }
    return features;
}

/* Tables that are there for one feature. */
static const struct {
    uint8_t table, feature;
} tables[] = {
    {UVK_TABLE_CHORDS, FEATURE_CHORDS}, {UVK_TABLE_HOLDS, FEATURE_HOLDS},
    {UVK_TABLE_DANCES, FEATURE_DANCES}, {UVK_TABLE_LINES, FEATURE_DANCES},
    {UVK_TABLE_HANDS, FEATURE_HANDS},   {UVK_TABLE_WHENS, FEATURE_WHENS},
    {UVK_TABLE_COMBOS, FEATURE_COMBOS}, {UVK_TABLE_SEQUENCES, FEATURE_LEADER},
    {UVK_TABLE_STEPS, FEATURE_MACROS},  {UVK_TABLE_TEXTS, FEATURE_TYPE},
    {UVK_TABLE_KNOBS, FEATURE_KNOBS},   {UVK_TABLE_LIGHT, FEATURE_LIGHTS},
    {UVK_TABLE_LAMPS, FEATURE_LAMPS},   {UVK_TABLE_STRIP, FEATURE_STRIP},
    {UVK_TABLE_COLOURS, FEATURE_STRIP},
};

static bool has_backlight(const struct uvk_image *image)
{
    struct uvk_light light = {.backlight = 0};

    if (uvk_image_has_light(image)) {
        uvk_image_light(image, &light);
    }
    return light.backlight;
}

uint32_t features_of(const struct uvk_image *image)
{
    uint32_t features =
        features_of_cells(image) | features_of_tables(image) | features_of_steps(image) |
        features_of_feels(image) | bit_if(wheel_is_held(image), FEATURE_POINTER) |
        bit_if(uvk_image_setting(image, UVK_SET_PRESS_AFTER) > 0, FEATURE_PRESS_AFTER) |
        bit_if(image->rows[UVK_TABLE_DANCES] > 0, FEATURE_HOLDS) |
        bit_if(uvk_image_room(image) > 0, FEATURE_LIVE) |
        bit_if(image->rows[UVK_TABLE_LAMPS] > 0, FEATURE_LIGHTS) |
        bit_if(has_backlight(image), FEATURE_BACKLIGHT);

    for (size_t i = 0; i < G_N_ELEMENTS(tables); i++) {
        features |= bit_if(image->rows[tables[i].table] > 0, tables[i].feature);
    }
    return features;
}

/* Rows of the parts that combos have; the others are those of leader sequences. */
static unsigned parts_of_combos(const struct uvk_image *image)
{
    unsigned parts = 0;

    for (unsigned row = 0; row < image->rows[UVK_TABLE_COMBOS]; row++) {
        struct uvk_combo combo;
        uvk_image_combo(image, (uint8_t)row, &combo);
        parts += combo.keys + 1u + uvk_image_part(image, (uint16_t)(combo.first + combo.keys));
    }
    return parts;
}

/* The tables stand end to end; a row of the last one has four bytes. */
static unsigned table_bytes(const struct uvk_image *image, unsigned table)
{
    return table + 1u == UVK_TABLES ? 4u * image->rows[table]
                                    : (unsigned)image->table[table + 1] - image->table[table];
}

unsigned features_bytes(const struct uvk_image *image, uint32_t features)
{
    unsigned combos = parts_of_combos(image);
    unsigned bytes = 0;

    for (size_t i = 0; i < G_N_ELEMENTS(tables); i++) {
        if ((features & FEATURE_BIT(tables[i].feature)) != 0) {
            bytes += table_bytes(image, tables[i].table);
        }
    }
    bytes += (features & FEATURE_BIT(FEATURE_COMBOS)) != 0 ? combos : 0;
    bytes += (features & FEATURE_BIT(FEATURE_LEADER)) != 0
                 ? image->rows[UVK_TABLE_PARTS] - combos
                 : 0;
    return bytes;
}

uint32_t uvk_features_of(const struct uvk_image *image)
{
    return features_of(image);
}

const char *uvk_feature_name(unsigned number)
{
    return number < FEATURES ? feature_texts[number].name : NULL;
}
