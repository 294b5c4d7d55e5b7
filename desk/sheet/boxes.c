/* boxes.c - see boxes.h. */
#include "boxes.h"

#include "grid.h"
#include "short.h"

#include <math.h>
#include <string.h>

#define ROWS      3 /* lines of text to a key unit: border, tap, foot; 2: border, tap */
#define UNIT_MIN  5 /* characters to a key unit, its left border included */
#define UNIT_MAX  12
#define UNIT_PART 7 /* of a board that is wider than the terminal: it comes in parts */

/* ---- the board in boxes ------------------------------------------------------------------ */

struct form {
    const struct uvk_board *board;
    struct grid grid;
    int unit, rows;          /* characters and lines to a key unit */
    double left;             /* key units: where the part begins that is drawn now */
    const unsigned *part_of; /* of each key and knob; NULL: all are drawn */
    unsigned part;
    box_lines_of tell;
    const void *data;
    struct uvk_spot *spots; /* of each key; NULL: nobody wants to know */
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
static void put_words(struct form *form, int x, int y, int width, const struct box_lines *lines)
{
    bool both = lines->lower == NULL || lines->upper_first;

    if (form->rows < ROWS) {
        grid_word(&form->grid, x, y, width, lines->upper);
    } else if (both && grid_is_long(lines->upper, width)) {
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
                    const struct box_lines *lines, struct uvk_spot *spot)
{
    double lean = fabs(sin(key->turn * G_PI / 180));
    bool lies = lean > 0.75; /* on its side */
    double wide = lies ? key->height * lean : key->width * fabs(cos(key->turn * G_PI / 180));
    double middle = key->x - form->left + key->width / 2;
    int x = (int)lround((middle - wide / 2) * form->unit);
    int y = (int)lround((key->y + (lies ? (key->height - key->width) / 2 : 0)) * form->rows);
    int width = (int)lround((middle + wide / 2) * form->unit) - x;
    int height = (int)lround((lies ? key->width : key->height) * form->rows);

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
    if (spot != NULL) {
        spot->x = x + 1;
        spot->y = y + 1;
        spot->width = width - 1;
        spot->height = height - 1;
    }
}

static void put_knob(struct form *form, const struct uvk_knob *knob)
{
    struct uvk_key_place place = {.x = knob->x, .y = knob->y, .width = 1, .height = 1};
    char mark[] = "(o)";
    struct box_lines lines = {.upper = (char *)knob->name, .lower = mark};

    put_key(form, &place, &lines, NULL);
}

static bool is_drawn(const struct form *form, unsigned index)
{
    return form->part_of == NULL || form->part_of[index] == form->part;
}

static void put_all(struct form *form)
{
    const struct uvk_board *board = form->board;

    for (unsigned key = 0; key < board->key_count; key++) {
        if (is_drawn(form, key)) {
            struct box_lines lines = form->tell(form->data, key);
            put_key(form, &board->keys[key], &lines,
                    form->spots != NULL ? &form->spots[key] : NULL);
            g_free(lines.upper);
            g_free(lines.lower);
        }
    }
    for (unsigned i = 0; i < board->knob_count; i++) {
        if (is_drawn(form, board->key_count + i) && board->knobs[i].push < 0) {
            put_knob(form, &board->knobs[i]);
        }
    }
}

struct grid boxes_grid(const struct uvk_board *board, int unit, int rows, box_lines_of tell,
                       const void *data, struct uvk_spot *spots)
{
    struct form form = {
        .board = board, .unit = unit, .rows = rows, .tell = tell, .data = data, .spots = spots};

    form.grid =
        grid_new((int)ceil(board->width * unit) + 2, (int)ceil(board->height * rows) + 2);
    put_all(&form);
    return form.grid;
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
static char *part_text(struct form *form, int columns)
{
    const struct uvk_board *board = form->board;
    char *text;

    form->grid = grid_new(MIN(columns, (int)ceil(board->width * form->unit) + 2),
                          (int)ceil(board->height * form->rows) + 2);
    put_all(form);
    text = grid_text(&form->grid);
    grid_clear(&form->grid);
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

void boxes_append(GString *out, const struct uvk_board *board, unsigned columns,
                  box_lines_of tell, const void *data)
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
        struct form form = {.board = board,
                            .unit = unit,
                            .rows = ROWS,
                            .left = lefts[part],
                            .part_of = part_of,
                            .part = part,
                            .tell = tell,
                            .data = data};
        char *text = part_text(&form, (int)columns);
        if (parts > 1) {
            g_string_append_printf(out, "(part %u of %u, from the left)\n", part + 1, parts);
        }
        append_trimmed(out, text);
        g_free(text);
    }
    g_free(lefts);
    g_free(part_of);
}

void boxes_wrapped(GString *out, const char *head, unsigned indent, const char *text,
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
