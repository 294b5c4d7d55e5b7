/* plays.c - read what is expected of a keymap. */
#include "reading.h"

#include <string.h>

#define TAP_TIME 20000.0             /* microseconds */
#define TIME_MAX (600.0 * 1000000.0) /* of one wait */

static bool want_key(struct reading *reading, const struct uvk_node *statement, unsigned *key)
{
    const struct uvk_node *node = item(statement, 1);

    if (node == NULL) {
        want(reading, statement, 1, UVK_NODE_NAME, "a key");
        return false;
    }
    return find_key(reading, node, key);
}

/* ---- steps ------------------------------------------------------------------------ */

static bool read_key_step(struct reading *reading, const struct uvk_node *statement,
                          struct uvk_step *step)
{
    want_end(reading, statement, 2);
    return want_key(reading, statement, &step->key);
}

static bool read_tap(struct reading *reading, const struct uvk_node *statement,
                     struct uvk_step *step)
{
    const struct uvk_node *word = item(statement, 2);
    double time = TAP_TIME;
    bool good = want_key(reading, statement, &step->key);

    if (word != NULL) {
        if (word->kind != UVK_NODE_NAME || strcmp(word->text, "for") != 0) {
            uvk_say(reading->messages, UVK_SAYS_EXPECTED, word->place, NULL,
                    "expected 'for' and a time");
            return false;
        }
        good &= want_time(reading, want(reading, statement, 3, UVK_NODE_TIME, "a time"), 0,
                          TIME_MAX, &time);
        want_end(reading, statement, 4);
    }
    step->time = (uint64_t)time;
    return good;
}

static bool read_wait(struct reading *reading, const struct uvk_node *statement,
                      struct uvk_step *step)
{
    double time;

    if (!want_time(reading, want(reading, statement, 1, UVK_NODE_TIME, "a time"), 0, TIME_MAX,
                   &time)) {
        return false;
    }
    want_end(reading, statement, 2);
    step->time = (uint64_t)time;
    return true;
}

/* turn KNOB +2 */
static bool read_turn(struct reading *reading, const struct uvk_node *statement,
                      struct uvk_step *step)
{
    int knob = want_knob(reading, want(reading, statement, 1, UVK_NODE_NAME, "a knob"));
    const struct uvk_node *node = item(statement, 2);
    bool is_count =
        node != NULL && (node->kind == UVK_NODE_GAP || node->kind == UVK_NODE_NUMBER);
    double count;

    if (knob < 0) {
        return false;
    }
    if (!is_count) {
        struct uvk_place place = node != NULL ? node->place : statement->place;
        uvk_say(reading->messages, UVK_SAYS_EXPECTED, place,
                "+1 is clockwise, -1 the other way", "expected how far it turns");
        return false;
    }
    if (!want_number(reading, node, -1000, 1000, "a turn", &count)) {
        return false;
    }
    step->key = (unsigned)knob;
    step->x = (int)count;
    want_end(reading, statement, 3);
    return true;
}

/* lock num on | off */
static bool read_lock(struct reading *reading, const struct uvk_node *statement,
                      struct uvk_step *step)
{
    static const char *const states[] = {"off", "on", NULL};
    int lock = want_word(reading, want(reading, statement, 1, UVK_NODE_NAME, "a lock"),
                         UVK_SAYS_EXPECTED, uvk_lock_names, "lock");
    int on = lock >= 0
                 ? want_word(reading, want(reading, statement, 2, UVK_NODE_NAME, "on or off"),
                             UVK_SAYS_EXPECTED, states, "state")
                 : -1;

    if (on < 0) {
        return false;
    }
    step->key = (unsigned)lock;
    step->x = on;
    want_end(reading, statement, 3);
    return true;
}

/* protocol boot | report */
static bool read_protocol(struct reading *reading, const struct uvk_node *statement,
                          struct uvk_step *step)
{
    static const char *const protocols[] = {"report", "boot", NULL};
    int boot = want_word(reading, want(reading, statement, 1, UVK_NODE_NAME, "a protocol"),
                         UVK_SAYS_EXPECTED, protocols, "protocol");

    if (boot < 0) {
        return false;
    }
    step->x = boot;
    want_end(reading, statement, 2);
    return true;
}

/* Steps about the cable are for boards that have one. */
static bool want_link(struct reading *reading, const struct uvk_node *statement)
{
    if (reading->board->link.place.source == NULL) {
        uvk_say(
            reading->messages, UVK_SAYS_EXPECTED, statement->place, NULL,
            "this board has no link between halves that could be pulled, joined or disturbed");
        return false;
    }
    return true;
}

/* pull, join, cross */
static bool read_cable(struct reading *reading, const struct uvk_node *statement,
                       struct uvk_step *step)
{
    (void)step;
    want_end(reading, statement, 1);
    return want_link(reading, statement);
}

/* noise 10% */
static bool read_noise(struct reading *reading, const struct uvk_node *statement,
                       struct uvk_step *step)
{
    double percent;

    if (!want_link(reading, statement) ||
        !want_number(reading,
                     want(reading, statement, 1, UVK_NODE_PERCENT, "a share, such as 10%"), 0,
                     100, "noise", &percent)) {
        return false;
    }
    step->x = (int)percent;
    want_end(reading, statement, 2);
    return true;
}

/* restart left */
static bool read_restart(struct reading *reading, const struct uvk_node *statement,
                         struct uvk_step *step)
{
    const struct uvk_node *node =
        want_link(reading, statement)
            ? want(reading, statement, 1, UVK_NODE_NAME, "the name of a half")
            : NULL;
    int half = node != NULL ? want_half(reading, node) : -1;

    if (half < 0) {
        return false;
    }
    step->key = (unsigned)half;
    want_end(reading, statement, 2);
    return true;
}

static bool read_settle(struct reading *reading, const struct uvk_node *statement,
                        struct uvk_step *step)
{
    (void)step;
    want_end(reading, statement, 1);
    return true;
}

static bool read_expect_text(struct reading *reading, const struct uvk_node *statement,
                             struct uvk_step *step)
{
    const struct uvk_node *text = want(reading, statement, 2, UVK_NODE_STRING, "a \"text\"");

    if (text == NULL) {
        return false;
    }
    step->text = text->text;
    want_end(reading, statement, 3);
    return true;
}

static bool may_expect(const struct uvk_value *value, enum uvk_step_kind kind)
{
    return kind == UVK_STEP_EXPECT_LAYERS
               ? value->kind == UVK_VALUE_LAYER
               : value->kind == UVK_VALUE_USAGE && value->page != UVK_PAGE_OWN;
}

/* A list of cells; `nothing` alone is the empty list. */
static bool read_expect_list(struct reading *reading, const struct uvk_node *statement,
                             struct uvk_step *step)
{
    const struct uvk_node *first = item(statement, 2);
    GArray *values = g_array_new(FALSE, TRUE, sizeof(struct uvk_value));
    bool good = first != NULL || want(reading, statement, 2, UVK_NODE_NAME, "what is expected");

    if (first != NULL && first->kind == UVK_NODE_NAME && strcmp(first->text, "nothing") == 0) {
        want_end(reading, statement, 3);
        first = NULL;
    }
    for (; first != NULL && first->kind != UVK_NODE_BLOCK; first = first->next) {
        struct uvk_value value = cell_value(reading, first);
        value = *uvk_value_tap(&value);
        if (value.kind != UVK_VALUE_BROKEN && !may_expect(&value, step->kind)) {
            bool layers = step->kind == UVK_STEP_EXPECT_LAYERS;
            uvk_say(reading->messages, layers ? UVK_SAYS_NO_LAYER : UVK_SAYS_DOES_NOT_FIT,
                    first->place, NULL,
                    layers ? "this is no layer" : "this is no key that the host could see");
            good = false;
        }
        good = good && value.kind != UVK_VALUE_BROKEN;
        g_array_append_val(values, value);
    }
    step->value_count = values->len;
    step->values = uvk_arena_take(reading->arena, (values->len + 1) * sizeof *step->values);
    if (values->len > 0) {
        memcpy(step->values, values->data, values->len * sizeof *step->values);
    }
    g_array_free(values, TRUE);
    return good;
}

/* expect wheel X Y: to the right and up */
static bool read_expect_movement(struct reading *reading, const struct uvk_node *statement,
                                 struct uvk_step *step)
{
    double x;
    double y;

    if (!want_number(reading, want(reading, statement, 2, UVK_NODE_NUMBER, "X and Y"), -100000,
                     100000, "a movement", &x) ||
        !want_number(reading, want(reading, statement, 3, UVK_NODE_NUMBER, "Y"), -100000,
                     100000, "a movement", &y)) {
        return false;
    }
    step->x = (int)x;
    step->y = (int)y;
    want_end(reading, statement, 4);
    return true;
}

/* expect delay < TIME */
static bool read_expect_delay(struct reading *reading, const struct uvk_node *statement,
                              struct uvk_step *step)
{
    double time;

    if (want(reading, statement, 2, UVK_NODE_LESS, "'<' and a time") == NULL ||
        !want_time(reading, want(reading, statement, 3, UVK_NODE_TIME, "a time"), 1, TIME_MAX,
                   &time)) {
        return false;
    }
    step->time = (uint64_t)time;
    want_end(reading, statement, 4);
    return true;
}

struct step_rule {
    const char *word;
    enum uvk_step_kind kind;
    bool (*read)(struct reading *, const struct uvk_node *statement, struct uvk_step *);
};

static const struct step_rule expectations[] = {
    {"text", UVK_STEP_EXPECT_TEXT, read_expect_text},
    {"keys", UVK_STEP_EXPECT_KEYS, read_expect_list},
    {"held", UVK_STEP_EXPECT_HELD, read_expect_list},
    {"layers", UVK_STEP_EXPECT_LAYERS, read_expect_list},
    {"pointer", UVK_STEP_EXPECT_POINTER, read_expect_movement},
    {"wheel", UVK_STEP_EXPECT_WHEEL, read_expect_movement},
    {"delay", UVK_STEP_EXPECT_DELAY, read_expect_delay},
    {"light", UVK_STEP_EXPECT_LEVEL, read_expect_light},
    {"lamps", UVK_STEP_EXPECT_LAMPS, read_expect_lamps},
};

static bool read_expect(struct reading *reading, const struct uvk_node *statement,
                        struct uvk_step *step);

static const struct step_rule steps[] = {
    {"down", UVK_STEP_DOWN, read_key_step},
    {"up", UVK_STEP_UP, read_key_step},
    {"tap", UVK_STEP_TAP, read_tap},
    {"wait", UVK_STEP_WAIT, read_wait},
    {"settle", UVK_STEP_SETTLE, read_settle},
    {"expect", 0, read_expect},
    {"turn", UVK_STEP_TURN, read_turn},
    {"lock", UVK_STEP_LOCK, read_lock},
    {"protocol", UVK_STEP_PROTOCOL, read_protocol},
    {"pull", UVK_STEP_PULL, read_cable},
    {"join", UVK_STEP_JOIN, read_cable},
    {"cross", UVK_STEP_CROSS, read_cable},
    {"noise", UVK_STEP_NOISE, read_noise},
    {"restart", UVK_STEP_RESTART, read_restart},
};

static const char *step_word(size_t index, const void *data)
{
    return ((const struct step_rule *)data)[index].word;
}

/* Read STATEMENT by the rule for the word NODE. */
static bool by_rule(struct reading *reading, const struct uvk_node *statement,
                    const struct uvk_node *node, const struct step_rule *rules, size_t count,
                    struct uvk_step *step)
{
    const char *word = node != NULL && node->kind == UVK_NODE_NAME ? node->text : NULL;
    char *fix;

    for (size_t i = 0; word != NULL && i < count; i++) {
        if (strcmp(rules[i].word, word) != 0) {
            continue;
        }
        step->kind = rules[i].kind;
        return rules[i].read(reading, statement, step);
    }
    fix = word != NULL ? did_you_mean(word, count, step_word, rules) : NULL;
    uvk_say(reading->messages, UVK_SAYS_NO_STATEMENT,
            node != NULL ? node->place : statement->place, fix,
            rules == expectations ? "a play cannot expect '%s'" : "a play has no step '%s'",
            word != NULL ? word : "like this");
    g_free(fix);
    return false;
}

static bool read_expect(struct reading *reading, const struct uvk_node *statement,
                        struct uvk_step *step)
{
    const struct uvk_node *what =
        item(statement, 1) != NULL
            ? item(statement, 1)
            : want(reading, statement, 1, UVK_NODE_NAME,
                   "text, keys, held, layers, pointer, wheel, delay, light or lamps");

    return what != NULL &&
           by_rule(reading, statement, what, expectations, G_N_ELEMENTS(expectations), step);
}

struct uvk_step *read_step(struct reading *reading, const struct uvk_node *statement)
{
    struct uvk_step *step = uvk_arena_take(reading->arena, sizeof *step);

    step->place = statement->place;
    return by_rule(reading, statement, item(statement, 0), steps, G_N_ELEMENTS(steps), step)
               ? step
               : NULL;
}

void read_play(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    const struct uvk_node *name =
        want(reading, statement, 1, UVK_NODE_STRING, "what is played, in \"words\"");
    const struct uvk_node *block = want_block(reading, statement);
    struct uvk_play *play;
    struct uvk_step **end;

    (void)subject;
    if (name == NULL || block == NULL) {
        return;
    }
    if (reading->board == NULL || reading->keymap == NULL) {
        if (!reading->play_lacks && !reading->files_unknown) {
            uvk_say(reading->messages, UVK_SAYS_MISSING, statement->child->place, NULL,
                    "a play needs a board and a keymap");
        }
        reading->play_lacks = true; /* the others lack the same */
        return;
    }
    if (reading->keymap->layers == NULL || reading->keymap->layer_count == 0) {
        return; /* said already */
    }
    want_end(reading, statement, 2);
    if (!want_visible(reading, name, "the name of a play")) {
        return;
    }
    play = uvk_arena_take(reading->arena, sizeof *play);
    play->place = name->place;
    play->name = name->text;
    end = &play->steps;
    for (const struct uvk_node *at = block->child; at != NULL; at = at->next) {
        *end = at->kind != UVK_NODE_BROKEN ? read_step(reading, at) : NULL;
        end = *end != NULL ? &(*end)->next : end;
    }
    *reading->play_end = play;
    reading->play_end = &play->next;
}
