/* keymap_out.c - a keymap as JSON. */
#include "cells.h"
#include "write.h"

#include <string.h>

static json_t *layer_name(const struct uvk_keymap *keymap, unsigned layer)
{
    return json_string(keymap->layers[layer].name);
}

static json_t *addresses_to_json(const struct uvk_board *board, const unsigned *keys,
                                 unsigned count)
{
    json_t *list = json_array();

    for (unsigned i = 0; i < count; i++) {
        char *place = uvk_cell_place(board, keys[i]);
        json_array_append_new(list, json_string(place));
        g_free(place);
    }
    return list;
}

static json_t *feels_to_json(const struct uvk_keymap *keymap)
{
    static const char *const decides[] = {"on-timeout", "on-press", "on-nested"};
    json_t *list = json_array();

    for (unsigned i = 0; i < keymap->feel_count; i++) {
        const struct uvk_feel_text *feel = &keymap->feels[i];
        if (feel->decide == UVK_LONG_PRESS) {
            continue; /* it is `long-press` that says this */
        }
        json_array_append_new(
            list, json_pack("{sssosssosososs}", "name", feel->name, "hold-after",
                            time_to_json(feel->hold_after), "decide", decides[feel->decide],
                            "other-hand", json_boolean(feel->other_hand), "rest",
                            time_to_json(feel->rest), "again", time_to_json(feel->again),
                            "alone", feel->alone_tap ? "tap" : "hold"));
    }
    return list;
}

static json_t *line_to_json(const struct uvk_program *program,
                            const struct uvk_macro_line *line)
{
    static const char *const words[] = {"type", "tap",   "press", "release",
                                        "wait", "click", "do"};
    static const char *const buttons[] = {"left", "right", "middle"};
    json_t *json = json_object();
    json_t *value;

    if (line->word == UVK_LINE_WAIT) {
        value = time_to_json(line->time);
    } else if (line->word == UVK_LINE_TYPE) {
        value = json_string(line->text);
    } else if (line->word == UVK_LINE_CLICK) {
        value = json_string(buttons[line->value.usage - 1]);
    } else if (line->text != NULL) {
        value =
            json_sprintf("'%s%s'", strpbrk(line->text, "'\\") != NULL ? "\\" : "", line->text);
    } else {
        value = cell_to_json(program, &line->value);
    }
    json_object_set_new(json, words[line->word], value);
    return json;
}

static json_t *lines_to_json(const struct uvk_program *program,
                             const struct uvk_macro_line *line)
{
    json_t *list = json_array();

    for (; line != NULL; line = line->next) {
        json_array_append_new(list, line_to_json(program, line));
    }
    return list;
}

static json_t *macros_to_json(const struct uvk_program *program)
{
    const struct uvk_keymap *keymap = program->keymap;
    json_t *list = json_array();

    for (unsigned i = 0; i < keymap->macro_count; i++) {
        const struct uvk_macro_text *macro = &keymap->macros[i];
        json_t *json;
        if (macro->character) {
            continue; /* the cell says it */
        }
        json = json_pack("{ssso}", "name", macro->name, "steps",
                         lines_to_json(program, macro->lines));
        if (macro->release_lines != NULL) {
            json_object_set_new(json, "on-release",
                                lines_to_json(program, macro->release_lines));
        }
        json_array_append_new(list, json);
    }
    return list;
}

/* TAPS touches, the last of which is a tap or a hold. */
static void add_dance_line(json_t *list, const struct uvk_program *program, unsigned taps,
                           bool held, const struct uvk_value *value)
{
    GString *touches = g_string_new(NULL);

    for (unsigned i = 1; i < taps; i++) {
        g_string_append(touches, "tap ");
    }
    g_string_append(touches, held ? "hold" : "tap");
    if (value->kind != UVK_VALUE_BROKEN) { /* there is such a line */
        json_array_append_new(list, json_pack("{ssso}", "touches", touches->str, "does",
                                              cell_to_json(program, value)));
    }
    g_string_free(touches, TRUE);
}

static json_t *dances_to_json(const struct uvk_program *program)
{
    json_t *list = json_array();

    for (unsigned i = 0; i < program->keymap->dance_count; i++) {
        const struct uvk_dance_text *dance = &program->keymap->dances[i];
        json_t *lines = json_array();
        for (unsigned taps = 1; taps <= dance->taps; taps++) {
            add_dance_line(lines, program, taps, false, &dance->lines[taps - 1].tapped);
            add_dance_line(lines, program, taps, true, &dance->lines[taps - 1].held);
        }
        json_array_append_new(list, json_pack("{sssoso}", "name", dance->name, "within",
                                              time_to_json(dance->within), "lines", lines));
    }
    return list;
}

static json_t *combos_to_json(const struct uvk_program *program)
{
    json_t *list = json_array();

    for (const struct uvk_combo_text *combo = program->keymap->combos; combo != NULL;
         combo = combo->next) {
        json_t *json = json_pack(
            "{sososo}", "keys",
            addresses_to_json(program->board, combo->keys, combo->key_count), "does",
            cell_to_json(program, &combo->value), "within", time_to_json(combo->within));
        if (combo->layer_count > 0) {
            json_t *on = json_array();
            for (unsigned i = 0; i < combo->layer_count; i++) {
                json_array_append_new(on, layer_name(program->keymap, combo->layers[i]));
            }
            json_object_set_new(json, "on", on);
        }
        json_object_set_new(json, "until",
                            json_string(combo->last_up ? "last-up" : "first-up"));
        json_array_append_new(list, json);
    }
    return list;
}

static json_t *leader_to_json(const struct uvk_program *program)
{
    const struct uvk_keymap *keymap = program->keymap;
    json_t *list = json_array();

    for (const struct uvk_sequence_text *sequence = keymap->sequences; sequence != NULL;
         sequence = sequence->next) {
        json_array_append_new(list, json_pack("{soso}", "keys",
                                              addresses_to_json(program->board, sequence->keys,
                                                                sequence->key_count),
                                              "does", cell_to_json(program, &sequence->value)));
    }
    return json_pack("{soso}", "within",
                     time_to_json(keymap->settings[UVK_SET_LEADER_WITHIN].value), "sequences",
                     list);
}

static json_t *long_press_to_json(const struct uvk_program *program)
{
    static const char *const kinds[] = {"letters", "digits", "symbols"};
    const struct uvk_long_press_text *press = &program->keymap->long_press;
    json_t *on = json_array();
    json_t *except = json_array();

    for (unsigned i = 0; i < G_N_ELEMENTS(kinds); i++) {
        if ((press->kinds & 1u << i) != 0) {
            json_array_append_new(on, json_string(kinds[i]));
        }
    }
    for (unsigned i = 0; i < press->except_count; i++) {
        json_array_append_new(except, cell_to_json(program, &press->except[i]));
    }
    return json_pack("{sosososo}", "kinds", on, "after", time_to_json(press->after), "repeat",
                     time_to_json(press->repeat), "except", except);
}

static json_t *turns_to_json(const struct uvk_program *program, const struct uvk_value *turns)
{
    json_t *json = json_object();

    for (unsigned i = 0; i < program->board->knob_count; i++) {
        const struct uvk_value *turn = turns + (size_t)2 * i;
        if (turn[0].kind != UVK_VALUE_THROUGH || turn[1].kind != UVK_VALUE_THROUGH) {
            json_object_set_new(json, program->board->knobs[i].name,
                                json_pack("{soso}", "left", cell_to_json(program, &turn[0]),
                                          "right", cell_to_json(program, &turn[1])));
        }
    }
    return json;
}

static json_t *colour_to_json(struct uvk_colour colour)
{
    return json_sprintf("#%02x%02x%02x", colour.red, colour.green, colour.blue);
}

static json_t *lights_to_json(const struct uvk_lights_text *lights)
{
    json_t *json = json_pack("{ssso}", "effect", uvk_effect_names[lights->effect], "colour",
                             colour_to_json(lights->colour));

    if (lights->speed > 0) {
        json_object_set_new(json, "speed", time_to_json(lights->speed));
    }
    return json;
}

static json_t *layers_to_json(const struct uvk_program *program)
{
    const struct uvk_keymap *keymap = program->keymap;
    json_t *list = json_array();

    for (unsigned i = 0; i < keymap->layer_count; i++) {
        const struct uvk_layer_text *layer = &keymap->layers[i];
        json_t *json = json_pack("{ss}", "name", layer->name);
        json_t *cells = json_object();
        if (layer->has_when) {
            json_object_set_new(json, "when",
                                json_pack("[oo]", layer_name(keymap, layer->when[0]),
                                          layer_name(keymap, layer->when[1])));
        }
        if (layer->light_place.source != NULL) {
            json_object_set_new(json, "light", colour_to_json(layer->light));
        }
        for (unsigned key = 0; key < program->board->key_count; key++) {
            char *place = uvk_cell_place(program->board, key);
            json_object_set_new(cells, place, cell_to_json(program, &layer->cells[key]));
            g_free(place);
        }
        json_object_set_new(json, "cells", cells);
        json_object_set_new(json, "knobs",
                            turns_to_json(program, layer->cells + program->board->key_count));
        json_array_append_new(list, json);
    }
    return list;
}

json_t *keymap_to_json(const struct uvk_program *program)
{
    const struct uvk_keymap *keymap = program->keymap;
    json_t *json = json_pack("{sss{ssss}sb}", "name", keymap->name, "host", "system",
                             uvk_system_names[keymap->system], "layout", keymap->layout_name,
                             "unicode", keymap->by_number);

    json_object_set_new(json, "settings",
                        settings_to_json(keymap->settings, program->board->settings));
    json_object_set_new(json, "feels", feels_to_json(keymap));
    json_object_set_new(json, "macros", macros_to_json(program));
    json_object_set_new(json, "dances", dances_to_json(program));
    json_object_set_new(json, "combos", combos_to_json(program));
    if (keymap->sequences != NULL) {
        json_object_set_new(json, "leader", leader_to_json(program));
    }
    if (keymap->long_press.place.source != NULL) {
        json_object_set_new(json, "long-press", long_press_to_json(program));
    }
    if (keymap->live_room > 0) {
        json_object_set_new(json, "live", json_pack("{si}", "room", (int)keymap->live_room));
    }
    if (keymap->lights.place.source != NULL) {
        json_object_set_new(json, "lights", lights_to_json(&keymap->lights));
    }
    json_object_set_new(json, "layers", layers_to_json(program));
    return json;
}
