/* lower_macros.c - macros become steps and texts of the image. */
#include "lowering.h"

static void add_step(struct lowering *lowering, enum uvk_macro_op op, uint16_t operand)
{
    struct uvk_macro_step step = {(uint8_t)op, operand};

    add_row(lowering, UVK_TABLE_STEPS, &step);
}

/* One byte for most keys, see UVK_TEXT_END. */
static void add_stroke(struct lowering *lowering, const struct uvk_macro_act *act)
{
    uint8_t mods = act->value.mods;

    if (act->goes_on) {
        add_byte(lowering, UVK_TABLE_TEXTS, UVK_TEXT_SAME);
    }
    if ((mods == 0 || mods == UVK_MOD_SHIFT) && act->value.usage < UVK_TEXT_SHIFT) {
        add_byte(lowering, UVK_TABLE_TEXTS,
                 act->value.usage | (mods != 0 ? UVK_TEXT_SHIFT : 0));
        return;
    }
    add_byte(lowering, UVK_TABLE_TEXTS, UVK_TEXT_MODS);
    add_byte(lowering, UVK_TABLE_TEXTS, mods);
    add_byte(lowering, UVK_TABLE_TEXTS, act->value.usage);
}

static bool is_typed(const struct uvk_macro_act *act)
{
    return act->part == UVK_MACRO_STROKE || act->part == UVK_MACRO_KEEP;
}

/* The run of strokes that begins at ACT is one step. Returns the act behind it. */
static const struct uvk_macro_act *lower_text(struct lowering *lowering,
                                              const struct uvk_macro_act *act)
{
    add_step(lowering, UVK_OP_TYPE, (uint16_t)ROWS(lowering, UVK_TABLE_TEXTS));
    for (; act != NULL && is_typed(act); act = act->next) {
        if (act->part == UVK_MACRO_KEEP) {
            add_byte(lowering, UVK_TABLE_TEXTS, UVK_TEXT_KEEP);
            add_byte(lowering, UVK_TABLE_TEXTS, act->value.mods);
        } else {
            add_stroke(lowering, act);
        }
    }
    add_byte(lowering, UVK_TABLE_TEXTS, UVK_TEXT_END);
    return act;
}

/* More than an image can hold: what macros do in one another grows fast. */
static bool is_too_much(const struct lowering *lowering)
{
    return ROWS(lowering, UVK_TABLE_STEPS) > UVK_ROWS_MAX ||
           ROWS(lowering, UVK_TABLE_TEXTS) > UVK_IMAGE_MAX;
}

static void lower_acts(struct lowering *lowering, const struct uvk_macro_act *act,
                       GArray *held);

/* What a macro inside another one still holds when it ends, it lets go there. */
static void lower_inner(struct lowering *lowering, unsigned index)
{
    const struct uvk_macro_text *macro = &lowering->program->keymap->macros[index];
    GArray *held = g_array_new(FALSE, TRUE, sizeof(uvk_action));

    lower_acts(lowering, macro->pressed, held);
    lower_acts(lowering, macro->released, held);
    for (guint i = held->len; i-- > 0;) {
        add_step(lowering, UVK_OP_RELEASE, g_array_index(held, uvk_action, i));
    }
    g_array_free(held, TRUE);
}

/* The latest ACTION of HELD is let go. */
static void let_go(GArray *held, uvk_action action)
{
    for (guint i = held->len; i-- > 0;) {
        if (g_array_index(held, uvk_action, i) == action) {
            g_array_remove_index(held, i);
            return;
        }
    }
}

static void lower_key(struct lowering *lowering, const struct uvk_macro_act *act, GArray *held)
{
    uvk_action action = lower_value(lowering, &act->value);

    if (act->part == UVK_MACRO_PRESS) {
        add_step(lowering, UVK_OP_PRESS, action);
        g_array_append_val(held, action);
    } else {
        add_step(lowering, UVK_OP_RELEASE, action);
        let_go(held, action);
    }
}

/* The steps of ACT and those behind it; HELD: what is down. */
static void lower_acts(struct lowering *lowering, const struct uvk_macro_act *act, GArray *held)
{
    while (act != NULL && !is_too_much(lowering)) {
        if (is_typed(act)) {
            act = lower_text(lowering, act);
            continue;
        }
        if (act->part == UVK_MACRO_WAIT) {
            add_step(lowering, UVK_OP_WAIT, milliseconds(act->time));
        } else if (act->part == UVK_MACRO_DO) {
            lower_inner(lowering, act->value.macro);
        } else {
            lower_key(lowering, act, held);
        }
        act = act->next;
    }
}

static void lower_macro(struct lowering *lowering, const struct uvk_macro_text *macro)
{
    GArray *held = g_array_new(FALSE, TRUE, sizeof(uvk_action));
    guint first = ROWS(lowering, UVK_TABLE_STEPS);

    if (macro->released != NULL) {
        add_step(lowering, UVK_OP_RELEASE_PART, 0);
    }
    lower_acts(lowering, macro->pressed, held);
    add_step(lowering, UVK_OP_END, 0);
    if (macro->released != NULL) {
        ROW(lowering, UVK_TABLE_STEPS, struct uvk_macro_step, first).operand =
            (uint16_t)ROWS(lowering, UVK_TABLE_STEPS);
        lower_acts(lowering, macro->released, held);
        add_step(lowering, UVK_OP_END, 0);
    }
    g_array_free(held, TRUE);
}

void lower_macros(struct lowering *lowering)
{
    const struct uvk_keymap *keymap = lowering->program->keymap;

    for (unsigned i = 0; i < keymap->macro_count && !is_too_much(lowering); i++) {
        lowering->macros[i] = ROWS(lowering, UVK_TABLE_STEPS);
        lower_macro(lowering, &keymap->macros[i]);
    }
}
