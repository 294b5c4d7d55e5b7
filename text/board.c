/* board.c - read a board: its chip, its bootloader, its pins. */
#include "reading.h"

#include <string.h>

/* ---- statements with one value ---------------------------------------------------- */

static void read_title(struct reading *reading, const struct uvk_node *statement)
{
    const struct uvk_node *title = want(reading, statement, 1, UVK_NODE_STRING, "a \"title\"");

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
        uvk_say(reading->messages, 30, name->place, fix, "no chip '%s' is known", name->text);
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

/* USB 2.0, 9.6.7: a descriptor's length is one byte, so a string has 126 UTF-16 units. */
#define USB_STRING_MAX 126

static void read_maker(struct reading *reading, const struct uvk_node *statement)
{
    const struct uvk_node *maker = want(reading, statement, 1, UVK_NODE_STRING, "a \"name\"");

    if (maker == NULL) {
        return;
    }
    if (g_utf8_strlen(maker->text, -1) > USB_STRING_MAX / 2) {
        uvk_say(reading->messages, 17, maker->place, NULL,
                "a USB name has at most %d characters", USB_STRING_MAX / 2);
    }
    reading->board->usb_maker = maker->text;
    want_end(reading, statement, 2);
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
    found = want_word(reading, name, 12, chip->boots, "bootloader for this chip");
    reading->board->boot = found >= 0 ? chip->boots[found] : NULL;
    want_end(reading, statement, 2);
}

/* ---- the matrix ------------------------------------------------------------------- */

static const char *pin_name(size_t index, const void *data)
{
    return ((const struct uvk_chip *)data)->pins[index].name;
}

const struct uvk_pin *find_pin(struct reading *reading, const struct uvk_node *node)
{
    const struct uvk_chip *chip = reading->board->chip;
    const struct uvk_pin *pin;
    char *fix;

    if (node->kind != UVK_NODE_NAME) {
        uvk_say(reading->messages, 12, node->place, NULL, "expected a pin");
        return NULL;
    }
    pin = uvk_chip_pin(chip, node->text);
    if (pin == NULL) {
        fix = did_you_mean(node->text, chip->pin_count, pin_name, chip);
        uvk_say(reading->messages, 31, node->place, fix, "the %s has no pin '%s'", chip->title,
                node->text);
        g_free(fix);
    }
    return pin;
}

static bool among(const struct uvk_pin *const *pins, unsigned count, const struct uvk_pin *pin)
{
    for (unsigned i = 0; i < count; i++) {
        if (pins[i] == pin) {
            return true;
        }
    }
    return false;
}

bool pin_is_used(const struct uvk_board *board, const struct uvk_pin *pin)
{
    for (unsigned i = 0; i < board->knob_count; i++) {
        if (board->knobs[i].pins[0] == pin || board->knobs[i].pins[1] == pin) {
            return true;
        }
    }
    return among(board->rows, board->row_count, pin) ||
           among(board->cols, board->col_count, pin);
}

static void read_side(struct reading *reading, const struct uvk_node *statement,
                      const struct uvk_pin **pins, unsigned *count)
{
    struct uvk_board *board = reading->board;

    if (board->chip == NULL) {
        return;
    }
    for (const struct uvk_node *node = item(statement, 1);
         node != NULL && node->kind != UVK_NODE_BLOCK; node = node->next) {
        const struct uvk_pin *pin = find_pin(reading, node);
        if (pin != NULL && pin_is_used(board, pin)) {
            uvk_say(reading->messages, 32, node->place, NULL, "pin %s is used already",
                    pin->name);
            pin = NULL;
        }
        if (*count == UVK_SIDE_MAX) {
            uvk_say(reading->messages, 17, node->place, NULL, "more than %u pins on one side",
                    UVK_SIDE_MAX);
            return;
        }
        pins[(*count)++] = pin; /* NULL for a mistake: the addresses still count right */
    }
    if (item(statement, 1) == NULL) {
        want(reading, statement, 1, UVK_NODE_NAME, "a pin");
    }
}

static void read_rows(struct reading *reading, const struct uvk_node *statement)
{
    read_side(reading, statement, reading->board->rows, &reading->board->row_count);
}

static void read_cols(struct reading *reading, const struct uvk_node *statement)
{
    read_side(reading, statement, reading->board->cols, &reading->board->col_count);
}

static bool is_name(const struct uvk_node *node, const char *name)
{
    return node != NULL && node->kind == UVK_NODE_NAME && strcmp(node->text, name) == 0;
}

static void read_flow(struct reading *reading, const struct uvk_node *statement)
{
    const struct uvk_node *from = item(statement, 1);
    const struct uvk_node *arrow = item(statement, 2);
    const struct uvk_node *to = item(statement, 3);
    bool is_arrow = arrow != NULL && arrow->kind == UVK_NODE_ARROW;

    if (is_name(from, "none") && arrow == NULL) {
        reading->board->flow = UVK_NO_DIODES;
        uvk_say(reading->messages, 35, from->place, "give each switch a diode",
                "without diodes, three held keys that share a row and a column make a fourth "
                "one appear");
    } else if (is_name(from, "row") && is_arrow && is_name(to, "col")) {
        reading->board->flow = UVK_ROW_TO_COL;
        want_end(reading, statement, 4);
    } else if (is_name(from, "col") && is_arrow && is_name(to, "row")) {
        reading->board->flow = UVK_COL_TO_ROW;
        want_end(reading, statement, 4);
    } else {
        struct uvk_place place = from != NULL ? from->place : statement->place;
        uvk_say(reading->messages, 12, place, "write row->col, col->row or none",
                "expected which way the diodes conduct");
    }
}

static void read_debounce(struct reading *reading, const struct uvk_node *statement)
{
    const struct uvk_node *node = want(reading, statement, 1, UVK_NODE_TIME, "a time");

    struct uvk_setting_text *setting = &reading->board->settings[UVK_SET_DEBOUNCE];

    if (want_time(reading, node, 0, UVK_DEBOUNCE_MAX * 1000.0, &setting->value)) {
        setting->place = statement->place;
    }
}

static void read_settle(struct reading *reading, const struct uvk_node *statement)
{
    const struct uvk_node *node = want(reading, statement, 1, UVK_NODE_TIME, "a time");

    want_time(reading, node, 0, 100, &reading->board->settle);
}

static const struct rule matrix_rules[] = {
    {"rows", read_rows, false},     {"cols", read_cols, false},
    {"flow", read_flow, false},     {"debounce", read_debounce, false},
    {"settle", read_settle, false},
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
            uvk_say(reading->messages, 16, place, NULL, "%s has no '%s'", of, *words);
            return;
        }
    }
}

static void read_matrix(struct reading *reading, const struct uvk_node *statement)
{
    static const char *const needed[] = {"rows", "cols", "flow", NULL};
    const struct uvk_node *first = item(statement, 1);
    const struct uvk_node *block = want_block(reading, statement);

    if (first != NULL) {
        not_supported_yet(reading, first->place, "a matrix for one half");
        return;
    }
    if (block != NULL) {
        want_statements(reading, block, statement->child->place, needed, "the matrix");
        read_block(reading, block, matrix_rules, G_N_ELEMENTS(matrix_rules), "the matrix");
    }
}

static const struct rule board_rules[] = {
    {"title", read_title, false}, {"chip", read_chip, false},     {"usb", read_usb, false},
    {"boot", read_boot, false},   {"matrix", read_matrix, false}, {"knob", read_knob, true},
    {"keys", read_keys, false},   {"pins", NULL, true},           {"direct", NULL, true},
    {"choice", NULL, true},       {"halves", NULL, true},         {"backlight", NULL, true},
    {"strip", NULL, true},        {"set", read_set, true},
};

void read_board(struct reading *reading, const struct uvk_node *statement)
{
    static const char *const needed[] = {"chip", "matrix", "keys", NULL};
    const struct uvk_node *name =
        want(reading, statement, 1, UVK_NODE_NAME, "the board's name");
    const struct uvk_node *block = want_block(reading, statement);
    struct uvk_board *board;

    if (reading->board != NULL) {
        uvk_say(reading->messages, 15, statement->child->place, NULL,
                "a program has one board; '%s' is there already", reading->board->name);
        return;
    }
    board = uvk_arena_take(reading->arena, sizeof *board);
    reading->board = board;
    reading->program->board = board;
    board->place = statement->place;
    board->name = name != NULL ? name->text : "?";
    board->title = board->name;
    board->usb_maker = "";
    board->settle = 5;
    usual_settings(board->settings);
    if (name == NULL || block == NULL) {
        return;
    }
    want_end(reading, statement, 2);
    want_statements(reading, block, name->place, needed, "the board");
    read_block(reading, block, board_rules, G_N_ELEMENTS(board_rules), "the board");
    if (board->boot == NULL && board->chip != NULL) {
        board->boot = board->chip->boots[0];
    }
}

unsigned uvk_board_cells(const struct uvk_board *board)
{
    return board->key_count + 2 * board->knob_count;
}

struct uvk_scan_plan uvk_board_scan(const struct uvk_board *board)
{
    struct uvk_scan_plan rows = {board->rows, board->cols, board->row_count, board->col_count,
                                 true};
    struct uvk_scan_plan cols = {board->cols, board->rows, board->col_count, board->row_count,
                                 false};

    /* A selected pin is pulled low: the current has to flow into it. */
    return board->flow == UVK_ROW_TO_COL ? cols : rows;
}
