/* What the reader of images takes, and what it refuses. */
#include "support.h"

#include "../../image/layout.h"
#include "uvrek/engine.h"
#include "uvrek/image_write.h"

#include <string.h>

static const char *const text =
    BOARD9 "keymap k { host linux us\n"
           "layer base { a b ctrl+right-alt+c; mute shift nav; sleep click-left wheel-up }\n"
           "layer nav  { . -- '?'; board:restart 1 2; 3 4 ctrl+volume-up } }\n";

static uint8_t *image;
static uint16_t size;

static int set_up(void **state)
{
    struct uvk_program *program = good_program(text);

    (void)state;
    image = uvk_lower(program, &size);
    uvk_program_free(program);
    return image == NULL;
}

static int tear_down(void **state)
{
    (void)state;
    g_free(image);
    return 0;
}

static enum uvk_status open_copy(const uint8_t *bytes, uint16_t count)
{
    struct uvk_image opened;

    return uvk_image_open(&opened, bytes, count);
}

static void good_image_opens(void **state)
{
    struct uvk_image opened;
    uint8_t mods;

    (void)state;
    assert_int_equal(uvk_image_open(&opened, image, size), UVK_OK);
    assert_int_equal(opened.keys, 9);
    assert_int_equal(opened.layers, 2);
    /* row->col: columns are selected, rows are read */
    assert_int_equal(opened.lines, 3);
    assert_int_equal(opened.senses, 3);
    assert_int_equal(uvk_image_key_at(&opened, 0, 1), 3);
    assert_int_equal(uvk_image_setting(&opened, UVK_SET_DEBOUNCE), 5);
    assert_int_equal(uvk_image_cell(&opened, 0, 0), UVK_MAKE_KEY(0, 0x04));
    assert_int_equal(uvk_image_cell(&opened, 1, 0), UVK_SEE_THROUGH);
    assert_int_equal(uvk_image_cell(&opened, 1, 1), UVK_NOTHING);
    assert_int_equal(uvk_image_cell(&opened, 1, 2), UVK_MAKE_KEY(UVK_MOD_SHIFT, 0x38));
    assert_int_equal(uvk_action_kind(uvk_image_cell(&opened, 0, 2)), UVK_CHORD);
    assert_int_equal(uvk_image_chord(&opened, 0, &mods), UVK_MAKE_KEY(0, 0x06));
    assert_int_equal(mods, 0x41);
    assert_int_equal(opened.rows[UVK_TABLE_CHORDS], 2);
}

static void every_flipped_byte_is_refused(void **state)
{
    (void)state;
    for (uint16_t at = 0; at < size; at++) {
        uint8_t good = image[at];
        for (unsigned flip = 1; flip < 256; flip++) {
            image[at] = (uint8_t)(good ^ flip);
            if (open_copy(image, size) == UVK_OK) {
                fail_msg("byte %u changed to 0x%02X was accepted", at, image[at]);
            }
        }
        image[at] = good;
    }
    assert_int_equal(open_copy(image, size), UVK_OK);
}

static void every_cut_is_refused(void **state)
{
    uint8_t *longer = g_malloc0(size + 8u);

    (void)state;
    for (uint16_t cut = 0; cut < size; cut++) {
        /* a copy of its own, so that reading beyond the cut is seen */
        uint8_t *copy = g_malloc(cut > 0 ? cut : 1u);
        memcpy(copy, image, cut);
        assert_int_not_equal(open_copy(copy, cut), UVK_OK);
        g_free(copy);
    }
    memcpy(longer, image, size);
    assert_int_equal(open_copy(longer, (uint16_t)(size + 1)), UVK_BAD_LENGTH);
    g_free(longer);
}

/* Put COUNT bytes at AT and make the checksum right again. */
static enum uvk_status open_changed(size_t at, const uint8_t *bytes, size_t count)
{
    uint8_t *copy = g_memdup2(image, size);
    uint32_t crc;
    enum uvk_status status;

    memcpy(copy + at, bytes, count);
    crc = ~uvk_crc32(uvk_crc32(UVK_CRC_START, copy, AT_SUM), copy + AT_KEYS,
                     (uint16_t)(size - AT_KEYS));
    for (unsigned i = 0; i < 4; i++) {
        copy[AT_SUM + i] = (uint8_t)(crc >> (8 * i));
    }
    status = open_copy(copy, size);
    g_free(copy);
    return status;
}

static enum uvk_status open_with(size_t at, uint8_t value)
{
    return open_changed(at, &value, 1);
}

static enum uvk_status open_with_cell(size_t at, uvk_action cell)
{
    const uint8_t bytes[] = {(uint8_t)cell, (uint8_t)(cell >> 8)};

    return open_changed(at, bytes, sizeof bytes);
}

static void well_summed_nonsense_is_refused(void **state)
{
    struct uvk_image opened;
    uint16_t cells;
    uint16_t settings;
    uint16_t switches;
    uint16_t chords;

    (void)state;
    assert_int_equal(uvk_image_open(&opened, image, size), UVK_OK);
    cells = opened.table[UVK_TABLE_CELLS];
    settings = opened.table[UVK_TABLE_SETTINGS];
    switches = opened.table[UVK_TABLE_SWITCHES];
    chords = opened.table[UVK_TABLE_CHORDS];
    assert_int_equal(open_with(AT_MAGIC, 'X'), UVK_BAD_MAGIC);
    for (size_t i = 1; i < 4; i++) {
        assert_int_equal(open_with(AT_MAGIC + i, 'X'), UVK_BAD_MAGIC);
    }
    assert_int_equal(open_with(AT_VERSION, UVK_IMAGE_VERSION + 1), UVK_BAD_VERSION);
    assert_int_equal(open_with(AT_TABLES, 3), UVK_BAD_TABLE);
    assert_int_equal(open_with(AT_KEYS, 0), UVK_BAD_VALUE);
    assert_int_equal(open_with(AT_KEYS, 255), UVK_BAD_VALUE);
    assert_int_equal(open_with(AT_KEYS, 8), UVK_BAD_TABLE);
    assert_int_equal(open_with(AT_LAYERS, 0), UVK_BAD_VALUE);
    assert_int_equal(open_with(AT_LINES, 0), UVK_BAD_VALUE);
    assert_int_equal(open_with(AT_SENSES, 0), UVK_BAD_VALUE);
    assert_int_equal(open_with(AT_LINES, 33), UVK_TOO_BIG);
    assert_int_equal(open_with(AT_SENSES, 33), UVK_TOO_BIG);
    assert_int_equal(open_with(AT_ROOM + 1, 0x20), UVK_TOO_BIG);
    assert_int_equal(open_with(AT_RESERVED, 1), UVK_BAD_VALUE);
    assert_int_equal(open_with(AT_SECOND, image[AT_LINES]), UVK_BAD_VALUE);
    for (size_t entry = 0; entry < UVK_TABLES; entry++) {
        for (size_t byte = 0; byte < ENTRY_SIZE; byte++) {
            size_t at = HEADER_SIZE + entry * ENTRY_SIZE + byte;
            assert_int_equal(open_with(at, (uint8_t)(image[at] + 1)), UVK_BAD_TABLE);
        }
    }
    assert_int_equal(open_with(switches, 9), UVK_BAD_VALUE);
    assert_int_equal(open_with(switches, UVK_NO_KEY), UVK_OK);
    assert_int_equal(open_with(settings, 101), UVK_BAD_VALUE);
    assert_int_equal(open_with_cell(cells, UVK_MAKE_KEY(0, UVK_USAGE_FIRST)), UVK_OK);
    assert_int_equal(open_with_cell(cells, UVK_MAKE_KEY(0, UVK_USAGE_FIRST - 1)),
                     UVK_BAD_VALUE);
    assert_int_equal(open_with_cell(cells, UVK_MAKE_KEY(0, UVK_USAGE_LAST)), UVK_OK);
    assert_int_equal(open_with_cell(cells, UVK_MAKE_KEY(0, UVK_USAGE_LAST + 1)), UVK_BAD_VALUE);
    assert_int_equal(open_with_cell(cells, UVK_MAKE(UVK_MACRO, 0)), UVK_BAD_VALUE);
    assert_int_equal(open_with_cell(cells, UVK_MAKE(UVK_HOLD, 0)), UVK_BAD_VALUE);
    assert_int_equal(open_with_cell(cells, UVK_MAKE(UVK_CONSUMER, 0)), UVK_BAD_VALUE);
    assert_int_equal(open_with_cell(cells, UVK_MAKE(UVK_CONSUMER, 1)), UVK_OK);
    assert_int_equal(open_with_cell(cells, UVK_MAKE(UVK_CONSUMER, UVK_CONSUMER_LAST)), UVK_OK);
    assert_int_equal(open_with_cell(cells, UVK_MAKE(UVK_CONSUMER, UVK_CONSUMER_LAST + 1)),
                     UVK_BAD_VALUE);
    assert_int_equal(open_with_cell(cells, UVK_MAKE_LAYER(1)), UVK_OK);
    assert_int_equal(open_with_cell(cells, UVK_MAKE_LAYER(2)), UVK_BAD_VALUE);
    assert_int_equal(
        open_with_cell(cells, UVK_MAKE_DEVICE(UVK_DEVICE_SYSTEM, UVK_SYSTEM_MICROPHONE)),
        UVK_OK);
    assert_int_equal(open_with_cell(cells, UVK_MAKE_DEVICE(UVK_DEVICE_SYSTEM, 0x85)),
                     UVK_BAD_VALUE);
    assert_int_equal(open_with_cell(cells, UVK_MAKE_DEVICE(UVK_DEVICE_CLICK, 5)), UVK_OK);
    assert_int_equal(open_with_cell(cells, UVK_MAKE_DEVICE(UVK_DEVICE_CLICK, 6)),
                     UVK_BAD_VALUE);
    assert_int_equal(open_with_cell(cells, UVK_MAKE_DEVICE(UVK_DEVICE_WHEEL, 3)), UVK_OK);
    assert_int_equal(open_with_cell(cells, UVK_MAKE_DEVICE(UVK_DEVICE_WHEEL, 4)),
                     UVK_BAD_VALUE);
    assert_int_equal(open_with_cell(cells, UVK_MAKE(UVK_CHORD, 1)), UVK_OK);
    assert_int_equal(open_with_cell(cells, UVK_MAKE(UVK_CHORD, 2)), UVK_BAD_VALUE);
    assert_int_equal(open_with_cell(chords + 1u, UVK_MAKE(UVK_CHORD, 0)), UVK_BAD_VALUE);
}

/* Which lines are the second half's stands in the image; of a board in one piece none are. */
static void lines_of_the_second_half_are_known(void **state)
{
    struct uvk_program *split = uvk_program_load(SOURCE_FOLDER "/boards/translator.uvk");
    struct uvk_scan_plan scan = uvk_board_scan(split->board);
    struct uvk_image opened;
    uint16_t bytes;
    uint8_t *halves = uvk_lower(split, &bytes);

    (void)state;
    assert_non_null(halves);
    assert_int_equal(uvk_image_open(&opened, halves, bytes), UVK_OK);
    assert_int_equal(uvk_image_lines(&opened), scan.line_count);
    for (unsigned line = 0; line < scan.line_count; line++) {
        assert_int_equal(scan.lines[line].half, line >= uvk_image_second_line(&opened));
    }
    assert_int_equal(scan.lines[scan.line_count - 1].half, 1);
    g_free(halves);
    uvk_program_free(split);
    assert_int_equal(uvk_image_open(&opened, image, size), UVK_OK);
    assert_int_equal(uvk_image_second_line(&opened), uvk_image_lines(&opened));
}

static void see_through_in_a_chord_is_refused(void **state)
{
    struct uvk_image opened;

    (void)state;
    assert_int_equal(uvk_image_open(&opened, image, size), UVK_OK);
    assert_int_equal(open_with_cell(opened.table[UVK_TABLE_CHORDS] + 1u, UVK_SEE_THROUGH),
                     UVK_BAD_VALUE);
}

static void writer_refuses_what_does_not_fit(void **state)
{
    uint8_t out[160];
    uint8_t switches[1] = {0};
    uvk_action cells[1] = {UVK_MAKE_LAYER(3)};
    uint16_t settings[UVK_SETTINGS] = {5, 1000, 1000, 800, 400, 10, 0, 0, 1};
    struct uvk_image_plan plan = {.keys = 1,
                                  .layers = 1,
                                  .lines = 1,
                                  .senses = 1,
                                  .tables = {[UVK_TABLE_SWITCHES] = {switches, 1},
                                             [UVK_TABLE_SETTINGS] = {settings, UVK_SETTINGS},
                                             [UVK_TABLE_CELLS] = {cells, 1}}};

    (void)state;
    assert_int_equal(uvk_image_write(&plan, out, 10), UVK_NO_SPACE);
    assert_int_equal(uvk_image_write(&plan, out, sizeof out), UVK_BAD_VALUE);
    cells[0] = UVK_NOTHING;
    assert_int_equal(uvk_image_write(&plan, out, sizeof out), UVK_OK);
    plan.keys = 254;
    plan.layers = 255;
    assert_true(uvk_image_size(&plan) > UVK_IMAGE_MAX);
    assert_int_equal(uvk_image_write(&plan, out, sizeof out), UVK_NO_SPACE);
}

/* IEEE 802.3: the sum of "123456789" is known. */
static void crc_is_the_standard_one(void **state)
{
    (void)state;
    assert_int_equal(~uvk_crc32(UVK_CRC_START, (const uint8_t *)"123456789", 9), 0xCBF43926u);
}

static void statuses_have_words(void **state)
{
    (void)state;
    for (int status = UVK_OK; status <= UVK_OTHER_BUILD; status++) {
        assert_true(strlen(uvk_status_text((enum uvk_status)status)) > 1);
    }
    assert_string_equal(uvk_status_text((enum uvk_status)99), "unknown status");
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(good_image_opens),
        cmocka_unit_test(every_flipped_byte_is_refused),
        cmocka_unit_test(every_cut_is_refused),
        cmocka_unit_test(well_summed_nonsense_is_refused),
        cmocka_unit_test(lines_of_the_second_half_are_known),
        cmocka_unit_test(see_through_in_a_chord_is_refused),
        cmocka_unit_test(writer_refuses_what_does_not_fit),
        cmocka_unit_test(crc_is_the_standard_one),
        cmocka_unit_test(statuses_have_words),
    };
    return cmocka_run_group_tests_name("image", tests, set_up, tear_down);
}
