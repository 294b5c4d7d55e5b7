/* layers.c - which layers are on, in the order in which they were switched on. */
#include "parts.h"

void uvk_layers_reset(struct uvk_layers *layers)
{
    layers->count = 1;
    layers->order[0] = 0;
}

/* Where LAYER stands in the order, or count if it is off. */
static uint8_t place_of(const struct uvk_layers *layers, uint8_t layer)
{
    uint8_t place = 0;

    while (place < layers->count && layers->order[place] != layer) {
        place++;
    }
    return place;
}

void uvk_layers_on(struct uvk_layers *layers, uint8_t layer)
{
    if (place_of(layers, layer) == layers->count) {
        layers->order[layers->count++] = layer;
    }
}

void uvk_layers_off(struct uvk_layers *layers, uint8_t place)
{
    layers->count--;
    for (; place < layers->count; place++) {
        layers->order[place] = layers->order[place + 1];
    }
}

bool uvk_layers_are_on(const struct uvk_layers *layers, uint8_t layer)
{
    return place_of(layers, layer) != layers->count;
}

uvk_action uvk_layers_cell(const struct uvk_layers *layers, const struct uvk_image *image,
                           uint8_t key)
{
    for (uint8_t place = layers->count; place-- > 0;) {
        uvk_action cell = uvk_image_cell(image, layers->order[place], key);
        if (cell != UVK_SEE_THROUGH) {
            return cell;
        }
    }
    return UVK_NOTHING;
}
