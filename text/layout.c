/* layout.c - host layouts through libxkbcommon. */
#include "uvrek/layout.h"

#include <string.h>
#include <xkbcommon/xkbcommon.h>

const char *const uvk_system_names[] = {"linux", "windows", "mac", NULL};
const char *const uvk_layout_names[] = {"us", "uk", "de",     "fr",      "es", "it",
                                        "pt", "se", "dvorak", "colemak", NULL};

/* What libxkbcommon calls the layouts, in the order of uvk_layout_names. */
static const char *const symbols[] = {"us", "gb", "de", "fr",         "es",
                                      "it", "pt", "se", "us(dvorak)", "us(colemak)"};

/* The parts of a keymap that typing needs; the rest (media keys, lamps) costs time only. */
static struct xkb_keymap *compile(struct xkb_context *context, const char *name)
{
    char *text = g_strdup_printf("xkb_keymap { xkb_keycodes { include \"evdev\" };\n"
                                 "xkb_types { include \"complete\" };\n"
                                 "xkb_compat { include \"basic+iso9995\" };\n"
                                 "xkb_symbols { include \"pc+%s\" }; };\n",
                                 name);
    struct xkb_keymap *keymap = xkb_keymap_new_from_string(
        context, text, XKB_KEYMAP_FORMAT_TEXT_V1, XKB_KEYMAP_COMPILE_NO_FLAGS);

    g_free(text);
    return keymap;
}

/* Linux key code of each usage of page 0x07: linux/input-event-codes.h against the HID
 * usage tables. libxkbcommon counts from 8. 0: this usage types nothing. */
#define XKB_FIRST 8
static const uint8_t code_of_usage[0xE8] = {
    [0x04] = 30, 48, 46,  32,  18,          33,  34,  35,  23,  36,  37,  38,  50,  49,
    24,          25, 16,  19,  31,          20,  22,  47,  17,  45,  21,  44, /* a..z */
    [0x1E] = 2,  3,  4,   5,   6,           7,   8,   9,   10,  11,           /* 1..0 */
    [0x28] = 28, 1,  14,  15,  57,          12,  13,  26,  27,  43,  43,  39,  40,  41,
    51,          52, 53,  58,  [0x3A] = 59, 60,  61,  62,  63,  64,  65,  66,  67,  68,
    87,          88, /* f1..f12 */
    [0x46] = 99, 70, 119, 110, 102,         104, 111, 107, 109, 106, 105, 108, 103, [0x53] = 69,
    98,          55, 74,  78,  96,          79,  80,  81,  75,  76,  77,  71,  72,  73,
    82,          83, 86,  127, [0xE0] = 29, 42,  56,  125, 97,  54,  100, 126, /* modifiers */
};

struct uvk_layout {
    struct xkb_context *context;
    struct xkb_keymap *keymap;
    GHashTable *keys; /* character -> mods << 8 | usage */
};

static void silent(struct xkb_context *context, enum xkb_log_level level, const char *format,
                   va_list arguments)
{
    (void)context;
    (void)level;
    (void)format;
    (void)arguments;
}

/* Go from the modifiers BEFORE to NOW; libxkbcommon counts presses, so only changes. */
static void change_mods(struct xkb_state *state, uint8_t before, uint8_t now)
{
    for (unsigned bit = 0; bit < 8; bit++) {
        if ((before ^ now) >> bit & 1) {
            xkb_state_update_key(state, (xkb_keycode_t)code_of_usage[0xE0 + bit] + XKB_FIRST,
                                 (now >> bit & 1) ? XKB_KEY_DOWN : XKB_KEY_UP);
        }
    }
}

/* What a key gives with nothing held, shift, AltGr, and both, in order of ease. */
static void index_key(struct uvk_layout *layout, struct xkb_state *state, uint8_t usage)
{
    static const uint8_t tries[] = {0x00, 0x02, 0x40, 0x42};
    xkb_keycode_t code = (xkb_keycode_t)code_of_usage[usage] + XKB_FIRST;
    uint8_t before = 0;

    for (size_t i = 0; i < G_N_ELEMENTS(tries); i++) {
        gpointer value = GUINT_TO_POINTER((guint)tries[i] << 8 | usage);
        gpointer known;
        gunichar character;
        change_mods(state, before, tries[i]);
        before = tries[i];
        character = xkb_state_key_get_utf32(state, code);
        character = character == '\r' ? '\n' : character;
        known = g_hash_table_lookup(layout->keys, GUINT_TO_POINTER(character));
        if (character != 0 &&
            (known == NULL || (GPOINTER_TO_UINT(known) >> 8) > (guint)tries[i])) {
            g_hash_table_insert(layout->keys, GUINT_TO_POINTER(character), value);
        }
    }
    change_mods(state, before, 0);
}

static void index_keys(struct uvk_layout *layout)
{
    struct xkb_state *state = xkb_state_new(layout->keymap);

    layout->keys = g_hash_table_new(NULL, NULL);
    /* 0x53 on is the keypad: the same characters are on the main keys */
    for (uint8_t usage = 0x04; usage < 0x53; usage++) {
        if (code_of_usage[usage] != 0) {
            index_key(layout, state, usage);
        }
    }
    index_key(layout, state, 0x64); /* the key beside left shift of ISO boards */
    xkb_state_unref(state);
}

struct uvk_layout *uvk_layout_load(const char *name)
{
    struct uvk_layout *layout;
    size_t index = 0;

    while (uvk_layout_names[index] != NULL && strcmp(uvk_layout_names[index], name) != 0) {
        index++;
    }
    if (uvk_layout_names[index] == NULL) {
        return NULL;
    }
    layout = g_new0(struct uvk_layout, 1);
    layout->context = xkb_context_new(XKB_CONTEXT_NO_ENVIRONMENT_NAMES);
    if (layout->context != NULL) {
        xkb_context_set_log_fn(layout->context, silent);
        layout->keymap = compile(layout->context, symbols[index]);
    }
    if (layout->keymap == NULL) {
        uvk_layout_free(layout);
        return NULL;
    }
    index_keys(layout);
    return layout;
}

void uvk_layout_free(struct uvk_layout *layout)
{
    if (layout == NULL) {
        return;
    }
    g_clear_pointer(&layout->keys, g_hash_table_unref);
    xkb_keymap_unref(layout->keymap);
    xkb_context_unref(layout->context);
    g_free(layout);
}

bool uvk_layout_find(const struct uvk_layout *layout, gunichar character, uint8_t *mods,
                     uint8_t *usage)
{
    gpointer value = g_hash_table_lookup(layout->keys, GUINT_TO_POINTER(character));

    *mods = (uint8_t)(GPOINTER_TO_UINT(value) >> 8);
    *usage = (uint8_t)(GPOINTER_TO_UINT(value) & 0xFF);
    return value != NULL;
}

struct uvk_typist {
    struct xkb_state *state;
};

struct uvk_typist *uvk_typist_new(const struct uvk_layout *layout)
{
    struct uvk_typist *typist = g_new0(struct uvk_typist, 1);

    typist->state = xkb_state_new(layout->keymap);
    return typist;
}

void uvk_typist_free(struct uvk_typist *typist)
{
    if (typist != NULL) {
        xkb_state_unref(typist->state);
        g_free(typist);
    }
}

/* With control, alt or gui down a key is a command and types nothing. */
static bool is_command(const struct uvk_typist *typist)
{
    static const char *const names[] = {XKB_MOD_NAME_CTRL, XKB_MOD_NAME_ALT, XKB_MOD_NAME_LOGO};

    for (size_t i = 0; i < G_N_ELEMENTS(names); i++) {
        if (xkb_state_mod_name_is_active(typist->state, names[i], XKB_STATE_MODS_EFFECTIVE) >
            0) {
            return true;
        }
    }
    return false;
}

void uvk_typist_key(struct uvk_typist *typist, uint8_t usage, bool down, GString *text)
{
    xkb_keycode_t code;

    if (usage >= G_N_ELEMENTS(code_of_usage) || code_of_usage[usage] == 0) {
        return;
    }
    code = (xkb_keycode_t)code_of_usage[usage] + XKB_FIRST;
    if (down && !is_command(typist)) {
        uint32_t character = xkb_state_key_get_utf32(typist->state, code);
        if (character == '\r') {
            character = '\n';
        }
        if (character == '\n' || character == '\t' || character >= 0x20) {
            if (character != 0x7F) {
                g_string_append_unichar(text, character);
            }
        }
    }
    xkb_state_update_key(typist->state, code, down ? XKB_KEY_DOWN : XKB_KEY_UP);
}
