/* UF2 files: there and back, and what is refused, with the block. */
#include "support.h"

#include "uvrek/firmware.h"

#include <string.h>

#define FAMILY  0xE48BFF56u /* of the RP2040 */
#define ADDRESS 0x10000000u
#define SIZE    1000u /* four blocks, the last one not full */

static uint8_t code[SIZE];
static uint8_t *file;
static size_t size;

static int set_up(void **state)
{
    (void)state;
    for (size_t i = 0; i < SIZE; i++) {
        code[i] = (uint8_t)(i * 7 + i / 256);
    }
    file = uvk_uf2_write(code, SIZE, ADDRESS, FAMILY, &size);
    return 0;
}

static int tear_down(void **state)
{
    (void)state;
    g_free(file);
    return 0;
}

static void put(size_t block, size_t at, uint32_t value)
{
    value = GUINT32_TO_LE(value);
    memcpy(file + block * UVK_UF2_BLOCK + at, &value, sizeof value);
}

/* What the reader says; "" if it reads. */
static char *said(size_t bytes, size_t most)
{
    struct uvk_uf2 uf2;
    GError *error = NULL;
    char *text = g_strdup("");

    if (!uvk_uf2_read(file, bytes, most, &uf2, &error)) {
        g_free(text);
        text = g_strdup(error->message);
        assert_null(uf2.bytes);
        g_clear_error(&error);
    }
    g_free(uf2.bytes);
    return text;
}

static void assert_said(size_t bytes, size_t most, const char *expected)
{
    char *text = said(bytes, most);

    assert_string_equal(text, expected);
    g_free(text);
}

static void comes_back_as_it_was(void **state)
{
    struct uvk_uf2 uf2;

    (void)state;
    assert_int_equal(size, 4 * UVK_UF2_BLOCK);
    assert_true(uvk_uf2_read(file, size, 4096, &uf2, NULL));
    assert_int_equal(uf2.family, FAMILY);
    assert_int_equal(uf2.address, ADDRESS);
    assert_int_equal(uf2.size, 1024);
    assert_memory_equal(uf2.bytes, code, SIZE);
    for (size_t i = SIZE; i < 1024; i++) {
        assert_int_equal(uf2.bytes[i], 0);
    }
    g_free(uf2.bytes);
}

/* As the format's description has it: the first block byte by byte. */
static void first_block_is_as_described(void **state)
{
    static const uint8_t head[] = {'U', 'F', '2', '\n', 0x57, 0x51, 0x5D, 0x9E, 0x00, 0x20, 0,
                                   0,   0,   0,   0,    0x10, 0x00, 0x01, 0,    0,    0,    0,
                                   0,   0,   4,   0,    0,    0,    0x56, 0xFF, 0x8B, 0xE4};
    static const uint8_t end[] = {0x30, 0x6F, 0xB1, 0x0A};

    (void)state;
    assert_memory_equal(file, head, sizeof head);
    assert_memory_equal(file + 32, code, 256);
    assert_memory_equal(file + 508, end, sizeof end);
}

static void files_without_a_family_are_read(void **state)
{
    (void)state;
    for (size_t block = 0; block < 4; block++) {
        put(block, 8, 0);
    }
    assert_said(size, 4096, "");
}

static void blocks_for_elsewhere_are_passed_over(void **state)
{
    struct uvk_uf2 uf2;

    (void)state;
    put(3, 8, 0x2001);
    put(3, 12, 0x40000000u);
    assert_true(uvk_uf2_read(file, size, 4096, &uf2, NULL));
    assert_int_equal(uf2.size, 768);
    g_free(uf2.bytes);
    for (size_t block = 0; block < 4; block++) {
        put(block, 8, 0x2001);
    }
    assert_said(size, 4096, "the UF2 file has nothing for the chip's main flash");
}

static void damage_is_refused_with_its_block(void **state)
{
    (void)state;
    assert_said(
        size - 1, 4096,
        "a UF2 file is made of blocks of 512 bytes; this one has 2047 bytes: it is cut");
    assert_said(0, 4096,
                "a UF2 file is made of blocks of 512 bytes; this one has 0 bytes: it is cut");
    assert_said(3 * UVK_UF2_BLOCK, 4096,
                "block 1 of the UF2 file says that it is block 1 of 4");
    assert_said(size, 1023,
                "block 4 of the UF2 file goes beyond the 1023 bytes that there is room for");
    put(2, 508, 0);
    assert_said(size, 4096, "block 3 of the UF2 file is damaged, or no block at all");
    put(2, 508, 0x0AB16F30);
    put(1, 16, 477);
    assert_said(size, 4096, "block 2 of the UF2 file says that it has 477 bytes");
    put(1, 16, 256);
    put(1, 20, 2);
    assert_said(size, 4096, "block 2 of the UF2 file says that it is block 3 of 4");
}

static void gaps_and_foreign_blocks_are_refused(void **state)
{
    (void)state;
    put(2, 12, ADDRESS + 0x300);
    assert_said(size, 4096,
                "block 3 of the UF2 file goes to 0x10000300; 0x10000200 would be next");
    put(2, 12, ADDRESS + 0x200);
    put(3, 28, 0x1234);
    assert_said(
        size, 4096,
        "block 4 of the UF2 file is for other chips: family 0x00001234, not 0xe48bff56");
    put(3, 28, FAMILY);
    put(0, 12, 0xFFFFFF01u);
    assert_said(size, 4096, "block 1 of the UF2 file goes beyond the last address there is");
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test_setup_teardown(comes_back_as_it_was, set_up, tear_down),
        cmocka_unit_test_setup_teardown(first_block_is_as_described, set_up, tear_down),
        cmocka_unit_test_setup_teardown(files_without_a_family_are_read, set_up, tear_down),
        cmocka_unit_test_setup_teardown(blocks_for_elsewhere_are_passed_over, set_up,
                                        tear_down),
        cmocka_unit_test_setup_teardown(damage_is_refused_with_its_block, set_up, tear_down),
        cmocka_unit_test_setup_teardown(gaps_and_foreign_blocks_are_refused, set_up, tear_down),
    };
    return cmocka_run_group_tests_name("uf2", tests, NULL, NULL);
}
