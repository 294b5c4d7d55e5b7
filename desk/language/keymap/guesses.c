/* guesses.c - what a wrong cell was probably meant to be. */
#include "reading.h"

#include "uvrek/explain.h"

#include <string.h>

/* A usual word whose first name is no key but a sign, or one of the board's acts. */
static char *by_usual_word(const char *word)
{
    const char *names = uvk_synonyms_of(word);
    size_t length = names != NULL ? strcspn(names, " ") : 0;
    bool sign = names != NULL && !g_ascii_isalnum(names[0]);

    return sign || (names != NULL && g_str_has_prefix(names, "board:"))
               ? g_strdup_printf("did you mean '%.*s'?", (int)length, names)
               : NULL;
}

static bool is_modifier(const char *name)
{
    const struct uvk_key_name *key = uvk_key_named(name);

    return (key != NULL && key->mods != 0) || strcmp(name, "primary") == 0;
}

/* ctrl-c: modifiers that are joined with a hyphen. */
static char *by_hyphens(const char *word)
{
    GString *chord = g_string_new(NULL);
    const char *rest = word;
    char *fix = NULL;

    for (const char *hyphen; (hyphen = strchr(rest, '-')) != NULL; rest = hyphen + 1) {
        char *part = g_ascii_strdown(rest, hyphen - rest);
        bool modifier = is_modifier(part);
        if (modifier) {
            g_string_append_printf(chord, "%s+", part);
        }
        g_free(part);
        if (!modifier) {
            break;
        }
    }
    if (chord->len > 0) {
        char *key = g_ascii_strdown(rest, -1);
        if (uvk_key_named(key) != NULL) {
            fix = g_strdup_printf("did you mean '%s%s'?", chord->str, key);
        }
        g_free(key);
    }
    g_string_free(chord, TRUE);
    return fix;
}

char *guess_name(const char *word)
{
    char *fix = by_usual_word(word);

    if (fix == NULL && (strcmp(word, "layer") == 0 || strcmp(word, "macro") == 0)) {
        return g_strdup_printf("the name of the %s alone is enough", word);
    }
    return fix != NULL ? fix : by_hyphens(word);
}

/* Words before a colon, and what to write for the name behind it. */
static const struct {
    const char *word;
    const char *fix; /* %s: the name */
} prefixes[] = {
    {"hold", "the name of a layer alone is that layer, while held: '%s'"},
    {"layer", "the name of a layer alone is that layer, while held: '%s'"},
    {"while", "the name of a layer alone is that layer, while held: '%s'"},
    {"switch", "for good: 'toggle:%s' or 'only:%s'"},
    {"key", "the name alone is enough: '%s'"},
    {"tap", "the name alone is enough: '%s'"},
    {"press", "the name alone is enough: '%s'"},
    {"macro", "the name alone is enough: '%s'"},
    {"dance", "the name alone is enough: '%s'"},
    {"let", "the name alone is enough: '%s'"},
    {"media", "the name alone is enough: '%s'"},
    {"mouse", "the name alone is enough, as in click-left, point-up, wheel-up"},
    {"sticky", "for the next key only: 'once:%s'"},
    {"next", "for the next key only: 'once:%s'"},
};

char *guess_prefix(const char *word, const struct uvk_node *behind)
{
    const char *name = behind != NULL && behind->text != NULL ? behind->text : "";

    if (is_modifier(word) && name[0] != '\0') {
        return g_strdup_printf("did you mean '%s+%s'?", word, name);
    }
    for (size_t i = 0; i < G_N_ELEMENTS(prefixes); i++) {
        if (strcmp(prefixes[i].word, word) == 0) {
            GString *fix = g_string_new(prefixes[i].fix);
            g_string_replace(fix, "%s", name, 0);
            return g_string_free(fix, FALSE);
        }
    }
    return NULL;
}
