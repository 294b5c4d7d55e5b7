/* Each public header alone, as a stranger's program would begin: in C11 and in C++17. */
#include "support.h"

#include <string.h>
#include <sys/wait.h>

static const char *const languages[] = {
    "cc -x c -std=c11 -Wall -Wextra -Wpedantic -Werror",
    "c++ -x c++ -std=c++17 -Wall -Wextra -Werror",
};

/* What the compiler says of a program that begins with HEADER; "" if it has nothing to say. */
static char *complaints(const char *header, const char *compiler)
{
    char *command = g_strdup_printf("printf '#include \"uvrek/%s\"\\nint main(void) { return "
                                    "0; }\\n' | %s -fsyntax-only -I%s/include "
                                    "$(pkg-config --cflags glib-2.0 gio-unix-2.0) - 2>&1",
                                    header, compiler, SOURCE_FOLDER);
    const char *arguments[] = {"/bin/sh", "-c", command, NULL};
    char *out = NULL;
    int status = -1;

    assert_true(g_spawn_sync(NULL, (char **)arguments, NULL, G_SPAWN_DEFAULT, NULL, NULL, &out,
                             NULL, &status, NULL));
    if (!WIFEXITED(status) || WEXITSTATUS(status) != 0) {
        char *said = g_strconcat("failed: ", out, NULL);
        g_free(out);
        out = said;
    }
    g_free(command);
    return out;
}

/* How many headers the folder WITHIN the public ones has, each tried. */
static unsigned try_headers(const char *within)
{
    char *path = g_strconcat(SOURCE_FOLDER "/include/uvrek/", within, NULL);
    GDir *folder = g_dir_open(path, 0, NULL);
    const char *name;
    unsigned headers = 0;

    assert_non_null(folder);
    while ((name = g_dir_read_name(folder)) != NULL) {
        for (size_t i = 0; g_str_has_suffix(name, ".h") && i < G_N_ELEMENTS(languages); i++) {
            char *header = g_strconcat(within, name, NULL);
            char *said = complaints(header, languages[i]);
            if (said[0] != '\0') {
                fail_msg("%s, %s\n%s", name, languages[i], said);
            }
            g_free(said);
            g_free(header);
        }
        headers++;
    }
    g_dir_close(folder);
    g_free(path);
    return headers;
}

static void each_header_stands_alone(void **state)
{
    (void)state;
    assert_true(try_headers("") > 25);
    assert_true(try_headers("priv/") > 0);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(each_header_stands_alone),
    };
    return cmocka_run_group_tests_name("headers", tests, NULL, NULL);
}
