/* documents.c - the texts that are open, and the programs that are made of them. */
#include "serving.h"

#include <string.h>
#include <sys/stat.h>

static void forget_program(struct document *document)
{
    if (document->program == NULL) {
        return;
    }
    if (document->program->messages.errors == 0 && document->program->keymap != NULL) {
        uvk_program_free(document->good);
        document->good = document->program;
    } else {
        uvk_program_free(document->program);
    }
    document->program = NULL;
}

void document_free(void *data)
{
    struct document *document = data;

    uvk_program_free(document->program);
    uvk_program_free(document->good);
    g_string_free(document->text, TRUE);
    g_free(document->uri);
    g_free(document->path);
    g_free(document);
}

struct document *document_named(const struct uvk_editor *editor, const char *uri)
{
    return uri != NULL ? g_hash_table_lookup(editor->documents, uri) : NULL;
}

/* What is no file has its URI as its path: it can use no other file. */
static char *path_of(const char *uri)
{
    char *path = g_filename_from_uri(uri, NULL, NULL);

    if (path == NULL) {
        path = g_strdup(uri);
    }
    return path;
}

void document_open(struct uvk_editor *editor, const char *uri, const char *text,
                   json_int_t version)
{
    struct document *document = g_new0(struct document, 1);

    document->uri = g_strdup(uri);
    document->path = path_of(uri);
    document->text = g_string_new(text);
    document->version = version;
    g_hash_table_replace(editor->documents, document->uri, document);
    documents_changed(editor);
}

void documents_changed(struct uvk_editor *editor)
{
    GHashTableIter all;
    void *document;

    g_hash_table_iter_init(&all, editor->documents);
    while (g_hash_table_iter_next(&all, NULL, &document)) {
        forget_program(document);
    }
    g_hash_table_remove_all(editor->files);
    editor->changed = true;
}

bool document_change(struct uvk_editor *editor, struct document *document, const json_t *change)
{
    const char *text = json_string_value(json_object_get(change, "text"));
    const json_t *range = json_object_get(change, "range");
    GString *all = document->text;
    size_t start = 0;
    size_t end = all->len;

    if (text == NULL ||
        (range != NULL &&
         (!position_from_json(all->str, all->len, json_object_get(range, "start"),
                              editor->units, &start) ||
          !position_from_json(all->str, all->len, json_object_get(range, "end"), editor->units,
                              &end) ||
          start > end))) {
        return false;
    }
    g_string_erase(all, (gssize)start, (gssize)(end - start));
    g_string_insert(all, (gssize)start, text);
    documents_changed(editor);
    return true;
}

/* ---- programs ---------------------------------------------------------------------------- */

static struct document *at_path(const struct uvk_editor *editor, const char *path)
{
    char *wanted = g_canonicalize_filename(path, NULL);
    struct document *found = NULL;
    GHashTableIter all;
    void *document;

    g_hash_table_iter_init(&all, editor->documents);
    while (found == NULL && g_hash_table_iter_next(&all, NULL, &document)) {
        if (strcmp(((struct document *)document)->path, wanted) == 0 ||
            strcmp(((struct document *)document)->path, path) == 0) {
            found = document;
        }
    }
    g_free(wanted);
    return found;
}

static struct stamp stamp_of(const char *path)
{
    struct stat is;

    return stat(path, &is) == 0
               ? (struct stamp){(gint64)is.st_mtim.tv_sec * 1000000000 + is.st_mtim.tv_nsec,
                                (gint64)is.st_size}
               : (struct stamp){-1, -1};
}

bool files_have_changed(const struct uvk_editor *editor)
{
    GHashTableIter all;
    void *path;
    void *before;

    g_hash_table_iter_init(&all, editor->files);
    while (g_hash_table_iter_next(&all, &path, &before)) {
        const struct stamp now = stamp_of(path);
        if (memcmp(&now, before, sizeof now) != 0) {
            return true;
        }
    }
    return false;
}

/* The text that is open, or the file. */
static char *read_file(const char *path, size_t *size, void *data)
{
    struct uvk_editor *editor = data;
    const struct document *document = at_path(editor, path);

    if (document == NULL) {
        const struct stamp now = stamp_of(path);
        g_hash_table_replace(editor->files, g_strdup(path), g_memdup2(&now, sizeof now));
        return uvk_source_bytes(path, size);
    }
    *size = MIN(document->text->len, UVK_SOURCE_MAX + 1);
    return g_strndup(document->text->str, *size);
}

struct uvk_program *document_program(struct uvk_editor *editor, struct document *document)
{
    uint16_t size;

    if (document->program == NULL) {
        document->program = uvk_program_load_by(document->path, read_file, editor);
        if (document->program->messages.errors == 0 && document->program->keymap != NULL) {
            g_free(uvk_lower(document->program, &size)); /* it says what an image cannot hold */
        }
    }
    return document->program;
}

char *document_uri_of(const struct uvk_editor *editor, const char *path)
{
    const struct document *document = at_path(editor, path);
    char *whole;
    char *uri;

    if (document != NULL) {
        return g_strdup(document->uri);
    }
    whole = g_canonicalize_filename(path, NULL);
    uri = g_filename_to_uri(whole, NULL, NULL);
    g_free(whole);
    if (uri == NULL) {
        uri = g_strdup(path);
    }
    return uri;
}

const struct uvk_source *source_in(const struct uvk_editor *editor,
                                   const struct uvk_program *program,
                                   const struct document *document)
{
    for (guint i = 0; i < program->sources->len; i++) {
        const struct uvk_source *source = program->sources->pdata[i];
        if (at_path(editor, source->path) == document) {
            return source;
        }
    }
    return NULL;
}

static bool uses(struct uvk_editor *editor, struct document *document, struct document *other)
{
    return source_in(editor, document_program(editor, document), other) != NULL;
}

/* Of two that use one another neither is the other one's. */
static struct document *user_of(struct uvk_editor *editor, struct document *document)
{
    GHashTableIter all;
    void *other;

    g_hash_table_iter_init(&all, editor->documents);
    while (g_hash_table_iter_next(&all, NULL, &other)) {
        if (other != document && uses(editor, other, document) &&
            !uses(editor, document, other)) {
            return other;
        }
    }
    return NULL;
}

struct document *root_of(struct uvk_editor *editor, struct document *document)
{
    struct document *user;

    while ((user = user_of(editor, document)) != NULL) {
        document = user;
    }
    return document;
}

struct uvk_program *whole_program(struct uvk_editor *editor, struct document *document)
{
    return document_program(editor, root_of(editor, document));
}

struct replacing {
    const struct uvk_program *program;
    char *const *texts;
};

static char *read_replaced(const char *path, size_t *size, void *data)
{
    const struct replacing *replacing = data;
    const GPtrArray *sources = replacing->program->sources;

    for (guint i = 0; i < sources->len; i++) {
        const struct uvk_source *source = sources->pdata[i];
        if (strcmp(source->path, path) == 0) {
            const char *text = replacing->texts[i] != NULL ? replacing->texts[i] : source->text;
            *size = strlen(text);
            return g_strdup(text);
        }
    }
    return uvk_source_bytes(path, size);
}

const char *what_changes(struct uvk_program *program, char *const *texts)
{
    const struct uvk_source *first = program->sources->pdata[0];
    struct replacing replacing = {program, texts};
    struct uvk_program *after = uvk_program_load_by(first->path, read_replaced, &replacing);
    const char *what = after->messages.errors > 0          ? "the text would have mistakes"
                       : !uvk_program_same(program, after) ? "the text would say something else"
                                                           : NULL;

    uvk_program_free(after);
    return what;
}
