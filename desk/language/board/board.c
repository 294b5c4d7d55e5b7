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

static void read_title(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    const struct uvk_node *title = want_usb_string(reading, statement, "a \"title\"");

    (void)subject;
    if (title != NULL) {
        reading->board->title = title->text;
        want_end(reading, statement, 2);
    }
}

static const char *chip_name(size_t index, const void *data)
{
    return ((const struct uvk_chip *const *)data)[index]->name;
}

static void read_chip(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    const struct uvk_node *name = want(reading, statement, 1, UVK_NODE_NAME, "a chip");
    const struct uvk_chip *const *chips;
    size_t count;
    char *fix;

    (void)subject;
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

static void read_vendor(struct reading *reading, const struct uvk_node *statement,
                        void *subject)
{
    (void)subject;
    read_usb_number(reading, statement, &reading->board->usb_vendor);
}

static void read_product(struct reading *reading, const struct uvk_node *statement,
                         void *subject)
{
    (void)subject;
    read_usb_number(reading, statement, &reading->board->usb_product);
}

static void read_maker(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    const struct uvk_node *maker = want_usb_string(reading, statement, "a \"name\"");

    (void)subject;
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

static void read_usb(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    const struct uvk_node *block = want_block(reading, statement);

    (void)subject;
    if (block != NULL) {
        want_end(reading, statement, 1);
        read_block(reading, block, usb_rules, G_N_ELEMENTS(usb_rules), "the usb block", NULL);
    }
}

static void read_boot(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    const struct uvk_node *name = want(reading, statement, 1, UVK_NODE_NAME, "a bootloader");
    const struct uvk_chip *chip = reading->board->chip;
    int found;

    (void)subject;
    if (name == NULL || chip == NULL) {
        return;
    }
    found =
        want_word(reading, name, UVK_SAYS_EXPECTED, chip->boots, "bootloader for this chip");
    reading->board->boot = found >= 0 ? chip->boots[found] : NULL;
    want_end(reading, statement, 2);
}

/* ---- the whole ---------------------------------------------------------------------- */

static const struct rule board_rules[] = {
    {"title", read_title, false},   {"chip", read_chip, false},
    {"usb", read_usb, false},       {"boot", read_boot, false},
    {"pins", read_pin_names, true}, {"halves", read_halves, false},
    {"matrix", read_matrix, true},  {"direct", read_direct, true},
    {"knob", read_knob, true},      {"backlight", read_backlight, false},
    {"strip", read_strip, false},   {"lamp", read_lamp, true},
    {"choice", read_choice, true},  {"keys", read_keys, true},
    {"set", read_set, true},
};

static void begin_board(struct uvk_board *board, const char *name)
{
    board->name = name;
    board->title = name;
    board->usb_maker = "";
    board->settle = 1;
    board->half_count = 1;
    board->halves[0].name = "";
    usual_settings(board->settings);
}

void read_board(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    static const char *const wired[] = {"chip", "matrix", "keys", NULL};
    static const char *const direct[] = {"chip", "keys", NULL};
    const struct uvk_node *name =
        want(reading, statement, 1, UVK_NODE_NAME, "the board's name");
    const struct uvk_node *block = want_block(reading, statement);
    struct uvk_board *board;

    (void)subject;
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
    read_block(reading, block, board_rules, G_N_ELEMENTS(board_rules), "the board", NULL);
    finish_keys(reading, name->place);
    finish_strip(reading, block);
    check_chosen(reading);
    if (board->boot == NULL && board->chip != NULL) {
        board->boot = board->chip->boots[0];
    }
}
