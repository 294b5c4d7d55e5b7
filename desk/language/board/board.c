/* board.c - read a board: its chip, its bootloader, and what stands around its wires. */
#include "reading.h"

#include <string.h>

/* ---- statements with one value ---------------------------------------------------- */

/* USB 2.0, 9.6.7: a descriptor's length is one byte, so a string has 126 UTF-16 units. */
#define USB_STRING_MAX 126

/* A string that the keyboard tells its host, or NULL and a message. */
static const struct uvk_node *
want_usb_string(struct reading *reading, const struct uvk_node *statement, const char *what)
{
    const struct uvk_node *node = want(reading, statement, 1, UVK_NODE_STRING, what);
    glong units = 0;

    if (node == NULL || !want_visible(reading, node, what)) {
        return NULL;
    }
    g_free(g_utf8_to_utf16(node->text, -1, NULL, &units, NULL));
    if (units > USB_STRING_MAX) {
        uvk_say(reading->messages, UVK_SAYS_OUT_OF_RANGE, node->place, NULL,
                "%s has at most %d UTF-16 units in USB, this one has %ld", what, USB_STRING_MAX,
                units);
        return NULL;
    }
    return node;
}

static void read_title(struct reading *reading, const struct uvk_node *statement)
{
    const struct uvk_node *title = want_usb_string(reading, statement, "a \"title\"");

    if (title != NULL) {
        reading->board->title = title->text;
        want_end(reading, statement, 2);
    }
}

static const char *chip_name(size_t index, const void *data)
{
    return ((const struct uvk_chip *const *)data)[index]->name;
}

static void read_chip(struct reading *reading, const struct uvk_node *statement)
{
    const struct uvk_node *name = want(reading, statement, 1, UVK_NODE_NAME, "a chip");
    const struct uvk_chip *const *chips;
    size_t count;
    char *fix;

    if (name == NULL) {
        return;
    }
    reading->board->chip = uvk_chip_named(name->text);
    want_end(reading, statement, 2);
    if (reading->board->chip == NULL) {
        chips = uvk_chips(&count);
        fix = did_you_mean(name->text, count, chip_name, chips);
        uvk_say(reading->messages, UVK_SAYS_NO_CHIP, name->place, fix, "no chip '%s' is known",
                name->text);
        g_free(fix);
    }
}

static void read_usb_number(struct reading *reading, const struct uvk_node *statement,
                            unsigned *out)
{
    const struct uvk_node *node = want(reading, statement, 1, UVK_NODE_NUMBER, "a number");
    double value;

    if (want_number(reading, node, 0, 0xFFFF, "a USB number", &value)) {
        *out = (unsigned)value;
        want_end(reading, statement, 2);
    }
}

static void read_vendor(struct reading *reading, const struct uvk_node *statement)
{
    read_usb_number(reading, statement, &reading->board->usb_vendor);
}

static void read_product(struct reading *reading, const struct uvk_node *statement)
{
    read_usb_number(reading, statement, &reading->board->usb_product);
}

static void read_maker(struct reading *reading, const struct uvk_node *statement)
{
    const struct uvk_node *maker = want_usb_string(reading, statement, "a \"name\"");

    if (maker != NULL) {
        reading->board->usb_maker = maker->text;
        want_end(reading, statement, 2);
    }
}

static const struct rule usb_rules[] = {
    {"vendor", read_vendor, false},
    {"product", read_product, false},
    {"maker", read_maker, false},
};

static void read_usb(struct reading *reading, const struct uvk_node *statement)
{
    const struct uvk_node *block = want_block(reading, statement);

    if (block != NULL) {
        want_end(reading, statement, 1);
        read_block(reading, block, usb_rules, G_N_ELEMENTS(usb_rules), "the usb block");
    }
}

static void read_boot(struct reading *reading, const struct uvk_node *statement)
{
    const struct uvk_node *name = want(reading, statement, 1, UVK_NODE_NAME, "a bootloader");
    const struct uvk_chip *chip = reading->board->chip;
    int found;

    if (name == NULL || chip == NULL) {
        return;
    }
    found =
        want_word(reading, name, UVK_SAYS_EXPECTED, chip->boots, "bootloader for this chip");
    reading->board->boot = found >= 0 ? chip->boots[found] : NULL;
    want_end(reading, statement, 2);
}

/* ---- layout choices ----------------------------------------------------------------- */

static bool is_option(const struct uvk_choice *choice, const char *name)
{
    for (unsigned i = 0; i < choice->option_count; i++) {
        if (strcmp(choice->options[i], name) == 0) {
            return true;
        }
    }
    return false;
}

struct uvk_choice *choice_named(const struct uvk_board *board, const char *name)
{
    for (unsigned i = 0; i < board->choice_count; i++) {
        if (strcmp(board->choices[i].name, name) == 0) {
            return &board->choices[i];
        }
    }
    return NULL;
}

int want_option(struct reading *reading, const struct uvk_choice *choice,
                const struct uvk_node *node)
{
    const char **words =
        uvk_arena_take(reading->arena, (choice->option_count + 1) * sizeof *words);

    memcpy(words, choice->options, choice->option_count * sizeof *words);
    return want_word(reading, node, UVK_SAYS_NO_CHOICE, words, "option of this choice");
}

static const char *choice_name(size_t index, const void *data)
{
    return ((const struct uvk_board *)data)->choices[index].name;
}

void no_such_choice(struct reading *reading, struct uvk_place place, const char *name)
{
    const struct uvk_board *board = reading->board;
    GString *all = g_string_new(NULL);
    char *fix = board->choice_count > 0
                    ? did_you_mean(name, board->choice_count, choice_name, board)
                    : g_strdup_printf("`choice %s { ... }` in the board would be one", name);

    for (unsigned i = 0; i < board->choice_count; i++) {
        g_string_append_printf(all, "%s%s", i == 0 ? "; it offers: " : ", ",
                               board->choices[i].name);
    }
    uvk_say(reading->messages, UVK_SAYS_NO_CHOICE, place, fix,
            "this board offers no choice '%s'%s", name, all->str);
    reading->keys_unknown = true;
    g_free(fix);
    g_string_free(all, TRUE);
}

/* The keymap's `choice NAME OPTION`, if there is one. */
static void take_chosen(struct reading *reading, struct uvk_choice *choice)
{
    if (reading->options != NULL) {
        choice->chosen = reading->options[choice - reading->board->choices];
        return;
    }
    for (guint i = 0; i < reading->chosen->len; i++) {
        const struct uvk_node *statement = g_ptr_array_index(reading->chosen, i);
        const struct uvk_node *name = item(statement, 1);
        if (name != NULL && name->kind == UVK_NODE_NAME &&
            strcmp(name->text, choice->name) == 0) {
            int option = want_option(reading, choice,
                                     want(reading, statement, 2, UVK_NODE_NAME, "an option"));
            choice->chosen = option >= 0 ? (unsigned)option : 0;
            reading->keys_unknown |= option < 0;
            want_end(reading, statement, 3);
        }
    }
}

static void read_choice(struct reading *reading, const struct uvk_node *statement)
{
    const struct uvk_node *name = want(reading, statement, 1, UVK_NODE_NAME, "a choice's name");
    const struct uvk_node *block = want_block(reading, statement);
    struct uvk_board *board = reading->board;
    struct uvk_choice *choice;
    GPtrArray *options;

    if (name == NULL || block == NULL) {
        return;
    }
    if (choice_named(board, name->text) != NULL || board->choice_count == UVK_CHOICES_MAX) {
        uvk_say(reading->messages,
                board->choice_count == UVK_CHOICES_MAX ? UVK_SAYS_NO_ROOM : UVK_SAYS_TWICE,
                name->place, NULL,
                board->choice_count == UVK_CHOICES_MAX ? "a board has at most 16 choices"
                                                       : "this choice is there already");
        return;
    }
    if (board->choices == NULL) {
        board->choices =
            uvk_arena_take(reading->arena, UVK_CHOICES_MAX * sizeof *board->choices);
    }
    choice = &board->choices[board->choice_count];
    *choice = (struct uvk_choice){.place = name->place, .name = name->text};
    options = g_ptr_array_new();
    for (const struct uvk_node *at = block->child; at != NULL; at = at->next) {
        for (const struct uvk_node *node = at->child; node != NULL; node = node->next) {
            choice->options = (const char **)(void *)options->pdata;
            choice->option_count = options->len;
            if (node->kind != UVK_NODE_NAME || is_option(choice, node->text)) {
                uvk_say(reading->messages, UVK_SAYS_EXPECTED, node->place, NULL,
                        "expected another option");
            } else if (options->len == UVK_OPTIONS_MAX) {
                uvk_say(reading->messages, UVK_SAYS_NO_ROOM, node->place, NULL,
                        "a choice has at most %u options", UVK_OPTIONS_MAX);
            } else {
                g_ptr_array_add(options, (gpointer)node->text);
            }
        }
    }
    choice->option_count = options->len;
    choice->options = uvk_arena_take(reading->arena, (options->len + 1) * sizeof(char *));
    if (options->len > 0) {
        memcpy(choice->options, options->pdata, options->len * sizeof(char *));
    }
    g_ptr_array_free(options, TRUE);
    if (choice->option_count < 2) {
        uvk_say(reading->messages, UVK_SAYS_MISSING, name->place, NULL,
                "a choice has two options or more");
        board->choice_count++; /* its name is known all the same */
        return;
    }
    board->choice_count++;
    take_chosen(reading, choice);
}

/* Choices that the keymap makes and the board does not offer. */
static void check_chosen(struct reading *reading)
{
    for (guint i = 0; reading->options == NULL && i < reading->chosen->len; i++) {
        const struct uvk_node *statement = g_ptr_array_index(reading->chosen, i);
        const struct uvk_node *name = want(reading, statement, 1, UVK_NODE_NAME, "a choice");
        if (name != NULL && choice_named(reading->board, name->text) == NULL) {
            no_such_choice(reading, name->place, name->text);
        }
    }
}

/* ---- the whole ---------------------------------------------------------------------- */

static const struct rule board_rules[] = {
    {"title", read_title, false},   {"chip", read_chip, false},
    {"usb", read_usb, false},       {"boot", read_boot, false},
    {"pins", read_pin_names, true}, {"halves", read_halves, false},
    {"matrix", read_matrix, true},  {"direct", read_direct, true},
    {"knob", read_knob, true},      {"backlight", read_backlight, false},
    {"strip", read_strip, false},   {"choice", read_choice, true},
    {"keys", read_keys, true},      {"set", read_set, true},
};

static const char *one_word(size_t index, const void *data)
{
    (void)index;
    return data;
}

/* A misspelt statement is there as well: it has a message of its own. */
static bool has_statement(const struct uvk_node *block, const char *word)
{
    for (const struct uvk_node *at = block->child; at != NULL; at = at->next) {
        if (keyword(at) != NULL && (strcmp(keyword(at), word) == 0 ||
                                    uvk_nearest(keyword(at), 1, one_word, word) != NULL)) {
            return true;
        }
    }
    return false;
}

void want_statements(struct reading *reading, const struct uvk_node *block,
                     struct uvk_place place, const char *const *words, const char *of)
{
    for (; *words != NULL; words++) {
        if (!has_statement(block, *words)) {
            uvk_say(reading->messages, UVK_SAYS_MISSING, place, NULL, "%s has no '%s'", of,
                    *words);
            return;
        }
    }
}

static void begin_board(struct uvk_board *board, const char *name)
{
    board->name = name;
    board->title = name;
    board->usb_maker = "";
    board->settle = 5;
    board->half_count = 1;
    board->halves[0].name = "";
    usual_settings(board->settings);
}

void read_board(struct reading *reading, const struct uvk_node *statement)
{
    static const char *const wired[] = {"chip", "matrix", "keys", NULL};
    static const char *const direct[] = {"chip", "keys", NULL};
    const struct uvk_node *name =
        want(reading, statement, 1, UVK_NODE_NAME, "the board's name");
    const struct uvk_node *block = want_block(reading, statement);
    struct uvk_board *board;

    if (reading->board != NULL) {
        uvk_say(reading->messages, UVK_SAYS_TWICE, statement->child->place, NULL,
                "a program has one board; '%s' is there already", reading->board->name);
        return;
    }
    board = uvk_arena_take(reading->arena, sizeof *board);
    reading->board = board;
    reading->program->board = board;
    board->place = statement->place;
    begin_board(board, name != NULL ? name->text : "?");
    if (name == NULL || block == NULL) {
        return;
    }
    want_end(reading, statement, 2);
    want_statements(reading, block, name->place,
                    has_statement(block, "direct") ? direct : wired, "the board");
    read_block(reading, block, board_rules, G_N_ELEMENTS(board_rules), "the board");
    finish_keys(reading, name->place);
    check_chosen(reading);
    if (board->boot == NULL && board->chip != NULL) {
        board->boot = board->chip->boots[0];
    }
}
