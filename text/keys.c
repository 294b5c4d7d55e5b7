/* keys.c - read the keys of a board: where they are, and where they are wired. */
#include "reading.h"

#include <string.h>

bool parse_address(const char *text, unsigned *row, unsigned *col)
{
    guint64 numbers[2];

    for (int i = 0; i < 2; i++) {
        char *end;
        if (*text != "rc"[i] || !g_ascii_isdigit(text[1])) {
            return false;
        }
        numbers[i] = g_ascii_strtoull(text + 1, &end, 10);
        text = end;
    }
    if (*text != '\0' || numbers[0] > 999 || numbers[1] > 999) {
        return false;
    }
    *row = (unsigned)numbers[0];
    *col = (unsigned)numbers[1];
    return true;
}

struct pen {
    double x, y;
    unsigned line;
    GArray *keys; /* of struct uvk_key_place */
};

static bool address_is_taken(const struct pen *pen, unsigned row, unsigned col)
{
    for (guint i = 0; i < pen->keys->len; i++) {
        const struct uvk_key_place *key = &g_array_index(pen->keys, struct uvk_key_place, i);
        if (key->row == row && key->col == col) {
            return true;
        }
    }
    return false;
}

static void check_address(struct reading *reading, const struct pen *pen,
                          const struct uvk_key_place *key)
{
    const struct uvk_board *board = reading->board;

    if (board->row_count == 0 || board->col_count == 0) {
        return; /* said already */
    }
    if (key->row >= board->row_count || key->col >= board->col_count) {
        uvk_say(reading->messages, 33, key->place, NULL,
                "the matrix has rows r0..r%u and columns c0..c%u", board->row_count - 1,
                board->col_count - 1);
    } else if (address_is_taken(pen, key->row, key->col)) {
        uvk_say(reading->messages, 34, key->place, NULL, "r%uc%u stands on the board already",
                key->row, key->col);
    }
}

static void place_key(struct reading *reading, struct pen *pen, const struct uvk_node *node)
{
    struct uvk_key_place key = {.place = node->place,
                                .x = pen->x,
                                .y = pen->y,
                                .width = 1,
                                .height = 1,
                                .line = pen->line};

    if (node->kind == UVK_NODE_SIZED) {
        key.width = node->number;
        key.height = node->second;
        node = node->child;
    }
    if (node->kind != UVK_NODE_NAME || !parse_address(node->text, &key.row, &key.col)) {
        uvk_say(reading->messages, 12, node->place, NULL,
                "expected a matrix address such as r0c3");
        return;
    }
    if (key.width < 0.25 || key.width > 20 || key.height < 0.25 || key.height > 20) {
        uvk_say(reading->messages, 17, key.place, NULL, "a key is from 0.25 to 20 units wide");
        return;
    }
    check_address(reading, pen, &key);
    pen->x += key.width;
    g_array_append_val(pen->keys, key);
}

/* address=KNOB: the key is that knob's switch. =KNOB alone: a knob without one. */
static void place_knob(struct reading *reading, struct pen *pen, const struct uvk_node *node)
{
    struct uvk_node name = {.kind = UVK_NODE_NAME, .place = node->place, .text = node->text};
    int index = want_knob(reading, &name);
    struct uvk_knob *knob = index >= 0 ? &reading->board->knobs[index] : NULL;

    if (knob != NULL && knob->placed) {
        uvk_say(reading->messages, 15, node->place, NULL, "the knob '%s' has its place already",
                knob->name);
        knob = NULL;
    }
    if (knob != NULL) {
        knob->placed = true;
        knob->x = pen->x;
        knob->y = pen->y;
        knob->push = node->child != NULL ? (int)pen->keys->len : -1;
    }
    if (node->child != NULL) {
        place_key(reading, pen, node->child);
    } else {
        pen->x += 1;
    }
}

static void read_key_item(struct reading *reading, struct pen *pen, const struct uvk_node *node)
{
    switch (node->kind) {
    case UVK_NODE_GAP:
        pen->x += node->number;
        break;
    case UVK_NODE_PUSH:
        place_knob(reading, pen, node);
        break;
    case UVK_NODE_CHOICE:
        not_supported_yet(reading, node->place, "a layout choice");
        break;
    case UVK_NODE_ADDRESS:
        not_supported_yet(reading, node->place, "a board in halves");
        break;
    default:
        place_key(reading, pen, node);
        break;
    }
}

/* at X Y: the next line starts there. */
static void move_pen(struct reading *reading, struct pen *pen, const struct uvk_node *statement)
{
    const struct uvk_node *x = want(reading, statement, 1, UVK_NODE_NUMBER, "X and Y");
    const struct uvk_node *y = x ? want(reading, statement, 2, UVK_NODE_NUMBER, "Y") : NULL;

    if (want_number(reading, x, -100, 100, "a place", &pen->x) &&
        want_number(reading, y, -100, 100, "a place", &pen->y)) {
        want_end(reading, statement, 3);
    }
}

/* A line of cells, or a line that moves the pen. */
static void read_key_line(struct reading *reading, struct pen *pen,
                          const struct uvk_node *statement)
{
    const char *word = keyword(statement);

    if (word != NULL && strcmp(word, "at") == 0) {
        move_pen(reading, pen, statement);
        return;
    }
    if (word != NULL && (strcmp(word, "turn") == 0 || strcmp(word, "stagger") == 0)) {
        not_supported_yet(reading, statement->child->place, word);
        return;
    }
    for (const struct uvk_node *node = statement->child; node != NULL; node = node->next) {
        read_key_item(reading, pen, node);
    }
    pen->x = 0;
    pen->y += 1;
    pen->line++;
}

/* Keys, and two for each knob, share their numbers. */
static void check_total(struct reading *reading, const struct uvk_node *statement)
{
    const struct uvk_board *board = reading->board;

    if (uvk_board_cells(board) > UVK_KEYS_MAX) {
        uvk_say(reading->messages, 27, statement->child->place, NULL,
                "%u keys and %u knobs; a board has at most %u, a knob counting as two keys",
                board->key_count, board->knob_count, UVK_KEYS_MAX);
    }
    for (unsigned i = 0; i < board->knob_count; i++) {
        if (!board->knobs[i].placed) {
            uvk_say(reading->messages, 16, board->knobs[i].place,
                    "write =NAME behind the address of its switch, or alone",
                    "the knob '%s' has no place among the keys", board->knobs[i].name);
        }
    }
}

void read_keys(struct reading *reading, const struct uvk_node *statement)
{
    const struct uvk_node *block = want_block(reading, statement);
    struct pen pen = {0, 0, 0, NULL};

    if (item(statement, 1) != NULL) {
        not_supported_yet(reading, item(statement, 1)->place, "keys of one half");
        return;
    }
    if (block == NULL) {
        return;
    }
    pen.keys = g_array_new(FALSE, TRUE, sizeof(struct uvk_key_place));
    for (const struct uvk_node *at = block->child; at != NULL; at = at->next) {
        if (at->kind != UVK_NODE_BROKEN) {
            read_key_line(reading, &pen, at);
        }
    }
    if (pen.keys->len == 0 && block->child == NULL) {
        uvk_say(reading->messages, 16, statement->child->place, NULL, "this board has no keys");
    }
    reading->board->key_count = pen.keys->len;
    reading->board->line_count = pen.line;
    reading->board->keys =
        uvk_arena_take(reading->arena, (pen.keys->len + 1) * sizeof(struct uvk_key_place));
    if (pen.keys->len > 0) {
        memcpy(reading->board->keys, pen.keys->data,
               pen.keys->len * sizeof(struct uvk_key_place));
    }
    g_array_free(pen.keys, TRUE);
    check_total(reading, statement);
}
