/* Every play beside this file, in the simulator and as machine code on each simulated chip. */
#include "support.h"

#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#define FOLDER SOURCE_FOLDER "/tests/plays"

static unsigned played;

/* All plays of FILE; FIRMWARE NULL: in the simulator. The number that failed. */
static unsigned play_file(struct uvk_program *program, const uint8_t *image, uint16_t size,
                          const struct uvk_firmware *firmware, uint32_t seed)
{
    struct uvk_rig_options options = {.seed = seed, .bounce = UVK_BOUNCE_DEFAULT};
    unsigned failed = 0;

    for (const struct uvk_play *play = program->plays; play != NULL; play = play->next) {
        struct uvk_outcome outcome = {.play = play};
        GError *error = NULL;
        struct uvk_rig *rig = firmware != NULL
                                  ? uvk_rig_chip(program, firmware->code, firmware->size,
                                                 firmware->elf, &options, &error)
                                  : uvk_rig_native(program, image, size, &options, &error);
        int result = rig != NULL ? uvk_play_run(program, rig, play, &outcome, &error) : -1;
        if (result != 1) {
            print_error("%s, %s: expected %s, got %s\n",
                        firmware != NULL ? "chip" : "simulator", play->name, outcome.expected,
                        outcome.got);
            failed++;
        }
        if (result == 0) {
            GPtrArray *lines = uvk_moments_lines(program, outcome.moments, outcome.start);
            for (guint i = 0; i < lines->len; i++) {
                print_error("%s\n", (char *)g_ptr_array_index(lines, i));
            }
            g_ptr_array_unref(lines);
        }
        g_clear_error(&error);
        uvk_outcome_clear(&outcome);
        if (firmware != NULL && g_getenv("UVREK_SIMULATOR") == NULL) {
            assert_in_range(uvk_rig_measure(rig, "stack-bytes"), 20, firmware->stack);
            /* what is kept was found by walking through the code, where it can be */
            assert_int_equal(
                firmware->stack<program->board->chip->stack, program->board->chip->vectors> 0);
        }
        uvk_rig_free(rig);
        played++;
    }
    return failed;
}

/* CHIP NULL: in the simulator; there with MORE seeds than one, unless there is little time. */
static void run_with(const char *name, const char *chip, bool more)
{
    char *path = g_build_filename(FOLDER, name, NULL);
    char *cache = g_build_filename(scratch_folder(), "cache", NULL);
    struct uvk_build_options options = {.cache = cache};
    struct uvk_program *program = uvk_program_load(path);
    struct uvk_firmware *firmware = NULL;
    GError *error = NULL;
    uint16_t size;
    uint8_t *image;
    unsigned failed;

    for (guint i = 0; i < program->messages.list->len; i++) {
        const struct uvk_message *message = g_ptr_array_index(program->messages.list, i);
        char *shown = uvk_message_render(message, false);
        if (message->severity == UVK_ERROR) {
            print_error("%s", shown);
        }
        g_free(shown);
    }
    assert_int_equal(program->messages.errors, 0);
    if (chip != NULL && strcmp(chip, program->board->chip->name) != 0) {
        move_to_chip(program, chip);
    }
    image = uvk_lower(program, &size);
    assert_non_null(image);
    if (chip != NULL) {
        firmware = uvk_build(program, &options, &error);
        assert_null(error);
    }
    failed = play_file(program, image, size, firmware, 1);
    if (more && chip == NULL && !few_rounds()) {
        failed += play_file(program, image, size, firmware, 77);
    }
    uvk_firmware_free(firmware);
    g_free(image);
    uvk_program_free(program);
    g_free(path);
    g_free(cache);
    assert_int_equal(failed, 0);
}

static void run_file(const char *name, const char *chip)
{
    run_with(name, chip, true);
}

#define DOCS "../../docs/behaviours/"

#define FILES(X)                                                                               \
    X(tap_hold, "tap-hold.uvk")                                                                \
    X(layers, "layers.uvk")                                                                    \
    X(combos, "combos.uvk")                                                                    \
    X(dances, "dances.uvk")                                                                    \
    X(leader, "leader.uvk")                                                                    \
    X(long_press, "long-press.uvk")                                                            \
    X(knobs, "knobs.uvk")                                                                      \
    X(pointer, "pointer.uvk")                                                                  \
    X(ramp, "ramp.uvk")                                                                        \
    X(french, "french.uvk")                                                                    \
    X(numbers_linux, "numbers-linux.uvk")                                                      \
    X(numbers_windows, "numbers-windows.uvk")                                                  \
    X(numbers_mac, "numbers-mac.uvk")                                                          \
    X(direct, "direct.uvk")                                                                    \
    X(direct_power, "direct-power.uvk")                                                        \
    X(choices, "choices.uvk")                                                                  \
    X(behaviours, DOCS "behaviours.uvk")                                                       \
    X(box_office, "../../boards/box-office.uvk")                                               \
    X(shortcuts, "shortcuts.uvk")                                                              \
    X(counting, "counting.uvk")                                                                \
    X(places, "places.uvk")                                                                    \
    X(waiting, "waiting.uvk")                                                                  \
    X(together, "together.uvk")                                                                \
    X(pace, "pace.uvk")                                                                        \
    X(boot, "boot.uvk")                                                                        \
    X(scan, "scan.uvk")                                                                        \
    X(under_way, "under-way.uvk")                                                              \
    X(twice, "twice.uvk")                                                                      \
    X(systems, "systems.uvk")                                                                  \
    X(systems_de, "systems-de.uvk")                                                            \
    X(parted, "parted.uvk")                                                                    \
    X(hands, "hands.uvk")                                                                      \
    X(macros, "macros.uvk")                                                                    \
    X(cells, "cells.uvk")                                                                      \
    X(german, "german.uvk")                                                                    \
    X(holding, "holding.uvk")                                                                  \
    X(modified, "modified.uvk")                                                                \
    X(corners, "corners.uvk")                                                                  \
    X(across, "across.uvk")                                                                    \
    X(ten, "ten.uvk")                                                                          \
    X(media, "media.uvk")                                                                      \
    X(between, "between.uvk")                                                                  \
    X(wider, "wider.uvk")                                                                      \
    X(mac, "mac.uvk")                                                                          \
    X(lights, "lights.uvk")

/* Under the sanitizers the desk is what is looked at, and it has met all plays in the
 * simulator: on chips it meets a third of them, of one chip. */
static bool is_one_of_few(const char *file, const char *chip)
{
    return strcmp(chip, "atmega32u4") == 0 && g_str_hash(file) % 3 == 0;
}

static void run_on(const char *file, const char *chip)
{
    if (g_getenv("UVREK_NO_CHIP") != NULL ||
        (g_getenv("UVREK_ONE_CHIP") != NULL && !is_one_of_few(file, chip))) {
        skip();
    }
    run_file(file, chip);
}

#define TESTS(name, file)                                                                      \
    static void name##_in_the_simulator(void **state)                                          \
    {                                                                                          \
        (void)state;                                                                           \
        run_file(file, NULL);                                                                  \
    }                                                                                          \
    static void name##_on_the_atmega32u4(void **state)                                         \
    {                                                                                          \
        (void)state;                                                                           \
        run_on(file, "atmega32u4");                                                            \
    }                                                                                          \
    static void name##_on_the_rp2040(void **state)                                             \
    {                                                                                          \
        (void)state;                                                                           \
        run_on(file, "rp2040");                                                                \
    }
FILES(TESTS)

/* A controller in each half, on the chip that the board has. */
static const struct {
    const char *file, *chip;
} split[] = {{"halves.uvk", "rp2040"},
             {"cable.uvk", "rp2040"},
             {DOCS "halves.uvk", "rp2040"},
             {"../../boards/translator.uvk", "rp2040"},
             {"../../boards/seats.uvk", "atmega32u4"},
             {"lights-halves.uvk", "rp2040"}};

static void halves_in_the_simulator(void **state)
{
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(split); i++) {
        run_file(split[i].file, NULL);
    }
}

static void halves_on_their_chips(void **state)
{
    (void)state;
    if (g_getenv("UVREK_NO_CHIP") != NULL) {
        skip();
    }
    for (size_t i = 0; i < G_N_ELEMENTS(split); i++) {
        bool slow = strcmp(split[i].chip, "rp2040") == 0 && g_getenv("UVREK_ONE_CHIP") != NULL;
        if (!slow) { /* two of them take minutes under the sanitizers */
            run_with(split[i].file, split[i].chip, false);
        }
    }
}

#define ENTRIES(name, file)                                                                    \
    cmocka_unit_test(name##_in_the_simulator), cmocka_unit_test(name##_on_the_atmega32u4),     \
        cmocka_unit_test(name##_on_the_rp2040),

/* "2/3" is the second third of TESTS, into CHOSEN; how many those are. */
static size_t choose(const char *share, const struct CMUnitTest *tests, size_t all,
                     struct CMUnitTest *chosen)
{
    unsigned part = 1;
    unsigned parts = 1;
    size_t count = 0;

    if (share != NULL && (sscanf(share, "%u/%u", &part, &parts) != 2 || parts == 0)) {
        fprintf(stderr, "'%s' is no share: 1/2 is the first half\n", share);
        exit(2);
    }
    for (size_t i = 0; i < all; i++) {
        if (i / 3 % parts == part - 1) { /* each file has three tests */
            chosen[count++] = tests[i];
        }
    }
    return count;
}

/* A word chooses the tests whose names it fits, with * and ?; a second one the share of them.
 */
int main(int count, char **words)
{
    const struct CMUnitTest tests[] = {FILES(ENTRIES) cmocka_unit_test(halves_in_the_simulator),
                                       cmocka_unit_test(halves_on_their_chips)};
    struct CMUnitTest chosen[G_N_ELEMENTS(tests)];
    size_t chosen_count =
        choose(count > 2 ? words[2] : NULL, tests, G_N_ELEMENTS(tests), chosen);
    int failed;

    if (count > 1) {
        cmocka_set_test_filter(words[1]);
    }
    failed = _cmocka_run_group_tests("plays", chosen, chosen_count, NULL, NULL);

    printf("%u plays were run\n", played);
    return failed;
}
