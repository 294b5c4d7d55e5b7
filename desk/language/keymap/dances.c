/* dances.c - dance NAME { tap -> CELL; tap hold -> CELL; within T } */
#include "reading.h"

#include "uvrek/image.h"

#include <string.h>

#define WITHIN    200000.0 /* microseconds, if nothing is said */
#define TAPS_MAX  255u
#define DEPTH_MAX 6u /* dances and tap-holds inside one another; the engine goes to 8 */

static void read_within(struct reading *reading, const struct uvk_node *statement,
                        void *subject)
{
    struct uvk_dance_text *dance = subject;
    const struct uvk_node *node = want(reading, statement, 1, UVK_NODE_TIME, "a time");

    if (want_time(reading, node, 1000, UVK_FEEL_TIME_MAX * 1000.0, &dance->within)) {
        want_end(reading, statement, 2);
    }
}

/* Room for TAPS lines; what is new has nothing in it. */
static void grow(struct reading *reading, struct uvk_dance_text *dance, unsigned taps)
{
    struct uvk_dance_line *lines;

    if (taps <= dance->taps) {
        return;
    }
    lines = uvk_arena_take(reading->arena, taps * sizeof *lines);
    if (dance->taps > 0) {
        memcpy(lines, dance->lines, dance->taps * sizeof *lines);
    }
    for (unsigned i = dance->taps; i < taps; i++) {
        lines[i].tapped.kind = UVK_VALUE_BROKEN;
        lines[i].held.kind = UVK_VALUE_BROKEN;
    }
    dance->lines = lines;
    dance->taps = taps;
}

/* The words before the arrow: how many, and whether the last is `hold`. NULL: a mistake. */
static const struct uvk_node *read_touches(struct reading *reading,
                                           const struct uvk_node *statement, unsigned *taps,
                                           bool *held)
{
    const struct uvk_node *node = statement->child;

    *taps = 0;
    *held = false;
    for (; node != NULL && node->kind == UVK_NODE_NAME; node = node->next) {
        bool hold = strcmp(node->text, "hold") == 0;
        if (*held || (!hold && strcmp(node->text, "tap") != 0)) {
            uvk_say(reading->messages, UVK_SAYS_EXPECTED, node->place, NULL,
                    *held ? "only the last touch of a dance can be a hold"
                          : "a line of a dance is made of 'tap' and 'hold'");
            return NULL;
        }
        *held = hold;
        (*taps)++;
    }
    if (*taps > TAPS_MAX) {
        uvk_say(reading->messages, UVK_SAYS_OUT_OF_RANGE, statement->place, NULL,
                "a line of a dance has at most %u touches", TAPS_MAX);
        return NULL;
    }
    return want(reading, statement, *taps, UVK_NODE_ARROW, "'->' behind the touches");
}

static void read_line(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    struct uvk_dance_text *dance = subject;
    unsigned taps;
    bool held;
    const struct uvk_node *arrow = read_touches(reading, statement, &taps, &held);
    const struct uvk_node *cell = arrow != NULL ? item(statement, taps + 1) : NULL;
    struct uvk_value *line;

    if (arrow != NULL && cell == NULL) {
        want(reading, statement, taps + 1, UVK_NODE_NAME, "what this does");
    }
    if (cell == NULL) {
        return;
    }
    grow(reading, dance, taps);
    line = held ? &dance->lines[taps - 1].held : &dance->lines[taps - 1].tapped;
    if (line->kind != UVK_VALUE_BROKEN) {
        uvk_say(reading->messages, UVK_SAYS_TWICE, statement->place, NULL,
                "this line stands in the dance already");
        return;
    }
    *line = cell_value(reading, cell);
    if (line->kind == UVK_VALUE_THROUGH) {
        uvk_say(reading->messages, UVK_SAYS_DOES_NOT_FIT, cell->place, NULL,
                "a dance has nothing to see through to");
    }
    want_end(reading, statement, taps + 2);
}

static const struct rule dance_rules[] = {
    {"within", read_within, false},
    {"tap", read_line, true},
    {"hold", read_line, true},
};

void read_dance(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    const struct uvk_node *name =
        want(reading, statement, 1, UVK_NODE_NAME, "the dance's name");
    const struct own_name *own = name != NULL ? own_named(reading, name->text) : NULL;
    const struct uvk_node *block = want_block(reading, statement);
    struct uvk_dance_text *dance;

    (void)subject;
    if (block == NULL || own == NULL || own->kind != OWN_DANCE ||
        own->place.at != name->place.at || own->place.source != name->place.source) {
        return;
    }
    want_end(reading, statement, 2);
    dance = &reading->keymap->dances[own->layer];
    dance->name = own->name;
    dance->place = own->place;
    dance->within = WITHIN;
    read_block(reading, block, dance_rules, G_N_ELEMENTS(dance_rules), "a dance", dance);
    if (dance->taps == 0 && block->child == NULL) {
        uvk_say(reading->messages, UVK_SAYS_MISSING, name->place, NULL,
                "this dance has no line");
    }
}

/* How deep VALUE goes, as far as is known of the dances. */
static unsigned depth_of(const unsigned *known, const struct uvk_value *value)
{
    if (value->kind == UVK_VALUE_HOLD) {
        return 1 + MAX(depth_of(known, value->tap), depth_of(known, value->held));
    }
    return value->kind == UVK_VALUE_DANCE ? 1 + known[value->dance] : 0;
}

static unsigned depth_of_dance(const struct uvk_keymap *keymap, unsigned index,
                               const unsigned *known)
{
    const struct uvk_dance_text *dance = &keymap->dances[index];
    unsigned deepest = 0;

    for (unsigned i = 0; i < dance->taps; i++) {
        deepest = MAX(deepest, depth_of(known, &dance->lines[i].tapped));
        deepest = MAX(deepest, depth_of(known, &dance->lines[i].held));
    }
    return deepest;
}

void check_dances(struct reading *reading)
{
    const struct uvk_keymap *keymap = reading->keymap;
    unsigned *known = nested_depths(keymap, keymap->dance_count, DEPTH_MAX + 1, depth_of_dance);

    for (unsigned i = 0; i < keymap->dance_count; i++) {
        if (keymap->dances[i].name != NULL && 1 + known[i] > DEPTH_MAX) {
            uvk_say(reading->messages, UVK_SAYS_DEFINED_BY_ITSELF, keymap->dances[i].place,
                    NULL, "'%s' is part of itself, or more than %u dances and tap-holds deep",
                    keymap->dances[i].name, DEPTH_MAX);
            break; /* the others in the circle are the same mistake */
        }
    }
    g_free(known);
}
