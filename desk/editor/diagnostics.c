/* diagnostics.c - what is wrong with the open texts and those they use. */
#include "diagnostics.h"

#include <string.h>

static void clear_told(void *data)
{
    g_free(((struct told *)data)->uri);
}

/* ---- of all texts ------------------------------------------------------------------------ */

static void add_messages(struct uvk_editor *editor, struct document *document, GArray *list)
{
    const struct uvk_program *program = document_program(editor, document);

    for (guint i = 0; i < program->messages.list->len; i++) {
        const struct uvk_message *message = program->messages.list->pdata[i];
        const struct uvk_source *source = message->place.source;
        struct told told = {source != NULL ? document_uri_of(editor, source->path)
                                           : g_strdup(document->uri),
                            source, message};
        g_array_append_val(list, told);
    }
}

/* What is wrong with a text that another open one uses is told as that one sees it. */
GArray *all_messages(struct uvk_editor *editor)
{
    GArray *list = g_array_new(FALSE, TRUE, sizeof(struct told));
    GHashTableIter all;
    void *document;

    g_array_set_clear_func(list, clear_told);
    g_hash_table_iter_init(&all, editor->documents);
    while (g_hash_table_iter_next(&all, NULL, &document)) {
        if (root_of(editor, document) == document) {
            add_messages(editor, document, list);
        }
    }
    return list;
}

static json_t *range_of(const struct uvk_editor *editor, const struct told *told)
{
    return told->source != NULL ? place_to_json(editor, told->message->place)
                                : range_to_json("", 0, 0, editor->units);
}

/* Where CODE is explained. */
static json_t *page_of(const struct uvk_editor *editor, const char *code)
{
    char *anchor = g_ascii_strdown(code, -1);
    char *uri = g_strdup_printf("%s#%s", editor->hooks.messages, anchor);
    json_t *page = json_pack("{s:s}", "href", uri);

    g_free(uri);
    g_free(anchor);
    return page;
}

json_t *diagnostic_of(const struct uvk_editor *editor, const struct told *told)
{
    static const int severities[] = {[UVK_ERROR] = 1, [UVK_WARNING] = 2, [UVK_HINT] = 3};
    const struct uvk_message *message = told->message;
    char *code = g_strdup_printf("U%03u", (unsigned)message->code);
    char *text = message->fix != NULL ? g_strdup_printf("%s\n%s", message->text, message->fix)
                                      : g_strdup(message->text);
    json_t *diagnostic = json_pack("{s:o, s:i, s:s, s:s, s:s}", "range", range_of(editor, told),
                                   "severity", severities[message->severity], "code", code,
                                   "source", "uvrek", "message", text);

    if (message->other.source != NULL) {
        (void)json_object_set_new(diagnostic, "relatedInformation",
                                  json_pack("[{s:o, s:s}]", "location",
                                            location_to_json(editor, message->other), "message",
                                            "the other one"));
    }
    if (editor->hooks.messages != NULL) {
        (void)json_object_set_new(diagnostic, "codeDescription", page_of(editor, code));
    }
    g_free(text);
    g_free(code);
    return diagnostic;
}

/* ---- telling ----------------------------------------------------------------------------- */

static void publish(struct uvk_editor *editor, const char *uri, json_t *diagnostics)
{
    const struct document *document = document_named(editor, uri);
    json_t *params = json_pack("{s:s, s:O}", "uri", uri, "diagnostics", diagnostics);

    if (document != NULL) {
        (void)json_object_set_new(params, "version", json_integer(document->version));
    }
    editor_send(editor, json_pack("{s:s, s:o}", "method", "textDocument/publishDiagnostics",
                                  "params", params));
}

/* An empty list for each URI of TABLE, unless it has one. */
static void begin_lists(json_t *lists, GHashTable *table)
{
    GHashTableIter all;
    void *uri;

    g_hash_table_iter_init(&all, table);
    while (g_hash_table_iter_next(&all, &uri, NULL)) {
        if (json_object_get(lists, uri) == NULL) {
            (void)json_object_set_new(lists, uri, json_array());
        }
    }
}

/* The same mistake may be seen from several texts that use it. */
static void add_once(json_t *list, json_t *diagnostic)
{
    for (size_t i = 0; i < json_array_size(list); i++) {
        if (json_equal(json_array_get(list, i), diagnostic)) {
            json_decref(diagnostic);
            return;
        }
    }
    (void)json_array_append_new(list, diagnostic);
}

void tell_diagnostics(struct uvk_editor *editor)
{
    GArray *messages = all_messages(editor);
    json_t *lists = json_object();
    const char *uri;
    json_t *list;

    begin_lists(lists, editor->documents);
    begin_lists(lists, editor->told); /* what is well again has to be told as well */
    for (guint i = 0; i < messages->len; i++) {
        const struct told *told = &g_array_index(messages, struct told, i);
        list = json_object_get(lists, told->uri);
        if (list == NULL) {
            list = json_array();
            (void)json_object_set_new(lists, told->uri, list);
        }
        add_once(list, diagnostic_of(editor, told));
    }
    g_hash_table_remove_all(editor->told);
    json_object_foreach(lists, uri, list)
    {
        publish(editor, uri, list);
        if (json_array_size(list) > 0) {
            g_hash_table_add(editor->told, g_strdup(uri));
        }
    }
    json_decref(lists);
    g_array_unref(messages);
}
