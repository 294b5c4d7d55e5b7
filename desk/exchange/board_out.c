/* board_out.c - a board as JSON. */
#include "cells.h"
#include "write.h"

#include <string.h>

#define SETTLE_USUAL 5.0 /* microseconds */

static json_t *pin_to_json(const struct uvk_pin *pin)
{
    return json_string(pin->name);
}

static json_t *pins_to_json(const struct uvk_pin *const *pins, unsigned count)
{
    json_t *list = json_array();

    for (unsigned i = 0; i < count; i++) {
        json_array_append_new(list, pin_to_json(pins[i]));
    }
    return list;
}

static json_t *usb_to_json(const struct uvk_board *board)
{
    return json_pack("{sisiss}", "vendor", board->usb_vendor, "product", board->usb_product,
                     "maker", board->usb_maker);
}

static json_t *spare_to_json(const struct uvk_half *half)
{
    json_t *list = json_array();

    for (unsigned row = 0; row < half->row_count; row++) {
        for (unsigned col = 0; col < half->col_count; col++) {
            if ((half->spare[row] >> col & 1) != 0) {
                json_array_append_new(list, json_sprintf("r%uc%u", row, col));
            }
        }
    }
    return list;
}

static json_t *half_to_json(const struct uvk_half *half)
{
    static const char *const flows[] = {"row->col", "col->row", "none"};
    json_t *json = json_object();
    json_t *spare = spare_to_json(half);

    if (half->name[0] != '\0') {
        json_object_set_new(json, "name", json_string(half->name));
    }
    if (half->row_count > 0) {
        json_object_set_new(
            json, "matrix",
            json_pack("{sososs}", "rows", pins_to_json(half->rows, half->row_count), "cols",
                      pins_to_json(half->cols, half->col_count), "flow", flows[half->flow]));
    }
    if (json_array_size(spare) > 0) {
        json_object_set(json_object_get(json, "matrix"), "spare", spare);
    }
    json_decref(spare);
    if (half->direct_count > 0) {
        json_object_set_new(json, "direct",
                            json_pack("{soss}", "pins",
                                      pins_to_json(half->direct, half->direct_count), "to",
                                      half->to_power ? "power" : "ground"));
    }
    return json;
}

static json_t *link_to_json(const struct uvk_link *link)
{
    json_t *json = json_pack("{soso*sosi}", "transmit", pin_to_json(link->transmit), "receive",
                             link->one_wire ? NULL : pin_to_json(link->receive), "straight",
                             json_boolean(link->straight), "speed", link->speed);

    if (link->one_wire) {
        json_object_del(json, "straight"); /* one line has no other to be swapped with */
    }
    return json;
}

static void add_halves(json_t *json, const struct uvk_board *board)
{
    static const char *const rules[] = {"usb", "stored", "pin", "first", "second"};
    json_t *halves = json_array();

    for (unsigned i = 0; i < board->half_count; i++) {
        json_array_append_new(halves, half_to_json(&board->halves[i]));
    }
    json_object_set_new(json, "halves", halves);
    if (board->half_count == 1) {
        return;
    }
    json_object_set_new(json, "main", json_string(rules[board->main]));
    if (board->main_pin != NULL) {
        json_object_set_new(json, "main-pin", pin_to_json(board->main_pin));
    }
    if (board->link.place.source != NULL) {
        json_object_set_new(json, "link", link_to_json(&board->link));
    }
}

static json_t *pin_names_to_json(const struct uvk_board *board)
{
    json_t *json = json_object();

    for (unsigned i = 0; i < board->pin_name_count; i++) {
        json_object_set_new(json, board->pin_names[i].name,
                            pin_to_json(board->pin_names[i].pin));
    }
    return json;
}

static json_t *choices_to_json(const struct uvk_board *board)
{
    json_t *list = json_array();

    for (unsigned i = 0; i < board->choice_count; i++) {
        const struct uvk_choice *choice = &board->choices[i];
        json_t *options = json_array();
        for (unsigned option = 0; option < choice->option_count; option++) {
            json_array_append_new(options, json_string(choice->options[option]));
        }
        json_array_append_new(list,
                              json_pack("{sssoss}", "name", choice->name, "options", options,
                                        "chosen", choice->options[choice->chosen]));
    }
    return list;
}

static json_t *knobs_to_json(const struct uvk_board *board)
{
    json_t *list = json_array();

    for (unsigned i = 0; i < board->knob_count; i++) {
        const struct uvk_knob *knob = &board->knobs[i];
        json_t *json = json_pack("{ss}", "name", knob->name);
        if (board->half_count > 1) {
            json_object_set_new(json, "half", json_string(board->halves[knob->half].name));
        }
        json_object_set_new(json, "pins", pins_to_json(knob->pins, 2));
        json_object_set_new(json, "detent", json_integer(knob->detent));
        json_object_set_new(json, "flipped", json_boolean(knob->flipped));
        if (knob->push < 0) {
            json_object_set_new(json, "x", number_to_json(knob->x));
            json_object_set_new(json, "y", number_to_json(knob->y));
            hand_to_json(json, board->half_count > 1 ? UVK_EITHER_HAND : knob->hand);
        }
        json_array_append_new(list, json);
    }
    return list;
}

json_t *settings_to_json(const struct uvk_setting_text *settings,
                         const struct uvk_setting_text *others)
{
    json_t *json = json_object();

    for (unsigned i = 0; i < UVK_SETTINGS; i++) {
        const struct uvk_place *place = &settings[i].place;
        bool inherited = others != NULL && others[i].place.source == place->source &&
                         others[i].place.at == place->at;
        if (place->source == NULL || inherited || i == UVK_SET_LEADER_WITHIN) {
            continue;
        }
        json_object_set_new(json, uvk_setting_names[i].name,
                            uvk_setting_names[i].unit == NULL
                                ? time_to_json(settings[i].value)
                                : number_to_json(settings[i].value));
    }
    return json;
}

/* What lies above each lamp, strip by strip. */
static json_t *above_to_json(const struct uvk_board *board)
{
    json_t *list = json_array();

    for (unsigned which = 0; which < uvk_board_strips(board); which++) {
        for (unsigned i = 0; i < board->strip.count; i++) {
            int key = board->strip.keys[which][i];
            char *place = key >= 0 ? uvk_cell_place(board, (unsigned)key) : g_strdup("+");
            json_array_append_new(list, json_string(place));
            g_free(place);
        }
    }
    return list;
}

static json_t *strip_to_json(const struct uvk_board *board)
{
    const struct uvk_strip *strip = &board->strip;
    json_t *json = json_pack("{sosisssi}", "pin", pin_to_json(strip->pin), "count",
                             strip->count, "order", strip->order, "limit", strip->limit);

    if (strip->at_place.source != NULL) {
        json_object_set_new(json, "at", above_to_json(board));
    }
    return json;
}

static json_t *own_lamps_to_json(const struct uvk_board *board)
{
    json_t *list = json_array();

    for (unsigned i = 0; i < board->lamp_count; i++) {
        const struct uvk_lamp_text *lamp = &board->lamps[i];
        json_array_append_new(list, json_pack("{sssoss}", "tells", uvk_lamp_name(lamp), "pin",
                                              pin_to_json(lamp->pin), "to",
                                              lamp->to_power ? "power" : "ground"));
    }
    return list;
}

static void add_lamps(json_t *json, const struct uvk_board *board)
{
    if (board->backlight.place.source != NULL) {
        const struct uvk_backlight *light = &board->backlight;
        json_t *lamp = json_pack("{sosisi}", "pin", pin_to_json(light->pin), "levels",
                                 light->levels, "start", light->start);
        if (light->breathe > 0) {
            json_object_set_new(lamp, "breathe", time_to_json(light->breathe));
        }
        json_object_set_new(json, "backlight", lamp);
    }
    if (board->strip.place.source != NULL) {
        json_object_set_new(json, "strip", strip_to_json(board));
    }
    if (board->lamp_count > 0) {
        json_object_set_new(json, "lamps", own_lamps_to_json(board));
    }
}

/* VALUE (owned), but not if nothing is in it. */
static void add_unless_empty(json_t *json, const char *name, json_t *value)
{
    if (json_array_size(value) > 0 || json_object_size(value) > 0) {
        json_object_set(json, name, value);
    }
    json_decref(value);
}

json_t *board_to_json(const struct uvk_program *program, json_t *keys)
{
    const struct uvk_board *board = program->board;
    json_t *json = json_pack("{ssssssss}", "name", board->name, "title", board->title, "chip",
                             board->chip->name, "boot", board->boot);

    json_object_set_new(json, "usb", usb_to_json(board));
    add_unless_empty(json, "pin-names", pin_names_to_json(board));
    add_halves(json, board);
    if (board->settle != SETTLE_USUAL) {
        json_object_set_new(json, "settle", time_to_json(board->settle));
    }
    add_unless_empty(json, "settings", settings_to_json(board->settings, NULL));
    add_unless_empty(json, "choices", choices_to_json(board));
    add_unless_empty(json, "knobs", knobs_to_json(board));
    json_object_set_new(json, "keys", keys);
    add_lamps(json, board);
    return json;
}
