/* typist.c - somebody who types on a layout: what the host makes of keys. */
#include "xkb.h"

#include "uvrek/hid.h"

#include <string.h>

#define NUMBER_ROOM 9u

struct uvk_typist {
    struct uvk_layout *layout;
    struct xkb_state *state;           /* NULL where a table says what keys type */
    struct xkb_compose_state *compose; /* NULL until a dead key comes */
    /* by table */
    uint8_t mods;
    bool locks[UVK_LOCKS];
    gunichar dead; /* waits for its letter; 0: none */
    bool by_number;
    bool counting; /* a number is being typed */
    char number[NUMBER_ROOM];
    unsigned digits;
    uint32_t high; /* the first of two UTF-16 units; 0: none */
};

const char *const uvk_lock_names[] = {"num", "caps", "scroll", NULL};

/* As the data of xkb calls them; nothing that is typed follows the scroll lock. */
static const char *const lock_modifiers[UVK_LOCKS] = {XKB_MOD_NAME_NUM, XKB_MOD_NAME_CAPS,
                                                      NULL};

bool uvk_typist_locked(const struct uvk_typist *typist, enum uvk_lock lock)
{
    return typist->state != NULL && lock_modifiers[lock] != NULL
               ? xkb_state_mod_name_is_active(typist->state, lock_modifiers[lock],
                                              XKB_STATE_MODS_LOCKED) > 0
               : typist->locks[lock];
}

void uvk_typist_lock(struct uvk_typist *typist, enum uvk_lock lock, bool on)
{
    struct xkb_state *state = typist->state;
    xkb_mod_mask_t locked;
    xkb_mod_index_t index;

    typist->locks[lock] = on;
    if (state == NULL || lock_modifiers[lock] == NULL) {
        return;
    }
    locked = xkb_state_serialize_mods(state, XKB_STATE_MODS_LOCKED);
    index = xkb_keymap_mod_get_index(typist->layout->keymap, lock_modifiers[lock]);
    if (index == XKB_MOD_INVALID) {
        return;
    }
    locked = on ? locked | (xkb_mod_mask_t)1 << index : locked & ~((xkb_mod_mask_t)1 << index);
    xkb_state_update_mask(state, xkb_state_serialize_mods(state, XKB_STATE_MODS_DEPRESSED),
                          xkb_state_serialize_mods(state, XKB_STATE_MODS_LATCHED), locked,
                          xkb_state_serialize_layout(state, XKB_STATE_LAYOUT_DEPRESSED),
                          xkb_state_serialize_layout(state, XKB_STATE_LAYOUT_LATCHED),
                          xkb_state_serialize_layout(state, XKB_STATE_LAYOUT_LOCKED));
}

struct uvk_typist *uvk_typist_new(struct uvk_layout *layout, bool by_number)
{
    struct uvk_typist *typist = g_new0(struct uvk_typist, 1);

    typist->layout = layout;
    typist->state = layout->host == NULL ? xkb_state_new(layout->keymap) : NULL;
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

static const struct {
    const char *name;
    uint8_t mods;
} active[] = {{XKB_MOD_NAME_CTRL, 0x11},
              {XKB_MOD_NAME_SHIFT, 0x22},
              {XKB_MOD_NAME_ALT, 0x04},
              {XKB_MOD_NAME_LOGO, 0x88}};

static bool is_active(const struct uvk_typist *typist, const char *modifier)
{
    if (typist->state != NULL) {
        return xkb_state_mod_name_is_active(typist->state, modifier, XKB_STATE_MODS_EFFECTIVE) >
               0;
    }
    for (size_t i = 0; i < G_N_ELEMENTS(active); i++) {
        if (strcmp(active[i].name, modifier) == 0) {
            return (typist->mods & active[i].mods) != 0;
        }
    }
    return false;
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
    uint32_t character = 0;

    if (usage >= UVK_HID_PAD_1 && usage <= UVK_HID_PAD_0) {
        return (char)('0' + (usage - UVK_HID_PAD_1 + 1) % 10);
    }
    if (typist->layout->host != NULL) {
        character = host_keys_at(typist->layout->host, usage, level);
    } else if (xkb_keymap_key_get_syms_by_level(typist->layout->keymap, xkb_code(usage), 0,
                                                level, &symbols) == 1) {
        character = xkb_keysym_to_utf32(symbols[0]);
    }
    return character < 0x80 && g_ascii_isxdigit((char)character) ? (char)character : '\0';
}

static bool begins_number(const struct uvk_typist *typist, uint8_t usage)
{
    switch (typist->layout->system) {
    case UVK_LINUX:
        return usage == 0x18 && is_active(typist, XKB_MOD_NAME_CTRL) &&
               is_active(typist, XKB_MOD_NAME_SHIFT);
    case UVK_WINDOWS:
        return usage == UVK_HID_PAD_PLUS && is_active(typist, XKB_MOD_NAME_ALT);
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
        if (typist->layout->system != UVK_MAC) {
            return true;
        }
    }
    digit = digit_of(typist, usage);
    if (digit != '\0' && typist->digits + 1 < NUMBER_ROOM) {
        typist->number[typist->digits++] = digit;
        if (typist->layout->system == UVK_MAC && typist->digits == 4) {
            end_number(typist, text);
        }
        return true;
    }
    if (typist->layout->system == UVK_LINUX) {
        end_number(typist, text);
    }
    typist->counting = false;
    return true;
}

/* On Windows and on a Mac the number ends with alt. */
static void number_released(struct uvk_typist *typist, GString *text)
{
    if (typist->counting && typist->layout->system != UVK_LINUX &&
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

/* ---- by table --------------------------------------------------------------------------- */

#define NOT_KNOWN  0xFFFDu /* shown for a key of which the table does not say what it types */
#define MODS_CTRL  0x11u
#define MODS_SHIFT 0x22u
#define MODS_ALT   0x44u
#define MODS_GUI   0x88u
#define RIGHT_ALT  0x40u

/* Is the key a command, which types nothing? *THIRD: AltGr or option is down. */
static bool is_host_command(const struct uvk_typist *typist, bool *third)
{
    uint8_t mods = typist->mods;
    bool has_third = host_keys_have_third(typist->layout->host);

    if (typist->layout->system == UVK_MAC) {
        *third = (mods & MODS_ALT) != 0;
        return (mods & (MODS_CTRL | MODS_GUI)) != 0;
    }
    /* on Windows control and alt together are AltGr */
    *third = has_third &&
             ((mods & RIGHT_ALT) != 0 || ((mods & MODS_CTRL) != 0 && (mods & MODS_ALT) != 0));
    return (mods & MODS_GUI) != 0 || (!*third && (mods & (MODS_CTRL | MODS_ALT)) != 0);
}

/* The keypad: its digits follow num lock, but on a Mac. */
static gunichar pad_character(const struct uvk_typist *typist, uint8_t usage)
{
    static const char characters[] = "/*-+\n1234567890";
    bool digits = typist->layout->system == UVK_MAC || typist->locks[UVK_NUM_LOCK];

    if (usage < 0x54 || usage > 0x62) {
        return 0; /* what the keypad's point types, no table says */
    }
    return usage < UVK_HID_PAD_1 || digits ? (gunichar)characters[usage - 0x54] : 0;
}

/* Caps lock is shift for letters. */
static gunichar letter_character(const struct uvk_typist *typist, uint8_t usage, bool third)
{
    const struct host_keys *host = typist->layout->host;
    unsigned shift = (typist->mods & MODS_SHIFT) != 0;
    unsigned level = third ? 2 : 0;
    gunichar plain = host_keys_at(host, usage, level);

    if (typist->locks[UVK_CAPS_LOCK] && g_unichar_islower(plain) &&
        g_unichar_toupper(plain) == host_keys_at(host, usage, level + 1)) {
        shift ^= 1u;
    }
    return host_keys_at(host, usage, level + shift);
}

/* What CHARACTER comes to behind the dead key that waits; both, if they make nothing. */
static void append_behind_dead(struct uvk_typist *typist, gunichar character, GString *text)
{
    const struct host_keys *host = typist->layout->host;
    gunichar made = host_keys_compose(host, typist->dead, character);
    gunichar alone = host_keys_compose(host, typist->dead, ' ');

    typist->dead = 0;
    if (made == 0) {
        append(text, alone != 0 ? alone : NOT_KNOWN);
    }
    append(text, made != 0 ? made : character);
}

/* Of keys that type something somewhere: letters, digits, signs, not F1 or Home. */
static bool types_somewhere(uint8_t usage)
{
    return (usage >= 0x04 && usage <= 0x27) || (usage >= 0x2D && usage <= 0x38) ||
           usage == 0x63 || usage == 0x64;
}

static void host_key_down(struct uvk_typist *typist, uint8_t usage, GString *text)
{
    bool third;
    gunichar character;

    if (is_host_command(typist, &third)) {
        return;
    }
    character = usage >= 0x54 && usage <= 0x63 ? pad_character(typist, usage)
                                               : letter_character(typist, usage, third);
    if (character == 0) {
        if (types_somewhere(usage)) {
            append(text, NOT_KNOWN);
        }
    } else if (g_unichar_type(character) == G_UNICODE_NON_SPACING_MARK && typist->dead == 0) {
        typist->dead = character;
    } else if (typist->dead != 0) {
        append_behind_dead(typist, character, text);
    } else {
        append(text, character);
    }
}

/* Modifiers and locks. */
static void note_host_key(struct uvk_typist *typist, uint8_t usage, bool down)
{
    uint8_t bit = is_modifier(usage) ? (uint8_t)(1u << (usage & 7u)) : 0;

    typist->mods = (uint8_t)(down ? typist->mods | bit : typist->mods & ~bit);
    if (down && usage == UVK_HID_CAPS_LOCK) {
        typist->locks[UVK_CAPS_LOCK] = !typist->locks[UVK_CAPS_LOCK];
    } else if (down && usage == UVK_HID_NUM_LOCK) {
        typist->locks[UVK_NUM_LOCK] = !typist->locks[UVK_NUM_LOCK];
    } else if (down && usage == UVK_HID_SCROLL_LOCK) {
        typist->locks[UVK_SCROLL_LOCK] = !typist->locks[UVK_SCROLL_LOCK];
    }
}

/* ---- all -------------------------------------------------------------------------------- */

static void xkb_key(struct uvk_typist *typist, uint8_t usage, bool down, bool taken,
                    GString *text)
{
    xkb_keycode_t code = xkb_code(usage);

    if (down && !taken && !is_modifier(usage) && !is_command(typist) &&
        !compose_key(typist, xkb_state_key_get_one_sym(typist->state, code), text)) {
        append(text, xkb_state_key_get_utf32(typist->state, code));
    }
    xkb_state_update_key(typist->state, code, down ? XKB_KEY_DOWN : XKB_KEY_UP);
}

void uvk_typist_key(struct uvk_typist *typist, uint8_t usage, bool down, GString *text)
{
    bool taken;

    if (usage >= XKB_USAGES || xkb_code_of_usage[usage] == 0) {
        return;
    }
    taken = down && typist->by_number && number_key(typist, usage, text);
    if (typist->state != NULL) {
        xkb_key(typist, usage, down, taken, text);
        typist->locks[UVK_SCROLL_LOCK] ^= down && usage == UVK_HID_SCROLL_LOCK;
    } else {
        if (down && !taken && !is_modifier(usage)) {
            host_key_down(typist, usage, text);
        }
        note_host_key(typist, usage, down);
    }
    if (!down && typist->by_number) {
        number_released(typist, text);
    }
}
