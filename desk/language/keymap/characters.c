/* characters.c - a character is one stroke, two with a dead key, or a number that the host's
 * system takes: whatever it takes to type it. */
#include "reading.h"

#include "uvrek/hid.h"

#include <string.h>

static struct uvk_value stroke_value(struct uvk_stroke stroke)
{
    struct uvk_value value = {.kind = UVK_VALUE_USAGE,
                              .mods = stroke.mods,
                              .page = UVK_HID_PAGE_KEYBOARD,
                              .usage = stroke.usage};

    return value;
}

static void add_strokes(struct reading *reading, struct ends *ends,
                        const struct uvk_stroke *strokes, unsigned count)
{
    for (unsigned i = 0; i < count; i++) {
        struct uvk_value value = stroke_value(strokes[i]);
        add_stroke(reading, ends, &value, i > 0);
    }
}

/* By the system's input method, if the keymap says that it is switched on. */
static bool add_by_number(struct reading *reading, struct ends *ends, gunichar character)
{
    const struct uvk_keymap *keymap = reading->keymap;
    struct uvk_stroke strokes[UVK_NUMBER_MAX];
    struct uvk_value held = {.kind = UVK_VALUE_USAGE, .page = UVK_HID_PAGE_KEYBOARD};
    unsigned count = keymap->by_number
                         ? uvk_layout_number(keymap->layout, character, &held.mods, strokes)
                         : 0;

    if (count == 0) {
        return false;
    }
    if (held.mods != 0) {
        add_act(reading, ends, UVK_MACRO_KEEP, &held, 0);
    }
    add_strokes(reading, ends, strokes, count);
    if (held.mods != 0) {
        held.mods = 0;
        add_act(reading, ends, UVK_MACRO_KEEP, &held, 0);
    }
    return true;
}

/* A Mac that takes characters by number has no others behind option. */
static bool is_taken(const struct uvk_keymap *keymap, const struct uvk_stroke *strokes,
                     unsigned count)
{
    for (unsigned i = 0; i < count; i++) {
        if (keymap->by_number && keymap->system == UVK_MAC && (strokes[i].mods & 0x44u) != 0) {
            return false;
        }
    }
    return true;
}

/* The strokes of CHARACTER; how many, 0 if no keys type it. */
static unsigned spell(const struct reading *reading, gunichar character,
                      struct uvk_stroke strokes[UVK_SPELL_MAX])
{
    unsigned count = uvk_layout_spell(reading->keymap->layout, character, strokes);

    return is_taken(reading->keymap, strokes, count) ? count : 0;
}

void tell_not_typed(struct reading *reading, struct uvk_place place, const char *characters)
{
    const struct uvk_keymap *keymap = reading->keymap;
    const char *fix = keymap->by_number ? NULL : "'set unicode on', if the host takes numbers";

    if (keymap->system == UVK_LINUX) {
        uvk_say(reading->messages, UVK_SAYS_CANNOT_TYPE, place, fix,
                "the host's layout cannot type '%s'", characters);
    } else {
        uvk_say(reading->messages, UVK_SAYS_CANNOT_TYPE, place, fix,
                "how the layout %s of %s types '%s' is not known", keymap->layout_name,
                uvk_system_names[keymap->system], characters);
    }
}

bool add_character(struct reading *reading, struct ends *ends, gunichar character)
{
    struct uvk_stroke strokes[UVK_SPELL_MAX];
    unsigned count = spell(reading, character, strokes);

    add_strokes(reading, ends, strokes, count);
    return count > 0 || add_by_number(reading, ends, character);
}

bool add_tapped_character(struct reading *reading, struct ends *ends, gunichar character)
{
    struct uvk_stroke strokes[UVK_SPELL_MAX];
    struct uvk_value value;

    if (spell(reading, character, strokes) != 1) {
        return add_character(reading, ends, character);
    }
    value = stroke_value(strokes[0]);
    add_tap(reading, ends, &value);
    return true;
}

/* The macro that types CHARACTER; made when it is first needed. */
static unsigned macro_for(struct reading *reading, const struct uvk_node *node)
{
    struct uvk_keymap *keymap = reading->keymap;
    struct uvk_macro_text *macro;

    for (unsigned i = 0; i < keymap->macro_count; i++) {
        if (keymap->macros[i].character && strcmp(keymap->macros[i].name, node->text) == 0) {
            return i;
        }
    }
    if (keymap->macro_count == keymap->macro_room) {
        struct uvk_macro_text *grown =
            uvk_arena_take(reading->arena, (2 * keymap->macro_room + 8) * sizeof *grown);
        if (keymap->macro_count > 0) {
            memcpy(grown, keymap->macros, keymap->macro_count * sizeof *grown);
        }
        keymap->macros = grown;
        keymap->macro_room = 2 * keymap->macro_room + 8;
    }
    macro = &keymap->macros[keymap->macro_count];
    *macro =
        (struct uvk_macro_text){.place = node->place, .name = node->text, .character = true};
    return keymap->macro_count++;
}

struct uvk_value character_value(struct reading *reading, const struct uvk_node *node)
{
    struct uvk_value value = {.kind = UVK_VALUE_BROKEN};
    gunichar character = g_utf8_get_char(node->text);
    struct uvk_stroke strokes[UVK_SPELL_MAX];
    struct uvk_macro_act *acts = NULL;
    struct ends ends = {&acts, NULL};

    if (reading->keymap->layout == NULL) {
        return value; /* said already */
    }
    if (spell(reading, character, strokes) == 1) {
        return stroke_value(strokes[0]);
    }
    if (add_character(reading, &ends, character) && reading->defining) {
        value.kind = UVK_VALUE_NOTHING; /* a macro is made where it is used */
    } else if (acts != NULL) {
        value.kind = UVK_VALUE_MACRO;
        value.macro = macro_for(reading, node);
        reading->keymap->macros[value.macro].pressed = acts;
    } else {
        tell_not_typed(reading, node->place, node->text);
    }
    return value;
}
