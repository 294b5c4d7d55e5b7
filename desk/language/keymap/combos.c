/* combos.c - combo KEY+KEY -> CELL { within T; on LAYER ...; until first-up | last-up } */
#include "reading.h"

#include "uvrek/image.h"

#define WITHIN     40000.0 /* microseconds, if nothing is said */
#define COMBOS_MAX 255u

static void read_within(struct reading *reading, const struct uvk_node *statement,
                        void *subject)
{
    struct uvk_combo_text *combo = subject;
    const struct uvk_node *node = want(reading, statement, 1, UVK_NODE_TIME, "a time");

    if (want_time(reading, node, 1000, UVK_FEEL_TIME_MAX * 1000.0, &combo->within)) {
        want_end(reading, statement, 2);
    }
}

static void read_on(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    struct uvk_combo_text *combo = subject;
    const struct uvk_node *node = item(statement, 1);

    if (node == NULL) {
        want(reading, statement, 1, UVK_NODE_NAME, "a layer");
        return;
    }
    combo->layers =
        uvk_arena_take(reading->arena, reading->keymap->layer_count * sizeof(unsigned));
    for (; node != NULL && node->kind != UVK_NODE_BLOCK; node = node->next) {
        const struct own_name *own =
            node->kind == UVK_NODE_NAME ? own_named(reading, node->text) : NULL;
        if (own == NULL || own->kind != OWN_LAYER) {
            uvk_say(reading->messages, UVK_SAYS_NO_LAYER, node->place, NULL,
                    "this is no layer");
        } else if (combo->layer_count < reading->keymap->layer_count) {
            combo->layers[combo->layer_count++] = own->layer;
        }
    }
}

static void read_until(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    struct uvk_combo_text *combo = subject;
    static const char *const words[] = {"first-up", "last-up", NULL};
    int word = want_word(reading, want(reading, statement, 1, UVK_NODE_NAME, "a release"),
                         UVK_SAYS_EXPECTED, words, "release");

    combo->last_up = word == 1;
    want_end(reading, statement, 2);
}

static const struct rule combo_rules[] = {
    {"within", read_within, false},
    {"on", read_on, false},
    {"until", read_until, false},
};

/* j+k */
static bool read_combo_keys(struct reading *reading, const struct uvk_node *statement,
                            struct uvk_combo_text *combo)
{
    const struct uvk_node *keys =
        want(reading, statement, 1, UVK_NODE_CHORD, "keys, as in j+k");

    for (const struct uvk_node *node = keys != NULL ? keys->child : NULL; node != NULL;
         node = node->next) {
        unsigned key;
        if (combo->key_count == UVK_COMBO_KEYS_MAX) {
            uvk_say(reading->messages, UVK_SAYS_OUT_OF_RANGE, node->place, NULL,
                    "a combo has at most %u keys", UVK_COMBO_KEYS_MAX);
            return false;
        }
        if (!find_key(reading, node, &key)) {
            return false;
        }
        for (unsigned i = 0; i < combo->key_count; i++) {
            if (combo->keys[i] == key) {
                uvk_say(reading->messages, UVK_SAYS_TWICE, node->place, NULL,
                        "this key is in the combo already");
                return false;
            }
        }
        combo->keys[combo->key_count++] = key;
    }
    return keys != NULL;
}

/* -> CELL */
static bool read_combo_value(struct reading *reading, const struct uvk_node *statement,
                             struct uvk_combo_text *combo)
{
    const struct uvk_node *arrow =
        want(reading, statement, 2, UVK_NODE_ARROW, "'->' behind the keys");
    const struct uvk_node *cell = item(statement, 3);

    if (arrow == NULL || cell == NULL) {
        if (arrow != NULL) {
            want(reading, statement, 3, UVK_NODE_NAME, "what the combo does");
        }
        return false;
    }
    combo->value = cell_value(reading, cell);
    if (combo->value.kind == UVK_VALUE_THROUGH) {
        uvk_say(reading->messages, UVK_SAYS_DOES_NOT_FIT, cell->place, NULL,
                "a combo has nothing to see through to");
    }
    want_end(reading, statement, 4);
    return true;
}

void read_combo(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    struct uvk_keymap *keymap = reading->keymap;
    struct uvk_combo_text **end = &keymap->combos;
    struct uvk_combo_text *combo;
    unsigned count = 0;

    (void)subject;
    if (reading->board == NULL || keymap->layer_count == 0) {
        return;
    }
    combo = uvk_arena_take(reading->arena, sizeof *combo);
    combo->place = statement->place;
    combo->within = WITHIN;
    if (!read_combo_keys(reading, statement, combo) ||
        !read_combo_value(reading, statement, combo)) {
        return;
    }
    for (const struct uvk_node *node = statement->child; node != NULL; node = node->next) {
        if (node->kind == UVK_NODE_BLOCK) {
            read_block(reading, node, combo_rules, G_N_ELEMENTS(combo_rules), "a combo", combo);
        }
    }
    for (; *end != NULL; end = &(*end)->next) {
        count++;
    }
    *end = combo;
    if (count == COMBOS_MAX) {
        uvk_say(reading->messages, UVK_SAYS_NO_ROOM, statement->place, NULL,
                "a keymap has at most %u combos", COMBOS_MAX);
    }
}
