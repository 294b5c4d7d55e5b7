/* From what keys join to the file that says so: boards that are wired in any way are learned,
 * key by key, and the corrected file is the board that was pressed. */
#include "support.h"

#include "uvrek/wiring.h"

#include <string.h>

/* The board of the file is WRITTEN; the one under the fingers is REAL, with as many keys. */
struct bench {
    struct uvk_program *written, *real;
    struct uvk_wiring *wiring;
};

static struct bench lay(const char *written, const char *real)
{
    struct bench bench = {good_program(written), good_program(real), NULL};

    bench.wiring = uvk_wiring_new(bench.written->board, 0);
    return bench;
}

static void clear(struct bench *bench)
{
    uvk_wiring_free(bench->wiring);
    uvk_program_free(bench->written);
    uvk_program_free(bench->real);
}

/* What KEY joins as a probe tells it; how many pairs. */
static unsigned joins(const struct uvk_board *board, unsigned key, struct uvk_conducts pairs[2])
{
    const struct uvk_key_place *place = &board->keys[key];
    const struct uvk_half *half = &board->halves[place->half];
    const struct uvk_pin *row = half->rows[place->row];
    const struct uvk_pin *col = half->cols[place->col];

    if (place->direct) {
        pairs[0] = (struct uvk_conducts){NULL, half->direct[place->col]};
        return 1;
    }
    pairs[0] = half->flow == UVK_COL_TO_ROW ? (struct uvk_conducts){row, col}
                                            : (struct uvk_conducts){col, row};
    pairs[1] = (struct uvk_conducts){pairs[0].high, pairs[0].low};
    return half->flow == UVK_NO_DIODES ? 2 : 1;
}

static enum uvk_wiring_press press(struct bench *bench, unsigned key)
{
    struct uvk_conducts pairs[2];
    unsigned count = joins(bench->real->board, key, pairs);
    unsigned other = 0;

    return uvk_wiring_take(bench->wiring, key, pairs, count, &other);
}

static void press_all(struct bench *bench)
{
    for (unsigned key = 0; key < bench->written->board->key_count; key++) {
        assert_int_equal(press(bench, key), UVK_PRESS_TAKEN);
    }
    for (unsigned knob = 0; knob < bench->written->board->knob_count; knob++) {
        const struct uvk_knob *real = &bench->real->board->knobs[knob];
        uvk_wiring_take_knob(bench->wiring, knob, real->pins[real->flipped],
                             real->pins[!real->flipped]);
    }
}

static char *told(const struct uvk_wiring *wiring)
{
    GPtrArray *list = uvk_wiring_told(wiring);
    GString *out = g_string_new(NULL);

    for (guint i = 0; i < list->len; i++) {
        g_string_append_printf(out, "%s\n", (const char *)list->pdata[i]);
    }
    g_ptr_array_unref(list);
    return g_string_free(out, FALSE);
}

static void expect_told(const struct bench *bench, const char *expected)
{
    char *text = told(bench->wiring);

    assert_string_equal(text, expected);
    g_free(text);
}

/* The corrected file names the pins of the real board, and then nothing is wrong. */
static void expect_mended(const struct bench *bench)
{
    const char *path;
    size_t size;
    GError *error = NULL;
    char *text = uvk_wiring_mend(bench->wiring, true, &size, &path, &error);
    struct uvk_program *mended;
    struct uvk_wiring *again;
    char *rest;

    if (error != NULL) {
        fail_msg("%s", error->message);
    }
    mended = good_program(text);
    again = uvk_wiring_again(bench->wiring, mended->board);
    rest = told(again);
    assert_string_equal(rest, "");
    assert_false(uvk_wiring_differs(again));
    for (unsigned key = 0; key < mended->board->key_count; key++) {
        struct uvk_conducts is[2];
        struct uvk_conducts is_to_be[2];
        assert_int_equal(joins(mended->board, key, is),
                         joins(bench->real->board, key, is_to_be));
        assert_ptr_equal(is[0].low, is_to_be[0].low);
        assert_ptr_equal(is[0].high, is_to_be[0].high);
    }
    g_free(rest);
    uvk_wiring_free(again);
    uvk_program_free(mended);
    g_free(text);
}

#define NINE(rows, cols, flow, knob)                                                           \
    "board nine { # by hand\n chip atmega32u4\n usb { vendor 0x1209; product 9; maker \"T\" "  \
    "}\n"                                                                                      \
    " matrix { rows " rows "; cols   " cols "; flow  " flow                                    \
    " } # wires\n knob jog { pins " knob                                                       \
    " }\n keys {\n r0c0 r0c1 r0c2 =jog\n r1c0 r1c1 r1c2\n r2c0 r2c1 r2c2\n }\n}\n"
#define AS_WRITTEN NINE("B1 B3 B2", "F4 F5 F6", "row->col", "D0 D1")

static void each_mistake_is_told_and_mended(void **state)
{
    static const struct {
        const char *real, *told;
    } boards[] = {
        {NINE("B1 B3 B2", "F4 F6 F5", "row->col", "D0 D1"),
         "c1 and c2 are exchanged: c1 is on F6, and c2 on F5 (seen by r0c1 r1c1 r2c1)\n"},
        {NINE("B2 B3 B1", "F4 F5 F6", "row->col", "D0 D1"),
         "r0 and r2 are exchanged: r0 is on B2, and r2 on B1 (seen by r0c0 r0c1 r0c2)\n"},
        {NINE("B1 B3 B2", "F4 F5 F6", "col->row", "D0 D1"),
         "flow is col->row, not row->col: so conduct 9 of 9 keys\n"},
        {NINE("B1 B3 B2", "F4 F5 F6", "none", "D0 D1"),
         "flow is none, not row->col: so conduct 9 of 9 keys\n"},
        {NINE("F4 F5 F6", "B1 B3 B2", "row->col", "D0 D1"),
         "rows and columns are exchanged: each row is on a column's pin\n"},
        {NINE("B1 B3 B2", "F4 F5 F7", "row->col", "D0 D1"),
         "column c2 (F6) is on F7 (seen by r0c2 r1c2 r2c2)\n"},
        {NINE("B1 B3 B2", "F4 F5 F6", "row->col", "D1 D0"),
         "the knob jog turns the other way: D1 closes before D0\n"},
        {NINE("B1 B3 B2", "F4 F5 F6", "row->col", "D0 D4"), "the knob jog is on D0 and D4\n"},
    };

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(boards); i++) {
        struct bench bench = lay(AS_WRITTEN, boards[i].real);
        press_all(&bench);
        expect_told(&bench, boards[i].told);
        expect_mended(&bench);
        clear(&bench);
    }
}

static void a_board_that_is_right_stays_as_it_is(void **state)
{
    struct bench bench = lay(AS_WRITTEN, AS_WRITTEN);
    const char *path;
    size_t size;
    GError *error = NULL;

    (void)state;
    press_all(&bench);
    expect_told(&bench, "");
    assert_false(uvk_wiring_differs(bench.wiring));
    assert_null(uvk_wiring_mend(bench.wiring, false, &size, &path, &error));
    assert_string_equal(error->message, "the file cannot be corrected: nothing of it is wrong");
    g_error_free(error);
    clear(&bench);
}

/* Comments and spacing stay. */
static void only_the_wrong_words_change(void **state)
{
    struct bench bench = lay(AS_WRITTEN, NINE("B1 B3 B2", "F6 F5 F4", "row->col", "D1 D0"));
    const char *path;
    size_t size;
    char *text;

    (void)state;
    press_all(&bench);
    text = uvk_wiring_mend(bench.wiring, false, &size, &path, NULL);
    assert_string_equal(text, NINE("B1 B3 B2", "F6 F5 F4", "row->col", "D1 D0"));
    assert_int_equal(size, strlen(text));
    g_free(text);
    clear(&bench);
}

static void shuffle(GRand *random, const char **pins, unsigned count)
{
    for (unsigned i = count; i > 1; i--) {
        unsigned other = (unsigned)g_rand_int_range(random, 0, (gint32)i);
        const char *pin = pins[i - 1];
        pins[i - 1] = pins[other];
        pins[other] = pin;
    }
}

/* Any wires on any pins are learned. */
static void any_wiring_is_learned(void **state)
{
    static const char *const flows[] = {"row->col", "col->row", "none"};
    GRand *random = g_rand_new_with_seed(3);

    (void)state;
    for (unsigned round = 0; round < 300; round++) {
        const char *pins[] = {"B1", "B3", "B2", "F4", "F5", "F6", "F7",
                              "C6", "D0", "D1", "D4", "B6", "E6"};
        char *rows;
        char *cols;
        char *real;
        struct bench bench;
        shuffle(random, pins, G_N_ELEMENTS(pins));
        rows = g_strdup_printf("%s %s %s", pins[0], pins[1], pins[2]);
        cols = g_strdup_printf("%s %s %s", pins[3], pins[4], pins[5]);
        real = g_strdup_printf(NINE("%s", "%s", "%s", "%s %s"), rows, cols,
                               flows[g_rand_int_range(random, 0, 3)], pins[6], pins[7]);
        bench = lay(AS_WRITTEN, real);
        press_all(&bench);
        if (uvk_wiring_differs(bench.wiring)) {
            expect_mended(&bench);
        }
        clear(&bench);
        g_free(real);
        g_free(cols);
        g_free(rows);
    }
    g_rand_free(random);
}

/* ---- presses ---------------------------------------------------------------------------- */

static void presses_that_are_none_are_refused(void **state)
{
    struct bench bench = lay(AS_WRITTEN, AS_WRITTEN);
    struct uvk_conducts pairs[4];
    unsigned other = 99;

    (void)state;
    assert_int_equal(press(&bench, 0), UVK_PRESS_TAKEN);
    (void)joins(bench.real->board, 1, pairs);
    (void)joins(bench.real->board, 2, pairs + 1);
    assert_int_equal(uvk_wiring_take(bench.wiring, 1, pairs, 2, &other), UVK_PRESS_TWO);
    (void)joins(bench.real->board, 0, pairs);
    assert_int_equal(uvk_wiring_take(bench.wiring, 1, pairs, 1, &other), UVK_PRESS_KNOWN);
    assert_int_equal(other, 0);
    uvk_wiring_forget(bench.wiring, 0);
    assert_int_equal(uvk_wiring_take(bench.wiring, 1, pairs, 1, &other), UVK_PRESS_TAKEN);
    clear(&bench);
}

/* One key of a row does not say which of its two pins is the row's: the file's is taken. */
static void a_few_keys_confirm_the_file(void **state)
{
    struct bench bench = lay(AS_WRITTEN, AS_WRITTEN);

    (void)state;
    assert_int_equal(press(&bench, 4), UVK_PRESS_TAKEN);
    expect_told(&bench, "");
    clear(&bench);
    bench = lay(AS_WRITTEN, NINE("B1 B3 B2", "F4 F7 F6", "row->col", "D0 D1"));
    assert_int_equal(press(&bench, 4), UVK_PRESS_TAKEN);
    expect_told(&bench, "column c1 (F5) is on F7 (seen by r1c1)\n");
    clear(&bench);
}

static void what_no_file_can_say_is_told(void **state)
{
    struct bench bench = lay(AS_WRITTEN, AS_WRITTEN);
    const struct uvk_chip *chip = bench.written->board->chip;
    struct uvk_conducts pairs[2];
    unsigned other;

    (void)state;
    press_all(&bench);
    (void)joins(bench.real->board, 4, pairs);
    uvk_wiring_forget(bench.wiring, 4);
    assert_int_equal(uvk_wiring_take(bench.wiring, 4, pairs + 1, 1, &other), UVK_PRESS_TAKEN);
    expect_told(&bench, "the diode of r1c1 is the other way round: turn it\n");
    assert_int_equal(uvk_wiring_take(bench.wiring, 4, pairs, 2, &other), UVK_PRESS_TAKEN);
    expect_told(&bench, "r1c1 has no diode, or a wire beside it: it conducts both ways\n");
    pairs[0].low = NULL;
    assert_int_equal(uvk_wiring_take(bench.wiring, 4, pairs, 1, &other), UVK_PRESS_TAKEN);
    expect_told(&bench,
                "r1c1 joins B3 to ground: it is no key of the matrix, but a switch of its "
                "own\n");
    assert_int_equal(uvk_wiring_take(bench.wiring, 4, NULL, 0, NULL), UVK_PRESS_TAKEN);
    expect_told(&bench, "r1c1 never came: its switch, its diode or a joint\n");
    for (unsigned key = 3; key < 6; key++) {
        assert_int_equal(uvk_wiring_take(bench.wiring, key, NULL, 0, NULL), UVK_PRESS_TAKEN);
    }
    expect_told(&bench,
                "row r1 (B3) never came: its wire reaches no pin, or that pin is dead\n");
    assert_false(uvk_wiring_differs(bench.wiring));
    clear(&bench);

    bench = lay(AS_WRITTEN, AS_WRITTEN);
    uvk_wiring_join(bench.wiring, uvk_chip_pin(chip, "F4"), uvk_chip_pin(chip, "F5"));
    uvk_wiring_join(bench.wiring, uvk_chip_pin(chip, "F5"), uvk_chip_pin(chip, "F4"));
    press_all(&bench);
    expect_told(&bench, "F4 and F5 are joined, with no key down: look for a bridge\n");
    assert_false(uvk_wiring_differs(bench.wiring));
    clear(&bench);
}

/* ---- halves ----------------------------------------------------------------------------- */

#define HALVES(left, right)                                                                    \
    "board two {\n chip atmega32u4\n usb { vendor 0x1209; product 9; maker \"T\" }\n"          \
    " halves left right { }\n matrix left { " left " }\n matrix right { " right " }\n"         \
    " keys left { r0c0 r0c1; r1c0 r1c1 }\n keys right { r0c0 r0c1; r1c0 r1c1 } }\n"
#define LEFT  "rows B1 B3; cols F4 F5; flow row->col"
#define RIGHT "rows B2 B6; cols F6 F7; flow row->col"

static void halves_that_are_exchanged_are_told(void **state)
{
    struct bench bench = lay(HALVES(LEFT, RIGHT), HALVES(RIGHT, LEFT));

    (void)state;
    press_all(&bench);
    expect_told(&bench,
                "the halves are exchanged: the wires of 'left' are on the pins of 'right'\n"
                "the halves are exchanged: the wires of 'right' are on the pins of "
                "'left'\n");
    expect_mended(&bench);
    clear(&bench);
}

/* One probe sees one half; what both share is changed only if both are alike. */
static void a_statement_for_both_halves_is_not_changed_for_one(void **state)
{
    struct uvk_program *program = shipped("translator");
    struct uvk_wiring *wiring = uvk_wiring_new(program->board, 0);
    const char *path;
    size_t size;
    GError *error = NULL;
    unsigned other;
    char *text;

    (void)state;
    for (unsigned key = 0; key < program->board->key_count; key++) {
        struct uvk_conducts pairs[2];
        assert_int_equal(uvk_wiring_has(wiring, key), program->board->keys[key].half == 0);
        if (uvk_wiring_has(wiring, key)) {
            (void)joins(program->board, key, pairs);
            assert_int_equal(uvk_wiring_take(wiring, key, pairs + 1, 1, &other),
                             UVK_PRESS_TAKEN);
        }
    }
    text = told(wiring);
    assert_string_equal(text, "flow is row->col, not col->row: so conduct 19 of 19 keys\n");
    g_free(text);
    assert_true(uvk_wiring_differs(wiring));
    assert_null(uvk_wiring_mend(wiring, false, &size, &path, &error));
    assert_non_null(strstr(error->message,
                           "both halves share one `matrix`. If the other one is "
                           "wired like this, say --alike"));
    g_error_free(error);
    text = uvk_wiring_mend(wiring, true, &size, &path, NULL);
    assert_non_null(strstr(text, "flow  row->col"));
    assert_non_null(strstr(path, "wherry38.uvk")); /* the file that says it */
    g_free(text);
    uvk_wiring_free(wiring);
    uvk_program_free(program);
}

/* ---- from nothing ----------------------------------------------------------------------- */

/* All keys of a board as they lie, line by line; then its knobs. */
static struct uvk_discovery *discover(const struct uvk_board *board)
{
    struct uvk_discovery *discovery = uvk_discovery_new(board->chip);
    unsigned line = 0;

    for (unsigned key = 0; key < board->key_count; key++) {
        struct uvk_conducts pairs[2];
        unsigned count = joins(board, key, pairs);
        unsigned other;
        if (board->keys[key].line != line) {
            uvk_discovery_line(discovery);
            uvk_discovery_line(discovery); /* an empty one is none */
            line = board->keys[key].line;
        }
        assert_int_equal(uvk_discovery_key(discovery, pairs, count, &other), UVK_PRESS_TAKEN);
        assert_int_equal(uvk_discovery_key(discovery, pairs, count, &other), UVK_PRESS_KNOWN);
        assert_int_equal(other, key);
    }
    for (unsigned i = 0; i < board->knob_count; i++) {
        const struct uvk_knob *knob = &board->knobs[i];
        const struct uvk_turned turned = {knob->pins[knob->flipped], knob->pins[!knob->flipped],
                                          knob->detent};
        uvk_discovery_knob(discovery, knob->name, &turned);
    }
    return discovery;
}

static char *board_of(const struct uvk_discovery *discovery, GError **error)
{
    const struct uvk_discovered all = {.halves = {discovery}};

    return uvk_discovery_board(&all, "learned", error);
}

/* What was learned joins what the keys joined, whichever side is called a row. */
static void expect_same_switches(const struct uvk_board *learned, const struct uvk_board *real)
{
    assert_int_equal(learned->key_count, real->key_count);
    assert_int_equal(learned->line_count, real->line_count);
    for (unsigned key = 0; key < real->key_count; key++) {
        struct uvk_conducts is[2];
        struct uvk_conducts is_to_be[2];
        unsigned count = joins(learned, key, is);
        assert_int_equal(count, joins(real, key, is_to_be));
        assert_true(is[0].low == is_to_be[0].low ||
                    (count == 2 && is[0].low == is_to_be[0].high));
        assert_true(is[0].high == is_to_be[0].high ||
                    (count == 2 && is[0].high == is_to_be[0].low));
    }
}

static void boards_are_learned_from_nothing(void **state)
{
    static const char *const boards[] = {
        NINE("B1 B3 B2", "F4 F5 F6", "row->col", "D0 D1"),
        NINE("B1 B3 B2", "F4 F5 F6", "col->row", "D0 D1"),
        NINE("B1 B3 B2", "F4 F5 F6", "none", "D0 D1"),
        "board pedal {\n chip rp2040\n usb { vendor 0x1209; product 9; maker \"T\" }\n direct "
        "{ "
        "pins GP2 GP9 GP4 }\n keys { d0 d1 d2 } }\n",
        "board both {\n chip rp2040\n usb { vendor 0x1209; product 9; maker \"T\" }\n matrix { "
        "rows GP2 GP3; cols GP4 GP5 GP6; flow col->row }\n direct { pins GP9 }\n keys { r0c0 "
        "r0c1 "
        "r0c2 d0; r1c0 r1c1 r1c2 } }\n",
    };

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(boards); i++) {
        struct uvk_program *real = good_program(boards[i]);
        struct uvk_discovery *discovery = discover(real->board);
        char *text = board_of(discovery, NULL);
        struct uvk_program *learned = good_program(text);
        expect_same_switches(learned->board, real->board);
        assert_int_equal(learned->board->knob_count, real->board->knob_count);
        uvk_program_free(learned);
        g_free(text);
        uvk_discovery_free(discovery);
        uvk_program_free(real);
    }
}

/* The shipped boards in one piece, whatever their keys' sizes. */
static void shipped_boards_are_learned_from_nothing(void **state)
{
    static const char *const boards[] = {"subtitle-desk", "box-office"};

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(boards); i++) {
        struct uvk_program *real = shipped(boards[i]);
        struct uvk_discovery *discovery = discover(real->board);
        char *text = board_of(discovery, NULL);
        char *messages = messages_of(text);
        struct uvk_program *learned = uvk_program_read("learned", text, strlen(text));
        assert_int_equal(learned->messages.errors, 0);
        expect_same_switches(learned->board, real->board);
        uvk_program_free(learned);
        g_free(messages);
        g_free(text);
        uvk_discovery_free(discovery);
        uvk_program_free(real);
    }
}

/* The keys of one half. */
static struct uvk_discovery *discover_half(const struct uvk_board *board, unsigned half)
{
    struct uvk_discovery *discovery = uvk_discovery_new(board->chip);
    int line = -1;

    for (unsigned key = 0; key < board->key_count; key++) {
        struct uvk_conducts pairs[2];
        unsigned other;
        if (board->keys[key].half != half) {
            continue;
        }
        if ((int)board->keys[key].line != line) {
            uvk_discovery_line(discovery);
            line = (int)board->keys[key].line;
        }
        assert_int_equal(uvk_discovery_key(discovery, pairs, joins(board, key, pairs), &other),
                         UVK_PRESS_TAKEN);
    }
    return discovery;
}

/* Both have the same wires: one matrix says so. */
static void shipped_halves_are_learned_from_nothing(void **state)
{
    static const struct {
        const char *file, *link;
    } boards[] = {{"translator", "uart GP0 GP1"}, {"seats", "wire D2"}};

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(boards); i++) {
        struct uvk_program *real = shipped(boards[i].file);
        struct uvk_discovery *left = discover_half(real->board, 0);
        struct uvk_discovery *right = discover_half(real->board, 1);
        const struct uvk_discovered all = {{left, right}, {"left", "right"}, boards[i].link};
        char *text = uvk_discovery_board(&all, "learned", NULL);
        struct uvk_program *learned = uvk_program_read("learned", text, strlen(text));
        assert_int_equal(learned->messages.errors, 0);
        assert_non_null(strstr(text, "  matrix {"));
        assert_null(strstr(text, "  matrix right {"));
        assert_int_equal(learned->board->half_count, 2);
        expect_same_switches(learned->board, real->board);
        uvk_program_free(learned);
        g_free(text);
        uvk_discovery_free(left);
        uvk_discovery_free(right);
        uvk_program_free(real);
    }
}

/* The second half has other pins, a knob, and a direct switch. */
static void halves_that_differ_have_a_matrix_each(void **state)
{
    struct uvk_program *real =
        good_program("board unequal {\n chip rp2040\n halves left right { main usb; link uart "
                     "GP0 GP1 }\n"
                     " matrix left { rows GP2 GP3; cols GP4 GP5; flow row->col }\n"
                     " matrix right { rows GP2 GP3; cols GP6 GP7; flow col->row }\n"
                     " direct right { pins GP9 }\n"
                     " keys left { r0c0 r0c1; r1c0 r1c1 }\n"
                     " keys right { r0c0 r0c1 d0; r1c0 r1c1 }\n}\n");
    struct uvk_discovery *left = discover_half(real->board, 0);
    struct uvk_discovery *right = discover_half(real->board, 1);
    const struct uvk_discovered all = {{left, right}, {"left", "right"}, "uart GP0 GP1"};
    const struct uvk_discovered none = {
        {left, uvk_discovery_new(real->board->chip)}, {"left", "right"}, "uart GP0 GP1"};
    const struct uvk_turned turned = {real->board->halves[0].rows[0],
                                      real->board->halves[0].rows[1], 2};
    struct uvk_program *learned;
    GError *error = NULL;
    char *text;

    (void)state;
    uvk_discovery_knob(right, "reel", &turned);
    text = uvk_discovery_board(&all, "learned", NULL);
    assert_non_null(strstr(text, "  knob reel right { pins GP2 GP3; detent 2 }\n"));
    assert_non_null(strstr(text, "  matrix left {\n    rows  GP2 GP3\n"));
    assert_non_null(strstr(text, "  direct right {\n    pins  GP9\n"));
    learned = uvk_program_read("learned", text, strlen(text));
    expect_same_switches(learned->board, real->board);
    assert_null(uvk_discovery_board(&none, "learned", &error));
    assert_string_equal(error->message, "right: no key was pressed");
    g_clear_error(&error);
    uvk_program_free(learned);
    g_free(text);
    uvk_discovery_free((struct uvk_discovery *)none.halves[1]);
    uvk_discovery_free(left);
    uvk_discovery_free(right);
    uvk_program_free(real);
}

static void switches_that_make_no_board_are_refused(void **state)
{
    const struct uvk_chip *chip = uvk_chip_named("rp2040");
    struct uvk_discovery *discovery = uvk_discovery_new(chip);
    const struct uvk_conducts pairs[] = {{&chip->pins[1], &chip->pins[2]},
                                         {&chip->pins[2], &chip->pins[3]}};
    GError *error = NULL;
    unsigned other;

    (void)state;
    assert_null(board_of(discovery, &error));
    assert_string_equal(error->message, "no key was pressed");
    g_clear_error(&error);
    assert_false(uvk_discovery_back(discovery));
    assert_int_equal(uvk_discovery_key(discovery, pairs, 1, &other), UVK_PRESS_TAKEN);
    assert_int_equal(uvk_discovery_key(discovery, pairs, 2, &other), UVK_PRESS_TWO);
    assert_int_equal(uvk_discovery_key(discovery, pairs + 1, 1, &other), UVK_PRESS_TAKEN);
    assert_null(board_of(discovery, &error));
    assert_non_null(strstr(error->message, "one pin would have to be a row and a column"));
    g_clear_error(&error);
    assert_true(uvk_discovery_back(discovery));
    assert_int_equal(uvk_discovery_count(discovery), 1);
    uvk_discovery_free(discovery);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(each_mistake_is_told_and_mended),
        cmocka_unit_test(a_board_that_is_right_stays_as_it_is),
        cmocka_unit_test(only_the_wrong_words_change),
        cmocka_unit_test(any_wiring_is_learned),
        cmocka_unit_test(presses_that_are_none_are_refused),
        cmocka_unit_test(a_few_keys_confirm_the_file),
        cmocka_unit_test(what_no_file_can_say_is_told),
        cmocka_unit_test(halves_that_are_exchanged_are_told),
        cmocka_unit_test(a_statement_for_both_halves_is_not_changed_for_one),
        cmocka_unit_test(boards_are_learned_from_nothing),
        cmocka_unit_test(shipped_boards_are_learned_from_nothing),
        cmocka_unit_test(shipped_halves_are_learned_from_nothing),
        cmocka_unit_test(halves_that_differ_have_a_matrix_each),
        cmocka_unit_test(switches_that_make_no_board_are_refused),
    };

    return cmocka_run_group_tests(tests, NULL, NULL);
}
