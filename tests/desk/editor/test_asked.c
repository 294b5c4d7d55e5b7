/* What an editor asks the server for: names, hovers, completion, outlines, colours, plays. */
#include "client.h"

#include <string.h>

/* ---- what can be asked for --------------------------------------------------------------- */

static void expect_hover(struct client *client, const char *word, unsigned off,
                         const char *part)
{
    json_t *hover = ask(client, "textDocument/hover", at(client, word, off));

    assert_says(hover, part);
    json_decref(hover);
}

static void words_are_explained(void **state)
{
    struct client client;

    (void)state;
    begin_with(&client, BOOTH, NULL);
    expect_hover(&client, "d/shift", 0, "waits 240 ms at most, tap-hold, feel calm: until");
    expect_hover(&client, "up .", 0, "presses up");
    expect_hover(&client, "d/shift", 0, "column F4");
    expect_hover(&client, "knob jog volume", 10, "volume");
    expect_hover(&client, "macro cue", 7, "types \\\"reel \\\"");
    expect_hover(&client, "let undo", 5, "let undo = ctrl+z");
    expect_hover(&client, "hold-after", 3, "held this long, it is a hold");
    expect_hover(&client, "flow", 1, "which way the diodes conduct");
    expect_hover(&client, "240ms", 5, "null");
    end(&client);
}

static bool has_label(const json_t *list, const char *label)
{
    for (size_t i = 0; i < json_array_size(list); i++) {
        const json_t *item = json_array_get(list, i);
        if (strcmp(json_string_value(json_object_get(item, "label")), label) == 0) {
            return true;
        }
    }
    return false;
}

/* What is offered where TYPED stands in place of WORD: LABEL is, OTHER is not. */
static void expect_offer(const char *word, const char *typed, const char *label,
                         const char *other)
{
    const char *found = strstr(BOOTH, word);
    char *text =
        g_strdup_printf("%.*s%s%s", (int)(found - BOOTH), BOOTH, typed, found + strlen(word));
    struct client client;
    json_t *answer;

    begin_with(&client, text, NULL);
    answer =
        ask(&client, "textDocument/completion", at(&client, typed, (unsigned)strlen(typed)));
    if (!has_label(json_object_get(answer, "items"), label)) {
        fail_msg("'%s' is not offered behind '%s'", label, typed);
    }
    if (has_label(json_object_get(answer, "items"), other)) {
        fail_msg("'%s' is offered behind '%s'", other, typed);
    }
    json_decref(answer);
    end(&client);
    g_free(text);
}

static void what_fits_is_offered(void **state)
{
    static const struct {
        const char *word, *typed, *label, *other;
    } offers[] = {
        {"left cue", "lef cue", "cue", "hold-after"},
        {"left cue", "vo", "volume-up", "matrix"},
        {"left cue", "toggle:", "nav", "knob"},
        {"left cue", "board:", "reset", "nav"},
        {"left cue", "a/ctrl ~", "calm", "cue"},
        {"let undo = ctrl+z", "dan", "dance", "a"},
        {"let undo = ctrl+z", "set ", "debounce", "macro"},
        {"linux us", "linux ", "de", "linux"},
        {"linux us", "lin", "linux", "de"},
        {"chip atmega32u4", "chip ", "rp2040", "matrix"},
        {"cols F4 F5 F6", "cols F4 F5 ", "F7", "F4"},
        {"hold-after 240ms", "deci", "decide", "tap"},
        {"type \"reel \"", "type \"reel \"; ", "wait", "decide"},
        {"let undo = ctrl+z", "combo a+", "r0c0", "decide"},
    };

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(offers); i++) {
        expect_offer(offers[i].word, offers[i].typed, offers[i].label, offers[i].other);
    }
}

static void a_key_is_explained_when_it_is_chosen(void **state)
{
    struct client client;
    json_t *item;

    (void)state;
    begin_with(&client, BOOTH, NULL);
    item = ask(&client, "completionItem/resolve",
               json_pack("{s:s, s:{s:s}}", "label", "play-pause", "data", "uri", URI));
    assert_says(item, "\"detail\":\"");
    json_decref(item);
    item = ask(&client, "completionItem/resolve", json_pack("{s:i}", "label", 7));
    assert_code(item, -32602);
    json_decref(item);
    end(&client);
}

static unsigned count_of(struct client *client, const char *method, const char *word,
                         unsigned off)
{
    json_t *params = at(client, word, off);
    json_t *list;
    unsigned count;

    (void)json_object_set_new(params, "context", json_pack("{s:b}", "includeDeclaration", 1));
    list = ask(client, method, params);
    count = (unsigned)json_array_size(list);
    json_decref(list);
    return count;
}

static void names_are_found(void **state)
{
    struct client client;

    (void)state;
    begin_with(&client, BOOTH, NULL);
    assert_int_equal(count_of(&client, "textDocument/definition", "left cue", 6), 1);
    assert_int_equal(count_of(&client, "textDocument/references", "macro cue", 7), 3);
    assert_int_equal(count_of(&client, "textDocument/documentHighlight", "~calm", 2), 2);
    assert_int_equal(count_of(&client, "textDocument/references", "knob jog {", 6), 3);
    assert_int_equal(count_of(&client, "textDocument/references", "layer nav", 7), 2);
    assert_int_equal(count_of(&client, "textDocument/references", "volume-up", 2), 0);
    end(&client);
}

static json_t *rename_to(struct client *client, const char *word, const char *name)
{
    json_t *params = at(client, word, (unsigned)strlen(word));

    (void)json_object_set_new(params, "newName", json_string(name));
    return ask(client, "textDocument/rename", params);
}

static void names_are_changed_everywhere_or_nowhere(void **state)
{
    struct client client;
    json_t *result;

    (void)state;
    begin_with(&client, BOOTH, NULL);
    result = rename_to(&client, "macro cue", "reel");
    assert_int_equal(json_array_size(json_object_get(json_object_get(result, "changes"), URI)),
                     3);
    json_decref(result);
    result = rename_to(&client, "macro cue", "enter"); /* a key */
    assert_code(result, -32803);
    json_decref(result);
    result = rename_to(&client, "macro cue", "nav"); /* a layer */
    assert_code(result, -32803);
    json_decref(result);
    result = rename_to(&client, "macro cue", "two words");
    assert_code(result, -32803);
    json_decref(result);
    result = rename_to(&client, "volume-up", "louder");
    assert_code(result, -32803);
    json_decref(result);
    end(&client);
}

static void a_text_has_an_outline_and_folds(void **state)
{
    struct client client;
    json_t *list;

    (void)state;
    begin_with(&client, BOOTH, NULL);
    list = ask(&client, "textDocument/documentSymbol",
               json_pack("{s:{s:s}}", "textDocument", "uri", URI));
    assert_int_equal(json_array_size(list), 2);
    assert_says(list, "\"name\":\"keymap booth\"");
    assert_says(list, "\"name\":\"layer nav\"");
    assert_says(list, "\"name\":\"let undo\"");
    json_decref(list);
    list = ask(&client, "textDocument/foldingRange",
               json_pack("{s:{s:s}}", "textDocument", "uri", URI));
    assert_int_equal(json_array_size(list), 5); /* board, keys, keymap, two layers */
    json_decref(list);
    end(&client);
}

/* Only lines that differ are changed, and none of a text with mistakes. */
static void a_text_is_lined_up(void **state)
{
    struct client client;
    json_t *edits;

    (void)state;
    begin_with(&client, KEYMAP9("a b c\n   tab   e f\n g h board:bootloader"), NULL);
    edits = ask(&client, "textDocument/rangeFormatting", from_to(&client, "tab", "e f"));
    assert_int_equal(json_array_size(edits), 1);
    assert_says(edits, "tab  e");
    json_decref(edits);
    edits = ask(&client, "textDocument/formatting",
                json_pack("{s:{s:s}}", "textDocument", "uri", URI));
    assert_int_equal(json_array_size(edits), 3);
    assert_says(edits, "tab  e");
    json_decref(edits);
    open_text(&client, URI, KEYMAP9("a b"));
    edits = ask(&client, "textDocument/formatting",
                json_pack("{s:{s:s}}", "textDocument", "uri", URI));
    assert_code(edits, -32803);
    json_decref(edits);
    end(&client);
}

/* The result stands at the play; all that happened comes on demand. */
static void plays_are_run_where_they_stand(void **state)
{
    struct client client;
    json_t *list;
    json_t *lens;

    (void)state;
    begin_with(&client, BOOTH "play \"one\" { tap a }\nplay \"two\" { tap b }\n", NULL);
    list = ask(&client, "textDocument/codeLens",
               json_pack("{s:{s:s}}", "textDocument", "uri", URI));
    assert_int_equal(json_array_size(list), 2);
    lens = ask(&client, "codeLens/resolve", json_incref(json_array_get(list, 1)));
    assert_says(lens, "\"title\":\"ran two\"");
    json_decref(list);
    list = json_incref(json_object_get(lens, "command"));
    json_decref(lens);
    g_ptr_array_set_size(client.heard, 0);
    say(&client, json_pack("{s:i, s:s, s:o}", "id", 99, "method", "workspace/executeCommand",
                           "params", list));
    assert_int_equal(client.heard->len, 2); /* a message for the person, and the answer */
    assert_says(client.heard->pdata[0], "window/showMessage");
    assert_says(client.heard->pdata[1], "ran two\\nand more");
    expect_hover(&client, "two", 0, "ran two\\n```\\nand more\\n```");
    lens = ask(&client, "codeLens/resolve",
               json_pack("{s:{s:s, s:i}}", "data", "uri", URI, "number", 2));
    assert_code(lens, -32602);
    json_decref(lens);
    open_text(&client, URI, BOOTH "play \"one\" { tapp a }\n");
    list = ask(&client, "textDocument/codeLens",
               json_pack("{s:{s:s}}", "textDocument", "uri", URI));
    assert_int_equal(json_array_size(list), 0); /* nothing of it can be run */
    json_decref(list);
    end(&client);
}

/* ---- colours, and what shows through ----------------------------------------------------- */

/* Each word that is told, and as what: "layer=keyword nav=class". Freed with g_free. */
static char *tokens_text(struct client *client, const json_t *tokens)
{
    static const char *const names[] = {"keyword",   "class",    "macro",      "variable",
                                        "parameter", "property", "enumMember", "modifier",
                                        "type",      "number",   "string",     "comment"};
    const json_t *data = json_object_get(tokens, "data");
    char **lines = g_strsplit(client->text, "\n", -1);
    GString *out = g_string_new(NULL);
    json_int_t line = 0;
    json_int_t column = 0;

    for (size_t i = 0; i + 5 <= json_array_size(data); i += 5) {
        json_int_t down = json_integer_value(json_array_get(data, i));
        line += down;
        column = json_integer_value(json_array_get(data, i + 1)) + (down == 0 ? column : 0);
        g_string_append_printf(
            out, "%.*s=%s ", (int)json_integer_value(json_array_get(data, i + 2)),
            lines[line] + column, names[json_integer_value(json_array_get(data, i + 3))]);
    }
    g_strfreev(lines);
    return g_string_free(out, FALSE);
}

static void expect_tokens(struct client *client, const char *method, json_t *params,
                          const char *expected)
{
    json_t *tokens = ask(client, method, params);
    char *text = tokens_text(client, tokens);

    assert_string_equal(text, expected);
    g_free(text);
    json_decref(tokens);
}

/* By what a name was defined as; a comment and a colour are told apart. */
static void words_have_colours(void **state)
{
    static const char words[] =
        "keymap k { # booth\n let f(x) = ctrl+x\n macro m { type \"a#b\" }\n feel calm { rest "
        "20ms }\n layer nav { light #ff8800\n f(a) m d/shift ~calm toggle:nav }\n play \"p\" { "
        "tap r0c1 }\n}\n";
    struct client client;

    (void)state;
    begin_with(&client, words, NULL);
    expect_tokens(
        &client, "textDocument/semanticTokens/full", whole(),
        "keymap=keyword k=class # booth=comment let=keyword f=variable x=parameter "
        "ctrl=enumMember x=parameter macro=keyword m=macro type=keyword \"a#b\"=string "
        "feel=keyword calm=property rest=keyword 20ms=number layer=keyword nav=class "
        "light=keyword #ff8800=number f=variable a=enumMember m=macro d=enumMember "
        "shift=enumMember calm=property toggle=modifier nav=class play=keyword \"p\"=string "
        "tap=keyword r0c1=type ");
    expect_tokens(&client, "textDocument/semanticTokens/range",
                  from_to(&client, "toggle", "play"),
                  "toggle=modifier nav=class play=keyword ");
    end(&client);
}

static void what_shows_through_is_told(void **state)
{
    struct client client;
    json_t *hints;

    (void)state;
    begin_with(&client, BOOTH, NULL);
    hints = ask(&client, "textDocument/inlayHint", from_to(&client, "layer nav", "left cue"));
    assert_int_equal(json_array_size(hints), 5);
    assert_says(json_array_get(hints, 0), "\"label\":\"a\"");
    assert_says(json_array_get(hints, 0), "\"tooltip\":\"from the layer base\"");
    assert_says(json_array_get(hints, 3), "\"label\":\"d/shift\"");
    json_decref(hints);
    open_text(&client, URI, "layer x { . }\n");
    hints = ask(&client, "textDocument/inlayHint", from_to(&client, "layer", ". }"));
    assert_int_equal(json_array_size(hints), 0);
    json_decref(hints);
    end(&client);
}

/* ---- files that are made ----------------------------------------------------------------- */

/* What the command answers; what it says meanwhile stays in `heard`. Freed with json_decref. */
static json_t *command(struct client *client, const char *name, json_t *arguments)
{
    g_ptr_array_set_size(client->heard, 0);
    say(client,
        json_pack("{s:i, s:s, s:{s:s, s:o}}", "id", 7, "method", "workspace/executeCommand",
                  "params", "command", name, "arguments", arguments));
    return client->heard->pdata[client->heard->len - 1];
}

static void a_play_is_drawn_and_a_text_typed(void **state)
{
    struct client client;
    json_t *actions;

    (void)state;
    begin_with(&client, BOOTH "play \"one\" { tap a }\nplay \"two\" {\n tap b\n}\n", NULL);
    actions = ask(&client, "textDocument/codeAction", from_to(&client, "tap b", "tap b"));
    assert_int_equal(json_array_size(actions), 1);
    assert_says(actions, "\"command\":\"uvrek.draw\",\"arguments\":[\"" URI "\",1]");
    json_decref(actions);
    actions = ask(&client, "textDocument/codeAction", from_to(&client, "undo g", " h\n"));
    assert_int_equal(json_array_size(actions), 1);
    assert_says(actions, "\"command\":\"uvrek.type\",\"arguments\":[\"" URI "\",\"undo g\"]");
    json_decref(actions);
    assert_says(command(&client, "uvrek.draw", json_pack("[s, i]", URI, 0)),
                "\"uri\":\"file:///tmp/one%20picture.svg\"");
    assert_says(client.heard->pdata[0], "window/showMessage");
    assert_says(command(&client, "uvrek.draw", json_pack("[s, i]", URI, 1)), "\"result\":null");
    assert_says(client.heard->pdata[0], "no paper");
    assert_says(command(&client, "uvrek.draw", json_pack("[s, i]", URI, 2)), "-32602");
    assert_says(command(&client, "uvrek.type", json_pack("[s, s]", URI, "reel")),
                "\"uri\":\"file:///tmp/reel\"");
    assert_says(command(&client, "uvrek.type", json_pack("[s, i]", URI, 3)), "-32602");
    assert_says(command(&client, "uvrek.sing", json_array()), "-32602");
    end(&client);
}

/* A client that can show files is asked to. */
static void a_file_is_shown(void **state)
{
    struct client client;

    (void)state;
    begin(&client);
    json_decref(ask(&client, "initialize",
                    json_pack("{s:{s:{s:{s:b}}}}", "capabilities", "window", "showDocument",
                              "support", 1)));
    open_text(&client, URI, BOOTH);
    assert_says(command(&client, "uvrek.type", json_pack("[s, s]", URI, "reel")), "result");
    assert_int_equal(client.heard->len, 2);
    assert_says(client.heard->pdata[0], "\"method\":\"window/showDocument\"");
    end(&client);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(words_are_explained),
        cmocka_unit_test(what_fits_is_offered),
        cmocka_unit_test(a_key_is_explained_when_it_is_chosen),
        cmocka_unit_test(names_are_found),
        cmocka_unit_test(names_are_changed_everywhere_or_nowhere),
        cmocka_unit_test(a_text_has_an_outline_and_folds),
        cmocka_unit_test(a_text_is_lined_up),
        cmocka_unit_test(plays_are_run_where_they_stand),
        cmocka_unit_test(words_have_colours),
        cmocka_unit_test(what_shows_through_is_told),
        cmocka_unit_test(a_play_is_drawn_and_a_text_typed),
        cmocka_unit_test(a_file_is_shown),
    };

    return cmocka_run_group_tests_name("asked", tests, NULL, NULL);
}
