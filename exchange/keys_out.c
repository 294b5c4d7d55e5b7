/* keys_out.c - the keys of a board as JSON: each with its place, and with the choices with
 * which it is there. */
#include "cells.h"
#include "combinations.h"
#include "write.h"

#include "uvrek/problem.h"

#include <math.h>
#include <string.h>

/* A key, and the combinations of choices in which it stands just so. */
struct found_key {
    struct uvk_key_place key;
    const char *address;
    const char *knob; /* whose switch it is, NULL: none */
    double along;     /* its left edge, along its line */
    unsigned first;   /* combination that it was found in */
    bool in[COMBINATIONS_MAX];
};

static struct combinations combinations_of(const struct uvk_board *board)
{
    struct combinations all = {.count = 1};

    for (unsigned i = 0; i < board->choice_count && all.count > 0; i++) {
        combinations_add(&all, board->choices[i].option_count);
    }
    return all;
}

static const char *knob_at(const struct uvk_board *board, unsigned key)
{
    for (unsigned i = 0; i < board->knob_count; i++) {
        if (board->knobs[i].push == (int)key) {
            return board->knobs[i].name;
        }
    }
    return NULL;
}

static bool near(double a, double b)
{
    return fabs(a - b) < 1e-6;
}

static bool stands_the_same(const struct found_key *a, const struct found_key *b)
{
    return a->address == b->address && a->knob == b->knob && a->key.line == b->key.line &&
           near(a->key.x, b->key.x) && near(a->key.y, b->key.y) &&
           near(a->key.width, b->key.width) && near(a->key.height, b->key.height) &&
           near(a->key.turn, b->key.turn) && a->key.hand == b->key.hand;
}

/* Key INDEX of a board. Texts are interned: the same ones have the same place. */
static struct found_key found_in(const struct uvk_board *board, unsigned index,
                                 unsigned combination)
{
    const struct uvk_key_place *key = &board->keys[index];
    double angle = key->turn * G_PI / 180;
    char *address = uvk_cell_place(board, index);
    struct found_key found = {.key = *key,
                              .address = g_intern_string(address),
                              .knob = g_intern_string(knob_at(board, index)),
                              .first = combination};

    found.along = (key->x + key->width / 2) * cos(angle) +
                  (key->y + key->height / 2) * sin(angle) - key->width / 2;
    if (board->half_count > 1) {
        found.key.hand = UVK_EITHER_HAND; /* the halves say it */
    }
    g_free(address);
    return found;
}

static void note_keys(GArray *all, const struct uvk_board *board, unsigned combination)
{
    for (unsigned i = 0; i < board->key_count; i++) {
        struct found_key found = found_in(board, i, combination);
        guint at = 0;
        while (at < all->len &&
               !stands_the_same(&g_array_index(all, struct found_key, at), &found)) {
            at++;
        }
        if (at == all->len) {
            g_array_append_val(all, found);
        }
        g_array_index(all, struct found_key, at).in[combination] = true;
    }
}

static gint in_order_of_the_eye(gconstpointer a, gconstpointer b)
{
    const struct found_key *left = a;
    const struct found_key *right = b;

    if (left->key.line != right->key.line) {
        return left->key.line < right->key.line ? -1 : 1;
    }
    if (left->key.half != right->key.half) {
        return left->key.half < right->key.half ? -1 : 1;
    }
    if (!near(left->along, right->along)) {
        return left->along < right->along ? -1 : 1;
    }
    return left->first < right->first ? -1 : 1;
}

/* ---- from combinations to conditions --------------------------------------------------- */

/* Is the key there in some combination with this option? */
static bool with_option(const struct combinations *all, const struct found_key *found,
                        unsigned choice, unsigned option)
{
    for (unsigned i = 0; i < all->count; i++) {
        if (found->in[i] && combination_option(all, i, choice) == option) {
            return true;
        }
    }
    return false;
}

/* Is it there in every combination with the options with which it is there at all? */
static bool is_product(const struct combinations *all, const struct found_key *found)
{
    for (unsigned i = 0; i < all->count; i++) {
        bool with_all = true;
        for (unsigned choice = 0; choice < all->choices; choice++) {
            with_all &= with_option(all, found, choice, combination_option(all, i, choice));
        }
        if (with_all != found->in[i]) {
            return false;
        }
    }
    return true;
}

static void condition(json_t *when, const struct uvk_choice *choice, unsigned option)
{
    json_object_set_new(when, choice->name, json_string(choice->options[option]));
}

/* The one option with which the key is there; -1: all of them, -2: some. */
static int only_option(const struct combinations *all, const struct found_key *found,
                       unsigned choice)
{
    unsigned options = 0;
    int last = 0;

    for (unsigned option = 0; option < all->options[choice]; option++) {
        if (with_option(all, found, choice, option)) {
            options++;
            last = (int)option;
        }
    }
    return options == all->options[choice] ? -1 : options == 1 ? last : -2;
}

/* One `when` that says it all, empty if the key is always there; NULL: there is none. */
static json_t *one_condition(const struct uvk_board *board, const struct combinations *all,
                             const struct found_key *found)
{
    json_t *when = is_product(all, found) ? json_object() : NULL;

    for (unsigned choice = 0; when != NULL && choice < all->choices; choice++) {
        int option = only_option(all, found, choice);
        if (option >= 0) {
            condition(when, &board->choices[choice], (unsigned)option);
        } else if (option == -2) {
            json_decref(when);
            when = NULL;
        }
    }
    return when;
}

/* One `when` for each way in which the key is there. */
static json_t *conditions(const struct uvk_board *board, const struct combinations *all,
                          const struct found_key *found)
{
    json_t *list = json_array();
    json_t *one = one_condition(board, all, found);

    if (one != NULL) {
        json_array_append_new(list, one);
        return list;
    }
    for (unsigned i = 0; i < all->count; i++) {
        json_t *when = found->in[i] ? json_object() : NULL;
        for (unsigned choice = 0; when != NULL && choice < all->choices; choice++) {
            condition(when, &board->choices[choice], combination_option(all, i, choice));
        }
        if (when != NULL) {
            json_array_append_new(list, when);
        }
    }
    return list;
}

/* ---- JSON ----------------------------------------------------------------------------------
 */

void hand_to_json(json_t *json, enum uvk_hand hand)
{
    if (hand != UVK_EITHER_HAND) {
        json_object_set_new(json, "hand",
                            json_string(hand == UVK_FIRST_HAND ? "first" : "second"));
    }
}

static json_t *key_to_json(const struct found_key *found)
{
    const struct uvk_key_place *key = &found->key;
    json_t *json = json_object();

    json_object_set_new(json, "address", json_string(found->address));
    json_object_set_new(json, "x", number_to_json(key->x));
    json_object_set_new(json, "y", number_to_json(key->y));
    if (key->width != 1) {
        json_object_set_new(json, "width", number_to_json(key->width));
    }
    if (key->height != 1) {
        json_object_set_new(json, "height", number_to_json(key->height));
    }
    if (key->turn != 0) {
        json_object_set_new(json, "turn", number_to_json(key->turn));
    }
    json_object_set_new(json, "line", json_integer(key->line));
    if (found->knob != NULL) {
        json_object_set_new(json, "knob", json_string(found->knob));
    }
    hand_to_json(json, key->hand);
    return json;
}

static void add_key(json_t *list, const struct uvk_board *board, const struct combinations *all,
                    const struct found_key *found)
{
    json_t *whens = conditions(board, all, found);

    for (size_t i = 0; i < json_array_size(whens); i++) {
        json_t *key = key_to_json(found);
        if (json_object_size(json_array_get(whens, i)) > 0) {
            json_object_set(key, "when", json_array_get(whens, i));
        }
        json_array_append_new(list, key);
    }
    json_decref(whens);
}

/* The keys of one combination, which may be that of the program itself. */
static bool note_combination(GArray *keys, const struct uvk_program *program,
                             const struct combinations *all, unsigned combination,
                             GError **error)
{
    unsigned options[UVK_CHOICES_MAX];
    struct uvk_program *chosen;
    bool good;

    for (unsigned i = 0; i < all->choices; i++) {
        options[i] = combination_option(all, combination, i);
    }
    chosen = uvk_program_choosing(program, options);
    good = chosen->messages.errors == 0 && chosen->board != NULL;
    if (good) {
        note_keys(keys, chosen->board, combination);
    } else {
        const struct uvk_message *message =
            chosen->messages.list->len > 0 ? g_ptr_array_index(chosen->messages.list, 0) : NULL;
        g_set_error(error, UVK_PROBLEM, UVK_NOT_WELL,
                    "with other layout choices the board has mistakes: %s",
                    message != NULL ? message->text : "it is not there");
    }
    uvk_program_free(chosen);
    return good;
}

json_t *keys_to_json(const struct uvk_program *program, GError **error)
{
    struct combinations all = combinations_of(program->board);
    GArray *keys = g_array_new(FALSE, TRUE, sizeof(struct found_key));
    json_t *list = NULL;
    bool good = all.count > 0;

    if (!good) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE,
                    "the layout choices have more than %u combinations", COMBINATIONS_MAX);
    } else if (all.choices == 0) {
        note_keys(keys, program->board, 0);
    }
    for (unsigned i = 0; good && all.choices > 0 && i < all.count; i++) {
        good = note_combination(keys, program, &all, i, error);
    }
    if (good) {
        g_array_sort(keys, in_order_of_the_eye);
        list = json_array();
        for (guint i = 0; i < keys->len; i++) {
            add_key(list, program->board, &all, &g_array_index(keys, struct found_key, i));
        }
    }
    g_array_free(keys, TRUE);
    return list;
}
