/* Lights of a running keyboard, from the command line: changed, taken into the text, lit one by
 * one. */
#include "command.h"

#include <string.h>

/* A copy of FILE, a text of tests/plays, as NAME.uvk, with an open door. */
#define TOOLS_OF(file, name)                                                                   \
    "cp " SOURCE_FOLDER "/tests/plays/" file " $SCRATCH/" name ".uvk && cd $SCRATCH && "       \
    "rm -rf memory state && "                                                                  \
    "sed -i '/^play /,$d; s/^keymap .* {$/&\\n  live { room 256 }/' " name                     \
    ".uvk; ROAD=; . " SOURCE_FOLDER "/tests/cli/running.sh; "
#define BEGIN_OF(file, name) TOOLS_OF(file, name) "bench " name " && consent " name ".uvk && "
#define TOOLS                TOOLS_OF("lights.uvk", "booth")
#define BEGIN                BEGIN_OF("lights.uvk", "booth")
#define WINGS                BEGIN_OF("lights-halves.uvk", "wings")
#define END                  "; S=$?; exec 7>&-; wait $B; exit $S"

static void lights_are_changed_live(void **state)
{
    (void)state;
    expect(BEGIN
           "live set booth.uvk 'lights { effect hues; colour #102030; speed 1s }' && "
           "look 'expect light hues' && grep -c 'effect hues; colour #102030' booth.uvk" END,
           0, "lights", NULL);
    expect(BEGIN "live set booth.uvk 'lights { effect still; colour #00ff00; speed 2s }' && "
                 "look 'expect light #00ff00 at r0c0'" END,
           0, "effect still; colour #ff8000; speed 2s", NULL);
    expect(BEGIN "live set booth.uvk 'set light-step 1' && type r1c1 && "
                 "look 'expect light level 3'" END,
           0, "set light-step", NULL);
}

/* What was pushed is pulled into another text, comments and all. */
static void lights_are_pulled_into_the_text(void **state)
{
    (void)state;
    expect(BEGIN
           "cp booth.uvk old.uvk && "
           "sed -i 's/effect still; colour #ff8000/effect ripple; colour #0000ff/; "
           "s/light #00ff40/light #ffffff/' booth.uvk && live push booth.uvk && "
           "live diff old.uvk; live pull old.uvk && diff old.uvk booth.uvk && echo alike" END,
           0, "alike\n", NULL);
    expect(BEGIN "cp booth.uvk old.uvk && sed -i '/light #00ff40/d' booth.uvk && "
                 "live push booth.uvk && live pull old.uvk && grep -c '#00ff40' old.uvk" END,
           1, "\n0\n", NULL);
}

static void one_lamp_is_lit(void **state)
{
    (void)state;
    expect(BEGIN
           "live light booth.uvk r0c1 '#ff0000' && look 'expect light #ff0000 at r0c1' && "
           "look 'expect light #000000 at r0c0' && look 'expect lamps nothing'" END,
           0, "r0c1 is lit for 10 seconds\n", NULL);
    expect(BEGIN "live light booth.uvk cue && look 'expect lamps cue'" END, 0,
           "cue is lit for 10 seconds\n", NULL);
    expect(BEGIN "live light booth.uvk strip && look 'expect light #ffffff at r1c2' && "
                 "live light booth.uvk backlight" END,
           0, "backlight is lit for 10 seconds\n", NULL);
}

/* The computer's cable is in the left half. */
static void one_lamp_of_the_other_half_is_lit(void **state)
{
    (void)state;
    if (g_getenv("UVREK_ONE_CHIP") != NULL) {
        skip(); /* two RP2040 under the sanitizers are too slow to be spoken with */
    }
    expect(WINGS "live light wings.uvk right.r0c0 '#123456' && "
                 "look 'expect light #123456 at right.r0c0' && "
                 "look 'expect light #000000 at right.r0c1' && "
                 "look 'expect light #000000 at left.r0c0' && "
                 "live light wings.uvk left.r0c0 '#654321' && "
                 "look 'expect light #654321 at left.r0c0' && "
                 "look 'expect light #000000 at right.r0c0'" END,
           0, "right.r0c0 is lit for 10 seconds\nleft.r0c0 is lit for 10 seconds\n", NULL);
}

/* Eight moments of twenty lamps each; a colour that a strip was sent is among them. */
static void a_film_has_eight_moments(void **state)
{
    (void)state;
    expect("cd " SOURCE_FOLDER " && uvrek play --only 'a ring spreads' --film $SCRATCH/f.svg "
           "--picture $SCRATCH/t.svg boards/projection-room.uvk >$SCRATCH/o && "
           "grep -c '<circle' $SCRATCH/f.svg && grep -c '1340 ms   level 4, ripple   numbers' "
           "$SCRATCH/f.svg && grep -c '>lamp numbers<' $SCRATCH/t.svg",
           0, "160\n1\n1\n", NULL);
    expect("cd " SOURCE_FOLDER " && uvrek play --only letters --film $SCRATCH/f.svg "
           "tests/plays/nine.uvk; uvrek play --only 'both shutters' --film $SCRATCH/f.gif "
           "boards/projection-room.uvk",
           2, NULL, "f.gif");
    expect("cd " SOURCE_FOLDER " && uvrek play --only 'italics' --film $SCRATCH/g.svg "
           "boards/subtitle-desk.uvk; ls $SCRATCH/g.svg",
           2, NULL, "the board 'tidepad12' has no lights that could be seen");
}

static void what_is_no_light_is_told(void **state)
{
    (void)state;
    expect(TOOLS "uvrek live light booth.uvk r7c7", 2, "",
           "the board 'booth6' has no light 'r7c7': backlight, strip, a lamp of its own");
    expect(TOOLS "uvrek live light booth.uvk strip red", 2, "",
           "'red' is no colour; one is written '#ff8800'");
    expect("uvrek live light", 2, "", "live light FILE LAMP [COLOUR]");
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(lights_are_changed_live),
        cmocka_unit_test(lights_are_pulled_into_the_text),
        cmocka_unit_test(one_lamp_is_lit),
        cmocka_unit_test(one_lamp_of_the_other_half_is_lit),
        cmocka_unit_test(a_film_has_eight_moments),
        cmocka_unit_test(what_is_no_light_is_told),
    };

    return cmocka_run_group_tests_name("lamps", tests, command_line_set_up, NULL);
}
