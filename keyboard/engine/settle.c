/* settle.c - which layers stay on, and which follow from others. */
#include "outputs.h"

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
    uvk_sticky_keep(engine, kept.bits);
    return kept;
}

/* Rows of the `when`s: none where they are not built in. */
static uint8_t count_whens(const struct uvk_image *image)
{
    return UVK_USE_WHENS ? uvk_image_whens(image) : 0;
}

/* The `when` that LAYER goes with. False: there is none. */
static bool find_when(const struct uvk_image *image, uint8_t layer, struct uvk_when *when)
{
    for (uint8_t row = 0; row < count_whens(image); row++) {
        uvk_image_when(image, row, when);
        if (when->layer == layer) {
            return true;
        }
    }
    return false;
}

/* Should LAYER, which is on, stay on? */
static bool stays(const struct uvk_engine *engine, const struct kept *kept, uint8_t layer)
{
    struct uvk_when when;

    if (find_when(&engine->image, layer, &when)) {
        return uvk_layers_are_on(&engine->layers, when.a) &&
               uvk_layers_are_on(&engine->layers, when.b);
    }
    return is_kept(kept, layer);
}

/* One layer that should not be on goes off. False: there is none. */
static bool switch_one_off(struct uvk_engine *engine, const struct kept *kept)
{
    for (uint8_t place = 1; place < engine->layers.count; place++) {
        uint8_t layer = engine->layers.order[place];
        if (!stays(engine, kept, layer)) {
            uvk_layers_off(&engine->layers, place);
            return true;
        }
    }
    return false;
}

/* One layer whose two are on goes on, right above what is on. False: there is none. */
static bool switch_one_on(struct uvk_engine *engine)
{
    for (uint8_t row = 0; row < count_whens(&engine->image); row++) {
        struct uvk_when when;
        uvk_image_when(&engine->image, row, &when);
        if (uvk_layers_are_on(&engine->layers, when.a) &&
            uvk_layers_are_on(&engine->layers, when.b) &&
            !uvk_layers_are_on(&engine->layers, when.layer)) {
            uvk_layers_on(&engine->layers, when.layer);
            return true;
        }
    }
    return false;
}

void uvk_layers_settle(struct uvk_engine *engine)
{
    /* each round switches one layer; none is switched back, so the rounds end */
    if (engine->layers.count > 1) {
        struct kept kept = find_kept(engine);
        while (switch_one_off(engine, &kept)) {
        }
    }
    while (switch_one_on(engine)) {
    }
}
