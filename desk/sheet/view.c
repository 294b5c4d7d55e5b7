/* view.c - a layer on a screen: boxes, and the turns of the knobs below. */
#include "boxes.h"
#include "words.h"

#include "uvrek/sheet.h"

#include <math.h>
#include <string.h>

#define UNIT_LEAST 4
#define UNIT_MOST  10
#define TURN_ROOM  18 /* characters for what a turn does */

/* What the cells say is one of two. */
struct viewing {
    const struct uvk_board *board;
    const struct uvk_program *program; /* the cells of LAYER */
    const struct uvk_ways *ways;
    unsigned layer;
    uvk_cell_words *words; /* what the caller says; NULL: the layer */
    const void *data;
    struct uvk_view *view;
};

static struct box_lines lines_of(const void *data, unsigned cell)
{
    const struct viewing *viewing = data;
    struct label label;

    if (viewing->words != NULL) {
        struct box_lines told = {.upper_first = true};
        viewing->words(viewing->data, cell, &told.upper, &told.lower);
        return told;
    }
    label = uvk_label_of(viewing->program, viewing->ways, viewing->layer, cell);
    struct box_lines lines = {.upper = g_strdup(label.tap[0] != '\0' ? label.tap : "–"),
                              .lower = g_strdup(label.foot),
                              .upper_first = label.foot == NULL};

    viewing->view->spots[cell].through = label.lower;
    uvk_label_clear(&label);
    return lines;
}

/* As wide and as high as there is room; both lines of a key matter more than its width. */
static void find_size(const struct uvk_board *board, unsigned columns, unsigned lines,
                      int *unit, int *rows)
{
    double knobs = board->knob_count;

    *rows = ceil(board->height * 3) + 1 + knobs <= lines ? 3 : 2;
    *unit = CLAMP((int)((columns - 1) / MAX(board->width, 1)), UNIT_LEAST, UNIT_MOST);
}

/* "jog  -1 left   +1 right", and where both stand. */
static char *knob_line(const struct viewing *viewing, unsigned knob, int y)
{
    const struct uvk_board *board = viewing->board;
    GString *line = g_string_new("  ");

    g_string_append(line, board->knobs[knob].name);
    for (unsigned way = 0; way < 2; way++) {
        unsigned cell = board->key_count + 2 * knob + way;
        struct box_lines words = lines_of(viewing, cell);
        glong length = MIN(g_utf8_strlen(words.upper, -1), TURN_ROOM);
        char *shown = g_utf8_substring(words.upper, 0, length);
        g_string_append(line, way == 0 ? "  -1 " : "  +1 ");
        viewing->view->spots[cell] =
            (struct uvk_spot){(int)g_utf8_strlen(line->str, -1), y, (int)length, 1,
                              viewing->view->spots[cell].through};
        g_string_append(line, shown);
        g_free(shown);
        g_free(words.upper);
        g_free(words.lower);
    }
    return g_string_free(line, FALSE);
}

static unsigned widest(char *const *lines)
{
    glong most = 0;

    for (; *lines != NULL; lines++) {
        most = MAX(most, g_utf8_strlen(*lines, -1));
    }
    return (unsigned)most;
}

static void fill(const struct viewing *viewing, int unit, int rows)
{
    const struct uvk_board *board = viewing->board;
    struct uvk_view *view = viewing->view;
    struct grid grid = boxes_grid(board, unit, rows, lines_of, viewing, view->spots);
    char *text = g_strchomp(grid_text(&grid));
    GPtrArray *lines = g_ptr_array_new();
    char **boxes = g_strsplit(text, "\n", -1);

    for (char **line = boxes; *line != NULL; line++) {
        g_ptr_array_add(lines, *line);
    }
    for (unsigned knob = 0; knob < board->knob_count; knob++) {
        g_ptr_array_add(lines, knob_line(viewing, knob, (int)lines->len));
    }
    view->line_count = lines->len;
    g_ptr_array_add(lines, NULL);
    g_free(boxes); /* its strings are the view's */
    view->lines = (char **)(void *)g_ptr_array_free(lines, FALSE);
    view->columns = widest(view->lines);
    grid_clear(&grid);
    g_free(text);
}

static struct uvk_view *view(struct viewing *viewing, unsigned columns, unsigned lines)
{
    int unit;
    int rows;

    viewing->view = g_new0(struct uvk_view, 1);
    viewing->view->spot_count = uvk_board_cells(viewing->board);
    viewing->view->spots = g_new0(struct uvk_spot, viewing->view->spot_count);
    find_size(viewing->board, columns, lines, &unit, &rows);
    fill(viewing, unit, rows);
    return viewing->view;
}

struct uvk_view *uvk_layer_view(const struct uvk_program *program, unsigned layer,
                                unsigned columns, unsigned lines)
{
    struct uvk_ways *ways = uvk_ways_find(program);
    struct viewing viewing = {
        .board = program->board, .program = program, .ways = ways, .layer = layer};
    struct uvk_view *seen = view(&viewing, columns, lines);

    uvk_ways_free(ways);
    return seen;
}

struct uvk_view *uvk_board_view(const struct uvk_board *board, uvk_cell_words *words,
                                const void *data, unsigned columns, unsigned lines)
{
    struct viewing viewing = {.board = board, .words = words, .data = data};

    return view(&viewing, columns, lines);
}

void uvk_view_free(struct uvk_view *view)
{
    if (view != NULL) {
        g_strfreev(view->lines);
        g_free(view->spots);
        g_free(view);
    }
}
