/* tidy.c - `uvrek tidy`: cells lined up in the board's shape. */
#include "cli.h"

#include "uvrek/edit.h"
#include "uvrek/files.h"

#include <stdio.h>
#include <string.h>

/* Is the image of TEXT, read as PATH, that of PROGRAM? */
static bool means_the_same(struct uvk_program *program, const char *path, const char *text,
                           size_t size)
{
    struct uvk_program *other = uvk_program_read(path, text, size);
    bool same = other->messages.errors == 0 && uvk_program_same(program, other);

    uvk_program_free(other);
    return same;
}

static int write_back(const char *path, const char *text, size_t size)
{
    GError *error = NULL;

    return uvk_file_write(path, text, size, &error) ? STATUS_WELL : print_problem(error);
}

static int tidy(const char *path, bool only_check)
{
    int status;
    struct uvk_program *program = load_program(path, false, &status);
    unsigned changed = 0;
    size_t size = 0;
    char *text;

    if (program == NULL) {
        return status;
    }
    text = uvk_tidy(program, &size, &changed);
    status = STATUS_WELL;
    if (changed == 0) {
        printf("%s is tidy\n", path);
    } else if (text == NULL || !means_the_same(program, path, text, size)) {
        complain("%s stays as it is: lined up, it would mean something else", path);
        status = STATUS_NOT_DONE;
    } else if (only_check) {
        printf("%s is not tidy: spaces in %u places\n", path, changed);
        status = STATUS_NOT_WELL;
    } else {
        status = write_back(path, text, size);
        if (status == STATUS_WELL) {
            printf("%s: spaces changed in %u places\n", path, changed);
        }
    }
    g_free(text);
    uvk_program_free(program);
    return status;
}

static gboolean only_check;

static const GOptionEntry options[] = {
    {"check", 0, 0, G_OPTION_ARG_NONE, &only_check,
     "Only say whether it is tidy; the exit status is 1 if it is not", NULL},
    G_OPTION_ENTRY_NULL};

static int run(int count, char **files)
{
    (void)count;
    return tidy(files[0], only_check);
}

const struct command command_tidy = {"tidy",
                                     "FILE",
                                     "Line the cells of each layer up in the board's shape.",
                                     "uvrek tidy boards/translator.uvk",
                                     options,
                                     1,
                                     run};
