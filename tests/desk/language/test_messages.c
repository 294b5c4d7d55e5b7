/* Every mistake has its message, once, on its place, with the fix where there is one. */
#include "support.h"

#include <stdio.h>

#include <string.h>

#define BOARD4                                                                                 \
    "board b {\n chip atmega32u4\n matrix { rows B1 B3; cols F4 F5; flow row->col }\n"         \
    " keys {\n  r0c0 r0c1\n  r1c0 r1c1\n }\n}\n"
#define KEYMAP4(top, cells) BOARD4 "keymap k {\n" top "layer base {\n" cells "\n}\n}\n"

/* Forty keys in five lines. */
#define BOARD40                                                                                \
    "board w {\n chip atmega32u4\n matrix { rows B0 B1 B2 B3 B4; cols F0 F1 F4 F5 F6 F7 D4 "   \
    "D6; "                                                                                     \
    "flow row->col }\n keys {\n"                                                               \
    "  r0c0 r0c1 r0c2 r0c3 r0c4 r0c5 r0c6 r0c7\n  r1c0 r1c1 r1c2 r1c3 r1c4 r1c5 r1c6 r1c7\n"   \
    "  r2c0 r2c1 r2c2 r2c3 r2c4 r2c5 r2c6 r2c7\n  r3c0 r3c1 r3c2 r3c3 r3c4 r3c5 r3c6 r3c7\n"   \
    "  r4c0 r4c1 r4c2 r4c3 r4c4 r4c5 r4c6 r4c7\n }\n}\n"

/* Two keys and a knob. */
#define BOARDK                                                                                 \
    "board b {\n chip atmega32u4\n matrix { rows B1; cols F4 F5; flow row->col }\n"            \
    " knob jog { pins D0 D1 }\n keys {\n  r0c0 r0c1=jog\n }\n}\n"

static const struct {
    const char *what, *text, *messages;
} broken[] = {
    /* words */
    {"character", KEYMAP4("", "a b\nc @"),
     "U006 12:3 '@' means nothing here | a sign that is typed stands in quotes: '@'\n"},
    {"control character", KEYMAP4("", "a b\nc \x01"),
     "U006 12:3 an invisible character, U+0001 | in a string write \\u{1}\n"},
    {"string", "board b {\n title \"x\n}\n",
     "U016 1:7 the board has no 'chip'\nU007 2:8 no closing \" before the end of the line\n"},
    {"escape", "board b {\n title \"\\q\"\n}\n",
     "U016 1:7 the board has no 'chip'\nU008 2:9 no such escape | write \\n, \\t, \\\\, \\\", "
     "\\' or \\u{e9}\n"},
    {"unicode escape", KEYMAP4("", "'\\u{110000}' b\nc d"),
     "U008 11:2 no such escape | write \\n, \\t, \\\\, \\\", \\' or \\u{e9}\n"},
    {"number", "board b {\n usb { product 12ab }\n}\n",
     "U016 1:7 the board has no 'chip'\nU009 2:16 '12ab' is no number: the units are us, ms "
     "and s\n"},
    {"huge number", "play \"x\" { wait 99999999999999999999s }\n",
     "U016 1:1 a play needs a board and a keymap\nU009 1:17 '99999999999999999999s' is no "
     "number: it is too large\n"},
    {"two characters", KEYMAP4("", "'ab' b\nc d"),
     "U012 11:1 one character belongs between single quotes | text stands in \"double "
     "quotes\"\n"},
    /* structure */
    {"open brace", "board b {\n chip atmega32u4\n", "U011 1:9 this '{' is never closed\n"},
    {"stray brace", BOARD4 "}\n", "U011 9:1 this '}' closes nothing\n"},
    {"parenthesis", KEYMAP4("", "mod(a b\nc d"), "U012 11:7 expected ',' or ')', found 'b'\n"},
    {"missing value", KEYMAP4("", "a b\nc ctrl+"),
     "U012 12:8 expected a key, a name or a value, found the end of the line\n"},
    {"behind a block", BOARD4 "keymap k { } a\n",
     "U012 9:14 expected the end of the line behind '}', found 'a'\n"},
    {"statement", "board b {\n titel \"x\"\n}\n",
     "U016 1:7 the board has no 'chip'\n"
     "U013 2:2 there is no statement 'titel' in the board | did you mean 'title'?\n"},
    {"misspelt and needed", "board b {\n chipp atmega32u4\n matrx { }\n kees { }\n}\n",
     "U013 2:2 there is no statement 'chipp' in the board | did you mean 'chip'?\n"
     "U013 3:2 there is no statement 'matrx' in the board | did you mean 'matrix'?\n"
     "U013 4:2 there is no statement 'kees' in the board | did you mean 'keys'?\n"},
    {"twice", KEYMAP4("host linux us\nhost mac us\n", "a b\nc d"),
     "U015 11:1 'host' stands in the keymap already\n"},
    {"rest of a line", KEYMAP4("host linux us us\n", "a b\nc d"),
     "U012 10:15 expected the end of the 'host' statement\n"},
    {"not in a block", BOARD4 "keymap k\n", "U012 9:9 expected '{'\n"},
    /* the board */
    {"no board", "", "U016 1:1 there is no board in this program\n"},
    {"two boards", BOARD4 "board c { }\n",
     "U015 9:1 a program has one board; 'b' is there already\n"},
    {"chip",
     "board b {\n chip atmega32u5; matrix { rows B1; cols F4; flow row->col }\n"
     " keys { r0c0 } }\n",
     "U030 2:7 no chip 'atmega32u5' is known | did you mean 'atmega32u4'?\n"},
    {"pins",
     "board b {\n chip atmega32u4; matrix { rows B1 B9; cols B1 3; flow row->col }\n"
     " keys { r0c0 r1c1 } }\n",
     "U031 2:36 the ATmega32U4 has no pin 'B9' | did you mean 'B0'?\n"
     "U032 2:45 pin B1 is used already: a row\n"
     "U031 2:48 the ATmega32U4 has no pin '3' | 'uvrek explain atmega32u4' lists its pins\n"},
    {"no pins",
     "board b {\n chip atmega32u4; matrix { rows; cols F4; flow row->col }\n"
     " keys { r0c0 } }\n",
     "U012 2:32 expected a pin\n"},
    {"flow",
     "board b {\n chip atmega32u4; matrix { rows B1; cols F4; flow row->row }\n"
     " keys { r0c0 } }\n",
     "U012 2:51 expected which way the diodes conduct | write row->col, col->row or none\n"},
    {"times",
     "board b {\n chip atmega32u4\n matrix { rows B1; cols F4; flow row->col\n"
     " debounce 200ms; settle 5 }\n keys { r0c0 } }\n",
     "U017 4:11 this time is from 0ms to 100ms, this is 200ms\nU012 4:25 expected a time | did "
     "you mean '5ms'?\n"},
    {"addresses",
     "board b {\n chip atmega32u4; matrix { rows B1; cols F4; flow row->col }\n"
     " keys {\n r0c0 r0c0\n r1c0 x\n 3 r0c0*0.1 } }\n",
     "U034 4:7 this address stands on the board already, in line 4\n"
     "U033 5:2 the matrix has rows r0..r0 and columns c0..c0\n"
     "U012 5:7 expected an address such as r0c3 or d3\n"
     "U012 6:2 expected an address such as r0c3 or d3\n"
     "U017 6:4 a key is from 0.25 to 20 units wide\n"},
    {"usb",
     "board b {\n chip atmega32u4; matrix { rows B1; cols F4; flow row->col }\n"
     " keys { r0c0 }\n usb { vendor 0x12345; product x; maker 3 }\n boot dfuu }\n",
     "U017 4:15 a USB number is from 0 to 65535, this is 74565\n"
     "U012 4:32 expected a number\nU012 4:41 expected a \"name\"\n"
     "U012 5:7 unknown bootloader for this chip; choose from: serial, dfu | did you mean "
     "'dfu'?\n"},
    {"ghosts",
     "board b {\n chip atmega32u4; matrix { rows B1 B2; cols F4 F5; flow none }\n"
     " keys { r0c0 r0c1 r1c0 r1c1 } }\n",
     "U035 2:57 without diodes 4 keys can appear that nobody pressed: r0c1, r1c1 and r1c0 "
     "together press r0c0 as well | give each switch a diode\n"},
    {"pen",
     "board b {\n chip atmega32u4; matrix { rows B1; cols F4; flow row->col }\n"
     " keys { at 1; r0c0 } }\n",
     "U012 3:13 expected Y\n"},
    /* the keymap */
    {"name", KEYMAP4("", "a volme-up\nc d"),
     "U021 11:3 no key or name 'volme-up' | did you mean 'volume-up'?\n"},
    {"own layer's name", KEYMAP4("", "a bse\nc d"),
     "U021 11:3 no key or name 'bse' | did you mean 'base'?\n"},
    {"no near name", KEYMAP4("", "a zzzzzz\nc d"), "U021 11:3 no key or name 'zzzzzz'\n"},
    {"key's name", KEYMAP4("let enter = a\n", "a b\nc d"),
     "U020 10:5 'enter' is a key; a name of your own must be another\n"},
    {"name twice", KEYMAP4("let go = a\nlet go = b\n", "a b\nc d"),
     "U015 11:5 'go' is defined already\n"},
    {"circle", KEYMAP4("let one = shift+two\nlet two = one\n", "a one\ntwo d"),
     "U026 10:5 'one' is defined by itself\n"},
    {"unused let", KEYMAP4("let one = shift+twoo\n", "a b\nc d"),
     "U021 10:17 no key or name 'twoo'\n"},
    {"let without sense", KEYMAP4("let one\nlet two =\nlet 3 = a\n", "a one\nc two"),
     "U012 10:8 expected '=' behind the name\nU012 11:10 expected what the name stands for\n"
     "U012 12:5 expected a name\n"},
    {"several for one", KEYMAP4("let row = a b\n", "shift+row b\nc d"),
     "U022 12:7 'row' stands for several cells, here is room for one\n"},
    {"chord", KEYMAP4("", "a+b ctrl+base\nc d"),
     "U022 11:1 only the last part of a chord may be other than a modifier | write the "
     "modifiers "
     "first: ctrl+shift+a\nU022 11:10 a chord is made of modifiers and a key\n"},
    {"number in a cell", KEYMAP4("", "12 -3\n\"a\" d"),
     "U022 11:1 a number is no cell; a single digit is a key\n"
     "U022 11:4 a number is no cell; a single digit is a key\n"
     "U022 12:1 this cannot stand in a cell\n"},
    {"character that cannot be typed", KEYMAP4("", "'\\u{e9}' b\nc d"),
     "U023 11:1 the host's layout cannot type 'é' | 'set unicode on', if the host takes "
     "numbers\n"},
    {"cells of a line", KEYMAP4("", "a\nc d"),
     "U024 11:1 1 cell, the board has 2 in this line\n"},
    {"cells of a layer", KEYMAP4("", "a b c"),
     "U025 10:7 layer 'base' has 3 cells, the board has 4 keys\n"},
    {"one mistake hides the count", KEYMAP4("", "a b ctrl+\nc d"),
     "U012 11:10 expected a key, a name or a value, found the end of the line\n"},
    {"no layer", BOARD4 "keymap k { }\n", "U016 9:1 this keymap has no layer\n"},
    {"block in a layer", KEYMAP4("", "a b\nc d { }"),
     "U012 12:5 expected a cell, found a block\n"},
    {"two keymaps", KEYMAP4("", "a b\nc d") "keymap l { }\n",
     "U015 15:1 a program has at most one keymap; 'k' is there already\n"},
    {"host", KEYMAP4("host linx us\n", "a b\nc d"),
     "U043 10:6 unknown system; choose from: linux, windows, mac | did you mean 'linux'?\n"},
    {"board act", KEYMAP4("", "board:bootlader bord:restart\nc d"),
     "U021 11:7 unknown act of the board; choose from: bootloader, restart, reset | did you "
     "mean "
     "'bootloader'?\n"
     "U021 11:17 nothing is called 'bord:' | did you mean 'board'?\n"},
    /* plays */
    {"play without keymap", BOARD4 "play \"x\" { }\n",
     "U016 9:1 a play needs a board and a "
     "keymap\n"},
    {"steps",
     KEYMAP4("", "a b\nc c") "play \"x\" {\ntapp a\ntap q\ntap c\ntap a for 20\n"
                             "tap a fr 2s\nwait 2\nsettle 3\ndown\n}\n",
     "U013 16:1 a play has no step 'tapp' | did you mean 'tap'?\n"
     "U040 17:5 no key taps this in layer 'base' | an address such as r0c0 names any key\n"
     "U041 18:5 2 keys tap this in layer 'base' | the first of them is r1c0\n"
     "U012 19:11 expected a time | did you mean '20ms'?\nU012 20:7 expected 'for' and a time\n"
     "U012 21:6 expected a time | did you mean '2ms'?\nU012 22:8 expected the end of the "
     "'settle' statement\n"
     "U012 23:5 expected a key\n"},
    {"expectations",
     KEYMAP4("", "a b\nc d") "play \"x\" {\nexpect txt \"a\"\nexpect text a\n"
                             "expect layers a\nexpect keys base\n"
                             "expect held nothing a\nexpect keys\n}\n",
     "U013 16:8 a play cannot expect 'txt' | did you mean 'text'?\n"
     "U012 17:13 expected a \"text\"\nU042 18:15 this is no layer\n"
     "U022 19:13 this is no key that the host could see\n"
     "U012 20:21 expected the end of the 'expect' statement\n"
     "U012 21:12 expected what is expected\n"},
    {"mistake in a cell is told once",
     KEYMAP4("", "volme-up b\nc d") "play \"x\" { tap mute }\n",
     "U021 11:1 no key or name 'volme-up' | did you mean 'volume-up'?\n"},
    /* later */
    {"printed names",
     "board b {\n chip atmega32u4\n pins \"3\" D0, \"A0\" F9, \"3\" D1, A1 F5\n pins\n"
     " matrix { rows \"3\" \"4\"; cols XTAL1 F4; flow row->col }\n keys { r0c0 } }\n",
     "U031 3:20 the ATmega32U4 has no pin 'F9' | did you mean 'F0'?\n"
     "U015 3:24 '3' names a pin already\n"
     "U012 3:32 expected a printed name, as in \"A0\" F7\n"
     "U012 4:6 expected a printed name, as in \"A0\" F7\n"
     "U031 5:20 the ATmega32U4 has no pin '4' | 'uvrek explain atmega32u4' lists its pins\n"
     "U036 5:30 pin XTAL1 is not free: the crystal is on it\n"},
    {"direct",
     "board b {\n chip atmega32u4\n direct { pins D0 D0 D1; to groun }\n direct { pins D2 }\n"
     " keys {\n d0 d1 d3 r0c0\n d0 } }\n",
     "U032 3:19 pin D0 is used already: a switch\n"
     "U012 3:29 unknown side of a switch; choose from: ground, power | did you mean 'ground'?\n"
     "U015 4:2 there are direct switches already\n"
     "U033 6:8 the direct switches are d0..d2\n"
     "U033 6:11 this board has no matrix\n"
     "U034 7:2 this address stands on the board already, in line 6\n"},
    {"neither matrix nor direct", "board b { chip atmega32u4; keys { d0 } }\n",
     "U016 1:7 the board has no 'matrix'\n"},
    {"halves",
     "board b {\n chip rp2040\n halves left left { main by-luck; link i2c GP0 GP1; speed 1 }\n"
     " matrix middle { rows GP2; cols GP3; flow row->col }\n keys { r0c0 } }\n",
     "U015 3:14 both halves are called 'left'\n"},
    {"one half",
     "board b {\n chip rp2040\n halves left right { main pin GP9; link uart GP0 GP1 straight "
     "3 }\n"
     " matrix left { rows GP2; cols GP0; flow row->col }\n matrix left { rows GP4; cols GP5; "
     "flow row->col }\n"
     " matrix right { rows GP9; cols GP5; flow row->col }\n"
     " knob k1 { pins GP6 GP7 }\n knob k2 right { pins GP5 GP8 }\n"
     " keys left {\n r0c0 right.r0c0 left.r0c0 =k2 mid.r0c0\n }\n keys right mirror right\n "
     "keys left { r0c0 }\n}\n",
     "U012 3:63 expected the end of the 'link' statement\n"
     "U032 4:31 pin GP0 is used already: the link\n"
     "U015 5:2 there is a matrix already\n"
     "U032 6:22 pin GP9 is used already: 'main pin'\n"
     "U016 7:7 on which half is the knob 'k1'? | knob NAME HALF { ... }\n"
     "U032 8:23 pin GP5 is used already: a column\n"
     "U033 10:7 these are the keys of the half 'left'\n"
     "U034 10:18 this address stands on the board already, in line 10\n"
     "U033 10:28 the knob 'k2' is on the other half\n"
     "U039 10:32 the halves of this board are 'left' and 'right'\n"
     "U039 12:20 a half is no mirror of itself\n"
     "U015 13:2 these keys have their places already\n"},
    {"a half without keys",
     "board b {\n chip rp2040\n halves left right { main left }\n matrix { rows GP2; cols GP3; "
     "flow row->col }\n"
     " keys left { r0c0 }\n}\n",
     "U016 3:14 the half 'right' has no keys | keys NAME { ... }, or keys NAME mirror OTHER\n"
     "U032 4:16 one controller reads both halves, so pin GP2 and the others here are used "
     "twice | if each half has a controller of its own, write `link uart TX RX` in `halves`\n"},
    {"a second matrix for both, then a knob on a pin of its own half",
     "board b {\n chip rp2040\n halves left right { main usb }\n matrix left { rows GP2; cols "
     "GP3; "
     "flow row->col }\n matrix { rows GP4; cols GP5; flow row->col }\n knob turn right { pins "
     "GP3 "
     "GP7 }\n keys left { r0c0 }\n keys right { =turn }\n}",
     "U016 3:14 the half 'right' has no keys | keys NAME { ... }, or keys NAME mirror OTHER\n"
     "U015 5:2 there is a matrix already\n"
     "U032 6:25 pin GP3 is used already: a column\n"},
    {"spare places that there are not, or that have a key",
     "board b {\n chip atmega32u4\n matrix { rows B1 B2; cols F4 F5; flow row->col\n spare "
     "r0c2 "
     "d1 r1c1 7\n spare }\n keys { r0c0 r0c1 r1c0 }\n}",
     "U033 4:8 the matrix has no place r0c2: it has 2 rows and 2 columns\n"
     "U012 4:13 expected an address of the matrix such as r0c3\n"
     "U012 4:21 expected an address of the matrix such as r0c3\n"
     "U012 5:7 expected an address such as r0c3\n"},
    {"halves that share a pin, each in its own words",
     "board b {\n chip rp2040\n halves left right { main usb }\n matrix left { rows GP2; cols "
     "GP3; flow row->col }\n matrix right { rows GP2; cols GP4; flow row->col }\n keys left { "
     "r0c0 }\n keys right { r0c0 }\n}",
     "U032 5:22 pin GP2 is used already: a row\n"},
    {"keys that were not understood are not missed in layers",
     "board b {\n chip atmega32u4\n matrix { rows B1 B2; cols F4 F5; flow row->col }\n choice "
     "enter { ansi iso }\n keys {\n r0c0 (enter=izo: r0c1)\n r1c0 r1c7 }\n}\nkeymap k {\n "
     "choice entr iso\n layer base { a b\n c d } }",
     "U044 6:14 unknown option of this choice; choose from: ansi, iso | did you mean 'iso'?\n"
     "U033 7:7 the matrix has rows r0..r1 and columns c0..c1\n"
     "U044 10:9 this board offers no choice 'entr'; it offers: enter | did you mean "
     "'enter'?\n"},
    {"main and link",
     "board b {\n chip rp2040\n halves left right { main by-luck; link i2c GP0 GP1; speed 1 "
     "}\n matrix { rows GP2; cols GP3; flow row->col }\n"
     " keys left { r0c0 }\n keys right mirror left gap x\n}\n",
     "U012 3:27 unknown rule for the main half; choose from: usb, stored, pin, left, "
     "right\n"
     "U012 3:41 unknown kind of link; choose from: uart\n"
     "U017 3:60 the speed is from 9600 to 4000000, this is 1\n"
     "U012 6:29 expected key units\n"},
    {"halves of a board in one piece",
     "board b {\n chip atmega32u4\n matrix left { rows B1; cols F4; flow row->col }\n keys { "
     "r0c0 } }\n",
     "U039 3:9 this board is in one piece\n"},
    {"geometry",
     "board b {\n chip atmega32u4\n matrix { rows B1 B2; cols F4 F5; flow row->col }\n keys {\n"
     " at 0\n turn left\n turn 500\n stagger 0 x 11\n r0c0 +-0.5 r0c1\n at 0.5 0.5\n r1c0\n "
     "turn 45\n r1c1 } }\n",
     "U012 5:6 expected Y\n"
     "U012 6:7 expected degrees\n"
     "U017 7:7 a turn is from -360 to 360, this is 500\n"
     "U012 8:12 expected how much lower each column is, in key units\n"},
    {"choices",
     "board b {\n chip atmega32u4\n matrix { rows B1 B2; cols F4 F5; flow row->col }\n choice "
     "enter { ansi iso ansi }\n"
     " choice shift { one }\n choice enter { a b }\n keys {\n r0c0 (enter=jis: r0c1) "
     "(space=big: r1c0) (enter=iso: r1c1*2)\n r1c0 } }\n"
     "keymap k {\n choice enter iao\n choice spc big\n layer base { a b } }\n",
     "U012 4:26 expected another option\n"
     "U016 5:9 a choice has two options or more\n"
     "U015 6:9 this choice is there already\n"
     "U044 8:14 unknown option of this choice; choose from: ansi, iso\n"
     "U044 8:26 this board offers no choice 'space'; it offers: enter, shift\n"
     "U044 11:15 unknown option of this choice; choose from: ansi, iso | did you mean 'iso'?\n"
     "U044 12:9 this board offers no choice 'spc'; it offers: enter, shift\n"},
    {"lamps",
     "board b {\n chip atmega32u4\n matrix { rows B1; cols F4; flow row->col }\n backlight B1 "
     "{ levels 100; start 9; breathe 4 }\n"
     " strip F4 { order bgr }\n keys { r0c0 } }\n",
     "U032 4:12 pin B1 is used already: a row\n"
     "U017 4:24 the number of levels is from 1 to 64, this is 100\n"
     "U012 4:46 expected a time | did you mean '4ms'?\n"
     "U016 5:2 the strip has no 'count'\n"
     "U032 5:8 pin F4 is used already: a column\n"
     "U012 5:19 unknown order of colours; choose from: grb, rgb, grbw, rgbw\n"},
    {"lamp levels",
     "board b {\n chip atmega32u4\n matrix { rows B1; cols F4; flow row->col }\n backlight B7 "
     "{ levels 4; start 5 }\n"
     " strip B7 { count 300 }\n keys { r0c0 } }\n",
     "U017 4:2 it starts at level 5, and has only 4\n"
     "U032 5:8 pin B7 is used already: the backlight\n"
     "U017 5:19 the number of lamps is from 1 to 256, this is 300\n"},
    {"places without keys",
     "board b {\n chip atmega32u4\n matrix { rows B1 B2; cols F4 F5; flow row->col }\n keys { "
     "r0c0 r1c1 } }\n",
     "U038 3:2 no key stands at r0c1 r1c0 | `spare r0c1 r1c0` says that it is "
     "meant so\n"},
    {"places called spare, one of them with a key",
     "board b {\n chip atmega32u4\n matrix { rows B1 B2; cols F4 F5; flow row->col; spare r0c1 "
     "r1c1\n spare r1c0 }\n keys { r0c0 r1c1 } }\n",
     "U038 3:2 a key stands at what is called spare: r1c1\n"},
    {"later in keymaps",
     KEYMAP4("feel f { other-hand }\nfeel g { other-hand off }\nlive { room 256 }\n",
             "a b\nc d"),
     "U039 10:10 this board does not say which hand a key is for | a '|' in its lines of keys "
     "says where the hands part\n"
     "U039 11:10 this board does not say which hand a key is for | a '|' in its lines of keys "
     "says where the hands part\n"
     "U014 12:1 'live' in the keymap: not supported yet\n"},
    /* knobs */
    {"knobs",
     "board b {\n chip atmega32u4; matrix { rows B1; cols F4 F5; flow row->col }\n"
     " knob k1 { pins F4 D9; detent 3; fliped }\n knob k1 { pins D0 D1 }\n knob { }\n"
     " knob k2 { pins D0 }\n knob k3 { detent 5 }\n knob k4 left { pins D0 D1 }\n"
     " keys {\n  r0c0=k1 =k5 r0c1=k1 =k2\n }\n}\n",
     "U032 3:17 pin F4 is used already: a column\n"
     "U031 3:20 the ATmega32U4 has no pin 'D9' | did you mean 'D0'?\n"
     "U017 3:31 a knob has 1, 2 or 4 changes of phase to a detent\n"
     "U013 3:34 there is no statement 'fliped' in a knob | did you mean 'flipped'?\n"
     "U015 4:7 the knob 'k1' is there already\n"
     "U012 5:6 expected the knob's name\n"
     "U012 6:19 expected two pins\n"
     "U016 7:7 the knob has no 'pins'\n"
     "U017 7:19 a detent is from 1 to 4, this is 5\n"
     "U039 8:10 this board is in one piece\n"
     "U021 10:11 this board has no knob 'k5' | did you mean 'k1'?\n"
     "U015 10:15 the knob 'k1' has its place already\n"},
    {"knobs of a layer",
     BOARDK
     "keymap k {\nlayer base { a b; knob jog a; knob jig a b; knob jog a b; knob jog c d\n"
     "knob; knob jog volme-up b c }\n}\n",
     "U012 10:29 expected the cell of a turn to the right\n"
     "U021 10:36 this board has no knob 'jig' | did you mean 'jog'?\n"
     "U015 10:50 this layer has a line for the knob 'jog' already\n"
     "U015 10:64 this layer has a line for the knob 'jog' already\n"
     "U012 11:5 expected a knob's name\n"
     "U015 11:12 this layer has a line for the knob 'jog' already\n"},
    {"turn",
     BOARDK "keymap k { layer base { a b } }\nplay \"x\" {\nturn jog +2\nturn jg 1\nturn "
            "jog\nturn jog a\nturn jog 5000\nturn jog 1 1\n}\n",
     "U021 12:6 this board has no knob 'jg' | did you mean 'jog'?\n"
     "U012 13:1 expected how far it turns | +1 is clockwise, -1 the other way\n"
     "U012 14:10 expected how far it turns | +1 is clockwise, -1 the other way\n"
     "U017 15:10 a turn is from -1000 to 1000, this is 5000\n"
     "U012 16:12 expected the end of the 'turn' statement\n"},
    /* dances, leader, long-press */
    {"dances",
     KEYMAP4("dance d1 { tap -> 1; hold tap -> 2; tap top -> 3; tap -> 4; tap tap; tap hold -> "
             ". }\n"
             "dance d2 { }\ndance d3 { tap -> d4 }\ndance d4 { tap -> d3/a }\ndance d5 { "
             "within 0ms; tap -> nono; tap tap -> a b }\n"
             "dance d1 { tap -> a }\ndance a { tap -> b }\n",
             "d1 d2\nd3 d5"),
     "U012 10:27 only the last touch of a dance can be a hold\n"
     "U012 10:41 a line of a dance is made of 'tap' and 'hold'\n"
     "U015 10:51 this line stands in the dance already\n"
     "U012 10:68 expected '->' behind the touches\n"
     "U022 10:82 a dance has nothing to see through to\n"
     "U016 11:7 this dance has no line\n"
     "U026 12:7 'd3' is part of itself, or more than 6 dances and tap-holds deep\n"
     "U017 14:19 this time is from 1ms to 30000ms, this is 0ms\n"
     "U021 14:31 no key or name 'nono'\n"
     "U012 14:50 expected the end of the 'tap' statement\n"
     "U015 15:7 'd1' is defined already\n"
     "U020 16:7 'a' is a key; a name of your own must be another\n"},
    {"leader",
     KEYMAP4("leader { within 5ms; a -> 1; a b -> 2; a -> 3; q -> 4; -> 5; a b c; a b c d a b "
             "c -> 6; b -> . ; c -> nono; d -> 1 2 }\n"
             "leader { }\n",
             "a b\nc d"),
     "U017 10:17 this time is from 50ms to 30000ms, this is 5ms\n"
     "U015 10:40 there is a sequence of these keys already\n"
     "U040 10:48 no key taps this in layer 'base' | an address such as r0c0 names any key\n"
     "U012 10:56 expected keys before the '->'\n"
     "U012 10:67 expected '->' and a cell\n"
     "U017 10:81 a leader sequence has at most 6 keys\n"
     "U022 10:94 a sequence has nothing to see through to\n"
     "U021 10:103 no key or name 'nono'\n"
     "U012 10:116 expected the end of the 'd' statement\n"
     "U015 11:1 'leader' stands in the keymap already\n"},
    {"leader in a chord",
     KEYMAP4("macro m1 { tap leader }\n", "ctrl+leader leader\nm1 pace-slow"),
     "U022 10:16 a macro presses keys and chords, this is none\n"
     "U022 12:6 a chord is made of modifiers and a key\n"},
    {"long-press",
     KEYMAP4("long-press { letters digit; after 0ms; except nono; except }\nlong-press { "
             "}\nfeel long-press { }\n",
             "a b\nc d"),
     "U012 10:22 unknown kind of keys; choose from: letters, digits, symbols | did you mean "
     "'digits'?\n"
     "U017 10:35 this time is from 1ms to 30000ms, this is 0ms\n"
     "U021 10:47 no key or name 'nono'\n"
     "U015 10:53 'except' stands in long-press already\n"
     "U015 11:1 'long-press' stands in the keymap already\n"
     "U020 12:6 'long-press' is a feel already: that of the long-press statement\n"},
    /* feels, tap-holds, sticky cells */
    {"feel",
     KEYMAP4("feel f { hold-after 0ms; decide on-nest; rest 40s; alone not }\n"
             "feel f { }\nfeel { }\n",
             "a/shift ~f b/ctrl ~g\nc ~f d"),
     "U017 10:21 this time is from 1ms to 30000ms, this is 0ms\n"
     "U012 10:33 unknown rule; choose from: on-timeout, on-press, on-nested | did you mean "
     "'on-nested'?\n"
     "U017 10:47 this time is from 0ms to 30000ms, this is 40000ms\n"
     "U012 10:58 unknown word; choose from: hold, tap\n"
     "U015 11:6 the feel 'f' is defined already\nU012 12:5 expected the feel's name\n"
     "U021 14:12 no feel 'g' | feel g { ... } would be one\nU022 15:1 a feel is for tap-hold "
     "cells, this is none\n"},
    {"sides of a tap-hold", KEYMAP4("let x1 = a/shift\n", "x1/ctrl ./a\na/. a/b/c"),
     "U022 12:1 a tap-hold cannot be a side of a tap-hold\n"
     "U022 12:9 '.' cannot be a side of a tap-hold\n"
     "U022 13:3 '.' cannot be a side of a tap-hold\n"
     "U022 13:9 a tap-hold has two sides: tap and held\n"},
    {"parameters",
     KEYMAP4("let m1(x1, y1) = x1/y1\nlet n1(3) = a\nlet r1(x1) = r1(x1)\n",
             "m1 m1(a)\nr1(a) q9(a)"),
     "U012 11:8 expected the name of a parameter\n"
     "U026 12:5 'r1' is defined by itself\n"
     "U022 14:1 'm1' has parameters: m1(...)\nU022 14:4 'm1' takes 2, this gives 1\n"
     "U021 15:7 no key or name 'q9' | did you mean 'q'?\n"},
    {"sticky", KEYMAP4("", "toggle:a once:volume-up\nonly:shift block:base block:ctrl+a"),
     "U022 11:8 'toggle:' is for layers and modifiers\n"
     "U022 11:15 'once:' is for layers and modifiers\n"
     "U024 12:1 3 cells, the board has 2 in this line\n"
     "U022 12:6 'only:' is for layers\n"
     "U022 12:18 'block:' is for a modifier or a key of the keyboard without modifiers\n"
     "U022 12:23 a chord is made of modifiers and a key\n"},
    {"when",
     BOARD4 "keymap k {\nlayer base { a b c d }\nlayer x1 when base+x1 { . . . . }\n"
            "layer x2 when base+a { . . . . }\nlayer x3 wen base { . . . . }\n"
            "layer x4 when base { . . . . }\nlayer x5 when base+x4+x3 { . . . . }\n}\n",
     "U042 11:20 this is no other layer\nU042 12:20 this is no other layer\n"
     "U012 13:10 expected 'when' or '{'\n"
     "U012 14:15 expected two layers, as in 'when nav+num'\n"
     "U012 15:23 expected two layers\n"},
    {"combos",
     KEYMAP4("combo a+q -> esc\ncombo a+a -> esc\ncombo a -> esc\ncombo a+b esc\n"
             "combo a+b ->\ncombo a+b -> .\n"
             "combo a+b -> nono { within 0ms; on a; until last }\n",
             "a b\nc d"),
     "U040 10:9 no key taps this in layer 'base' | an address such as r0c0 names any key\n"
     "U015 11:9 this key is in the combo already\nU012 12:7 expected keys, as in j+k\n"
     "U012 13:11 expected '->' behind the keys\nU012 14:13 expected what the combo does\n"
     "U022 15:14 a combo has nothing to see through to\n"
     "U021 16:14 no key or name 'nono'\n"
     "U017 16:28 this time is from 1ms to 30000ms, this is 0ms\nU042 16:36 this is no layer\n"
     "U012 16:45 unknown release; choose from: first-up, last-up\n"},
    {"macros",
     KEYMAP4("macro m1 { type \"a\\u{e9}b\\u{e8}\\u{e9}\"; tap base; pres a; wait 40s; click "
             "midle }\nmacro m1 { }\nmacro m2 { type; tap; on-release { tap m1 } }\n",
             "a m1\nc m2"),
     "U023 10:17 the host's layout cannot type 'éè' | 'set unicode on', if the host takes "
     "numbers\n"
     "U022 10:45 a macro presses keys and chords, this is none\n"
     "U013 10:51 a macro has no step 'pres' | did you mean 'press'?\n"
     "U017 10:64 this time is from 0ms to 30000ms, this is 40000ms\n"
     "U021 10:75 unknown button; choose from: left, right, middle | did you mean 'middle'?\n"
     "U015 11:7 'm1' is defined already\n"
     "U012 12:16 expected a \"text\"\n"
     "U012 12:21 expected a key\n"
     "U022 12:40 a macro presses keys and chords, this is none\n"},
    {"settings",
     KEYMAP4("set once-for 1ms\nset onse-for 1s\nset debounce 3\nset pointer-speed 5\nset "
             "pointer-ramp 6s\nset unicode maybe\nset wheel-speed 10ms\nset debounce 1ms\nset "
             "debounce 2ms\n",
             "a b\nc d"),
     "U017 10:14 this time is from 100ms to 60000ms, this is 1ms\n"
     "U012 11:5 unknown setting; choose from: debounce, once-for, pointer-speed, pointer-ramp, "
     "wheel-speed, type-pace, unicode | did you mean 'once-for'?\n"
     "U012 12:14 expected a time | did you mean '3ms'?\n"
     "U017 13:19 pointer-speed is from 10 to 5000, this is 5\n"
     "U017 14:18 this time is from 0ms to 5000ms, this is 6000ms\n"
     "U012 15:13 unknown choice; choose from: off, on\n"
     "U012 16:17 expected notches a second\n"
     "U015 18:5 'debounce' is set already\n"},
    {"expectations of movement and delay",
     KEYMAP4("", "a b\nc d") "play \"x\" {\nexpect wheel 1\nexpect delay 5ms\nexpect pointer a "
                             "b\n}\n",
     "U012 16:15 expected Y\nU012 17:14 expected '<' and a time\n"
     "U012 18:16 expected X and Y\n"},
};

/* A keymap about which there is no doubt, and one line of it changed. */
#define SOUND(cells, layer, top)                                                               \
    BOARD4 "keymap k {\n" top "layer base { " cells " }\nlayer num { " layer " }\n}\n"
#define CELLS        "a num b/ctrl board:bootloader"
#define LAYER        "1 . 3 4"
#define ALL_BUT_BOOT "all num b board:bootloader"

static const struct {
    const char *what, *text, *messages;
} doubts[] = {
    {"a used file that is not there",
     "use \"nowhere.uvk\"\nplay \"a\" { tap a }\nplay \"b\" { tap a }\n",
     "U001 1:5 cannot read nowhere.uvk: No such file or directory\n"},
    {"plays of nothing", "play \"a\" { tap a }\nplay \"b\" { tap a }\n",
     "U016 1:1 a play needs a board and a keymap\n"},
    {"none", SOUND(CELLS, LAYER, ""), ""},
    {"unreached layer", SOUND("a b c board:bootloader", LAYER, ""),
     "U050 11:7 nothing reaches the layer 'num' | name it in a cell of another layer\n"},
    {"layer by a when",
     BOARD4 "keymap k {\nlayer base { a x1 x2 board:bootloader }\n"
            "layer x1 { . . . . }\nlayer x2 { . . . . }\n"
            "layer x3 when x1+x2 { 1 2 3 4 }\n}\n",
     ""},
    {"layer by a combo", SOUND("a b c board:bootloader", LAYER, "combo a+b -> toggle:num\n"),
     ""},
    {"unused let", SOUND(CELLS, LAYER, "let x1 = a\nlet x2(p1) = p1\n"),
     "U051 10:5 'x1' is never used\nU051 11:5 'x2' is never used\n"},
    {"used lets",
     SOUND("x1 num b x3", LAYER,
           "let x1 = x2(a)\nlet x2(p1) = p1\nlet x3 = board:bootloader\n"),
     ""},
    {"no bootloader", SOUND("a num b c", LAYER, ""),
     "U052 9:1 no key starts the bootloader: only the board's reset button will | put "
     "board:bootloader on a layer\n"},
    {"own place", SOUND(CELLS, "1 2 3 4", ""),
     "U053 11:7 2 at r0c1 cannot be reached while that very key holds this layer\n"},
    {"own place of a tap-hold", SOUND("a b c/num board:bootloader", LAYER, ""),
     "U053 11:7 3 at r1c0 cannot be reached while that very key holds this layer\n"},
    {"own place of a toggle", SOUND("a toggle:num c board:bootloader", "1 2 only:base 4", ""),
     ""},
    {"letter on-press",
     SOUND("a num b/ctrl ~fast board:bootloader", LAYER, "feel fast { decide on-press }\n"),
     "U054 11:7 b is held as soon as another key is pressed: rolling over it misfires | decide "
     "on-nested, or a rest\n"},
    {"letter on-press with a rest",
     SOUND("a num b/ctrl ~fast board:bootloader", LAYER,
           "feel fast { decide on-press; rest 100ms }\n"),
     ""},
    {"unused dance and feel",
     SOUND(CELLS, LAYER, "dance d1 { tap -> 1; tap tap -> 2 }\nfeel f1 { hold-after 300ms }\n"),
     "U051 10:7 'd1' is never used\n"
     "U051 11:6 the feel 'f1' is never used\n"},
    {"used dance and feel",
     SOUND("d1 num b/ctrl ~f1 board:bootloader", LAYER,
           "dance d1 { tap -> 1; tap tap -> 2 }\nfeel f1 { hold-after 300ms }\n"),
     ""},
    {"layer by a dance, by a sequence",
     BOARD4 "keymap k {\ndance d1 { tap -> a; hold -> x1 }\nleader { r0c0 -> x2 }\n"
            "layer base { d1 leader c board:bootloader }\nlayer x1 { . . . . }\nlayer x2 { . . "
            ". . }\n}\n",
     ""},
    {"stuck by only", SOUND("a only:num b board:bootloader", "1 2 3 4", ""),
     "U055 11:7 once the layer 'num' is switched on, no key switches it off | put toggle:num "
     "or only:base on it\n"},
    {"stuck by toggle", SOUND("a toggle:num b board:bootloader", "1 2 3 4", ""),
     "U055 11:7 once the layer 'num' is switched on, no key switches it off | put toggle:num "
     "or only:base on it\n"},
    {"left by toggle", SOUND("a toggle:num b board:bootloader", "1 . 3 4", ""), ""},
    {"left by only", SOUND("a only:num b board:bootloader", "1 only:base 3 4", ""), ""},
    {"left by a layer of the layer",
     BOARD4 "keymap k {\nlayer base { a toggle:x1 c board:bootloader }\nlayer x1 { 1 2 x2 4 "
            "}\nlayer x2 { toggle:x1 . . . }\n}\n",
     ""},
    {"left by a combo",
     SOUND("a only:num b board:bootloader", "1 2 3 4", "combo a+b -> only:base { on num }\n"),
     ""},
    {"left by a tap-hold", SOUND("a only:num b board:bootloader", "1 2 3 4/only:base", ""), ""},
    {"hidden combo", SOUND(CELLS, "1 . 3 4", "combo a+b -> esc\n"),
     "U056 10:1 on the layer 'num' these keys type something else, and together still do this "
     "| 'on base' keeps it there, 'on' all layers says it is meant\n"},
    {"combo on base", SOUND(CELLS, "1 . 3 4", "combo a+b -> esc { on base }\n"), ""},
    {"combo on all", SOUND(CELLS, "1 . 3 4", "combo a+b -> esc { on base num }\n"), ""},
    {"combo that shows through", SOUND(CELLS, "1 . . 4", "combo a+b -> esc\n"), ""},
    {"shadowed combo", SOUND(CELLS, "1 . . 4", "combo a+b -> esc\ncombo b+a -> tab\n"),
     "U057 11:1 the combo of the same keys in line 10 always wins over this one\n"},
    {"shadowed on a layer",
     SOUND(CELLS, "1 . . 4", "combo a+b -> esc\ncombo b+a -> tab { on num }\n"),
     "U057 11:1 the combo of the same keys in line 10 always wins over this one\n"},
    {"not shadowed elsewhere",
     SOUND(CELLS, "1 . . 4", "combo a+b -> esc { on base }\ncombo b+a -> tab { on num }\n"),
     ""},
    {"not shadowed by a quicker one",
     SOUND(CELLS, "1 . . 4", "combo a+b -> esc\ncombo b+a -> tab { within 60ms }\n"), ""},
    {"missing keys",
     BOARD40 "keymap k { layer base {\na b c d e f g h\ni j k l m n o p\nr s t u v w x y\n"
             "z 1 3 4 5 6 7 8\n9 0 enter alt gui ctrl/esc shift+2 board:bootloader\n} }\n",
     "U058 12:1 nothing on any layer types: q, backspace, shift\n"},
    {"no missing keys",
     BOARD40 "keymap k { layer base {\na b c d e f g h\ni j k l m n o p\nr s t u v w x y\n"
             "z/q 1 3/shift 4 5 6 7 8\n9 0 enter once:alt gui ctrl/esc shift+2 "
             "backspace/board:bootloader\n} }\n",
     ""},
    {"a few letters only", SOUND(CELLS, LAYER, ""), ""},
    {"password", SOUND(ALL_BUT_BOOT, LAYER, "macro all { type \"Tr4winterhold\\n\" }\n"),
     "U059 10:18 this looks like a password: it is stored in the keyboard, readable for "
     "everybody who has it | let a password manager type it\n"},
    {"no password",
     SOUND(ALL_BUT_BOOT, LAYER,
           "macro all { type \"Saltmarsh, reel 1\"; type \"https://a.example/B2\"; type "
           "\"desk7@a.example.X\"; type \"Reel1!\" }\n"),
     ""},
    {"secrets by their names",
     SOUND(ALL_BUT_BOOT, LAYER,
           "macro all { do my-pin; do sesame }\nmacro my-pin { type \"4711\" }\n"
           "macro sesame { do login }\nmacro login { tap a }\n"),
     "U059 11:7 this looks like a password: it is stored in the keyboard, readable for "
     "everybody who has it | let a password manager type it\n"},
    {"knob that nothing mentions",
     BOARD9_KNOB "keymap k { layer base { a b c; d e f; g h board:bootloader } }\n",
     "U066 5:7 no layer says what the knob 'jog' does | knob jog volume-down volume-up, in a "
     "layer\n"},
    {"cells that do nothing on a knob",
     BOARD9_KNOB "keymap k { layer base { a b c; d e f; nav h board:bootloader\nknob jog shift "
                 "a/ctrl }\nlayer nav { . . .; . . .; . . .; knob jog nav pace-slow } }\n",
     "U067 13:10 a modifier is nothing for a knob: a step is a press and a release at once\n"
     "U067 13:16 what is held is nothing for a knob: a step is a press and a release at once\n"
     "U067 14:43 a layer that is on while its key is held is nothing for a knob: a step is a "
     "press and a release at once\n"
     "U067 14:47 a pace is nothing for a knob: a step is a press and a release at once\n"},
    {"two plays of one name",
     SOUND(CELLS, LAYER,
           "") "play \"p\" { tap a }\nplay \"q\" { tap a }\nplay \"p\" { tap b }\n",
     "U068 15:6 a play of this name stands further up already\n"},
    {"turned round", SOUND("num/a b c board:bootloader", LAYER, ""),
     "U069 10:14 tapped, the layer num is on for a moment only; is it meant the other way "
     "round? | "
     "a/num\n"},
    {"combos of letters that often meet",
     SOUND("e/ctrl n/num d board:bootloader", "1 . t h",
           "combo n+e -> esc { within 31ms; on base }\ncombo e+d -> tab { within 30ms; on base "
           "}\ncombo r1c0+r1c1 -> esc { on num }\ncombo n+d -> esc { on num }\n"),
     "U070 10:1 \"ne\" is frequent in English: typed fast, within 31 ms, it becomes this combo "
     "| "
     "`within 25ms`, other keys, or `on` a layer without letters\n"
     "U070 12:1 \"th\" is frequent in English: typed fast, within 40 ms, it becomes this combo "
     "| "
     "`within 25ms`, other keys, or `on` a layer without letters\n"},
    {"knobs that move the pointer",
     "board b {\n chip atmega32u4\n direct { pins B1 B2 }\n knob k { pins D0 D1 }\n keys { d0 "
     "d1 =k }\n}\nkeymap k {\n layer one { board:bootloader a\n knob k point-up wheel-up "
     "}\n}\n",
     "U067 9:9 a step of a knob moves the pointer by one count only | wheel-up and wheel-down "
     "go "
     "by notches\n"},
    {"settings for nothing",
     SOUND(CELLS, LAYER,
           "set once-for 2s\nset pointer-speed 100\nset pointer-ramp 1s\nset wheel-speed "
           "5\nset debounce 5ms\n"),
     "U060 10:1 this changes nothing: no key of this keymap has to do with once-for\n"
     "U060 11:1 this changes nothing: no key of this keymap has to do with pointer-speed\n"
     "U060 12:1 this changes nothing: no key of this keymap has to do with pointer-ramp\n"
     "U060 13:1 this changes nothing: no key of this keymap has to do with wheel-speed\n"},
    {"settings for something",
     SOUND("point-up num once:shift/wheel-up board:bootloader", LAYER,
           "set once-for 2s\nset pointer-speed 100\nset pointer-ramp 1s\nset wheel-speed "
           "5\nset debounce 6ms\n"),
     ""},
};

static void each_doubt_is_told_where_it_is_due(void **state)
{
    int wrong = 0;

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(doubts); i++) {
        char *got = messages_of(doubts[i].text);
        if (strcmp(got, doubts[i].messages) != 0) {
            /* print_error has room for a thousand characters only */
            fprintf(stderr, "-- %s\nexpected:\n%sgot:\n%s", doubts[i].what, doubts[i].messages,
                    got);
            wrong++;
        }
        g_free(got);
    }
    assert_int_equal(wrong, 0);
}

static void each_mistake_has_its_message(void **state)
{
    int wrong = 0;

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(broken); i++) {
        char *got = messages_of(broken[i].text);
        if (strcmp(got, broken[i].messages) != 0) {
            /* print_error has room for a thousand characters only */
            fprintf(stderr, "-- %s\nexpected:\n%sgot:\n%s", broken[i].what, broken[i].messages,
                    got);
            wrong++;
        }
        g_free(got);
    }
    assert_int_equal(wrong, 0);
}

/* Every message lies inside the text, and its place can be shown. */
static void cut_anywhere_every_message_has_a_place(void **state)
{
    static const char whole[] =
        KEYMAP4("let go = ctrl+'\\u{e9}'\nfeel f { rest 1.5s }\ncombo a+b -> esc\n",
                "a/b ~f mod(a, --)\nc d") "play \"x\" { tap a; expect text \"\\\"x\" }\n";

    (void)state;
    for (size_t cut = 0; cut < sizeof whole; cut++) {
        struct uvk_program *program = uvk_program_read("cut.uvk", whole, cut);
        for (guint i = 0; i < program->messages.list->len; i++) {
            const struct uvk_message *message = g_ptr_array_index(program->messages.list, i);
            char *shown = uvk_message_render(message, true);
            assert_non_null(message->place.source);
            assert_true(message->place.at <= cut);
            assert_non_null(uvk_code_text(message->code));
            g_free(shown);
        }
        uvk_program_free(program);
    }
}

static void message_is_shown_as_documented(void **state)
{
    static const char text[] = KEYMAP4("", "\tvolme-up  a\nc d");
    struct uvk_program *program = uvk_program_read("desk.uvk", text, strlen(text));
    char *shown = uvk_message_render(g_ptr_array_index(program->messages.list, 0), false);

    (void)state;
    assert_string_equal(shown, "desk.uvk:11:2: error[U021]: no key or name 'volme-up'\n"
                               "   11 |  volme-up  a\n"
                               "      |  ^^^^^^^^ did you mean 'volume-up'?\n");
    g_free(shown);
    uvk_program_free(program);
}

static void columns_count_characters(void **state)
{
    char *got = messages_of(KEYMAP4("", "'\u00e9' nonono\nc d"));

    (void)state;
    assert_non_null(strstr(got, "U021 11:5 "));
    g_free(got);
}

static void long_lines_are_shown_in_part(void **state)
{
    GString *text = g_string_new(BOARD4 "keymap k {\nlayer base {\n");
    struct uvk_program *program;
    char *shown;

    (void)state;
    for (int i = 0; i < 500; i++) {
        g_string_append(text, "a ");
    }
    g_string_append(text, "nonono\n}\n}\n");
    program = uvk_program_read("long.uvk", text->str, text->len);
    shown = uvk_message_render(g_ptr_array_index(program->messages.list, 1), false);
    assert_non_null(strstr(shown, "...a a a"));
    assert_true(strlen(shown) < 300);
    g_free(shown);
    uvk_program_free(program);
    g_string_free(text, TRUE);
}

/* ---- bad input ---------------------------------------------------------------------- */

static void assert_first_code(const char *text, size_t size, unsigned code)
{
    struct uvk_program *program = uvk_program_read("bad.uvk", text, size);
    const struct uvk_message *message;

    assert_true(program->messages.list->len > 0);
    message = g_ptr_array_index(program->messages.list, 0);
    assert_int_equal(message->code, code);
    uvk_program_free(program);
}

static void bytes_that_are_no_text(void **state)
{
    (void)state;
    assert_first_code("board \xff\xfe", 8, 2);
    assert_first_code("board b\0{}", 10, 2);
    assert_first_code("\x7f"
                      "ELF",
                      4, 6);
}

static void braces_without_end(void **state)
{
    size_t size = 10u << 20;
    char *text = g_malloc(size);

    (void)state;
    memset(text, '{', size);
    assert_first_code(text, size, 3);
    assert_first_code(text, 3u << 20, 5);
    memset(text, '(', size);
    assert_first_code(text, 3u << 20, 12);
    memset(text, '}', size);
    assert_first_code(text, 1u << 20, 11);
    memset(text, '@', size);
    assert_first_code(text, 3u << 20, 6);
    for (size_t i = 0; i + 1 < size; i += 2) {
        memcpy(text + i, "a(", 2);
    }
    assert_first_code(text, 3u << 20, 5);
    for (size_t i = 0; i + 1 < size; i += 2) {
        memcpy(text + i, "a:", 2);
    }
    assert_first_code(text, 3u << 20, 5);
    g_free(text);
}

static void mistakes_are_counted_beyond_those_told(void **state)
{
    GString *text = g_string_new(NULL);
    struct uvk_program *program;

    (void)state;
    for (int i = 0; i < 1000; i++) {
        g_string_append(text, "nothing known\n");
    }
    program = uvk_program_read("many.uvk", text->str, text->len);
    assert_int_equal(program->messages.list->len, UVK_ERRORS_MAX);
    assert_int_equal(program->messages.errors, 1000);
    uvk_program_free(program);
    g_string_free(text, TRUE);
}

static void names_of_ten_thousand_characters(void **state)
{
    char *name = g_strnfill(10000, 'q');
    char *text = g_strdup_printf(BOARD4 "keymap k {\nlayer base {\n%s b\nc d\n}\n}\n", name);
    char *got = messages_of(text);

    (void)state;
    assert_string_equal(got, "U010 11:1 a name of 10000 characters; a name has at most 64\n");
    g_free(got);
    g_free(text);
    g_free(name);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(each_mistake_has_its_message),
        cmocka_unit_test(each_doubt_is_told_where_it_is_due),
        cmocka_unit_test(cut_anywhere_every_message_has_a_place),
        cmocka_unit_test(message_is_shown_as_documented),
        cmocka_unit_test(columns_count_characters),
        cmocka_unit_test(long_lines_are_shown_in_part),
        cmocka_unit_test(bytes_that_are_no_text),
        cmocka_unit_test(braces_without_end),
        cmocka_unit_test(mistakes_are_counted_beyond_those_told),
        cmocka_unit_test(names_of_ten_thousand_characters),
    };
    return cmocka_run_group_tests_name("messages", tests, NULL, NULL);
}
