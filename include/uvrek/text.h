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
#include "uvrek/layout.h"
#include "uvrek/source.h"
#include "uvrek/status.h"
#include "uvrek/syntax.h"

/* What a cell does. Everything that the host can be told is a HID usage. */
enum uvk_value_kind {
    UVK_VALUE_NOTHING,
    UVK_VALUE_THROUGH,
    UVK_VALUE_USAGE, /* mods, page, usage, turn */
    UVK_VALUE_LAYER, /* op (enum uvk_layer_op), layer */
    UVK_VALUE_MODS,  /* op (enum uvk_mods_op), mods */
    UVK_VALUE_HOLD,  /* tap, held, feel */
    UVK_VALUE_MACRO, /* macro */
    UVK_VALUE_BOARD, /* usage: enum uvk_board_act */
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
};

enum uvk_macro_part { UVK_MACRO_PRESS, UVK_MACRO_RELEASE, UVK_MACRO_WAIT };

/* One thing that a macro does; `type` and `tap` are presses and releases. */
struct uvk_macro_act {
    enum uvk_macro_part part;
    struct uvk_value value; /* PRESS, RELEASE: a usage */
    double time;            /* WAIT: microseconds */
    struct uvk_macro_act *next;
};

struct uvk_macro_text {
    struct uvk_place place;
    const char *name;
    struct uvk_macro_act *pressed, *released; /* when the key goes down, and comes up */
};

/* What a key's tap is: the tap of a tap-hold, or the value itself. */
const struct uvk_value *uvk_value_tap(const struct uvk_value *value);

bool uvk_value_equal(const struct uvk_value *a, const struct uvk_value *b);

/* The value as the language writes it, as far as it has a name. Freed with g_free. */
char *uvk_value_text(const struct uvk_value *value);

enum uvk_flow { UVK_ROW_TO_COL, UVK_COL_TO_ROW, UVK_NO_DIODES };

#define UVK_SIDE_MAX 32u /* row pins, column pins */

struct uvk_key_place {
    struct uvk_place place;
    unsigned row, col;
    double x, y, width, height; /* upper left corner and size */
    unsigned line;              /* which line of cells it stands in */
};

struct uvk_board {
    struct uvk_place place;
    const char *name, *title;
    const struct uvk_chip *chip;
    const char *boot; /* a bootloader of the chip's list */
    unsigned usb_vendor, usb_product;
    const char *usb_maker;
    const struct uvk_pin *rows[UVK_SIDE_MAX], *cols[UVK_SIDE_MAX];
    unsigned row_count, col_count;
    enum uvk_flow flow;
    double debounce, settle; /* microseconds */
    double once_for;         /* microseconds: the board's own default */
    struct uvk_key_place *keys;
    unsigned key_count, line_count;
};

enum uvk_decide { UVK_ON_TIMEOUT, UVK_ON_PRESS, UVK_ON_NESTED };

/* How tap-hold keys decide; the first of a keymap is `default`. */
struct uvk_feel_text {
    const char *name;
    double hold_after, streak, again; /* microseconds */
    enum uvk_decide decide;
    bool alone_tap;
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

struct uvk_layer_text {
    struct uvk_place place;
    const char *name;
    bool has_when;
    unsigned when[2];        /* layers that switch it on together */
    struct uvk_value *cells; /* one for each key of the board */
};

struct uvk_keymap {
    struct uvk_place place;
    const char *name;
    enum uvk_system system;
    struct uvk_layout *layout;
    double once_for; /* microseconds */
    struct uvk_feel_text *feels;
    unsigned feel_count;
    struct uvk_macro_text *macros;
    unsigned macro_count;
    struct uvk_combo_text *combos; /* in the order of the text */
    struct uvk_layer_text *layers;
    unsigned layer_count;
};

enum uvk_step_kind {
    UVK_STEP_DOWN,           /* key */
    UVK_STEP_UP,             /* key */
    UVK_STEP_TAP,            /* key, time: how long it is held */
    UVK_STEP_WAIT,           /* time */
    UVK_STEP_SETTLE,         /* until nothing is pending */
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
    GPtrArray *sources; /* of struct uvk_source *; the first one is the one asked for */
    GArray *names;      /* the keymap's own names; for the readers of this room */
};

/* Read a program from a file and the files that it uses. Never NULL. */
struct uvk_program *uvk_program_load(const char *path);

/* The same from memory; PATH names it in messages, and `use` is relative to it. */
struct uvk_program *uvk_program_read(const char *path, const char *text, size_t size);

void uvk_program_free(struct uvk_program *program);

/* Read one step of a play against PROGRAM (which has board and keymap), as in
 * "tap a for 300ms". NULL if it has a mistake: then it is in MESSAGES; NULL without a
 * message if TEXT holds nothing. The step lives as long as the program. */
const struct uvk_step *uvk_step_read(struct uvk_program *program, const char *text,
                                     struct uvk_messages *messages);

/* How a board's matrix is scanned: which pins are selected, which are read. Without
 * diodes, and with diodes from column to row, rows are selected. */
struct uvk_scan_plan {
    const struct uvk_pin *const *lines, *const *senses;
    unsigned line_count, sense_count;
    bool rows_are_lines;
};
struct uvk_scan_plan uvk_board_scan(const struct uvk_board *board);

/* The keymap image of a program without errors that has a board and a keymap. The caller
 * frees it with g_free. NULL if the keymap holds more than an image can: then the message
 * is among the program's. */
uint8_t *uvk_lower(struct uvk_program *program, uint16_t *size);

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

#endif
