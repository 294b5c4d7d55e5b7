/* The way to each layer, in words; what shows through on it. */
#include "support.h"

#include "uvrek/explain.h"
#include "uvrek/ways.h"

#define WAYS                                                                                   \
    BOARD9_KNOB                                                                                \
    "keymap k { host linux us\n"                                                               \
    "dance two { tap -> a; tap tap -> toggle:twice; tap hold -> deep; within 100ms }\n"        \
    "leader { a b -> toggle:led }\n"                                                           \
    "combo a+b -> both { on base }\n"                                                          \
    "layer base { a b space/nav; num two leader; c once:one .; knob jog left only:turned }\n"  \
    "layer nav { 1 . .; . . .; toggle:far up num; knob jog . . }\n"                            \
    "layer num { . 2 .; . . .; . 3 . }\n"                                                      \
    "layer sys when nav+num { . . .; . . .; . . esc }\n"                                       \
    "layer far { . . .; . . .; only:base 4 . }\n"                                              \
    "layer twice { . . .; . toggle:twice .; . . . }\n"                                         \
    "layer deep { . . .; . . .; . . . }\n"                                                     \
    "layer led { . . toggle:led; . . .; . . . }\n"                                             \
    "layer both { . . .; . . .; . . 5 }\n"                                                     \
    "layer one { 6 . .; . . .; . . . }\n"                                                      \
    "layer turned { only:base . .; . . .; . . . }\n"                                           \
    "layer lost { 7 . .; . . .; . . . }\n"                                                     \
    "}\n"

static unsigned layer_of(const struct uvk_program *program, const char *name)
{
    for (unsigned i = 0; i < program->keymap->layer_count; i++) {
        if (g_str_equal(program->keymap->layers[i].name, name)) {
            return i;
        }
    }
    fail_msg("no layer %s", name);
    return 0;
}

static void ways_are_told(void **state)
{
    static const struct {
        const char *layer, *text;
    } wanted[] = {
        {"base", ""},
        {"nav", "hold space"},
        {"num", "hold num"},
        {"sys", "hold space and num"},
        {"far", "hold space, tap c"},
        {"twice", "tap twice two"},
        {"deep", "tap and hold two"},
        {"led", "tap leader, then a b"},
        {"both", "hold a + b"},
        {"one", "tap once:one, for one key"},
        {"turned", "turn jog +1"},
        {"lost", ""},
    };
    struct uvk_program *program = good_program(WAYS);
    struct uvk_ways *ways = uvk_ways_find(program);

    (void)state;
    assert_int_equal(ways->count, G_N_ELEMENTS(wanted));
    for (size_t i = 0; i < G_N_ELEMENTS(wanted); i++) {
        const struct uvk_way *way = &ways->of[layer_of(program, wanted[i].layer)];
        assert_string_equal(way->text, wanted[i].text);
        assert_int_equal(way->found, !g_str_equal(wanted[i].layer, "lost"));
    }
    assert_string_equal(ways->of[layer_of(program, "far")].short_text, "from nav, tap c");
    assert_string_equal(ways->of[layer_of(program, "sys")].short_text,
                        "while nav and num are on");
    uvk_ways_free(ways);
    uvk_program_free(program);
}

/* The name of what shows at CELL of LAYER, and the layer that has it: "nav 1". */
static void assert_shown(const struct uvk_program *program, const char *layer, unsigned cell,
                         const char *wanted)
{
    struct uvk_ways *ways = uvk_ways_find(program);
    unsigned from;
    const struct uvk_value *value =
        uvk_cell_shown(program, ways, layer_of(program, layer), cell, &from);
    char *name = uvk_cell_name(program, value);
    char *got = g_strdup_printf("%s %s", program->keymap->layers[from].name, name);

    assert_string_equal(got, wanted);
    g_free(got);
    g_free(name);
    uvk_ways_free(ways);
}

static void what_shows_through(void **state)
{
    struct uvk_program *program = good_program(WAYS);
    char *sentence;

    (void)state;
    assert_shown(program, "nav", 0, "nav 1");
    assert_shown(program, "nav", 1, "base b");
    assert_shown(program, "sys", 0, "nav 1"); /* both layers that make it show */
    assert_shown(program, "sys", 1, "num 2");
    assert_shown(program, "sys", 7, "num 3");  /* the later one lies above */
    assert_shown(program, "far", 0, "base a"); /* nav is off when its key is up */
    assert_shown(program, "deep", 7, "base once:one");
    assert_shown(program, "base", 8, "base .");
    sentence = uvk_cell_sentence(program, layer_of(program, "sys"), 1);
    assert_string_equal(
        sentence, "does what the next lower layer that is on has here; the layer num has 2");
    g_free(sentence);
    uvk_program_free(program);
}

static void fingers_that_stay_down(void **state)
{
    struct uvk_program *program = good_program(WAYS);
    struct uvk_ways *ways = uvk_ways_find(program);

    (void)state;
    assert_true(uvk_way_holds(ways, layer_of(program, "nav"), 2));
    assert_false(uvk_way_holds(ways, layer_of(program, "nav"), 3));
    assert_true(uvk_way_holds(ways, layer_of(program, "sys"), 2));
    assert_true(uvk_way_holds(ways, layer_of(program, "sys"), 3));
    assert_true(uvk_way_holds(ways, layer_of(program, "both"), 0));
    assert_true(uvk_way_holds(ways, layer_of(program, "both"), 1));
    assert_true(uvk_way_holds(ways, layer_of(program, "deep"), 4));
    assert_int_equal(ways->of[layer_of(program, "far")].held_count, 0);
    assert_int_equal(ways->of[layer_of(program, "one")].held_count, 0);
    uvk_ways_free(ways);
    uvk_ways_free(NULL);
    uvk_program_free(program);
}

int main(void)
{
    const struct CMUnitTest tests[] = {cmocka_unit_test(ways_are_told),
                                       cmocka_unit_test(what_shows_through),
                                       cmocka_unit_test(fingers_that_stay_down)};
    return cmocka_run_group_tests_name("ways", tests, NULL, NULL);
}
