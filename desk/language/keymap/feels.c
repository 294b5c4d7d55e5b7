/* feels.c - feel NAME { ... }: how tap-hold keys decide. */
#include "reading.h"

#include "uvrek/image.h"

#include <string.h>

#define HOLD_AFTER 200000.0 /* microseconds, if nothing is said */
#define TIME_MAX   (UVK_FEEL_TIME_MAX * 1000.0)

int feel_named(const struct uvk_keymap *keymap, const char *name)
{
    for (unsigned i = 0; i < keymap->feel_count; i++) {
        if (strcmp(keymap->feels[i].name, name) == 0) {
            return (int)i;
        }
    }
    return -1;
}

struct uvk_feel_text *add_feel(struct reading *reading, const char *name)
{
    struct uvk_keymap *keymap = reading->keymap;
    struct uvk_feel_text *feel = &keymap->feels[keymap->feel_count];

    if (keymap->feel_count == UVK_FEELS_MAX) {
        return NULL;
    }
    keymap->feel_count++;
    /* what a feel does not say is as the language has it, whatever `default` says */
    *feel = (struct uvk_feel_text){.name = name, .hold_after = HOLD_AFTER};
    return feel;
}

void add_default_feel(struct reading *reading)
{
    reading->keymap->feels =
        uvk_arena_take(reading->arena, (UVK_FEELS_MAX + 1) * sizeof(struct uvk_feel_text));
    (void)add_feel(reading, "default");
}

static void read_time(struct reading *reading, const struct uvk_node *statement, double least,
                      double *out)
{
    const struct uvk_node *node = want(reading, statement, 1, UVK_NODE_TIME, "a time");

    if (want_time(reading, node, least, TIME_MAX, out)) {
        want_end(reading, statement, 2);
    }
}

static void read_hold_after(struct reading *reading, const struct uvk_node *statement,
                            void *subject)
{
    struct uvk_feel_text *feel = subject;

    read_time(reading, statement, 1000, &feel->hold_after);
}

static void read_rest(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    struct uvk_feel_text *feel = subject;

    read_time(reading, statement, 0, &feel->rest);
}

static void read_again(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    struct uvk_feel_text *feel = subject;

    read_time(reading, statement, 0, &feel->again);
}

static void read_decide(struct reading *reading, const struct uvk_node *statement,
                        void *subject)
{
    struct uvk_feel_text *feel = subject;
    static const char *const rules[] = {"on-timeout", "on-press", "on-nested", NULL};
    int rule = want_word(reading, want(reading, statement, 1, UVK_NODE_NAME, "a rule"),
                         UVK_SAYS_EXPECTED, rules, "rule");

    if (rule >= 0) {
        feel->decide = (enum uvk_decide)rule;
        want_end(reading, statement, 2);
    }
}

static void read_alone(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    struct uvk_feel_text *feel = subject;
    static const char *const words[] = {"hold", "tap", NULL};
    int word = want_word(reading, want(reading, statement, 1, UVK_NODE_NAME, "hold or tap"),
                         UVK_SAYS_EXPECTED, words, "word");

    if (word >= 0) {
        feel->alone_tap = word == 1;
        want_end(reading, statement, 2);
    }
}

/* other-hand, or other-hand off */
static void read_other_hand(struct reading *reading, const struct uvk_node *statement,
                            void *subject)
{
    struct uvk_feel_text *feel = subject;
    static const char *const words[] = {"on", "off", NULL};
    const struct uvk_node *word = item(statement, 1);

    if (reading->board != NULL && !reading->board->has_hands) {
        uvk_say(reading->messages, UVK_SAYS_NO_HALF, statement->child->place,
                "a '|' in its lines of keys says where the hands part",
                "this board does not say which hand a key is for");
        return;
    }
    feel->other_hand =
        word == NULL || want_word(reading, word, UVK_SAYS_EXPECTED, words, "choice") == 0;
    want_end(reading, statement, 2);
}

static const struct rule feel_rules[] = {
    {"hold-after", read_hold_after, false},
    {"decide", read_decide, false},
    {"rest", read_rest, false},
    {"again", read_again, false},
    {"alone", read_alone, false},
    {"other-hand", read_other_hand, false},
};

void read_feel(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    const struct uvk_node *name = want(reading, statement, 1, UVK_NODE_NAME, "the feel's name");
    const struct uvk_node *block = want_block(reading, statement);
    struct uvk_feel_text *feel;

    (void)subject;
    if (name == NULL || block == NULL) {
        return;
    }
    want_end(reading, statement, 2);
    if (strcmp(name->text, "long-press") == 0) {
        uvk_say(reading->messages, UVK_SAYS_NAME_IS_KEY, name->place, NULL,
                "'long-press' is a feel already: that of the long-press statement");
        return;
    }
    if (strcmp(name->text, "default") == 0) {
        feel = &reading->keymap->feels[0];
    } else if (feel_named(reading->keymap, name->text) >= 0) {
        uvk_say_other(uvk_say(reading->messages, UVK_SAYS_TWICE, name->place, NULL,
                              "the feel '%s' is defined already", name->text),
                      reading->keymap->feels[feel_named(reading->keymap, name->text)].place);
        return;
    } else if (reading->keymap->feel_count == UVK_FEELS_MAX) {
        uvk_say(reading->messages, UVK_SAYS_NO_ROOM, name->place, NULL,
                "a keymap has at most %u feels", UVK_FEELS_MAX);
        return;
    } else {
        feel = add_feel(reading, name->text);
        feel->place = name->place;
    }
    read_block(reading, block, feel_rules, G_N_ELEMENTS(feel_rules), "a feel", feel);
}
