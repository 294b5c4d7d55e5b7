/* The live door of the machine code, on each chip: closed to all but one question, opened by
 * keys, changed while it runs, and the same after the power was cut. */
#include "support.h"

#include "uvrek/door.h"
#include "uvrek/fit.h"
#include "uvrek/usb.h"

#include <stdio.h>
#include <string.h>

#define BOARD(chip, rows, cols, knob)                                                          \
    "board nine {\n chip " chip "\n usb { vendor 0x1209; product 0x0009; maker \"T\" }\n"      \
    " matrix { rows " rows "; cols " cols "; flow row->col }\n"                                \
    " knob jog { pins " knob " }\n"                                                            \
    " keys { r0c0 r0c1 r0c2 =jog; r1c0 r1c1 r1c2; r2c0 r2c1 r2c2 }\n}\n"

static const char *const boards[] = {
    BOARD("atmega32u4", "B1 B3 B2", "F4 F5 F6", "D0 D1"),
    BOARD("rp2040", "GP2 GP3 GP4", "GP5 GP6 GP7", "GP8 GP9"),
};

/* All kinds of things, so that all of them can be changed. */
#define MORE                                                                                   \
    " live { room 352 }\n feel calm { hold-after 220ms }\n macro reel { type \"reel\" }\n"     \
    " dance stamp { tap -> x; tap tap -> y }\n combo r1c0+r1c1 -> esc\n leader { r0c0 -> z "   \
    "}\n long-press { letters; after 900ms }\n"
#define BASE "a b c\n d/shift~calm reel stamp\n leader once:ctrl top"
#define TOP  " layer top {\n 1 2 3 4 5 6 7 8 .\n }\n}\n"
#define KEYMAP(more, base)                                                                     \
    "keymap k {\n host linux us\n" more " layer base {\n" base "\n knob jog j k\n }\n" TOP

static struct uvk_program *program;
static struct uvk_firmware *firmware;
static struct uvk_rig *rig;
static uint8_t number;
static uint8_t *built_bytes;
static struct uvk_image built;

static void run(unsigned ms)
{
    GError *error = NULL;

    if (!uvk_rig_run(rig, ms * 1000u, &error)) {
        fail_msg("%s", error->message);
    }
}

static void switch_on(const char *memory)
{
    struct uvk_rig_options options = {.seed = 1, .memories = {memory, NULL}};
    GError *error = NULL;

    rig =
        uvk_rig_chip(program, firmware->code, firmware->size, firmware->elf, &options, &error);
    if (error != NULL) {
        fail_msg("%s", error->message);
    }
}

static void open_board(const char *board)
{
    char *text = g_strconcat(board, KEYMAP(MORE, BASE), NULL);
    char *cache = g_build_filename(scratch_folder(), "cache", NULL);
    struct uvk_build_options options = {NULL, NULL, cache};
    GError *error = NULL;
    uint16_t size;

    program = good_program(text);
    firmware = uvk_build(program, &options, &error);
    if (error != NULL) {
        fail_msg("%s", error->message);
    }
    built_bytes = uvk_lower(program, &size);
    assert_int_equal(uvk_image_open(&built, built_bytes, size), UVK_OK);
    switch_on(NULL);
    g_free(cache);
    g_free(text);
}

static void close_board(void)
{
    uvk_rig_free(rig);
    g_free(built_bytes);
    uvk_firmware_free(firmware);
    uvk_program_free(program);
}

/* ---- requests --------------------------------------------------------------------------- */

/* The content of the answer into OUT; what it is. */
static uint8_t ask(enum uvk_door_request code, const uint8_t *content, size_t size,
                   uint8_t out[UVK_DOOR_CONTENT])
{
    uint8_t packet[64] = {0};
    size_t length = 0;

    packet[0] = ++number != 0 ? number : ++number;
    packet[1] = (uint8_t)code;
    if (size > 0) {
        memcpy(packet + 2, content, size);
    }
    for (unsigned tries = 0;
         uvk_rig_give(rig, UVK_LIVE_OUT, packet, UVK_DOOR_BYTES) != UVK_TRANSFER_DONE;
         tries++) {
        assert_in_range(tries, 0, 600);
        run(1);
    }
    for (unsigned waited = 0; waited < 600; waited++) { /* an erasure may be under way */
        run(1);
        while (uvk_rig_take_report(rig, UVK_LIVE_IN, packet, &length)) {
            assert_int_equal(length, UVK_DOOR_BYTES);
            if (packet[0] == number) {
                memcpy(out, packet + 2, UVK_DOOR_CONTENT);
                return packet[1];
            }
        }
    }
    fail_msg("no answer to request %d", code);
    return 0;
}

static uint8_t ask_plain(enum uvk_door_request code)
{
    uint8_t out[UVK_DOOR_CONTENT];

    return ask(code, NULL, 0, out);
}

static uint8_t state(void)
{
    uint8_t out[UVK_DOOR_CONTENT];

    assert_int_equal(ask(UVK_DOOR_ASKED, NULL, 0, out), UVK_DOOR_DONE);
    return out[0];
}

static void tap(unsigned key)
{
    uvk_rig_press(rig, key, true);
    run(30);
    uvk_rig_press(rig, key, false);
    run(60);
}

static char *typed(void)
{
    return uvk_host_take_text(uvk_rig_host(rig));
}

static void expect_typed(const char *text)
{
    char *got = typed();

    assert_string_equal(got, text);
    g_free(got);
}

static void open_door(void)
{
    uint8_t out[UVK_DOOR_CONTENT];

    assert_int_equal(ask_plain(UVK_DOOR_OPEN), UVK_DOOR_DONE);
    run(20);
    assert_int_equal(ask(UVK_DOOR_ASKED, NULL, 0, out), UVK_DOOR_DONE);
    assert_int_equal(out[0], UVK_DOOR_ASKS);
    for (unsigned i = 0; i < UVK_DOOR_KEYS; i++) {
        tap(out[3 + i]);
    }
    assert_int_equal(state(), UVK_DOOR_IS_OPEN);
}

/* ---- changes ---------------------------------------------------------------------------- */

static void write_room(const struct uvk_changes *changes)
{
    uint16_t used = uvk_changes_used(changes);
    uint8_t content[UVK_DOOR_CONTENT];
    uint8_t out[UVK_DOOR_CONTENT];

    for (uint16_t at = 0; at < used;) {
        uint8_t count = (uint8_t)MIN(27, used - at);
        content[0] = (uint8_t)at;
        content[1] = (uint8_t)(at >> 8);
        content[2] = count;
        memcpy(content + 3, changes->room + at, count);
        assert_int_equal(ask(UVK_DOOR_WRITE, content, 3u + count, out), UVK_DOOR_DONE);
        at = (uint16_t)(at + count);
    }
}

/* What makes the keyboard do what TEXT says; milliseconds until it does. */
static unsigned change_to(const char *board, const char *keymap)
{
    char *text = g_strconcat(board, keymap, NULL);
    struct uvk_program *other = good_program(text);
    static struct uvk_changes changes;
    struct uvk_image wanted;
    uint16_t size;
    uint8_t *bytes = uvk_lower(other, &size);
    unsigned needed;
    uint8_t out[UVK_DOOR_CONTENT];
    uint64_t start = uvk_rig_now(rig);
    unsigned took;

    assert_int_equal(uvk_image_open(&wanted, bytes, size), UVK_OK);
    assert_int_equal(uvk_image_fit(&built, &wanted, &changes, &needed), UVK_FITS);
    write_room(&changes);
    assert_int_equal(
        ask(UVK_DOOR_TAKE, (const uint8_t *)&changes.base, UVK_CHANGES_HEAD - 4, out),
        UVK_DOOR_DONE);
    do {
        assert_int_equal(ask(UVK_DOOR_STAGED, NULL, 0, out), UVK_DOOR_DONE);
    } while (out[0] == UVK_STAGED_CHECKING || out[0] == UVK_STAGED_WAITING);
    if (out[0] != UVK_STAGED_TAKEN) {
        fail_msg("refused: %d at stage %d, row %d", out[1], out[3], out[4] | out[5] << 8);
    }
    took = (unsigned)((uvk_rig_now(rig) - start) / 1000);
    g_free(bytes);
    uvk_program_free(other);
    g_free(text);
    return took;
}

static void wait_until_kept(void)
{
    uint8_t out[UVK_DOOR_CONTENT];

    for (unsigned waited = 0; waited < 8000; waited += 50) {
        assert_int_equal(ask(UVK_DOOR_STAGED, NULL, 0, out), UVK_DOOR_DONE);
        if (out[2]) {
            return;
        }
        run(50);
    }
    fail_msg("it is not kept after 8 s");
}

/* The power goes and comes back; what is in the memory stays. */
static void cut_power(void)
{
    char *memory = uvk_rig_memory(rig, 0);

    uvk_rig_free(rig);
    switch_on(memory);
    g_free(memory);
}

/* ---- the tests -------------------------------------------------------------------------- */

static const char *which; /* board */

static void on_each_chip(void (*test)(void))
{
    /* under the sanitizers one chip is enough: they take a minute each there */
    for (size_t i = 0; i < (g_getenv("UVREK_ONE_CHIP") == NULL ? G_N_ELEMENTS(boards) : 1u);
         i++) {
        which = boards[i];
        open_board(which);
        test();
        close_board();
    }
}

static void open_and_change(void)
{
    uint8_t who[UVK_DOOR_CONTENT];
    uint8_t again[UVK_DOOR_CONTENT];

    assert_int_equal(ask(UVK_DOOR_WHO, NULL, 0, who), UVK_DOOR_DONE);
    assert_int_equal(who[0], UVK_DOOR_VERSION << 4 | UVK_IMAGE_VERSION);
    assert_memory_equal(who + 8, built_bytes + 8, 4); /* the sum of the image */
    tap(1);
    expect_typed("b");
    open_door();
    run(300);
    expect_typed("");
    (void)change_to(which,
                    KEYMAP(MORE, "a q c\n d/shift~calm reel stamp\n leader once:ctrl top"));
    tap(1);
    expect_typed("q");
    wait_until_kept();
    cut_power();
    tap(1);
    expect_typed("q");
    assert_int_equal(ask(UVK_DOOR_WHO, NULL, 0, again), UVK_DOOR_DONE);
    assert_int_equal(again[1] & 0xF, UVK_DOOR_CLOSED);
    assert_memory_equal(again + 4, who + 4, 4);       /* its serial number */
    assert_memory_not_equal(again + 12, who + 12, 4); /* the sum of what is in force */
}

static void it_opens_and_changes(void **state)
{
    (void)state;
    on_each_chip(open_and_change);
}

/* ---- every kind of thing ----------------------------------------------------------------- */

#define WITH(base) KEYMAP(MORE, base)
#define REST       "a b c\n d/shift~calm reel stamp\n leader once:ctrl top"
#define LIVE       " live { room 352 }\n"
#define CALM       " feel calm { hold-after 220ms }\n"
#define REEL       " macro reel { type \"reel\" }\n"
#define STAMP      " dance stamp { tap -> x; tap tap -> y }\n"
#define COMBO      " combo r1c0+r1c1 -> esc\n"
#define LEADER     " leader { r0c0 -> z }\n"
#define LONG       " long-press { letters; after 900ms }\n"
#define EACH(feel, macro, dance, combo, leader)                                                \
    KEYMAP(LIVE feel macro dance combo leader LONG, REST)

/* What hands do beside tapping a key. */
#define BOTH -2 /* the second and third key together */
#define TURN -3 /* the knob, a step to the right */
#define HOLD -4 /* the second key, for 300 ms */

/* What is changed, how a person sees it: keys that are tapped one after the other, what is
 * typed. */
static const struct kind {
    const char *name, *keymap;
    int keys[4]; /* -1 ends them */
    const char *typed;
} kinds[] = {
    {"a cell", WITH("a q c\n d/shift~calm reel stamp\n leader once:ctrl top"), {1, -1}, "q"},
    {"a chord",
     WITH("a shift+b c\n d/shift~calm reel stamp\n leader once:ctrl top"),
     {1, -1},
     "B"},
    {"a tap-hold",
     WITH("a b c\n d/shift~calm v/shift~calm stamp\n leader once:ctrl top"),
     {4, -1},
     "v"},
    {"a feel",
     EACH(" feel calm { hold-after 20ms }\n", REEL, STAMP, COMBO, LEADER),
     {3, 1, -1},
     "b"},
    {"a macro",
     EACH(CALM, " macro reel { type \"cue\" }\n", STAMP, COMBO, LEADER),
     {4, -1},
     "cue"},
    {"a longer macro",
     EACH(CALM, " macro reel { type \"reel 7\"; tap a; wait 5ms; tap b }\n", STAMP, COMBO,
          LEADER),
     {4, -1},
     "reel 7ab"},
    {"a macro more",
     KEYMAP(LIVE CALM REEL " macro cue { type \"cue\" }\n" STAMP COMBO LEADER LONG,
            "a cue c\n d/shift~calm reel stamp\n leader once:ctrl top"),
     {1, -1},
     "cue"},
    {"a dance",
     EACH(CALM, REEL, " dance stamp { tap -> x; tap tap -> w }\n", COMBO, LEADER),
     {5, 5, -1},
     "w"},
    {"a combo more",
     EACH(CALM, REEL, STAMP, COMBO " combo r0c1+r0c2 -> k\n", LEADER),
     {BOTH, -1},
     "k"},
    {"the leader",
     EACH(CALM, REEL, STAMP, COMBO, " leader { r0c0 -> z; r0c1 -> m }\n"),
     {6, 1, -1},
     "m"},
    {"a layer's name for a key",
     WITH("a b c\n d/shift~calm reel stamp\n leader once:top top"),
     {7, 1, -1},
     "2"},
    {"a turn of the knob",
     "keymap k {\n host linux us\n" MORE " layer base {\n" REST "\n knob jog j v\n }\n" TOP,
     {TURN, -1},
     "v"},
    {"the time of a long press",
     KEYMAP(LIVE CALM REEL STAMP COMBO LEADER " long-press { letters; after 150ms }\n", REST),
     {HOLD, -1},
     "B"},
    {"the host's layout",
     "keymap k {\n host linux de\n" MORE
     " layer base {\n a b c\n d/shift~calm 'y' stamp\n leader "
     "once:ctrl top\n knob jog j k\n }\n" TOP,
     {4, -1},
     "z"},
    {"a setting", EACH(CALM " set debounce 40ms\n", REEL, STAMP, COMBO, LEADER), {1, -1}, "b"},
};

static void do_more(int what)
{
    bool two = what == BOTH;

    if (what == TURN) {
        (void)uvk_rig_turn(rig, 0, 1);
        run(100);
        return;
    }
    uvk_rig_press(rig, 1, true);
    if (two) {
        uvk_rig_press(rig, 2, true);
    }
    run(two ? 60 : 300);
    uvk_rig_press(rig, 1, false);
    uvk_rig_press(rig, 2, false);
    run(60);
}

static void do_kind(const struct kind *kind)
{
    uint8_t who[UVK_DOOR_CONTENT];
    unsigned ms = change_to(which, kind->keymap);
    const char *chip = strstr(which, "rp2040") != NULL ? "RP2040" : "ATmega32U4";

    for (const int *key = kind->keys; *key != -1; key++) {
        if (*key >= 0) {
            tap((unsigned)*key);
        } else {
            do_more(*key);
        }
    }
    run(1500);
    assert_int_equal(ask(UVK_DOOR_WHO, NULL, 0, who), UVK_DOOR_DONE);
    printf("%-10s  %-24s %3u ms  %3u bytes of the room\n", chip, kind->name, ms,
           4u * (who[18] | (unsigned)who[19] << 8) + (who[16] | (unsigned)who[17] << 8) -
               (who[2] | (unsigned)who[3] << 8));
    expect_typed(kind->typed);
}

static void change_all_kinds(void)
{
    open_door();
    for (size_t i = 0; i < G_N_ELEMENTS(kinds); i++) {
        do_kind(&kinds[i]);
        assert_int_equal(ask_plain(UVK_DOOR_FORGET), UVK_DOOR_DONE);
        run(20);
        tap(1);
        g_free(typed());
    }
}

static void every_kind_of_thing_is_changed(void **state)
{
    (void)state;
    on_each_chip(change_all_kinds);
}

/* ---- who may do what --------------------------------------------------------------------- */

static const char *const answers[] = {"done",     "closed",  "unknown",
                                      "nonsense", "no room", "other image"};

static void try_closed_door(void)
{
    for (unsigned code = 0; code < UVK_DOOR_REQUESTS + 2; code++) {
        uint8_t answer = ask_plain((enum uvk_door_request)code);
        bool free = code >= UVK_DOOR_WHO && code <= UVK_DOOR_CLOSE;
        printf("request %2u, the door closed: %s\n", code, answers[answer]);
        if (code == 0 || code >= UVK_DOOR_REQUESTS) {
            assert_int_equal(answer, UVK_DOOR_UNKNOWN);
        } else if (!free) {
            assert_int_equal(answer, UVK_DOOR_IS_CLOSED);
        }
        assert_int_not_equal(state(), UVK_DOOR_IS_OPEN);
    }
}

/* Presses that are not the ones that it asks for, and none at all. */
static void try_wrong_keys(void)
{
    uint8_t out[UVK_DOOR_CONTENT];
    uint8_t skipped[UVK_DOOR_CONTENT];
    unsigned wrong = 0;

    assert_int_equal(ask_plain(UVK_DOOR_OPEN), UVK_DOOR_DONE);
    run(20);
    assert_int_equal(ask(UVK_DOOR_ASKED, NULL, 0, out), UVK_DOOR_DONE);
    assert_int_equal(out[0], UVK_DOOR_ASKS);
    tap(out[3]);
    /* the second one does not work */
    assert_int_equal(ask_plain(UVK_DOOR_SKIP), UVK_DOOR_DONE);
    run(5);
    assert_int_equal(ask(UVK_DOOR_ASKED, NULL, 0, skipped), UVK_DOOR_DONE);
    assert_int_equal(skipped[2], 1);
    assert_int_not_equal(skipped[4], out[4]);
    while (wrong == skipped[4]) {
        wrong++;
    }
    tap(wrong);
    assert_int_equal(ask(UVK_DOOR_ASKED, NULL, 0, out), UVK_DOOR_DONE);
    assert_int_equal(out[0], UVK_DOOR_CLOSED);
    assert_int_equal(out[1], UVK_DOOR_WRONG_KEY);
    expect_typed("");
    tap(1);
    expect_typed("b");
}

static void nobody_gets_in_without_keys(void **state)
{
    (void)state;
    on_each_chip(try_closed_door);
    on_each_chip(try_wrong_keys);
}

/* ---- what it refuses --------------------------------------------------------------------- */

static void refuse_nonsense(void)
{
    uint8_t content[UVK_DOOR_CONTENT] = {0};
    uint8_t out[UVK_DOOR_CONTENT];
    static struct uvk_changes changes;

    open_door();
    content[0] = 0xFF; /* beyond the room */
    content[1] = 0xFF;
    content[2] = 27;
    assert_int_equal(ask(UVK_DOOR_WRITE, content, 30, out), UVK_DOOR_NO_ROOM);
    content[0] = 0;
    content[1] = 0;
    content[2] = 28;
    assert_int_equal(ask(UVK_DOOR_WRITE, content, 30, out), UVK_DOOR_NONSENSE);
    content[0] = UVK_DOOR_BUILT;
    content[1] = 0xFF;
    content[2] = 0xFF;
    content[3] = 20;
    assert_int_equal(ask(UVK_DOOR_READ, content, 4, out), UVK_DOOR_NONSENSE);
    uvk_changes_clear(&changes, built_bytes);
    changes.base++;
    assert_int_equal(ask(UVK_DOOR_TAKE, (uint8_t *)&changes.base, 12, out),
                     UVK_DOOR_OTHER_IMAGE);
    changes.base--;
    changes.words = 200;
    assert_int_equal(ask(UVK_DOOR_TAKE, (uint8_t *)&changes.base, 12, out), UVK_DOOR_NO_ROOM);
    changes.words = 1;
    changes.sum = 1;
    memset(content, 0, sizeof content);
    content[2] = 4;
    content[3] = 200; /* a word somewhere, and a sum that is wrong */
    assert_int_equal(ask(UVK_DOOR_WRITE, content, 30, out), UVK_DOOR_DONE);
    assert_int_equal(ask(UVK_DOOR_TAKE, (uint8_t *)&changes.base, 12, out), UVK_DOOR_DONE);
    run(500);
    assert_int_equal(ask(UVK_DOOR_STAGED, NULL, 0, out), UVK_DOOR_DONE);
    assert_int_equal(out[0], UVK_STAGED_REFUSED);
    assert_int_equal(out[1], UVK_REFUSED_SUM);
    tap(1);
    expect_typed("b");
    /* a key is held: nothing is changed under a finger */
    uvk_rig_press(rig, 2, true);
    run(20);
    assert_int_equal(ask_plain(UVK_DOOR_FORGET), UVK_DOOR_DONE);
    run(UVK_DOOR_HELD_MS + 100);
    assert_int_equal(ask(UVK_DOOR_STAGED, NULL, 0, out), UVK_DOOR_DONE);
    assert_int_equal(out[0], UVK_STAGED_REFUSED);
    assert_int_equal(out[1], UVK_REFUSED_HELD);
    uvk_rig_press(rig, 2, false);
    run(50);
    assert_int_equal(ask_plain(UVK_DOOR_RESTART), UVK_DOOR_DONE);
    run(3000);
    assert_int_equal(uvk_rig_restarts(rig), 1);
}

static void nonsense_is_refused(void **state)
{
    (void)state;
    on_each_chip(refuse_nonsense);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(it_opens_and_changes),
        cmocka_unit_test(every_kind_of_thing_is_changed),
        cmocka_unit_test(nobody_gets_in_without_keys),
        cmocka_unit_test(nonsense_is_refused),
    };

    return cmocka_run_group_tests(tests, NULL, NULL);
}
