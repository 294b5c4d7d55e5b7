/* edit_screen.c - the screen of `uvrek live edit`: the layer in boxes, what is chosen, what it
 * could be. Nothing is told by colour. */
#include "canvas.h"
#include "edit.h"

#include "uvrek/explain.h"

#include <string.h>

#define BELOW        9  /* lines below the picture, of which three are offers */
#define PICKED_LINES 3  /* at most, of the offer that is picked */
#define NAME_ROOM    24 /* characters for an offer, before its sentence */
#define LINES_LEAST  16
#define COLS_LEAST   60

/* ---- the picture ------------------------------------------------------------------------ */

static unsigned picture_lines(void)
{
    return (unsigned)MAX(LINES - 1 - BELOW, 1);
}

static struct uvk_view *view_of(const struct editor *editor)
{
    return uvk_layer_view(editor->session->program, editor->layer, (unsigned)COLS,
                          picture_lines());
}

static void draw_picture(const struct editor *editor, const struct canvas_frame *frame)
{
    const struct uvk_view *view = frame->view;

    canvas_lines(frame);
    for (unsigned cell = 0; cell < view->spot_count; cell++) {
        const struct uvk_spot *spot = &view->spots[cell];
        attr_t attributes = spot->through ? A_DIM : A_BOLD;
        canvas_paint(frame, spot, cell == editor->cell ? A_REVERSE | A_BOLD : attributes);
        if (editor->pressed[cell]) {
            canvas_thicken(frame, spot);
        }
    }
}

unsigned screen_beside(const struct editor *editor, int right, int down)
{
    struct uvk_view *view = view_of(editor);
    unsigned cell = canvas_beside(view, editor->cell, right, down);

    uvk_view_free(view);
    return cell;
}

/* ---- below it --------------------------------------------------------------------------- */

static bool is_on(const struct editor *editor, unsigned layer)
{
    for (guint i = 0; i < editor->events.layers->len; i++) {
        if (g_array_index(editor->events.layers, uint8_t, i) == layer) {
            return true;
        }
    }
    return false;
}

/* Those that are on in the keyboard have a dot. */
static void draw_layers(const struct editor *editor, int y)
{
    const struct uvk_program *program = editor->session->program;
    const struct uvk_keymap *keymap = program->keymap;
    int x = canvas_put(y, 0, A_NORMAL, "layers");

    for (unsigned i = 0; i < keymap->layer_count; i++) {
        char *name =
            g_strdup_printf(" %s%s ", is_on(editor, i) ? "●" : "", keymap->layers[i].name);
        x = canvas_put(y, x + 1, i == editor->layer ? A_REVERSE : A_NORMAL, name);
        g_free(name);
    }
}

static void draw_cell(const struct editor *editor, int y)
{
    const struct uvk_program *program = editor->session->program;
    const struct uvk_keymap *keymap = program->keymap;
    char *place = uvk_cell_place(program->board, editor->cell);
    char *name = uvk_cell_name(program, &keymap->layers[editor->layer].cells[editor->cell]);
    char *head =
        g_strdup_printf("%s on %s: %s", place, keymap->layers[editor->layer].name, name);
    char *sentence = uvk_cell_sentence(program, editor->layer, editor->cell);

    (void)canvas_put(y, 0, A_BOLD, head);
    (void)canvas_wrapped(y + 1, 2, 1, sentence);
    g_free(sentence);
    g_free(head);
    g_free(name);
    g_free(place);
}

static void draw_typed(const struct editor *editor, int y)
{
    const char *asked = editor->typed->len > 0          ? editor->typed->str
                        : editor->session->live == NULL ? "type what it is to do"
                        : editor->awaits == AWAITS_RELEASE
                            ? "let go of it, then type what it is to do"
                        : editor->awaits == AWAITS_PRESS
                            ? "press a key of the keyboard; or type what this one is to do"
                            : "type what it is to do; Esc chooses another key";

    (void)canvas_put(y, 0, A_BOLD, "> ");
    (void)canvas_put(y, 2, editor->typed->len > 0 ? A_NORMAL : A_DIM, asked);
}

/* What is offered at INDEX, and a sentence about it; in full of the one that is picked. Returns
 * how many lines it takes. */
static int put_offer(const struct editor *editor, int y, int lines, unsigned index)
{
    bool picked = index == editor->picked;
    const char *text = offer_text(editor->offers, index);
    const char *also = offer_also(editor->offers, index);
    bool good;
    char *sentence = offer_sentence(editor->offers, text, &good);
    char *whole =
        also != NULL ? g_strdup_printf("%s (%s)", sentence, also) : g_strdup(sentence);
    int used;

    (void)canvas_put(y, 2, picked ? A_REVERSE : A_NORMAL, text);
    used = canvas_wrapped(y, MAX(2 + NAME_ROOM, 4 + (int)g_utf8_strlen(text, -1)),
                          picked ? MIN(lines, PICKED_LINES) : 1, whole);
    g_free(whole);
    g_free(sentence);
    return used;
}

/* A place, and what is there: in full of the one that is picked. Returns how many lines. */
static int put_place(const struct editor *editor, int y, int lines, unsigned index)
{
    const struct uvk_program *program = editor->session->program;
    const struct offer_place *place = &g_array_index(editor->places, struct offer_place, index);
    const struct uvk_layer_text *layer = &program->keymap->layers[place->layer];
    const struct uvk_value *cell = &layer->cells[place->cell];
    bool picked = index == editor->picked;
    char *address = uvk_cell_place(program->board, place->cell);
    char *name = uvk_cell_name(program, cell);
    char *sentence = uvk_value_sentence(program, cell);
    char *text = g_strdup_printf("%s on %s", address, layer->name);
    char *whole = g_strdup_printf("%s: %s", name, sentence);
    int used;

    (void)canvas_put(y, 2, picked ? A_REVERSE : A_NORMAL, text);
    used = canvas_wrapped(y, 2 + NAME_ROOM, picked ? MIN(lines, PICKED_LINES) : 1, whole);
    g_free(whole);
    g_free(text);
    g_free(sentence);
    g_free(name);
    g_free(address);
    return used;
}

/* Why what was typed is no cell yet. */
static void put_why_not(const struct editor *editor, int y)
{
    bool good;
    char *why = offer_sentence(editor->offers, editor->typed->str, &good);

    (void)canvas_wrapped(y, 2, PICKED_LINES, why);
    g_free(why);
}

static void draw_found(const struct editor *editor, int y, int lines)
{
    int end = y + lines;
    unsigned room = (unsigned)MAX(lines - PICKED_LINES + 1, 1);
    unsigned first = editor->picked >= room ? editor->picked - room + 1 : 0;

    if (editor->found == 0 && editor->typed->len > 0 && !editor_is_search(editor)) {
        put_why_not(editor, y);
    }
    for (unsigned i = first; i < editor->found && y < end; i++) {
        y += editor->places != NULL ? put_place(editor, y, end - y, i)
                                    : put_offer(editor, y, end - y, i);
    }
}

static char *count_text(const struct editor *editor)
{
    return editor->found == 0 ? g_strdup("")
                              : g_strdup_printf("%u of %u", editor->picked + 1, editor->found);
}

static const char help[] =
    "Enter set it  ↑↓←→ choose  Tab layer  ^Z undo  ^Y redo  ^F find  ^Q leave";

static void draw_title(const struct editor *editor)
{
    char *keyboard =
        editor->session->live != NULL ? keyboard_text(&editor->session->facts) : NULL;
    char *right = keyboard == NULL ? g_strdup("no keyboard")
                  : editor->linked ? g_strdup(keyboard)
                                   : g_strdup_printf("%s, not changed with it", keyboard);

    canvas_bar(0, editor->session->path, right);
    g_free(right);
    g_free(keyboard);
}

/* A long message takes the line above its own, too. */
static void draw_told(const struct editor *editor)
{
    const char *told = editor->told != NULL ? editor->told : "";
    bool is_long = g_utf8_strlen(told, -1) > COLS;

    if (is_long) {
        (void)move(LINES - 3, 0);
        (void)clrtoeol();
    }
    (void)canvas_wrapped(is_long ? LINES - 3 : LINES - 2, 0, 2, told);
}

static void draw_all(const struct editor *editor)
{
    struct uvk_view *view = view_of(editor);
    struct canvas_frame frame = canvas_frame(view, editor->cell, (int)picture_lines());
    char *count = count_text(editor);
    int y = 1 + frame.lines;

    draw_title(editor);
    draw_picture(editor, &frame);
    draw_layers(editor, y);
    draw_cell(editor, y + 1);
    draw_typed(editor, y + 3);
    (void)canvas_put(y + 3, MAX(COLS - (int)strlen(count) - 1, 0), A_DIM, count);
    draw_found(editor, y + 4, LINES - y - 6);
    draw_told(editor);
    (void)canvas_put(LINES - 1, 0, A_DIM, help);
    (void)move(y + 3, MIN(2 + (int)g_utf8_strlen(editor->typed->str, -1), COLS - 1));
    g_free(count);
    uvk_view_free(view);
}

void screen_draw(const struct editor *editor)
{
    (void)erase();
    if (LINES < LINES_LEAST || COLS < COLS_LEAST) {
        (void)canvas_put(0, 0, A_NORMAL, "This needs 60 columns and 16 lines.");
    } else {
        draw_all(editor);
    }
    (void)refresh();
}
