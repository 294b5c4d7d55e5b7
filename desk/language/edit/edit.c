/* edit.c - replace parts of a text, and leave the rest as it is. */
#include "uvrek/edit.h"

#include <string.h>

struct edit {
    uint32_t at, length;
    unsigned order; /* of adding */
    const char *text;
};

struct uvk_edits {
    const struct uvk_source *source;
    struct uvk_arena *arena;
    GArray *list; /* of struct edit */
};

struct uvk_edits *uvk_edits_new(const struct uvk_source *source)
{
    struct uvk_edits *edits = g_new0(struct uvk_edits, 1);

    edits->source = source;
    edits->list = g_array_new(FALSE, FALSE, sizeof(struct edit));
    edits->arena = uvk_arena_new();
    return edits;
}

void uvk_edits_free(struct uvk_edits *edits)
{
    if (edits != NULL) {
        g_array_free(edits->list, TRUE);
        uvk_arena_free(edits->arena);
        g_free(edits);
    }
}

void uvk_edits_replace(struct uvk_edits *edits, uint32_t at, uint32_t length, const char *text)
{
    struct edit edit = {at, length, edits->list->len, NULL};

    g_assert((size_t)at + length <= edits->source->size);
    if (strlen(text) == length && memcmp(edits->source->text + at, text, length) == 0) {
        return;
    }
    edit.text = uvk_arena_text(edits->arena, text, strlen(text));
    g_array_append_val(edits->list, edit);
}

const struct uvk_source *uvk_edits_source(const struct uvk_edits *edits)
{
    return edits->source;
}

unsigned uvk_edits_count(const struct uvk_edits *edits)
{
    return edits->list->len;
}

struct uvk_edit uvk_edits_get(const struct uvk_edits *edits, unsigned index)
{
    const struct edit *edit = &g_array_index(edits->list, struct edit, index);

    return (struct uvk_edit){edit->at, edit->length, edit->text};
}

static gint by_place(gconstpointer a, gconstpointer b)
{
    const struct edit *one = a;
    const struct edit *other = b;

    if (one->at != other->at) {
        return one->at < other->at ? -1 : 1;
    }
    return one->order < other->order ? -1 : 1;
}

char *uvk_edits_apply(struct uvk_edits *edits, size_t *size)
{
    const struct uvk_source *source = edits->source;
    GString *out = g_string_new(NULL);
    uint32_t done = 0;

    g_array_sort(edits->list, by_place);
    for (guint i = 0; i < edits->list->len; i++) {
        const struct edit *edit = &g_array_index(edits->list, struct edit, i);
        if (edit->at < done) {
            g_string_free(out, TRUE);
            return NULL;
        }
        g_string_append_len(out, source->text + done, edit->at - done);
        g_string_append(out, edit->text);
        done = edit->at + edit->length;
    }
    g_string_append_len(out, source->text + done, (gssize)(source->size - done));
    *size = out->len;
    return g_string_free(out, FALSE);
}
