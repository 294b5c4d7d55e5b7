/* lights.c - lights { effect; colour; speed }, and light #RRGGBB in a layer. */
#include "reading.h"

#include "uvrek/names.h"

#define SPEED_LEAST 500000.0 /* microseconds */
#define SPEED_MOST  60000000.0

static bool want_colour(struct reading *reading, const struct uvk_node *statement,
                        struct uvk_colour *colour)
{
    const struct uvk_node *node =
        want(reading, statement, 1, UVK_NODE_COLOUR, "a colour, such as #ff8800");
    uint32_t value = node != NULL ? (uint32_t)node->number : 0;

    if (node == NULL) {
        return false;
    }
    *colour = (struct uvk_colour){(uint8_t)(value >> 16), (uint8_t)(value >> 8 & 0xFFu),
                                  (uint8_t)(value & 0xFFu)};
    want_end(reading, statement, 2);
    return true;
}

static void read_effect(struct reading *reading, const struct uvk_node *statement,
                        void *subject)
{
    struct uvk_lights_text *lights = &reading->keymap->lights;
    const struct uvk_node *name = want(reading, statement, 1, UVK_NODE_NAME, "an effect");
    int effect = want_word(reading, name, UVK_SAYS_EXPECTED, uvk_effect_names, "effect");

    (void)subject;
    if (effect >= 0) {
        lights->effect = (enum uvk_effect)effect;
        lights->effect_place = name->place;
        want_end(reading, statement, 2);
    }
}

static void read_colour(struct reading *reading, const struct uvk_node *statement,
                        void *subject)
{
    (void)subject;
    (void)want_colour(reading, statement, &reading->keymap->lights.colour);
}

static void read_speed(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    (void)subject;
    if (want_time(reading, want(reading, statement, 1, UVK_NODE_TIME, "a time"), SPEED_LEAST,
                  SPEED_MOST, &reading->keymap->lights.speed)) {
        want_end(reading, statement, 2);
    }
}

static const struct rule lights_rules[] = {
    {"effect", read_effect, false},
    {"colour", read_colour, false},
    {"speed", read_speed, false},
};

void read_lights(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    const struct uvk_node *block = want_block(reading, statement);

    (void)subject;
    if (block == NULL) {
        return;
    }
    want_end(reading, statement, 1);
    reading->keymap->lights.place = statement->child->place;
    read_block(reading, block, lights_rules, G_N_ELEMENTS(lights_rules), "the lights", NULL);
}

void read_layer_light(struct reading *reading, const struct uvk_node *statement,
                      struct uvk_layer_text *layer)
{
    if (layer->light_place.source != NULL) {
        uvk_say_other(uvk_say(reading->messages, UVK_SAYS_TWICE, statement->place, NULL,
                              "this layer has a colour already"),
                      layer->light_place);
    }
    if (want_colour(reading, statement, &layer->light)) {
        layer->light_place = statement->place;
    }
}
