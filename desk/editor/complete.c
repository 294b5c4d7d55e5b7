/* complete.c - what could stand where somebody writes. */
#include "context.h"
#include "mentions.h"

#include "uvrek/explain.h"
#include "uvrek/names.h"

#include <string.h>

/* Kinds of the protocol's completion items. */
enum {
    ITEM_TEXT = 1,
    ITEM_FUNCTION = 3,
    ITEM_VARIABLE = 6,
    ITEM_MODULE = 9,
    ITEM_UNIT = 11,
    ITEM_VALUE = 12,
    ITEM_KEYWORD = 14,
    ITEM_COLOUR = 16,
    ITEM_REFERENCE = 18
};

struct completing {
    struct uvk_editor *editor;
    struct document *document;
    struct uvk_program *program;
    struct context context;
    size_t at;
    json_t *items;
};

/* What is written from the part's beginning on is replaced. INSERTS NULL: the label. */
static json_t *add(struct completing *completing, const char *label, int kind,
                   const char *detail, const char *inserts)
{
    const char *text = completing->document->text->str;
    json_t *range =
        range_to_json(text, completing->context.part, completing->at - completing->context.part,
                      completing->editor->units);
    json_t *item =
        json_pack("{s:s, s:i, s:{s:o, s:s}}", "label", label, "kind", kind, "textEdit", "range",
                  range, "newText", inserts != NULL ? inserts : label);

    if (detail != NULL) {
        (void)json_object_set_new(item, "detail", json_string(detail));
    }
    (void)json_array_append_new(completing->items, item);
    return item;
}

/* ---- words of the language --------------------------------------------------------------- */

static void add_words_at(struct completing *completing, const char *where)
{
    size_t count;
    const struct uvk_word *words = uvk_words(&count);

    for (size_t i = 0; i < count; i++) {
        if (strcmp(words[i].where, where) == 0) {
            (void)add(completing, words[i].name, ITEM_KEYWORD, words[i].what, NULL);
        }
    }
}

static void add_statements(struct completing *completing)
{
    const char *const *where = context_where(context_block(&completing->context));

    for (; where != NULL && *where != NULL; where++) {
        add_words_at(completing, *where);
    }
}

static void add_settings(struct completing *completing)
{
    for (unsigned i = 0; i < UVK_SETTINGS; i++) {
        const struct uvk_setting_name *setting = &uvk_setting_names[i];
        char *detail;
        if (i == UVK_SET_LEADER_WITHIN) { /* that is `within` of the leader */
            continue;
        }
        detail = uvk_setting_sentence(setting);
        (void)add(completing, setting->name, ITEM_VALUE, detail, NULL);
        g_free(detail);
    }
    add_words_at(completing, "behind set, in a keymap");
}

static void add_chips(struct completing *completing)
{
    size_t count;
    const struct uvk_chip *const *chips = uvk_chips(&count);

    for (size_t i = 0; i < count; i++) {
        (void)add(completing, chips[i]->name, ITEM_MODULE, chips[i]->title, NULL);
    }
}

static void add_layouts(struct completing *completing)
{
    for (size_t i = 0; uvk_layout_names[i] != NULL; i++) {
        (void)add(completing, uvk_layout_names[i], ITEM_VALUE, NULL, NULL);
    }
}

/* ---- pins -------------------------------------------------------------------------------- */

/* Is NAME a word of the text already? */
static bool is_written(const char *text, const char *name)
{
    size_t length = strlen(name);

    for (const char *at = text; (at = strstr(at, name)) != NULL; at += length) {
        if ((at == text || !g_ascii_isalnum(at[-1])) && !g_ascii_isalnum(at[length])) {
            return true;
        }
    }
    return false;
}

static void add_pins(struct completing *completing)
{
    const struct uvk_board *board = completing->program->board;
    const char *text = completing->document->text->str;

    for (unsigned i = 0; board != NULL && board->chip != NULL && i < board->chip->pin_count;
         i++) {
        const struct uvk_pin *pin = &board->chip->pins[i];
        if (!is_written(text, pin->name)) {
            const char *label = uvk_pin_label(board, pin);
            (void)add(completing, pin->name, ITEM_UNIT,
                      strcmp(label, pin->name) == 0 ? "a pin that is free" : label, NULL);
        }
    }
}

/* ---- names of the text's own ------------------------------------------------------------- */

static void add_own(struct completing *completing, enum named kind)
{
    static const int kinds[] = {[NAMED_CELL] = ITEM_FUNCTION,
                                [NAMED_FEEL] = ITEM_VARIABLE,
                                [NAMED_KNOB] = ITEM_VARIABLE,
                                [NAMED_CHOICE] = ITEM_VARIABLE};
    GArray *mentions = mentions_of(completing->program);

    for (guint i = 0; i < mentions->len; i++) {
        const struct mention *mention = &g_array_index(mentions, struct mention, i);
        if (mention->keyword != NULL && mention->kind == kind) {
            char *detail = g_strdup_printf("%s %s", mention->keyword, mention->name);
            (void)add(completing, mention->name, kinds[kind], detail, NULL);
            g_free(detail);
        }
    }
    g_array_unref(mentions);
}

/* ---- cells ------------------------------------------------------------------------------- */

static void add_keys(struct completing *completing)
{
    size_t count;
    const struct uvk_key_name *keys = uvk_key_names(&count);

    for (size_t i = 0; i < count; i++) {
        (void)json_object_set_new(add(completing, keys[i].name, ITEM_VALUE, NULL, NULL), "data",
                                  json_pack("{s:s}", "uri", completing->document->uri));
    }
}

/* Some words stand for statements. */
static bool is_of_cells(const char *name)
{
    return uvk_key_named(name) != NULL || strpbrk(name, "+:") != NULL;
}

/* The words that people say, for what the language calls otherwise. */
static void add_synonyms(struct completing *completing)
{
    size_t count;
    const struct uvk_synonym *synonyms = uvk_synonyms(&count);

    for (size_t i = 0; i < count; i++) {
        char **names = g_strsplit(synonyms[i].names, " ", 2);
        if (names[0] != NULL && is_of_cells(names[0])) {
            (void)add(completing, synonyms[i].word, ITEM_REFERENCE, synonyms[i].names,
                      names[0]);
        }
        g_strfreev(names);
    }
}

/* Behind `toggle:`, `board:` and their like. */
static void add_behind(struct completing *completing, const char *prefix)
{
    static const char *const acts[] = {"bootloader", "restart", "reset"};

    if (g_str_has_suffix(prefix, "board:")) {
        for (size_t i = 0; i < G_N_ELEMENTS(acts); i++) {
            (void)add(completing, acts[i], ITEM_VALUE, NULL, NULL);
        }
    } else if (g_str_has_suffix(prefix, "light:")) {
        for (size_t i = 0; uvk_light_acts[i] != NULL; i++) {
            (void)add(completing, uvk_light_acts[i], ITEM_COLOUR, NULL, NULL);
        }
    } else {
        add_own(completing, NAMED_CELL);
        add_keys(completing);
    }
}

static void add_cells(struct completing *completing)
{
    add_own(completing, NAMED_CELL);
    add_keys(completing);
    add_synonyms(completing);
    add_words_at(completing, "before a name, in a cell");
}

/* Keys can be named by where they are. */
static void add_addresses(struct completing *completing)
{
    const struct uvk_board *board = completing->program->board;

    for (unsigned i = 0; board != NULL && i < board->key_count; i++) {
        char *place = uvk_cell_place(board, i);
        (void)add(completing, place, ITEM_TEXT, NULL, NULL);
        g_free(place);
    }
}

/* ---- which of these ---------------------------------------------------------------------- */

/* What comes behind the FIRST word of a statement, where that is no cell. */
static const struct {
    const char *first;
    unsigned at; /* which word, counted from 0; 0: each behind the first */
    void (*add)(struct completing *);
    const char *where; /* ADD NULL: these words */
} behind[] = {
    {"set", 1, add_settings, NULL},       {"chip", 1, add_chips, NULL},
    {"host", 1, NULL, "behind host"},     {"host", 2, add_layouts, NULL},
    {"rows", 0, add_pins, NULL},          {"cols", 0, add_pins, NULL},
    {"pins", 0, add_pins, NULL},          {"strip", 1, add_pins, NULL},
    {"backlight", 1, add_pins, NULL},     {"lamp", 2, add_pins, NULL},
    {"link", 1, NULL, "behind link"},     {"link", 0, add_pins, NULL},
    {"effect", 1, NULL, "behind effect"}, {"expect", 1, NULL, "behind expect"},
};

static bool add_behind_first(struct completing *completing)
{
    const char *first = context_before(&completing->context, 0);
    guint at = completing->context.before->len;

    for (size_t i = 0; first != NULL && i < G_N_ELEMENTS(behind); i++) {
        if (strcmp(behind[i].first, first) == 0 && (behind[i].at == at || behind[i].at == 0)) {
            if (behind[i].add != NULL) {
                behind[i].add(completing);
            } else {
                add_words_at(completing, behind[i].where);
            }
            return true;
        }
    }
    return false;
}

static bool is_one_of(const char *word, const char *const *list)
{
    return word != NULL && g_strv_contains(list, word);
}

static void add_all(struct completing *completing)
{
    static const char *const of_cells[] = {"layer", "macro",  "on-release", "dance",
                                           "combo", "leader", "play",       NULL};
    static const char *const cells_behind[] = {"let", "combo", NULL};
    static const char *const by_places[] = {"leader", "play", NULL};
    const struct context *context = &completing->context;
    const char *text = completing->document->text->str;
    const char *block = context_block(context);
    bool is_first = context->before->len == 0;
    char before = context->part > 0 ? text[context->part - 1] : '\0';

    if (before == '~') {
        add_own(completing, NAMED_FEEL);
    } else if (before == '=' && strcmp(block, "keys") == 0) {
        add_own(completing, NAMED_KNOB);
    } else if (before == ':') {
        char *prefix = g_strndup(text + context->word, context->part - context->word);
        add_behind(completing, prefix);
        g_free(prefix);
    } else if (!add_behind_first(completing)) {
        bool cells =
            (is_one_of(block, of_cells) && (!is_first || strcmp(block, "layer") == 0)) ||
            is_one_of(context_before(context, 0), cells_behind);
        if (is_first) {
            add_statements(completing);
        }
        if (cells) {
            add_cells(completing);
        }
        if ((!is_first && is_one_of(block, by_places)) || context_begins(context, "combo")) {
            add_addresses(completing);
        }
    }
}

ANSWER(answer_completion)
{
    struct completing completing = {.editor = editor};
    struct spot spot;

    if (!spot_from(editor, params, &spot, failure)) {
        return NULL;
    }
    completing.document = spot.document;
    completing.at = spot.at;
    completing.program = whole_program(editor, spot.document);
    completing.context = context_at(spot.document->text->str, spot.at);
    completing.items = json_array();
    add_all(&completing);
    context_clear(&completing.context);
    return json_pack("{s:b, s:o}", "isIncomplete", 0, "items", completing.items);
}

/* What the key of an item does; there are too many to say it of all of them. */
ANSWER(answer_resolve)
{
    const char *label = json_string_value(json_object_get(params, "label"));
    const json_t *data = json_object_get(params, "data");
    struct document *document =
        document_named(editor, json_string_value(json_object_get(data, "uri")));
    json_t *item = json_deep_copy(params);
    char *sentence;

    if (item == NULL || label == NULL) {
        json_decref(item);
        *failure = (struct failure){FAIL_PARAMS, "that is no item"};
        return NULL;
    }
    sentence = document != NULL ? key_sentence(editor, document, label) : NULL;
    if (sentence != NULL) {
        (void)json_object_set_new(item, "detail", json_string(sentence));
    }
    g_free(sentence);
    return item;
}
