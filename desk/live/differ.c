/* differ.c - what two keymaps do differently, told as a person would. */
#include "lift.h"

#include <string.h>

struct differing {
    GPtrArray *list;
    struct lift before, after; /* the keyboard's, and the text's */
    struct lift told;          /* the keyboard's, where nothing gets a name */
    /* What the keyboard did before: only what it does since then counts. NULL: all does. */
    const struct lift *since;
};

static void free_difference(gpointer data)
{
    struct uvk_difference *difference = data;

    g_free(difference->where);
    g_free(difference->before);
    g_free(difference->after);
    g_free(difference);
}

/* All three become the list's. */
static struct uvk_difference *add(struct differing *differing, char *where, char *before,
                                  char *after)
{
    struct uvk_difference *difference = g_new(struct uvk_difference, 1);

    *difference = (struct uvk_difference){where, before, after, -1, -1};
    g_ptr_array_add(differing->list, difference);
    return difference;
}

/* ---- feels and macros that the same cells use ------------------------------------------- */

static bool is_told(const struct differing *differing, const char *where)
{
    for (guint i = 0; i < differing->list->len; i++) {
        if (strcmp(((struct uvk_difference *)differing->list->pdata[i])->where, where) == 0) {
            return true;
        }
    }
    return false;
}

/* Does a tap-hold of a cell decide by FEEL? */
static bool is_used(const struct uvk_image *image, const struct uvk_feel *feel)
{
    for (unsigned cell = 0; cell < (unsigned)image->layers * image->keys; cell++) {
        uvk_action action =
            uvk_image_cell(image, (uint8_t)(cell / image->keys), (uint8_t)(cell % image->keys));
        struct uvk_tap_hold both;
        struct uvk_feel own;
        if (uvk_action_kind(action) != UVK_HOLD || uvk_action_is_dance(action)) {
            continue;
        }
        uvk_image_hold(image, uvk_action_row(action), &both);
        uvk_image_feel(image, both.feel, &own);
        if (uvk_same_feel(&own, feel)) {
            return true;
        }
    }
    return false;
}

/* The first feel is `default`: dances and `once` follow it as well. */
static bool is_first(const struct uvk_image *image, const struct uvk_feel *feel)
{
    struct uvk_feel first;

    if (image->rows[UVK_TABLE_FEELS] == 0) {
        return false;
    }
    uvk_image_feel(image, 0, &first);
    return uvk_same_feel(&first, feel);
}

/* A tap-hold that does the same but for its feel, which nothing in the keyboard has any more:
 * it is the feel that is another. */
static bool feel_differs(struct differing *differing, uvk_action one, uvk_action other)
{
    const struct uvk_image *a = differing->before.image;
    const struct uvk_image *b = differing->after.image;
    struct uvk_tap_hold both_a;
    struct uvk_tap_hold both_b;
    struct uvk_feel feel_a;
    struct uvk_feel feel_b;
    const char *name;
    char *where;

    if (uvk_action_kind(one) != UVK_HOLD || uvk_action_kind(other) != UVK_HOLD ||
        uvk_action_is_dance(one) || uvk_action_is_dance(other)) {
        return false;
    }
    uvk_image_hold(a, uvk_action_row(one), &both_a);
    uvk_image_hold(b, uvk_action_row(other), &both_b);
    uvk_image_feel(a, both_a.feel, &feel_a);
    uvk_image_feel(b, both_b.feel, &feel_b);
    name = lift_feel_name(&differing->after, &feel_b);
    if (!uvk_same_action(a, both_a.tap, b, both_b.tap) ||
        !uvk_same_action(a, both_a.held, b, both_b.held) || uvk_same_feel(&feel_a, &feel_b) ||
        name == NULL || lift_feel_name(&differing->before, &feel_a) != NULL ||
        is_used(a, &feel_b) || is_first(a, &feel_a) != is_first(b, &feel_b)) {
        return false; /* or another feel of the text is meant, or a new one */
    }
    where = g_strdup_printf("feel %s", name);
    if (is_told(differing, where)) {
        g_free(where);
    } else {
        add(differing, where, lift_feel(&feel_a), lift_feel(&feel_b));
    }
    return true;
}

/* A macro or a dance of the text in whose place another one is that the text does not know. */
static bool block_differs(struct differing *differing, uvk_action one, uvk_action other)
{
    bool dances = uvk_action_is_dance(one);
    bool macros = uvk_action_kind(one) == UVK_MACRO;
    char *name;
    char *old;
    char *where;

    if (uvk_action_kind(one) != uvk_action_kind(other) ||
        dances != uvk_action_is_dance(other) || (!macros && !dances)) {
        return false;
    }
    old = lift_text(&differing->told, one);
    name = lift_text(&differing->after, other);
    where = g_strdup_printf("%s %s", macros ? "macro" : "dance", name);
    if (strchr(old, '{') == NULL || strchr(name, '{') != NULL) {
        g_clear_pointer(&where, g_free); /* the text knows it: the cell is another */
    } else if (!is_told(differing, where)) {
        add(differing, g_strdup(where),
            macros ? lift_macro(&differing->before, uvk_action_value(one))
                   : lift_dance(&differing->before, one),
            macros ? lift_macro(&differing->after, uvk_action_value(other))
                   : lift_dance(&differing->after, other));
    }
    g_free(old);
    g_free(name);
    if (where == NULL) {
        return false;
    }
    g_free(where);
    return true;
}

/* ---- cells ------------------------------------------------------------------------------ */

static bool same_cell(const struct uvk_image *one, const struct uvk_image *other,
                      unsigned layer, unsigned key)
{
    return uvk_same_action(one, uvk_image_cell(one, (uint8_t)layer, (uint8_t)key), other,
                           uvk_image_cell(other, (uint8_t)layer, (uint8_t)key));
}

static void compare_cell(struct differing *differing, unsigned layer, unsigned key)
{
    const struct uvk_program *program = differing->after.program;
    uvk_action one = uvk_image_cell(differing->before.image, (uint8_t)layer, (uint8_t)key);
    uvk_action other = uvk_image_cell(differing->after.image, (uint8_t)layer, (uint8_t)key);
    struct uvk_difference *difference;
    char *place;

    if (differing->since != NULL &&
        same_cell(differing->before.image, differing->since->image, layer, key)) {
        return;
    }
    if (uvk_same_action(differing->before.image, one, differing->after.image, other) ||
        feel_differs(differing, one, other) || block_differs(differing, one, other)) {
        return;
    }
    place = uvk_cell_place(program->board, key);
    difference =
        add(differing, g_strdup_printf("%s on %s", place, program->keymap->layers[layer].name),
            lift_text(&differing->before, one), lift_text(&differing->after, other));
    difference->layer = (int)layer;
    difference->cell = (int)key;
    g_free(place);
}

static void compare_count(struct differing *differing, const char *what, unsigned before,
                          unsigned after)
{
    if (before != after) {
        add(differing, g_strdup(what), g_strdup_printf("%u", before),
            g_strdup_printf("%u", after));
    }
}

/* As far as both have keys and layers. */
static void compare_cells(struct differing *differing)
{
    const struct uvk_image *one = differing->before.image;
    const struct uvk_image *other = differing->after.image;

    compare_count(differing, "keys and turns of knobs", one->keys, other->keys);
    compare_count(differing, "layers", one->layers, other->layers);
    for (unsigned layer = 0; layer < MIN(one->layers, other->layers); layer++) {
        for (unsigned key = 0; key < other->keys && one->keys == other->keys; key++) {
            compare_cell(differing, layer, key);
        }
    }
}

static bool same_first_feel(const struct uvk_image *one, const struct uvk_image *other)
{
    struct uvk_feel a;
    struct uvk_feel b;

    if (one->rows[UVK_TABLE_FEELS] == 0 || other->rows[UVK_TABLE_FEELS] == 0) {
        return true;
    }
    uvk_image_feel(one, 0, &a);
    uvk_image_feel(other, 0, &b);
    return uvk_same_feel(&a, &b);
}

/* Also where no cell shows it. */
static void compare_first_feel(struct differing *differing)
{
    struct uvk_feel one;
    struct uvk_feel other;

    if (same_first_feel(differing->before.image, differing->after.image) ||
        (differing->since != NULL &&
         same_first_feel(differing->before.image, differing->since->image))) {
        return;
    }
    uvk_image_feel(differing->before.image, 0, &one);
    uvk_image_feel(differing->after.image, 0, &other);
    if (!is_told(differing, "feel default")) {
        add(differing, g_strdup("feel default"), lift_feel(&one), lift_feel(&other));
    }
}

/* ---- combos and leader sequences -------------------------------------------------------- */

/* Keys by what they are called on the board, joined by BETWEEN. */
static char *keys_text(const struct lift *lift, uint16_t first, unsigned count,
                       const char *between)
{
    GString *out = g_string_new(NULL);

    for (unsigned i = 0; i < count; i++) {
        unsigned key = uvk_image_part(lift->image, (uint16_t)(first + i));
        char *place = key < lift->program->board->key_count
                          ? uvk_cell_place(lift->program->board, key)
                          : g_strdup_printf("key %u", key);
        g_string_append_printf(out, "%s%s", i > 0 ? between : "", place);
        g_free(place);
    }
    return g_string_free(out, FALSE);
}

static const char *layer_name(const struct lift *lift, unsigned layer)
{
    const struct uvk_keymap *keymap = lift->program->keymap;

    return layer < keymap->layer_count ? keymap->layers[layer].name : "(another layer)";
}

/* One of them as a statement: "esc { within 40ms; on base }". */
static char *combo_text(const struct lift *lift, const struct uvk_combo *combo)
{
    uint16_t layers = (uint16_t)(combo->first + combo->keys);
    char *action = lift_text(lift, combo->action);
    GString *out = g_string_new(action);

    g_string_append_printf(out, " { within %ums", combo->within);
    for (unsigned i = 0; i < uvk_image_part(lift->image, layers); i++) {
        unsigned layer = uvk_image_part(lift->image, (uint16_t)(layers + 1u + i));
        g_string_append_printf(out, "%s %s", i == 0 ? "; on" : "", layer_name(lift, layer));
    }
    g_string_append(out, combo->flags & UVK_COMBO_LAST_UP ? "; until last-up }" : " }");
    g_free(action);
    return g_string_free(out, FALSE);
}

/* The combos of a keymap, or its sequences, in words, each by its keys, and what counts of
 * them: all, or what is not among those that are OLD. */
struct rows {
    GHashTable *told, *old; /* both may be NULL */
};

static bool row_counts(const struct rows *rows, const char *keys)
{
    return rows == NULL || rows->old == NULL ||
           g_strcmp0(g_hash_table_lookup(rows->told, keys),
                     g_hash_table_lookup(rows->old, keys)) != 0;
}

static GHashTable *table_of(const struct lift *lift, bool combos, const struct rows *counting)
{
    GHashTable *table = g_hash_table_new_full(g_str_hash, g_str_equal, g_free, g_free);
    unsigned rows = lift->image->rows[combos ? UVK_TABLE_COMBOS : UVK_TABLE_SEQUENCES];

    for (unsigned row = 0; row < rows; row++) {
        char *keys;
        char *text;
        if (combos) {
            struct uvk_combo combo;
            char *names;
            uvk_image_combo(lift->image, (uint8_t)row, &combo);
            names = keys_text(lift, combo.first, combo.keys, "+");
            keys = g_strdup_printf("combo %s", names);
            text = row_counts(counting, keys) ? combo_text(lift, &combo) : NULL;
            g_free(names);
        } else {
            struct uvk_sequence sequence;
            char *names;
            uvk_image_sequence(lift->image, (uint16_t)row, &sequence);
            names = keys_text(lift, sequence.first, sequence.keys, " ");
            keys = g_strdup_printf("leader %s", names);
            text = row_counts(counting, keys) ? lift_text(lift, sequence.action) : NULL;
            g_free(names);
        }
        g_hash_table_replace(table, keys, text);
    }
    return table;
}

static gint by_text(gconstpointer a, gconstpointer b)
{
    return strcmp(a, b);
}

static void compare_tables(struct differing *differing, bool combos)
{
    bool all = differing->since == NULL;
    struct rows rows = {all ? NULL : table_of(&differing->told, combos, NULL),
                        all ? NULL : table_of(differing->since, combos, NULL)};
    GHashTable *before = table_of(&differing->before, combos, &rows);
    GHashTable *after = table_of(&differing->after, combos, NULL);
    GList *keys = g_list_concat(g_hash_table_get_keys(before), g_hash_table_get_keys(after));
    const char *last = NULL;

    keys = g_list_sort(keys, by_text);
    for (GList *at = keys; at != NULL; at = at->next) {
        const char *one = g_hash_table_lookup(before, at->data);
        const char *other = g_hash_table_lookup(after, at->data);
        if (g_strcmp0(last, at->data) != 0 && row_counts(&rows, at->data) &&
            g_strcmp0(one, other) != 0) {
            add(differing, g_strdup(at->data), g_strdup(one), g_strdup(other));
        }
        last = at->data;
    }
    g_list_free(keys);
    g_hash_table_unref(before);
    g_hash_table_unref(after);
    g_clear_pointer(&rows.told, g_hash_table_unref);
    g_clear_pointer(&rows.old, g_hash_table_unref);
}

/* ---- settings, whens -------------------------------------------------------------------- */

static char *setting_text(unsigned index, uint16_t value)
{
    return g_strdup_printf("%u%s", value, uvk_setting_names[index].unit == NULL ? "ms" : "");
}

static void compare_settings(struct differing *differing)
{
    for (unsigned i = 0; i < UVK_SETTINGS; i++) {
        uint16_t one = uvk_image_setting(differing->before.image, (enum uvk_setting)i);
        uint16_t other = uvk_image_setting(differing->after.image, (enum uvk_setting)i);
        bool counts = differing->since == NULL ||
                      one != uvk_image_setting(differing->since->image, (enum uvk_setting)i);
        if (counts && one != other) {
            add(differing,
                i == UVK_SET_LEADER_WITHIN
                    ? g_strdup("leader within")
                    : g_strdup_printf("set %s", uvk_setting_names[i].name),
                setting_text(i, one), setting_text(i, other));
        }
    }
}

/* All three texts become the list's or are freed; OLD: before the changes that count. */
static void compare_texts(struct differing *differing, const char *where, char *one,
                          char *other, char *old)
{
    bool counts = differing->since == NULL || g_strcmp0(one, old) != 0;

    g_free(old);
    if (counts && g_strcmp0(one, other) != 0) {
        add(differing, g_strdup(where), one, other);
    } else {
        g_free(one);
        g_free(other);
    }
}

static char *when_text(const struct lift *lift, unsigned layer)
{
    for (unsigned row = 0; row < lift->image->rows[UVK_TABLE_WHENS]; row++) {
        struct uvk_when when;
        uvk_image_when(lift->image, (uint8_t)row, &when);
        if (when.layer == layer) {
            return g_strdup_printf("%s+%s", layer_name(lift, when.a), layer_name(lift, when.b));
        }
    }
    return NULL;
}

static void compare_whens(struct differing *differing)
{
    const struct uvk_keymap *keymap = differing->after.program->keymap;

    for (unsigned layer = 0; layer < keymap->layer_count; layer++) {
        char *where = g_strdup_printf("layer %s when", keymap->layers[layer].name);
        compare_texts(differing, where, when_text(&differing->before, layer),
                      when_text(&differing->after, layer),
                      differing->since != NULL ? when_text(differing->since, layer) : NULL);
        g_free(where);
    }
}

/* ---- lights ----------------------------------------------------------------------------- */

static void compare_lights(struct differing *differing)
{
    const struct uvk_image *one = differing->before.image;
    const struct uvk_image *other = differing->after.image;
    const struct uvk_image *old = differing->since != NULL ? differing->since->image : one;
    const struct uvk_keymap *keymap = differing->after.program->keymap;

    compare_texts(differing, "lights", lift_lights(one), lift_lights(other), lift_lights(old));
    compare_texts(differing, "levels and current of the lights", lift_light_limits(one),
                  lift_light_limits(other), lift_light_limits(old));
    for (unsigned i = 0; i < keymap->layer_count; i++) {
        char *where = g_strdup_printf("layer %s light", keymap->layers[i].name);
        compare_texts(differing, where, lift_layer_light(one, (uint8_t)i),
                      lift_layer_light(other, (uint8_t)i), lift_layer_light(old, (uint8_t)i));
        g_free(where);
    }
}

GPtrArray *differences_naming(const struct uvk_program *program, const struct uvk_image *image,
                              const struct uvk_image *wanted, const struct uvk_image *since,
                              GPtrArray *news)
{
    const struct lift built = {program, since, wanted, NULL};
    struct differing differing = {
        .list = g_ptr_array_new_with_free_func(free_difference),
        .before = {program, image, wanted, news},
        .after = {program, wanted, wanted, NULL},
        .told = {program, image, wanted, NULL},
        .since = since != NULL ? &built : NULL,
    };

    compare_cells(&differing);
    compare_first_feel(&differing);
    compare_tables(&differing, true);
    compare_tables(&differing, false);
    compare_settings(&differing);
    compare_whens(&differing);
    compare_lights(&differing);
    return differing.list;
}

GPtrArray *uvk_live_differences(const struct uvk_program *program,
                                const struct uvk_image *image, const struct uvk_image *wanted,
                                const struct uvk_image *since)
{
    return differences_naming(program, image, wanted, since, NULL);
}
