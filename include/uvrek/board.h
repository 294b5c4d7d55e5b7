/* board.h - a board: halves and their wires, keys, knobs, lamps. Desk side.
 *
 * 1. A board is read-only, and lives as long as its program.
 * 2. Lengths are in key units (19.05 mm), times in microseconds, unless said otherwise.
 * 3. In an array of places a source of NULL means that the thing is not in the text.
 */
#ifndef UVREK_BOARD_H
#define UVREK_BOARD_H

#include "uvrek/chips.h"
#include "uvrek/image.h"
#include "uvrek/source.h"

#ifdef __cplusplus
extern "C" {
#endif

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
    struct uvk_place pin_places[2];
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
    struct uvk_place direct_places[UVK_DIRECT_MAX];
    unsigned direct_count;
    bool to_power; /* its direct switches close to power, not to ground */
};

enum uvk_main { UVK_MAIN_USB, UVK_MAIN_STORED, UVK_MAIN_PIN, UVK_MAIN_FIRST, UVK_MAIN_SECOND };

/* The cable between two halves. */
struct uvk_link {
    struct uvk_place place; /* source NULL: there is none */
    struct uvk_place words; /* behind `link`, up to the end of the statement */
    bool one_wire;          /* both pins are the same; a resistor pulls the line up */
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
    double breathe; /* microseconds of one breath; 0: nothing is said */
};

struct uvk_strip {
    struct uvk_place place; /* source NULL: there is none */
    const struct uvk_pin *pin;
    unsigned count;            /* lamps; of linked halves, each has so many */
    const char *order;         /* of the colours in a lamp's data: grb, rgb, rgbw, grbw */
    unsigned limit;            /* milliamperes that all of it may take */
    struct uvk_place at_place; /* source NULL: nothing says what lies above the lamps */
    int keys[UVK_HALVES][UVK_STRIP_MAX]; /* the key above each lamp; -1: none */
};

/* A lamp with a pin of its own; of linked halves, each has one. */
struct uvk_lamp_text {
    struct uvk_place place;
    enum uvk_lamp tells; /* a lock of the host, or UVK_LAMP_LAYER */
    const char *layer;   /* the name of the layer */
    const struct uvk_pin *pin;
    bool to_power; /* its other end is at power: it is lit when the pin is low */
};

/* A name that is printed on a module, for a pin of its chip. */
struct uvk_pin_name {
    const char *name;
    const struct uvk_pin *pin;
};

/* What `set` says: microseconds for times, else the number itself. */
struct uvk_setting_text {
    double value;           /* of a time: microseconds */
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
    struct uvk_place main_words;    /* behind `main`; source NULL: nothing is said */
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
    struct uvk_lamp_text lamps[UVK_LAMPS_MAX];
    unsigned lamp_count;
    struct uvk_pin_name *pin_names;
    unsigned pin_name_count;
    double width, height; /* of the whole, in key units */
};

/* What the language calls a lamp: by what it tells. */
const char *uvk_lamp_name(const struct uvk_lamp_text *lamp);

/* The half of a board in two halves that is called NAME; -1: none is. */
int uvk_half_named(const struct uvk_board *board, const char *name);

/* The half that the computer's cable belongs into: the second one with its name behind `main`,
 * else the first one. */
unsigned uvk_main_half(const struct uvk_board *board);

/* Has it a backlight or a strip? */
bool uvk_board_lights_up(const struct uvk_board *board);

/* How many strips there are, each with the same number of lamps: one for each controller. */
unsigned uvk_board_strips(const struct uvk_board *board);

/* Where LAMP of strip WHICH is, in key units: below its key; without one, between its
 * neighbours that have one; if none has, the lamps are a row in the middle of the board. */
void uvk_lamp_place(const struct uvk_board *board, unsigned which, unsigned lamp, double *x,
                    double *y);

/* Halves with a link have a controller each; without one, one controller reads both. */
bool uvk_one_controller(const struct uvk_board *board);

/* Are the halves of a board with a link wired alike, pin for pin? And: does the host's cable
 * say which half is which? Then both take one firmware, and the half that has the host is the
 * main one that the board names. */
bool uvk_halves_alike(const struct uvk_board *board);
bool uvk_halves_by_host(const struct uvk_board *board);

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

/* Where a cell stands: "r0c1", or of a knob's turns "jog -1". Freed with g_free. */
char *uvk_cell_place(const struct uvk_board *board, unsigned cell);
/* The cell that stands at PLACE; -1: none. */
int uvk_cell_at(const struct uvk_board *board, const char *place);

/* ---- wires ------------------------------------------------------------------------------- */

enum uvk_wire_side { UVK_WIRE_ROW, UVK_WIRE_COL, UVK_WIRE_DIRECT, UVK_WIRE_SIDES };

/* A row, a column, or the one wire of a direct switch. */
struct uvk_wire {
    unsigned half;
    enum uvk_wire_side side;
    unsigned index; /* counted from 0 */
};

/* How many wires HALF has of SIDE. */
unsigned uvk_wire_count(const struct uvk_half *half, enum uvk_wire_side side);

/* Its pin, and where the text names that. */
const struct uvk_pin *uvk_wire_pin(const struct uvk_board *board, const struct uvk_wire *wire);
struct uvk_place uvk_wire_place(const struct uvk_board *board, const struct uvk_wire *wire);

/* "c3", on halves "left.c3"; and with its pin: "column c3 (F7)". Freed with g_free. */
char *uvk_wire_name(const struct uvk_board *board, const struct uvk_wire *wire);
char *uvk_wire_text(const struct uvk_board *board, const struct uvk_wire *wire);

/* The wire of SIDE that KEY hangs on. False: it has none there. */
bool uvk_key_wire(const struct uvk_board *board, unsigned key, enum uvk_wire_side side,
                  struct uvk_wire *wire);
/* The same of all its wires: "row r1 (B3) and column c2 (F6)". Freed with g_free. */
char *uvk_key_wires_text(const struct uvk_board *board, unsigned key);
/* Does KEY hang on WIRE? */
bool uvk_wire_has_key(const struct uvk_board *board, const struct uvk_wire *wire, unsigned key);
bool uvk_same_wire(const struct uvk_wire *a, const struct uvk_wire *b);

/* The wire that is called NAME, as above, or by its pin. False: there is none. */
bool uvk_wire_named(const struct uvk_board *board, const char *name, struct uvk_wire *wire);

/* ---- the same board ---------------------------------------------------------------------- */

/* Has BOARD the same switch in the same place, as large? */
bool uvk_board_has_key(const struct uvk_board *board, const struct uvk_key_place *key);

#ifdef __cplusplus
}
#endif

#endif
