/* edit_typed.c - what the terminal gets while `uvrek live edit` is on. */
#include "edit.h"

#include <curses.h>
#include <string.h>

#define CTRL(letter) ((letter)&0x1F)
#define ESCAPE       27
#define ENTER        '\r'
#define DELETE       127
#define LONGEST      200 /* characters of a cell */

/* The next press on the keyboard chooses a key again. */
static void arm(struct editor *editor)
{
    if (editor->session->live != NULL) {
        editor->awaits = AWAITS_QUIET;
    }
    editor->quiet_since = g_get_monotonic_time();
}

/* ---- acts ------------------------------------------------------------------------------- */

static void leave(struct editor *editor)
{
    editor->done = true;
}

static void go_to_place(struct editor *editor)
{
    const struct offer_place place =
        g_array_index(editor->places, struct offer_place, editor->picked);

    editor_choose(editor, place.layer, place.cell);
}

static void enter(struct editor *editor)
{
    if (editor->found == 0) {
        if (editor->typed->len > 0) {
            editor_tell(editor,
                        editor_is_search(editor) ? "it is nowhere" : "there is no such cell");
        }
        return;
    }
    if (editor_is_search(editor)) {
        go_to_place(editor);
    } else {
        char *cell = g_strdup(offer_text(editor->offers, editor->picked));
        edit_put(editor, cell);
        g_free(cell);
        editor_forget(editor);
    }
    arm(editor);
}

static void escape(struct editor *editor)
{
    editor_forget(editor);
    arm(editor);
    editor_tell(editor, "%s",
                editor->session->live != NULL ? "press a key of the keyboard to choose it"
                                              : "");
}

static void turn_layers(struct editor *editor, unsigned by)
{
    editor->layer = (editor->layer + by) % editor->session->program->keymap->layer_count;
    editor_forget(editor);
}

static void next_layer(struct editor *editor)
{
    turn_layers(editor, 1);
}

static void layer_before(struct editor *editor)
{
    turn_layers(editor, editor->session->program->keymap->layer_count - 1);
}

static void search(struct editor *editor)
{
    g_string_assign(editor->typed, "?");
    editor_look(editor);
}

/* With nothing typed the arrows choose a key, else what to make of it. */
static void up(struct editor *editor)
{
    if (editor->typed->len == 0) {
        editor->cell = screen_beside(editor, 0, -1);
    } else if (editor->picked > 0) {
        editor->picked--;
    }
}

static void down(struct editor *editor)
{
    if (editor->typed->len == 0) {
        editor->cell = screen_beside(editor, 0, 1);
    } else if (editor->picked + 1 < editor->found) {
        editor->picked++;
    }
}

static void left(struct editor *editor)
{
    if (editor->typed->len == 0) {
        editor->cell = screen_beside(editor, -1, 0);
    }
}

static void right(struct editor *editor)
{
    if (editor->typed->len == 0) {
        editor->cell = screen_beside(editor, 1, 0);
    }
}

static void rub_out(struct editor *editor)
{
    const char *text = editor->typed->str;

    if (editor->typed->len > 0) {
        const char *last = g_utf8_prev_char(text + editor->typed->len);
        g_string_truncate(editor->typed, (gsize)(last - text));
        editor_look(editor);
    }
}

static const struct {
    int key;
    bool is_code;
    void (*act)(struct editor *editor);
} acts[] = {
    {ENTER, false, enter},
    {'\n', false, enter},
    {KEY_ENTER, true, enter},
    {ESCAPE, false, escape},
    {'\t', false, next_layer},
    {KEY_BTAB, true, layer_before},
    {KEY_NPAGE, true, next_layer},
    {KEY_PPAGE, true, layer_before},
    {KEY_UP, true, up},
    {KEY_DOWN, true, down},
    {KEY_LEFT, true, left},
    {KEY_RIGHT, true, right},
    {KEY_BACKSPACE, true, rub_out},
    {DELETE, false, rub_out},
    {CTRL('h'), false, rub_out},
    {CTRL('z'), false, edit_undo},
    {CTRL('y'), false, edit_redo},
    {CTRL('f'), false, search},
    {CTRL('p'), false, edit_push},
    {CTRL('q'), false, leave},
    {CTRL('c'), false, leave},
};

void edit_typed(struct editor *editor, int key, bool is_code)
{
    for (size_t i = 0; i < G_N_ELEMENTS(acts); i++) {
        if (acts[i].key == key && acts[i].is_code == is_code) {
            acts[i].act(editor);
            return;
        }
    }
    if (!is_code && key >= ' ' && g_unichar_isprint((gunichar)key) &&
        g_utf8_strlen(editor->typed->str, -1) < LONGEST) {
        g_string_append_unichar(editor->typed, (gunichar)key);
        editor_look(editor);
    }
}
