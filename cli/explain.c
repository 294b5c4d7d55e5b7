/* explain.c - `uvrek explain`: a word's meaning, or a search over all names. */
#include "explain.h"

#include <stdio.h>
#include <string.h>

/* All names that the language knows by itself, and those of the file. */
static GPtrArray *all_names(const struct asked *asked)
{
    GPtrArray *names = g_ptr_array_new();
    const struct uvk_keymap *keymap = asked->program != NULL ? asked->program->keymap : NULL;
    size_t count;
    const struct uvk_key_name *keys = uvk_key_names(&count);
    size_t chip_count;
    const struct uvk_chip *const *chips = uvk_chips(&chip_count);

    for (size_t i = 0; i < count; i++) {
        g_ptr_array_add(names, (char *)keys[i].name);
    }
    for (unsigned i = 0; i < UVK_SETTINGS; i++) {
        g_ptr_array_add(names, (char *)uvk_setting_names[i].name);
    }
    for (size_t i = 0; i < chip_count; i++) {
        g_ptr_array_add(names, (char *)chips[i]->name);
    }
    for (unsigned i = 0; keymap != NULL && i < keymap->layer_count; i++) {
        g_ptr_array_add(names, (char *)keymap->layers[i].name);
    }
    for (unsigned i = 0; keymap != NULL && i < keymap->macro_count; i++) {
        if (!keymap->macros[i].character) {
            g_ptr_array_add(names, (char *)keymap->macros[i].name);
        }
    }
    for (unsigned i = 0; keymap != NULL && i < keymap->dance_count; i++) {
        g_ptr_array_add(names, (char *)keymap->dances[i].name);
    }
    return names;
}

static const char *name_at(size_t index, const void *data)
{
    return g_ptr_array_index((GPtrArray *)data, (guint)index);
}

/* Names with PART in them, a line each; how many. */
static unsigned print_names(const GPtrArray *names, const char *part)
{
    unsigned found = 0;

    for (guint i = 0; i < names->len; i++) {
        const char *name = g_ptr_array_index((GPtrArray *)names, i);
        if (strstr(name, part) != NULL) {
            puts(name);
            found++;
        }
    }
    return found;
}

/* The word is no name: names that have it in them, or the one that it is near to. */
static int search(const struct asked *asked)
{
    GPtrArray *names = all_names(asked);
    int status = STATUS_WELL;

    if (print_names(names, asked->word) == 0) {
        const char *near = uvk_nearest(asked->word, names->len, name_at, names);
        fprintf(stderr, "uvrek: nothing is called '%s'", asked->word);
        if (near != NULL) {
            fprintf(stderr, "; did you mean '%s'?", near);
        }
        fputs("\n`uvrek explain --list` shows all names.\n", stderr);
        status = STATUS_NOT_WELL;
    }
    g_ptr_array_free(names, TRUE);
    return status;
}

static int explain(const struct asked *asked, bool list)
{
    if (list) {
        GPtrArray *names = all_names(asked);
        print_names(names, "");
        g_ptr_array_free(names, TRUE);
        return STATUS_WELL;
    }
    return print_meanings(asked) ? STATUS_WELL : search(asked);
}

static int run(int argc, char **argv)
{
    gboolean list = FALSE;
    const GOptionEntry entries[] = {{"list", 0, 0, G_OPTION_ARG_NONE, &list,
                                     "All names, of FILE too if there is one", NULL},
                                    G_OPTION_ENTRY_NULL};
    struct asked asked = {NULL, NULL};
    struct uvk_program *program = NULL;
    int status;
    int words;

    if (!parse_options(&command_explain, entries, &argc, &argv, &status)) {
        return status;
    }
    words = list ? 0 : 1;
    if (argc < 1 + words || argc > 2 + words) {
        fputs("uvrek: explain needs one WORD, and perhaps one FILE; `uvrek explain --help` has "
              "an "
              "example\n",
              stderr);
        return STATUS_NOT_DONE;
    }
    asked.word = list ? "" : argv[1];
    if (!g_utf8_validate(asked.word, -1, NULL) || (!list && asked.word[0] == '\0')) {
        fputs("uvrek: the word is no UTF-8 text\n", stderr);
        return STATUS_NOT_DONE;
    }
    if (argc == 2 + words) {
        program = load_program(argv[1 + words], false, &status);
        if (program == NULL) {
            return status;
        }
    }
    asked.program = program;
    status = explain(&asked, list);
    if (program != NULL) {
        uvk_program_free(program);
    }
    return status;
}

const struct command command_explain = {
    "explain", "WORD [FILE]", "Say what a key, code, setting, pin, name or character is.",
    "uvrek explain r1c2 boards/subtitle-desk.uvk", run};
