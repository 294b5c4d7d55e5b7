/* grid.c - the same for a terminal: boxes of letters, and the table of pins. */
#include "words.h"

#include "uvrek/sheet.h"

#include <math.h>
#include <string.h>

#define ROWS     3 /* lines of text to a key unit: border, tap, hold */
#define UNIT_MIN 5
#define UNIT_MAX 12

/* A picture of characters. */
struct grid {
    int width, height;
    gunichar *cells;
};

static void put(struct grid *grid, int x, int y, gunichar character)
{
    if (x >= 0 && x < grid->width && y >= 0 && y < grid->height) {
        grid->cells[y * grid->width + x] = character;
    }
}

static gunichar get(const struct grid *grid, int x, int y)
{
    bool inside = x >= 0 && x < grid->width && y >= 0 && y < grid->height;
    gunichar character = inside ? grid->cells[y * grid->width + x] : 0;

    return character != 0 ? character : ' '; /* 0: nothing was put there */
}

/* Lines that meet share their corners: which ways a character goes, as bits up, right, down,
 * left. */
static const char *const lines = " ╵╶└╷│┌├╴┘─┴┐┤┬┼";

static unsigned ways_of(gunichar character)
{
    const char *at = g_utf8_strchr(lines, -1, character);

    return at != NULL ? (unsigned)g_utf8_pointer_to_offset(lines, at) : 0;
}

static void put_line(struct grid *grid, int x, int y, unsigned ways)
{
    ways |= ways_of(get(grid, x, y));
    put(grid, x, y, g_utf8_get_char(g_utf8_offset_to_pointer(lines, (glong)ways)));
}

static void put_box(struct grid *grid, int x, int y, int width, int height)
{
    for (int i = 1; i < width; i++) {
        put_line(grid, x + i, y, 2 | 8);
        put_line(grid, x + i, y + height, 2 | 8);
    }
    for (int i = 1; i < height; i++) {
        put_line(grid, x, y + i, 1 | 4);
        put_line(grid, x + width, y + i, 1 | 4);
    }
    put_line(grid, x, y, 2 | 4);
    put_line(grid, x + width, y, 4 | 8);
    put_line(grid, x, y + height, 1 | 2);
    put_line(grid, x + width, y + height, 1 | 8);
}

/* What is known by a sign or a short form, for where the name has no room. */
static const struct {
    const char *name, *shown;
} short_forms[] = {
    {"backspace", "bksp"},   {"delete", "del"},       {"insert", "ins"},
    {"left", "←"},           {"right", "→"},          {"up", "↑"},
    {"down", "↓"},           {"space", "spc"},        {"enter", "⏎"},
    {"shift", "shft"},       {"right-shift", "shft"}, {"right-alt", "alt"},
    {"right-ctrl", "ctrl"},  {"right-gui", "gui"},    {"page-up", "pgup"},
    {"page-down", "pgdn"},   {"caps-lock", "caps"},   {"print-screen", "prt"},
    {"scroll-lock", "scrl"}, {"volume-up", "vol+"},   {"volume-down", "vol-"},
    {"play-pause", "play"},
};

/* What stands before a name, shorter. */
static const struct {
    const char *before, *shown;
} short_starts[] = {{"ctrl+", "^"},  {"shift+", "⇧"}, {"alt+", "a+"},   {"gui+", "g+"},
                    {"once:", "1:"}, {"only:", "="},  {"toggle:", "±"}, {"board:", ""}};

static const char *short_name(const char *text, glong width)
{
    for (size_t i = 0; g_utf8_strlen(text, -1) > width && i < G_N_ELEMENTS(short_forms); i++) {
        if (strcmp(short_forms[i].name, text) == 0) {
            return short_forms[i].shown;
        }
    }
    return text;
}

/* TEXT, shortened as far as it must be to have WIDTH characters. Freed with g_free. */
static char *short_form(const char *text, glong width)
{
    GString *out = g_string_new(NULL);

    for (size_t i = 0; i < G_N_ELEMENTS(short_starts); i++) {
        glong room = width - g_utf8_strlen(out->str, -1);
        if (g_utf8_strlen(short_name(text, room), -1) > room &&
            g_str_has_prefix(text, short_starts[i].before)) {
            text += strlen(short_starts[i].before);
            g_string_append(out, short_starts[i].shown);
        }
    }
    g_string_append(out, short_name(text, width - g_utf8_strlen(out->str, -1)));
    return g_string_free(out, FALSE);
}

/* TEXT in the middle of WIDTH characters; what is too long loses its end. */
static void put_text(struct grid *grid, int x, int y, int width, const char *name)
{
    char *text = short_form(name, width);
    int length = (int)g_utf8_strlen(text, -1);
    int shown = MIN(length, width);
    int start = x + (width - shown) / 2;
    const char *at = text;

    for (int i = 0; i < shown; i++, at = g_utf8_next_char(at)) {
        gunichar character = g_utf8_get_char(at);
        put(grid, start + i, y, length > width && i == shown - 1 ? 0x2026 : character);
    }
    g_free(text);
}

static char *grid_text(const struct grid *grid)
{
    GString *out = g_string_new(NULL);

    for (int y = 0; y < grid->height; y++) {
        gsize end = out->len;
        for (int x = 0; x < grid->width; x++) {
            g_string_append_unichar(out, get(grid, x, y));
            end = get(grid, x, y) != ' ' ? out->len : end;
        }
        g_string_truncate(out, end);
        g_string_append_c(out, '\n');
    }
    return g_string_free(out, FALSE);
}

char *uvk_key_wires(const struct uvk_board *board, unsigned key)
{
    const struct uvk_key_place *place = &board->keys[key];
    const struct uvk_half *half = &board->halves[place->half];

    if (place->direct) {
        return g_strdup_printf("%s %s", half->direct[place->col]->name,
                               half->to_power ? "+" : "⏚");
    }
    if (half->flow == UVK_COL_TO_ROW) {
        return g_strdup_printf("%s→%s", half->cols[place->col]->name,
                               half->rows[place->row]->name);
    }
    return g_strdup_printf("%s%s%s", half->rows[place->row]->name,
                           half->flow == UVK_NO_DIODES ? "–" : "→",
                           half->cols[place->col]->name);
}

/* ---- the board in boxes -------------------------------------------------------------------
 */

struct form {
    const struct uvk_program *program;
    struct grid grid;
    int unit; /* characters to a key unit */
};

/* Is nothing in a column, from Y on? */
static bool is_free(const struct grid *grid, int x, int y, int height)
{
    for (int i = 0; i <= height; i++) {
        if (get(grid, x, y + i) != ' ') {
            return false;
        }
    }
    return true;
}

/* Turned keys stand upright, where their middles are, and as wide as leaves room for their
 * neighbours. */
static void put_key(struct form *form, const struct uvk_key_place *key, const char *upper,
                    const char *lower)
{
    double lean = fabs(sin(key->turn * G_PI / 180));
    bool lies = lean > 0.75; /* on its side */
    double wide = lies ? key->height * lean : key->width * fabs(cos(key->turn * G_PI / 180));
    double middle = key->x + key->width / 2;
    int x = (int)lround((middle - wide / 2) * form->unit);
    int y = (int)lround((key->y + (lies ? (key->height - key->width) / 2 : 0)) * ROWS);
    int width = (int)lround((middle + wide / 2) * form->unit) - x;
    int height = (int)lround((lies ? key->width : key->height) * ROWS);

    if (width < (int)lround(key->width * form->unit) && x > 0 && !lies &&
        is_free(&form->grid, x - 1, y, height)) {
        x--; /* what leaning takes from its width, it has on its left */
        width++;
    }
    put_box(&form->grid, x, y, width, height);
    put_text(&form->grid, x + 1, y + 1, width - 1, upper);
    put_text(&form->grid, x + 1, y + 2, width - 1, lower);
}

static void put_knob(struct form *form, const struct uvk_knob *knob, const char *left,
                     const char *right)
{
    struct uvk_key_place place = {.x = knob->x, .y = knob->y, .width = 1, .height = 1};
    int x = (int)lround((knob->x + 1) * form->unit) + 2;
    int y = (int)lround(knob->y * ROWS);
    char *first = g_strconcat("↶ ", left, NULL);
    char *second = g_strconcat("↷ ", right, NULL);

    if (knob->push < 0) {
        put_key(form, &place, knob->name, "");
    }
    for (const char *at = first; *at != '\0'; at = g_utf8_next_char(at)) {
        put(&form->grid, x + (int)g_utf8_pointer_to_offset(first, at), y + 1,
            g_utf8_get_char(at));
    }
    for (const char *at = second; *at != '\0'; at = g_utf8_next_char(at)) {
        put(&form->grid, x + (int)g_utf8_pointer_to_offset(second, at), y + 2,
            g_utf8_get_char(at));
    }
    g_free(first);
    g_free(second);
}

static struct form new_form(const struct uvk_program *program, unsigned columns)
{
    const struct uvk_board *board = program->board;
    struct form form = {.program = program};

    form.unit = (int)((columns - 1) / MAX(board->width, 1));
    form.unit = CLAMP(form.unit, UNIT_MIN, UNIT_MAX);
    form.grid.width =
        (int)ceil(board->width * form.unit) + 2 + (board->knob_count > 0 ? 2 * UNIT_MAX : 0);
    form.grid.height = (int)ceil(board->height * ROWS) + 2;
    form.grid.cells = g_new0(gunichar, (gsize)(form.grid.width * form.grid.height));
    return form;
}

static char *end_form(struct form *form)
{
    char *text = grid_text(&form->grid);

    g_free(form->grid.cells);
    return text;
}

/* What shows through here is told where it stands: a dot. */
static const char *tap_of(const struct label *label)
{
    return label->ghost ? "·" : label->tap;
}

static void put_cell(struct form *form, unsigned layer, unsigned key)
{
    struct label label = uvk_label_of(form->program, layer, key);

    put_key(form, &form->program->board->keys[key], tap_of(&label),
            label.held != NULL && !label.ghost ? label.held : "");
    uvk_label_clear(&label);
}

static void put_turns(struct form *form, unsigned layer, unsigned index)
{
    unsigned first = form->program->board->key_count + 2 * index;
    struct label left = uvk_label_of(form->program, layer, first);
    struct label right = uvk_label_of(form->program, layer, first + 1);

    put_knob(form, &form->program->board->knobs[index], tap_of(&left), tap_of(&right));
    uvk_label_clear(&left);
    uvk_label_clear(&right);
}

static char *layer_form(const struct uvk_program *program, unsigned layer, unsigned columns)
{
    const struct uvk_board *board = program->board;
    struct form form = new_form(program, columns);

    for (unsigned key = 0; key < board->key_count; key++) {
        put_cell(&form, layer, key);
    }
    for (unsigned i = 0; i < board->knob_count; i++) {
        put_turns(&form, layer, i);
    }
    return end_form(&form);
}

/* Combos have no room between the boxes: they follow as a list. */
static void append_combos(GString *out, const struct uvk_program *program, unsigned layer)
{
    for (const struct uvk_combo_text *combo = program->keymap->combos; combo != NULL;
         combo = combo->next) {
        bool shown = combo->layer_count == 0 && layer == 0;
        char *does = label_text(program, &combo->value);
        for (unsigned i = 0; i < combo->layer_count; i++) {
            shown |= combo->layers[i] == layer;
        }
        for (unsigned i = 0; shown && i < combo->key_count; i++) {
            char *key = label_text(
                program, uvk_value_tap(&program->keymap->layers[0].cells[combo->keys[i]]));
            g_string_append_printf(out, "%s%s", i > 0 ? " + " : "  ", key);
            g_free(key);
        }
        if (shown) {
            g_string_append_printf(out, "  →  %s\n", does);
        }
        g_free(does);
    }
}

static void append_layers(GString *out, const struct uvk_program *program,
                          const struct uvk_sheet *sheet, unsigned columns)
{
    for (unsigned layer = 0; layer < program->keymap->layer_count; layer++) {
        char *form;
        if (sheet->layer >= 0 && sheet->layer != (int)layer) {
            continue;
        }
        form = layer_form(program, layer, columns);
        g_string_append_printf(out, "%s\n%s", program->keymap->layers[layer].name, form);
        append_combos(out, program, layer);
        g_string_append_c(out, '\n');
        g_free(form);
    }
}

/* In lines that are not longer than COLUMNS. */
static void append_pins(GString *out, const char *what, const char *letter,
                        const struct uvk_pin *const *pins, unsigned count, unsigned columns)
{
    gsize line = out->len;

    if (count > 0) {
        g_string_append_printf(out, "  %s", what);
    }
    for (unsigned i = 0; i < count; i++) {
        if (out->len - line + 10 > columns) {
            line = out->len + 1;
            g_string_append_printf(out, "\n%*s", (int)strlen(what) + 2, "");
        }
        g_string_append_printf(out, " %s%u %s%s", letter, i, pins[i]->name,
                               i + 1 < count ? "," : "\n");
    }
}

/* Rows and columns by their pins: narrow keys have no room for them. */
static void append_legend(GString *out, const struct uvk_half *half, unsigned columns)
{
    static const char *const flows[] = {"from row to column", "from column to row",
                                        "both ways: there are no diodes"};

    g_string_append_printf(out, "%s%s", half->name, half->name[0] != '\0' ? "\n" : "");
    append_pins(out, "rows:   ", "r", half->rows, half->row_count, columns);
    append_pins(out, "columns:", "c", half->cols, half->col_count, columns);
    append_pins(out, "direct: ", "d", half->direct, half->direct_count, columns);
    if (half->row_count > 0) {
        g_string_append_printf(out, "  current flows %s\n", flows[half->flow]);
    }
}

static void append_wiring(GString *out, const struct uvk_program *program, unsigned columns)
{
    const struct uvk_board *board = program->board;
    struct form form = new_form(program, columns);
    char *text;

    for (unsigned key = 0; key < board->key_count; key++) {
        char *wires = uvk_key_wires(board, key);
        char *place = uvk_cell_place(board, key);
        const char *dot = strchr(place, '.');
        put_key(&form, &board->keys[key], dot != NULL ? dot + 1 : place,
                form.unit > (int)g_utf8_strlen(wires, -1) ? wires : "");
        g_free(wires);
        g_free(place);
    }
    for (unsigned i = 0; i < board->knob_count; i++) {
        put_knob(&form, &board->knobs[i], board->knobs[i].pins[0]->name,
                 board->knobs[i].pins[1]->name);
    }
    text = end_form(&form);
    g_string_append_printf(out, "%s: addresses, and pins the way the current flows\n%s",
                           board->title, text);
    for (unsigned i = 0; i < board->half_count; i++) {
        append_legend(out, &board->halves[i], columns);
    }
    g_free(text);
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

static void append_pairs(GString *out, const struct uvk_program *program)
{
    const struct uvk_board *board = program->board;

    g_string_append_printf(out,
                           "%s: join two pins with tweezers, and this key is pressed\n"
                           "(through a diode the current flows one way: from the first to the "
                           "second)\n\n",
                           board->title);
    for (unsigned key = 0; key < board->key_count; key++) {
        char *wires = uvk_key_wires(board, key);
        char *place = uvk_cell_place(board, key);
        char *does =
            program->keymap != NULL
                ? label_text(program, uvk_value_tap(&program->keymap->layers[0].cells[key]))
                : g_strdup("");
        g_string_append(out, "  ");
        append_padded(out, wires, 11);
        append_padded(out, place, 11);
        g_string_append_printf(out, "%s\n", does);
        g_free(wires);
        g_free(place);
        g_free(does);
    }
    for (unsigned i = 0; i < board->knob_count; i++) {
        const struct uvk_knob *knob = &board->knobs[i];
        g_string_append_printf(out, "  %s, %s to ground in turn: the knob %s\n",
                               knob->pins[0]->name, knob->pins[1]->name, knob->name);
    }
}

char *uvk_sheet_text(const struct uvk_program *program, const struct uvk_sheet *sheet,
                     unsigned columns)
{
    GString *out = g_string_new(NULL);

    switch (sheet->kind) {
    case UVK_SHEET_WIRING:
        append_wiring(out, program, columns);
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
