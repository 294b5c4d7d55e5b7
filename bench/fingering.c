/* fingering.c - which keys make a character: looked for on every layer that one or two keys
 * reach, by tap, by hold, by counting, by a combo. */
#include "fingering.h"

#include "uvrek/action.h"
#include "uvrek/hid.h"
#include "uvrek/ways.h"

#include <string.h>

#define CONTEXTS_MAX 256u
#define DEPTH_MAX    2u
#define LAYERS_MOST  8u

/* Layers that are on, and what the fingers did for it. */
struct context {
    unsigned on[LAYERS_MOST]; /* lowest first */
    unsigned on_count;
    struct few_keys before, held, after;
    unsigned depth;
};

struct fingerings {
    const struct uvk_program *program;
    GArray *contexts; /* of struct context; the first layer alone is the first */
};

/* ---- keys and layers ------------------------------------------------------------------- */

static bool has_key(const struct few_keys *few, unsigned key)
{
    for (unsigned i = 0; i < few->count; i++) {
        if (few->key[i] == key) {
            return true;
        }
    }
    return false;
}

static bool add_key(struct few_keys *few, unsigned key)
{
    if (few->count == FEW_KEYS) {
        return false;
    }
    few->key[few->count++] = key;
    return true;
}

static bool is_on(const struct context *context, unsigned layer)
{
    for (unsigned i = 0; i < context->on_count; i++) {
        if (context->on[i] == layer) {
            return true;
        }
    }
    return false;
}

static void switch_on(struct context *context, unsigned layer)
{
    if (!is_on(context, layer) && context->on_count < LAYERS_MOST) {
        context->on[context->on_count++] = layer;
    }
}

/* Layers with `when` come on with the second of their two. */
static void switch_on_whens(const struct uvk_keymap *keymap, struct context *context)
{
    for (unsigned i = 0; i < keymap->layer_count; i++) {
        const struct uvk_layer_text *layer = &keymap->layers[i];
        if (layer->has_when && is_on(context, layer->when[0]) &&
            is_on(context, layer->when[1])) {
            switch_on(context, i);
        }
    }
}

/* What KEY does where these layers are on. */
static const struct uvk_value *cell_in(const struct uvk_program *program,
                                       const struct context *context, unsigned key)
{
    const struct uvk_value *cell = NULL;

    for (unsigned i = context->on_count; i-- > 0;) {
        cell = &program->keymap->layers[context->on[i]].cells[key];
        if (cell->kind != UVK_VALUE_THROUGH) {
            break;
        }
    }
    return cell;
}

static const struct uvk_value *held_side(const struct uvk_value *cell)
{
    return cell->kind == UVK_VALUE_HOLD ? cell->held : cell;
}

/* ---- contexts -------------------------------------------------------------------------- */

/* A key that leaves LAYER again when it is tapped there. */
static bool leads_back(const struct uvk_value *value, unsigned layer)
{
    value = uvk_value_tap(value);
    return value->kind == UVK_VALUE_LAYER &&
           ((value->op == UVK_LAYER_TOGGLE && value->layer == layer) ||
            (value->op == UVK_LAYER_ONLY && value->layer == 0));
}

static bool find_way_back(const struct uvk_program *program, struct context *context,
                          unsigned layer)
{
    for (unsigned key = 0; key < program->board->key_count; key++) {
        if (leads_back(cell_in(program, context, key), layer)) {
            return add_key(&context->after, key);
        }
    }
    return false;
}

static void add_context(struct fingerings *fingerings, struct context *context)
{
    switch_on_whens(fingerings->program->keymap, context);
    context->depth++;
    if (fingerings->contexts->len < CONTEXTS_MAX) {
        g_array_append_vals(fingerings->contexts, context, 1);
    }
}

/* KEY is held, and a layer is on meanwhile. */
static void add_held(struct fingerings *fingerings, const struct context *from, unsigned key,
                     unsigned layer)
{
    struct context context = *from;

    switch_on(&context, layer);
    if (add_key(&context.held, key)) {
        add_context(fingerings, &context);
    }
}

/* KEY is tapped, and a layer is on for the next key, or until it is left. */
static void add_tapped(struct fingerings *fingerings, const struct context *from, unsigned key,
                       const struct uvk_value *value)
{
    struct context context = *from;

    if (from->depth > 0 || value->op == UVK_LAYER_WHILE) {
        return; /* nobody types characters that way, or a tap is over too soon */
    }
    switch_on(&context, value->layer);
    if (add_key(&context.before, key) &&
        (value->op == UVK_LAYER_ONCE ||
         find_way_back(fingerings->program, &context, value->layer))) {
        add_context(fingerings, &context);
    }
}

static void look_around(struct fingerings *fingerings, guint at)
{
    struct context from = g_array_index(fingerings->contexts, struct context, at);

    for (unsigned key = 0;
         from.depth < DEPTH_MAX && key < fingerings->program->board->key_count; key++) {
        const struct uvk_value *cell = cell_in(fingerings->program, &from, key);
        const struct uvk_value *held = held_side(cell);
        const struct uvk_value *tap = uvk_value_tap(cell);
        if (has_key(&from.held, key)) {
            continue;
        }
        if (held->kind == UVK_VALUE_LAYER && held->op == UVK_LAYER_WHILE) {
            add_held(fingerings, &from, key, held->layer);
        }
        if (tap->kind == UVK_VALUE_LAYER) {
            add_tapped(fingerings, &from, key, tap);
        }
    }
}

struct fingerings *fingerings_new(const struct uvk_program *program)
{
    struct fingerings *fingerings = g_new0(struct fingerings, 1);
    struct context first = {.on_count = 1};

    fingerings->program = program;
    fingerings->contexts = g_array_new(FALSE, TRUE, sizeof(struct context));
    g_array_append_val(fingerings->contexts, first);
    for (guint i = 0; i < fingerings->contexts->len; i++) {
        look_around(fingerings, i);
    }
    return fingerings;
}

void fingerings_free(struct fingerings *fingerings)
{
    g_array_free(fingerings->contexts, TRUE);
    g_free(fingerings);
}

/* ---- one key --------------------------------------------------------------------------- */

static bool types(const struct uvk_value *value, uint8_t mods, uint16_t usage)
{
    return value->kind == UVK_VALUE_USAGE && value->page == UVK_HID_PAGE_KEYBOARD &&
           value->mods == mods && value->usage == usage;
}

/* Shift may be either one. */
static bool same_mods(uint8_t a, uint8_t b)
{
    return a == b || ((a & UVK_HID_SHIFTS) != 0 && (b & UVK_HID_SHIFTS) != 0 &&
                      (a & (uint8_t)~UVK_HID_SHIFTS) == (b & (uint8_t)~UVK_HID_SHIFTS));
}

/* The touches of a dance that type STROKE: how many, and how long the last one lasts. */
static bool by_dance(const struct uvk_keymap *keymap, unsigned dance, struct uvk_stroke stroke,
                     struct fingering *out)
{
    const struct uvk_dance_text *text = &keymap->dances[dance];

    for (unsigned i = 0; i < text->taps; i++) {
        bool tapped = types(&text->lines[i].tapped, stroke.mods, stroke.usage);
        if (tapped || types(&text->lines[i].held, stroke.mods, stroke.usage)) {
            out->touches = i + 1;
            out->longer = tapped ? 0 : keymap->feels[0].hold_after;
            out->apart = text->within;
            return true;
        }
    }
    return false;
}

/* How CELL types STROKE: by a tap, held, or counted. */
static bool by_cell(const struct uvk_keymap *keymap, const struct uvk_value *cell,
                    struct uvk_stroke stroke, struct fingering *out)
{
    const struct uvk_value *tap = uvk_value_tap(cell);

    out->touches = 1;
    out->longer = 0;
    out->apart = 0;
    if (types(tap, stroke.mods, stroke.usage)) {
        return true;
    }
    if (tap->kind == UVK_VALUE_DANCE && by_dance(keymap, tap->dance, stroke, out)) {
        return true;
    }
    out->longer = cell->kind == UVK_VALUE_HOLD ? keymap->feels[cell->feel].hold_after : 0;
    return cell->kind == UVK_VALUE_HOLD && types(cell->held, stroke.mods, stroke.usage);
}

/* A tap-hold that asks for the other hand is no hold for a key of its own. */
static bool same_hand(const struct uvk_program *program, unsigned held, unsigned key)
{
    const struct uvk_board *board = program->board;
    const struct uvk_value *cell = &program->keymap->layers[0].cells[held];
    enum uvk_hand one = board->keys[held].hand;
    enum uvk_hand two = board->keys[key].hand;

    return cell->kind == UVK_VALUE_HOLD && program->keymap->feels[cell->feel].other_hand &&
           one == two && one != UVK_EITHER_HAND;
}

static bool holds_for(const struct uvk_program *program, const struct few_keys *held,
                      unsigned key)
{
    for (unsigned i = 0; i < held->count; i++) {
        if (same_hand(program, held->key[i], key)) {
            return false;
        }
    }
    return true;
}

/* ---- all ways -------------------------------------------------------------------------- */

static unsigned cost_of(const struct fingering *way)
{
    return 2 * (way->before.count + way->after.count) + way->held.count + way->touches +
           (way->keys.count - 1) * 2 + (way->longer > 0 ? 2 : 0);
}

struct search {
    const struct fingerings *fingerings;
    struct uvk_stroke stroke;
    struct fingering best;
    unsigned cost; /* of the best; 0: there is none yet */
};

static void offer(struct search *search, const struct fingering *way)
{
    unsigned cost = cost_of(way);

    if (search->cost == 0 || cost < search->cost) {
        search->best = *way;
        search->cost = cost;
    }
}

static struct fingering way_in(const struct context *context, struct uvk_stroke stroke)
{
    return (struct fingering){.before = context->before,
                              .held = context->held,
                              .after = context->after,
                              .touches = 1,
                              .usage = stroke.usage};
}

static void try_keys(struct search *search, const struct context *context,
                     struct uvk_stroke stroke, const struct fingering *with)
{
    const struct uvk_program *program = search->fingerings->program;

    for (unsigned key = 0; key < program->board->key_count; key++) {
        struct fingering way = *with;
        if (!has_key(&way.held, key) && !has_key(&way.before, key) &&
            holds_for(program, &way.held, key) &&
            by_cell(program->keymap, cell_in(program, context, key), stroke, &way) &&
            add_key(&way.keys, key)) {
            offer(search, &way);
        }
    }
}

/* The plain key, with its modifiers held by another key, or waiting from a tap before it. */
static void try_modifiers(struct search *search, const struct context *context)
{
    const struct uvk_program *program = search->fingerings->program;
    struct uvk_stroke plain = {0, search->stroke.usage};

    for (unsigned key = 0; search->stroke.mods != 0 && key < program->board->key_count; key++) {
        const struct uvk_value *cell = cell_in(program, context, key);
        const struct uvk_value *held = held_side(cell);
        const struct uvk_value *tap = uvk_value_tap(cell);
        struct fingering way = way_in(context, search->stroke);
        if (has_key(&way.held, key)) {
            continue;
        }
        if (held->kind == UVK_VALUE_USAGE && held->page == UVK_HID_PAGE_KEYBOARD &&
            held->usage == 0 && same_mods(held->mods, search->stroke.mods) &&
            add_key(&way.held, key)) {
            try_keys(search, context, plain, &way);
        }
        way = way_in(context, search->stroke);
        if (tap->kind == UVK_VALUE_MODS && tap->op == UVK_MODS_ONCE &&
            same_mods(tap->mods, search->stroke.mods) && add_key(&way.before, key)) {
            try_keys(search, context, plain, &way);
        }
    }
}

static void try_combos(struct search *search, const struct context *context)
{
    const struct uvk_keymap *keymap = search->fingerings->program->keymap;
    unsigned highest = context->on[context->on_count - 1];

    for (const struct uvk_combo_text *combo = keymap->combos; combo != NULL;
         combo = combo->next) {
        struct fingering way = way_in(context, search->stroke);
        bool good =
            uvk_combo_is_on(combo, highest) &&
            types(uvk_value_tap(&combo->value), search->stroke.mods, search->stroke.usage);
        for (unsigned i = 0; good && i < combo->key_count; i++) {
            good = !has_key(&way.held, combo->keys[i]) && add_key(&way.keys, combo->keys[i]);
        }
        if (good) {
            offer(search, &way);
        }
    }
}

bool fingering_find(const struct fingerings *fingerings, struct uvk_stroke stroke,
                    struct fingering *found)
{
    struct search search = {.fingerings = fingerings, .stroke = stroke};

    for (guint i = 0; i < fingerings->contexts->len; i++) {
        const struct context *context = &g_array_index(fingerings->contexts, struct context, i);
        struct fingering with = way_in(context, stroke);
        try_keys(&search, context, stroke, &with);
        try_modifiers(&search, context);
        try_combos(&search, context);
    }
    *found = search.best;
    return search.cost > 0;
}
