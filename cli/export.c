/* export.c - `uvrek export`: board and keymap as JSON. */
#include "cli.h"

#include "uvrek/exchange.h"
#include "uvrek/files.h"

#include <jansson.h>
#include <stdio.h>
#include <string.h>

/* Is PATH something that this command has written? It may be written over then. */
static bool is_ours(const char *path, const char *member)
{
    char *bytes = NULL;
    gsize size = 0;
    json_t *json = NULL;
    bool ours;

    if (!g_file_get_contents(path, &bytes, &size, NULL)) {
        return true; /* there is nothing, or nothing that could be written over */
    }
    json = json_loadb(bytes, size, 0, NULL);
    ours = size == 0 || json_object_get(json, member) != NULL;
    json_decref(json);
    g_free(bytes);
    return ours;
}

static bool may_write(const char *output, const char *member, bool force)
{
    if (output == NULL || force || is_ours(output, member)) {
        return true;
    }
    complain("%s is there, and no export of Uvrek; --force writes over it", output);
    return false;
}

static int export(const char *path, const char *output)
{
    GError *error = NULL;
    int status;
    struct uvk_program *program = load_program(path, false, &status);
    char *json;

    if (program == NULL) {
        return status;
    }
    json = uvk_exchange_write(program, &error);
    status = json != NULL ? write_or_print(json, output) : print_problem(error);
    g_free(json);
    uvk_program_free(program);
    return status;
}

static gboolean schema, force;
static char *output;

static const GOptionEntry options[] = {
    {"output", 'o', 0, G_OPTION_ARG_FILENAME, &output, "Where to write it; else it is printed",
     "FILE"},
    {"schema", 0, 0, G_OPTION_ARG_NONE, &schema,
     "The JSON Schema of what is written, and of what `uvrek import` reads", NULL},
    {"force", 0, 0, G_OPTION_ARG_NONE, &force, "Write over a file that is no export", NULL},
    G_OPTION_ENTRY_NULL};

static int run(int count, char **files)
{
    char *text;
    int status;

    if (!may_write(output, schema ? "$schema" : "uvrek-exchange", force)) {
        return STATUS_NOT_DONE;
    }
    if (!schema) {
        return is_one(&command_export, count) ? export(files[0], output) : STATUS_NOT_DONE;
    }
    if (count > 0) {
        complain("--schema is about no file");
        return STATUS_NOT_DONE;
    }
    text = uvk_exchange_schema();
    status = write_or_print(text, output);
    g_free(text);
    return status;
}

const struct command command_export = {"export",
                                       "FILE",
                                       "Write board and keymap as JSON, for other programs.",
                                       "uvrek export -o desk.json boards/subtitle-desk.uvk",
                                       options,
                                       ANY_WORDS,
                                       run};
