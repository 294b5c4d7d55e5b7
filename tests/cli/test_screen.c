/* `uvrek live edit`, as it is seen on a terminal of 80 by 24 characters. */
#include "command.h"

#include <string.h>

#define COPY                                                                                   \
    "rm -rf $SCRATCH/*; cp " SOURCE_FOLDER "/boards/*.uvk $SCRATCH && cd $SCRATCH && "         \
    "sed -i 's/^keymap .* {$/&\\n  live { room 256 }/' box-office.uvk; "                       \
    ". " SOURCE_FOLDER "/tests/cli/running.sh; F=box-office.uvk; cp $F before; "

static void text(const char *commands, const char *out)
{
    char *command = g_strconcat(COPY "screen 80 24 \"uvrek live edit $F\"; "
                                     "shown 'Enter set it'; ",
                                commands, NULL);

    expect(command, 0, out, NULL);
    g_free(command);
}

/* On the bench; the door is opened first. */
static void both(const char *commands, const char *out)
{
    char *command =
        g_strconcat(COPY "bench box-office; "
                         "screen 80 24 \"uvrek live --at $AT edit $F\"; asked_keys; "
                         "shown 'press a key of the keyboard'; ",
                    commands, "; exec 7>&-; wait $B; :", NULL);

    expect(command, 0, out, NULL);
    g_free(command);
}

static void a_cell_is_chosen_and_changed(void **state)
{
    (void)state;
    text("press Right Down; shown 'r1c1 on desk: balcony'; "
         "press -l 'leftclick'; shown '> leftclick .* 1 of 1'; shown 'mouse button'; press "
         "Enter; "
         "shown 'r1c1 on desk: click-left'; diff before $F | grep '^>'; "
         "press C-z; shown 'taken back'; cmp before $F && echo as before; "
         "press C-y; shown 'click-left'; diff before $F | grep -c '^>'; "
         "press C-q; ended",
         ">     stalls  click-left undo       tab       q  w  e  r  t  y  u  i   o    p      "
         "quote\nas before\n1\n0\n");
}

static void what_is_no_cell_is_told(void **state)
{
    (void)state;
    text("press -l 'rihgt'; shown \"did you mean 'right'\"; press Enter; shown 'no such cell'; "
         "press Escape; press -l 'x y'; shown 'one cell'; press Enter; press Escape; "
         "press C-y; shown 'nothing was taken back'; cmp before $F && echo as before; "
         "press C-c; ended",
         "as before\n0\n");
}

static void a_feel_and_a_part_are_offered(void **state)
{
    (void)state;
    text("press -l 'esc/righ'; shown 'esc/right-ctrl'; press Escape; press -l 'esc/ctrl ~d'; "
         "shown 'esc/ctrl ~default'; press Escape; press -l 'mouse'; shown 'point-up'; "
         "press Down Down; shown '3 of 9'; press C-q; ended",
         "0\n");
}

static void it_is_found_where_it_is(void **state)
{
    (void)state;
    text("press C-f; press -l 'f1'; shown '1 of 4'; shown 'r0c3 on till'; press Down Enter; "
         "shown 'r0c12 on till: f10'; press Tab; shown 'r0c12 on desk: 0'; "
         "press C-f; press -l 'gui'; shown '1 of 2'; shown 'stamp: counts touches'; "
         "press Escape; shown 'type what it is to do'; press C-f; press -l 'Saltmarsh'; shown "
         "'1 of 1'; press C-q; ended",
         "0\n");
}

/* The press that chooses is typed into the terminal, too, sooner or later. */
static void a_press_chooses(void **state)
{
    (void)state;
    both("printf 'down r2c5\\n' >&7; press s; shown 'r2c5 on desk: s'; shown 'let go of it'; "
         "printf 'up r2c5\\n' >&7; shown 'Esc chooses another'; "
         "press -l 'esc/ctrl'; shown '> esc/ctrl'; press Enter; "
         "shown 'in the text and the keyboard'; grep -o -e 'esc/ctrl d' -e 'tap r2c3' $F; "
         "shown 'press a key of the'; type r2c5; seen 'keys esc' bench; "
         "shown 'r2c5 on desk: esc'; shown 'Esc chooses another'; press C-q; ended; "
         "live diff $F",
         "esc/ctrl d\ntap r2c3\n0\nlantern64 ");
}

static void a_layer_that_is_held_shows(void **state)
{
    (void)state;
    both("printf 'down till\\ntap r1c6\\n' >&7; shown 'r1c6 on till'; printf 'up till\\n' >&7; "
         "shown 'layers  ●desk   till'; shown 'r1c6 on till: right-bracket'; shown 'Esc "
         "chooses another'; press C-q; ended",
         "0\n");
}

static void a_keyboard_that_goes_is_told(void **state)
{
    (void)state;
    both("exec 7>&-; wait $B; B=; shown 'is gone'; shown 'no keyboard'; "
         "press -l f9; shown 'presses f9'; press Enter; shown 'in the text'; "
         "diff before $F | grep -c '^>'; press C-q; ended",
         "2\n0\n");
}

static void what_differs_is_told(void **state)
{
    (void)state;
    expect(COPY "bench box-office; sed 's/3  4  5  6/3  4  f9 6/' before > $F; "
                "screen 80 24 \"uvrek live --at $AT edit $F\"; asked_keys; "
                "shown 'differs from the text in 1'; shown 'not changed with it'; "
                "press C-p; shown 'does what the text says'; press C-q; ended; "
                "live diff $F; exec 7>&-; wait $B",
           0, "0\nlantern64 ", NULL);
    expect(COPY "uvrek live edit $F < /dev/null", 2, "", "needs a terminal");
}

/* What is typed on the keyboard comes to the terminal, too, and is not shown there. */
static void a_macro_is_recorded(void **state)
{
    (void)state;
    expect(
        COPY
        "bench box-office; export EDITOR=\"sed -i s/1/9/\"; "
        "screen 80 24 \"uvrek live --at $AT macro $F screen\"; asked_keys; "
        "seen 'Type on the keyboard' asked; type r2c5 r0c3 r2c13; press s1; "
        "shown 'drops it:'; picture | grep '^macro'; press e Enter; shown 's9'; press Enter; "
        "ended; grep 'macro screen' $F; type r0c0; seen 'keys s 9 enter' bench; "
        ": > asked; { live macro $F ring --pauses > told 2> asked < /dev/null & }; O=$!; "
        "seen 'Type on the keyboard' asked; printf 'down ctrl\\ntap c\\nup ctrl\\nwait "
        "300ms\\ntap z\\n' >&7; wait $O && sed 's/[3-9][0-9]0ms/300ms/; s/, and in.*//' told; "
        "exec 7>&-; wait $B",
        0,
        "macro screen { type \"s1\\n\" }\n0\n  macro screen { type \"s9\\n\" }\n"
        "macro ring { tap ctrl+c; wait 300ms; type \"z\" }\nin box-office.uvk\n"
        "no key does it yet: `uvrek live set box-office.uvk KEY ring` puts it on one\n",
        NULL);
}

/* ---- keys ------------------------------------------------------------------------------- */

/* On the projection room's bench, the door opened; nothing that is pressed is typed. */
static void tried(const char *commands, const char *out)
{
    char *command = g_strconcat(
        "rm -rf $SCRATCH/*; cp " SOURCE_FOLDER "/boards/*.uvk $SCRATCH && cd $SCRATCH && "
        ". " SOURCE_FOLDER "/tests/cli/running.sh; F=projection-room.uvk; "
        "bench projection-room && consent $F && screen 80 30 \"uvrek keys --at $AT $F\"; "
        "shown 'L lights'; ",
        commands,
        "; printf 'expect keys nothing\\n' >&7; exec 7>&-; wait $B; "
        "grep -c '^failed' bench; :",
        NULL);

    expect(command, 0, out, NULL);
    g_free(command);
}

static void keys_that_come_are_seen(void **state)
{
    (void)state;
    tried("type r0c0 r2c1; shown '2 of 20'; press F; shown 'have come'; press R; "
          "shown '0 of 20'; press q; ended",
          "1\n0\n");
}

/* The lamps of the board, one kind after the other, whatever the keymap says of them. */
static void lamps_are_lit_by_the_desk(void **state)
{
    (void)state;
    tried("press l; shown 'lit: all of the strip'; "
          "printf 'wait 200ms\\nexpect light #ffffff at r3c0\\nexpect lamps nothing\\n' >&7; "
          "press l; shown 'lit: the other lamps'; "
          "printf 'wait 200ms\\nexpect lamps numbers\\n' >&7; press q; ended",
          "1\n0\n");
}

/* ---- wires ------------------------------------------------------------------------------ */

/* On the picture stands what has come; why a press was not taken stays to be read. */
static void wires_asks_on_a_picture(void **state)
{
    (void)state;
    expect("rm -rf $SCRATCH/*; cp " SOURCE_FOLDER "/boards/*.uvk $SCRATCH && cd $SCRATCH && "
           ". " SOURCE_FOLDER "/tests/cli/running.sh; bench subtitle-desk --probe && "
           "screen 80 24 \"uvrek wires --at $AT tidepad12.uvk\"; shown '1 of 13: press r0c0'; "
           "type r0c0; shown 'r0c0: it joins B1 to F4'; shown '2 of 13: press r0c1'; "
           "type r0c0; shown 'that switch was r0c0'; press Enter; shown '3 of 13'; "
           "picture | sed -n 2p; press -l back; press Enter; shown '2 of 13'; "
           "picture | sed -n 2p; press -l stop; press Enter; ended; exec 7>&-; wait $B; :",
           0,
           "│     ✓     │     -     │   HERE    │           │\n"
           "│     ✓     │   HERE    │           │           │\n",
           NULL);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(a_cell_is_chosen_and_changed),
        cmocka_unit_test(what_is_no_cell_is_told),
        cmocka_unit_test(a_feel_and_a_part_are_offered),
        cmocka_unit_test(it_is_found_where_it_is),
        cmocka_unit_test(a_press_chooses),
        cmocka_unit_test(a_layer_that_is_held_shows),
        cmocka_unit_test(a_keyboard_that_goes_is_told),
        cmocka_unit_test(what_differs_is_told),
        cmocka_unit_test(a_macro_is_recorded),
        cmocka_unit_test(keys_that_come_are_seen),
        cmocka_unit_test(lamps_are_lit_by_the_desk),
        cmocka_unit_test(wires_asks_on_a_picture),
    };

    return cmocka_run_group_tests_name("screen", tests, command_line_set_up, NULL);
}
