/* keymap.c - read a keymap: the host, the names, the layers. */
#include "reading.h"

#include <string.h>

#define LAYERS_MAX 255u

static void read_host(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    const struct uvk_node *name = want(reading, statement, 1, UVK_NODE_NAME, "a system");
    int system = want_word(reading, name, UVK_SAYS_NO_HOST, uvk_system_names, "system");
    int layout;

    (void)subject;
    if (system < 0) {
        return;
    }
    reading->keymap->system = (enum uvk_system)system;
    name = want(reading, statement, 2, UVK_NODE_NAME, "a layout");
    layout = want_word(reading, name, UVK_SAYS_NO_HOST, uvk_layout_names, "layout");
    if (layout >= 0) {
        reading->keymap->layout_name = uvk_layout_names[layout];
        reading->keymap->layout =
            uvk_layout_load(reading->keymap->system, uvk_layout_names[layout]);
        want_end(reading, statement, 3);
    }
    if (layout >= 0 && reading->keymap->layout == NULL) {
        uvk_say(reading->messages, UVK_SAYS_NO_HOST, name->place,
                "install the package xkb-data",
                "the data of this layout is not on this machine");
    }
}

/* ---- names ------------------------------------------------------------------------ */

/* False if NAME cannot be a name of the keymap's own; that is told. */
static bool name_is_free(struct reading *reading, const struct uvk_node *name)
{
    if (uvk_key_named(name->text) != NULL || strcmp(name->text, "primary") == 0) {
        uvk_say(reading->messages, UVK_SAYS_NAME_IS_KEY, name->place, NULL,
                "'%s' is a key; a name of your own must be another", name->text);
        return false;
    }
    if (own_named(reading, name->text) != NULL) {
        uvk_say_other(uvk_say(reading->messages, UVK_SAYS_TWICE, name->place, NULL,
                              "'%s' is defined already", name->text),
                      own_named(reading, name->text)->place);
        return false;
    }
    return true;
}

static const struct {
    const char *word;
    int kind;
} naming[] = {
    {"layer", OWN_LAYER}, {"let", OWN_LET}, {"macro", OWN_MACRO}, {"dance", OWN_DANCE}};

static int naming_kind(const struct uvk_node *statement)
{
    const char *word = keyword(statement);

    for (size_t i = 0; word != NULL && i < G_N_ELEMENTS(naming); i++) {
        if (strcmp(naming[i].word, word) == 0) {
            return naming[i].kind;
        }
    }
    return -1;
}

/* let NAME = CELLS */
static void collect_let(struct reading *reading, const struct uvk_node *statement,
                        struct own_name *own)
{
    const struct uvk_node *sign =
        want(reading, statement, 2, UVK_NODE_EQUALS, "'=' behind the name");
    const struct uvk_node *meaning = item(statement, 3);

    if (sign != NULL && meaning == NULL) {
        want(reading, statement, 3, UVK_NODE_NAME, "what the name stands for");
    }
    own->kind = sign != NULL && meaning != NULL ? OWN_LET : OWN_BROKEN;
    own->meaning = meaning;
}

/* let mod(tap, held) = ...: the parameters are names. */
static bool parameters_are_names(struct reading *reading, const struct uvk_node *name)
{
    for (const struct uvk_node *at = name->child; at != NULL; at = at->next) {
        if (at->kind != UVK_NODE_NAME) {
            uvk_say(reading->messages, UVK_SAYS_EXPECTED, at->place, NULL,
                    "expected the name of a parameter");
            return false;
        }
    }
    return true;
}

static void collect_name(struct reading *reading, const struct uvk_node *statement)
{
    const struct uvk_node *name = item(statement, 1);
    int kind = naming_kind(statement);
    struct own_name own = {.kind = OWN_BROKEN};

    if (kind < 0 || name == NULL) {
        return;
    }
    if (name->kind != UVK_NODE_NAME && (name->kind != UVK_NODE_CALL || kind != OWN_LET)) {
        uvk_say(reading->messages, UVK_SAYS_EXPECTED, name->place, NULL, "expected a name");
        return;
    }
    if (!name_is_free(reading, name) || !parameters_are_names(reading, name)) {
        return;
    }
    own.parameters = name->kind == UVK_NODE_CALL ? name->child : NULL;
    own.name = name->text;
    own.place = name->place;
    if (kind == OWN_LET && statement->kind != UVK_NODE_BROKEN) {
        collect_let(reading, statement, &own);
    } else if (kind == OWN_LAYER) {
        own.kind = OWN_LAYER;
        own.layer = reading->keymap->layer_count++;
    } else if (kind == OWN_MACRO) {
        own.kind = OWN_MACRO;
        own.layer = reading->keymap->macro_count++;
    } else if (kind == OWN_DANCE) {
        own.kind = OWN_DANCE;
        own.layer = reading->keymap->dance_count++;
    }
    g_array_append_val(reading->own, own);
    g_hash_table_insert(reading->program->name_index, (gpointer)own.name,
                        GUINT_TO_POINTER(reading->own->len));
}

/* A let that nothing uses is read as well, so that its mistakes are told. */
static void read_let(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    const struct uvk_node *name = item(statement, 1);
    const struct own_name *own =
        name != NULL && name->kind == UVK_NODE_NAME ? own_named(reading, name->text) : NULL;
    const struct uvk_node *meaning = own != NULL && own->kind == OWN_LET ? own->meaning : NULL;

    (void)subject;
    if (own == NULL || own->place.at != name->place.at || own->parameters != NULL) {
        return; /* with parameters, it is read where it is used */
    }
    reading->defining = true;
    if (meaning != NULL && meaning->next == NULL) {
        struct uvk_node use = {.kind = UVK_NODE_NAME, .place = name->place, .text = own->name};
        cell_value(reading, &use);
    } else {
        for (; meaning != NULL; meaning = meaning->next) {
            cell_value(reading, meaning);
        }
    }
    reading->defining = false;
}

/* ---- layers ----------------------------------------------------------------------- */

/* The cells of a layer while it is read. */
struct cells {
    struct uvk_value *turns;       /* of the knobs, two each */
    struct uvk_place *turn_places; /* of these */
    GArray *places;                /* of struct uvk_place, one for each value */
    GArray *values;                /* of struct uvk_value */
    GArray *lengths;               /* of unsigned: cells of each line */
    GArray *lines;                 /* of struct uvk_place */
    bool broken;                   /* a line could not be read */
};

static void add_cells(struct reading *reading, struct cells *cells, const struct uvk_node *node)
{
    struct own_name *own = several_cells(reading, node);
    const struct binding *outer = reading->bindings;
    const struct binding *inner = NULL;

    if (own == NULL) {
        struct uvk_value value = cell_value(reading, node);
        g_array_append_val(cells->values, value);
        g_array_append_val(cells->places, node->place);
        return;
    }
    if (node->kind == UVK_NODE_CALL && !bind_arguments(reading, node, own, &inner)) {
        cells->broken = true;
        return;
    }
    reading->bindings = inner;
    for (const struct uvk_node *part = own->meaning; part != NULL; part = part->next) {
        struct uvk_value value = cell_value(reading, part);
        struct uvk_place none = {NULL, 0, 0};
        g_array_append_val(cells->values, value);
        g_array_append_val(cells->places, none);
    }
    reading->bindings = outer;
}

/* knob NAME LEFT RIGHT */
static void read_turns(struct reading *reading, struct cells *cells,
                       const struct uvk_node *statement)
{
    const struct uvk_node *name = want(reading, statement, 1, UVK_NODE_NAME, "a knob's name");
    int knob = want_knob(reading, name);
    struct uvk_value *turns = knob >= 0 ? &cells->turns[2 * knob] : NULL;
    struct uvk_place *places = knob >= 0 ? &cells->turn_places[2 * knob] : NULL;

    if (turns == NULL) {
        return;
    }
    if (turns[0].kind != UVK_VALUE_THROUGH || turns[1].kind != UVK_VALUE_THROUGH) {
        uvk_say(reading->messages, UVK_SAYS_TWICE, name->place, NULL,
                "this layer has a line for the knob '%s' already", name->text);
        return;
    }
    for (unsigned i = 0; i < 2; i++) {
        const struct uvk_node *cell = item(statement, i + 2);
        if (cell == NULL) {
            want(reading, statement, i + 2, UVK_NODE_NAME,
                 i == 0 ? "the cells of a turn to the left and to the right"
                        : "the cell of a turn to the right");
            return;
        }
        turns[i] = cell_value(reading, cell);
        places[i] = cell->place;
    }
    want_end(reading, statement, 4);
}

/* `light` may be a name of somebody's own; a colour is never a cell. */
static bool is_light(const struct uvk_node *statement)
{
    const struct uvk_node *second = item(statement, 1);

    return keyword(statement) != NULL && strcmp(keyword(statement), "light") == 0 &&
           second != NULL && second->kind == UVK_NODE_COLOUR;
}

static void read_line(struct reading *reading, struct cells *cells,
                      const struct uvk_node *statement)
{
    const char *word = keyword(statement);
    guint before = cells->values->len;
    unsigned length;

    if (statement->kind == UVK_NODE_BROKEN) {
        cells->broken = true;
        return;
    }
    if (word != NULL && strcmp(word, "knob") == 0) {
        read_turns(reading, cells, statement);
        return;
    }
    for (const struct uvk_node *node = statement->child; node != NULL; node = node->next) {
        if (node->kind == UVK_NODE_BLOCK) {
            uvk_say(reading->messages, UVK_SAYS_EXPECTED, node->place, NULL,
                    "expected a cell, found a block");
        } else {
            add_cells(reading, cells, node);
        }
    }
    length = cells->values->len - before;
    g_array_append_val(cells->lengths, length);
    g_array_append_val(cells->lines, statement->place);
}

/* Cells of the board's line LINE. */
static unsigned board_line(const struct uvk_board *board, unsigned line)
{
    unsigned count = 0;

    for (unsigned i = 0; i < board->key_count; i++) {
        count += board->keys[i].line == line;
    }
    return count;
}

static void check_lines(struct reading *reading, const struct cells *cells)
{
    for (guint i = 0; i < cells->lengths->len; i++) {
        unsigned has = g_array_index(cells->lengths, unsigned, i);
        unsigned wanted = board_line(reading->board, i);
        if (has != wanted) {
            uvk_say(reading->messages, UVK_SAYS_WRONG_LINE,
                    g_array_index(cells->lines, struct uvk_place, i), NULL,
                    "%u cell%s, the board has %u in this line", has, has == 1 ? "" : "s",
                    wanted);
        }
    }
}

static void check_count(struct reading *reading, const struct cells *cells,
                        const struct uvk_layer_text *layer)
{
    const struct uvk_board *board = reading->board;

    if (cells->broken || reading->keys_unknown || cells->values->len == board->key_count) {
        return;
    }
    if (cells->lengths->len == board->line_count) {
        check_lines(reading, cells);
    } else {
        uvk_say(reading->messages, UVK_SAYS_WRONG_LAYER, layer->place, NULL,
                "layer '%s' has %u cell%s, the board has %u key%s", layer->name,
                cells->values->len, cells->values->len == 1 ? "" : "s", board->key_count,
                board->key_count == 1 ? "" : "s");
    }
}

static void read_cells(struct reading *reading, const struct uvk_node *block,
                       struct uvk_layer_text *layer)
{
    unsigned keys = reading->board->key_count;
    struct cells cells = {NULL,
                          NULL,
                          g_array_new(FALSE, TRUE, sizeof(struct uvk_place)),
                          g_array_new(FALSE, TRUE, sizeof(struct uvk_value)),
                          g_array_new(FALSE, TRUE, sizeof(unsigned)),
                          g_array_new(FALSE, TRUE, sizeof(struct uvk_place)),
                          false};

    layer->cells = uvk_arena_take(reading->arena,
                                  (uvk_board_cells(reading->board) + 1) * sizeof *layer->cells);
    layer->places = uvk_arena_take(reading->arena, (uvk_board_cells(reading->board) + 1) *
                                                       sizeof *layer->places);
    cells.turns = layer->cells + keys;
    cells.turn_places = layer->places + keys;
    for (unsigned i = 0; i < 2 * reading->board->knob_count; i++) {
        cells.turns[i].kind = UVK_VALUE_THROUGH;
    }
    for (const struct uvk_node *at = block->child; at != NULL; at = at->next) {
        if (at->kind != UVK_NODE_BROKEN && is_light(at)) {
            read_layer_light(reading, at, layer);
        } else {
            read_line(reading, &cells, at);
        }
    }
    check_count(reading, &cells, layer);
    if (cells.values->len > 0) {
        memcpy(layer->cells, cells.values->data,
               MIN(keys, cells.values->len) * sizeof *layer->cells);
        memcpy(layer->places, cells.places->data,
               MIN(keys, cells.values->len) * sizeof *layer->places);
    }
    g_array_free(cells.values, TRUE);
    g_array_free(cells.places, TRUE);
    g_array_free(cells.lengths, TRUE);
    g_array_free(cells.lines, TRUE);
}

/* layer NAME when A+B: on while both are. */
static void read_when(struct reading *reading, const struct uvk_node *statement,
                      struct uvk_layer_text *layer, unsigned index)
{
    const struct uvk_node *word = item(statement, 2);
    const struct uvk_node *both;
    const struct uvk_node *node;

    if (word == NULL) {
        return;
    }
    if (word->kind != UVK_NODE_NAME || strcmp(word->text, "when") != 0) {
        uvk_say(reading->messages, UVK_SAYS_EXPECTED, word->place, NULL,
                "expected 'when' or '{'");
        return;
    }
    both = want(reading, statement, 3, UVK_NODE_CHORD, "two layers, as in 'when nav+num'");
    node = both != NULL ? both->child : NULL;
    for (unsigned i = 0; node != NULL; i++, node = node->next) {
        const struct own_name *own =
            node->kind == UVK_NODE_NAME ? own_named(reading, node->text) : NULL;
        if (i == 2 || own == NULL || own->kind != OWN_LAYER || own->layer == index) {
            uvk_say(reading->messages, i == 2 ? UVK_SAYS_EXPECTED : UVK_SAYS_NO_LAYER,
                    node->place, NULL,
                    i == 2 ? "expected two layers" : "this is no other layer");
            return;
        }
        layer->when[i] = own->layer;
    }
    layer->has_when = both != NULL;
    want_end(reading, statement, 4);
}

static void read_layer(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    const struct uvk_node *name = want(reading, statement, 1, UVK_NODE_NAME, "a layer's name");
    const struct own_name *own = name != NULL ? own_named(reading, name->text) : NULL;
    const struct uvk_node *block = want_block(reading, statement);
    struct uvk_layer_text *layer;

    (void)subject;
    if (block == NULL || own == NULL || own->kind != OWN_LAYER ||
        own->place.at != name->place.at || own->place.source != name->place.source) {
        return;
    }
    layer = &reading->keymap->layers[own->layer];
    layer->name = own->name;
    layer->place = name->place;
    read_when(reading, statement, layer, own->layer);
    if (reading->board != NULL && reading->board->key_count > 0) {
        read_cells(reading, block, layer);
    }
}

static void read_nothing(struct reading *reading, const struct uvk_node *statement,
                         void *subject)
{
    (void)subject;
    (void)reading;
    (void)statement;
}

static const struct rule keymap_rules[] = {
    {"choice", read_nothing, true}, /* the board has asked for it by now */
    {"host", read_host, false},     {"set", read_set, true},
    {"feel", read_feel, true},      {"let", read_let, true},
    {"dance", read_dance, true},    {"layer", read_layer, true},
    {"combo", read_combo, true},    {"leader", read_leader, false},
    {"macro", read_macro, true},    {"long-press", read_long_press, false},
    {"live", read_live, false},     {"lights", read_lights, false},
};

static bool says(const struct uvk_node *block, const char *word)
{
    for (const struct uvk_node *at = block->child; at != NULL; at = at->next) {
        if (keyword(at) != NULL && strcmp(keyword(at), word) == 0) {
            return true;
        }
    }
    return false;
}

static void read_statements(struct reading *reading, const struct uvk_node *block)
{
    struct uvk_keymap *keymap = reading->keymap;

    for (const struct uvk_node *at = block->child; at != NULL; at = at->next) {
        collect_name(reading, at);
    }
    keymap->layers =
        uvk_arena_take(reading->arena, (keymap->layer_count + 1) * sizeof *keymap->layers);
    keymap->macro_room = keymap->macro_count;
    keymap->macros =
        uvk_arena_take(reading->arena, (keymap->macro_count + 1) * sizeof *keymap->macros);
    keymap->dances =
        uvk_arena_take(reading->arena, (keymap->dance_count + 1) * sizeof *keymap->dances);
    if (keymap->layer_count > LAYERS_MAX) {
        uvk_say(reading->messages, UVK_SAYS_NO_ROOM, keymap->place, NULL,
                "%u layers; a keymap has at most %u", keymap->layer_count, LAYERS_MAX);
        return;
    }
    read_block(reading, block, keymap_rules, G_N_ELEMENTS(keymap_rules), "the keymap", NULL);
    check_dances(reading);
    check_macros(reading);
    apply_long_press(reading);
    if (keymap->layer_count == 0 && !says(block, "layer")) {
        uvk_say(reading->messages, UVK_SAYS_MISSING, keymap->place, NULL,
                "this keymap has no layer");
    }
}

void read_keymap(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    const struct uvk_node *name =
        want(reading, statement, 1, UVK_NODE_NAME, "the keymap's name");
    const struct uvk_node *block = want_block(reading, statement);
    struct uvk_keymap *keymap;

    (void)subject;
    if (reading->keymap != NULL) {
        uvk_say_other(uvk_say(reading->messages, UVK_SAYS_TWICE, statement->child->place, NULL,
                              "a program has at most one keymap; '%s' is there already",
                              reading->keymap->name),
                      reading->keymap->place);
        return;
    }
    keymap = uvk_arena_take(reading->arena, sizeof *keymap);
    reading->keymap = keymap;
    reading->program->keymap = keymap;
    keymap->name = name != NULL ? name->text : "?";
    keymap->place = statement->child->place;
    if (reading->board != NULL) {
        memcpy(keymap->settings, reading->board->settings, sizeof keymap->settings);
    } else {
        usual_settings(keymap->settings);
    }
    keymap->lights.colour = (struct uvk_colour){UINT8_MAX, UINT8_MAX, UINT8_MAX};
    add_default_feel(reading);
    if (name == NULL || block == NULL) {
        return;
    }
    want_end(reading, statement, 2);
    /* Without a host statement the keys are read by Linux with the US layout. */
    if (!says(block, "host")) {
        keymap->layout_name = uvk_layout_names[0];
        keymap->layout = uvk_layout_load(keymap->system, keymap->layout_name);
    }
    read_statements(reading, block);
}
