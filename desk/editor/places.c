/* places.c - where a name is defined and used, and another name for it everywhere. */
#include "mentions.h"

#include "uvrek/edit.h"

#include <string.h>

/* What a request about a name is about. */
struct asked {
    GArray *mentions;
    const struct mention *mention; /* NULL: there stands no name of the text's own */
    struct uvk_program *program;
};

/* False: *FAILURE. Cleared either way. */
static bool find_name(struct uvk_editor *editor, const json_t *params, struct asked *asked,
                      struct failure *failure)
{
    struct spot spot;
    const struct uvk_source *source;

    *asked = (struct asked){.mentions = NULL};
    if (!spot_from(editor, params, &spot, failure)) {
        return false;
    }
    asked->program = whole_program(editor, spot.document);
    asked->mentions = mentions_of(asked->program);
    source = source_in(editor, asked->program, spot.document);
    asked->mention = source != NULL ? mention_at(asked->mentions, source, spot.at) : NULL;
    return true;
}

static void clear(struct asked *asked)
{
    if (asked->mentions != NULL) {
        g_array_unref(asked->mentions);
    }
}

/* ---- looking ----------------------------------------------------------------------------- */

/* Of all mentions of the same, those that are DEFINED, those that are not, or both. */
static json_t *locations(struct uvk_editor *editor, const struct asked *asked, bool defined,
                         bool used)
{
    json_t *list = json_array();

    for (guint i = 0; asked->mention != NULL && i < asked->mentions->len; i++) {
        const struct mention *mention = &g_array_index(asked->mentions, struct mention, i);
        if (is_same_name(mention, asked->mention) &&
            (mention->keyword != NULL ? defined : used)) {
            (void)json_array_append_new(list, location_to_json(editor, mention->place));
        }
    }
    return list;
}

ANSWER(answer_definition)
{
    struct asked asked;
    json_t *list = find_name(editor, params, &asked, failure)
                       ? locations(editor, &asked, true, false)
                       : NULL;

    clear(&asked);
    return list;
}

ANSWER(answer_references)
{
    const json_t *context = json_object_get(params, "context");
    bool defined = json_is_true(json_object_get(context, "includeDeclaration"));
    struct asked asked;
    json_t *list = find_name(editor, params, &asked, failure)
                       ? locations(editor, &asked, defined, true)
                       : NULL;

    clear(&asked);
    return list;
}

#define HIGHLIGHT_READ  2
#define HIGHLIGHT_WRITE 3

ANSWER(answer_highlights)
{
    struct asked asked;
    json_t *list = json_array();

    if (!find_name(editor, params, &asked, failure)) {
        json_decref(list);
        clear(&asked);
        return NULL;
    }
    for (guint i = 0; asked.mention != NULL && i < asked.mentions->len; i++) {
        const struct mention *mention = &g_array_index(asked.mentions, struct mention, i);
        if (is_same_name(mention, asked.mention) &&
            mention->place.source == asked.mention->place.source) {
            (void)json_array_append_new(
                list,
                json_pack("{s:o, s:i}", "range", place_to_json(editor, mention->place), "kind",
                          mention->keyword != NULL ? HIGHLIGHT_WRITE : HIGHLIGHT_READ));
        }
    }
    clear(&asked);
    return list;
}

/* ---- another name ------------------------------------------------------------------------ */

ANSWER(answer_prepare_rename)
{
    struct asked asked;
    json_t *result = NULL;

    if (find_name(editor, params, &asked, failure)) {
        result = asked.mention == NULL ? json_null()
                                       : json_pack("{s:o, s:s}", "range",
                                                   place_to_json(editor, asked.mention->place),
                                                   "placeholder", asked.mention->name);
    }
    clear(&asked);
    return result;
}

/* The text of SOURCE with all mentions of the same as NAME. Freed with g_free. */
static char *renamed(const struct asked *asked, const struct uvk_source *source,
                     const char *name)
{
    struct uvk_edits *edits = uvk_edits_new(source);
    size_t size;
    char *text;

    for (guint i = 0; i < asked->mentions->len; i++) {
        const struct mention *mention = &g_array_index(asked->mentions, struct mention, i);
        if (is_same_name(mention, asked->mention) && mention->place.source == source) {
            uvk_edits_replace(edits, mention->place.at, mention->place.length, name);
        }
    }
    text = uvk_edits_apply(edits, &size);
    uvk_edits_free(edits);
    return text;
}

/* With NAME in all places the texts have to say what they say now. NULL: so it is. */
static const char *what_is_wrong(const struct asked *asked, const char *name)
{
    const GPtrArray *sources = asked->program->sources;
    char **texts;
    const char *changes;

    if (asked->program->messages.errors > 0) {
        return "the text has mistakes: mend them first";
    }
    texts = g_new0(char *, sources->len + 1);
    for (guint i = 0; i < sources->len; i++) {
        texts[i] = renamed(asked, sources->pdata[i], name);
    }
    changes = what_changes(asked->program, texts);
    g_strfreev(texts);
    return changes != NULL ? "that is no name, or it is taken" : NULL;
}

static json_t *edits_of(struct uvk_editor *editor, const struct asked *asked, const char *name)
{
    json_t *changes = json_object();

    for (guint i = 0; i < asked->mentions->len; i++) {
        const struct mention *mention = &g_array_index(asked->mentions, struct mention, i);
        char *uri = document_uri_of(editor, mention->place.source->path);
        if (is_same_name(mention, asked->mention)) {
            if (json_object_get(changes, uri) == NULL) {
                (void)json_object_set_new(changes, uri, json_array());
            }
            (void)json_array_append_new(json_object_get(changes, uri),
                                        json_pack("{s:o, s:s}", "range",
                                                  place_to_json(editor, mention->place),
                                                  "newText", name));
        }
        g_free(uri);
    }
    return json_pack("{s:o}", "changes", changes);
}

ANSWER(answer_rename)
{
    const char *name = json_string_value(json_object_get(params, "newName"));
    struct asked asked;
    json_t *result = NULL;
    const char *wrong = NULL;

    if (find_name(editor, params, &asked, failure)) {
        wrong = name == NULL            ? "there is no new name"
                : asked.mention == NULL ? "there stands no name of your own"
                                        : what_is_wrong(&asked, name);
        if (wrong != NULL) {
            *failure = (struct failure){FAIL_DONE, wrong};
        } else {
            result = edits_of(editor, &asked, name);
        }
    }
    clear(&asked);
    return result;
}
