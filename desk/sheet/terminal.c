/* terminal.c - sheets for a terminal: the board in boxes, and what has no room below. */
#include "boxes.h"
#include "notes.h"
#include "words.h"

#include "uvrek/sheet.h"

#include <string.h>

/* ---- layers ----------------------------------------------------------------------------- */

struct layer {
    const struct uvk_program *program;
    const struct uvk_ways *ways;
    unsigned layer;
};

/* What shows through from a lower layer stands behind a dot. */
static struct box_lines lines_of_cell(const void *data, unsigned key)
{
    const struct layer *layer = data;
    struct label label = uvk_label_of(layer->program, layer->ways, layer->layer, key);
    struct box_lines lines = {.upper = g_strdup(label.tap), .lower = NULL};
    const struct uvk_knob *knob = uvk_knob_of_key(layer->program->board, key);

    if (label.finger) {
        lines.lower = g_strdup("■");
    } else if (label.lower) {
        lines.lower = g_strdup("·");
        lines.upper_first = true;
    } else if (label.foot != NULL) {
        lines.lower = g_strdup(label.foot);
    } else if (knob != NULL) {
        lines.lower = g_strdup_printf("(%s)", knob->name);
    }
    if (label.tap[0] == '\0') {
        g_free(lines.upper);
        lines.upper = g_strdup("–");
    }
    uvk_label_clear(&label);
    return lines;
}

/* Boxes have no room for the letters of combos. */
static const char *head_of(const struct note *note)
{
    return note->combo ? "combo" : note->head;
}

static void append_notes(GString *out, const struct layer *layer, unsigned columns)
{
    GPtrArray *notes = notes_of(layer->program, layer->ways, layer->layer);
    glong indent = 0;

    for (guint i = 0; i < notes->len; i++) {
        const struct note *note = g_ptr_array_index(notes, i);
        indent = MAX(indent, g_utf8_strlen(head_of(note), -1));
    }
    for (guint i = 0; i < notes->len; i++) {
        const struct note *note = g_ptr_array_index(notes, i);
        boxes_wrapped(out, head_of(note), (unsigned)MIN(indent + 3, 20), note->text, columns);
    }
    g_ptr_array_free(notes, TRUE);
}

/* The name of a layer, and the way to it. */
static void append_head(GString *out, const char *name, const struct uvk_way *way,
                        unsigned columns)
{
    glong room = (glong)columns - g_utf8_strlen(name, -1) - 2;
    const char *text = g_utf8_strlen(way->text, -1) <= room         ? way->text
                       : g_utf8_strlen(way->short_text, -1) <= room ? way->short_text
                                                                    : "";

    g_string_append_printf(out, "%s%s%s%s\n", out->len > 0 ? "\n" : "", name,
                           text[0] != '\0' ? ": " : "", text);
}

static void append_layers(GString *out, const struct uvk_program *program,
                          const struct uvk_sheet *sheet, unsigned columns)
{
    struct uvk_ways *ways = uvk_ways_find(program);

    for (unsigned i = 0; i < program->keymap->layer_count; i++) {
        struct layer layer = {.program = program, .ways = ways, .layer = i};
        if (sheet->layer >= 0 && sheet->layer != (int)i) {
            continue;
        }
        append_head(out, program->keymap->layers[i].name, &ways->of[i], columns);
        boxes_append(out, program->board, columns, lines_of_cell, &layer);
        append_notes(out, &layer, columns);
    }
    uvk_ways_free(ways);
}

/* ---- wiring ------------------------------------------------------------------------------ */

/* An address that has no room on one line stands on two. */
static struct box_lines lines_of_wires(const void *data, unsigned key)
{
    const struct uvk_board *board = data;

    return (struct box_lines){.upper = label_address(board, key),
                              .lower = uvk_key_wires(board, key),
                              .upper_first = true};
}

/* In lines that are not longer than COLUMNS. */
static void append_pins(GString *out, const struct uvk_board *board, const char *what,
                        const char *letter, const struct uvk_pin *const *pins, unsigned count,
                        unsigned columns)
{
    GString *list = g_string_new(NULL);

    for (unsigned i = 0; i < count; i++) {
        g_string_append_printf(list, "%s%s%u\u00A0%s", i > 0 ? ", " : "", letter, i,
                               uvk_pin_label(board, pins[i]));
    }
    if (count > 0) {
        boxes_wrapped(out, what, 10, list->str, columns);
        g_string_replace(out, "\u00A0", " ", 0); /* so far it kept both together */
    }
    g_string_free(list, TRUE);
}

/* Rows and columns by their pins: narrow keys have no room for them. */
static void append_legend(GString *out, const struct uvk_board *board,
                          const struct uvk_half *half, unsigned columns)
{
    static const char *const flows[] = {"from row to column", "from column to row",
                                        "both ways: there are no diodes"};

    g_string_append_printf(out, "%s%s", half->name, half->name[0] != '\0' ? "\n" : "");
    append_pins(out, board, "rows", "r", half->rows, half->row_count, columns);
    append_pins(out, board, "columns", "c", half->cols, half->col_count, columns);
    append_pins(out, board, "direct", "d", half->direct, half->direct_count, columns);
    if (half->row_count > 0) {
        g_string_append_printf(out, "  current flows %s\n", flows[half->flow]);
    }
    if (half->direct_count > 0) {
        g_string_append_printf(out, "  direct switches close to %s\n",
                               half->to_power ? "power" : "ground");
    }
}

static void append_wiring(GString *out, const struct uvk_program *program, unsigned columns)
{
    const struct uvk_board *board = program->board;
    char *others = uvk_other_wires(board);

    g_string_append_printf(out, "%s: addresses, and pins the way the current flows\n",
                           board->title);
    boxes_append(out, board, columns, lines_of_wires, board);
    for (unsigned i = 0; i < board->half_count; i++) {
        append_legend(out, board, &board->halves[i], columns);
    }
    if (others[0] != '\0') {
        g_string_append_printf(out, "%s\n", others);
    }
    g_free(others);
}

/* ---- choices ---------------------------------------------------------------------------- */

struct choosing {
    const struct uvk_board *board, *usual; /* usual NULL: it is the usual one */
};

/* What only this choice has is marked. */
static struct box_lines lines_of_place(const void *data, unsigned key)
{
    const struct choosing *choosing = data;
    struct box_lines lines = {.upper = label_address(choosing->board, key),
                              .upper_first = true};

    if (choosing->usual != NULL &&
        !uvk_board_has_key(choosing->usual, &choosing->board->keys[key])) {
        lines.lower = g_strdup("■");
    }
    return lines;
}

static void append_choices(GString *out, const struct uvk_program *program, unsigned columns)
{
    GPtrArray *variants = uvk_board_variants(program);

    for (guint i = 0; i < variants->len; i++) {
        const struct uvk_variant *variant = g_ptr_array_index(variants, i);
        const struct uvk_board *board = variant->program->board;
        struct choosing choosing = {.board = board, .usual = i > 0 ? program->board : NULL};
        g_string_append_printf(out, "%s%s\n", i > 0 ? "\n" : "", variant->title);
        boxes_append(out, board, columns, lines_of_place, &choosing);
    }
    g_ptr_array_free(variants, TRUE);
}

/* ---- pairs of pins ---------------------------------------------------------------------- */

/* TEXT, and spaces up to WIDTH characters. */
static void append_padded(GString *out, const char *text, int width)
{
    g_string_append(out, text);
    for (int i = (int)g_utf8_strlen(text, -1); i < width; i++) {
        g_string_append_c(out, ' ');
    }
}

static void append_pair(GString *out, const struct uvk_program *program, unsigned key)
{
    char *wires = uvk_key_wires(program->board, key);
    char *address = label_address(program->board, key);
    char *does = program->keymap != NULL ? label_of_key(program, key) : g_strdup("");

    g_string_append(out, "  ");
    append_padded(out, wires, 13);
    append_padded(out, address, does[0] != '\0' ? 9 : 0);
    g_string_append_printf(out, "%s\n", does);
    g_free(wires);
    g_free(address);
    g_free(does);
}

static void append_pairs(GString *out, const struct uvk_program *program)
{
    const struct uvk_board *board = program->board;
    char *others = uvk_other_wires(board);

    g_string_append_printf(out,
                           "%s: join two pins with tweezers, and this key is pressed\n"
                           "(through a diode the current flows one way: from the first to the "
                           "second)\n",
                           board->title);
    for (unsigned half = 0; half < board->half_count; half++) {
        g_string_append_printf(out, "\n%s%s", board->halves[half].name,
                               board->halves[half].name[0] != '\0' ? "\n" : "");
        for (unsigned key = 0; key < board->key_count; key++) {
            if (board->keys[key].half == half) {
                append_pair(out, program, key);
            }
        }
    }
    if (others[0] != '\0') {
        g_string_append_printf(out, "\n%s\n", others);
    }
    g_free(others);
}

char *uvk_sheet_text(const struct uvk_program *program, const struct uvk_sheet *sheet,
                     unsigned columns)
{
    GString *out = g_string_new(NULL);

    switch (sheet->kind) {
    case UVK_SHEET_WIRING:
        append_wiring(out, program, columns);
        break;
    case UVK_SHEET_CHOICES:
        append_choices(out, program, columns);
        break;
    case UVK_SHEET_PAIRS:
        append_pairs(out, program);
        break;
    default:
        append_layers(out, program, sheet, columns);
        break;
    }
    return g_string_free(out, FALSE);
}

/* ---- marks ------------------------------------------------------------------------------- */

static struct box_lines lines_of_mark(const void *data, unsigned key)
{
    const char *const *marks = data;

    return (struct box_lines){.upper = g_strdup(marks[key] != NULL ? marks[key] : ""),
                              .upper_first = true};
}

char *uvk_board_text(const struct uvk_board *board, const char *const *marks, unsigned columns)
{
    GString *out = g_string_new(NULL);

    boxes_append(out, board, columns, lines_of_mark, marks);
    return g_string_free(out, FALSE);
}
