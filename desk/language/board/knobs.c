/* knobs.c - knob NAME { pins A B; detent N; flipped } */
#include "reading.h"

#include <string.h>

#define DETENT 4u /* changes of phase from one detent to the next, if nothing is said */

static struct uvk_knob *current(struct reading *reading)
{
    return &reading->board->knobs[reading->board->knob_count - 1];
}

static void read_pins(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    struct uvk_knob *knob = current(reading);

    (void)subject;
    if (reading->board->chip == NULL) {
        return;
    }
    for (unsigned i = 0; i < 2; i++) {
        const struct uvk_node *node = item(statement, i + 1);
        const struct uvk_pin *pin;
        if (node == NULL) {
            want(reading, statement, i + 1, UVK_NODE_NAME, "two pins");
            return;
        }
        pin = take_pin(reading, knob->half, false, node);
        knob->pins[i] = pin;
        knob->pin_places[i] = node->place;
    }
    want_end(reading, statement, 3);
}

static void read_detent(struct reading *reading, const struct uvk_node *statement,
                        void *subject)
{
    const struct uvk_node *node =
        want(reading, statement, 1, UVK_NODE_NUMBER, "changes of phase to a detent");
    double value;

    (void)subject;
    if (!want_number(reading, node, 1, 4, "a detent", &value)) {
        return;
    }
    if (value == 3) {
        uvk_say(reading->messages, UVK_SAYS_OUT_OF_RANGE, node->place, NULL,
                "a knob has 1, 2 or 4 changes of phase to a detent");
        return;
    }
    current(reading)->detent = (unsigned)value;
    want_end(reading, statement, 2);
}

static void read_flipped(struct reading *reading, const struct uvk_node *statement,
                         void *subject)
{
    (void)subject;
    current(reading)->flipped = true;
    want_end(reading, statement, 1);
}

static const struct rule knob_rules[] = {
    {"pins", read_pins, false},
    {"detent", read_detent, false},
    {"flipped", read_flipped, false},
};

int knob_named(const struct uvk_board *board, const char *name)
{
    for (unsigned i = 0; i < board->knob_count; i++) {
        if (strcmp(board->knobs[i].name, name) == 0) {
            return (int)i;
        }
    }
    return -1;
}

static const char *knob_name(size_t index, const void *data)
{
    return ((const struct uvk_board *)data)->knobs[index].name;
}

int want_knob(struct reading *reading, const struct uvk_node *node)
{
    int knob = node != NULL ? knob_named(reading->board, node->text) : -1;

    if (node != NULL && knob < 0) {
        reading->knobs_unknown = true;
        char *fix =
            did_you_mean(node->text, reading->board->knob_count, knob_name, reading->board);
        uvk_say(reading->messages, UVK_SAYS_NO_NAME, node->place, fix,
                "this board has no knob '%s'", node->text);
        g_free(fix);
    }
    return knob;
}

void read_knob(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    static const char *const needed[] = {"pins", NULL};
    const struct uvk_node *name = want(reading, statement, 1, UVK_NODE_NAME, "the knob's name");
    const struct uvk_node *block = want_block(reading, statement);
    struct uvk_board *board = reading->board;
    struct which_halves which;

    (void)subject;
    if (name == NULL || block == NULL) {
        return;
    }
    if (!want_halves(reading, statement, 2, &which)) {
        reading->knobs_unknown = true;
        return;
    }
    want_end(reading, statement, which.next);
    if (which.first != which.last) {
        uvk_say(reading->messages, UVK_SAYS_MISSING, name->place, "knob NAME HALF { ... }",
                "on which half is the knob '%s'?", name->text);
        return;
    }
    if (knob_named(board, name->text) >= 0) {
        uvk_say_other(uvk_say(reading->messages, UVK_SAYS_TWICE, name->place, NULL,
                              "the knob '%s' is there already", name->text),
                      board->knobs[knob_named(board, name->text)].place);
        return;
    }
    if (board->knob_count == UVK_KNOBS_MAX) {
        uvk_say(reading->messages, UVK_SAYS_NO_ROOM, name->place, NULL,
                "a board has at most %u knobs", UVK_KNOBS_MAX);
        return;
    }
    if (board->knobs == NULL) {
        board->knobs =
            uvk_arena_take(reading->arena, (UVK_KNOBS_MAX + 1) * sizeof *board->knobs);
    }
    board->knobs[board->knob_count++] = (struct uvk_knob){.place = name->place,
                                                          .name = name->text,
                                                          .half = which.first,
                                                          .detent = DETENT,
                                                          .push = -1};
    want_statements(reading, block, name->place, needed, "the knob");
    read_block(reading, block, knob_rules, G_N_ELEMENTS(knob_rules), "a knob", NULL);
}

const struct uvk_knob *uvk_knob_of_key(const struct uvk_board *board, unsigned key)
{
    for (unsigned i = 0; i < board->knob_count; i++) {
        if (board->knobs[i].push == (int)key) {
            return &board->knobs[i];
        }
    }
    return NULL;
}
