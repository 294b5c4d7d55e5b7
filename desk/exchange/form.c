/* form.c - the form of the JSON, member by member. */
#include "shape.h"

#include "uvrek/names.h"

#define NO_MORE                                                                                \
    {                                                                                          \
        NULL, NULL, false, NULL                                                                \
    }

/* ---- words and numbers ----------------------------------------------------------------- */

static const struct shape text = {.kind = SHAPE_TEXT, .what = "a text"};
static const struct shape name = {.kind = SHAPE_TEXT,
                                  .what = "a name: a letter, then letters, digits and hyphens, "
                                          "no hyphen at its end",
                                  .definition = "name",
                                  .pattern = NAME_PATTERN};
static const struct shape names = {
    .kind = SHAPE_LIST, .what = "names", .of = &name, .least = 0, .most = 1000};
static const struct shape pin = {.kind = SHAPE_TEXT,
                                 .what = "a pin of the chip, by its datasheet's name",
                                 .definition = "pin",
                                 .pattern = NAME_PATTERN};
static const struct shape address = {.kind = SHAPE_TEXT,
                                     .what = "a key's address: r0c3, d3, left.r0c3",
                                     .definition = "address",
                                     .pattern = ADDRESS_PATTERN};
static const struct shape addresses = {
    .kind = SHAPE_LIST, .what = "addresses", .of = &address, .least = 1, .most = 8};
static const struct shape flag = {.kind = SHAPE_FLAG, .what = "true or false"};
static const struct shape milliseconds = {.kind = SHAPE_NUMBER,
                                          .what = "milliseconds",
                                          .definition = "time",
                                          .least = 0,
                                          .most = 65535};
static const struct shape place = {.kind = SHAPE_NUMBER,
                                   .what = "key units (19.05 mm), -100 to 100",
                                   .least = -100,
                                   .most = 100};
static const struct shape size = {
    .kind = SHAPE_NUMBER, .what = "key units, 0.25 to 20", .least = 0.25, .most = 20};
static const struct shape degrees = {
    .kind = SHAPE_NUMBER, .what = "degrees clockwise", .least = -360, .most = 360};
static const struct shape line_number = {
    .kind = SHAPE_WHOLE, .what = "the number of a line, from 0", .least = 0, .most = 239};
static const struct shape usb_number = {
    .kind = SHAPE_WHOLE, .what = "a USB number, 0 to 65535", .least = 0, .most = 65535};
static const struct shape count = {
    .kind = SHAPE_WHOLE, .what = "a whole number, 0 to 256", .least = 0, .most = 256};
static const struct shape detent = {
    .kind = SHAPE_WHOLE, .what = "1, 2 or 4", .least = 1, .most = 4};
static const struct shape speed = {
    .kind = SHAPE_WHOLE, .what = "bits a second", .least = 9600, .most = 1000000};

/* ---- the board --------------------------------------------------------------------------- */

static const struct shape pins = {
    .kind = SHAPE_LIST, .what = "pins", .of = &pin, .least = 1, .most = UVK_DIRECT_MAX};
static const struct shape two_pins = {
    .kind = SHAPE_LIST, .what = "two pins", .of = &pin, .least = 2, .most = 2};

static const struct shape pin_names = {.kind = SHAPE_MAP,
                                       .what = "pins by the names that are printed on a module",
                                       .of = &pin,
                                       .pattern = "."};

static const struct member usb_members[] = {
    {"vendor", &usb_number, false, "the vendor's number"},
    {"product", &usb_number, false, "the product's number"},
    {"maker", &text, false, "the maker's name"},
    NO_MORE};
static const struct shape usb = {
    .kind = SHAPE_OBJECT, .what = "how it is known on USB", .members = usb_members};

static const struct shape spare = {.kind = SHAPE_TEXT,
                                   .what = "an address of the matrix: r0c3",
                                   .pattern = "^r[0-9]+c[0-9]+$"};
static const struct shape spares = {.kind = SHAPE_LIST,
                                    .what = "addresses of the matrix",
                                    .of = &spare,
                                    .least = 0,
                                    .most = UVK_SIDE_MAX * UVK_SIDE_MAX};
static const char *const flows[] = {"row->col", "col->row", "none", NULL};
static const struct shape flow = {
    .kind = SHAPE_WORD, .what = "which way the diodes conduct", .words = flows};
static const struct member matrix_members[] = {
    {"rows", &pins, true, "row pins, r0 first"},
    {"cols", &pins, true, "column pins, c0 first"},
    {"flow", &flow, true, NULL},
    {"spare", &spares, false, "places where no key is meant to stand"},
    NO_MORE};
static const struct shape matrix = {
    .kind = SHAPE_OBJECT, .what = "rows and columns", .members = matrix_members};

static const char *const levels[] = {"ground", "power", NULL};
static const struct shape level = {
    .kind = SHAPE_WORD, .what = "what a closed switch connects to", .words = levels};
static const struct member direct_members[] = {
    {"pins", &pins, true, "one pin a switch, d0 first"},
    {"to", &level, false, "usually ground"},
    NO_MORE};
static const struct shape direct = {.kind = SHAPE_OBJECT,
                                    .what = "switches with a pin of their own",
                                    .members = direct_members};

static const struct member half_members[] = {
    {"name", &name, false, "needed where there are two"},
    {"matrix", &matrix, false, NULL},
    {"direct", &direct, false, NULL},
    NO_MORE};
static const struct shape half = {
    .kind = SHAPE_OBJECT, .what = "how a half is wired", .members = half_members};
static const struct shape halves = {.kind = SHAPE_LIST,
                                    .what = "halves; a board in one piece is one",
                                    .of = &half,
                                    .least = 1,
                                    .most = UVK_HALVES};

static const char *const main_rules[] = {"usb", "stored", "pin", "first", "second", NULL};
static const struct shape main_rule = {
    .kind = SHAPE_WORD, .what = "which half is the main one", .words = main_rules};

static const struct member link_members[] = {
    {"transmit", &pin, true, "the pin that sends"},
    {"receive", &pin, false, "the pin that receives; without it, one line does both"},
    {"straight", &flag, false, "the second half swaps its pins"},
    {"speed", &speed, false, NULL},
    NO_MORE};
static const struct shape cable = {
    .kind = SHAPE_OBJECT, .what = "the cable between the halves", .members = link_members};

static const struct shape options = {
    .kind = SHAPE_LIST, .what = "options", .of = &name, .least = 2, .most = UVK_OPTIONS_MAX};
static const struct member choice_members[] = {
    {"name", &name, true, NULL},
    {"options", &options, true, "the first is the usual one"},
    {"chosen", &name, false, "the option in force; usually the first"},
    NO_MORE};
static const struct shape choice = {
    .kind = SHAPE_OBJECT, .what = "a choice of layout", .members = choice_members};
static const struct shape choices = {.kind = SHAPE_LIST,
                                     .what = "layout choices",
                                     .of = &choice,
                                     .least = 0,
                                     .most = UVK_CHOICES_MAX};

static const char *const hands[] = {"first", "second", NULL};
static const struct shape hand = {
    .kind = SHAPE_WORD, .what = "the hand that presses it", .words = hands};
static const struct member knob_members[] = {
    {"name", &name, true, NULL},
    {"half", &name, false, "on a board of two halves"},
    {"pins", &two_pins, true, NULL},
    {"detent", &detent, false, "changes of phase from one detent to the next: 1, 2 or 4"},
    {"flipped", &flag, false, "it turns the other way"},
    {"x", &place, false, "of a knob without a switch: the left edge"},
    {"y", &place, false, "its upper edge"},
    {"hand", &hand, false, "of a knob without a switch, on a board in one piece"},
    NO_MORE};
static const struct shape knob = {
    .kind = SHAPE_OBJECT, .what = "a knob", .members = knob_members};
static const struct shape knobs = {
    .kind = SHAPE_LIST, .what = "knobs", .of = &knob, .least = 0, .most = UVK_KNOBS_MAX};

static const struct shape condition = {.kind = SHAPE_MAP,
                                       .what = "the choices, and the option of each, with "
                                               "which it is there",
                                       .of = &name,
                                       .pattern = NAME_PATTERN};
static const struct shape distance = {
    .kind = SHAPE_NUMBER, .what = "key units", .least = -100, .most = 100};
static const struct member move_members[] = {{"when", &condition, true, NULL},
                                             {"x", &distance, true, "how far to the right"},
                                             {"y", &distance, true, "how far down"},
                                             NO_MORE};
static const struct shape move = {
    .kind = SHAPE_OBJECT, .what = "where else it is with an option", .members = move_members};
static const struct shape moves = {.kind = SHAPE_LIST,
                                   .what = "moves by layout choices; all that apply add up",
                                   .of = &move,
                                   .least = 0,
                                   .most = 1000};
static const struct member key_members[] = {
    {"address", &address, true, NULL},
    {"x", &place, true, "left edge, before the key is turned"},
    {"y", &place, true, "upper edge, before the key is turned"},
    {"width", &size, false, "usually 1"},
    {"height", &size, false, "usually 1"},
    {"turn", &degrees, false, "about the key's own middle"},
    {"line", &line_number, false,
     "the line of cells that it stands in; without it, the line of the key before it if that "
     "is on its left, else the next"},
    {"knob", &name, false, "the knob whose switch it is"},
    {"hand", &hand, false, "on a board in one piece; without it either hand presses it"},
    {"when", &condition, false, NULL},
    {"moved", &moves, false, "from the place that `x` and `y` say"},
    NO_MORE};
static const struct shape key = {.kind = SHAPE_OBJECT, .what = "a key", .members = key_members};
static const struct shape keys = {.kind = SHAPE_LIST,
                                  .what = "keys, each line of a half from left to right",
                                  .of = &key,
                                  .least = 1,
                                  .most = 2000};

static const struct member backlight_members[] = {{"pin", &pin, true, NULL},
                                                  {"levels", &count, false, "usually 8"},
                                                  {"start", &count, false, "usually 4"},
                                                  {"breathe", &milliseconds, false, "a breath"},
                                                  NO_MORE};
static const struct shape backlight = {
    .kind = SHAPE_OBJECT, .what = "a light behind the keys", .members = backlight_members};

static const char *const orders[] = {"grb", "rgb", "grbw", "rgbw", NULL};
static const struct shape order = {
    .kind = SHAPE_WORD, .what = "of the colours in a lamp's data", .words = orders};
static const struct shape current = {.kind = SHAPE_WHOLE,
                                     .what = "milliamperes that all lamps may take",
                                     .least = 20,
                                     .most = UVK_LIGHT_LIMIT_MAX};
static const struct shape key_above = {.kind = SHAPE_TEXT,
                                       .what = "the address of a key, or + for none",
                                       .pattern = "^(\\+|" ADDRESS_WORD ")$"};
static const struct shape above = {.kind = SHAPE_LIST,
                                   .what = "the key above each lamp; of linked halves, first "
                                           "all lamps of the first",
                                   .of = &key_above,
                                   .least = 1,
                                   .most = UVK_STRIP_MAX};
static const struct member strip_members[] = {
    {"pin", &pin, true, NULL},      {"count", &count, true, "lamps"},
    {"order", &order, false, NULL}, {"limit", &current, false, "usually 400"},
    {"at", &above, false, NULL},    NO_MORE};
static const struct shape strip = {
    .kind = SHAPE_OBJECT, .what = "a strip of lamps", .members = strip_members};

static const char *const lamp_ends[] = {"ground", "power", NULL};
static const struct shape lamp_end = {
    .kind = SHAPE_WORD, .what = "its other end; usually ground", .words = lamp_ends};
static const struct member lamp_members[] = {
    {"tells", &name, true, "num-lock, caps-lock, scroll-lock, or a layer"},
    {"pin", &pin, true, NULL},
    {"to", &lamp_end, false, NULL},
    NO_MORE};
static const struct shape lamp = {
    .kind = SHAPE_OBJECT, .what = "a lamp with a pin of its own", .members = lamp_members};
static const struct shape lamps = {
    .kind = SHAPE_LIST, .what = "lamps", .of = &lamp, .least = 0, .most = UVK_LAMPS_MAX};

static const struct shape setting = {.kind = SHAPE_NUMBER,
                                     .what = "milliseconds, or the unit of that setting",
                                     .least = 0,
                                     .most = 65535};
static const struct shape settings = {
    .kind = SHAPE_MAP, .what = "settings by name", .of = &setting, .pattern = NAME_PATTERN};

static const struct member board_members[] = {
    {"name", &name, true, NULL},
    {"title", &text, false, "its name for people"},
    {"chip", &name, true, "a chip that Uvrek knows"},
    {"boot", &name, false, "its bootloader"},
    {"usb", &usb, false, NULL},
    {"pin-names", &pin_names, false, NULL},
    {"halves", &halves, true, NULL},
    {"main", &main_rule, false, NULL},
    {"main-pin", &pin, false, "with pin: the pin that says it"},
    {"link", &cable, false, NULL},
    {"settle", &milliseconds, false, "from selecting a line to reading it; usually 0.005"},
    {"settings", &settings, false, NULL},
    {"choices", &choices, false, NULL},
    {"knobs", &knobs, false, NULL},
    {"keys", &keys, true, NULL},
    {"backlight", &backlight, false, NULL},
    {"strip", &strip, false, NULL},
    {"lamps", &lamps, false, NULL},
    NO_MORE};
static const struct shape board = {
    .kind = SHAPE_OBJECT, .what = "a board", .members = board_members};

/* ---- the keymap -------------------------------------------------------------------------- */

static const struct shape plain_cell = {
    .kind = SHAPE_TEXT,
    .what = "what a key does, as a cell of the language: \"a\", \"ctrl+c\", \"nav\", \"'?'\", "
            "\".\" for see-through, \"--\" for nothing",
    .definition = "plain-cell",
    .pattern = "^[^\\n;#]+$"};
static const struct member hold_members[] = {
    {"tap", &plain_cell, true, "what a tap does"},
    {"hold", &plain_cell, true, "what holding does"},
    {"feel", &name, false, "how it decides; usually the feel `default`"},
    NO_MORE};
static const struct shape tap_hold = {
    .kind = SHAPE_OBJECT, .what = "tap and hold", .members = hold_members};
static const struct shape cell = {.kind = SHAPE_EITHER,
                                  .what = "a cell: a text, or an object with tap and hold",
                                  .definition = "cell",
                                  .of = &plain_cell,
                                  .other = &tap_hold};

static const struct member host_members[] = {
    {"system", &name, true, "linux, windows or mac"},
    {"layout", &name, true, "the layout that reads the keys"},
    NO_MORE};
static const struct shape host = {
    .kind = SHAPE_OBJECT, .what = "what the keyboard is plugged into", .members = host_members};

static const char *const decides[] = {"on-timeout", "on-press", "on-nested", NULL};
static const struct shape decide = {
    .kind = SHAPE_WORD, .what = "what makes it a hold", .words = decides};
static const char *const alones[] = {"hold", "tap", NULL};
static const struct shape alone = {
    .kind = SHAPE_WORD, .what = "held and released with no other key between", .words = alones};
static const struct member feel_members[] = {
    {"name", &name, true, NULL},
    {"hold-after", &milliseconds, false, "usually 200"},
    {"decide", &decide, false, "usually on-timeout"},
    {"other-hand", &flag, false, "a key of the same half makes it a tap"},
    {"rest", &milliseconds, false, "this soon after another key it is a tap"},
    {"again", &milliseconds, false, "this soon after its own tap it is a tap that stays down"},
    {"alone", &alone, false, "usually hold"},
    NO_MORE};
static const struct shape feel = {
    .kind = SHAPE_OBJECT, .what = "how tap-holds decide", .members = feel_members};
static const struct shape feels = {
    .kind = SHAPE_LIST, .what = "feels", .of = &feel, .least = 0, .most = UVK_FEELS_MAX};

static const char *const buttons[] = {"left", "right", "middle", NULL};
static const struct shape button = {
    .kind = SHAPE_WORD, .what = "a button of the mouse", .words = buttons};
static const struct member act_members[] = {
    {"type", &text, false, "text on the host's layout"},
    {"tap", &plain_cell, false, "a key or a chord"},
    {"press", &plain_cell, false, "until it is released"},
    {"release", &plain_cell, false, NULL},
    {"wait", &milliseconds, false, NULL},
    {"click", &button, false, NULL},
    {"do", &name, false, "another macro, at this place"},
    NO_MORE};
static const struct shape act = {
    .kind = SHAPE_OBJECT, .what = "one member that says what is done", .members = act_members};
static const struct shape acts = {
    .kind = SHAPE_LIST, .what = "steps of a macro", .of = &act, .least = 0, .most = 65535};
static const struct member macro_members[] = {{"name", &name, true, NULL},
                                              {"steps", &acts, true, "when the key goes down"},
                                              {"on-release", &acts, false, "when it comes up"},
                                              NO_MORE};
static const struct shape macro = {
    .kind = SHAPE_OBJECT, .what = "a macro", .members = macro_members};
static const struct shape macros = {
    .kind = SHAPE_LIST, .what = "macros", .of = &macro, .least = 0, .most = 65535};

static const struct shape touch = {.kind = SHAPE_TEXT,
                                   .what =
                                       "a line's touches, such as \"tap tap\" or \"tap hold\"",
                                   .pattern = "^(tap )*(tap|hold)$"};
static const struct member dance_line_members[] = {
    {"touches", &touch, true, NULL}, {"does", &cell, true, NULL}, NO_MORE};
static const struct shape dance_line = {
    .kind = SHAPE_OBJECT, .what = "a line of a dance", .members = dance_line_members};
static const struct shape dance_lines = {
    .kind = SHAPE_LIST, .what = "lines", .of = &dance_line, .least = 1, .most = 510};
static const struct member dance_members[] = {
    {"name", &name, true, NULL},
    {"within", &milliseconds, false, "from touch to touch; usually 200"},
    {"lines", &dance_lines, true, NULL},
    NO_MORE};
static const struct shape dance = {
    .kind = SHAPE_OBJECT, .what = "taps that are counted", .members = dance_members};
static const struct shape dances = {
    .kind = SHAPE_LIST, .what = "dances", .of = &dance, .least = 0, .most = 65535};

static const char *const untils[] = {"first-up", "last-up", NULL};
static const struct shape until = {
    .kind = SHAPE_WORD, .what = "which release ends it", .words = untils};
static const struct member combo_members[] = {
    {"keys", &addresses, true, "keys that are pressed together"},
    {"does", &cell, true, NULL},
    {"within", &milliseconds, false, "usually 40"},
    {"on", &names, false, "the layers; without it, every layer"},
    {"until", &until, false, "usually first-up"},
    NO_MORE};
static const struct shape combo = {
    .kind = SHAPE_OBJECT, .what = "a combo", .members = combo_members};
static const struct shape combos = {
    .kind = SHAPE_LIST, .what = "combos", .of = &combo, .least = 0, .most = 255};

static const struct member sequence_members[] = {
    {"keys", &addresses, true, "in this order"}, {"does", &cell, true, NULL}, NO_MORE};
static const struct shape sequence = {
    .kind = SHAPE_OBJECT, .what = "keys behind the leader key", .members = sequence_members};
static const struct shape sequences = {
    .kind = SHAPE_LIST, .what = "sequences", .of = &sequence, .least = 0, .most = 1000};
static const struct member leader_members[] = {
    {"within", &milliseconds, false, "from key to key; usually 1000"},
    {"sequences", &sequences, true, NULL},
    NO_MORE};
static const struct shape leader = {
    .kind = SHAPE_OBJECT, .what = "what the leader key starts", .members = leader_members};

static const char *const kinds[] = {"letters", "digits", "symbols", NULL};
static const struct shape kind = {.kind = SHAPE_WORD, .what = "a kind of keys", .words = kinds};
static const struct shape kind_list = {
    .kind = SHAPE_LIST, .what = "kinds of keys", .of = &kind, .least = 0, .most = 3};
static const struct shape exceptions = {
    .kind = SHAPE_LIST, .what = "keys", .of = &plain_cell, .least = 0, .most = 64};
static const struct member long_press_members[] = {
    {"kinds", &kind_list, true, NULL},
    {"after", &milliseconds, false, "usually 190"},
    {"repeat", &milliseconds, false, "this soon after its own tap it stays down as it is"},
    {"except", &exceptions, false, "keys of these kinds that stay as they are"},
    NO_MORE};
static const struct shape long_press = {
    .kind = SHAPE_OBJECT,
    .what = "keys that give their shifted selves when they are held long",
    .members = long_press_members};

static const struct shape room = {
    .kind = SHAPE_WHOLE, .what = "bytes for changes", .least = 16, .most = 4096};
static const struct member live_members[] = {{"room", &room, true, NULL}, NO_MORE};
static const struct shape live = {.kind = SHAPE_OBJECT,
                                  .what = "the running keyboard can be read and changed",
                                  .members = live_members};

static const struct shape effect = {
    .kind = SHAPE_WORD, .what = "what the lights show", .words = uvk_effect_names};
static const struct shape colour = {.kind = SHAPE_TEXT,
                                    .what = "red, green and blue, two hexadecimal digits each",
                                    .pattern = "^#[0-9A-Fa-f]{6}$"};
static const struct member lights_members[] = {{"effect", &effect, false, "usually still"},
                                               {"colour", &colour, false, "usually #ffffff"},
                                               {"speed", &milliseconds, false, "of one period"},
                                               NO_MORE};
static const struct shape lights = {
    .kind = SHAPE_OBJECT, .what = "how the lights begin", .members = lights_members};

static const struct shape cells = {.kind = SHAPE_MAP,
                                   .what = "cells by the addresses of their keys",
                                   .of = &cell,
                                   .pattern = ADDRESS_PATTERN};
static const struct member turn_members[] = {{"left", &cell, true, "a step counter-clockwise"},
                                             {"right", &cell, true, "a step clockwise"},
                                             NO_MORE};
static const struct shape turns = {
    .kind = SHAPE_OBJECT, .what = "what a knob's steps do", .members = turn_members};
static const struct shape turns_by_knob = {.kind = SHAPE_MAP,
                                           .what = "what knobs do, by their names",
                                           .of = &turns,
                                           .pattern = NAME_PATTERN};
static const struct shape two_layers = {
    .kind = SHAPE_LIST, .what = "two layers", .of = &name, .least = 2, .most = 2};
static const struct member layer_members[] = {
    {"name", &name, true, NULL},
    {"when", &two_layers, false, "it is on while both of these are"},
    {"light", &colour, false, "of the strip while this layer is on top"},
    {"cells", &cells, true, "a key that is not mentioned is see-through"},
    {"knobs", &turns_by_knob, false, "a knob that is not mentioned is see-through"},
    NO_MORE};
static const struct shape layer = {
    .kind = SHAPE_OBJECT, .what = "a layer", .members = layer_members};
static const struct shape layers = {.kind = SHAPE_LIST,
                                    .what = "layers; the first is always on",
                                    .of = &layer,
                                    .least = 1,
                                    .most = 255};

static const struct member keymap_members[] = {
    {"name", &name, true, NULL},
    {"host", &host, false, "usually linux us"},
    {"unicode", &flag, false, "other characters by the system's input method"},
    {"settings", &settings, false, NULL},
    {"feels", &feels, false, NULL},
    {"macros", &macros, false, NULL},
    {"dances", &dances, false, NULL},
    {"combos", &combos, false, NULL},
    {"leader", &leader, false, NULL},
    {"long-press", &long_press, false, NULL},
    {"live", &live, false, NULL},
    {"lights", &lights, false, NULL},
    {"layers", &layers, true, NULL},
    NO_MORE};
static const struct shape keymap = {
    .kind = SHAPE_OBJECT, .what = "a keymap", .members = keymap_members};

/* ---- the whole --------------------------------------------------------------------------- */

static const struct shape version = {.kind = SHAPE_WHOLE,
                                     .what = "the version of this form: 2",
                                     .least = UVK_EXCHANGE_VERSION,
                                     .most = UVK_EXCHANGE_VERSION};
static const struct member whole_members[] = {{"uvrek-exchange", &version, true, NULL},
                                              {"board", &board, true, NULL},
                                              {"keymap", &keymap, false, NULL},
                                              NO_MORE};
const struct shape exchange_form = {
    .kind = SHAPE_OBJECT, .what = "a board, and perhaps a keymap", .members = whole_members};
