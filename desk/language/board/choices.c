/* choices.c - choice NAME { OPTION OPTION }: what a board offers, and what a keymap chooses. */
#include "reading.h"

#include <string.h>

static bool is_option(const struct uvk_choice *choice, const char *name)
{
    for (unsigned i = 0; i < choice->option_count; i++) {
        if (strcmp(choice->options[i], name) == 0) {
            return true;
        }
    }
    return false;
}

struct uvk_choice *choice_named(const struct uvk_board *board, const char *name)
{
    for (unsigned i = 0; i < board->choice_count; i++) {
        if (strcmp(board->choices[i].name, name) == 0) {
            return &board->choices[i];
        }
    }
    return NULL;
}

int want_option(struct reading *reading, const struct uvk_choice *choice,
                const struct uvk_node *node)
{
    const char **words =
        uvk_arena_take(reading->arena, (choice->option_count + 1) * sizeof *words);

    memcpy(words, choice->options, choice->option_count * sizeof *words);
    return want_word(reading, node, UVK_SAYS_NO_CHOICE, words, "option of this choice");
}

static const char *choice_name(size_t index, const void *data)
{
    return ((const struct uvk_board *)data)->choices[index].name;
}

void no_such_choice(struct reading *reading, struct uvk_place place, const char *name)
{
    const struct uvk_board *board = reading->board;
    GString *all = g_string_new(NULL);
    char *fix = board->choice_count > 0
                    ? did_you_mean(name, board->choice_count, choice_name, board)
                    : g_strdup_printf("`choice %s { ... }` in the board would be one", name);

    for (unsigned i = 0; i < board->choice_count; i++) {
        g_string_append_printf(all, "%s%s", i == 0 ? "; it offers: " : ", ",
                               board->choices[i].name);
    }
    uvk_say(reading->messages, UVK_SAYS_NO_CHOICE, place, fix,
            "this board offers no choice '%s'%s", name, all->str);
    reading->keys_unknown = true;
    g_free(fix);
    g_string_free(all, TRUE);
}

/* The keymap's `choice NAME OPTION`, if there is one. */
static void take_chosen(struct reading *reading, struct uvk_choice *choice)
{
    if (reading->options != NULL) {
        choice->chosen = reading->options[choice - reading->board->choices];
        return;
    }
    for (guint i = 0; i < reading->chosen->len; i++) {
        const struct uvk_node *statement = g_ptr_array_index(reading->chosen, i);
        const struct uvk_node *name = item(statement, 1);
        if (name != NULL && name->kind == UVK_NODE_NAME &&
            strcmp(name->text, choice->name) == 0) {
            int option = want_option(reading, choice,
                                     want(reading, statement, 2, UVK_NODE_NAME, "an option"));
            choice->chosen = option >= 0 ? (unsigned)option : 0;
            reading->keys_unknown |= option < 0;
            want_end(reading, statement, 3);
        }
    }
}

/* A new choice of the board; NULL: there is one of that name, or no room. */
static struct uvk_choice *add_choice(struct reading *reading, const struct uvk_node *name)
{
    struct uvk_board *board = reading->board;
    struct uvk_choice *choice;

    if (board->choice_count == UVK_CHOICES_MAX) {
        uvk_say(reading->messages, UVK_SAYS_NO_ROOM, name->place, NULL,
                "a board has at most %u choices", UVK_CHOICES_MAX);
        return NULL;
    }
    if (choice_named(board, name->text) != NULL) {
        uvk_say(reading->messages, UVK_SAYS_TWICE, name->place, NULL,
                "this choice is there already");
        return NULL;
    }
    if (board->choices == NULL) {
        board->choices =
            uvk_arena_take(reading->arena, UVK_CHOICES_MAX * sizeof *board->choices);
    }
    choice = &board->choices[board->choice_count++];
    *choice = (struct uvk_choice){.place = name->place, .name = name->text};
    choice->options = uvk_arena_take(reading->arena, UVK_OPTIONS_MAX * sizeof(char *));
    return choice;
}

static void read_option(struct reading *reading, const struct uvk_node *node,
                        struct uvk_choice *choice)
{
    if (node->kind != UVK_NODE_NAME || is_option(choice, node->text)) {
        uvk_say(reading->messages, UVK_SAYS_EXPECTED, node->place, NULL,
                "expected another option");
    } else if (choice->option_count == UVK_OPTIONS_MAX) {
        uvk_say(reading->messages, UVK_SAYS_NO_ROOM, node->place, NULL,
                "a choice has at most %u options", UVK_OPTIONS_MAX);
    } else {
        choice->options[choice->option_count++] = node->text;
    }
}

void read_choice(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    const struct uvk_node *name = want(reading, statement, 1, UVK_NODE_NAME, "a choice's name");
    const struct uvk_node *block = want_block(reading, statement);
    struct uvk_choice *choice =
        name != NULL && block != NULL ? add_choice(reading, name) : NULL;

    (void)subject;
    if (choice == NULL) {
        return;
    }
    for (const struct uvk_node *at = block->child; at != NULL; at = at->next) {
        for (const struct uvk_node *node = at->child; node != NULL; node = node->next) {
            read_option(reading, node, choice);
        }
    }
    if (choice->option_count < 2) { /* its name is known all the same */
        uvk_say(reading->messages, UVK_SAYS_MISSING, name->place, NULL,
                "a choice has two options or more");
        return;
    }
    take_chosen(reading, choice);
}

/* Choices that the keymap makes and the board does not offer. */
void check_chosen(struct reading *reading)
{
    for (guint i = 0; reading->options == NULL && i < reading->chosen->len; i++) {
        const struct uvk_node *statement = g_ptr_array_index(reading->chosen, i);
        const struct uvk_node *name = want(reading, statement, 1, UVK_NODE_NAME, "a choice");
        if (name != NULL && choice_named(reading->board, name->text) == NULL) {
            no_such_choice(reading, name->place, name->text);
        }
    }
}
