/* lamps.c - backlight PIN { levels; start; breathe }, strip PIN { count; order }. */
#include "reading.h"

#include <string.h>

#define LEVELS_MAX 64u

static void read_count(struct reading *reading, const struct uvk_node *statement, double least,
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

/* The pin behind the keyword; NULL and a message if there is none. */
static const struct uvk_pin *lamp_pin(struct reading *reading, const struct uvk_node *statement)
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

static void read_lamps(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    (void)subject;
    read_count(reading, statement, 1, 256, "the number of lamps", &reading->board->strip.count);
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

static const struct rule strip_rules[] = {
    {"count", read_lamps, false},
    {"order", read_order, false},
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
    strip->pin = lamp_pin(reading, statement);
    want_statements(reading, block, strip->place, needed, "the strip");
    read_block(reading, block, strip_rules, G_N_ELEMENTS(strip_rules), "the strip", NULL);
}
