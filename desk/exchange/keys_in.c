/* keys_in.c - the keys of the JSON: of which half, in which line, with which choices. */
#include "read.h"
#include "shape.h"

#include <math.h>
#include <string.h>

/* ---- choices ----------------------------------------------------------------------------- */

static int index_of(const json_t *list, const char *name)
{
    for (size_t i = 0; i < json_array_size(list); i++) {
        const json_t *element = json_array_get(list, i);
        const char *known =
            json_is_object(element) ? text_of(element, "name", "") : json_string_value(element);
        if (strcmp(known, name) == 0) {
            return (int)i;
        }
    }
    return -1;
}

static bool read_choices(struct text_out *out, struct placed_board *placed)
{
    const json_t *choices = json_object_get(placed->json, "choices");
    bool good = true;

    placed->all = (struct combinations){.count = 1};
    for (size_t i = 0; i < json_array_size(choices) && placed->all.count > 0; i++) {
        const json_t *choice = json_array_get(choices, i);
        const json_t *options = json_object_get(choice, "options");
        const char *chosen = text_of(choice, "chosen", NULL);
        int option = chosen != NULL ? index_of(options, chosen) : 0;
        if (option < 0) {
            char *at = g_strdup_printf("/board/choices/%zu/chosen", i);
            add_problem(out->problems, at, "'%s' is none of the options", chosen);
            g_free(at);
            return false;
        }
        combinations_add(&placed->all, (unsigned)json_array_size(options));
        placed->chosen += (unsigned)option * placed->all.stride[i];
    }
    if (placed->all.count == 0) {
        add_problem(out->problems, "/board/choices", "more than %u combinations",
                    COMBINATIONS_MAX);
        good = false;
    }
    return good;
}

/* The options that the `when` of OBJECT, which is at POINTER, asks for. */
static bool read_condition(struct text_out *out, const struct placed_board *placed,
                           const json_t *object, const char *pointer,
                           int options[UVK_CHOICES_MAX])
{
    const json_t *choices = json_object_get(placed->json, "choices");
    const char *name;
    json_t *option;
    char *at = g_strdup_printf("%s/when", pointer);
    bool good = true;

    for (unsigned i = 0; i < UVK_CHOICES_MAX; i++) {
        options[i] = ANY_OPTION;
    }
    json_object_foreach(json_object_get(object, "when"), name, option)
    {
        int choice = index_of(choices, name);
        int chosen =
            choice >= 0
                ? index_of(json_object_get(json_array_get(choices, (size_t)choice), "options"),
                           json_string_value(option))
                : -1;
        if (chosen < 0) {
            add_problem(out->problems, at, "the board has no choice '%s' with an option '%s'",
                        name, json_string_value(option));
            good = false;
        } else {
            options[choice] = chosen;
        }
    }
    g_free(at);
    return good;
}

bool key_is_there(const struct placed_board *placed, const struct placed_key *key,
                  unsigned combination)
{
    return combinations_have(&placed->all, key->option, combination);
}

/* ---- places ------------------------------------------------------------------------------ */

static void along_its_line(const struct placed_key *key, struct placed_spot *spot)
{
    double angle = key->turn * G_PI / 180;
    double x = spot->x + key->width / 2;
    double y = spot->y + key->height / 2;

    spot->along = x * cos(angle) + y * sin(angle) - key->width / 2;
    spot->below = y * cos(angle) - x * sin(angle) - key->height / 2;
}

/* x and y, and what `moved` adds to them with each combination. */
static bool read_spots(struct text_out *out, const struct placed_board *placed,
                       struct placed_key *key)
{
    const json_t *moves = json_object_get(key->json, "moved");
    int options[UVK_CHOICES_MAX];
    bool good = true;

    key->spots = g_new(struct placed_spot, placed->all.count);
    for (unsigned c = 0; c < placed->all.count; c++) {
        key->spots[c] = (struct placed_spot){number_of(key->json, "x", 0),
                                             number_of(key->json, "y", 0), 0, 0};
    }
    for (size_t i = 0; i < json_array_size(moves); i++) {
        const json_t *move = json_array_get(moves, i);
        char *at = g_strdup_printf("%s/moved/%zu", key->pointer, i);
        good &= read_condition(out, placed, move, at, options);
        for (unsigned c = 0; c < placed->all.count; c++) {
            if (combinations_have(&placed->all, options, c)) {
                key->spots[c].x += number_of(move, "x", 0);
                key->spots[c].y += number_of(move, "y", 0);
            }
        }
        g_free(at);
    }
    for (unsigned c = 0; c < placed->all.count; c++) {
        along_its_line(key, &key->spots[c]);
    }
    return good;
}

/* ---- halves and lines ------------------------------------------------------------------- */

/* The half before the dot of an address; in one piece there is no dot. */
static int half_of(const json_t *board, const char *address)
{
    const json_t *halves = json_object_get(board, "halves");
    const char *dot = strchr(address, '.');
    char *name;
    int half;

    if (json_array_size(halves) == 1) {
        return dot == NULL ? 0 : -1;
    }
    name = g_strndup(address, dot != NULL ? (size_t)(dot - address) : 0);
    half = index_of(halves, name);
    g_free(name);
    return half;
}

/* The line of a key that does not say it: that of the key before it in its half, if it
 * stands to the right of that. */
static unsigned next_line(const struct placed_board *placed, const struct placed_key *key)
{
    for (guint i = placed->keys->len; i-- > 0;) {
        const struct placed_key *before = &g_array_index(placed->keys, struct placed_key, i);
        if (before->half == key->half) {
            const struct placed_spot *left = &before->spots[before->usual];
            const struct placed_spot *spot = &key->spots[key->usual];
            bool right = fabs(before->turn - key->turn) < SMALL &&
                         spot->along > left->along + before->width - SMALL &&
                         fabs(spot->below - left->below) < 1;
            return right ? before->line : before->line + 1;
        }
    }
    return 0;
}

static bool read_key(struct text_out *out, struct placed_board *placed, size_t index)
{
    const json_t *json = json_array_get(json_object_get(placed->json, "keys"), index);
    int half = half_of(placed->json, text_of(json, "address", ""));
    struct placed_key key = {.json = json,
                             .pointer = g_strdup_printf("/board/keys/%zu", index),
                             .half = (unsigned)half,
                             .width = number_of(json, "width", 1),
                             .height = number_of(json, "height", 1),
                             .turn = number_of(json, "turn", 0)};
    bool good = half >= 0;
    bool placed_well = read_condition(out, placed, json, key.pointer, key.option);

    key.usual = combinations_usual(&placed->all, key.option);
    placed_well = read_spots(out, placed, &key) && placed_well;
    if (!good) {
        char *at = pointer_to(key.pointer, "address");
        add_problem(out->problems, at,
                    json_array_size(json_object_get(placed->json, "halves")) == 1
                        ? "this board is in one piece"
                        : "no half of the board");
        g_free(at);
    } else {
        key.line = json_object_get(json, "line") != NULL ? (unsigned)number_of(json, "line", 0)
                                                         : next_line(placed, &key);
        placed->lines[half] = MAX(placed->lines[half], key.line + 1);
    }
    g_array_append_val(placed->keys, key);
    return good && placed_well;
}

static bool can_be_together(const struct placed_key *a, const struct placed_key *b)
{
    for (unsigned i = 0; i < UVK_CHOICES_MAX; i++) {
        if (a->option[i] >= 0 && b->option[i] >= 0 && a->option[i] != b->option[i]) {
            return false;
        }
    }
    return true;
}

/* Two keys have one address: that is good only if they are never there together. */
static bool is_first(struct text_out *out, const struct placed_board *placed, guint index)
{
    const struct placed_key *key = &g_array_index(placed->keys, struct placed_key, index);

    for (guint i = 0; i < index; i++) {
        const struct placed_key *other = &g_array_index(placed->keys, struct placed_key, i);
        if (strcmp(text_of(key->json, "address", ""), text_of(other->json, "address", "")) !=
            0) {
            continue;
        }
        if (can_be_together(key, other)) {
            char *at = pointer_to(key->pointer, "address");
            add_problem(out->problems, at, "%s has this address already", other->pointer);
            g_free(at);
            return false;
        }
    }
    return true;
}

/* ---- knobs without a switch ------------------------------------------------------------- */

/* Is there room for KNOB in a line whose keys lie as it does? As they usually are. */
static bool fits_in(const struct placed_board *placed, const struct placed_key *knob,
                    unsigned line)
{
    double highest = 1e9;

    for (guint i = 0; i < placed->keys->len; i++) {
        const struct placed_key *key = &g_array_index(placed->keys, struct placed_key, i);
        const struct placed_spot *spot = &key->spots[key->usual];
        bool apart = spot->along > knob->spots->along + knob->width - SMALL ||
                     spot->along + key->width < knob->spots->along + SMALL;
        if (key->half != knob->half || key->line != line) {
            continue;
        }
        if (key->turn != 0 || !apart) {
            return false;
        }
        highest = MIN(highest, spot->below);
    }
    return highest > 1e8 || fabs(highest - knob->spots->below) < SMALL;
}

static bool read_knob(struct text_out *out, struct placed_board *placed, size_t index)
{
    const json_t *json = json_array_get(json_object_get(placed->json, "knobs"), index);
    const json_t *halves = json_object_get(placed->json, "halves");
    int half = json_array_size(halves) > 1 ? index_of(halves, text_of(json, "half", "")) : 0;
    struct placed_key knob = {.json = json,
                              .pointer = g_strdup_printf("/board/knobs/%zu", index),
                              .half = (unsigned)half,
                              .width = 1,
                              .height = 1,
                              .is_knob = true};
    bool placed_alone =
        json_object_get(json, "x") != NULL && json_object_get(json, "y") != NULL;

    if (half < 0) {
        add_problem(out->problems, knob.pointer, "on which half is it?");
    }
    if (half < 0 || !placed_alone) {
        g_free(knob.pointer);
        return half >= 0;
    }
    (void)read_condition(out, placed, json, knob.pointer, knob.option); /* it has none */
    (void)read_spots(out, placed, &knob);
    while (knob.line < placed->lines[half] && !fits_in(placed, &knob, knob.line)) {
        knob.line++;
    }
    placed->lines[half] = MAX(placed->lines[half], knob.line + 1);
    g_array_append_val(placed->keys, knob);
    return true;
}

bool place_keys(struct text_out *out, const json_t *board, struct placed_board *placed)
{
    bool good;

    *placed = (struct placed_board){
        .json = board,
        .keys = g_array_new(FALSE, TRUE, sizeof(struct placed_key)),
        .halves = (unsigned)json_array_size(json_object_get(board, "halves"))};
    good = read_choices(out, placed);
    if (!good) {
        return false;
    }
    for (size_t i = 0; i < json_array_size(json_object_get(board, "keys")); i++) {
        good = read_key(out, placed, i) && is_first(out, placed, (guint)i) && good;
    }
    for (size_t i = 0; i < json_array_size(json_object_get(board, "knobs")); i++) {
        good = read_knob(out, placed, i) && good;
    }
    return good;
}

void clear_placed(struct placed_board *placed)
{
    for (guint i = 0; i < placed->keys->len; i++) {
        g_free(g_array_index(placed->keys, struct placed_key, i).pointer);
        g_free(g_array_index(placed->keys, struct placed_key, i).spots);
    }
    g_array_free(placed->keys, TRUE);
}
