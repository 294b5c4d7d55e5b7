/* layout.c - host layouts through libxkbcommon. */
#include "xkb.h"

#include "uvrek/hid.h"

#include <string.h>

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
const uint8_t xkb_code_of_usage[XKB_USAGES] = {
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
            xkb_state_update_key(state, xkb_code((uint8_t)(0xE0 + bit)),
                                 (now >> bit & 1) ? XKB_KEY_DOWN : XKB_KEY_UP);
        }
    }
}

/* Nothing held, shift, AltGr, and both, in order of ease. */
static const uint8_t tries[] = {0x00, 0x02, 0x40, 0x42};

/* The easiest way stays. */
static void keep(GHashTable *keys, guint what, uint8_t mods, uint8_t usage)
{
    gpointer known = g_hash_table_lookup(keys, GUINT_TO_POINTER(what));

    if (known == NULL || (GPOINTER_TO_UINT(known) >> 8) > (guint)mods) {
        g_hash_table_insert(keys, GUINT_TO_POINTER(what),
                            GUINT_TO_POINTER((guint)mods << 8 | usage));
    }
}

static bool is_dead(xkb_keysym_t symbol)
{
    return symbol >= XKB_KEY_dead_grave && symbol <= XKB_KEY_dead_greek;
}

/* What can stand in a text: not escape, delete and their like. */
static bool is_text(gunichar character)
{
    return character == '\n' || character == '\t' || (character >= 0x20 && character != 0x7F);
}

/* What a key gives with each of the tries. */
static void index_key(struct uvk_layout *layout, struct xkb_state *state, uint8_t usage)
{
    xkb_keycode_t code = xkb_code(usage);
    uint8_t before = 0;

    for (size_t i = 0; i < G_N_ELEMENTS(tries); i++) {
        xkb_keysym_t symbol;
        gunichar character;
        change_mods(state, before, tries[i]);
        before = tries[i];
        symbol = xkb_state_key_get_one_sym(state, code);
        character = xkb_state_key_get_utf32(state, code);
        character = character == '\r' ? '\n' : character;
        if (is_text(character)) {
            keep(layout->keys, character, tries[i], usage);
        } else if (is_dead(symbol)) {
            keep(layout->dead, symbol, tries[i], usage);
        }
    }
    change_mods(state, before, 0);
}

/* The key beside left shift is on ISO boards only: the layouts of ANSI boards do without. */
static bool is_for_ansi(const char *name)
{
    return strcmp(name, "us") == 0 || strcmp(name, "dvorak") == 0 ||
           strcmp(name, "colemak") == 0;
}

static void index_keys(struct uvk_layout *layout, const char *name)
{
    struct xkb_state *state = xkb_state_new(layout->keymap);

    /* 0x53 on is the keypad: the same characters are on the main keys */
    for (uint8_t usage = 0x04; usage < 0x53; usage++) {
        if (xkb_code_of_usage[usage] != 0) {
            index_key(layout, state, usage);
        }
    }
    if (!is_for_ansi(name)) {
        index_key(layout, state, UVK_HID_NON_US_SLASH);
    }
    xkb_state_unref(state);
}

/* The same from a table of our own. */
static void index_host_keys(struct uvk_layout *layout)
{
    for (uint8_t usage = 0x04; usage <= UVK_HID_NON_US_SLASH; usage++) {
        for (unsigned level = 0; level < HOST_LEVELS; level++) {
            gunichar character = host_keys_at(layout->host, usage, level);
            bool dead = g_unichar_type(character) == G_UNICODE_NON_SPACING_MARK;
            if (character != 0) {
                keep(dead ? layout->dead : layout->keys, character, tries[level], usage);
            }
        }
    }
}

static bool load_from_xkb(struct uvk_layout *layout, size_t index)
{
    layout->context = xkb_context_new(XKB_CONTEXT_NO_ENVIRONMENT_NAMES);
    if (layout->context != NULL) {
        xkb_context_set_log_fn(layout->context, silent);
        layout->keymap = compile(layout->context, symbols[index]);
    }
    if (layout->keymap != NULL) {
        index_keys(layout, uvk_layout_names[index]);
    }
    return layout->keymap != NULL;
}

struct uvk_layout *uvk_layout_load(enum uvk_system system, const char *name)
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
    layout->system = system;
    layout->keys = g_hash_table_new(NULL, NULL);
    layout->dead = g_hash_table_new(NULL, NULL);
    layout->host = host_keys_of(system, name);
    if (layout->host != NULL) {
        index_host_keys(layout);
    } else if (!load_from_xkb(layout, index)) {
        uvk_layout_free(layout);
        return NULL;
    }
    return layout;
}

void uvk_layout_free(struct uvk_layout *layout)
{
    if (layout == NULL) {
        return;
    }
    g_clear_pointer(&layout->keys, g_hash_table_unref);
    g_clear_pointer(&layout->dead, g_hash_table_unref);
    g_clear_pointer(&layout->composed, g_hash_table_unref);
    xkb_compose_table_unref(layout->compose);
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

/* ---- dead keys ---------------------------------------------------------------------- */

struct xkb_compose_table *layout_compose(struct uvk_layout *layout)
{
    if (layout->compose == NULL && !layout->no_compose) {
        layout->compose = xkb_compose_table_new_from_locale(layout->context, "en_US.UTF-8",
                                                            XKB_COMPOSE_COMPILE_NO_FLAGS);
        layout->no_compose = layout->compose == NULL;
    }
    return layout->compose;
}

/* What DEAD, then CHARACTER, comes to by the compose table; 0: nothing of its own. */
static gunichar compose(struct xkb_compose_state *state, xkb_keysym_t dead, gunichar character)
{
    char text[8] = "";

    xkb_compose_state_reset(state);
    xkb_compose_state_feed(state, dead);
    xkb_compose_state_feed(state, xkb_utf32_to_keysym(character));
    if (xkb_compose_state_get_status(state) != XKB_COMPOSE_COMPOSED ||
        xkb_compose_state_get_utf8(state, text, sizeof text) <= 0) {
        return 0;
    }
    return *g_utf8_next_char(text) == '\0' ? g_utf8_get_char(text) : 0;
}

/* All pairs with the dead key SYMBOL, which FIRST types. */
static void index_pairs(struct uvk_layout *layout, struct xkb_compose_state *state,
                        guint symbol, gpointer first)
{
    GHashTableIter keys;
    gpointer character;
    gpointer second;

    g_hash_table_iter_init(&keys, layout->keys);
    while (g_hash_table_iter_next(&keys, &character, &second)) {
        gunichar made =
            layout->host != NULL
                ? host_keys_compose(layout->host, symbol, GPOINTER_TO_UINT(character))
                : compose(state, symbol, GPOINTER_TO_UINT(character));
        gpointer known = g_hash_table_lookup(layout->composed, GUINT_TO_POINTER(made));
        gpointer pair =
            GUINT_TO_POINTER(GPOINTER_TO_UINT(first) << 16 | GPOINTER_TO_UINT(second));
        /* the same every time, whatever the order of the tables */
        if (made != 0 && (known == NULL || GPOINTER_TO_UINT(pair) < GPOINTER_TO_UINT(known))) {
            g_hash_table_insert(layout->composed, GUINT_TO_POINTER(made), pair);
        }
    }
}

/* All pairs of a dead key and a character, once. Reading the compose table takes longer than
 * all the rest of a keymap, so it waits until a character asks for it. */
static void index_composed(struct uvk_layout *layout)
{
    struct xkb_compose_table *table = layout->host == NULL ? layout_compose(layout) : NULL;
    struct xkb_compose_state *state =
        table != NULL ? xkb_compose_state_new(table, XKB_COMPOSE_STATE_NO_FLAGS) : NULL;
    GHashTableIter dead;
    gpointer symbol;
    gpointer first;

    layout->composed = g_hash_table_new(NULL, NULL);
    g_hash_table_iter_init(&dead, layout->dead);
    while ((state != NULL || layout->host != NULL) &&
           g_hash_table_iter_next(&dead, &symbol, &first)) {
        index_pairs(layout, state, GPOINTER_TO_UINT(symbol), first);
    }
    xkb_compose_state_unref(state);
}

static struct uvk_stroke stroke_of(guint packed)
{
    struct uvk_stroke stroke = {(uint8_t)(packed >> 8 & 0xFF), (uint8_t)(packed & 0xFF)};

    return stroke;
}

unsigned uvk_layout_spell(struct uvk_layout *layout, gunichar character,
                          struct uvk_stroke strokes[UVK_SPELL_MAX])
{
    guint packed;

    if (uvk_layout_find(layout, character, &strokes[0].mods, &strokes[0].usage)) {
        return 1;
    }
    if (layout->composed == NULL) {
        index_composed(layout);
    }
    packed =
        GPOINTER_TO_UINT(g_hash_table_lookup(layout->composed, GUINT_TO_POINTER(character)));
    strokes[0] = stroke_of(packed >> 16);
    strokes[1] = stroke_of(packed & 0xFFFF);
    return packed != 0 ? 2 : 0;
}

/* ---- by number ---------------------------------------------------------------------- */

/* A digit of the number; Windows wants those of the keypad. */
static bool digit_stroke(const struct uvk_layout *layout, char digit, struct uvk_stroke *stroke)
{
    if (layout->system == UVK_WINDOWS && g_ascii_isdigit(digit)) {
        stroke->mods = 0;
        stroke->usage = (uint8_t)(UVK_HID_PAD_1 + (unsigned)(digit - '0' + 9) % 10);
        return true;
    }
    return uvk_layout_find(layout, (gunichar)digit, &stroke->mods, &stroke->usage);
}

unsigned uvk_layout_number(struct uvk_layout *layout, gunichar character, uint8_t *hold,
                           struct uvk_stroke strokes[UVK_NUMBER_MAX])
{
    const enum uvk_system system = layout->system;
    const struct uvk_stroke begin_linux = {0x03, 0x18}; /* control+shift+u */
    const struct uvk_stroke begin_windows = {0, UVK_HID_PAD_PLUS};
    char digits[16];
    unsigned count = 0;

    if (system == UVK_MAC && character > 0xFFFF) { /* two UTF-16 units */
        unsigned rest = character - 0x10000;
        g_snprintf(digits, sizeof digits, "%04x%04x", 0xD800 + (rest >> 10),
                   0xDC00 + (rest & 0x3FF));
    } else {
        g_snprintf(digits, sizeof digits, system == UVK_MAC ? "%04x" : "%x", character);
    }
    *hold = system == UVK_LINUX ? 0 : 0x04; /* alt */
    if (system != UVK_MAC) {
        strokes[count++] = system == UVK_LINUX ? begin_linux : begin_windows;
    }
    for (const char *digit = digits; *digit != '\0'; digit++) {
        if (!digit_stroke(layout, *digit, &strokes[count++])) {
            return 0;
        }
    }
    if (system == UVK_LINUX) {
        strokes[count++] = (struct uvk_stroke){0, UVK_HID_SPACE};
    }
    return count;
}
