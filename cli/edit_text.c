/* edit_text.c - changes that `uvrek live edit` makes: in the text, and in the keyboard where
 * that does what the text says. */
#include "canvas.h"
#include "edit.h"

#include "uvrek/edit.h"
#include "uvrek/files.h"

#include <glib/gstdio.h>
#include <string.h>

static const struct uvk_source *source_of(const struct editor *editor)
{
    return editor->session->program->sources->pdata[0];
}

/* NEXT is the session's text from now on; a file that it uses may have changed as well. */
static void take(struct editor *editor, struct session *next)
{
    struct session *session = editor->session;
    unsigned cells = uvk_board_cells(next->program->board);

    if (cells != uvk_board_cells(session->program->board)) {
        g_free(editor->pressed);
        editor->pressed = g_new0(bool, cells);
    }
    editor->cell = MIN(editor->cell, cells - 1);
    editor->layer = MIN(editor->layer, next->program->keymap->layer_count - 1);

    offers_free(editor->offers);
    uvk_program_free(session->program);
    g_free(session->bytes);
    session->program = next->program;
    session->bytes = next->bytes;
    session->size = next->size;
    session->wanted = next->wanted;
    editor->offers = offers_new(session->program);
}

static void tell_mistake(struct editor *editor, const struct session *next)
{
    const struct uvk_messages *messages = &next->program->messages;
    const struct uvk_message *first = messages->list->len > 0 ? messages->list->pdata[0] : NULL;

    editor_tell(editor, "nothing was changed: %s",
                first != NULL ? first->text : "the keymap would be too large");
}

/* The door was closed meanwhile: it is opened again, on a screen of its own. */
static bool open_again(struct editor *editor, GError **error)
{
    bool good;

    if (!uvk_live_who(editor->session->live, &editor->session->facts, error)) {
        return false;
    }
    if (editor->session->facts.door == UVK_DOOR_IS_OPEN) {
        return true;
    }
    canvas_leave();
    good = session_open(editor->session, error);
    canvas_return();
    return good && edit_listen(editor, error);
}

static bool write_both(struct editor *editor, const struct session *next, const char *text,
                       size_t size, unsigned *needed, GError **error)
{
    return editor->linked ? open_again(editor, error) &&
                                both_become(editor->session, next, text, size, needed, error)
                          : uvk_file_write(editor->session->path, text, size, error);
}

/* TEXT becomes the text, in both places. False: it has been told why not. */
static bool become(struct editor *editor, const char *text, size_t size)
{
    struct session next;
    GError *error = NULL;
    unsigned needed = 0;
    bool good = session_of_text(&next, editor->session->path, text, size);

    if (!good) {
        tell_mistake(editor, &next);
        session_end(&next);
        return false;
    }
    if (!write_both(editor, &next, text, size, &needed, &error)) {
        editor_tell(editor, "nothing was changed: %s", error->message);
        g_error_free(error);
        session_end(&next);
        return false;
    }
    take(editor, &next);
    if (editor->linked) {
        editor_tell(editor, "in the text and the keyboard: %u of %u bytes of its room", needed,
                    editor->session->facts.room);
    } else {
        editor_tell(editor, "in the text");
    }
    return true;
}

/* ---- a cell ----------------------------------------------------------------------------- */

/* The text with the chosen cell changed; NULL: *ERROR. */
static char *with_cell(struct editor *editor, const char *cell, size_t *size, GError **error)
{
    struct uvk_program *program = editor->session->program;
    struct uvk_edits *edits = uvk_edits_new(source_of(editor));
    char *changed = NULL;
    char *text = NULL;

    if (uvk_edit_cell(edits, program, editor->layer, editor->cell, cell, error)) {
        changed = uvk_edits_apply(edits, size);
        text = uvk_edit_name_keys(program, changed, size, NULL);
        g_free(changed);
    }
    uvk_edits_free(edits);
    return text;
}

void edit_put(struct editor *editor, const char *cell)
{
    GError *error = NULL;
    size_t size = 0;
    char *text = with_cell(editor, cell, &size, &error);
    char *before = g_strdup(source_of(editor)->text);

    if (text == NULL) {
        editor_tell(editor, "nothing was changed: %s", error->message);
        g_clear_error(&error);
    } else if (strcmp(text, before) == 0) {
        editor_tell(editor, "that is what it does");
    } else if (become(editor, text, size)) {
        g_ptr_array_set_size(editor->redo, 0);
        if (!undo_keep(editor->session->path, before, text, size, &error)) {
            editor_tell(editor, "it was changed, but cannot be undone: %s", error->message);
            g_clear_error(&error);
        }
    }
    g_free(before);
    g_free(text);
}

/* ---- back and forth --------------------------------------------------------------------- */

void edit_undo(struct editor *editor)
{
    const struct uvk_source *source = source_of(editor);
    GError *error = NULL;
    char *file = NULL;
    char *now = g_strdup(source->text);
    char *text = undo_last(editor->session->path, now, source->size, &file, &error);

    if (text == NULL) {
        editor_tell(editor, "%s", error->message);
        g_error_free(error);
    } else if (become(editor, text, strlen(text))) {
        (void)g_unlink(file);
        g_ptr_array_add(editor->redo, g_steal_pointer(&now));
        editor_tell(editor, "taken back; Ctrl+Y does it again");
    }
    g_free(now);
    g_free(text);
    g_free(file);
}

void edit_redo(struct editor *editor)
{
    GError *error = NULL;
    char *before = g_strdup(source_of(editor)->text);
    char *text;

    if (editor->redo->len == 0) {
        editor_tell(editor, "nothing was taken back");
        g_free(before);
        return;
    }
    text = g_strdup(editor->redo->pdata[editor->redo->len - 1]);
    if (become(editor, text, strlen(text))) {
        g_ptr_array_set_size(editor->redo, (gint)editor->redo->len - 1);
        if (!undo_keep(editor->session->path, before, text, strlen(text), &error)) {
            editor_tell(editor, "done again, but it cannot be undone: %s", error->message);
            g_clear_error(&error);
        }
    }
    g_free(before);
    g_free(text);
}

void edit_push(struct editor *editor)
{
    struct session *session = editor->session;
    GError *error = NULL;
    unsigned needed = 0;

    if (session->live == NULL) {
        editor_tell(editor, "no keyboard is here");
    } else if (open_again(editor, &error) &&
               uvk_live_change(session->live, &session->wanted, &needed, &error) &&
               uvk_live_is_kept(session->live, &error)) {
        editor->linked = true;
        editor_tell(editor, "the keyboard does what the text says: %u of %u bytes of its room",
                    needed, session->facts.room);
    } else {
        editor_tell(editor, "%s", error->message);
        g_clear_error(&error);
    }
}
