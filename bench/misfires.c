/* misfires.c - decisions of a keyboard beside what the fingers meant. */
#include "misfires.h"

#include "uvrek/typing.h"

#include <string.h>

#define NEAR_US 20000u /* a contact bounces, and closes that much later at the most */

enum taken_as { TAKEN_PLAIN, TAKEN_TAP, TAKEN_HOLD, TAKEN_COMBO };

/* What a decision made of a key, by its reason. */
static const enum taken_as taken[UVK_REASONS] = {
    [UVK_WHY_PLAIN] = TAKEN_PLAIN,  [UVK_WHY_TIME] = TAKEN_HOLD,
    [UVK_WHY_UP] = TAKEN_TAP,       [UVK_WHY_PRESS] = TAKEN_HOLD,
    [UVK_WHY_NESTED] = TAKEN_HOLD,  [UVK_WHY_REST] = TAKEN_TAP,
    [UVK_WHY_AGAIN] = TAKEN_TAP,    [UVK_WHY_ALONE] = TAKEN_PLAIN,
    [UVK_WHY_FULL] = TAKEN_HOLD,    [UVK_WHY_COMBO] = TAKEN_COMBO,
    [UVK_WHY_OTHER] = TAKEN_TAP,    [UVK_WHY_HAND] = TAKEN_TAP,
    [UVK_WHY_DANCE] = TAKEN_PLAIN,  [UVK_WHY_DANCE_HELD] = TAKEN_PLAIN,
    [UVK_WHY_LEADER] = TAKEN_PLAIN, [UVK_WHY_MODS] = TAKEN_TAP,
    [UVK_WHY_OFF] = TAKEN_TAP,
};

/* The touch of KEY (or of any key, for a combo) that came down next to TIME; NULL: none. */
static const struct finger_touch *touch_at(const GArray *touches, uint64_t time, unsigned key,
                                           bool combo)
{
    for (guint i = 0; i < touches->len; i++) {
        const struct finger_touch *touch = &g_array_index(touches, struct finger_touch, i);
        bool its = combo ? touch->meaning == MEANS_COMBO : touch->key == key;
        if (touch->down && its && time + NEAR_US >= touch->time &&
            time <= touch->time + NEAR_US) {
            return touch;
        }
    }
    return NULL;
}

/* What the keyboard did otherwise; NULL: it did what was meant. */
static const char *differs(const struct uvk_moment *moment, const GArray *touches,
                           uint64_t start)
{
    enum taken_as as = taken[moment->decision.reason];
    const struct finger_touch *touch = touch_at(
        touches, moment->since - MIN(moment->since, start), moment->source, as == TAKEN_COMBO);

    if (as == TAKEN_COMBO) {
        return touch == NULL ? "came together, which nobody meant" : NULL;
    }
    if (touch == NULL || as == TAKEN_PLAIN) {
        return NULL;
    }
    return as == TAKEN_HOLD && touch->meaning == MEANS_TAP   ? "was held, not tapped"
           : as == TAKEN_TAP && touch->meaning == MEANS_HOLD ? "was tapped, not held"
                                                             : NULL;
}

static void count(GArray *misfires, char *text)
{
    for (guint i = 0; i < misfires->len; i++) {
        struct uvk_misfire *known = &g_array_index(misfires, struct uvk_misfire, i);
        if (strcmp(known->text, text) == 0) {
            known->times++;
            g_free(text);
            return;
        }
    }
    g_array_append_vals(misfires, &(struct uvk_misfire){text, 1}, 1);
}

static gint most_first(gconstpointer a, gconstpointer b)
{
    const struct uvk_misfire *left = a;
    const struct uvk_misfire *right = b;

    return left->times != right->times ? (left->times < right->times ? 1 : -1)
                                       : strcmp(left->text, right->text);
}

void find_misfires(const struct uvk_program *program, struct uvk_rig *rig,
                   const GArray *touches, uint64_t start, GArray *misfires)
{
    GArray *moments = uvk_rig_moments(rig);

    for (guint i = 0; i < moments->len; i++) {
        const struct uvk_moment *moment = &g_array_index(moments, struct uvk_moment, i);
        const char *what = moment->kind == UVK_MOMENT_DECISION && moment->time >= start
                               ? differs(moment, touches, start)
                               : NULL;
        if (what != NULL) {
            char *name = uvk_moment_source(program, moment);
            count(misfires, g_strdup_printf("%s %s", name, what));
            g_free(name);
        }
    }
    g_array_sort(misfires, most_first);
    uvk_moments_free(moments);
}
