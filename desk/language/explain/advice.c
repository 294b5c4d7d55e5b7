/* advice.c - why there is a message, and what to do about it. */
#include "uvrek/explain.h"

static const struct {
    enum uvk_code code;
    const char *text;
} advice[] = {
    {UVK_SAYS_UNREADABLE,
     "The file is not there, or may not be read. A path in `use` is relative to the file that "
     "says it, not to the folder you are in."},
    {UVK_SAYS_NO_TEXT,
     "Texts of the language are UTF-8. The message names the first byte that is not; save the "
     "file as UTF-8 in your editor."},
    {UVK_SAYS_TOO_LARGE,
     "A file has at most 4 MiB. What is larger is probably not a keymap: check the path."},
    {UVK_SAYS_CIRCLE_OF_FILES,
     "A file uses another one that leads back to it. Put what both need into a third file."},
    {UVK_SAYS_TOO_DEEP,
     "Blocks and parentheses go at most 64 deep. A closing one is probably missing far above."},
    {UVK_SAYS_BAD_CHARACTER,
     "Outside of strings the language knows only a few signs. A character as a key is written "
     "in quotes: '?'."},
    {UVK_SAYS_NO_CLOSING_QUOTE,
     "A string or character ends on the line where it begins. Put the closing quote; a quote "
     "inside is written \\\" or \\'."},
    {UVK_SAYS_BAD_ESCAPE,
     "There are \\n \\t \\\" \\\\ \\' and \\u{e9} with the number of the character in "
     "hexadecimal."},
    {UVK_SAYS_BAD_NUMBER,
     "A number is written 12, 0x1209, 0.25 or -3.5, a time 200ms, 1.5s or 50us, without a "
     "space before the unit."},
    {UVK_SAYS_NAME_TOO_LONG, "A name has at most 64 characters."},
    {UVK_SAYS_NO_PARTNER,
     "Every { has its } and every ( its ). The place is where the one was found that has no "
     "partner; the other is missing before or behind it."},
    {UVK_SAYS_EXPECTED,
     "The statement is known, but this word cannot stand here. The message says what is "
     "expected; `uvrek explain WORD` shows how a statement is written."},
    {UVK_SAYS_NO_STATEMENT,
     "No statement of this block begins with this word. `uvrek explain --list` shows them "
     "all."},
    {UVK_SAYS_NOT_YET,
     "The language has this, this version of Uvrek does not do it yet. Take it out for now."},
    {UVK_SAYS_TWICE,
     "This may stand only once, and it stands twice. Remove one of the two; if they "
     "differ, keep "
     "the one that was meant."},
    {UVK_SAYS_MISSING,
     "Something that must be there is missing. The place is that of the block in which it is "
     "missing."},
    {UVK_SAYS_OUT_OF_RANGE,
     "The value lies outside of what the hardware, the standard or the memory allows. The "
     "message gives the range."},
    {UVK_SAYS_NAME_IS_KEY,
     "Names of your own and keys go to the same places, so they must differ. Choose another "
     "name, for example with a word before it: my-home."},
    {UVK_SAYS_NO_NAME,
     "Nothing is called like that: no key, no layer, macro, dance or let. Near names are "
     "offered; `uvrek explain WORD` searches in all."},
    {UVK_SAYS_DOES_NOT_FIT,
     "The value is known, but cannot work in this place: a tap-hold inside a tap-hold, a layer "
     "in a macro, see-through where nothing lies below."},
    {UVK_SAYS_CANNOT_TYPE,
     "No key of the host's layout gives this character, not even two with a dead key. Choose "
     "the right layout in `host`; or, if the host takes numbers, `set unicode on`."},
    {UVK_SAYS_WRONG_LINE,
     "The layer has as many lines as the board, but this one has too many or too few cells. "
     "Count it against the board's line; `uvrek tidy` lines the others up."},
    {UVK_SAYS_WRONG_LAYER,
     "The layer has another number of cells than the board has keys (knobs stand on lines of "
     "their own). A place that does nothing is written --, a see-through one with a dot."},
    {UVK_SAYS_DEFINED_BY_ITSELF,
     "A let or a dance leads back to itself, so that it has no end. Break the circle."},
    {UVK_SAYS_NO_ROOM,
     "A keymap or a board has room for so many and no more. The message says how many."},
    {UVK_SAYS_NO_CHIP,
     "Uvrek knows the pins of some chips. `uvrek explain --list` shows which; the name is the "
     "datasheet's in lower case."},
    {UVK_SAYS_NO_PIN,
     "This chip has no pin of that name. Pins have the datasheet's names: B1 for port B bit 1 "
     "of an AVR, GP7 of an RP2040. Names that are printed on a module come with `pins "
     "\"3\" D0`."},
    {UVK_SAYS_PIN_TWICE,
     "Two parts of the board cannot share a pin. Look at the board which of the two is "
     "wired to it; `uvrek explain PIN FILE` says what uses it."},
    {UVK_SAYS_OUTSIDE_MATRIX,
     "An address is a row and a column that the matrix has, counted from 0, or d and the "
     "number of a direct switch; in `keys left` only of that half."},
    {UVK_SAYS_ADDRESS_TWICE,
     "Two keys at one place of the matrix would always be pressed together. One of the two "
     "addresses is a slip."},
    {UVK_SAYS_GHOSTS,
     "Without diodes three keys on the corners of a rectangle press the fourth as well. Give "
     "each switch a diode, or make sure that these keys are never held together."},
    {UVK_SAYS_PIN_RESERVED,
     "The chip needs this pin: for USB, its crystal or its reset. Choose another; `uvrek "
     "explain CHIP` and `uvrek explain PIN` say more."},
    {UVK_SAYS_OVERLAP,
     "Keys may touch, but not lie over one another. Check sizes, gaps, `at` and `turn`; "
     "`uvrek sheet --wiring` of the keymap without the key shows where there is room."},
    {UVK_SAYS_SPARE,
     "The matrix has places at which no key stands. If the board is built so, write `spare` "
     "and these addresses into the matrix; if not, a cell is missing in `keys`."},
    {UVK_SAYS_NO_HALF,
     "Statements name a half by the names that `halves` gives. A board in one piece has none."},
    {UVK_SAYS_NOTHING_TAPS,
     "A key is named by what it taps in the first layer. Nothing there taps this: use its "
     "address, such as r1c2."},
    {UVK_SAYS_SEVERAL_TAP,
     "Several keys of the first layer tap this, so it is not clear which is meant. Use the "
     "address."},
    {UVK_SAYS_NO_LAYER, "There is no layer of that name in this keymap."},
    {UVK_SAYS_NO_HOST,
     "`host` is followed by a system (linux, windows, mac) and a layout. `uvrek explain "
     "--list` shows the layouts."},
    {UVK_SAYS_NO_CHOICE,
     "The board offers choices with `choice NAME { OPTION OPTION }`; keymaps and keys can only "
     "name these."},
    {UVK_SAYS_UNREACHED,
     "No cell of a layer that can be reached turns this layer on. Put its name into a cell, "
     "or remove the layer: it takes memory."},
    {UVK_SAYS_UNUSED,
     "It is defined and nowhere named. Perhaps a name is misspelt elsewhere; else remove it."},
    {UVK_SAYS_NO_BOOTLOADER,
     "With no board:bootloader in any cell, new firmware needs the reset button on the board, "
     "which is often inside the case."},
    {UVK_SAYS_OWN_PLACE,
     "The finger that holds the layer's key is on this very place, so the cell cannot be "
     "pressed while the layer is on. Move it."},
    {UVK_SAYS_EASY_HOLD,
     "Who types fast presses the next key before letting go of the last. With `decide "
     "on-press` that makes a hold. Use `decide on-nested`, or a `rest`."},
    {UVK_SAYS_STUCK_LAYER,
     "The layer is turned on to stay, and nothing on it turns it off. Put a toggle: or only: "
     "of another layer on it."},
    {UVK_SAYS_HIDDEN_COMBO,
     "The combo is called by what its keys tap in the first layer, but it works on a layer "
     "where these keys are others. Say `on LAYER ...` if that is not meant."},
    {UVK_SAYS_SHADOWED_COMBO,
     "Another combo has the same keys on the same layers, and comes first."},
    {UVK_SAYS_KEYS_MISSING,
     "The keymap can type these only by a detour, or not at all; many programs need them. If "
     "another keyboard is always beside it, nothing is missing."},
    {UVK_SAYS_PASSWORD,
     "A keymap is stored readable for everybody who has the keyboard, and stays in files and "
     "backups. Let a password manager type passwords."},
    {UVK_SAYS_IDLE_SETTING,
     "Nothing in this keymap uses what the setting is about. Remove the line."},
    {UVK_SAYS_IDLE_PIN,
     "The pin is a row or a column of the matrix, and no key's address has it. A cell is "
     "missing in `keys`, or the pin can be taken out and used for something else."},
    {UVK_SAYS_MATRIX_FOR_NOTHING,
     "A matrix with one row or one column needs as many pins as there are switches, and one "
     "more, and diodes. With `direct { pins ... }` each switch has its pin and no diode."},
    {UVK_SAYS_RESISTORS,
     "The chip has no resistors that hold an open switch's pin at ground. Solder one beside "
     "each switch (10 kilo-ohm to ground), or wire the switches to ground instead."},
    {UVK_SAYS_NUM_LOCK,
     "With num lock off, Linux and Windows take the keypad's digits for arrows, home and their "
     "like. The lock is the host's; it is often off at the start. Put num-lock on a layer, or "
     "use the digits 0 to 9, which are always digits."},
    {UVK_SAYS_DARK_LIGHTS,
     "Something is said of lights that this board does not have, or cannot show: a colour "
     "needs "
     "a strip, `ripple` and `keys` need to know which key lies above which lamp, the lamp of a "
     "layer needs that layer, a strip needs more current than its dark lamps take (1 mA "
     "each). Firmware can be built all the same."},
    {UVK_SAYS_IDLE_KNOB,
     "A knob that no layer mentions does nothing when it is turned. Say in a layer what it "
     "does, `knob NAME LEFT RIGHT`, or leave it out of the board."},
    {UVK_SAYS_LOST_ON_KNOB,
     "Each step of a knob is a press and a release at once. What lasts only while a key is "
     "held (a modifier, a layer, the held side of a tap-hold, the way of a pointer) is over "
     "before anything else can happen."},
    {UVK_SAYS_PLAYS_OF_ONE_NAME,
     "`--only` chooses plays by words of their names, and reports tell them apart by their "
     "names. Give each a name of its own."},
    {UVK_SAYS_TURNED_ROUND,
     "A tap-hold is TAP/HELD. With a layer as its tap and a key as its hold, the layer is on "
     "for a moment only, and the key comes when it is held. Most of the time the other way is "
     "meant."},
    {UVK_SAYS_FREQUENT_PAIR,
     "A combo is two keys that close within its time. Letters that often follow one another "
     "close nearly together when they are typed fast, and then the combo comes instead of "
     "the text. Rolls are seldom faster than 30 ms: a `within` below that is safe. Or take "
     "keys that rarely meet, or say `on` a layer where these keys are no letters."},
};

const char *uvk_code_advice(unsigned code)
{
    for (size_t i = 0; i < G_N_ELEMENTS(advice); i++) {
        if (advice[i].code == code) {
            return advice[i].text;
        }
    }
    return NULL;
}
