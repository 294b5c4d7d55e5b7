/* output.c - what the commands print. */
#include "cli.h"

#include "uvrek/files.h"

#include <errno.h>
#include <stdarg.h>
#include <stdio.h>
#include <stdlib.h>
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
    if (messages->untold > 0) {
        fprintf(stderr, "the first %u messages are shown\n", messages->list->len);
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
    char *text = uvk_visible_text(error->message);

    (void)fflush(stdout); /* what was said before stands before it, in a file too */
    fprintf(stderr, "%suvrek: %s%s\n", errors_coloured() ? "\033[1;31m" : "", text,
            errors_coloured() ? "\033[0m" : "");
    g_free(text);
    g_error_free(error);
    return status;
}

const char *share(size_t part, size_t whole)
{
    static char text[16];
    size_t percent = whole > 0 ? part * 100 / whole : 0;

    g_snprintf(text, sizeof text, percent > 0 || part == 0 ? "%zu %%" : "under 1 %%", percent);
    return text;
}

const char *thousands(size_t number)
{
    static char rooms[4][32];
    static unsigned room;
    char digits[24];
    char *out = rooms[room = (room + 1) % G_N_ELEMENTS(rooms)];
    int length = g_snprintf(digits, sizeof digits, "%zu", number);
    int at = 0;

    for (int i = 0; i < length; i++) {
        if (i > 0 && (length - i) % 3 == 0) {
            out[at++] = ',';
        }
        out[at++] = digits[i];
    }
    out[at] = '\0';
    return out;
}

void complain(const char *format, ...)
{
    va_list arguments;
    char *line;
    char *shown;

    va_start(arguments, format);
    line = g_strdup_vprintf(format, arguments);
    va_end(arguments);
    shown = uvk_visible_text(line);
    fprintf(stderr, "uvrek: %s\n", shown);
    g_free(shown);
    g_free(line);
}

void complain_name(const char *lead, const char *name, const char *near)
{
    complain("%s '%s'%s%s%s", lead, name, near != NULL ? "; did you mean '" : "",
             near != NULL ? near : "", near != NULL ? "'?" : "");
}

/* A file that could not be read is "could not be done", a mistake in it is "not well". */
int status_of(const struct uvk_messages *messages)
{
    for (guint i = 0; i < messages->list->len; i++) {
        const struct uvk_message *message = g_ptr_array_index(messages->list, i);
        if (message->code <= UVK_SAYS_TOO_LARGE && message->place.source == NULL) {
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
        complain("%s has no keymap; name a file with a keymap for this board", path);
        *status = STATUS_NOT_WELL;
    }
    if (*status != STATUS_WELL) {
        uvk_program_free(program);
        return NULL;
    }
    return program;
}

void put_text(json_t *object, const char *name, const char *text)
{
    char *valid = text != NULL ? g_utf8_make_valid(text, -1) : NULL; /* paths are bytes */

    json_object_set_new(object, name, valid != NULL ? json_string(valid) : json_null());
    g_free(valid);
}

void put_number(json_t *object, const char *name, json_int_t number)
{
    json_object_set_new(object, name, json_integer(number));
}

void put_flag(json_t *object, const char *name, bool flag)
{
    json_object_set_new(object, name, json_boolean(flag));
}

json_t *put_list(json_t *object, const char *name)
{
    json_t *list = json_array();

    json_object_set_new(object, name, list);
    return list;
}

json_t *put_object(json_t *object, const char *name)
{
    json_t *member = json_object_get(object, name);

    if (member == NULL) {
        member = json_object();
        json_object_set_new(object, name, member);
    }
    return member;
}

json_t *add_object(json_t *list)
{
    json_t *object = json_object();

    json_array_append_new(list, object);
    return object;
}

static void mend_to_json(json_t *object, const struct uvk_message *message)
{
    static const char *const ways[] = {
        [UVK_MEND_WORDS] = "write", [UVK_MEND_ADD] = "add", [UVK_MEND_REMOVE] = "remove"};

    if (message->other.source != NULL) {
        struct uvk_position position = uvk_place_position(message->other);
        json_t *other = put_object(object, "other");
        put_text(other, "file", message->other.source->path);
        put_number(other, "line", position.line);
        put_number(other, "column", position.column);
    }
    if (message->mend != UVK_MEND_NONE) {
        json_t *mend = put_object(object, "mend");
        put_text(mend, "way", ways[message->mend]);
        put_text(mend, "text", message->mend_text);
    }
}

static void message_to_json(json_t *object, const struct uvk_message *message)
{
    char code[16];

    g_snprintf(code, sizeof code, "U%03u", (unsigned)message->code);
    put_text(object, "code", code);
    put_text(object, "severity", uvk_severity_text(message->severity));
    put_text(object, "text", message->text);
    put_text(object, "fix", message->fix);
    if (message->place.source != NULL) {
        struct uvk_place end = message->place;
        struct uvk_position start = uvk_place_position(message->place);
        struct uvk_position stop;
        end.at += end.length;
        stop = uvk_place_position(end);
        put_text(object, "file", message->place.source->path);
        put_number(object, "line", start.line);
        put_number(object, "column", start.column);
        put_number(object, "end-line", stop.line);
        put_number(object, "end-column", stop.column);
    }
    mend_to_json(object, message);
}

void messages_to_json(json_t *object, const struct uvk_messages *messages)
{
    json_t *list = put_list(object, "messages");

    for (guint i = 0; i < messages->list->len; i++) {
        message_to_json(add_object(list), g_ptr_array_index(messages->list, i));
    }
}

void print_json_line(json_t *object)
{
    (void)json_dumpf(object, stdout, JSON_COMPACT);
    putchar('\n');
    (void)fflush(stdout);
    json_decref(object);
}

void print_json(json_t *object)
{
    char *text = json_dumps(object, JSON_INDENT(2));

    puts(text);
    free(text);
    json_decref(object);
}

int finish(int status)
{
    if (fflush(stdout) != 0 || ferror(stdout)) {
        complain("cannot write the output: %s", g_strerror(errno));
        return STATUS_NOT_DONE;
    }
    return status;
}

int write_or_print(const char *text, const char *output)
{
    GError *error = NULL;

    if (output == NULL) {
        fputs(text, stdout);
        return STATUS_WELL;
    }
    return uvk_file_write(output, text, strlen(text), &error) ? STATUS_WELL
                                                              : print_problem(error);
}
