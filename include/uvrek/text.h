/* text.h - a program of the language: read, checked, and lowered to a keymap image.
 *
 * 1. uvk_program_load always gives a program; what is wrong with it is in its messages.
 *    A program without errors is complete: all that the model says can be relied on.
 * 2. The model is read-only for everybody else, and lives as long as the program.
 * 3. Lengths are in key units (19.05 mm), times in microseconds, unless said otherwise.
 */
#ifndef UVREK_TEXT_H
#define UVREK_TEXT_H

#include "uvrek/chips.h"
#include "uvrek/image.h"
#include "uvrek/layout.h"
#include "uvrek/source.h"
#include "uvrek/status.h"
#include "uvrek/syntax.h"

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
    UVK_VALUE_LIGHT, /* usage: index into uvk_light_acts; nothing lights up yet */
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

enum uvk_macro_part {
    UVK_MACRO_PRESS,   /* value: a usage */
    UVK_MACRO_RELEASE, /* value: the same */
    UVK_MACRO_WAIT,    /* a pause */
    UVK_MACRO_STROKE,  /* value: a key of typed text, with exactly these modifiers */
    UVK_MACRO_KEEP,    /* value: modifiers that stay down in typed text from here on */
    UVK_MACRO_DO       /* value: a macro */
};

/* One thing that a macro does; `tap` is a press and a release, `type` strokes. */
struct uvk_macro_act {
    enum uvk_macro_part part;
    struct uvk_value value;
    double time;  /* microseconds */
    bool goes_on; /* STROKE: of the same character as the one before */
    struct uvk_macro_act *next;
};

enum uvk_macro_word {
    UVK_LINE_TYPE,    /* text */
    UVK_LINE_TAP,     /* value; or text: a character of several strokes */
    UVK_LINE_PRESS,   /* value */
    UVK_LINE_RELEASE, /* value */
    UVK_LINE_WAIT,    /* time */
    UVK_LINE_CLICK,   /* value: a button */
    UVK_LINE_DO       /* value: a macro */
};

/* A statement of a macro, as it is written. */
struct uvk_macro_line {
    enum uvk_macro_word word;
    const char *text;
    struct uvk_value value;
    double time;            /* microseconds */
    struct uvk_place place; /* DO: of the name */
    struct uvk_macro_line *next;
};

struct uvk_macro_text {
    struct uvk_place place;
    const char *name;
    struct uvk_macro_act *pressed, *released;     /* when the key goes down, and comes up */
    struct uvk_macro_line *lines, *release_lines; /* the same as it is written */
    bool character; /* not in the text: it types the character that is its name */
};

/* What stands behind `light:`, NULL at the end. */
extern const char *const uvk_light_acts[];

/* What a key's tap is: the tap of a tap-hold, or the value itself. */
const struct uvk_value *uvk_value_tap(const struct uvk_value *value);

bool uvk_value_equal(const struct uvk_value *a, const struct uvk_value *b);

/* The value as the language writes it, as far as it has a name. Freed with g_free. */
char *uvk_value_text(const struct uvk_value *value);

struct uvk_program;
struct uvk_board;

/* The same with the keymap's own names: "nav", "a/nav", "toggle:nav". Freed with g_free. */
char *uvk_cell_name(const struct uvk_program *program, const struct uvk_value *value);

/* Is VALUE a key of the keyboard page, with nothing but shift and AltGr? */
bool uvk_is_character(const struct uvk_value *value);

/* What the host's layout types for a key with modifiers held, if that can be seen; "" if not.
 * Freed with g_free. */
char *uvk_typed_text(const struct uvk_program *program, uint8_t mods, uint8_t usage);

/* TEXT as the language writes a string: in quotes, with escapes. Freed with g_free. */
char *uvk_string_text(const char *text);

/* Where a cell stands: "r0c1", or of a knob's turns "jog -1". Freed with g_free. */
char *uvk_cell_place(const struct uvk_board *board, unsigned cell);

enum uvk_flow { UVK_ROW_TO_COL, UVK_COL_TO_ROW, UVK_NO_DIODES };

#define UVK_SIDE_MAX    32u /* row pins, column pins */
#define UVK_DIRECT_MAX  64u /* switches with a pin of their own */
#define UVK_HALVES      2u
#define UVK_KNOBS_MAX   32u
#define UVK_CHOICES_MAX 16u
#define UVK_OPTIONS_MAX 16u /* of a choice: with each the board is looked at */

struct uvk_key_place {
    struct uvk_place place;
    unsigned half; /* index into the board's halves */
    bool direct;   /* its address is d and COL */
    unsigned row, col;
    double x, y, width, height; /* upper left corner and size, before it is turned */
    double turn;                /* degrees clockwise about its own middle */
    unsigned line;              /* which line of cells it stands in */
    enum uvk_hand hand;
};

struct uvk_knob {
    struct uvk_place place;
    const char *name;
    unsigned half;
    const struct uvk_pin *pins[2];
    unsigned detent; /* changes of phase from one detent to the next: 1, 2 or 4 */
    bool flipped;    /* the pins are the other way round */
    int push;        /* the key that its switch is; -1: none */
    bool placed;     /* it stands among the keys */
    double x, y;     /* upper left corner of its square unit */
    enum uvk_hand hand;
};

/* How the switches of a half are wired. A board in one piece is one half without a name. */
struct uvk_half {
    struct uvk_place place; /* of its name */
    const char *name;
    struct uvk_place matrix_place, flow_place, direct_place; /* source NULL: there is none */
    const struct uvk_pin *rows[UVK_SIDE_MAX], *cols[UVK_SIDE_MAX];
    struct uvk_place row_places[UVK_SIDE_MAX], col_places[UVK_SIDE_MAX];
    unsigned row_count, col_count;
    enum uvk_flow flow;
    uint32_t spare[UVK_SIDE_MAX]; /* of each row, the columns where no key is meant to stand */
    const struct uvk_pin *direct[UVK_DIRECT_MAX];
    unsigned direct_count;
    bool to_power; /* its direct switches close to power, not to ground */
};

enum uvk_main { UVK_MAIN_USB, UVK_MAIN_STORED, UVK_MAIN_PIN, UVK_MAIN_FIRST, UVK_MAIN_SECOND };

/* The cable between two halves. */
struct uvk_link {
    struct uvk_place place; /* source NULL: there is none */
    const struct uvk_pin *transmit, *receive;
    bool straight;  /* the cable is straight: the second half swaps its pins */
    unsigned speed; /* bits a second */
};

struct uvk_choice {
    struct uvk_place place;
    const char *name;
    const char **options; /* option_count of them */
    unsigned option_count, chosen;
};

struct uvk_backlight {
    struct uvk_place place; /* source NULL: there is none */
    const struct uvk_pin *pin;
    unsigned levels, start;
    double breathe; /* microseconds of one breath; 0: it does not */
};

struct uvk_strip {
    struct uvk_place place; /* source NULL: there is none */
    const struct uvk_pin *pin;
    unsigned count;
    const char *order; /* of the colours in a lamp's data: grb, rgb, rgbw, grbw */
};

/* A name that is printed on a module, for a pin of its chip. */
struct uvk_pin_name {
    const char *name;
    const struct uvk_pin *pin;
};

/* What `set` says: microseconds for times, else the number itself. */
struct uvk_setting_text {
    double value;
    struct uvk_place place; /* source NULL: nobody has set it */
};

struct uvk_board {
    struct uvk_place place;
    const char *name, *title;
    const struct uvk_chip *chip;
    const char *boot; /* a bootloader of the chip's list */
    unsigned usb_vendor, usb_product;
    const char *usb_maker;
    struct uvk_half halves[UVK_HALVES];
    unsigned half_count; /* 1: in one piece */
    bool has_hands;      /* its halves, or `|` in its lines of keys */
    enum uvk_main main;
    const struct uvk_pin *main_pin; /* UVK_MAIN_PIN */
    struct uvk_link link;
    double settle;                                  /* microseconds */
    struct uvk_setting_text settings[UVK_SETTINGS]; /* the board's own defaults */
    struct uvk_key_place *keys;                     /* in the order of a layer's cells */
    unsigned key_count, line_count;
    struct uvk_knob *knobs;
    unsigned knob_count;
    struct uvk_choice *choices;
    unsigned choice_count;
    struct uvk_backlight backlight;
    struct uvk_strip strip;
    struct uvk_pin_name *pin_names;
    unsigned pin_name_count;
    double width, height; /* of the whole, in key units */
};

/* Halves with a link have a controller each; without one, one controller reads both. */
bool uvk_one_controller(const struct uvk_board *board);

/* The name of PIN that is printed on the module; if there is none, the chip's own. */
const char *uvk_pin_label(const struct uvk_board *board, const struct uvk_pin *pin);

/* What PIN is used for on the controller of HALF: "a row", a knob's name; NULL: it is free. */
const char *uvk_pin_use(const struct uvk_board *board, unsigned half,
                        const struct uvk_pin *pin);

/* The four corners of a key as it lies on the board, clockwise from its upper left one. */
struct uvk_point {
    double x, y;
};
void uvk_key_corners(const struct uvk_key_place *key, struct uvk_point corners[4]);

/* The knob whose switch KEY is; NULL: it is none's. */
const struct uvk_knob *uvk_knob_of_key(const struct uvk_board *board, unsigned key);

/* Cells of a layer: one for each key, then two for each knob, counter-clockwise first. */
unsigned uvk_board_cells(const struct uvk_board *board);

/* UVK_LONG_PRESS: the time decides, but another key that is pressed makes it a tap. */
enum uvk_decide { UVK_ON_TIMEOUT, UVK_ON_PRESS, UVK_ON_NESTED, UVK_LONG_PRESS };

#define UVK_FEELS_MAX 255u

/* How tap-hold keys decide; the first of a keymap is `default`. */
struct uvk_feel_text {
    struct uvk_place place;
    const char *name;
    bool used;
    double hold_after, rest, again; /* microseconds */
    enum uvk_decide decide;
    bool alone_tap;
    bool other_hand;
};

/* Keys that do something of their own when they are pressed together. */
struct uvk_combo_text {
    struct uvk_place place;
    unsigned keys[8]; /* indexes into the board's keys */
    unsigned key_count;
    struct uvk_value value;
    double within;    /* microseconds */
    unsigned *layers; /* where it is on; none: everywhere */
    unsigned layer_count;
    bool last_up;
    struct uvk_combo_text *next;
};

/* What a number of taps does; BROKEN: there is no such line. */
struct uvk_dance_line {
    struct uvk_value tapped, held;
};

struct uvk_dance_text {
    struct uvk_place place;
    const char *name;
    struct uvk_dance_line *lines; /* of 1 tap, of 2, and on */
    unsigned taps;                /* of the longest line */
    double within;                /* microseconds */
};

/* Keys behind the leader key. */
struct uvk_sequence_text {
    struct uvk_place place;
    unsigned keys[UVK_SEQUENCE_KEYS_MAX]; /* indexes into the board's keys */
    unsigned key_count;
    struct uvk_value value;
    struct uvk_sequence_text *next;
};

enum uvk_long_press_kind { UVK_LONG_LETTERS = 1, UVK_LONG_DIGITS = 2, UVK_LONG_SYMBOLS = 4 };

/* Keys that give their shifted selves when they are held long: tap-holds among the cells,
 * with the feel that decides by UVK_LONG_PRESS. */
struct uvk_long_press_text {
    struct uvk_place place;         /* source NULL: there is none */
    unsigned kinds;                 /* bits of enum uvk_long_press_kind */
    double after, repeat;           /* microseconds; repeat 0: never */
    const struct uvk_value *except; /* except_count of them */
    unsigned except_count;
};

struct uvk_layer_text {
    struct uvk_place place;
    const char *name;
    bool has_when;
    unsigned when[2];         /* layers that switch it on together */
    struct uvk_value *cells;  /* as many as uvk_board_cells says */
    struct uvk_place *places; /* of each; source NULL: it has none of its own in the text */
};

struct uvk_keymap {
    struct uvk_place place;
    const char *name;
    enum uvk_system system;
    struct uvk_layout *layout;
    const char *layout_name;
    bool by_number; /* other characters by the system's input method: `set unicode on` */
    struct uvk_place by_number_place;               /* source NULL: nobody has set it */
    struct uvk_setting_text settings[UVK_SETTINGS]; /* in force: its own, or the board's */
    struct uvk_feel_text *feels;
    unsigned feel_count;
    struct uvk_macro_text *macros;
    unsigned macro_count, macro_room;
    struct uvk_combo_text *combos; /* in the order of the text */
    struct uvk_dance_text *dances;
    unsigned dance_count;
    struct uvk_sequence_text *sequences; /* in the order of the text */
    struct uvk_long_press_text long_press;
    struct uvk_place long_press_toggle; /* a cell that switches it; source NULL: none */
    struct uvk_layer_text *layers;
    unsigned layer_count;
};

enum uvk_step_kind {
    UVK_STEP_DOWN,           /* key */
    UVK_STEP_UP,             /* key */
    UVK_STEP_TAP,            /* key, time: how long it is held */
    UVK_STEP_WAIT,           /* time */
    UVK_STEP_TURN,           /* key: which knob; x: detents, clockwise is positive */
    UVK_STEP_SETTLE,         /* until nothing is pending */
    UVK_STEP_LOCK,           /* key: enum uvk_lock; x: on or off */
    UVK_STEP_PROTOCOL,       /* x: the boot protocol, or not */
    UVK_STEP_EXPECT_TEXT,    /* text */
    UVK_STEP_EXPECT_KEYS,    /* values */
    UVK_STEP_EXPECT_HELD,    /* values */
    UVK_STEP_EXPECT_LAYERS,  /* values: LAYER */
    UVK_STEP_EXPECT_POINTER, /* x, y */
    UVK_STEP_EXPECT_WHEEL,   /* x, y */
    UVK_STEP_EXPECT_DELAY    /* time: that long is too long */
};

struct uvk_step {
    struct uvk_place place;
    enum uvk_step_kind kind;
    unsigned key;  /* index into the board's keys */
    uint64_t time; /* microseconds */
    const char *text;
    int x, y;
    struct uvk_value *values;
    unsigned value_count;
    struct uvk_step *next;
};

struct uvk_play {
    struct uvk_place place;
    const char *name;
    struct uvk_step *steps;
    struct uvk_play *next;
};

struct uvk_program {
    struct uvk_messages messages;
    const struct uvk_board *board;   /* NULL if the text has none */
    const struct uvk_keymap *keymap; /* NULL if the text has none */
    const struct uvk_play *plays;    /* in the order of the text */
    struct uvk_arena *arena;
    GPtrArray *sources;     /* of struct uvk_source *; the first one is the one asked for */
    GArray *names;          /* the keymap's own names; for the readers of this room */
    GHashTable *name_index; /* of these: one more than the index */
};

/* Read a program from a file and the files that it uses. Never NULL. */
struct uvk_program *uvk_program_load(const char *path);

/* The same from memory; PATH names it in messages, and `use` is relative to it. */
struct uvk_program *uvk_program_read(const char *path, const char *text, size_t size);

/* The board of PROGRAM alone, which has no errors, as it is with option OPTIONS[i] of its
 * choice i. Its files are read again. Never NULL; freed with uvk_program_free. */
struct uvk_program *uvk_program_choosing(const struct uvk_program *program,
                                         const unsigned *options);

/* A board with one of its layout choices made otherwise. */
struct uvk_variant {
    struct uvk_program *program; /* of the board alone */
    char *title;                 /* "enter iso"; of the first one all that is chosen */
};

/* The board of PROGRAM as it is chosen, and once more for each option that is not. Each is
 * freed with the list. */
GPtrArray *uvk_board_variants(const struct uvk_program *program); /* of struct uvk_variant * */

/* Has BOARD the same switch in the same place, as large? */
bool uvk_board_has_key(const struct uvk_board *board, const struct uvk_key_place *key);

void uvk_program_free(struct uvk_program *program);

/* Read one step of a play against PROGRAM (which has board and keymap), as in
 * "tap a for 300ms". NULL if it has a mistake: then it is in MESSAGES; NULL without a
 * message if TEXT holds nothing. The step lives as long as the program. */
const struct uvk_step *uvk_step_read(struct uvk_program *program, const char *text,
                                     struct uvk_messages *messages);

/* How a board is scanned: in each line one pin is selected and others are read; the last
 * lines of a half are its direct switches, which need no selecting. Without diodes, and with
 * diodes from column to row, rows are selected. */
struct uvk_scan_line {
    unsigned half;
    const struct uvk_pin *select; /* NULL: direct switches, from number FIRST on */
    unsigned index;               /* of the pin among rows or columns */
    unsigned first;
};
struct uvk_scan_plan {
    struct uvk_scan_line lines[2 * UVK_SIDE_MAX + 8];
    unsigned line_count, sense_count;
};
struct uvk_scan_plan uvk_board_scan(const struct uvk_board *board);

/* Are rows selected in this half? Then columns are read. */
bool uvk_rows_are_lines(const struct uvk_half *half);

/* Where KEY is in the plan. */
void uvk_scan_switch(const struct uvk_scan_plan *plan, const struct uvk_board *board,
                     unsigned key, unsigned *line, unsigned *sense);

/* The keymap image of a program without errors that has a board and a keymap. The caller
 * frees it with g_free. NULL if the keymap holds more than an image can: then the message
 * is among the program's. */
uint8_t *uvk_lower(struct uvk_program *program, uint16_t *size);

/* --- settings ------------------------------------------------------------------------- */

struct uvk_setting_name {
    const char *name, *what, *unit; /* unit NULL: a time */
    double least, most, usual;      /* usual: when nobody sets it */
};
extern const struct uvk_setting_name uvk_setting_names[UVK_SETTINGS];
const struct uvk_setting_name *uvk_setting_named(const char *name); /* NULL: none */

/* --- names ------------------------------------------------------------------------- */

/* A key that the language knows by name. */
struct uvk_key_name {
    const char *name;
    uint8_t mods;
    uint16_t page, usage;
    int turn;
};
const struct uvk_key_name *uvk_key_names(size_t *count);
const struct uvk_key_name *uvk_key_named(const char *name); /* NULL: none */

/* The one of COUNT candidates that WORD was probably meant to be, NULL if none is near.
 * NAME_OF gives the candidate of an index. */
const char *uvk_nearest(const char *word, size_t count,
                        const char *(*name_of)(size_t index, const void *data),
                        const void *data);

#ifdef __cplusplus
}
#endif

#endif
