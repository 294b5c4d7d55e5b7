/* What a board's text makes: places, order, halves, choices, wires. */
#include "support.h"

#include <math.h>
#include <string.h>

static void assert_near(double value, double wanted)
{
    if (fabs(value - wanted) > 0.001) {
        fail_msg("%g is not %g", value, wanted);
    }
}

static void assert_place(const struct uvk_board *board, unsigned key, const char *name,
                         double x, double y, double turn)
{
    char *place = uvk_cell_place(board, key);

    assert_string_equal(place, name);
    assert_near(board->keys[key].x, x);
    assert_near(board->keys[key].y, y);
    assert_near(board->keys[key].turn, turn);
    g_free(place);
}

#define SPLIT                                                                                  \
    "board s {\n chip rp2040\n halves left right { main right; link uart GP0 GP1 straight; "   \
    "speed 57600 }\n matrix { rows GP2 GP3; cols GP4 GP5 GP6; flow col->row }\n"

static void mirror_is_the_other_hand(void **state)
{
    struct uvk_program *program = good_program(
        SPLIT " keys left {\n stagger 0.5 0 0\n r0c0 r0c1 r0c2\n r1c0 r1c1*1.5\n "
              "stagger\n at 1 3\n turn 90\n r1c2 }\n keys right mirror left gap 2\n}\n");
    const struct uvk_board *board = program->board;

    (void)state;
    assert_int_equal(board->key_count, 12);
    assert_int_equal(board->line_count, 3);
    /* the first line of every half, left to right; then the second */
    assert_place(board, 0, "left.r0c0", 0, 0.5, 0);
    assert_place(board, 1, "left.r0c1", 1, 0, 0);
    assert_place(board, 2, "left.r0c2", 2, 0, 0);
    assert_place(board, 3, "right.r0c2", 5, 0, 0);
    assert_place(board, 4, "right.r0c1", 6, 0, 0);
    assert_place(board, 5, "right.r0c0", 7, 0.5, 0);
    assert_place(board, 6, "left.r1c0", 0, 1.5, 0);
    assert_place(board, 7, "left.r1c1", 1, 1, 0);
    assert_place(board, 8, "right.r1c1", 5.5, 1, 0);
    assert_place(board, 9, "right.r1c0", 7, 1.5, 0);
    /* turned about 1, 3: the key that would stand to the right stands below, to the left */
    assert_place(board, 10, "left.r1c2", 0, 3, 90);
    assert_place(board, 11, "right.r1c2", 7, 3, -90);
    assert_near(board->width, 8);
    assert_near(board->height, 4);
    uvk_program_free(program);
}

static void halves_with_places_of_their_own(void **state)
{
    struct uvk_program *program = good_program(
        SPLIT " keys left {\n r0c0\n }\n keys right {\n r0c0 r0c1\n r1c0\n }\n}\n");
    const struct uvk_board *board = program->board;

    (void)state;
    assert_place(board, 0, "left.r0c0", 0, 0, 0);
    assert_place(board, 1, "right.r0c0", 4, 0, 0);
    assert_place(board, 2, "right.r0c1", 5, 0, 0);
    assert_place(board, 3, "right.r1c0", 4, 1, 0);
    assert_int_equal(board->main, UVK_MAIN_SECOND);
    assert_string_equal(board->link.transmit->name, "GP0");
    assert_true(board->link.straight);
    assert_int_equal(board->link.speed, 57600);
    assert_false(uvk_one_controller(board));
    uvk_program_free(program);
}

static void keys_without_a_half_are_on_both(void **state)
{
    struct uvk_program *program = good_program(SPLIT " keys {\n r0c0 r0c1\n }\n}\n");

    (void)state;
    assert_place(program->board, 0, "left.r0c0", 0, 0, 0);
    assert_place(program->board, 2, "right.r0c0", 5, 0, 0);
    uvk_program_free(program);
}

/* Nothing lies left of the paper's edge or above it, however it was turned. */
static void the_board_begins_at_its_corner(void **state)
{
    struct uvk_program *program = good_program(
        "board b {\n chip atmega32u4\n matrix { rows B1; cols F4 F5; flow row->col }"
        "\n keys {\n at -2 -1\n r0c0\n at 3 0\n turn 45\n r0c1\n } }\n");
    const struct uvk_board *board = program->board;
    struct uvk_point corners[4];

    (void)state;
    assert_place(board, 0, "r0c0", 0, 0, 0);
    uvk_key_corners(&board->keys[1], corners);
    assert_near(corners[0].x, 5); /* where `turn` stood */
    assert_near(corners[0].y, 1);
    assert_near(corners[1].x, 5 + sqrt(0.5));
    assert_near(corners[1].y, 1 + sqrt(0.5));
    assert_near(corners[2].x, 5);
    assert_near(corners[2].y, 1 + sqrt(2));
    assert_near(board->height, 1 + sqrt(2));
    uvk_program_free(program);
}

static void choices_decide_which_keys_there_are(void **state)
{
    static const char *const board =
        "board b {\n chip atmega32u4\n matrix { rows B1; cols F4 F5 F6; flow row->col }\n"
        " choice enter { wide narrow }\n keys {\n r0c0 (enter=wide: r0c1*2) (enter=narrow: "
        "r0c1 "
        "r0c2) } }\n";
    struct uvk_program *program = good_program(board);
    char *text;

    (void)state;
    assert_int_equal(program->board->key_count, 2);
    assert_near(program->board->keys[1].width, 2);
    assert_string_equal(program->board->choices[0].options[1], "narrow");
    uvk_program_free(program);
    /* the keymap may stand before its board */
    text = g_strconcat("keymap k { choice enter narrow; layer base { a b c } }\n", board, NULL);
    program = good_program(text);
    assert_int_equal(program->board->key_count, 3);
    assert_near(program->board->keys[2].x, 2);
    assert_int_equal(program->board->choices[0].chosen, 1);
    uvk_program_free(program);
    g_free(text);
}

static void knobs_have_their_places(void **state)
{
    struct uvk_program *program = good_program(
        "board b {\n chip atmega32u4\n pins \"2\" D1, \"TX\" D3\n"
        " matrix { rows B1; cols F4 F5; flow row->col }\n"
        " knob big { pins D0 \"2\"; detent 2; flipped }\n knob small { pins D2 TX }\n"
        " keys {\n r0c0*1.5=big +0.5 =small r0c1\n } }\n");
    const struct uvk_board *board = program->board;

    (void)state;
    assert_int_equal(board->knob_count, 2);
    assert_int_equal(board->knobs[0].push, 0);
    assert_near(board->knobs[0].x, 0.25); /* round, in the middle of its key */
    assert_true(board->knobs[0].flipped);
    assert_int_equal(board->knobs[0].detent, 2);
    assert_string_equal(board->knobs[0].pins[1]->name, "D1");
    assert_int_equal(board->knobs[1].push, -1);
    assert_near(board->knobs[1].x, 2);
    assert_string_equal(board->knobs[1].pins[1]->name, "D3");
    assert_place(board, 1, "r0c1", 3, 0, 0);
    assert_int_equal(uvk_board_cells(board), 6);
    uvk_program_free(program);
}

/* Matrix lines of a half, its direct switches, then the other half. */
static void the_scan_goes_half_by_half(void **state)
{
    struct uvk_program *program =
        good_program("board b {\n chip atmega32u4\n halves left right { }\n"
                     " matrix left { rows B1 B3; cols F4 F5 F6; flow row->col }\n"
                     " matrix right { rows D0; cols D1 D4; flow col->row }\n"
                     " direct left { pins C6 C7 }\n"
                     " keys left {\n r0c0 r1c2 d1\n }\n keys right {\n r0c1\n }\n}\n");
    const struct uvk_board *board = program->board;
    struct uvk_scan_plan plan = uvk_board_scan(board);
    static const struct {
        unsigned line, sense;
    } wanted[] = {{0, 0}, {2, 1}, {3, 1}, {4, 1}};

    (void)state;
    assert_int_equal(plan.line_count, 5);
    assert_int_equal(plan.sense_count, 2);
    assert_string_equal(plan.lines[0].select->name, "F4");
    assert_string_equal(plan.lines[2].select->name, "F6");
    assert_null(plan.lines[3].select);
    assert_string_equal(plan.lines[4].select->name, "D0");
    for (unsigned key = 0; key < 4; key++) {
        unsigned line;
        unsigned sense;
        uvk_scan_switch(&plan, board, key, &line, &sense);
        assert_int_equal(line, wanted[key].line);
        assert_int_equal(sense, wanted[key].sense);
    }
    assert_true(uvk_one_controller(board));
    uvk_program_free(program);
}

static void lamps_are_read(void **state)
{
    struct uvk_program *program = good_program(
        "board b {\n chip atmega32u4\n matrix { rows B1; cols F4; flow row->col }\n"
        " backlight B7 { levels 6; start 2; breathe 4s }\n"
        " strip C6 { count 10; order rgb }\n keys { r0c0 } }\n");
    const struct uvk_board *board = program->board;

    (void)state;
    assert_int_equal(board->backlight.levels, 6);
    assert_int_equal(board->backlight.start, 2);
    assert_near(board->backlight.breathe, 4e6);
    assert_string_equal(board->strip.pin->name, "C6");
    assert_int_equal(board->strip.count, 10);
    assert_string_equal(board->strip.order, "rgb");
    uvk_program_free(program);
}

/* The board's own value, and the keymap's that wins over it. */
static void settings_say_who_set_them(void **state)
{
    struct uvk_program *program = good_program("board b {\n chip atmega32u4\n matrix { rows "
                                               "B1; cols F4; flow row->col; debounce 8ms }\n"
                                               " set once-for 3s\n keys { r0c0 } }\nkeymap k { "
                                               "set wheel-speed 4; set once-for 2s\n layer "
                                               "base { a } }\n");
    const struct uvk_setting_text *own = program->keymap->settings;
    const struct uvk_setting_text *board = program->board->settings;

    (void)state;
    assert_near(board[UVK_SET_ONCE_FOR].value, 3e6);
    assert_near(own[UVK_SET_ONCE_FOR].value, 2e6);
    assert_near(own[UVK_SET_DEBOUNCE].value, 8000);
    assert_int_equal(own[UVK_SET_DEBOUNCE].place.at, board[UVK_SET_DEBOUNCE].place.at);
    assert_near(own[UVK_SET_WHEEL_SPEED].value, 4);
    assert_null(own[UVK_SET_POINTER_SPEED].place.source);
    assert_near(own[UVK_SET_POINTER_SPEED].value,
                uvk_setting_names[UVK_SET_POINTER_SPEED].usual);
    uvk_program_free(program);
}

/* Everything that ships is sound. */
static void boards_that_ship_are_sound(void **state)
{
    static const char *const files[] = {"tidepad12",     "wherry38",   "lantern64",
                                        "subtitle-desk", "translator", "box-office"};

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(files); i++) {
        char *path = g_strdup_printf(SOURCE_FOLDER "/boards/%s.uvk", files[i]);
        struct uvk_program *program = uvk_program_load(path);
        assert_int_equal(program->messages.errors, 0);
        assert_int_equal(program->messages.warnings, 0);
        uvk_program_free(program);
        g_free(path);
    }
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(mirror_is_the_other_hand),
        cmocka_unit_test(halves_with_places_of_their_own),
        cmocka_unit_test(keys_without_a_half_are_on_both),
        cmocka_unit_test(the_board_begins_at_its_corner),
        cmocka_unit_test(choices_decide_which_keys_there_are),
        cmocka_unit_test(knobs_have_their_places),
        cmocka_unit_test(the_scan_goes_half_by_half),
        cmocka_unit_test(lamps_are_read),
        cmocka_unit_test(settings_say_who_set_them),
        cmocka_unit_test(boards_that_ship_are_sound),
    };
    return cmocka_run_group_tests_name("boards", tests, NULL, NULL);
}
