/* edit_hear.c - the keyboard that is edited: which keys are down, which layers are on, and the
 * press that chooses a key.
 *
 * That press is typed into the terminal, too, if it is the keyboard that one types on: sooner
 * or later than it is heard of here. So what the terminal gets is no word until all keys are up
 * and nothing has come for a while.
 */
#include "edit.h"

#include "uvrek/bench.h"

#include <string.h>

#define QUIET_US 150000
#define MASK     (1u << UVK_EVENT_CONTACT | 1u << UVK_EVENT_LAYERS)

static void lose(struct editor *editor, GError *error)
{
    editor_tell(editor, "%s: only the text is changed from now on", error->message);
    g_error_free(error);
    g_clear_pointer(&editor->session->live, uvk_live_close);
    editor->linked = false;
    editor->awaits = AWAITS_WORDS;
    memset(editor->pressed, 0, uvk_board_cells(editor->session->program->board));
}

bool edit_listen(struct editor *editor, GError **error)
{
    g_array_set_size(editor->events.layers, 0);
    editor->awaits = AWAITS_QUIET;
    editor->quiet_since = g_get_monotonic_time();
    return uvk_live_watch(editor->session->live, MASK, error);
}

/* ---- contacts and layers ---------------------------------------------------------------- */

static void choose(struct editor *editor, unsigned cell)
{
    editor_choose(editor, editor->layer, cell);
    editor->chosen_on = editor->layer;
    editor->awaits = AWAITS_RELEASE;
    editor_tell(editor, "%s", "");
}

/* A turn of a knob goes down only. While the first key is down, a key on its layer may be what
 * is meant. */
static void contact(struct editor *editor, const struct uvk_live_event *event)
{
    const struct uvk_board *board = editor->session->program->board;

    if (event->key >= uvk_board_cells(board)) {
        return;
    }
    editor->quiet_since = g_get_monotonic_time();
    if (event->key < board->key_count) {
        editor->pressed[event->key] = event->on;
    }
    if (event->on && editor->awaits >= AWAITS_PRESS) {
        choose(editor, event->key);
    }
}

/* What is told from outside may name a layer that there is not. */
static void follow_layers(struct editor *editor)
{
    const GArray *layers = editor->events.layers;
    unsigned last =
        layers->len > 0 ? g_array_index(layers, uint8_t, layers->len - 1) : editor->layer;

    if (editor->layers_changed && last < editor->session->program->keymap->layer_count) {
        editor->layer = last;
    }
    editor->layers_changed = false;
}

static bool all_are_up(const struct editor *editor)
{
    unsigned count = editor->session->program->board->key_count;

    return memchr(editor->pressed, 1, count) == NULL;
}

/* Whoever has chosen a key on a layer has let go of the key for that layer by then. */
static void grow_quiet(struct editor *editor)
{
    if (!all_are_up(editor) || g_get_monotonic_time() - editor->quiet_since < QUIET_US) {
        return;
    }
    if (editor->awaits == AWAITS_RELEASE) {
        editor->awaits = AWAITS_WORDS;
        editor->layer = editor->chosen_on;
    } else if (editor->awaits == AWAITS_QUIET) {
        editor->awaits = AWAITS_PRESS;
        follow_layers(editor);
    }
}

void edit_hear(struct editor *editor, unsigned ms)
{
    struct uvk_live_event event;
    GError *error = NULL;
    int come;

    while ((come = uvk_live_next(editor->session->live, ms, &event, &error)) > 0) {
        (void)events_take(&editor->events, &event);
        if (event.kind == UVK_EVENT_CONTACT) {
            contact(editor, &event);
        } else if (event.kind == UVK_EVENT_LAYERS) {
            editor->layers_changed = true;
        }
        if (editor->awaits != AWAITS_WORDS) {
            follow_layers(editor);
        }
        ms = 0;
    }
    if (come < 0) {
        lose(editor, error);
    } else {
        grow_quiet(editor);
    }
}
