/* lamps.c - backlight PIN { levels; start; breathe }, lamp WHAT PIN to ground | power. */
#include "reading.h"

#include "uvrek/names.h"

#include <string.h>

#define LEVELS_MAX UVK_LEVELS_MAX

void read_count(struct reading *reading, const struct uvk_node *statement, double least,
                double most, const char *what, unsigned *out)
{
    const struct uvk_node *node = want(reading, statement, 1, UVK_NODE_NUMBER, "a number");
    double value;

    if (want_number(reading, node, least, most, what, &value)) {
        *out = (unsigned)value;
        want_end(reading, statement, 2);
    }
}

static void read_levels(struct reading *reading, const struct uvk_node *statement,
                        void *subject)
{
    unsigned *levels = &reading->board->backlight.levels;

    (void)subject;
    *levels = LEVELS_MAX; /* if the number is wrong, nothing else is wrong because of it */
    read_count(reading, statement, 1, LEVELS_MAX, "the number of levels", levels);
}

static void read_start(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    (void)subject;
    read_count(reading, statement, 0, LEVELS_MAX, "the level at the start",
               &reading->board->backlight.start);
}

static void read_breathe(struct reading *reading, const struct uvk_node *statement,
                         void *subject)
{
    (void)subject;
    if (want_time(reading, want(reading, statement, 1, UVK_NODE_TIME, "a time"), 500000,
                  60000000, &reading->board->backlight.breathe)) {
        want_end(reading, statement, 2);
    }
}

static const struct rule backlight_rules[] = {
    {"levels", read_levels, false},
    {"start", read_start, false},
    {"breathe", read_breathe, false},
};

const struct uvk_pin *lamp_pin(struct reading *reading, const struct uvk_node *statement)
{
    const struct uvk_node *node = item(statement, 1);

    if (reading->board->chip == NULL) {
        return NULL;
    }
    if (node == NULL) {
        want(reading, statement, 1, UVK_NODE_NAME, "a pin");
        return NULL;
    }
    want_end(reading, statement, 2);
    return take_pin(reading, 0, false, node);
}

void read_backlight(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    const struct uvk_node *block = want_block(reading, statement);
    struct uvk_backlight *light = &reading->board->backlight;

    (void)subject;
    if (block == NULL) {
        return;
    }
    light->place = statement->child->place;
    light->levels = 8;
    light->start = 4;
    light->pin = lamp_pin(reading, statement);
    read_block(reading, block, backlight_rules, G_N_ELEMENTS(backlight_rules), "the backlight",
               NULL);
    if (light->start > light->levels) {
        uvk_say(reading->messages, UVK_SAYS_OUT_OF_RANGE, light->place, NULL,
                "it starts at level %u, and has only %u", light->start, light->levels);
    }
}

/* ---- lamps with a pin of their own ------------------------------------------------------- */

const char *uvk_lamp_name(const struct uvk_lamp_text *lamp)
{
    return lamp->layer != NULL ? lamp->layer : uvk_lamp_locks[lamp->tells];
}

/* num-lock, caps-lock, scroll-lock; any other name is a layer's. */
static enum uvk_lamp lamp_kind(const char *name)
{
    for (unsigned i = 0; uvk_lamp_locks[i] != NULL; i++) {
        if (strcmp(uvk_lamp_locks[i], name) == 0) {
            return (enum uvk_lamp)i;
        }
    }
    return UVK_LAMP_LAYER;
}

/* to ground | to power; ground, if nothing is said. */
static bool read_other_end(struct reading *reading, const struct uvk_node *statement)
{
    static const char *const to[] = {"to", NULL};
    static const char *const ends[] = {"ground", "power", NULL};

    if (item(statement, 3) == NULL ||
        want_word(reading, item(statement, 3), UVK_SAYS_EXPECTED, to, "word") < 0) {
        return false;
    }
    want_end(reading, statement, 5);
    return want_word(reading, want(reading, statement, 4, UVK_NODE_NAME, "ground or power"),
                     UVK_SAYS_EXPECTED, ends, "end of a lamp") == 1;
}

static bool has_room(struct reading *reading, const struct uvk_lamp_text *lamp)
{
    const struct uvk_board *board = reading->board;
    unsigned layers = 0;

    for (unsigned i = 0; i < board->lamp_count; i++) {
        const struct uvk_lamp_text *other = &board->lamps[i];
        layers += other->tells == UVK_LAMP_LAYER;
        if (other->tells == lamp->tells && g_strcmp0(other->layer, lamp->layer) == 0) {
            uvk_say_other(uvk_say(reading->messages, UVK_SAYS_TWICE, lamp->place, NULL,
                                  "there is a lamp for this already"),
                          other->place);
            return false;
        }
    }
    if (lamp->tells == UVK_LAMP_LAYER && layers == UVK_LAYER_LAMPS_MAX) {
        uvk_say(reading->messages, UVK_SAYS_NO_ROOM, lamp->place, NULL,
                "a board has at most %u lamps for layers", UVK_LAYER_LAMPS_MAX);
        return false;
    }
    return true;
}

void read_lamp(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    const struct uvk_node *what = want(reading, statement, 1, UVK_NODE_NAME,
                                       "num-lock, caps-lock, scroll-lock or a layer");
    const struct uvk_node *pin = item(statement, 2);
    struct uvk_lamp_text lamp = {.place = statement->child->place};

    (void)subject;
    if (what == NULL || reading->board->chip == NULL) {
        return;
    }
    if (pin == NULL) {
        want(reading, statement, 2, UVK_NODE_NAME, "a pin");
        return;
    }
    lamp.tells = lamp_kind(what->text);
    lamp.layer = lamp.tells == UVK_LAMP_LAYER ? what->text : NULL;
    lamp.place = what->place;
    lamp.pin = take_pin(reading, 0, false, pin);
    lamp.to_power = read_other_end(reading, statement);
    if (lamp.pin != NULL && has_room(reading, &lamp)) {
        reading->board->lamps[reading->board->lamp_count++] = lamp;
    }
}
