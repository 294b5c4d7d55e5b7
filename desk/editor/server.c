/* server.c - messages of the client: which is which, and what comes before what. */
#include "serving.h"

#include "uvrek/version.h"

#include <string.h>

#define FAIL_PARSE    (-32700)
#define FAIL_REQUEST  (-32600)
#define FAIL_METHOD   (-32601)
#define FAIL_TOO_SOON (-32002)

struct uvk_editor *uvk_editor_new(const struct uvk_editor_hooks *hooks)
{
    struct uvk_editor *editor = g_new0(struct uvk_editor, 1);

    editor->hooks = *hooks;
    editor->documents = g_hash_table_new_full(g_str_hash, g_str_equal, NULL, document_free);
    editor->told = g_hash_table_new_full(g_str_hash, g_str_equal, g_free, NULL);
    editor->files = g_hash_table_new_full(g_str_hash, g_str_equal, g_free, g_free);
    return editor;
}

void uvk_editor_free(struct uvk_editor *editor)
{
    if (editor != NULL) {
        g_hash_table_unref(editor->documents);
        g_hash_table_unref(editor->told);
        g_hash_table_unref(editor->files);
        g_free(editor);
    }
}

int uvk_editor_ended(const struct uvk_editor *editor, bool gone)
{
    return editor->phase == PHASE_ENDED || gone ? !editor->well : -1;
}

void uvk_editor_rest(struct uvk_editor *editor)
{
    if (editor->changed && editor->phase == PHASE_READY) {
        editor->changed = false;
        tell_diagnostics(editor);
    }
}

void uvk_editor_look(struct uvk_editor *editor)
{
    if (files_have_changed(editor)) {
        documents_changed(editor);
        uvk_editor_rest(editor);
    }
}

/* ---- saying ------------------------------------------------------------------------------ */

/* ID is borrowed, RESULT taken. */
static void send_result(struct uvk_editor *editor, json_t *id, json_t *result)
{
    editor_send(editor, json_pack("{s:O, s:o}", "id", id, "result", result));
}

static void send_failure(struct uvk_editor *editor, json_t *id, const struct failure *failure)
{
    editor_send(editor, json_pack("{s:o, s:{s:i, s:s}}", "id",
                                  id != NULL ? json_incref(id) : json_null(), "error", "code",
                                  failure->code, "message", failure->why));
}

/* ---- beginning and end ------------------------------------------------------------------- */

/* The client's list, the one that it likes most first; UTF-16 if it says nothing. */
static void choose_units(struct uvk_editor *editor, const json_t *params)
{
    const json_t *general = json_object_get(json_object_get(params, "capabilities"), "general");
    const json_t *encodings = json_object_get(general, "positionEncodings");

    for (size_t i = 0; i < json_array_size(encodings); i++) {
        const char *name = json_string_value(json_array_get(encodings, i));
        if (name != NULL && strcmp(name, "utf-8") == 0) {
            editor->units = UNITS_UTF8;
            return;
        }
        if (name != NULL && strcmp(name, "utf-16") == 0) {
            return;
        }
    }
}

#define CHANGES_IN_PARTS 2

static const char *const provided[] = {"hoverProvider",
                                       "definitionProvider",
                                       "referencesProvider",
                                       "documentHighlightProvider",
                                       "documentSymbolProvider",
                                       "foldingRangeProvider",
                                       "documentFormattingProvider",
                                       "documentRangeFormattingProvider",
                                       "inlayHintProvider"};

static json_t *capabilities(const struct uvk_editor *editor)
{
    json_t *all = json_object();

    (void)json_object_set_new(all, "positionEncoding",
                              json_string(editor->units == UNITS_UTF8 ? "utf-8" : "utf-16"));
    (void)json_object_set_new(
        all, "textDocumentSync",
        json_pack("{s:b, s:i, s:b}", "openClose", 1, "change", CHANGES_IN_PARTS, "save", 1));
    (void)json_object_set_new(all, "completionProvider",
                              json_pack("{s:b, s:[s,s,s,s,s]}", "resolveProvider", 1,
                                        "triggerCharacters", "/", "+", ":", "~", "="));
    (void)json_object_set_new(all, "renameProvider", json_pack("{s:b}", "prepareProvider", 1));
    (void)json_object_set_new(all, "codeActionProvider",
                              json_pack("{s:[s]}", "codeActionKinds", "quickfix"));
    (void)json_object_set_new(all, "semanticTokensProvider", token_kinds());
    if (editor->hooks.play != NULL) {
        (void)json_object_set_new(all, "codeLensProvider",
                                  json_pack("{s:b}", "resolveProvider", 1));
    }
    (void)json_object_set_new(all, "executeCommandProvider",
                              json_pack("{s:o}", "commands", commands_there(editor)));
    for (size_t i = 0; i < G_N_ELEMENTS(provided); i++) {
        (void)json_object_set_new(all, provided[i], json_true());
    }
    return all;
}

static ANSWER(initialize)
{
    if (editor->phase != PHASE_NEW) {
        *failure = (struct failure){FAIL_REQUEST, "the server has been initialized"};
        return NULL;
    }
    choose_units(editor, params);
    editor->shows = json_is_true(json_object_get(
        json_object_get(json_object_get(json_object_get(params, "capabilities"), "window"),
                        "showDocument"),
        "support"));
    editor->phase = PHASE_READY;
    return json_pack("{s:o, s:{s:s, s:s}}", "capabilities", capabilities(editor), "serverInfo",
                     "name", "uvrek", "version", uvk_version_text());
}

static ANSWER(shut_down)
{
    (void)params;
    (void)failure;
    editor->phase = PHASE_SHUT;
    editor->well = true;
    return json_null();
}

/* ---- texts that are open ----------------------------------------------------------------- */

static void did_open(struct uvk_editor *editor, const json_t *params)
{
    const json_t *document = json_object_get(params, "textDocument");
    const char *uri = json_string_value(json_object_get(document, "uri"));
    const char *text = json_string_value(json_object_get(document, "text"));

    if (uri != NULL && text != NULL) {
        document_open(editor, uri, text,
                      json_integer_value(json_object_get(document, "version")));
    }
}

static void did_change(struct uvk_editor *editor, const json_t *params)
{
    const json_t *named = json_object_get(params, "textDocument");
    const json_t *changes = json_object_get(params, "contentChanges");
    struct document *document =
        document_named(editor, json_string_value(json_object_get(named, "uri")));

    for (size_t i = 0; document != NULL && i < json_array_size(changes); i++) {
        if (document_change(editor, document, json_array_get(changes, i))) {
            document->version = json_integer_value(json_object_get(named, "version"));
        }
    }
}

static void did_close(struct uvk_editor *editor, const json_t *params)
{
    const json_t *named = json_object_get(params, "textDocument");
    const char *uri = json_string_value(json_object_get(named, "uri"));

    if (uri != NULL && g_hash_table_remove(editor->documents, uri)) {
        documents_changed(editor);
    }
}

/* Another file may have been saved that a text uses. */
static void did_save(struct uvk_editor *editor, const json_t *params)
{
    (void)params;
    documents_changed(editor);
}

static void leave(struct uvk_editor *editor, const json_t *params)
{
    (void)params;
    editor->phase = PHASE_ENDED;
}

/* ---- which is which ---------------------------------------------------------------------- */

static const struct {
    const char *method;
    json_t *(*answer)(struct uvk_editor *, const json_t *, struct failure *);
} requests[] = {
    {"codeLens/resolve", answer_lens},
    {"completionItem/resolve", answer_resolve},
    {"initialize", initialize},
    {"shutdown", shut_down},
    {"textDocument/codeAction", answer_actions},
    {"textDocument/codeLens", answer_lenses},
    {"textDocument/completion", answer_completion},
    {"textDocument/definition", answer_definition},
    {"textDocument/documentHighlight", answer_highlights},
    {"textDocument/documentSymbol", answer_symbols},
    {"textDocument/foldingRange", answer_folding},
    {"textDocument/formatting", answer_formatting},
    {"textDocument/hover", answer_hover},
    {"textDocument/inlayHint", answer_inlays},
    {"textDocument/prepareRename", answer_prepare_rename},
    {"textDocument/rangeFormatting", answer_range_formatting},
    {"textDocument/references", answer_references},
    {"textDocument/rename", answer_rename},
    {"textDocument/semanticTokens/full", answer_tokens},
    {"textDocument/semanticTokens/range", answer_range_tokens},
    {"workspace/executeCommand", answer_command},
};

/* Those that nobody can do but the hook for plays. */
static bool needs_plays(const char *method)
{
    return strstr(method, "odeLens") != NULL;
}

static const struct {
    const char *method;
    void (*take)(struct uvk_editor *, const json_t *);
} notices[] = {
    {"exit", leave},
    {"textDocument/didChange", did_change},
    {"textDocument/didClose", did_close},
    {"textDocument/didOpen", did_open},
    {"textDocument/didSave", did_save},
};

/* NULL: there is no such request. */
static json_t *answer(struct uvk_editor *editor, const char *method, const json_t *params,
                      struct failure *failure)
{
    bool is_first = strcmp(method, "initialize") == 0;

    if (editor->phase == PHASE_NEW && !is_first) {
        *failure = (struct failure){FAIL_TOO_SOON, "the server has not been initialized"};
        return NULL;
    }
    if (editor->phase >= PHASE_SHUT) {
        *failure = (struct failure){FAIL_REQUEST, "the server has been shut down"};
        return NULL;
    }
    for (size_t i = 0; i < G_N_ELEMENTS(requests); i++) {
        if (strcmp(requests[i].method, method) == 0 &&
            (editor->hooks.play != NULL || !needs_plays(method))) {
            return requests[i].answer(editor, params, failure);
        }
    }
    *failure = (struct failure){FAIL_METHOD, "the server knows no such request"};
    return NULL;
}

/* Before `initialize` nothing but `exit` counts. */
static void take_notice(struct uvk_editor *editor, const char *method, const json_t *params)
{
    for (size_t i = 0; i < G_N_ELEMENTS(notices); i++) {
        if (strcmp(notices[i].method, method) == 0 &&
            (editor->phase == PHASE_READY || notices[i].take == leave)) {
            notices[i].take(editor, params);
        }
    }
}

static void take_request(struct uvk_editor *editor, json_t *id, const char *method,
                         const json_t *params)
{
    struct failure failure = {0, NULL};
    json_t *result = answer(editor, method, params, &failure);

    if (result != NULL) {
        send_result(editor, id, result);
    } else {
        send_failure(editor, id, &failure);
    }
}

void uvk_editor_take(struct uvk_editor *editor, const char *message, size_t size)
{
    json_t *json = json_loadb(message, size, 0, NULL);
    json_t *id = json_object_get(json, "id");
    const char *method = json_string_value(json_object_get(json, "method"));
    bool is_answer =
        id != NULL && method == NULL &&
        (json_object_get(json, "result") != NULL || json_object_get(json, "error") != NULL);

    if (json == NULL) {
        send_failure(editor, NULL, &(struct failure){FAIL_PARSE, "that is no JSON"});
    } else if (is_answer) {
        /* the server asks for nothing */
    } else if (method == NULL || (id != NULL && !json_is_string(id) && !json_is_integer(id))) {
        send_failure(editor, NULL, &(struct failure){FAIL_REQUEST, "that is no request"});
    } else if (id != NULL) {
        take_request(editor, id, method, json_object_get(json, "params"));
    } else {
        take_notice(editor, method, json_object_get(json, "params"));
    }
    json_decref(json);
}
