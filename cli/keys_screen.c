/* keys_screen.c - the screen of `uvrek keys`: the board, and what has come of each key. */
#include "canvas.h"
#include "trying.h"

#include <string.h>

#define LOOK_MS     30u
#define BELOW       9 /* lines below the picture, of which six are findings */
#define FINDINGS    6
#define LINES_LEAST 14
#define COLS_LEAST  60

struct screen {
    struct trying *trying;
    unsigned cell;             /* whose pins are told */
    bool shows_all;            /* what has not come is told as well */
    enum uvk_light_shown lit;  /* these lights alone, until the next key says otherwise */
    enum uvk_light_shown told; /* to the keyboard */
    gint64 again;              /* when it is told once more */
    bool done;
};

bool trying_has_screen(void)
{
    return true;
}

/* ---- the board --------------------------------------------------------------------------- */

/* What a key types is what people look for on its cap. */
static char *cap_of(const struct uvk_program *program, unsigned cell)
{
    return program->keymap != NULL
               ? uvk_cell_name(program, uvk_value_tap(&program->keymap->layers[0].cells[cell]))
               : NULL;
}

/* Of a turn how many steps; of a key what is wrong, in a word, or that it has come. */
static char *state_of(const struct uvk_key_seen *seen, bool turns)
{
    return turns                ? g_strdup_printf("%u", seen->presses)
           : seen->from_start   ? g_strdup("stuck")
           : seen->chatters > 0 ? g_strdup_printf("!%u", seen->chatters)
           : seen->presses > 1  ? g_strdup_printf("✓%u", seen->presses)
           : seen->presses > 0  ? g_strdup("✓")
                                : g_strdup("·");
}

static void words_of(const void *data, unsigned cell, char **upper, char **lower)
{
    const struct screen *screen = data;
    const struct uvk_program *program = screen->trying->session->program;
    bool turns = cell >= program->board->key_count;
    char *cap = turns ? NULL : cap_of(program, cell);

    *lower = NULL;
    *upper = state_of(uvk_keytest_seen(screen->trying->test, cell), turns);
    if (cap != NULL) {
        *lower = *upper;
        *upper = cap;
    }
}

static void draw_board(const struct screen *screen, const struct canvas_frame *frame)
{
    const struct uvk_keytest *test = screen->trying->test;

    canvas_lines(frame);
    for (unsigned cell = 0; cell < frame->view->spot_count; cell++) {
        const struct uvk_key_seen *seen = uvk_keytest_seen(test, cell);
        bool missing = seen->presses == 0 && uvk_keytest_has(test, cell);
        attr_t look = missing ? A_BOLD : A_DIM;
        canvas_paint(frame, &frame->view->spots[cell],
                     cell == screen->cell ? look | A_UNDERLINE : look);
        if (seen->down) {
            canvas_paint(frame, &frame->view->spots[cell], A_REVERSE);
            canvas_thicken(frame, &frame->view->spots[cell]);
        }
    }
}

/* ---- below it ---------------------------------------------------------------------------- */

static char *knob_wires(const struct uvk_board *board, const struct uvk_knob *knob)
{
    return g_strdup_printf("its contacts on %s and %s", uvk_pin_label(board, knob->pins[0]),
                           uvk_pin_label(board, knob->pins[1]));
}

static void draw_cell(const struct screen *screen, int y)
{
    const struct uvk_board *board = screen->trying->session->program->board;
    unsigned cell = screen->cell;
    char *place = uvk_cell_place(board, cell);
    char *wires = cell < board->key_count
                      ? uvk_key_wires_text(board, cell)
                      : knob_wires(board, &board->knobs[(cell - board->key_count) / 2]);
    char *text = g_strdup_printf("%s: %s", place, wires);

    (void)canvas_put(y, 0, A_BOLD, text);
    g_free(text);
    g_free(wires);
    g_free(place);
}

/* What has not come is no finding before somebody asks. */
static bool is_told(const struct screen *screen, const struct uvk_finding *finding)
{
    bool missing = finding->kind <= UVK_FINDS_KEY ||
                   (finding->kind == UVK_FINDS_KNOB && finding->cells->len == 1);

    return screen->shows_all || !missing;
}

static void draw_findings(const struct screen *screen, int y)
{
    GPtrArray *findings = uvk_keytest_findings(screen->trying->test);
    int end = y + FINDINGS;

    for (guint i = 0; i < findings->len && y < end; i++) {
        const struct uvk_finding *finding = findings->pdata[i];
        if (is_told(screen, finding)) {
            y += canvas_wrapped(y, 0, MIN(2, end - y), finding->text);
        }
    }
    g_ptr_array_unref(findings);
}

static const char legend[] = "· not yet   ✓ has come   !2 chattered twice";
static const char help[] =
    "hold a key 4 s to end  F missing  R anew  ↑↓←→ pins of a key  Q leave";
static const char help_lit[] =
    "hold a key 4 s to end  F missing  R anew  ↑↓←→ pins  L lights  Q leave";

static const char *const lit_words[UVK_SHOWN_KINDS] = {
    "", "   lit: the backlight", "   lit: all of the strip", "   lit: the other lamps"};

static bool has_lights(const struct screen *screen)
{
    const struct uvk_board *board = screen->trying->session->program->board;

    return !screen->trying->probe && (uvk_board_lights_up(board) || board->lamp_count > 0);
}

static void draw_all(const struct screen *screen)
{
    const struct session *session = screen->trying->session;
    int room = MAX(LINES - 1 - BELOW, 1);
    struct uvk_view *view = uvk_board_view(session->program->board, words_of, screen,
                                           (unsigned)COLS, (unsigned)room);
    struct canvas_frame frame = canvas_frame(view, screen->cell, room);
    char *keyboard = screen->trying->probe
                         ? g_strdup_printf("%s, by a probe", session->facts.note.board)
                         : keyboard_text(&session->facts);
    char *count = trying_count_text(screen->trying);
    int y = 1 + frame.lines;

    canvas_bar(0, keyboard, count);
    draw_board(screen, &frame);
    draw_cell(screen, y);
    draw_findings(screen, y + 1);
    if (screen->trying->halves != NULL) {
        (void)canvas_wrapped(LINES - 3, 0, 1, screen->trying->halves);
    }
    (void)canvas_put(LINES - 2, canvas_put(LINES - 2, 0, A_DIM, legend), A_BOLD,
                     lit_words[screen->told]);
    (void)canvas_put(LINES - 1, 0, A_DIM, has_lights(screen) ? help_lit : help);
    (void)move(LINES - 1, COLS - 1);
    g_free(count);
    g_free(keyboard);
    uvk_view_free(view);
}

static void draw(const struct screen *screen)
{
    (void)erase();
    if (LINES < LINES_LEAST || COLS < COLS_LEAST) {
        (void)canvas_put(0, 0, A_NORMAL, "This needs 60 columns and 14 lines.");
    } else {
        draw_all(screen);
    }
    (void)refresh();
}

/* ---- what is typed on another keyboard --------------------------------------------------- */

static void go(struct screen *screen, int right, int down)
{
    struct uvk_view *view =
        uvk_board_view(screen->trying->session->program->board, words_of, screen,
                       (unsigned)COLS, (unsigned)MAX(LINES - 1 - BELOW, 1));

    screen->cell = canvas_beside(view, screen->cell, right, down);
    uvk_view_free(view);
}

static void take_code(struct screen *screen, int key)
{
    switch (key) {
    case KEY_UP:
        go(screen, 0, -1);
        break;
    case KEY_DOWN:
        go(screen, 0, 1);
        break;
    case KEY_LEFT:
        go(screen, -1, 0);
        break;
    case KEY_RIGHT:
        go(screen, 1, 0);
        break;
    default:
        break;
    }
}

#define CONTROL_C 3

/* The lights of the board in turn, whatever the keymap says of them; then as ever. */
static void light_next(struct screen *screen)
{
    const struct uvk_board *board = screen->trying->session->program->board;
    const bool there[UVK_SHOWN_KINDS] = {[UVK_SHOWN_ALL] = true,
                                         [UVK_SHOWN_BACKLIGHT] = board->backlight.pin != NULL,
                                         [UVK_SHOWN_STRIP] = board->strip.pin != NULL,
                                         [UVK_SHOWN_LAMP] = board->lamp_count > 0};

    do {
        screen->lit = (screen->lit + 1u) % UVK_SHOWN_KINDS;
    } while (!there[screen->lit]);
}

/* For so long a keyboard shows it when the desk is gone. */
#define LIT_S    3u
#define AGAIN_US 1000000

static bool keep_lit(struct screen *screen, GError **error)
{
    const struct uvk_colour white = {UINT8_MAX, UINT8_MAX, UINT8_MAX};
    gint64 now = g_get_monotonic_time();

    if (screen->lit == screen->told && (screen->lit == UVK_SHOWN_ALL || now < screen->again)) {
        return true;
    }
    screen->told = screen->lit;
    screen->again = now + AGAIN_US;
    return uvk_live_light(screen->trying->session->live, screen->lit, UVK_SHOWN_EACH, white,
                          screen->lit == UVK_SHOWN_ALL ? 0 : LIT_S, error);
}

static void take_key(struct screen *screen, int key, bool is_code)
{
    if (is_code) {
        take_code(screen, key);
    } else if (key == 'q' || key == 'Q' || key == CONTROL_C) {
        screen->done = true;
    } else if (key == 'r' || key == 'R') {
        uvk_keytest_reset(screen->trying->test);
    } else if (key == 'f' || key == 'F') {
        screen->shows_all = !screen->shows_all;
    } else if ((key == 'l' || key == 'L') && has_lights(screen)) {
        light_next(screen);
    }
}

static bool hear(struct screen *screen, GError **error)
{
    struct uvk_live_event event;
    unsigned ms = LOOK_MS;
    int cell;
    int come;

    while ((come = trying_next(screen->trying, ms, &event, &cell, error)) > 0) {
        if (cell >= 0 && event.on) {
            screen->cell = (unsigned)cell;
        }
        ms = 0;
    }
    return come == 0;
}

bool trying_on_screen(struct trying *trying, GError **error)
{
    struct screen screen = {.trying = trying};
    bool good = canvas_begin("`uvrek keys --lines` does not", error);
    bool is_code;
    int key;

    if (!good) {
        return false;
    }
    while (good && !screen.done && !listening_ends() && !trying_is_enough(trying)) {
        draw(&screen);
        good = hear(&screen, error) && keep_lit(&screen, error);
        while (canvas_key(0, &key, &is_code)) {
            take_key(&screen, key, is_code);
        }
    }
    canvas_leave();
    return good;
}
