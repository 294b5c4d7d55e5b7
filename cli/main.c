/* main.c - which command, and its options. */
#include "cli.h"

#include <fcntl.h>
#include <locale.h>
#include <signal.h>
#include <stdio.h>
#include <string.h>

static const struct command *const commands[] = {
    &command_new,   &command_check, &command_tidy,   &command_explain,
    &command_play,  &command_ready, &command_sheet,  &command_build,
    &command_flash, &command_bench, &command_export, &command_import,
};

static void print_overview(FILE *out)
{
    fputs("uvrek - from a board file to a key press\n\nUsage: uvrek COMMAND FILE ...\n\n", out);
    for (size_t i = 0; i < G_N_ELEMENTS(commands); i++) {
        char *call = g_strdup_printf("%s %s", commands[i]->name, commands[i]->arguments);
        fprintf(out, "  %-20s %s\n", call, commands[i]->summary);
        g_free(call);
    }
    fputs("\n`uvrek COMMAND --help` shows a command's options and an example.\n"
          "Exit status: 0 success; 1 mistakes found or a play failed; 2 the command could not "
          "run.\n",
          out);
}

bool parse_options(const struct command *command, const GOptionEntry *entries, int *argc,
                   char ***argv, int *status)
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
    g_option_context_add_main_entries(context, entries, NULL);
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

const char *only_file(const struct command *command, int argc, char **argv)
{
    int first = argc > 1 && strcmp(argv[1], "--") == 0 ? 2 : 1; /* behind it stands a file */

    if (argc == first + 1) {
        return argv[first];
    }
    complain("%s needs one %s; `uvrek %s --help` has an example", command->name,
             command->arguments, command->name);
    return NULL;
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

static const char *command_name(size_t index, const void *data)
{
    (void)data;
    return commands[index]->name;
}

/* A program that is started with these closed would open them as something else, and send the
 * words that are meant for people there. */
static void open_standard_files(void)
{
    for (int file = 0; file <= 2; file++) {
        if (fcntl(file, F_GETFD) < 0) {
            (void)open("/dev/null", O_RDWR); /* the lowest that is free: this one */
        }
    }
}

int main(int argc, char **argv)
{
    const char *near;

    open_standard_files();

    setlocale(LC_ALL, "");
    (void)signal(SIGPIPE, SIG_IGN); /* a closed pipe is an error like any other */
    if (argc < 2 || strcmp(argv[1], "--help") == 0 || strcmp(argv[1], "-h") == 0 ||
        strcmp(argv[1], "help") == 0) {
        print_overview(argc < 2 ? stderr : stdout);
        return finish(argc < 2 ? STATUS_NOT_DONE : STATUS_WELL);
    }
    if (strcmp(argv[1], "--version") == 0) {
        puts("uvrek " UVK_VERSION);
        return finish(STATUS_WELL);
    }
    for (size_t i = 0; i < G_N_ELEMENTS(commands); i++) {
        if (strcmp(argv[1], commands[i]->name) == 0) {
            return finish(commands[i]->run(argc - 1, argv + 1));
        }
    }
    near = uvk_nearest(argv[1], G_N_ELEMENTS(commands), command_name, NULL);
    complain_name("no command", argv[1], near);
    fputs("`uvrek --help` lists the commands.\n", stderr);
    return STATUS_NOT_DONE;
}
