/* wires_ask.c - one question after the other: which key, which knob. */
#include "asking.h"

#include "uvrek/bench.h"
#include "uvrek/sheet.h"

#include <stdarg.h>
#include <stdio.h>
#include <string.h>
#include <unistd.h>

struct asking {
    struct hearing *hearing;
    struct uvk_wiring *wiring;
    const struct uvk_program *program;
    GArray *asked; /* of unsigned: cells, in the order of the questions; knobs by their right
                      turn */
    bool picture;  /* on a terminal the board is shown */
    const char **marks; /* on it, of each key: what came of it; NULL: it was not asked yet */
    GString *said;      /* of the latest answer; a picture would wipe it away */
};

/* ---- the question ------------------------------------------------------------------------ */

static char *name_of(const struct asking *asking, unsigned cell)
{
    return asking->program->keymap != NULL ? uvk_source_text(asking->program, cell)
                                           : uvk_cell_place(asking->program->board, cell);
}

#define CLEAR "\033[H\033[2J"

static void show_board(struct asking *asking, unsigned cell)
{
    const struct uvk_board *board = asking->program->board;
    char *text;

    if (cell < board->key_count) {
        asking->marks[cell] = "HERE";
    }
    text = uvk_board_text(board, asking->marks, 80);
    fputs(CLEAR, stdout);
    fputs(text, stdout);
    fputs(asking->said->str, stdout);
    g_free(text);
}

/* A line about the latest answer: now, or below the next picture. */
static void tell(struct asking *asking, const char *format, ...) G_GNUC_PRINTF(2, 3);

static void tell(struct asking *asking, const char *format, ...)
{
    va_list arguments;

    va_start(arguments, format);
    g_string_vprintf(asking->said, format, arguments);
    va_end(arguments);
    g_string_append_c(asking->said, '\n');
    if (!asking->picture) {
        fputs(asking->said->str, stdout);
    }
}

static void show_question(struct asking *asking, unsigned at)
{
    const struct uvk_board *board = asking->program->board;
    unsigned cell = g_array_index(asking->asked, unsigned, at);
    bool knob = cell >= board->key_count;
    char *name = name_of(asking, cell);

    if (asking->picture) {
        show_board(asking, cell);
    }
    if (knob) {
        printf("%u of %u: turn %s slowly to the right\n", at + 1, asking->asked->len,
               board->knobs[(cell - board->key_count) / 2].name);
    } else {
        printf("%u of %u: press %s\n", at + 1, asking->asked->len, name);
    }
    if (asking->picture) {
        puts("Enter: nothing comes of it; back: the last one was wrong; stop: no more "
             "questions");
    }
    (void)fflush(stdout);
    g_free(name);
}

/* ---- the answer -------------------------------------------------------------------------- */

/* False: the question is to be asked again. */
static bool take_press(struct asking *asking, unsigned key)
{
    const GArray *press = asking->hearing->press;
    unsigned other;
    char *name;
    char *joins;

    switch (uvk_wiring_take(asking->wiring, key,
                            (const struct uvk_conducts *)(void *)press->data, press->len,
                            &other)) {
    case UVK_PRESS_TAKEN:
        joins = hearing_text(asking->hearing, asking->program->board);
        name = asking->picture ? name_of(asking, key) : g_strdup("");
        tell(asking, "  %s%s%s", name, asking->picture ? ": " : "", joins);
        asking->marks[key] = "✓";
        g_free(name);
        g_free(joins);
        return true;
    case UVK_PRESS_TWO:
        tell(asking, "  more than one switch was closed: press this one alone");
        return false;
    default:
        name = name_of(asking, other);
        tell(asking, "  that switch was %s: press the one that is asked for, or say back",
             name);
        g_free(name);
        return false;
    }
}

static enum heard ask_key(struct asking *asking, unsigned key, GError **error)
{
    enum heard heard = hear_press(asking->hearing, error);

    if (heard == HEARD_NOTHING) {
        (void)uvk_wiring_take(asking->wiring, key, NULL, 0, NULL);
        asking->marks[key] = "-";
    }
    return heard == HEARD_PRESS && !take_press(asking, key) ? HEARD_LATE : heard;
}

static enum heard ask_knob(struct asking *asking, unsigned knob, GError **error)
{
    struct uvk_turned turned;
    enum heard heard = hear_turn(asking->hearing, &turned, error);

    if (heard == HEARD_NOTHING) {
        uvk_wiring_take_knob(asking->wiring, knob, NULL, NULL);
    } else if (heard == HEARD_PRESS) {
        uvk_wiring_take_knob(asking->wiring, knob, turned.first, turned.second);
        tell(asking, "  %s closes first, then %s",
             uvk_pin_label(asking->program->board, turned.first),
             uvk_pin_label(asking->program->board, turned.second));
    }
    return heard;
}

/* ---- one after the other ----------------------------------------------------------------- */

/* The question before is open again. */
static unsigned go_back(struct asking *asking, unsigned at)
{
    unsigned before = at > 0 ? at - 1 : 0;
    unsigned cell = g_array_index(asking->asked, unsigned, before);
    unsigned now = g_array_index(asking->asked, unsigned, at);

    if (now < asking->program->board->key_count) {
        asking->marks[now] = NULL;
    }
    g_string_truncate(asking->said, 0);
    if (cell < asking->program->board->key_count) {
        uvk_wiring_forget(asking->wiring, cell);
        asking->marks[cell] = NULL;
    }
    return before;
}

static bool ask(struct asking *asking, GError **error)
{
    const struct uvk_board *board = asking->program->board;
    unsigned at = 0;

    while (at < asking->asked->len) {
        unsigned cell = g_array_index(asking->asked, unsigned, at);
        enum heard heard;
        show_question(asking, at);
        heard = cell < board->key_count
                    ? ask_key(asking, cell, error)
                    : ask_knob(asking, (cell - board->key_count) / 2, error);
        if (heard == HEARD_STOP || heard == HEARD_TROUBLE) {
            return heard == HEARD_STOP;
        }
        if (heard == HEARD_WORDS) {
            tell(asking, "  say nothing but Enter, back or stop");
            continue;
        }
        at = heard == HEARD_BACK ? go_back(asking, at) : heard == HEARD_LATE ? at : at + 1;
    }
    return true;
}

static bool is_wanted(const struct uvk_board *board, unsigned cell, char *const *only)
{
    char *place = uvk_cell_place(board, cell);
    bool wanted = only == NULL || g_strv_contains((const char *const *)only, place);

    g_free(place);
    return wanted;
}

static GArray *questions(const struct uvk_wiring *wiring, const struct uvk_board *board,
                         char *const *only)
{
    GArray *asked = g_array_new(FALSE, TRUE, sizeof(unsigned));

    for (unsigned key = 0; key < board->key_count; key++) {
        if (uvk_wiring_has(wiring, key) && is_wanted(board, key, only)) {
            g_array_append_val(asked, key);
        }
    }
    for (unsigned knob = 0; knob < board->knob_count; knob++) {
        unsigned right = board->key_count + 2 * knob + 1;
        if (uvk_wiring_has_knob(wiring, knob) && is_wanted(board, right, only)) {
            g_array_append_val(asked, right);
        }
    }
    return asked;
}

bool ask_all(struct hearing *hearing, struct uvk_wiring *wiring,
             const struct uvk_program *program, char *const *only, GError **error)
{
    struct asking asking = {.hearing = hearing,
                            .wiring = wiring,
                            .program = program,
                            .asked = questions(wiring, program->board, only),
                            .picture = isatty(STDIN_FILENO) && isatty(STDOUT_FILENO),
                            .marks = g_new0(const char *, program->board->key_count + 1u),
                            .said = g_string_new(NULL)};
    bool good = ask(&asking, error);

    if (asking.picture) {
        fputs(asking.said->str, stdout);
    }
    g_string_free(asking.said, TRUE);
    g_free(asking.marks);
    g_array_unref(asking.asked);
    return good;
}
