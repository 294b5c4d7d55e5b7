/* names.c - the keys that have names: HID Usage Tables 1.3, sections 4, 10, 12 and 15. */
#include "uvrek/text.h"

#define KEY(name, usage)                                                                       \
    {                                                                                          \
        name, 0, 0x07, usage, 0                                                                \
    }
#define MOD(name, bits)                                                                        \
    {                                                                                          \
        name, bits, 0x07, 0, 0                                                                 \
    }
#define CONSUMER(name, usage)                                                                  \
    {                                                                                          \
        name, 0, 0x0C, usage, 0                                                                \
    }
#define SYSTEM(name, usage)                                                                    \
    {                                                                                          \
        name, 0, 0x01, usage, 0                                                                \
    }
#define CLICK(name, usage)                                                                     \
    {                                                                                          \
        name, 0, 0x09, usage, 0                                                                \
    }

/* The first name of a usage is the one that is shown. */
static const struct uvk_key_name names[] = {
    KEY("a", 0x04),
    KEY("b", 0x05),
    KEY("c", 0x06),
    KEY("d", 0x07),
    KEY("e", 0x08),
    KEY("f", 0x09),
    KEY("g", 0x0A),
    KEY("h", 0x0B),
    KEY("i", 0x0C),
    KEY("j", 0x0D),
    KEY("k", 0x0E),
    KEY("l", 0x0F),
    KEY("m", 0x10),
    KEY("n", 0x11),
    KEY("o", 0x12),
    KEY("p", 0x13),
    KEY("q", 0x14),
    KEY("r", 0x15),
    KEY("s", 0x16),
    KEY("t", 0x17),
    KEY("u", 0x18),
    KEY("v", 0x19),
    KEY("w", 0x1A),
    KEY("x", 0x1B),
    KEY("y", 0x1C),
    KEY("z", 0x1D),
    KEY("1", 0x1E),
    KEY("2", 0x1F),
    KEY("3", 0x20),
    KEY("4", 0x21),
    KEY("5", 0x22),
    KEY("6", 0x23),
    KEY("7", 0x24),
    KEY("8", 0x25),
    KEY("9", 0x26),
    KEY("0", 0x27),
    KEY("enter", 0x28),
    KEY("esc", 0x29),
    KEY("escape", 0x29),
    KEY("backspace", 0x2A),
    KEY("tab", 0x2B),
    KEY("space", 0x2C),
    KEY("minus", 0x2D),
    KEY("equal", 0x2E),
    KEY("left-bracket", 0x2F),
    KEY("right-bracket", 0x30),
    KEY("backslash", 0x31),
    KEY("non-us-hash", 0x32),
    KEY("semicolon", 0x33),
    KEY("quote", 0x34),
    KEY("grave", 0x35),
    KEY("comma", 0x36),
    KEY("dot", 0x37),
    KEY("period", 0x37),
    KEY("slash", 0x38),
    KEY("caps-lock", 0x39),
    KEY("f1", 0x3A),
    KEY("f2", 0x3B),
    KEY("f3", 0x3C),
    KEY("f4", 0x3D),
    KEY("f5", 0x3E),
    KEY("f6", 0x3F),
    KEY("f7", 0x40),
    KEY("f8", 0x41),
    KEY("f9", 0x42),
    KEY("f10", 0x43),
    KEY("f11", 0x44),
    KEY("f12", 0x45),
    KEY("print-screen", 0x46),
    KEY("scroll-lock", 0x47),
    KEY("pause", 0x48),
    KEY("insert", 0x49),
    KEY("home", 0x4A),
    KEY("page-up", 0x4B),
    KEY("delete", 0x4C),
    KEY("end", 0x4D),
    KEY("page-down", 0x4E),
    KEY("right", 0x4F),
    KEY("left", 0x50),
    KEY("down", 0x51),
    KEY("up", 0x52),
    KEY("num-lock", 0x53),
    KEY("pad-slash", 0x54),
    KEY("pad-star", 0x55),
    KEY("pad-minus", 0x56),
    KEY("pad-plus", 0x57),
    KEY("pad-enter", 0x58),
    KEY("pad-1", 0x59),
    KEY("pad-2", 0x5A),
    KEY("pad-3", 0x5B),
    KEY("pad-4", 0x5C),
    KEY("pad-5", 0x5D),
    KEY("pad-6", 0x5E),
    KEY("pad-7", 0x5F),
    KEY("pad-8", 0x60),
    KEY("pad-9", 0x61),
    KEY("pad-0", 0x62),
    KEY("pad-dot", 0x63),
    KEY("non-us-backslash", 0x64),
    KEY("menu", 0x65),
    KEY("pad-equal", 0x67),
    KEY("f13", 0x68),
    KEY("f14", 0x69),
    KEY("f15", 0x6A),
    KEY("f16", 0x6B),
    KEY("f17", 0x6C),
    KEY("f18", 0x6D),
    KEY("f19", 0x6E),
    KEY("f20", 0x6F),
    KEY("f21", 0x70),
    KEY("f22", 0x71),
    KEY("f23", 0x72),
    KEY("f24", 0x73),
    MOD("ctrl", 0x01),
    MOD("shift", 0x02),
    MOD("alt", 0x04),
    MOD("gui", 0x08),
    MOD("right-ctrl", 0x10),
    MOD("right-shift", 0x20),
    MOD("right-alt", 0x40),
    MOD("altgr", 0x40),
    MOD("right-gui", 0x80),
    CONSUMER("mute", 0xE2),
    CONSUMER("volume-up", 0xE9),
    CONSUMER("volume-down", 0xEA),
    CONSUMER("play-pause", 0xCD),
    CONSUMER("next-track", 0xB5),
    CONSUMER("previous-track", 0xB6),
    CONSUMER("stop-track", 0xB7),
    CONSUMER("brightness-up", 0x6F),
    CONSUMER("brightness-down", 0x70),
    CONSUMER("calculator", 0x192),
    CONSUMER("mail", 0x18A),
    CONSUMER("browser", 0x196),
    CONSUMER("search", 0x221),
    SYSTEM("power-off", 0x81),
    SYSTEM("sleep", 0x82),
    SYSTEM("wake", 0x83),
    CLICK("click-left", 1),
    CLICK("click-right", 2),
    CLICK("click-middle", 3),
    {"wheel-up", 0, 0x01, 0x38, 1},
    {"wheel-down", 0, 0x01, 0x38, -1},
    {"wheel-left", 0, 0x0C, 0x238, -1},
    {"wheel-right", 0, 0x0C, 0x238, 1},
    {"point-left", 0, 0x01, 0x30, -1},
    {"point-right", 0, 0x01, 0x30, 1},
    {"point-up", 0, 0x01, 0x31, -1},
    {"point-down", 0, 0x01, 0x31, 1},
    {"pace-slow", 0, UVK_PAGE_OWN, UVK_OWN_PACE_SLOW, 0},
    {"pace-fast", 0, UVK_PAGE_OWN, UVK_OWN_PACE_FAST, 0},
    {"leader", 0, UVK_PAGE_OWN, UVK_OWN_LEADER, 0},
};

const struct uvk_key_name *uvk_key_names(size_t *count)
{
    *count = G_N_ELEMENTS(names);
    return names;
}

const struct uvk_key_name *uvk_key_named(const char *name)
{
    static GHashTable *index; /* made once, kept for good */
    static gsize made;

    if (g_once_init_enter(&made)) {
        index = g_hash_table_new(g_str_hash, g_str_equal);
        for (size_t i = 0; i < G_N_ELEMENTS(names); i++) {
            g_hash_table_insert(index, (gpointer)names[i].name, (gpointer)&names[i]);
        }
        g_once_init_leave(&made, 1);
    }
    return g_hash_table_lookup(index, name);
}

const struct uvk_value *uvk_value_tap(const struct uvk_value *value)
{
    return value->kind == UVK_VALUE_HOLD ? value->tap : value;
}

bool uvk_value_equal(const struct uvk_value *a, const struct uvk_value *b)
{
    if (a->kind == UVK_VALUE_HOLD && b->kind == UVK_VALUE_HOLD) {
        return a->feel == b->feel && uvk_value_equal(a->tap, b->tap) &&
               uvk_value_equal(a->held, b->held);
    }
    return a->kind == b->kind && a->mods == b->mods && a->page == b->page &&
           a->usage == b->usage && a->turn == b->turn && a->layer == b->layer &&
           a->op == b->op && a->macro == b->macro && a->dance == b->dance;
}

/* In the order of enum uvk_layer_op and enum uvk_mods_op. */
static const char *const layer_ops[] = {"", "toggle:", "only:", "once:"};
/* In the order of enum uvk_board_act. */
static const char *const board_acts[] = {"bootloader", "restart", "reset"};
static const char *const mods_ops[] = {"once:", "toggle:", "block:"};

bool uvk_is_character(const struct uvk_value *value)
{
    bool keypad = value->usage >= 0x54 && value->usage <= 0x63; /* it has names of its own */

    return value->kind == UVK_VALUE_USAGE && value->page == 0x07 && value->usage >= 0x04 &&
           (value->mods & ~0x62) == 0 && !keypad;
}

char *uvk_typed_text(const struct uvk_program *program, uint8_t mods, uint8_t usage)
{
    struct uvk_typist *typist = uvk_typist_new(program->keymap->layout, false);
    GString *text = g_string_new(NULL);

    for (unsigned bit = 0; bit < 8; bit++) {
        if (mods >> bit & 1) {
            uvk_typist_key(typist, (uint8_t)(0xE0 + bit), true, text);
        }
    }
    uvk_typist_key(typist, usage, true, text);
    uvk_typist_free(typist);
    if (text->len > 0 && !g_unichar_isgraph(g_utf8_get_char(text->str))) {
        g_string_truncate(text, 0);
    }
    return g_string_free(text, FALSE);
}

/* '?' rather than shift+slash, on a layout that has it so; NULL: nothing better is known. */
static char *character_name(const struct uvk_program *program, const struct uvk_value *value)
{
    char *typed;
    char *name = NULL;

    if (!uvk_is_character(value) || value->mods == 0) {
        return NULL;
    }
    typed = uvk_typed_text(program, value->mods, (uint8_t)value->usage);
    if (typed[0] != '\0') {
        name = g_strdup_printf("'%s'", typed);
    }
    g_free(typed);
    return name;
}

char *uvk_cell_name(const struct uvk_program *program, const struct uvk_value *value)
{
    const struct uvk_keymap *keymap = program->keymap;
    char *character = character_name(program, value);

    if (character != NULL) {
        return character;
    }

    switch (value->kind) {
    case UVK_VALUE_LAYER:
        return value->op == UVK_LAYER_WHILE
                   ? g_strdup(keymap->layers[value->layer].name)
                   : g_strdup_printf("%s%s", layer_ops[value->op],
                                     keymap->layers[value->layer].name);
    case UVK_VALUE_MACRO:
        return g_strdup(keymap->macros[value->macro].name);
    case UVK_VALUE_DANCE:
        return g_strdup(keymap->dances[value->dance].name);
    case UVK_VALUE_HOLD: {
        char *tap = uvk_cell_name(program, value->tap);
        char *held = uvk_cell_name(program, value->held);
        char *both = g_strdup_printf("%s/%s", tap, held);
        g_free(tap);
        g_free(held);
        return both;
    }
    default:
        return uvk_value_text(value);
    }
}

char *uvk_string_text(const char *text)
{
    GString *out = g_string_new("\"");
    char *seen;

    for (; *text != '\0'; text++) {
        switch (*text) {
        case '\n':
            g_string_append(out, "\\n");
            break;
        case '\t':
            g_string_append(out, "\\t");
            break;
        case '"':
        case '\\':
            g_string_append_c(out, '\\');
            g_string_append_c(out, *text);
            break;
        default:
            g_string_append_c(out, *text);
            break;
        }
    }
    seen = uvk_visible_text(out->str);
    g_string_assign(out, seen);
    g_free(seen);
    g_string_append_c(out, '"');
    return g_string_free(out, FALSE);
}

char *uvk_cell_place(const struct uvk_board *board, unsigned cell)
{
    const struct uvk_key_place *key;
    const char *half;
    const char *dot;

    if (cell >= board->key_count) {
        unsigned turn = cell - board->key_count;
        return g_strdup_printf("%s %s", board->knobs[turn / 2].name,
                               turn % 2 == 0 ? "-1" : "+1");
    }
    key = &board->keys[cell];
    half = board->halves[key->half].name;
    dot = half[0] != '\0' ? "." : "";
    return key->direct ? g_strdup_printf("%s%sd%u", half, dot, key->col)
                       : g_strdup_printf("%s%sr%uc%u", half, dot, key->row, key->col);
}

static void append_mods(GString *out, uint8_t mods)
{
    for (size_t i = 0; i < G_N_ELEMENTS(names); i++) {
        if (names[i].mods != 0 && (mods & names[i].mods)) {
            g_string_append_printf(out, "%s%s", out->len ? "+" : "", names[i].name);
            mods &= (uint8_t)~names[i].mods;
        }
    }
}

static void append_usage(GString *out, const struct uvk_value *value)
{
    if (value->page == 0x07 && value->usage == 0) {
        return;
    }
    if (value->page == UVK_PAGE_OWN && value->usage == UVK_OWN_LONG_PRESS) {
        g_string_append(out, "toggle:long-press");
        return;
    }
    g_string_append(out, out->len ? "+" : "");
    for (size_t i = 0; i < G_N_ELEMENTS(names); i++) {
        if (names[i].page == value->page && names[i].usage == value->usage &&
            names[i].turn == value->turn) {
            g_string_append(out, names[i].name);
            return;
        }
    }
    g_string_append_printf(out, "usage-0x%02x-0x%02x", value->page, value->usage);
}

char *uvk_value_text(const struct uvk_value *value)
{
    GString *out = g_string_new(NULL);

    switch (value->kind) {
    case UVK_VALUE_NOTHING:
        g_string_append(out, "--");
        break;
    case UVK_VALUE_THROUGH:
        g_string_append(out, ".");
        break;
    case UVK_VALUE_USAGE:
        append_mods(out, value->mods);
        append_usage(out, value);
        break;
    case UVK_VALUE_LAYER:
        g_string_append_printf(out, "%slayer %u", layer_ops[value->op], value->layer);
        break;
    case UVK_VALUE_MODS:
        append_mods(out, value->mods);
        g_string_prepend(out, mods_ops[value->op]);
        break;
    case UVK_VALUE_HOLD: {
        char *tap = uvk_value_text(value->tap);
        char *held = uvk_value_text(value->held);
        g_string_append_printf(out, "%s/%s", tap, held);
        g_free(tap);
        g_free(held);
        break;
    }
    case UVK_VALUE_MACRO:
        g_string_append_printf(out, "macro %u", value->macro);
        break;
    case UVK_VALUE_DANCE:
        g_string_append_printf(out, "dance %u", value->dance);
        break;
    case UVK_VALUE_BLOCK: {
        struct uvk_value key = {.kind = UVK_VALUE_USAGE, .page = 0x07, .usage = value->usage};
        append_usage(out, &key);
        g_string_prepend(out, "block:");
        break;
    }
    case UVK_VALUE_BOARD:
        g_string_append_printf(out, "board:%s", board_acts[value->usage]);
        break;
    case UVK_VALUE_BROKEN:
        g_string_append(out, "?");
        break;
    }
    return g_string_free(out, FALSE);
}
