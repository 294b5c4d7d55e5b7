/* edit_screen.c - the screen of `uvrek live edit`: the layer in boxes, what is chosen, what it
 * could be. Nothing is told by colour. */
#include "editor.h"

#include "uvrek/explain.h"
#include "uvrek/sheet.h"

#include <curses.h>
#include <locale.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

#define ESCAPE_MS    25
#define BELOW        9  /* lines below the picture, of which three are offers */
#define PICKED_LINES 3  /* at most, of the offer that is picked */
#define NAME_ROOM    24 /* characters for an offer, before its sentence */
#define LINES_LEAST  16
#define COLS_LEAST   60

/* ---- the terminal -------------------------------------------------------------------------
 */

bool screen_begin(GError **error)
{
    const char *kind = getenv("TERM");

    if (!isatty(STDIN_FILENO) || !isatty(STDOUT_FILENO)) {
        g_set_error_literal(error, UVK_PROBLEM, UVK_NOT_DONE,
                            "`live edit` needs a terminal; `live set` changes one thing");
        return false;
    }
    (void)setlocale(LC_CTYPE, "");
    if (newterm(kind, stdout, stdin) == NULL) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "no terminal of kind '%s' is known",
                    kind != NULL ? kind : "");
        return false;
    }
    (void)raw();
    (void)noecho();
    (void)nonl();
    (void)keypad(stdscr, TRUE);
    (void)set_escdelay(ESCAPE_MS);
    return true;
}

void screen_leave(void)
{
    (void)endwin();
}

void screen_return(void)
{
    (void)refresh();
    (void)clear();
}

bool screen_key(unsigned ms, int *key, bool *is_code)
{
    wint_t got = 0;
    int kind;

    timeout((int)ms);
    kind = get_wch(&got);
    *key = (int)got;
    *is_code = kind == KEY_CODE_YES;
    return kind != ERR;
}

/* ---- text on it ---------------------------------------------------------------------------
 */

/* TEXT from column X on, as much as the line takes. Returns where it ends. */
static int put(int y, int x, attr_t attributes, const char *text)
{
    glong room = COLS - x;
    glong length = g_utf8_strlen(text, -1);
    char *shown = g_utf8_substring(text, 0, CLAMP(room, 0, length));

    (void)attr_set(attributes, 0, NULL);
    (void)mvaddstr(y, x, shown);
    (void)attr_set(A_NORMAL, 0, NULL);
    g_free(shown);
    return x + (int)MIN(MAX(room, 0), length);
}

/* TEXT over at most LINES lines, broken at spaces. Returns how many it takes. */
static int put_wrapped(int y, int x, int lines, const char *text)
{
    char **words = g_strsplit(text, " ", -1);
    int at = x;
    int used = 1;

    for (char **word = words; *word != NULL; word++) {
        int length = (int)g_utf8_strlen(*word, -1);
        if (at > x && at + length > COLS) {
            if (used == lines) {
                break;
            }
            at = x;
            used++;
        }
        at = put(y + used - 1, at, A_NORMAL, *word) + 1;
    }
    g_strfreev(words);
    return used;
}

static void put_bar(int y, const char *left, const char *right)
{
    int at = COLS - (int)g_utf8_strlen(right, -1) - 1;

    (void)attr_set(A_REVERSE, 0, NULL);
    (void)mvhline(y, 0, ' ', COLS);
    (void)put(y, 1, A_REVERSE, left);
    if (at > (int)g_utf8_strlen(left, -1) + 2) {
        (void)put(y, at, A_REVERSE, right);
    }
}

/* ---- the picture --------------------------------------------------------------------------
 */

static unsigned picture_lines(void)
{
    return (unsigned)MAX(LINES - 1 - BELOW, 1);
}

static struct uvk_view *view_of(const struct editor *editor)
{
    return uvk_layer_view(editor->session->program, editor->layer, (unsigned)COLS,
                          picture_lines());
}

/* How far a view that is wider or higher than its room is moved, so that what is chosen shows.
 */
static int moved(int at, int size, int room, int whole)
{
    return whole <= room ? 0 : CLAMP(at + size / 2 - room / 2, 0, whole - room);
}

struct frame {
    const struct uvk_view *view;
    int left, top; /* of the view, in the corner */
    int lines;     /* that are shown */
};

static struct frame frame_of(const struct editor *editor, const struct uvk_view *view)
{
    const struct uvk_spot *spot = &view->spots[editor->cell];
    int lines = MIN((int)view->line_count, (int)picture_lines());

    return (struct frame){view, moved(spot->x, spot->width, COLS, (int)view->columns),
                          moved(spot->y, spot->height, lines, (int)view->line_count), lines};
}

/* The part of the view that lies at a spot, drawn with ATTRIBUTES. */
static void paint(const struct frame *frame, const struct uvk_spot *spot, attr_t attributes)
{
    for (int y = spot->y; y < spot->y + spot->height; y++) {
        int line = y - frame->top;
        int from = MAX(spot->x - frame->left, 0);
        int to = MIN(spot->x + spot->width - frame->left, COLS);
        if (line >= 0 && line < frame->lines && to > from) {
            (void)mvchgat(1 + line, from, to - from, attributes, 0, NULL);
        }
    }
}

/* A key that is down has thick walls. */
static void thicken(const struct frame *frame, const struct uvk_spot *spot)
{
    for (int y = spot->y; y < spot->y + spot->height; y++) {
        int line = y - frame->top;
        int left = spot->x - 1 - frame->left;
        int right = spot->x + spot->width - frame->left;
        if (line < 0 || line >= frame->lines) {
            continue;
        }
        if (left >= 0 && left < COLS) {
            (void)mvaddstr(1 + line, left, "┃");
        }
        if (right >= 0 && right < COLS) {
            (void)mvaddstr(1 + line, right, "┃");
        }
    }
}

static void draw_picture(const struct editor *editor, const struct frame *frame)
{
    const struct uvk_view *view = frame->view;

    for (int line = 0; line < frame->lines; line++) {
        const char *text = view->lines[line + frame->top];
        if (g_utf8_strlen(text, -1) > frame->left) {
            (void)put(1 + line, 0, A_NORMAL, g_utf8_offset_to_pointer(text, frame->left));
        }
    }
    for (unsigned cell = 0; cell < view->spot_count; cell++) {
        const struct uvk_spot *spot = &view->spots[cell];
        attr_t attributes = spot->through ? A_DIM : A_BOLD;
        paint(frame, spot, cell == editor->cell ? A_REVERSE | A_BOLD : attributes);
        if (editor->pressed[cell]) {
            thicken(frame, spot);
        }
    }
}

unsigned screen_beside(const struct editor *editor, int right, int down)
{
    struct uvk_view *view = view_of(editor);
    const struct uvk_spot *from = &view->spots[editor->cell];
    unsigned best = editor->cell;
    long least = -1;

    for (unsigned cell = 0; cell < view->spot_count; cell++) {
        const struct uvk_spot *spot = &view->spots[cell];
        /* characters are twice as high as they are wide */
        long across = (2 * spot->x + spot->width) - (2 * from->x + from->width);
        long along = 2L * ((2 * spot->y + spot->height) - (2 * from->y + from->height));
        long forth = right != 0 ? across * right : along * down;
        long aside = labs(right != 0 ? along : across);
        long far = forth + 3 * aside;
        if (spot->width > 0 && forth > 0 && aside <= 2 * forth && (least < 0 || far < least)) {
            best = cell;
            least = far;
        }
    }
    uvk_view_free(view);
    return best;
}

/* ---- below it -----------------------------------------------------------------------------
 */

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
    int x = put(y, 0, A_NORMAL, "layers");

    for (unsigned i = 0; i < keymap->layer_count; i++) {
        char *name =
            g_strdup_printf(" %s%s ", is_on(editor, i) ? "●" : "", keymap->layers[i].name);
        x = put(y, x + 1, i == editor->layer ? A_REVERSE : A_NORMAL, name);
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

    (void)put(y, 0, A_BOLD, head);
    (void)put_wrapped(y + 1, 2, 1, sentence);
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

    (void)put(y, 0, A_BOLD, "> ");
    (void)put(y, 2, editor->typed->len > 0 ? A_NORMAL : A_DIM, asked);
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

    (void)put(y, 2, picked ? A_REVERSE : A_NORMAL, text);
    used = put_wrapped(y, MAX(2 + NAME_ROOM, 4 + (int)g_utf8_strlen(text, -1)),
                       picked ? MIN(lines, PICKED_LINES) : 1, whole);
    g_free(whole);
    g_free(sentence);
    return used;
}

static int put_place(const struct editor *editor, int y, unsigned index)
{
    const struct uvk_program *program = editor->session->program;
    const struct offer_place *place = &g_array_index(editor->places, struct offer_place, index);
    const struct uvk_layer_text *layer = &program->keymap->layers[place->layer];
    char *address = uvk_cell_place(program->board, place->cell);
    char *name = uvk_cell_name(program, &layer->cells[place->cell]);
    char *text = g_strdup_printf("%s on %s", address, layer->name);

    (void)put(y, 2, index == editor->picked ? A_REVERSE : A_NORMAL, text);
    (void)put(y, 2 + NAME_ROOM, A_NORMAL, name);
    g_free(text);
    g_free(name);
    g_free(address);
    return 1;
}

/* Why what was typed is no cell yet. */
static void put_why_not(const struct editor *editor, int y)
{
    bool good;
    char *why = offer_sentence(editor->offers, editor->typed->str, &good);

    (void)put_wrapped(y, 2, PICKED_LINES, why);
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
        y +=
            editor->places != NULL ? put_place(editor, y, i) : put_offer(editor, y, end - y, i);
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

    put_bar(0, editor->session->path, right);
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
    (void)put_wrapped(is_long ? LINES - 3 : LINES - 2, 0, 2, told);
}

static void draw_all(const struct editor *editor)
{
    struct uvk_view *view = view_of(editor);
    struct frame frame = frame_of(editor, view);
    char *count = count_text(editor);
    int y = 1 + frame.lines;

    draw_title(editor);
    draw_picture(editor, &frame);
    draw_layers(editor, y);
    draw_cell(editor, y + 1);
    draw_typed(editor, y + 3);
    (void)put(y + 3, MAX(COLS - (int)strlen(count) - 1, 0), A_DIM, count);
    draw_found(editor, y + 4, LINES - y - 6);
    draw_told(editor);
    (void)put(LINES - 1, 0, A_DIM, help);
    (void)move(y + 3, MIN(2 + (int)g_utf8_strlen(editor->typed->str, -1), COLS - 1));
    g_free(count);
    uvk_view_free(view);
}

void screen_draw(const struct editor *editor)
{
    (void)erase();
    if (LINES < LINES_LEAST || COLS < COLS_LEAST) {
        (void)put(0, 0, A_NORMAL, "This needs 60 columns and 16 lines.");
    } else {
        draw_all(editor);
    }
    (void)refresh();
}
