/* What a good text means: the board, the values of cells, names, files. */
#include "support.h"

#include "uvrek/image.h"

#include <glib/gstdio.h>
#include <string.h>

static void board_is_read_whole(void **state)
{
    struct uvk_program *program = good_program(
        "keymap k { layer base { a b c d } } # before its board\n"
        "board pad {\n  title \"Pad \\u{2116} 1\"; chip atmega32u4\n"
        "  usb { vendor 0x1209; product 2; maker \"Saltmarsh\" }\n  boot dfu\n"
        "  keys {\n    r0c0*2 +0.5 r0c1\n    at 0.25 3\n    r1c0*1.5x2\n    at 3 4\n    r1c1\n "
        " }\n"
        "  matrix\n  {\n    cols F4 F5; rows B1 B3; flow col->row; debounce 8ms; settle 2us\n  "
        "}\n"
        "}\n");
    const struct uvk_board *board = program->board;
    struct uvk_scan_plan scan = uvk_board_scan(board);

    (void)state;
    assert_string_equal(board->title, "Pad \u2116 1");
    assert_string_equal(board->boot, "dfu");
    assert_int_equal(board->usb_vendor, 0x1209);
    assert_int_equal(board->key_count, 4);
    assert_int_equal(board->line_count, 3);
    assert_true(board->keys[1].x == 2.5 && board->keys[1].y == 0);
    assert_true(board->keys[2].x == 0.25 && board->keys[2].y == 3);
    assert_true(board->keys[2].width == 1.5 && board->keys[2].height == 2);
    assert_true(board->keys[3].x == 3 && board->keys[3].y == 4);
    assert_true(board->settings[UVK_SET_DEBOUNCE].value == 8000 && board->settle == 2);
    assert_true(uvk_rows_are_lines(&board->halves[0]));
    assert_string_equal(scan.lines[1].select->name, "B3");
    uvk_program_free(program);
}

/* The cell in the middle of a one-layer keymap, as the language writes its value. */
static void assert_cell(const char *cell, const char *value)
{
    char *text =
        g_strdup_printf(BOARD9 "keymap k { host %s us\nlet undo = primary+z\nlet pair = x '!'\n"
                               "layer base { a b c; d %s f; g h i } }\n",
                        strstr(cell, "primary") != NULL ? "mac" : "linux", cell);
    struct uvk_program *program = good_program(text);
    char *got = uvk_value_text(&program->keymap->layers[0].cells[4]);

    assert_string_equal(got, value);
    g_free(got);
    g_free(text);
    uvk_program_free(program);
}

static void cells_have_values(void **state)
{
    (void)state;
    assert_cell("volume-up", "volume-up");
    assert_cell("escape", "esc");
    assert_cell("7", "7");
    assert_cell("ctrl+shift+esc", "ctrl+shift+esc");
    assert_cell("ctrl + shift +esc", "ctrl+shift+esc");
    assert_cell("altgr+right-ctrl", "right-ctrl+right-alt");
    assert_cell("'?'", "shift+slash");
    assert_cell("'\\''", "quote");
    assert_cell("'\\\\'", "backslash");
    assert_cell("ctrl+'A'", "ctrl+shift+a");
    assert_cell("undo", "ctrl+z");
    assert_cell("shift+undo", "ctrl+shift+z");
    assert_cell("primary+c", "gui+c");
    assert_cell("alt+volume-up", "alt+volume-up");
    assert_cell("wheel-left", "wheel-left");
    assert_cell("power-off", "power-off");
    assert_cell("click-middle", "click-middle");
    assert_cell("board:bootloader", "board:bootloader");
    assert_cell("board : restart", "board:restart");
    assert_cell(".", ".");
    assert_cell("--", "--");
    assert_cell("base", "layer 0");
}

static void several_cells_of_a_let_fill_a_line(void **state)
{
    struct uvk_program *program =
        good_program(BOARD9 "keymap k { let row = x 'Y' z\nlayer base { row; a row b c } }\n"
                            "play \"x\" { tap r0c1; expect text \"Y\" }\n");
    char *got = uvk_value_text(&program->keymap->layers[0].cells[5]);

    (void)state;
    assert_string_equal(got, "shift+y");
    g_free(got);
    uvk_program_free(program);
}

/* Every name of the table is lowered, and finds itself again. */
static void every_key_can_be_typed(void **state)
{
    size_t count;
    const struct uvk_key_name *names = uvk_key_names(&count);

    (void)state;
    assert_true(count > 120);
    for (size_t i = 0; i < count; i++) {
        char *text = g_strdup_printf(
            "board x { chip atmega32u4; matrix { rows B1; cols F4; flow row->col };"
            "keys { r0c0 } }\nkeymap k { layer base { %s } }",
            names[i].name);
        struct uvk_program *program = good_program(text);
        uint16_t size;
        uint8_t *image = uvk_lower(program, &size);
        assert_non_null(image);
        assert_ptr_equal(uvk_key_named(names[i].name), &names[i]);
        g_free(image);
        uvk_program_free(program);
        g_free(text);
    }
}

static const char *word_of(size_t index, const void *data)
{
    return ((const char *const *)data)[index];
}

static void near_words_are_found(void **state)
{
    static const char *const words[] = {"volume-up", "volume-down", "enter", "esc"};

    (void)state;
    assert_string_equal(uvk_nearest("volme-up", 4, word_of, words), "volume-up");
    assert_string_equal(uvk_nearest("volume-dwon", 4, word_of, words), "volume-down");
    assert_string_equal(uvk_nearest("entre", 4, word_of, words), "enter");
    assert_null(uvk_nearest("mouse", 4, word_of, words));
    assert_null(uvk_nearest("x", 4, word_of, words));
}

/* ---- lowering ----------------------------------------------------------------------- */

static void same_text_differently_spaced_is_the_same_image(void **state)
{
    struct uvk_program *one = good_program(KEYMAP9("a b c; ctrl+c . '?'; 1 2 3"));
    struct uvk_program *two =
        good_program(KEYMAP9("# comment\n  a   b c\n\n ctrl + c   .  '?'  # another\n1 2 3"));
    uint16_t sizes[2];
    uint8_t *images[2] = {uvk_lower(one, &sizes[0]), uvk_lower(two, &sizes[1])};

    (void)state;
    assert_int_equal(sizes[0], sizes[1]);
    assert_memory_equal(images[0], images[1], sizes[0]);
    g_free(images[0]);
    g_free(images[1]);
    uvk_program_free(one);
    uvk_program_free(two);
}

/* The code of the message that was told last, 0 if there is none. */
static unsigned last_code(const struct uvk_program *program)
{
    const GPtrArray *list = program->messages.list;

    return list->len > 0 ? ((struct uvk_message *)g_ptr_array_index(list, list->len - 1))->code
                         : 0;
}

static void too_many_layers_for_an_image(void **state)
{
    GString *text =
        g_string_new("board x { chip atmega32u4; matrix { rows B0 B1 B2 B3 B4 B5 B6 B7 "
                     "D0 D1 D2 D3 D4; cols F0 F1 F4 F5 F6 F7 C6 C7 D5 D6 D7 E2 E6; "
                     "flow row->col }\nkeys {\n");
    struct uvk_program *program;
    uint16_t size;

    (void)state;
    for (int row = 0; row < 13; row++) {
        for (int col = 0; col < 13; col++) {
            g_string_append_printf(text, " r%dc%d", row, col);
        }
        g_string_append_c(text, '\n');
    }
    g_string_append(text, "} }\nkeymap k {\n");
    for (int layer = 0; layer < 250; layer++) {
        g_string_append_printf(text, "layer n%d {", layer);
        for (int key = 0; key < 169; key++) {
            g_string_append(text, " a");
        }
        g_string_append(text, " }\n");
    }
    g_string_append(text, "}\n");
    program = good_program(text->str);
    assert_null(uvk_lower(program, &size));
    assert_int_equal(program->messages.errors, 1);
    assert_int_equal(last_code(program), 27);
    uvk_program_free(program);
    g_string_free(text, TRUE);
}

/* ---- files -------------------------------------------------------------------------- */

/* Of the mistakes; doubts do not count. */
static unsigned first_code(const char *path)
{
    struct uvk_program *program = uvk_program_load(path);
    unsigned code = 0;

    for (guint i = program->messages.list->len; i-- > 0;) {
        const struct uvk_message *message = g_ptr_array_index(program->messages.list, i);
        code = message->severity == UVK_ERROR ? message->code : code;
    }
    uvk_program_free(program);
    return code;
}

static void files_use_one_another(void **state)
{
    char *folder = g_build_filename(scratch_folder(), "sub", NULL);
    char *board = NULL;
    char *keymap;
    char *main_file;

    (void)state;
    (void)g_mkdir(folder, 0755);
    board = scratch_file("sub/board.uvk", BOARD9);
    keymap = scratch_file("sub/keymap.uvk",
                          "use \"board.uvk\"\nkeymap k { layer base { a b c d e f g h i } }\n");
    main_file = scratch_file("main.uvk", "use \"sub/board.uvk\"\nuse \"sub/keymap.uvk\"\n"
                                         "play \"x\" { tap a; expect text \"a\" }\n");
    assert_int_equal(first_code(main_file), 0);
    g_free(board);
    g_free(keymap);
    g_free(main_file);
    g_free(folder);
}

static void circles_end(void **state)
{
    char *one = scratch_file("one.uvk", "use \"./two.uvk\"\n");
    char *two = scratch_file("two.uvk", "use \"../\u00e9/../one.uvk\"\nuse \"one.uvk\"\n");
    struct uvk_program *program = uvk_program_load(one);

    (void)state;
    assert_true(program->messages.errors >= 1);
    assert_true(program->sources->len <= 4);
    uvk_program_free(program);
    g_free(one);
    g_free(two);
}

static void files_that_cannot_be_read(void **state)
{
    char *missing = scratch_file("missing.uvk", NULL);
    char *user = scratch_file("user.uvk", "use \"nothere.uvk\"\n");

    (void)state;
    assert_int_equal(first_code(missing), 1);
    assert_int_equal(first_code(scratch_folder()), 1);
    assert_int_equal(first_code(user), 1);
    assert_int_equal(first_code("/dev/zero"), 3);
    g_free(missing);
    g_free(user);
}

static void steps_are_read_one_by_one(void **state)
{
    struct uvk_program *program = good_program(KEYMAP9("a b c; d e f; g h i"));
    struct uvk_messages messages;
    const struct uvk_step *step;

    (void)state;
    uvk_messages_init(&messages);
    step = uvk_step_read(program, "tap e for 1.5s # long\n", &messages);
    assert_non_null(step);
    assert_int_equal(step->key, 4);
    assert_int_equal(step->time, 1500000);
    assert_null(uvk_step_read(program, "  # nothing\n", &messages));
    assert_int_equal(messages.errors, 0);
    assert_null(uvk_step_read(program, "tap a; tap b", &messages));
    assert_null(uvk_step_read(program, "}", &messages));
    assert_null(uvk_step_read(program, "\xff", &messages));
    assert_int_equal(messages.errors, 3);
    uvk_messages_clear(&messages);
    uvk_program_free(program);
}

/* ---- layouts ------------------------------------------------------------------------ */

static void layout_types_what_it_finds(void **state)
{
    struct uvk_layout *layout = uvk_layout_load(UVK_LINUX, "us");
    GString *text = g_string_new(NULL);
    struct uvk_typist *typist = uvk_typist_new(layout, false);

    (void)state;
    assert_null(uvk_layout_load(UVK_LINUX, "atlantis"));
    for (gunichar c = 0x20; c < 0x7F; c++) {
        uint8_t mods;
        uint8_t usage;
        assert_true(uvk_layout_find(layout, c, &mods, &usage));
        assert_int_equal(mods & ~0x02, 0);
        if (mods != 0) {
            uvk_typist_key(typist, 0xE1, true, text);
        }
        uvk_typist_key(typist, usage, true, text);
        uvk_typist_key(typist, usage, false, text);
        if (mods != 0) {
            uvk_typist_key(typist, 0xE1, false, text);
        }
    }
    assert_int_equal(text->len, 0x7F - 0x20);
    for (unsigned i = 0; i < text->len; i++) {
        assert_int_equal(text->str[i], 0x20 + i);
    }
    uvk_typist_free(typist);
    uvk_layout_free(layout);
    g_string_free(text, TRUE);
}

/* Which key types a character depends on the host's layout. */
static void layouts_differ(void **state)
{
    static const struct {
        const char *layout, *cell, *value;
    } cells[] = {
        {"de", "'z'", "y"},
        {"de", "'\\u{e4}'", "quote"},
        {"de", "'@'", "right-alt+q"},
        {"fr", "'a'", "q"},
        {"fr", "'1'", "shift+1"},
        {"uk", "'\\u{a3}'", "shift+3"},
        {"es", "'\\u{f1}'", "semicolon"},
        {"se", "'\\u{e5}'", "left-bracket"},
        {"it", "'\\u{e8}'", "left-bracket"},
        {"pt", "'\\u{e7}'", "semicolon"},
        {"dvorak", "'o'", "s"},
        {"colemak", "'e'", "k"},
    };

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(cells); i++) {
        char *text =
            g_strdup_printf(BOARD9 "keymap k { host linux %s\n"
                                   "layer base { a b c; d %s f; g h i } }\n"
                                   "play \"x\" { tap %s; expect keys %s }\n",
                            cells[i].layout, cells[i].cell, cells[i].cell, cells[i].cell);
        struct uvk_program *program = good_program(text);
        char *got = uvk_value_text(&program->keymap->layers[0].cells[4]);
        assert_string_equal(got, cells[i].value);
        g_free(got);
        g_free(text);
        uvk_program_free(program);
    }
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(board_is_read_whole),
        cmocka_unit_test(cells_have_values),
        cmocka_unit_test(several_cells_of_a_let_fill_a_line),
        cmocka_unit_test(every_key_can_be_typed),
        cmocka_unit_test(near_words_are_found),
        cmocka_unit_test(same_text_differently_spaced_is_the_same_image),
        cmocka_unit_test(too_many_layers_for_an_image),
        cmocka_unit_test(files_use_one_another),
        cmocka_unit_test(circles_end),
        cmocka_unit_test(files_that_cannot_be_read),
        cmocka_unit_test(steps_are_read_one_by_one),
        cmocka_unit_test(layout_types_what_it_finds),
        cmocka_unit_test(layouts_differ),
    };
    return cmocka_run_group_tests_name("text", tests, NULL, NULL);
}
