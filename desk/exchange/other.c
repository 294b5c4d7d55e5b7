/* other.c - what a file is that holds no board. */
#include "other.h"

#include "shape.h"

#include <string.h>

#define NAMED_MOST 4u /* members that are named */

static const char *const kinds[] = {
    [JSON_OBJECT] = "an object", [JSON_ARRAY] = "a list",  [JSON_STRING] = "a text",
    [JSON_INTEGER] = "a number", [JSON_REAL] = "a number", [JSON_TRUE] = "true",
    [JSON_FALSE] = "false",      [JSON_NULL] = "nothing",
};

/* "an object with 'name', 'version' and 3 more" */
static char *describe_object(const json_t *json)
{
    GString *text = g_string_new("an object with ");
    size_t count = json_object_size(json);
    size_t seen = 0;
    const char *name;
    json_t *value;

    json_object_foreach((json_t *)json, name, value)
    {
        bool last = seen + 1 == count;
        if (seen < NAMED_MOST) {
            g_string_append_printf(text, "%s'%s'",
                                   seen == 0 ? ""
                                   : last    ? " and "
                                             : ", ",
                                   name);
        }
        seen++;
    }
    if (count > NAMED_MOST) {
        g_string_append_printf(text, " and %zu more", count - NAMED_MOST);
    }
    return g_string_free(text, FALSE);
}

static char *describe(const json_t *json)
{
    size_t length = json_array_size(json);

    if (json_object_size(json) > 0) {
        return describe_object(json);
    }
    if (length > 0) {
        return g_strdup_printf("a list of %zu, the first %s", length,
                               kinds[json_typeof(json_array_get(json, 0))]);
    }
    return g_strdup(json_is_object(json)  ? "an empty object"
                    : json_is_array(json) ? "an empty list"
                                          : kinds[json_typeof(json)]);
}

bool is_other_json(const json_t *json, GPtrArray *problems)
{
    const json_t *version = json_object_get(json, "uvrek-exchange");
    char *what;

    if (json_is_integer(version) && json_integer_value(version) != UVK_EXCHANGE_VERSION) {
        add_problem(problems, "/uvrek-exchange",
                    "it has version %" JSON_INTEGER_FORMAT " of this form, this program reads "
                    "version %d: export the board again",
                    json_integer_value(version), UVK_EXCHANGE_VERSION);
        return true;
    }
    if (version != NULL || json_is_object(json_object_get(json, "board"))) {
        return false;
    }
    what = describe(json);
    add_problem(problems, "",
                "this JSON is %s, not a board as `uvrek export` writes it; `uvrek export "
                "--schema` describes the form",
                what);
    g_free(what);
    return true;
}

static bool begins_with_word(const char *text, size_t size, const char *word)
{
    size_t length = strlen(word);

    return size > length && memcmp(text, word, length) == 0 &&
           (text[length] == ' ' || text[length] == '\t');
}

/* The first line of TEXT that is neither empty nor a comment of the language. */
static size_t first_line(const char *text, size_t size)
{
    size_t at = 0;

    while (at < size && strchr(" \t\r\n#", text[at]) != NULL && text[at] != '\0') {
        bool comment = text[at] == '#';
        for (; comment && at < size && text[at] != '\n'; at++) {
        }
        at += at < size ? 1 : 0;
    }
    return at;
}

const char *other_than_json(const char *text, size_t size)
{
    static const char *const words[] = {"board", "keymap", "play", "use"};
    size_t at = first_line(text, size);

    if (at == size) {
        return "the file is empty";
    }
    for (size_t i = 0; i < G_N_ELEMENTS(words); i++) {
        if (begins_with_word(text + at, size - at, words[i])) {
            return "this is a text of the language already: there is nothing to import";
        }
    }
    return NULL;
}
