/* keys_out.c - the keys of a board as JSON: each with its place, the choices with which it is
 * there, and how the others move it. */
#include "cells.h"
#include "found.h"
#include "write.h"

#include "uvrek/problem.h"

/* ---- from combinations to conditions --------------------------------------------------- */

static void condition(json_t *when, const struct uvk_choice *choice, unsigned option)
{
    json_object_set_new(when, choice->name, json_string(choice->options[option]));
}

/* What its groups ask for: the option of each choice with which the key is there. */
static void find_options(const struct combinations *all, const struct found_key *found,
                         int options[UVK_CHOICES_MAX])
{
    bool seen[UVK_CHOICES_MAX] = {false};

    for (unsigned choice = 0; choice < all->choices; choice++) {
        for (unsigned i = 0; i < all->count; i++) {
            int option = (int)combination_option(all, i, choice);
            if (found->spots[i].there) {
                options[choice] =
                    !seen[choice] || options[choice] == option ? option : ANY_OPTION;
                seen[choice] = true;
            }
        }
    }
}

/* Is it there in every combination with these options? Hands that are parted by two choices
 * together are not. */
static bool is_there_with(const struct combinations *all, const struct found_key *found,
                          const int *options)
{
    for (unsigned i = 0; i < all->count; i++) {
        bool with_all = true;
        for (unsigned choice = 0; choice < all->choices; choice++) {
            with_all &= options[choice] == ANY_OPTION ||
                        options[choice] == (int)combination_option(all, i, choice);
        }
        if (with_all && !found->spots[i].there) {
            return false;
        }
    }
    return true;
}

/* ---- JSON ------------------------------------------------------------------------------- */

void hand_to_json(json_t *json, enum uvk_hand hand)
{
    if (hand != UVK_EITHER_HAND) {
        json_object_set_new(json, "hand",
                            json_string(hand == UVK_FIRST_HAND ? "first" : "second"));
    }
}

static json_t *key_to_json(const struct found_key *found, const struct spot *spot)
{
    const struct uvk_key_place *key = &found->key;
    json_t *json = json_object();

    json_object_set_new(json, "address", json_string(found->address));
    json_object_set_new(json, "x", number_to_json(spot->x));
    json_object_set_new(json, "y", number_to_json(spot->y));
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

/* The options of OPTIONS that are not free, as the member `when`. */
static void when_to_json(json_t *key, const struct uvk_board *board, const int *options)
{
    json_t *when = json_object();

    for (unsigned choice = 0; choice < board->choice_count; choice++) {
        if (options[choice] >= 0) {
            condition(when, &board->choices[choice], (unsigned)options[choice]);
        }
    }
    if (json_object_size(when) > 0) {
        json_object_set(key, "when", when);
    }
    json_decref(when);
}

/* What the options of the free choices add, as the member `moved`. */
static void moves_to_json(json_t *key, const struct uvk_board *board,
                          const struct combinations *all, const struct found_key *found,
                          const int *options)
{
    GArray *moves = combinations_moves(all, options, found->spots);
    json_t *list = json_array();

    for (guint i = 0; i < moves->len; i++) {
        const struct moved_by *move = &g_array_index(moves, struct moved_by, i);
        json_t *when = json_object();
        for (unsigned choice = 0; choice < all->choices; choice++) {
            unsigned option = combinations_free(all, options, move->combination, choice);
            if (option != 0) {
                condition(when, &board->choices[choice], option);
            }
        }
        json_array_append_new(list,
                              json_pack("{sososo}", "when", when, "x", number_to_json(move->x),
                                        "y", number_to_json(move->y)));
    }
    if (json_array_size(list) > 0) {
        json_object_set(key, "moved", list);
    }
    json_decref(list);
    g_array_free(moves, TRUE);
}

static void add_entry(json_t *list, const struct uvk_board *board,
                      const struct combinations *all, const struct found_key *found,
                      const int *options)
{
    json_t *key = key_to_json(found, &found->spots[combinations_usual(all, options)]);

    when_to_json(key, board, options);
    moves_to_json(key, board, all, found, options);
    json_array_append_new(list, key);
}

/* One entry; or, if no `when` says it all, one for each combination. */
static void add_key(json_t *list, const struct uvk_board *board, const struct combinations *all,
                    const struct found_key *found)
{
    int options[UVK_CHOICES_MAX] = {0};

    find_options(all, found, options);
    if (is_there_with(all, found, options)) {
        add_entry(list, board, all, found, options);
        return;
    }
    for (unsigned i = 0; i < all->count; i++) {
        for (unsigned choice = 0; choice < all->choices; choice++) {
            options[choice] = (int)combination_option(all, i, choice);
        }
        if (found->spots[i].there) {
            add_entry(list, board, all, found, options);
        }
    }
}

static struct combinations combinations_of(const struct uvk_board *board)
{
    struct combinations all = {.count = 1};

    for (unsigned i = 0; i < board->choice_count && all.count > 0; i++) {
        combinations_add(&all, board->choices[i].option_count);
    }
    return all;
}

json_t *keys_to_json(const struct uvk_program *program, GError **error)
{
    struct combinations all = combinations_of(program->board);
    GArray *keys;
    json_t *list;

    if (all.count == 0) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE,
                    "the layout choices have more than %u combinations", COMBINATIONS_MAX);
        return NULL;
    }
    keys = found_keys(program, &all, error);
    if (keys == NULL) {
        return NULL;
    }
    list = json_array();
    for (guint i = 0; i < keys->len; i++) {
        add_key(list, program->board, &all, &g_array_index(keys, struct found_key, i));
    }
    found_keys_free(keys);
    return list;
}
