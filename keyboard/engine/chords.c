/* chords.c - a cell and the modifiers that it brings along. */
#include "parts.h"

uvk_action uvk_chord_resolve(const struct uvk_image *image, uvk_action cell, uint8_t *mods)
{
    *mods = 0;
    if (UVK_USE_CHORDS && uvk_action_kind(cell) == UVK_CHORD) {
        cell = uvk_image_chord(image, uvk_action_value(cell), mods);
    }
    if (uvk_action_kind(cell) == UVK_KEY) {
        *mods |= uvk_action_mods(cell);
        cell = UVK_MAKE_KEY(0, uvk_action_what(cell));
    }
    return cell;
}

bool uvk_action_is_shifting(const struct uvk_image *image, uvk_action action)
{
    uint8_t mods;

    if (uvk_action_kind(action) == UVK_LAYER || uvk_action_kind(action) == UVK_MODS) {
        return true;
    }
    return (uvk_action_kind(action) == UVK_KEY || uvk_action_kind(action) == UVK_CHORD) &&
           uvk_chord_resolve(image, action, &mods) == UVK_NOTHING && mods != 0;
}
