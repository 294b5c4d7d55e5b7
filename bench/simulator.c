/* simulator.c - see simulator.h. */
#include "simulator.h"

#include <gio/gunixoutputstream.h>
#include <signal.h>
#include <string.h>
#include <sys/wait.h>
#include <time.h>
#include <unistd.h>

#define LINE_MAX_BYTES (1u << 20)

/* ---- lines ------------------------------------------------------------------------ */

const char *simulator_line(struct simulator *simulator, gint64 until)
{
    char bytes[4096];
    const char *end;

    while ((end = memchr(simulator->heard->str, '\n', simulator->heard->len)) == NULL) {
        gint64 left = until - g_get_monotonic_time();
        GPollFD poll = {simulator->from, G_IO_IN, 0};
        ssize_t count;
        if (left <= 0 || simulator->heard->len > LINE_MAX_BYTES ||
            g_poll(&poll, 1, (gint)(left / 1000) + 1) <= 0) {
            return NULL;
        }
        count = read(simulator->from, bytes, sizeof bytes);
        if (count <= 0) {
            return NULL;
        }
        g_string_append_len(simulator->heard, bytes, count);
    }
    g_free(simulator->line);
    simulator->line = g_strndup(simulator->heard->str, (gsize)(end - simulator->heard->str));
    g_string_erase(simulator->heard, 0, end - simulator->heard->str + 1);
    return simulator->line;
}

static bool write_bytes(int file, const char *text, size_t size)
{
    GOutputStream *stream = g_unix_output_stream_new(file, FALSE);
    bool good = g_output_stream_write_all(stream, text, size, NULL, NULL, NULL);

    g_object_unref(stream);
    return good;
}

/* A simulator that is gone is an error, not the end of whoever asks: SIGPIPE of this thread
 * waits while it is written to, and is taken away. */
bool simulator_write(struct simulator *simulator, const char *text)
{
    const struct timespec at_once = {0, 0};
    sigset_t pipe_only;
    sigset_t before;
    bool good;

    sigemptyset(&pipe_only);
    sigaddset(&pipe_only, SIGPIPE);
    (void)pthread_sigmask(SIG_BLOCK, &pipe_only, &before);
    good = write_bytes(simulator->to, text, strlen(text));
    if (!good && !sigismember(&before, SIGPIPE)) {
        (void)sigtimedwait(&pipe_only, NULL, &at_once);
    }
    (void)pthread_sigmask(SIG_SETMASK, &before, NULL);
    return good;
}

/* ---- from its start to its end ------------------------------------------------------ */

/* Beside this program, or where it was installed; another one may be named to stand in for it.
 */
static char *find_simulator(const char *program)
{
    const char *named = g_getenv("UVREK_SIMULATOR");
    static const char *const beside[] = {"", "../libexec/uvrek"};
    char *self = g_file_read_link("/proc/self/exe", NULL);
    char *folder = g_path_get_dirname(self != NULL ? self : ".");
    char *found = g_strdup(named);

    for (size_t i = 0; found == NULL && i < G_N_ELEMENTS(beside); i++) {
        found = g_build_filename(folder, beside[i], program, NULL);
        if (!g_file_test(found, G_FILE_TEST_IS_EXECUTABLE)) {
            g_clear_pointer(&found, g_free);
        }
    }
    g_free(self);
    g_free(folder);
    return found != NULL ? found : g_build_filename(UVK_LIBEXEC_DIR, program, NULL);
}

bool simulator_start(struct simulator *simulator, const char *kind, GError **error)
{
    char *name = g_strconcat("uvrek-chipsim-", kind, NULL);
    char *path = find_simulator(name);
    char *arguments[] = {path, NULL};
    bool good;

    *simulator = (struct simulator){.to = -1, .from = -1, .heard = g_string_new(NULL)};
    good = g_spawn_async_with_pipes(NULL, arguments, NULL, G_SPAWN_DO_NOT_REAP_CHILD, NULL,
                                    NULL, &simulator->process, &simulator->to, &simulator->from,
                                    NULL, error);

    if (!good) {
        g_prefix_error(error, "the chip's simulator does not start: ");
    }
    g_free(name);
    g_free(path);
    return good;
}

/* A simulator that has stopped is not waited for. */
static void end_process(GPid process)
{
    for (unsigned waited = 0; waited < 200; waited++) {
        if (waitpid(process, NULL, WNOHANG) != 0) {
            g_spawn_close_pid(process);
            return;
        }
        g_usleep(1000);
    }
    (void)kill(process, SIGKILL);
    (void)waitpid(process, NULL, 0);
    g_spawn_close_pid(process);
}

void simulator_end(struct simulator *simulator)
{
    if (simulator->to >= 0) {
        (void)close(simulator->to); /* it ends with its input */
        (void)close(simulator->from);
        end_process(simulator->process);
    }
    g_string_free(simulator->heard, TRUE);
    g_free(simulator->line);
}
