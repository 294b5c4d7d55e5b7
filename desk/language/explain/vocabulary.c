/* vocabulary.c - the words of the language that are no keys, each with its place. */
#include "uvrek/explain.h"

#define IN_FILE   "in a file"
#define IN_BOARD  "in a board"
#define IN_MATRIX "in a matrix"
#define IN_HALVES "in halves"
#define IN_KEYS   "in the keys of a board"
#define IN_LAMPS  "in backlight"
#define IN_STRIP  "in strip"
#define IN_LIGHTS "in lights"
#define IN_KEYMAP "in a keymap"
#define IN_FEEL   "in a feel"
#define IN_MACRO  "in a macro"
#define IN_PLAY   "in a play"
#define A_PREFIX  "before a name, in a cell"
#define A_SYSTEM  "behind host"

static const struct uvk_word words[] = {
    {"use", IN_FILE, "use \"FILE\": that file is part of the program; its path is relative"},
    {"board", IN_FILE, "board NAME { ... }: the hardware; a program has one"},
    {"keymap", IN_FILE, "keymap NAME { ... }: what the keys do; a program has at most one"},
    {"play", IN_FILE, "play \"WHAT\" { ... }: steps of the fingers, and what is expected then"},

    {"title", IN_BOARD, "title \"NAME\": the board's name for people, and on USB"},
    {"chip", IN_BOARD, "chip NAME: the microcontroller"},
    {"usb", IN_BOARD, "usb { vendor N; product N; maker \"NAME\" }: how a host knows it"},
    {"vendor", "in usb", "vendor N: the vendor's number, to 0xFFFF"},
    {"product", "in usb", "product N: the product's number, to 0xFFFF"},
    {"maker", "in usb", "maker \"NAME\": who made it, up to 126 characters"},
    {"boot", IN_BOARD, "boot serial | dfu | uf2: the bootloader, as far as the chip has it"},
    {"pins", IN_BOARD, "pins \"NAME\" PIN, ...: names that are printed on a module"},
    {"matrix", IN_BOARD,
     "matrix [HALF] { rows; cols; flow }: switches where rows cross columns"},
    {"rows", IN_MATRIX, "rows PIN ...: the pins of rows r0, r1 and on"},
    {"cols", IN_MATRIX, "cols PIN ...: the pins of columns c0, c1 and on"},
    {"flow", IN_MATRIX,
     "flow row->col | col->row | none: which way the diodes conduct; none shows ghost keys"},
    {"settle", IN_MATRIX, "settle T: from selecting a line to reading it; 5us"},
    {"spare", IN_MATRIX, "spare ADDRESS ...: places where no key is meant to stand"},
    {"debounce", IN_MATRIX, "debounce T: as `set debounce T`"},
    {"direct", IN_BOARD,
     "direct [HALF] { pins; to }: switches with a pin of their own, d0, d1"},
    {"pins", "in direct", "pins PIN ...: one pin a switch"},
    {"to", "in direct", "to ground | power: what a closed switch connects to; ground"},
    {"knob", IN_BOARD, "knob NAME [HALF] { pins; detent; flipped }: a knob that can be turned"},
    {"pins", "in a knob", "pins A B: its two contacts"},
    {"detent", "in a knob",
     "detent 1 | 2 | 4: changes of phase from one detent to the next; 4"},
    {"flipped", "in a knob", "flipped: it turns the other way"},
    {"halves", IN_BOARD, "halves LEFT RIGHT { main; link }: a board in two halves"},
    {"main", IN_HALVES,
     "main usb | stored | pin PIN | LEFT | RIGHT: the half that talks to the host"},
    {"link", IN_HALVES,
     "link uart TX RX [straight] | link wire PIN: the cable between two controllers"},
    {"wire", "behind link", "one pin, on which the halves take turns"},
    {"uart", "behind link", "two pins, one that sends and one that receives"},
    {"speed", IN_HALVES,
     "speed N: of the link, 9600 to 1000000 bits a second (ATmega32U4: 500000); 230400"},
    {"choice", IN_BOARD, "choice NAME { OPTION OPTION ... }: the first is the usual one"},
    {"backlight", IN_BOARD,
     "backlight PIN { levels; start; breathe }: a light behind the keys"},
    {"levels", IN_LAMPS, "levels N: how many steps of brightness, 1 to 64; 8"},
    {"start", IN_LAMPS, "start N: the level at the start, 0 is off; 4"},
    {"breathe", IN_LAMPS, "breathe T: the time of one breath, 0.5s to 60s"},
    {"strip", IN_BOARD,
     "strip PIN { count; order; limit; at }: lamps that are addressed one by one"},
    {"count", IN_STRIP, "count N: how many lamps, 1 to 255; on each of linked halves 1 to 127"},
    {"order", IN_STRIP, "order grb | rgb | grbw | rgbw: of the colours in a lamp's data; grb"},
    {"limit", IN_STRIP, "limit C: the current that all lamps may take, 20mA to 5000mA; 400mA"},
    {"at", IN_STRIP,
     "at [HALF] r0c0 + r0c1 ...: the key above each lamp, in the order of the strip; + is a "
     "lamp "
     "without a key"},
    {"lamp", IN_BOARD,
     "lamp num-lock | caps-lock | scroll-lock | LAYER PIN [to ground | power]: a lamp with a "
     "pin "
     "of its own"},
    {"keys", IN_BOARD, "keys [HALF] { lines of cells }: where the keys are, and where wired"},
    {"|", IN_KEYS,
     "r0c0 r0c1 | r0c2: where the hands part, on a board in one piece; what stands between two "
     "of them is for either hand"},
    {"at", IN_KEYS, "at X Y: the next line starts there, in key units"},
    {"turn", IN_KEYS, "turn DEG: the lines that follow are rotated clockwise about the pen"},
    {"stagger", IN_KEYS, "stagger D D ...: how much lower each column is, from here on"},
    {"mirror", IN_KEYS, "keys RIGHT mirror LEFT [gap G]: places mirrored, addresses kept"},
    {"gap", IN_KEYS, "gap G: key units between the two halves; 3"},
    {"set", IN_BOARD, "set NAME VALUE: the board's own default of a setting"},

    {"host", IN_KEYMAP, "host SYSTEM LAYOUT: the system and layout that will read the keys"},
    {"choice", IN_KEYMAP, "choice NAME OPTION: which option of the board's choice this has"},
    {"let", IN_KEYMAP, "let NAME = CELL ..., let NAME(A, B) = CELL ...: a name for cells"},
    {"feel", IN_KEYMAP,
     "feel NAME { ... }: how a tap-hold decides; `default` is for all others"},
    {"hold-after", IN_FEEL, "hold-after T: held this long, it is a hold; 200ms"},
    {"decide", IN_FEEL,
     "decide on-timeout | on-press | on-nested: only the time; another key pressed; another "
     "key "
     "pressed and released"},
    {"other-hand", IN_FEEL, "other-hand: a key of the same hand makes it a tap"},
    {"rest", IN_FEEL, "rest T: pressed less than T after another key it is a tap at once"},
    {"again", IN_FEEL,
     "again T: pressed less than T after its last tap it taps at once, and stays down"},
    {"alone", IN_FEEL, "alone hold | tap: what a hold without another key is; hold"},
    {"layer", IN_KEYMAP, "layer NAME [when A+B] { lines of cells }: the first is always on"},
    {"when", "behind a layer's name", "layer NAME when A+B: on while A and B both are on"},
    {"knob", "in a layer", "knob NAME LEFT RIGHT: the cells of a step to the left and right"},
    {"dance", IN_KEYMAP, "dance NAME { tap -> CELL; tap hold -> CELL; within T }: counts taps"},
    {"tap", "in a dance", "tap, tap tap, tap hold ... -> CELL: what these touches do"},
    {"hold", "in a dance", "hold -> CELL, tap hold -> CELL: what holding the last touch does"},
    {"combo", IN_KEYMAP,
     "combo K+K -> CELL { within T; on LAYER ...; until first-up | last-up }"},
    {"within", "in a combo, a dance, the leader",
     "within T: how long fingers may take; 40ms, 200ms, 1s"},
    {"on", "in a combo", "on LAYER ...: the layers on which it works; every layer"},
    {"until", "in a combo", "until first-up | last-up: which release ends it; first-up"},
    {"leader", IN_KEYMAP,
     "leader { within T; K K -> CELL; ... }: what the key `leader` starts"},
    {"long-press", IN_KEYMAP,
     "long-press { letters digits symbols; after T; repeat T; except K ... }: shifted when "
     "held "
     "long, plain while a modifier is down"},
    {"letters", "in long-press", "letters: the keys a to z"},
    {"digits", "in long-press", "digits: the keys 0 to 9"},
    {"symbols", "in long-press", "symbols: minus, equal, brackets, comma and their like"},
    {"after", "in long-press", "after T: held this long, it is shifted; 190ms"},
    {"repeat", "in long-press",
     "repeat T: pressed again this soon after its tap it stays down, so that the host repeats "
     "it; 0ms"},
    {"except", "in long-press", "except K ...: keys that stay as they are"},
    {"macro", IN_KEYMAP, "macro NAME { steps }: what happens when the key goes down"},
    {"type", IN_MACRO, "type \"TEXT\": as the host's layout types it"},
    {"tap", IN_MACRO, "tap CELL: a key or chord, pressed and released"},
    {"press", IN_MACRO, "press CELL: down until it is released"},
    {"release", IN_MACRO, "release CELL: up"},
    {"wait", IN_MACRO, "wait T: nothing happens for that long"},
    {"click", IN_MACRO, "click left | right | middle: a button of the mouse"},
    {"do", IN_MACRO, "do NAME: what the macro NAME does, at this place"},
    {"on-release", IN_MACRO, "on-release { steps }: what happens when the key comes up"},
    {"set", IN_KEYMAP, "set NAME VALUE: wins over the board's value and the usual one"},
    {"unicode", "behind set, in a keymap",
     "set unicode on | off: characters that the layout lacks are typed by number, as the "
     "system's input method takes them; off"},
    {"lights", IN_KEYMAP, "lights { effect; colour; speed }: how the lights begin"},
    {"effect", IN_LIGHTS, "effect still | breathe | hues | ripple | keys; still"},
    {"still", "behind effect", "one colour"},
    {"breathe", "behind effect", "the lights come and go"},
    {"hues", "behind effect", "all colours one after the other, from left to right"},
    {"ripple", "behind effect", "a ring spreads from the key that was pressed"},
    {"keys", "behind effect", "keys light up while they are down, and fade"},
    {"colour", IN_LIGHTS, "colour #RRGGBB: of a strip; #ffffff"},
    {"speed", IN_LIGHTS, "speed T: of one period of the effect, 0.5s to 60s; 4s"},
    {"light", "in a layer", "light #RRGGBB: the strip's colour while this layer is on top"},
    {"live", IN_KEYMAP, "live { room N }: it can be changed while it runs"},
    {"room", "in live", "room N: bytes that the keyboard keeps for changes; 256"},

    {"down", IN_PLAY, "down K: a finger goes down on the key that taps K, or on an address"},
    {"up", IN_PLAY, "up K: the finger comes up"},
    {"tap", IN_PLAY, "tap K [for T]: down for 20ms or T, then 20ms up"},
    {"wait", IN_PLAY, "wait T: time passes; wait 0ms: the next step is in the same scan"},
    {"turn", IN_PLAY, "turn KNOB +N | -N: detents clockwise, or back"},
    {"settle", IN_PLAY, "settle: until nothing is pending"},
    {"lock", IN_PLAY,
     "lock num | caps | scroll on | off: the host's locks; num is on at first"},
    {"protocol", IN_PLAY,
     "protocol boot | report: what the host asks the keyboard for, boot in a setup screen"},
    {"pull", IN_PLAY, "pull: somebody pulls the cable between the halves"},
    {"join", IN_PLAY, "join: the cable is in again"},
    {"cross", IN_PLAY, "cross: a cable is in whose two lines cross the wrong way"},
    {"noise", IN_PLAY,
     "noise N%: of a hundred frames on that cable, so many are damaged from here on"},
    {"restart", IN_PLAY, "restart HALF: that half starts again"},
    {"expect", IN_PLAY,
     "expect text | keys | held | layers | pointer | wheel | delay | light | lamps: what is "
     "there since the "
     "last "
     "one of its kind, or now"},
    {"text", "behind expect", "expect text \"TEXT\": what the host's layout has typed"},
    {"keys", "behind expect", "expect keys K ...: the presses that the host saw, in order"},
    {"held", "behind expect", "expect held K ... | nothing: what is down at the host now"},
    {"layers", "behind expect", "expect layers NAME ...: the layers that are on now"},
    {"pointer", "behind expect", "expect pointer X Y: how far it moved, right and down"},
    {"wheel", "behind expect", "expect wheel X Y: how far it turned, right and up"},
    {"delay", "behind expect", "expect delay < T: from the last touch to its report"},
    {"light", "behind expect",
     "expect light level N, light EFFECT, light #RRGGBB at ADDRESS: how the lights are now"},
    {"lamps", "behind expect",
     "expect lamps num-lock | caps-lock | scroll-lock | LAYER ... | nothing: what is lit now"},

    {"toggle:", A_PREFIX,
     "toggle:LAYER, toggle:shift, toggle:long-press: on, pressed again off"},
    {"only:", A_PREFIX, "only:LAYER: all layers but the first off, this one on"},
    {"once:", A_PREFIX, "once:LAYER, once:shift: for the next key only"},
    {"block:", A_PREFIX, "block:KEY: keeps it from the host until pressed again"},
    {"board:", A_PREFIX, "board:bootloader | restart | reset"},
    {".", "in a cell", "see-through: what the next lower layer that is on has here"},
    {"--", "in a cell", "nothing, on purpose"},
    {"/", "in a cell", "TAP/HELD [~FEEL]: one thing when tapped, another while held"},
    {"~", "in a cell", "~FEEL, behind TAP/HELD: how this one decides, instead of `default`"},
    {"board:bootloader", "in a cell", "starts the bootloader, so that firmware can be written"},
    {"board:restart", "in a cell", "restarts the keyboard"},
    {"board:reset", "in a cell", "forgets what is stored, and restarts"},
    {"light:", A_PREFIX, "light:on | off | toggle | up | down | next | back | breathe"},
    {"primary", "in a cell", "gui for `host mac`, else ctrl"},

    {"linux", A_SYSTEM, "the system is Linux"},
    {"windows", A_SYSTEM, "the system is Windows"},
    {"mac", A_SYSTEM, "the system is macOS: `primary` is gui"},
};

const struct uvk_word *uvk_words(size_t *count)
{
    *count = G_N_ELEMENTS(words);
    return words;
}
