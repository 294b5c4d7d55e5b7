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

/* A long press gives a capital, which its key shows anyway. */
static char *foot_text(const struct uvk_program *program, const struct uvk_value *hold)
{
    char *text = label_text(program, hold->held);

    if (program->keymap->feels[hold->feel].decide == UVK_LONG_PRESS) {
        char *marked = g_strconcat("⇧ ", text, NULL);
        g_free(text);
        text = marked;
    }
    return text;
}

/* The way to LAYER leaves no choice what KEY does: a finger stands on it. */
static struct label finger_label(const struct uvk_program *program, unsigned key)
{
    struct label label = {.tap = label_of_key(program, key), .foot = g_strdup("held")};

    label.finger = true;
    return label;
}

struct label uvk_label_of(const struct uvk_program *program, const struct uvk_ways *ways,
                          unsigned layer, unsigned cell)
{
    unsigned from;
    const struct uvk_value *value = uvk_cell_shown(program, ways, layer, cell, &from);
    struct label label = {.lower = from != layer};

    if (uvk_way_holds(ways, layer, cell)) {
        return finger_label(program, cell);
    }
    if (value->kind == UVK_VALUE_HOLD) {
        label.foot = foot_text(program, value);
        value = value->tap;
    }
    label.tap = label_text(program, value);
    label.corner = label.lower ? NULL : shifted_text(program, value);
    return label;
}

void uvk_label_clear(struct label *label)
{
    g_free(label->tap);
    g_free(label->foot);
    g_free(label->corner);
}

char *label_of_key(const struct uvk_program *program, unsigned key)
{
    char *text = label_text(program, uvk_value_tap(&program->keymap->layers[0].cells[key]));

    if (text[0] == '\0') {
        g_free(text);
        text = uvk_cell_place(program->board, key);
    }
    return text;
}

char *label_address(const struct uvk_board *board, unsigned key)
{
    char *place = uvk_cell_place(board, key);
    const char *dot = strchr(place, '.');
    char *address = g_strdup(dot != NULL ? dot + 1 : place);

    g_free(place);
    return address;
}
