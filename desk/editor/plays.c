/* plays.c - plays, run where they stand: the result at each, what happened on demand. */
#include "mentions.h"

#include <string.h>

#define COMMAND      "uvrek.play"
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
    chosen->program = document_program(editor, root_of(editor, document));
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
    program = document_program(editor, root_of(editor, document));
    source = source_in(editor, program, document);
    list = json_array();
    for (const struct uvk_play *play = program->plays;
         play != NULL && program->messages.errors == 0; play = play->next, number++) {
        if (play->place.source == source) {
            (void)json_array_append_new(
                list, json_pack("{s:o, s:{s:s, s:i}}", "range",
                                range_to_json(source->text, play->place.at, play->place.length,
                                              editor->units),
                                "data", "uri", document->uri, "number", number));
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
                                        COMMAND, "arguments", uri, number));
    g_free(text);
    return lens;
}

ANSWER(answer_command)
{
    const char *name = json_string_value(json_object_get(params, "command"));
    const json_t *arguments = json_object_get(params, "arguments");
    struct chosen chosen;
    json_t *result;
    char *text;

    if (name == NULL || strcmp(name, COMMAND) != 0) {
        *failure = (struct failure){FAIL_PARAMS, "there is no such command"};
        return NULL;
    }
    if (!choose(editor, json_array_get(arguments, 0), json_array_get(arguments, 1), &chosen,
                failure)) {
        return NULL;
    }
    text = run(editor, &chosen);
    editor_send(editor, json_pack("{s:s, s:{s:i, s:s}}", "method", "window/showMessage",
                                  "params", "type", MESSAGE_INFO, "message", text));
    result = json_string(text);
    g_free(text);
    return result;
}
