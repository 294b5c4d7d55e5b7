/* editor.c - how long a text editor waits for what is wrong, and what a long day of typing
 * keeps. */
#include "figures.h"

#include "uvrek/editor.h"

#include <jansson.h>
#include <stdio.h>
#include <string.h>
#include <unistd.h>

#define TOLD_BUDGET_MS 50.0
#define TIMED          100u
#define MANY           10000u
#define LINE           40 /* of the layers of the texts */

static void hear(const char *message, size_t size, void *data)
{
    size_t *heard = data;

    (void)message;
    *heard += size;
}

static void say(struct uvk_editor *editor, json_t *message)
{
    char *text = json_dumps(message, JSON_COMPACT);

    uvk_editor_take(editor, text, strlen(text));
    free(text);
    json_decref(message);
}

/* Two letters come, or go again. */
static void change(struct uvk_editor *editor, bool come)
{
    say(editor, json_pack("{s:s, s:{s:{s:s, s:i}, s:[{s:{s:{s:i, s:i}, s:{s:i, s:i}}, s:s}]}}",
                          "method", "textDocument/didChange", "params", "textDocument", "uri",
                          "file:///x.uvk", "version", 2, "contentChanges", "range", "start",
                          "line", LINE, "character", 1, "end", "line", LINE, "character",
                          come ? 1 : 3, "text", come ? "zz" : ""));
}

/* MiB of this process. */
static double memory(void)
{
    FILE *file = fopen("/proc/self/statm", "r");
    long pages = 0;

    if (file != NULL) {
        if (fscanf(file, "%*d %ld", &pages) != 1) {
            pages = 0;
        }
        (void)fclose(file);
    }
    return (double)pages * (double)sysconf(_SC_PAGESIZE) / 1024 / 1024;
}

/* WHAT is told of TEXT. */
void measure_editor(const char *what, const char *text)
{
    size_t heard = 0;
    struct uvk_editor *editor =
        uvk_editor_new(&(const struct uvk_editor_hooks){.say = hear, .data = &heard});
    char *name = g_strdup_printf("editor, a change until mistakes are told, %s", what);
    gint64 start;
    double before;

    say(editor, json_pack("{s:i, s:s, s:{}}", "id", 1, "method", "initialize", "params"));
    say(editor,
        json_pack("{s:s, s:{s:{s:s, s:i, s:s}}}", "method", "textDocument/didOpen", "params",
                  "textDocument", "uri", "file:///x.uvk", "version", 1, "text", text));
    uvk_editor_rest(editor);
    start = g_get_monotonic_time();
    for (unsigned i = 0; i < TIMED; i++) {
        change(editor, i % 2 == 0);
        uvk_editor_rest(editor);
    }
    row(name, (double)(g_get_monotonic_time() - start) / 1000 / TIMED, "ms", TOLD_BUDGET_MS,
        false);
    before = memory();
    for (unsigned i = 0; i < MANY; i++) {
        change(editor, i % 2 == 0);
        if (i % 100 == 0) {
            uvk_editor_rest(editor);
        }
    }
    printf("%-52s %12.3g MiB more\n", "  after 10,000 changes it has", memory() - before);
    uvk_editor_free(editor);
    g_free(name);
}
