/* command.c - see command.h. */
#include "command.h"

#include <string.h>
#include <sys/wait.h>

struct ran run(const char *command)
{
    struct ran ran = {-1, NULL, NULL};
    const char *arguments[] = {"/bin/sh", "-c", command, NULL};
    int wait_status = 0;
    GError *error = NULL;

    if (!g_spawn_sync(NULL, (char **)arguments, NULL, G_SPAWN_DEFAULT, NULL, NULL, &ran.out,
                      &ran.err, &wait_status, &error)) {
        fail_msg("%s", error->message);
    }
    ran.status = WIFEXITED(wait_status) ? WEXITSTATUS(wait_status) : 128;
    return ran;
}

void assert_has(const char *text, const char *part)
{
    if (strstr(text, part) == NULL) {
        fail_msg("'%s' is not in:\n%s", part, text);
    }
}

void expect(const char *command, int status, const char *out, const char *err)
{
    struct ran ran = run(command);

    if (ran.status != status) {
        fail_msg("status %d\n%s%s%s", ran.status, ran.out, ran.err, command);
    }
    if (out != NULL) {
        assert_has(ran.out, out);
    }
    if (err != NULL) {
        assert_has(ran.err, err);
    } else {
        assert_string_equal(ran.err, "");
    }
    g_free(ran.out);
    g_free(ran.err);
}
