/* live_open.c - the keyboard asks, and whoever sits in front of it presses. */
#include "live.h"

#include "uvrek/sheet.h"

#include <stdio.h>
#include <string.h>
#include <unistd.h>

#define LOOK_US 20000

/* A key as the board calls it, and what it taps; without a text only its number is known, from
 * 1 on. */
static char *key_text(const struct session *session, uint8_t key)
{
    char *place;
    char *tap;
    char *text;

    if (session->program == NULL || key >= session->program->board->key_count) {
        return g_strdup_printf("key %u", key + 1u);
    }
    place = uvk_cell_place(session->program->board, key);
    if (session->program->keymap == NULL) {
        return place;
    }
    tap = uvk_cell_name(session->program,
                        uvk_value_tap(&session->program->keymap->layers[0].cells[key]));
    text = g_strdup_printf("%s (%s)", place, tap);
    g_free(place);
    g_free(tap);
    return text;
}

static void print_picture(const struct session *session, const struct uvk_live_asking *asking)
{
    static const char *const numbers[UVK_DOOR_KEYS] = {"1", "2", "3"};
    const struct uvk_board *board = session->program->board;
    const char **marks = g_new0(const char *, board->key_count + 1);
    char *text;

    for (unsigned i = 0; i < UVK_DOOR_KEYS; i++) {
        if (asking->keys[i] < board->key_count) {
            marks[asking->keys[i]] = numbers[i];
        }
    }
    text = uvk_board_text(board, marks, 80);
    fputs(text, stderr);
    g_free(text);
    g_free(marks);
}

/* On standard error: what a command prints may be read by a program. */
static void print_asking(const struct session *session, const struct uvk_live_asking *asking)
{
    fputs("The keyboard asks whether it is you. Press these keys on it, in this order:\n",
          stderr);
    if (session->program != NULL) {
        print_picture(session, asking);
    }
    for (unsigned i = 0; i < UVK_DOOR_KEYS; i++) {
        char *text = key_text(session, asking->keys[i]);
        fprintf(stderr, "%s%s", i > 0 ? ", " : "  ", text);
        g_free(text);
    }
    if (session->program == NULL) {
        fputs("\nKeys are counted as the board lists them. With the keymap's FILE behind the "
              "command they are shown on a picture.",
              stderr);
    }
    fprintf(stderr, "\nThey are typed nowhere. It asks for %u seconds%s.\n", asking->seconds,
            isatty(STDIN_FILENO) ? "; if one does not work, press Enter here for another" : "");
}

/* Somebody has pressed Enter on the keyboard that works. */
static bool enter_is_pressed(void)
{
    GPollFD input = {STDIN_FILENO, G_IO_IN, 0};
    char line[64];

    return isatty(STDIN_FILENO) && g_poll(&input, 1, 0) > 0 &&
           fgets(line, sizeof line, stdin) != NULL;
}

static bool tell_end(const struct uvk_live_asking *asking, GError **error)
{
    g_set_error_literal(error, UVK_PROBLEM, UVK_NOT_DONE,
                        asking->ended == UVK_DOOR_WRONG_KEY
                            ? "another key was pressed: the door stays closed; try again"
                        : asking->ended == UVK_DOOR_TOO_LATE
                            ? "nobody has pressed the keys: the door stays closed"
                            : "the door was closed");
    return false;
}

static bool same_keys(const struct uvk_live_asking *a, const struct uvk_live_asking *b)
{
    return a->state == b->state && memcmp(a->keys, b->keys, sizeof a->keys) == 0;
}

static bool wait_for_keys(struct session *session, GError **error)
{
    struct uvk_live_asking shown = {.state = UVK_DOOR_CLOSED};
    struct uvk_live_asking asking;

    for (;;) {
        if (!uvk_live_asked(session->live, &asking, error)) {
            return false;
        }
        if (asking.state == UVK_DOOR_IS_OPEN) {
            return true;
        }
        if (asking.state == UVK_DOOR_CLOSED) {
            return tell_end(&asking, error);
        }
        if (asking.state == UVK_DOOR_ASKS && !same_keys(&asking, &shown)) {
            print_asking(session, &asking);
            shown = asking;
        }
        if (enter_is_pressed() && !uvk_live_skip(session->live, error)) {
            return false;
        }
        g_usleep(LOOK_US);
    }
}

bool session_open(struct session *session, GError **error)
{
    if (session->facts.door == UVK_DOOR_IS_OPEN) {
        return true;
    }
    if (!uvk_live_ask(session->live, error) || !wait_for_keys(session, error)) {
        return false;
    }
    session->facts.door = UVK_DOOR_IS_OPEN;
    return true;
}

/* ---- the commands ------------------------------------------------------------------------ */

/* Find the keyboard and do something about it; the exit status. */
static int with_keyboard(const struct live_wishes *wishes, const char *path, bool opened,
                         bool (*act)(struct session *, GError **))
{
    struct session session;
    GError *error = NULL;
    int status;

    if (!session_read(&session, wishes, path, &status)) {
        return status;
    }
    if (!session_find(&session, &error) || (opened && !session_open(&session, &error)) ||
        !act(&session, &error)) {
        status = print_problem(error);
    }
    session_end(&session);
    return status;
}

static bool tell_open(struct session *session, GError **error)
{
    char *name = keyboard_text(&session->facts);

    (void)error;
    printf("the door of %s is open; it closes when the keyboard is unplugged, by `uvrek live "
           "close`, or after 10 minutes without a request\n",
           name);
    g_free(name);
    return true;
}

static bool shut(struct session *session, GError **error)
{
    char *name = keyboard_text(&session->facts);
    bool good = uvk_live_shut(session->live, error);

    if (good) {
        printf("the door of %s is closed\n", name);
    }
    g_free(name);
    return good;
}

static bool restart(struct session *session, GError **error)
{
    return uvk_live_restart(session->live, false, error) && puts("it restarts") >= 0;
}

static bool start_bootloader(struct session *session, GError **error)
{
    return uvk_live_restart(session->live, true, error) &&
           puts("its bootloader starts; `uvrek flash` finds it") >= 0;
}

int live_open_door(const struct live_wishes *wishes, int count, char **words)
{
    return with_keyboard(wishes, count > 0 ? words[0] : NULL, true, tell_open);
}

int live_close_door(const struct live_wishes *wishes, int count, char **words)
{
    return with_keyboard(wishes, count > 0 ? words[0] : NULL, false, shut);
}

int live_restart(const struct live_wishes *wishes, int count, char **words)
{
    return with_keyboard(wishes, count > 0 ? words[0] : NULL, true, restart);
}

int live_bootloader(const struct live_wishes *wishes, int count, char **words)
{
    return with_keyboard(wishes, count > 0 ? words[0] : NULL, true, start_bootloader);
}
