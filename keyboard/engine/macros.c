/* macros.c - a macro runs, one step a pass.
 *
 * What it presses belongs to the key that started it: macros that are under way at the same
 * time, because their release parts are still to come, do not let go of one another's. */
#include "parts.h"

#if UVK_USE_MACROS

static void run_from(struct uvk_engine *engine, uint16_t row, uint8_t key)
{
    struct uvk_running *macro = &engine->macro;

    macro->on = true;
    macro->waits = false;
    macro->row = row;
    macro->key = key;
}

void uvk_macro_start(struct uvk_engine *engine, uint16_t row, uint8_t key, uint8_t mods)
{
    bool keeps = uvk_image_step(&engine->image, row).op == UVK_OP_RELEASE_PART;

    run_from(engine, keeps ? (uint16_t)(row + 1) : row, key);
    engine->macro.keeps = keeps;
    engine->macro.mods = mods;
}

bool uvk_macro_has_release_part(const struct uvk_engine *engine, uint16_t row)
{
    return uvk_image_step(&engine->image, row).op == UVK_OP_RELEASE_PART;
}

void uvk_macro_released(struct uvk_engine *engine, uint16_t row, uint8_t key)
{
    struct uvk_macro_step first = uvk_image_step(&engine->image, row);

    if (first.op == UVK_OP_RELEASE_PART) {
        run_from(engine, first.operand, key);
        engine->macro.keeps = false;
        engine->macro.mods = 0;
    }
}

bool uvk_macro_is_between(const struct uvk_engine *engine)
{
#if UVK_USE_TYPE
    const struct uvk_running *macro = &engine->macro;

    if (macro->types &&
        (macro->kept != 0 || uvk_image_text(&engine->image, macro->text) == UVK_TEXT_SAME)) {
        return false;
    }
#endif
    return engine->macro.held == 0;
}

void uvk_macro_hurry(struct uvk_engine *engine)
{
    engine->macro.until = engine->now;
}

/* What a macro still holds when it ends, it lets go; with a release part, that does. */
static void end(struct uvk_engine *engine)
{
    engine->macro.on = false;
    if (!engine->macro.keeps) {
        uvk_action_let_go(engine, engine->macro.key, UVK_NOTHING);
    }
}

/* TIME from when it was first asked. */
static bool wait(struct uvk_engine *engine, uint16_t time)
{
    struct uvk_running *macro = &engine->macro;

    if (!macro->waits) {
        macro->waits = true;
        macro->until = (uint16_t)(engine->now + time);
    }
    if ((int16_t)(engine->now - macro->until) < 0) {
        return false;
    }
    macro->waits = false;
    return true;
}

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
    struct uvk_running *macro = &engine->macro;

    lift(macro, (uint8_t)(macro->kept | stroke->mods));
    if (!uvk_action_down(engine, port, macro->key, UVK_HOLD_MACRO,
                         UVK_MAKE_KEY(0, stroke->usage))) {
        return;
    }
    macro->stroke = stroke->usage;
    macro->text = (uint16_t)(macro->text + stroke->bytes);
    if (!stroke->goes_on) {
        macro->until =
            (uint16_t)(engine->now + uvk_image_setting(&engine->image, UVK_SET_TYPE_PACE));
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

/* The text from ROW on, a stroke at a time. Next: it is over. */
static enum uvk_turn type(struct uvk_engine *engine, struct uvk_port *port, uint16_t row)
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
        uvk_reports_update(engine, false);
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
    (void)uvk_macro_unlift(engine);
    return UVK_TURN_NEXT;
}

bool uvk_macro_unlift(struct uvk_engine *engine)
{
    bool lifts = engine->macro.lifts;

    if (lifts) {
        engine->macro.lifts = false;
        uvk_reports_update(engine, true);
    }
    return lifts;
}
#endif

/* Next: the step is over. */
static enum uvk_turn do_step(struct uvk_engine *engine, struct uvk_port *port,
                             const struct uvk_macro_step *step)
{
    struct uvk_running *macro = &engine->macro;

    switch (step->op) {
    case UVK_OP_PRESS:
        return macro->held == UVK_MACRO_HOLDS || /* a press beyond what there is room for */
                       uvk_action_down(engine, port, macro->key, UVK_HOLD_MACRO, step->operand)
                   ? UVK_TURN_NEXT
                   : UVK_TURN_DONE;
    case UVK_OP_RELEASE:
        uvk_action_let_go(engine, macro->key, step->operand);
        return UVK_TURN_NEXT;
    case UVK_OP_WAIT:
        return wait(engine, step->operand) ? UVK_TURN_NEXT : UVK_TURN_WAIT;
#if UVK_USE_TYPE
    case UVK_OP_TYPE:
        return type(engine, port, step->operand);
#endif
    default:
        end(engine);
        return UVK_TURN_DONE;
    }
}

enum uvk_turn uvk_macro_step(struct uvk_engine *engine, struct uvk_port *port)
{
    struct uvk_macro_step step = uvk_image_step(&engine->image, engine->macro.row);
    enum uvk_turn turn = do_step(engine, port, &step);

    if (turn == UVK_TURN_NEXT) {
        engine->macro.row++;
        return UVK_TURN_DONE;
    }
    return turn;
}

#endif
