/* The limits of an image, each met exactly and passed by one, as the writer sees them. */
#include "support.h"

#include "uvrek/engine.h"
#include "uvrek/image_write.h"

#include <string.h>

#define MANY 300u

static uint8_t out[UVK_IMAGE_MAX];
static uint8_t switches[UVK_MAX_LINES * UVK_MAX_SENSES];
static uvk_action cells[2u * UVK_MAX_KEYS];
static uint8_t parts[3u + MANY];
static struct uvk_feel feels[MANY];
static struct uvk_when_row whens[MANY];
static struct uvk_combo combos[MANY];
static uint16_t settings[UVK_SETTINGS];
static struct uvk_image_plan plan;
#define TABLE(name) plan.tables[UVK_TABLE_##name]

/* Four keys in a row, three layers, nothing else. */
static int set_up(void **state)
{
    static const uint16_t usual[UVK_SETTINGS] = {5, 1000, 1000, 800, 400, 10, 0, 0, 1};

    (void)state;
    memset(switches, UVK_NO_KEY, sizeof switches);
    memset(cells, 0, sizeof cells);
    memset(&plan, 0, sizeof plan);
    for (uint8_t key = 0; key < 4; key++) {
        switches[key] = key;
    }
    for (unsigned i = 0; i < MANY; i++) {
        feels[i] = (struct uvk_feel){.hold_after = 200};
        whens[i] = (struct uvk_when_row){.layer = 1, .a = 2, .b = 0};
        combos[i] = (struct uvk_combo){
            .action = UVK_MAKE_KEY(0, 0x04), .within = 40, .keys = 2, .first = 0};
    }
    parts[0] = 0;
    parts[1] = 1;
    parts[2] = 0; /* on every layer */
    plan.keys = 4;
    plan.layers = 3;
    plan.lines = 1;
    plan.senses = 4;
    TABLE(SWITCHES).rows = switches;
    TABLE(CELLS).rows = cells;
    TABLE(FEELS).rows = feels;
    TABLE(WHENS).rows = whens;
    TABLE(COMBOS).rows = combos;
    TABLE(PARTS).rows = parts;
    TABLE(SETTINGS).rows = settings;
    memcpy(settings, usual, sizeof settings);
    return 0;
}

static enum uvk_status written(void)
{
    return uvk_image_write(&plan, out, sizeof out);
}

/* A number of what is counted in a byte. */
static void rows_that_a_byte_counts(void **state)
{
    (void)state;
    TABLE(FEELS).count = 255;
    assert_int_equal(written(), UVK_OK);
    TABLE(FEELS).count = 256;
    assert_int_equal(written(), UVK_BAD_VALUE);
    TABLE(FEELS).count = 0;
    TABLE(WHENS).count = 254;
    assert_int_equal(written(), UVK_OK);
    TABLE(WHENS).count = 255;
    assert_int_equal(written(), UVK_BAD_VALUE);
    TABLE(WHENS).count = 0;
    TABLE(PARTS).count = 3;
    TABLE(COMBOS).count = 255;
    assert_int_equal(written(), UVK_OK);
    TABLE(COMBOS).count = 256;
    assert_int_equal(written(), UVK_BAD_VALUE);
}

static void the_longest_times(void **state)
{
    (void)state;
    TABLE(PARTS).count = 3;
    TABLE(COMBOS).count = 1;
    TABLE(FEELS).count = 1;
    feels[0].hold_after = feels[0].rest = feels[0].again = UVK_FEEL_TIME_MAX;
    combos[0].within = UVK_FEEL_TIME_MAX;
    assert_int_equal(written(), UVK_OK);
    combos[0].within++;
    assert_int_equal(written(), UVK_BAD_VALUE);
    combos[0].within--;
    feels[0].again++;
    assert_int_equal(written(), UVK_BAD_VALUE);
}

/* Each setting from its least to its most. */
static void settings_from_least_to_most(void **state)
{
    static const struct {
        uint16_t least, most;
    } limits[UVK_SETTINGS] = {
        [UVK_SET_DEBOUNCE] = {0, UVK_DEBOUNCE_MAX},
        [UVK_SET_ONCE_FOR] = {UVK_ONCE_FOR_MIN, UVK_ONCE_FOR_MAX},
        [UVK_SET_LEADER_WITHIN] = {UVK_LEADER_WITHIN_MIN, UVK_LEADER_WITHIN_MAX},
        [UVK_SET_POINTER_SPEED] = {UVK_POINTER_SPEED_MIN, UVK_POINTER_SPEED_MAX},
        [UVK_SET_POINTER_RAMP] = {0, UVK_POINTER_RAMP_MAX},
        [UVK_SET_WHEEL_SPEED] = {0, UVK_WHEEL_SPEED_MAX},
        [UVK_SET_TYPE_PACE] = {0, UVK_TYPE_PACE_MAX},
        [UVK_SET_PRESS_AFTER] = {0, UVK_PRESS_AFTER_MAX},
        [UVK_SET_LIGHT_STEP] = {1, UVK_LEVELS_MAX},
    };

    (void)state;
    for (unsigned setting = 0; setting < UVK_SETTINGS; setting++) {
        uint16_t usual = settings[setting];
        settings[setting] = limits[setting].least;
        assert_int_equal(written(), UVK_OK);
        settings[setting] = limits[setting].most;
        assert_int_equal(written(), UVK_OK);
        settings[setting]++;
        assert_int_equal(written(), UVK_BAD_VALUE);
        settings[setting] = (uint16_t)(limits[setting].least - 1u);
        assert_int_equal(written(), UVK_BAD_VALUE);
        settings[setting] = usual;
    }
}

/* All keys may be turns of knobs; one more knob than keys for it may not. */
static void knobs_and_keys(void **state)
{
    static const uint8_t changes[] = {4, 2, 1};

    (void)state;
    memset(switches, UVK_NO_KEY, sizeof switches);
    TABLE(KNOBS).rows = changes;
    TABLE(KNOBS).count = 2;
    assert_int_equal(written(), UVK_OK);
    TABLE(KNOBS).count = 3;
    assert_int_equal(written(), UVK_BAD_VALUE);
    TABLE(KNOBS).count = 2;
    plan.keys = 5;
    switches[3] = 0;
    assert_int_equal(written(), UVK_OK);
    switches[3] = 1;
    assert_int_equal(written(), UVK_BAD_VALUE);
    TABLE(KNOBS).count = 0;
    switches[0] = 1; /* twice, the last one too */
    assert_int_equal(written(), UVK_BAD_VALUE);
}

static void every_row_is_looked_at(void **state)
{
    static struct uvk_chord_row chords[] = {{UVK_MOD_SHIFT, UVK_MAKE_KEY(0, 0x04)},
                                            {UVK_MOD_SHIFT, UVK_MAKE_KEY(0, 0x05)},
                                            {UVK_MOD_SHIFT, UVK_MAKE_KEY(0, 0x06)}};

    (void)state;
    TABLE(CHORDS).rows = chords;
    TABLE(CHORDS).count = 3;
    assert_int_equal(written(), UVK_OK);
    for (unsigned row = 0; row < 3; row++) {
        uvk_action good = chords[row].action;
        chords[row].action = UVK_SEE_THROUGH;
        assert_int_equal(written(), UVK_BAD_VALUE);
        chords[row].action = good;
    }
    TABLE(FEELS).count = 3;
    TABLE(WHENS).count = 3;
    TABLE(COMBOS).count = 3;
    TABLE(PARTS).count = 3;
    assert_int_equal(written(), UVK_OK);
    for (unsigned row = 0; row < 3; row++) {
        feels[row].flags = 0x80;
        assert_int_equal(written(), UVK_BAD_VALUE);
        feels[row].flags = 0;
        whens[row].layer = 0;
        assert_int_equal(written(), UVK_BAD_VALUE);
        whens[row].layer = 1;
        combos[row].keys = 1;
        assert_int_equal(written(), UVK_BAD_VALUE);
        combos[row].keys = 2;
    }
    for (unsigned cell = 0; cell < 12; cell++) {
        cells[cell] = UVK_MAKE_LAYER(3);
        assert_int_equal(written(), UVK_BAD_VALUE);
        cells[cell] = UVK_MAKE_LAYER(2);
        assert_int_equal(written(), UVK_OK);
    }
}

/* The leader begins on a cell or a side of a tap-hold; a chord has no see-through in it. */
static void where_actions_may_stand(void **state)
{
    struct uvk_hold_row hold = {.tap = UVK_MAKE_DEVICE(UVK_DEVICE_LEADER, 0),
                                .held = UVK_MAKE_DEVICE(UVK_DEVICE_LEADER, 0)};
    struct uvk_chord_row chord = {UVK_MOD_SHIFT, UVK_MAKE_DEVICE(UVK_DEVICE_LEADER, 0)};

    (void)state;
    TABLE(FEELS).count = 1;
    TABLE(HOLDS).rows = &hold;
    TABLE(HOLDS).count = 1;
    assert_int_equal(written(), UVK_OK);
    hold.held = UVK_SEE_THROUGH;
    assert_int_equal(written(), UVK_BAD_VALUE);
    TABLE(HOLDS).count = 0;
    TABLE(CHORDS).rows = &chord;
    TABLE(CHORDS).count = 1;
    assert_int_equal(written(), UVK_BAD_VALUE);
    TABLE(CHORDS).count = 0;
    cells[0] = UVK_MAKE_OP(UVK_LAYER, UVK_LAYER_ONCE, 1);
    assert_int_equal(written(), UVK_OK);
    TABLE(FEELS).count = 0; /* which says how long a hold does not stick */
    assert_int_equal(written(), UVK_BAD_VALUE);
}

/* A place of a text with modifiers that are named: three bytes, none of them nothing. */
static void texts_with_named_modifiers(void **state)
{
    uint8_t text[] = {UVK_TEXT_MODS, 0x40, 0x04, UVK_TEXT_END};

    (void)state;
    TABLE(TEXTS).rows = text;
    TABLE(TEXTS).count = 4;
    assert_int_equal(written(), UVK_OK);
    text[1] = 0;
    assert_int_equal(written(), UVK_BAD_VALUE);
    text[1] = 0x40;
    text[2] = 0x03;
    assert_int_equal(written(), UVK_BAD_VALUE);
    text[2] = 0x04;
    for (TABLE(TEXTS).count = 1; TABLE(TEXTS).count < 4; TABLE(TEXTS).count++) {
        assert_int_equal(written(), UVK_BAD_VALUE);
    }
}

static void as_many_keys_as_there_may_be(void **state)
{
    (void)state;
    memset(switches, UVK_NO_KEY, sizeof switches);
    plan.lines = UVK_MAX_LINES;
    plan.senses = UVK_MAX_SENSES;
    plan.keys = (uint8_t)MIN(UVK_MAX_KEYS, UVK_KEYS_MAX);
    plan.layers = 1;
    for (unsigned key = 0; key < plan.keys; key++) {
        switches[key] = (uint8_t)key;
    }
    assert_int_equal(written(), UVK_OK);
    plan.keys++;
    assert_int_not_equal(written(), UVK_OK);
}

/* Room for the whole image, and a byte less. */
static void as_much_room_as_it_takes(void **state)
{
    (void)state;
    assert_int_equal(uvk_image_write(&plan, out, uvk_image_size(&plan)), UVK_OK);
    assert_int_equal(uvk_image_write(&plan, out, uvk_image_size(&plan) - 1u), UVK_NO_SPACE);
}

/* As many keys as a combo and a leader sequence may have, from a text. */
static void the_longest_of_their_kind(void **state)
{
    struct uvk_program *program =
        good_program(BOARD9 "keymap k { host linux us\nleader { a b c d e f -> x }\n"
                            "combo a+b+c+d+e+f+g+h -> y\nfeel default { hold-after 30s }\n"
                            "macro slow { wait 30s; type \"\\u{7d}\" }\n"
                            "layer base { a b c; d e f/slow; g h leader } }\n");
    uint16_t size;
    uint8_t *image = uvk_lower(program, &size);
    struct uvk_image opened;
    struct uvk_combo combo;
    struct uvk_sequence sequence;

    (void)state;
    assert_int_equal(uvk_image_open(&opened, image, size), UVK_OK);
    uvk_image_combo(&opened, 0, &combo);
    uvk_image_sequence(&opened, 0, &sequence);
    assert_int_equal(combo.keys, 8);
    assert_int_equal(sequence.keys, 6);
    g_free(image);
    uvk_program_free(program);
}

int main(void)
{
#define TEST(name) cmocka_unit_test_setup(name, set_up)
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(the_longest_of_their_kind),
        TEST(rows_that_a_byte_counts),
        TEST(the_longest_times),
        TEST(settings_from_least_to_most),
        TEST(knobs_and_keys),
        TEST(every_row_is_looked_at),
        TEST(where_actions_may_stand),
        TEST(texts_with_named_modifiers),
        TEST(as_many_keys_as_there_may_be),
        TEST(as_much_room_as_it_takes),
    };
    return cmocka_run_group_tests_name("bounds", tests, NULL, NULL);
}
