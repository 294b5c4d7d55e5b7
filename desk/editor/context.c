/* context.c - see context.h. */
#include "context.h"

#include <string.h>

#define PARTERS "/+:~="

static const struct {
    const char *block;
    const char *where[3];
} vocabulary[] = {
    {"", {"in a file"}},
    {"board", {"in a board"}},
    {"usb", {"in usb"}},
    {"matrix", {"in a matrix"}},
    {"direct", {"in direct"}},
    {"knob", {"in a knob"}},
    {"halves", {"in halves"}},
    {"keys", {"in the keys of a board"}},
    {"backlight", {"in backlight"}},
    {"strip", {"in strip"}},
    {"keymap", {"in a keymap"}},
    {"lights", {"in lights"}},
    {"live", {"in live"}},
    {"feel", {"in a feel"}},
    {"long-press", {"in long-press"}},
    {"layer", {"in a layer"}},
    {"macro", {"in a macro"}},
    {"on-release", {"in a macro"}},
    {"combo", {"in a combo", "in a combo, a dance, the leader"}},
    {"dance", {"in a dance", "in a combo, a dance, the leader"}},
    {"leader", {"in a combo, a dance, the leader"}},
    {"play", {"in a play"}},
};

const char *const *context_where(const char *block)
{
    for (size_t i = 0; i < G_N_ELEMENTS(vocabulary); i++) {
        if (strcmp(vocabulary[i].block, block) == 0) {
            return vocabulary[i].where;
        }
    }
    return NULL;
}

/* #ff8800 is a colour, any other # begins a comment. */
static bool is_colour(const char *at)
{
    size_t digits = 1;

    while (g_ascii_isxdigit(at[digits])) {
        digits++;
    }
    return digits == 7 && !g_ascii_isalnum(at[digits]) && at[digits] != '-';
}

/* Behind a string or a character in quotes, or at the end of its line. */
static const char *skip_quoted(const char *at, const char *end)
{
    char quote = *at++;

    while (at < end && *at != quote && *at != '\n') {
        at += *at == '\\' && at + 1 < end ? 2 : 1;
    }
    return at < end && *at == quote ? at + 1 : at;
}

static const char *skip_comment(const char *at, const char *end)
{
    while (at < end && *at != '\n') {
        at++;
    }
    return at;
}

/* Behind the word that begins at AT. */
static const char *skip_word(const char *at, const char *end)
{
    while (at < end && strchr(" \t\r\n;{}()\"", *at) == NULL && (*at != '#' || is_colour(at))) {
        at = *at == '\'' ? skip_quoted(at, end) : at + 1;
    }
    return at;
}

struct reader {
    struct context context;
    const char *text, *end;
    unsigned deep; /* in parentheses, where a line's end ends nothing */
};

static void end_statement(struct reader *reader)
{
    g_ptr_array_set_size(reader->context.before, 0);
}

static void open_block(struct reader *reader)
{
    const char *first = context_before(&reader->context, 0);

    g_ptr_array_add(reader->context.blocks, g_strdup(first != NULL ? first : ""));
    end_statement(reader);
}

static void close_block(struct reader *reader)
{
    if (reader->context.blocks->len > 0) {
        g_ptr_array_set_size(reader->context.blocks, (gint)reader->context.blocks->len - 1);
    }
    end_statement(reader);
}

static const char *take_mark(struct reader *reader, const char *at)
{
    switch (*at) {
    case '{':
        open_block(reader);
        break;
    case '}':
        close_block(reader);
        break;
    case '(':
        reader->deep++;
        break;
    case ')':
        reader->deep -= reader->deep > 0;
        break;
    case ';':
        end_statement(reader);
        break;
    case '\n':
        if (reader->deep == 0) {
            end_statement(reader);
        }
        break;
    default:
        break;
    }
    return at + 1;
}

/* A word that ends before the place is one before it; the last one is that which is written. */
static const char *take_word(struct reader *reader, const char *at)
{
    const char *end = *at == '"' ? skip_quoted(at, reader->end) : skip_word(at, reader->end);

    end = end == at ? at + 1 : end;
    if (end == reader->end) {
        reader->context.word = (size_t)(at - reader->text);
    } else {
        g_ptr_array_add(reader->context.before, g_strndup(at, (gsize)(end - at)));
    }
    return end;
}

static size_t part_of(const char *text, size_t word, size_t at)
{
    size_t part = at;

    while (part > word && strchr(PARTERS, text[part - 1]) == NULL) {
        part--;
    }
    return part;
}

struct context context_at(const char *text, size_t at)
{
    struct reader reader = {.context = {.blocks = g_ptr_array_new_with_free_func(g_free),
                                        .before = g_ptr_array_new_with_free_func(g_free),
                                        .word = at},
                            .text = text,
                            .end = text + at};

    for (const char *here = text; here < reader.end;) {
        if (*here == '#' && !is_colour(here)) {
            here = skip_comment(here, reader.end);
        } else if (strchr("{}();\n \t\r", *here) != NULL) {
            here = take_mark(&reader, here);
        } else {
            here = take_word(&reader, here);
        }
    }
    reader.context.part = part_of(text, reader.context.word, at);
    return reader.context;
}

void context_clear(struct context *context)
{
    g_ptr_array_unref(context->blocks);
    g_ptr_array_unref(context->before);
}

const char *context_block(const struct context *context)
{
    guint count = context->blocks->len;

    return count > 0 ? context->blocks->pdata[count - 1] : "";
}

const char *context_before(const struct context *context, unsigned index)
{
    return index < context->before->len ? context->before->pdata[index] : NULL;
}

bool context_begins(const struct context *context, const char *word)
{
    const char *first = context_before(context, 0);

    return first != NULL && strcmp(first, word) == 0;
}
