/* Files with machine code of any form, whole, cut and damaged; and what they say of themselves.
 */
#include "support.h"

#include "uvrek/firmware.h"
#include "uvrek/formats.h"

#include <string.h>

static struct uvk_firmware *firmware;

static int set_up(void **state)
{
    struct uvk_program *program = good_program(KEYMAP9("a b c; d e f; g h i"));
    char *cache = g_build_filename(scratch_folder(), "cache", NULL);
    struct uvk_build_options options = {scratch_folder(), "nine", cache};

    (void)state;
    firmware = uvk_build(program, &options, NULL);
    uvk_program_free(program);
    g_free(cache);
    return firmware == NULL;
}

static int tear_down(void **state)
{
    (void)state;
    uvk_firmware_free(firmware);
    return 0;
}

static void each_form_brings_the_same_code(void **state)
{
    (void)state;
    for (guint i = 0; i < firmware->files->len; i++) {
        const struct uvk_file *file = g_ptr_array_index(firmware->files, i);
        struct uvk_carried carried;
        struct uvk_note note;
        GError *error = NULL;
        assert_true(uvk_carried_read(file->path, &carried, &error));
        assert_string_equal(carried.form, file->form);
        assert_int_equal(carried.address, 0);
        assert_int_equal(carried.size, firmware->size);
        assert_memory_equal(carried.bytes, firmware->code, firmware->size);
        assert_true(uvk_note_find(carried.bytes, carried.size, &note));
        assert_string_equal(note.chip, "atmega32u4");
        assert_string_equal(note.board, "nine");
        assert_string_equal(note.keymap, "k");
        g_free(carried.bytes);
    }
}

/* The example of the standard's own rules: a sum from FFFFFFFF on, without a last inversion. */
static uint32_t sum_of(const uint8_t *bytes, size_t size)
{
    uint32_t sum = 0xFFFFFFFF;

    while (size-- > 0) {
        sum ^= *bytes++;
        for (unsigned bit = 0; bit < 8; bit++) {
            sum = sum & 1 ? sum >> 1 ^ 0xEDB88320 : sum >> 1;
        }
    }
    return sum;
}

static void put_suffix(uint8_t *at, const uint8_t *file, size_t before)
{
    const uint8_t suffix[12] = {0, 1, 0xF4, 0x2F, 0xEB, 0x03, 0x00, 0x01, 'U', 'F', 'D', 16};
    uint32_t sum;

    memcpy(at, suffix, sizeof suffix);
    sum = sum_of(file, before + sizeof suffix);
    for (unsigned i = 0; i < 4; i++) {
        at[12 + i] = (uint8_t)(sum >> 8 * i);
    }
}

static void dfu_suffix_is_read_and_checked(void **state)
{
    uint8_t file[116 + 1];
    struct uvk_carried carried;
    GError *error = NULL;

    (void)state;
    for (unsigned i = 0; i < 100; i++) {
        file[i] = (uint8_t)(i * 3);
    }
    put_suffix(file + 100, file, 100);
    assert_int_equal(sum_of((const uint8_t *)"123456789", 9), ~0xCBF43926u);
    assert_true(uvk_carried_take((char *)file, 116, &carried, &error));
    assert_string_equal(carried.form, "dfu");
    assert_int_equal(carried.size, 100);
    assert_memory_equal(carried.bytes, file, 100);
    assert_int_equal(carried.vendor, 0x03EB);
    assert_int_equal(carried.product, 0x2FF4);
    g_free(carried.bytes);
    for (unsigned i = 0; i < 116; i++) { /* one bit, anywhere but in the mark that tells it */
        if (i >= 108 && i < 111) {
            continue;
        }
        file[i] ^= 0x20;
        assert_false(uvk_carried_take((char *)file, 116, &carried, &error));
        assert_non_null(strstr(error->message, "DFU suffix"));
        g_clear_error(&error);
        file[i] ^= 0x20;
    }
    put_suffix(file, file, 0); /* nothing but a suffix */
    assert_false(uvk_carried_take((char *)file, 16, &carried, &error));
    g_clear_error(&error);
}

static void note_that_is_none_is_not_believed(void **state)
{
    static const struct {
        const char *bytes;
        size_t size;
    } none[] = {
        {"UVKN", 4},
        {"UVKN0.1.0 chip board keymap", 27}, /* without its end */
        {"UVKN0.1.0 chip board\0keymap", 28},
        {"UVKN0.1.0  board keymap\0", 25},
        {"UVKN0.1.0 chip bo\x01rd keymap\0", 28},
        {"UVKNa-version-that-is-longer-than-any chip board keymap\0", 57},
        {"uvkn0.1.0 chip board keymap\0", 29},
    };
    struct uvk_note note;

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(none); i++) {
        assert_false(uvk_note_find((const uint8_t *)none[i].bytes, none[i].size, &note));
        assert_string_equal(note.board, "");
    }
    assert_true(uvk_note_find((const uint8_t *)"UVKNUVKN0.1.0 chip board keymap", 32, &note));
    assert_string_equal(note.version, "0.1.0");
}

/* Whatever a file is cut to, and whichever byte is changed: read, or refused with a reason. */
static void damaged_files_are_refused_or_read(void **state)
{
    GRand *random = g_rand_new_with_seed(4);
    unsigned refused = 0;

    (void)state;
    for (guint i = 0; i < firmware->files->len; i++) {
        const struct uvk_file *file = g_ptr_array_index(firmware->files, i);
        char *path = g_strdup_printf("%s/damaged", scratch_folder());
        char *whole = NULL;
        gsize size = 0;
        assert_true(g_file_get_contents(file->path, &whole, &size, NULL));
        for (unsigned round = 0; round < 400; round++) {
            char *bytes = g_memdup2(whole, size);
            gsize kept = round % 2 == 0 ? (gsize)g_rand_int_range(random, 0, (gint)size) : size;
            struct uvk_carried carried;
            GError *error = NULL;
            bytes[g_rand_int_range(random, 0, (gint)MIN(size, 400))] ^= (char)(1 << round % 8);
            assert_true(g_file_set_contents(path, bytes, (gssize)kept, NULL));
            if (!uvk_carried_read(path, &carried, &error)) {
                assert_non_null(error);
                assert_null(carried.bytes);
                refused++;
            }
            g_clear_error(&error);
            g_free(carried.bytes);
            g_free(bytes);
        }
        g_free(whole);
        g_free(path);
    }
    assert_true(refused > 300);
    g_rand_free(random);
}

static void hex_that_says_things_twice_is_refused(void **state)
{
    static const struct {
        const char *text, *message;
    } wrong[] = {
        {":0100000001FE\n:0100000002FD\n:00000001FF\n",
         "HEX file, line 2: it says again what an earlier line has said"},
        {":02FFFF000102FD\n:00000001FF\n",
         "HEX file, line 1: its addresses go round from the last to the first"},
        {":0100000001FF\n:00000001FF\n", "HEX file, line 1: its checksum is wrong"},
    };

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(wrong); i++) {
        GError *error = NULL;
        size_t size;
        assert_null(uvk_hex_read(wrong[i].text, 1u << 20, &size, &error));
        assert_string_equal(error->message, wrong[i].message);
        assert_true(g_error_matches(error, UVK_PROBLEM, UVK_NOT_WELL));
        g_error_free(error);
    }
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(each_form_brings_the_same_code),
        cmocka_unit_test(dfu_suffix_is_read_and_checked),
        cmocka_unit_test(note_that_is_none_is_not_believed),
        cmocka_unit_test(damaged_files_are_refused_or_read),
        cmocka_unit_test(hex_that_says_things_twice_is_refused),
    };

    return cmocka_run_group_tests_name("carried", tests, set_up, tear_down);
}
