/* Keyboards with a controller in each half, as a person builds and flashes them. */
#include "command.h"

#define SEATS      SOURCE_FOLDER "/boards/seats.uvk"
#define TRANSLATOR SOURCE_FOLDER "/boards/translator.uvk"

static void files_are_named_and_explained(void **state)
{
    (void)state;
    expect("uvrek build -o $SCRATCH/out " TRANSLATOR, 0,
           "boards-translator-right.elf\neach half has a file of its own: nothing on the board "
           "tells a half which one it is\n",
           NULL);
    expect("uvrek build -o $SCRATCH/out " SEATS, 0,
           "boards-seats.elf\nboth halves take the same file: the one that is plugged into the "
           "computer is left\n",
           NULL);
    expect("uvrek build --json -o $SCRATCH/out " TRANSLATOR " | grep -c right.uf2", 0, "1\n",
           NULL);
    expect("cd $SCRATCH/out && cmp -l boards-translator-left.bin boards-translator-right.bin |"
           " wc -l",
           0, "1\n", NULL);
    expect("uvrek explain $SCRATCH/out/boards-translator-right.uf2", 0,
           "the keymap translator for the board wherry38, second half", NULL);
    expect("uvrek explain $SCRATCH/out/boards-seats.hex", 0,
           "the keymap seats for the board ferry26, for both halves", NULL);
    expect("sed 's/main *left/main pin E6/' " SOURCE_FOLDER
           "/boards/ferry26.uvk > $SCRATCH/ferry26.uvk && cp " SEATS
           " $SCRATCH && uvrek build -o $SCRATCH/out $SCRATCH/seats.uvk",
           0, "both halves take the same file: pin E6 tells each which one it is", NULL);
}

/* A bench with both chips empty and COMMANDS that find its USB/IP server at $AT; then STEPS are
 * typed. What the bench has printed is in $SCRATCH/bench afterwards. */
static void on_bench(const char *file, const char *road, const char *commands,
                     const char *steps, int status, const char *out, const char *err)
{
    char *command = g_strdup_printf(
        "cd $SCRATCH && rm -f typed bench && mkfifo typed && : > bench && "
        "{ uvrek bench --empty --usbip 0 %s %s < typed > bench 2>&1 & } && exec 7> typed && "
        "until AT=$(sed -n 's/^a USB.IP server is at port //p' bench) && test -n \"$AT\" && "
        "grep -q '^the chip is' bench; do :; done; %s; S=$?; printf '%s' >&7; exec 7>&-; "
        "test $S = 0 && wait; kill $! 2> /dev/null; exit $S",
        road, file, commands, steps);

    expect(command, status, out, err);
    g_free(command);
}

static void both_halves_are_flashed_in_turn(void **state)
{
    (void)state;
    on_bench(SEATS, "--serial $SCRATCH/port",
             "uvrek flash --wait 100 --port $SCRATCH/port --usbip $AT " SEATS
             " && uvrek ready --usbip $AT " SEATS,
             "tap a\\ntap 1\\n", 0,
             "both halves answer, with the same firmware; left is the main one\n", NULL);
    expect("cat $SCRATCH/bench", 0,
           "somebody takes the USB cable out of left, and puts it into right\n", NULL);
    expect("tail -n 1 $SCRATCH/bench", 0, "the host received \"a1\"\n", NULL);
    if (g_getenv("UVREK_ONE_CHIP") != NULL) {
        return; /* two RP2040 take minutes under the sanitizers */
    }
    on_bench(TRANSLATOR, "--drive $SCRATCH/drive",
             "uvrek flash --json --wait 100 --drive $SCRATCH/drive --usbip $AT " TRANSLATOR,
             "tap q\\ntap p\\n", 0, "{\"event\":\"joined\",\"half\":\"left\"", NULL);
    expect("tail -n 1 $SCRATCH/bench", 0, "the host received \"qp\"\n", NULL);
}

/* The right half gets the firmware of an older keymap. */
static void half_an_update_is_named(void **state)
{
    (void)state;
    expect("cp " SOURCE_FOLDER
           "/boards/ferry26.uvk $SCRATCH && sed 's/tap  *space/&/; s/minus/slash/' " SEATS
           " > $SCRATCH/older.uvk",
           0, "", NULL);
    on_bench(
        SEATS, "--serial $SCRATCH/port",
        "uvrek flash --wait 20 --half left --port $SCRATCH/port " SEATS
        " && uvrek flash --wait 20 --half right --port $SCRATCH/port $SCRATCH/older.uvk > told"
        " && export AT && timeout 100 sh -c 'until uvrek ready --usbip $AT " SEATS
        " | grep \"another firmware\"; do :; done'",
        "", 0, "  but the other half has another firmware: flash both with the same\n", NULL);
    expect("cat $SCRATCH/told", 0,
           "left has to have the firmware of the same keymap: the same file", NULL);
}

static void what_makes_no_sense_is_told(void **state)
{
    (void)state;
    expect("uvrek flash --half middle " SEATS, 2, "",
           "the halves of ferry26 are left and right; there is no 'middle'");
    expect("uvrek flash --half left boards/subtitle-desk.uvk", 2, "",
           "--half is for boards with a controller in each half; tidepad12 has one");
    expect("uvrek flash --save $SCRATCH/copy.hex " SEATS, 2, "",
           "a copy is of one half: add --half left or --half right");
    expect("uvrek flash --half left $SCRATCH/out/boards-seats.hex", 2, "",
           "--half is for keymaps");
    expect("uvrek flash --dry-run " SEATS, 0,
           "through its serial bootloader; nothing was written\n"
           "Take the USB cable out of left, and put it into right.",
           NULL);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(files_are_named_and_explained),
        cmocka_unit_test(both_halves_are_flashed_in_turn),
        cmocka_unit_test(half_an_update_is_named),
        cmocka_unit_test(what_makes_no_sense_is_told),
    };

    return cmocka_run_group_tests_name("split", tests, command_line_set_up, NULL);
}
