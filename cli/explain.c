/* explain.c - `uvrek explain`: a word's meaning, or a search over all names. */
#include "explain.h"
#include "carried.h"

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

static void add_own(GArray *names, const struct uvk_program *program)
{
    const struct uvk_keymap *keymap = program->keymap;

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
    for (unsigned i = 0; uvk_let_name(program, i) != NULL; i++) {
        add_name(names, uvk_let_name(program, i), "let");
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
    for (unsigned i = 0; board != NULL && i < board->choice_count; i++) {
        add_name(names, board->choices[i].name, "choice");
    }
    if (keymap_of(asked) != NULL) {
        add_own(names, asked->program);
    }
    return names;
}

static const char *name_at(size_t index, const void *data)
{
    return g_array_index((GArray *)data, struct named, (guint)index).name;
}

static void print_name(const struct named *named)
{
    printf("%-20s %s\n", named->name, named->kind);
}

static bool is_among(char *const *list, const char *name)
{
    for (; *list != NULL; list++) {
        if (strcmp(*list, name) == 0) {
            return true;
        }
    }
    return false;
}

/* Names with PART in them, a line each, but for those of LIST; how many. */
static unsigned print_names(const GArray *names, const char *part, char *const *list)
{
    unsigned found = 0;

    for (guint i = 0; i < names->len; i++) {
        const struct named *named = &g_array_index((GArray *)names, struct named, i);
        if (strstr(named->name, part) != NULL && !is_among(list, named->name)) {
            print_name(named);
            found++;
        }
    }
    return found;
}

/* The names of LIST, a line each; how many. */
static unsigned print_list(const GArray *names, char *const *list)
{
    unsigned found = 0;

    for (; *list != NULL; list++) {
        for (guint i = 0; i < names->len; i++) {
            const struct named *named = &g_array_index((GArray *)names, struct named, i);
            if (strcmp(named->name, *list) == 0) {
                print_name(named);
                found++;
                break;
            }
        }
    }
    return found;
}

/* What the language calls a usual word; freed with g_strfreev. */
static char **synonyms_of(const char *word)
{
    const char *names = uvk_synonyms_of(word);

    return g_strsplit(names != NULL ? names : "", " ", -1);
}

/* Several words that are nothing together: what each of them finds. */
static unsigned print_each_word(const struct asked *asked, const GArray *names)
{
    char **words = g_strsplit(asked->word, " ", -1);
    unsigned found = 0;

    for (char **word = words; words[1] != NULL && *word != NULL; word++) {
        char **meant = synonyms_of(*word);
        found += print_list(names, meant) + print_names(names, *word, meant);
        g_strfreev(meant);
    }
    g_strfreev(words);
    return found;
}

static void tell_unknown(const struct asked *asked, GArray *names)
{
    const char *near = uvk_nearest(asked->word, names->len, name_at, names);

    complain_name("nothing is called", asked->word, near);
    fputs(keymap_of(asked) == NULL && strpbrk(asked->word, "/~:+(") != NULL
              ? "To have a cell explained, name the file of its keymap as well.\n"
              : "`uvrek explain --list` shows all names.\n",
          stderr);
}

/* The word is no name: what is meant by it, names that have it in them, or the one that it is
 * near to. */
static int search(const struct asked *asked)
{
    GArray *names = all_names(asked);
    char **meant = synonyms_of(asked->word);
    int status = STATUS_NOT_WELL;

    if (print_list(names, meant) + print_names(names, asked->word, meant) > 0) {
        status = STATUS_WELL;
    } else if (!print_cell_mistakes(asked)) {
        status = print_each_word(asked, names) > 0 ? STATUS_WELL : STATUS_NOT_WELL;
        if (status == STATUS_NOT_WELL) {
            tell_unknown(asked, names);
        }
    }
    g_strfreev(meant);
    g_array_free(names, TRUE);
    return status;
}

/* A word that has a meaning may be a usual word for other things as well. */
static void print_others(const struct asked *asked)
{
    char **meant = synonyms_of(asked->word);

    if (*meant != NULL) {
        GArray *names = all_names(asked);
        puts("See also:");
        (void)print_list(names, meant);
        g_array_free(names, TRUE);
    }
    g_strfreev(meant);
}

static int explain(const struct asked *asked)
{
    if (asked->word == NULL) {
        GArray *names = all_names(asked);
        print_names(names, "", (char *[]){NULL});
        g_array_free(names, TRUE);
        return STATUS_WELL;
    }
    if (!print_meanings(asked)) {
        return search(asked);
    }
    print_others(asked);
    return STATUS_WELL;
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

/* Are the words behind the first one a file's name, or do they belong to it? */
static bool is_file(const char *word)
{
    return g_str_has_suffix(word, ".uvk") || strchr(word, '/') != NULL ||
           g_file_test(word, G_FILE_TEST_EXISTS);
}

/* `explain pad.hex`: what is in a file with machine code. */
static int explain_file(const char *path)
{
    struct carried carried;
    GError *error = NULL;

    if (!carried_read(path, NULL, &carried, &error)) {
        return print_problem(error);
    }
    carried_print(&carried, path);
    carried_clear(&carried);
    return STATUS_WELL;
}

/* `explain flash mode FILE`: several words are one; a file may stand behind them. */
static int look_up(int count, char **words, const char *layer)
{
    bool has_file = count > 1 && is_file(words[count - 1]);
    int last = has_file ? count - 1 : count;
    GString *word = g_string_new(count > 0 ? words[0] : NULL);
    int status = STATUS_NOT_DONE;

    for (int i = 1; i < last; i++) {
        g_string_append_printf(word, " %s", words[i]);
    }
    if (count == 0) {
        complain(
            "explain needs a WORD, and perhaps a FILE; `uvrek explain --help` has an example");
    } else {
        status = asked_for(word->str, has_file ? words[count - 1] : NULL, layer);
    }
    g_string_free(word, TRUE);
    return status;
}

static int list_all(int count, char **files)
{
    if (count > 1) {
        complain("explain --list takes at most one FILE");
        return STATUS_NOT_DONE;
    }
    return asked_for(NULL, count == 1 ? files[0] : NULL, NULL);
}

static gboolean list, messages;
static char *layer;

static const GOptionEntry options[] = {
    {"list", 0, 0, G_OPTION_ARG_NONE, &list, "All names, of FILE too if there is one", NULL},
    {"messages", 0, 0, G_OPTION_ARG_NONE, &messages,
     "What all messages mean, as a page in Markdown", NULL},
    {"layer", 0, 0, G_OPTION_ARG_STRING, &layer,
     "Of an address or a knob: only what this layer does", "NAME"},
    G_OPTION_ENTRY_NULL};

static int run(int count, char **words)
{
    if (messages && count == 0 && !list) {
        print_message_page();
        return STATUS_WELL;
    }
    if (messages) {
        complain("explain --messages prints all of them: it takes no word and no file");
        return STATUS_NOT_DONE;
    }
    if (!list && count == 1 && is_carried(words[0])) {
        return explain_file(words[0]);
    }
    return list ? list_all(count, words) : look_up(count, words, layer);
}

const struct command command_explain = {
    "explain",
    "WORD [FILE]",
    "Say what a key, cell, code, setting, pin, name, character or firmware file is.",
    "uvrek explain r1c2 boards/subtitle-desk.uvk",
    options,
    ANY_WORDS,
    run};
