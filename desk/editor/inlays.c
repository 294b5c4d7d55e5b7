/* inlays.c - what shows through the see-through cells of a layer, beside each. */
#include "serving.h"

#include "uvrek/ways.h"

/* Where the hints of a text come from. */
struct hints {
    struct uvk_editor *editor;
    const struct uvk_program *program; /* without errors */
    const struct uvk_source *source;   /* the text, in it */
    struct uvk_ways *ways;
    json_t *list;
};

static void add_hint(const struct hints *hints, unsigned layer, unsigned cell)
{
    const struct uvk_keymap *keymap = hints->program->keymap;
    const struct uvk_place place = keymap->layers[layer].places[cell];
    unsigned from;
    const struct uvk_value *shown =
        uvk_cell_shown(hints->program, hints->ways, layer, cell, &from);
    char *name;
    char *tip;

    if (shown->kind == UVK_VALUE_THROUGH) {
        return; /* nothing below it either */
    }
    name = uvk_cell_name(hints->program, shown);
    tip = g_strdup_printf("from the layer %s", keymap->layers[from].name);
    (void)json_array_append_new(
        hints->list, json_pack("{s:o, s:s, s:s, s:b}", "position",
                               position_to_json(hints->source->text, place.at + place.length,
                                                hints->editor->units),
                               "label", name, "tooltip", tip, "paddingLeft", 1));
    g_free(tip);
    g_free(name);
}

static void add_hints(const struct hints *hints, const struct range *range)
{
    const struct uvk_keymap *keymap = hints->program->keymap;

    for (unsigned layer = 0; layer < keymap->layer_count; layer++) {
        for (unsigned cell = 0; cell < uvk_board_cells(hints->program->board); cell++) {
            const struct uvk_place place = keymap->layers[layer].places[cell];
            if (place.source == hints->source && place.at >= range->start &&
                place.at <= range->end &&
                keymap->layers[layer].cells[cell].kind == UVK_VALUE_THROUGH) {
                add_hint(hints, layer, cell);
            }
        }
    }
}

/* A text with mistakes has none: what shows through is not known. */
ANSWER(answer_inlays)
{
    struct hints hints = {.editor = editor};
    struct range range;

    if (!range_from(editor, params, &range, failure)) {
        return NULL;
    }
    hints.list = json_array();
    hints.program = whole_program(editor, range.document);
    hints.source = source_in(editor, hints.program, range.document);
    if (hints.program->messages.errors == 0 && hints.program->keymap != NULL &&
        hints.source != NULL) {
        hints.ways = uvk_ways_find(hints.program);
        add_hints(&hints, &range);
        uvk_ways_free(hints.ways);
    }
    return hints.list;
}
