/* The language in words: every word and code is explained, and cells say what they do. */
#include "support.h"

#include "uvrek/explain.h"

#include <string.h>

#define KEYMAP                                                                                 \
    BOARD9_KNOB                                                                                \
    "keymap k {\n host linux us\n set once-for 3s\n"                                           \
    " feel calm { hold-after 220ms; decide on-nested; rest 120ms; again 90ms; alone tap }\n"   \
    " macro head { type \"a\\n\"; tap ctrl+s; wait 20ms; click left; on-release { press b;"    \
    " release b } }\n"                                                                         \
    " dance ones { tap -> head; tap tap -> esc; hold -> shift; within 180ms }\n"               \
    " leader { within 800ms; a b -> head; c -> 7 }\n"                                          \
    " long-press { digits; after 250ms }\n"                                                    \
    " layer base { a b c/nav ~calm; ones 7 once:nav; leader '?' -- }\n"                        \
    " layer nav { . comma toggle:nav; only:nav block:gui once:shift;"                          \
    " board:bootloader wheel-up mute; knob jog point-left '\\u{22}' }\n}\n"

static void assert_does(unsigned layer, unsigned cell, const char *wanted)
{
    struct uvk_program *program = good_program(KEYMAP);
    char *sentence = uvk_cell_sentence(program, layer, cell);

    assert_string_equal(sentence, wanted);
    g_free(sentence);
    uvk_program_free(program);
}

static void cells_say_what_they_do(void **state)
{
    (void)state;
    assert_does(0, 0, "presses a, with shift \"A\"");
    assert_does(
        0, 2,
        "when it is tapped, presses c, with shift \"C\"; when it is held, turns the layer "
        "nav on as long as it is down. It is a hold after 220ms, or when another key is "
        "pressed and released meanwhile. Less than 120ms after another key it is a tap "
        "at once. Pressed less than 90ms after its own tap, it taps and stays down. Held "
        "and released with no other key between, it taps as well (the feel calm)");
    assert_does(
        0, 3,
        "counts touches (the dance ones, 180ms from one to the next): tap -> runs the macro "
        "head: types \"a\\n\", taps ctrl+s, waits 20ms, clicks click-left; when it comes "
        "up, presses b, releases b; hold -> holds shift as long as it is down; tap tap -> "
        "presses esc");
    assert_does(0, 4,
                "when it is tapped, presses 7, with shift \"&\"; when it is held, presses "
                "shift+7, which types \"&\". It is a hold after 250ms; another key that is "
                "pressed meanwhile makes it a tap, and so does a modifier that is down");
    assert_does(
        0, 5,
        "turns the layer nav on as long as it is down, after a tap for the next key only "
        "(it waits 3000ms)");
    assert_does(0, 6,
                "starts a leader sequence, 800ms from key to key: a b -> runs the macro head: "
                "types \"a\\n\", taps ctrl+s, waits 20ms, clicks click-left; when it comes up, "
                "presses b, releases b; c -> presses 7, with shift \"&\"");
    assert_does(0, 7, "presses shift+slash, which types \"?\"");
    assert_does(0, 8, "does nothing, on purpose");
    assert_does(0, 9, "does nothing: there is no layer below");
    assert_does(1, 0,
                "does what the next lower layer that is on has here; the layer base has a");
    assert_does(1, 1, "presses comma, which types \",\", with shift \"<\"");
    assert_does(1, 2, "turns the layer nav on, pressed again off");
    assert_does(1, 3, "turns off all layers but the first, and turns nav on");
    assert_does(1, 4, "keeps gui from the host until it is pressed again");
    assert_does(
        1, 5,
        "holds shift as long as it is down, after a tap for the next key only (it waits "
        "3000ms)");
    assert_does(1, 6, "starts the bootloader, so that new firmware can be written");
    assert_does(1, 7, "turns the wheel (wheel-up), again and again while it is down");
    assert_does(1, 8, "presses mute");
    assert_does(1, 9, "moves the pointer (point-left) as long as it is down");
}

static void cells_are_read_alone(void **state)
{
    struct uvk_program *program = good_program(KEYMAP);
    struct uvk_messages messages;
    struct uvk_value value;

    (void)state;
    uvk_messages_init(&messages);
    assert_true(uvk_cell_read(program, "x/nav ~calm", &messages, &value));
    assert_int_equal(value.kind, UVK_VALUE_HOLD);
    assert_int_equal(messages.errors, 0);
    assert_false(uvk_cell_read(program, "x/nope", &messages, &value));
    assert_false(uvk_cell_read(program, "x y", &messages, &value));
    assert_false(uvk_cell_read(program, "x; y", &messages, &value));
    assert_false(uvk_cell_read(program, "", &messages, &value));
    assert_false(uvk_cell_read(program, "(", &messages, &value));
    assert_int_equal(messages.errors, 4);
    uvk_messages_clear(&messages);
    uvk_program_free(program);
}

static bool is_word(const char *name)
{
    size_t count;
    const struct uvk_word *words = uvk_words(&count);

    for (size_t i = 0; i < count; i++) {
        size_t length = strlen(words[i].name);
        if (strcmp(words[i].name, name) == 0 ||
            (strncmp(words[i].name, name, strlen(name)) == 0 && length == strlen(name) + 1 &&
             words[i].name[length - 1] == ':')) {
            return true;
        }
    }
    return false;
}

/* Every word that a reader of FOLDER has in its table of statements, steps or prefixes; how
 * many. */
static unsigned words_explained(const char *folder)
{
    char *whole = g_build_filename(SOURCE_FOLDER "/desk/language", folder, NULL);
    GDir *files = g_dir_open(whole, 0, NULL);
    GRegex *row =
        g_regex_new("\\{\"([a-z-]+)\",\\s*(read_|NULL|UVK_STEP|[a-z]+_value)", 0, 0, NULL);
    const char *name;
    unsigned found = 0;

    while ((name = g_dir_read_name(files)) != NULL) {
        char *path = g_build_filename(whole, name, NULL);
        char *text = NULL;
        GMatchInfo *match = NULL;
        bool reads =
            g_file_test(path, G_FILE_TEST_IS_REGULAR) && strcmp(name, "settings.c") != 0;
        assert_true(!reads || g_file_get_contents(path, &text, NULL, NULL));
        for (g_regex_match(row, reads ? text : "", 0, &match); g_match_info_matches(match);
             g_match_info_next(match, NULL)) {
            char *word = g_match_info_fetch(match, 1);
            if (!is_word(word)) {
                fail_msg("%s is not explained", word);
            }
            found++;
            g_free(word);
        }
        g_match_info_free(match);
        g_free(text);
        g_free(path);
    }
    g_regex_unref(row);
    g_dir_close(files);
    g_free(whole);
    return found;
}

static void every_word_is_explained(void **state)
{
    (void)state;
    assert_true(words_explained("") + words_explained("board") + words_explained("keymap") >
                80);
}

static bool is_known(const char *name)
{
    return uvk_key_named(name) != NULL || is_word(name) || uvk_setting_named(name) != NULL;
}

/* A usual word leads to names that there are, and stands in the table once. */
static void usual_words_lead_somewhere(void **state)
{
    static const char *const usual[] = {
        "mouse",       "cursor",      "scroll",  "zoom",       "encoder", "dial",
        "media",       "cmd",         "command", "win",        "super",   "option",
        "return",      "del",         "ins",     "pgup",       "bksp",    "vol-up",
        "mute mic",    "numpad",      "keypad",  "bootloader", "reset",   "flash mode",
        "transparent", "see-through", "nothing", "misfire",    "delay",   "layer",
        "hold"};
    GHashTable *words = g_hash_table_new(g_str_hash, g_str_equal);
    size_t count;
    const struct uvk_synonym *synonyms = uvk_synonyms(&count);

    (void)state;
    for (size_t i = 0; i < count; i++) {
        char **names = g_strsplit(synonyms[i].names, " ", -1);
        for (char **name = names; *name != NULL; name++) {
            if (!is_known(*name)) {
                fail_msg("%s leads to %s, which is nothing", synonyms[i].word, *name);
            }
        }
        if (!g_hash_table_add(words, (gpointer)synonyms[i].word)) {
            fail_msg("%s stands there twice", synonyms[i].word);
        }
        g_strfreev(names);
    }
    for (size_t i = 0; i < G_N_ELEMENTS(usual); i++) {
        if (uvk_synonyms_of(usual[i]) == NULL) {
            fail_msg("%s is not found", usual[i]);
        }
    }
    assert_string_equal(uvk_synonyms_of("Flash_Mode"), uvk_synonyms_of("flash-mode"));
    assert_null(uvk_synonyms_of("qwxz"));
    g_hash_table_unref(words);
}

/* What a cell was probably meant to be is said behind it, ready to type. */
static void wrong_guesses_are_answered(void **state)
{
    static const struct {
        const char *cell, *fix;
    } guesses[] = {
        {"Q", "did you mean 'q'?"},
        {"[", "a sign that is typed stands in quotes: '['"},
        {"?", "a sign that is typed stands in quotes: '?'"},
        {"rshift", "did you mean 'right-shift'?"},
        {"left-click", "did you mean 'click-left'?"},
        {"transparent", "did you mean '.'?"},
        {"nothing", "did you mean '--'?"},
        {"bootloader", "did you mean 'board:bootloader'?"},
        {"cmd+c", "did you mean 'gui'?"},
        {"win", "did you mean 'gui'?"},
        {"vol-up", "did you mean 'volume-up'?"},
        {"ctrl-c", "did you mean 'ctrl+c'?"},
        {"ctrl-shift-x", "did you mean 'ctrl+shift+x'?"},
        {"Ctrl+c", "did you mean 'ctrl'?"},
        {"toggle(nav)", "write 'toggle:nav'"},
        {"hold:nav", "the name of a layer alone is that layer, while held: 'nav'"},
        {"layer:nav", "the name of a layer alone is that layer, while held: 'nav'"},
        {"switch:nav", "for good: 'toggle:nav' or 'only:nav'"},
        {"sticky:shift", "for the next key only: 'once:shift'"},
        {"tap:a", "the name alone is enough: 'a'"},
        {"macro:hello", "the name alone is enough: 'hello'"},
        {"shift:a", "did you mean 'shift+a'?"},
        {"mouse-left", "did you mean 'click-left'?"},
        {"print", "did you mean 'print-screen'?"},
        {"return", "did you mean 'enter'?"},
        {"pad-period", "did you mean 'pad-dot'?"},
        {"nav(a)", "write 'nav'"},
        {"a/ctrl ~fast", "feel fast { ... } would be one"},
        {"'ab'", "text stands in \"double quotes\""},
        {"a|ctrl", "a tap-hold is TAP/HELD; a sign that is typed stands in quotes"},
    };
    struct uvk_program *program = good_program(
        BOARD9
        "keymap k { host linux us\nmacro hello { type \"hi\" }\n"
        "layer base { hello b c; d e f; g h nav }\nlayer nav { 1 . .; . . .; . . . } }\n");

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(guesses); i++) {
        struct uvk_messages messages;
        struct uvk_value value;
        const struct uvk_message *first;
        uvk_messages_init(&messages);
        assert_false(uvk_cell_read(program, guesses[i].cell, &messages, &value));
        first = g_ptr_array_index(messages.list, 0);
        if (g_strcmp0(first->fix, guesses[i].fix) != 0) {
            fail_msg("%s: %s", guesses[i].cell, first->fix != NULL ? first->fix : "no fix");
        }
        uvk_messages_clear(&messages);
    }
    uvk_program_free(program);
}

static void every_code_has_advice(void **state)
{
    (void)state;
    for (unsigned code = 0; code < 1000; code++) {
        assert_int_equal(uvk_code_text(code) != NULL, uvk_code_advice(code) != NULL);
    }
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(cells_say_what_they_do),
        cmocka_unit_test(cells_are_read_alone),
        cmocka_unit_test(every_word_is_explained),
        cmocka_unit_test(usual_words_lead_somewhere),
        cmocka_unit_test(wrong_guesses_are_answered),
        cmocka_unit_test(every_code_has_advice),
    };

    return cmocka_run_group_tests_name("explain", tests, NULL, NULL);
}
