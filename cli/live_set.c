/* live_set.c - one change, in the text and in the keyboard: both, or neither. */
#include "live.h"

#include "uvrek/edit.h"
#include "uvrek/files.h"

#include <glib/gstdio.h>
#include <stdio.h>
#include <string.h>

/* ---- what is to change ------------------------------------------------------------------ */

/* KEY [on LAYER] CELL, or one STATEMENT, or KEY and WITH change places. */
struct change {
    const char *key, *layer, *cell;
    const char *statement;
    const char *with;
};

static bool read_change(int count, char **words, struct change *change)
{
    memset(change, 0, sizeof *change);
    if (count == 1) {
        change->statement = words[0];
        return true;
    }
    change->key = words[0];
    if (count == 2) {
        change->cell = words[1];
        return true;
    }
    if (count == 4 && strcmp(words[1], "on") == 0) {
        change->layer = words[2];
        change->cell = words[3];
        return true;
    }
    complain("a change is KEY CELL, or KEY on LAYER CELL, or one STATEMENT in quotes");
    return false;
}

static const char *place_at(size_t index, const void *data)
{
    return g_ptr_array_index((GPtrArray *)data, index);
}

static void complain_cell(const struct uvk_board *board, const char *name)
{
    unsigned count = uvk_board_cells(board);
    GPtrArray *places = g_ptr_array_new_with_free_func(g_free);

    for (unsigned i = 0; i < count; i++) {
        g_ptr_array_add(places, uvk_cell_place(board, i));
    }
    complain_name("the board has no key", name, uvk_nearest(name, count, place_at, places));
    g_ptr_array_unref(places);
}

static int find_cell(const struct uvk_board *board, const char *name)
{
    int cell = uvk_cell_at(board, name);

    if (cell < 0) {
        complain_cell(board, name);
    }
    return cell;
}

/* ---- the new text ----------------------------------------------------------------------- */

static bool edit_cell(struct session *session, struct uvk_edits *edits,
                      const struct change *change, GError **error)
{
    const struct uvk_keymap *keymap = session->program->keymap;
    int layer = change->layer != NULL ? find_layer(keymap, change->layer) : 0;
    int cell = layer >= 0 ? find_cell(session->program->board, change->key) : -1;

    return cell >= 0 && uvk_edit_cell(edits, session->program, (unsigned)layer, (unsigned)cell,
                                      change->cell, error);
}

/* A cell as the text has it; NULL: it has none of its own. */
static char *cell_text(const struct uvk_layer_text *layer, unsigned cell)
{
    struct uvk_place place = layer->places[cell];

    return place.source != NULL ? g_strndup(place.source->text + place.at, place.length) : NULL;
}

/* What two keys do on LAYER changes places. */
static bool swap_on(struct session *session, struct uvk_edits *edits, unsigned layer,
                    unsigned a, unsigned b, GError **error)
{
    const struct uvk_layer_text *in = &session->program->keymap->layers[layer];
    char *first = cell_text(in, a);
    char *second = cell_text(in, b);
    bool good = false;

    if (first == NULL || second == NULL) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE,
                    "on the layer '%s' one of these cells is one of several that a name stands "
                    "for, or is not written",
                    in->name);
    } else {
        good = strcmp(first, second) == 0 ||
               (uvk_edit_cell(edits, session->program, layer, a, second, error) &&
                uvk_edit_cell(edits, session->program, layer, b, first, error));
    }
    g_free(first);
    g_free(second);
    return good;
}

/* On all layers. */
static bool edit_swap(struct session *session, struct uvk_edits *edits,
                      const struct change *change, GError **error)
{
    const struct uvk_board *board = session->program->board;
    int a = find_cell(board, change->key);
    int b = a >= 0 ? find_cell(board, change->with) : -1;
    bool good = b >= 0;

    for (unsigned i = 0; good && i < session->program->keymap->layer_count; i++) {
        good = swap_on(session, edits, i, (unsigned)a, (unsigned)b, error);
    }
    return good;
}

static bool edit(struct session *session, struct uvk_edits *edits, const struct change *change,
                 GError **error)
{
    return change->with != NULL ? edit_swap(session, edits, change, error)
           : change->statement != NULL
               ? uvk_edit_put(edits, session->program->keymap->place, change->statement, error)
               : edit_cell(session, edits, change, error);
}

/* NULL: *ERROR, if it has not been told. NAMED: how many names of keys became addresses. */
static char *edited(struct session *session, const struct change *change, size_t *size,
                    unsigned *named, GError **error)
{
    struct uvk_edits *edits = uvk_edits_new(session->program->sources->pdata[0]);
    char *text = edit(session, edits, change, error) ? uvk_edits_apply(edits, size) : NULL;
    char *whole = NULL;

    if (text != NULL && change->with != NULL) {
        /* a combo that names its keys by what they tap goes with them */
        whole = g_steal_pointer(&text);
    } else if (text != NULL) {
        whole = uvk_edit_name_keys(session->program, text, size, named);
    }
    g_free(text);
    uvk_edits_free(edits);
    return whole;
}

/* ---- both, or neither ------------------------------------------------------------------- */

/* The keyboard is found, its door open, and it does what the text says. */
static bool begin(struct session *session, GError **error)
{
    const struct uvk_image *before;

    if ((session->live == NULL && !session_find(session, error)) ||
        !session_open(session, error)) {
        return false;
    }
    before = uvk_live_image(session->live, error);
    if (before == NULL) {
        return false;
    }
    if (!uvk_same_image(before, &session->wanted)) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_WELL,
                    "the keyboard does not do what %s says; `uvrek live diff` says what "
                    "differs, `uvrek live push` makes it so",
                    session->path);
        return false;
    }
    return true;
}

/* What the keys do is the same: then the text tells what it says now. */
static void print_lines(const struct session *session, const struct session *next)
{
    const struct uvk_source *before = session->program->sources->pdata[0];
    const struct uvk_source *after = next->program->sources->pdata[0];
    char **old = g_strsplit(before->text, "\n", -1);
    char **new = g_strsplit(after->text, "\n", -1);
    guint old_end = g_strv_length(old);
    guint new_end = g_strv_length(new);
    guint at = 0;

    while (at < old_end && at < new_end && strcmp(old[at], new[at]) == 0) {
        at++;
    }
    while (old_end > at && new_end > at && strcmp(old[old_end - 1], new[new_end - 1]) == 0) {
        old_end--;
        new_end--;
    }
    puts(at == old_end && at == new_end
             ? "the text said so already"
             : "no key does anything else than before; these lines of the text changed:");
    for (guint i = at; i < old_end; i++) {
        printf("  - %s\n", g_strstrip(old[i]));
    }
    for (guint i = at; i < new_end; i++) {
        printf("  + %s\n", g_strstrip(new[i]));
    }
    g_strfreev(new);
    g_strfreev(old);
}

static void print_done(const struct session *session, const struct session *next,
                       unsigned needed)
{
    GPtrArray *differences =
        uvk_live_differences(next->program, &session->wanted, &next->wanted, NULL);
    char *name = keyboard_text(&session->facts);

    if (session->wishes->as_json) {
        json_t *json = json_object();
        put_text(json, "keyboard", name);
        differences_to_json(json, differences, NULL);
        put_number(json, "used", needed);
        put_number(json, "room", session->facts.room);
        print_json(json);
    } else {
        for (guint i = 0; i < differences->len; i++) {
            const struct uvk_difference *difference = differences->pdata[i];
            printf("%s: %s -> %s\n", difference->where,
                   difference->before != NULL ? difference->before : "(none)",
                   difference->after != NULL ? difference->after : "(none)");
        }
        if (differences->len == 0 && !session->is_shown) {
            print_lines(session, next);
        }
        printf("in %s, and in %s, which keeps it: %u of %u bytes of its room\n", session->path,
               name, needed, session->facts.room);
    }
    g_free(name);
    g_ptr_array_unref(differences);
}

/* The text of SESSION becomes TEXT, in both places; the exit status. */
static int change_both(struct session *session, const char *text, size_t size,
                       const char *undone)
{
    const struct uvk_source *source = session->program->sources->pdata[0];
    struct session next;
    GError *error = NULL;
    unsigned needed = 0;
    int status = STATUS_WELL;

    if (!session_of_text(&next, session->path, text, size)) {
        print_messages(&next.program->messages);
        session_end(&next);
        return STATUS_NOT_WELL;
    }
    if (!begin(session, &error) || !both_become(session, &next, text, size, &needed, &error) ||
        (undone == NULL && strcmp(source->text, text) != 0 &&
         !undo_keep(session->path, source->text, text, size, &error))) {
        status = print_problem(error);
    } else {
        if (undone != NULL) {
            (void)g_unlink(undone);
        }
        print_done(session, &next, needed);
    }
    session_end(&next);
    return status;
}

/* A key with nothing behind it is no statement. */
static bool lacks_cell(const struct session *session, const struct change *change)
{
    if (change->statement == NULL ||
        uvk_cell_at(session->program->board, change->statement) < 0) {
        return false;
    }
    complain("what is %s to do? Say so behind it: KEY CELL, or KEY on LAYER CELL",
             change->statement);
    return true;
}

/* Do CHANGE, which is about SESSION's text; the exit status. */
static int make_change(struct session *session, const struct change *change)
{
    GError *error = NULL;
    size_t size = 0;
    unsigned named = 0;
    char *text = edited(session, change, &size, &named, &error);
    int status;

    if (text == NULL) {
        return error != NULL ? print_problem(error) : STATUS_NOT_DONE;
    }
    status = change_both(session, text, size, NULL);
    if (status == STATUS_WELL && named > 0 && !session->wishes->as_json) {
        printf("%u place%s of %s name%s a key by its address now, as it taps something else\n",
               named, named == 1 ? "" : "s", session->path, named == 1 ? "s" : "");
    }
    g_free(text);
    return status;
}

int session_put(struct session *session, const char *statement)
{
    const struct change change = {.statement = statement};

    session->is_shown = true;
    return make_change(session, &change);
}

int live_set(const struct live_wishes *wishes, int count, char **words)
{
    struct session session;
    struct change change;
    int status;

    if (!read_change(count - 1, words + 1, &change)) {
        return STATUS_NOT_DONE;
    }
    if (!session_read(&session, wishes, words[0], &status)) {
        return status;
    }
    status = lacks_cell(&session, &change) ? STATUS_NOT_DONE : make_change(&session, &change);
    session_end(&session);
    return status;
}

int live_swap(const struct live_wishes *wishes, int count, char **words)
{
    const struct change change = {.key = words[1], .with = words[2]};
    struct session session;
    int status;

    (void)count;
    if (!session_read(&session, wishes, words[0], &status)) {
        return status;
    }
    status = make_change(&session, &change);
    session_end(&session);
    return status;
}

int live_undo(const struct live_wishes *wishes, int count, char **words)
{
    struct session session;
    const struct uvk_source *source;
    GError *error = NULL;
    char *file = NULL;
    char *text;
    int status;

    (void)count;
    if (!session_read(&session, wishes, words[0], &status)) {
        return status;
    }
    source = session.program->sources->pdata[0];
    text = undo_last(session.path, source->text, source->size, &file, &error);
    status =
        text != NULL ? change_both(&session, text, strlen(text), file) : print_problem(error);
    g_free(text);
    g_free(file);
    session_end(&session);
    return status;
}
