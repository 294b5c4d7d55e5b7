/* options.c - what stands behind a command: options, a file, a layer. */
#include "cli.h"

#include <stdio.h>
#include <string.h>

/* False: *STATUS is the exit status. */
static bool parse_options(const struct command *command, int *argc, char ***argv, int *status)
{
    GOptionContext *context = g_option_context_new(NULL);
    char *name = g_strdup_printf("uvrek %s", command->name);
    char *usage = g_strdup_printf("Usage: uvrek %s [OPTION...] %s\n\n%s\n", command->name,
                                  command->arguments, command->summary);
    char *example = g_strdup_printf("Example:\n  %s", command->example);
    gboolean help = FALSE;
    const GOptionEntry help_entry[] = {
        {"help", 'h', 0, G_OPTION_ARG_NONE, &help, "Show this help", NULL},
        G_OPTION_ENTRY_NULL};
    GError *error = NULL;

    g_set_prgname(name);
    g_option_context_set_help_enabled(context, FALSE);
    g_option_context_add_main_entries(context, command->options, NULL);
    g_option_context_add_main_entries(context, help_entry, NULL);
    g_option_context_set_description(context, example);
    *status = STATUS_WELL;
    if (!g_option_context_parse(context, argc, argv, &error)) {
        complain("%s; `uvrek %s --help` shows them all", error->message, command->name);
        g_error_free(error);
        *status = STATUS_NOT_DONE;
    } else if (help) {
        char *text = g_option_context_get_help(context, TRUE, NULL);
        const char *options = strstr(text, "\n\n");
        printf("%s%s", usage, options != NULL ? options + 1 : text);
        g_free(text);
    }
    g_option_context_free(context);
    g_free(name);
    g_free(usage);
    g_free(example);
    return *status == STATUS_WELL && !help;
}

bool is_one(const struct command *command, int count)
{
    if (count != 1) {
        complain("%s needs one %s; `uvrek %s --help` has an example", command->name,
                 command->arguments, command->name);
    }
    return count == 1;
}

int run_command(const struct command *command, int argc, char **argv)
{
    int status;
    int first;

    if (!parse_options(command, &argc, &argv, &status)) {
        return status;
    }
    first = argc > 1 && strcmp(argv[1], "--") == 0 ? 2 : 1; /* behind it stand no options */
    if (command->words == 1 && !is_one(command, argc - first)) {
        return STATUS_NOT_DONE;
    }
    return command->run(argc - first, argv + first);
}

static const char *layer_name(size_t index, const void *data)
{
    return ((const struct uvk_keymap *)data)->layers[index].name;
}

int find_layer(const struct uvk_keymap *keymap, const char *name)
{
    const char *near;

    for (unsigned i = 0; keymap != NULL && i < keymap->layer_count; i++) {
        if (strcmp(keymap->layers[i].name, name) == 0) {
            return (int)i;
        }
    }
    near = keymap != NULL ? uvk_nearest(name, keymap->layer_count, layer_name, keymap) : NULL;
    complain_name("no layer", name, near);
    return -1;
}

char *name_from(const char *text)
{
    GString *name = g_string_new(NULL);

    for (; *text != '\0' && name->len < UVK_NAME_MAX; text++) {
        if (g_ascii_isalpha(*text) || (name->len > 0 && g_ascii_isdigit(*text))) {
            g_string_append_c(name, *text);
        } else if (name->len > 0 && name->str[name->len - 1] != '-') {
            g_string_append_c(name, '-');
        }
    }
    while (name->len > 0 && name->str[name->len - 1] == '-') {
        g_string_truncate(name, name->len - 1);
    }
    if (name->len == 0) {
        g_string_append(name, "first");
    }
    return g_string_free(name, FALSE);
}
