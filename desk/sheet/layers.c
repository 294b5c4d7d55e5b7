/* layers.c - the layers of a keymap as a picture: two beside one another, with the way to each
 * beside its name, and what has no room on keys below. */
#include "labels.h"
#include "notes.h"
#include "page.h"
#include "pictures.h"
#include "words.h"

#include <string.h>

#define PAGE_WIDTH 1360.0 /* two boards fit on it, if their keys are not too small then */
#define UNIT_MIN   42.0
#define UNIT_MAX   62.0
#define GUTTER     36.0  /* between two columns */
#define NOTES_MIN  420.0 /* so wide are the notes under the smallest board */

/* One layer of a sheet. */
struct block {
    struct page *page;
    const struct uvk_program *program;
    const struct uvk_ways *ways;
    unsigned layer;
    GPtrArray *notes;
    unsigned *dots; /* of each key: the combos of the layer that it is part of */
};

/* ---- keys ------------------------------------------------------------------------------- */

/* What the key does held: a filled strip along its foot. */
static void draw_foot(const struct block *block, const struct square *square,
                      const struct label *label, bool round)
{
    const struct page *page = block->page;
    double height = page->small * 1.45;
    double inset = round ? square->width * 0.16 : 2;
    double y = square->y + square->height - height - (round ? height * 0.35 : 3);

    canvas_cap(page->canvas, square->x + inset, y, square->width - 2 * inset, height,
               height * 0.3, label->lower ? TONE_PAPER : TONE_ACCENT,
               label->lower ? TONE_PALE : TONE_ACCENT);
    label_draw(page->canvas, square->middle_x, y + height / 2, square->width - 2 * inset - 3,
               height, page->small, label->lower ? TONE_MIDDLE : TONE_PAPER, !label->lower,
               label->foot);
}

/* The sign with shift stands in the right corner. */
static void draw_corner(const struct block *block, const struct square *square,
                        const char *text)
{
    canvas_text(block->page->canvas, square->x + square->width - 5,
                square->y + 3 + block->page->small, block->page->small, TONE_MIDDLE,
                ANCHOR_RIGHT, false, text);
}

/* What the lower part of a key is taken by. */
static double foot_height(const struct block *block, const struct label *label, bool round)
{
    if (label->foot != NULL && label->foot[0] != '\0') {
        return block->page->small * 1.7;
    }
    return round ? block->page->small * 1.5 : 0; /* the name of the knob */
}

static void draw_tap(const struct block *block, const struct square *square,
                     const struct label *label, bool round, bool has_dots)
{
    const struct page *page = block->page;
    double foot = foot_height(block, label, round);
    double head = has_dots && g_utf8_strlen(label->tap, -1) > 2 ? page->small : 0;
    double width = square->width - (round ? square->width * 0.25 : 6);

    label_draw(page->canvas, square->middle_x, square->middle_y - (foot - head) / 2, width,
               square->height - foot - head - (round ? 14 : 8),
               label->lower ? page->small * 1.2 : page->tap,
               label->lower ? TONE_MIDDLE : TONE_INK, !label->lower,
               label->tap[0] != '\0' ? label->tap : "–");
}

/* A finger is on it: white on black. */
static void draw_finger(const struct block *block, const struct square *square,
                        const struct label *label, bool round)
{
    const struct page *page = block->page;

    page_cap(page, square, round, TONE_INK, TONE_INK);
    label_draw(page->canvas, square->middle_x, square->middle_y - page->small * 0.7,
               square->width - 12, square->height - page->small * 2.4, page->tap * 0.75,
               TONE_PAPER, true, label->tap);
    label_draw(page->canvas, square->middle_x, square->y + square->height - page->small * 1.1,
               square->width - 10, page->small * 1.4, page->small, TONE_PAPER, false,
               label->foot);
}

/* The knob whose switch this is, where the key does nothing else held. */
static void draw_knob_name(const struct block *block, const struct square *square, unsigned key,
                           const struct label *label)
{
    const struct uvk_knob *knob = uvk_knob_of_key(block->page->board, key);

    if (knob != NULL && label->foot == NULL) {
        label_draw(block->page->canvas, square->middle_x,
                   square->y + square->height - block->page->small * 1.2, square->width * 0.5,
                   block->page->small * 1.3, block->page->small * 0.9, TONE_MIDDLE, false,
                   knob->name);
    }
}

static void draw_key(const struct block *block, unsigned key)
{
    struct label label = uvk_label_of(block->program, block->ways, block->layer, key);
    struct square square = page_key(block->page, &block->page->board->keys[key]);
    bool round = uvk_knob_of_key(block->page->board, key) != NULL;

    if (label.finger) {
        draw_finger(block, &square, &label, round);
    } else {
        page_cap(block->page, &square, round, TONE_PAPER, label.lower ? TONE_PALE : TONE_INK);
        draw_tap(block, &square, &label, round, block->dots[key] > 0);
        if (label.foot != NULL && label.foot[0] != '\0') {
            draw_foot(block, &square, &label, round);
        }
        draw_knob_name(block, &square, key, &label);
        if (label.corner != NULL) {
            draw_corner(block, &square, label.corner);
        }
    }
    page_upright(block->page);
    uvk_label_clear(&label);
}

static void draw_knob(const struct block *block, const struct uvk_knob *knob)
{
    if (knob->push < 0) {
        struct square square = page_knob(block->page, knob);
        page_cap(block->page, &square, true, TONE_PAPER, TONE_INK);
        label_draw(block->page->canvas, square.middle_x, square.middle_y, square.width * 0.7,
                   square.height * 0.6, block->page->small, TONE_MIDDLE, false, knob->name);
    }
}

/* ---- combos ----------------------------------------------------------------------------- */

/* A lettered dot at the key's left corner; the next one beside it. */
static void draw_dot(const struct block *block, unsigned key, unsigned place,
                     const char *letter)
{
    const struct page *page = block->page;
    struct square square = page_key(page, &page->board->keys[key]);
    double radius = page->small * 0.68;
    unsigned fit = MAX(1, (unsigned)((square.width - 4) / (2 * radius + 1)));
    double x = square.x + 3 + radius + (place % fit) * (2 * radius + 1);
    unsigned row = place / fit;
    double y = square.y + 3 + radius + row * (2 * radius + 1);

    canvas_circle(page->canvas, x, y, radius, TONE_PAPER, TONE_ACCENT);
    canvas_text(page->canvas, x, y + page->small * 0.3, page->small * 0.85, TONE_ACCENT,
                ANCHOR_MIDDLE, true, letter);
    page_upright(page);
}

static void draw_combos(const struct block *block)
{
    unsigned *drawn = g_new0(unsigned, block->page->board->key_count);
    unsigned index = 0;

    for (const struct uvk_combo_text *combo = block->program->keymap->combos; combo != NULL;
         combo = combo->next, index++) {
        char *letter = note_letter(index);
        for (unsigned i = 0; note_has_combo(combo, block->layer) && i < combo->key_count; i++) {
            draw_dot(block, combo->keys[i], drawn[combo->keys[i]]++, letter);
        }
        g_free(letter);
    }
    g_free(drawn);
}

/* ---- one layer -------------------------------------------------------------------------- */

static double block_width(const struct page *page)
{
    return MAX(page_width(page), NOTES_MIN);
}

static double head_height(const struct page *page)
{
    return page->title * 1.7;
}

/* Room for the heads of the notes, so that their texts begin at one place. */
static double head_width(const struct block *block)
{
    double width = 0;

    for (guint i = 0; i < block->notes->len; i++) {
        const struct note *note = g_ptr_array_index(block->notes, i);
        width = MAX(width, canvas_text_width(block->page->small, true, note->head));
    }
    return MIN(width, block_width(block->page) / 3) + 10;
}

static double notes_height(const struct block *block)
{
    double text_width = block_width(block->page) - head_width(block);
    unsigned lines = 0;

    for (guint i = 0; i < block->notes->len; i++) {
        const struct note *note = g_ptr_array_index(block->notes, i);
        lines += page_lines(block->page, text_width, note->text);
    }
    return lines > 0 ? (lines + 1) * block->page->small * PAGE_LINE : 0;
}

static double block_height(const struct block *block)
{
    return head_height(block->page) + page_height(block->page) + notes_height(block) +
           GUTTER / 2;
}

static void draw_notes(const struct block *block)
{
    struct page *page = block->page;
    double indent = head_width(block);
    double y = page->top + page_height(page) + page->small * PAGE_LINE * 1.3;

    for (guint i = 0; i < block->notes->len; i++) {
        const struct note *note = g_ptr_array_index(block->notes, i);
        canvas_text(page->canvas, page->left + 3, y, page->small, TONE_ACCENT, ANCHOR_LEFT,
                    true, note->head);
        y += page_paragraph(page, page->left + 3 + indent, y, block_width(page) - indent,
                            TONE_INK, note->text) *
             page->small * PAGE_LINE;
    }
}

static bool has_room(const struct page *page, double x, const char *text)
{
    return x + canvas_text_width(page->small * 1.15, false, text) <=
           page->left + block_width(page);
}

/* The colour that the strip has on this layer, behind its name. How wide that is. */
static double draw_light(const struct block *block, double x, double y)
{
    const struct page *page = block->page;
    const struct uvk_layer_text *layer = &block->program->keymap->layers[block->layer];
    double radius = page->small * 0.55;

    if (layer->light_place.source == NULL || page->board->strip.place.source == NULL) {
        return 0;
    }
    canvas_circle(page->canvas, x + radius, y - radius * 0.8, radius, TONE_NONE, TONE_MIDDLE);
    canvas_colour(page->canvas, (unsigned)layer->light.red << 16 |
                                    (unsigned)layer->light.green << 8 | layer->light.blue);
    return 2 * radius + page->small * 0.7;
}

static void draw_head(const struct block *block)
{
    const struct page *page = block->page;
    const struct uvk_way *way = &block->ways->of[block->layer];
    const char *name = block->program->keymap->layers[block->layer].name;
    double y = page->top - page->title * 0.6;
    double behind = page->left + 15 + canvas_text_width(page->title, true, name);
    double x = behind + draw_light(block, behind, y);
    const char *text = has_room(page, x, way->text)         ? way->text
                       : has_room(page, x, way->short_text) ? way->short_text
                                                            : "";

    canvas_text(page->canvas, page->left + 3, y, page->title, TONE_INK, ANCHOR_LEFT, true,
                name);
    canvas_text(page->canvas, x, y, page->small * 1.15, TONE_MIDDLE, ANCHOR_LEFT, false, text);
}

static void draw_block(const struct block *block, double left, double top)
{
    block->page->left = left;
    block->page->top = top + head_height(block->page);
    draw_head(block);
    for (unsigned key = 0; key < block->page->board->key_count; key++) {
        draw_key(block, key);
    }
    for (unsigned i = 0; i < block->page->board->knob_count; i++) {
        draw_knob(block, &block->page->board->knobs[i]);
    }
    draw_combos(block);
    draw_notes(block);
}

/* ---- all layers ------------------------------------------------------------------------- */

static struct block block_of(const struct uvk_program *program, const struct uvk_ways *ways,
                             struct page *page, unsigned layer)
{
    struct block block = {.page = page, .program = program, .ways = ways, .layer = layer};

    block.notes = notes_of(program, ways, layer);
    block.dots = g_new0(unsigned, page->board->key_count);
    for (const struct uvk_combo_text *combo = program->keymap->combos; combo != NULL;
         combo = combo->next) {
        for (unsigned i = 0; note_has_combo(combo, layer) && i < combo->key_count; i++) {
            block.dots[combo->keys[i]]++;
        }
    }
    return block;
}

/* A line of the grid, up to COLUMNS layers from FIRST on; returns its height. */
static double draw_line(const struct uvk_program *program, const struct uvk_ways *ways,
                        struct page *page, unsigned first, unsigned columns, double top)
{
    double height = 0;

    for (unsigned i = 0; i < columns && first + i < program->keymap->layer_count; i++) {
        struct block block = block_of(program, ways, page, first + i);
        draw_block(&block, PAGE_MARGIN + i * (block_width(page) + GUTTER), top);
        height = MAX(height, block_height(&block));
        g_ptr_array_free(block.notes, TRUE);
        g_free(block.dots);
    }
    return height;
}

/* The unit at which COLUMNS boards stand beside one another. */
static double unit_for(const struct uvk_board *board, unsigned columns)
{
    double room = PAGE_WIDTH - 2 * PAGE_MARGIN - (columns - 1) * GUTTER;

    return MIN(room / columns / board->width, UNIT_MAX);
}

void picture_layers(const struct uvk_program *program, struct canvas *canvas, int layer,
                    double *width, double *height)
{
    const struct uvk_board *board = program->board;
    struct uvk_ways *ways = uvk_ways_find(program);
    unsigned count = program->keymap->layer_count;
    unsigned columns = layer < 0 && count > 1 && unit_for(board, 2) >= UNIT_MIN ? 2 : 1;
    struct page page = page_new(board, canvas, MAX(unit_for(board, columns), UNIT_MIN));
    double top = PAGE_MARGIN;

    if (layer >= 0) {
        top += draw_line(program, ways, &page, (unsigned)layer, 1, top);
    }
    for (unsigned first = 0; layer < 0 && first < count; first += columns) {
        top += draw_line(program, ways, &page, first, columns, top);
    }
    *width = 2 * PAGE_MARGIN + columns * block_width(&page) + (columns - 1) * GUTTER;
    *height = top + PAGE_MARGIN / 2;
    uvk_ways_free(ways);
}
