/* keys.c - `uvrek keys`: are all keys there, and does each come alone? */
#include "trying.h"

#include <unistd.h>

static struct live_wishes wishes;
static gchar *half;
static gboolean in_lines;

static const GOptionEntry options[] = {
    {"at", 0, 0, G_OPTION_ARG_STRING, &wishes.at,
     "Which keyboard: its number as `uvrek live` lists it, its place on the USB, or PORT or "
     "ADDRESS:PORT of a bench",
     "WHICH"},
    {"half", 0, 0, G_OPTION_ARG_STRING, &half,
     "With a probe: the half of the keyboard that it is in", "NAME"},
    {"lines", 0, 0, G_OPTION_ARG_NONE, &in_lines,
     "A line for each key that comes, also on a terminal", NULL},
    {"json", 0, 0, G_OPTION_ARG_NONE, &wishes.as_json,
     "Print what happens as JSON, an event a line, for other programs", NULL},
    G_OPTION_ENTRY_NULL};

static bool try_keys(struct trying *trying, GError **error)
{
    bool screen = !in_lines && !wishes.as_json && trying_has_screen() && isatty(STDIN_FILENO) &&
                  isatty(STDOUT_FILENO);
    bool good = trying_begin(trying, half, error) &&
                (screen ? trying_on_screen(trying, error)
                        : trying_in_lines(trying, wishes.as_json, error));

    return good && uvk_live_watch(trying->session->live, 0, error);
}

static int run(int count, char **files)
{
    struct session session;
    struct trying trying = {.session = &session, .held = -1};
    GError *error = NULL;
    int status;

    (void)count;
    if (!session_read_board(&session, &wishes, files[0], &status)) {
        return status;
    }
    listening_begins();
    events_init(&trying.events);
    status = try_keys(&trying, &error) ? trying_print(&trying, wishes.as_json)
                                       : print_problem(error);
    events_clear(&trying.events);
    uvk_keytest_free(trying.test);
    g_free(trying.halves);
    session_end(&session);
    return status;
}

const struct command command_keys = {
    "keys",
    "FILE",
    "Try every key of a keyboard: what comes, what does not, and where to look.",
    "uvrek keys boards/subtitle-desk.uvk\n"
    "\n"
    "What is pressed is typed nowhere meanwhile. Hold one key for 4 seconds to end it.",
    options,
    1,
    run};
