/* One mistake planted in each statement of a board and of a keymap: one message, on its place
 * (two, where two halves use the pin). */
#include "support.h"

#include <string.h>

static const char board[] =
    "board slate {\n"
    "  title \"Slate\"\n"
    "  chip atmega32u4\n"
    "  usb { vendor 0x1209; product 0x0001; maker \"Saltmarsh\" }\n"
    "  boot serial\n"
    "  pins \"A0\" F7\n"
    "  choice enter { ansi iso }\n"
    "  matrix { rows B1 B2; cols F4 F5 F6; flow row->col; debounce 5ms; settle 5us }\n"
    "  direct { pins D2 D3; to ground }\n"
    "  knob jog { pins D0 D1; detent 4; flipped }\n"
    "  backlight B7 { levels 8; start 3; breathe 4s }\n"
    "  strip C6 { count 10; order grb }\n"
    "  set once-for 1s\n"
    "  keys {\n"
    "    stagger 0.2 0\n"
    "    r0c0 r0c1 r0c2*1.5 +0.5 (enter=ansi: d0) (enter=iso: d0*2)\n"
    "    stagger\n"
    "    at 0 2\n"
    "    turn 5\n"
    "    r1c0 r1c1 r1c2 d1=jog\n"
    "  }\n"
    "}\n";

static const char split[] =
    "board slate {\n"
    "  chip rp2040\n"
    "  halves left right { main usb; link uart GP0 GP1 straight; speed 230400 }\n"
    "  matrix left { rows GP2 GP3; cols GP4 GP5; flow row->col }\n"
    "  matrix right { rows GP2 GP3; cols GP4 GP5; flow row->col }\n"
    "  keys left { r0c0 r0c1; r1c0 r1c1 }\n"
    "  keys right mirror left gap 3\n"
    "}\n";

static const char keymap[] = BOARD9
    "keymap desk {\n"
    "  host linux us\n"
    "  let undo = primary+z\n"
    "  let mod(tap, held) = tap/held ~calm\n"
    "  feel calm { hold-after 220ms; decide on-nested; rest 120ms; again 90ms; alone tap }\n"
    "  macro greet { type \"Good evening\"; tap undo; wait 120ms; press shift; release shift; "
    "click left; on-release { tap enter } }\n"
    "  dance ones { tap -> 1; hold -> f1; tap tap -> f11; within 200ms }\n"
    "  combo a+c -> esc { within 50ms; on base; until last-up }\n"
    "  leader { within 800ms; a c -> greet; c a -> ones }\n"
    "  long-press { letters digits; after 190ms; except c }\n"
    "  set once-for 2s\n"
    "  layer base {\n"
    "    mod(a, ctrl) greet c\n"
    "    nav ones num\n"
    "    undo leader '?'\n"
    "  }\n"
    "  layer nav {\n"
    "    1 once:shift toggle:nav\n"
    "    . left block:gui\n"
    "    -- only:num board:bootloader\n"
    "  }\n"
    "  layer num { 4 5 6; 7 8 .; 0 . only:base }\n"
    "  layer both when nav+num { x y z; . . .; . . . }\n"
    "}\n"
    "play \"letters\" { down a; wait 40ms; up a; tap c for 30ms; settle; expect text \"ac\"; "
    "expect held nothing; expect layers base; expect delay < 900ms }\n";

static const char lit[] =
    "board glow {\n"
    "  chip atmega32u4\n"
    "  matrix { rows B0 B1; cols F0 F1; flow row->col }\n"
    "  backlight B7 { levels 6; start 2 }\n"
    "  strip D0 { count 5; limit 300mA; at r0c0 r0c1 +; at r1c1 r1c0 }\n"
    "  lamp caps-lock C6\n"
    "  lamp cue C7 to power\n"
    "  keys { r0c0 r0c1; r1c0 r1c1 }\n"
    "}\n"
    "keymap booth {\n"
    "  lights { effect hues; colour #ff8000; speed 2s }\n"
    "  set light-step 2\n"
    "  layer base { a cue; light:toggle light:up }\n"
    "  layer cue {\n"
    "    light #00ff40\n"
    "    b .; light:next board:bootloader\n"
    "  }\n"
    "}\n"
    "play \"lights\" { expect light level 2; expect light hues; expect light off; down cue; "
    "wait 20ms; expect light #00ff40 at a; expect lamps cue; expect lamps nothing }\n";

static const char lit_halves[] = "board wings {\n"
                                 "  chip rp2040\n"
                                 "  halves left right { main usb; link uart GP0 GP1 }\n"
                                 "  matrix { rows GP2 GP3; cols GP4 GP5; flow row->col }\n"
                                 "  strip GP6 { count 2; at left r0c0 r1c0; at right r0c1 + }\n"
                                 "  keys left { r0c0 r0c1; r1c0 r1c1 }\n"
                                 "  keys right mirror left gap 3\n"
                                 "}\n";

static const struct {
    const char *whole, *statement, *right, *wrong, *message;
} planted[] = {
    {lit, "limit", "limit 300mA", "limit 300ms",
     "U012 5:29 expected a current, such as 300mA\n"},
    {lit, "limit, range", "limit 300mA", "limit 9mA",
     "U017 5:29 the current in milliamperes is from 20 to 5000, this is 9\n"},
    {lit, "at", "at r0c0 r0c1 +;", "at r0c0 r0c7 +;",
     "U033 5:44 this is no key | a lamp without a key is +\n"},
    {lit, "at, count", "at r1c1 r1c0", "at r1c1 r1c0 +",
     "U017 5:65 the strip has 5 lamps, this would be one more\n"},
    {lit, "lamp", "lamp caps-lock C6", "lamp caps-lock F0",
     "U032 6:18 pin F0 is used already: a column (the other one: 3:29)\n"},
    {lit, "lamp, twice", "lamp cue C7 to power", "lamp cue C7 to power; lamp cue D1",
     "U015 7:30 there is a lamp for this already (the other one: 7:8)\n"},
    {lit, "lamp, end", "to power", "to earth",
     "U012 7:18 unknown end of a lamp; choose from: ground, power\n"},
    {lit, "effect", "effect hues", "effect huse",
     "U012 11:19 unknown effect; choose from: still, breathe, hues, ripple, keys | did you "
     "mean "
     "'hues'?\n"},
    {lit, "colour", "colour #ff8000", "colour orange",
     "U012 11:32 expected a colour, such as #ff8800\n"},
    {lit, "speed", "speed 2s", "speed 100ms",
     "U017 11:47 this time is from 500ms to 60000ms, this is 100ms\n"},
    {lit, "light-step", "light-step 2", "light-step 70",
     "U017 12:18 light-step is from 1 to 64, this is 70\n"},
    {lit, "light, twice", "light #00ff40\n", "light #00ff40; light #00ff41\n",
     "U015 15:20 this layer has a colour already (the other one: 15:5)\n"},
    {lit, "expect light", "expect light hues", "expect light huse",
     "U012 19:52 unknown effect; choose from: still, breathe, hues, ripple, keys | did you "
     "mean "
     "'hues'?\n"},
    {lit, "expect light, key", "at a;", "at b;",
     "U040 19:121 no key taps this in layer 'base' | an "
     "address such as r0c0 names any key\n"},
    {lit, "expect lamps", "lamps cue", "lamps que",
     "U012 19:137 the board has no such lamp | did you mean 'cue'?\n"},
    {lit_halves, "at, half", "at right r0c1", "at rihgt r0c1",
     "U039 5:46 the halves of this board are 'left' and 'right' | did you mean 'right'?\n"},
    {lit_halves, "count, halves", "count 2;", "count 200;",
     "U017 5:21 the number of lamps on each half is from 1 to 127, this is 200\n"},
    {board, "title", "title \"Slate\"", "title Slate", "U012 2:9 expected a \"title\"\n"},
    {board, "chip", "chip atmega32u4", "chip atmega32u2",
     "U030 3:8 no chip 'atmega32u2' is known | did you mean 'atmega32u4'?\n"},
    {board, "usb", "usb {", "usb 7 {", "U012 4:7 expected the end of the 'usb' statement\n"},
    {board, "vendor", "vendor 0x1209", "vendor 0x12090",
     "U017 4:16 a USB number is from 0 to 65535, this is 73872\n"},
    {board, "product", "product 0x0001", "product \"1\"", "U012 4:32 expected a number\n"},
    {board, "maker", "maker \"Saltmarsh\"", "maker Saltmarsh",
     "U012 4:46 expected a \"name\"\n"},
    {board, "boot", "boot serial", "boot seriel",
     "U012 5:8 unknown bootloader for this chip; choose from: serial, dfu | did you mean "
     "'serial'?\n"},
    {board, "pins", "pins \"A0\" F7", "pins \"A0\" F8",
     "U031 6:13 the ATmega32U4 has no pin 'F8' | did you mean 'F0'?\n"},
    {board, "choice", "choice enter { ansi iso }", "choice enter { ansi }",
     "U016 7:10 a choice has two options or more\n"},
    {board, "(enter=…)", "(enter=iso: d0*2)", "(enter=jis: d0*2)",
     "U044 16:53 unknown option of this choice; choose from: ansi, iso\n"},
    {board, "other choice", "(enter=iso: d0*2)", "(enter=iso: r0c0)",
     "U034 16:58 with enter=iso: this address stands on the board already (the other one: "
     "16:5)\n"},
    {board, "matrix", "matrix {", "matrix left {", "U039 8:10 this board is in one piece\n"},
    {board, "rows", "rows B1 B2", "rows B1 B1",
     "U032 8:20 pin B1 is used already: a row (the other one: 8:17)\n"},
    {board, "rows, reserved", "rows B1 B2", "rows B1 XTAL1",
     "U036 8:20 pin XTAL1 is not free: the crystal is on it\n"},
    {board, "cols", "cols F4 F5 F6", "cols F4 F5 F9",
     "U031 8:35 the ATmega32U4 has no pin 'F9' | did you mean 'F0'?\n"},
    {board, "cols, unused", "cols F4 F5 F6", "cols F4 F5 F6 F1",
     "U061 8:38 no key uses this pin, column c3\n"},
    {board, "flow", "flow row->col", "flow row->row",
     "U012 8:44 expected which way the diodes conduct | write row->col, col->row or none\n"},
    {board, "flow none", "flow row->col", "flow none",
     "U035 8:44 without diodes 6 keys can appear that nobody pressed: r0c1, r1c1 and r1c0 "
     "together press r0c0 as well | give each switch a diode\n"},
    {board, "debounce", "debounce 5ms", "debounce 5s",
     "U017 8:63 this time is from 0ms to 100ms, this is 5000ms\n"},
    {board, "settle", "settle 5us", "settle 5ms",
     "U017 8:75 this time is from 0ms to 0.1ms, this is 5ms\n"},
    {board, "direct", "pins D2 D3; to", "pins D2 B1; to",
     "U032 9:20 pin B1 is used already: a row (the other one: 8:17)\n"},
    {board, "to", "to ground", "to earth",
     "U012 9:27 unknown side of a switch; choose from: ground, power\n"},
    {board, "to power", "to ground", "to power",
     "U063 9:24 the ATmega32U4 cannot hold an open pin at ground: each switch needs a resistor "
     "| to ground\n"},
    {board, "knob", "knob jog { pins D0 D1;", "knob jog { pins D0;",
     "U012 10:21 expected two pins\n"},
    {board, "knob, not placed", "d1=jog", "d1",
     "U016 10:8 the knob 'jog' has no place among the keys | write =NAME behind the address of "
     "its switch, or alone\n"},
    {board, "detent", "detent 4", "detent 3",
     "U017 10:33 a knob has 1, 2 or 4 changes of phase to a detent\n"},
    {board, "flipped", "flipped", "fliped",
     "U013 10:36 there is no statement 'fliped' in a knob | did you mean 'flipped'?\n"},
    {board, "backlight", "backlight B7", "backlight B8",
     "U031 11:13 the ATmega32U4 has no pin 'B8' | did you mean 'B0'?\n"},
    {board, "levels", "levels 8", "levels 0",
     "U017 11:25 the number of levels is from 1 to 64, this is 0\n"},
    {board, "start", "start 3", "start 9", "U017 11:3 it starts at level 9, and has only 8\n"},
    {board, "breathe", "breathe 4s", "breathe 4",
     "U012 11:45 expected a time | did you mean '4ms'?\n"},
    {board, "strip", "strip C6", "strip F4",
     "U032 12:9 pin F4 is used already: a column (the other one: 8:29)\n"},
    {board, "count", "count 10;", "", "U016 12:3 the strip has no 'count'\n"},
    {board, "order", "order grb", "order bgr",
     "U012 12:30 unknown order of colours; choose from: grb, rgb, grbw, rgbw\n"},
    {board, "set", "set once-for 1s", "set once-four 1s",
     "U012 13:7 unknown setting; choose from: debounce, once-for, pointer-speed, pointer-ramp, "
     "wheel-speed, type-pace, press-after, light-step, unicode | did you mean 'once-for'?\n"},
    {board, "set, range", "set once-for 1s", "set once-for 1us",
     "U017 13:16 this time is from 100ms to 60000ms, this is 0.001ms\n"},
    {board, "keys, address", "r0c1 r0c2", "r0c1 r0c3",
     "U033 16:15 the matrix has rows r0..r1 and columns c0..c2\n"},
    {board, "keys, twice", "r0c0 r0c1", "r0c0 r0c0",
     "U034 16:10 this address stands on the board already (the other one: 16:5)\n"},
    {board, "keys, size", "r0c2*1.5", "r0c2*0.1",
     "U017 16:15 a key is from 0.25 to 20 units wide\n"},
    {board, "keys, =KNOB", "d1=jog", "d1=jug",
     "U021 20:23 this board has no knob 'jug' | did you mean 'jog'?\n"},
    {board, "+G", "+0.5", "+", "U012 16:26 expected a number behind the '+', found '('\n"},
    {board, "at", "at 0 2", "at 0", "U012 18:9 expected Y\n"},
    {board, "at, overlap", "at 0 2", "at 0 0.3",
     "U037 20:5 this key lies over r0c0 (the other one: 16:5)\n"},
    {board, "turn", "turn 5", "turn left", "U012 19:10 expected degrees\n"},
    {board, "stagger", "stagger 0.2 0", "stagger 0.2 low",
     "U012 15:17 expected how much lower each column is, in key units\n"},
    {board, "keys, place left over", "r0c0 r0c1 r0c2", "r0c1 r0c2",
     "U038 8:3 no key stands at r0c0 | `spare r0c0` says that it is meant so\n"},
    {split, "halves", "halves left right", "halves left left",
     "U015 3:15 both halves are called 'left' (the other one: 3:10)\n"},
    {split, "main", "main usb", "main us",
     "U012 3:28 unknown rule for the main half; choose from: usb, stored, pin, left, "
     "right | did you mean 'usb'?\n"},
    {split, "link", "link uart GP0 GP1", "link uart GP0 GP2",
     "U032 4:22 pin GP2 is used already: the link\n"
     "U032 5:23 pin GP2 is used already: the link\n"},
    {split, "straight", "straight", "strai",
     "U012 3:51 expected the end of the 'link' statement\n"},
    {split, "speed", "speed 230400", "speed 100",
     "U017 3:67 the speed is from 9600 to 1000000, this is 100\n"},
    {split, "matrix HALF", "matrix right", "matrix rigth",
     "U039 5:10 the halves of this board are 'left' and 'right' | did you mean 'right'?\n"},
    {split, "keys HALF", "keys left {", "keys middle {",
     "U039 6:8 the halves of this board are 'left' and 'right'\n"},
    {split, "mirror", "mirror left", "mirror right",
     "U039 7:21 a half is no mirror of itself\n"},
    {split, "gap", "gap 3", "gap wide", "U012 7:30 expected key units\n"},
    {keymap, "host system", "host linux us", "host lunix us",
     "U043 12:8 unknown system; choose from: linux, windows, mac\n"},
    {keymap, "host layout", "host linux us", "host linux uss",
     "U043 12:14 unknown layout; choose from: us, uk, de, fr, es, it, pt, se, dvorak, colemak "
     "| "
     "did you mean 'us'?\n"},
    {keymap, "let", "let undo = primary+z", "let undo primary+z",
     "U012 13:12 expected '=' behind the name\n"},
    {keymap, "let, a key's name", "let undo = primary+z", "let undo = primary+zz",
     "U021 13:22 no key or name 'zz' | did you mean 'z'?\n"},
    {keymap, "let, parameters", "mod(a, ctrl)", "mod(a)",
     "U022 23:5 'mod' takes 2, this gives 1\n"},
    {keymap, "feel", "feel calm {", "feel calm calm {",
     "U012 15:13 expected the end of the 'feel' statement\n"},
    {keymap, "hold-after", "hold-after 220ms", "hold-after 0ms",
     "U017 15:26 this time is from 1ms to 30000ms, this is 0ms\n"},
    {keymap, "decide", "decide on-nested", "decide on-nest",
     "U012 15:40 unknown rule; choose from: on-timeout, on-press, on-nested | did you mean "
     "'on-nested'?\n"},
    {keymap, "rest", "rest 120ms", "rest soon", "U012 15:56 expected a time\n"},
    {keymap, "again", "again 90ms", "again 90",
     "U012 15:69 expected a time | did you mean '90ms'?\n"},
    {keymap, "alone", "alone tap", "alone hole",
     "U012 15:81 unknown word; choose from: hold, tap | did you mean 'hold'?\n"},
    {keymap, "feel, unknown", "~calm", "~clam",
     "U021 14:34 no feel 'clam' | did you mean 'calm'?\n"},
    {keymap, "macro type", "\"Good evening\"", "\"Good evening €\"",
     "U023 16:22 the host's layout cannot type '€' | 'set unicode on', if the host takes "
     "numbers\n"},
    {keymap, "macro tap", "tap undo;", "tap nav;",
     "U022 16:42 a macro presses keys and chords, this is none\n"},
    {keymap, "macro wait", "wait 120ms;", "wait 120;",
     "U012 16:53 expected a time | did you mean '120ms'?\n"},
    {keymap, "macro press", "press shift;", "press;", "U012 16:65 expected a key\n"},
    {keymap, "macro release", "release shift;", "relase shift;",
     "U013 16:73 a macro has no step 'relase' | did you mean 'release'?\n"},
    {keymap, "macro click", "click left", "click up",
     "U021 16:94 unknown button; choose from: left, right, middle\n"},
    {keymap, "on-release", "on-release { tap enter }", "on-release tap enter",
     "U012 16:120 expected '{'\n"},
    {keymap, "dance, touch", "tap tap -> f11", "tap tip -> f11",
     "U012 17:42 a line of a dance is made of 'tap' and 'hold'\n"},
    {keymap, "dance, hold first", "tap tap -> f11", "hold tap -> f11",
     "U012 17:43 only the last touch of a dance can be a hold\n"},
    {keymap, "dance, twice", "tap tap -> f11", "tap -> f11",
     "U015 17:38 this line stands in the dance already\n"},
    {keymap, "dance, itself", "hold -> f1", "hold -> ones",
     "U026 17:9 'ones' is part of itself, or more than 6 dances and tap-holds deep\n"},
    {keymap, "dance within", "within 200ms", "within 200s",
     "U017 17:61 this time is from 1ms to 30000ms, this is 200000ms\n"},
    {keymap, "combo, key", "combo a+c", "combo a+b",
     "U040 18:11 no key taps this in layer 'base' | an address such as r0c0 names any key\n"},
    {keymap, "combo, twice", "combo a+c", "combo a+a",
     "U015 18:11 this key is in the combo already\n"},
    {keymap, "combo, one key", "combo a+c", "combo a", "U012 18:9 expected keys, as in j+k\n"},
    {keymap, "combo within", "within 50ms", "within soon", "U012 18:29 expected a time\n"},
    {keymap, "combo on", "on base", "on bass", "U042 18:38 this is no layer\n"},
    {keymap, "combo until", "until last-up", "until first-down",
     "U012 18:50 unknown release; choose from: first-up, last-up\n"},
    {keymap, "leader, key", "a c -> greet", "a d -> greet",
     "U040 19:28 no key taps this in layer 'base' | an address such as r0c0 names any key\n"},
    {keymap, "leader, twice", "c a -> ones", "a c -> ones",
     "U015 19:40 there is a sequence of these keys already (the other one: 19:26)\n"},
    {keymap, "leader within", "within 800ms", "within 1us",
     "U017 19:19 this time is from 50ms to 30000ms, this is 0.001ms\n"},
    {keymap, "long-press kind", "letters digits;", "letters signs;",
     "U012 20:24 unknown kind of keys; choose from: letters, digits, symbols\n"},
    {keymap, "long-press after", "after 190ms", "after 0ms",
     "U017 20:38 this time is from 1ms to 30000ms, this is 0ms\n"},
    {keymap, "long-press except", "except c", "except esc",
     "U022 20:52 this is none of the keys that are pressed long here\n"},
    {keymap, "set", "set once-for 2s", "set once-for 2",
     "U012 21:16 expected a time | did you mean '2ms'?\n"},
    {keymap, "set, another", "set once-for 2s", "set unicode 1",
     "U012 21:15 expected on or off\n"},
    {keymap, "layer, line", "nav ones num", "nav ones",
     "U024 24:5 2 cells, the board has 3 in this line\n"},
    {keymap, "layer, count", "layer num { 4 5 6; 7 8 .; 0 . only:base }",
     "layer num { 4 5 6 7 8 . 0 . }",
     "U025 32:9 layer 'num' has 8 cells, the board has 9 keys\n"},
    {keymap, "layer, name", "undo leader", "undu leader",
     "U021 25:5 no key or name 'undu' | did you mean 'undo'?\n"},
    {keymap, "layer when", "when nav+num", "when nav+nom",
     "U042 33:23 this is no other layer\n"},
    {keymap, "layer, twice", "layer both when", "layer nav when",
     "U015 33:9 'nav' is defined already (the other one: 27:9)\n"},
    {keymap, "once:", "once:shift", "once:shaft",
     "U021 28:12 no key or name 'shaft' | did you mean 'shift'?\n"},
    {keymap, "toggle:", "toggle:nav", "toggle:nave",
     "U021 28:25 no key or name 'nave' | did you mean 'nav'?\n"},
    {keymap, "only:", "only:num", "only:shift", "U022 30:13 'only:' is for layers\n"},
    {keymap, "block:", "block:gui", "block:nav",
     "U022 29:18 'block:' is for a modifier or a key of the keyboard without modifiers\n"},
    {keymap, "board:", "board:bootloader", "board:boot",
     "U021 30:23 unknown act of the board; choose from: bootloader, restart, reset\n"},
    {keymap, "prefix", "toggle:nav", "togle:nav",
     "U021 28:18 nothing is called 'togle:' | did you mean 'toggle'?\n"},
    {keymap, "character", "'?'", "'€'",
     "U023 25:17 the host's layout cannot type '€' | 'set unicode on', if the host takes "
     "numbers\n"},
    {keymap, "tap-hold in a tap-hold", "mod(a, ctrl)", "mod(a/b, ctrl)",
     "U022 14:24 a tap-hold cannot be a side of a tap-hold\n"},
    {keymap, "live", "set once-for 2s", "live { room 353 }",
     "U017 21:15 the room is from 16 to 352, this is 353\n"},
    {keymap, "live, statement", "set once-for 2s", "live { rom 256 }",
     "U013 21:10 there is no statement 'rom' in live | did you mean 'room'?\n"},
    {keymap, "live, nothing", "set once-for 2s", "live", "U012 21:7 expected '{'\n"},
    {keymap, "play, step", "down a;", "dwon a;",
     "U013 35:18 a play has no step 'dwon' | did you mean 'down'?\n"},
    {keymap, "play, key", "up a;", "up q;",
     "U040 35:40 no key taps this in layer 'base' | an address such as r0c0 names any key\n"},
    {keymap, "play, time", "tap c for 30ms", "tap c for ever", "U012 35:53 expected a time\n"},
    {keymap, "expect", "expect text \"ac\"", "expect test \"ac\"",
     "U013 35:74 a play cannot expect 'test' | did you mean 'text'?\n"},
    {keymap, "expect held", "expect held nothing", "expect held nav",
     "U022 35:97 this is no key that the host could see\n"},
    {keymap, "expect layers", "expect layers base", "expect layers bass",
     "U021 35:120 no key or name 'bass' | did you mean 'base'?\n"},
    {keymap, "expect delay", "delay < 900ms", "delay 900ms",
     "U012 35:139 expected '<' and a time\n"},
};

/* TEXT with the first RIGHT made WRONG. Freed with g_free. */
static char *with_mistake(const char *text, const char *right, const char *wrong)
{
    const char *found = strstr(text, right);

    assert_non_null(found);
    return g_strdup_printf("%.*s%s%s", (int)(found - text), text, wrong, found + strlen(right));
}

static void without_mistakes_nothing_is_told(void **state)
{
    static const char *const texts[] = {board, split, keymap, lit, lit_halves};

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(texts); i++) {
        char *messages = messages_of(texts[i]);
        assert_string_equal(messages, "");
        g_free(messages);
    }
}

static void each_mistake_is_told(void **state)
{
    unsigned wrong = 0;

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(planted); i++) {
        char *text = with_mistake(planted[i].whole, planted[i].right, planted[i].wrong);
        char *got = messages_of(text);
        if (strcmp(got, planted[i].message) != 0) {
            print_error("-- %s\nexpected:\n%sgot:\n%s", planted[i].statement,
                        planted[i].message, got);
            wrong++;
        }
        g_free(got);
        g_free(text);
    }
    assert_int_equal(wrong, 0);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(without_mistakes_nothing_is_told),
        cmocka_unit_test(each_mistake_is_told),
    };

    return cmocka_run_group_tests_name("planted", tests, NULL, NULL);
}
