/* One mistake planted in each statement of a board: one message, on its place (two, where two
 * halves use the pin). */
#include "../support.h"

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
    "  halves left right { main by-usb; link uart GP0 GP1 crossed; speed 230400 }\n"
    "  matrix left { rows GP2 GP3; cols GP4 GP5; flow row->col }\n"
    "  matrix right { rows GP2 GP3; cols GP4 GP5; flow row->col }\n"
    "  keys left { r0c0 r0c1; r1c0 r1c1 }\n"
    "  keys right mirror left gap 3\n"
    "}\n";

static const struct {
    const char *whole, *statement, *right, *wrong, *message;
} planted[] = {
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
     "U012 5:8 no such bootloader for this chip; there is: serial, dfu | did you mean "
     "'serial'?\n"},
    {board, "pins", "pins \"A0\" F7", "pins \"A0\" F8",
     "U031 6:13 the ATmega32U4 has no pin 'F8' | did you mean 'F0'?\n"},
    {board, "choice", "choice enter { ansi iso }", "choice enter { ansi }",
     "U016 7:10 a choice has two options or more\n"},
    {board, "(enter=…)", "(enter=iso: d0*2)", "(enter=jis: d0*2)",
     "U044 16:53 no such option of this choice; there is: ansi, iso\n"},
    {board, "other choice", "(enter=iso: d0*2)", "(enter=iso: r0c0)",
     "U034 16:58 with enter=iso: this address stands on the board already, in line 16\n"},
    {board, "matrix", "matrix {", "matrix left {", "U039 8:10 this board is in one piece\n"},
    {board, "rows", "rows B1 B2", "rows B1 B1", "U032 8:20 pin B1 is used already: a row\n"},
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
     "U032 9:20 pin B1 is used already: a row\n"},
    {board, "to", "to ground", "to earth",
     "U012 9:27 no such side of a switch; there is: ground, power\n"},
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
    {board, "strip", "strip C6", "strip F4", "U032 12:9 pin F4 is used already: a column\n"},
    {board, "count", "count 10;", "", "U016 12:3 the strip has no 'count'\n"},
    {board, "order", "order grb", "order bgr",
     "U012 12:30 no such order of colours; there is: grb, rgb, grbw, rgbw\n"},
    {board, "set", "set once-for 1s", "set once-four 1s",
     "U012 13:7 no such setting; there is: debounce, once-for, pointer-speed, pointer-ramp, "
     "wheel-speed, unicode | did you mean 'once-for'?\n"},
    {board, "set, range", "set once-for 1s", "set once-for 1us",
     "U017 13:16 this time is from 100ms to 60000ms, this is 0.001ms\n"},
    {board, "keys, address", "r0c1 r0c2", "r0c1 r0c3",
     "U033 16:15 the matrix has rows r0..r1 and columns c0..c2\n"},
    {board, "keys, twice", "r0c0 r0c1", "r0c0 r0c0",
     "U034 16:10 this address stands on the board already, in line 16\n"},
    {board, "keys, size", "r0c2*1.5", "r0c2*0.1",
     "U017 16:15 a key is from 0.25 to 20 units wide\n"},
    {board, "keys, =KNOB", "d1=jog", "d1=jug",
     "U021 20:20 this board has no knob 'jug' | did you mean 'jog'?\n"},
    {board, "+G", "+0.5", "+", "U012 16:26 expected a number behind the '+', found '('\n"},
    {board, "at", "at 0 2", "at 0", "U012 18:9 expected Y\n"},
    {board, "at, overlap", "at 0 2", "at 0 0.3", "U037 20:5 this key lies over r0c0\n"},
    {board, "turn", "turn 5", "turn left", "U012 19:10 expected degrees\n"},
    {board, "stagger", "stagger 0.2 0", "stagger 0.2 low",
     "U012 15:17 expected how much lower each column is, in key units\n"},
    {board, "keys, place left over", "r0c0 r0c1 r0c2", "r0c1 r0c2",
     "U038 8:3 no key stands at r0c0\n"},
    {split, "halves", "halves left right", "halves left left",
     "U015 3:15 both halves are called 'left'\n"},
    {split, "main", "main by-usb", "main by-us",
     "U012 3:28 no such rule for the main half; there is: by-usb, by-stored, by-pin, left, "
     "right | did you mean 'by-usb'?\n"},
    {split, "link", "link uart GP0 GP1", "link uart GP0 GP2",
     "U032 4:22 pin GP2 is used already: the link\n"
     "U032 5:23 pin GP2 is used already: the link\n"},
    {split, "crossed", "crossed", "cros",
     "U012 3:54 expected the end of the 'link' statement\n"},
    {split, "speed", "speed 230400", "speed 100",
     "U017 3:69 the speed is from 9600 to 4000000, this is 100\n"},
    {split, "matrix HALF", "matrix right", "matrix rigth",
     "U039 5:10 the halves of this board are 'left' and 'right' | did you mean 'right'?\n"},
    {split, "keys HALF", "keys left {", "keys middle {",
     "U039 6:8 the halves of this board are 'left' and 'right'\n"},
    {split, "mirror", "mirror left", "mirror right",
     "U039 7:21 a half is no mirror of itself\n"},
    {split, "gap", "gap 3", "gap wide", "U012 7:30 expected key units\n"},
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
    static const char *const texts[] = {board, split};

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
