/* lights.c - what is said of lights, and stays dark. */
#include "model/visit.h"
#include "reading.h"

#include "uvrek/names.h"

#include <string.h>

static void note_light(const struct uvk_value *value, void *data)
{
    unsigned *count = data;

    *count += value->kind == UVK_VALUE_LIGHT;
}

/* One line, however many cells there are. */
static void doubt_cells(struct reading *reading)
{
    unsigned count = 0;

    visit_all(reading, note_light, &count);
    if (count > 0 && !uvk_board_lights_up(reading->board)) {
        uvk_say(reading->messages, UVK_SAYS_DARK_LIGHTS, reading->keymap->place, NULL,
                "%u 'light:' cell%s do%s nothing: this board has no backlight and no strip",
                count, count == 1 ? "" : "s", count == 1 ? "es" : "");
    }
}

/* Effects that a strip alone can show, and those that have to know where its keys are. */
static void doubt_effect(struct reading *reading)
{
    const struct uvk_lights_text *lights = &reading->keymap->lights;
    const struct uvk_strip *strip = &reading->board->strip;

    if (lights->effect > UVK_EFFECT_BREATHE && strip->place.source == NULL) {
        uvk_say(reading->messages, UVK_SAYS_DARK_LIGHTS, lights->effect_place, NULL,
                "'%s' is for a strip; a backlight is still or breathes",
                uvk_effect_names[lights->effect]);
    } else if (lights->effect >= UVK_EFFECT_RIPPLE && strip->at_place.source == NULL) {
        uvk_say(reading->messages, UVK_SAYS_DARK_LIGHTS, lights->effect_place,
                "at r0c0 r0c1 ... in the strip",
                "'%s' needs to know which key lies above which lamp",
                uvk_effect_names[lights->effect]);
    }
}

static void doubt_block(struct reading *reading)
{
    const struct uvk_lights_text *lights = &reading->keymap->lights;

    if (lights->place.source == NULL) {
        return;
    }
    if (!uvk_board_lights_up(reading->board)) {
        uvk_say_mend(uvk_say(reading->messages, UVK_SAYS_DARK_LIGHTS, lights->place, NULL,
                             "this board has no backlight and no strip"),
                     UVK_MEND_REMOVE, NULL);
        return;
    }
    doubt_effect(reading);
}

static void doubt_colours(struct reading *reading)
{
    const struct uvk_keymap *keymap = reading->keymap;

    for (unsigned i = 0; i < keymap->layer_count; i++) {
        if (keymap->layers[i].light_place.source != NULL &&
            reading->board->strip.place.source == NULL) {
            uvk_say_mend(uvk_say(reading->messages, UVK_SAYS_DARK_LIGHTS,
                                 keymap->layers[i].light_place, NULL,
                                 "the colour of a layer shows on a strip; this board has none"),
                         UVK_MEND_REMOVE, NULL);
            return;
        }
    }
}

static const char *layer_name(size_t index, const void *data)
{
    return ((const struct uvk_keymap *)data)->layers[index].name;
}

static void doubt_lamps(struct reading *reading)
{
    const struct uvk_keymap *keymap = reading->keymap;

    for (unsigned i = 0; i < reading->board->lamp_count; i++) {
        const struct uvk_lamp_text *lamp = &reading->board->lamps[i];
        bool found = lamp->layer == NULL;
        char *fix;
        for (unsigned layer = 0; layer < keymap->layer_count && !found; layer++) {
            found = strcmp(keymap->layers[layer].name, lamp->layer) == 0;
        }
        if (found) {
            continue;
        }
        fix = did_you_mean(lamp->layer, keymap->layer_count, layer_name, keymap);
        uvk_say(reading->messages, UVK_SAYS_DARK_LIGHTS, lamp->place, fix,
                "keymap '%s' has no layer '%s': this lamp stays dark", keymap->name,
                lamp->layer);
        g_free(fix);
    }
}

/* A lamp that is dark takes a milliampere: with no more than that there is none for light. */
static void doubt_limit(struct reading *reading)
{
    const struct uvk_strip *strip = &reading->board->strip;
    unsigned dark = strip->count * MAX(1u, uvk_board_strips(reading->board));

    if (strip->place.source != NULL && strip->limit <= dark) {
        uvk_say(reading->messages, UVK_SAYS_DARK_LIGHTS, strip->place, NULL,
                "the strip stays dark: %u mA is all that its %u lamps take when they are dark",
                strip->limit, dark);
    }
}

void doubt_lights(struct reading *reading)
{
    doubt_limit(reading);
    doubt_cells(reading);
    doubt_block(reading);
    doubt_colours(reading);
    doubt_lamps(reading);
}
