/* keymap_in.c - the text of a keymap. */
#include "read.h"
#include "shape.h"

#include <string.h>

static void put_member_time(struct text_out *out, const json_t *object, const char *pointer,
                            const char *name)
{
    const json_t *value = json_object_get(object, name);
    guint span;

    if (value != NULL) {
        span = span_begin(out, pointer_to(pointer, name));
        out_put(out, "%s ", name);
        out_time(out, json_number_value(value));
        out_put(out, "; ");
        span_end(out, span);
    }
}

static void put_host(struct text_out *out, const json_t *keymap)
{
    const json_t *host = json_object_get(keymap, "host");

    if (host == NULL) {
        return;
    }
    out_put(out, "  host ");
    out_text(out, "/keymap/host/system", json_object_get(host, "system"));
    out_put(out, " ");
    out_text(out, "/keymap/host/layout", json_object_get(host, "layout"));
    out_put(out, "\n");
}

static void put_chosen(struct text_out *out, const json_t *choice, const char *pointer,
                       void *data)
{
    (void)pointer;
    (void)data;
    if (json_object_get(choice, "chosen") != NULL) {
        out_put(out, "  choice %s %s\n", text_of(choice, "name", ""),
                text_of(choice, "chosen", ""));
    }
}

/* What a feel does without being told need not be written. */
static void put_feel_time(struct text_out *out, const json_t *feel, const char *pointer,
                          const char *name, double usual)
{
    if (number_of(feel, name, usual) != usual) {
        put_member_time(out, feel, pointer, name);
    }
}

static void put_feel(struct text_out *out, const json_t *feel, const char *pointer, void *data)
{
    const char *name = text_of(feel, "name", "");
    size_t start = out->text->len;
    size_t empty;

    (void)data;
    out_put(out, "  feel %s { ", name);
    empty = out->text->len;
    put_feel_time(out, feel, pointer, "hold-after", 200);
    if (strcmp(text_of(feel, "decide", "on-timeout"), "on-timeout") != 0) {
        out_put(out, "decide %s; ", text_of(feel, "decide", ""));
    }
    out_put(out, "%s", flag_of(feel, "other-hand") ? "other-hand; " : "");
    put_feel_time(out, feel, pointer, "rest", 0);
    put_feel_time(out, feel, pointer, "again", 0);
    if (strcmp(text_of(feel, "alone", "hold"), "tap") == 0) {
        out_put(out, "alone tap; ");
    }
    if (out->text->len == empty && strcmp(name, "default") == 0) {
        g_string_truncate(out->text, start);
    } else {
        end_items(out);
        out_put(out, " }\n");
    }
}

/* ---- macros ---------------------------------------------------------------------------- */

static void put_act(struct text_out *out, const json_t *act, const char *pointer, void *data)
{
    const char *name;
    json_t *value;

    if (json_object_size(act) != 1) {
        add_problem(out->problems, pointer, "a step has one member that says what is done");
        return;
    }
    json_object_foreach((json_t *)act, name, value)
    {
        char *at = pointer_to(pointer, name);
        out_put(out, "%s%s ", (const char *)data, name);
        if (json_is_number(value)) {
            out_time(out, json_number_value(value));
        } else if (strcmp(name, "do") == 0) {
            out_put(out, "%s", json_string_value(value));
        } else if (strcmp(name, "type") == 0) {
            out_string(out, json_string_value(value));
        } else {
            out_cell(out, at, value);
        }
        out_put(out, "\n");
        g_free(at);
    }
}

static void put_macro(struct text_out *out, const json_t *macro, const char *pointer,
                      void *data)
{
    (void)data;
    out_put(out, "  macro %s {\n", text_of(macro, "name", ""));
    for_each(out, macro, "steps", pointer, put_act, "    ");
    if (json_array_size(json_object_get(macro, "on-release")) > 0) {
        out_put(out, "    on-release {\n");
        for_each(out, macro, "on-release", pointer, put_act, "      ");
        out_put(out, "    }\n");
    }
    out_put(out, "  }\n");
}

/* ---- dances, combos, the leader, long presses ------------------------------------------- */

static void put_does(struct text_out *out, const json_t *object, const char *pointer)
{
    char *at = pointer_to(pointer, "does");

    out_put(out, " -> ");
    out_cell(out, at, json_object_get(object, "does"));
    g_free(at);
}

static void put_dance_line(struct text_out *out, const json_t *line, const char *pointer,
                           void *data)
{
    (void)data;
    out_put(out, "    %s", text_of(line, "touches", ""));
    put_does(out, line, pointer);
    out_put(out, "\n");
}

static void put_dance(struct text_out *out, const json_t *dance, const char *pointer,
                      void *data)
{
    (void)data;
    out_put(out, "  dance %s {\n", text_of(dance, "name", ""));
    for_each(out, dance, "lines", pointer, put_dance_line, NULL);
    out_put(out, "    ");
    put_member_time(out, dance, pointer, "within");
    end_items(out);
    out_put(out, "\n  }\n");
}

/* The addresses of OBJECT's keys with BETWEEN them. */
static void put_addresses(struct text_out *out, const json_t *object, const char *pointer,
                          const char *between)
{
    const json_t *keys = json_object_get(object, "keys");

    for (size_t i = 0; i < json_array_size(keys); i++) {
        char *at = g_strdup_printf("%s/keys/%zu", pointer, i);
        out_put(out, "%s", i > 0 ? between : "");
        out_text(out, at, json_array_get(keys, i));
        g_free(at);
    }
}

static void put_combo(struct text_out *out, const json_t *combo, const char *pointer,
                      void *data)
{
    const json_t *on = json_object_get(combo, "on");

    (void)data;
    out_put(out, "  combo ");
    put_addresses(out, combo, pointer, "+");
    put_does(out, combo, pointer);
    out_put(out, " { ");
    put_member_time(out, combo, pointer, "within");
    if (json_array_size(on) > 0) {
        out_put(out, "on");
        for (size_t i = 0; i < json_array_size(on); i++) {
            char *at = g_strdup_printf("%s/on/%zu", pointer, i);
            out_put(out, " ");
            out_text(out, at, json_array_get(on, i));
            g_free(at);
        }
        out_put(out, "; ");
    }
    out_put(out, "until %s }\n", text_of(combo, "until", "first-up"));
}

static void put_sequence(struct text_out *out, const json_t *sequence, const char *pointer,
                         void *data)
{
    (void)data;
    out_put(out, "    ");
    put_addresses(out, sequence, pointer, " ");
    put_does(out, sequence, pointer);
    out_put(out, "\n");
}

static void put_leader(struct text_out *out, const json_t *keymap)
{
    const json_t *leader = json_object_get(keymap, "leader");

    if (leader == NULL) {
        return;
    }
    out_put(out, "  leader {\n    ");
    put_member_time(out, leader, "/keymap/leader", "within");
    end_items(out);
    out_put(out, "\n");
    for_each(out, leader, "sequences", "/keymap/leader", put_sequence, NULL);
    out_put(out, "  }\n");
}

static void put_exception(struct text_out *out, const json_t *cell, const char *pointer,
                          void *data)
{
    (void)data;
    out_put(out, " ");
    out_cell(out, pointer, cell);
}

static void put_long_press(struct text_out *out, const json_t *keymap)
{
    const json_t *press = json_object_get(keymap, "long-press");
    const json_t *kinds = json_object_get(press, "kinds");

    if (press == NULL) {
        return;
    }
    out_put(out, "  long-press { ");
    for (size_t i = 0; i < json_array_size(kinds); i++) {
        out_put(out, "%s; ", json_string_value(json_array_get(kinds, i)));
    }
    put_member_time(out, press, "/keymap/long-press", "after");
    put_member_time(out, press, "/keymap/long-press", "repeat");
    if (json_array_size(json_object_get(press, "except")) > 0) {
        out_put(out, "except");
        for_each(out, press, "except", "/keymap/long-press", put_exception, NULL);
    }
    end_items(out);
    out_put(out, " }\n");
}

static void put_live(struct text_out *out, const json_t *keymap)
{
    const json_t *live = json_object_get(keymap, "live");

    if (live != NULL) {
        out_put(out, "  live { room %d }\n",
                (int)json_integer_value(json_object_get(live, "room")));
    }
}

static void put_lights(struct text_out *out, const json_t *keymap)
{
    const json_t *lights = json_object_get(keymap, "lights");

    if (lights == NULL) {
        return;
    }
    out_put(out, "  lights { effect %s; colour %s; ", text_of(lights, "effect", "still"),
            text_of(lights, "colour", "#ffffff"));
    put_member_time(out, lights, "/keymap/lights", "speed");
    end_items(out);
    out_put(out, " }\n");
}

/* ---- layers ---------------------------------------------------------------------------- */

/* The keys that are there, half by half in line NUMBER. */
static void put_layer_line(struct text_out *out, const json_t *cells, const char *pointer,
                           const struct placed_board *placed, unsigned number)
{
    bool any = false;

    for (unsigned half = 0; half < placed->halves; half++) {
        for (guint i = 0; i < placed->keys->len; i++) {
            const struct placed_key *key = &g_array_index(placed->keys, struct placed_key, i);
            const char *address = text_of(key->json, "address", "");
            const json_t *cell = json_object_get(cells, address);
            char *at = pointer_to(pointer, address);
            bool here = key->half == half && key->line == number && !key->is_knob &&
                        key_is_there(placed, key, placed->chosen);
            if (here && cell != NULL) {
                out_put(out, "  ");
                out_cell(out, at, cell);
            } else if (here) {
                out_put(out, "  .");
            }
            any |= here;
            g_free(at);
        }
    }
    out_put(out, "%s", any ? "\n" : "");
}

static bool has_key(const struct placed_board *placed, const char *address)
{
    for (guint i = 0; i < placed->keys->len; i++) {
        const struct placed_key *key = &g_array_index(placed->keys, struct placed_key, i);
        if (!key->is_knob && key_is_there(placed, key, placed->chosen) &&
            strcmp(text_of(key->json, "address", ""), address) == 0) {
            return true;
        }
    }
    return false;
}

static void put_cells(struct text_out *out, const json_t *layer, const char *pointer,
                      const struct placed_board *placed)
{
    const json_t *cells = json_object_get(layer, "cells");
    char *at = pointer_to(pointer, "cells");
    const char *address;
    json_t *cell;

    json_object_foreach((json_t *)cells, address, cell)
    {
        if (!has_key(placed, address)) {
            char *there = pointer_to(at, address);
            add_problem(out->problems, there, "no key of the board has this address%s",
                        placed->all.choices > 0 ? ", with the layout choices in force" : "");
            g_free(there);
        }
    }
    for (unsigned line = 0; line < MAX(placed->lines[0], placed->lines[1]); line++) {
        put_layer_line(out, cells, at, placed, line);
    }
    g_free(at);
}

static void put_turns(struct text_out *out, const json_t *layer, const char *pointer)
{
    const char *name;
    json_t *turns;

    json_object_foreach(json_object_get(layer, "knobs"), name, turns)
    {
        char *at = g_strdup_printf("%s/knobs/%s", pointer, name);
        char *left = pointer_to(at, "left");
        char *right = pointer_to(at, "right");
        guint span = span_begin(out, at);
        out_put(out, "    knob %s ", name);
        out_cell(out, left, json_object_get(turns, "left"));
        out_put(out, " ");
        out_cell(out, right, json_object_get(turns, "right"));
        span_end(out, span);
        out_put(out, "\n");
        g_free(left);
        g_free(right);
    }
}

static void put_layer(struct text_out *out, const json_t *layer, const char *pointer,
                      void *data)
{
    const json_t *when = json_object_get(layer, "when");

    out_put(out, "  layer %s", text_of(layer, "name", ""));
    if (when != NULL) {
        out_put(out, " when %s+%s", json_string_value(json_array_get(when, 0)),
                json_string_value(json_array_get(when, 1)));
    }
    out_put(out, " {\n");
    if (json_object_get(layer, "light") != NULL) {
        out_put(out, "    light %s\n", text_of(layer, "light", ""));
    }
    put_cells(out, layer, pointer, data);
    put_turns(out, layer, pointer);
    out_put(out, "  }\n");
}

void put_keymap(struct text_out *out, const json_t *json, const struct placed_board *placed)
{
    const json_t *keymap = json_object_get(json, "keymap");
    guint span;

    if (keymap == NULL) {
        return;
    }
    span = span_begin(out, g_strdup("/keymap"));
    out_put(out, "\nkeymap ");
    out_text(out, "/keymap/name", json_object_get(keymap, "name"));
    out_put(out, " {\n");
    put_host(out, keymap);
    for_each(out, placed->json, "choices", "/board", put_chosen, NULL);
    out_put(out, "%s", flag_of(keymap, "unicode") ? "  set unicode on\n" : "");
    put_settings(out, keymap, "/keymap");
    for_each(out, keymap, "feels", "/keymap", put_feel, NULL);
    for_each(out, keymap, "macros", "/keymap", put_macro, NULL);
    for_each(out, keymap, "dances", "/keymap", put_dance, NULL);
    put_leader(out, keymap);
    put_long_press(out, keymap);
    put_live(out, keymap);
    put_lights(out, keymap);
    for_each(out, keymap, "layers", "/keymap", put_layer, (void *)placed);
    for_each(out, keymap, "combos", "/keymap", put_combo, NULL);
    out_put(out, "}\n");
    span_end(out, span);
}
