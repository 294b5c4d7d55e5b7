/* cells.c - cells as JSON: as the language writes them, with every name worked out. */
#include "cells.h"

#include "uvrek/action.h"

#include <math.h>
#include <string.h>

/* Nine decimals of a key unit: a fiftieth of a nanometre. */
#define DECIMALS 1e9

json_t *number_to_json(double value)
{
    double rounded = round(value * DECIMALS) / DECIMALS;

    return rounded == (double)(json_int_t)rounded ? json_integer((json_int_t)rounded)
                                                  : json_real(rounded);
}

json_t *time_to_json(double microseconds)
{
    return number_to_json(microseconds / 1000);
}

json_t *character_to_json(const char *character)
{
    bool escaped = strcmp(character, "'") == 0 || strcmp(character, "\\") == 0;

    return json_sprintf("'%s%s'", escaped ? "\\" : "", character);
}

/* Every value but a tap-hold. */
static json_t *plain_to_json(const struct uvk_program *program, const struct uvk_value *value)
{
    const struct uvk_macro_text *macro =
        value->kind == UVK_VALUE_MACRO ? &program->keymap->macros[value->macro] : NULL;
    json_t *json;
    char *text;

    if (macro != NULL && macro->character) {
        return character_to_json(macro->name);
    }
    text = value->kind == UVK_VALUE_USAGE ? uvk_value_text(value) /* the key, not its sign */
                                          : uvk_cell_name(program, value);
    json = json_string(text);
    g_free(text);
    return json;
}

json_t *cell_to_json(const struct uvk_program *program, const struct uvk_value *value)
{
    const struct uvk_feel_text *feel;
    json_t *both;

    if (value->kind != UVK_VALUE_HOLD) {
        return plain_to_json(program, value);
    }
    feel = &program->keymap->feels[value->feel];
    if (feel->decide == UVK_LONG_PRESS) { /* a plain key that `long-press` has made one */
        return plain_to_json(program, value->tap);
    }
    both = json_object();
    json_object_set_new(both, "tap", plain_to_json(program, value->tap));
    json_object_set_new(both, "hold", plain_to_json(program, value->held));
    if (value->feel != 0) {
        json_object_set_new(both, "feel", json_string(feel->name));
    }
    return both;
}
