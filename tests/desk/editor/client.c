/* client.c - see client.h. */
#include "client.h"

#include <string.h>

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

static char *draw_play(struct uvk_program *program, const struct uvk_play *play, bool *good,
                       void *data)
{
    (void)program;
    (void)data;
    *good = strcmp(play->name, "one") == 0;
    return g_strdup(*good ? "/tmp/one picture.svg" : "no paper");
}

static char *type_text(struct uvk_program *program, const char *text, bool *good, void *data)
{
    (void)data;
    assert_non_null(program->keymap);
    *good = true;
    return g_strconcat("/tmp/", text, NULL);
}

static void clear_json(void *json)
{
    json_decref(json);
}

void say_text(struct client *client, const char *message)
{
    uvk_editor_take(client->editor, message, strlen(message));
}

void say(struct client *client, json_t *message)
{
    char *text = json_dumps(message, JSON_COMPACT);

    say_text(client, text);
    free(text);
    json_decref(message);
}

json_t *ask(struct client *client, const char *method, json_t *params)
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

void tell(struct client *client, const char *method, json_t *params)
{
    say(client,
        json_pack("{s:s, s:s, s:o}", "jsonrpc", "2.0", "method", method, "params", params));
}

void begin(struct client *client)
{
    memset(client, 0, sizeof *client);
    client->editor =
        uvk_editor_new(&(const struct uvk_editor_hooks){.say = hear,
                                                        .play = run_play,
                                                        .draw = draw_play,
                                                        .type = type_text,
                                                        .messages = "file:///doc/messages.md",
                                                        .data = client});
    client->heard = g_ptr_array_new_with_free_func(clear_json);
}

void open_text(struct client *client, const char *uri, const char *text)
{
    tell(client, "textDocument/didOpen",
         json_pack("{s:{s:s, s:s, s:i, s:s}}", "textDocument", "uri", uri, "languageId",
                   "uvrek", "version", 1, "text", text));
    g_free(client->text);
    client->text = g_strdup(text);
}

void begin_with(struct client *client, const char *text, const char *encoding)
{
    begin(client);
    json_decref(ask(client, "initialize",
                    encoding != NULL ? json_pack("{s:{s:{s:[s]}}}", "capabilities", "general",
                                                 "positionEncodings", encoding)
                                     : json_pack("{s:{}}", "capabilities")));
    tell(client, "initialized", json_object());
    open_text(client, URI, text);
}

void end(struct client *client)
{
    uvk_editor_free(client->editor);
    g_ptr_array_unref(client->heard);
    g_free(client->text);
}

json_t *wrong_with(struct client *client, const char *uri)
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

json_t *position_of(const struct client *client, const char *word, unsigned off)
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

json_t *at(const struct client *client, const char *word, unsigned off)
{
    return json_pack("{s:{s:s}, s:o}", "textDocument", "uri", URI, "position",
                     position_of(client, word, off));
}

json_t *whole(void)
{
    return json_pack("{s:{s:s}}", "textDocument", "uri", URI);
}

json_t *from_to(const struct client *client, const char *first, const char *behind)
{
    return json_pack("{s:{s:s}, s:{s:o, s:o}, s:{}}", "textDocument", "uri", URI, "range",
                     "start", position_of(client, first, 0), "end",
                     position_of(client, behind, 0), "context");
}

void assert_says(const json_t *json, const char *part)
{
    char *text = json_dumps(json, JSON_ENCODE_ANY | JSON_COMPACT);

    if (strstr(text, part) == NULL) {
        fail_msg("'%s' is not in:\n%s", part, text);
    }
    free(text);
}

void assert_code(const json_t *error, int code)
{
    assert_int_equal(json_integer_value(json_object_get(error, "code")), code);
}
