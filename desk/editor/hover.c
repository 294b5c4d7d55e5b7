/* hover.c - what the word under the cursor means: what `uvrek explain` says of it. */
#include "context.h"
#include "mentions.h"

#include "uvrek/delays.h"
#include "uvrek/explain.h"
#include "uvrek/names.h"

#include <string.h>

struct hover {
    struct uvk_editor *editor;
    struct document *document;
    struct uvk_program *program;
    const struct uvk_source *source; /* of the document, in that program */
    size_t at;
    GString *text;          /* Markdown */
    struct uvk_place place; /* of what is explained; source NULL: of the word */
};

static bool is_in(struct uvk_place place, const struct uvk_source *source, size_t at)
{
    return place.source == source && source != NULL && place.at <= at &&
           at <= (size_t)place.at + place.length;
}

/* ---- a cell ------------------------------------------------------------------------------ */

static void add_pins(GString *out, const struct uvk_board *board, unsigned cell)
{
    const struct uvk_key_place *key = &board->keys[cell];
    const struct uvk_half *half = &board->halves[key->half];

    if (key->direct) {
        g_string_append_printf(out, ", pin %s", uvk_pin_label(board, half->direct[key->col]));
    } else {
        g_string_append_printf(out, ", row %s, column %s",
                               uvk_pin_label(board, half->rows[key->row]),
                               uvk_pin_label(board, half->cols[key->col]));
    }
}

/* How long a press may wait there. */
static void add_delay(GString *out, const struct uvk_keymap *keymap, unsigned layer,
                      unsigned cell)
{
    const struct uvk_delay delay = uvk_cell_delay(keymap, layer, cell);
    char *text = delay.most > 0 ? uvk_delay_text(keymap, &delay) : NULL;

    if (text != NULL) {
        g_string_append_printf(out, "\n\nwaits %s", g_strdelimit(text, "\n", ';'));
    }
    g_free(text);
}

static void explain_cell(struct hover *hover, unsigned layer, unsigned cell)
{
    const struct uvk_board *board = hover->program->board;
    char *sentence = uvk_cell_sentence(hover->program, layer, cell);
    char *place = uvk_cell_place(board, cell);

    g_string_append_printf(hover->text, "%s\n\n*%s", sentence, place);
    if (cell < board->key_count) {
        add_pins(hover->text, board, cell);
    }
    g_string_append_c(hover->text, '*');
    add_delay(hover->text, hover->program->keymap, layer, cell);
    g_free(place);
    g_free(sentence);
}

/* Only a program without errors says of every cell what it does. */
static bool hover_cell(struct hover *hover)
{
    const struct uvk_keymap *keymap = hover->program->keymap;

    if (hover->program->messages.errors > 0 || keymap == NULL ||
        hover->program->board == NULL) {
        return false;
    }
    for (unsigned layer = 0; layer < keymap->layer_count; layer++) {
        for (unsigned cell = 0; cell < uvk_board_cells(hover->program->board); cell++) {
            struct uvk_place place = keymap->layers[layer].places[cell];
            if (is_in(place, hover->source, hover->at)) {
                hover->place = place;
                explain_cell(hover, layer, cell);
                return true;
            }
        }
    }
    return false;
}

/* ---- a play ------------------------------------------------------------------------------ */

/* How it goes, and what happens meanwhile. */
#define MOMENTS_MOST 40u /* lines of that */

static void add_outcome(struct hover *hover, const struct uvk_play *play)
{
    char *text = hover->editor->hooks.play(hover->program, play, hover->editor->hooks.data);
    char **lines = g_strsplit(text, "\n", -1);

    g_string_append_printf(hover->text, "%s\n```\n", lines[0]);
    for (unsigned i = 1; i <= MOMENTS_MOST && lines[i] != NULL; i++) {
        g_string_append_printf(hover->text, "%s\n", lines[i]);
    }
    g_string_append(hover->text, g_strv_length(lines) > MOMENTS_MOST + 1 ? "...\n```" : "```");
    g_strfreev(lines);
    g_free(text);
}

static bool hover_play(struct hover *hover)
{
    if (hover->editor->hooks.play == NULL || hover->program->messages.errors > 0) {
        return false;
    }
    for (const struct uvk_play *play = hover->program->plays; play != NULL; play = play->next) {
        if (is_in(play->place, hover->source, hover->at)) {
            hover->place = play->place;
            add_outcome(hover, play);
            return true;
        }
    }
    return false;
}

/* ---- a name of the text's own ------------------------------------------------------------ */

/* The statement as it is written; of a long one its first lines. */
#define LINES_MOST 6u

static void add_statement(GString *out, struct uvk_place whole)
{
    const char *from = whole.source->text + whole.at;
    const char *end = from + whole.length;
    const char *cut = from;

    for (unsigned line = 0; line < LINES_MOST && cut < end; line++) {
        const char *next = memchr(cut, '\n', (size_t)(end - cut));
        cut = next != NULL ? next + 1 : end;
    }
    g_string_append(out, "```\n");
    g_string_append_len(out, from, cut - from);
    g_string_append(out, cut < end ? "...\n```\n" : "\n```\n");
}

static void add_own_sentence(struct hover *hover, const struct mention *mention)
{
    const struct uvk_keymap *keymap = hover->program->keymap;
    char *sentence = NULL;

    if (keymap == NULL || hover->program->messages.errors > 0) {
        return;
    }
    for (unsigned i = 0; i < keymap->macro_count && mention->kind == NAMED_CELL; i++) {
        if (sentence == NULL && strcmp(keymap->macros[i].name, mention->name) == 0) {
            sentence = uvk_macro_sentence(hover->program, i);
        }
    }
    for (unsigned i = 0; i < keymap->feel_count && mention->kind == NAMED_FEEL; i++) {
        if (sentence == NULL && strcmp(keymap->feels[i].name, mention->name) == 0) {
            sentence = uvk_feel_sentence(&keymap->feels[i]);
        }
    }
    if (sentence != NULL) {
        g_string_append_printf(hover->text, "\n%s", sentence);
    }
    g_free(sentence);
}

static bool hover_own(struct hover *hover)
{
    GArray *mentions = mentions_of(hover->program);
    const struct mention *mention =
        hover->source != NULL ? mention_at(mentions, hover->source, hover->at) : NULL;

    for (guint i = 0; mention != NULL && i < mentions->len; i++) {
        const struct mention *other = &g_array_index(mentions, struct mention, i);
        if (other->keyword != NULL && is_same_name(other, mention)) {
            hover->place = mention->place;
            add_statement(hover->text, other->whole);
            add_own_sentence(hover, other);
            break;
        }
    }
    g_array_unref(mentions);
    return hover->text->len > 0;
}

/* ---- a word of the language -------------------------------------------------------------- */

static bool is_word_byte(char c)
{
    return g_ascii_isalnum(c) || c == '-' || c == '_';
}

/* The word around the place, and where it begins. Freed with g_free. */
static char *word_around(const struct document *document, size_t at, size_t *from)
{
    const char *text = document->text->str;
    size_t end = at;

    for (*from = at; *from > 0 && is_word_byte(text[*from - 1]); (*from)--) {
    }
    while (is_word_byte(text[end])) {
        end++;
    }
    return g_strndup(text + *from, end - *from);
}

/* Of words that stand in several places, the one of this place; else all of them. */
static void add_words(GString *out, const char *word, const char *const *where)
{
    size_t count;
    const struct uvk_word *words = uvk_words(&count);
    bool here = false;

    for (size_t pass = 0; pass < 2 && !here; pass++) {
        for (size_t i = 0; i < count; i++) {
            bool fits = pass == 1;
            for (size_t k = 0; where != NULL && where[k] != NULL; k++) {
                fits = fits || strcmp(words[i].where, where[k]) == 0;
            }
            if (fits && strcmp(words[i].name, word) == 0) {
                g_string_append_printf(out, "%s\n\n", words[i].what);
                here = true;
            }
        }
    }
}

static void add_setting(GString *out, const char *word)
{
    const struct uvk_setting_name *setting = uvk_setting_named(word);

    if (setting != NULL) {
        char *sentence = uvk_setting_sentence(setting);
        g_string_append_printf(out, "%s\n\n", sentence);
        g_free(sentence);
    }
}

char *key_sentence(struct uvk_editor *editor, struct document *document, const char *key)
{
    struct document *root = root_of(editor, document);
    struct uvk_program *now = document_program(editor, root);
    struct uvk_program *good =
        now->messages.errors == 0 && now->keymap != NULL ? now : root->good;
    struct uvk_messages unheard;
    struct uvk_value value;
    char *sentence = NULL;

    uvk_messages_init(&unheard);
    if (good != NULL && uvk_key_named(key) != NULL &&
        uvk_cell_read(good, key, &unheard, &value)) {
        sentence = uvk_value_sentence(good, &value);
    }
    uvk_messages_clear(&unheard);
    return sentence;
}

/* A key in a combo, a play, a macro: what a cell of that name does. */
static void add_key(struct hover *hover, const char *word)
{
    char *sentence = key_sentence(hover->editor, hover->document, word);

    if (sentence != NULL) {
        g_string_append_printf(hover->text, "%s\n\n", sentence);
    }
    g_free(sentence);
}

static void hover_word(struct hover *hover)
{
    size_t from;
    char *word = word_around(hover->document, hover->at, &from);
    struct context context = context_at(hover->document->text->str, from);

    if (word[0] != '\0') {
        if (context_begins(&context, "set")) {
            add_setting(hover->text, word);
        } else {
            add_words(hover->text, word, context_where(context_block(&context)));
        }
        if (hover->text->len == 0) {
            add_key(hover, word);
        }
    }
    hover->place = (struct uvk_place){NULL, (uint32_t)from, (uint32_t)strlen(word)};
    context_clear(&context);
    g_free(word);
}

/* ---- what is wrong there ----------------------------------------------------------------- */

static void add_advice(struct hover *hover)
{
    const GPtrArray *list = hover->program->messages.list;

    for (guint i = 0; i < list->len; i++) {
        const struct uvk_message *message = list->pdata[i];
        const char *advice = uvk_code_advice(message->code);
        if (is_in(message->place, hover->source, hover->at) && advice != NULL) {
            g_string_append_printf(hover->text, "%s**U%03u** %s",
                                   hover->text->len > 0 ? "\n\n---\n\n" : "",
                                   (unsigned)message->code, advice);
        }
    }
}

ANSWER(answer_hover)
{
    struct hover hover = {.editor = editor};
    struct spot spot;
    json_t *result;

    if (!spot_from(editor, params, &spot, failure)) {
        return NULL;
    }
    hover.document = spot.document;
    hover.at = spot.at;
    hover.program = whole_program(editor, spot.document);
    hover.source = source_in(editor, hover.program, spot.document);
    hover.text = g_string_new(NULL);
    if (!hover_cell(&hover) && !hover_play(&hover) && !hover_own(&hover)) {
        hover_word(&hover);
    }
    add_advice(&hover);
    result = hover.text->len == 0
                 ? json_null()
                 : json_pack("{s:{s:s, s:s}, s:o}", "contents", "kind", "markdown", "value",
                             g_strchomp(hover.text->str), "range",
                             range_to_json(spot.document->text->str, hover.place.at,
                                           hover.place.length, editor->units));
    g_string_free(hover.text, TRUE);
    return result;
}
