/* layers.c - the layers of a keymap, and the wiring of a board, as pictures. */
#include "labels.h"
#include "words.h"

#include "uvrek/sheet.h"

#include <math.h>
#include <string.h>

#define UNIT   62.0 /* pixels of a key unit */
#define GAP    2.5  /* between a key and its neighbour, on each side */
#define MARGIN 28.0
#define HEAD   38.0 /* above each layer */
#define TAP    19.0
#define SMALL  10.0
#define FOOT   22.0

struct page {
    const struct uvk_program *program;
    struct canvas *canvas;
    double left, top; /* of the board that is drawn now */
    GArray *taken;    /* of struct area: where the text of combos must not stand */
};

/* A part of the paper. */
struct area {
    double x, y, width, height; /* its middle, and its size */
};

static double px(const struct page *page, double units)
{
    return page->left + units * UNIT;
}

static double py(const struct page *page, double units)
{
    return page->top + units * UNIT;
}

/* The square of a key on the paper, and turn the canvas to it. */
struct square {
    double x, y, width, height, middle_x, middle_y;
};

static struct square place_key(struct page *page, const struct uvk_key_place *key)
{
    struct square square = {.x = px(page, key->x) + GAP,
                            .y = py(page, key->y) + GAP,
                            .width = key->width * UNIT - 2 * GAP,
                            .height = key->height * UNIT - 2 * GAP};

    square.middle_x = square.x + square.width / 2;
    square.middle_y = square.y + square.height / 2;
    canvas_turn(page->canvas, key->turn, square.middle_x, square.middle_y);
    return square;
}

static const struct uvk_knob *knob_of(const struct uvk_board *board, unsigned key)
{
    for (unsigned i = 0; i < board->knob_count; i++) {
        if (board->knobs[i].push == (int)key) {
            return &board->knobs[i];
        }
    }
    return NULL;
}

/* ---- layers ---------------------------------------------------------------------------- */

static void draw_cap(struct page *page, const struct square *square, bool round, bool ghost)
{
    enum tone line = ghost ? TONE_PALE : TONE_INK;

    if (round) {
        canvas_circle(page->canvas, square->middle_x, square->middle_y, square->width / 2,
                      TONE_PAPER, line);
    } else {
        canvas_cap(page->canvas, square->x, square->y, square->width, square->height, 7,
                   TONE_PAPER, line);
    }
}

/* Tap large in the middle, hold small below, the shifted sign small above. */
static void draw_label(struct page *page, const struct square *square,
                       const struct label *label, bool round)
{
    double width = square->width - (round ? 16 : 8);
    bool held = label->held != NULL && label->held[0] != '\0';
    double bottom = held ? FOOT : 0;
    double top = label->shifted != NULL ? 12 : 0;

    label_draw(page->canvas, square->middle_x, square->middle_y + (top - bottom) / 2 * 0.7,
               width, square->height - bottom - top - 4, label->ghost ? SMALL + 2 : TAP,
               label->ghost ? TONE_MIDDLE : TONE_INK, !label->ghost, label->tap);
    if (held) {
        label_draw(page->canvas, square->middle_x, square->y + square->height - 11, width, 13,
                   SMALL, label->ghost ? TONE_MIDDLE : TONE_ACCENT, false, label->held);
    }
    if (label->shifted != NULL) {
        label_draw(page->canvas, square->middle_x, square->y + 10, width, 13, SMALL,
                   TONE_MIDDLE, false, label->shifted);
    }
}

/* Does the finger that holds this layer stand on KEY? */
static bool opens_layer(const struct uvk_keymap *keymap, unsigned key, unsigned layer)
{
    const struct uvk_value *value = &keymap->layers[0].cells[key];

    value = value->kind == UVK_VALUE_HOLD ? value->held : value;
    return layer > 0 && value->kind == UVK_VALUE_LAYER && value->op == UVK_LAYER_WHILE &&
           value->layer == layer;
}

static void draw_key(struct page *page, unsigned layer, unsigned key)
{
    const struct uvk_keymap *keymap = page->program->keymap;
    const struct uvk_board *board = page->program->board;
    struct label label = uvk_label_of(page->program, layer, key);
    struct square square = place_key(page, &board->keys[key]);
    bool round = knob_of(board, key) != NULL;

    draw_cap(page, &square, round, label.ghost && !opens_layer(keymap, key, layer));
    if (label.tap[0] != '\0') {
        struct area text = {square.middle_x, square.middle_y, square.width * 0.8, TAP};
        g_array_append_val(page->taken, text);
    }
    if (label.held != NULL) {
        struct area text = {square.middle_x, square.y + square.height - 11, square.width * 0.6,
                            SMALL};
        g_array_append_val(page->taken, text);
    }
    if (opens_layer(keymap, key, layer)) {
        canvas_cap(page->canvas, square.x + 5, square.y + 5, square.width - 10,
                   square.height - 10, 5, TONE_INK, TONE_INK);
        label_draw(page->canvas, square.middle_x, square.middle_y, square.width - 16,
                   square.height - 16, SMALL + 2, TONE_PAPER, true, keymap->layers[layer].name);
    } else {
        draw_label(page, &square, &label, round);
    }
    canvas_turn(page->canvas, 0, 0, 0);
    uvk_label_clear(&label);
}

/* Both turns of a knob, under it. */
static void draw_turns(struct page *page, unsigned layer, unsigned index)
{
    static const char *const arrows[] = {"\u21B6 ", "\u21B7 "};
    const struct uvk_board *board = page->program->board;
    const struct uvk_knob *knob = &board->knobs[index];
    double x = px(page, knob->x + 0.5);
    double y = page->top + knob->y * UNIT;

    if (knob->push < 0) {
        canvas_circle(page->canvas, x, y + UNIT / 2, UNIT / 2 - GAP, TONE_PAPER, TONE_INK);
        label_draw(page->canvas, x, y + UNIT / 2, UNIT - 16, 14, SMALL + 2, TONE_MIDDLE, false,
                   knob->name);
    }
    for (unsigned turn = 0; turn < 2; turn++) {
        struct label label =
            uvk_label_of(page->program, layer, board->key_count + 2 * index + turn);
        char *text = g_strconcat(arrows[turn], label.tap, NULL);
        double right = x + UNIT / 2 + 6;
        if (label.tap[0] != '\0') {
            canvas_text(page->canvas, right, y + UNIT / 2 + (turn == 0 ? -4 : 12), SMALL,
                        label.ghost ? TONE_MIDDLE : TONE_INK, ANCHOR_LEFT, false, text);
        }
        g_free(text);
        uvk_label_clear(&label);
    }
}

static bool combo_is_shown(const struct uvk_combo_text *combo, unsigned layer)
{
    for (unsigned i = 0; i < combo->layer_count; i++) {
        if (combo->layers[i] == layer) {
            return true;
        }
    }
    return combo->layer_count == 0 && layer == 0;
}

static double overlap(const struct area *a, const struct area *b)
{
    double width = MIN(a->x + a->width / 2, b->x + b->width / 2) -
                   MAX(a->x - a->width / 2, b->x - b->width / 2);
    double height = MIN(a->y + a->height / 2, b->y + b->height / 2) -
                    MAX(a->y - a->height / 2, b->y - b->height / 2);

    return width > 0 && height > 0 ? width * height : 0;
}

static double covered(const struct page *page, const struct area *area)
{
    double sum = 0;

    for (guint i = 0; i < page->taken->len; i++) {
        sum += overlap(area, &g_array_index(page->taken, struct area, i));
    }
    return sum;
}

/* The place around the middle of its keys where a combo covers the least. */
static struct area find_room(const struct page *page, struct area wanted)
{
    static const double steps[][2] = {{0, 0},      {0, -0.5},   {0, 0.5},
                                      {0.5, 0},    {-0.5, 0},   {0.5, 0.5},
                                      {-0.5, 0.5}, {0.5, -0.5}, {-0.5, -0.5}};
    struct area best = wanted;
    double least = 1e9;

    for (size_t i = 0; i < G_N_ELEMENTS(steps); i++) {
        struct area area = wanted;
        double cover;
        area.x += steps[i][0] * UNIT;
        area.y += steps[i][1] * UNIT;
        cover = covered(page, &area) + (double)i; /* the nearer, the better */
        if (cover < least) {
            least = cover;
            best = area;
        }
    }
    return best;
}

/* What a combo does stands between its keys, with a line to each. */
static void draw_combo(struct page *page, const struct uvk_combo_text *combo)
{
    const struct uvk_board *board = page->program->board;
    char *text = label_text(page->program, uvk_value_tap(&combo->value));
    struct area box = {0, 0, MIN(canvas_text_width(SMALL - 1, true, text) + 8, 1.3 * UNIT), 15};

    for (unsigned i = 0; i < combo->key_count; i++) {
        const struct uvk_key_place *key = &board->keys[combo->keys[i]];
        box.x += px(page, key->x + key->width / 2) / combo->key_count;
        box.y += py(page, key->y + key->height / 2) / combo->key_count;
    }
    box = find_room(page, box);
    g_array_append_val(page->taken, box);
    for (unsigned i = 0; i < combo->key_count; i++) {
        const struct uvk_key_place *key = &board->keys[combo->keys[i]];
        double to_x = px(page, key->x + key->width / 2);
        double to_y = py(page, key->y + key->height / 2);
        double length = hypot(to_x - box.x, to_y - box.y);
        double share = length > UNIT * 0.3 ? (length - UNIT * 0.27) / length : 0;
        canvas_line(page->canvas, box.x, box.y, box.x + (to_x - box.x) * share,
                    box.y + (to_y - box.y) * share, TONE_ACCENT, 1.2, true);
    }
    canvas_cap(page->canvas, box.x - box.width / 2, box.y - 7.5, box.width, 15, 4, TONE_PAPER,
               TONE_ACCENT);
    label_draw(page->canvas, box.x, box.y, box.width - 4, 14, SMALL - 1, TONE_ACCENT, true,
               text);
    g_free(text);
}

static char *layer_title(const struct uvk_keymap *keymap, unsigned layer)
{
    const struct uvk_layer_text *text = &keymap->layers[layer];

    return text->has_when ? g_strdup_printf("%s, while %s and %s", text->name,
                                            keymap->layers[text->when[0]].name,
                                            keymap->layers[text->when[1]].name)
                          : g_strdup(text->name);
}

static void draw_layer(struct page *page, unsigned layer)
{
    const struct uvk_keymap *keymap = page->program->keymap;
    const struct uvk_board *board = page->program->board;
    char *title = layer_title(keymap, layer);

    g_array_set_size(page->taken, 0);
    canvas_text(page->canvas, page->left, page->top - 14, 16, TONE_INK, ANCHOR_LEFT, true,
                title);
    g_free(title);
    for (unsigned key = 0; key < board->key_count; key++) {
        draw_key(page, layer, key);
    }
    for (unsigned i = 0; i < board->knob_count; i++) {
        draw_turns(page, layer, i);
    }
    for (const struct uvk_combo_text *combo = keymap->combos; combo != NULL;
         combo = combo->next) {
        if (combo_is_shown(combo, layer)) {
            draw_combo(page, combo);
        }
    }
}

/* ---- wiring ---------------------------------------------------------------------------- */

static void draw_wired_key(struct page *page, unsigned key)
{
    const struct uvk_board *board = page->program->board;
    struct square square = place_key(page, &board->keys[key]);
    char *address = uvk_cell_place(board, key);
    const char *dot = strchr(address, '.');
    char *wires = uvk_key_wires(board, key);

    draw_cap(page, &square, knob_of(board, key) != NULL, false);
    label_draw(page->canvas, square.middle_x, square.middle_y - 8, square.width - 8, 26, 15,
               TONE_INK, true, dot != NULL ? dot + 1 : address);
    label_draw(page->canvas, square.middle_x, square.middle_y + 15, square.width - 6, 14,
               SMALL + 1, TONE_ACCENT, false, wires);
    canvas_turn(page->canvas, 0, 0, 0);
    g_free(address);
    g_free(wires);
}

static void draw_wired_knob(struct page *page, const struct uvk_knob *knob)
{
    char *pins =
        g_strdup_printf("%s %s, %s", knob->name, knob->pins[0]->name, knob->pins[1]->name);

    if (knob->push < 0) {
        canvas_circle(page->canvas, px(page, knob->x + 0.5), page->top + (knob->y + 0.5) * UNIT,
                      UNIT / 2 - GAP, TONE_PAPER, TONE_INK);
    }
    canvas_text(page->canvas, px(page, knob->x + 1) + 4, page->top + (knob->y + 0.5) * UNIT + 4,
                SMALL + 1, TONE_ACCENT, ANCHOR_LEFT, false, pins);
    g_free(pins);
}

/* What is wired beside the keys. */
static char *other_wires(const struct uvk_board *board)
{
    GString *out = g_string_new(NULL);

    for (unsigned i = 0; i < board->half_count; i++) {
        g_string_append_printf(out, "%s%s", i > 0 ? ", " : "", board->halves[i].name);
    }
    if (board->link.place.source != NULL) {
        g_string_append_printf(out, "   link: %s sends, %s receives%s",
                               board->link.transmit->name, board->link.receive->name,
                               board->link.straight ? ", straight cable" : "");
    }
    if (board->backlight.place.source != NULL) {
        g_string_append_printf(out, "   backlight: %s, %u levels", board->backlight.pin->name,
                               board->backlight.levels);
    }
    if (board->strip.place.source != NULL) {
        g_string_append_printf(out, "   strip: %s, %u lamps", board->strip.pin->name,
                               board->strip.count);
    }
    return g_strchug(g_string_free(out, FALSE));
}

/* Returns the width that the words above take. */
static double draw_wiring(struct page *page)
{
    const struct uvk_board *board = page->program->board;
    char *title =
        g_strdup_printf("%s: addresses, and pins the way the current flows", board->title);
    char *others = other_wires(board);
    double width = 2 * MARGIN + MAX(canvas_text_width(16, true, title),
                                    canvas_text_width(SMALL + 2, false, others));

    canvas_text(page->canvas, page->left, page->top - 10, 16, TONE_INK, ANCHOR_LEFT, true,
                title);
    canvas_text(page->canvas, page->left, page->top + 6, SMALL + 2, TONE_MIDDLE, ANCHOR_LEFT,
                false, others);
    page->top += others[0] != '\0' ? 16 : 0;
    for (unsigned key = 0; key < board->key_count; key++) {
        draw_wired_key(page, key);
    }
    for (unsigned i = 0; i < board->knob_count; i++) {
        draw_wired_knob(page, &board->knobs[i]);
    }
    g_free(title);
    g_free(others);
    return width;
}

/* ---- pages ------------------------------------------------------------------------------ */

/* Room beside the board for the turns of a knob at its edge. */
static double board_width(const struct uvk_board *board)
{
    double width = board->width;

    for (unsigned i = 0; i < board->knob_count; i++) {
        width = MAX(width, board->knobs[i].x + 3.2);
    }
    return width * UNIT + 2 * MARGIN;
}

/* Layers stand beside one another as far as a page is wide. */
#define PAGE_WIDTH 1240.0

static unsigned columns_of(const struct uvk_program *program, const struct uvk_sheet *sheet)
{
    double width = board_width(program->board);
    unsigned fit = width < PAGE_WIDTH ? (unsigned)(PAGE_WIDTH / width) : 1;

    return sheet->kind == UVK_SHEET_WIRING || sheet->layer >= 0
               ? 1
               : MAX(1, MIN(fit, program->keymap->layer_count));
}

/* All layers, or one; returns how many rows of boards that makes. */
static unsigned draw_layers(struct page *page, const struct uvk_sheet *sheet, unsigned columns,
                            double step)
{
    double top = page->top;
    unsigned count = 0;

    for (unsigned layer = 0; layer < page->program->keymap->layer_count; layer++) {
        if (sheet->layer >= 0 && sheet->layer != (int)layer) {
            continue;
        }
        page->left = MARGIN + (count % columns) * board_width(page->program->board);
        unsigned row = count / columns;
        page->top = top + row * step;
        draw_layer(page, layer);
        count++;
    }
    return (count + columns - 1) / columns;
}

bool uvk_sheet_draw(const struct uvk_program *program, const struct uvk_sheet *sheet,
                    const char *path, GError **error)
{
    struct page page = {.program = program,
                        .canvas = canvas_new(),
                        .left = MARGIN,
                        .top = MARGIN + HEAD,
                        .taken = g_array_new(FALSE, TRUE, sizeof(struct area))};
    double step = program->board->height * UNIT + HEAD + 14;
    unsigned columns = columns_of(program, sheet);
    double width = board_width(program->board) * columns;
    unsigned rows = 1;
    bool good;

    if (sheet->kind == UVK_SHEET_WIRING) {
        width = MAX(width, draw_wiring(&page));
        step += page.top - MARGIN - HEAD;
    } else {
        rows = draw_layers(&page, sheet, columns, step);
    }
    good =
        canvas_write(page.canvas, width, MARGIN * 1.5 + rows * step, sheet->dark, path, error);
    g_array_free(page.taken, TRUE);
    canvas_free(page.canvas);
    return good;
}
