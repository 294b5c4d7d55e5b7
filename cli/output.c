/* output.c - what the commands print. */
#include "cli.h"

#include <errno.h>
#include <stdio.h>
#include <string.h>
#include <unistd.h>

static bool wants_colour(int descriptor)
{
    const char *terminal = g_getenv("TERM");
    bool dumb = terminal != NULL && strcmp(terminal, "dumb") == 0;

    return isatty(descriptor) && !dumb && g_getenv("NO_COLOR") == NULL;
}

bool on_terminal(void)
{
    return wants_colour(STDOUT_FILENO);
}

bool errors_coloured(void)
{
    return wants_colour(STDERR_FILENO);
}

static void print_count(unsigned count, const char *one)
{
    fprintf(stderr, "%u %s%s", count, one, count == 1 ? "" : "s");
}

void print_messages(const struct uvk_messages *messages)
{
    for (guint i = 0; i < messages->list->len; i++) {
        char *text =
            uvk_message_render(g_ptr_array_index(messages->list, i), errors_coloured());
        fputs(text, stderr);
        g_free(text);
    }
    if (messages->errors > UVK_ERRORS_MAX) {
        fprintf(stderr, "the first %u mistakes are shown\n", UVK_ERRORS_MAX);
    }
    if (messages->errors + messages->warnings > 0) {
        print_count(messages->errors, "error");
        fputs(", ", stderr);
        print_count(messages->warnings, "warning");
        fputc('\n', stderr);
    }
}

int print_problem(GError *error)
{
    int status =
        g_error_matches(error, UVK_PROBLEM, UVK_NOT_WELL) ? STATUS_NOT_WELL : STATUS_NOT_DONE;

    fprintf(stderr, "%suvrek: %s%s\n", errors_coloured() ? "\033[1;31m" : "", error->message,
            errors_coloured() ? "\033[0m" : "");
    g_error_free(error);
    return status;
}

/* A file that could not be read is "could not be done", a mistake in it is "not well". */
int status_of(const struct uvk_messages *messages)
{
    for (guint i = 0; i < messages->list->len; i++) {
        const struct uvk_message *message = g_ptr_array_index(messages->list, i);
        if (message->code <= 3 && message->place.source == NULL) {
            return STATUS_NOT_DONE;
        }
    }
    return messages->errors > 0 ? STATUS_NOT_WELL : STATUS_WELL;
}

struct uvk_program *load_program(const char *path, bool need_keymap, int *status)
{
    struct uvk_program *program = uvk_program_load(path);

    if (program->messages.errors > 0) {
        print_messages(&program->messages); /* doubts alone are for `check` to tell */
    }
    *status = status_of(&program->messages);
    if (*status == STATUS_WELL && need_keymap && program->keymap == NULL) {
        fprintf(stderr, "uvrek: %s has no keymap\n", path);
        *status = STATUS_NOT_WELL;
    }
    if (*status != STATUS_WELL) {
        uvk_program_free(program);
        return NULL;
    }
    return program;
}

void json_member(JsonBuilder *builder, const char *name, const char *text)
{
    json_builder_set_member_name(builder, name);
    if (text != NULL) {
        json_builder_add_string_value(builder, text);
    } else {
        json_builder_add_null_value(builder);
    }
}

void json_number(JsonBuilder *builder, const char *name, gint64 number)
{
    json_builder_set_member_name(builder, name);
    json_builder_add_int_value(builder, number);
}

void json_flag(JsonBuilder *builder, const char *name, bool flag)
{
    json_builder_set_member_name(builder, name);
    json_builder_add_boolean_value(builder, flag);
}

static void message_to_json(JsonBuilder *builder, const struct uvk_message *message)
{
    char code[16];

    g_snprintf(code, sizeof code, "U%03u", message->code);
    json_builder_begin_object(builder);
    json_member(builder, "code", code);
    json_member(builder, "severity", uvk_severity_text(message->severity));
    json_member(builder, "text", message->text);
    json_member(builder, "fix", message->fix);
    if (message->place.source != NULL) {
        struct uvk_place end = message->place;
        struct uvk_position start = uvk_place_position(message->place);
        struct uvk_position stop;
        end.at += end.length;
        stop = uvk_place_position(end);
        json_member(builder, "file", message->place.source->path);
        json_number(builder, "line", start.line);
        json_number(builder, "column", start.column);
        json_number(builder, "end-line", stop.line);
        json_number(builder, "end-column", stop.column);
    }
    json_builder_end_object(builder);
}

void messages_to_json(JsonBuilder *builder, const struct uvk_messages *messages)
{
    json_builder_set_member_name(builder, "messages");
    json_builder_begin_array(builder);
    for (guint i = 0; i < messages->list->len; i++) {
        message_to_json(builder, g_ptr_array_index(messages->list, i));
    }
    json_builder_end_array(builder);
}

void print_json(JsonBuilder *builder)
{
    JsonGenerator *generator = json_generator_new();
    JsonNode *root = json_builder_get_root(builder);
    char *text;

    json_generator_set_pretty(generator, TRUE);
    json_generator_set_root(generator, root);
    text = json_generator_to_data(generator, NULL);
    puts(text);
    g_free(text);
    json_node_unref(root);
    g_object_unref(generator);
    g_object_unref(builder);
}

int finish(int status)
{
    if (fflush(stdout) != 0 || ferror(stdout)) {
        fprintf(stderr, "uvrek: cannot write the output: %s\n", g_strerror(errno));
        return STATUS_NOT_DONE;
    }
    return status;
}
