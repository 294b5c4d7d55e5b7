/* notes.c - see notes.h. */
#include "notes.h"

#include "words.h"

#include "uvrek/explain.h"
#include "uvrek/names.h"

#include <string.h>

/* The notes of one layer as they come together. */
struct list {
    const struct uvk_program *program;
    const struct uvk_ways *ways;
    unsigned layer;
    GPtrArray *notes;
    bool *macros, *dances; /* told already */
    bool leader;           /* the leader key stands here */
};

static void free_note(gpointer data)
{
    struct note *note = data;

    g_free(note->head);
    g_free(note->text);
    g_free(note);
}

/* Takes both over. */
static void add(struct list *list, char *head, char *text)
{
    struct note *note = g_new(struct note, 1);

    note->head = head;
    note->text = text;
    note->combo = false;
    g_ptr_array_add(list->notes, note);
}

char *note_letter(unsigned index)
{
    return index < 26 ? g_strdup_printf("%c", 'A' + (int)index)
                      : g_strdup_printf("%c%u", 'A' + (int)(index % 26), index / 26);
}

bool note_has_combo(const struct uvk_combo_text *combo, unsigned layer)
{
    return combo->layer_count == 0 ? layer == 0 : uvk_combo_is_on(combo, layer);
}

/* What one way of turning does; from a lower layer it says from which. */
static void append_turn(const struct list *list, GString *out, const char *arrow, unsigned cell)
{
    unsigned from;
    const struct uvk_value *value =
        uvk_cell_shown(list->program, list->ways, list->layer, cell, &from);
    char *text = label_text(list->program, value);

    g_string_append_printf(out, "%s%s %s", out->len > 0 ? "   " : "", arrow,
                           text[0] != '\0' ? text : "nothing");
    if (from != list->layer) {
        g_string_append_printf(out, " (%s)", list->program->keymap->layers[from].name);
    }
    g_free(text);
}

/* Does LAYER say something of its own about the knob at INDEX? */
static bool knob_is_told(const struct list *list, unsigned index)
{
    const struct uvk_value *cells = list->program->keymap->layers[list->layer].cells;
    unsigned left = list->program->board->key_count + 2 * index;

    return list->layer == 0 || cells[left].kind != UVK_VALUE_THROUGH ||
           cells[left + 1].kind != UVK_VALUE_THROUGH;
}

static void add_knobs(struct list *list)
{
    const struct uvk_board *board = list->program->board;

    for (unsigned i = 0; i < board->knob_count; i++) {
        GString *text;
        if (!knob_is_told(list, i)) {
            continue;
        }
        text = g_string_new(NULL);
        append_turn(list, text, "↶", board->key_count + 2 * i);
        append_turn(list, text, "↷", board->key_count + 2 * i + 1);
        add(list, g_strdup(board->knobs[i].name), g_string_free(text, FALSE));
    }
}

static void append_side(const struct list *list, GString *out, const struct uvk_value *value)
{
    char *text = label_text(list->program, value);

    g_string_append(out, text[0] != '\0' ? text : "nothing");
    g_free(text);
}

/* Both sides of a tap-hold: "esc, held ctrl". */
static void append_value(const struct list *list, GString *out, const struct uvk_value *value)
{
    append_side(list, out, uvk_value_tap(value));
    if (value->kind == UVK_VALUE_HOLD) {
        g_string_append(out, ", held ");
        append_side(list, out, value->held);
    }
}

static void append_keys(const struct list *list, GString *out, const unsigned *keys,
                        unsigned count, const char *between)
{
    for (unsigned i = 0; i < count; i++) {
        char *key = label_of_key(list->program, keys[i]);
        g_string_append_printf(out, "%s%s", i > 0 ? between : "", key);
        g_free(key);
    }
}

static void note_value(struct list *list, const struct uvk_value *value);

static void add_combos(struct list *list)
{
    unsigned index = 0;

    for (const struct uvk_combo_text *combo = list->program->keymap->combos; combo != NULL;
         combo = combo->next, index++) {
        GString *text = g_string_new(NULL);
        if (!note_has_combo(combo, list->layer)) {
            g_string_free(text, TRUE);
            continue;
        }
        append_keys(list, text, combo->keys, combo->key_count, " + ");
        g_string_append(text, "  →  ");
        append_value(list, text, &combo->value);
        add(list, note_letter(index), g_string_free(text, FALSE));
        ((struct note *)g_ptr_array_index(list->notes, list->notes->len - 1))->combo = true;
    }
}

static void append_line(const struct list *list, GString *out, unsigned taps, const char *last,
                        const struct uvk_value *value)
{
    if (value->kind == UVK_VALUE_BROKEN) {
        return; /* the dance has no such line */
    }
    g_string_append(out, out->len > 0 ? ";  " : "");
    for (unsigned i = 1; i < taps; i++) {
        g_string_append(out, "tap ");
    }
    g_string_append_printf(out, "%s  →  ", last);
    append_value(list, out, value);
}

static void note_dance(struct list *list, unsigned index)
{
    const struct uvk_dance_text *dance = &list->program->keymap->dances[index];
    GString *text = g_string_new(NULL);

    if (list->dances[index]) {
        g_string_free(text, TRUE);
        return;
    }
    list->dances[index] = true;
    for (unsigned taps = 1; taps <= dance->taps; taps++) {
        append_line(list, text, taps, "tap", &dance->lines[taps - 1].tapped);
        append_line(list, text, taps, "hold", &dance->lines[taps - 1].held);
    }
    add(list, g_strdup(dance->name), g_string_free(text, FALSE));
    for (unsigned taps = 1; taps <= dance->taps; taps++) {
        note_value(list, &dance->lines[taps - 1].tapped);
        note_value(list, &dance->lines[taps - 1].held);
    }
}

static void note_macro(struct list *list, unsigned index)
{
    const struct uvk_macro_text *macro = &list->program->keymap->macros[index];

    if (!list->macros[index] && !macro->character) {
        list->macros[index] = true;
        add(list, g_strdup(macro->name), uvk_macro_sentence(list->program, index));
    }
}

static void note_value(struct list *list, const struct uvk_value *value)
{
    switch (value->kind) {
    case UVK_VALUE_HOLD:
        note_value(list, value->tap);
        note_value(list, value->held);
        break;
    case UVK_VALUE_DANCE:
        note_dance(list, value->dance);
        break;
    case UVK_VALUE_MACRO:
        note_macro(list, value->macro);
        break;
    case UVK_VALUE_USAGE:
        list->leader |= value->page == UVK_PAGE_OWN && value->usage == UVK_OWN_LEADER;
        break;
    default:
        break;
    }
}

/* What the layer's own cells and combos are made of. */
static void add_names(struct list *list)
{
    const struct uvk_keymap *keymap = list->program->keymap;

    for (unsigned cell = 0; cell < uvk_board_cells(list->program->board); cell++) {
        note_value(list, &keymap->layers[list->layer].cells[cell]);
    }
    for (const struct uvk_combo_text *combo = keymap->combos; combo != NULL;
         combo = combo->next) {
        if (note_has_combo(combo, list->layer)) {
            note_value(list, &combo->value);
        }
    }
}

static void add_sequences(struct list *list)
{
    for (const struct uvk_sequence_text *sequence = list->program->keymap->sequences;
         list->leader && sequence != NULL; sequence = sequence->next) {
        GString *text = g_string_new(NULL);
        append_keys(list, text, sequence->keys, sequence->key_count, " ");
        g_string_append(text, "  →  ");
        append_value(list, text, &sequence->value);
        add(list, g_strdup("leader"), g_string_free(text, FALSE));
        note_value(list, &sequence->value);
    }
}

/* How the keymap lets the lights begin, on the lowest layer; what colour another one gives the
 * strip, which alone has colours. */
static void add_lights(struct list *list)
{
    const struct uvk_lights_text *lights = &list->program->keymap->lights;
    const struct uvk_layer_text *layer = &list->program->keymap->layers[list->layer];
    bool strip = list->program->board->strip.place.source != NULL;
    bool begins = list->layer == 0 && lights->place.source != NULL;
    bool coloured = strip && layer->light_place.source != NULL;
    const struct uvk_colour *colour = coloured ? &layer->light : &lights->colour;
    GString *text = g_string_new(begins ? uvk_effect_names[lights->effect] : NULL);

    if (coloured || (begins && strip)) {
        g_string_append_printf(text, "%s#%02x%02x%02x", begins ? " " : "", colour->red,
                               colour->green, colour->blue);
    }
    if (text->len > 0) {
        add(list, g_strdup("lights"), g_string_free(text, FALSE));
    } else {
        g_string_free(text, TRUE);
    }
}

/* Those that are lit while this layer is on; on the lowest one the host's locks' as well. */
static void add_lamps(struct list *list)
{
    const struct uvk_board *board = list->program->board;
    const char *name = list->program->keymap->layers[list->layer].name;

    for (unsigned i = 0; i < board->lamp_count; i++) {
        const struct uvk_lamp_text *lamp = &board->lamps[i];
        if (lamp->layer == NULL ? list->layer == 0 : strcmp(lamp->layer, name) == 0) {
            add(list, g_strdup("lamp"),
                g_strdup_printf("%s is lit%s", uvk_lamp_name(lamp),
                                lamp->layer == NULL ? " as the host says" : ""));
        }
    }
}

GPtrArray *notes_of(const struct uvk_program *program, const struct uvk_ways *ways,
                    unsigned layer)
{
    struct list list = {.program = program,
                        .ways = ways,
                        .layer = layer,
                        .notes = g_ptr_array_new_with_free_func(free_note),
                        .macros = g_new0(bool, program->keymap->macro_count + 1),
                        .dances = g_new0(bool, program->keymap->dance_count + 1)};

    add_knobs(&list);
    add_combos(&list);
    add_names(&list);
    add_sequences(&list);
    add_lights(&list);
    add_lamps(&list);
    g_free(list.macros);
    g_free(list.dances);
    return list.notes;
}
