/* out.c - a text that grows, and remembers where its parts came from. */
#include "read.h"
#include "shape.h"

#include <math.h>
#include <stdarg.h>
#include <string.h>

guint span_begin(struct text_out *out, char *pointer)
{
    struct text_span span = {pointer, out->text->len, out->text->len};

    g_array_append_val(out->spans, span);
    return out->spans->len - 1;
}

void span_end(struct text_out *out, guint span)
{
    g_array_index(out->spans, struct text_span, span).end = out->text->len;
}

void out_put(struct text_out *out, const char *format, ...)
{
    va_list arguments;

    va_start(arguments, format);
    g_string_append_vprintf(out->text, format, arguments);
    va_end(arguments);
}

/* The language writes no exponents, and a dot in every place. */
void out_number(struct text_out *out, double number)
{
    char digits[G_ASCII_DTOSTR_BUF_SIZE];
    size_t length;

    g_ascii_formatd(digits, sizeof digits, "%.9f", number);
    length = strlen(digits);
    while (digits[length - 1] == '0') {
        digits[--length] = '\0';
    }
    if (digits[length - 1] == '.') {
        digits[length - 1] = '\0';
    }
    out_put(out, "%s", strcmp(digits, "-0") == 0 ? "0" : digits);
}

void out_time(struct text_out *out, double milliseconds)
{
    bool small = milliseconds > 0 && milliseconds < 1;
    bool seconds = milliseconds >= 1000 && fmod(milliseconds, 500) == 0;

    out_number(out, small ? milliseconds * 1000 : seconds ? milliseconds / 1000 : milliseconds);
    out_put(out, small ? "us" : seconds ? "s" : "ms");
}

void out_string(struct text_out *out, const char *text)
{
    char *quoted = uvk_string_text(text);

    out_put(out, "%s", quoted);
    g_free(quoted);
}

void end_items(struct text_out *out)
{
    if (g_str_has_suffix(out->text->str, "; ")) {
        g_string_truncate(out->text, out->text->len - 2);
    }
}

void out_text(struct text_out *out, const char *pointer, const json_t *text)
{
    guint span = span_begin(out, g_strdup(pointer));

    out_put(out, "%s", json_string_value(text));
    span_end(out, span);
}

/* ---- cells ------------------------------------------------------------------------------- */

/* Is TEXT one item of a statement? Else it could end the statement and begin another one. */
static bool is_one_item(const char *text)
{
    struct uvk_source source = {(char *)"", (char *)text, strlen(text)};
    struct uvk_messages messages;
    struct uvk_arena *arena = uvk_arena_new();
    const struct uvk_node *block;
    bool one;

    uvk_messages_init(&messages);
    block = uvk_parse(&source, arena, &messages);
    one = messages.errors == 0 && block->child != NULL && block->child->next == NULL &&
          block->child->kind == UVK_NODE_STATEMENT && block->child->child != NULL &&
          block->child->child->next == NULL && block->child->child->kind != UVK_NODE_BLOCK;
    uvk_messages_clear(&messages);
    uvk_arena_free(arena);
    return one;
}

static void put_plain(struct text_out *out, const char *pointer, const json_t *text)
{
    if (!is_one_item(json_string_value(text))) {
        add_problem(out->problems, pointer, "'%s' is not one cell", json_string_value(text));
    } else {
        out_text(out, pointer, text);
    }
}

static void put_side(struct text_out *out, const char *pointer, const json_t *cell,
                     const char *name)
{
    char *at = pointer_to(pointer, name);

    put_plain(out, at, json_object_get(cell, name));
    g_free(at);
}

void out_cell(struct text_out *out, const char *pointer, const json_t *cell)
{
    guint span = span_begin(out, g_strdup(pointer));

    if (json_is_string(cell)) {
        put_plain(out, pointer, cell);
    } else {
        put_side(out, pointer, cell, "tap");
        out_put(out, "/");
        put_side(out, pointer, cell, "hold");
        if (json_object_get(cell, "feel") != NULL) {
            out_put(out, " ~");
            put_side(out, pointer, cell, "feel");
        }
    }
    span_end(out, span);
}

/* ---- members ----------------------------------------------------------------------------- */

const char *text_of(const json_t *object, const char *name, const char *usual)
{
    const json_t *value = json_object_get(object, name);

    return value != NULL ? json_string_value(value) : usual;
}

double number_of(const json_t *object, const char *name, double usual)
{
    const json_t *value = json_object_get(object, name);

    return value != NULL ? json_number_value(value) : usual;
}

bool flag_of(const json_t *object, const char *name)
{
    return json_is_true(json_object_get(object, name));
}

void for_each(struct text_out *out, const json_t *object, const char *name, const char *pointer,
              each_element each, void *data)
{
    const json_t *list = json_object_get(object, name);

    for (size_t i = 0; i < json_array_size(list); i++) {
        char *at = g_strdup_printf("%s/%s/%zu", pointer, name, i);
        guint span = span_begin(out, g_strdup(at));
        each(out, json_array_get(list, i), at, data);
        span_end(out, span);
        g_free(at);
    }
}
