/* sheet.c - `uvrek sheet`: layers, wiring, pairs of pins, to print or to look at. */
#include "cli.h"

#include "uvrek/sheet.h"

#include <stdio.h>
#include <string.h>
#include <sys/ioctl.h>
#include <unistd.h>

#define COLUMNS 80u

/* The terminal's width; COLUMNS if it is none. */
static unsigned columns(void)
{
    struct winsize size;

    return ioctl(STDOUT_FILENO, TIOCGWINSZ, &size) == 0 && size.ws_col >= COLUMNS ? size.ws_col
                                                                                  : COLUMNS;
}

struct options {
    gboolean wiring, pairs, choices, dark;
    char *layer, *output;
};

static int show(const struct uvk_program *program, const struct uvk_sheet *sheet,
                const char *output)
{
    GError *error = NULL;

    if (output == NULL) {
        char *text = uvk_sheet_text(program, sheet, columns());
        fputs(text, stdout);
        g_free(text);
        return STATUS_WELL;
    }
    if (sheet->kind == UVK_SHEET_PAIRS) {
        fputs("uvrek: the table of pin pairs is text: leave --output away\n", stderr);
        return STATUS_NOT_DONE;
    }
    return uvk_sheet_draw(program, sheet, output, &error) ? STATUS_WELL : print_problem(error);
}

static enum uvk_sheet_kind kind_of(const struct options *options)
{
    return options->pairs     ? UVK_SHEET_PAIRS
           : options->choices ? UVK_SHEET_CHOICES
           : options->wiring  ? UVK_SHEET_WIRING
                              : UVK_SHEET_LAYERS;
}

/* What is asked of a program can be drawn of it; STATUS_WELL, or what to end with. */
static int fit(const struct uvk_program *program, const struct options *options,
               struct uvk_sheet *what)
{
    if (what->kind == UVK_SHEET_CHOICES && program->board->choice_count == 0) {
        fprintf(stderr, "uvrek: %s has no layout choices\n", program->board->name);
        return STATUS_NOT_DONE;
    }
    if (what->kind == UVK_SHEET_LAYERS && program->keymap == NULL) {
        if (options->layer != NULL) {
            fputs("uvrek: --layer needs a keymap; here is only a board\n", stderr);
            return STATUS_NOT_DONE;
        }
        fputs("uvrek: there is no keymap here; this is the wiring\n", stderr);
        what->kind = UVK_SHEET_WIRING;
    }
    if (what->kind == UVK_SHEET_LAYERS && options->layer != NULL) {
        what->layer = find_layer(program->keymap, options->layer);
        return what->layer >= 0 ? STATUS_WELL : STATUS_NOT_DONE;
    }
    return STATUS_WELL;
}

static int sheet(const char *path, const struct options *options)
{
    struct uvk_sheet what = {.kind = kind_of(options), .layer = -1, .dark = options->dark};
    int status;
    struct uvk_program *program = load_program(path, false, &status);

    if (program == NULL) {
        return status;
    }
    status = fit(program, options, &what);
    if (status == STATUS_WELL) {
        status = show(program, &what, options->output);
    }
    uvk_program_free(program);
    return status;
}

static int run(int argc, char **argv)
{
    struct options options = {FALSE, FALSE, FALSE, FALSE, NULL, NULL};
    const GOptionEntry entries[] = {
        {"output", 'o', 0, G_OPTION_ARG_FILENAME, &options.output,
         "Draw it, as .svg, .png or .pdf; else it is shown in the terminal", "FILE"},
        {"layer", 0, 0, G_OPTION_ARG_STRING, &options.layer, "Only this layer", "NAME"},
        {"wiring", 0, 0, G_OPTION_ARG_NONE, &options.wiring,
         "The address of each key, and its pins", NULL},
        {"pairs", 0, 0, G_OPTION_ARG_NONE, &options.pairs,
         "Which two pins, joined with tweezers, press which key", NULL},
        {"choices", 0, 0, G_OPTION_ARG_NONE, &options.choices,
         "The board with each of its layout choices", NULL},
        {"dark", 0, 0, G_OPTION_ARG_NONE, &options.dark, "Light on dark", NULL},
        G_OPTION_ENTRY_NULL};
    const char *file;
    int status = STATUS_NOT_DONE;

    if (!parse_options(&command_sheet, entries, &argc, &argv, &status)) {
        return status;
    }
    file = only_file(&command_sheet, argc, argv);
    if (file != NULL && options.layer != NULL && kind_of(&options) != UVK_SHEET_LAYERS) {
        fputs("uvrek: --layer is for layers; --wiring, --pairs and --choices are about the "
              "board\n",
              stderr);
        file = NULL;
    }
    if (file != NULL) {
        status = sheet(file, &options);
    } else {
        status = STATUS_NOT_DONE;
    }
    g_free(options.layer);
    g_free(options.output);
    return status;
}

const struct command command_sheet = {"sheet", "FILE",
                                      "Draw the layers of a keymap, or the wiring of a board.",
                                      "uvrek sheet -o desk.pdf boards/subtitle-desk.uvk", run};
