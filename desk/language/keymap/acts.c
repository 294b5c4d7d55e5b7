/* acts.c - what a macro does, one thing after the other, added while it is read. */
#include "reading.h"

void add_act(struct reading *reading, struct ends *ends, enum uvk_macro_part part,
             const struct uvk_value *value, double time)
{
    struct uvk_macro_act *act = uvk_arena_take(reading->arena, sizeof *act);

    act->part = part;
    act->time = time;
    if (value != NULL) {
        act->value = *value;
    }
    *ends->act = act;
    ends->act = &act->next;
}

void add_stroke(struct reading *reading, struct ends *ends, const struct uvk_value *value,
                bool goes_on)
{
    struct uvk_macro_act *act = uvk_arena_take(reading->arena, sizeof *act);

    act->part = UVK_MACRO_STROKE;
    act->value = *value;
    act->goes_on = goes_on;
    *ends->act = act;
    ends->act = &act->next;
}

void add_tap(struct reading *reading, struct ends *ends, const struct uvk_value *value)
{
    add_act(reading, ends, UVK_MACRO_PRESS, value, 0);
    add_act(reading, ends, UVK_MACRO_RELEASE, value, 0);
}
