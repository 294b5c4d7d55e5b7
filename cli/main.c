/* main.c - which command, and its options. */
#include "cli.h"

#include "uvrek/version.h"

#include <fcntl.h>
#include <locale.h>
#include <signal.h>
#include <stdio.h>
#include <string.h>

static const struct command *const commands[] = {
    &command_new,   &command_check,  &command_tidy,   &command_explain,
    &command_play,  &command_ready,  &command_sheet,  &command_build,
    &command_flash, &command_bench,  &command_keys,   &command_wires,
    &command_live,  &command_editor, &command_export, &command_import,
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
        printf("uvrek %s\n", uvk_version_text());
        return finish(STATUS_WELL);
    }
    for (size_t i = 0; i < G_N_ELEMENTS(commands); i++) {
        if (strcmp(argv[1], commands[i]->name) == 0) {
            return finish(run_command(commands[i], argc - 1, argv + 1));
        }
    }
    near = uvk_nearest(argv[1], G_N_ELEMENTS(commands), command_name, NULL);
    complain_name("no command", argv[1], near);
    fputs("`uvrek --help` lists the commands.\n", stderr);
    return STATUS_NOT_DONE;
}
