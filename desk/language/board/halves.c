/* halves.c - halves LEFT RIGHT { main ...; link uart TX RX }, and statements about one half. */
#include "reading.h"

#include <string.h>

#define LINK_SPEED 230400u

static int half_named(const struct uvk_board *board, const char *name)
{
    for (unsigned i = 0; board->half_count > 1 && i < board->half_count; i++) {
        if (strcmp(board->halves[i].name, name) == 0) {
            return (int)i;
        }
    }
    return -1;
}

static const char *half_name(size_t index, const void *data)
{
    return ((const struct uvk_board *)data)->halves[index].name;
}

int want_half(struct reading *reading, const struct uvk_node *node)
{
    const struct uvk_board *board = reading->board;
    int half = node->kind == UVK_NODE_NAME ? half_named(board, node->text) : -1;
    char *fix;

    if (half < 0 && reading->halves_unknown) {
        return half;
    }
    if (half < 0 && board->half_count == 1) {
        uvk_say(reading->messages, UVK_SAYS_NO_HALF, node->place, NULL,
                "this board is in one piece");
    } else if (half < 0) {
        fix = node->kind == UVK_NODE_NAME
                  ? did_you_mean(node->text, board->half_count, half_name, board)
                  : NULL;
        uvk_say(reading->messages, UVK_SAYS_NO_HALF, node->place, fix,
                "the halves of this board are '%s' and '%s'", board->halves[0].name,
                board->halves[1].name);
        g_free(fix);
    }
    return half;
}

bool want_halves(struct reading *reading, const struct uvk_node *statement, unsigned index,
                 struct which_halves *which)
{
    const struct uvk_node *node = item(statement, index);
    int half;

    *which = (struct which_halves){0, reading->board->half_count - 1, index};
    if (node == NULL) {
        return true;
    }
    half = want_half(reading, node);
    if (half < 0) {
        return false;
    }
    *which = (struct which_halves){(unsigned)half, (unsigned)half, index + 1};
    return true;
}

/* main usb | stored | pin PIN | LEFT | RIGHT */
static void read_main(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    struct uvk_board *board = reading->board;
    const char *const words[] = {
        "usb", "stored", "pin", board->halves[0].name, board->halves[1].name, NULL};
    int word = want_word(reading, want(reading, statement, 1, UVK_NODE_NAME, "a rule"),
                         UVK_SAYS_EXPECTED, words, "rule for the main half");
    const struct uvk_node *pin;

    (void)subject;
    if (word < 0) {
        return;
    }
    board->main = (enum uvk_main)word;
    if (board->main != UVK_MAIN_PIN) {
        want_end(reading, statement, 2);
        return;
    }
    pin = want(reading, statement, 2, UVK_NODE_NAME, "the pin that says which half it is");
    if (pin != NULL && board->chip != NULL) {
        board->main_pin = take_pin(reading, 0, false, pin);
        want_end(reading, statement, 3);
    }
}

/* link uart TX RX [straight] */
static void read_link(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    static const char *const kinds[] = {"uart", NULL};
    struct uvk_link *link = &reading->board->link;
    const struct uvk_node *straight = item(statement, 4);
    const struct uvk_pin *pins[2] = {NULL, NULL};

    (void)subject;
    link->place = statement->place;
    if (want_word(reading, want(reading, statement, 1, UVK_NODE_NAME, "uart"),
                  UVK_SAYS_EXPECTED, kinds, "kind of link") < 0 ||
        reading->board->chip == NULL) {
        return;
    }
    for (unsigned i = 0; i < 2; i++) {
        const struct uvk_node *node = item(statement, i + 2);
        if (node == NULL) {
            want(reading, statement, i + 2, UVK_NODE_NAME, "the pins that send and receive");
            return;
        }
        pins[i] = take_pin(reading, 0, false, node);
        link->transmit = pins[0];
        link->receive = pins[1];
    }
    if (straight != NULL && straight->kind == UVK_NODE_NAME &&
        strcmp(straight->text, "straight") == 0) {
        link->straight = true;
        want_end(reading, statement, 5);
    } else {
        want_end(reading, statement, 4);
    }
}

static void read_speed(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    double speed;

    (void)subject;
    if (want_number(reading, want(reading, statement, 1, UVK_NODE_NUMBER, "bits a second"),
                    9600, 4000000, "the speed", &speed)) {
        reading->board->link.speed = (unsigned)speed;
        want_end(reading, statement, 2);
    }
}

static const struct rule halves_rules[] = {
    {"main", read_main, false},
    {"link", read_link, false},
    {"speed", read_speed, false},
};

void read_halves(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    const struct uvk_node *block = want_block(reading, statement);
    struct uvk_board *board = reading->board;

    (void)subject;
    for (unsigned i = 0; i < UVK_HALVES; i++) {
        const struct uvk_node *name =
            want(reading, statement, i + 1, UVK_NODE_NAME, "the names of two halves");
        if (name == NULL) {
            reading->halves_unknown = true;
            return;
        }
        board->halves[i].name = name->text;
        board->halves[i].place = name->place;
        if (i == 1 && strcmp(board->halves[0].name, name->text) == 0) {
            uvk_say(reading->messages, UVK_SAYS_TWICE, name->place, NULL,
                    "both halves are called '%s'", name->text);
            reading->halves_unknown = true;
            return;
        }
    }
    board->half_count = UVK_HALVES;
    board->link.speed = LINK_SPEED;
    want_end(reading, statement, 3);
    if (block != NULL) {
        read_block(reading, block, halves_rules, G_N_ELEMENTS(halves_rules), "halves", NULL);
    }
}
