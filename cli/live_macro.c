/* live_macro.c - `uvrek live macro`: what is typed on the keyboard becomes a macro. */
#include "live.h"

#include "events.h"
#include "fingers.h"
#include "macro_text.h"

#include <glib/gstdio.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <termios.h>
#include <unistd.h>

#define LOOK_MS  50u
#define QUIET_US 3000000 /* so long all keys are up when that was all */
#define MASK     (1u << UVK_EVENT_CONTACT | 1u << UVK_EVENT_LAYERS)

/* ---- recording -------------------------------------------------------------------------- */

static bool fail(GError **error, const char *why)
{
    g_set_error_literal(error, UVK_PROBLEM, UVK_NOT_DONE, why);
    return false;
}

struct hearing {
    const struct uvk_program *program;
    GPtrArray *touches; /* of struct touch * */
    struct events events;
    unsigned down; /* keys that are */
    gint64 last;   /* when the last thing happened */
};

static void contact(struct hearing *hearing, const struct uvk_live_event *event)
{
    uint64_t time = events_ms(&hearing->events, event) * 1000;

    if (event->key >= uvk_board_cells(hearing->program->board) ||
        (!event->on && recorded_press(hearing->touches, event->key, time) == NULL)) {
        return; /* it was down when this began */
    }
    (void)recorded_add(hearing->touches, time, event->key, event->on);
    if (event->key < hearing->program->board->key_count) {
        hearing->down += event->on ? 1u : -1u;
    }
    hearing->last = g_get_monotonic_time();
}

/* The simulated keyboard will begin with its first layer only. */
static bool take_event(struct hearing *hearing, const struct uvk_live_event *event,
                       GError **error)
{
    (void)events_take(&hearing->events, event);
    if (event->kind == UVK_EVENT_CONTACT) {
        contact(hearing, event);
    }
    return hearing->touches->len > 0 || hearing->events.layers->len <= 1 ||
           fail(error, "a layer is switched on: switch it off, so that what is typed is known "
                       "from the start");
}

static bool is_over(const struct hearing *hearing)
{
    return hearing->touches->len > 0 && hearing->down == 0 &&
           g_get_monotonic_time() - hearing->last >= QUIET_US;
}

static bool is_whole(const struct hearing *hearing, GError **error)
{
    return listening_ends() ? fail(error, "nothing was changed")
           : hearing->events.lost > 0
               ? fail(error, "more happened than the cable carries: it is not known what was "
                             "typed. Type a little slower")
               : true;
}

static bool hear_all(struct session *session, struct hearing *hearing, GError **error)
{
    struct uvk_live_event event;
    int come = 0;

    while (come >= 0 && !listening_ends() && !is_over(hearing)) {
        come = uvk_live_next(session->live, LOOK_MS, &event, error);
        if (come > 0 && !take_event(hearing, &event, error)) {
            return false;
        }
    }
    return come >= 0 && is_whole(hearing, error);
}

/* However it ends, the keyboard is not left telling events that nobody fetches. */
static bool hear(struct session *session, struct hearing *hearing, GError **error)
{
    bool good;

    if (!uvk_live_watch(session->live, MASK, error)) {
        return false;
    }
    fputs("Type on the keyboard what the macro is to do. It is all when nothing was pressed "
          "for 3 seconds; Ctrl+C drops it.\n",
          stderr);
    good = hear_all(session, hearing, error);
    return uvk_live_watch(session->live, 0, good ? error : NULL) && good;
}

/* What is typed on that keyboard comes to this terminal as well: it is not shown, and
 * forgotten. */
static bool hear_quietly(struct session *session, struct hearing *hearing, GError **error)
{
    struct termios before;
    struct termios quiet;
    bool terminal = tcgetattr(STDIN_FILENO, &before) == 0;
    bool good;

    if (terminal) {
        quiet = before;
        quiet.c_lflag &= (tcflag_t) ~(ECHO | ICANON);
        (void)tcsetattr(STDIN_FILENO, TCSANOW, &quiet);
    }
    good = hear(session, hearing, error);
    if (terminal) {
        (void)tcsetattr(STDIN_FILENO, TCSAFLUSH, &before);
    }
    return good;
}

/* ---- what it is as text ----------------------------------------------------------------- */

/* The host's side of it is what the same fingers do on a simulated keyboard. */
static char *write_macro(const struct session *session, const char *name,
                         const GPtrArray *touches, GError **error)
{
    const struct uvk_rig_options options = {.seed = 1, .bounce = 0};
    struct uvk_rig *rig =
        uvk_rig_native(session->program, session->bytes, session->size, &options, error);
    uint64_t start = 0;
    char *text = NULL;

    if (rig != NULL && fingers_play(session->program, rig, touches, &start, error)) {
        GArray *moments = uvk_rig_moments(rig);
        text = macro_text(name, moments, start, session->wishes->pauses, error);
        if (text == NULL && error != NULL && *error == NULL) {
            (void)fail(
                error,
                "what was pressed sends the host nothing: there is no macro to make of it");
        }
        uvk_moments_free(moments);
    }
    uvk_rig_free(rig);
    return text;
}

/* ---- to edit it ------------------------------------------------------------------------- */

/* TEXT, as whoever sits here has changed it with an editor of theirs. NULL: *ERROR. */
static char *edit_text(const char *text, GError **error)
{
    const char *editor = g_getenv("VISUAL") != NULL ? g_getenv("VISUAL") : g_getenv("EDITOR");
    char *path = NULL;
    char *edited = NULL;
    int file = g_file_open_tmp("uvrek-XXXXXX.uvk", &path, error);
    char *quoted;
    char *command;

    if (file < 0) {
        return NULL;
    }
    (void)close(file);
    quoted = g_shell_quote(path);
    command = g_strdup_printf("%s %s", editor != NULL ? editor : "vi", quoted);
    if (g_file_set_contents(path, text, -1, error)) {
        if (system(command) != 0) { /* as the shell knows it, with its options */
            g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "the editor '%s' did not end well",
                        editor != NULL ? editor : "vi");
        } else if (g_file_get_contents(path, &edited, NULL, error)) {
            g_strstrip(edited);
        }
    }
    (void)g_unlink(path);
    g_free(command);
    g_free(quoted);
    g_free(path);
    return edited;
}

/* Show it, and ask what is to be done. NULL: it is dropped, or *ERROR. */
static char *agreed(char *text, GError **error)
{
    char answer[16];

    for (;;) {
        printf("%s\n", text);
        if (!isatty(STDIN_FILENO)) {
            return text;
        }
        fputs("Enter keeps it, e edits it, n drops it: ", stdout);
        (void)fflush(stdout);
        if (fgets(answer, sizeof answer, stdin) == NULL || *answer == 'n') {
            g_free(text);
            return NULL;
        }
        if (*answer != 'e') {
            return text;
        }
        char *edited = edit_text(text, error);
        g_free(text);
        if (edited == NULL) {
            return NULL;
        }
        text = edited;
    }
}

/* ---- the command ------------------------------------------------------------------------ */

static char *record(struct session *session, const char *name, GError **error)
{
    struct hearing hearing = {.program = session->program, .touches = recorded_touches()};
    char *text = NULL;

    events_init(&hearing.events);
    if (hear_quietly(session, &hearing, error)) {
        text = write_macro(session, name, hearing.touches, error);
    }
    events_clear(&hearing.events);
    g_ptr_array_unref(hearing.touches);
    return text;
}

static bool has_macro(const struct uvk_keymap *keymap, const char *name)
{
    for (unsigned i = 0; i < keymap->macro_count; i++) {
        if (strcmp(keymap->macros[i].name, name) == 0) {
            return true;
        }
    }
    return false;
}

static int make(struct session *session, const char *name)
{
    bool is_new = !has_macro(session->program->keymap, name);
    GError *error = NULL;
    char *text;
    int status;

    if (!session_find(session, &error) || !session_open(session, &error)) {
        return print_problem(error);
    }
    text = record(session, name, &error);
    if (text != NULL && !session->wishes->as_json) {
        text = agreed(text, &error);
    }
    if (error != NULL) {
        return print_problem(error);
    }
    if (text == NULL) {
        puts("nothing was changed");
        return STATUS_WELL;
    }
    status = session_put(session, text);
    g_free(text);
    if (status == STATUS_WELL && is_new && !session->wishes->as_json) {
        printf("no key does it yet: `uvrek live set %s KEY %s` puts it on one\n", session->path,
               name);
    }
    return status;
}

int live_macro(const struct live_wishes *wishes, int count, char **words)
{
    struct session session;
    int status;

    (void)count;
    if (!session_read(&session, wishes, words[0], &status)) {
        return status;
    }
    listening_begins();
    status = make(&session, words[1]);
    session_end(&session);
    return status;
}
