/* explain.c - `uvrek explain`: a word's meaning, or a search over all names. */
#include "explain.h"

#include <stdio.h>
#include <string.h>

/* A name, and what kind of thing it is. */
struct named {
    const char *name, *kind;
};

static void add_name(GArray *names, const char *name, const char *kind)
{
    struct named named = {name, kind};

    for (guint i = 0; i < names->len; i++) {
        const struct named *other = &g_array_index(names, struct named, i);
        if (strcmp(other->name, name) == 0 && strcmp(other->kind, kind) == 0) {
            return;
        }
    }
    g_array_append_val(names, named);
}

static void add_chips(GArray *names, const struct uvk_board *board)
{
    size_t count;
    const struct uvk_chip *const *chips = uvk_chips(&count);

    for (size_t i = 0; i < count; i++) {
        add_name(names, chips[i]->name, "chip");
        for (size_t pin = 0; pin < chips[i]->pin_count; pin++) {
            if (board == NULL || board->chip == chips[i]) {
                add_name(names, chips[i]->pins[pin].name, "pin");
            }
        }
    }
    for (unsigned i = 0; board != NULL && i < board->pin_name_count; i++) {
        add_name(names, board->pin_names[i].name, "pin");
    }
}

static void add_own(GArray *names, const struct uvk_keymap *keymap)
{
    for (unsigned i = 0; i < keymap->layer_count; i++) {
        add_name(names, keymap->layers[i].name, "layer");
    }
    for (unsigned i = 0; i < keymap->macro_count; i++) {
        if (!keymap->macros[i].character) {
            add_name(names, keymap->macros[i].name, "macro");
        }
    }
    for (unsigned i = 0; i < keymap->dance_count; i++) {
        add_name(names, keymap->dances[i].name, "dance");
    }
    for (unsigned i = 0; i < keymap->feel_count; i++) {
        if (keymap->feels[i].decide != UVK_LONG_PRESS) {
            add_name(names, keymap->feels[i].name, "feel");
        }
    }
}

/* All names that the language knows by itself, and those of the file. */
static GArray *all_names(const struct asked *asked)
{
    GArray *names = g_array_new(FALSE, TRUE, sizeof(struct named));
    const struct uvk_board *board = board_of(asked);
    size_t count;
    const struct uvk_key_name *keys = uvk_key_names(&count);
    const struct uvk_word *words;

    for (size_t i = 0; i < count; i++) {
        add_name(names, keys[i].name, "key");
    }
    words = uvk_words(&count);
    for (size_t i = 0; i < count; i++) {
        add_name(names, words[i].name, words[i].where);
    }
    for (unsigned i = 0; i < UVK_SETTINGS; i++) {
        if (i != UVK_SET_LEADER_WITHIN) { /* that is `within` of the leader */
            add_name(names, uvk_setting_names[i].name, "setting");
        }
    }
    for (size_t i = 0; uvk_layout_names[i] != NULL; i++) {
        add_name(names, uvk_layout_names[i], "layout");
    }
    add_chips(names, board);
    for (unsigned i = 0; board != NULL && i < board->knob_count; i++) {
        add_name(names, board->knobs[i].name, "knob");
    }
    if (keymap_of(asked) != NULL) {
        add_own(names, keymap_of(asked));
    }
    return names;
}

static const char *name_at(size_t index, const void *data)
{
    return g_array_index((GArray *)data, struct named, (guint)index).name;
}

/* Names with PART in them, a line each; how many. */
static unsigned print_names(const GArray *names, const char *part)
{
    unsigned found = 0;

    for (guint i = 0; i < names->len; i++) {
        const struct named *named = &g_array_index((GArray *)names, struct named, i);
        if (strstr(named->name, part) != NULL) {
            printf("%-20s %s\n", named->name, named->kind);
            found++;
        }
    }
    return found;
}

/* The word is no name: names that have it in them, or the one that it is near to. */
static int search(const struct asked *asked)
{
    GArray *names = all_names(asked);
    int status = STATUS_NOT_WELL;

    if (print_names(names, asked->word) > 0) {
        status = STATUS_WELL;
    } else if (!print_cell_mistakes(asked)) {
        const char *near = uvk_nearest(asked->word, names->len, name_at, names);
        complain_name("nothing is called", asked->word, near);
        fputs(keymap_of(asked) == NULL && strpbrk(asked->word, "/~:+(") != NULL
                  ? "To have a cell explained, name the file of its keymap as well.\n"
                  : "`uvrek explain --list` shows all names.\n",
              stderr);
    }
    g_array_free(names, TRUE);
    return status;
}

static int explain(const struct asked *asked)
{
    if (asked->word == NULL) {
        GArray *names = all_names(asked);
        print_names(names, "");
        g_array_free(names, TRUE);
        return STATUS_WELL;
    }
    return print_meanings(asked) ? STATUS_WELL : search(asked);
}

/* WORD NULL: all names. PATH and LAYER may be NULL. */
static int asked_for(const char *word, const char *path, const char *layer)
{
    struct asked asked = {word, NULL, -1};
    int status = STATUS_NOT_DONE;

    if (word != NULL && (!g_utf8_validate(word, -1, NULL) || word[0] == '\0')) {
        fputs("uvrek: the word is no UTF-8 text\n", stderr);
        return STATUS_NOT_DONE;
    }
    if (path != NULL) {
        asked.program = load_program(path, false, &status);
        if (asked.program == NULL) {
            return status;
        }
        status = STATUS_NOT_DONE;
    }
    if (layer != NULL) {
        asked.layer = find_layer(keymap_of(&asked), layer);
    }
    if (layer == NULL || asked.layer >= 0) {
        status = explain(&asked);
    }
    uvk_program_free(asked.program);
    return status;
}

static int run(int argc, char **argv)
{
    gboolean list = FALSE;
    char *layer = NULL;
    const GOptionEntry entries[] = {{"list", 0, 0, G_OPTION_ARG_NONE, &list,
                                     "All names, of FILE too if there is one", NULL},
                                    {"layer", 0, 0, G_OPTION_ARG_STRING, &layer,
                                     "Of an address or a knob: only what this layer does",
                                     "NAME"},
                                    G_OPTION_ENTRY_NULL};
    int status;

    if (!parse_options(&command_explain, entries, &argc, &argv, &status)) {
        g_free(layer);
        return status;
    }
    if (argc < (list ? 1 : 2) || argc > (list ? 2 : 3)) {
        fputs("uvrek: explain needs one WORD, and perhaps one FILE; `uvrek explain --help` has "
              "an example\n",
              stderr);
        status = STATUS_NOT_DONE;
    } else {
        status = asked_for(list ? NULL : argv[1], list ? argv[1] : argv[2], layer);
    }
    g_free(layer);
    return status;
}

const struct command command_explain = {
    "explain", "WORD [FILE]", "Say what a key, cell, code, setting, pin, name or character is.",
    "uvrek explain r1c2 boards/subtitle-desk.uvk", run};
