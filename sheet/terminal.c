/* terminal.c - sheets for a terminal: the board in boxes, and what has no room below. */
#include "grid.h"
#include "notes.h"
#include "short.h"
#include "words.h"

#include "uvrek/sheet.h"

#include <math.h>
#include <string.h>

#define ROWS      3 /* lines of text to a key unit: border, tap, foot */
#define UNIT_MIN  5 /* characters to a key unit, its left border included */
#define UNIT_MAX  12
#define UNIT_PART 7 /* of a board that is wider than the terminal: it comes in parts */

/* ---- the board in boxes ------------------------------------------------------------------ */

/* What stands in the two lines of a key. */
struct lines {
    char *upper, *lower; /* lower NULL: the upper one may take both */
    bool upper_first;    /* it takes both rather than to be cut */
};
typedef struct lines (*lines_of)(const void *data, unsigned key);

struct form {
    const struct uvk_board *board;
    struct grid grid;
    int unit;
    double left; /* key units: where the part begins that is drawn now */
};

/* Is nothing in a column, from Y on? */
static bool is_free(const struct grid *grid, int x, int y, int height)
{
    for (int i = 0; i <= height; i++) {
        if (grid_get(grid, x, y + i) != ' ') {
            return false;
        }
    }
    return true;
}

/* Is something in the way of a box? Its border may be another one's. */
static bool is_taken(const struct grid *grid, int x, int y, int width, int height)
{
    for (int i = 1; i < width; i++) {
        if (!is_free(grid, x + i, y + 1, height - 2)) {
            return true;
        }
    }
    return false;
}

/* A turned key is drawn upright: what then lies over its neighbour is taken from its width. */
static void make_room(const struct grid *grid, int *x, int y, int *width, int height)
{
    static const int steps[][2] = {{0, 0}, {1, 1}, {0, 1}, {1, 2}, {2, 2}, {0, 2}};

    for (size_t i = 0; i < G_N_ELEMENTS(steps); i++) {
        int from = *x + steps[i][0];
        int wide = *width - steps[i][1];
        if (wide >= 3 && !is_taken(grid, from, y, wide, height)) {
            *x = from;
            *width = wide;
            return;
        }
    }
}

/* How much of TEXT stands in the first of two lines: up to a hyphen, a plus or a colon, if that
 * leaves no more than fits. */
static glong first_part(const char *text, glong width)
{
    glong length = g_utf8_strlen(text, -1);
    const char *col = strchr(text, 'c');

    if (text[0] == 'r' && g_ascii_isdigit(text[1]) && col != NULL) {
        return col - text; /* an address: r0, c10 */
    }

    for (glong at = width; at > 0; at--) {
        char before = *g_utf8_offset_to_pointer(text, at - 1);
        if (length - at <= width && strchr("-+: ", before) != NULL) {
            return at;
        }
    }
    return width;
}

/* What is long takes both lines, if the lower one is free. */
static void put_words(struct form *form, int x, int y, int width, const struct lines *lines)
{
    bool both = lines->lower == NULL || lines->upper_first;

    if (both && grid_is_long(lines->upper, width)) {
        char *text = short_text(lines->upper, 2 * width);
        glong part = first_part(text, width);
        char *first = g_utf8_substring(text, 0, part);
        grid_word(&form->grid, x, y, width, first);
        grid_word(&form->grid, x, y + 1, width, g_utf8_offset_to_pointer(text, part));
        g_free(first);
        g_free(text);
    } else {
        grid_word(&form->grid, x, y, width, lines->upper);
        /* wires that have no room are in the legend */
        bool room =
            lines->lower != NULL && !(lines->upper_first && grid_is_long(lines->lower, width));
        grid_word(&form->grid, x, y + 1, width, room ? lines->lower : "");
    }
}

/* Turned keys stand upright, where their middles are, and as wide as leaves room for their
 * neighbours. */
static void put_key(struct form *form, const struct uvk_key_place *key,
                    const struct lines *lines)
{
    double lean = fabs(sin(key->turn * G_PI / 180));
    bool lies = lean > 0.75; /* on its side */
    double wide = lies ? key->height * lean : key->width * fabs(cos(key->turn * G_PI / 180));
    double middle = key->x - form->left + key->width / 2;
    int x = (int)lround((middle - wide / 2) * form->unit);
    int y = (int)lround((key->y + (lies ? (key->height - key->width) / 2 : 0)) * ROWS);
    int width = (int)lround((middle + wide / 2) * form->unit) - x;
    int height = (int)lround((lies ? key->width : key->height) * ROWS);

    if (width < (int)lround(key->width * form->unit) && x > 0 && !lies &&
        is_free(&form->grid, x - 1, y, height)) {
        x--; /* what leaning takes from its width, it has on its left */
        width++;
    }
    if (lean > 0) {
        make_room(&form->grid, &x, y, &width, height);
    }
    grid_box(&form->grid, x, y, width, height);
    put_words(form, x + 1, y + 1, width - 1, lines);
}

static void put_knob(struct form *form, const struct uvk_knob *knob)
{
    struct uvk_key_place place = {.x = knob->x, .y = knob->y, .width = 1, .height = 1};
    char mark[] = "(o)";
    struct lines lines = {.upper = (char *)knob->name, .lower = mark};

    put_key(form, &place, &lines);
}

/* ---- parts of a wide board --------------------------------------------------------------- */

struct extent {
    double left, right;
};

static struct extent extent_of(const struct uvk_key_place *key)
{
    struct uvk_point corners[4];
    struct extent extent = {1e9, 0};

    uvk_key_corners(key, corners);
    for (unsigned i = 0; i < 4; i++) {
        extent.left = MIN(extent.left, corners[i].x);
        extent.right = MAX(extent.right, corners[i].x);
    }
    return extent;
}

/* Keys and, behind them, knobs. */
static struct extent extent_at(const struct uvk_board *board, unsigned index)
{
    if (index < board->key_count) {
        return extent_of(&board->keys[index]);
    }
    double x = board->knobs[index - board->key_count].x;
    return (struct extent){x, x + 1};
}

/* Which part each key and knob stands in, from 0 on, when a part is ROOM key units wide.
 * Returns how many parts there are, and where each begins in LEFTS. */
static unsigned find_parts(const struct uvk_board *board, double room, unsigned *part_of,
                           double *lefts)
{
    unsigned count = board->key_count + board->knob_count;
    unsigned parts = 0;
    unsigned left = count;
    bool *done = g_new0(bool, count);

    while (left > 0) {
        double begins = 1e9;
        for (unsigned i = 0; i < count; i++) {
            begins = done[i] ? begins : MIN(begins, extent_at(board, i).left);
        }
        lefts[parts] = begins;
        for (unsigned i = 0; i < count; i++) {
            struct extent extent = extent_at(board, i);
            /* a key wider than a part stands in one alone, cut at the terminal's edge */
            if (!done[i] && (extent.right <= begins + room + 0.01 || extent.left <= begins)) {
                done[i] = true;
                part_of[i] = parts;
                left--;
            }
        }
        parts++;
    }
    g_free(done);
    return parts;
}

/* The keys of one part, in boxes. */
static char *part_text(const struct uvk_board *board, int unit, int columns, double left,
                       const unsigned *part_of, unsigned part, lines_of tell, const void *data)
{
    struct form form = {.board = board, .unit = unit, .left = left};
    char *text;

    form.grid = grid_new(MIN(columns, (int)ceil(board->width * unit) + 2),
                         (int)ceil(board->height * ROWS) + 2);
    for (unsigned key = 0; key < board->key_count; key++) {
        if (part_of[key] == part) {
            struct lines lines = tell(data, key);
            put_key(&form, &board->keys[key], &lines);
            g_free(lines.upper);
            g_free(lines.lower);
        }
    }
    for (unsigned i = 0; i < board->knob_count; i++) {
        if (part_of[board->key_count + i] == part && board->knobs[i].push < 0) {
            put_knob(&form, &board->knobs[i]);
        }
    }
    text = grid_text(&form.grid);
    grid_clear(&form.grid);
    return text;
}

/* The characters that a key unit has where BOARD is COLUMNS wide; less than UNIT_MIN: it has to
 * come in parts. */
static int unit_of(const struct uvk_board *board, unsigned columns)
{
    return MIN((int)((columns - 1) / MAX(board->width, 1)), UNIT_MAX);
}

/* Lines without anything on them at the end are left out. */
static void append_trimmed(GString *out, char *text)
{
    g_string_append(out, g_strchomp(text));
    g_string_append_c(out, '\n');
}

static void append_board(GString *out, const struct uvk_board *board, unsigned columns,
                         lines_of tell, const void *data)
{
    unsigned count = board->key_count + board->knob_count;
    unsigned *part_of = g_new0(unsigned, count);
    double *lefts = g_new0(double, count);
    int unit = unit_of(board, columns);
    unsigned parts = 1;

    if (unit < UNIT_MIN) {
        unit = UNIT_PART;
        parts = find_parts(board, (double)(columns - 1) / unit, part_of, lefts);
    }
    for (unsigned part = 0; part < parts; part++) {
        char *text =
            part_text(board, unit, (int)columns, lefts[part], part_of, part, tell, data);
        if (parts > 1) {
            g_string_append_printf(out, "(part %u of %u, from the left)\n", part + 1, parts);
        }
        append_trimmed(out, text);
        g_free(text);
    }
    g_free(lefts);
    g_free(part_of);
}

/* TEXT behind HEAD, broken at spaces so that no line has more than COLUMNS characters. */
static void append_wrapped(GString *out, const char *head, unsigned indent, const char *text,
                           unsigned columns)
{
    char **words = g_strsplit(text, " ", -1);
    glong at = 0;

    g_string_append_printf(out, "  %s", head);
    for (at = g_utf8_strlen(head, -1) + 2; at < (glong)indent; at++) {
        g_string_append_c(out, ' ');
    }
    for (char **word = words; *word != NULL; word++) {
        glong length = g_utf8_strlen(*word, -1);
        if (at + 1 + length > (glong)columns && at > (glong)indent) {
            g_string_append_printf(out, "\n%*s", (int)indent, "");
            at = indent;
        }
        g_string_append_printf(out, " %s", *word);
        at += length + 1;
    }
    g_string_append_c(out, '\n');
    g_strfreev(words);
}

/* ---- layers ------------------------------------------------------------------------------
 */

struct layer {
    const struct uvk_program *program;
    const struct uvk_ways *ways;
    unsigned layer;
};

/* What shows through from a lower layer stands behind a dot. */
static struct lines lines_of_cell(const void *data, unsigned key)
{
    const struct layer *layer = data;
    struct label label = uvk_label_of(layer->program, layer->ways, layer->layer, key);
    struct lines lines = {.upper = g_strdup(label.tap), .lower = NULL};
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
        append_wrapped(out, head_of(note), (unsigned)MIN(indent + 3, 20), note->text, columns);
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
        append_board(out, program->board, columns, lines_of_cell, &layer);
        append_notes(out, &layer, columns);
    }
    uvk_ways_free(ways);
}

/* ---- wiring ------------------------------------------------------------------------------ */

/* An address that has no room on one line stands on two. */
static struct lines lines_of_wires(const void *data, unsigned key)
{
    const struct uvk_board *board = data;

    return (struct lines){.upper = label_address(board, key),
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
        append_wrapped(out, what, 10, list->str, columns);
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
    append_board(out, board, columns, lines_of_wires, board);
    for (unsigned i = 0; i < board->half_count; i++) {
        append_legend(out, board, &board->halves[i], columns);
    }
    if (others[0] != '\0') {
        g_string_append_printf(out, "%s\n", others);
    }
    g_free(others);
}

/* ---- choices ------------------------------------------------------------------------------
 */

struct choosing {
    const struct uvk_board *board, *usual; /* usual NULL: it is the usual one */
};

/* What only this choice has is marked. */
static struct lines lines_of_place(const void *data, unsigned key)
{
    const struct choosing *choosing = data;
    struct lines lines = {.upper = label_address(choosing->board, key), .upper_first = true};

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
        append_board(out, board, columns, lines_of_place, &choosing);
    }
    g_ptr_array_free(variants, TRUE);
}

/* ---- pairs of pins ------------------------------------------------------------------------
 */

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
