/* leaving.c - layers that stay on when all fingers are up, and that no key switches off. */
#include "model/visit.h"

#include "uvrek/action.h"

/* The keys that can be pressed while a layer is on, followed from layer to layer. */
struct search {
    const struct reading *reading;
    unsigned stuck;  /* the layer in question */
    bool *reachable; /* of each layer: can be on above it */
    bool grown;      /* one more is reachable */
    bool leaves;     /* a key was found that switches the layer off */
};

static void look_for_a_way(const struct uvk_value *value, void *data)
{
    struct search *search = data;

    if (value->kind != UVK_VALUE_LAYER) {
        return;
    }
    if ((value->op == UVK_LAYER_TOGGLE && value->layer == search->stuck) ||
        (value->op == UVK_LAYER_ONLY && value->layer != search->stuck)) {
        search->leaves = true;
    }
    if (!search->reachable[value->layer]) {
        search->reachable[value->layer] = true;
        search->grown = true;
    }
}

/* What shows on LAYER: its own cells, and through them the stuck layer's and the first's. */
static void look_at_layer(struct search *search, struct visit *visit, unsigned layer)
{
    const struct uvk_keymap *keymap = search->reading->keymap;
    const unsigned below[] = {layer, search->stuck, 0};

    for (unsigned cell = 0; cell < uvk_board_cells(search->reading->board); cell++) {
        for (size_t i = 0; i < G_N_ELEMENTS(below); i++) {
            const struct uvk_value *value = &keymap->layers[below[i]].cells[cell];
            if (value->kind != UVK_VALUE_THROUGH) {
                visit_value(visit, value);
                break;
            }
        }
    }
}

static bool combo_is_reached(const struct uvk_combo_text *combo, const bool *layers)
{
    for (unsigned i = 0; i < combo->layer_count; i++) {
        if (layers[combo->layers[i]]) {
            return true;
        }
    }
    return combo->layer_count == 0;
}

static void look_once(struct search *search)
{
    const struct uvk_keymap *keymap = search->reading->keymap;
    struct visit visit = visit_begin(keymap, look_for_a_way, search);

    for (unsigned layer = 0; layer < keymap->layer_count; layer++) {
        if (search->reachable[layer]) {
            look_at_layer(search, &visit, layer);
        }
    }
    for (const struct uvk_combo_text *combo = keymap->combos; combo != NULL;
         combo = combo->next) {
        if (combo_is_reached(combo, search->reachable)) {
            visit_value(&visit, &combo->value);
        }
    }
    for (const struct uvk_sequence_text *sequence = keymap->sequences; sequence != NULL;
         sequence = sequence->next) {
        visit_value(&visit, &sequence->value);
    }
    visit_end(&visit);
}

static bool can_be_left(const struct reading *reading, unsigned layer)
{
    struct search search = {.reading = reading,
                            .stuck = layer,
                            .reachable = g_new0(bool, reading->keymap->layer_count),
                            .grown = true};

    search.reachable[layer] = true;
    while (search.grown && !search.leaves) {
        search.grown = false;
        look_once(&search);
    }
    g_free(search.reachable);
    return search.leaves;
}

/* Layers that a `toggle:` or an `only:` switches on. */
static void note_lasting(const struct uvk_value *value, void *data)
{
    bool *lasting = data;

    if (value->kind == UVK_VALUE_LAYER && value->layer != 0 &&
        (value->op == UVK_LAYER_TOGGLE || value->op == UVK_LAYER_ONLY)) {
        lasting[value->layer] = true;
    }
}

void doubt_stuck_layers(struct reading *reading)
{
    const struct uvk_keymap *keymap = reading->keymap;
    bool *lasting = g_new0(bool, keymap->layer_count + 1);

    visit_all(reading, note_lasting, lasting);
    for (unsigned i = 1; i < keymap->layer_count; i++) {
        if (lasting[i] && !can_be_left(reading, i)) {
            char *fix = g_strdup_printf("put toggle:%s or only:%s on it",
                                        keymap->layers[i].name, keymap->layers[0].name);
            uvk_say(reading->messages, UVK_SAYS_STUCK_LAYER, keymap->layers[i].place, fix,
                    "once the layer '%s' is switched on, no key switches it off",
                    keymap->layers[i].name);
            g_free(fix);
        }
    }
    g_free(lasting);
}
