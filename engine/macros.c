/* macros.c - a macro runs, one step a pass. */
#include "parts.h"

#if UVK_USE_MACROS

static void run_from(struct uvk_engine *engine, uint16_t row)
{
    engine->macro.on = true;
    engine->macro.waits = false;
    engine->macro.row = row;
}

/* Remember where the release part is, until KEY comes up. */
static void keep_release_part(struct uvk_running *macro, uint16_t row, uint8_t key)
{
    for (uint8_t i = 0; i < UVK_MACRO_HOLDS; i++) {
        if (macro->release[i] == 0) {
            macro->release[i] = row;
            macro->key[i] = key;
            return;
        }
    }
}

void uvk_macro_start(struct uvk_engine *engine, uint16_t row, uint8_t key)
{
    struct uvk_macro_step first = uvk_image_step(&engine->image, row);

    if (first.op == UVK_OP_RELEASE_PART && first.operand != 0) {
        keep_release_part(&engine->macro, first.operand, key);
        row++;
    }
    run_from(engine, row);
}

void uvk_macro_released(struct uvk_engine *engine, uint8_t key)
{
    struct uvk_running *macro = &engine->macro;

    for (uint8_t i = 0; i < UVK_MACRO_HOLDS; i++) {
        if (macro->release[i] != 0 && macro->key[i] == key) {
            run_from(engine, macro->release[i]);
            macro->release[i] = 0;
            return;
        }
    }
}

/* A macro holds no more than it has room for: a press beyond that is left out. */
static bool has_room(const struct uvk_engine *engine)
{
    uint8_t count = 0;

    for (uint8_t i = 0; i < engine->holds.count; i++) {
        count = (uint8_t)(count + (engine->holds.list[i].key == UVK_SOURCE_MACRO));
    }
    return count < UVK_MACRO_HOLDS;
}

static bool waits_for_a_key(const struct uvk_running *macro)
{
    for (uint8_t i = 0; i < UVK_MACRO_HOLDS; i++) {
        if (macro->release[i] != 0) {
            return true;
        }
    }
    return false;
}

/* What a macro still holds when it ends, it lets go; while a key with a release part is
 * down, that is left to the release part. */
static void end(struct uvk_engine *engine)
{
    engine->macro.on = false;
    if (!waits_for_a_key(&engine->macro)) {
        uvk_action_let_go(engine, UVK_SOURCE_MACRO, UVK_NOTHING);
    }
}

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

/* Do STEP. False: it has to be done again. */
static bool do_step(struct uvk_engine *engine, struct uvk_port *port,
                    const struct uvk_macro_step *step)
{
    switch (step->op) {
    case UVK_OP_PRESS:
        return !has_room(engine) ||
               uvk_action_down(engine, port, UVK_SOURCE_MACRO, step->operand);
    case UVK_OP_RELEASE:
        uvk_action_let_go(engine, UVK_SOURCE_MACRO, step->operand);
        return true;
    case UVK_OP_WAIT:
        return wait(engine, step->operand);
    default:
        end(engine);
        return true;
    }
}

bool uvk_macro_step(struct uvk_engine *engine, struct uvk_port *port)
{
    struct uvk_macro_step step;
    uint8_t dirty = engine->reports.dirty;

    if (!engine->macro.on) {
        return false;
    }
    step = uvk_image_step(&engine->image, engine->macro.row);
    if (do_step(engine, port, &step)) {
        engine->macro.row++;
        return true;
    }
    return engine->reports.dirty != dirty;
}

#endif
