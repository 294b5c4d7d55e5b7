/* leader.c - leader { within T; KEY KEY ... -> CELL; ... } */
#include "reading.h"

#include "uvrek/image.h"

#include <string.h>

/* ROWS of the parts table bound the number of sequences long before this. */
#define SEQUENCES_MAX 1000u

static void read_within(struct reading *reading, const struct uvk_node *statement)
{
    struct uvk_setting_text *setting = &reading->keymap->settings[UVK_SET_LEADER_WITHIN];
    const struct uvk_setting_name *range = &uvk_setting_names[UVK_SET_LEADER_WITHIN];
    const struct uvk_node *node = want(reading, statement, 1, UVK_NODE_TIME, "a time");

    if (want_time(reading, node, range->least, range->most, &setting->value)) {
        setting->place = statement->place;
        want_end(reading, statement, 2);
    }
}

/* The keys before the arrow; the arrow, or NULL. */
static const struct uvk_node *read_keys_of(struct reading *reading,
                                           const struct uvk_node *statement,
                                           struct uvk_sequence_text *sequence)
{
    const struct uvk_node *node = statement->child;

    for (; node != NULL && node->kind != UVK_NODE_ARROW && node->kind != UVK_NODE_BLOCK;
         node = node->next) {
        if (sequence->key_count == UVK_SEQUENCE_KEYS_MAX) {
            uvk_say(reading->messages, UVK_SAYS_OUT_OF_RANGE, node->place, NULL,
                    "a leader sequence has at most %u keys", UVK_SEQUENCE_KEYS_MAX);
            return NULL;
        }
        if (!find_key(reading, node, &sequence->keys[sequence->key_count])) {
            return NULL;
        }
        sequence->key_count++;
    }
    if (sequence->key_count == 0) {
        uvk_say(reading->messages, UVK_SAYS_EXPECTED, statement->place, NULL,
                "expected keys before the '->'");
        return NULL;
    }
    return want(reading, statement, sequence->key_count, UVK_NODE_ARROW, "'->' and a cell");
}

static bool same_keys(const struct uvk_sequence_text *a, const struct uvk_sequence_text *b)
{
    return a->key_count == b->key_count &&
           memcmp(a->keys, b->keys, a->key_count * sizeof *a->keys) == 0;
}

static void add_sequence(struct reading *reading, struct uvk_sequence_text *sequence)
{
    struct uvk_sequence_text **end = &reading->keymap->sequences;
    unsigned count = 0;

    for (; *end != NULL; end = &(*end)->next, count++) {
        if (same_keys(*end, sequence)) {
            uvk_say_other(uvk_say(reading->messages, UVK_SAYS_TWICE, sequence->place, NULL,
                                  "there is a sequence of these keys already"),
                          (*end)->place);
            return;
        }
    }
    *end = sequence;
    if (count == SEQUENCES_MAX) {
        uvk_say(reading->messages, UVK_SAYS_NO_ROOM, sequence->place, NULL,
                "a keymap has at most %u leader sequences", SEQUENCES_MAX);
    }
}

static void read_sequence(struct reading *reading, const struct uvk_node *statement)
{
    struct uvk_sequence_text *sequence = uvk_arena_take(reading->arena, sizeof *sequence);
    const struct uvk_node *arrow;
    const struct uvk_node *cell;

    sequence->place = statement->place;
    arrow = read_keys_of(reading, statement, sequence);
    cell = arrow != NULL ? item(statement, sequence->key_count + 1) : NULL;
    if (arrow != NULL && cell == NULL) {
        want(reading, statement, sequence->key_count + 1, UVK_NODE_NAME, "what this does");
    }
    if (cell == NULL) {
        return;
    }
    sequence->value = cell_value(reading, cell);
    if (sequence->value.kind == UVK_VALUE_THROUGH) {
        uvk_say(reading->messages, UVK_SAYS_DOES_NOT_FIT, cell->place, NULL,
                "a sequence has nothing to see through to");
    }
    want_end(reading, statement, sequence->key_count + 2);
    add_sequence(reading, sequence);
}

void read_leader(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    const struct uvk_node *block = want_block(reading, statement);

    (void)subject;
    if (block == NULL || reading->board == NULL || reading->keymap->layer_count == 0) {
        return;
    }
    want_end(reading, statement, 1);
    for (const struct uvk_node *at = block->child; at != NULL; at = at->next) {
        if (at->kind == UVK_NODE_BROKEN) {
            continue;
        }
        if (keyword(at) != NULL && strcmp(keyword(at), "within") == 0) {
            read_within(reading, at);
        } else {
            read_sequence(reading, at);
        }
    }
}
