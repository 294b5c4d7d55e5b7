/* share.c - which lines and knobs of the board are this half's. */
#include "parts.h"
#include "uvrek/half.h"

#if UVK_USE_LINK

#if UVK_MAX_KNOBS > 0
/* Without a link all knobs are here. */
bool uvk_half_has_knob(const struct uvk_engine *engine, uint8_t knob)
{
    return !engine->pair.linked ||
           ((engine->pair.second_knobs >> knob & 1u) != 0) == engine->pair.second;
}
#endif

/* Without a link all lines are here. */
bool uvk_half_has_line(const struct uvk_engine *engine, uint8_t line)
{
    return !engine->pair.linked ||
           (line >= uvk_image_second_line(&engine->image)) == engine->pair.second;
}

#endif
