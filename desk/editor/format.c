/* format.c - a text lined up, as few of its lines changed as can be. */
#include "serving.h"

#include "uvrek/edit.h"

#include <limits.h>
#include <string.h>

static json_t *line_edit(const struct uvk_editor *editor, unsigned number, const char *before,
                         const char *after)
{
    json_t *range = range_to_json(before, 0, strlen(before), editor->units);

    (void)json_object_set_new(json_object_get(range, "start"), "line", json_integer(number));
    (void)json_object_set_new(json_object_get(range, "end"), "line", json_integer(number));
    return json_pack("{s:o, s:s}", "range", range, "newText", after);
}

/* Lines of a text, from 0. */
struct lines {
    unsigned first, last;
};

/* The lines of AFTER that are not those of BEFORE; lining up neither adds nor takes lines. */
static json_t *edits_between(const struct uvk_editor *editor, const char *before,
                             const char *after, struct lines lines)
{
    char **old = g_strsplit(before, "\n", -1);
    char **new = g_strsplit(after, "\n", -1);
    json_t *edits = json_array();

    if (g_strv_length(old) != g_strv_length(new)) {
        (void)json_array_append_new(
            edits, json_pack("{s:o, s:s}", "range",
                             range_to_json(before, 0, strlen(before), editor->units), "newText",
                             after));
    } else {
        for (unsigned i = 0; old[i] != NULL; i++) {
            if (i >= lines.first && i <= lines.last && strcmp(old[i], new[i]) != 0) {
                (void)json_array_append_new(edits, line_edit(editor, i, old[i], new[i]));
            }
        }
    }
    g_strfreev(new);
    g_strfreev(old);
    return edits;
}

/* NULL: *FAILURE. */
static json_t *line_up(struct uvk_editor *editor, struct document *document, struct lines lines,
                       struct failure *failure)
{
    struct uvk_program *program = document_program(editor, document);
    json_t *edits;
    unsigned changed;
    size_t size;
    char **texts;
    char *text;

    if (program->messages.errors > 0) {
        *failure = (struct failure){FAIL_DONE, "the text has mistakes: mend them first"};
        return NULL;
    }
    text = uvk_tidy(program, &size, &changed);
    texts = g_new0(char *, program->sources->len + 1);
    texts[0] = text;
    edits = text != NULL && changed > 0 && what_changes(program, texts) == NULL
                ? edits_between(editor, document->text->str, text, lines)
                : json_array();
    g_free((gpointer)texts);
    g_free(text);
    return edits;
}

ANSWER(answer_formatting)
{
    struct document *document = document_from(editor, params, failure);

    return document != NULL ? line_up(editor, document, (struct lines){0, UINT_MAX}, failure)
                            : NULL;
}

static unsigned line_of(const json_t *params, const char *end)
{
    const json_t *position = json_object_get(json_object_get(params, "range"), end);
    json_int_t line = json_integer_value(json_object_get(position, "line"));

    return (unsigned)MIN(line, UINT_MAX);
}

/* Of a range its lines, whole. */
ANSWER(answer_range_formatting)
{
    struct range range;

    return range_from(editor, params, &range, failure)
               ? line_up(editor, range.document,
                         (struct lines){line_of(params, "start"), line_of(params, "end")},
                         failure)
               : NULL;
}
