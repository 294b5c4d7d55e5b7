/* visible.c - text from outside, shown so that it cannot do anything but be read. */
#include "uvrek/source.h"

#include <string.h>

size_t uvk_mark_size(const char *text)
{
    static const char mark[] = "\xEF\xBB\xBF";

    return g_str_has_prefix(text, mark) ? strlen(mark) : 0;
}

bool uvk_is_unseen(gunichar character)
{
    static const struct {
        gunichar first, last;
    } unseen[] = {
        {0x00, 0x08},     {0x0B, 0x0C},     {0x0E, 0x1F}, /* control, but tab and line ends */
        {0x7F, 0x9F},                                     /* control */
        {0x061C, 0x061C}, {0x200E, 0x200F}, {0x202A, 0x202E}, /* the direction of writing */
        {0x2066, 0x2069}, {0xFEFF, 0xFEFF},                   /* that, and a byte order mark */
    };

    for (size_t i = 0; i < G_N_ELEMENTS(unseen); i++) {
        if (character >= unseen[i].first && character <= unseen[i].last) {
            return true;
        }
    }
    return false;
}

const char *uvk_find_unseen(const char *text)
{
    for (; *text != '\0'; text = g_utf8_next_char(text)) {
        if (uvk_is_unseen(g_utf8_get_char(text))) {
            return text;
        }
    }
    return NULL;
}

char *uvk_visible_text(const char *text)
{
    char *valid = g_utf8_make_valid(text, -1); /* paths are bytes */
    GString *out = g_string_new(NULL);

    for (const char *at = valid; *at != '\0'; at = g_utf8_next_char(at)) {
        gunichar character = g_utf8_get_char(at);
        if (uvk_is_unseen(character)) {
            g_string_append_printf(out, "\\u{%x}", character);
        } else {
            g_string_append_unichar(out, character);
        }
    }
    g_free(valid);
    return g_string_free(out, FALSE);
}
