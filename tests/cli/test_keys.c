/* Boards with faults, tried and learned from the command line: what `uvrek keys` says, what
 * `uvrek wires` says and writes, and that the plays pass on the board as it really is, by the
 * corrected file. */
#include "command.h"

#include <string.h>

#define TOOLS                                                                                  \
    "cp " SOURCE_FOLDER "/boards/*.uvk $SCRATCH && cd $SCRATCH && rm -rf memory state && "     \
    "sed -i 's/^keymap desk {$/&\\n  live { room 256 }/' subtitle-desk.uvk; ROAD=; "           \
    ". " SOURCE_FOLDER "/tests/cli/running.sh; "

#define TIDEPAD "r0c0 r0c1 r0c2 r0c3 r1c0 r1c1 r1c2 r1c3 r2c0 r2c1 r2c2 r2c3"
#define REEL                                                                                   \
    "r0c0 r0c1 r0c2 r0c3 r0c4 r1c0 r1c1 r1c2 r1c3 r1c4 r2c0 r2c1 r2c2 r2c3 r2c4 r3c0 r3c1 "    \
    "r3c2 "                                                                                    \
    "r3c3 r3c4"
#define FERRY                                                                                  \
    "left.r0c0 left.r0c1 left.r0c2 left.r0c3 left.r0c4 left.r1c0 left.r1c1 left.r1c2 "         \
    "left.r1c3 left.r1c4 left.r2c1 left.r2c2 left.r2c3 right.r0c0 right.r0c1 right.r0c2 "      \
    "right.r0c3 right.r0c4 right.r1c0 right.r1c1 right.r1c2 right.r1c3 right.r1c4 "            \
    "right.r2c1 right.r2c2 right.r2c3"
#define END "; S=$?; exec 7>&-; wait $B; exit $S"

static bool one_chip(void)
{
    return g_getenv("UVREK_ONE_CHIP") != NULL;
}

/* ---- keys ------------------------------------------------------------------------------- */

/* With a FAULT ("": none; of r0c0), by the keyboard's own firmware, or by a probe, which asks
 * for no consent: where wires are wrong the keys that a keyboard asks for may not come. */
static void tried(const char *fault, const char *firmware, int status, const char *out)
{
    bool probe = strcmp(firmware, "probe") == 0;
    char *command = g_strdup_printf(
        TOOLS "bench subtitle-desk %s %s%s%s && %s && try_keys subtitle-desk.uvk " TIDEPAD
              " =jog; S=$?; tail -n 9 tried; exec 7>&-; wait $B; exit $S",
        probe ? "--probe" : "", fault[0] != '\0' ? "--wire-fault '" : "", fault,
        fault[0] != '\0' ? "'" : "", probe ? "true" : "consent subtitle-desk.uvk r0c0 r0c1");

    expect(command, status, out, NULL);
    g_free(command);
}

/* The fault, and the sentence that finds it. Nothing of what was pressed is typed. */
static void faults_are_found_by_trying_the_keys(void **state)
{
    (void)state;
    tried("", "own", 0,
          "12 of 12 keys and 2 of 2 turns of knobs have come, each of them alone\n");
    tried("open c2", "probe", 1,
          "nothing of column c2 (F6) has come (r0c2 r1c2 r2c2): look at that wire and its pin\n"
          "9 of 12 keys and 2 of 2 turns of knobs have come\n");
    tried("chatter r0c0", "own", 1,
          "r0c0 chatters: while it was held it opened and closed again 1 time");
    tried("stuck r2c1", "probe", 1, "r2c1 was down from the start: its switch is stuck");
    if (one_chip()) {
        return;
    }
    tried("dead r2c1", "probe", 1,
          "r2c1 alone has not come: its switch, its diode, or a joint, between row r2 (B2) and "
          "column c1 (F5)");
    tried("diode r0c2", "probe", 1,
          "a switch between F6 and B1 came 1 time; the file has no key there");
    tried("short c0 c1", "probe", 1,
          "r0c0 and r0c1 always come together: column c0 (F4) and column c1 (F5) are joined\n");
}

/* In the half that has no cable to the computer, by the keyboard's own firmware. */
static void a_fault_of_the_other_half_is_found(void **state)
{
    (void)state;
    expect(TOOLS "sed -i 's/^keymap .* {$/&\\n  live { room 256 }/' seats.uvk; "
                 "bench seats --wire-fault 'open right.c2' && "
                 "consent seats.uvk 'right.r.c2' left.r0c0 && "
                 "try_keys seats.uvk " FERRY
                 " =drum; S=$?; tail -n 2 tried; exec 7>&-; wait $B; exit "
                 "$S",
           1,
           "nothing of column right.c2 (F6) has come (right.r0c2 right.r1c2 right.r2c2): look "
           "at that wire and its pin\n"
           "23 of 26 keys and 2 of 2 turns of knobs have come\n",
           NULL);
    expect("sed -n 2p $SCRATCH/tried", 0,
           "halves: this is left, the main one; right answers; 0 of ", NULL);
}

/* The keyboard itself only knows that nothing comes. */
static void a_wrong_cable_is_told_at_once(void **state)
{
    (void)state;
    if (one_chip()) {
        return;
    }
    expect(TOOLS
           "sed -i 's/^keymap .* {$/&\\n  live { room 256 }/' translator.uvk; "
           "bench translator --wire-fault cable && consent translator.uvk right left.r0c0 "
           "&& try_keys translator.uvk left.r0c1; sed -n 2p tried" END,
           0,
           "nothing comes from the other half: the cable is out, or crossed, or the other half "
           "is off. A probe in each half tells which: uvrek wires --link\n",
           NULL);
}

static void what_comes_is_told_as_json(void **state)
{
    (void)state;
    expect(TOOLS "bench subtitle-desk --wire-fault 'dead r0c1' && consent subtitle-desk.uvk "
                 "r0c1 r0c0 && "
                 "{ uvrek keys --json --at $AT subtitle-desk.uvk > tried 7>&- & } ; K=$!; "
                 "seen begin tried; type r0c0 r0c1; seen '\"up\"' tried; kill -INT $K; wait "
                 "$K; S=$?; cat tried; (exit "
                 "$S)" END,
           1,
           "{\"kind\":\"begin\",\"missing\":14,\"halves\":null}\n"
           "{\"kind\":\"down\",\"ms\":0,\"place\":\"r0c0\",\"before\":false}\n"
           "{\"kind\":\"up\",",
           NULL);
    expect("grep -o '\"kind\":\"end\",\"missing\":13,\"lost\":0' $SCRATCH/tried", 0, "end",
           NULL);
}

/* A desk that dies: the keyboard types again. */
static void presses_go_back_when_the_desk_is_gone(void **state)
{
    (void)state;
    expect(TOOLS "bench subtitle-desk && consent subtitle-desk.uvk && "
                 "{ uvrek keys --at $AT subtitle-desk.uvk > tried 2>&1 7>&- & } ; K=$!; "
                 "seen 'Press every' tried; type r0c1; seen 'r0c1' tried; { kill -KILL $K; "
                 "wait $K; } 2> killed; "
                 "type r0c1; printf 'wait 4s\n' >&7; type r0c2; off" END,
           0, "the host received \"l\"\n", NULL);
}

/* ---- wires ------------------------------------------------------------------------------ */

/* With FAULT the keys are pressed as they are asked for; the file is corrected, and SAYS so.
 * What runs on the board as it really is, by that file, is what the keymap says. */
static void learned(const char *keymap, const char *board, const char *keys, const char *fault,
                    int status, const char *says)
{
    char *command = g_strdup_printf(
        TOOLS "bench %s --probe --wire-fault '%s' && answer_wires %s.uvk %s; S=$?; "
              "grep -v '^[0-9]* of \\|^  it joins\\|closes first' learned; exec 7>&-; wait $B; "
              "exit $S",
        keymap, fault, board, keys);

    expect(command, status, says, NULL);
    g_free(command);
}

/* The corrected file and SEDITS done to the shipped one are the same. */
static void expect_file(const char *board, const char *sedits)
{
    char *command =
        g_strdup_printf("sed '%s' " SOURCE_FOLDER "/boards/%s.uvk | cmp - $SCRATCH/%s.uvk",
                        sedits, board, board);

    expect(command, 0, NULL, NULL);
    g_free(command);
}

static void wirings_are_learned_and_written(void **state)
{
    (void)state;
    learned("subtitle-desk", "tidepad12", TIDEPAD " =jog", "swap c1 c2", 0,
            "c1 and c2 are exchanged: c1 is on F6, and c2 on F5 (seen by r0c1 r1c1 r2c1)\n"
            "line 9 was  cols  F4 F5 F6 F7\n"
            "       now  cols  F4 F6 F5 F7\n"
            "tidepad12.uvk says so now; build and flash the keymap\n");
    expect_file("tidepad12", "s/F4 F5 F6 F7/F4 F6 F5 F7/");
    learned("subtitle-desk", "tidepad12", TIDEPAD " =jog", "diodes", 0,
            "flow is col->row, not row->col: so conduct 12 of 12 keys\n");
    expect_file("tidepad12", "s/flow  row->col/flow  col->row/");
    learned("subtitle-desk", "tidepad12", TIDEPAD " =jog", "knob jog", 0,
            "the knob jog turns the other way: D1 closes before D0\n");
    expect_file("tidepad12", "s/pins D0 D1/pins D1 D0/");
    learned("subtitle-desk", "tidepad12", TIDEPAD " =jog", "short c0 c1", 1,
            "F4 and F5 are joined, with no key down: look for a bridge\n"
            "nothing of that is for the file to say\n");
    learned("subtitle-desk", "tidepad12",
            "r0c0 r0c1 r0c2 - r1c0 r1c1 r1c2 - r2c0 r2c1 r2c2 - =jog", "open c3", 1,
            "column c3 (F7) never came: its wire reaches no pin, or that pin is dead\n");
    expect_file("tidepad12", "");
    if (one_chip()) {
        return;
    }
    learned("projection-room", "reel20", REEL " =focus", "swap r0 c4", 0,
            "reel20.uvk says so now");
    learned("projection-room", "reel20", REEL " =focus", "diode r2c3", 1,
            "the diode of r2c3 is the other way round: turn it\n");
}

/* The plays pass on the wrong board by the right file. */
static void plays_pass_by_the_corrected_file(void **state)
{
    (void)state;
    learned("subtitle-desk", "tidepad12", TIDEPAD " =jog", "swap r0 c3", 0, "says so now");
    expect("cd $SCRATCH && uvrek play subtitle-desk.uvk", 0, "19 plays, 0 failed", NULL);
}

static void a_half_is_learned_by_itself(void **state)
{
    (void)state;
    expect(TOOLS "uvrek wires --at 1 ferry26.uvk", 2, "",
           "a probe does not know which half it is in: say --half left or --half right");
    if (one_chip()) {
        return;
    }
    expect(
        TOOLS "bench seats --probe --wire-fault 'swap left.r0 left.r1' && "
              "answer_wires '--half left ferry26.uvk' left.r0c0 left.r0c1 left.r0c2 left.r0c3 "
              "left.r0c4 left.r1c0 left.r1c1 left.r1c2 left.r1c3 left.r1c4 left.r2c1 left.r2c2 "
              "left.r2c3; S=$?; grep ^uvrek learned; (exit $S)" END,
        1, "both halves share one `matrix`. If the other one is wired like this, say --alike",
        NULL);
}

/* KEYMAP's board, of which HALF has the computer's cable; a probe in each. */
#define JOINED(keymap, half, fault)                                                            \
    "bench " keymap " --probe --cable " half fault "; echo join >&7; "
#define LEARN_LINK(board, half) "uvrek wires --at $AT --link --half " half " " board ".uvk 2>&1"

/* What the probe of the other half says over the cable. */
static void the_cable_between_the_halves_is_learned(void **state)
{
    (void)state;
    expect(TOOLS JOINED("seats", "left", "") LEARN_LINK("ferry26", "left") END, 0,
           "the wiring is as the file says\n", NULL);
    expect(TOOLS JOINED("seats", "right", "") LEARN_LINK("ferry26", "right") END, 0,
           "the main half is wrong: the computer's cable is in 'right', and the file says main "
           "left, so the keys of each half do what those of the other are for\n"
           "line 9 was  main   left\n"
           "       now  main   right\n"
           "ferry26.uvk says so now; build and flash the keymap\n",
           NULL);
    expect_file("ferry26", "s/main   left/main   right/");
    if (one_chip()) {
        return;
    }
    expect(TOOLS JOINED("translator", "left", " --wire-fault cable")
               LEARN_LINK("wherry38", "left") END,
           0,
           "the cable between the halves joins GP0 here to GP0 of the other half, GP1 here to "
           "GP1 of the other half: its lines do not cross, and the file says that they do\n"
           "line 10 was  link   uart GP0 GP1\n"
           "        now  link   uart GP0 GP1 straight\n",
           NULL);
    expect_file("wherry38", "s/link   uart GP0 GP1/& straight/");
    expect("cd $SCRATCH && uvrek play translator.uvk", 0, ", 0 failed", NULL);
}

/* Two lines on the pins that an ATmega32U4 has for them, and a pin that says which half it is.
 */
static void what_no_file_can_say_of_halves_is_told(void **state)
{
    static const char two_lines[] =
        "sed -i 's/link   wire D2/link   uart D3 D2/; s/main   left/main   pin D0/' "
        "ferry26.uvk; ";
    static const struct {
        const char *run, *says;
    } boards[] = {
        {JOINED("seats", "left", " --wire-fault cable") LEARN_LINK("ferry26", "left"),
         "D3 here to D3 of the other half: its lines do not cross, and the file says that they "
         "do\nuvrek: the file cannot be corrected: this chip has its link on two pins that it "
         "cannot swap: take a cable that crosses"},
        {JOINED("seats", "right", " --wire-fault strap") LEARN_LINK("ferry26", "right"),
         "'right' takes itself for 'left', so the main half is wrong: D0 is joined to ground "
         "here, and should be on the other half only\n"
         "nothing of that is for the file to say\n"},
        {JOINED("seats", "left", " --wire-fault strap") LEARN_LINK("ferry26", "left"),
         "D0 is not joined to ground here, where it should be\n"},
        {"bench seats --probe; " LEARN_LINK("ferry26", "left"),
         "nothing comes over the cable between the halves: it is out or broken"},
    };

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(boards); i++) {
        char *command = g_strconcat(TOOLS, two_lines, boards[i].run, END, NULL);
        expect(command, 1, boards[i].says, NULL);
        g_free(command);
    }
    expect(TOOLS "bench subtitle-desk --probe; " LEARN_LINK("tidepad12", "left") END, 2,
           "--link is for a board with a controller in each half", NULL);
}

static void mistakes_are_told(void **state)
{
    (void)state;
    expect(TOOLS "bench subtitle-desk && uvrek wires --at $AT tidepad12.uvk" END, 2, "",
           "uvrek flash --probe tidepad12.uvk");
    expect(TOOLS "uvrek bench --wire-fault 'swap c1 c9' subtitle-desk.uvk < /dev/null", 2, "",
           "the board has no wire 'c9'");
    expect(TOOLS "uvrek bench --wire-fault 'loose c1' subtitle-desk.uvk < /dev/null", 2, "",
           "  open r2: a wire reaches no pin\n");
    expect(TOOLS "uvrek wires --link --only r0c0 ferry26.uvk", 2, "",
           "--link asks for no keys: leave --only out");
    expect(TOOLS "uvrek wires --chip z80 new.uvk", 2, "", "no chip is called 'z80'");
    expect(TOOLS "uvrek wires --chip rp2040 reel20.uvk", 2, "", "reel20.uvk is there already");
    expect(TOOLS "uvrek flash --probe --dry-run --chip rp2040", 0,
           "bytes would go to the RP2040", NULL);
}

/* Some keys only, and the file stays as it is. */
static void a_few_keys_are_asked_for(void **state)
{
    (void)state;
    expect(TOOLS
           "bench subtitle-desk --probe --wire-fault 'swap c1 c2' && answer_wires "
           "'--dry-run --only r0c1,r1c1,r0c2,r1c2 tidepad12.uvk' r0c1 r0c2 r1c1 r1c2; S=$?; "
           "cat learned; cmp tidepad12.uvk " SOURCE_FOLDER "/boards/tidepad12.uvk && "
           "(exit $S)" END,
           1,
           "4 of 4: press r1c2\n  it joins B3 to F5\n"
           "c1 and c2 are exchanged: c1 is on F6, and c2 on F5 (seen by r0c1 r1c1)\n"
           "line 9 was  cols  F4 F5 F6 F7\n"
           "       now  cols  F4 F6 F5 F7\n"
           "tidepad12.uvk was not changed\n",
           NULL);
    expect(
        TOOLS
        "bench subtitle-desk --probe --wire-fault 'swap c1 c2' && answer_wires "
        "'--only r0c1,r1c1 tidepad12.uvk' r0c1 r1c1; S=$?; grep ^uvrek learned; (exit $S)" END,
        1, "a pin would be named twice; ask for the keys of that wire as well\n", NULL);
}

/* From the chip alone to a file without mistakes. */
static void a_board_is_learned_from_nothing(void **state)
{
    (void)state;
    expect(
        TOOLS
        "bench subtitle-desk --probe && rm -f answers && mkfifo answers && : > learned && "
        "{ uvrek wires --at $AT --chip atmega32u4 new.uvk > learned 2>&1 < answers 7>&- & } ; "
        "K=$!; exec 8> answers; seen 'line by line' learned; at=0; "
        "for key in r0c0 r0c1 r0c2 r0c3 / r1c0 r1c1 r1c2 r1c3 / r2c0 r2c1 r2c2 r2c3; do "
        "case $key in /) echo >&8; ;; *) at=$((at + 1)); type $key; seen \"^key $at:\" "
        "learned;; "
        "esac; done; echo 'knob jog' >&8; seen slowly learned; echo 'turn jog +1' >&7; "
        "seen 'closes first' learned; echo stop >&8; wait $K; S=$?; cat new.uvk; "
        "uvrek check new.uvk; exec 7>&-; wait $B; exit $S",
        0,
        "  matrix {\n    rows  B1 B3 B2\n    cols  F4 F5 F6 F7\n    flow  row->col\n  }\n"
        "  knob jog { pins D0 D1; detent 4 }\n"
        "  keys {\n    r0c0  r0c1  r0c2  r0c3\n    r1c0  r1c1  r1c2  r1c3\n"
        "    r2c0  r2c1  r2c2  r2c3  =jog\n  }\n}\nnew: 12 keys on a 3x4 matrix, 1 knob",
        NULL);
}

/* Each half in turn; the second one is pressed from its other end. */
static void two_halves_are_learned_from_nothing(void **state)
{
    (void)state;
    expect(
        TOOLS
        "bench seats --probe && rm -f answers && mkfifo answers && : > learned && "
        "{ uvrek wires --at $AT --chip atmega32u4 both.uvk > learned 2>&1 < answers 7>&- & } ; "
        "K=$!; exec 8> answers; seen 'half NAME' learned; at=0; "
        "press_keys() { for key in $2; do at=$((at + 1)); type $1.$key; "
        "seen \"^key $at:\" learned; done; }; "
        "echo 'half left' >&8; seen 'keys of left' learned; press_keys left 'r0c0 r0c1 r0c2'; "
        "echo >&8; seen 'next line' learned; press_keys left 'r1c0 r1c1 r1c2'; "
        "echo 'half right' >&8; seen 'first say how' learned; echo link >&8; "
        "seen 'join the halves' learned; echo join >&7; echo >&8; "
        "seen 'are joined by wire D2' learned; echo pull >&7; "
        "seen 'part the halves' learned; echo >&8; echo 'half left' >&8; seen 'already' "
        "learned; echo 'half right' >&8; "
        "seen 'cable into right' learned; exec 7>&-; wait $B; PORT=$AT; "
        "bench seats --probe --cable right; echo >&8; seen 'keys of right' learned; at=0; "
        ": > learned; press_keys right 'r0c2 r0c1 r0c0'; echo >&8; "
        "press_keys right 'r1c2 r1c1 r1c0'; echo 'knob drum' >&8; seen slowly learned; "
        "echo 'turn drum +1' >&7; seen '2 changes from click to click' learned; echo stop >&8; "
        "wait $K; S=$?; cat both.uvk; "
        "uvrek check both.uvk; exec 7>&-; wait $B; exit $S",
        0,
        "  halves left right { main usb; link wire D2 }\n"
        "  matrix {\n    rows  B4 B5\n    cols  F4 F5 F6\n    flow  row->col\n  }\n"
        "  knob drum right { pins D4 D7; detent 2 }\n"
        "  keys left {\n    r0c0  r0c1  r0c2\n    r1c0  r1c1  r1c2\n  }\n"
        "  keys right {\n    r0c2  r0c1  r0c0\n    r1c2  r1c1  r1c0  =drum\n  }\n}\n"
        "both: 12 keys",
        NULL);
    expect(TOOLS "uvrek bench --cable right subtitle-desk.uvk < /dev/null", 2, "",
           "--cable is for a board with a controller in each half");
    expect(TOOLS "uvrek bench --cable top seats.uvk < /dev/null", 2, "",
           "the board has no half 'top'");
}

/* ---- a dead key ------------------------------------------------------------------------- */

static void the_work_of_a_dead_key_goes_to_another(void **state)
{
    (void)state;
    expect("uvrek explain r1c2 boards/subtitle-desk.uvk", 0,
           "  row r1 (B3): r1c0 r1c1 r1c2 r1c3\n  column c2 (F6): r0c2 r1c2 r2c2\n", NULL);
    expect("uvrek explain F6 boards/subtitle-desk.uvk", 0, "  column c2 (F6): r0c2 r1c2 r2c2\n",
           NULL);
    expect("uvrek explain left.r1 boards/translator.uvk", 0,
           "  row left.r1 (GP3): left.r1c0 left.r1c1 left.r1c2 left.r1c3 left.r1c4\n", NULL);
    expect(TOOLS "bench subtitle-desk && consent subtitle-desk.uvk && "
                 "live swap subtitle-desk.uvk r0c1 r2c3 && type r0c1 r2c3 && off && "
                 "sed -n '/layer base/,/^  }/p' subtitle-desk.uvk && "
                 "uvrek check subtitle-desk.uvk" END,
           0, "    mod(s,ctrl)  t           l                  speaker\n", NULL);
    expect("tail -n 1 $SCRATCH/bench", 0, "the host received \"ta\"\n", NULL);
    expect(TOOLS "uvrek live swap subtitle-desk.uvk r0c1 r2c9", 2, "",
           "the board has no key 'r2c9'; did you mean");
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(faults_are_found_by_trying_the_keys),
        cmocka_unit_test(a_fault_of_the_other_half_is_found),
        cmocka_unit_test(a_wrong_cable_is_told_at_once),
        cmocka_unit_test(what_comes_is_told_as_json),
        cmocka_unit_test(presses_go_back_when_the_desk_is_gone),
        cmocka_unit_test(wirings_are_learned_and_written),
        cmocka_unit_test(plays_pass_by_the_corrected_file),
        cmocka_unit_test(a_half_is_learned_by_itself),
        cmocka_unit_test(the_cable_between_the_halves_is_learned),
        cmocka_unit_test(what_no_file_can_say_of_halves_is_told),
        cmocka_unit_test(mistakes_are_told),
        cmocka_unit_test(a_few_keys_are_asked_for),
        cmocka_unit_test(a_board_is_learned_from_nothing),
        cmocka_unit_test(two_halves_are_learned_from_nothing),
        cmocka_unit_test(the_work_of_a_dead_key_goes_to_another),
    };

    return cmocka_run_group_tests(tests, command_line_set_up, NULL);
}
