/* The command and the examples, as a person meets them: what they print, what they answer,
 * what they leave behind. */
#include "command.h"

#include <glib/gstdio.h>
#include <jansson.h>
#include <stdio.h>
#include <string.h>
#include <sys/wait.h>
#include <unistd.h>

#define DEMO "boards/subtitle-desk.uvk"

/* ---- help ------------------------------------------------------------------------------- */

static void help_is_there(void **state)
{
    static const char *const commands[] = {"check",   "play",   "build",  "flash",
                                           "bench",   "ready",  "sheet",  "tidy",
                                           "explain", "export", "import", "new"};

    (void)state;
    expect("uvrek --help", 0, "check FILE", NULL);
    expect("uvrek --version", 0, "uvrek 0.", NULL);
    expect("uvrek", 2, NULL, "Usage: uvrek COMMAND");
    expect("uvrek chekc x", 2, NULL, "no command 'chekc'; did you mean 'check'?");
    for (size_t i = 0; i < G_N_ELEMENTS(commands); i++) {
        char *command = g_strdup_printf("uvrek %s --help", commands[i]);
        expect(command, 0, "Example:\n  ", NULL);
        g_free(command);
        command = g_strdup_printf("uvrek %s --nonsense", commands[i]);
        expect(command, 2, NULL, "--help` shows them all");
        g_free(command);
        if (strcmp(commands[i], "ready") != 0) {
            command = g_strdup_printf("uvrek %s", commands[i]);
            expect(command, 2, NULL, " needs ");
            g_free(command);
        }
    }
}

/* ---- check ------------------------------------------------------------------------------ */

static void check_says_what_is_there(void **state)
{
    (void)state;
    expect("uvrek check " DEMO, 0, "tidepad12: 12 keys on a 3x4 matrix, 1 knob, ATmega32U4",
           NULL);
}

/* A file that is something else says what it is, in one line. */
static void other_files_are_named(void **state)
{
    char *hex = scratch_file("other.uvk", ":1004400001234567890ABCDEF\n:00000001FF\n");
    char *json = scratch_file("json.uvk", "{\n  \"board\": {}\n}\n");
    char *svg = scratch_file("svg.uvk", "<svg xmlns=\"http://www.w3.org/2000/svg\"></svg>\n");
    char *mark = scratch_file("mark.uvk", "\xEF\xBB\xBF# a mark before it\nplay \"x\" { }\n");
    char *marked = scratch_file("marked.uvk", "\xEF\xBB\xBFplai \"x\" { }\n");
    char *light = scratch_file("light.uvk", "use \"" SOURCE_FOLDER "/boards/tidepad12.uvk\"\n"
                                            "keymap k { layer base { light:on a b c; d e f g;\n"
                                            "h light:next board:bootloader j } }\n");

    (void)state;
    expect("uvrek check $SCRATCH/other.uvk 2>&1 | wc -l", 0, "2\n", NULL);
    expect("uvrek check $SCRATCH/other.uvk", 2, NULL, "other.uvk is a HEX file for a chip");
    expect("uvrek check $SCRATCH/json.uvk", 2, NULL, "json.uvk is JSON: 'uvrek import'");
    expect("uvrek check $SCRATCH/svg.uvk", 2, NULL, "svg.uvk is XML");
    expect("uvrek check $SCRATCH/mark.uvk 2>&1 | grep -c U006", 1, "0\n", NULL);
    expect("uvrek check $SCRATCH/marked.uvk", 1, NULL, "marked.uvk:1:1: error[U013]");
    expect("uvrek check $SCRATCH/light.uvk", 0, "k: 1 layers",
           "warning[U065]: 2 'light:' cells do nothing");
    expect("uvrek explain r0c0 $SCRATCH/light.uvk", 0,
           "switches the lights on; this board has none, so it does nothing", NULL);
    expect("uvrek build -o $SCRATCH $SCRATCH/light.uvk", 0, "k.hex", NULL);
    expect("uvrek export $SCRATCH/light.uvk", 0, "\"light:next\"", NULL);
    g_free(hex);
    g_free(json);
    g_free(svg);
    g_free(mark);
    g_free(marked);
    g_free(light);
}

static json_t *json_of(const char *command, int status)
{
    struct ran ran = run(command);
    json_t *json = json_loads(ran.out, JSON_REJECT_DUPLICATES, NULL);

    assert_int_equal(ran.status, status);
    assert_non_null(json);
    g_free(ran.out);
    g_free(ran.err);
    return json;
}

static void assert_number(const json_t *object, const char *name, json_int_t wanted)
{
    assert_int_equal(json_integer_value(json_object_get(object, name)), wanted);
}

#define LONG_PRESSES                                                                           \
    BOARD9 "keymap k {\n long-press { letters; after 190ms }\n layer one { a b c d e f g h "   \
           "board:bootloader } }\n"

static void check_shows_delays(void **state)
{
    char *path = scratch_file("plain.uvk", KEYMAP9("a b c; d e f; g h i"));
    char *long_press;
    const json_t *first;
    json_t *json;

    (void)state;
    expect(
        "uvrek check --delays " DEMO, 0,
        "220 ms at most, tap-hold, feel calm: until it comes up or another key is pressed and "
        "released\n  not at all within 120 ms of another key\n  base        s  a  space\n",
        NULL);
    expect(
        "uvrek check --delays " DEMO, 0,
        "380 ms at most, dance speaker: until another key is pressed, or 180 ms after it came "
        "up\n  base        speaker\n",
        NULL);
    json = json_of("uvrek check --delays --json " DEMO, 0);
    first = json_array_get(json_object_get(json, "delays"), 0);
    assert_number(first, "milliseconds", 380);
    assert_string_equal(json_string_value(json_object_get(first, "cause")), "dance");
    assert_string_equal(json_string_value(json_object_get(first, "key")), "r0c3");
    json_decref(json);
    long_press = scratch_file("long.uvk", LONG_PRESSES);
    expect(
        "uvrek check --delays $SCRATCH/long.uvk 2>&1", 0,
        "\n190 ms at most, long press: until it comes up or another key is pressed\n  one     "
        "    a  b  c  d  e  f  g  h\n",
        NULL);
    g_free(long_press);
    expect("uvrek check --delays $SCRATCH/plain.uvk", 0, "No key waits", "0 errors, 1 warning");
    g_free(path);
}

static void check_shows_mistakes(void **state)
{
    char *path = scratch_file("wrong.uvk", KEYMAP9("a b volme-up; d e f; g h"));

    (void)state;
    expect("uvrek check $SCRATCH/wrong.uvk", 1, NULL, "did you mean 'volume-up'?");
    expect("uvrek check $SCRATCH/wrong.uvk", 1, NULL, "U024");
    expect("uvrek check $SCRATCH/wrong.uvk", 1, NULL, "2 errors, 0 warnings");
    expect("uvrek play $SCRATCH/wrong.uvk", 1, NULL, "U021");
    expect("uvrek build $SCRATCH/wrong.uvk", 1, NULL, "U021");
    expect("uvrek flash $SCRATCH/wrong.uvk", 1, NULL, "U021");
    expect("uvrek bench $SCRATCH/wrong.uvk", 1, NULL, "U021");
    g_free(path);
}

static void bad_files_are_told_once(void **state)
{
    (void)state;
    expect("uvrek check /nowhere.uvk", 2, NULL, "cannot read /nowhere.uvk: No such file");
    expect("uvrek check .", 2, NULL, "Is a directory");
    expect(": > $SCRATCH/empty.uvk; uvrek check $SCRATCH/empty.uvk", 1, NULL, "no board");
    expect("head -c 3000 $(command -v uvrek) > $SCRATCH/bin.uvk; uvrek check $SCRATCH/bin.uvk",
           2, NULL, "is not UTF-8 text");
    expect("head -c 10000000 /dev/zero | tr '\\0' '{' > $SCRATCH/braces.uvk; "
           "uvrek check $SCRATCH/braces.uvk",
           2, NULL, "larger than");
    expect("head -c 1000000 /dev/zero | tr '\\0' '{' > $SCRATCH/braces.uvk; "
           "uvrek check $SCRATCH/braces.uvk",
           1, NULL, "1 error, 0 warnings");
    expect("echo 'use \"me.uvk\"' > $SCRATCH/me.uvk; uvrek check $SCRATCH/me.uvk", 1, NULL,
           "in a circle");
}

static void unreadable_file_is_told(void **state)
{
    char *path = scratch_file("secret.uvk", KEYMAP9("a b c; d e f; g h i"));

    (void)state;
    (void)g_chmod(path, 0000);
    if (access(path, R_OK) != 0) {
        expect("uvrek check $SCRATCH/secret.uvk", 2, NULL, "Permission denied");
    } else { /* root may read anything: somebody else tries, with a command of his own */
        (void)g_chmod(scratch_folder(), 0755);
        expect("cp $(command -v uvrek) $SCRATCH/uvrek-copy && cd / &&"
               "setpriv --reuid=65534 --regid=65534 --clear-groups "
               "$SCRATCH/uvrek-copy check $SCRATCH/secret.uvk",
               2, NULL, "Permission denied");
    }
    g_free(path);
}

static void output_that_cannot_be_written_is_told(void **state)
{
    (void)state;
    expect("uvrek check " DEMO " > /dev/full", 2, NULL, "cannot write the output");
    expect("uvrek check --json " DEMO " > /dev/full", 2, NULL, "cannot write the output");
    expect("uvrek build -o /dev/full " DEMO, 2, NULL, "cannot make the folder /dev/full");
    expect("uvrek build -o $SCRATCH/a/new/folder " DEMO, 0, "/a/new/folder/boards-desk.hex",
           NULL);
    /* a reader that has gone */
    expect("{ uvrek play " DEMO "; echo \"status $?\" >&2; } | true", 0, NULL, "status");
}

/* ---- JSON ------------------------------------------------------------------------------- */

static void json_can_be_read(void **state)
{
    char *path = scratch_file("wrong.uvk", KEYMAP9("a b volme-up; d e f; g h i"));
    json_t *json = json_of("uvrek check --json $SCRATCH/wrong.uvk", 1);
    json_t *message = json_array_get(json_object_get(json, "messages"), 0);

    (void)state;
    assert_string_equal(json_string_value(json_object_get(message, "code")), "U021");
    assert_number(message, "line", 14);
    assert_number(message, "column", 5);
    assert_number(message, "end-column", 13);
    json_decref(json);
    json = json_of("uvrek check --json " DEMO, 0);
    assert_number(json, "keys", 12);
    json_decref(json);
    json = json_of("uvrek play --json " DEMO, 0);
    assert_number(json, "failed", 0);
    assert_true(json_array_size(json_object_get(json, "plays")) >= 5);
    json_decref(json);
    json = json_of("uvrek build --json -o $SCRATCH " DEMO, 0);
    assert_true(json_integer_value(json_object_get(json, "flash")) > 4000);
    json_decref(json);
    json = json_of("uvrek ready --json " DEMO, 0);
    assert_true(json_is_true(json_object_get(json, "ready")));
    json_decref(json);
    g_free(path);
}

/* ---- play ------------------------------------------------------------------------------- */

static const char *const wrong_play = KEYMAP9(
    "a b c; d e f; g h i") "play \"it types\" { tap a; expect text \"a\" }\n"
                           "play \"it does not\" { tap a; tap b; expect text \"ac\" }\n";

static void demo_plays_pass(void **state)
{
    (void)state;
    expect("uvrek play " DEMO, 0, "19 plays, 0 failed, in the simulator", NULL);
    expect("uvrek play --chip " DEMO, 0,
           "19 plays, 0 failed, machine code on the simulated chip", NULL);
}

static void why_shows_decisions(void **state)
{
    (void)state;
    expect("uvrek play --why " DEMO, 0,
           "keyboard  s (r0c0)  hold: t (r2c3) was pressed and came up inside, after 84 ms",
           NULL);
    expect("uvrek play --why " DEMO, 0, "70.0 ms  finger    t (r2c3) down\n", NULL);
    expect("uvrek play --why " DEMO, 0, "keyboard  l+t  its keys were pressed together", NULL);
    expect("uvrek play --chip --why --only 'leave the line' " DEMO, 0, "host      esc down\n",
           NULL);
}

static void only_chooses_plays(void **state)
{
    (void)state;
    expect("uvrek play --only 'two keys' " DEMO, 0, "\n2 plays, 0 failed, in the simulator\n",
           NULL);
    expect("uvrek play --only nothing-like-it " DEMO, 2, "",
           "uvrek: no play has 'nothing-like-it' in its name\n");
}

static void tap_is_told_by_its_protocol(void **state)
{
    char *path = scratch_file("tap.uvk", wrong_play);

    (void)state;
    expect("uvrek play --tap $SCRATCH/tap.uvk", 1,
           "TAP version 13\n1..2\nok 1 - it types\nnot ok 2 - it does not\n  ---\n", NULL);
    expect("uvrek play --tap $SCRATCH/tap.uvk", 1, "\n  expected: \"\\\"ac\\\"\"\n", NULL);
    expect("uvrek play --tap --json $SCRATCH/tap.uvk", 2, "", "--json and --tap are two forms");
    g_free(path);
}

/* The file NAME of the scratch folder has PART in its first bytes or in its text. */
static void assert_file_has(const char *name, const char *part)
{
    char *path = g_build_filename(scratch_folder(), name, NULL);
    char *text = NULL;

    assert_true(g_file_get_contents(path, &text, NULL, NULL));
    assert_has(text, part);
    g_free(text);
    g_free(path);
}

/* A picture has its text as text, and a bar for each press. */
static void play_is_drawn(void **state)
{
    (void)state;
    expect("uvrek play --only 'leave the line' --picture $SCRATCH/p.svg " DEMO, 0, "1 play",
           NULL);
    expect("uvrek play --only 'leave the line' --picture $SCRATCH/p.png " DEMO, 0, "1 play",
           NULL);
    assert_file_has("p.svg", ">two keys together leave the line</text>");
    assert_file_has("p.svg", ">l (r0c2)</text>");
    assert_file_has("p.svg", ">esc</text>");
    assert_file_has("p.svg", "l+t: its keys were pressed together, after 10 ms</text>");
    assert_file_has("p.svg", "fill=\"url(#hatch)\"");
    assert_file_has("p.png", "\x89PNG");
    expect("uvrek play --picture $SCRATCH/p.svg " DEMO, 2, "",
           "a picture shows one play; --only WORDS chooses it (19 plays now)");
    expect("uvrek play --only 'leave the line' --picture $SCRATCH/p.gif " DEMO, 2, NULL,
           "a picture is an .svg, a .png or a .pdf, this is none");
    expect("uvrek play --only 'leave the line' --picture /nowhere/p.png " DEMO, 2, NULL,
           "cannot write /nowhere/p.png");
}

/* No line of what COMMAND prints has more than COLUMNS characters. */
static void assert_fits(glong columns, const char *command)
{
    struct ran ran = run(command);
    char **lines = g_strsplit(ran.out, "\n", -1);

    for (char **line = lines; *line != NULL; line++) {
        assert_true(g_utf8_strlen(*line, -1) <= columns);
    }
    assert_true(lines[0] != NULL && lines[1] != NULL);
    g_strfreev(lines);
    g_free(ran.out);
    g_free(ran.err);
}

/* Layers and wiring, in every form. */
static void cells_are_lined_up(void **state)
{
    char *path = scratch_file("crooked.uvk", KEYMAP9("a ctrl+b c; d e f # last\ng h i"));
    char *command = g_strdup_printf("uvrek tidy --check %s", path);
    char *text;

    (void)state;
    expect("uvrek tidy --check " DEMO, 0, "subtitle-desk.uvk is tidy\n", NULL);
    expect("uvrek tidy boards/tidepad12.uvk", 0, "tidepad12.uvk is tidy\n", NULL);
    expect(command, 1, "is not tidy: spaces in ", NULL);
    g_free(command);
    command = g_strdup_printf("uvrek tidy %s && uvrek tidy --check %s", path, path);
    expect(command, 0, "crooked.uvk is tidy\n", NULL);
    assert_true(g_file_get_contents(path, &text, NULL, NULL));
    assert_has(text, "   a  ctrl+b  c\n   d  e       f # last\n   g  h       i\n");
    expect("uvrek tidy tests/broken/cells.uvk", 1, NULL, "U022");
    expect("uvrek tidy not-there.uvk", 2, NULL, "cannot read");
    expect("uvrek tidy", 2, NULL, "needs one FILE");
    g_free(text);
    g_free(command);
    g_free(path);
}

static void words_are_explained(void **state)
{
    static const struct {
        const char *command, *told;
    } asked[] = {
        {"U021", "U021: no key or name\n  Nothing is called like that"},
        {"detent", "detent: in a knob\n  detent 1 | 2 | 4: changes of phase"},
        {"toggle", "toggle: before a name, in a cell\n"},
        {"de", "de: a host's layout, behind host\n"},
        {"unicode boards/translator.uvk", "  here on, set in boards/translator.uvk:"},
        {"unicode " DEMO, "  here off, as nothing sets it\n"},
        {"'space/times ~calm' " DEMO,
         "space/times ~calm: a cell\n  when it is tapped, presses "},
        {"'space/times ~calm' " DEMO, "  stands on r1c2 (space/times) of layer base\n"},
        {"volume-up", "volume-up: a key, usage 0xE9 of the consumer page (0x0C)\n"},
        {"shift", "shift: a modifier, bit 1 of a keyboard report\n"},
        {"wheel-up",
         "wheel-up: a key, usage 0x38 of the generic desktop page (0x01), forward\n"},
        {"\xe2\x82\xac", "  de       right-alt+e\n"},
        {"\xe2\x82\xac",
         "  us       linux: no keys type it; windows: not known; mac: shift+right-alt+2\n"},
        {"debounce", "from 0ms to 100ms, usually 5ms\n"},
        {"XTAL1", "XTAL1: a pin that the ATmega32U4 keeps for itself: the crystal is on it\n"},
        {"GP4", "GP4: pin GP4 of the RP2040"},
        {"D2", "  also: serial line in (RXD1)\n"},
        {"rp2040", "264 kB of RAM; bootloaders: uf2\n"},
        {"pad-m", "pad-minus            key\n"},
        {"debounce " DEMO, "  here 5ms, set in boards/tidepad12.uvk:11:5\n"},
        {"once-for " DEMO, "  here 2000ms, set in boards/subtitle-desk.uvk:"},
        {"wheel-speed " DEMO, "  here 10, as nothing sets it\n"},
        {"B1 " DEMO, "  here it is used: a row\n"},
        {"D3 " DEMO, "  here it is free\n"},
        {"r0c1 " DEMO, "between row pin B1 and column pin F5, 1 x 1 units at 1.00, 0.00\n"},
        {"r0c1 " DEMO, "  times        8\n               presses 8, with shift \"*\"\n"},
        {"r0c1 --layer mark " DEMO,
         "at 1.00, 0.00\n  row r0 (B1): r0c0 r0c1 r0c2 r0c3\n  column c1 (F5): r0c1 r1c1 r2c1\n"
         "  mark         left-bracket\n"},
        {"jog " DEMO, "  its switch is r0c3\n"},
        {"jog " DEMO,
         "  mark         to the left: volume-down\n               presses volume-down\n"},
        {"times " DEMO, "  stands on r1c2 (space/times) of layer base\n"},
        {"speaker " DEMO,
         "counts touches (the dance speaker, 180ms from one to the next): tap -> runs\n"},
        {"head " DEMO, "  stands on r2c1 (head) of layer mark\n"},
        {"calm " DEMO, "  It is a hold after 220ms, or when another key is pressed"},
        {"mod " DEMO, "  let mod(tap, held) = tap/held ~calm\n"},
        {"undo " DEMO, "  let undo  = primary+z\n  presses ctrl+z\n"},
        {"hold-after " DEMO, "  feel calm: 220ms, boards/subtitle-desk.uvk:15:8\n"},
        {"hold-after " DEMO, "  feel default: 200ms, as nothing sets it\n"},
        {"within " DEMO, "  combo for mouse: 25ms, "},
        {"within " DEMO, "  leader sequences: 800ms, "},
        {"backspace boards/box-office.uvk", "  here split; it can be whole split\n"},
        {"times " DEMO, "  the way there: hold space\n"},
        {"rp2040", "  GP15   PWM\n"},
        {"atmega32u4", "  XTAL1  not for switches: the crystal is on it\n"},
        {"flash mode", "board:bootloader     in a cell\n"},
        {"'flash mode' " DEMO, "board:bootloader     in a cell\n"},
        {"flash mode " DEMO, "board:bootloader     in a cell\n"},
        {"delay", "See also:\nhold-after           in a feel\n"},
        {"-- --", "--: in a cell\n  nothing, on purpose\n"},
        {"space " DEMO, "  stands on r1c2 (space/times) of layer base\n"},
        {"GP4 boards/translator.uvk", "  right it is used: a row\n"},
        {"left.r3c0 boards/translator.uvk", "turned by 14 degrees\n"},
        {"--list", "page-down            key\n"},
        {"--list " DEMO, "desk-keys            layer\n"},
    };

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(asked); i++) {
        char *command = g_strdup_printf("uvrek explain %s", asked[i].command);
        expect(command, 0, asked[i].told, NULL);
        g_free(command);
    }
    expect("uvrek explain volumeup", 1, NULL, "did you mean 'volume-up'?");
    expect("uvrek explain a tests/broken/cells.uvk", 1, NULL, "U022");
    expect("uvrek explain space/nope " DEMO, 1, NULL, "cell:1:7: error[U021]: no key or name");
    expect("uvrek explain r0c1 --layer timse " DEMO, 2, NULL, "did you mean 'times'?");
    expect("uvrek explain a/ctrl", 1, NULL, "name the file of its keymap as well");
    expect("uvrek explain ''", 2, NULL, "no UTF-8 text");
    expect("uvrek explain", 2, NULL, "needs a WORD");
}

/* What bash offers behind WORDS, the last of which is begun. */
#define OFFERED(words)                                                                         \
    "bash -c '. completions/uvrek.bash; COMP_WORDS=(" words "); "                              \
    "COMP_CWORD=$((${#COMP_WORDS[@]} - 1)); compopt() { :; }; _uvrek; "                        \
    "echo \"${COMPREPLY[@]}\"'"

static void words_are_completed(void **state)
{
    (void)state;
    expect(OFFERED("uvrek exp"), 0, "explain export\n", NULL);
    expect(OFFERED("uvrek sheet --ch"), 0, "--choices\n", NULL);
    expect(OFFERED("uvrek sheet " DEMO " --layer m"), 0, "mark mouse\n", NULL);
    expect(OFFERED("uvrek explain other-h"), 0, "other-hand\n", NULL);
    expect(OFFERED("uvrek check boards/tide"), 0, "boards/tidepad12.uvk\n", NULL);
    expect(OFFERED("uvrek play boa"), 0, "boards/\n", NULL);
}

static void new_folders_work_at_once(void **state)
{
    (void)state;
    expect("uvrek new --list", 0,
           "boards that ship: ferry26 (26 keys), lantern64 (64 keys), "
           "reel20 (20 keys), tidepad12 (12 keys), wherry38 (38 keys)",
           NULL);
    expect("uvrek new $SCRATCH/quay --keys 3x5 --chip rp2040 --split --direct", 0,
           "quay.uvk: the board, 30 keys on an RP2040\n", NULL);
    expect("uvrek play $SCRATCH/quay/keymap.uvk", 0, "2 plays, 0 failed", NULL);
    expect("grep -c 'uvrek flash' $SCRATCH/quay/README.md", 0, "2\n", NULL);
    expect("cat $SCRATCH/quay/README.md", 0,
           "Take the USB cable out before you join the halves or part them.", NULL);
    expect("uvrek new $SCRATCH/jetty --keys 5x6 --direct", 2, NULL,
           "a pin for each key, take 30 pins; the ATmega32U4 has 26");
    expect("uvrek new $SCRATCH/jetty --from tidepad12 --direct", 2, NULL,
           "are for a blank board, with --keys");
    expect("uvrek new $SCRATCH/pier --keys 4x6 --chip rp2040 --split", 0,
           "pier.uvk: the board, 48 keys on an RP2040\n", NULL);
    expect("uvrek check $SCRATCH/pier/keymap.uvk 2>&1 && uvrek play $SCRATCH/pier/keymap.uvk",
           0, "2 plays, 0 failed, in the simulator", NULL);
    expect("uvrek check $SCRATCH/pier/keymap.uvk 2>&1 | grep -c 'U0'", 1, "0\n", NULL);
    expect("uvrek tidy --check $SCRATCH/pier/keymap.uvk", 0, "is tidy", NULL);
    expect("cat $SCRATCH/pier/README.md", 0, "`uvrek explain left.r0c0 keymap.uvk`", NULL);
    expect("uvrek new $SCRATCH/desk --from tidepad12", 0, "tidepad12.uvk: the board, 12", NULL);
    expect("uvrek play --chip $SCRATCH/desk/keymap.uvk", 0, "2 plays, 0 failed, machine", NULL);
    expect("uvrek new \"$SCRATCH/9 lives\" --from boards/wherry38.uvk; cat $SCRATCH/9*/k*", 0,
           "keymap lives {", NULL);
    expect("uvrek new $SCRATCH/keymap --keys 1x2; cat $SCRATCH/keymap/board.uvk", 0,
           "board keymap {", NULL);
    expect("uvrek new $SCRATCH/desk --keys 2x2", 2, NULL, "is there already");
    expect("uvrek new $SCRATCH/no/way --keys 2x2", 2, NULL, "cannot make");
    expect("uvrek new $SCRATCH/no", 2, NULL,
           "boards that ship: ferry26 (26 keys), lantern64 (64 keys), "
           "reel20 (20 keys), tidepad12 (12 keys), wherry38 (38 keys)");
    expect("uvrek new $SCRATCH/no --from tidepat", 2, NULL, "no board 'tidepat'");
    expect("uvrek new $SCRATCH/no --from " DEMO, 2, NULL, "is more than a board");
    expect("uvrek new $SCRATCH/no --from tidepad12 --split", 2, NULL, "for a blank board");
    expect("uvrek new $SCRATCH/no --keys 4", 2, NULL, "as in 4x6");
    expect("uvrek new $SCRATCH/no --keys 2x2 --chip rp2050", 2, NULL, "did you mean 'rp2040'?");
    expect("uvrek new $SCRATCH/no --keys 20x20", 2, NULL, "from 1 to 240 keys");
    expect("uvrek new $SCRATCH/no --keys 12x15 --chip atmega32u4", 2, NULL, "27 pins");
    expect("test -e $SCRATCH/no", 1, NULL, NULL);
}

static void keymaps_travel_as_json(void **state)
{
    char *path;

    (void)state;
    expect("uvrek export -o $SCRATCH/desk.json " DEMO, 0, NULL, NULL);
    expect("uvrek import -o $SCRATCH/desk.uvk $SCRATCH/desk.json", 0, NULL, NULL);
    expect("uvrek check $SCRATCH/desk.uvk", 0, "desk: 5 layers, 0 plays", NULL);
    expect("uvrek import -o $SCRATCH/desk.uvk $SCRATCH/desk.json", 2, NULL, "is there already");
    expect("uvrek import $SCRATCH/desk.json", 0, "board tidepad12 {", NULL);
    expect("uvrek export --schema", 0, "\"$schema\"", NULL);
    expect("uvrek export --schema " DEMO, 2, NULL, "--schema is about no file");
    expect("uvrek export $SCRATCH/none.uvk", 2, NULL, "cannot read");
    expect("uvrek import $SCRATCH/none.json", 2, NULL, "cannot read");
    expect("sed 's/\"title\"/\"titel\"/' $SCRATCH/desk.json >$SCRATCH/wrong.json", 0, NULL,
           NULL);
    expect("uvrek import -o $SCRATCH/no.uvk $SCRATCH/wrong.json", 1, NULL,
           "wrong.json: /board/titel: error: no such member; did you mean 'title'?\n1 error\n");
    expect("test -e $SCRATCH/no.uvk", 1, NULL, NULL);
    path = scratch_file("cut.json", "{\n  \"board\": {");
    expect("uvrek import $SCRATCH/cut.json", 1, NULL, "cut.json:2:12: error: no JSON: ");
    g_free(path);
}

static void sheets_are_drawn(void **state)
{
    (void)state;
    expect("uvrek sheet --layer base " DEMO, 0,
           "│     S     │     A     │     L     │  speaker  │\n"
           "│   ctrl    │    alt    │    ⇧ L    │   (jog)   │\n",
           NULL);
    expect("uvrek sheet --layer base " DEMO, 0, "  jog      ↶ ctrl+left   ↷ ctrl+right\n",
           NULL);
    expect("uvrek sheet --layer base " DEMO, 0, "  combo    L + T  →  esc\n", NULL);
    expect("uvrek sheet --layer base " DEMO, 0, "  voice    types \"VOICE: \"\n", NULL);
    assert_fits(80, "uvrek sheet boards/box-office.uvk");
    expect("uvrek sheet boards/translator.uvk", 0, "┌────┤ ?  │    │    │ &  │", NULL);
    expect("uvrek sheet --wiring boards/wherry38.uvk", 0,
           "right\n  rows     r0 GP2, r1 GP3, r2 GP4, r3 GP5\n", NULL);
    expect("uvrek sheet --wiring " DEMO, 0, "│   B1→F4   │", NULL);
    expect("uvrek sheet --pairs " DEMO, 0, "  B1→F7        r0c3     speaker\n", NULL);
    expect("uvrek sheet --pairs tests/plays/direct.uvk", 0, "  A0 ⏚         d4       nav\n",
           NULL);
    expect("uvrek sheet -o $SCRATCH/s.svg " DEMO, 0, NULL, NULL);
    assert_file_has("s.svg", ">speaker</text>");
    assert_file_has("s.svg", ">hold mark and space</text>");
    assert_file_has("s.svg", ">ctrl+z + shift  →  once:shift</text>");
    expect("uvrek sheet --dark -o $SCRATCH/s.pdf boards/translator.uvk", 0, NULL, NULL);
    assert_file_has("s.pdf", "%PDF-");
    expect("uvrek sheet --wiring -o $SCRATCH/s.png boards/lantern64.uvk", 0, NULL, NULL);
    expect("uvrek sheet --layer bse " DEMO, 2, NULL, "no layer 'bse'; did you mean 'base'?");
    expect("uvrek sheet --layer base --pairs " DEMO, 2, NULL, "--layer is for layers");
    expect("uvrek sheet --pairs -o x.svg " DEMO, 2, NULL, "is text: leave --output away");
    expect("uvrek sheet boards/tidepad12.uvk", 0, "Tidepad 12: addresses",
           "there is no keymap here; this is the wiring");
    expect("uvrek sheet --layer base boards/tidepad12.uvk", 2, "", "--layer needs a keymap");
    expect("uvrek sheet --pairs boards/tidepad12.uvk", 0, "  B1→F7        r0c3\n", NULL);
    expect("uvrek sheet --choices boards/lantern64.uvk", 0, "\nenter iso\n", NULL);
    expect("uvrek sheet --choices -o $SCRATCH/c.svg boards/lantern64.uvk", 0, NULL, NULL);
    assert_file_has("c.svg", ">backspace split</text>");
    expect("uvrek sheet --choices boards/tidepad12.uvk", 2, "",
           "tidepad12 has no layout choices");
    expect("uvrek sheet -o $SCRATCH/s.bmp " DEMO, 2, NULL, "this is none");
}

/* A board that can be described, and not built yet. */
static void build_says_what_it_cannot(void **state)
{
    (void)state;
    expect("uvrek check boards/translator.uvk", 0,
           "wherry38: 38 keys on a 4x5 matrix (left) and a 4x5 matrix (right), RP2040", NULL);
    expect("uvrek build boards/tidepad12.uvk", 1, "",
           "name a file with a keymap for this board");
    expect("uvrek check boards/box-office.uvk", 0,
           "lantern64: 65 keys on a 5x15 matrix, enter ansi, backspace split, ATmega32U4",
           NULL);
}

static void a_text_is_typed(void **state)
{
    (void)state;
    expect("uvrek play --type 'Salt, last?' " DEMO, 0,
           "11 characters\n  asked    \"Salt, last?\"\n", NULL);
    expect("uvrek play --type 'Salt, last?' " DEMO " | grep -c ' yes '", 0, "4\n", NULL);
    expect("uvrek play --type 'salt' --json " DEMO, 0, "\"got\": \"salt\"", NULL);
    expect("uvrek play --type 'tall' --tempo fast --chip " DEMO, 0,
           "misfires are counted in the simulator only", NULL);
    expect(
        "uvrek play --type 'exit' " DEMO, 1, "",
        "uvrek: no key of this keymap types these, with two others at most: 'e', 'x', 'i'\n");
    expect("uvrek play --type 'salt' --tempo lento " DEMO, 2, "",
           "--tempo is one of: slow, steady, fast, racing\n");
    expect("uvrek play --tempo slow " DEMO, 2, "", "--tempo is for --type\n");
    expect("uvrek play --type '' " DEMO, 2, "", "there is no text to type\n");
    expect("uvrek play --type a --only b " DEMO, 2, "", "--type runs no plays");
}

/* A home row that holds as soon as another key is pressed cannot be rolled over. */
static void a_misfire_shows_in_what_came_out(void **state)
{
    char *path = scratch_file("misfire.uvk", BOARD9
                              "keymap k { host linux us; feel default { decide on-press }\n"
                              "layer base { a/ctrl s/alt d/shift; f/gui e r; t o i } }\n");
    const json_t *racing;
    json_t *json;

    (void)state;
    expect("uvrek play --type 'no deal' $SCRATCH/misfire.uvk", 1, "", "'n', ' ', 'l'\n");
    expect("uvrek play --type roadssoftstaridea --tempo fast $SCRATCH/misfire.uvk", 0,
           " yes               0 ", NULL);
    expect("uvrek play --type roadssoftstaridea --seed 2 $SCRATCH/misfire.uvk", 1,
           "\nfast: what came out differs from character 4 on\n  got      \"roaSsoaridea\"\n"
           "    1 time   d (r0c2) was held, not tapped\n"
           "    1 time   f (r1c0) was held, not tapped\n"
           "    1 time   s (r0c1) was held, not tapped\n",
           NULL);
    expect("uvrek play --type roadssoftstaridea --seed 2 $SCRATCH/misfire.uvk", 1,
           "\nby key, slowest first, tempo fast:\n", NULL);
    expect("uvrek play --type roadssoftstaridea --seed 2 $SCRATCH/misfire.uvk", 1,
           "1 not as asked\n", NULL);
    json =
        json_of("uvrek play --type roadssoftstaridea --seed 2 --json $SCRATCH/misfire.uvk", 1);
    racing = json_array_get(json_object_get(json, "tempos"), 3);
    assert_string_equal(json_string_value(json_object_get(racing, "tempo")), "racing");
    assert_int_equal(json_array_size(json_object_get(racing, "misfires")), 3);
    json_decref(json);
    g_free(path);
}

static void wrong_play_fails_the_same_way_on_both(void **state)
{
    char *path = scratch_file("plays.uvk", wrong_play);
    char *twice;

    (void)state;
    expect("uvrek play $SCRATCH/plays.uvk", 1, "expected \"ac\"\n          got      \"ab\"",
           NULL);
    expect("uvrek play --chip $SCRATCH/plays.uvk", 1,
           "expected \"ac\"\n          got      \"ab\"", NULL);
    expect("uvrek play $SCRATCH/plays.uvk", 1, "2 plays, 1 failed", NULL);
    expect("uvrek play $SCRATCH/plays.uvk", 1, " ms; text since the start of the play\n", NULL);
    twice = scratch_file(
        "since.uvk",
        KEYMAP9("a b c; d e f; g h board:bootloader") "play \"p\" { tap a; expect keys a; tap "
                                                      "b; tap c; expect keys c }\n");
    expect(
        "uvrek play $SCRATCH/since.uvk", 1,
        " ms; keys since the expectation at 17:19\n          expected c\n          got      b "
        "c\n",
        NULL);
    g_free(twice);
    g_free(path);
}

/* ---- build, flash, bench ---------------------------------------------------------------- */

static void build_reports_and_remembers(void **state)
{
    (void)state;
    expect("uvrek build -o $SCRATCH " DEMO, 0, "of 28,672 bytes", NULL);
    expect("uvrek build -o $SCRATCH " DEMO, 0, "nothing had changed", NULL);
    expect("ls $SCRATCH/boards-desk.hex $SCRATCH/boards-desk.bin $SCRATCH/boards-desk.elf", 0,
           NULL, NULL);
}

static void bench_takes_steps(void **state)
{
    char *waits;

    (void)state;
    expect("echo help | uvrek bench " DEMO, 0, "tap K [for T]: down for 20ms", NULL);
    expect("echo hepl | uvrek bench " DEMO " 2>&1 | grep -c 'messages are shown'", 1, "0\n",
           NULL);
    expect("printf 'tap s\\nexpect text \"s\"\\nexpect keys s\\n' | uvrek bench " DEMO, 0,
           "keys s  text \"s\"\npassed\npassed\n", NULL);
    expect("printf 'turn jog +2\\n' | uvrek bench " DEMO, 0, "keys ctrl+right ctrl+right\n",
           NULL);
    expect(
        "printf 'down s\\nwait 10ms\\ndown a\\nwait 60ms\\nturn jog +2\\nexpect wheel 0 -2\\n"
        "down r1c2\\nwait 50ms\\n' | uvrek bench " DEMO,
        0, "  wheel 0 -2\npassed\n", NULL);
    expect(
        "printf 'down s\\nwait 10ms\\ndown a\\nwait 60ms\\ndown r1c2\\nwait 50ms\\n' | uvrek "
        "bench " DEMO,
        0, "  pointer 1 0\n", NULL);
    expect("printf 'down shift\\nwait 100ms\\ntap l\\nup shift\\n' | uvrek bench " DEMO, 0,
           "keys shift\n", NULL);
    expect("printf 'tap s\\ntap r0c1\\nexpect held nothing\\n' | uvrek bench " DEMO, 0,
           "the host received \"sa\"", NULL);
    expect("printf 'tap s\\n' | uvrek bench --chip " DEMO, 0, "text \"s\"", NULL);
    waits =
        scratch_file("waits.uvk", BOARD9 "keymap k { macro slow { type \"a\"; wait 300ms; tap "
                                         "b; wait 50ms; tap c }\nlayer base { slow d "
                                         "board:restart; e f g; h i board:bootloader } }\n");
    expect("printf 'tap slow\nsettle\ntap r0c2\ntap d\n' | uvrek bench $SCRATCH/waits.uvk", 0,
           "     14 ms  keys a  text \"a\"\n    318 ms  keys b c  text \"bc\"\n"
           "the keyboard has restarted\n",
           NULL);
    expect("printf 'tap r0c2\nwait 400ms\ntap d\n' | uvrek bench --chip $SCRATCH/waits.uvk", 0,
           "the keyboard has restarted\n", NULL);
    g_free(waits);
    expect("printf 'tap s\\nexpect text \"x\"\\n' | uvrek bench " DEMO, 1,
           "failed: expected \"x\"", NULL);
    expect("printf 'tpa s\\ntap s\\n' | uvrek bench " DEMO, 1, "received \"s\"",
           "did you mean 'tap'?");
    expect("printf 'down mark\\ntap r2c0\\n' | uvrek bench " DEMO, 2, "gone to its bootloader",
           "as its bootloader is, it can be flashed");
    expect("uvrek bench --empty " DEMO, 2, NULL, "name its --serial port, its --drive or a");
    expect("uvrek bench --serial $SCRATCH/no/where " DEMO " < /dev/null", 2, NULL,
           "cannot make the serial port");
}

/* An empty chip, the flash command, and fingers: three programs, as in life. */
static void flash_command_fills_an_empty_chip(void **state)
{
    (void)state;
    expect("cd $SCRATCH && printf 'tap s\\ntap a\\n' |"
           "uvrek bench --empty --serial $SCRATCH/port " SOURCE_FOLDER "/" DEMO
           " > host & bench=$!;"
           "uvrek flash --wait 20 --port $SCRATCH/port " SOURCE_FOLDER "/" DEMO " &&"
           "wait $bench && cat $SCRATCH/host",
           0, "the host received \"sa\"", NULL);
    expect("uvrek flash --wait 0 --port $SCRATCH/port " DEMO, 2, "Start the bootloader",
           "no bootloader appeared");
    expect("uvrek flash --wait -1 " DEMO, 2, NULL, "--wait is from 0");
}

#define ROOM "boards/projection-room.uvk"

/* The same by the drive of an RP2040. */
static void drive_is_filled_and_started(void **state)
{
    (void)state;
    expect("cd $SCRATCH && printf 'tap cue\n' |"
           "uvrek bench --empty --drive $SCRATCH/drive " SOURCE_FOLDER "/" ROOM
           " > host & bench=$!;"
           "uvrek flash --wait 20 --drive $SCRATCH/drive " SOURCE_FOLDER "/" ROOM " &&"
           "wait $bench && cat $SCRATCH/host",
           0, " s; the drive has gone, as it does when the chip starts that", NULL);
    expect("cat $SCRATCH/host; ls $SCRATCH/drive 2>&1", 2, "the host received \"cue \"\n",
           NULL);
    expect("uvrek flash --wait 0 --drive $SCRATCH/drive " ROOM, 2,
           "press its reset button twice, quickly", "no bootloader appeared");
    expect("uvrek bench --empty --drive $SCRATCH/no/where " ROOM " < /dev/null", 2, NULL,
           "cannot make the drive's folder");
    expect("uvrek bench --empty --serial $SCRATCH/port " ROOM " < /dev/null", 2, NULL,
           "reel20 has a uf2 bootloader: --serial is for others");
    expect("uvrek bench --empty --drive $SCRATCH/drive " DEMO " < /dev/null", 2, NULL,
           "tidepad12 has a serial bootloader: --drive is for others");
    expect("printf 'tap board:bootloader\n' | uvrek bench --chip " ROOM, 2,
           "the keyboard has gone to its bootloader", "nothing runs any more");
}

/* A bench with a USB/IP server, and then COMMANDS, which find its port in $AT. What the bench
 * has printed is in $SCRATCH/bench afterwards; STEPS are typed when the commands have ended. */
static char *with_usb(const char *bench, const char *steps, const char *commands)
{
    return g_strdup_printf(
        "cd $SCRATCH && rm -f typed bench && mkfifo typed && : > bench && "
        "sed 's/boot  *serial/boot dfu/' " SOURCE_FOLDER
        "/boards/tidepad12.uvk > tidepad12.uvk && "
        "cp " SOURCE_FOLDER "/" DEMO " desk.uvk && "
        "{ uvrek bench --usbip 0 %s desk.uvk < typed > bench 2>&1 & } && exec 7> typed && "
        "until AT=$(sed -n 's/^a USB.IP server is at port //p' bench) && test -n \"$AT\" && "
        "grep -q 'it is on USB\\|^a' bench; do :; done; %s; S=$?; printf '%s' >&7; exec 7>&-; "
        "test $S = 0 && wait; kill $! 2> /dev/null; exit $S",
        bench, commands, steps);
}

static void expect_with_usb(const char *bench, const char *steps, const char *commands,
                            int status, const char *out, const char *err)
{
    char *command = with_usb(bench, steps, commands);

    expect(command, status, out, err);
    g_free(command);
}

/* By DFU, over USB/IP; and what the keyboard is then. */
static void dfu_fills_an_empty_chip(void **state)
{
    (void)state;
    expect_with_usb("--empty", "tap s\ntap a\n",
                    "uvrek ready --usbip $AT desk.uvk && "
                    "uvrek flash --wait 20 --usbip $AT desk.uvk && "
                    "uvrek ready --usbip $AT desk.uvk",
                    0,
                    "plugged in: its bootloader, on USB, at 1-1\n\nReady.\n"
                    "found its bootloader, on USB, at 1-1\n",
                    NULL);
    expect("cat $SCRATCH/bench", 0, "the host received \"sa\"\n", NULL);
    expect_with_usb("--empty", "tap s\n", "uvrek flash --wait 20 --usbip $AT desk.uvk", 0,
                    "the keyboard is there: Tidepad 12 (1209:0001) at USB 1-1\n", NULL);
    expect_with_usb("--chip", "", "uvrek ready --usbip $AT desk.uvk", 0,
                    "plugged in: Tidepad 12 (1209:0001) at USB 1-1\n\nReady.\n", NULL);
    expect("uvrek ready --usbip 1 " DEMO, 2, "", "no USB/IP server at 127.0.0.1:1");
    expect("uvrek bench --usbip 99999 " DEMO " < /dev/null", 2, "", "cannot listen at 99999");
}

static const struct {
    const char *fault;
    int status;
    const char *err;
} dfu_faults[] = {
    {"other-chip", 2,
     "another chip is there: it says 1F 94 86, the ATmega32U4 says 1E 95 87; "
     "nothing was written\n"},
    {"refused-write", 2,
     "refused to write: it cannot program its memory; the keyboard holds no "
     "whole firmware now"},
    {"lost-bit", 1, "the chip does not hold what was written"},
    {"cut", 2, "was gone when it was asked to write"},
    {"nonsense", 2, "refused to write: what it answers means nothing"},
    {"slow", 0, NULL},
};

static void dfu_troubles_are_told(void **state)
{
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(dfu_faults); i++) {
        char *bench = g_strconcat("--empty --fault ", dfu_faults[i].fault, NULL);
        expect_with_usb(bench, "", "uvrek flash --wait 20 --usbip $AT desk.uvk",
                        dfu_faults[i].status, NULL, dfu_faults[i].err);
        g_free(bench);
    }
}

/* What is in the chip is looked at before it is written. */
static void the_chip_is_asked_first(void **state)
{
    (void)state;
    expect("uvrek flash --wait 0 --touch $SCRATCH/nothing --port $SCRATCH/nothing " DEMO, 2,
           NULL, "cannot touch");
    expect_with_usb(
        "--empty", "", "uvrek flash --save copy.hex --usbip $AT desk.uvk", 1, NULL,
        "the chip is empty: there is nothing to keep a copy of; nothing was written");
    expect("uvrek flash --save copy.txt " DEMO, 2, NULL, "a copy is a .hex, .bin or .uf2 file");
    expect("uvrek flash --save copy.uf2 " DEMO, 2, NULL,
           "there are no .uf2 files for this chip");
    expect("uvrek flash", 2, NULL,
           "flash needs a FILE, or --save, --write-rule or --probe with --chip");
    expect("uvrek flash --save copy.hex", 2, NULL, "say which chip is meant: --chip CHIP");
}

/* A keyboard that runs is touched, copied and given another keymap. */
static void a_running_keyboard_is_touched(void **state)
{
    static const char touch[] = "--touch running --port running --wait 20";
    char *command = g_strdup_printf(
        "cd $SCRATCH && rm -f typed && mkfifo typed && "
        "{ uvrek bench --chip --serial running %s/" DEMO " < typed > bench 2>&1 & } && "
        "exec 7> typed && until test -e running; do :; done; "
        "uvrek flash %s %s/boards/box-office.uvk; "
        "uvrek flash --port running --wait 20 --json --save copy.hex %s/" DEMO
        " | grep done && "
        "uvrek explain copy.hex; exec 7>&-; wait",
        SOURCE_FOLDER, touch, SOURCE_FOLDER, SOURCE_FOLDER);

    (void)state;
    expect(command, 0, "\"verified\":true,\"remark\":null}\ncopy.hex: HEX, ",
           "the chip holds the keymap desk for the board tidepad12, and this is for lantern64; "
           "nothing was written. If that is meant, add --other-board\n");
    g_free(command);
    expect("cat $SCRATCH/bench", 0, "the keyboard has gone to its bootloader\n", NULL);
}

static void another_board_is_flashed_on_request(void **state)
{
    (void)state;
    expect("cd $SCRATCH && rm -f typed && mkfifo typed && "
           "{ uvrek bench --chip --serial running " SOURCE_FOLDER "/" DEMO
           " < typed > bench 2>&1 & } && exec 7> typed && until test -e running; do :; done; "
           "uvrek flash --touch running --port running --wait 20 --other-board " SOURCE_FOLDER
           "/boards/box-office.uvk; exec 7>&-; wait",
           0,
           "what this keyboard has kept is of the other board: it counts for nothing\n"
           "writing ",
           NULL);
}

static void the_rule_for_udev_is_written(void **state)
{
    (void)state;
    expect("cd $SCRATCH && uvrek flash --write-rule r.rules " SOURCE_FOLDER "/" DEMO
           " && grep -c uaccess r.rules",
           0, "/etc/udev/rules.d/70-uvrek-tidepad12.rules\n", NULL);
    expect("cat $SCRATCH/r.rules", 0, "ATTR{idVendor}==\"1209\", ATTR{idProduct}==\"0001\"",
           NULL);
    expect("uvrek flash --write-rule /no/where " DEMO, 2, "", "cannot");
}

/* Firmware that was built before, here or elsewhere, needs no keymap. */
static void files_are_flashed_and_explained(void **state)
{
    (void)state;
    expect("uvrek build -o $SCRATCH/made " DEMO
           " && uvrek explain $SCRATCH/made/boards-desk.hex | sed 's/[0-9]* %/a part/'",
           0,
           "for the ATmega32U4\n  Uvrek 0.1.0: the keymap desk for the board tidepad12\n"
           "  it fits: a part of the flash\n",
           NULL);
    expect("cd $SCRATCH && F=$SCRATCH/made/boards-desk.bin; printf 'tap s\\n' |"
           "uvrek bench --empty --serial $SCRATCH/made-port " SOURCE_FOLDER "/" DEMO
           " > host & bench=$!;"
           "uvrek flash --wait 20 --port $SCRATCH/made-port $F && wait $bench && cat "
           "$SCRATCH/host",
           0, " s; the firmware has been started\n", NULL);
    expect("cat $SCRATCH/host", 0, "the host received \"s\"\n", NULL);
    expect("uvrek flash --chip rp2040 $SCRATCH/made/boards-desk.elf", 1, "",
           "the file is for the ATmega32U4, --chip says the RP2040");
    expect("head -c 30000 /dev/zero > $SCRATCH/zero.bin; uvrek flash $SCRATCH/zero.bin", 2,
           "for a chip that nothing in it tells", "is for: --chip CHIP");
    expect("uvrek flash --chip atmega32u4 $SCRATCH/zero.bin", 1, "it does not fit",
           "has flash up to 0x00006fff, and then its bootloader");
    expect("uvrek flash --chip z80 $SCRATCH/zero.bin", 2, "", "there is no chip 'z80' here");
    expect("uvrek flash --dry-run " DEMO, 0,
           " bytes would go to the ATmega32U4 of Tidepad 12 through its serial bootloader; "
           "nothing was written\n",
           NULL);
    expect("uvrek flash --dry-run $SCRATCH/made/boards-desk.elf", 0,
           " would go to the ATmega32U4 of tidepad12 through its serial bootloader", NULL);
    expect("uvrek flash --wait 60 --port $SCRATCH/none " DEMO " > $SCRATCH/waits & it=$!;"
           "until grep -q Start $SCRATCH/waits; do sleep 0.02; done; kill -INT $it; wait $it",
           2, NULL, "uvrek: stopped; nothing was written\n");
    expect("uvrek flash --chip rp2040 " DEMO, 2, "", "--chip is for files with machine code");
    expect("head -c 700 $SCRATCH/made/boards-desk.hex > $SCRATCH/cut.hex;"
           "uvrek flash $SCRATCH/cut.hex",
           1, "", "HEX file, line 16: ");
}

/* What can go wrong while flashing: its message and exit status; then a second try. */
static void flash_command_tells_what_went_wrong(void **state)
{
    static const struct {
        const char *fault;
        int status;
        const char *message;
    } faults[] = {
        {"other-chip", 2, "another chip is there"},
        {"refused-write", 2, "the bootloader refused to write"},
        {"lost-bit", 1, "does not hold what was written"},
        {"silence", 2, "no answer from the bootloader"},
    };

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(faults); i++) {
        char *command = g_strdup_printf(
            "cd $SCRATCH; F=" SOURCE_FOLDER "/" DEMO "; P=$SCRATCH/fault-port;"
            "uvrek bench --empty --fault %s --serial $P $F > /dev/null < /dev/null & bench=$!;"
            "uvrek flash --wait 20 --port $P $F > /dev/null; status=$?;"
            "kill $bench; wait $bench 2> /dev/null; rm -f $P;"
            "uvrek bench --empty --serial $P $F > again < /dev/null & bench=$!;"
            "uvrek flash --wait 20 --port $P $F > /dev/null || status=99;"
            "wait $bench || status=98; exit $status",
            faults[i].fault);
        expect(command, faults[i].status, NULL, faults[i].message);
        g_free(command);
    }
    expect("uvrek bench --empty --fault fire --serial $SCRATCH/p " DEMO, 2, NULL,
           "unknown fault; choose from: other-chip, refused-write, lost-bit, silence");
}

/* A keymap that is too large: by how much, where the room goes, and what would help. */
static void too_large_says_what_would_help(void **state)
{
    GString *text = g_string_new(BOARD9 "keymap programme {\n macro all { type \"");
    char *path;
    struct ran ran;

    (void)state;
    for (int i = 0; i < 480; i++) {
        g_string_append(text, "Evening of the tide, hall two, doors at eight. ");
    }
    g_string_append(text, "\" }\n layer base { a b c; mute all e; board:bootloader f g }\n}\n");
    path = scratch_file("large.uvk", text->str);
    ran = run("uvrek check --json $SCRATCH/large.uvk | grep estimate; uvrek build -o $SCRATCH "
              "$SCRATCH/large.uvk");
    assert_int_equal(ran.status, 1);
    assert_has(ran.out, "\"flash-estimate\": 3");
    assert_has(ran.err, " too many\n");
    assert_has(ran.out, "the keymap itself");
    assert_has(ran.out, "\n  texts that macros type ");
    assert_has(strstr(ran.out, "texts that macros type"), "   then it fits\n");
    assert_null(strstr(strstr(ran.out, "media keys"), "fits"));
    g_free(ran.out);
    g_free(ran.err);
    g_free(path);
    g_string_free(text, TRUE);
}

static void ready_names_what_is_missing(void **state)
{
    (void)state;
    expect("uvrek ready " DEMO, 0, "Ready.", NULL);
    expect("U=$(command -v uvrek); PATH=/nowhere $U ready " DEMO, 1,
           "apt-get install gcc-avr binutils-avr", NULL);
    expect("U=$(command -v uvrek); PATH=/nowhere $U build " DEMO, 2, NULL,
           "cannot build for the ATmega32U4 yet");
}

/* What `make install` puts somewhere works there: command, boards, firmware, chip. */
static void installed_tree_stands_alone(void **state)
{
    char *self = g_file_read_link("/proc/self/exe", NULL);
    char *build = g_path_get_dirname(self);
    char *install =
        g_strdup_printf("cmake --install %s --prefix $SCRATCH/prefix >/dev/null", build);

    (void)state;
    expect(install, 0, NULL, NULL);
    expect(
        "cd / && $SCRATCH/prefix/bin/uvrek check $SCRATCH/prefix/share/uvrek/boards/*desk.uvk",
        0, "tidepad12", NULL);
    expect(
        "cd / && HOME=$SCRATCH/home2 XDG_CACHE_HOME=$SCRATCH/home2 $SCRATCH/prefix/bin/uvrek "
        "play --chip $SCRATCH/prefix/share/uvrek/boards/subtitle-desk.uvk",
        0, "19 plays, 0 failed", NULL);
    expect("cd / && sed '/^keymap/a live { room 256 }' "
           "$SCRATCH/prefix/share/uvrek/boards/box-office.uvk > $SCRATCH/prefix/share/uvrek/"
           "boards/live.uvk && HOME=$SCRATCH/home2 XDG_CACHE_HOME=$SCRATCH/home2 "
           "$SCRATCH/prefix/bin/uvrek build -o $SCRATCH/home2 "
           "$SCRATCH/prefix/share/uvrek/boards/live.uvk",
           0, "box-office for the ATmega32U4", NULL);
    expect(
        "ls $SCRATCH/prefix/lib*/pkgconfig/uvrek.pc $SCRATCH/prefix/lib/*/pkgconfig/uvrek.pc "
        "$SCRATCH/prefix/include/uvrek/engine.h $SCRATCH/prefix/share/man/man1/uvrek.1 "
        "2>/dev/null | wc -l",
        0, "3", NULL);
    expect("ls $SCRATCH/prefix/share/bash-completion/completions/uvrek "
           "$SCRATCH/prefix/share/zsh/site-functions/_uvrek "
           "$SCRATCH/prefix/share/fish/vendor_completions.d/uvrek.fish",
           0, NULL, NULL);
    expect("cd / && $SCRATCH/prefix/bin/uvrek new $SCRATCH/landing --from tidepad12", 0,
           "the board, 12 keys", NULL);
    g_free(self);
    g_free(build);
    g_free(install);
}

/* Another project finds the library with CMake, and every part of it can be linked. */
static void another_project_links_the_library(void **state)
{
    char *lists = scratch_file("CMakeLists.txt",
                               "cmake_minimum_required(VERSION 3.25)\nproject(other C)\n"
                               "find_package(uvrek REQUIRED)\nadd_executable(other other.c)\n"
                               "target_link_libraries(other PRIVATE uvrek::uvrek)\n");
    char *source = scratch_file(
        "other.c", "#include \"uvrek/bench.h\"\n#include \"uvrek/exchange.h\"\n"
                   "#include \"uvrek/explain.h\"\n#include \"uvrek/flash.h\"\n"
                   "#include \"uvrek/sheet.h\"\n#include \"uvrek/start.h\"\n"
                   "#include <stdio.h>\n"
                   "int main(int argc, char **argv)\n{\n"
                   "    struct uvk_program *program = uvk_program_load(argv[1]);\n"
                   "    struct uvk_sheet sheet = {.kind = UVK_SHEET_LAYERS, .layer = -1};\n"
                   "    char *json = uvk_exchange_write(program, NULL);\n"
                   "    bool drawn = uvk_sheet_draw(program, &sheet, argv[2], NULL);\n"
                   "    printf(\"%d arguments, %zu bytes, drawn: %d\\n\", argc, "
                   "strlen(json), drawn);\n"
                   "    g_free(json);\n    uvk_program_free(program);\n    return 0;\n}\n");

    (void)state;
    if (!few_rounds()) { /* a library with sanitizers inside links only with them */
        expect("cmake -S $SCRATCH -B $SCRATCH/other -DCMAKE_PREFIX_PATH=$SCRATCH/prefix "
               ">$SCRATCH/other.log 2>&1 && cmake --build $SCRATCH/other >>$SCRATCH/other.log "
               "2>&1 || cat $SCRATCH/other.log",
               0, NULL, NULL);
        expect("$SCRATCH/other/other " DEMO " $SCRATCH/other.svg", 0, "bytes, drawn: 1", NULL);
        /* a tree that was moved is found by its pkg-config files all the same */
        expect(
            "cp -r $SCRATCH/prefix $SCRATCH/moved && P=$(find $SCRATCH/moved -name pkgconfig) "
            "&& "
            "PKG_CONFIG_PATH=$P cc -o $SCRATCH/port examples/own_port.c "
            "$(PKG_CONFIG_PATH=$P pkg-config --cflags --libs uvrek-engine) && $SCRATCH/port | "
            "grep -c .",
            0, "\n", NULL);
    }
    g_free(lists);
    g_free(source);
}

/* ---- examples --------------------------------------------------------------------------- */

static void examples_run(void **state)
{
    (void)state;
    expect("example_type_text " DEMO " 'salt lat?'", 0, "received \"salt lat?\"", NULL);
    expect("example_check_and_lower " DEMO " $SCRATCH/desk.image", 0,
           "14 keys, 5 layers, 4 lines of 3 switches", NULL);
    expect("example_build_and_flash " DEMO, 0, "the chip holds them: yes", NULL);
    expect("example_change_a_key " DEMO " mark r2c1 ctrl+f", 0,
           "    board:bootloader  ctrl+f toggle:times  '.'\n",
           "before, it runs the macro head");
    expect("example_change_a_key " DEMO " mark r2c1 ctrl+", 1, NULL, "'ctrl+' is no cell");
    expect("example_own_port", 0, "interface 1: 01 00 30 00 00 00 ...", NULL);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(help_is_there),
        cmocka_unit_test(check_says_what_is_there),
        cmocka_unit_test(other_files_are_named),
        cmocka_unit_test(check_shows_delays),
        cmocka_unit_test(check_shows_mistakes),
        cmocka_unit_test(bad_files_are_told_once),
        cmocka_unit_test(unreadable_file_is_told),
        cmocka_unit_test(output_that_cannot_be_written_is_told),
        cmocka_unit_test(json_can_be_read),
        cmocka_unit_test(demo_plays_pass),
        cmocka_unit_test(why_shows_decisions),
        cmocka_unit_test(only_chooses_plays),
        cmocka_unit_test(tap_is_told_by_its_protocol),
        cmocka_unit_test(play_is_drawn),
        cmocka_unit_test(cells_are_lined_up),
        cmocka_unit_test(words_are_explained),
        cmocka_unit_test(sheets_are_drawn),
        cmocka_unit_test(keymaps_travel_as_json),
        cmocka_unit_test(words_are_completed),
        cmocka_unit_test(new_folders_work_at_once),
        cmocka_unit_test(build_says_what_it_cannot),
        cmocka_unit_test(a_text_is_typed),
        cmocka_unit_test(a_misfire_shows_in_what_came_out),
        cmocka_unit_test(wrong_play_fails_the_same_way_on_both),
        cmocka_unit_test(build_reports_and_remembers),
        cmocka_unit_test(bench_takes_steps),
        cmocka_unit_test(flash_command_fills_an_empty_chip),
        cmocka_unit_test(drive_is_filled_and_started),
        cmocka_unit_test(dfu_fills_an_empty_chip),
        cmocka_unit_test(dfu_troubles_are_told),
        cmocka_unit_test(the_chip_is_asked_first),
        cmocka_unit_test(a_running_keyboard_is_touched),
        cmocka_unit_test(another_board_is_flashed_on_request),
        cmocka_unit_test(the_rule_for_udev_is_written),
        cmocka_unit_test(files_are_flashed_and_explained),
        cmocka_unit_test(flash_command_tells_what_went_wrong),
        cmocka_unit_test(too_large_says_what_would_help),
        cmocka_unit_test(ready_names_what_is_missing),
        cmocka_unit_test(installed_tree_stands_alone),
        cmocka_unit_test(another_project_links_the_library),
        cmocka_unit_test(examples_run),
    };
    return cmocka_run_group_tests_name("cli", tests, command_line_set_up, NULL);
}
