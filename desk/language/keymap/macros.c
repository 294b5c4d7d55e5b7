/* macros.c - macro NAME { type "..."; tap CELL; press CELL; release CELL; wait T; click B } */
#include "reading.h"

#include "uvrek/hid.h"
#include "uvrek/image.h"

#include <string.h>

#define HELD_MAX  8u  /* things that one macro holds at once */
#define DEPTH_MAX 16u /* macros in one another */

/* Note what is written, beside the acts that follow from it. */
static struct uvk_macro_line *add_line(struct reading *reading, struct ends *ends,
                                       enum uvk_macro_word word, const char *text,
                                       const struct uvk_value *value, double time)
{
    struct uvk_macro_line *line = uvk_arena_take(reading->arena, sizeof *line);

    line->word = word;
    line->text = text;
    line->time = time;
    if (value != NULL) {
        line->value = *value;
    }
    *ends->line = line;
    ends->line = &line->next;
    return line;
}

/* One word of eight characters or more, of three kinds at least, that is no address. */
static bool looks_secret(const char *text)
{
    bool lower = false;
    bool upper = false;
    bool digit = false;
    bool sign = false;

    if (g_utf8_strlen(text, -1) < 8 || strstr(text, "://") != NULL || strchr(text, '@') ||
        strpbrk(text, " \t") != NULL) {
        return false;
    }
    for (const char *at = text; *at != '\0' && *at != '\n'; at = g_utf8_next_char(at)) {
        gunichar character = g_utf8_get_char(at);
        lower |= g_unichar_islower(character);
        upper |= g_unichar_isupper(character);
        digit |= g_unichar_isdigit(character);
        sign |= !g_unichar_isalnum(character);
    }
    return lower + upper + digit + sign >= 3;
}

static void tell_secret(struct reading *reading, struct uvk_place place)
{
    uvk_say(reading->messages, UVK_SAYS_PASSWORD, place, "let a password manager type it",
            "this looks like a password: it is stored in the keyboard, readable for everybody "
            "who has it");
}

static void read_type(struct reading *reading, struct ends *ends,
                      const struct uvk_node *statement)
{
    const struct uvk_node *text = want(reading, statement, 1, UVK_NODE_STRING, "a \"text\"");
    GString *wrong;

    if (text == NULL || reading->keymap->layout == NULL) {
        return;
    }
    wrong = g_string_new(NULL);
    add_line(reading, ends, UVK_LINE_TYPE, text->text, NULL, 0);
    want_end(reading, statement, 2);
    if (looks_secret(text->text)) {
        tell_secret(reading, text->place);
    }
    for (const char *at = text->text; *at != '\0'; at = g_utf8_next_char(at)) {
        gunichar character = g_utf8_get_char(at);
        if (!add_character(reading, ends, character) &&
            g_utf8_strchr(wrong->str, -1, character) == NULL) {
            g_string_append_unichar(wrong, character);
        }
    }
    if (wrong->len > 0) {
        tell_not_typed(reading, text->place, wrong->str);
    }
    g_string_free(wrong, TRUE);
}

/* The cell of tap, press and release: something that the host sees. */
static bool want_usage(struct reading *reading, const struct uvk_node *statement,
                       struct uvk_value *value)
{
    const struct uvk_node *node = item(statement, 1);
    bool seen;

    if (node == NULL) {
        want(reading, statement, 1, UVK_NODE_NAME, "a key");
        return false;
    }
    *value = cell_value(reading, node);
    seen = value->kind == UVK_VALUE_USAGE && value->page != UVK_PAGE_OWN;
    if (!seen && value->kind != UVK_VALUE_BROKEN) {
        uvk_say(reading->messages, UVK_SAYS_DOES_NOT_FIT, node->place, NULL,
                "a macro presses keys and chords, this is none");
    }
    want_end(reading, statement, 2);
    return seen;
}

static void read_tap(struct reading *reading, struct ends *ends,
                     const struct uvk_node *statement)
{
    const struct uvk_node *node = item(statement, 1);
    struct uvk_value value;

    if (node != NULL && node->kind == UVK_NODE_CHARACTER && reading->keymap->layout != NULL &&
        add_tapped_character(reading, ends, g_utf8_get_char(node->text))) {
        add_line(reading, ends, UVK_LINE_TAP, node->text, NULL, 0);
        want_end(reading, statement, 2);
    } else if (want_usage(reading, statement, &value)) {
        add_line(reading, ends, UVK_LINE_TAP, NULL, &value, 0);
        add_tap(reading, ends, &value);
    }
}

static void read_press(struct reading *reading, struct ends *ends,
                       const struct uvk_node *statement)
{
    struct uvk_value value;

    if (want_usage(reading, statement, &value)) {
        add_line(reading, ends, UVK_LINE_PRESS, NULL, &value, 0);
        add_act(reading, ends, UVK_MACRO_PRESS, &value, 0);
    }
}

static void read_release(struct reading *reading, struct ends *ends,
                         const struct uvk_node *statement)
{
    struct uvk_value value;

    if (want_usage(reading, statement, &value)) {
        add_line(reading, ends, UVK_LINE_RELEASE, NULL, &value, 0);
        add_act(reading, ends, UVK_MACRO_RELEASE, &value, 0);
    }
}

static void read_wait(struct reading *reading, struct ends *ends,
                      const struct uvk_node *statement)
{
    double time;

    if (want_time(reading, want(reading, statement, 1, UVK_NODE_TIME, "a time"), 0,
                  UVK_FEEL_TIME_MAX * 1000.0, &time)) {
        add_line(reading, ends, UVK_LINE_WAIT, NULL, NULL, time);
        add_act(reading, ends, UVK_MACRO_WAIT, NULL, time);
        want_end(reading, statement, 2);
    }
}

static void read_click(struct reading *reading, struct ends *ends,
                       const struct uvk_node *statement)
{
    static const char *const buttons[] = {"left", "right", "middle", NULL};
    int button = want_word(reading, want(reading, statement, 1, UVK_NODE_NAME, "a button"),
                           UVK_SAYS_NO_NAME, buttons, "button");
    struct uvk_value value = {.kind = UVK_VALUE_USAGE, .page = UVK_HID_PAGE_BUTTON};

    if (button >= 0) {
        value.usage = (uint16_t)(button + 1);
        add_line(reading, ends, UVK_LINE_CLICK, NULL, &value, 0);
        add_tap(reading, ends, &value);
        want_end(reading, statement, 2);
    }
}

/* do NAME: what that macro does, at this place. */
static void read_do(struct reading *reading, struct ends *ends,
                    const struct uvk_node *statement)
{
    const struct uvk_node *node = want(reading, statement, 1, UVK_NODE_NAME, "a macro's name");
    struct own_name *own = node != NULL ? own_named(reading, node->text) : NULL;
    struct uvk_value value = {.kind = UVK_VALUE_MACRO};

    if (node != NULL && (own == NULL || own->kind != OWN_MACRO)) {
        uvk_say(reading->messages, UVK_SAYS_NO_NAME, node->place, NULL, "no macro '%s'",
                node->text);
    }
    if (own == NULL || own->kind != OWN_MACRO) {
        return;
    }
    own->used = true;
    value.macro = own->layer;
    add_line(reading, ends, UVK_LINE_DO, NULL, &value, 0)->place = node->place;
    add_act(reading, ends, UVK_MACRO_DO, &value, 0);
    want_end(reading, statement, 2);
}

/* The steps in the order of the text; `on-release` is read apart. */
static const struct {
    const char *word;
    void (*read)(struct reading *, struct ends *, const struct uvk_node *statement);
} acts[] = {
    {"type", read_type},       {"tap", read_tap},   {"press", read_press},
    {"release", read_release}, {"wait", read_wait}, {"click", read_click},
    {"do", read_do},
};

static const char *act_word(size_t index, const void *data)
{
    (void)data;
    return acts[index].word;
}

static void read_act(struct reading *reading, struct ends *ends,
                     const struct uvk_node *statement)
{
    const char *word = keyword(statement);
    char *fix;

    for (size_t i = 0; word != NULL && i < G_N_ELEMENTS(acts); i++) {
        if (strcmp(acts[i].word, word) == 0) {
            acts[i].read(reading, ends, statement);
            return;
        }
    }
    fix = word != NULL ? did_you_mean(word, G_N_ELEMENTS(acts), act_word, NULL) : NULL;
    uvk_say(reading->messages, UVK_SAYS_NO_STATEMENT, statement->place, fix,
            "a macro has no step '%s'", word != NULL ? word : "like this");
    g_free(fix);
}

static bool is_on_release(const struct uvk_node *statement)
{
    return keyword(statement) != NULL && strcmp(keyword(statement), "on-release") == 0;
}

static void read_acts(struct reading *reading, const struct uvk_node *block,
                      struct uvk_macro_text *macro, bool inner)
{
    struct ends ends = {inner ? &macro->released : &macro->pressed,
                        inner ? &macro->release_lines : &macro->lines};

    while (*ends.act != NULL) {
        ends.act = &(*ends.act)->next;
    }
    while (*ends.line != NULL) {
        ends.line = &(*ends.line)->next;
    }
    for (const struct uvk_node *at = block->child; at != NULL; at = at->next) {
        if (at->kind == UVK_NODE_BROKEN) {
            continue;
        }
        if (!is_on_release(at) || inner) {
            read_act(reading, &ends, at);
        }
    }
}

/* Is one of the words of NAME, between hyphens, what secrets are called? */
static bool is_secret_name(const char *name)
{
    static const char *const words[] = {"password", "passphrase", "passcode", "passwort",
                                        "pass",     "secret",     "pin",      "login"};
    char **parts = g_strsplit(name, "-", -1);
    bool secret = false;

    for (char **part = parts; *part != NULL; part++) {
        for (size_t i = 0; i < G_N_ELEMENTS(words); i++) {
            secret |= g_ascii_strcasecmp(*part, words[i]) == 0;
        }
    }
    g_strfreev(parts);
    return secret;
}

/* A macro that is called a secret, and types something that has not been told yet. */
static void doubt_name(struct reading *reading, const struct uvk_macro_text *macro)
{
    for (const struct uvk_macro_line *line = macro->lines; line != NULL; line = line->next) {
        if (line->word == UVK_LINE_TYPE && is_secret_name(macro->name) &&
            !looks_secret(line->text)) {
            tell_secret(reading, macro->place);
            return;
        }
    }
}

void read_macro(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    const struct uvk_node *name =
        want(reading, statement, 1, UVK_NODE_NAME, "the macro's name");
    const struct own_name *own = name != NULL ? own_named(reading, name->text) : NULL;
    const struct uvk_node *block = want_block(reading, statement);
    struct uvk_macro_text *macro;

    (void)subject;
    if (block == NULL || own == NULL || own->kind != OWN_MACRO ||
        own->place.at != name->place.at || own->place.source != name->place.source) {
        return;
    }
    want_end(reading, statement, 2);
    macro = &reading->keymap->macros[own->layer];
    macro->name = own->name;
    macro->place = own->place;
    read_acts(reading, block, macro, false);
    for (const struct uvk_node *at = block->child; at != NULL; at = at->next) {
        const struct uvk_node *inner =
            at->kind != UVK_NODE_BROKEN && is_on_release(at) ? want_block(reading, at) : NULL;
        if (inner != NULL) {
            read_acts(reading, inner, macro, true);
        }
    }
    doubt_name(reading, macro);
}

/* ---- all of them together --------------------------------------------------------------- */

/* How deep LINES go, as far as is known of the other macros. */
static unsigned depth_of(const unsigned *known, const struct uvk_macro_line *line)
{
    unsigned deepest = 0;

    for (; line != NULL; line = line->next) {
        if (line->word == UVK_LINE_DO) {
            deepest = MAX(deepest, 1 + known[line->value.macro]);
        }
    }
    return deepest;
}

static unsigned depth_of_macro(const struct uvk_keymap *keymap, unsigned index,
                               const unsigned *known)
{
    const struct uvk_macro_text *macro = &keymap->macros[index];

    return MAX(depth_of(known, macro->lines), depth_of(known, macro->release_lines));
}

static void check_depth(struct reading *reading)
{
    const struct uvk_keymap *keymap = reading->keymap;
    unsigned *known = nested_depths(keymap, keymap->macro_count, DEPTH_MAX + 1, depth_of_macro);

    for (unsigned i = 0; i < keymap->macro_count; i++) {
        if (known[i] > DEPTH_MAX) {
            uvk_say(reading->messages, UVK_SAYS_DEFINED_BY_ITSELF, keymap->macros[i].place,
                    NULL, "'%s' comes to itself, or more than %u macros deep",
                    keymap->macros[i].name, DEPTH_MAX);
            break; /* the others in the circle are the same mistake */
        }
    }
    g_free(known);
}

/* A key that is pressed counts until it is released. */
static unsigned count_held(const struct uvk_macro_act *act, GArray *held)
{
    unsigned most = held->len;

    for (; act != NULL; act = act->next) {
        if (act->part == UVK_MACRO_PRESS) {
            g_array_append_val(held, act->value);
            most = MAX(most, held->len);
        }
        for (guint i = held->len; act->part == UVK_MACRO_RELEASE && i-- > 0;) {
            if (uvk_value_equal(&g_array_index(held, struct uvk_value, i), &act->value)) {
                g_array_remove_index(held, i);
                break;
            }
        }
    }
    return most;
}

static void check_held(struct reading *reading, const struct uvk_macro_text *macro)
{
    GArray *held = g_array_new(FALSE, TRUE, sizeof(struct uvk_value));
    unsigned pressed = count_held(macro->pressed, held);
    unsigned released = count_held(macro->released, held);

    if (MAX(pressed, released) > HELD_MAX) {
        uvk_say(reading->messages, UVK_SAYS_NO_ROOM, macro->place, NULL,
                "this macro holds %u things at once; %u is the most", MAX(pressed, released),
                HELD_MAX);
    }
    g_array_free(held, TRUE);
}

void check_macros(struct reading *reading)
{
    check_depth(reading);
    for (unsigned i = 0; i < reading->keymap->macro_count; i++) {
        if (reading->keymap->macros[i].name != NULL) {
            check_held(reading, &reading->keymap->macros[i]);
        }
    }
}
