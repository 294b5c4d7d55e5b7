/* halves.c - halves LEFT RIGHT { main ...; link ... }, and statements about one half. */
#include "reading.h"

#include <string.h>

#define LINK_SPEED 230400u

int uvk_half_named(const struct uvk_board *board, const char *name)
{
    for (unsigned i = 0; board->half_count > 1 && i < board->half_count; i++) {
        if (strcmp(board->halves[i].name, name) == 0) {
            return (int)i;
        }
    }
    return -1;
}

unsigned uvk_main_half(const struct uvk_board *board)
{
    return board->main == UVK_MAIN_SECOND;
}

static const char *half_name(size_t index, const void *data)
{
    return ((const struct uvk_board *)data)->halves[index].name;
}

int want_half(struct reading *reading, const struct uvk_node *node)
{
    const struct uvk_board *board = reading->board;
    int half = node->kind == UVK_NODE_NAME ? uvk_half_named(board, node->text) : -1;
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

/* All words behind the first one of STATEMENT. */
static struct uvk_place words_of(const struct uvk_node *statement)
{
    const struct uvk_node *word = item(statement, 1);
    struct uvk_place place = {0};

    for (unsigned i = 1; word != NULL; word = item(statement, ++i)) {
        place = i == 1 ? word->place : uvk_place_span(place, word->place);
    }
    return place;
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
    board->main_words = words_of(statement);
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

/* Can PIN do for the link what the chip has WANTED for? NULL: any can. */
static void want_link_pin(struct reading *reading, const struct uvk_node *node,
                          const struct uvk_pin *pin, const char *wanted, const char *does)
{
    char *fix;

    if (pin == NULL || wanted == NULL || strcmp(pin->name, wanted) == 0) {
        return;
    }
    fix = g_strdup_printf("write %s here", wanted);
    uvk_say(reading->messages, UVK_SAYS_DOES_NOT_FIT, node->place, fix, "the %s %s on %s only",
            reading->board->chip->title, does, wanted);
    g_free(fix);
}

/* Pin INDEX of the statement; NULL: there is none, or it is told what is wrong with it. */
static const struct uvk_pin *link_pin(struct reading *reading, const struct uvk_node *statement,
                                      unsigned index, const char *what, const char *wanted,
                                      const char *does)
{
    const struct uvk_node *node = item(statement, index);
    const struct uvk_pin *pin = NULL;

    if (node == NULL) {
        want(reading, statement, index, UVK_NODE_NAME, what);
    } else {
        pin = take_pin(reading, 0, false, node);
        want_link_pin(reading, node, pin, wanted, does);
    }
    return pin;
}

/* With a straight cable the second half sends where the first one receives. */
static void read_straight(struct reading *reading, const struct uvk_node *node)
{
    struct uvk_board *board = reading->board;

    board->link.straight = true;
    if (board->chip->link_sends != NULL) {
        char *fix = g_strdup_printf("let the cable cross, or use one line of it: link wire %s",
                                    board->chip->link_receives);
        uvk_say(reading->messages, UVK_SAYS_DOES_NOT_FIT, node->place, fix,
                "the %s cannot swap its two pins", board->chip->title);
        g_free(fix);
    }
}

/* link uart TX RX [straight] */
static void read_uart(struct reading *reading, const struct uvk_node *statement)
{
    struct uvk_link *link = &reading->board->link;
    const struct uvk_chip *chip = reading->board->chip;
    const struct uvk_node *straight = item(statement, 4);

    link->transmit = link_pin(reading, statement, 2, "the pins that send and receive",
                              chip->link_sends, "sends");
    if (item(statement, 2) == NULL) {
        return;
    }
    link->receive = link_pin(reading, statement, 3, "the pins that send and receive",
                             chip->link_receives, "receives");
    if (item(statement, 3) == NULL) {
        return;
    }
    if (straight != NULL && straight->kind == UVK_NODE_NAME &&
        strcmp(straight->text, "straight") == 0) {
        read_straight(reading, straight);
        want_end(reading, statement, 5);
    } else {
        want_end(reading, statement, 4);
    }
}

/* link wire PIN */
static void read_wire(struct reading *reading, const struct uvk_node *statement)
{
    struct uvk_link *link = &reading->board->link;

    link->one_wire = true;
    link->transmit = link_pin(reading, statement, 2, "the pin of the line",
                              reading->board->chip->link_receives, "has such a line");
    link->receive = link->transmit;
    if (item(statement, 2) != NULL) {
        want_end(reading, statement, 3);
    }
}

static void read_link(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    static const char *const kinds[] = {"uart", "wire", NULL};
    static void (*const readers[])(struct reading *, const struct uvk_node *) = {read_uart,
                                                                                 read_wire};
    int kind = want_word(reading, want(reading, statement, 1, UVK_NODE_NAME, "uart or wire"),
                         UVK_SAYS_EXPECTED, kinds, "kind of link");

    (void)subject;
    reading->board->link.place = statement->place;
    reading->board->link.words = words_of(statement);
    if (kind >= 0 && reading->board->chip != NULL) {
        readers[kind](reading, statement);
    }
}

#define SPEED_LEAST 9600
#define SPEED_MOST  1000000 /* of any chip */

static void read_speed(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    const struct uvk_chip *chip = reading->board->chip;
    double speed;

    (void)subject;
    if (want_number(reading, want(reading, statement, 1, UVK_NODE_NUMBER, "bits a second"),
                    SPEED_LEAST, chip != NULL ? chip->link_speed_most : SPEED_MOST, "the speed",
                    &speed)) {
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
            uvk_say_other(uvk_say(reading->messages, UVK_SAYS_TWICE, name->place, NULL,
                                  "both halves are called '%s'", name->text),
                          board->halves[0].place);
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
