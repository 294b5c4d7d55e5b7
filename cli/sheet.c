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

struct wishes {
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

static enum uvk_sheet_kind kind_of(const struct wishes *wishes)
{
    return wishes->pairs     ? UVK_SHEET_PAIRS
           : wishes->choices ? UVK_SHEET_CHOICES
           : wishes->wiring  ? UVK_SHEET_WIRING
                             : UVK_SHEET_LAYERS;
}

/* What is asked of a program can be drawn of it; STATUS_WELL, or what to end with. */
static int fit(const struct uvk_program *program, const struct wishes *wishes,
               struct uvk_sheet *what)
{
    if (what->kind == UVK_SHEET_CHOICES && program->board->choice_count == 0) {
        fprintf(stderr, "uvrek: %s has no layout choices\n", program->board->name);
        return STATUS_NOT_DONE;
    }
    if (what->kind == UVK_SHEET_LAYERS && program->keymap == NULL) {
        if (wishes->layer != NULL) {
            fputs("uvrek: --layer needs a keymap; here is only a board\n", stderr);
            return STATUS_NOT_DONE;
        }
        fputs("uvrek: there is no keymap here; this is the wiring\n", stderr);
        what->kind = UVK_SHEET_WIRING;
    }
    if (what->kind == UVK_SHEET_LAYERS && wishes->layer != NULL) {
        what->layer = find_layer(program->keymap, wishes->layer);
        return what->layer >= 0 ? STATUS_WELL : STATUS_NOT_DONE;
    }
    return STATUS_WELL;
}

static int sheet(const char *path, const struct wishes *wishes)
{
    struct uvk_sheet what = {.kind = kind_of(wishes), .layer = -1, .dark = wishes->dark};
    int status;
    struct uvk_program *program = load_program(path, false, &status);

    if (program == NULL) {
        return status;
    }
    status = fit(program, wishes, &what);
    if (status == STATUS_WELL) {
        status = show(program, &what, wishes->output);
    }
    uvk_program_free(program);
    return status;
}

static struct wishes wishes;

static const GOptionEntry options[] = {
    {"output", 'o', 0, G_OPTION_ARG_FILENAME, &wishes.output,
     "Draw it, as .svg, .png or .pdf; else it is shown in the terminal", "FILE"},
    {"layer", 0, 0, G_OPTION_ARG_STRING, &wishes.layer, "Only this layer", "NAME"},
    {"wiring", 0, 0, G_OPTION_ARG_NONE, &wishes.wiring, "The address of each key, and its pins",
     NULL},
    {"pairs", 0, 0, G_OPTION_ARG_NONE, &wishes.pairs,
     "Which two pins, joined with tweezers, press which key", NULL},
    {"choices", 0, 0, G_OPTION_ARG_NONE, &wishes.choices,
     "The board with each of its layout choices", NULL},
    {"dark", 0, 0, G_OPTION_ARG_NONE, &wishes.dark, "Light on dark", NULL},
    G_OPTION_ENTRY_NULL};

static int run(int count, char **files)
{
    (void)count;
    if (wishes.layer != NULL && kind_of(&wishes) != UVK_SHEET_LAYERS) {
        complain("--layer is for layers; --wiring, --pairs and --choices are about the board");
        return STATUS_NOT_DONE;
    }
    return sheet(files[0], &wishes);
}

const struct command command_sheet = {"sheet",
                                      "FILE",
                                      "Draw the layers of a keymap, or the wiring of a board.",
                                      "uvrek sheet -o desk.pdf boards/subtitle-desk.uvk",
                                      options,
                                      1,
                                      run};
