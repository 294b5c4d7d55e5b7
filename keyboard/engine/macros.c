/* macros.c - a macro runs, one step a pass.
 *
 * What it presses belongs to the key that started it: macros that are under way at the same
 * time, because their release parts are still to come, do not let go of one another's. */
#include "macros.h"

#if UVK_USE_MACROS

static void run_from(struct uvk_engine *engine, uint16_t row, uint8_t key)
{
    struct uvk_running *macro = UVK_NEAR(&engine->macro);

    macro->on = true;
    macro->waits = false;
    macro->row = row;
    macro->key = key;
}

void uvk_macro_start(struct uvk_engine *engine, uint16_t row, uint8_t key)
{
    bool keeps = uvk_image_step(&engine->image, row).op == UVK_OP_RELEASE_PART;

    run_from(engine, keeps ? (uint16_t)(row + 1) : row, key);
    engine->macro.keeps = keeps;
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
    return engine->macro.held == 0 && !uvk_type_is_midway(engine);
}

UVK_ONE_COPY void uvk_macro_hurry(struct uvk_engine *engine)
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
    struct uvk_running *macro = UVK_NEAR(&engine->macro);

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

/* Next: the step is over. */
static enum uvk_turn do_step(struct uvk_engine *engine, struct uvk_port *port,
                             const struct uvk_macro_step *step)
{
    struct uvk_running *macro = UVK_NEAR(&engine->macro);

    switch (step->op) {
    case UVK_OP_PRESS:
        if (macro->held == UVK_MACRO_HOLDS) {
            return UVK_TURN_NEXT; /* a press beyond what there is room for */
        }
        return uvk_action_down(engine, port, macro->key, UVK_HOLD_MACRO, step->operand);
    case UVK_OP_RELEASE:
        uvk_action_let_go(engine, macro->key, step->operand);
        return UVK_TURN_NEXT;
    case UVK_OP_WAIT:
        return wait(engine, step->operand) ? UVK_TURN_NEXT : UVK_TURN_WAIT;
    case UVK_OP_TYPE:
        return uvk_type_step(engine, port, step->operand);
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
