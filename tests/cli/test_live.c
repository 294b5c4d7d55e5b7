/* The running keyboard, changed from the command line: the machine code of both chips on the
 * bench, reached over USB/IP. */
#include "command.h"

#include <string.h>

/* A copy of a shipped keymap, with a live door; $1 its name. */
#define COPY                                                                                   \
    "cp " SOURCE_FOLDER "/boards/*.uvk $SCRATCH && cd $SCRATCH && "                            \
    "grep -q '^  live' $1.uvk || sed -i 's/^keymap .* {$/&\\n  live { room 256 }/' $1.uvk; "

/* What tests do with a running keyboard. */
#define TOOLS ". " SOURCE_FOLDER "/tests/cli/running.sh; "

/* How each is flashed. */
#define ROADS                                                                                  \
    "case $1 in box-office) KEY=r2c5 ROAD=\"--serial road\" TO=\"--port road\";; "             \
    "*) KEY=r1c2 ROAD=\"--drive road\" TO=\"--drive road\";; esac; "

/* Under the sanitizers one chip is enough. */
static bool is_tried(const char *keymap)
{
    return g_getenv("UVREK_ONE_CHIP") == NULL || strcmp(keymap, "box-office") == 0;
}

/* COMMANDS with a keymap, the keyboard switched on. */
static void on(const char *keymap, const char *commands, int status, const char *out,
               const char *err)
{
    char *command = g_strconcat("set -- ", keymap,
                                "; " COPY "rm -rf memory state road; " ROADS TOOLS "bench $1; ",
                                commands, "; S=$?; exec 7>&-; wait $B; exit $S", NULL);

    if (is_tried(keymap)) {
        expect(command, status, out, err);
    }
    g_free(command);
}

static const char *const keymaps[] = {"box-office", "projection-room"};

static void each(const char *commands, int status, const char *out, const char *err)
{
    for (size_t i = 0; i < G_N_ELEMENTS(keymaps); i++) {
        on(keymaps[i], commands, status, out, err);
    }
}

static void a_key_is_changed_and_stays_so(void **state)
{
    (void)state;
    on("box-office",
       "consent box-office.uvk && cat opened && live set box-office.uvk r2c5 x && "
       "type r2c5 && off && bench box-office && type r2c5 r2c5 && "
       "live list box-office.uvk && off",
       0,
       "r2c5 on desk: s -> x\n"
       "in box-office.uvk, and in lantern64 ",
       NULL);
    on("projection-room",
       "consent projection-room.uvk && live set projection-room.uvk r2c3 on numbers '5' && "
       "live set projection-room.uvk 'macro cue { type \"reel \" }' && "
       "live set projection-room.uvk 'combo r3c0+r3c1 -> tab { on reels }' && "
       "live set projection-room.uvk 'set debounce 7ms' && "
       "type cue && off && bench projection-room && type cue && off",
       0, "macro cue: type \"cue \" -> type \"reel \"\n", NULL);
    if (!is_tried("projection-room")) {
        return;
    }
    expect("tail -n 1 $SCRATCH/bench; grep -c 'type \"reel \"' $SCRATCH/projection-room.uvk", 0,
           "the host received \"reel \"\n1\n", NULL);
}

static void the_last_change_is_undone_in_both(void **state)
{
    (void)state;
    on("box-office",
       "cp box-office.uvk before.uvk; consent box-office.uvk && "
       "live set box-office.uvk r2c5 x && live set box-office.uvk r2c6 on till 'd' && "
       "live undo box-office.uvk && live undo box-office.uvk && "
       "cmp before.uvk box-office.uvk && live diff before.uvk && live undo box-office.uvk",
       2, "r2c5 on desk: x -> s\n", "has no change by `live set` to undo");
    on("box-office",
       "consent box-office.uvk && live set box-office.uvk r2c5 x && "
       "echo '# by hand' >> box-office.uvk && live undo box-office.uvk",
       2, "s -> x\n", "was changed since by somebody else: undoing would lose that");
}

/* One text goes into the keyboard, and out of it into another one. */
static void text_and_keyboard_are_compared(void **state)
{
    (void)state;
    on("box-office",
       "consent box-office.uvk && cp box-office.uvk other.uvk && "
       "sed -i 's/wait 150ms; tap enter/wait 90ms; tap tab/; s/within 220ms/within 300ms/; "
       "s/ a  s  d / a  once:alt  d /; s/^  host windows us/&\\n  feel calm { hold-after 250ms "
       "}/; s/esc.ctrl /esc\\/ctrl~calm /' other.uvk && live diff other.uvk; test $? = 1 && "
       "live push other.uvk && live diff other.uvk && live pull box-office.uvk && "
       "live diff box-office.uvk && grep live- box-office.uvk && live forget && "
       "live diff box-office.uvk",
       1,
       "3 differences, keyboard -> text:\n"
       "  dance stamp: tap -> macro { tap ctrl+p; wait 150ms; tap enter }; hold -> gui+l; tap "
       "tap -> festival; within 220ms -> tap -> receipt; hold -> gui+l; tap tap -> festival; "
       "within 300ms  (changed in the text)\n"
       "  r2c3 on desk: esc/ctrl -> esc/ctrl~calm  (changed in the text)\n"
       "  r2c5 on desk: s -> once:alt  (changed in the text)\n",
       NULL);
    /* both have been changed since the build: which one is told */
    on("box-office",
       "F=box-office.uvk; consent $F > told && cp $F old && live set $F r2c5 f9 > told && "
       "sed 's/ f  g  h / f8 g  h /' old > $F && live diff $F",
       1,
       "2 differences, keyboard -> text:\n"
       "  r2c5 on desk: f9 -> s  (changed in the keyboard)\n"
       "  r2c7 on desk: f -> f8  (changed in the text)\n",
       NULL);
}

/* An open door lets the list look closer. */
static void the_list_knows_whether_it_is_what_the_file_says(void **state)
{
    (void)state;
    on("box-office",
       "F=box-office.uvk; is() { live list $F | grep -o 'uvk: .*'; }; cp $F old; is; "
       "consent $F > told; live set $F r2c5 x > told; is; cp old $F; is; live close $F > told; "
       "is; uvrek live set " SOURCE_FOLDER "/boards/box-office.uvk r2c5 x",
       2,
       "uvk: it does what the file says\n"
       "uvk: it does what the file says, by changes that it keeps\n"
       "uvk: it does something else than the file says; `uvrek live diff` says what\n"
       "uvk: it was changed since it was built from the file; `uvrek live diff` says what "
       "differs\n",
       "boards/box-office.uvk does not say `live { }`: write that into it, build and flash");
}

/* What no key does yet is told by the lines of the text; the default feel keeps its name. */
static void what_no_key_does_is_told_as_well(void **state)
{
    (void)state;
    on("box-office",
       "F=box-office.uvk; consent $F > told; cp $F old; "
       "live set $F 'feel calm { hold-after 240ms }' | head -n 2; live undo $F | head -n 2; "
       "live swap $F r0c0 r0c0 | head -n 1; cmp $F old; "
       "live set $F 'feel default { hold-after 260ms }' > told; "
       "live set $F r2c5 s/alt > told; cp old $F; live pull $F > told; "
       "grep -o ' s/alt  *d ' $F; grep -o 'feel .*' $F",
       0,
       "no key does anything else than before; these lines of the text changed:\n"
       "  + feel calm { hold-after 240ms }\n"
       "no key does anything else than before; these lines of the text changed:\n"
       "  - feel calm { hold-after 240ms }\n"
       "the text said so already\n"
       " s/alt d \n"
       "feel default { hold-after 260ms }\n",
       "");
}

static void what_cannot_be_done_is_told(void **state)
{
    (void)state;
    on("box-office",
       "consent box-office.uvk; live set box-office.uvk r2c5 ctrl+right-alt+x; "
       "live set box-office.uvk r9c9 x; live set box-office.uvk r2c5 on tilt x; "
       "live set box-office.uvk r2c5 nonsens; "
       "live set box-office.uvk 'macro long { type \"a text that is far too long for the room "
       "of this keyboard, which has to hold it, and all that stands behind it as well: it is "
       "moved to the end with all the other texts\"; type \"and once more, a text that is far "
       "too long for the room of this keyboard, which has to hold it, for certain\" }'; "
       "live set box-office.uvk a b c d; "
       "live set box-office.uvk r2c5; live list nonsense.uvk; live sett; live set; cmp "
       "box-office.uvk " SOURCE_FOLDER "/boards/box-office.uvk | wc -c",
       0, "",
       "uvrek: this needs a part that the keyboard's firmware was built without, as nothing "
       "asked for it: chords of several kinds; `uvrek build` and `uvrek flash` do it\n"
       "uvrek: the board has no key 'r9c9'; did you mean 'r0c9'?\n"
       "uvrek: no layer 'tilt'; did you mean 'till'?\n"
       "uvrek: 'nonsens' is no cell: no key or name 'nonsens'\n"
       "uvrek: this takes 445 bytes of the keyboard's room for changes, which is 256; `uvrek "
       "build` and `uvrek flash` do it\n"
       "uvrek: a change is KEY CELL, or KEY on LAYER CELL, or one STATEMENT in quotes\n"
       "uvrek: what is r2c5 to do? Say so behind it: KEY CELL, or KEY on LAYER CELL\n");
}

/* Nothing but who it is, before the keys were pressed; and wrong keys open nothing. */
static void the_door_is_closed(void **state)
{
    (void)state;
    each(": > asked; { live diff $1.uvk 2> asked & }; O=$!; seen 'typed nowhere' asked; "
         " for key in r0c0 r0c1 r1c1 r1c0; do type $key; done; wait $O",
         2, "", NULL);
    expect("tail -n 1 $SCRATCH/asked", 0,
           "uvrek: another key was pressed: the door stays closed; try again\n", NULL);
    on("projection-room",
       "consent projection-room.uvk && live close && live list --json && "
       ": > asked; { live restart 2> asked 7>&- & }; O=$!; seen 'typed nowhere' asked; "
       "seen 'Keys are counted as the board lists them' asked; off; wait $O",
       2, "\"open\": false", NULL);
}

/* Text and keyboard have both changed since the build: the flash loses nothing. */
#define FLASH                                                                                  \
    "F=$1.uvk; flash() { uvrek flash --wait 20 $TO --usbip $AT \"$@\" $F < /dev/null; }; "     \
    "consent $F > told && cp $F old && live set $F $KEY f9 > told && "

static void a_flash_loses_no_change(void **state)
{
    (void)state;
    on("box-office",
       FLASH "sed 's/room 256/room 200/' old > $F && { flash 2> refused || cat refused; } && "
             "flash --live-changes keep > told && "
             "seen 'has started what was flashed' bench && live list $F && type $KEY && "
             "seen 'keys f9' bench; diff old $F | grep -c '^>'",
       0, "f9 -> ", NULL);
    on("projection-room",
       FLASH "sed -i 's/room 256/room 200/' $F && flash > told && cat told && "
             "seen 'has started what was flashed' bench && live list $F",
       0, "the text says all of it\n", NULL);
    on("box-office",
       FLASH "cp old $F; flash --live-changes lose; uvrek flash --wait 0 $TO --usbip $AT $F; "
             "sed -i 's/room 256/room 99/' $F; "
             "uvrek flash --wait 0 $TO --usbip $AT --live-changes drop $F",
       2, "that goes, as it was asked for\n", "uvrek: --live-changes is keep or drop\n");
}

static void what_happens_is_watched(void **state)
{
    (void)state;
    on("projection-room",
       "consent projection-room.uvk > told && { exec uvrek live --at $AT watch "
       "projection-room.uvk > watched 2> end 7>&-; } & "
       "W=$!; seen 'layers on: reels' watched; "
       "printf 'down numbers\\ntap r0c2\\nup numbers\\ntap cue\\n' >&7; "
       "seen 'up   cue' watched; live list; kill $W; wait $W; "
       "cut -c 11- watched",
       0,
       "     layers on: reels\n"
       "  down numbers (r3c0)\n"
       "  down up (r0c2)\n"
       "       numbers (r3c0) does numbers: pressed\n"
       "       layers on: reels numbers\n"
       "       up (r0c2) does 8: pressed\n",
       NULL);
}

/* A recording says when a press counted, and when a release did: these two are 7 ms apart, and
 * a contact has to be open for 8. */
static void what_counted_counts_again(void **state)
{
    (void)state;
    expect(
        "cp " SOURCE_FOLDER "/boards/*.uvk $SCRATCH && cd $SCRATCH && "
        "sed -i 's/host linux us/&; set debounce 8ms/; s/ enter$/ enter\\/shift/' "
        "projection-room.uvk && "
        "at() { printf '{\"kind\":\"%s\",\"ms\":%u,\"place\":\"r2c4\",%s}\\n' \"$@\"; } && "
        "{ at contact 411 '\"down\":true'; at decision 411 '\"does\":\"shift\"'; "
        "at contact 774 '\"down\":false'; at contact 781 '\"down\":true'; "
        "at contact 809 '\"down\":false'; at decision 781 '\"does\":\"enter\"'; } > trace && "
        "uvrek play --replay trace projection-room.uvk",
        0,
        "the host received \"\\n\"\n"
        "each press does what it did when it was recorded\n",
        "");
}

/* The same fingers on the same keymap do the same, and on another one what that says. */
static void what_was_watched_is_played_again(void **state)
{
    (void)state;
    on("box-office",
       "F=box-office.uvk; consent $F > told && : > trace && { exec uvrek live --at $AT watch "
       "$F "
       "--json --picture seen.svg > trace 2> end 7>&-; } & "
       "W=$!; seen '\"layer\":\"desk\"' trace; "
       "printf 'down esc\nwait 220ms\ntap c\nup esc\ntap a\n' >&7; "
       "seen '\"place\":\"r2c4\",\"down\":false' trace; kill -INT $W; wait $W; cat end; "
       "grep -o 'still down after its time' seen.svg; "
       "uvrek play --replay trace $F; sed s,esc/ctrl,esc, $F > other.uvk; "
       "uvrek play --replay trace other.uvk | sed 's/^ *[0-9]* ms  //'; "
       "uvrek play --replay trace --chip box-office.uvk | head -n 1; "
       "uvrek live --picture seen.svg list; "
       "echo '{\"kind\":\"contact\",\"ms\":5,\"place\":\"r9c9\",\"down\":true}' >> trace; "
       "uvrek play --replay trace $F",
       2,
       "still down after its time\n"
       "the host received \"a\"\n"
       "each press does what it did when it was recorded\n"
       "the host received \"ca\"\n"
       "esc (r2c3) did ctrl, and does esc now\n"
       "1 press does something else than when it was recorded\n"
       "the host received \"a\"\n",
       "the event is earlier than the one before");
}

/* The library, without the command: examples/change_running.c, started from another folder. */
static void a_program_of_a_page_changes_a_key(void **state)
{
    (void)state;
    on("box-office",
       "cp box-office.uvk before.uvk; F=$PWD/box-office.uvk; change() { (cd / && exec "
       "example_change_running $AT $F desk $1 $2 7>&-); }; "
       ": > said; { change r2c5 x > said & }; E=$!; seen '^press .*then .*then ' said; "
       "type $(grep -oE 'r[0-9]+c[0-9]+' said); wait $E && type r2c5 && cmp before.uvk $F; "
       "tail -n 1 said; change r2c5 'x/'; change r9c9 x; sed -i 's/ esc.ctrl / esk /' $F; "
       "change r2c5 x; off",
       0,
       "it is changed, and kept: 4 bytes of its room\n"
       "the host received \"x\"\n",
       "there is no r9c9 on desk\n");
}

static void one_program_at_a_time(void **state)
{
    (void)state;
    on("projection-room",
       "consent projection-room.uvk > told && { exec uvrek live --at $AT watch "
       "projection-room.uvk > watched 2> end 7>&-; } & "
       "W=$!; seen 'layers on' watched; live diff projection-room.uvk; "
       "off; wait $W; cat end",
       0, "uvrek: the keyboard is gone: it was unplugged, or has restarted\n",
       "somebody else has it");
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(a_key_is_changed_and_stays_so),
        cmocka_unit_test(the_last_change_is_undone_in_both),
        cmocka_unit_test(text_and_keyboard_are_compared),
        cmocka_unit_test(the_list_knows_whether_it_is_what_the_file_says),
        cmocka_unit_test(what_no_key_does_is_told_as_well),
        cmocka_unit_test(what_cannot_be_done_is_told),
        cmocka_unit_test(the_door_is_closed),
        cmocka_unit_test(a_flash_loses_no_change),
        cmocka_unit_test(what_happens_is_watched),
        cmocka_unit_test(what_counted_counts_again),
        cmocka_unit_test(what_was_watched_is_played_again),
        cmocka_unit_test(a_program_of_a_page_changes_a_key),
        cmocka_unit_test(one_program_at_a_time),
    };

    return cmocka_run_group_tests_name("live", tests, command_line_set_up, NULL);
}
