/* cells.c - what a cell does. */
#include "reading.h"

#include "uvrek/action.h"

#include <string.h>

static const struct uvk_value broken = {.kind = UVK_VALUE_BROKEN};

struct own_name *own_named(const struct reading *reading, const char *name)
{
    for (guint i = 0; i < reading->own->len; i++) {
        struct own_name *own = &g_array_index(reading->own, struct own_name, i);
        if (strcmp(own->name, name) == 0) {
            return own;
        }
    }
    return NULL;
}

struct own_name *several_cells(struct reading *reading, const struct uvk_node *node)
{
    struct own_name *own = node->kind == UVK_NODE_NAME ? own_named(reading, node->text) : NULL;
    bool several = own != NULL && own->kind == OWN_LET && own->meaning->next != NULL;

    return several ? own : NULL;
}

/* Names that the language will know; until then they are answered as such. */
static const char *const later_names[] = {
    "leader", "point-up", "point-down", "point-left", "point-right", "pace-slow", "pace-fast",
};

static bool is_later_name(const char *name)
{
    for (size_t i = 0; i < G_N_ELEMENTS(later_names); i++) {
        if (strcmp(later_names[i], name) == 0) {
            return true;
        }
    }
    return false;
}

/* All names that could stand in a cell: keys, then the keymap's own. */
static const char *candidate(size_t index, const void *data)
{
    const struct reading *reading = data;
    size_t keys;
    const struct uvk_key_name *names = uvk_key_names(&keys);

    return index < keys ? names[index].name
                        : g_array_index(reading->own, struct own_name, index - keys).name;
}

static void complain_no_name(struct reading *reading, const struct uvk_node *node)
{
    size_t keys;
    char *fix;

    uvk_key_names(&keys);
    fix = did_you_mean(node->text, keys + reading->own->len, candidate, reading);
    uvk_say(reading->messages, 21, node->place, fix, "no key or name '%s'", node->text);
    g_free(fix);
}

static struct uvk_value let_value(struct reading *reading, const struct uvk_node *node,
                                  struct own_name *own)
{
    struct uvk_value value;
    guint index = (guint)(own - (struct own_name *)(void *)reading->own->data);

    if (own->visiting) {
        uvk_say(reading->messages, 26, own->place, NULL, "'%s' is defined by itself",
                own->name);
        own->kind = OWN_BROKEN;
        return broken;
    }
    if (own->meaning->next != NULL) {
        uvk_say(reading->messages, 22, node->place, NULL,
                "'%s' stands for several cells, here is room for one", own->name);
        return broken;
    }
    own->visiting = true;
    value = cell_value(reading, own->meaning);
    g_array_index(reading->own, struct own_name, index).visiting = false;
    return value;
}

static struct uvk_value key_value(const struct uvk_key_name *key)
{
    struct uvk_value value = {.kind = UVK_VALUE_USAGE,
                              .mods = key->mods,
                              .page = key->page,
                              .usage = key->usage,
                              .turn = key->turn};
    return value;
}

static struct uvk_value name_value(struct reading *reading, const struct uvk_node *node)
{
    const struct uvk_key_name *key = uvk_key_named(node->text);
    struct own_name *own;

    if (key != NULL) {
        return key_value(key);
    }
    if (strcmp(node->text, "primary") == 0) {
        return key_value(uvk_key_named(reading->keymap->system == UVK_MAC ? "gui" : "ctrl"));
    }
    if (is_later_name(node->text)) {
        not_supported_yet(reading, node->place, node->text);
        return broken;
    }
    own = own_named(reading, node->text);
    if (own == NULL) {
        complain_no_name(reading, node);
        return broken;
    }
    if (own->kind == OWN_LAYER) {
        struct uvk_value value = {.kind = UVK_VALUE_LAYER, .layer = own->layer};
        return value;
    }
    return own->kind == OWN_LET ? let_value(reading, node, own) : broken;
}

/* A single digit is a key. */
static struct uvk_value digit_value(struct reading *reading, const struct uvk_node *node)
{
    const struct uvk_key_name *key = uvk_key_named(node->text);

    if (key == NULL) {
        uvk_say(reading->messages, 22, node->place, NULL,
                "a number is no cell; a single digit is a key");
        return broken;
    }
    return key_value(key);
}

static struct uvk_value character_value(struct reading *reading, const struct uvk_node *node)
{
    struct uvk_value value = {.kind = UVK_VALUE_USAGE, .page = 0x07};
    uint8_t usage;

    if (reading->keymap->layout == NULL) {
        return broken; /* said already */
    }
    if (!uvk_layout_find(reading->keymap->layout, g_utf8_get_char(node->text), &value.mods,
                         &usage)) {
        uvk_say(reading->messages, 23, node->place, NULL, "the host's layout cannot type '%s'",
                node->text);
        return broken;
    }
    value.usage = usage;
    return value;
}

static bool is_modifier(const struct uvk_value *value)
{
    return value->kind == UVK_VALUE_USAGE && value->page == 0x07 && value->usage == 0;
}

/* Modifiers first, then one key, which may bring modifiers of its own. */
static struct uvk_value chord_value(struct reading *reading, const struct uvk_node *node)
{
    struct uvk_value sum = {.kind = UVK_VALUE_USAGE, .page = 0x07};
    bool is_broken = false;

    for (const struct uvk_node *part = node->child; part != NULL; part = part->next) {
        struct uvk_value value = cell_value(reading, part);
        if (value.kind == UVK_VALUE_BROKEN) {
            is_broken = true;
        } else if (value.kind != UVK_VALUE_USAGE) {
            uvk_say(reading->messages, 22, part->place, NULL,
                    "a chord is made of modifiers and a key");
            is_broken = true;
        } else if (part->next != NULL && !is_modifier(&value)) {
            uvk_say(reading->messages, 22, part->place,
                    "write the modifiers first: ctrl+shift+a",
                    "only the last part of a chord may be other than a modifier");
            is_broken = true;
        } else {
            value.mods |= sum.mods;
            sum = value;
        }
    }
    return is_broken ? broken : sum;
}

/* qualifier:value. NULL in acts: a qualifier that is for later. */
static const struct qualifier {
    const char *word;
    const char *const *acts;
} qualifiers[] = {
    {"board", (const char *const[]){"bootloader", "restart", NULL}},
    {"toggle", NULL},
    {"only", NULL},
    {"once", NULL},
    {"block", NULL},
    {"light", NULL},
    {"host", NULL},
    {"output", NULL},
};

static const char *qualifier_word(size_t index, const void *data)
{
    (void)data;
    return qualifiers[index].word;
}

static struct uvk_value qualified_value(struct reading *reading, const struct uvk_node *node)
{
    struct uvk_value value = {.kind = UVK_VALUE_BOARD};
    char *fix;
    int act;

    for (size_t i = 0; i < G_N_ELEMENTS(qualifiers); i++) {
        if (strcmp(qualifiers[i].word, node->text) != 0) {
            continue;
        }
        if (qualifiers[i].acts == NULL ||
            (node->child->kind == UVK_NODE_NAME && strcmp(node->child->text, "reset") == 0)) {
            char *what = g_strdup_printf("'%s:'", node->text);
            not_supported_yet(reading, node->place, what);
            g_free(what);
            return broken;
        }
        act = want_word(reading, node->child, 21, qualifiers[i].acts, "act of the board");
        value.usage = (uint16_t)act;
        return act < 0 ? broken : value;
    }
    fix = did_you_mean(node->text, G_N_ELEMENTS(qualifiers), qualifier_word, NULL);
    uvk_say(reading->messages, 21, node->place, fix, "nothing is called '%s:'", node->text);
    g_free(fix);
    return broken;
}

static struct uvk_value later_value(struct reading *reading, const struct uvk_node *node)
{
    static const struct {
        enum uvk_node_kind kind;
        const char *what;
    } later[] = {{UVK_NODE_TAP_HOLD, "a tap-hold cell"},
                 {UVK_NODE_FEEL, "a tap-hold cell with a feel"},
                 {UVK_NODE_CALL, "a let with parameters"}};

    for (size_t i = 0; i < G_N_ELEMENTS(later); i++) {
        if (later[i].kind == node->kind) {
            not_supported_yet(reading, node->place, later[i].what);
            return broken;
        }
    }
    uvk_say(reading->messages, 22, node->place, NULL, "this cannot stand in a cell");
    return broken;
}

struct uvk_value cell_value(struct reading *reading, const struct uvk_node *node)
{
    struct uvk_value value = {.kind = UVK_VALUE_NOTHING};

    switch (node->kind) {
    case UVK_NODE_NOTHING:
        return value;
    case UVK_NODE_THROUGH:
        value.kind = UVK_VALUE_THROUGH;
        return value;
    case UVK_NODE_NAME:
        return name_value(reading, node);
    case UVK_NODE_NUMBER:
        return digit_value(reading, node);
    case UVK_NODE_CHARACTER:
        return character_value(reading, node);
    case UVK_NODE_CHORD:
        return chord_value(reading, node);
    case UVK_NODE_QUALIFIED:
        return qualified_value(reading, node);
    default:
        return later_value(reading, node);
    }
}
