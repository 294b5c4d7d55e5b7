/* Lining cells up, and changing a text in place: what moves, and what must not. */
#include "support.h"

#include "uvrek/edit.h"

#include <string.h>

/* Two halves of three keys and a thumb key each. */
#define HALVES                                                                                 \
    "board two {\n chip rp2040\n halves left right { link uart GP0 GP1 }\n"                    \
    " matrix left { rows GP2 GP3; cols GP4 GP5 GP6; flow col->row }\n"                         \
    " matrix right { rows GP7 GP8; cols GP9 GP10 GP11; flow col->row }\n"                      \
    " keys left {\n r0c0 r0c1 r0c2\n at 2 1\n r1c2\n }\n keys right mirror left gap 1\n}\n"

/* TEXT, lined up; lined up once more it is the same. Freed with g_free. */
static char *tidied(const char *text, unsigned *changed)
{
    struct uvk_program *program = good_program(text);
    struct uvk_program *again;
    size_t size = 0;
    unsigned rest = 1;
    char *result = uvk_tidy(program, &size, changed);
    char *twice;

    assert_non_null(result);
    assert_int_equal(strlen(result), size);
    again = good_program(result);
    twice = uvk_tidy(again, &size, &rest);
    assert_string_equal(twice, result);
    assert_int_equal(rest, 0);
    uvk_program_free(program);
    uvk_program_free(again);
    g_free(twice);
    return result;
}

static void becomes(const char *board, const char *before, const char *after)
{
    char *text = g_strconcat(board, before, NULL);
    char *wanted = g_strconcat(board, after, NULL);
    unsigned changed;
    char *got = tidied(text, &changed);

    assert_string_equal(got, wanted);
    assert_int_equal(changed > 0, strcmp(before, after) != 0);
    g_free(got);
    g_free(wanted);
    g_free(text);
}

static void columns_follow_the_board(void **state)
{
    (void)state;
    becomes(BOARD9,
            "keymap k {\n  layer base {\n a ctrl+shift+b c\n      d e   f   \n\tg h i } }\n",
            "keymap k {\n  layer base {\n    a  ctrl+shift+b  c\n    d  e             f   \n"
            "    g  h             i\n  } }\n");
}

/* And a character counts once, however many bytes it has. */
static void lines_of_their_own(void **state)
{
    (void)state;
    becomes(BOARD9,
            "keymap k {\n  host linux de\n  layer base { a '\xc3\xa4' c; d e f; g h i }\n}\n",
            "keymap k {\n  host linux de\n  layer base {\n    a  '\xc3\xa4'  c\n    d  e    f\n"
            "    g  h    i\n  }\n}\n");
}

static void halves_have_a_gap_and_thumbs_their_fingers(void **state)
{
    (void)state;
    becomes(HALVES, "keymap k {\n  layer base {\n    a b space c d e\n    tab enter\n  }\n}\n",
            "keymap k {\n  layer base {\n    a  b  space      c  d  e\n"
            "          tab        enter\n  }\n}\n");
}

static void comments_and_knobs_stay(void **state)
{
    (void)state;
    becomes(
        BOARD9_KNOB,
        "keymap k {\n  # over it\n  layer base {   # beside it\n\n    # first\n  a b c  # one\n"
        "    d mute f\n    # between\n  knob jog   a b # turned\n    g h i;   # last\n  }\n}\n",
        "keymap k {\n  # over it\n  layer base {   # beside it\n\n    # first\n"
        "    a  b     c  # one\n    d  mute  f\n    # between\n    knob jog   a b # turned\n"
        "    g  h     i;   # last\n  }\n}\n");
}

/* Names for several cells, and lines that are not the board's: nobody knows better. */
/* A layer's colour is no line of cells; a name `light` would be one. */
static void colours_stay(void **state)
{
    (void)state;
    becomes(
        BOARD9,
        "keymap k {\n  layer base {\n light #ff8800\n a ctrl+b c\n d e f\n g h i\n  }\n}\n",
        "keymap k {\n  layer base {\n    light #ff8800\n    a  ctrl+b  c\n    d  e       f\n"
        "    g  h       i\n  }\n}\n");
    becomes(BOARD9,
            "keymap k {\n  let light = a\n  layer base {\n light b c\n d e f\n g h i\n  }\n}\n",
            "keymap k {\n  let light = a\n  layer base {\n    light  b  c\n    d      e  f\n"
            "    g      h  i\n  }\n}\n");
}

static void other_shapes_stay(void **state)
{
    static const char *const texts[] = {
        "keymap k {\n  let abc = a b c\n  layer base {\n abc\n   d   e f\ng h i\n  }\n}\n",
        "keymap k {\n  layer base {\n a b\n   c d e f\ng h  i\n  }\n}\n",
        "keymap k {\n  let mod(t, h) = t/h\n  layer base {\n a  b mod(c,\n ctrl)\n d  e f\n"
        "g h  i\n  }\n}\n"};

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(texts); i++) {
        becomes(BOARD9, texts[i], texts[i]);
    }
}

/* ---- everything that ships, and keymaps at random --------------------------------------- */

static void keeps_its_image(const char *path, const char *text)
{
    struct uvk_program *program = uvk_program_read(path, text, strlen(text));
    struct uvk_program *other;
    uint8_t *images[2];
    uint16_t sizes[2];
    size_t size;
    unsigned changed;
    char *result;

    assert_int_equal(program->messages.errors, 0);
    result = uvk_tidy(program, &size, &changed);
    other = uvk_program_read(path, result, size);
    assert_int_equal(other->messages.errors, 0);
    images[0] = uvk_lower(program, &sizes[0]);
    images[1] = uvk_lower(other, &sizes[1]);
    assert_int_equal(sizes[0], sizes[1]);
    assert_memory_equal(images[0], images[1], sizes[0]);
    g_free(images[0]);
    g_free(images[1]);
    g_free(result);
    uvk_program_free(program);
    uvk_program_free(other);
}

static void what_ships_is_tidy(void **state)
{
    static const char *const names[] = {"subtitle-desk", "translator", "box-office"};

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(names); i++) {
        char *path = g_strdup_printf(SOURCE_FOLDER "/boards/%s.uvk", names[i]);
        char *text;
        struct uvk_program *program = uvk_program_load(path);
        size_t size;
        unsigned changed;
        char *result = uvk_tidy(program, &size, &changed);
        assert_int_equal(changed, 0);
        assert_true(g_file_get_contents(path, &text, NULL, NULL));
        keeps_its_image(path, text);
        g_free(text);
        g_free(result);
        g_free(path);
        uvk_program_free(program);
    }
}

static void random_keymaps_mean_the_same(void **state)
{
    static const char *const cells[] = {"a",     "ctrl+shift+b", "'?'",   ".",         "--",
                                        "enter", "up/ctrl",      "other", "once:shift"};
    static const char *const gaps[] = {" ", "\t", "    ", "  "};
    static const char *const ends[] = {"\n", ";", " ; \n", "  # why\n", "\n\n# but\n\t"};
    GRand *random = g_rand_new_with_seed(20261123);

    (void)state;
    for (int run = 0; run < (few_rounds() ? 60 : 500); run++) {
        GString *text = g_string_new(BOARD9 "keymap k { layer base { ");
        for (int key = 0; key < 18; key++) {
            g_string_append(text, cells[g_rand_int_range(random, 0, G_N_ELEMENTS(cells))]);
            g_string_append(text, key % 3 < 2
                                      ? gaps[g_rand_int_range(random, 0, G_N_ELEMENTS(gaps))]
                                      : ends[g_rand_int_range(random, 0, G_N_ELEMENTS(ends))]);
            g_string_append(text, key == 8 ? "}\nlayer other {" : "");
        }
        g_string_append(text, "} }\n");
        keeps_its_image("random.uvk", text->str);
        g_string_free(text, TRUE);
    }
    g_rand_free(random);
}

/* ---- edits ------------------------------------------------------------------------------ */

static void edits_replace_nothing_else(void **state)
{
    struct uvk_source source = {(char *)"x", (char *)"one  two # three\n", 17};
    struct uvk_edits *edits = uvk_edits_new(&source);
    size_t size;
    char *text;

    (void)state;
    uvk_edits_replace(edits, 5, 3, "2");
    uvk_edits_replace(edits, 0, 3, "one"); /* no change */
    uvk_edits_replace(edits, 17, 0, "end\n");
    uvk_edits_replace(edits, 0, 0, "zero ");
    uvk_edits_replace(edits, 0, 3, "1");
    assert_int_equal(uvk_edits_count(edits), 4);
    text = uvk_edits_apply(edits, &size);
    assert_string_equal(text, "zero 1  2 # three\nend\n");
    assert_int_equal(size, strlen(text));
    g_free(text);
    uvk_edits_replace(edits, 6, 1, "overlaps");
    assert_null(uvk_edits_apply(edits, &size));
    uvk_edits_free(edits);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(columns_follow_the_board),
        cmocka_unit_test(lines_of_their_own),
        cmocka_unit_test(halves_have_a_gap_and_thumbs_their_fingers),
        cmocka_unit_test(comments_and_knobs_stay),
        cmocka_unit_test(colours_stay),
        cmocka_unit_test(other_shapes_stay),
        cmocka_unit_test(what_ships_is_tidy),
        cmocka_unit_test(random_keymaps_mean_the_same),
        cmocka_unit_test(edits_replace_nothing_else),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
