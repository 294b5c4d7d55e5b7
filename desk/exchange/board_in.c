/* board_in.c - the text of a board. */
#include "read.h"
#include "shape.h"

#include <string.h>

/* A member of BOARD as a text that stands for itself: `word TEXT`. */
static void put_word(struct text_out *out, const json_t *object, const char *pointer,
                     const char *name, const char *word)
{
    const json_t *value = json_object_get(object, name);
    char *at = pointer_to(pointer, name);

    if (value != NULL) {
        out_put(out, "  %s ", word);
        out_text(out, at, value);
        out_put(out, "\n");
    }
    g_free(at);
}

static void put_whole(struct text_out *out, const json_t *object, const char *pointer,
                      const char *name, const char *before)
{
    char *at = pointer_to(pointer, name);
    guint span = span_begin(out, at);

    if (json_object_get(object, name) != NULL) {
        out_put(out, "%s", before);
        out_number(out, number_of(object, name, 0));
        out_put(out, "; ");
    }
    span_end(out, span);
}

static void put_usb(struct text_out *out, const json_t *board)
{
    const json_t *usb = json_object_get(board, "usb");

    if (usb == NULL) {
        return;
    }
    out_put(out, "  usb { ");
    if (json_object_get(usb, "vendor") != NULL) {
        out_put(out, "vendor 0x%04X; ", (unsigned)number_of(usb, "vendor", 0));
    }
    if (json_object_get(usb, "product") != NULL) {
        out_put(out, "product 0x%04X; ", (unsigned)number_of(usb, "product", 0));
    }
    if (json_object_get(usb, "maker") != NULL) {
        guint span;
        out_put(out, "maker ");
        span = span_begin(out, g_strdup("/board/usb/maker"));
        out_string(out, text_of(usb, "maker", ""));
        span_end(out, span);
    }
    out_put(out, " }\n");
}

static void put_pin_names(struct text_out *out, const json_t *board)
{
    const json_t *names = json_object_get(board, "pin-names");
    const char *name;
    json_t *pin;

    json_object_foreach((json_t *)names, name, pin)
    {
        char *at = pointer_to("/board/pin-names", name);
        guint span = span_begin(out, at);
        out_put(out, "  pins ");
        out_string(out, name);
        out_put(out, " %s", json_string_value(pin));
        span_end(out, span);
        out_put(out, "\n");
    }
}

static void put_names(struct text_out *out, const json_t *object, const char *pointer,
                      const char *name)
{
    const json_t *pins = json_object_get(object, name);

    for (size_t i = 0; i < json_array_size(pins); i++) {
        char *at = g_strdup_printf("%s/%s/%zu", pointer, name, i);
        out_put(out, " ");
        out_text(out, at, json_array_get(pins, i));
        g_free(at);
    }
}

static void put_link(struct text_out *out, const json_t *board)
{
    const json_t *link = json_object_get(board, "link");
    const json_t *receive = json_object_get(link, "receive");

    if (link == NULL) {
        return;
    }
    out_put(out, "    link %s ", receive != NULL ? "uart" : "wire");
    out_text(out, "/board/link/transmit", json_object_get(link, "transmit"));
    if (receive != NULL) {
        out_put(out, " ");
        out_text(out, "/board/link/receive", receive);
    }
    out_put(out, "%s\n", flag_of(link, "straight") ? " straight" : "");
    if (json_object_get(link, "speed") != NULL) {
        put_whole(out, link, "/board/link", "speed", "    speed ");
        end_items(out);
        out_put(out, "\n");
    }
}

static void put_main(struct text_out *out, const json_t *board)
{
    const json_t *halves = json_object_get(board, "halves");
    const char *rule = text_of(board, "main", "usb");
    int half = strcmp(rule, "first") == 0 ? 0 : strcmp(rule, "second") == 0 ? 1 : -1;

    out_put(out, "    main %s",
            half < 0 ? rule : text_of(json_array_get(halves, (size_t)half), "name", ""));
    if (json_object_get(board, "main-pin") != NULL) {
        out_put(out, " ");
        out_text(out, "/board/main-pin", json_object_get(board, "main-pin"));
    }
    out_put(out, "\n");
}

static void put_half_names(struct text_out *out, const json_t *board)
{
    const json_t *halves = json_object_get(board, "halves");

    if (json_array_size(halves) == 1) {
        return;
    }
    out_put(out, "  halves");
    for (size_t i = 0; i < UVK_HALVES; i++) {
        char *at = g_strdup_printf("/board/halves/%zu", i);
        const json_t *name = json_object_get(json_array_get(halves, i), "name");
        out_put(out, " ");
        if (name == NULL) {
            add_problem(out->problems, at,
                        "the member 'name' is missing: there are two halves");
        } else {
            out_text(out, at, name);
        }
        g_free(at);
    }
    out_put(out, " {\n");
    put_main(out, board);
    put_link(out, board);
    out_put(out, "  }\n");
}

static void put_matrix(struct text_out *out, const json_t *half, const char *pointer,
                       const char *name, double settle)
{
    const json_t *matrix = json_object_get(half, "matrix");
    char *at = pointer_to(pointer, "matrix");

    if (matrix != NULL) {
        out_put(out, "  matrix %s {\n    rows", name);
        put_names(out, matrix, at, "rows");
        out_put(out, "\n    cols");
        put_names(out, matrix, at, "cols");
        out_put(out, "\n    flow %s\n", text_of(matrix, "flow", ""));
        if (json_array_size(json_object_get(matrix, "spare")) > 0) {
            out_put(out, "    spare");
            put_names(out, matrix, at, "spare");
            out_put(out, "\n");
        }
        if (settle >= 0) {
            guint span;
            out_put(out, "    settle ");
            span = span_begin(out, g_strdup("/board/settle"));
            out_time(out, settle);
            span_end(out, span);
            out_put(out, "\n");
        }
        out_put(out, "  }\n");
    }
    g_free(at);
}

static void put_direct(struct text_out *out, const json_t *half, const char *pointer,
                       const char *name)
{
    const json_t *direct = json_object_get(half, "direct");
    char *at = pointer_to(pointer, "direct");

    if (direct != NULL) {
        out_put(out, "  direct %s {\n    pins", name);
        put_names(out, direct, at, "pins");
        out_put(out, "\n    to %s\n  }\n", text_of(direct, "to", "ground"));
    }
    g_free(at);
}

static bool same_member(const json_t *a, const json_t *b, const char *name)
{
    const json_t *one = json_object_get(a, name);
    const json_t *two = json_object_get(b, name);

    return one == two || (one != NULL && two != NULL && json_equal(one, two));
}

/* Two halves that are wired alike are written once. */
static void put_wires(struct text_out *out, const json_t *board)
{
    const json_t *halves = json_object_get(board, "halves");
    const json_t *first = json_array_get(halves, 0);
    const json_t *second = json_array_get(halves, 1);
    bool split = json_array_size(halves) > 1;
    bool alike = split && same_member(first, second, "matrix") &&
                 same_member(first, second, "direct") && json_object_get(board, "link") != NULL;
    double settle = number_of(board, "settle", -1);

    for (size_t i = 0; i < json_array_size(halves) && (i == 0 || !alike); i++) {
        const json_t *half = json_array_get(halves, i);
        const char *name = split && !alike ? text_of(half, "name", "") : "";
        char *at = g_strdup_printf("/board/halves/%zu", i);
        put_matrix(out, half, at, name, settle);
        put_direct(out, half, at, name);
        settle = json_object_get(half, "matrix") != NULL ? -1 : settle;
        g_free(at);
    }
}

static void put_option(struct text_out *out, const json_t *choice, const char *pointer,
                       void *data)
{
    const json_t *options = json_object_get(choice, "options");

    (void)pointer;
    (void)data;
    out_put(out, "  choice %s {", text_of(choice, "name", ""));
    for (size_t i = 0; i < json_array_size(options); i++) {
        out_put(out, " %s", json_string_value(json_array_get(options, i)));
    }
    out_put(out, " }\n");
}

static void put_knob(struct text_out *out, const json_t *knob, const char *pointer, void *data)
{
    (void)data;
    out_put(out, "  knob %s %s { pins", text_of(knob, "name", ""), text_of(knob, "half", ""));
    put_names(out, knob, pointer, "pins");
    out_put(out, "; ");
    put_whole(out, knob, pointer, "detent", "detent ");
    out_put(out, "%s", flag_of(knob, "flipped") ? "flipped" : "");
    end_items(out);
    out_put(out, " }\n");
}

static void put_backlight(struct text_out *out, const json_t *board)
{
    const json_t *light = json_object_get(board, "backlight");

    if (light == NULL) {
        return;
    }
    out_put(out, "  backlight ");
    out_text(out, "/board/backlight/pin", json_object_get(light, "pin"));
    out_put(out, " { ");
    put_whole(out, light, "/board/backlight", "levels", "levels ");
    put_whole(out, light, "/board/backlight", "start", "start ");
    if (number_of(light, "breathe", 0) > 0) {
        guint span = span_begin(out, g_strdup("/board/backlight/breathe"));
        out_put(out, "breathe ");
        out_time(out, number_of(light, "breathe", 0));
        span_end(out, span);
    }
    end_items(out);
    out_put(out, " }\n");
}

/* at [HALF] ADDRESS ...; of linked halves, the lamps of the first come first. */
static void put_above(struct text_out *out, const json_t *board, const json_t *strip)
{
    const json_t *at = json_object_get(strip, "at");
    const json_t *halves = json_object_get(board, "halves");
    bool linked = json_object_get(board, "link") != NULL;
    size_t count = (size_t)number_of(strip, "count", 1);

    for (size_t i = 0; i < json_array_size(at); i++) {
        char *pointer = g_strdup_printf("/board/strip/at/%zu", i);
        if (i == 0 || (linked && i == count)) {
            const json_t *half = linked ? json_array_get(halves, i / count) : NULL;
            end_items(out);
            out_put(out, "; at %s", text_of(half, "name", ""));
        }
        out_put(out, " ");
        out_text(out, pointer, json_array_get(at, i));
        g_free(pointer);
    }
}

static void put_strip(struct text_out *out, const json_t *board)
{
    const json_t *strip = json_object_get(board, "strip");

    if (strip == NULL) {
        return;
    }
    out_put(out, "  strip ");
    out_text(out, "/board/strip/pin", json_object_get(strip, "pin"));
    out_put(out, " { ");
    put_whole(out, strip, "/board/strip", "count", "count ");
    out_put(out, "order %s; ", text_of(strip, "order", "grb"));
    if (json_object_get(strip, "limit") != NULL) {
        out_put(out, "limit %dmA; ", (int)number_of(strip, "limit", 0));
    }
    if (json_object_get(strip, "at") != NULL) {
        put_above(out, board, strip);
    }
    end_items(out);
    out_put(out, " }\n");
}

static void put_lamp(struct text_out *out, const json_t *lamp, const char *pointer, void *data)
{
    char *tells = pointer_to(pointer, "tells");
    char *pin = pointer_to(pointer, "pin");

    (void)data;
    out_put(out, "  lamp ");
    out_text(out, tells, json_object_get(lamp, "tells"));
    out_put(out, " ");
    out_text(out, pin, json_object_get(lamp, "pin"));
    out_put(out, " to %s\n", text_of(lamp, "to", "ground"));
    g_free(tells);
    g_free(pin);
}

void put_settings(struct text_out *out, const json_t *object, const char *pointer)
{
    const char *name;
    json_t *value;

    json_object_foreach(json_object_get(object, "settings"), name, value)
    {
        const struct uvk_setting_name *setting = uvk_setting_named(name);
        guint span = span_begin(out, g_strdup_printf("%s/settings/%s", pointer, name));
        out_put(out, "  set %s ", name);
        if (setting != NULL && setting->unit == NULL) {
            out_time(out, json_number_value(value));
        } else {
            out_number(out, json_number_value(value));
        }
        span_end(out, span);
        out_put(out, "\n");
    }
}

void put_board(struct text_out *out, struct placed_board *placed)
{
    const json_t *board = placed->json;
    guint span = span_begin(out, g_strdup("/board"));
    guint title;

    out_put(out, "board ");
    out_text(out, "/board/name", json_object_get(board, "name"));
    out_put(out, " {\n  title ");
    title = span_begin(out, g_strdup("/board/title"));
    out_string(out, text_of(board, "title", text_of(board, "name", "")));
    span_end(out, title);
    out_put(out, "\n");
    put_word(out, board, "/board", "chip", "chip");
    put_usb(out, board);
    put_word(out, board, "/board", "boot", "boot");
    put_pin_names(out, board);
    put_half_names(out, board);
    put_wires(out, board);
    put_settings(out, board, "/board");
    for_each(out, board, "choices", "/board", put_option, NULL);
    for_each(out, board, "knobs", "/board", put_knob, NULL);
    put_backlight(out, board);
    put_strip(out, board);
    for_each(out, board, "lamps", "/board", put_lamp, NULL);
    put_keys(out, placed);
    out_put(out, "}\n");
    span_end(out, span);
}
