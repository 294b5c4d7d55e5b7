/* canvas.c - see canvas.h. Nothing is told by colour. */
#include "canvas.h"

#include "uvrek/problem.h"

#include <locale.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

#define ESCAPE_MS 25

/* ---- the terminal ----------------------------------------------------------------------- */

bool canvas_begin(const char *without, GError **error)
{
    const char *kind = getenv("TERM");

    if (!isatty(STDIN_FILENO) || !isatty(STDOUT_FILENO)) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "this needs a terminal; %s", without);
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

void canvas_leave(void)
{
    (void)endwin();
}

void canvas_return(void)
{
    (void)refresh();
    (void)clear();
}

bool canvas_key(unsigned ms, int *key, bool *is_code)
{
    wint_t got = 0;
    int kind;

    timeout((int)ms);
    kind = get_wch(&got);
    *key = (int)got;
    *is_code = kind == KEY_CODE_YES;
    return kind != ERR;
}

/* ---- text on it ------------------------------------------------------------------------- */

/* TEXT from column X on, as much as the line takes. Returns where it ends. */
int canvas_put(int y, int x, attr_t attributes, const char *text)
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
int canvas_wrapped(int y, int x, int lines, const char *text)
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
        at = canvas_put(y + used - 1, at, A_NORMAL, *word) + 1;
    }
    g_strfreev(words);
    return used;
}

void canvas_bar(int y, const char *left, const char *right)
{
    int at = COLS - (int)g_utf8_strlen(right, -1) - 1;

    (void)attr_set(A_REVERSE, 0, NULL);
    (void)mvhline(y, 0, ' ', COLS);
    (void)canvas_put(y, 1, A_REVERSE, left);
    if (at > (int)g_utf8_strlen(left, -1) + 2) {
        (void)canvas_put(y, at, A_REVERSE, right);
    }
}

/* ---- the picture ------------------------------------------------------------------------ */

/* How far a view that is wider or higher than its room is moved, so that what is chosen shows.
 */
static int moved(int at, int size, int room, int whole)
{
    return whole <= room ? 0 : CLAMP(at + size / 2 - room / 2, 0, whole - room);
}

struct canvas_frame canvas_frame(const struct uvk_view *view, unsigned cell, int room)
{
    const struct uvk_spot *spot = &view->spots[cell];
    int lines = MIN((int)view->line_count, room);

    return (struct canvas_frame){view, moved(spot->x, spot->width, COLS, (int)view->columns),
                                 moved(spot->y, spot->height, lines, (int)view->line_count),
                                 lines};
}

void canvas_lines(const struct canvas_frame *frame)
{
    const struct uvk_view *view = frame->view;

    for (int line = 0; line < frame->lines; line++) {
        const char *text = view->lines[line + frame->top];
        if (g_utf8_strlen(text, -1) > frame->left) {
            (void)canvas_put(1 + line, 0, A_NORMAL,
                             g_utf8_offset_to_pointer(text, frame->left));
        }
    }
}

void canvas_paint(const struct canvas_frame *frame, const struct uvk_spot *spot,
                  attr_t attributes)
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

void canvas_thicken(const struct canvas_frame *frame, const struct uvk_spot *spot)
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

unsigned canvas_beside(const struct uvk_view *view, unsigned from, int right, int down)
{
    const struct uvk_spot *start = &view->spots[from];
    unsigned best = from;
    long least = -1;

    for (unsigned cell = 0; cell < view->spot_count; cell++) {
        const struct uvk_spot *spot = &view->spots[cell];
        /* characters are twice as high as they are wide */
        long across = (2 * spot->x + spot->width) - (2 * start->x + start->width);
        long along = 2L * ((2 * spot->y + spot->height) - (2 * start->y + start->height));
        long forth = right != 0 ? across * right : along * down;
        long aside = labs(right != 0 ? along : across);
        long far = forth + 3 * aside;
        if (spot->width > 0 && forth > 0 && aside <= 2 * forth && (least < 0 || far < least)) {
            best = cell;
            least = far;
        }
    }
    return best;
}
