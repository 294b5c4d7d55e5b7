/* strip.c - strip PIN { count; order; limit; at }: lamps that are addressed one by one. */
#include "reading.h"

#include <string.h>

#define LIMIT_LEAST 20u
#define LIMIT_USUAL 400u /* of the 500 that a computer gives */

static unsigned most_lamps(const struct uvk_board *board)
{
    return UVK_STRIP_MAX / (uvk_one_controller(board) ? 1u : 2u);
}

static void read_lamps(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    (void)subject;
    read_count(reading, statement, 1, most_lamps(reading->board),
               uvk_one_controller(reading->board) ? "the number of lamps"
                                                  : "the number of lamps on each half",
               &reading->board->strip.count);
}

static void read_order(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    static const char *const orders[] = {"grb", "rgb", "grbw", "rgbw", NULL};
    int order = want_word(reading, want(reading, statement, 1, UVK_NODE_NAME, "an order"),
                          UVK_SAYS_EXPECTED, orders, "order of colours");

    (void)subject;
    if (order >= 0) {
        reading->board->strip.order = orders[order];
        want_end(reading, statement, 2);
    }
}

static void read_limit(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    const struct uvk_node *node =
        want(reading, statement, 1, UVK_NODE_CURRENT, "a current, such as 300mA");
    double limit;

    (void)subject;
    if (want_number(reading, node, LIMIT_LEAST, UVK_LIGHT_LIMIT_MAX,
                    "the current in milliamperes", &limit)) {
        reading->board->strip.limit = (unsigned)limit;
        want_end(reading, statement, 2);
    }
}

/* Read when the keys are known. */
static void read_at(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    (void)subject;
    if (reading->board->strip.at_place.source == NULL) {
        reading->board->strip.at_place = item(statement, 0)->place;
    }
}

static const struct rule strip_rules[] = {
    {"count", read_lamps, false},
    {"order", read_order, false},
    {"limit", read_limit, false},
    {"at", read_at, true},
};

void read_strip(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    static const char *const needed[] = {"count", NULL};
    const struct uvk_node *block = want_block(reading, statement);
    struct uvk_strip *strip = &reading->board->strip;

    (void)subject;
    if (block == NULL) {
        return;
    }
    strip->place = statement->child->place;
    strip->order = "grb";
    strip->limit = LIMIT_USUAL;
    for (unsigned half = 0; half < UVK_HALVES; half++) {
        for (unsigned i = 0; i < UVK_STRIP_MAX; i++) {
            strip->keys[half][i] = -1;
        }
    }
    strip->pin = lamp_pin(reading, statement);
    want_statements(reading, block, strip->place, needed, "the strip");
    read_block(reading, block, strip_rules, G_N_ELEMENTS(strip_rules), "the strip", NULL);
}

/* ---- what lies above the lamps ---------------------------------------------------------- */

/* The key at NODE: on linked halves HALF's, else of any half. -1: it is no key, which is told.
 */
static int key_above(struct reading *reading, const struct uvk_node *node, unsigned half)
{
    const struct uvk_board *board = reading->board;
    struct key_address address;
    unsigned key;

    if (node->kind == UVK_NODE_ADDRESS || board->half_count == 1 || uvk_one_controller(board)) {
        if (find_address(reading, node, &key) &&
            (uvk_board_strips(board) < 2 || board->keys[key].half == half)) {
            return (int)key;
        }
    } else if (node->kind == UVK_NODE_NAME && parse_address(node->text, &address) &&
               key_wired_at(board, half, &address, &key)) {
        return (int)key;
    }
    if (!reading->keys_unknown && !reading->places_unknown) {
        uvk_say(reading->messages, UVK_SAYS_OUTSIDE_MATRIX, node->place,
                "a lamp without a key is +", "this is no key%s",
                uvk_board_strips(board) < 2 ? "" : " of this half");
    }
    return -1;
}

/* The lamps of HALF from COUNT on; how many there are then. */
static unsigned read_keys_above(struct reading *reading, const struct uvk_node *node,
                                unsigned half, unsigned count)
{
    struct uvk_strip *strip = &reading->board->strip;

    for (; node != NULL; node = node->next) {
        if (count == strip->count) {
            uvk_say(reading->messages, UVK_SAYS_OUT_OF_RANGE, node->place, NULL,
                    "the strip has %u lamp%s, this would be one more", strip->count,
                    strip->count == 1 ? "" : "s");
            return count;
        }
        strip->keys[half][count++] =
            node->kind == UVK_NODE_PLUS ? -1 : key_above(reading, node, half);
    }
    return count;
}

/* at [HALF] ADDRESS + ...; several lines go on where the one before has ended. */
static void read_lamps_at(struct reading *reading, const struct uvk_node *statement,
                          unsigned counts[UVK_HALVES])
{
    const struct uvk_node *second = item(statement, 1);
    struct which_halves which = {0, uvk_board_strips(reading->board) - 1, 1};
    struct key_address address;
    bool names_half = uvk_board_strips(reading->board) > 1 && second != NULL &&
                      second->kind == UVK_NODE_NAME && !parse_address(second->text, &address);

    if (names_half && !want_halves(reading, statement, 1, &which)) {
        return;
    }
    for (unsigned half = which.first; half <= which.last && half < UVK_HALVES; half++) {
        counts[half] =
            read_keys_above(reading, item(statement, which.next), half, counts[half]);
    }
}

void finish_strip(struct reading *reading, const struct uvk_node *block)
{
    unsigned counts[UVK_HALVES] = {0, 0};

    if (reading->board->strip.at_place.source == NULL || reading->board->strip.count == 0) {
        return;
    }
    for (const struct uvk_node *at = block->child; at != NULL; at = at->next) {
        const struct uvk_node *inner = at->kind != UVK_NODE_BROKEN && keyword(at) != NULL &&
                                               strcmp(keyword(at), "strip") == 0
                                           ? want_block(reading, at)
                                           : NULL;
        for (inner = inner != NULL ? inner->child : NULL; inner != NULL; inner = inner->next) {
            if (inner->kind != UVK_NODE_BROKEN && keyword(inner) != NULL &&
                strcmp(keyword(inner), "at") == 0) {
                read_lamps_at(reading, inner, counts);
            }
        }
    }
}
