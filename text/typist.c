/* typist.c - somebody who types on a layout: what the host makes of keys. */
#include "xkb.h"

#include <string.h>

#define NUMBER_ROOM    9u
#define USAGE_NUM_LOCK 0x53u
#define USAGE_PAD_PLUS 0x57u
#define USAGE_PAD_1    0x59u
#define USAGE_PAD_0    0x62u

struct uvk_typist {
    struct uvk_layout *layout;
    struct xkb_state *state;
    struct xkb_compose_state *compose; /* NULL until a dead key comes */
    enum uvk_system system;
    bool by_number;
    bool counting; /* a number is being typed */
    char number[NUMBER_ROOM];
    unsigned digits;
    uint32_t high; /* the first of two UTF-16 units; 0: none */
};

const char *const uvk_lock_names[] = {"num", "caps", "scroll", NULL};

void uvk_typist_lock(struct uvk_typist *typist, enum uvk_lock lock, bool on)
{
    static const char *const modifiers[UVK_LOCKS] = {XKB_MOD_NAME_NUM, XKB_MOD_NAME_CAPS, NULL};
    struct xkb_state *state = typist->state;
    xkb_mod_mask_t locked = xkb_state_serialize_mods(state, XKB_STATE_MODS_LOCKED);
    xkb_mod_index_t index;

    if (modifiers[lock] == NULL) {
        return; /* nothing that is typed follows it */
    }
    index = xkb_keymap_mod_get_index(typist->layout->keymap, modifiers[lock]);
    if (index == XKB_MOD_INVALID ||
        (lock == UVK_NUM_LOCK && typist->system == UVK_MAC && !on)) {
        return;
    }
    locked = on ? locked | (xkb_mod_mask_t)1 << index : locked & ~((xkb_mod_mask_t)1 << index);
    xkb_state_update_mask(state, xkb_state_serialize_mods(state, XKB_STATE_MODS_DEPRESSED),
                          xkb_state_serialize_mods(state, XKB_STATE_MODS_LATCHED), locked,
                          xkb_state_serialize_layout(state, XKB_STATE_LAYOUT_DEPRESSED),
                          xkb_state_serialize_layout(state, XKB_STATE_LAYOUT_LATCHED),
                          xkb_state_serialize_layout(state, XKB_STATE_LAYOUT_LOCKED));
}

struct uvk_typist *uvk_typist_new(struct uvk_layout *layout, enum uvk_system system,
                                  bool by_number)
{
    struct uvk_typist *typist = g_new0(struct uvk_typist, 1);

    typist->layout = layout;
    typist->state = xkb_state_new(layout->keymap);
    typist->system = system;
    typist->by_number = by_number;
    uvk_typist_lock(typist, UVK_NUM_LOCK, true);
    return typist;
}

void uvk_typist_free(struct uvk_typist *typist)
{
    if (typist != NULL) {
        xkb_compose_state_unref(typist->compose);
        xkb_state_unref(typist->state);
        g_free(typist);
    }
}

static bool is_active(const struct uvk_typist *typist, const char *modifier)
{
    return xkb_state_mod_name_is_active(typist->state, modifier, XKB_STATE_MODS_EFFECTIVE) > 0;
}

/* With control, alt or gui down a key is a command and types nothing. */
static bool is_command(const struct uvk_typist *typist)
{
    return is_active(typist, XKB_MOD_NAME_CTRL) || is_active(typist, XKB_MOD_NAME_ALT) ||
           is_active(typist, XKB_MOD_NAME_LOGO);
}

/* ---- characters by number ----------------------------------------------------------- */

static void begin_number(struct uvk_typist *typist)
{
    typist->counting = true;
    typist->digits = 0;
}

/* A number is whole. Two UTF-16 units in a row make one character. */
static void end_number(struct uvk_typist *typist, GString *text)
{
    uint32_t value;

    typist->number[typist->digits] = '\0';
    value = (uint32_t)g_ascii_strtoull(typist->number, NULL, 16);
    if (typist->digits == 0) {
        return;
    }
    typist->digits = 0;
    if (value >= 0xD800 && value < 0xDC00) {
        typist->high = value;
        return;
    }
    if (typist->high != 0 && value >= 0xDC00 && value < 0xE000) {
        value = 0x10000 + ((typist->high - 0xD800) << 10) + (value - 0xDC00);
    }
    typist->high = 0;
    if (g_unichar_validate(value)) {
        g_string_append_unichar(text, value);
    }
}

/* The hexadecimal digit of a key, whatever modifiers are down; 0: it has none. */
static char digit_of(const struct uvk_typist *typist, uint8_t usage)
{
    const xkb_keysym_t *symbols;
    xkb_level_index_t level = is_active(typist, XKB_MOD_NAME_SHIFT) ? 1 : 0;

    if (usage >= USAGE_PAD_1 && usage <= USAGE_PAD_0) {
        return (char)('0' + (usage - USAGE_PAD_1 + 1) % 10);
    }
    if (xkb_keymap_key_get_syms_by_level(typist->layout->keymap, xkb_code(usage), 0, level,
                                         &symbols) == 1) {
        uint32_t character = xkb_keysym_to_utf32(symbols[0]);
        return character < 0x80 && g_ascii_isxdigit((char)character) ? (char)character : '\0';
    }
    return '\0';
}

static bool begins_number(const struct uvk_typist *typist, uint8_t usage)
{
    switch (typist->system) {
    case UVK_LINUX:
        return usage == 0x18 && is_active(typist, XKB_MOD_NAME_CTRL) &&
               is_active(typist, XKB_MOD_NAME_SHIFT);
    case UVK_WINDOWS:
        return usage == USAGE_PAD_PLUS && is_active(typist, XKB_MOD_NAME_ALT);
    default:
        return is_active(typist, XKB_MOD_NAME_ALT);
    }
}

static bool is_modifier(uint8_t usage)
{
    return usage >= 0xE0;
}

/* A key goes down. True: it was part of a number. */
static bool number_key(struct uvk_typist *typist, uint8_t usage, GString *text)
{
    char digit;

    if (is_modifier(usage)) {
        return false;
    }
    if (!typist->counting) {
        if (!begins_number(typist, usage)) {
            return false;
        }
        begin_number(typist);
        if (typist->system != UVK_MAC) {
            return true;
        }
    }
    digit = digit_of(typist, usage);
    if (digit != '\0' && typist->digits + 1 < NUMBER_ROOM) {
        typist->number[typist->digits++] = digit;
        if (typist->system == UVK_MAC && typist->digits == 4) {
            end_number(typist, text);
        }
        return true;
    }
    if (typist->system == UVK_LINUX) {
        end_number(typist, text);
    }
    typist->counting = false;
    return true;
}

/* On Windows and on a Mac the number ends with alt. */
static void number_released(struct uvk_typist *typist, GString *text)
{
    if (typist->counting && typist->system != UVK_LINUX &&
        !is_active(typist, XKB_MOD_NAME_ALT)) {
        end_number(typist, text);
        typist->counting = false;
    }
}

/* ---- characters --------------------------------------------------------------------- */

static void append(GString *text, uint32_t character)
{
    if (character == '\r') {
        character = '\n';
    }
    if (character == '\n' || character == '\t' || (character >= 0x20 && character != 0x7F)) {
        g_string_append_unichar(text, character);
    }
}

/* A dead key waits for its letter. True: the key was taken. */
static bool compose_key(struct uvk_typist *typist, xkb_keysym_t symbol, GString *text)
{
    struct xkb_compose_table *table;
    char made[32] = "";

    if (typist->compose == NULL) {
        bool dead = symbol >= XKB_KEY_dead_grave && symbol <= XKB_KEY_dead_greek;
        table = dead ? layout_compose(typist->layout) : NULL;
        if (table == NULL) {
            return false;
        }
        typist->compose = xkb_compose_state_new(table, XKB_COMPOSE_STATE_NO_FLAGS);
    }
    xkb_compose_state_feed(typist->compose, symbol);
    switch (xkb_compose_state_get_status(typist->compose)) {
    case XKB_COMPOSE_COMPOSING:
        return true;
    case XKB_COMPOSE_COMPOSED:
        xkb_compose_state_get_utf8(typist->compose, made, sizeof made);
        g_string_append(text, made);
        xkb_compose_state_reset(typist->compose);
        return true;
    case XKB_COMPOSE_CANCELLED: /* both are lost, as hosts do */
        xkb_compose_state_reset(typist->compose);
        return true;
    default:
        return false;
    }
}

void uvk_typist_key(struct uvk_typist *typist, uint8_t usage, bool down, GString *text)
{
    xkb_keycode_t code;
    bool taken;

    if (usage >= XKB_USAGES || xkb_code_of_usage[usage] == 0) {
        return;
    }
    if (usage == USAGE_NUM_LOCK && typist->system == UVK_MAC) {
        return; /* it is the key `clear` there */
    }
    code = xkb_code(usage);
    taken = down && typist->by_number && number_key(typist, usage, text);
    if (down && !taken && !is_modifier(usage) && !is_command(typist) &&
        !compose_key(typist, xkb_state_key_get_one_sym(typist->state, code), text)) {
        append(text, xkb_state_key_get_utf32(typist->state, code));
    }
    xkb_state_update_key(typist->state, code, down ? XKB_KEY_DOWN : XKB_KEY_UP);
    if (!down && typist->by_number) {
        number_released(typist, text);
    }
}
