/* offers.c - see offers.h. */
#include "offers.h"

#include "uvrek/explain.h"

#include <string.h>

/* A name that can stand in a cell. */
struct name {
    char *text;
    char *also; /* usual words for it, with spaces between; NULL: none */
};

enum rank { IS_IT, BEGINS, ALSO_IS, ALSO_BEGINS, HAS, ALSO_HAS, NOT_AT_ALL };

struct match {
    char *text;
    const char *also;
    enum rank rank;
    unsigned order; /* among all names */
};

struct offers {
    struct uvk_program *program;
    GArray *names;   /* of struct name */
    GArray *matches; /* of struct match */
};

/* ---- all names -------------------------------------------------------------------------- */

static void clear_name(void *data)
{
    struct name *name = data;

    g_free(name->text);
    g_free(name->also);
}

static void clear_match(void *data)
{
    g_free(((struct match *)data)->text);
}

/* The usual words that stand for NAME. NULL: none. */
static char *words_for(const char *name)
{
    size_t count;
    const struct uvk_synonym *synonyms = uvk_synonyms(&count);
    GString *out = g_string_new(NULL);

    for (size_t i = 0; i < count; i++) {
        char **names = g_strsplit(synonyms[i].names, " ", -1);
        if (g_strv_contains((const char *const *)names, name)) {
            g_string_append_printf(out, "%s%s", out->len > 0 ? " " : "", synonyms[i].word);
        }
        g_strfreev(names);
    }
    return g_string_free(out, out->len == 0);
}

/* TEXT becomes the list's, unless it is no cell of this keymap, as a light of a board without.
 */
static void add(struct offers *offers, char *text)
{
    struct uvk_messages messages;
    struct uvk_value value;
    struct name name = {text, NULL};

    uvk_messages_init(&messages);
    if (uvk_cell_read(offers->program, text, &messages, &value)) {
        name.also = words_for(text);
        g_array_append_val(offers->names, name);
    } else {
        g_free(text);
    }
    uvk_messages_clear(&messages);
}

static void add_own(struct offers *offers)
{
    static const char *const ways[] = {"", "toggle:", "once:", "only:"};
    const struct uvk_keymap *keymap = offers->program->keymap;
    const char *let;

    for (unsigned i = 0; (let = uvk_let_name(offers->program, i)) != NULL; i++) {
        add(offers, g_strdup(let));
    }
    for (unsigned i = 0; i < keymap->macro_count; i++) {
        if (!keymap->macros[i].character) {
            add(offers, g_strdup(keymap->macros[i].name));
        }
    }
    for (unsigned i = 0; i < keymap->dance_count; i++) {
        add(offers, g_strdup(keymap->dances[i].name));
    }
    for (unsigned i = 0; i < keymap->feel_count; i++) {
        struct name feel = {g_strconcat("~", keymap->feels[i].name, NULL), NULL};
        g_array_append_val(offers->names, feel); /* alone it is no cell */
    }
    for (unsigned i = 1; i < keymap->layer_count; i++) {
        for (size_t way = 0; way < G_N_ELEMENTS(ways); way++) {
            add(offers, g_strconcat(ways[way], keymap->layers[i].name, NULL));
        }
    }
}

static void add_words(struct offers *offers)
{
    static const char *const more[] = {".",
                                       "--",
                                       "once:shift",
                                       "once:ctrl",
                                       "once:alt",
                                       "once:gui",
                                       "toggle:shift",
                                       "toggle:long-press",
                                       "block:gui",
                                       "board:restart",
                                       "board:bootloader",
                                       "board:reset"};

    for (size_t i = 0; i < G_N_ELEMENTS(more); i++) {
        add(offers, g_strdup(more[i]));
    }
    for (size_t i = 0; uvk_light_acts[i] != NULL; i++) {
        add(offers, g_strconcat("light:", uvk_light_acts[i], NULL));
    }
}

struct offers *offers_new(struct uvk_program *program)
{
    struct offers *offers = g_new0(struct offers, 1);
    size_t count;
    const struct uvk_key_name *keys = uvk_key_names(&count);

    offers->program = program;
    offers->names = g_array_new(FALSE, FALSE, sizeof(struct name));
    g_array_set_clear_func(offers->names, clear_name);
    offers->matches = g_array_new(FALSE, FALSE, sizeof(struct match));
    g_array_set_clear_func(offers->matches, clear_match);
    add_own(offers);
    for (size_t i = 0; i < count; i++) {
        add(offers, g_strdup(keys[i].name));
    }
    add_words(offers);
    return offers;
}

void offers_free(struct offers *offers)
{
    if (offers != NULL) {
        g_array_unref(offers->names);
        g_array_unref(offers->matches);
        g_free(offers);
    }
}

/* ---- what matches ----------------------------------------------------------------------- */

/* Without what people leave out: "leftclick", "left click" are left-click. Freed with g_free.
 */
static char *plain(const char *text)
{
    char *lower = g_utf8_strdown(text, -1);
    GString *out = g_string_new(NULL);

    for (const char *at = lower; *at != '\0'; at++) {
        if (*at != '-' && *at != ' ') {
            g_string_append_c(out, *at);
        }
    }
    if (out->len == 0) {
        g_string_assign(out, lower);
    }
    g_free(lower);
    return g_string_free(out, FALSE);
}

/* How PART, which is plain, matches a WORD: it is it, it begins it, it is somewhere in it. */
static enum rank rank_word(const char *word, const char *part)
{
    char *name = plain(word);
    enum rank rank = strcmp(name, part) == 0        ? IS_IT
                     : g_str_has_prefix(name, part) ? BEGINS
                     : strstr(name, part) != NULL   ? HAS
                                                    : NOT_AT_ALL;

    g_free(name);
    return rank;
}

static enum rank rank_also(const char *also, const char *part)
{
    static const enum rank of_other[] = {
        [IS_IT] = ALSO_IS, [BEGINS] = ALSO_BEGINS, [HAS] = ALSO_HAS, [NOT_AT_ALL] = NOT_AT_ALL};
    char **words = g_strsplit(also, " ", -1);
    enum rank best = NOT_AT_ALL;

    for (char **word = words; *word != NULL; word++) {
        best = MIN(best, of_other[rank_word(*word, part)]);
    }
    g_strfreev(words);
    return best;
}

static enum rank rank_of(const struct name *name, const char *part)
{
    enum rank also = name->also != NULL ? rank_also(name->also, part) : NOT_AT_ALL;

    return MIN(rank_word(name->text, part), also);
}

/* Where the last part of a cell begins: behind '/' or '+', or with the '~' of a feel. */
static size_t part_at(const char *typed)
{
    size_t at = strlen(typed);

    while (at > 0 && typed[at] != '~' && strchr("/+", typed[at - 1]) == NULL) {
        at--;
    }
    return at;
}

static int by_rank(const void *a, const void *b)
{
    const struct match *left = a;
    const struct match *right = b;

    return left->rank != right->rank ? (int)left->rank - (int)right->rank
                                     : (int)left->order - (int)right->order;
}

static bool is_cell(const struct offers *offers, const char *text)
{
    struct uvk_messages messages;
    struct uvk_value value;
    bool good;

    uvk_messages_init(&messages);
    good = uvk_cell_read(offers->program, text, &messages, &value);
    uvk_messages_clear(&messages);
    return good;
}

static void add_match(struct offers *offers, char *text, const char *also, enum rank rank)
{
    struct match match = {text, also, rank, offers->matches->len};

    g_array_append_val(offers->matches, match);
}

static bool has_match(const struct offers *offers, const char *text)
{
    for (guint i = 0; i < offers->matches->len; i++) {
        if (strcmp(offer_text(offers, i), text) == 0) {
            return true;
        }
    }
    return false;
}

unsigned offers_find(struct offers *offers, const char *typed)
{
    size_t at = part_at(typed);
    char *before = g_strndup(typed, at);
    char *part = plain(typed + at);

    g_array_set_size(offers->matches, 0);
    if (typed[0] != '\0' && is_cell(offers, typed)) {
        add_match(offers, g_strdup(typed), NULL, IS_IT);
    }
    for (guint i = 0; i < offers->names->len && part[0] != '\0'; i++) {
        const struct name *name = &g_array_index(offers->names, struct name, i);
        enum rank rank = rank_of(name, part);
        char *text = g_strconcat(before, name->text, NULL);
        bool by_other = rank == ALSO_IS || rank == ALSO_BEGINS || rank == ALSO_HAS;
        if (rank != NOT_AT_ALL && !has_match(offers, text)) {
            add_match(offers, text, by_other ? name->also : NULL, rank);
        } else {
            g_free(text);
        }
    }
    g_array_sort(offers->matches, by_rank);
    g_free(before);
    g_free(part);
    return offers->matches->len;
}

const char *offer_text(const struct offers *offers, unsigned index)
{
    return g_array_index(offers->matches, struct match, index).text;
}

const char *offer_also(const struct offers *offers, unsigned index)
{
    return g_array_index(offers->matches, struct match, index).also;
}

char *offer_sentence(const struct offers *offers, const char *text, bool *good)
{
    struct uvk_messages messages;
    struct uvk_value value;
    char *sentence;

    uvk_messages_init(&messages);
    *good = uvk_cell_read(offers->program, text, &messages, &value);
    if (*good) {
        sentence = uvk_value_sentence(offers->program, &value);
    } else {
        const struct uvk_message *first =
            messages.list->len > 0 ? messages.list->pdata[0] : NULL;
        sentence = g_strdup_printf("%s%s%s", first != NULL ? first->text : "this is no cell",
                                   first != NULL && first->fix != NULL ? "; " : "",
                                   first != NULL && first->fix != NULL ? first->fix : "");
    }
    uvk_messages_clear(&messages);
    return sentence;
}

/* ---- where is it ------------------------------------------------------------------------ */

static bool mentions(const struct uvk_program *program, const struct uvk_value *value,
                     const char *text);

/* BROKEN: the dance has no such line. */
static bool side_mentions(const struct uvk_program *program, const struct uvk_value *side,
                          const char *text)
{
    return side->kind != UVK_VALUE_BROKEN && mentions(program, side, text);
}

static bool dance_mentions(const struct uvk_program *program,
                           const struct uvk_dance_text *dance, const char *text)
{
    bool does = false;

    for (unsigned i = 0; i < dance->taps && !does; i++) {
        const struct uvk_dance_line *line = &dance->lines[i];
        does = side_mentions(program, &line->tapped, text) ||
               side_mentions(program, &line->held, text);
    }
    return does;
}

/* Of what a macro types, a letter or two say nothing. */
#define TYPED_LEAST 3u

static bool line_mentions(const struct uvk_program *program, const struct uvk_macro_line *line,
                          const char *text)
{
    if (line->word == UVK_LINE_TYPE) {
        return strlen(text) >= TYPED_LEAST && strstr(line->text, text) != NULL;
    }
    return line->word != UVK_LINE_WAIT && line->text == NULL &&
           mentions(program, &line->value, text);
}

static bool lines_mention(const struct uvk_program *program, const struct uvk_macro_line *lines,
                          const char *text)
{
    while (lines != NULL && !line_mentions(program, lines, text)) {
        lines = lines->next;
    }
    return lines != NULL;
}

static bool macro_mentions(const struct uvk_program *program,
                           const struct uvk_macro_text *macro, const char *text)
{
    return lines_mention(program, macro->lines, text) ||
           lines_mention(program, macro->release_lines, text);
}

static bool mentions(const struct uvk_program *program, const struct uvk_value *value,
                     const char *text)
{
    char *name = uvk_cell_name(program, value);
    char *written = uvk_value_text(value);
    bool does = strstr(name, text) != NULL || strstr(written, text) != NULL;

    g_free(written);
    g_free(name);
    if (does) {
        return true;
    }
    switch (value->kind) {
    case UVK_VALUE_HOLD:
        return mentions(program, value->tap, text) || mentions(program, value->held, text);
    case UVK_VALUE_DANCE:
        return dance_mentions(program, &program->keymap->dances[value->dance], text);
    case UVK_VALUE_MACRO:
        return macro_mentions(program, &program->keymap->macros[value->macro], text);
    default:
        return false;
    }
}

GArray *offers_where(const struct offers *offers, const char *text)
{
    const struct uvk_keymap *keymap = offers->program->keymap;
    const struct uvk_board *board = offers->program->board;
    GArray *places = g_array_new(FALSE, FALSE, sizeof(struct offer_place));

    for (unsigned layer = 0; layer < keymap->layer_count; layer++) {
        for (unsigned cell = 0; cell < uvk_board_cells(board); cell++) {
            struct offer_place place = {layer, cell};
            if (mentions(offers->program, &keymap->layers[layer].cells[cell], text)) {
                g_array_append_val(places, place);
            }
        }
    }
    return places;
}
