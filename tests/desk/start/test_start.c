/* First boards and keymaps: of every size, without a mistake or a doubt, and their plays go
 * well. */
#include "support.h"

#include "uvrek/start.h"

#include <string.h>

/* The keymap for BOARD's text, with that text before it. */
static char *whole_of(const char *board_text)
{
    struct uvk_program *board = good_program(board_text);
    char *keymap = uvk_start_keymap(board->board, "first", "board.uvk");
    char *whole;

    assert_true(g_str_has_prefix(keymap, "use \"board.uvk\"\n"));
    whole = g_strconcat(board_text, strchr(keymap, '\n'), NULL);
    g_free(keymap);
    uvk_program_free(board);
    return whole;
}

/* Nothing to say of it, and all its plays pass. */
static void works_at_once(const char *board_text, bool small)
{
    char *whole = whole_of(board_text);
    char *messages = messages_of(whole);

    if (small) { /* with one or two keys there is no way to the bootloader */
        assert_true(messages[0] == '\0' || g_str_has_prefix(messages, "U052"));
    } else {
        assert_string_equal(messages, "");
    }
    plays_pass(whole);
    g_free(messages);
    g_free(whole);
}

static void grids_of_every_size(void **state)
{
    unsigned grids = 0;

    (void)state;
    for (unsigned rows = 1; rows <= 7; rows++) {
        for (unsigned columns = 1; columns <= 17; columns++) {
            struct uvk_blank blank = {.name = "grid",
                                      .chip = uvk_chip_named("rp2040"),
                                      .rows = rows,
                                      .columns = columns,
                                      .split = columns <= 9 && (rows + columns) % 2 == 0,
                                      .direct = rows * columns <= 28 && rows % 2 == 0};
            char *board = uvk_start_board(&blank, NULL);
            assert_non_null(board);
            works_at_once(board, rows * columns * (blank.split ? 2 : 1) <= 2);
            g_free(board);
            grids++;
        }
    }
    assert_int_equal(grids, 7 * 17);
}

static void chips_have_so_many_pins(void **state)
{
    struct uvk_blank blank = {.name = "grid", .rows = 12, .columns = 14};
    GError *error = NULL;
    char *board;

    (void)state;
    blank.chip = uvk_chip_named("atmega32u4");
    board = uvk_start_board(&blank, &error);
    assert_null(error);
    works_at_once(board, false);
    g_free(board);
    blank.split = true;
    blank.rows = 8;
    blank.columns = 15;
    board = uvk_start_board(&blank, &error);
    works_at_once(board, false);
    g_free(board);
    blank.rows = 10;
    blank.columns = 12;
    blank.split = false;
    board = uvk_start_board(&blank, &error);
    assert_non_null(board);
    g_free(board);
    blank.columns = 17;
    assert_null(uvk_start_board(&blank, &error));
    assert_string_equal(error->message,
                        "10 rows and 17 columns take 27 pins; the ATmega32U4 has 26");
    g_clear_error(&error);
    blank.columns = 0;
    assert_null(uvk_start_board(&blank, &error));
    g_clear_error(&error);
}

static void boards_that_ship(void **state)
{
    static const char *const names[] = {"tidepad12", "wherry38", "lantern64"};

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(names); i++) {
        char *path = g_strdup_printf(SOURCE_FOLDER "/boards/%s.uvk", names[i]);
        char *text;
        char *whole;
        assert_true(g_file_get_contents(path, &text, NULL, NULL));
        whole = whole_of(text);
        plays_pass(whole);
        g_free(whole);
        g_free(text);
        g_free(path);
    }
}

/* A long key under the letters is the space bar; where there is no line for thumbs, the outer
 * keys do two things. */
static void thumbs_find_their_keys(void **state)
{
    char *whole =
        whole_of("board a { chip rp2040\n matrix { rows GP0 GP1 GP2 GP3\n"
                 " cols GP4 GP5 GP6 GP7 GP8 GP9 GP10 GP11 GP12 GP13; flow row->col }\n"
                 " keys {\n r0c0 r0c1 r0c2 r0c3 r0c4 r0c5 r0c6 r0c7 r0c8 r0c9\n"
                 " r1c0 r1c1 r1c2 r1c3 r1c4 r1c5 r1c6 r1c7 r1c8 r1c9\n"
                 " r2c0 r2c1 r2c2 r2c3 r2c4 r2c5 r2c6 r2c7 r2c8 r2c9\n"
                 " r3c0 r3c1 r3c2*5 r3c3 r3c4\n } }");
    struct uvk_blank blank = {
        .name = "thirty", .chip = uvk_chip_named("rp2040"), .rows = 3, .columns = 10};
    char *board = uvk_start_board(&blank, NULL);

    (void)state;
    assert_non_null(strstr(whole, "  tab  backspace  space  enter  more\n"));
    g_free(whole);
    whole = whole_of(board);
    assert_non_null(strstr(whole, "  z/shift  x  c"));
    assert_non_null(strstr(whole, "  dot  space/more\n"));
    g_free(whole);
    g_free(board);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(grids_of_every_size),
        cmocka_unit_test(chips_have_so_many_pins),
        cmocka_unit_test(boards_that_ship),
        cmocka_unit_test(thumbs_find_their_keys),
    };

    return cmocka_run_group_tests_name("start", tests, NULL, NULL);
}
