/* import.c - `uvrek import`: board and keymap from JSON. */
#include "cli.h"

#include "uvrek/exchange.h"

#include <errno.h>
#include <stdio.h>
#include <string.h>

/* path: pointer: what is wrong; path:line:column: if it is no JSON at all. */
static void print_problems(const char *path, const GPtrArray *problems)
{
    const char *bold = errors_coloured() ? "\033[1m" : "";
    const char *red = errors_coloured() ? "\033[1;31m" : "";
    const char *off = errors_coloured() ? "\033[0m" : "";
    char *shown = uvk_visible_text(path);

    for (guint i = 0; i < problems->len; i++) {
        const struct uvk_exchange_problem *problem = g_ptr_array_index(problems, i);
        /* keys of objects and texts are the file's own: nothing of them may move the cursor */
        char *pointer = uvk_visible_text(problem->pointer);
        char *text = uvk_visible_text(problem->text);
        fprintf(stderr, "%s%s:", bold, shown);
        if (problem->line > 0) {
            fprintf(stderr, "%u:%u:", problem->line, problem->column);
        } else if (pointer[0] != '\0') {
            fprintf(stderr, " %s:", pointer);
        }
        fprintf(stderr, "%s %serror%s: %s%s\n", off, red, off,
                problem->line > 0 ? "no JSON: " : "", text);
        g_free(pointer);
        g_free(text);
    }
    g_free(shown);
    fprintf(stderr, "%u error%s\n", problems->len, problems->len == 1 ? "" : "s");
}

static int import(const char *path, const char *output)
{
    GPtrArray *problems;
    size_t size = 0;
    char *bytes;
    char *text;
    int status = STATUS_NOT_WELL;

    if (output != NULL && g_file_test(output, G_FILE_TEST_EXISTS)) {
        complain("%s is there already: choose another name, or remove it", output);
        return STATUS_NOT_DONE;
    }
    bytes = uvk_source_bytes(path, &size);
    if (bytes == NULL) {
        complain("cannot read %s: %s", path, g_strerror(errno));
        return STATUS_NOT_DONE;
    }
    problems = uvk_exchange_problems();
    text = uvk_exchange_read(bytes, size, problems);
    if (text != NULL) {
        status = write_or_print(text, output);
    } else {
        print_problems(path, problems);
    }
    g_ptr_array_unref(problems);
    g_free(bytes);
    g_free(text);
    return status;
}

static char *output;

static const GOptionEntry options[] = {
    {"output", 'o', 0, G_OPTION_ARG_FILENAME, &output,
     "Where to write the text, a new file; else it is printed", "FILE"},
    G_OPTION_ENTRY_NULL};

static int run(int count, char **files)
{
    (void)count;
    return import(files[0], output);
}

const struct command command_import = {
    "import",
    "FILE",
    "Make a text of the language from the JSON that `uvrek export` writes.",
    "uvrek import -o copy.uvk desk.json",
    options,
    1,
    run};
