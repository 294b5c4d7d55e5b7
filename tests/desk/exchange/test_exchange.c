/* JSON and back: the same image, the same picture; and what is no such JSON, with its place. */
#include "support.h"

#include "uvrek/exchange.h"
#include "uvrek/sheet.h"

#include <jansson.h>
#include <string.h>

static char *picture_of(const struct uvk_program *program, enum uvk_sheet_kind kind)
{
    struct uvk_sheet sheet = {.kind = kind, .layer = -1};
    char *path = g_build_filename(scratch_folder(), "picture.svg", NULL);
    char *text = NULL;

    assert_true(uvk_sheet_draw(program, &sheet, path, NULL));
    assert_true(g_file_get_contents(path, &text, NULL, NULL));
    g_free(path);
    return text;
}

/* The same but for numbers, which may differ by a hundredth of a pixel: the last bit of a sum
 * decides how a half is rounded. */
static bool is_near_text(const char *a, const char *b)
{
    while (*a != '\0' && *b != '\0') {
        char *a_end;
        char *b_end;
        double one = g_ascii_strtod(a, &a_end);
        double two = g_ascii_strtod(b, &b_end);
        if ((a_end == a) != (b_end == b) || one - two > 0.011 || two - one > 0.011 ||
            (a_end == a && *a != *b)) {
            return false;
        }
        a = a_end == a ? a + 1 : a_end;
        b = b_end == b ? b + 1 : b_end;
    }
    return *a == *b;
}

static void assert_same_picture(const struct uvk_program *a, const struct uvk_program *b,
                                enum uvk_sheet_kind kind)
{
    char *one = picture_of(a, kind);
    char *two = picture_of(b, kind);

    if (!is_near_text(one, two)) {
        assert_string_equal(one, two);
    }
    g_free(one);
    g_free(two);
}

static void assert_same_image(struct uvk_program *a, struct uvk_program *b)
{
    uint16_t sizes[2];
    uint8_t *images[2] = {uvk_lower(a, &sizes[0]), uvk_lower(b, &sizes[1])};

    assert_int_equal(sizes[0], sizes[1]);
    assert_memory_equal(images[0], images[1], sizes[0]);
    g_free(images[0]);
    g_free(images[1]);
}

static char *imported(const char *json)
{
    GPtrArray *problems = uvk_exchange_problems();
    char *text = uvk_exchange_read(json, strlen(json), problems);

    for (guint i = 0; i < problems->len; i++) {
        const struct uvk_exchange_problem *problem = g_ptr_array_index(problems, i);
        print_error("%s: %s\n", problem->pointer, problem->text);
    }
    assert_non_null(text);
    assert_int_equal(problems->len, 0);
    g_ptr_array_unref(problems);
    return text;
}

/* The last of nine decimals may change on the way. */
static bool is_near(const json_t *a, const json_t *b)
{
    const char *name;
    json_t *value;
    bool near = json_typeof(a) == json_typeof(b) ||
                (json_is_number(a) && json_is_number(b)); /* 3 and 2.999999999 */

    if (near && json_is_number(a)) {
        double difference = json_number_value(a) - json_number_value(b);
        return difference < 1e-8 && difference > -1e-8;
    }
    if (!near || (!json_is_array(a) && !json_is_object(a))) {
        return near && json_equal(a, b);
    }
    near =
        json_array_size(a) == json_array_size(b) && json_object_size(a) == json_object_size(b);
    for (size_t i = 0; near && i < json_array_size(a); i++) {
        near = is_near(json_array_get(a, i), json_array_get(b, i));
    }
    json_object_foreach((json_t *)a, name, value)
    {
        near = near && json_object_get(b, name) != NULL &&
               is_near(value, json_object_get(b, name));
    }
    return near;
}

static void assert_near(const char *one, const char *two)
{
    json_t *a = json_loads(one, 0, NULL);
    json_t *b = json_loads(two, 0, NULL);

    if (!is_near(a, b)) {
        assert_string_equal(one, two);
    }
    json_decref(a);
    json_decref(b);
}

/* There and back, and there once more: the JSON is the same as well. */
static void comes_back(struct uvk_program *program)
{
    GError *error = NULL;
    char *json = uvk_exchange_write(program, &error);
    char *text;
    struct uvk_program *other;
    char *again;

    if (json == NULL) {
        fail_msg("%s", error->message);
    }
    text = imported(json);
    other = good_program(text);
    assert_same_picture(program, other, UVK_SHEET_WIRING);
    if (program->keymap != NULL) {
        assert_same_image(program, other);
        assert_same_picture(program, other, UVK_SHEET_LAYERS);
    }
    again = uvk_exchange_write(other, NULL);
    assert_near(json, again);
    uvk_program_free(other);
    g_free(json);
    g_free(text);
    g_free(again);
}

static void text_comes_back(const char *text)
{
    struct uvk_program *program = good_program(text);

    comes_back(program);
    uvk_program_free(program);
}

static unsigned folder_comes_back(const char *folder)
{
    GDir *files = g_dir_open(folder, 0, NULL);
    const char *name;
    unsigned count = 0;

    while ((name = g_dir_read_name(files)) != NULL) {
        char *path = g_build_filename(folder, name, NULL);
        if (g_str_has_suffix(name, ".uvk")) {
            struct uvk_program *program = uvk_program_load(path);
            assert_int_equal(program->messages.errors, 0);
            comes_back(program);
            uvk_program_free(program);
            count++;
        }
        g_free(path);
    }
    g_dir_close(files);
    return count;
}

static void all_that_ships_comes_back(void **state)
{
    (void)state;
    assert_true(folder_comes_back(SOURCE_FOLDER "/boards") >= 6);
    assert_true(folder_comes_back(SOURCE_FOLDER "/tests/plays") >= 20);
}

/* ---- boards ----------------------------------------------------------------------------- */

#define MATRIX8                                                                                \
    " matrix { rows GP2 GP3 GP4 GP5 GP6 GP7 GP8 GP9\n"                                         \
    " cols GP10 GP11 GP12 GP13 GP14 GP15 GP16 GP17\n flow col->row }\n"

static void wiring_of_every_kind(void **state)
{
    (void)state;
    text_comes_back("board a { chip rp2040; title \"say \\\"hi\\\"\\\\\"\n"
                    " usb { vendor 0xffff; product 0; maker \"\xc3\xa9\" }\n"
                    " pins \"3\" GP3, \"A0\" GP26\n direct { pins \"3\" GP4; to power }\n"
                    " strip GP5 { count 3; order rgbw }\n set debounce 7ms\n keys { d0 d1 } }");
    text_comes_back("board a { chip atmega32u4\n matrix { rows B1; cols F4 F5; flow none\n"
                    " settle 12us; debounce 0ms; spare r0c0 }\n keys { r0c1 } }");
    text_comes_back("board a { chip rp2040\n halves one two { main pin GP20\n"
                    " link uart GP0 GP1 straight; speed 9600 }\n"
                    " matrix one { rows GP2; cols GP3; flow none }\n"
                    " direct two { pins GP4; to ground }\n"
                    " keys one { r0c0 }\n keys two gap 0.5 { at 0 2\n d0 } }");
    text_comes_back("board a { chip rp2040\n halves one two { main two }\n"
                    " matrix one { rows GP2; cols GP3; flow none }\n"
                    " matrix two { rows GP4; cols GP5; flow none }\n"
                    " keys one { r0c0 }\n keys two mirror one gap 4 }");
}

static void knobs_of_every_kind(void **state)
{
    (void)state;
    text_comes_back("board a { chip rp2040\n knob in { pins GP20 GP21; detent 2; flipped }\n"
                    " knob over { pins GP18 GP19 }\n knob out { pins GP22 GP26 }\n" MATRIX8
                    " keys { =over\n r0c0 =in r0c1\n at 0.5 3\n turn 30\n r1c0 r1c1=out } }");
}

static void choices_inside_lines(void **state)
{
    (void)state;
    text_comes_back("board a { chip rp2040\n choice b { x y z }\n choice a { p q }\n" MATRIX8
                    " keys { r0c0 (b=x: r0c1*2) (b=y: +0.5 r0c1) (b=z: r0c1 r0c2)"
                    " (a=q: r0c3 (b=y: +1 r0c4)) r0c5*1.5\n"
                    " r1c0 (a=q: +0.25) (b=x: +0.5) r1c1 (a=p: r1c2 r1c3) r1c4 } }");
}

static void many_choices_are_one_entry_a_key(void **state)
{
    struct uvk_program *program = uvk_program_load("tests/boards/ten-choices.uvk");
    GError *error = NULL;
    char *text = uvk_exchange_write(program, &error);
    json_t *json = json_loads(text, 0, NULL);
    json_t *keys = json_object_get(json_object_get(json, "board"), "keys");

    (void)state;
    assert_null(error);
    assert_int_equal(json_array_size(keys), 25); /* five keys of two widths, 15 of one */
    json_decref(json);
    g_free(text);
    uvk_program_free(program);
    text_comes_back("board a { chip rp2040\n choice b { x y }\n choice a { p q }\n" MATRIX8
                    " keys { r0c0 (b=y: (a=q: +0.5)) r0c1 (b=x: r0c2) r0c3\n"
                    " (b=x: r1c0 r1c1) (b=y: r1c2) r1c3 } }");
}

static void halves_whose_inner_edges_move(void **state)
{
    (void)state;
    text_comes_back("board a { chip rp2040\n choice b { x y }\n halves one two { main usb }\n"
                    " matrix one { rows GP2; cols GP3 GP4; flow none }\n"
                    " matrix two { rows GP5; cols GP6 GP7; flow none }\n"
                    " keys one { r0c0 (b=y: r0c1*1.5) }\n keys two mirror one gap 2 }");
}

static void hands_of_a_board_in_one_piece(void **state)
{
    (void)state;
    text_comes_back("board a { chip rp2040\n knob in { pins GP20 GP21 }\n" MATRIX8
                    " keys { r0c0 r0c1 | r0c2 r0c3\n r1c0 | r1c1 | r1c2\n | r2c0 r2c1\n"
                    " r3c0 r3c1 |\n r4c0 r4c1\n r5c0 | =in | r5c1\n | r6c0 | } }");
}

static double tenth(GRand *random, int least, int most)
{
    return g_rand_int_range(random, least, most + 1) / 10.0;
}

/* Up to five lines of one half; MIXED: with two choices. */
static void random_lines(GRand *random, GString *text, bool mixed)
{
    for (int line = 0; line < 5; line++) {
        g_string_append_printf(text, "at %g %g\n", tenth(random, 0, 30), 0.0 + 4 * line);
        if (!mixed && g_rand_int_range(random, 0, 3) == 0) {
            g_string_append_printf(text, "turn %g\n", tenth(random, -150, 150));
        } else if (line > 0) {
            g_string_append(text, "turn 0\n");
        }
        g_string_append(text, "stagger");
        for (int i = g_rand_int_range(random, 0, 6); !mixed && i > 0; i--) {
            g_string_append_printf(text, " %g", tenth(random, -5, 5));
        }
        g_string_append_c(text, '\n');
        for (int key = 0; key < 6; key++) {
            static const char *const groups[] = {"(a=p: ", "(a=q: ", "(b=x: ", "(b=y: (a=q: "};
            int group = mixed ? g_rand_int_range(random, 0, 9) : 9;
            g_string_append_printf(text, " %s+%g r%dc%d*%g%s", group < 4 ? groups[group] : "",
                                   tenth(random, 0, 10), line, key, tenth(random, 5, 20),
                                   group < 3    ? ")"
                                   : group == 3 ? "))"
                                                : "");
        }
        g_string_append_c(text, '\n');
    }
}

static bool is_good(const char *text)
{
    struct uvk_program *program = uvk_program_read("test.uvk", text, strlen(text));
    bool good = program->messages.errors == 0;

    uvk_program_free(program);
    return good;
}

static void random_boards_come_back(void **state)
{
    GRand *random = g_rand_new_with_seed(20261123);
    unsigned boards = 0;

    (void)state;
    for (unsigned round = 0; round < (few_rounds() ? 12 : 60); round++) {
        GString *text = g_string_new("board a { chip rp2040\n");
        bool split = round % 3 == 1;
        bool mixed = round % 3 == 2;
        if (split) {
            g_string_append(text, "halves l r { link uart GP0 GP1 }\n");
        }
        g_string_append(text, mixed ? "choice b { x y }\nchoice a { p q }\n" : "");
        g_string_append(text, MATRIX8);
        g_string_append(text, split ? "keys l {\n" : "keys {\n");
        random_lines(random, text, mixed);
        if (split && round % 2 == 0) {
            g_string_append(text, "}\nkeys r mirror l gap 8.5\n}");
        } else if (split) {
            g_string_append(text, "}\nkeys r gap 7.25 {\n");
            random_lines(random, text, false);
            g_string_append(text, "}\n}");
        } else {
            g_string_append(text, "}\n}");
        }
        /* turned lines may lie over one another: then it is no board */
        if (is_good(text->str)) {
            text_comes_back(text->str);
            boards++;
        }
        g_string_free(text, TRUE);
    }
    assert_true(boards >= (few_rounds() ? 6 : 40));
    g_rand_free(random);
}

/* ---- other programs' JSON --------------------------------------------------------------- */

#define BOARD_HEAD                                                                             \
    "{\"uvrek-exchange\": 3, \"board\": {\"name\": \"slate\", \"chip\": \"atmega32u4\","       \
    " \"halves\": [{\"matrix\": {\"rows\": [\"B1\", \"B2\"], \"cols\": [\"F4\", \"F5\"],"      \
    " \"flow\": \"row->col\"}}],"
#define KEYS4                                                                                  \
    " \"keys\": [{\"address\": \"r0c0\", \"x\": 0, \"y\": 0},"                                 \
    " {\"address\": \"r0c1\", \"x\": 1.0, \"y\": 0}, {\"address\": \"r1c0\", \"x\": 0,"        \
    " \"y\": 1}, {\"address\": \"r1c1\", \"x\": 1, \"y\": 1.25}]"
#define LAYER(cells)                                                                           \
    BOARD_HEAD KEYS4 "}, \"keymap\": {\"name\": \"k\", \"layers\": [{\"name\": \"base\","      \
                     " \"cells\": {" cells "}}]}}"

/* Little is needed; lines are found, and what is not mentioned is see-through. */
static void little_is_enough(void **state)
{
    char *text =
        imported(LAYER("\"r0c1\": \"b\", \"r0c0\": {\"tap\": \"a\", \"hold\": \"ctrl\"}"));

    (void)state;
    assert_non_null(strstr(text, "    r0c0 r0c1\n    stagger 0 0.25\n    r1c0 r1c1\n"));
    assert_non_null(strstr(text, "    a/ctrl  b\n    .       .\n"));
    assert_null(strstr(text, "feel"));
    g_free(text);
}

static void assert_problems(const char *json, const char *wanted)
{
    GPtrArray *problems = uvk_exchange_problems();
    char *text = uvk_exchange_read(json, strlen(json), problems);
    GString *all = g_string_new(NULL);

    for (guint i = 0; i < problems->len; i++) {
        const struct uvk_exchange_problem *problem = g_ptr_array_index(problems, i);
        g_string_append(all, i > 0 ? "\n" : "");
        if (problem->line > 0) {
            g_string_append_printf(all, "%u:%u", problem->line, problem->column);
        }
        g_string_append_printf(all, "%s: %s", problem->pointer, problem->text);
    }
    assert_string_equal(all->str, wanted);
    assert_null(text);
    g_string_free(all, TRUE);
    g_ptr_array_unref(problems);
}

#define NO_BOARD                                                                               \
    ", not a board as `uvrek export` writes it; `uvrek export --schema` describes the form"

static void mistakes_have_a_pointer(void **state)
{
    static const struct {
        const char *json, *problems;
    } cases[] = {
        {" \n", ": the file is empty"},
        {"# the desk\nuse \"tidepad12.uvk\"\n",
         ": this is a text of the language already: there is nothing to import"},
        {"[", "1:1: ']' expected near end of file"},
        {"{\"a\": 1,\n\"a\": 2}", "2:3: duplicate object key near '\"a\"'"},
        {"7", ": this JSON is a number" NO_BOARD},
        {"{}", ": this JSON is an empty object" NO_BOARD},
        {"[{\"x\": 1}, 2]", ": this JSON is a list of 2, the first an object" NO_BOARD},
        {"{\"film\": 1, \"hall\": 2, \"seat\": 3, \"row\": 4, \"cost\": 5, \"day\": 6}",
         ": this JSON is an object with 'film', 'hall', 'seat', 'row' and 2 more" NO_BOARD},
        {"{\"uvrek-exchange\": 1, \"board\": {}}",
         "/uvrek-exchange: it has version 1 of this form, this program reads version 3: export "
         "the board again"},
        {"{\"uvrek-exchange\": 3}", ": the member 'board' is missing"},
        {BOARD_HEAD KEYS4 ", \"colour/ful\": 1}}", "/board/colour~1ful: no such member"},
        {BOARD_HEAD KEYS4 ", \"knob\": []}}",
         "/board/knob: no such member; did you mean 'knobs'?"},
        {BOARD_HEAD "\"title\": 7, \"keys\": []}}",
         "/board/title: expected a text\n/board/keys: 0 of keys, each line of a half from left "
         "to "
         "right, expected 1 to 2000"},
        {BOARD_HEAD "\"keys\": [{\"address\": \"r0\", \"x\": 1e9, \"y\": 0, \"line\": 0.5}]}}",
         "/board/keys/0/address: expected a key's address: r0c3, d3, left.r0c3\n"
         "/board/keys/0/x: 1000000000 is out of range, from -100 to 100\n"
         "/board/keys/0/line: expected the number of a line, from 0"},
        {BOARD_HEAD "\"keys\": [{\"address\": \"r0c0\", \"x\": 0, \"y\": 0},"
                    " {\"address\": \"r0c0\", \"x\": 1, \"y\": 0}]}}",
         "/board/keys/1/address: /board/keys/0 has this address already"},
        {BOARD_HEAD "\"keys\": [{\"address\": \"r0c0\", \"x\": 0, \"y\": 0, \"line\": 0},"
                    " {\"address\": \"r0c1\", \"x\": 0.5, \"y\": 0, \"line\": 0}]}}",
         "/board/keys/1: it stands left of the end of the key before it in its line"},
        {BOARD_HEAD "\"keys\": [{\"address\": \"r0c0\", \"x\": 0, \"y\": 0,"
                    " \"when\": {\"enter\": \"iso\"}}]}}",
         "/board/keys/0/when: the board has no choice 'enter' with an option 'iso'"},
        {BOARD_HEAD "\"backlight\": {\"pin\": \"B9\"}, " KEYS4 "}}",
         "/board/backlight/pin: the ATmega32U4 has no pin 'B9'; did you mean 'B0'?"},
        {BOARD_HEAD "\"settings\": {\"debounse\": 5}, " KEYS4 "}}",
         "/board/settings/debounse: unknown setting; choose from: debounce, once-for, "
         "pointer-speed, pointer-ramp, wheel-speed, type-pace, press-after, light-step, "
         "unicode; did you "
         "mean "
         "'debounce'?"},
        {LAYER("\"r0c0\": \"volme-up\""),
         "/keymap/layers/0/cells/r0c0: no key or name 'volme-up'; did you mean 'volume-up'?"},
        {LAYER("\"r0c0\": \"a b\""), "/keymap/layers/0/cells/r0c0: 'a b' is not one cell"},
        {LAYER("\"r0c0\": \"a } layer x {\""),
         "/keymap/layers/0/cells/r0c0: 'a } layer x {' is not one cell"},
        {LAYER("\"r0c0\": {\"tap\": \"a\", \"hold\": \"ctl\", \"feel\": \"calm\"}"),
         "/keymap/layers/0/cells/r0c0/hold: no key or name 'ctl'; did you mean 'ctrl'?\n"
         "/keymap/layers/0/cells/r0c0/feel: no feel 'calm'; feel calm { ... } would be one"},
        {LAYER("\"r9c0\": \"a\""),
         "/keymap/layers/0/cells/r9c0: no key of the board has this address"},
    };

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(cases); i++) {
        assert_problems(cases[i].json, cases[i].problems);
    }
}

/* Every member of what ships, taken away, made something else, given a brother: no crash,
 * and never text with mistakes. */
static void change_member(json_t *whole, json_t *object, const char *name)
{
    json_t *values[] = {NULL, json_string("x-y"), json_integer(-1)};
    json_t *kept = json_incref(json_object_get(object, name));

    for (size_t i = 0; i < G_N_ELEMENTS(values); i++) {
        GPtrArray *problems = uvk_exchange_problems();
        char *json;
        char *text;
        if (values[i] != NULL) {
            json_object_set(object, name, values[i]);
        } else {
            json_object_del(object, name);
        }
        json = json_dumps(whole, JSON_COMPACT);
        text = uvk_exchange_read(json, strlen(json), problems);
        assert_int_equal(text == NULL, problems->len > 0);
        if (text != NULL) {
            uvk_program_free(good_program(text));
        }
        g_ptr_array_unref(problems);
        g_free(text);
        free(json);
        json_decref(values[i]);
    }
    json_object_set_new(object, name, kept);
}

static void change_all(json_t *whole, json_t *json)
{
    if (json_is_array(json)) {
        for (size_t i = 0; i < json_array_size(json) && i < 1; i++) {
            change_all(whole, json_array_get(json, i));
        }
    }
    if (json_is_object(json)) {
        GPtrArray *names = g_ptr_array_new_with_free_func(g_free);
        const char *name;
        json_t *value;
        json_object_foreach(json, name, value)
        {
            g_ptr_array_add(names, g_strdup(name));
        }
        for (guint i = 0; i < names->len && i < 18; i++) {
            change_all(whole, json_object_get(json, g_ptr_array_index(names, i)));
            change_member(whole, json, g_ptr_array_index(names, i));
        }
        g_ptr_array_unref(names);
    }
}

static void changed_members_are_told_or_taken(void **state)
{
    static const char *const names[] = {"lantern64", "subtitle-desk"};

    (void)state;
    for (size_t i = 0; i < (few_rounds() ? 1 : G_N_ELEMENTS(names)); i++) {
        struct uvk_program *program = shipped(names[i]);
        char *json = uvk_exchange_write(program, NULL);
        json_t *whole = json_loads(json, 0, NULL);
        change_all(whole, whole);
        json_decref(whole);
        uvk_program_free(program);
        g_free(json);
    }
}

static void the_schema_is_the_one_in_docs(void **state)
{
    char *made = uvk_exchange_schema();
    char *kept;

    (void)state;
    assert_true(
        g_file_get_contents(SOURCE_FOLDER "/docs/exchange.schema.json", &kept, NULL, NULL));
    assert_string_equal(made, kept);
    g_free(made);
    g_free(kept);
}

/* The schema is one, and what is written fits it: an independent validator says so. */
static int validate(const char *instance)
{
    const char *argv[] = {
        "python3",    "-W", "ignore", "-m",
        "jsonschema", "-i", instance, SOURCE_FOLDER "/docs/exchange.schema.json",
        NULL};
    int status = -1;

    assert_true(g_spawn_sync(NULL, (char **)argv, NULL,
                             G_SPAWN_SEARCH_PATH | G_SPAWN_STDERR_TO_DEV_NULL, NULL, NULL, NULL,
                             NULL, &status, NULL));
    return status;
}

static void what_is_written_fits_the_schema(void **state)
{
    static const char *const names[] = {"subtitle-desk", "translator", "box-office",
                                        "wherry38"};
    static const char *const wrong[] = {BOARD_HEAD KEYS4 ", \"knob\": []}}",
                                        LAYER("\"r0c0\": {\"tap\": \"a\"}")};
    char *path;

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(names); i++) {
        struct uvk_program *program = shipped(names[i]);
        char *json = uvk_exchange_write(program, NULL);
        path = scratch_file("right.json", json);
        assert_int_equal(validate(path), 0);
        uvk_program_free(program);
        g_free(json);
        g_free(path);
    }
    for (size_t i = 0; i < G_N_ELEMENTS(wrong); i++) {
        path = scratch_file("wrong.json", wrong[i]);
        assert_int_not_equal(validate(path), 0);
        g_free(path);
    }
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(all_that_ships_comes_back),
        cmocka_unit_test(wiring_of_every_kind),
        cmocka_unit_test(knobs_of_every_kind),
        cmocka_unit_test(choices_inside_lines),
        cmocka_unit_test(many_choices_are_one_entry_a_key),
        cmocka_unit_test(halves_whose_inner_edges_move),
        cmocka_unit_test(hands_of_a_board_in_one_piece),
        cmocka_unit_test(random_boards_come_back),
        cmocka_unit_test(little_is_enough),
        cmocka_unit_test(mistakes_have_a_pointer),
        cmocka_unit_test(changed_members_are_told_or_taken),
        cmocka_unit_test(the_schema_is_the_one_in_docs),
        cmocka_unit_test(what_is_written_fits_the_schema),
    };

    return cmocka_run_group_tests_name("exchange", tests, NULL, NULL);
}
