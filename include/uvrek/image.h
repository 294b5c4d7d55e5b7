/* image.h - the keymap image: one binary for flash, link and simulator.
 *
 * The format is written down in docs/image.md. In short:
 * 1. Little endian; a header of 20 bytes, a directory, then the tables, end to end.
 * 2. The CRC-32 (IEEE 802.3) covers every byte but its own four.
 * 3. uvk_image_open checks everything once: header, sum, table bounds, every value of
 *    every table. What it accepts, the other readers take without looking again. Of an
 *    image that is linked into a firmware (config.h) only the sum is checked: the desk
 *    has looked at the rest.
 * 4. There is one reader (here) and one writer (uvk_image_write, on the desk).
 */
#ifndef UVREK_IMAGE_H
#define UVREK_IMAGE_H

#include "uvrek/action.h"
#include "uvrek/config.h"
#include "uvrek/status.h"

#include <stdbool.h>
#include <stddef.h>
#include <stdint.h>

#ifdef __cplusplus
extern "C" {
#endif

#define UVK_IMAGE_VERSION 4u
#define UVK_IMAGE_MAX     65535u /* bytes; offsets are 16 bits wide */
/* Keys of a board end below these; the rest are sources of other kinds, see engine.h. */
#define UVK_KEYS_MAX      240u
#define UVK_NO_KEY        0xFFu   /* in the switch table: no switch stands here */
#define UVK_ROWS_MAX      0x2000u /* rows of the chord table and of the steps */
#define UVK_HOLDS_MAX     0x1000u /* rows of the tap-hold table, and of the dances */

enum uvk_table {
    UVK_TABLE_SWITCHES = 0,   /* 1 byte a row: key of each scan point, line by line */
    UVK_TABLE_SETTINGS = 1,   /* 2 bytes a row, enum uvk_setting */
    UVK_TABLE_CELLS = 2,      /* 2 bytes a row: action words, layer by layer */
    UVK_TABLE_CHORDS = 3,     /* 3 bytes a row: modifiers, action word */
    UVK_TABLE_HOLDS = 4,      /* 5 bytes a row: tap and held action word, row of the feels */
    UVK_TABLE_FEELS = 5,      /* 7 bytes a row, struct uvk_feel */
    UVK_TABLE_WHENS = 6,      /* 3 bytes a row: layer, and the two that switch it on */
    UVK_TABLE_COMBOS = 7,     /* 8 bytes a row, struct uvk_combo */
    UVK_TABLE_PARTS = 8,      /* 1 byte a row: keys and layers of combos, keys of sequences */
    UVK_TABLE_STEPS = 9,      /* 3 bytes a row, struct uvk_macro_step: all macros, one by one */
    UVK_TABLE_DANCES = 10,    /* 5 bytes a row, struct uvk_dance */
    UVK_TABLE_LINES = 11,     /* 2 bytes a row: action words of the dances, two for each tap */
    UVK_TABLE_SEQUENCES = 12, /* 5 bytes a row, struct uvk_sequence: behind the leader */
    UVK_TABLE_KNOBS = 13,   /* 1 byte a row: changes of phase from detent to detent: 1, 2, 4 */
    UVK_TABLE_HANDS = 14,   /* 1 byte for 4 keys, the first in the lowest bits: enum uvk_hand;
                               empty if no feel asks */
    UVK_TABLE_TEXTS = 15,   /* 1 byte a row: what macros type, see UVK_TEXT_END */
    UVK_TABLE_LIGHT = 16,   /* 11 bytes, struct uvk_light; empty: no backlight, no strip */
    UVK_TABLE_COLOURS = 17, /* 4 bytes a row: a layer, and its colour: red, green, blue */
    UVK_TABLE_LAMPS = 18,   /* 2 bytes a row: enum uvk_lamp, and of UVK_LAMP_LAYER which */
    UVK_TABLE_STRIP = 19, /* 4 bytes a row, struct uvk_strip_lamp: the strip's, half by half */
    UVK_TABLES = 20
};

enum uvk_setting {
    UVK_SET_DEBOUNCE = 0, /* milliseconds, 0..100: how long open before a release counts */
    UVK_SET_ONCE_FOR = 1, /* milliseconds, 100..60000: how long a `once` waits for its key */
    UVK_SET_LEADER_WITHIN = 2, /* milliseconds, 50..30000: from one key to the next */
    UVK_SET_POINTER_SPEED = 3, /* counts in a second, 10..5000 */
    UVK_SET_POINTER_RAMP = 4,  /* milliseconds, 0..5000: from rest to that speed */
    UVK_SET_WHEEL_SPEED = 5,   /* notches in a second while a key is down, 0..100 */
    UVK_SET_TYPE_PACE = 6,     /* milliseconds, 0..100: from one typed character to the next */
    UVK_SET_PRESS_AFTER = 7,   /* milliseconds, 0..20: how long closed before a press counts */
    UVK_SET_LIGHT_STEP = 8,    /* levels that light:up goes, 1..64 */
    UVK_SETTINGS = 9
};

#define UVK_DEBOUNCE_MAX      100u
#define UVK_ONCE_FOR_MIN      100u
#define UVK_ONCE_FOR_MAX      60000u
#define UVK_LEADER_WITHIN_MIN 50u
#define UVK_LEADER_WITHIN_MAX 30000u
#define UVK_POINTER_SPEED_MIN 10u
#define UVK_POINTER_SPEED_MAX 5000u
#define UVK_POINTER_RAMP_MAX  5000u
#define UVK_WHEEL_SPEED_MAX   100u
#define UVK_TYPE_PACE_MAX     100u
#define UVK_PRESS_AFTER_MAX   20u

/* How a tap-hold key decides. Times are milliseconds, 0..30000. */
#define UVK_FEEL_TIME_MAX 30000u
struct uvk_feel {
    uint16_t hold_after; /* held this long: hold */
    uint16_t rest;       /* another key pressed less than this before: tap, at once */
    uint16_t again;      /* pressed again less than this after its last tap: tap, at once */
    uint8_t flags;       /* UVK_FEEL_ bits */
};
#define UVK_FEEL_ON_PRESS  0x01u /* another key pressed meanwhile: hold */
#define UVK_FEEL_ON_NESTED 0x02u /* another key pressed and released meanwhile: hold */
#define UVK_FEEL_ALONE_TAP 0x04u /* held in vain: the tap is added at the release */
#define UVK_FEEL_TAP_PRESS 0x08u /* another key pressed meanwhile: tap */
#define UVK_FEEL_HAND      0x10u /* another key of the same hand pressed meanwhile: tap */
#define UVK_FEEL_LONG      0x20u /* a long press: tap, at once, while modifiers are down */
#define UVK_FEEL_FLAGS     0x3Fu

typedef const UVK_ROM uint8_t *uvk_image_bytes;

struct uvk_changes; /* changes.h */

/* An opened image: borrowed bytes and where their tables start. */
struct uvk_image {
    uvk_image_bytes bytes;
#if UVK_USE_LIVE
    const struct uvk_changes *changes; /* NULL: as it is built in */
#endif
#if UVK_USE_DIRECTORY || UVK_USE_LIVE
    uint16_t table[UVK_TABLES]; /* byte offset */
    uint16_t rows[UVK_TABLES];
#endif
#if UVK_USE_DIRECTORY
    uint8_t keys; /* switches, then two for each knob */
    uint8_t layers, lines, senses;
    uint8_t second; /* the first line of the second half; 0: there is none */
#endif
};

/* Check SIZE bytes completely and open them. BYTES stay the caller's and must outlive
 * IMAGE. UVK_OK, or what is wrong: then IMAGE is unchanged. */
enum uvk_status uvk_image_open(struct uvk_image *image, uvk_image_bytes bytes, uint16_t size);

/* Its shape, and how many rows its tables have: what an engine asks for. */
uint8_t uvk_image_keys(const struct uvk_image *image);
uint8_t uvk_image_lines(const struct uvk_image *image);
uint8_t uvk_image_senses(const struct uvk_image *image);
/* The first line of the second half; as many as all lines: there is none. */
uint8_t uvk_image_second_line(const struct uvk_image *image);
/* Bytes that the keyboard keeps for live changes (changes.h); 0: it has no live door. */
uint16_t uvk_image_room(const struct uvk_image *image);
/* Sixteen bits that tell images apart, most of the time. */
uint16_t uvk_image_print(const struct uvk_image *image);
uint8_t uvk_image_combos(const struct uvk_image *image);
uint8_t uvk_image_whens(const struct uvk_image *image);
uint8_t uvk_image_knobs(const struct uvk_image *image);
uint16_t uvk_image_sequences(const struct uvk_image *image);

/* The cell of KEY (< keys) on LAYER (< layers). */
uvk_action uvk_image_cell(const struct uvk_image *image, uint8_t layer, uint8_t key);

/* The key at a scan point (LINE < lines, SENSE < senses), or UVK_NO_KEY. */
uint8_t uvk_image_key_at(const struct uvk_image *image, uint8_t line, uint8_t sense);

/* The value of a setting, in the setting's unit. */
uint16_t uvk_image_setting(const struct uvk_image *image, enum uvk_setting setting);

/* A row of the chord table: all eight modifier bits into *MODS; returns the action. */
uvk_action uvk_image_chord(const struct uvk_image *image, uint16_t row, uint8_t *mods);

/* What a tap-hold key does. */
struct uvk_tap_hold {
    uvk_action tap, held;
    uint8_t feel; /* row of the feels: how it decides */
};
void uvk_image_hold(const struct uvk_image *image, uint16_t row, struct uvk_tap_hold *hold);
void uvk_image_feel(const struct uvk_image *image, uint8_t row, struct uvk_feel *feel);

/* A layer that is on while two others are. */
struct uvk_when {
    uint8_t layer;
    uint8_t a, b; /* those two */
};
void uvk_image_when(const struct uvk_image *image, uint8_t row, struct uvk_when *when);

/* Keys that are pressed together do something of their own. */
struct uvk_combo {
    uvk_action action;
    uint16_t within; /* milliseconds between the first press and the last */
    uint8_t flags;   /* UVK_COMBO_ bits */
    uint8_t keys;    /* how many, 2..8 */
    uint16_t first;  /* row of the parts: the keys, then how many layers, then those; none
                        means on every layer */
};
#define UVK_COMBO_LAST_UP  0x01u /* ends with the last key, not with the first */
#define UVK_COMBO_FLAGS    0x01u
#define UVK_COMBO_KEYS_MAX 8u

void uvk_image_combo(const struct uvk_image *image, uint8_t row, struct uvk_combo *combo);
uint8_t uvk_image_part(const struct uvk_image *image, uint16_t row);

/* A macro is a run of steps up to an UVK_OP_END. If it has a part that is done when the key
 * comes up, that is a run of its own, and the first step says where it begins. */
enum uvk_macro_op {
    UVK_OP_END = 0,
    UVK_OP_RELEASE_PART = 1, /* operand: row of the first step of the release part */
    UVK_OP_PRESS = 2,        /* operand: action word; not a layer, a tap-hold or a macro */
    UVK_OP_RELEASE = 3,      /* operand: the same */
    UVK_OP_WAIT = 4,         /* operand: milliseconds, 0..30000 */
    UVK_OP_TYPE = 5          /* operand: row of the texts */
};
struct uvk_macro_step {
    uint8_t op;
    uint16_t operand;
};
struct uvk_macro_step uvk_image_step(const struct uvk_image *image, uint16_t row);

/* A text is a run of strokes up to UVK_TEXT_END. A stroke is one byte, a usage 0x04..0x7F of
 * page 0x07, with UVK_TEXT_SHIFT for left shift; or UVK_TEXT_MODS, modifiers, usage.
 * UVK_TEXT_SAME before it says that it belongs to the character of the stroke before.
 * UVK_TEXT_KEEP and modifiers: those stay down during and between the strokes from here on. */
#define UVK_TEXT_END   0x00u
#define UVK_TEXT_MODS  0x01u
#define UVK_TEXT_KEEP  0x02u
#define UVK_TEXT_SAME  0x03u
#define UVK_TEXT_SHIFT 0x80u
uint8_t uvk_image_text(const struct uvk_image *image, uint16_t row);

/* A key that counts taps. LINES has two rows for each number of taps, from 1 to TAPS: what
 * that many taps do, and what they do when the last of them is held. UVK_SEE_THROUGH: there
 * is no such line. */
struct uvk_dance {
    uint16_t within; /* milliseconds from one tap's end to the next press */
    uint16_t first;  /* row of the lines */
    uint8_t taps;    /* 1..255: of the longest line */
};
void uvk_image_dance(const struct uvk_image *image, uint16_t row, struct uvk_dance *dance);
uvk_action uvk_image_line(const struct uvk_image *image, uint16_t row);

/* Keys pressed one after the other behind the leader key. */
#define UVK_SEQUENCE_KEYS_MAX 6u
struct uvk_sequence {
    uvk_action action;
    uint16_t first; /* row of the parts: its keys */
    uint8_t keys;   /* how many, 1..UVK_SEQUENCE_KEYS_MAX */
};
void uvk_image_sequence(const struct uvk_image *image, uint16_t row,
                        struct uvk_sequence *sequence);

/* The hand that KEY (< keys) is for. Only where there is a table of hands. */
enum uvk_hand { UVK_EITHER_HAND = 0, UVK_FIRST_HAND = 1, UVK_SECOND_HAND = 2 };
enum uvk_hand uvk_image_hand(const struct uvk_image *image, uint8_t key);

/* Changes of phase from one detent of KNOB to the next. A knob is two keys, the last of the
 * board: key_of(knob, turn) = keys - 2 x knobs + 2 x knob + turn, turn 1 being clockwise. */
uint8_t uvk_image_knob(const struct uvk_image *image, uint8_t knob);

/* ---- lights ------------------------------------------------------------------------------ */

#define UVK_LEVELS_MAX      64u
#define UVK_STRIP_MAX       255u /* lamps, of both halves together */
#define UVK_LAMPS_MAX       8u   /* that have a pin of their own */
#define UVK_LAYER_LAMPS_MAX 5u   /* of those, for layers */
#define UVK_LIGHT_LIMIT_MAX 5000u
#define UVK_LIGHT_PACE_MIN  279u   /* a period of 60 s */
#define UVK_LIGHT_PACE_MAX  33555u /* half a second */

/* What a strip shows; a backlight knows the first two. */
enum uvk_effect {
    UVK_EFFECT_STILL,   /* one colour */
    UVK_EFFECT_BREATHE, /* it comes and goes */
    UVK_EFFECT_HUES,    /* all colours, from left to right */
    UVK_EFFECT_RIPPLE,  /* a ring from the key that was pressed last; needs places */
    UVK_EFFECT_KEYS,    /* keys light up while they are down, and fade; needs places */
    UVK_EFFECTS
};

struct uvk_colour {
    uint8_t red, green, blue;
};

/* How the lights begin, and what they may do. */
struct uvk_light {
    uint8_t effect;    /* enum uvk_effect */
    uint8_t levels;    /* of brightness, 1..UVK_LEVELS_MAX */
    uint8_t level;     /* at the start, 0 (off)..levels */
    uint8_t backlight; /* 1: there is one, not a strip alone */
    uint16_t pace;     /* of a period of an effect, so many 2^24ths in a millisecond */
    uint16_t limit;    /* milliamperes that all lamps of the strip may take together */
    struct uvk_colour colour;
};

/* A lamp of the strip: the switch above it, by its line and sense (line 0xFF: none), and its
 * place in quarters of a key unit. */
struct uvk_strip_lamp {
    uint8_t line, sense, x, y;
};
#define UVK_NO_LINE 0xFFu

/* What a lamp with a pin of its own tells; the locks are the host's. */
enum uvk_lamp {
    UVK_LAMP_NUM,
    UVK_LAMP_CAPS,
    UVK_LAMP_SCROLL,
    UVK_LAMP_LAYER,
    UVK_LAMP_DARK /* of a layer that this keymap does not have */
};

/* Is there a row of it? And: that row. */
bool uvk_image_has_light(const struct uvk_image *image);
void uvk_image_light(const struct uvk_image *image, struct uvk_light *light);

/* How many lamps the strip has, of both halves; lamp ROW. */
uint8_t uvk_image_strip(const struct uvk_image *image);
struct uvk_strip_lamp uvk_image_strip_lamp(const struct uvk_image *image, uint8_t row);

/* The colour of LAYER into *COLOUR. False: it has none. */
bool uvk_image_colour(const struct uvk_image *image, uint8_t layer, struct uvk_colour *colour);

/* How many lamps have a pin of their own; what lamp ROW tells, its layer into *LAYER. */
uint8_t uvk_image_lamps(const struct uvk_image *image);
enum uvk_lamp uvk_image_lamp(const struct uvk_image *image, uint8_t row, uint8_t *layer);

/* CRC-32 of SIZE more bytes; start with UVK_CRC_START, end with ~. */
#define UVK_CRC_START 0xFFFFFFFFu
uint32_t uvk_crc32(uint32_t crc, uvk_image_bytes bytes, uint16_t size);

#ifdef __cplusplus
}
#endif

#endif
