/* Random keymaps under random fingers: what must hold whatever they do.
 *
 *   UVREK_EVENTS=10000000 build/test_properties      more than usual
 */
#include "support.h"

#include <stdlib.h>
#include <string.h>

#define KEYS   9u
#define LAYERS 4u

static const char *const plain[] = {
    "a",      "b",        "ctrl+c",     "'?'", "shift",  "gui+l",      "volume-up",
    "mute",   "wheel-up", "click-left", "--",  "sleep",  "ctrl",       "right-alt+ctrl+x",
    "d1",     "d2",       "m1",         "m2",  "leader", "point-left", "pace-slow",
    "block:b"};
static const char *const layer_cells[] = {"n1", "n2", "n3", "once:n1", "once:n2"};
static const char *const feels[] = {"", " ~press", " ~nested", " ~mix", " ~alone"};

static const char *pick(GRand *random, const char *const *list, size_t count)
{
    return list[g_rand_int_range(random, 0, (gint)count)];
}

static void append_side(GRand *random, GString *text)
{
    if (g_rand_int_range(random, 0, 4) == 0) {
        g_string_append(text, pick(random, layer_cells, G_N_ELEMENTS(layer_cells)));
    } else if (g_rand_int_range(random, 0, 8) == 0) {
        g_string_append(text, g_rand_boolean(random) ? "once:shift" : "once:ctrl");
    } else {
        g_string_append(text, pick(random, plain, G_N_ELEMENTS(plain)));
    }
}

/* A cell of any kind but those that stay on when all fingers are up. */
static void append_cell(GRand *random, GString *text, bool first)
{
    g_string_append_c(text, ' ');
    if (!first && g_rand_int_range(random, 0, 3) == 0) {
        g_string_append_c(text, '.');
        return;
    }
    append_side(random, text);
    if (g_rand_int_range(random, 0, 3) == 0) {
        g_string_append_c(text, '/');
        append_side(random, text);
        g_string_append(text, pick(random, feels, G_N_ELEMENTS(feels)));
    }
}

static char *random_keymap(GRand *random)
{
    GString *text = g_string_new(
        BOARD9_KNOB
        "keymap k {\nhost linux us\nset once-for 312ms\n"
        "feel default { hold-after 212ms }\n"
        "feel press { decide on-press; hold-after 212ms }\n"
        "feel nested { decide on-nested; hold-after 112ms }\n"
        "feel mix { rest 62ms; again 87ms; decide on-nested; hold-after 162ms }\n"
        "feel alone { alone tap; hold-after 87ms }\n"
        "macro m1 { type \"aB\"; wait 12ms; tap ctrl+c }\n"
        "macro m2 { press shift; tap x; on-release { release shift; tap y } }\n"
        "dance d1 { tap -> 1; hold -> ctrl; tap tap -> 2/shift ~nested; within 137ms }\n"
        "dance d2 { tap tap -> n1; tap hold -> m2; tap tap tap -> d1; within 87ms }\n"
        "leader { within 362ms; r0c0 -> 3; r0c0 r0c1 -> d1; r1c1 r1c0 r0c0 -> n2/4 }\n");

    for (unsigned layer = 0; layer < LAYERS; layer++) {
        g_string_append_printf(text, "layer n%u%s {", layer,
                               layer == 3 && g_rand_boolean(random) ? " when n1+n2" : "");
        for (unsigned key = 0; key < KEYS; key++) {
            append_cell(random, text, layer == 0);
        }
        g_string_append(text, "; knob jog");
        append_cell(random, text, false);
        append_cell(random, text, false);
        g_string_append(text, " }\n");
    }
    for (int combo = g_rand_int_range(random, 0, 5); combo > 0; combo--) {
        unsigned key = (unsigned)g_rand_int_range(random, 0, KEYS - 2);
        g_string_append_printf(text, "combo r%uc%u+r%uc%u", key / 3, key % 3, (key + 1) / 3,
                               (key + 1) % 3);
        if (g_rand_boolean(random)) {
            g_string_append_printf(text, "+r%uc%u", (key + 2) / 3, (key + 2) % 3);
        }
        g_string_append(text, " -> ");
        append_side(random, text);
        if (g_rand_boolean(random)) {
            g_string_append_c(text, '/');
            append_side(random, text);
            g_string_append(text, pick(random, feels, G_N_ELEMENTS(feels)));
        }
        g_string_append(text, g_rand_boolean(random) ? " { until last-up; within 37ms }\n"
                                                     : " { within 87ms }\n");
    }
    g_string_append(text, "}\n");
    return g_string_free(text, FALSE);
}

/* Fingers that press and let go in turn, with anything from no to half a second between. */
static void move_fingers(GRand *random, struct uvk_rig *rig, bool down[KEYS], unsigned events)
{
    for (unsigned event = 0; event < events; event++) {
        unsigned key = (unsigned)g_rand_int_range(random, 0, KEYS);
        int kind = g_rand_int_range(random, 0, 10);
        uint64_t time = kind < 3    ? 0
                        : kind < 8  ? (uint64_t)g_rand_int_range(random, 1, 60)
                        : kind == 8 ? (uint64_t)g_rand_int_range(random, 60, 250)
                                    : 400;
        if (g_rand_int_range(random, 0, 16) == 0) {
            (void)uvk_rig_turn(rig, 0, g_rand_int_range(random, -3, 4));
        } else {
            down[key] = !down[key];
            uvk_rig_press(rig, key, down[key]);
        }
        assert_true(uvk_rig_run(rig, time * 1000u, NULL));
    }
    for (unsigned key = 0; key < KEYS; key++) {
        if (down[key]) {
            down[key] = false;
            uvk_rig_press(rig, key, false);
        }
    }
}

/* All fingers are up and time has passed: nothing is held, no layer but the first is on. */
static void assert_at_rest(const struct uvk_program *program, struct uvk_rig *rig,
                           const char *text, unsigned round)
{
    uint8_t order[LAYERS + 1];
    unsigned layers = uvk_rig_layers(rig, order, LAYERS + 1);
    char *held = uvk_held_text(uvk_rig_host(rig));

    if (layers != 1 || strcmp(held, "nothing") != 0) {
        GArray *moments = uvk_rig_moments(rig);
        GPtrArray *why = uvk_moments_lines(program, moments, 0);
        for (guint i = why->len > 40 ? why->len - 40 : 0; i < why->len; i++) {
            print_error("%s\n", (char *)g_ptr_array_index(why, i));
        }
        g_ptr_array_unref(why);
        uvk_moments_free(moments);
        fail_msg("round %u: %u layers on, held: %s, with\n%s", round, layers, held, text);
    }
    g_free(held);
}

static unsigned events_wanted(void)
{
    const char *text = g_getenv("UVREK_EVENTS");

    return text != NULL ? (unsigned)strtoul(text, NULL, 10) : 200000u;
}

#define KEPT_ROUNDS 60u
#define KEPT        SOURCE_FOLDER "/tests/properties/seen.txt"

/* A sum of all that happened. */
static void add_sum(GString *sums, const struct uvk_program *program, struct uvk_rig *rig)
{
    GArray *moments = uvk_rig_moments(rig);
    GPtrArray *lines = uvk_moments_lines(program, moments, 0);
    GChecksum *sum = g_checksum_new(G_CHECKSUM_SHA256);

    for (guint i = 0; i < lines->len; i++) {
        const char *line = g_ptr_array_index(lines, i);
        g_checksum_update(sum, (const guchar *)line, (gssize)strlen(line) + 1);
    }
    g_string_append_printf(sums, "%.16s\n", g_checksum_get_string(sum));
    g_checksum_free(sum);
    g_ptr_array_unref(lines);
    uvk_moments_free(moments);
}

/* The first rounds went as they always have, see ../plays/test_seen.c. */
static void assert_as_kept(const GString *sums)
{
    char *kept = NULL;

    if (g_getenv("UVREK_KEEP_SEEN") != NULL) {
        assert_true(g_file_set_contents(KEPT, sums->str, (gssize)sums->len, NULL));
    }
    assert_true(g_file_get_contents(KEPT, &kept, NULL, NULL));
    if (strncmp(kept, sums->str, sums->len) != 0) {
        fail_msg("something else happened than was kept:\n%s", sums->str);
    }
    g_free(kept);
}

static void everything_comes_to_rest(void **state)
{
    GString *sums = g_string_new(NULL);
    const unsigned events = 500;
    const unsigned rounds = events_wanted() / events;
    const guint32 seed = 20261123;
    GRand *random = g_rand_new_with_seed(seed);

    (void)state;
    for (unsigned round = 0; round < rounds; round++) {
        struct uvk_rig_options options = {.seed = round + 1, .bounce = round % 3 * 1500};
        char *text = random_keymap(random);
        struct uvk_program *program = good_program(text);
        uint16_t size;
        uint8_t *image = uvk_lower(program, &size);
        struct uvk_rig *rig = uvk_rig_native(program, image, size, &options, NULL);
        bool down[KEYS] = {false};
        move_fingers(random, rig, down, events);
        assert_true(uvk_rig_settle(rig, NULL));
        assert_true(uvk_rig_run(rig, 700000, NULL)); /* past every `once` */
        assert_at_rest(program, rig, text, round);
        if (round < KEPT_ROUNDS) {
            add_sum(sums, program, rig);
        }
        uvk_rig_free(rig);
        g_free(image);
        uvk_program_free(program);
        g_free(text);
    }
    assert_as_kept(sums);
    g_string_free(sums, TRUE);
    print_message("%u events, seed %u\n", rounds * events, seed);
    g_rand_free(random);
}

/* A key with no cell but letters: every press and release reaches the host, in order,
 * however fast the fingers are. */
static void letters_arrive_in_order(void **state)
{
    GRand *random = g_rand_new_with_seed(99);
    struct desk desk;
    GString *typed = g_string_new(NULL);
    char *got;

    (void)state;
    desk_open(&desk, KEYMAP9("a b c; d e f; g h i"), NULL);
    assert_true(uvk_rig_run(desk.rig, 10000, NULL));
    for (unsigned i = 0; i < 20000; i++) {
        unsigned key = (unsigned)g_rand_int_range(random, 0, KEYS);
        uvk_rig_press(desk.rig, key, true);
        g_string_append_c(typed, (char)('a' + (int)key));
        assert_true(
            uvk_rig_run(desk.rig, (uint64_t)g_rand_int_range(random, 3, 30) * 1000, NULL));
        uvk_rig_press(desk.rig, key, false);
        assert_true(
            uvk_rig_run(desk.rig, (uint64_t)g_rand_int_range(random, 9, 20) * 1000, NULL));
    }
    assert_true(uvk_rig_settle(desk.rig, NULL));
    got = uvk_host_take_text(uvk_rig_host(desk.rig));
    assert_string_equal(got, typed->str);
    g_free(got);
    g_string_free(typed, TRUE);
    g_rand_free(random);
    desk_close(&desk);
}

/* The same random keymap and fingers, in the simulator and as machine code: the same presses,
 * and both come to rest. Steps are further apart than a pass, so that both see one order. */
static void chip_and_desk_agree(void **state)
{
    GRand *random = g_rand_new_with_seed(4242);
    char *cache = g_build_filename(scratch_folder(), "cache", NULL);
    unsigned rounds = g_getenv("UVREK_NO_CHIP") != NULL ? 0 : 12;

    (void)state;
    for (unsigned round = 0; round < rounds; round++) {
        struct uvk_rig_options options = {.seed = round + 1};
        struct uvk_build_options build = {.cache = cache};
        char *text = random_keymap(random);
        struct uvk_program *program = good_program(text);
        struct uvk_firmware *firmware = uvk_build(program, &build, NULL);
        uint16_t size;
        uint8_t *image = uvk_lower(program, &size);
        struct uvk_rig *rigs[2];
        bool down[KEYS] = {false};
        GArray *presses[2];
        assert_non_null(firmware);
        rigs[0] = uvk_rig_native(program, image, size, &options, NULL);
        rigs[1] = uvk_rig_chip(program, firmware->code, firmware->size, firmware->elf, &options,
                               NULL);
        assert_non_null(rigs[1]);
        assert_true(uvk_rig_run(rigs[0], 10000, NULL));
        for (unsigned event = 0; event < 200; event++) {
            unsigned key = (unsigned)g_rand_int_range(random, 0, KEYS);
            /* multiples of 25, far from the keymap's times, where a millisecond decides */
            static const unsigned times[] = {25, 25, 50, 75, 150, 275};
            uint64_t time = times[g_rand_int_range(random, 0, G_N_ELEMENTS(times))];
            down[key] = !down[key];
            for (int i = 0; i < 2; i++) {
                uvk_rig_press(rigs[i], key, down[key]);
                assert_true(uvk_rig_run(rigs[i], time * 1000, NULL));
            }
        }
        for (int i = 0; i < 2; i++) {
            for (unsigned key = 0; key < KEYS; key++) {
                if (down[key]) {
                    uvk_rig_press(rigs[i], key, false);
                    assert_true(uvk_rig_run(rigs[i], 20000, NULL));
                }
            }
            assert_true(uvk_rig_settle(rigs[i], NULL));
            assert_true(uvk_rig_run(rigs[i], 700000, NULL));
            assert_at_rest(program, rigs[i], text, round);
            presses[i] = uvk_host_take_presses(uvk_rig_host(rigs[i]));
        }
        for (guint i = 0; i < MIN(presses[0]->len, presses[1]->len); i++) {
            const struct uvk_press *one = &g_array_index(presses[0], struct uvk_press, i);
            const struct uvk_press *two = &g_array_index(presses[1], struct uvk_press, i);
            if (one->usage != two->usage || one->mods != two->mods) {
                fail_msg("round %u, press %u: native %02X with %02X at %u us, chip %02X with "
                         "%02X at %u us\n%s",
                         round, i, one->usage, one->mods, (unsigned)one->time, two->usage,
                         two->mods, (unsigned)two->time, text);
            }
        }
        assert_int_equal(presses[0]->len, presses[1]->len);
        for (int i = 0; i < 2; i++) {
            g_array_free(presses[i], TRUE);
            uvk_rig_free(rigs[i]);
        }
        g_free(image);
        uvk_firmware_free(firmware);
        uvk_program_free(program);
        g_free(text);
    }
    g_free(cache);
    g_rand_free(random);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(everything_comes_to_rest),
        cmocka_unit_test(letters_arrive_in_order),
        cmocka_unit_test(chip_and_desk_agree),
    };
    return cmocka_run_group_tests_name("properties", tests, NULL, NULL);
}
