/* ways.c - the shortest way to each layer, found layer by layer from the first one on. */
#include "uvrek/ways.h"

#include "uvrek/action.h"

#include <string.h>

/* One more layer is looked for from AT. */
struct search {
    const struct uvk_program *program;
    struct uvk_ways *ways;
    bool *lasts; /* of each layer: on its way it stays on when the fingers are up */
    unsigned at;
    GArray *found; /* of unsigned: layers in the order in which they were found */
};

/* What the fingers do next: the keys, and the words for it. */
struct touch {
    const unsigned *keys;
    unsigned key_count;
    const char *name; /* of the keys: "space", "a + b" */
    const char *held; /* how they are held: "hold", "tap and hold" */
    const char *tapped;
    bool stays; /* what lasts as long as the key can be used */
};

static void add(unsigned **list, unsigned *count, unsigned item)
{
    for (unsigned i = 0; i < *count; i++) {
        if ((*list)[i] == item) {
            return;
        }
    }
    *list = g_renew(unsigned, *list, *count + 1);
    (*list)[(*count)++] = item;
}

/* What stays on of the layers at the search's place once all fingers are up. */
static void add_lasting(struct search *search, struct uvk_way *way)
{
    const struct uvk_way *here = &search->ways->of[search->at];

    for (unsigned i = 0; i < here->on_count; i++) {
        if (here->on[i] == 0 || search->lasts[here->on[i]]) {
            add(&way->on, &way->on_count, here->on[i]);
        }
    }
}

static void add_all(struct search *search, struct uvk_way *way)
{
    const struct uvk_way *here = &search->ways->of[search->at];

    for (unsigned i = 0; i < here->on_count; i++) {
        add(&way->on, &way->on_count, here->on[i]);
    }
    for (unsigned i = 0; i < here->held_count; i++) {
        add(&way->held, &way->held_count, here->held[i]);
    }
}

/* Takes TEXT over. */
static void set_text(char **place, char *text)
{
    g_free(*place);
    *place = text;
}

static void tell_step(const struct search *search, struct uvk_way *way,
                      const struct uvk_value *value, const struct touch *touch)
{
    const char *before = search->ways->of[search->at].text;
    bool held = value->op == UVK_LAYER_WHILE;
    char *step = g_strdup_printf("%s %s%s", held ? touch->held : touch->tapped, touch->name,
                                 value->op == UVK_LAYER_ONCE ? ", for one key" : "");

    set_text(&way->text,
             g_strdup_printf("%s%s%s", before, before[0] != '\0' ? ", " : "", step));
    set_text(
        &way->short_text,
        g_strdup_printf("from %s, %s", search->program->keymap->layers[search->at].name, step));
    g_free(step);
}

/* VALUE switches a layer that was not found before. */
static void find_layer(struct search *search, const struct uvk_value *value,
                       const struct touch *touch)
{
    struct uvk_way *way = &search->ways->of[value->layer];

    if (way->found || (value->op == UVK_LAYER_WHILE && !touch->stays)) {
        return;
    }
    way->found = true;
    tell_step(search, way, value, touch);
    if (value->op == UVK_LAYER_ONLY) {
        add(&way->on, &way->on_count, 0);
    } else if (value->op == UVK_LAYER_TOGGLE) {
        add_lasting(search, way);
    } else {
        add_all(search, way);
    }
    for (unsigned i = 0; value->op == UVK_LAYER_WHILE && i < touch->key_count; i++) {
        add(&way->held, &way->held_count, touch->keys[i]);
    }
    add(&way->on, &way->on_count, value->layer);
    search->lasts[value->layer] = value->op == UVK_LAYER_TOGGLE || value->op == UVK_LAYER_ONLY;
    g_array_append_val(search->found, value->layer);
}

static void look_at(struct search *search, const struct uvk_value *value,
                    const struct touch *touch);

/* So many touches, the last one tapped or held. */
static void look_at_line(struct search *search, const struct uvk_dance_line *line,
                         unsigned taps, const struct touch *touch)
{
    char *times = taps == 1   ? g_strdup("tap")
                  : taps == 2 ? g_strdup("tap twice")
                              : g_strdup_printf("tap %u times", taps);
    char *last = taps == 1   ? g_strdup("hold")
                 : taps == 2 ? g_strdup("tap and hold")
                             : g_strdup_printf("tap %u times and hold", taps - 1);
    struct touch line_touch = *touch;

    line_touch.tapped = times;
    line_touch.held = last;
    line_touch.stays = false;
    look_at(search, &line->tapped, &line_touch);
    line_touch.tapped = last;
    line_touch.stays = true;
    look_at(search, &line->held, &line_touch);
    g_free(times);
    g_free(last);
}

/* A dance in a dance is not followed: nobody would find that way. */
static void look_at_dance(struct search *search, const struct uvk_value *value,
                          const struct touch *touch)
{
    const struct uvk_dance_text *dance = &search->program->keymap->dances[value->dance];

    for (unsigned taps = 1; taps <= dance->taps; taps++) {
        struct uvk_dance_line line = dance->lines[taps - 1];
        if (line.tapped.kind != UVK_VALUE_DANCE && line.held.kind != UVK_VALUE_DANCE) {
            look_at_line(search, &line, taps, touch);
        }
    }
}

static void look_at(struct search *search, const struct uvk_value *value,
                    const struct touch *touch)
{
    struct touch tap = *touch;

    switch (value->kind) {
    case UVK_VALUE_LAYER:
        find_layer(search, value, touch);
        break;
    case UVK_VALUE_HOLD:
        tap.stays = false;
        look_at(search, value->tap, &tap);
        tap.stays = true;
        tap.tapped = touch->held;
        look_at(search, value->held, &tap);
        break;
    case UVK_VALUE_DANCE:
        look_at_dance(search, value, touch);
        break;
    default:
        break;
    }
}

/* What a finger calls a key: what it taps in the first layer, or its address. */
static char *key_name(const struct uvk_program *program, unsigned key)
{
    const struct uvk_value *tap = uvk_value_tap(&program->keymap->layers[0].cells[key]);

    return tap->kind == UVK_VALUE_NOTHING || tap->kind == UVK_VALUE_THROUGH
               ? uvk_cell_place(program->board, key)
               : uvk_cell_name(program, tap);
}

static char *keys_name(const struct uvk_program *program, const unsigned *keys, unsigned count,
                       const char *between)
{
    GString *out = g_string_new(NULL);

    for (unsigned i = 0; i < count; i++) {
        char *name = key_name(program, keys[i]);
        g_string_append_printf(out, "%s%s", i > 0 ? between : "", name);
        g_free(name);
    }
    return g_string_free(out, FALSE);
}

static void look_at_keys(struct search *search)
{
    const struct uvk_board *board = search->program->board;

    for (unsigned cell = 0; cell < uvk_board_cells(board); cell++) {
        unsigned from;
        bool key = cell < board->key_count;
        const struct uvk_value *value =
            uvk_cell_shown(search->program, search->ways, search->at, cell, &from);
        char *name = key ? key_name(search->program, cell) : uvk_cell_place(board, cell);
        struct touch touch = {.keys = &cell,
                              .key_count = 1,
                              .name = name,
                              .held = "hold",
                              .tapped = key ? "tap" : "turn",
                              .stays = key};
        look_at(search, value, &touch);
        g_free(name);
    }
}

bool uvk_combo_is_on(const struct uvk_combo_text *combo, unsigned layer)
{
    for (unsigned i = 0; i < combo->layer_count; i++) {
        if (combo->layers[i] == layer) {
            return true;
        }
    }
    return combo->layer_count == 0;
}

static void look_at_combos(struct search *search)
{
    for (const struct uvk_combo_text *combo = search->program->keymap->combos; combo != NULL;
         combo = combo->next) {
        char *name = keys_name(search->program, combo->keys, combo->key_count, " + ");
        struct touch touch = {.keys = combo->keys,
                              .key_count = combo->key_count,
                              .name = name,
                              .held = "hold",
                              .tapped = "tap",
                              .stays = true};
        if (uvk_combo_is_on(combo, search->at)) {
            look_at(search, &combo->value, &touch);
        }
        g_free(name);
    }
}

static void look_at_sequences(struct search *search)
{
    for (const struct uvk_sequence_text *sequence = search->program->keymap->sequences;
         sequence != NULL; sequence = sequence->next) {
        char *keys = keys_name(search->program, sequence->keys, sequence->key_count, " ");
        char *name = g_strdup_printf("leader, then %s", keys);
        struct touch touch = {.keys = &sequence->keys[sequence->key_count - 1],
                              .key_count = 1,
                              .name = name,
                              .held = "tap",
                              .tapped = "tap",
                              .stays = true};
        look_at(search, &sequence->value, &touch);
        g_free(keys);
        g_free(name);
    }
}

/* "hold mark" and "hold space": "hold mark and space". */
static char *both_texts(const char *one, const char *two)
{
    bool alike = g_str_has_prefix(one, "hold ") && g_str_has_prefix(two, "hold ") &&
                 strchr(one, ',') == NULL && strchr(two, ',') == NULL;

    return alike ? g_strdup_printf("%s and %s", one, two + strlen("hold "))
                 : g_strdup_printf("%s, and %s", one, two);
}

static void join(struct search *search, unsigned layer)
{
    const struct uvk_layer_text *text = &search->program->keymap->layers[layer];
    struct uvk_way *way = &search->ways->of[layer];
    unsigned at = search->at;

    for (unsigned i = 0; i < 2; i++) {
        search->at = text->when[i];
        add_all(search, way);
    }
    search->at = at;
    way->found = true;
    set_text(&way->text, both_texts(search->ways->of[text->when[0]].text,
                                    search->ways->of[text->when[1]].text));
    set_text(&way->short_text,
             g_strdup_printf("while %s and %s are on",
                             search->program->keymap->layers[text->when[0]].name,
                             search->program->keymap->layers[text->when[1]].name));
    add(&way->on, &way->on_count, layer);
    g_array_append_val(search->found, layer);
}

/* Layers that are on while two others are, as soon as ways to both are known. */
static void look_at_whens(struct search *search)
{
    for (unsigned layer = 0; layer < search->ways->count; layer++) {
        const struct uvk_layer_text *text = &search->program->keymap->layers[layer];
        if (text->has_when && !search->ways->of[layer].found &&
            search->ways->of[text->when[0]].found && search->ways->of[text->when[1]].found) {
            join(search, layer);
        }
    }
}

static void follow(struct search *search)
{
    for (guint i = 0; i < search->found->len; i++) {
        search->at = g_array_index(search->found, unsigned, i);
        look_at_keys(search);
        look_at_combos(search);
        look_at_sequences(search);
        look_at_whens(search);
    }
}

struct uvk_ways *uvk_ways_find(const struct uvk_program *program)
{
    struct uvk_ways *ways = g_new0(struct uvk_ways, 1);
    struct search search = {.program = program, .ways = ways};
    const unsigned first = 0;

    ways->count = program->keymap->layer_count;
    ways->of = g_new0(struct uvk_way, ways->count);
    search.lasts = g_new0(bool, ways->count);
    search.found = g_array_new(FALSE, FALSE, sizeof(unsigned));
    ways->of[0].found = true;
    for (unsigned layer = 0; layer < ways->count; layer++) {
        ways->of[layer].text = g_strdup("");
        ways->of[layer].short_text = g_strdup("");
    }
    add(&ways->of[0].on, &ways->of[0].on_count, 0);
    g_array_append_val(search.found, first);
    follow(&search);
    for (unsigned layer = 1; layer < ways->count; layer++) {
        if (!ways->of[layer].found) { /* nothing leads there: as if it came upon the first */
            add(&ways->of[layer].on, &ways->of[layer].on_count, 0);
            add(&ways->of[layer].on, &ways->of[layer].on_count, layer);
        }
    }
    g_array_free(search.found, TRUE);
    g_free(search.lasts);
    return ways;
}

void uvk_ways_free(struct uvk_ways *ways)
{
    for (unsigned i = 0; ways != NULL && i < ways->count; i++) {
        g_free(ways->of[i].on);
        g_free(ways->of[i].held);
        g_free(ways->of[i].text);
        g_free(ways->of[i].short_text);
    }
    if (ways != NULL) {
        g_free(ways->of);
        g_free(ways);
    }
}

const struct uvk_value *uvk_cell_shown(const struct uvk_program *program,
                                       const struct uvk_ways *ways, unsigned layer,
                                       unsigned cell, unsigned *from)
{
    const struct uvk_way *way = &ways->of[layer];

    for (unsigned i = way->on_count; i-- > 0;) {
        const struct uvk_value *value = &program->keymap->layers[way->on[i]].cells[cell];
        if (value->kind != UVK_VALUE_THROUGH) {
            *from = way->on[i];
            return value;
        }
    }
    *from = 0;
    return &program->keymap->layers[0].cells[cell];
}

bool uvk_way_holds(const struct uvk_ways *ways, unsigned layer, unsigned key)
{
    const struct uvk_way *way = &ways->of[layer];

    for (unsigned i = 0; i < way->held_count; i++) {
        if (way->held[i] == key) {
            return true;
        }
    }
    return false;
}
