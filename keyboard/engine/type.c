/* type.c - a macro types a text, a stroke at a time. */
#include "macros.h"

#if UVK_USE_TYPE

/* One place of a text, see UVK_TEXT_END. */
struct stroke {
    uint8_t usage, mods;
    uint8_t bytes;
    bool goes_on; /* the character before is not complete without it */
    bool keeps;   /* no key: MODS are down from here on */
};

static struct stroke read_stroke(const struct uvk_engine *engine, uint16_t row)
{
    const struct uvk_image *image = &engine->image;
    struct stroke stroke = {.bytes = 1};
    uint8_t byte = uvk_image_text(image, row);

    if (byte == UVK_TEXT_SAME) {
        stroke.goes_on = true;
        stroke.bytes++;
        byte = uvk_image_text(image, ++row);
    }
    stroke.keeps = byte == UVK_TEXT_KEEP;
    if (stroke.keeps || byte == UVK_TEXT_MODS) {
        stroke.mods = uvk_image_text(image, (uint16_t)(row + 1));
        stroke.usage = stroke.keeps ? 0 : uvk_image_text(image, (uint16_t)(row + 2));
        stroke.bytes = (uint8_t)(stroke.bytes + (stroke.keeps ? 1u : 2u));
    } else {
        stroke.mods = (byte & UVK_TEXT_SHIFT) ? UVK_MOD_SHIFT : 0;
        stroke.usage = (uint8_t)(byte & ~UVK_TEXT_SHIFT);
    }
    return stroke;
}

/* Modifiers other than the text's own are lifted from its first stroke to its last. */
static void lift(struct uvk_running *macro, uint8_t mods)
{
    macro->lifts = true;
    macro->typed = mods;
}

/* The next key of the text goes down; the one after it waits for the pace. */
static void stroke_down(struct uvk_engine *engine, struct uvk_port *port,
                        const struct stroke *stroke)
{
    struct uvk_running *macro = UVK_NEAR(&engine->macro);

    lift(macro, (uint8_t)(macro->kept | stroke->mods));
    if (uvk_action_down(engine, port, macro->key, UVK_HOLD_MACRO,
                        UVK_MAKE_KEY(0, stroke->usage)) != UVK_TURN_NEXT) {
        return; /* what another key holds comes up first */
    }
    macro->stroke = stroke->usage;
    macro->text = (uint16_t)(macro->text + stroke->bytes);
    if (!stroke->goes_on) {
        macro->until = (uint16_t)(engine->now + engine->settings[UVK_SET_TYPE_PACE]);
        macro->waits = true;
    }
}

static void stroke_up(struct uvk_engine *engine)
{
    struct uvk_running *macro = &engine->macro;

    macro->typed = macro->kept;
    uvk_action_let_go(engine, macro->key, UVK_MAKE_KEY(0, macro->stroke));
    macro->stroke = 0;
}

static bool is_early(const struct uvk_engine *engine)
{
    return engine->macro.waits && (int16_t)(engine->now - engine->macro.until) < 0;
}

enum uvk_turn uvk_type_step(struct uvk_engine *engine, struct uvk_port *port, uint16_t row)
{
    struct uvk_running *macro = &engine->macro;
    struct stroke stroke;

    if (!macro->types) {
        macro->types = true;
        macro->text = row;
        macro->kept = 0;
    }
    if (macro->stroke != 0) {
        stroke_up(engine);
        return UVK_TURN_DONE;
    }
    stroke = read_stroke(engine, macro->text);
    if (stroke.keeps) {
        macro->kept = stroke.mods;
        macro->text = (uint16_t)(macro->text + stroke.bytes);
        lift(macro, stroke.mods);
        uvk_told_update(engine, false);
        return UVK_TURN_DONE;
    }
    if (stroke.usage != UVK_TEXT_END) {
        if (!stroke.goes_on && is_early(engine)) {
            return UVK_TURN_WAIT;
        }
        stroke_down(engine, port, &stroke);
        return UVK_TURN_DONE;
    }
    macro->types = false;
    macro->waits = false;
    (void)uvk_type_unlift(engine);
    return UVK_TURN_NEXT;
}

bool uvk_type_is_midway(const struct uvk_engine *engine)
{
    const struct uvk_running *macro = &engine->macro;

    return macro->types &&
           (macro->kept != 0 || uvk_image_text(&engine->image, macro->text) == UVK_TEXT_SAME);
}

bool uvk_type_unlift(struct uvk_engine *engine)
{
    bool lifts = engine->macro.lifts;

    if (lifts) {
        engine->macro.lifts = false;
        uvk_told_update(engine, true);
    }
    return lifts;
}

#endif
