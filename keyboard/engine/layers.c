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

static void take_off(struct uvk_layers *layers, uint8_t place)
{
    layers->count--;
    for (; place < layers->count; place++) {
        layers->order[place] = layers->order[place + 1];
    }
}

/* Layers that something keeps on, other than a `when`: a bit each. */
struct kept {
    uint8_t bits[(UVK_MAX_LAYERS + 7) / 8];
};

static bool is_kept(const struct kept *kept, uint8_t layer)
{
    return (kept->bits[layer >> 3] & uvk_bit(layer)) != 0;
}

static struct kept find_kept(const struct uvk_engine *engine)
{
    struct kept kept = {{0}};

    for (uint8_t i = 0; i < engine->holds.count; i++) {
        const struct uvk_hold *hold = &engine->holds.list[i];
        uvk_action action = hold->action;
        if (uvk_action_kind(action) == UVK_LAYER &&
            (uvk_action_how(action) == UVK_LAYER_WHILE ||
             uvk_action_how(action) == UVK_LAYER_ONCE)) {
            kept.bits[uvk_action_what(action) >> 3] |= uvk_bit(uvk_action_what(action));
        }
    }
#if UVK_USE_STICKY
    uvk_sticky_keep(engine, kept.bits);
#endif
    return kept;
}

#if UVK_USE_WHENS
static bool is_on(const struct uvk_layers *layers, uint8_t layer)
{
    return place_of(layers, layer) != layers->count;
}

/* The `when` that LAYER goes with; rows if there is none. */
static uint8_t when_of(const struct uvk_image *image, uint8_t layer, uint8_t *a, uint8_t *b)
{
    uint8_t row = 0;

    while (row < image->rows[UVK_TABLE_WHENS] && uvk_image_when(image, row, a, b) != layer) {
        row++;
    }
    return row;
}
#endif

/* Should LAYER, which is on, stay on? */
static bool stays(const struct uvk_engine *engine, const struct kept *kept, uint8_t layer)
{
#if UVK_USE_WHENS
    uint8_t a;
    uint8_t b;
    if (when_of(&engine->image, layer, &a, &b) < engine->image.rows[UVK_TABLE_WHENS]) {
        return is_on(&engine->layers, a) && is_on(&engine->layers, b);
    }
#endif
    (void)engine;
    return is_kept(kept, layer);
}

/* One layer that should not be on goes off. False: there is none. */
static bool switch_one_off(struct uvk_engine *engine, const struct kept *kept)
{
    for (uint8_t place = 1; place < engine->layers.count; place++) {
        uint8_t layer = engine->layers.order[place];
        if (!stays(engine, kept, layer)) {
            take_off(&engine->layers, place);
            return true;
        }
    }
    return false;
}

#if UVK_USE_WHENS
/* One layer whose two are on goes on, right above what is on. False: there is none. */
static bool switch_one_on(struct uvk_engine *engine)
{
    for (uint8_t row = 0; row < engine->image.rows[UVK_TABLE_WHENS]; row++) {
        uint8_t a;
        uint8_t b;
        uint8_t layer = uvk_image_when(&engine->image, row, &a, &b);
        if (is_on(&engine->layers, a) && is_on(&engine->layers, b) &&
            !is_on(&engine->layers, layer)) {
            uvk_layers_on(&engine->layers, layer);
            return true;
        }
    }
    return false;
}
#endif

void uvk_layers_settle(struct uvk_engine *engine)
{
    /* each round switches one layer; none is switched back, so the rounds end */
    if (engine->layers.count > 1) {
        struct kept kept = find_kept(engine);
        while (switch_one_off(engine, &kept)) {
        }
    }
#if UVK_USE_WHENS
    while (switch_one_on(engine)) {
    }
#endif
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
