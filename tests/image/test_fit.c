/* A keymap in the places of another one: whatever the second one says, the changed image does,
 * and the check that a keyboard makes has nothing against it. */
#include "support.h"

#include "uvrek/fit.h"

#include <string.h>

/* Keymaps of one board. Each has something that the others do not; CELLS is nine cells. */
#define KEYMAP(room, more, cells)                                                              \
    BOARD9 "keymap k {\n host linux us\n live { room " room " }\n" more                        \
           " layer base {\n" cells "\n }\n"                                                    \
           " layer top { . . . 1 2 3 4 5 6 }\n}\n"
#define PLAIN "a b c d e f g h top"

static const char *const keymaps[] = {
    KEYMAP("352", "", PLAIN),
    KEYMAP("352", "", "a b c d e f g i top"),
    KEYMAP("352", "", "a b once:shift d e f g a/ctrl top"),
    KEYMAP("352", " set debounce 9ms\n set pointer-speed 400\n", PLAIN),
    KEYMAP(
        "352",
        " feel calm { hold-after 240ms }\n feel fast { hold-after 120ms; decide on-press }\n",
        "a/shift b/ctrl~calm c/alt~fast d e f g h top"),
    KEYMAP(
        "352",
        " feel calm { hold-after 250ms }\n feel fast { hold-after 120ms; decide on-press }\n",
        "a/shift b/ctrl~calm c/alt~fast d/alt~fast e f g h top"),
    KEYMAP("352",
           " macro one { type \"reel\" }\n macro two { tap ctrl+p; wait 20ms; tap enter }\n"
           " macro three { press shift; tap x; on-release { tap y } }\n",
           "one two three d e f g h top"),
    KEYMAP("352",
           " macro new { type \"Saltmarsh\" }\n macro one { type \"reel\" }\n"
           " macro two { tap ctrl+o; wait 20ms; tap enter }\n",
           "one two new d e f g h top"),
    KEYMAP("352", " combo a+b -> esc { within 40ms }\n combo d+e+f -> ctrl+right-alt+x\n",
           PLAIN),
    KEYMAP("352",
           " combo d+e+f -> ctrl+right-alt+x\n combo a+b -> tab { within 40ms; on base }\n"
           " combo g+h -> esc\n",
           PLAIN),
    KEYMAP("352", " dance stamp { tap -> x; hold -> ctrl; tap tap -> y/alt }\n",
           "stamp b c d e f g h top"),
    KEYMAP("352",
           " dance other { tap -> q; tap tap tap -> w }\n"
           " dance stamp { tap -> x; hold -> ctrl; tap tap -> z/alt }\n",
           "stamp b other d e f g h top"),
    KEYMAP("352", " leader { a b -> x; c d e -> ctrl+shift+y }\n", "leader a b c d e f g top"),
    KEYMAP("352", " leader { a b -> z; b -> right-ctrl+shift+y; c d e -> x }\n",
           "leader a b c d e f g top"),
    KEYMAP("352", " long-press { letters }\n", PLAIN),
    KEYMAP("352", "", "click-left point-up volume-up board:restart toggle:top e f g top"),
};

/* The check of a keyboard, COUNT rows at a time; how often it went on. */
static unsigned look(const struct uvk_image *image, uint16_t count, enum uvk_checked *checked)
{
    struct uvk_check check;
    unsigned rounds = 0;

    check.image = *image;
    uvk_check_begin(&check);
    do {
        *checked = uvk_check_go(&check, count);
        rounds++;
    } while (*checked == UVK_CHECK_GOES_ON);
    return rounds;
}

/* BUILT changed into WANTED; bytes of the room. */
static unsigned change(const struct uvk_image *built, const struct uvk_image *wanted)
{
    static struct uvk_changes changes;
    struct uvk_image present;
    enum uvk_checked checked = UVK_CHECK_GOOD;
    unsigned needed;

    assert_int_equal(uvk_image_fit(built, wanted, &changes, &needed), UVK_FITS);
    assert_int_equal(uvk_changes_used(&changes), needed);
    assert_true(uvk_changes_fit(&changes, uvk_image_room(built)));
    assert_int_equal(uvk_image_open_changed(&present, built, &changes), UVK_OK);
    if (needed > 0) {
        (void)look(&present, UINT16_MAX, &checked);
    }
    assert_int_equal(checked, UVK_CHECK_GOOD);
    assert_true(uvk_same_image(&present, wanted));
    return needed;
}

static void every_keymap_becomes_every_other(void **state)
{
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(keymaps); i++) {
        struct made built = make_image(keymaps[i]);
        for (size_t n = 0; n < G_N_ELEMENTS(keymaps); n++) {
            struct made wanted = make_image(keymaps[n]);
            unsigned needed = change(&built.image, &wanted.image);
            assert_int_equal(needed == 0, i == n);
            assert_int_equal(uvk_same_image(&built.image, &wanted.image), i == n);
            clear_image(&wanted);
        }
        clear_image(&built);
    }
}

static unsigned cost(const char *before, const char *after)
{
    struct made built = make_image(before);
    struct made wanted = make_image(after);
    unsigned needed = change(&built.image, &wanted.image);

    clear_image(&built);
    clear_image(&wanted);
    return needed;
}

/* A word for a cell, whatever number the macro or the feel has in a text of its own. */
static void a_small_change_takes_little_room(void **state)
{
    (void)state;
    assert_int_equal(cost(keymaps[0], keymaps[1]), 4);
    assert_int_equal(
        cost(KEYMAP("352", " feel f { hold-after 200ms }\n", "a/ctrl~f b c d e f g h top"),
             KEYMAP("352", " feel f { hold-after 240ms }\n", "a/ctrl~f b c d e f g h top")),
        4);
    /* two macros change their places in the text, and nothing else */
    assert_int_equal(cost(KEYMAP("352", " macro a1 { tap x }\n macro b1 { tap y; tap z }\n",
                                 "a1 b1 c d e f g h top"),
                          KEYMAP("352", " macro b1 { tap y; tap z }\n macro a1 { tap x }\n",
                                 "a1 b1 c d e f g h top")),
                     0);
}

static void what_does_not_fit_is_told(void **state)
{
    static struct uvk_changes changes;
    struct made built = make_image(KEYMAP("16", "", PLAIN));
    struct made large = make_image(KEYMAP("16", "", "x y z x y z x y top"));
    struct made room = make_image(KEYMAP("32", "", PLAIN));
    struct made layers =
        make_image(BOARD9 "keymap k { host linux us\n live { room 16 }\n"
                          " layer base { " PLAIN " }\n layer top { . . . 1 2 3 4 5 6 }\n"
                          " layer third { . . . . . . . . 7 } }\n");
    struct made board =
        make_image(BOARD9_KNOB "keymap k { host linux us\n live { room 16 }\n"
                               " layer base { " PLAIN "\n knob jog left right }\n"
                               " layer top { . . . 1 2 3 4 5 6 } }\n");
    unsigned needed;

    (void)state;
    assert_int_equal(uvk_image_fit(&built.image, &large.image, &changes, &needed),
                     UVK_FIT_TOO_LARGE);
    assert_int_equal(needed, 8 * UVK_CHANGED_WORD);
    assert_int_equal(uvk_image_fit(&built.image, &room.image, &changes, &needed), UVK_FIT_ROOM);
    assert_int_equal(uvk_image_fit(&built.image, &layers.image, &changes, &needed),
                     UVK_FIT_LAYERS);
    assert_int_equal(uvk_image_fit(&built.image, &board.image, &changes, &needed),
                     UVK_FIT_BOARD);
    clear_image(&built);
    clear_image(&large);
    clear_image(&room);
    clear_image(&layers);
    clear_image(&board);
}

/* However little is looked at in a pass, the answer is the same. */
static void a_check_in_slices_is_a_check(void **state)
{
    static struct uvk_changes changes;
    struct made built = make_image(keymaps[6]);
    struct made wanted = make_image(keymaps[11]);
    struct uvk_image present;
    enum uvk_checked checked;
    unsigned needed;

    (void)state;
    assert_int_equal(uvk_image_fit(&built.image, &wanted.image, &changes, &needed), UVK_FITS);
    assert_int_equal(uvk_image_open_changed(&present, &built.image, &changes), UVK_OK);
    /* eight bytes of the sum at once, then row by row */
    assert_in_range(look(&present, 1, &checked), changes.size / 8u, changes.size);
    assert_int_equal(checked, UVK_CHECK_GOOD);
    changes.sum ^= 1;
    (void)look(&present, 7, &checked);
    assert_int_equal(checked, UVK_CHECK_BAD_SUM);
    clear_image(&built);
    clear_image(&wanted);
}

/* Any bytes as changes: they are refused, or they are an image that can be read throughout. */
static void nonsense_is_refused(void **state)
{
    static struct uvk_changes changes;
    struct made built = make_image(keymaps[7]);
    struct uvk_image present;
    enum uvk_checked checked;
    unsigned refused = 0;

    (void)state;
    srand(7);
    for (unsigned round = 0; round < 20000; round++) {
        unsigned words = (unsigned)rand() % 20;
        uvk_changes_clear(&changes, built.bytes);
        for (unsigned i = 0; i < words; i++) {
            uint16_t at = (uint16_t)((20u + (i + 1) * (changes.built - 24u) / words) & 0xFFFEu);
            changes.room[4 * i] = (uint8_t)at;
            changes.room[4 * i + 1] = (uint8_t)(at >> 8);
            changes.room[4 * i + 2] = (uint8_t)rand();
            changes.room[4 * i + 3] = (uint8_t)rand();
        }
        changes.words = (uint16_t)words;
        changes.size = (uint16_t)(changes.built + (unsigned)rand() % 40);
        if (!uvk_changes_fit(&changes, 120) ||
            uvk_image_open_changed(&present, &built.image, &changes) != UVK_OK) {
            refused++;
            continue;
        }
        changes.sum = UVK_CRC_START; /* the right sum: nothing but the values is to refuse it */
        for (uint16_t at = 20; at < changes.size; at++) {
            uint8_t byte = uvk_image_byte_at(&present, at);
            changes.sum = uvk_crc32(changes.sum, &byte, 1);
        }
        changes.sum = ~changes.sum;
        (void)look(&present, UINT16_MAX, &checked);
        assert_int_not_equal(checked, UVK_CHECK_BAD_SUM);
        refused += checked != UVK_CHECK_GOOD;
    }
    assert_in_range(refused, 15000, 19999);
    clear_image(&built);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(every_keymap_becomes_every_other),
        cmocka_unit_test(a_small_change_takes_little_room),
        cmocka_unit_test(what_does_not_fit_is_told),
        cmocka_unit_test(a_check_in_slices_is_a_check),
        cmocka_unit_test(nonsense_is_refused),
    };

    return cmocka_run_group_tests(tests, NULL, NULL);
}
