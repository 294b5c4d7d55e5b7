/* request.c - what a request is about, and how anything is said to the client. */
#include "serving.h"

#include <string.h>

void editor_send(struct uvk_editor *editor, json_t *message)
{
    char *text;

    (void)json_object_set_new(message, "jsonrpc", json_string("2.0"));
    text = json_dumps(message, JSON_COMPACT);
    json_decref(message);
    if (text != NULL) {
        editor->hooks.say(text, strlen(text), editor->hooks.data);
        free(text);
    }
}

struct document *document_from(const struct uvk_editor *editor, const json_t *params,
                               struct failure *failure)
{
    const json_t *named = json_object_get(params, "textDocument");
    struct document *document =
        document_named(editor, json_string_value(json_object_get(named, "uri")));

    if (document == NULL) {
        *failure = (struct failure){FAIL_PARAMS, "that text is not open"};
    }
    return document;
}

bool spot_from(const struct uvk_editor *editor, const json_t *params, struct spot *spot,
               struct failure *failure)
{
    spot->document = document_from(editor, params, failure);
    if (spot->document == NULL) {
        return false;
    }
    if (!position_from_json(spot->document->text->str, spot->document->text->len,
                            json_object_get(params, "position"), editor->units, &spot->at)) {
        *failure = (struct failure){FAIL_PARAMS, "that is no position"};
        return false;
    }
    return true;
}

bool range_from(const struct uvk_editor *editor, const json_t *params, struct range *range,
                struct failure *failure)
{
    const json_t *json = json_object_get(params, "range");
    const GString *text;

    range->document = document_from(editor, params, failure);
    if (range->document == NULL) {
        return false;
    }
    text = range->document->text;
    if (!position_from_json(text->str, text->len, json_object_get(json, "start"), editor->units,
                            &range->start) ||
        !position_from_json(text->str, text->len, json_object_get(json, "end"), editor->units,
                            &range->end) ||
        range->start > range->end) {
        *failure = (struct failure){FAIL_PARAMS, "that is no range"};
        return false;
    }
    return true;
}

json_t *place_to_json(const struct uvk_editor *editor, struct uvk_place place)
{
    return range_to_json(place.source->text, place.at, place.length, editor->units);
}

json_t *location_to_json(const struct uvk_editor *editor, struct uvk_place place)
{
    char *uri = document_uri_of(editor, place.source->path);
    json_t *location =
        json_pack("{s:s, s:o}", "uri", uri, "range", place_to_json(editor, place));

    g_free(uri);
    return location;
}
