/* The server of the language server protocol, as a client meets it: what is wrong, positions,
 * frames, beginning and end. */
#include "client.h"

#include <string.h>

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

/* With its code goes where that is explained, with "twice" where the first one is. */
static void the_other_one_is_told(void **state)
{
    struct client client;
    json_t *list;

    (void)state;
    begin_with(&client, "", NULL);
    open_text(&client, URI,
              BOARD9
              "keymap k {\n let go = ctrl+c\n let go = ctrl+v\n layer base { a b c\n d e "
              "f\n go h board:bootloader }\n}\n");
    list = wrong_with(&client, URI);
    assert_int_equal(json_array_size(list), 1);
    assert_says(list, "\"codeDescription\":{\"href\":\"file:///doc/messages.md#u015\"}");
    assert_says(list, "\"relatedInformation\":[{\"location\":{\"uri\":\"" URI "\",\"range\":"
                      "{\"start\":{\"line\":");
    end(&client);
}

/* What can be done about the text from FIRST to BEHIND; freed with json_decref. */
static json_t *actions_at(struct client *client, const char *first, const char *behind)
{
    return ask(client, "textDocument/codeAction", from_to(client, first, behind));
}

static void what_was_meant_can_be_written(void **state)
{
    struct client client;
    json_t *actions;

    (void)state;
    begin_with(&client, KEYMAP9("a b c\n d e f\n g h enterr"), NULL);
    actions = actions_at(&client, "enterr", "enterr");
    assert_int_equal(json_array_size(actions), 1);
    assert_says(actions, "\"title\":\"Write 'enter'\"");
    assert_says(actions, "\"newText\":\"enter\"");
    json_decref(actions);
    end(&client);
}

static void doubts_can_be_mended(void **state)
{
    static const struct {
        const char *text, *word, *title, *edit;
    } doubts[] = {
        {BOARD9
         "keymap k {\n host linux us\n let never = ctrl+z\n layer base { a b c\n d e f\n "
         "g h board:bootloader }\n}\n",
         "never", "\"title\":\"Remove this statement\"", "\"newText\":\"\""},
        {BOARD9 "keymap k {\n host linux us\n layer base { a b n2/c\n d e f\n g h "
                "board:bootloader }\n layer n2 { 1 2 .\n . . .\n . . . }\n}\n",
         "n2/c", "\"title\":\"Write 'c/n2'\"", "\"newText\":\"c/n2\""},
    };

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(doubts); i++) {
        struct client client;
        json_t *actions;
        begin_with(&client, doubts[i].text, NULL);
        actions = actions_at(&client, doubts[i].word, doubts[i].word);
        assert_int_equal(json_array_size(actions), 1);
        assert_says(actions, doubts[i].title);
        assert_says(actions, doubts[i].edit);
        json_decref(actions);
        end(&client);
    }
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
        cmocka_unit_test(the_other_one_is_told),
        cmocka_unit_test(what_was_meant_can_be_written),
        cmocka_unit_test(doubts_can_be_mended),
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
