/* message.c - places in texts, and what there is to say about them. */
#include "uvrek/source.h"

#include <stdarg.h>
#include <string.h>

static const struct {
    unsigned number;
    enum uvk_severity severity;
    const char *text;
} codes[] = {
#define CODE(number, name, severity, text) {number, severity, text},
    UVK_CODES(CODE)
#undef CODE
};

static size_t code_index(unsigned code)
{
    for (size_t i = 0; i < G_N_ELEMENTS(codes); i++) {
        if (codes[i].number == code) {
            return i;
        }
    }
    return G_N_ELEMENTS(codes);
}

const char *uvk_code_text(unsigned code)
{
    size_t index = code_index(code);

    return index < G_N_ELEMENTS(codes) ? codes[index].text : NULL;
}

enum uvk_severity uvk_code_severity(unsigned code)
{
    return codes[code_index(code)].severity;
}

const char *uvk_severity_text(enum uvk_severity severity)
{
    static const char *const texts[] = {"error", "warning", "hint"};

    return texts[severity];
}

struct uvk_position uvk_place_position(struct uvk_place place)
{
    struct uvk_position position = {1, 1};

    if (place.source == NULL) {
        return position;
    }
    for (const char *at = place.source->text + uvk_mark_size(place.source->text);
         at < place.source->text + place.at; at++) {
        if (*at == '\n') {
            position.line++;
            position.column = 1;
        } else if (((unsigned char)*at & 0xC0u) != 0x80u) {
            position.column++;
        }
    }
    return position;
}

struct uvk_place uvk_place_span(struct uvk_place a, struct uvk_place b)
{
    a.length = b.at + b.length - a.at;
    return a;
}

static void free_message(gpointer data)
{
    struct uvk_message *message = data;

    g_free(message->text);
    g_free(message->fix);
    g_free(message->mend_text);
    g_free(message);
}

void uvk_messages_init(struct uvk_messages *messages)
{
    messages->list = g_ptr_array_new_with_free_func(free_message);
    messages->errors = 0;
    messages->warnings = 0;
    messages->untold = 0;
}

void uvk_messages_clear(struct uvk_messages *messages)
{
    if (messages->list != NULL) {
        g_ptr_array_free(messages->list, TRUE);
        messages->list = NULL;
    }
}

static gint by_place(gconstpointer a, gconstpointer b)
{
    const struct uvk_message *left = *(const struct uvk_message *const *)a;
    const struct uvk_message *right = *(const struct uvk_message *const *)b;

    if (left->place.source != right->place.source) {
        const char *left_path = left->place.source ? left->place.source->path : "";
        const char *right_path = right->place.source ? right->place.source->path : "";
        return strcmp(left_path, right_path);
    }
    return (left->place.at > right->place.at) - (left->place.at < right->place.at);
}

void uvk_messages_sort(struct uvk_messages *messages)
{
    g_ptr_array_sort(messages->list, by_place);
}

static bool said_already(const struct uvk_messages *messages, enum uvk_code code,
                         struct uvk_place place)
{
    for (guint i = 0; i < messages->list->len; i++) {
        const struct uvk_message *message = g_ptr_array_index(messages->list, i);
        if (message->code == code && message->place.source == place.source &&
            message->place.at == place.at && place.source != NULL) {
            return true;
        }
    }
    return false;
}

#define MEANT "did you mean '"

/* "did you mean 'x'?" is a mend of the marked words. */
static void mend_as_meant(struct uvk_message *message)
{
    const char *meant = message->fix != NULL && g_str_has_prefix(message->fix, MEANT)
                            ? message->fix + strlen(MEANT)
                            : NULL;
    const char *end = meant != NULL ? strrchr(meant, '\'') : NULL;

    if (end != NULL) {
        message->mend = UVK_MEND_WORDS;
        message->mend_text = g_strndup(meant, (gsize)(end - meant));
    }
}

struct uvk_message *uvk_say(struct uvk_messages *messages, enum uvk_code code,
                            struct uvk_place place, const char *fix, const char *format, ...)
{
    struct uvk_message *message;
    size_t index = code_index(code);
    va_list arguments;

    g_assert(index < G_N_ELEMENTS(codes));
    if (said_already(messages, code, place)) {
        return NULL;
    }
    if (codes[index].severity == UVK_ERROR ? messages->errors++ >= UVK_ERRORS_MAX
                                           : messages->list->len >= UVK_MESSAGES_MAX) {
        messages->warnings += codes[index].severity == UVK_WARNING;
        messages->untold++;
        return NULL;
    }
    message = g_new0(struct uvk_message, 1);
    message->code = code;
    message->severity = codes[index].severity;
    message->place = place;
    if (place.source != NULL && place.at + place.length > place.source->size) {
        message->place.length = (uint32_t)place.source->size - place.at; /* the file's end */
    }
    message->fix = g_strdup(fix);
    mend_as_meant(message);
    va_start(arguments, format);
    message->text = g_strdup_vprintf(format, arguments);
    va_end(arguments);
    g_ptr_array_add(messages->list, message);
    messages->warnings += message->severity == UVK_WARNING;
    return message;
}

void uvk_say_other(struct uvk_message *message, struct uvk_place other)
{
    if (message != NULL) {
        message->other = other;
    }
}

void uvk_say_mend(struct uvk_message *message, enum uvk_mend mend, const char *text)
{
    if (message != NULL) {
        message->mend = mend;
        g_free(message->mend_text);
        message->mend_text = g_strdup(text);
    }
}

struct paint {
    const char *bold, *severity, *dim, *off;
};

static struct paint paint_for(enum uvk_severity severity, bool colour)
{
    static const char *const severities[] = {"\033[1;31m", "\033[1;33m", "\033[1;36m"};
    struct paint plain = {"", "", "", ""};
    struct paint coloured = {"\033[1m", severities[severity], "\033[2m", "\033[0m"};

    return colour ? coloured : plain;
}

/* Long lines are shown in part, so that the marked words are in view. */
#define SHOWN_BEFORE 60
#define SHOWN_MAX    100

/* What is not seen becomes one character that is, so that the marks stand right; tabs are
 * shown as one space. */
static void hide_unseen(GString *out, gsize from)
{
    char *shown = g_strdup(out->str + from);

    g_string_truncate(out, from);
    for (const char *at = shown; *at != '\0'; at = g_utf8_next_char(at)) {
        gunichar character = g_utf8_get_char(at);
        g_string_append_unichar(out, character == '\t'          ? ' '
                                     : uvk_is_unseen(character) ? 0xFFFD
                                                                : character);
    }
    g_free(shown);
}

/* The line of PLACE with the marked words under it; tabs are shown as one space. */
static void render_line(GString *out, struct uvk_place place, unsigned line, const char *fix,
                        const struct paint *paint)
{
    const char *text = place.source->text;
    const char *mark = text + place.at;
    const char *start = mark;
    const char *end = mark;
    const char *mark_end;
    const char *cut;
    glong before;

    while (start > text && start[-1] != '\n') {
        start--;
    }
    end += strcspn(end, "\r\n");
    before = g_utf8_strlen(start, mark - start);
    cut =
        before > SHOWN_BEFORE ? g_utf8_offset_to_pointer(start, before - SHOWN_BEFORE) : start;
    if (g_utf8_strlen(cut, end - cut) > SHOWN_MAX) {
        end = g_utf8_offset_to_pointer(cut, SHOWN_MAX);
    }
    mark_end = MIN(mark + place.length, end);
    g_string_append_printf(out, "%s%5u |%s %s", paint->dim, line, paint->off,
                           cut > start ? "..." : "");
    gsize shown = out->len;
    g_string_append_len(out, cut, end - cut);
    hide_unseen(out, shown);
    g_string_append_printf(out, "\n%s      |%s %*s%s", paint->dim, paint->off,
                           (int)g_utf8_strlen(cut, mark - cut) + (cut > start ? 3 : 0), "",
                           paint->severity);
    for (const char *c = mark; c == mark || c < mark_end; c = g_utf8_next_char(c)) {
        g_string_append_c(out, '^');
        if (c >= end) {
            break;
        }
    }
    g_string_append_printf(out, "%s%s%s\n", paint->off, fix ? " " : "", fix ? fix : "");
}

static void render_other(GString *out, struct uvk_place other, const struct paint *paint)
{
    struct uvk_position position = uvk_place_position(other);
    char *path = uvk_visible_text(other.source->path);

    g_string_append_printf(out, "%s      | the other one: %s%s:%u:%u\n", paint->dim, paint->off,
                           path, position.line, position.column);
    g_free(path);
}

char *uvk_message_render(const struct uvk_message *message, bool colour)
{
    struct paint paint = paint_for(message->severity, colour);
    GString *out = g_string_new(NULL);
    char *text = uvk_visible_text(message->text);

    if (message->place.source != NULL) {
        struct uvk_position position = uvk_place_position(message->place);
        char *path = uvk_visible_text(message->place.source->path);
        g_string_append_printf(out, "%s%s:%u:%u: ", paint.bold, path, position.line,
                               position.column);
        g_free(path);
    }
    g_string_append_printf(out, "%s%s[U%03u]%s: %s\n", paint.severity,
                           uvk_severity_text(message->severity), (unsigned)message->code,
                           paint.off, text);
    g_free(text);
    if (message->place.source != NULL && message->place.source->size > 0) {
        render_line(out, message->place, uvk_place_position(message->place).line, message->fix,
                    &paint);
    } else if (message->fix != NULL) {
        g_string_append_printf(out, "      %s\n", message->fix);
    }
    if (message->other.source != NULL) {
        render_other(out, message->other, &paint);
    }
    return g_string_free(out, FALSE);
}
