/* check.c - does every value of every table mean something? A row at a time, so that a keyboard
 * can look while it scans.
 *
 * A table of a feature that this firmware was built without must be empty. */
#include "tables.h"
#include "uvrek/changes.h"

#include <string.h>

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
    {UVK_TABLE_FEELS, 6, 1, BITS,
     UVK_FEEL_FLAGS &
         ~((UVK_USE_LONG_PRESS ? 0 : UVK_FEEL_LONG) | (UVK_USE_HANDS ? 0 : UVK_FEEL_HAND))},
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
#if UVK_USE_LIGHTS
    {UVK_TABLE_LIGHT, 0, 1, MOST, UVK_EFFECTS - 1u},
    {UVK_TABLE_LIGHT, 1, 1, MOST, UVK_LEVELS_MAX},
    {UVK_TABLE_LIGHT, 3, 1, BITS, UVK_USE_BACKLIGHT},
    {UVK_TABLE_LIGHT, 4, 2, MOST, UVK_LIGHT_PACE_MAX},
    {UVK_TABLE_LIGHT, 6, 2, MOST, UVK_LIGHT_LIMIT_MAX},
    {UVK_TABLE_COLOURS, 0, 1, LAYER, 0},
#endif
};
#define RULES (sizeof rules / sizeof rules[0])

/* What is looked at, in this order. */
enum stage {
    SUM,
    ROW_COUNTS,
#if UVK_USE_DIRECTORY
    KNOBS,
    SWITCHES,
    HANDS,
    FEELS, /* elsewhere the rule says it */
    LAMPS,
    STRIP,
#endif
    SETTINGS,
    DANCES,
    WHENS,
    COMBOS,
    SEQUENCES,
    TEXTS,
    STEPS,
#if UVK_USE_LIGHTS
    LIGHT,
#endif
    FIELDS, /* and a stage for each rule */
    STAGES = FIELDS + RULES
};

/* The table that a stage goes through, row by row. */
static const UVK_ROM uint8_t stage_tables[FIELDS] = {
#if UVK_USE_DIRECTORY
    [KNOBS] = UVK_TABLE_KNOBS,         [SWITCHES] = UVK_TABLE_SWITCHES,
    [FEELS] = UVK_TABLE_FEELS,         [LAMPS] = UVK_TABLE_LAMPS,
    [STRIP] = UVK_TABLE_STRIP,
#endif
    [SETTINGS] = UVK_TABLE_SETTINGS,   [DANCES] = UVK_TABLE_DANCES,
    [WHENS] = UVK_TABLE_WHENS,         [COMBOS] = UVK_TABLE_COMBOS,
    [SEQUENCES] = UVK_TABLE_SEQUENCES, [TEXTS] = UVK_TABLE_TEXTS,
    [STEPS] = UVK_TABLE_STEPS,
#if UVK_USE_LIGHTS
    [LIGHT] = UVK_TABLE_LIGHT,
#endif
};

/* ---- the row that is looked at ----------------------------------------------------------- */

static uint8_t byte_of(const struct uvk_check *check, uint8_t field)
{
    return uvk_staged_byte(&check->image, check->at, field);
}

static uint16_t word_of(const struct uvk_check *check, uint8_t field)
{
    return uvk_staged_word(&check->image, check->at, field);
}

static uint16_t rows(const struct uvk_check *check, uint8_t table)
{
    return check->image.rows[table];
}

static bool rule_holds(struct uvk_check *check, const struct rule *rule)
{
    const struct uvk_image *image = &check->image;
    uint16_t value = byte_of(check, rule->at);

    if (rule->size > 1) {
        value = word_of(check, rule->at);
    }
    switch (rule->kind) {
    case ACTION:
        return uvk_word_is_valid(image, value, (enum uvk_word_place)rule->limit);
    case RESULT:
        return value != UVK_SEE_THROUGH && uvk_word_is_valid(image, value, UVK_IN_LINE);
    case ROW_OF:
        return value < rows(check, (uint8_t)rule->limit);
    case MOST:
        return value <= rule->limit;
    case BITS:
        return (value & ~rule->limit) == 0;
    default:
        return value < LAYERS(image);
    }
}

/* ---- tables: how many rows each may have ------------------------------------------------- */

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
    {UVK_TABLE_LIGHT, UVK_USE_BACKLIGHT || UVK_USE_STRIP},
    {UVK_TABLE_COLOURS, UVK_USE_STRIP ? 255 : 0},
#if UVK_USE_DIRECTORY /* elsewhere they are built in */
    {UVK_TABLE_LAMPS, UVK_MAX_LAMPS},
    {UVK_TABLE_STRIP, UVK_MAX_STRIP},
#endif
};
#define COUNTS (sizeof counts / sizeof counts[0])

static bool count_is_valid(const struct uvk_check *check)
{
    return rows(check, counts[check->row].table) <= counts[check->row].most;
}

/* ---- what goes with the board ------------------------------------------------------------ */

#if UVK_USE_DIRECTORY
/* Each switch is a key of its own, and none is a turn of a knob: the engine has room for
 * each key once. */
static bool switch_is_valid(struct uvk_check *check)
{
    uint8_t switches = (uint8_t)(KEYS(&check->image) - 2u * rows(check, UVK_TABLE_KNOBS));
    uint8_t key = byte_of(check, 0);
    uint8_t bit = (uint8_t)(1u << (key & 7u));

    if (key == UVK_NO_KEY) {
        return true;
    }
    if (key >= switches || (check->seen[key >> 3] & bit)) {
        return false;
    }
    check->seen[key >> 3] |= bit;
    return true;
}

/* A feel that asks for hands needs them. */
static bool feel_is_valid(const struct uvk_check *check)
{
    return (byte_of(check, 6) & UVK_FEEL_HAND) == 0 || rows(check, UVK_TABLE_HANDS) > 0;
}

/* There is a hand for every key, or no table. Here a row is a key. */
static bool hand_is_valid(const struct uvk_check *check)
{
    return rows(check, UVK_TABLE_HANDS) == (KEYS(&check->image) + 3u) / 4u &&
           uvk_image_hand(&check->image, (uint8_t)check->row) <= UVK_SECOND_HAND;
}

/* A lamp of a layer has one. */
static bool lamp_is_valid(const struct uvk_check *check)
{
    uint8_t tells = byte_of(check, 0);

    return tells == UVK_LAMP_LAYER ? byte_of(check, 1) < LAYERS(&check->image)
                                   : tells <= UVK_LAMP_DARK;
}

/* The switch above a lamp can be read. */
static bool strip_lamp_is_valid(const struct uvk_check *check)
{
    uint8_t line = byte_of(check, 0);

    return line == UVK_NO_LINE ||
           (line < LINES(&check->image) && byte_of(check, 1) < SENSES(&check->image));
}

/* Each knob is two of the keys. */
static bool knob_is_valid(const struct uvk_check *check)
{
    uint8_t changes = byte_of(check, 0);

    return 2u * rows(check, UVK_TABLE_KNOBS) <= KEYS(&check->image) &&
           (changes == 1 || changes == 2 || changes == 4);
}
#endif

/* ---- what fields say together ------------------------------------------------------------ */

static bool setting_is_valid(const struct uvk_check *check)
{
    static const UVK_ROM uint16_t least[UVK_SETTINGS] = {
        0, UVK_ONCE_FOR_MIN, UVK_LEADER_WITHIN_MIN, UVK_POINTER_SPEED_MIN, 0, 0, 0, 0, 1};
    static const UVK_ROM uint16_t most[UVK_SETTINGS] = {
        UVK_DEBOUNCE_MAX,      UVK_ONCE_FOR_MAX,
        UVK_LEADER_WITHIN_MAX, UVK_POINTER_SPEED_MAX,
        UVK_POINTER_RAMP_MAX,  UVK_WHEEL_SPEED_MAX,
        UVK_TYPE_PACE_MAX,     UVK_USE_PRESS_AFTER ? UVK_PRESS_AFTER_MAX : 0,
        UVK_LEVELS_MAX};
    uint16_t value = word_of(check, 0);

    return value >= least[check->row] && value <= most[check->row];
}

/* COUNT rows of TABLE from FIRST on are there. */
static bool are_there(const struct uvk_check *check, uint8_t table, uint16_t first,
                      uint16_t count)
{
    return count <= rows(check, table) && first <= rows(check, table) - count;
}

/* A dance is held as long as the first feel says, and its lines are there. */
static bool dance_is_valid(const struct uvk_check *check)
{
    uint8_t taps = byte_of(check, 4);

    return rows(check, UVK_TABLE_FEELS) > 0 && taps > 0 &&
           are_there(check, UVK_TABLE_LINES, word_of(check, 2), (uint16_t)(2u * taps));
}

static bool when_is_valid(const struct uvk_check *check)
{
    uint8_t layer = byte_of(check, 0);

    return layer != 0 && layer != byte_of(check, 1) && layer != byte_of(check, 2);
}

static UVK_ONE_COPY uint8_t part(const struct uvk_check *check, uint16_t row)
{
    return uvk_staged_byte(&check->image, STAGED_AT(&check->image, PARTS, 1u, row), 0);
}

/* COUNT parts from FIRST on are there and below LIMIT. */
static bool parts_are_valid(const struct uvk_check *check, uint16_t first, uint8_t count,
                            uint8_t limit)
{
    bool valid = are_there(check, UVK_TABLE_PARTS, first, count);

    for (; valid && count > 0; count--, first++) {
        valid = part(check, first) < limit;
    }
    return valid;
}

/* The keys of a combo, then how many layers, then those. */
static bool combo_is_valid(const struct uvk_check *check)
{
    uint8_t keys = byte_of(check, 5);
    uint16_t first = word_of(check, 6);

    if (keys < 2 || !parts_are_valid(check, first, keys, KEYS(&check->image))) {
        return false;
    }
    first = (uint16_t)(first + keys);
    return first < rows(check, UVK_TABLE_PARTS) &&
           parts_are_valid(check, (uint16_t)(first + 1u), part(check, first),
                           LAYERS(&check->image));
}

static bool sequence_is_valid(const struct uvk_check *check)
{
    uint8_t keys = byte_of(check, 4);

    return keys > 0 && parts_are_valid(check, word_of(check, 2), keys, KEYS(&check->image));
}

#if UVK_USE_LIGHTS
/* Of the levels, from one on. */
static bool light_is_valid(const struct uvk_check *check)
{
    uint8_t levels = byte_of(check, 1);

    return levels > 0 && byte_of(check, 2) <= levels && word_of(check, 4) >= UVK_LIGHT_PACE_MIN;
}
#endif

/* ---- texts and macros -------------------------------------------------------------------- */

/* A text begins at the first row, or behind the end of another. */
static bool text_begins(const struct uvk_check *check, uint16_t row)
{
    return UVK_USE_TYPE && row < rows(check, UVK_TABLE_TEXTS) &&
           (row == 0 ||
            uvk_staged_byte(&check->image, STAGED_AT(&check->image, TEXTS, 1u, row - 1u), 0) ==
                UVK_TEXT_END);
}

static bool usage_is_key(uint8_t usage)
{
    return usage >= UVK_USAGE_FIRST && usage <= UVK_USAGE_LAST;
}

/* Bytes of the place that begins with FIRST, LEFT bytes before the end; 0: it means nothing, or
 * is cut off. Behind a byte that looks like an end there is always another place: a text may
 * begin there without harm. FIELD: where in the row it stands. */
static uint8_t text_place(const struct uvk_check *check, uint8_t first, uint8_t field,
                          uint16_t left)
{
    switch (first) {
    case UVK_TEXT_END:
        return 1;
    case UVK_TEXT_MODS:
        return left > 2 && byte_of(check, (uint8_t)(field + 1u)) != 0 &&
                       usage_is_key(byte_of(check, (uint8_t)(field + 2u)))
                   ? 3
                   : 0;
    case UVK_TEXT_KEEP:
        return left > 1 ? 2 : 0;
    default:
        return usage_is_key(first & (uint8_t)~UVK_TEXT_SHIFT) ? 1 : 0;
    }
}

/* Bytes of the place, with an UVK_TEXT_SAME before it, behind which stands a stroke; the last
 * text ends. 0: it is not as it should be. */
static uint8_t text_bytes(const struct uvk_check *check)
{
    uint16_t left = (uint16_t)(rows(check, UVK_TABLE_TEXTS) - check->row);
    uint8_t first = byte_of(check, 0);
    uint8_t same = first == UVK_TEXT_SAME;
    uint8_t bytes;

    if (same) {
        if (left == 1) {
            return 0;
        }
        first = byte_of(check, 1);
        if (first == UVK_TEXT_END || first == UVK_TEXT_KEEP) {
            return 0;
        }
    }
    bytes = text_place(check, first, same, (uint16_t)(left - same));
    if (bytes == 0) {
        return 0;
    }
    bytes = (uint8_t)(bytes + same);
    return bytes < left || first == UVK_TEXT_END ? bytes : 0;
}

/* The last macro ends as well. */
static bool step_is_valid(const struct uvk_check *check)
{
    uint8_t op = byte_of(check, 0);
    uint16_t operand = word_of(check, 1);

    if (op == UVK_OP_END) {
        return operand == 0;
    }
    if (check->row + 1u == rows(check, UVK_TABLE_STEPS)) {
        return false;
    }
    switch (op) {
    case UVK_OP_RELEASE_PART:
        return uvk_macro_begins(&check->image, operand);
    case UVK_OP_PRESS:
    case UVK_OP_RELEASE:
        return uvk_word_is_valid(&check->image, operand, UVK_IN_STEP);
    case UVK_OP_WAIT:
        return operand <= UVK_FEEL_TIME_MAX;
    case UVK_OP_TYPE:
        return text_begins(check, operand);
    default:
        return false;
    }
}

/* ---- all of it, a little at a time ------------------------------------------------------- */

#if UVK_USE_LIVE
/* Bytes behind the header. */
static uint16_t summed_bytes(const struct uvk_check *check)
{
    return (uint16_t)(check->image.changes->size - HEADER_SIZE);
}

#define SUMMED_AT_ONCE 8u /* bytes: together they take as long as the slowest row */

/* Some bytes more of the sum; with the last one it has to be right. How many; 0: it is wrong.
 */
static uint8_t sum_goes_on(struct uvk_check *check)
{
    uint16_t size = summed_bytes(check);
    uint8_t count = 0;

    do {
        check->crc = uvk_crc32_byte(
            check->crc,
            uvk_staged_byte(&check->image, (uint16_t)(check->row + count), HEADER_SIZE));
        count++;
    } while (count < SUMMED_AT_ONCE && check->row + count < size);
    return check->row + count < size || ~check->crc == check->image.changes->sum ? count : 0;
}
#endif

/* How much there is to look at. */
static uint16_t rows_of_stage(const struct uvk_check *check)
{
    uint8_t stage = check->stage;

#if UVK_USE_LIVE
    if (stage == SUM) {
        return summed_bytes(check);
    }
#endif
    if (stage == ROW_COUNTS) {
        return COUNTS;
    }
#if UVK_USE_DIRECTORY
    if (stage == HANDS) {
        return rows(check, UVK_TABLE_HANDS) > 0 ? KEYS(&check->image) : 0;
    }
#endif
    return rows(check, stage < FIELDS ? stage_tables[stage] : rules[stage - FIELDS].table);
}

/* How many rows were looked at; 0: something is wrong there. */
static uint8_t look(struct uvk_check *check)
{
    uint8_t stage = check->stage;
    uint8_t table = stage < FIELDS ? stage_tables[stage] : rules[stage - FIELDS].table;
    struct rule rule;

    check->at = (uint16_t)(check->image.table[table] + uvk_row_size[table] * check->row);
    switch (stage) {
#if UVK_USE_LIVE
    case SUM:
        return sum_goes_on(check);
#endif
    case ROW_COUNTS:
        return count_is_valid(check);
#if UVK_USE_DIRECTORY
    case KNOBS:
        return knob_is_valid(check);
    case SWITCHES:
        return switch_is_valid(check);
    case HANDS:
        return hand_is_valid(check);
    case FEELS:
        return feel_is_valid(check);
    case LAMPS:
        return lamp_is_valid(check);
    case STRIP:
        return strip_lamp_is_valid(check);
#endif
    case SETTINGS:
        return setting_is_valid(check);
    case DANCES:
        return dance_is_valid(check);
    case WHENS:
        return when_is_valid(check);
    case COMBOS:
        return combo_is_valid(check);
    case SEQUENCES:
        return sequence_is_valid(check);
    case TEXTS:
        return text_bytes(check);
    case STEPS:
        return step_is_valid(check);
#if UVK_USE_LIGHTS
    case LIGHT:
        return light_is_valid(check);
#endif
    default:
        rule = rules[stage - FIELDS];
        return rule_holds(check, &rule);
    }
}

static void begin_at(struct uvk_check *check, uint8_t stage)
{
    check->stage = stage;
    check->row = 0;
    check->crc = UVK_CRC_START;
#if UVK_USE_DIRECTORY
    memset(check->seen, 0, sizeof check->seen);
#endif
}

void uvk_check_begin(struct uvk_check *check)
{
    begin_at(check, SUM);
}

UVK_ONE_COPY enum uvk_checked uvk_check_go(struct uvk_check *check, uint16_t count)
{
    while (check->stage < STAGES) {
        uint8_t looked;
        if (check->row >= rows_of_stage(check)) {
            check->stage++;
            check->row = 0;
            continue;
        }
        if (count == 0) {
            return UVK_CHECK_GOES_ON;
        }
        count--;
        looked = look(check);
        if (looked == 0) {
            return check->stage == SUM ? UVK_CHECK_BAD_SUM : UVK_CHECK_BAD_VALUE;
        }
        check->row = (uint16_t)(check->row + looked);
    }
    return UVK_CHECK_GOOD;
}

#if UVK_USE_CHECKS
enum uvk_status uvk_image_check_values(const struct uvk_image *image)
{
    struct uvk_check check;
    enum uvk_checked checked;

    check.image = *image;
    begin_at(&check, ROW_COUNTS);
    do {
        checked = uvk_check_go(&check, UINT16_MAX);
    } while (checked == UVK_CHECK_GOES_ON);
    return checked == UVK_CHECK_GOOD ? UVK_OK : UVK_BAD_VALUE;
}
#endif
