/* read.c - JSON to a text of the language, and mistakes of that text back to the JSON. */
#include "read.h"

#include "other.h"
#include "shape.h"
#include "uvrek/edit.h"

#include <string.h>

static void free_problem(gpointer data)
{
    struct uvk_exchange_problem *problem = data;

    g_free(problem->pointer);
    g_free(problem->text);
    g_free(problem);
}

GPtrArray *uvk_exchange_problems(void)
{
    return g_ptr_array_new_with_free_func(free_problem);
}

static void free_span(gpointer data)
{
    g_free(((struct text_span *)data)->pointer);
}

static json_t *parse(const char *text, size_t size, GPtrArray *problems)
{
    json_error_t error;
    json_t *json = NULL;

    if (size > UVK_SOURCE_MAX) {
        add_problem(problems, "", "it is larger than %u bytes", UVK_SOURCE_MAX);
        return NULL;
    }
    if (other_than_json(text, size) != NULL) {
        add_problem(problems, "", "%s", other_than_json(text, size));
        return NULL;
    }
    json = json_loadb(text, size, JSON_REJECT_DUPLICATES | JSON_DECODE_ANY, &error);
    if (json == NULL) {
        struct uvk_exchange_problem *problem;
        add_problem(problems, "", "%s", error.text);
        problem = g_ptr_array_index(problems, problems->len - 1);
        problem->line = (unsigned)MAX(error.line, 1);
        problem->column = (unsigned)MAX(error.column, 1);
    }
    return json;
}

/* The smallest part of the text that all of the place lies in, as the JSON that it came from.
 */
static const char *pointer_at(const struct text_out *out, struct uvk_place place)
{
    const char *found = "";
    size_t least = SIZE_MAX;

    for (guint i = 0; place.source != NULL && i < out->spans->len; i++) {
        const struct text_span *span = &g_array_index(out->spans, struct text_span, i);
        if (span->start <= place.at && place.at + place.length <= span->end &&
            span->end - span->start < least) {
            least = span->end - span->start;
            found = span->pointer;
        }
    }
    return found;
}

static void take_messages(const struct text_out *out, const struct uvk_messages *messages)
{
    for (guint i = 0; i < messages->list->len; i++) {
        const struct uvk_message *message = g_ptr_array_index(messages->list, i);
        if (message->severity == UVK_ERROR) {
            add_problem(out->problems, pointer_at(out, message->place), "%s%s%s", message->text,
                        message->fix != NULL ? "; " : "",
                        message->fix != NULL ? message->fix : "");
        }
    }
}

/* The text, with its cells lined up, if it has no mistakes. */
static char *finished(struct text_out *out)
{
    struct uvk_program *program =
        uvk_program_read("exchange.uvk", out->text->str, out->text->len);
    char *text = NULL;
    unsigned changed;
    size_t size;

    if (program->messages.errors > 0) {
        take_messages(out, &program->messages);
    } else {
        text = uvk_tidy(program, &size, &changed);
    }
    uvk_program_free(program);
    return text;
}

char *uvk_exchange_read(const char *json, size_t size, GPtrArray *problems)
{
    json_t *whole = parse(json, size, problems);
    struct text_out out = {g_string_new(NULL),
                           g_array_new(FALSE, TRUE, sizeof(struct text_span)), problems};
    struct placed_board placed;
    char *text = NULL;

    g_array_set_clear_func(out.spans, free_span);
    if (whole != NULL && !is_other_json(whole, problems)) {
        shape_check(&exchange_form, whole, "", problems);
    }
    if (whole != NULL && problems->len == 0) {
        if (place_keys(&out, json_object_get(whole, "board"), &placed)) {
            put_board(&out, &placed);
            put_keymap(&out, whole, &placed);
        }
        clear_placed(&placed);
        text = problems->len == 0 ? finished(&out) : NULL;
    }
    json_decref(whole);
    g_array_free(out.spans, TRUE);
    g_string_free(out.text, TRUE);
    return text;
}
