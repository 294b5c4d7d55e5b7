/* Building: configuration, compiling and its cache, sizes, HEX files. */
#include "support.h"

#include "uvrek/files.h"

#include <glib/gstdio.h>
#include <string.h>
#include <sys/stat.h>

/* ---- HEX files ------------------------------------------------------------------------ */

static void hex_comes_back_as_it_was(void **state)
{
    uint8_t bytes[70000];
    char *text;
    uint8_t *back;
    size_t size = 0;

    (void)state;
    for (size_t i = 0; i < sizeof bytes; i++) {
        bytes[i] = (uint8_t)(i * 7 + i / 256);
    }
    text = uvk_hex_write(bytes, sizeof bytes);
    back = uvk_hex_read(text, 0x20000, &size, NULL);
    assert_non_null(back);
    assert_int_equal(size, sizeof bytes);
    assert_memory_equal(bytes, back, size);
    g_free(back);
    g_free(text);
}

/* Lines as another program writes them. */
static void hex_of_others_is_read(void **state)
{
    size_t size = 0;
    uint8_t *bytes = uvk_hex_read(":0400040001020304EE\r\n:020000020000FC\r\n"
                                  ":0400000300003000C9\r\n:00000001FF\r\n",
                                  64, &size, NULL);

    (void)state;
    assert_non_null(bytes);
    assert_int_equal(size, 8);
    assert_int_equal(bytes[0], 0xFF);
    assert_int_equal(bytes[7], 4);
    g_free(bytes);
}

static void broken_hex_is_refused_with_its_line(void **state)
{
    static const struct {
        const char *text, *message;
    } broken[] = {
        {"", "HEX file, line 1: the file is cut: it has no end record"},
        {":00000001FF\n", "HEX file, line 2: it holds no bytes"},
        {":0400000001020304F2\nx\n", "HEX file, line 2: it does not start with ':'"},
        {":0400000001020304F3\n", "HEX file, line 1: its checksum is wrong"},
        {":04000000010203F6\n", "HEX file, line 1: it has the wrong length"},
        {":0400000\n", "HEX file, line 1: it has the wrong length"},
        {":0400000001020G04F2\n", "HEX file, line 1: it has other than hexadecimal digits"},
        {":04FFFF0001020304F4\n", "HEX file, line 1: its address is beyond the chip's flash"},
        {":00000009F7\n", "HEX file, line 1: its type is unknown"},
        {":0100000400FB\n", "HEX file, line 1: it has the wrong length"},
    };

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(broken); i++) {
        GError *error = NULL;
        size_t size;
        assert_null(uvk_hex_read(broken[i].text, 64, &size, &error));
        assert_string_equal(error->message, broken[i].message);
        g_error_free(error);
    }
}

/* ---- files ------------------------------------------------------------------------------ */

static void file_is_written_whole_or_not_at_all(void **state)
{
    char *path = scratch_file("whole.txt", "before");
    char *missing = g_build_filename(scratch_folder(), "no", "file", NULL);
    GError *error = NULL;
    char *text = NULL;

    (void)state;
    assert_true(uvk_file_write(path, "after", 5, &error));
    assert_true(g_file_get_contents(path, &text, NULL, NULL));
    assert_string_equal(text, "after");
    assert_false(uvk_file_write(missing, "x", 1, &error));
    assert_non_null(strstr(error->message, "cannot write"));
    g_clear_error(&error);
    assert_false(uvk_file_write(scratch_folder(), "x", 1, &error));
    g_clear_error(&error);
    g_free(text);
    g_free(path);
    g_free(missing);
}

/* ---- configuration ---------------------------------------------------------------------- */

static char *config_of(const char *text)
{
    struct uvk_program *program = good_program(text);
    uint16_t size;
    uint8_t *image = uvk_lower(program, &size);
    char *config = uvk_config_text(program, image, size);

    g_free(image);
    uvk_program_free(program);
    return config;
}

static void assert_has(const char *text, const char *part)
{
    if (strstr(text, part) == NULL) {
        fail_msg("'%s' is not in:\n%s", part, text);
    }
}

static void configuration_follows_the_keymap(void **state)
{
    char *plain = config_of(KEYMAP9("a b c; d e f; g h i"));
    char *rich =
        config_of(KEYMAP9("mute sleep wheel-up; ctrl+click-left board:restart f; g h i"));

    (void)state;
    assert_has(plain, "UVK_MAX_KEYS 9\n");
    assert_has(plain, "UVK_USE_CONSUMER 0\n");
    assert_has(plain, "UVK_USE_MOUSE 0\n");
    assert_has(plain, "UVK_USE_CHORDS 0\n");
    assert_has(plain, "UVK_LINES_0(X) X(0, F, 4) X(1, F, 5) X(2, F, 6)\n");
    assert_has(plain, "UVK_LINES_1(X)\n");
    assert_has(plain, "UVK_USE_LINK 0\n");
    assert_has(plain, "UVK_SENSES_0(X) X(0, B, 1) X(1, B, 3) X(2, B, 2)\n");
    assert_has(plain, "UVK_HALVES 1\n");
    assert_has(plain, "UVK_DIRECT_COUNT_0 0\n");
    assert_has(plain, "UVK_USB_PRODUCT 9\n");
    assert_has(plain, "UVK_USB_MAKER, 0x54, 0x00\n");
    assert_has(rich, "UVK_USE_CONSUMER 1\n");
    assert_has(rich, "UVK_USE_SYSTEM 1\n");
    assert_has(rich, "UVK_USE_MOUSE 1\n");
    assert_has(rich, "UVK_USE_BOARD 1\n");
    assert_has(rich, "UVK_USE_CHORDS 1\n");
    g_free(plain);
    g_free(rich);
}

/* ---- building --------------------------------------------------------------------------- */

static struct uvk_firmware *build(const char *text, const char *name, GError **error)
{
    struct uvk_program *program = good_program(text);
    char *cache = g_build_filename(scratch_folder(), "cache", NULL);
    struct uvk_build_options options = {name != NULL ? scratch_folder() : NULL, name, cache};
    struct uvk_firmware *firmware = uvk_build(program, &options, error);

    g_free(cache);
    uvk_program_free(program);
    return firmware;
}

static void what_has_not_changed_is_not_compiled(void **state)
{
    GError *error = NULL;
    struct uvk_firmware *first = build(KEYMAP9("a b c; d e f; g h i"), "first", &error);
    struct uvk_firmware *same = build(KEYMAP9("a b c; d e f; g h i"), NULL, &error);
    struct uvk_firmware *other = build(KEYMAP9("i b c; d e f; g h a"), NULL, &error);

    (void)state;
    assert_null(error);
    assert_true(first->compiled > 10);
    assert_true(first->linked);
    assert_int_equal(same->compiled, 0);
    assert_false(same->linked);
    assert_int_equal(same->size, first->size);
    assert_memory_equal(same->code, first->code, first->size);
    assert_int_equal(other->compiled, 1); /* the keymap alone */
    assert_true(other->linked);
    uvk_firmware_free(same);
    uvk_firmware_free(other);
    uvk_firmware_free(first);
}

/* The same objects in the order of the compiler take more: calls are longer. */
static void functions_stand_near_those_that_call_them(void **state)
{
    struct uvk_program *program = shipped("subtitle-desk");
    char *cache = g_build_filename(scratch_folder(), "near", NULL);
    struct uvk_build_options options = {NULL, NULL, cache};
    GError *error = NULL;
    struct uvk_firmware *firmware = uvk_build(program, &options, &error);
    char *command = g_strdup_printf(
        "sh -c 'cd \"%s\" && avr-gcc -mmcu=atmega32u4 -Os -Wl,--gc-sections -mrelax *-whole.o "
        "*-keymap.o -o plain.elf && avr-objcopy -O binary plain.elf plain.bin'",
        cache);
    char *path = g_build_filename(cache, "plain.bin", NULL);
    char *plain = NULL;
    gsize size = 0;
    int status = -1;

    (void)state;
    assert_null(error);
    assert_true(g_spawn_command_line_sync(command, NULL, NULL, &status, NULL));
    assert_int_equal(status, 0);
    assert_true(g_file_get_contents(path, &plain, &size, NULL));
    assert_in_range(firmware->size + 100, 10000, size);
    g_free(plain);
    g_free(path);
    g_free(command);
    uvk_firmware_free(firmware);
    g_free(cache);
    uvk_program_free(program);
}

/* What the file of a FORM holds; NULL: none was written. */
static char *file_of(const struct uvk_firmware *firmware, const char *form, gsize *size)
{
    for (guint i = 0; i < firmware->files->len; i++) {
        const struct uvk_file *file = g_ptr_array_index(firmware->files, i);
        char *bytes = NULL;
        if (strcmp(file->form, form) == 0) {
            assert_true(g_file_get_contents(file->path, &bytes, size, NULL));
            return bytes;
        }
    }
    return NULL;
}

static void files_hold_the_same_code(void **state)
{
    GError *error = NULL;
    struct uvk_firmware *firmware = build(KEYMAP9("a b c; d e f; g h i"), "desk", &error);
    gsize bin_size = 0;
    gsize other_size = 0;
    size_t size = 0;
    uint8_t *code;
    char *hex;
    char *bin;
    char *elf;

    (void)state;
    assert_null(error);
    hex = file_of(firmware, "hex", &other_size);
    bin = file_of(firmware, "bin", &bin_size);
    elf = file_of(firmware, "elf", &other_size);
    assert_non_null(elf);
    assert_null(file_of(firmware, "uf2", &other_size)); /* nothing of this chip takes it */
    code = uvk_hex_read(hex, 32768, &size, NULL);
    assert_int_equal(size, firmware->size);
    assert_int_equal(bin_size, firmware->size);
    assert_memory_equal(code, firmware->code, size);
    assert_memory_equal(bin, firmware->code, size);
    g_free(code);
    g_free(hex);
    g_free(bin);
    g_free(elf);
    uvk_firmware_free(firmware);
}

/* RP2040: blocks for its family, where its flash is; and a first stage with the sum that the
 * chip asks for. */
static void uf2_is_for_the_chip(void **state)
{
    struct uvk_program *program = good_program(KEYMAP9("a b c; d e f; g h i"));
    char *cache = g_build_filename(scratch_folder(), "cache", NULL);
    char *folder = g_build_filename(scratch_folder(), "not", "there", "yet", NULL);
    struct uvk_build_options options = {folder, "desk", cache};
    GError *error = NULL;
    struct uvk_firmware *firmware;
    struct uvk_uf2 uf2;
    gsize size = 0;
    char *file;

    (void)state;
    move_to_chip(program, "rp2040");
    firmware = uvk_build(program, &options, &error);
    assert_null(error);
    file = file_of(firmware, "uf2", &size);
    assert_non_null(file);
    assert_null(file_of(firmware, "hex", &size));
    assert_true(uvk_uf2_read((const uint8_t *)file, (firmware->size + 255) / 256 * 512, 2097152,
                             &uf2, &error));
    assert_int_equal(uf2.family, 0xE48BFF56u);
    assert_int_equal(uf2.address, 0x10000000u);
    assert_in_range(uf2.size, firmware->size, firmware->size + 255);
    assert_memory_equal(uf2.bytes, firmware->code, firmware->size);
    g_free(uf2.bytes);
    g_free(file);
    uvk_firmware_free(firmware);
    uvk_program_free(program);
    g_free(cache);
    g_free(folder);
}

static void parts_add_up_to_the_whole(void **state)
{
    GError *error = NULL;
    struct uvk_firmware *firmware = build(KEYMAP9("a b mute; d e f; g h i"), NULL, &error);
    size_t flash = 0;
    size_t ram = 0;

    (void)state;
    assert_null(error);
    for (guint i = 0; i < firmware->parts->len; i++) {
        flash += g_array_index(firmware->parts, struct uvk_part, i).flash;
        ram += g_array_index(firmware->parts, struct uvk_part, i).ram;
    }
    /* alignment may add a byte here and there */
    assert_in_range(flash, firmware->size - 16, firmware->size + 16);
    assert_in_range(ram, firmware->ram_used - 8, firmware->ram_used + 8);
    uvk_firmware_free(firmware);
}

/* What is not used is not compiled. */
static void unused_features_cost_nothing(void **state)
{
    struct uvk_firmware *plain = build(KEYMAP9("a b c; d e f; g h i"), NULL, NULL);
    struct uvk_firmware *rich = build(KEYMAP9("mute sleep wheel-up; d e f; g h i"), NULL, NULL);

    (void)state;
    assert_true(rich->size > plain->size + 300);
    assert_true(rich->ram_used > plain->ram_used + 8);
    uvk_firmware_free(plain);
    uvk_firmware_free(rich);
}

static void too_big_says_by_how_much(void **state)
{
    GError *error = NULL;
    GString *text =
        g_string_new("board x { chip atmega32u4; matrix { rows B0 B1 B2 B3 B4 B5 B6 B7 D0 D1; "
                     "cols F0 F1 F4 F5 F6 F7 C6 C7 D5 D6; flow row->col }\nkeys {\n");

    (void)state;
    for (int key = 0; key < 100; key++) {
        g_string_append_printf(text, "r%dc%d%s", key / 10, key % 10,
                               key % 10 == 9 ? "\n" : " ");
    }
    g_string_append(text, "} }\nkeymap k {\n");
    for (int layer = 0; layer < 150; layer++) {
        g_string_append_printf(text, "layer n%d {", layer);
        for (int key = 0; key < 100; key++) {
            g_string_append(text, " a");
        }
        g_string_append(text, " }\n");
    }
    g_string_append(text, "}\n");
    assert_null(build(text->str, "toobig", &error));
    assert_true(g_error_matches(error, UVK_PROBLEM, UVK_NOT_WELL));
    assert_has(error->message, "bytes of flash, the ATmega32U4 has 28672");
    assert_has(error->message, "too many");
    g_error_free(error);
    g_string_free(text, TRUE);
}

/* Every feature that there is, once. */
#define EVERYTHING                                                                             \
    "board all { title \"All\"; chip atmega32u4\n matrix { rows B0 B1 B2; cols F0 F1 F4 F5 "   \
    "F6 "                                                                                      \
    "F7; flow col->row }\n knob jog { pins D0 D1 }\n keys { r0c0 r0c1 r0c2 | r0c3 r0c4 r0c5\n" \
    " r1c0 r1c1 r1c2 | r1c3 r1c4 r1c5\n r2c0 r2c1 r2c2 | r2c3 r2c4 r2c5=jog } }\n"             \
    "keymap k {\n feel apart { other-hand; again 100ms }\n long-press { digits }\n"            \
    " dance stamp { tap -> 1; hold -> f1; tap tap -> f11 }\n combo r0c0+r0c1 -> esc\n"         \
    " leader { r1c0 r1c2 -> x }\n macro seat { type \"seat\"; tap a }\n"                       \
    " layer one { mute sleep click-left point-up board:restart ctrl+click-left\n f/shift "     \
    "g/ctrl~apart 9 stamp once:alt block:caps-lock\n leader seat two three q w\n knob jog a "  \
    "b "                                                                                       \
    "}\n layer two { . . . . . .; . . . . . .; . . . . . . }\n layer three { . . . . . .; . "  \
    ". . "                                                                                     \
    ". . .; . . . . . . }\n layer four when two+three { . . . . . .; . . . . . .; . . . . . "  \
    ". }\n"                                                                                    \
    "}\n"

static void costs_are_what_leaving_out_saves(void **state)
{
    struct uvk_program *program = good_program(EVERYTHING);
    char *cache = g_build_filename(scratch_folder(), "cache", NULL);
    struct uvk_build_options options = {NULL, NULL, cache};
    GError *error = NULL;
    GArray *costs = uvk_build_costs(program, &options, &error);
    struct uvk_firmware *with = uvk_build(program, &options, &error);
    struct uvk_firmware *less;
    char **around = g_strsplit(EVERYTHING, " combo r0c0+r0c1 -> esc\n", 2);
    char *without = g_strjoinv("", around);
    uint32_t combos = 0;

    (void)state;
    assert_null(error);
    assert_int_equal(costs->len, 19);
    for (guint i = 0; i < costs->len; i++) {
        const struct uvk_cost *cost = &g_array_index(costs, struct uvk_cost, i);
        assert_in_range(cost->flash, 20, 20000);
        assert_true(i == 0 || cost->flash <= (cost - 1)->flash);
        combos = strcmp(cost->feature, "combos") == 0 ? cost->flash : combos;
    }
    uvk_program_free(program);
    /* the same keymap without its combo is smaller by what the combo was said to cost */
    program = good_program(without);
    less = uvk_build(program, &options, &error);
    assert_null(error);
    assert_in_range(with->size - less->size, combos - 20, combos + 20);
    g_strfreev(around);
    g_free(without);
    uvk_firmware_free(less);
    uvk_firmware_free(with);
    g_array_free(costs, TRUE);
    uvk_program_free(program);
    g_free(cache);
}

static void assert_estimate(struct uvk_program *program)
{
    char *cache = g_build_filename(scratch_folder(), "cache", NULL);
    struct uvk_build_options options = {NULL, NULL, cache};
    uint16_t size;
    uint8_t *image = uvk_lower(program, &size);
    size_t estimate = uvk_estimate(program, image, size);
    struct uvk_firmware *firmware = uvk_build_of_any_size(program, &options, NULL);

    assert_in_range(estimate, firmware->size * 95 / 100, firmware->size * 105 / 100);
    uvk_firmware_free(firmware);
    g_free(image);
    g_free(cache);
    uvk_program_free(program);
}

/* A half that remembers which one it is keeps a journal, and nothing else in it. */
#define REMEMBERS                                                                              \
    "board two { title \"Two\"; chip atmega32u4\n halves left right { main stored; link wire " \
    "D2 }\n matrix { rows B4 B5 B6; cols F4 F5 F6; flow col->row }\n keys left { r0c0 r0c1 "   \
    "r0c2; r1c0 r1c1 r1c2; r2c0 r2c1 r2c2 }\n keys right mirror left }\n keymap k { layer "    \
    "base { a b c d e f; g h i j k l; m n o p q r } }"

static void estimates_are_near(void **state)
{
    (void)state;
    assert_estimate(good_program(REMEMBERS));
    assert_estimate(uvk_program_load("boards/translator.uvk"));
    if (g_getenv("UVREK_ONE_CHIP") != NULL) {
        return; /* under the sanitizers: the rest is the compilers' time */
    }
    assert_estimate(uvk_program_load("boards/seats.uvk"));
    assert_estimate(good_program(KEYMAP9("a b c; d e f; g h i")));
    assert_estimate(good_program(EVERYTHING));
    assert_estimate(uvk_program_load("boards/subtitle-desk.uvk"));
    assert_estimate(uvk_program_load("boards/box-office.uvk"));
    assert_estimate(uvk_program_load("boards/projection-room.uvk"));
    assert_estimate(uvk_program_load("tests/plays/live.uvk"));
}

static void cache_that_cannot_be_written_is_an_error(void **state)
{
    struct uvk_program *program = good_program(KEYMAP9("a b c; d e f; g h i"));
    struct uvk_build_options options = {NULL, NULL, "/dev/null/cache"};
    GError *error = NULL;

    (void)state;
    assert_null(uvk_build(program, &options, &error));
    assert_has(error->message, "cannot make the folder");
    g_error_free(error);
    uvk_program_free(program);
}

/* A compiler that fails: the user sees neither its words nor generated code. */
static void failing_compiler_is_not_blamed_on_the_user(void **state)
{
    char *bin = g_build_filename(scratch_folder(), "bin", NULL);
    char *compiler = NULL;
    char *path = g_strconcat(bin, ":", g_getenv("PATH"), NULL);
    char *old = g_strdup(g_getenv("PATH"));
    GError *error = NULL;

    (void)state;
    (void)g_mkdir(bin, 0755);
    compiler = scratch_file(
        "bin/avr-gcc", "#!/bin/sh\n[ \"$1\" = --version ] && echo 'avr-gcc 99.9' && exit 0\n"
                       "echo 'x.c:1: error: boom'\nexit 1\n");
    (void)chmod(compiler, 0755);
    g_setenv("PATH", path, TRUE);
    assert_null(build(KEYMAP9("a b c; d e f; g h i"), NULL, &error));
    g_setenv("PATH", old, TRUE);
    assert_has(error->message, "a part of Uvrek, not of your files; what it said is in ");
    assert_null(strstr(error->message, "boom"));
    g_error_free(error);
    g_free(old);
    g_free(path);
    g_free(compiler);
    g_free(bin);
}

static void missing_compiler_names_the_package(void **state)
{
    char *old = g_strdup(g_getenv("PATH"));
    GError *error = NULL;
    GArray *needs;

    (void)state;
    g_setenv("PATH", "/nowhere", TRUE);
    assert_null(build(KEYMAP9("a b c; d e f; g h i"), NULL, &error));
    needs = uvk_needs(NULL);
    g_setenv("PATH", old, TRUE);
    assert_has(error->message, "as root: apt-get install gcc-avr binutils-avr");
    assert_false(g_array_index(needs, struct uvk_need, 0).there);
    uvk_needs_free(needs);
    g_error_free(error);
    g_free(old);
}

static void needs_tell_versions(void **state)
{
    GArray *needs = uvk_needs(uvk_chip_named("atmega32u4"));
    const struct uvk_need *first = &g_array_index(needs, struct uvk_need, 0);

    (void)state;
    assert_true(needs->len >= 4);
    assert_true(first->there);
    assert_true(g_ascii_isdigit(first->version[0]));
    uvk_needs_free(needs);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(hex_comes_back_as_it_was),
        cmocka_unit_test(hex_of_others_is_read),
        cmocka_unit_test(broken_hex_is_refused_with_its_line),
        cmocka_unit_test(file_is_written_whole_or_not_at_all),
        cmocka_unit_test(configuration_follows_the_keymap),
        cmocka_unit_test(what_has_not_changed_is_not_compiled),
        cmocka_unit_test(functions_stand_near_those_that_call_them),
        cmocka_unit_test(files_hold_the_same_code),
        cmocka_unit_test(uf2_is_for_the_chip),
        cmocka_unit_test(parts_add_up_to_the_whole),
        cmocka_unit_test(unused_features_cost_nothing),
        cmocka_unit_test(too_big_says_by_how_much),
        cmocka_unit_test(costs_are_what_leaving_out_saves),
        cmocka_unit_test(estimates_are_near),
        cmocka_unit_test(cache_that_cannot_be_written_is_an_error),
        cmocka_unit_test(failing_compiler_is_not_blamed_on_the_user),
        cmocka_unit_test(missing_compiler_names_the_package),
        cmocka_unit_test(needs_tell_versions),
    };
    return cmocka_run_group_tests_name("firmware", tests, NULL, NULL);
}
