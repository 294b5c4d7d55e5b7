/* pull.c - what a keyboard does goes into the text, in the places that say it. */
#include "lift.h"

#include "uvrek/edit.h"

#include <string.h>

struct pulling {
    const struct uvk_program *program;
    struct uvk_edits *edits;
    GError **error;
};

static bool cannot(struct pulling *pulling, const struct uvk_difference *difference)
{
    g_set_error(pulling->error, UVK_PROBLEM, UVK_NOT_WELL,
                "%s cannot be taken over into the text: %s -> %s", difference->where,
                difference->after != NULL ? difference->after : "(none)",
                difference->before != NULL ? difference->before : "(none)");
    return false;
}

static bool put(struct pulling *pulling, char *statement)
{
    bool good = uvk_edit_put(pulling->edits, pulling->program->keymap->place, statement,
                             pulling->error);

    g_free(statement);
    return good;
}

/* "r0c1+r0c2": the keys of a combo or a sequence by their addresses. */
static char *addresses(const struct uvk_board *board, const unsigned *keys, unsigned count,
                       const char *between)
{
    GString *out = g_string_new(NULL);

    for (unsigned i = 0; i < count; i++) {
        char *place = uvk_cell_place(board, keys[i]);
        g_string_append_printf(out, "%s%s", i > 0 ? between : "", place);
        g_free(place);
    }
    return g_string_free(out, FALSE);
}

/* A statement that has a PLACE is exchanged there, or goes; a new one comes into the keymap. */
static bool put_at(struct pulling *pulling, const struct uvk_place *place, char *statement)
{
    bool good;

    if (place == NULL) {
        return put(pulling, statement);
    }
    good = statement != NULL
               ? uvk_edit_replace(pulling->edits, *place, statement, pulling->error)
               : uvk_edit_remove(pulling->edits, *place, pulling->error);
    g_free(statement);
    return good;
}

static bool pull_combo(struct pulling *pulling, const struct uvk_difference *difference)
{
    const char *keys = difference->where + strlen("combo ");
    const struct uvk_place *place = NULL;

    for (const struct uvk_combo_text *at = pulling->program->keymap->combos; at != NULL;
         at = at->next) {
        char *own = addresses(pulling->program->board, at->keys, at->key_count, "+");
        place = strcmp(own, keys) == 0 ? &at->place : place;
        g_free(own);
    }
    return put_at(pulling, place,
                  difference->before != NULL
                      ? g_strdup_printf("combo %s -> %s", keys, difference->before)
                      : NULL);
}

static bool pull_sequence(struct pulling *pulling, const struct uvk_difference *difference)
{
    const char *keys = difference->where + strlen("leader ");
    const struct uvk_sequence_text *first = pulling->program->keymap->sequences;
    const struct uvk_place *place = NULL;
    char *statement = difference->before != NULL
                          ? g_strdup_printf("%s -> %s", keys, difference->before)
                          : NULL;
    bool good;

    for (const struct uvk_sequence_text *at = first; at != NULL; at = at->next) {
        char *own = addresses(pulling->program->board, at->keys, at->key_count, " ");
        place = strcmp(own, keys) == 0 ? &at->place : place;
        g_free(own);
    }
    if (place != NULL) {
        return put_at(pulling, place, statement);
    }
    if (first == NULL) {
        char *block = g_strdup_printf("leader { %s }", statement);
        g_free(statement);
        return put(pulling, block);
    }
    good = uvk_edit_insert(pulling->edits, first->place, statement, pulling->error);
    g_free(statement);
    return good;
}

static bool pull_block(struct pulling *pulling, const struct uvk_difference *difference)
{
    return put(pulling, g_strdup_printf("%s { %s }", difference->where, difference->before));
}

static bool pull_setting(struct pulling *pulling, const struct uvk_difference *difference)
{
    return put(pulling, g_strdup_printf("%s %s", difference->where, difference->before));
}

static bool pull_lights(struct pulling *pulling, const struct uvk_difference *difference)
{
    const struct uvk_place *place = &pulling->program->keymap->lights.place;

    return put_at(pulling, place->source != NULL ? place : NULL,
                  g_strdup_printf("lights { %s }", difference->before));
}

/* "layer NAME light": the line of the layer's colour. */
static bool pull_layer(struct pulling *pulling, const struct uvk_difference *difference)
{
    const struct uvk_keymap *keymap = pulling->program->keymap;
    const struct uvk_layer_text *layer = NULL;
    char *statement;
    bool good;

    for (unsigned i = 0; i < keymap->layer_count; i++) {
        char *where = g_strdup_printf("layer %s light", keymap->layers[i].name);
        layer = strcmp(where, difference->where) == 0 ? &keymap->layers[i] : layer;
        g_free(where);
    }
    if (layer == NULL) {
        return cannot(pulling, difference);
    }
    statement =
        difference->before != NULL ? g_strdup_printf("light %s", difference->before) : NULL;
    if (layer->light_place.source != NULL) {
        return put_at(pulling, &layer->light_place, statement);
    }
    good = uvk_edit_insert(pulling->edits, layer->place, statement, pulling->error);
    g_free(statement);
    return good;
}

/* Differences by the first word of where they are. */
static const struct {
    const char *word;
    bool (*pull)(struct pulling *, const struct uvk_difference *);
} kinds[] = {
    {"feel ", pull_block},  {"macro ", pull_block},    {"dance ", pull_block},
    {"combo ", pull_combo}, {"leader within", cannot}, {"leader ", pull_sequence},
    {"set ", pull_setting}, {"lights", pull_lights},   {"layer ", pull_layer},
};

static bool pull(struct pulling *pulling, const struct uvk_difference *difference)
{
    if (difference->cell >= 0) {
        return uvk_edit_cell(pulling->edits, (struct uvk_program *)pulling->program,
                             (unsigned)difference->layer, (unsigned)difference->cell,
                             difference->before, pulling->error);
    }
    for (size_t i = 0; i < G_N_ELEMENTS(kinds); i++) {
        if (g_str_has_prefix(difference->where, kinds[i].word)) {
            return kinds[i].pull(pulling, difference);
        }
    }
    return cannot(pulling, difference);
}

static bool is_said(const struct uvk_program *program, const struct uvk_image *image,
                    const struct uvk_image *wanted, const struct uvk_image *since)
{
    GPtrArray *left;
    bool said;

    if (since == NULL) {
        return uvk_same_image(wanted, image);
    }
    left = uvk_live_differences(program, image, wanted, since);
    said = left->len == 0;
    g_ptr_array_unref(left);
    return said;
}

/* The new text says what IMAGE does: that is looked at, not hoped for. */
static bool says_so(const char *path, const char *text, size_t size,
                    const struct uvk_image *image, const struct uvk_image *since,
                    GError **error)
{
    struct uvk_program *program = uvk_program_read(path, text, size);
    struct uvk_image opened;
    uint16_t bytes = 0;
    uint8_t *lowered = program->messages.errors == 0 && program->keymap != NULL
                           ? uvk_lower(program, &bytes)
                           : NULL;
    bool same = lowered != NULL && uvk_image_open(&opened, lowered, bytes) == UVK_OK &&
                is_said(program, image, &opened, since);

    if (!same && program->messages.errors > 0) {
        const struct uvk_message *message = program->messages.list->pdata[0];
        g_set_error(error, UVK_PROBLEM, UVK_NOT_WELL,
                    "the text would not be right any more: %s", message->text);
    } else if (!same) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_WELL,
                    "the text cannot be made to say all that the keyboard does");
    }
    g_free(lowered);
    uvk_program_free(program);
    return same;
}

/* A text, as it is on its way. */
struct draft {
    struct uvk_program *program;
    uint8_t *bytes;
    struct uvk_image image;
};

static bool read_draft(struct draft *draft, const char *path, const char *text, size_t size,
                       GError **error)
{
    uint16_t bytes = 0;

    memset(draft, 0, sizeof *draft);
    draft->program = uvk_program_read(path, text, size);
    if (draft->program->messages.errors == 0 && draft->program->keymap != NULL) {
        draft->bytes = uvk_lower(draft->program, &bytes);
    }
    if (draft->bytes != NULL && uvk_image_open(&draft->image, draft->bytes, bytes) == UVK_OK) {
        return true;
    }
    g_set_error(
        error, UVK_PROBLEM, UVK_NOT_WELL, "the text would not be right any more: %s",
        draft->program->messages.list->len > 0
            ? ((const struct uvk_message *)draft->program->messages.list->pdata[0])->text
            : "it has no image");
    return false;
}

static void clear_draft(struct draft *draft)
{
    g_free(draft->bytes);
    uvk_program_free(draft->program);
}

/* What has no name yet gets one: the text with those statements. NULL: all have one, or *ERROR.
 */
static char *with_names(const struct draft *draft, GPtrArray *news, size_t *size,
                        GError **error)
{
    struct pulling pulling = {draft->program, uvk_edits_new(draft->program->sources->pdata[0]),
                              error};
    char *text = NULL;
    bool good = news->len > 0;

    for (guint i = 0; good && i < news->len; i++) {
        good = put(&pulling, g_strdup(news->pdata[i]));
    }
    if (good) {
        text = uvk_edits_apply(pulling.edits, size);
    }
    uvk_edits_free(pulling.edits);
    return text;
}

/* Those that begin with WORD ("" are all). */
static char *with_differences(const struct draft *draft, const GPtrArray *differences,
                              const char *word, size_t *size, GError **error)
{
    struct pulling pulling = {draft->program, uvk_edits_new(draft->program->sources->pdata[0]),
                              error};
    char *text = NULL;
    bool good = true;

    for (guint i = 0; good && i < differences->len; i++) {
        const struct uvk_difference *difference = differences->pdata[i];
        good = !g_str_has_prefix(difference->where, word) || pull(&pulling, difference);
    }
    if (good) {
        text = uvk_edits_apply(pulling.edits, size);
    }
    uvk_edits_free(pulling.edits);
    return text;
}

/* What is in one another gets its names from the inside out. */
#define ROUNDS 10u

/* The text one round further; *DONE: it says all. Feels come first: what is new may use one
 * that has a name already. NULL: *ERROR. */
static char *next_round(const struct draft *draft, const struct uvk_image *image,
                        const struct uvk_image *since, bool feels, size_t *size, bool *done,
                        GError **error)
{
    GPtrArray *news = g_ptr_array_new_with_free_func(g_free);
    GPtrArray *differences =
        differences_naming(draft->program, image, &draft->image, since, news);
    char *next;

    *done = !feels && news->len == 0;
    next = feels   ? with_differences(draft, differences, "feel ", size, error)
           : *done ? with_differences(draft, differences, "", size, error)
                   : with_names(draft, news, size, error);
    g_ptr_array_unref(differences);
    g_ptr_array_unref(news);
    return next;
}

char *uvk_live_pull(const struct uvk_program *program, const struct uvk_image *image,
                    const struct uvk_image *since, size_t *size, GError **error)
{
    const struct uvk_source *source = program->sources->pdata[0];
    char *text = g_strndup(source->text, source->size);
    bool done = false;

    *size = source->size;
    for (unsigned round = 0; round < ROUNDS && text != NULL && !done; round++) {
        struct draft draft;
        char *next = NULL;
        if (read_draft(&draft, source->path, text, *size, error)) {
            next = next_round(&draft, image, since, round == 0, size, &done, error);
        }
        g_free(text);
        text = next;
        clear_draft(&draft);
    }
    if (text != NULL) {
        char *named = uvk_edit_name_keys((struct uvk_program *)program, text, size, NULL);
        g_free(text);
        text = named;
    }
    if (text != NULL && !says_so(source->path, text, *size, image, since, error)) {
        g_clear_pointer(&text, g_free);
    }
    return text;
}
