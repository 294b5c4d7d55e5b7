/* value_text.c - what cells are called: values as the language writes them. */
#include "uvrek/hid.h"
#include "uvrek/text.h"

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
const char *const uvk_light_acts[] = {"on",   "off",  "toggle",  "up", "down",
                                      "next", "back", "breathe", NULL};
const char *const uvk_effect_names[] = {"still", "breathe", "hues", "ripple", "keys", NULL};
const char *const uvk_lamp_locks[] = {"num-lock", "caps-lock", "scroll-lock", NULL};
static const char *const mods_ops[] = {"once:", "toggle:", "block:"};

bool uvk_is_character(const struct uvk_value *value)
{
    bool keypad = value->usage >= 0x54 && value->usage <= 0x63; /* it has names of its own */

    return value->kind == UVK_VALUE_USAGE && value->page == UVK_HID_PAGE_KEYBOARD &&
           value->usage >= 0x04 && (value->mods & ~0x62) == 0 && !keypad;
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
    size_t count;
    const struct uvk_key_name *names = uvk_key_names(&count);

    for (size_t i = 0; i < count; i++) {
        if (names[i].mods != 0 && (mods & names[i].mods)) {
            g_string_append_printf(out, "%s%s", out->len ? "+" : "", names[i].name);
            mods &= (uint8_t)~names[i].mods;
        }
    }
}

static void append_usage(GString *out, const struct uvk_value *value)
{
    size_t count;
    const struct uvk_key_name *names = uvk_key_names(&count);

    if (value->page == UVK_HID_PAGE_KEYBOARD && value->usage == 0) {
        return;
    }
    if (value->page == UVK_PAGE_OWN && value->usage == UVK_OWN_LONG_PRESS) {
        g_string_append(out, "toggle:long-press");
        return;
    }
    g_string_append(out, out->len ? "+" : "");
    for (size_t i = 0; i < count; i++) {
        if (names[i].page == value->page && names[i].usage == value->usage &&
            names[i].turn == value->turn) {
            g_string_append(out, names[i].name);
            return;
        }
    }
    g_string_append_printf(out, "usage-0x%02x-0x%02x", value->page, value->usage);
}

static void append_hold(GString *out, const struct uvk_value *value)
{
    char *tap = uvk_value_text(value->tap);
    char *held = uvk_value_text(value->held);

    g_string_append_printf(out, "%s/%s", tap, held);
    g_free(tap);
    g_free(held);
}

static void append_block(GString *out, const struct uvk_value *value)
{
    struct uvk_value key = {
        .kind = UVK_VALUE_USAGE, .page = UVK_HID_PAGE_KEYBOARD, .usage = value->usage};

    append_usage(out, &key);
    g_string_prepend(out, "block:");
}

static void append_value(GString *out, const struct uvk_value *value)
{
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
    case UVK_VALUE_HOLD:
        append_hold(out, value);
        break;
    case UVK_VALUE_MACRO:
        g_string_append_printf(out, "macro %u", value->macro);
        break;
    case UVK_VALUE_DANCE:
        g_string_append_printf(out, "dance %u", value->dance);
        break;
    case UVK_VALUE_BLOCK:
        append_block(out, value);
        break;
    case UVK_VALUE_BOARD:
        g_string_append_printf(out, "board:%s", board_acts[value->usage]);
        break;
    case UVK_VALUE_LIGHT:
        g_string_append_printf(out, "light:%s", uvk_light_acts[value->usage]);
        break;
    case UVK_VALUE_BROKEN:
        g_string_append(out, "?");
        break;
    }
}

char *uvk_value_text(const struct uvk_value *value)
{
    GString *out = g_string_new(NULL);

    append_value(out, value);
    return g_string_free(out, FALSE);
}
