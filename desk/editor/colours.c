/* colours.c - the language's words for editors that colour a text without a server: as a
 * TextMate grammar, and as a syntax file of Vim. */
#include "uvrek/editor.h"
#include "uvrek/explain.h"
#include "uvrek/text.h"

#include <jansson.h>
#include <string.h>

#define PREFIXES "before a name, in a cell"

/* ---- words ------------------------------------------------------------------------------- */

/* Letters, digits and hyphens. */
static bool is_plain(const char *word)
{
    for (const char *at = word; *at != '\0'; at++) {
        if (!g_ascii_isalnum(*at) && *at != '-') {
            return false;
        }
    }
    return g_ascii_isalpha(word[0]);
}

static int by_text(gconstpointer a, gconstpointer b)
{
    return strcmp(*(const char *const *)a, *(const char *const *)b);
}

/* Each once, in their order. Freed with the list. */
static GPtrArray *sorted(GPtrArray *words)
{
    g_ptr_array_sort(words, by_text);
    for (guint i = 1; i < words->len;) {
        if (strcmp(words->pdata[i - 1], words->pdata[i]) == 0) {
            g_ptr_array_remove_index(words, i);
        } else {
            i++;
        }
    }
    return words;
}

static GPtrArray *keys(void)
{
    GPtrArray *list = g_ptr_array_new_with_free_func(g_free);
    size_t count;
    const struct uvk_key_name *names = uvk_key_names(&count);

    for (size_t i = 0; i < count; i++) {
        if (is_plain(names[i].name)) {
            g_ptr_array_add(list, g_strdup(names[i].name));
        }
    }
    return sorted(list);
}

static bool is_key(const char *word)
{
    return uvk_key_named(word) != NULL;
}

/* A word that is a key as well is coloured as a key. */
static GPtrArray *statements(void)
{
    GPtrArray *list = g_ptr_array_new_with_free_func(g_free);
    size_t count;
    const struct uvk_word *words = uvk_words(&count);

    for (size_t i = 0; i < count; i++) {
        if (is_plain(words[i].name) && !is_key(words[i].name)) {
            g_ptr_array_add(list, g_strdup(words[i].name));
        }
    }
    for (unsigned i = 0; i < UVK_SETTINGS; i++) {
        if (i != UVK_SET_LEADER_WITHIN) { /* that is `within` of the leader */
            g_ptr_array_add(list, g_strdup(uvk_setting_names[i].name));
        }
    }
    return sorted(list);
}

/* Without their colons. */
static GPtrArray *prefixes(void)
{
    GPtrArray *list = g_ptr_array_new_with_free_func(g_free);
    size_t count;
    const struct uvk_word *words = uvk_words(&count);

    for (size_t i = 0; i < count; i++) {
        if (strcmp(words[i].where, PREFIXES) == 0 && g_str_has_suffix(words[i].name, ":")) {
            g_ptr_array_add(list, g_strndup(words[i].name, strlen(words[i].name) - 1));
        }
    }
    return sorted(list);
}

static char *joined(GPtrArray *words, const char *between)
{
    char *text;

    g_ptr_array_add(words, NULL);
    text = g_strjoinv(between, (char **)words->pdata);
    g_ptr_array_unref(words);
    return text;
}

/* ---- Vim --------------------------------------------------------------------------------- */

static void append_keywords(GString *out, const char *group, GPtrArray *words)
{
    for (guint i = 0; i < words->len; i++) {
        g_string_append_printf(out, "syn keyword %s %s\n", group, (char *)words->pdata[i]);
    }
    g_ptr_array_unref(words);
}

char *uvk_colours_vim(void)
{
    GString *out = g_string_new("\" Vim syntax file: texts of uvrek (*.uvk).\n"
                                "\" Made by `uvrek editor --colours vim`.\n"
                                "if exists('b:current_syntax')\n  finish\nendif\n"
                                "syn iskeyword @,48-57,-,_\n");
    char *names = joined(prefixes(), "\\|");

    append_keywords(out, "uvrekStatement", statements());
    append_keywords(out, "uvrekKey", keys());
    g_string_append_printf(out, "syn match uvrekPrefix /\\<\\(%s\\):/\n", names);
    g_string_append(
        out, "syn match uvrekNumber "
             "/\\<\\(0x\\x\\+\\|\\d\\+\\(\\.\\d\\+\\)\\=\\(us\\|ms\\|s\\|mA\\|%\\)\\=\\)\\>/\n"
             "syn match uvrekAddress /\\<\\(r\\d\\+c\\d\\+\\|d\\d\\+\\)\\>/\n"
             "syn match uvrekFeel /\\~[[:alpha:]][[:alnum:]-]*/\n"
             "syn match uvrekComment /#.*$/\n"
             "syn match uvrekColour /#\\x\\{6}\\ze\\([^[:alnum:]-]\\|$\\)/\n"
             "syn region uvrekString start=/\"/ skip=/\\\\./ end=/\"/ oneline\n"
             "syn region uvrekCharacter start=/'/ skip=/\\\\./ end=/'/ oneline\n"
             "hi def link uvrekStatement Statement\n"
             "hi def link uvrekKey Constant\n"
             "hi def link uvrekPrefix Type\n"
             "hi def link uvrekNumber Number\n"
             "hi def link uvrekAddress Identifier\n"
             "hi def link uvrekFeel Special\n"
             "hi def link uvrekComment Comment\n"
             "hi def link uvrekColour Number\n"
             "hi def link uvrekString String\n"
             "hi def link uvrekCharacter Character\n"
             "let b:current_syntax = 'uvrek'\n");
    g_free(names);
    return g_string_free(out, FALSE);
}

/* ---- TextMate ---------------------------------------------------------------------------- */

static json_t *matching(const char *scope, const char *pattern)
{
    return json_pack("{s:s, s:s}", "name", scope, "match", pattern);
}

/* One of WORDS, and nothing that is longer. */
static json_t *words_as(const char *scope, GPtrArray *words, const char *behind)
{
    char *names = joined(words, "|");
    char *pattern = g_strdup_printf("(?<![\\w-])(?:%s)%s", names, behind);
    json_t *rule = matching(scope, pattern);

    g_free(pattern);
    g_free(names);
    return rule;
}

static json_t *quoted(const char *scope, const char *quote)
{
    return json_pack("{s:s, s:s, s:s, s:[{s:s, s:s}]}", "name", scope, "begin", quote, "end",
                     quote, "patterns", "name", "constant.character.escape.uvrek", "match",
                     "\\\\.");
}

char *uvk_colours_textmate(void)
{
    json_t *rules = json_array();
    json_t *grammar;
    char *text;
    char *out;

    (void)json_array_append_new(
        rules, matching("constant.other.colour.uvrek", "#[0-9A-Fa-f]{6}(?![\\w-])"));
    (void)json_array_append_new(rules, matching("comment.line.number-sign.uvrek", "#.*$"));
    (void)json_array_append_new(rules, quoted("string.quoted.double.uvrek", "\""));
    (void)json_array_append_new(rules, quoted("string.quoted.single.uvrek", "'"));
    (void)json_array_append_new(rules, words_as("storage.modifier.uvrek", prefixes(), "(?=:)"));
    (void)json_array_append_new(rules,
                                words_as("keyword.control.uvrek", statements(), "(?![\\w-])"));
    (void)json_array_append_new(rules,
                                words_as("support.constant.key.uvrek", keys(), "(?![\\w-])"));
    (void)json_array_append_new(rules, matching("variable.other.address.uvrek",
                                                "(?<![\\w-])(?:r\\d+c\\d+|d\\d+)(?![\\w-])"));
    (void)json_array_append_new(
        rules, matching("entity.name.function.feel.uvrek", "~[A-Za-z][\\w-]*"));
    (void)json_array_append_new(
        rules,
        matching("constant.numeric.uvrek",
                 "(?<![\\w-])(?:0x[0-9A-Fa-f]+|\\d+(?:\\.\\d+)?(?:us|ms|s|mA|%)?)(?![\\w-])"));
    grammar = json_pack("{s:s, s:s, s:[s], s:o}", "name", "uvrek", "scopeName", "source.uvrek",
                        "fileTypes", "uvk", "patterns", rules);
    text = json_dumps(grammar, JSON_INDENT(2));
    out = g_strconcat(text, "\n", NULL);
    free(text);
    json_decref(grammar);
    return out;
}
