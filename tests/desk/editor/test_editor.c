/* The server of the language server protocol, as a client meets it: messages in, messages out.
 */
#include "support.h"

#include "uvrek/editor.h"

#include <jansson.h>
#include <string.h>

/* ---- a client ---------------------------------------------------------------------------- */

struct client {
    struct uvk_editor *editor;
    GPtrArray *heard; /* of json_t *, that nobody has taken */
    int number;       /* of the latest request */
    char *text;       /* that is open, as the client knows it */
};

#define URI "file:///tmp/booth.uvk"

static void hear(const char *message, size_t size, void *data)
{
    struct client *client = data;
    json_t *json = json_loadb(message, size, 0, NULL);

    assert_non_null(json);
    assert_string_equal(json_string_value(json_object_get(json, "jsonrpc")), "2.0");
    g_ptr_array_add(client->heard, json);
}

/* In place of a keyboard. */
static char *run_play(struct uvk_program *program, const struct uvk_play *play, void *data)
{
    (void)data;
    assert_int_equal(program->messages.errors, 0);
    return g_strconcat("ran ", play->name, "\nand more", NULL);
}

static void clear_json(void *json)
{
    json_decref(json);
}

static void say_text(struct client *client, const char *message)
{
    uvk_editor_take(client->editor, message, strlen(message));
}

static void say(struct client *client, json_t *message)
{
    char *text = json_dumps(message, JSON_COMPACT);

    say_text(client, text);
    free(text);
    json_decref(message);
}

/* What it says to a request: "result", or "error". Freed with json_decref. */
static json_t *ask(struct client *client, const char *method, json_t *params)
{
    json_t *answer = NULL;

    g_ptr_array_set_size(client->heard, 0);
    say(client, json_pack("{s:s, s:i, s:s, s:o}", "jsonrpc", "2.0", "id", ++client->number,
                          "method", method, "params", params));
    assert_int_equal(client->heard->len, 1);
    answer = client->heard->pdata[0];
    assert_int_equal(json_integer_value(json_object_get(answer, "id")), client->number);
    return json_incref(json_object_get(answer, "result") != NULL
                           ? json_object_get(answer, "result")
                           : json_object_get(answer, "error"));
}

static void tell(struct client *client, const char *method, json_t *params)
{
    say(client,
        json_pack("{s:s, s:s, s:o}", "jsonrpc", "2.0", "method", method, "params", params));
}

static void begin(struct client *client)
{
    memset(client, 0, sizeof *client);
    client->editor = uvk_editor_new(
        &(const struct uvk_editor_hooks){.say = hear, .play = run_play, .data = client});
    client->heard = g_ptr_array_new_with_free_func(clear_json);
}

static void open_text(struct client *client, const char *uri, const char *text)
{
    tell(client, "textDocument/didOpen",
         json_pack("{s:{s:s, s:s, s:i, s:s}}", "textDocument", "uri", uri, "languageId",
                   "uvrek", "version", 1, "text", text));
    g_free(client->text);
    client->text = g_strdup(text);
}

/* With TEXT open; ENCODING NULL: the client says nothing of it. */
static void begin_with(struct client *client, const char *text, const char *encoding)
{
    begin(client);
    json_decref(ask(client, "initialize",
                    encoding != NULL ? json_pack("{s:{s:{s:[s]}}}", "capabilities", "general",
                                                 "positionEncodings", encoding)
                                     : json_pack("{s:{}}", "capabilities")));
    tell(client, "initialized", json_object());
    open_text(client, URI, text);
}

static void end(struct client *client)
{
    uvk_editor_free(client->editor);
    g_ptr_array_unref(client->heard);
    g_free(client->text);
}

/* What is wrong with URI now, as the client was told. */
static json_t *wrong_with(struct client *client, const char *uri)
{
    json_t *list = NULL;

    g_ptr_array_set_size(client->heard, 0);
    uvk_editor_rest(client->editor);
    for (guint i = 0; i < client->heard->len; i++) {
        json_t *params = json_object_get(client->heard->pdata[i], "params");
        if (strcmp(json_string_value(json_object_get(params, "uri")), uri) == 0) {
            list = json_object_get(params, "diagnostics");
        }
    }
    return list;
}

/* The first byte of WORD in the text, as a position in UTF-16; OFF bytes behind it. */
static json_t *position_of(const struct client *client, const char *word, unsigned off)
{
    const char *at = strstr(client->text, word);
    unsigned line = 0;
    const char *start = client->text;

    assert_non_null(at);
    at += off;
    for (const char *here = client->text; here < at; here++) {
        if (*here == '\n') {
            line++;
            start = here + 1;
        }
    }
    return json_pack("{s:i, s:i}", "line", (int)line, "character",
                     (int)g_utf8_strlen(start, at - start));
}

static json_t *at(const struct client *client, const char *word, unsigned off)
{
    return json_pack("{s:{s:s}, s:o}", "textDocument", "uri", URI, "position",
                     position_of(client, word, off));
}

static void assert_says(const json_t *json, const char *part)
{
    char *text = json_dumps(json, JSON_ENCODE_ANY | JSON_COMPACT);

    if (strstr(text, part) == NULL) {
        fail_msg("'%s' is not in:\n%s", part, text);
    }
    free(text);
}

static void assert_code(const json_t *error, int code)
{
    assert_int_equal(json_integer_value(json_object_get(error, "code")), code);
}

#define BOOTH                                                                                  \
    BOARD9_KNOB                                                                                \
    "keymap booth {\n  host linux us\n  macro cue { type \"reel \" }\n"                        \
    "  feel calm { hold-after 240ms }\n  let undo = ctrl+z\n"                                  \
    "  layer base {\n    a b c\n    d/shift ~calm cue nav\n    undo g h\n"                     \
    "    knob jog volume-down volume-up\n  }\n"                                                \
    "  layer nav {\n    . . .\n    . up .\n    left cue board:bootloader\n  }\n}\n"

/* ---- what is wrong ----------------------------------------------------------------------- */

static void mistakes_are_told_where_they_are(void **state)
{
    struct client client;
    json_t *list;
    json_t *change;

    (void)state;
    begin_with(&client, BOOTH, NULL);
    assert_int_equal(json_array_size(wrong_with(&client, URI)), 0);
    assert_null(wrong_with(&client, URI)); /* nothing has changed */
    change = json_pack("{s:{s:s, s:i}, s:[{s:{s:o, s:o}, s:s}]}", "textDocument", "uri", URI,
                       "version", 2, "contentChanges", "range", "start",
                       position_of(&client, "left cue", 0), "end",
                       position_of(&client, "left cue", 4), "text", "lefft");
    tell(&client, "textDocument/didChange", change);
    list = wrong_with(&client, URI);
    assert_int_equal(json_array_size(list), 1);
    assert_says(list, "\"code\":\"U021\"");
    assert_says(list, "\"severity\":1");
    assert_says(list, "no key or name 'lefft'");
    assert_says(list, "\"character\":4},\"end\":{\"line\":");
    end(&client);
}

/* A text that another one uses: what is wrong stands in its own file, and goes when it does. */
static void files_that_are_used_are_told_of(void **state)
{
    char *folder = g_dir_make_tmp("uvrek-test-XXXXXX", NULL);
    char *path = g_build_filename(folder, "board.uvk", NULL);
    char *uri = g_filename_to_uri(path, NULL, NULL);
    char *first = g_strdup_printf("file://%s/booth.uvk", folder);
    char *bad = g_strdup(BOARD9);
    struct client client;

    (void)state;
    memcpy(strstr(bad, "F4"), "Z4", 2);
    assert_true(g_file_set_contents(path, bad, -1, NULL));
    begin_with(&client, "", NULL);
    open_text(
        &client, first,
        "use \"board.uvk\"\nkeymap k {\n host linux us\n layer base {\n a b c\n d e f\n g h "
        "board:bootloader\n }\n}\n");
    assert_says(wrong_with(&client, uri), "Z4");
    /* what is open counts, not what is on the disk */
    open_text(&client, uri, BOARD9);
    assert_int_equal(json_array_size(wrong_with(&client, uri)), 0);
    assert_int_equal(json_array_size(wrong_with(&client, first)), 0);
    tell(&client, "textDocument/didClose", json_pack("{s:{s:s}}", "textDocument", "uri", uri));
    assert_says(wrong_with(&client, uri), "Z4");
    /* and what is not open counts as it is on the disk */
    assert_true(g_file_set_contents(path, BOARD9, -1, NULL));
    g_ptr_array_set_size(client.heard, 0);
    uvk_editor_look(client.editor);
    assert_true(client.heard->len > 0);
    assert_says(client.heard->pdata[client.heard->len - 1], "\"diagnostics\":[]");
    g_ptr_array_set_size(client.heard, 0);
    uvk_editor_look(client.editor);
    assert_int_equal(client.heard->len, 0);
    end(&client);
    (void)remove(path);
    (void)remove(folder);
    g_free(bad);
    g_free(first);
    g_free(uri);
    g_free(path);
    g_free(folder);
}

/* Of two texts that use one another each is told what is wrong. */
static void a_circle_is_told(void **state)
{
    static const char other[] = "file:///tmp/uvrek-none/other.uvk";
    static const char one[] = "file:///tmp/uvrek-none/one.uvk";
    struct client client;

    (void)state;
    begin_with(&client, "", NULL);
    open_text(&client, one, "use \"other.uvk\"\n");
    open_text(&client, other, "use \"one.uvk\"\n");
    assert_says(wrong_with(&client, one), "U004");
    end(&client);
}

static void what_was_meant_can_be_written(void **state)
{
    struct client client;
    json_t *params;
    json_t *actions;

    (void)state;
    begin_with(&client, KEYMAP9("a b c\n d e f\n g h enterr"), NULL);
    params = json_pack("{s:{s:s}, s:{s:o, s:o}, s:{}}", "textDocument", "uri", URI, "range",
                       "start", position_of(&client, "enterr", 2), "end",
                       position_of(&client, "enterr", 2), "context");
    actions = ask(&client, "textDocument/codeAction", params);
    assert_int_equal(json_array_size(actions), 1);
    assert_says(actions, "\"title\":\"Write 'enter'\"");
    assert_says(actions, "\"newText\":\"enter\"");
    json_decref(actions);
    end(&client);
}

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

/* ---- positions --------------------------------------------------------------------------- */

/* A change behind a character that is two units in one encoding, four in the other. */
static void positions_are_counted_as_agreed(void **state)
{
    static const struct {
        const char *encoding;
        int column;
    } counted[] = {{NULL, 14}, {"utf-16", 14}, {"utf-8", 16}};

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(counted); i++) {
        struct client client;
        begin_with(&client, "# a 🎬 reel\n", counted[i].encoding);
        tell(&client, "textDocument/didChange",
             json_pack("{s:{s:s, s:i}, s:[{s:{s:{s:i, s:i}, s:{s:i, s:i}}, s:s}]}",
                       "textDocument", "uri", URI, "version", 2, "contentChanges", "range",
                       "start", "line", 0, "character", counted[i].column - 3, "end", "line", 0,
                       "character", 99, "text", "\nlayer"));
        assert_says(wrong_with(&client, URI), "\"line\":1");
        end(&client);
    }
}

/* Some editors put it before a text, and count it. */
static void a_mark_before_a_text_is_counted(void **state)
{
    struct client client;
    json_t *list;

    (void)state;
    begin_with(&client,
               "\xEF\xBB\xBF"
               "layr x { }\n",
               NULL);
    list = wrong_with(&client, URI);
    assert_int_equal(json_array_size(list), 1);
    assert_says(list, "{\"start\":{\"line\":0,\"character\":1},"
                      "\"end\":{\"line\":0,\"character\":5}}");
    end(&client);
}

/* ---- what is no message ------------------------------------------------------------------ */

static void expect_error(const char *message, const char *code)
{
    struct client client;

    begin_with(&client, BOOTH, NULL);
    g_ptr_array_set_size(client.heard, 0);
    say_text(&client, message);
    assert_int_equal(client.heard->len, 1);
    assert_says(client.heard->pdata[0], code);
    end(&client);
}

static void what_is_no_message_is_refused(void **state)
{
    static const char *const silent[] = {
        "{\"jsonrpc\":\"2.0\",\"method\":\"nonsense\"}",
        "{\"jsonrpc\":\"2.0\",\"id\":3,\"result\":null}",
        "{\"jsonrpc\":\"2.0\",\"method\":\"textDocument/didChange\",\"params\":{}}",
        "{\"jsonrpc\":\"2.0\",\"method\":\"textDocument/"
        "didChange\",\"params\":{\"textDocument\":{"
        "\"uri\":\"" URI "\"},\"contentChanges\":[{\"range\":{\"start\":{\"line\":-1,"
        "\"character\":0},\"end\":{}},\"text\":\"x\"},7,{\"text\":7}]}}",
        "{\"jsonrpc\":\"2.0\",\"method\":\"textDocument/didClose\",\"params\":[]}",
        "{\"jsonrpc\":\"2.0\",\"method\":\"textDocument/"
        "didOpen\",\"params\":{\"textDocument\":{"
        "\"uri\":7}}}"};
    struct client client;

    (void)state;
    expect_error("{", "-32700");
    expect_error("\xFF", "-32700");
    expect_error("[]", "-32600");
    expect_error("7", "-32700");
    expect_error("{\"id\":1}", "-32600");
    expect_error("{\"id\":{},\"method\":\"shutdown\"}", "-32600");
    expect_error("{\"id\":1,\"method\":\"nonsense\"}", "-32601");
    expect_error("{\"id\":1,\"method\":\"initialize\",\"params\":{}}", "-32600");
    expect_error("{\"id\":1,\"method\":\"textDocument/hover\",\"params\":{\"textDocument\":{"
                 "\"uri\":\"file:///none\"}}}",
                 "-32602");
    expect_error("{\"id\":1,\"method\":\"textDocument/hover\",\"params\":{\"textDocument\":{"
                 "\"uri\":\"" URI "\"},\"position\":{\"line\":\"a\"}}}",
                 "-32602");
    begin_with(&client, BOOTH, NULL);
    g_ptr_array_set_size(client.heard, 0);
    for (size_t i = 0; i < G_N_ELEMENTS(silent); i++) {
        say_text(&client, silent[i]);
    }
    assert_int_equal(client.heard->len, 0);
    assert_int_equal(json_array_size(wrong_with(&client, URI)),
                     0); /* and nothing has changed */
    end(&client);
}

static void it_begins_and_ends_as_the_protocol_wants(void **state)
{
    struct client client;
    json_t *answer;

    (void)state;
    begin(&client);
    answer = ask(&client, "textDocument/hover", json_object());
    assert_code(answer, -32002);
    json_decref(answer);
    assert_int_equal(uvk_editor_ended(client.editor, false), -1);
    assert_int_equal(uvk_editor_ended(client.editor, true), 1);
    answer = ask(&client, "initialize", json_object());
    assert_says(answer, "\"positionEncoding\":\"utf-16\"");
    json_decref(answer);
    answer = ask(&client, "shutdown", json_null());
    assert_true(json_is_null(answer));
    json_decref(answer);
    answer = ask(&client, "textDocument/hover", json_object());
    assert_code(answer, -32600);
    json_decref(answer);
    assert_int_equal(uvk_editor_ended(client.editor, false), -1);
    tell(&client, "exit", json_null());
    assert_int_equal(uvk_editor_ended(client.editor, false), 0);
    end(&client);
    begin(&client);
    tell(&client, "exit", json_null());
    assert_int_equal(uvk_editor_ended(client.editor, false), 1);
    end(&client);
}

/* Positions far outside of the text are its ends. */
static void positions_outside_are_the_ends(void **state)
{
    struct client client;
    json_t *answer;

    (void)state;
    begin_with(&client, BOOTH, NULL);
    for (int line = 0; line < 60; line += 59) { /* behind a brace */
        answer = ask(&client, "textDocument/hover",
                     json_pack("{s:{s:s}, s:{s:i, s:i}}", "textDocument", "uri", URI,
                               "position", "line", line * 1000, "character", 1000000));
        assert_true(json_is_null(answer));
        json_decref(answer);
    }
    end(&client);
}

/* ---- frames ------------------------------------------------------------------------------ */

static enum uvk_framed take(struct uvk_frames *frames, const char *expected)
{
    const char *content = NULL;
    size_t size = 0;
    enum uvk_framed framed = uvk_frames_take(frames, &content, &size);

    if (framed == UVK_FRAMED_WHOLE) {
        assert_int_equal(size, strlen(expected));
        assert_memory_equal(content, expected, size);
    }
    return framed;
}

static void frames_come_in_any_pieces(void **state)
{
    static const char both[] = "Content-Length: 2\r\n\r\n{}content-LENGTH:3\r\nContent-Type: "
                               "x\r\n\r\n[1]Content-Length: 0\r\n\r\n";

    (void)state;
    for (size_t piece = 1; piece < sizeof both; piece++) {
        struct uvk_frames *frames = uvk_frames_new();
        static const char *const contents[] = {"{}", "[1]", ""};
        unsigned count = 0;
        for (size_t at = 0; at < sizeof both - 1; at += piece) {
            uvk_frames_put(frames, both + at, MIN(piece, sizeof both - 1 - at));
            while (count < 3 && take(frames, contents[count]) == UVK_FRAMED_WHOLE) {
                count++;
            }
        }
        assert_int_equal(count, 3);
        assert_int_equal(take(frames, ""), UVK_FRAMED_PART);
        uvk_frames_free(frames);
    }
}

static void what_is_no_frame_is_told(void **state)
{
    static const char *const broken[] = {"Content-Length: 2x\r\n\r\n{}",
                                         "Content-Length: -2\r\n\r\n{}",
                                         "Content-Length: \r\n\r\n{}",
                                         "Content-Length: 99999999999\r\n\r\n",
                                         "hello\r\n\r\n",
                                         "Content-Type: x\r\n\r\n{}",
                                         "Content-Length: 2\r\nContent-Length: 3\r\n\r\n{}"};
    struct uvk_frames *frames;

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(broken); i++) {
        frames = uvk_frames_new();
        uvk_frames_put(frames, broken[i], strlen(broken[i]));
        assert_int_equal(take(frames, ""), UVK_FRAMED_BROKEN);
        uvk_frames_free(frames);
    }
    frames = uvk_frames_new();
    for (unsigned i = 0; i < UVK_FRAME_HEAD_MAX; i++) {
        uvk_frames_put(frames, "x", 1);
    }
    assert_int_equal(take(frames, ""), UVK_FRAMED_BROKEN);
    uvk_frames_free(frames);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(mistakes_are_told_where_they_are),
        cmocka_unit_test(files_that_are_used_are_told_of),
        cmocka_unit_test(a_circle_is_told),
        cmocka_unit_test(what_was_meant_can_be_written),
        cmocka_unit_test(words_are_explained),
        cmocka_unit_test(what_fits_is_offered),
        cmocka_unit_test(a_key_is_explained_when_it_is_chosen),
        cmocka_unit_test(names_are_found),
        cmocka_unit_test(names_are_changed_everywhere_or_nowhere),
        cmocka_unit_test(a_text_has_an_outline_and_folds),
        cmocka_unit_test(a_text_is_lined_up),
        cmocka_unit_test(plays_are_run_where_they_stand),
        cmocka_unit_test(positions_are_counted_as_agreed),
        cmocka_unit_test(a_mark_before_a_text_is_counted),
        cmocka_unit_test(what_is_no_message_is_refused),
        cmocka_unit_test(it_begins_and_ends_as_the_protocol_wants),
        cmocka_unit_test(positions_outside_are_the_ends),
        cmocka_unit_test(frames_come_in_any_pieces),
        cmocka_unit_test(what_is_no_frame_is_told),
    };

    return cmocka_run_group_tests_name("editor", tests, NULL, NULL);
}
