/* tidy.c - line the cells of each layer up in the shape of the board.
 *
 * A key's column follows from where it lies: keys with the same left edge (to half a unit)
 * begin in the same column of the text, and a column lies to the right of all cells of the
 * columns before it that share a line with it. */
#include "uvrek/edit.h"

#include <math.h>
#include <string.h>

#define INDENT     2u  /* spaces of a block */
#define CELL_GAP   2u  /* spaces between cells */
#define BOARD_GAP  6u  /* spaces where the board has a gap */
#define GAP_LEAST  0.4 /* key units between neighbours that are a gap of the board */
#define UNITS_STEP 2.0 /* steps of a key unit in which left edges are compared */

/* One layer of the text while it is lined up. */
struct shape {
    const struct uvk_board *board;
    const struct uvk_source *source;
    struct uvk_edits *edits;
    struct uvk_place *cells; /* one for each key */
    int *slots;              /* of each key: its left edge in steps */
    unsigned *columns;       /* of each key: spaces before it in its line */
    unsigned indent;         /* spaces of the layer's cells */
};

/* ---- columns ------------------------------------------------------------------------ */

static bool follows_in_line(const struct uvk_board *board, unsigned key)
{
    return key > 0 && board->keys[key].line == board->keys[key - 1].line;
}

/* The left edges of the keys in steps, growing from each key to the next in its line. */
static void find_slots(struct shape *shape)
{
    const struct uvk_board *board = shape->board;

    for (unsigned key = 0; key < board->key_count; key++) {
        shape->slots[key] = (int)lround(floor(board->keys[key].x * UNITS_STEP + 0.25));
        if (follows_in_line(board, key)) {
            shape->slots[key] = MAX(shape->slots[key], shape->slots[key - 1] + 1);
        }
    }
}

static unsigned cell_width(const struct shape *shape, unsigned key)
{
    const struct uvk_place place = shape->cells[key];

    return (unsigned)g_utf8_strlen(shape->source->text + place.at, place.length);
}

/* Spaces between KEY and the one before it in its line, at least. */
static unsigned gap_before(const struct shape *shape, unsigned key)
{
    const struct uvk_key_place *left = &shape->board->keys[key - 1];
    const struct uvk_key_place *right = &shape->board->keys[key];
    bool apart = left->half != right->half || right->x - left->x - left->width > GAP_LEAST;

    return apart ? BOARD_GAP : CELL_GAP;
}

static gint by_slot(gconstpointer a, gconstpointer b, gpointer slots)
{
    int one = ((const int *)slots)[*(const unsigned *)a];
    int other = ((const int *)slots)[*(const unsigned *)b];

    return one != other ? one - other : (int)(*(const unsigned *)a - *(const unsigned *)b);
}

/* Slots from left to right: each lies behind what stands before its keys in their lines, and
 * not before the slot on its left. */
static void find_columns(struct shape *shape)
{
    unsigned count = shape->board->key_count;
    unsigned *order = g_new(unsigned, count);
    unsigned behind = 0;

    for (unsigned i = 0; i < count; i++) {
        order[i] = i;
    }
    g_qsort_with_data(order, (gint)count, sizeof *order, by_slot, shape->slots);
    for (unsigned i = 0, end; i < count; i = end) {
        unsigned column = behind;
        for (end = i; end < count && shape->slots[order[end]] == shape->slots[order[i]];
             end++) {
            unsigned key = order[end];
            if (follows_in_line(shape->board, key)) {
                column = MAX(column, shape->columns[key - 1] + cell_width(shape, key - 1) +
                                         gap_before(shape, key));
            }
        }
        for (unsigned at = i; at < end; at++) {
            shape->columns[order[at]] = column;
        }
        behind = column;
    }
    g_free(order);
}

/* ---- the text ------------------------------------------------------------------------ */

/* A knob's line, or the layer's colour. */
static bool has_no_cells(const struct uvk_node *statement)
{
    const struct uvk_node *first = statement->child;

    return first != NULL && first->kind == UVK_NODE_NAME &&
           (strcmp(first->text, "knob") == 0 ||
            (strcmp(first->text, "light") == 0 && first->next != NULL &&
             first->next->kind == UVK_NODE_COLOUR));
}

/* Give each key its cell. False if the lines of BLOCK are not those of the board. */
static bool match_cells(struct shape *shape, const struct uvk_node *block)
{
    const struct uvk_board *board = shape->board;
    unsigned key = 0;
    unsigned line = 0;

    for (const struct uvk_node *at = block->child; at != NULL; at = at->next) {
        if (has_no_cells(at)) {
            continue;
        }
        for (const struct uvk_node *cell = at->child; cell != NULL; cell = cell->next) {
            const char *text = shape->source->text + cell->place.at;
            if (key >= board->key_count || board->keys[key].line != line ||
                memchr(text, '\n', cell->place.length) != NULL) {
                return false;
            }
            shape->cells[key++] = cell->place;
        }
        if (key < board->key_count && board->keys[key].line == line) {
            return false;
        }
        line++;
    }
    return key == board->key_count;
}

/* Spaces at the start of the line where AT is. */
static unsigned indent_of(const struct uvk_source *source, uint32_t at)
{
    unsigned count = 0;

    while (at > 0 && source->text[at - 1] != '\n') {
        at--;
    }
    for (; source->text[at] == ' ' || source->text[at] == '\t'; at++) {
        count += source->text[at] == '\t' ? 4 : 1;
    }
    return count;
}

/* What begins at AT stands in a line of its own, with SPACES before it; END is where that
 * ends which stands before it. Comments between the two stay. */
static void begin_line(struct shape *shape, uint32_t end, uint32_t at, unsigned spaces)
{
    const char *text = shape->source->text;
    uint32_t from = at;
    GString *indent = g_string_new(NULL);

    while (from > end && text[from - 1] != '\n') {
        from--;
    }
    if (from == end && text[end - 1] != '\n') {
        g_string_append_c(indent, '\n');
    }
    g_string_append_printf(indent, "%*s", (int)spaces, "");
    uvk_edits_replace(shape->edits, from, at - from, indent->str);
    g_string_free(indent, TRUE);
}

static uint32_t end_of(struct uvk_place place)
{
    return place.at + place.length;
}

/* The cells of a line from KEY on; the key that comes after them. */
static unsigned place_cells(struct shape *shape, uint32_t end, unsigned key)
{
    uint32_t at = shape->cells[key].at;
    unsigned line = shape->board->keys[key].line;
    unsigned used = 0;

    begin_line(shape, end, at, shape->indent + shape->columns[key]);
    for (; key < shape->board->key_count && shape->board->keys[key].line == line; key++) {
        if (used > 0) {
            char *spaces = g_strnfill(shape->columns[key] - used, ' ');
            end = end_of(shape->cells[key - 1]);
            uvk_edits_replace(shape->edits, end, shape->cells[key].at - end, spaces);
            g_free(spaces);
        }
        used = shape->columns[key] + cell_width(shape, key);
    }
    return key;
}

static void place_lines(struct shape *shape, const struct uvk_node *block)
{
    uint32_t end = block->place.at + 1; /* behind the brace */
    unsigned key = 0;

    for (const struct uvk_node *at = block->child; at != NULL; at = at->next) {
        if (has_no_cells(at)) {
            begin_line(shape, end, at->place.at, shape->indent);
        } else {
            key = place_cells(shape, end, key);
        }
        end = end_of(at->place);
    }
    begin_line(shape, end, end_of(block->place) - 1, shape->indent - INDENT);
}

static void tidy_layer(struct shape *shape, const struct uvk_node *statement,
                       const struct uvk_node *block)
{
    if (!match_cells(shape, block)) {
        return;
    }
    shape->indent = indent_of(shape->source, statement->place.at) + INDENT;
    find_columns(shape);
    place_lines(shape, block);
}

static const struct uvk_node *block_of(const struct uvk_node *statement, const char *word)
{
    const struct uvk_node *last = statement->child;

    if (last == NULL || last->kind != UVK_NODE_NAME || strcmp(last->text, word) != 0) {
        return NULL;
    }
    while (last->next != NULL) {
        last = last->next;
    }
    return last->kind == UVK_NODE_BLOCK ? last : NULL;
}

char *uvk_tidy(const struct uvk_program *program, size_t *size, unsigned *changed)
{
    const struct uvk_source *source = g_ptr_array_index(program->sources, 0);
    const struct uvk_board *board = program->board;
    struct shape shape = {board,
                          source,
                          uvk_edits_new(source),
                          g_new0(struct uvk_place, board->key_count + 1),
                          g_new0(int, board->key_count + 1),
                          g_new0(unsigned, board->key_count + 1),
                          0};
    struct uvk_arena *arena = uvk_arena_new();
    struct uvk_messages messages;
    const struct uvk_node *file;
    char *text;

    uvk_messages_init(&messages);
    file = uvk_parse(source, arena, &messages);
    find_slots(&shape);
    for (const struct uvk_node *at = file->child; at != NULL; at = at->next) {
        const struct uvk_node *keymap = block_of(at, "keymap");
        for (const struct uvk_node *in = keymap != NULL ? keymap->child : NULL; in != NULL;
             in = in->next) {
            const struct uvk_node *layer = block_of(in, "layer");
            if (layer != NULL) {
                tidy_layer(&shape, in, layer);
            }
        }
    }
    *changed = uvk_edits_count(shape.edits);
    text = uvk_edits_apply(shape.edits, size);
    uvk_messages_clear(&messages);
    uvk_arena_free(arena);
    uvk_edits_free(shape.edits);
    g_free(shape.cells);
    g_free(shape.slots);
    g_free(shape.columns);
    return text;
}
