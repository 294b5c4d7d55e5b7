/* cells.c - what a cell does. */
#include "reading.h"

#include "uvrek/action.h"
#include "uvrek/hid.h"

#include <string.h>

static const struct uvk_value broken = {.kind = UVK_VALUE_BROKEN};

struct own_name *own_named(const struct reading *reading, const char *name)
{
    gpointer index = g_hash_table_lookup(reading->program->name_index, name);

    return index != NULL
               ? &g_array_index(reading->own, struct own_name, GPOINTER_TO_UINT(index) - 1)
               : NULL;
}

struct own_name *several_cells(struct reading *reading, const struct uvk_node *node)
{
    struct own_name *own = node->kind == UVK_NODE_NAME || node->kind == UVK_NODE_CALL
                               ? own_named(reading, node->text)
                               : NULL;
    bool several = own != NULL && own->kind == OWN_LET && own->meaning->next != NULL &&
                   (own->parameters != NULL) == (node->kind == UVK_NODE_CALL);

    if (several) {
        own->used = true;
    }
    return several ? own : NULL;
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
    /* a mistake that is only counted needs no fix */
    fix = reading->messages->errors < UVK_ERRORS_MAX ? guess_name(node->text) : NULL;
    if (fix == NULL && reading->messages->errors < UVK_ERRORS_MAX) {
        fix = did_you_mean(node->text, keys + reading->own->len, candidate, reading);
    }
    uvk_say(reading->messages, UVK_SAYS_NO_NAME, node->place, fix, "no key or name '%s'",
            node->text);
    g_free(fix);
}

/* A value that lives as long as the program. */
static const struct uvk_value *kept(struct reading *reading, struct uvk_value value)
{
    struct uvk_value *copy = uvk_arena_take(reading->arena, sizeof *copy);

    *copy = value;
    return copy;
}

/* Names with parameters may double what is behind them again and again. */
#define EXPANDED_MAX 500000u
#define NESTED_MAX   200u /* names that stand for one another */

/* Is there too much behind this name? It is told once. */
static bool is_too_much(struct reading *reading, const struct uvk_node *node)
{
    if (reading->nested >= NESTED_MAX) {
        uvk_say(reading->messages, UVK_SAYS_NO_ROOM, node->place, NULL,
                "more than %u names stand for one another here", NESTED_MAX);
        return true;
    }
    if (reading->expanded == EXPANDED_MAX) {
        uvk_say(reading->messages, UVK_SAYS_NO_ROOM, node->place, NULL,
                "the names of this keymap stand for one another more than %u times",
                EXPANDED_MAX);
    }
    return reading->expanded++ >= EXPANDED_MAX;
}

/* What OWN stands for, with the parameters that are bound now. Its own parameters apart, no
 * name in it means what a parameter of somebody else means. */
static struct uvk_value meaning_of(struct reading *reading, const struct uvk_node *node,
                                   struct own_name *own)
{
    const struct binding *outer = reading->bindings;
    guint index = (guint)(own - (struct own_name *)(void *)reading->own->data);
    struct uvk_value value;

    if (is_too_much(reading, node)) {
        return broken;
    }
    own->visiting = true;
    reading->nested++;
    reading->bindings = own->parameters != NULL ? outer : NULL;
    value = cell_value(reading, own->meaning);
    reading->bindings = outer;
    reading->nested--;
    g_array_index(reading->own, struct own_name, index).visiting = false;
    return value;
}

/* Without parameters it is always the same: it is worked out once, and once more where only
 * its mistakes are looked for. */
static struct uvk_value known_meaning(struct reading *reading, const struct uvk_node *node,
                                      struct own_name *own)
{
    const struct uvk_value **known = &own->known[reading->defining];

    if (own->parameters != NULL) {
        return meaning_of(reading, node, own);
    }
    if (*known == NULL) {
        struct uvk_value value = meaning_of(reading, node, own);
        *known = kept(reading, value);
    }
    return **known;
}

static struct uvk_value let_value(struct reading *reading, const struct uvk_node *node,
                                  struct own_name *own)
{
    if (own->visiting) {
        uvk_say(reading->messages, UVK_SAYS_DEFINED_BY_ITSELF, own->place, NULL,
                "'%s' is defined by itself", own->name);
        own->kind = OWN_BROKEN;
        return broken;
    }
    if (own->meaning->next != NULL) {
        uvk_say(reading->messages, UVK_SAYS_DOES_NOT_FIT, node->place, NULL,
                "'%s' stands for several cells, here is room for one", own->name);
        return broken;
    }
    if (own->parameters != NULL && node->kind != UVK_NODE_CALL) {
        uvk_say(reading->messages, UVK_SAYS_DOES_NOT_FIT, node->place, NULL,
                "'%s' has parameters: %s(...)", own->name, own->name);
        return broken;
    }
    return known_meaning(reading, node, own);
}

static unsigned count_nodes(const struct uvk_node *node)
{
    unsigned count = 0;

    for (; node != NULL; node = node->next) {
        count++;
    }
    return count;
}

bool bind_arguments(struct reading *reading, const struct uvk_node *node,
                    const struct own_name *own, const struct binding **bindings)
{
    const struct uvk_node *parameter = own->parameters;

    *bindings = NULL;
    if (count_nodes(own->parameters) != count_nodes(node->child)) {
        uvk_say(reading->messages, UVK_SAYS_DOES_NOT_FIT, node->place, NULL,
                "'%s' takes %u, this gives %u", own->name, count_nodes(own->parameters),
                count_nodes(node->child));
        return false;
    }
    for (const struct uvk_node *argument = node->child; argument != NULL;
         argument = argument->next, parameter = parameter->next) {
        struct binding *binding = uvk_arena_take(reading->arena, sizeof *binding);
        binding->name = parameter->text;
        binding->value = cell_value(reading, argument);
        binding->next = *bindings;
        *bindings = binding;
    }
    return true;
}

static bool is_qualifier(const char *word);

/* name(a, b): the arguments are worked out here, the meaning with them. */
/* NODE calls what is no name of the keymap's own. */
static void complain_call(struct reading *reading, const struct uvk_node *node)
{
    char *fix;

    if (uvk_key_named(node->text) != NULL) {
        uvk_say(reading->messages, UVK_SAYS_DOES_NOT_FIT, node->place, NULL,
                "'%s' is a key: it has no parameters", node->text);
    } else if (is_qualifier(node->text)) {
        fix = g_strdup_printf(
            "write '%s:%s'", node->text,
            node->child != NULL && node->child->text != NULL ? node->child->text : "NAME");
        uvk_say(reading->messages, UVK_SAYS_NO_NAME, node->place, fix,
                "no name '%s' with parameters", node->text);
        g_free(fix);
    } else {
        complain_no_name(reading, node);
    }
}

static struct uvk_value call_value(struct reading *reading, const struct uvk_node *node)
{
    struct own_name *own = own_named(reading, node->text);
    const struct binding *outer = reading->bindings;
    const struct binding *inner;
    struct uvk_value value;

    if (own == NULL) {
        complain_call(reading, node);
        return broken;
    }
    own->used = true;
    if (own->kind == OWN_BROKEN) {
        return broken; /* that has been told */
    }
    if (own->kind != OWN_LET || own->parameters == NULL) {
        char *fix = g_strdup_printf("write '%s'", node->text);
        uvk_say(reading->messages, UVK_SAYS_DOES_NOT_FIT, node->place, fix,
                "'%s' has no parameters", node->text);
        g_free(fix);
        return broken;
    }
    if (!bind_arguments(reading, node, own, &inner)) {
        return broken;
    }
    reading->bindings = inner;
    value = let_value(reading, node, own_named(reading, node->text));
    reading->bindings = outer;
    return value;
}

static const struct uvk_value *bound_value(const struct reading *reading, const char *name)
{
    for (const struct binding *at = reading->bindings; at != NULL; at = at->next) {
        if (strcmp(at->name, name) == 0) {
            return &at->value;
        }
    }
    return NULL;
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
    const struct uvk_value *bound = bound_value(reading, node->text);
    struct own_name *own;

    if (bound != NULL) {
        return *bound;
    }
    if (key != NULL) {
        return key_value(key);
    }
    if (strcmp(node->text, "primary") == 0) {
        return key_value(uvk_key_named(reading->keymap->system == UVK_MAC ? "gui" : "ctrl"));
    }
    own = own_named(reading, node->text);
    if (own == NULL) {
        complain_no_name(reading, node);
        return broken;
    }
    own->used |= !reading->defining;
    if (own->kind == OWN_LAYER) {
        struct uvk_value value = {.kind = UVK_VALUE_LAYER, .layer = own->layer};
        return value;
    }
    if (own->kind == OWN_MACRO) {
        struct uvk_value value = {.kind = UVK_VALUE_MACRO, .macro = own->layer};
        return value;
    }
    if (own->kind == OWN_DANCE) {
        struct uvk_value value = {.kind = UVK_VALUE_DANCE, .dance = own->layer};
        return value;
    }
    return own->kind == OWN_LET ? let_value(reading, node, own) : broken;
}

/* A single digit is a key. */
static struct uvk_value digit_value(struct reading *reading, const struct uvk_node *node)
{
    const struct uvk_key_name *key = uvk_key_named(node->text);

    if (key == NULL) {
        uvk_say(reading->messages, UVK_SAYS_DOES_NOT_FIT, node->place, NULL,
                "a number is no cell; a single digit is a key");
        return broken;
    }
    return key_value(key);
}

static bool is_modifier(const struct uvk_value *value)
{
    return value->kind == UVK_VALUE_USAGE && value->page == UVK_HID_PAGE_KEYBOARD &&
           value->usage == 0;
}

/* Modifiers first, then one key, which may bring modifiers of its own. */
static struct uvk_value chord_value(struct reading *reading, const struct uvk_node *node)
{
    struct uvk_value sum = {.kind = UVK_VALUE_USAGE, .page = UVK_HID_PAGE_KEYBOARD};
    bool is_broken = false;

    for (const struct uvk_node *part = node->child; part != NULL; part = part->next) {
        struct uvk_value value = cell_value(reading, part);
        if (value.kind == UVK_VALUE_BROKEN) {
            is_broken = true;
        } else if (value.kind != UVK_VALUE_USAGE || value.page == UVK_PAGE_OWN) {
            uvk_say(reading->messages, UVK_SAYS_DOES_NOT_FIT, part->place, NULL,
                    "a chord is made of modifiers and a key");
            is_broken = true;
        } else if (part->next != NULL && !is_modifier(&value)) {
            uvk_say(reading->messages, UVK_SAYS_DOES_NOT_FIT, part->place,
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

/* board:ACT */
static struct uvk_value board_value(struct reading *reading, const struct uvk_node *node)
{
    static const char *const acts[] = {"bootloader", "restart", "reset", NULL};
    struct uvk_value value = {.kind = UVK_VALUE_BOARD};
    int act;

    act = want_word(reading, node->child, UVK_SAYS_NO_NAME, acts, "act of the board");
    value.usage = (uint16_t)act;
    return act < 0 ? broken : value;
}

/* light:ACT */
static struct uvk_value light_value(struct reading *reading, const struct uvk_node *node)
{
    struct uvk_value value = {.kind = UVK_VALUE_LIGHT};
    int act =
        want_word(reading, node->child, UVK_SAYS_NO_NAME, uvk_light_acts, "act of the lights");

    value.usage = (uint16_t)act;
    return act < 0 ? broken : value;
}

/* toggle:, only: and once: with a layer; toggle: and once: with modifiers. */
#define NO_OP 99u

static struct uvk_value sticky_value(struct reading *reading, const struct uvk_node *node,
                                     unsigned layer_op, unsigned mods_op)
{
    struct uvk_value value = cell_value(reading, node->child);

    if (value.kind == UVK_VALUE_LAYER && value.op == UVK_LAYER_WHILE) {
        value.op = layer_op;
        return value;
    }
    if (is_modifier(&value) && mods_op != NO_OP) {
        value.kind = UVK_VALUE_MODS;
        value.op = mods_op;
        return value;
    }
    if (value.kind != UVK_VALUE_BROKEN) {
        uvk_say(reading->messages, UVK_SAYS_DOES_NOT_FIT, node->child->place, NULL,
                "'%s:' is for %s", node->text,
                mods_op == NO_OP ? "layers" : "layers and modifiers");
    }
    return broken;
}

/* toggle:long-press, which is no name of a key or of the keymap's own */
static bool is_long_press(const struct uvk_node *node)
{
    return node->kind == UVK_NODE_NAME && strcmp(node->text, "long-press") == 0;
}

static struct uvk_value long_press_value(struct reading *reading, const struct uvk_node *node)
{
    struct uvk_value value = {
        .kind = UVK_VALUE_USAGE, .page = UVK_PAGE_OWN, .usage = UVK_OWN_LONG_PRESS};

    if (reading->keymap->long_press_toggle.source == NULL) {
        reading->keymap->long_press_toggle = node->place;
    }
    return value;
}

static struct uvk_value toggle_value(struct reading *reading, const struct uvk_node *node)
{
    if (is_long_press(node->child)) {
        return long_press_value(reading, node);
    }
    return sticky_value(reading, node, UVK_LAYER_TOGGLE, UVK_MODS_TOGGLE);
}

static struct uvk_value only_value(struct reading *reading, const struct uvk_node *node)
{
    return sticky_value(reading, node, UVK_LAYER_ONLY, NO_OP);
}

static struct uvk_value once_value(struct reading *reading, const struct uvk_node *node)
{
    return sticky_value(reading, node, UVK_LAYER_ONCE, UVK_MODS_ONCE);
}

/* block: turns off modifiers, or another key of the keyboard page. */
static struct uvk_value block_value(struct reading *reading, const struct uvk_node *node)
{
    struct uvk_value value = cell_value(reading, node->child);

    if (is_modifier(&value)) {
        value.kind = UVK_VALUE_MODS;
        value.op = UVK_MODS_BLOCK;
    } else if (value.kind == UVK_VALUE_USAGE && value.page == UVK_HID_PAGE_KEYBOARD &&
               value.mods == 0) {
        value.kind = UVK_VALUE_BLOCK;
    } else if (value.kind != UVK_VALUE_BROKEN) {
        uvk_say(reading->messages, UVK_SAYS_DOES_NOT_FIT, node->child->place, NULL,
                "'block:' is for a modifier or a key of the keyboard without modifiers");
        return broken;
    }
    return value;
}

/* qualifier:value */
static const struct qualifier {
    const char *word;
    struct uvk_value (*value)(struct reading *, const struct uvk_node *);
} qualifiers[] = {
    {"board", board_value}, {"toggle", toggle_value}, {"only", only_value},
    {"once", once_value},   {"block", block_value},   {"light", light_value},
};

static bool is_qualifier(const char *word)
{
    for (size_t i = 0; i < G_N_ELEMENTS(qualifiers); i++) {
        if (strcmp(qualifiers[i].word, word) == 0) {
            return true;
        }
    }
    return false;
}

static const char *qualifier_word(size_t index, const void *data)
{
    (void)data;
    return qualifiers[index].word;
}

static struct uvk_value qualified_value(struct reading *reading, const struct uvk_node *node)
{
    struct uvk_place place = node->place;
    char *fix;

    for (size_t i = 0; i < G_N_ELEMENTS(qualifiers); i++) {
        if (strcmp(qualifiers[i].word, node->text) != 0) {
            continue;
        }
        return qualifiers[i].value(reading, node);
    }
    fix = guess_prefix(node->text, node->child);
    if (fix == NULL) {
        fix = did_you_mean(node->text, G_N_ELEMENTS(qualifiers), qualifier_word, NULL);
        place.length = (uint32_t)strlen(node->text); /* only the prefix is wrong */
    }
    uvk_say(reading->messages, UVK_SAYS_NO_NAME, place, fix, "nothing is called '%s:'",
            node->text);
    g_free(fix);
    return broken;
}

/* One side of a tap-hold: any cell but a tap-hold or a see-through. */
static struct uvk_value side_value(struct reading *reading, const struct uvk_node *node)
{
    struct uvk_value value = cell_value(reading, node);

    if (value.kind == UVK_VALUE_HOLD || value.kind == UVK_VALUE_THROUGH) {
        uvk_say(reading->messages, UVK_SAYS_DOES_NOT_FIT, node->place, NULL,
                "%s cannot be a side of a tap-hold",
                value.kind == UVK_VALUE_HOLD ? "a tap-hold" : "'.'");
        return broken;
    }
    return value;
}

/* tap/held */
static struct uvk_value hold_value(struct reading *reading, const struct uvk_node *node)
{
    const struct uvk_node *more = node->child->next->next;
    struct uvk_value tap = side_value(reading, node->child);
    struct uvk_value held = side_value(reading, node->child->next);
    struct uvk_value value = {.kind = UVK_VALUE_HOLD};

    if (more != NULL) {
        uvk_say(reading->messages, UVK_SAYS_DOES_NOT_FIT, more->place, NULL,
                "a tap-hold has two sides: tap and held");
        return broken;
    }
    if (tap.kind == UVK_VALUE_BROKEN || held.kind == UVK_VALUE_BROKEN) {
        return broken;
    }
    value.tap = kept(reading, tap);
    value.held = kept(reading, held);
    return value;
}

static const char *feel_name(size_t index, const void *data)
{
    return ((const struct uvk_keymap *)data)->feels[index].name;
}

/* tap/held ~feel */
static struct uvk_value feel_value(struct reading *reading, const struct uvk_node *node)
{
    struct uvk_value value = cell_value(reading, node->child);
    int feel = feel_named(reading->keymap, node->text);

    if (feel < 0) {
        char *fix =
            did_you_mean(node->text, reading->keymap->feel_count, feel_name, reading->keymap);
        fix = fix != NULL ? fix : g_strdup_printf("feel %s { ... } would be one", node->text);
        uvk_say(reading->messages, UVK_SAYS_NO_NAME, uvk_last_word(node), fix, "no feel '%s'",
                node->text);
        g_free(fix);
        return broken;
    }
    if (value.kind == UVK_VALUE_BROKEN) {
        return broken;
    }
    if (value.kind != UVK_VALUE_HOLD) {
        uvk_say(reading->messages, UVK_SAYS_DOES_NOT_FIT, node->place, NULL,
                "a feel is for tap-hold cells, this is none");
        return broken;
    }
    value.feel = (unsigned)feel;
    reading->keymap->feels[feel].used = true;
    return value;
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
    case UVK_NODE_CALL:
        return call_value(reading, node);
    case UVK_NODE_TAP_HOLD:
        return hold_value(reading, node);
    case UVK_NODE_FEEL:
        return feel_value(reading, node);
    default:
        uvk_say(reading->messages, UVK_SAYS_DOES_NOT_FIT, node->place, NULL,
                "this cannot stand in a cell");
        return broken;
    }
}
