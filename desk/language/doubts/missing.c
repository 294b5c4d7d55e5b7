/* lacking.c - keys that nothing types, settings that nothing uses. */
#include "model/visit.h"

#include "uvrek/action.h"
#include "uvrek/hid.h"

/* ---- keys --------------------------------------------------------------------------- */

#define LETTERS_FIRST 0x04u
#define LETTERS       26u
#define DIGITS_FIRST  0x1Eu
#define DIGITS        10u
#define ENTER         0x28u
#define BACKSPACE     0x2Au

/* What can be typed: usages of page 0x07, and modifiers of either side. */
struct typed {
    bool usage[256];
    uint8_t mods;
};

static void note_typed(const struct uvk_value *value, void *data)
{
    struct typed *typed = data;

    if (value->kind == UVK_VALUE_USAGE && value->page == UVK_HID_PAGE_KEYBOARD) {
        typed->usage[value->usage & 0xFF] = true;
        typed->mods |= (uint8_t)(value->usage == 0 ? value->mods | value->mods >> 4 : 0);
    } else if (value->kind == UVK_VALUE_MODS && value->op != UVK_MODS_BLOCK) {
        typed->mods |= (uint8_t)(value->mods | value->mods >> 4);
    }
}

static unsigned count_typed(const struct typed *typed, unsigned first, unsigned count)
{
    unsigned found = 0;

    for (unsigned i = 0; i < count; i++) {
        found += typed->usage[first + i];
    }
    return found;
}

static void append_missing(GString *out, const struct typed *typed, unsigned first,
                           unsigned count)
{
    for (unsigned i = 0; i < count; i++) {
        struct uvk_value value = {.kind = UVK_VALUE_USAGE,
                                  .page = UVK_HID_PAGE_KEYBOARD,
                                  .usage = (uint16_t)(first + i)};
        char *name = uvk_value_text(&value);
        if (!typed->usage[first + i]) {
            g_string_append_printf(out, "%s%s", out->len > 0 ? ", " : "", name);
        }
        g_free(name);
    }
}

static void append_missing_mods(GString *out, const struct typed *typed)
{
    for (unsigned bit = 0; bit < 4; bit++) {
        struct uvk_value value = {.kind = UVK_VALUE_USAGE,
                                  .page = UVK_HID_PAGE_KEYBOARD,
                                  .mods = (uint8_t)(1u << bit)};
        char *name = uvk_value_text(&value);
        if (!(typed->mods >> bit & 1u)) {
            g_string_append_printf(out, "%s%s", out->len > 0 ? ", " : "", name);
        }
        g_free(name);
    }
}

/* A few keys beside the screen lack most letters and are right to. A keymap that has half
 * of them is for writing, and then each one counts. */
void doubt_missing_keys(struct reading *reading)
{
    struct typed typed = {{false}, 0};
    GString *missing = g_string_new(NULL);

    visit_all(reading, note_typed, &typed);
    if (count_typed(&typed, LETTERS_FIRST, LETTERS) >= LETTERS / 2) {
        append_missing(missing, &typed, LETTERS_FIRST, LETTERS);
        append_missing(missing, &typed, DIGITS_FIRST, DIGITS);
        append_missing(missing, &typed, ENTER, 1);
        append_missing(missing, &typed, BACKSPACE, 1);
        append_missing_mods(missing, &typed);
    }
    if (missing->len > 0) {
        uvk_say(reading->messages, UVK_SAYS_KEYS_MISSING, reading->keymap->place, NULL,
                "nothing on any layer types: %s", missing->str);
    }
    g_string_free(missing, TRUE);
}

/* ---- the keypad ------------------------------------------------------------------------- */

#define NUM_LOCK   0x53u
#define PAD_DIGITS 0x59u /* 1 to 9, 0, and the point */
#define PAD_LAST   0x63u

struct keypad {
    bool digits, lock;
};

static void note_keypad(const struct uvk_value *value, void *data)
{
    struct keypad *keypad = data;
    bool key = value->kind == UVK_VALUE_USAGE && value->page == UVK_HID_PAGE_KEYBOARD;

    keypad->lock |= key && value->usage == NUM_LOCK;
    keypad->digits |=
        key && value->mods == 0 && value->usage >= PAD_DIGITS && value->usage <= PAD_LAST;
}

void doubt_keypad(struct reading *reading)
{
    struct keypad keypad = {false, false};

    visit_all(reading, note_keypad, &keypad);
    if (keypad.digits && !keypad.lock && reading->keymap->system != UVK_MAC) {
        uvk_say(reading->messages, UVK_SAYS_NUM_LOCK, reading->keymap->place,
                "put num-lock on a layer, or use the digits 0 to 9",
                "pad-0 to pad-9 are digits only while the host's num lock is on, and no key "
                "here switches it");
    }
}

/* ---- settings ----------------------------------------------------------------------- */

/* What a keymap has that settings are about. */
struct uses {
    bool once, point, wheel, types;
};

static void note_use(const struct uvk_value *value, void *data)
{
    struct uses *uses = data;

    uses->once |= (value->kind == UVK_VALUE_LAYER && value->op == UVK_LAYER_ONCE) ||
                  (value->kind == UVK_VALUE_MODS && value->op == UVK_MODS_ONCE);
    if (value->kind == UVK_VALUE_USAGE && value->turn != 0) {
        bool wheel = value->usage == UVK_HID_WHEEL || value->page == UVK_HID_PAGE_CONSUMER;
        uses->wheel |= wheel;
        uses->point |= !wheel;
    }
}

static bool is_used(const struct uses *uses, unsigned setting)
{
    switch (setting) {
    case UVK_SET_ONCE_FOR:
        return uses->once;
    case UVK_SET_POINTER_SPEED:
    case UVK_SET_POINTER_RAMP:
        return uses->point;
    case UVK_SET_WHEEL_SPEED:
        return uses->wheel;
    case UVK_SET_TYPE_PACE:
        return uses->types;
    default:
        return true;
    }
}

static bool types(const struct uvk_macro_act *act)
{
    while (act != NULL && act->part != UVK_MACRO_STROKE) {
        act = act->next;
    }
    return act != NULL;
}

static bool has_text(const struct uvk_keymap *keymap)
{
    for (unsigned i = 0; i < keymap->macro_count; i++) {
        if (types(keymap->macros[i].pressed) || types(keymap->macros[i].released)) {
            return true;
        }
    }
    return false;
}

void doubt_settings(struct reading *reading)
{
    const struct uvk_setting_text *own = reading->keymap->settings;
    const struct uvk_setting_text *board = reading->board->settings;
    struct uses uses = {.types = has_text(reading->keymap)};

    visit_all(reading, note_use, &uses);
    for (unsigned i = 0; i < UVK_SETTINGS; i++) {
        bool leader = i == UVK_SET_LEADER_WITHIN; /* it is written in its own block */
        const char *name = leader ? "the leader's time" : uvk_setting_names[i].name;
        if (own[i].place.source == NULL || (own[i].place.source == board[i].place.source &&
                                            own[i].place.at == board[i].place.at)) {
            continue; /* nobody set it, or the board did, for other keymaps */
        }
        if (!is_used(&uses, i)) {
            uvk_say_mend(
                uvk_say(reading->messages, UVK_SAYS_IDLE_SETTING, own[i].place, NULL,
                        "this changes nothing: no key of this keymap has to do with %s", name),
                UVK_MEND_REMOVE, NULL);
        }
    }
}
