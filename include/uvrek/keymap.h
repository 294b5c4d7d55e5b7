/* keymap.h - a keymap: layers, tap-holds, macros, combos, dances, leader, settings. Desk side.
 *
 * 1. A keymap is read-only, and lives as long as its program.
 * 2. Times are in microseconds.
 */
#ifndef UVREK_KEYMAP_H
#define UVREK_KEYMAP_H

#include "uvrek/board.h"
#include "uvrek/host_layout.h"
#include "uvrek/value.h"

#ifdef __cplusplus
extern "C" {
#endif

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

/* How the lights begin. */
struct uvk_lights_text {
    struct uvk_place place;        /* source NULL: nothing says so */
    struct uvk_place effect_place; /* the same of this */
    enum uvk_effect effect;
    struct uvk_colour colour;
    double speed; /* microseconds of a period; 0: as the board's backlight, or 4 s */
};

struct uvk_layer_text {
    struct uvk_place place;
    const char *name;
    struct uvk_place light_place; /* source NULL: it has no colour */
    struct uvk_colour light;
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
    unsigned live_room;                 /* bytes for live changes; 0: it has no live door */
    struct uvk_place live_place;        /* source NULL: no block says so */
    struct uvk_lights_text lights;
    struct uvk_layer_text *layers;
    unsigned layer_count;
};

struct uvk_program;

/* VALUE as the language writes it, with the keymap's own names: "nav", "a/nav", "toggle:nav".
 * Freed with g_free. */
char *uvk_cell_name(const struct uvk_program *program, const struct uvk_value *value);

/* Is VALUE a key of the keyboard page, with nothing but shift and AltGr? */
bool uvk_is_character(const struct uvk_value *value);

/* What the host's layout types for a key with modifiers held, if that can be seen; "" if not.
 * Freed with g_free. */
char *uvk_typed_text(const struct uvk_program *program, uint8_t mods, uint8_t usage);

#ifdef __cplusplus
}
#endif

#endif
