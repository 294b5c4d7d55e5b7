/* live_edit.c - `uvrek live edit`: from its start to its end. */
#include "canvas.h"
#include "edit.h"

#include <stdio.h>
#include <string.h>

#define LOOK_MS  20 /* between two looks at the keyboard */
#define WAIT_MS  200
#define TYPED_MS 60 /* so late the keyboard may tell of a press that the terminal has got */

/* ---- the keyboard ----------------------------------------------------------------------- */

/* Does the keyboard do what the text says? Only then it is changed with it. */
static bool link_up(struct editor *editor, GError **error)
{
    struct session *session = editor->session;
    const struct uvk_image *image = uvk_live_image(session->live, error);
    GPtrArray *differences;

    if (image == NULL) {
        return false;
    }
    editor->linked = uvk_same_image(image, &session->wanted);
    if (!editor->linked) {
        differences = uvk_live_differences(session->program, image, &session->wanted, NULL);
        editor_tell(
            editor,
            "the keyboard differs from the text in %u: Ctrl+P makes it do what the text "
            "says, `live pull` the other way round",
            differences->len);
        g_ptr_array_unref(differences);
    }
    return true;
}

/* Without a keyboard the text alone is changed, but one that was named has to be there. */
static bool find_keyboard(struct editor *editor, GError **error)
{
    struct session *session = editor->session;
    GError *why = NULL;

    if (session_find(session, &why)) {
        return session_open(session, error) && link_up(editor, error) &&
               edit_listen(editor, error);
    }
    g_clear_pointer(&session->live, uvk_live_close);
    if (session->wishes->at != NULL) {
        g_propagate_error(error, why);
        return false;
    }
    editor_tell(editor, "the text alone is changed: %s", why->message);
    g_error_free(why);
    return true;
}

/* ---- the loop --------------------------------------------------------------------------- */

/* What comes from the keyboard that is edited is heard of by its door, too: a press that
 * chooses is no word. A letter that comes too early is forgotten when it chooses; what does
 * something waits.
 */
static void take_key(struct editor *editor, int key, bool is_code)
{
    bool waits = is_code || key < ' ';

    if (waits && (editor->awaits == AWAITS_PRESS || editor->awaits == AWAITS_QUIET)) {
        edit_hear(editor, TYPED_MS);
    }
    if (editor->awaits == AWAITS_RELEASE) {
        editor->quiet_since = g_get_monotonic_time();
    } else {
        edit_typed(editor, key, is_code);
    }
}

/* All that has been typed, waited for up to MS. */
static void take_keys(struct editor *editor, unsigned ms)
{
    int key;
    bool is_code;

    while (!editor->done && canvas_key(ms, &key, &is_code)) {
        take_key(editor, key, is_code);
        ms = 0;
    }
}

static void work(struct editor *editor)
{
    while (!editor->done) {
        screen_draw(editor);
        if (editor->session->live != NULL) {
            edit_hear(editor, 0);
        }
        take_keys(editor, editor->session->live != NULL ? LOOK_MS : WAIT_MS);
    }
}

static int edit(struct editor *editor)
{
    GError *error = NULL;

    if (!find_keyboard(editor, &error) ||
        !canvas_begin("`live set` changes one thing", &error)) {
        return print_problem(error);
    }
    work(editor);
    canvas_leave();
    if (editor->session->live != NULL) {
        (void)uvk_live_watch(editor->session->live, 0, NULL);
    }
    return STATUS_WELL;
}

int live_edit(const struct live_wishes *wishes, int count, char **words)
{
    struct session session;
    struct editor editor = {.session = &session};
    int status;

    (void)count;
    if (!session_read(&session, wishes, words[0], &status)) {
        return status;
    }
    editor.offers = offers_new(session.program);
    editor.redo = g_ptr_array_new_with_free_func(g_free);
    editor.typed = g_string_new(NULL);
    editor.pressed = g_new0(bool, uvk_board_cells(session.program->board));
    events_init(&editor.events);
    status = edit(&editor);
    g_clear_pointer(&editor.places, g_array_unref);
    events_clear(&editor.events);
    g_free(editor.pressed);
    g_free(editor.told);
    g_string_free(editor.typed, TRUE);
    g_ptr_array_unref(editor.redo);
    offers_free(editor.offers);
    session_end(&session);
    return status;
}
