/* words.c - see words.h. */
#include "words.h"

#include <string.h>

#define SHIFT 0x02u

char *label_text(const struct uvk_program *program, const struct uvk_value *value)
{
    char *text;

    if (value->kind == UVK_VALUE_NOTHING || value->kind == UVK_VALUE_THROUGH) {
        return g_strdup("");
    }
    if (uvk_is_character(value)) {
        text = uvk_typed_text(program, value->mods, (uint8_t)value->usage);
        if (text[0] != '\0') {
            char *upper = value->mods == 0 ? g_utf8_strup(text, -1) : g_strdup(text);
            bool one = g_utf8_strlen(upper, -1) == 1;
            char *shown = g_strdup(one ? upper : text);
            g_free(upper);
            g_free(text);
            return shown;
        }
        g_free(text);
    }
    return uvk_cell_name(program, value);
}

/* The sign above, where it is not simply the capital. */
static char *shifted_text(const struct uvk_program *program, const struct uvk_value *value)
{
    char *plain;
    char *shifted;
    char *capital;
    bool tells;

    if (!uvk_is_character(value) || value->mods != 0) {
        return NULL;
    }
    plain = uvk_typed_text(program, 0, (uint8_t)value->usage);
    shifted = uvk_typed_text(program, SHIFT, (uint8_t)value->usage);
    capital = g_utf8_strup(plain, -1);
    tells = plain[0] != '\0' && shifted[0] != '\0' && strcmp(shifted, capital) != 0;
    g_free(plain);
    g_free(capital);
    if (!tells) {
        g_clear_pointer(&shifted, g_free);
    }
    return shifted;
}

struct label uvk_label_of(const struct uvk_program *program, unsigned layer, unsigned cell)
{
    const struct uvk_keymap *keymap = program->keymap;
    const struct uvk_value *value = &keymap->layers[layer].cells[cell];
    struct label label = {.ghost = value->kind == UVK_VALUE_THROUGH && layer > 0};

    if (label.ghost) {
        value = &keymap->layers[0].cells[cell];
    }
    if (value->kind == UVK_VALUE_HOLD) {
        label.held = label_text(program, value->held);
        value = value->tap;
    }
    label.tap = label_text(program, value);
    label.shifted = label.ghost ? NULL : shifted_text(program, value);
    return label;
}

void uvk_label_clear(struct label *label)
{
    g_free(label->tap);
    g_free(label->held);
    g_free(label->shifted);
}
