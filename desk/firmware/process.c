/* process.c - run a program of somebody else, and not for ever. */
#include "parts.h"

#include <gio/gio.h>

/* What a run has come to. */
struct waiting {
    GMainLoop *loop;
    GBytes *output;
    GError *error;
    bool late;
};

static void has_ended(GObject *process, GAsyncResult *result, gpointer data)
{
    struct waiting *waiting = data;

    (void)g_subprocess_communicate_finish(G_SUBPROCESS(process), result, &waiting->output, NULL,
                                          &waiting->error);
    g_main_loop_quit(waiting->loop);
}

static gboolean is_late(gpointer data)
{
    struct waiting *waiting = data;

    waiting->late = true;
    g_main_loop_quit(waiting->loop);
    return G_SOURCE_REMOVE;
}

/* Wait for PROCESS in a loop of its own, so that nobody else's sources run meanwhile. */
static void wait_for(GSubprocess *process, unsigned seconds, struct waiting *waiting)
{
    GMainContext *context = g_main_context_new();
    GSource *alarm = g_timeout_source_new_seconds(seconds);
    GCancellable *cancel = g_cancellable_new();

    g_main_context_push_thread_default(context);
    waiting->loop = g_main_loop_new(context, FALSE);
    g_source_set_callback(alarm, is_late, waiting, NULL);
    g_source_attach(alarm, context);
    g_subprocess_communicate_async(process, NULL, cancel, has_ended, waiting);
    g_main_loop_run(waiting->loop);
    if (waiting->late) {
        g_subprocess_force_exit(process);
        g_cancellable_cancel(cancel);
        g_main_loop_run(waiting->loop); /* until it has told so */
    }
    g_source_destroy(alarm);
    g_source_unref(alarm);
    g_object_unref(cancel);
    g_main_loop_unref(waiting->loop);
    g_main_context_pop_thread_default(context);
    g_main_context_unref(context);
}

static char *text_of(GBytes *bytes)
{
    gsize size = 0;
    const char *text = bytes != NULL ? g_bytes_get_data(bytes, &size) : NULL;

    return size > 0 ? g_utf8_make_valid(text, (gssize)size) : g_strdup("");
}

bool process_run(const char *const *command, const char *folder, const char *temporary,
                 unsigned seconds, char **output, GError **error)
{
    GSubprocessLauncher *launcher = g_subprocess_launcher_new(G_SUBPROCESS_FLAGS_STDOUT_PIPE |
                                                              G_SUBPROCESS_FLAGS_STDERR_MERGE);
    struct waiting waiting = {NULL, NULL, NULL, false};
    GSubprocess *process;
    bool good = false;

    if (folder != NULL) {
        g_subprocess_launcher_set_cwd(launcher, folder);
    }
    if (temporary != NULL) {
        g_subprocess_launcher_setenv(launcher, "TMPDIR", temporary, TRUE);
    }
    process = g_subprocess_launcher_spawnv(launcher, command, error);
    g_object_unref(launcher);
    *output = NULL;
    if (process == NULL) {
        return false;
    }
    wait_for(process, seconds, &waiting);
    *output = text_of(waiting.output);
    if (waiting.late) {
        g_clear_error(&waiting.error);
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "%s did not end within %u s", command[0],
                    seconds);
    } else if (waiting.error != NULL) {
        g_propagate_error(error, g_steal_pointer(&waiting.error));
    } else {
        good = g_subprocess_get_successful(process);
    }
    g_clear_pointer(&waiting.output, g_bytes_unref);
    g_object_unref(process);
    return good;
}
