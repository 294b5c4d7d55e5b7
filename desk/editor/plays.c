/* plays.c - plays, run where they stand: the result at each, what happened on demand; plays
 * drawn, and texts typed. */
#include "mentions.h"

#include <string.h>

#define MESSAGE_INFO 3

/* A play by its place among those of a text. */
struct chosen {
    struct uvk_program *program;
    const struct uvk_play *play;
};

/* False: *FAILURE. */
static bool choose(struct uvk_editor *editor, const json_t *uri, const json_t *number,
                   struct chosen *chosen, struct failure *failure)
{
    struct document *document = document_named(editor, json_string_value(uri));
    json_int_t left = json_is_integer(number) ? json_integer_value(number) : -1;

    *failure = (struct failure){FAIL_PARAMS, "there is no such play"};
    if (document == NULL || left < 0) {
        return false;
    }
    chosen->program = whole_program(editor, document);
    if (chosen->program->messages.errors > 0) {
        *failure = (struct failure){FAIL_DONE, "the text has mistakes: mend them first"};
        return false;
    }
    for (chosen->play = chosen->program->plays; chosen->play != NULL && left > 0; left--) {
        chosen->play = chosen->play->next;
    }
    return chosen->play != NULL;
}

/* Its first line says how it went. Freed with g_free. */
static char *run(const struct uvk_editor *editor, const struct chosen *chosen)
{
    return editor->hooks.play(chosen->program, chosen->play, editor->hooks.data);
}

ANSWER(answer_lenses)
{
    struct document *document = document_from(editor, params, failure);
    const struct uvk_program *program;
    const struct uvk_source *source;
    json_t *list;
    int number = 0;

    if (document == NULL) {
        return NULL;
    }
    program = whole_program(editor, document);
    source = source_in(editor, program, document);
    list = json_array();
    for (const struct uvk_play *play = program->plays;
         play != NULL && program->messages.errors == 0; play = play->next, number++) {
        if (play->place.source == source) {
            (void)json_array_append_new(list,
                                        json_pack("{s:o, s:{s:s, s:i}}", "range",
                                                  place_to_json(editor, play->place), "data",
                                                  "uri", document->uri, "number", number));
        }
    }
    return list;
}

ANSWER(answer_lens)
{
    json_t *data = json_object_get(params, "data");
    json_t *uri = json_object_get(data, "uri");
    json_t *number = json_object_get(data, "number");
    struct chosen chosen;
    json_t *lens;
    char *text;

    if (!choose(editor, uri, number, &chosen, failure)) {
        return NULL;
    }
    text = run(editor, &chosen);
    text[strcspn(text, "\n")] = '\0';
    lens = json_deep_copy(params);
    (void)json_object_set_new(lens, "command",
                              json_pack("{s:s, s:s, s:[O,O]}", "title", text, "command",
                                        COMMAND_PLAY, "arguments", uri, number));
    g_free(text);
    return lens;
}

/* ---- commands: what each answers; NULL: *FAILURE --------------------------------------------
 */

typedef json_t *(*command)(struct uvk_editor *editor, const json_t *arguments,
                           struct failure *failure);

static void tell_person(struct uvk_editor *editor, const char *text)
{
    editor_send(editor, json_pack("{s:s, s:{s:i, s:s}}", "method", "window/showMessage",
                                  "params", "type", MESSAGE_INFO, "message", text));
}

/* PATH, taken, was written if it is GOOD; else it says why not. */
static json_t *show_file(struct uvk_editor *editor, char *path, bool good)
{
    char *uri = good ? g_filename_to_uri(path, NULL, NULL) : NULL;
    json_t *result = json_null();

    if (uri == NULL) {
        tell_person(editor, path);
    } else if (editor->shows) {
        editor_send(editor, json_pack("{s:i, s:s, s:{s:s}}", "id", (int)++editor->shown,
                                      "method", "window/showDocument", "params", "uri", uri));
    } else {
        tell_person(editor, uri);
    }
    if (uri != NULL) {
        result = json_pack("{s:s}", "uri", uri);
    }
    g_free(uri);
    g_free(path);
    return result;
}

static json_t *run_play(struct uvk_editor *editor, const json_t *arguments,
                        struct failure *failure)
{
    struct chosen chosen;
    json_t *result = NULL;

    if (choose(editor, json_array_get(arguments, 0), json_array_get(arguments, 1), &chosen,
               failure)) {
        char *text = run(editor, &chosen);
        tell_person(editor, text);
        result = json_string(text);
        g_free(text);
    }
    return result;
}

static json_t *draw_play(struct uvk_editor *editor, const json_t *arguments,
                         struct failure *failure)
{
    struct chosen chosen;
    bool good = false;
    char *path;

    if (!choose(editor, json_array_get(arguments, 0), json_array_get(arguments, 1), &chosen,
                failure)) {
        return NULL;
    }
    path = editor->hooks.draw(chosen.program, chosen.play, &good, editor->hooks.data);
    return show_file(editor, path, good);
}

static json_t *type_text(struct uvk_editor *editor, const json_t *arguments,
                         struct failure *failure)
{
    struct document *document =
        document_named(editor, json_string_value(json_array_get(arguments, 0)));
    const char *text = json_string_value(json_array_get(arguments, 1));
    struct uvk_program *program;
    bool good = false;
    char *path;

    if (document == NULL || text == NULL || text[0] == '\0' || strlen(text) > TYPED_MOST) {
        *failure = (struct failure){FAIL_PARAMS, "there is no such text"};
        return NULL;
    }
    program = whole_program(editor, document);
    if (program->messages.errors > 0 || program->keymap == NULL) {
        *failure = (struct failure){FAIL_DONE, program->messages.errors > 0
                                                   ? "the text has mistakes: mend them first"
                                                   : "there is no keymap to type on"};
        return NULL;
    }
    path = editor->hooks.type(program, text, &good, editor->hooks.data);
    return show_file(editor, path, good);
}

static const struct {
    const char *name;
    command act;
} commands[] = {{COMMAND_PLAY, run_play}, {COMMAND_DRAW, draw_play}, {COMMAND_TYPE, type_text}};

static bool is_there(const struct uvk_editor *editor, command act)
{
    return act == run_play    ? editor->hooks.play != NULL
           : act == draw_play ? editor->hooks.draw != NULL
                              : editor->hooks.type != NULL;
}

json_t *commands_there(const struct uvk_editor *editor)
{
    json_t *list = json_array();

    for (size_t i = 0; i < G_N_ELEMENTS(commands); i++) {
        if (is_there(editor, commands[i].act)) {
            (void)json_array_append_new(list, json_string(commands[i].name));
        }
    }
    return list;
}

ANSWER(answer_command)
{
    const char *name = json_string_value(json_object_get(params, "command"));

    for (size_t i = 0; name != NULL && i < G_N_ELEMENTS(commands); i++) {
        if (strcmp(name, commands[i].name) == 0 && is_there(editor, commands[i].act)) {
            return commands[i].act(editor, json_object_get(params, "arguments"), failure);
        }
    }
    *failure = (struct failure){FAIL_PARAMS, "there is no such command"};
    return NULL;
}
