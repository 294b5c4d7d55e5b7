/* rules.c - statements and their items, by table. */
#include "reading.h"

#include <math.h>
#include <string.h>

const struct uvk_node *item(const struct uvk_node *statement, unsigned index)
{
    const struct uvk_node *node = statement->child;

    while (node != NULL && index-- > 0) {
        node = node->next;
    }
    return node != NULL && node->kind != UVK_NODE_BLOCK ? node : NULL;
}

const char *keyword(const struct uvk_node *statement)
{
    const struct uvk_node *first = item(statement, 0);

    return first != NULL && first->kind == UVK_NODE_NAME ? first->text : NULL;
}

static struct uvk_place end_of(struct uvk_place place)
{
    place.at += place.length;
    place.length = 1;
    return place;
}

const struct uvk_node *want(struct reading *reading, const struct uvk_node *statement,
                            unsigned index, enum uvk_node_kind kind, const char *what)
{
    const struct uvk_node *node = item(statement, index);

    if (node != NULL && node->kind == kind) {
        return node;
    }
    if (node == NULL) {
        const struct uvk_node *last = index > 0 ? item(statement, index - 1) : NULL;
        uvk_say(reading->messages, UVK_SAYS_EXPECTED,
                end_of(last ? last->place : statement->place), NULL, "expected %s", what);
    } else {
        bool unitless = kind == UVK_NODE_TIME && node->kind == UVK_NODE_NUMBER;
        char *fix = unitless ? g_strdup_printf("did you mean '%sms'?", node->text) : NULL;
        uvk_say(reading->messages, UVK_SAYS_EXPECTED, node->place, fix, "expected %s", what);
        g_free(fix);
    }
    return NULL;
}

void want_end(struct reading *reading, const struct uvk_node *statement, unsigned index)
{
    const struct uvk_node *node = item(statement, index);

    if (node != NULL) {
        uvk_say(reading->messages, UVK_SAYS_EXPECTED, node->place, NULL,
                "expected the end of the '%s' statement", keyword(statement));
    }
}

const struct uvk_node *want_block(struct reading *reading, const struct uvk_node *statement)
{
    const struct uvk_node *node = statement->child;

    while (node != NULL && node->kind != UVK_NODE_BLOCK) {
        node = node->next;
    }
    if (node == NULL) {
        uvk_say(reading->messages, UVK_SAYS_EXPECTED, end_of(statement->place), NULL,
                "expected '{'");
    }
    return node;
}

bool want_number(struct reading *reading, const struct uvk_node *node, double least,
                 double most, const char *what, double *out)
{
    if (node == NULL) {
        return false;
    }
    if (node->number < least || node->number > most) {
        uvk_say(reading->messages, UVK_SAYS_OUT_OF_RANGE, node->place, NULL,
                "%s is from %.10g to %.10g, this is %.10g", what, least, most, node->number);
        return false;
    }
    *out = node->number;
    return true;
}

bool want_time(struct reading *reading, const struct uvk_node *node, double least, double most,
               double *out)
{
    if (node == NULL) {
        return false;
    }
    if (node->number < least || node->number > most) {
        uvk_say(reading->messages, UVK_SAYS_OUT_OF_RANGE, node->place, NULL,
                "this time is from %.12gms to %.12gms, this is %.12gms", least / 1000,
                most / 1000, node->number / 1000);
        return false;
    }
    *out = node->number;
    return true;
}

char *did_you_mean(const char *word, size_t count,
                   const char *(*name_of)(size_t index, const void *data), const void *data)
{
    const char *near = uvk_nearest(word, count, name_of, data);

    return near != NULL ? g_strdup_printf("did you mean '%s'?", near) : NULL;
}

bool want_visible(struct reading *reading, const struct uvk_node *node, const char *what)
{
    const char *unseen = uvk_find_unseen(node->text);

    if (unseen == NULL && strpbrk(node->text, "\n\t") == NULL) {
        return true;
    }
    if (unseen == NULL) {
        uvk_say(reading->messages, UVK_SAYS_DOES_NOT_FIT, node->place, NULL,
                "%s is one line, without tabs", what);
    } else {
        uvk_say(reading->messages, UVK_SAYS_DOES_NOT_FIT, node->place, NULL,
                "%s has no invisible characters, as U+%04X is", what, g_utf8_get_char(unseen));
    }
    return false;
}

void not_supported_yet(struct reading *reading, struct uvk_place place, const char *what)
{
    uvk_say(reading->messages, UVK_SAYS_NOT_YET, place, NULL, "%s: not supported yet", what);
}

static const char *word_of(size_t index, const void *data)
{
    return ((const char *const *)data)[index];
}

int want_word(struct reading *reading, const struct uvk_node *node, enum uvk_code code,
              const char *const *words, const char *what)
{
    GString *all;
    char *fix;
    int count = 0;

    if (node == NULL) {
        return -1;
    }
    all = g_string_new(NULL);
    for (; words[count] != NULL; count++) {
        if (node->kind == UVK_NODE_NAME && strcmp(words[count], node->text) == 0) {
            g_string_free(all, TRUE);
            return count;
        }
        g_string_append_printf(all, "%s%s", count > 0 ? ", " : "", words[count]);
    }
    fix = node->kind == UVK_NODE_NAME ? did_you_mean(node->text, (size_t)count, word_of, words)
                                      : NULL;
    uvk_say(reading->messages, code, node->place, fix, "unknown %s; choose from: %s", what,
            all->str);
    g_free(fix);
    g_string_free(all, TRUE);
    return -1;
}

static const char *rule_word(size_t index, const void *data)
{
    return ((const struct rule *)data)[index].word;
}

static const struct rule *rule_for(const struct uvk_node *statement, const struct rule *rules,
                                   size_t count)
{
    const char *word = keyword(statement);

    for (size_t i = 0; word != NULL && i < count; i++) {
        if (strcmp(rules[i].word, word) == 0) {
            return &rules[i];
        }
    }
    return NULL;
}

/* A statement that no rule is for. */
static void complain_unknown(struct reading *reading, const struct uvk_node *statement,
                             const struct rule *rules, size_t count, const char *of)
{
    const struct uvk_node *first = item(statement, 0);
    struct uvk_place place = first != NULL ? first->place : statement->place;
    char *fix = first != NULL && first->text != NULL
                    ? did_you_mean(first->text, count, rule_word, rules)
                    : NULL;

    uvk_say(reading->messages, UVK_SAYS_NO_STATEMENT, place, fix,
            "there is no statement '%s' in %s",
            first != NULL && first->text != NULL ? first->text : "like this", of);
    g_free(fix);
}

static void check_words(struct reading *reading, const struct uvk_node *block,
                        const struct rule *rules, size_t count, const char *of)
{
    for (const struct uvk_node *at = block->child; at != NULL; at = at->next) {
        const struct rule *rule = rule_for(at, rules, count);
        if (at->kind == UVK_NODE_BROKEN) {
            continue;
        }
        if (rule == NULL) {
            complain_unknown(reading, at, rules, count, of);
        } else if (rule->read == NULL) {
            char *what = g_strdup_printf("'%s' in %s", rule->word, of);
            not_supported_yet(reading, item(at, 0)->place, what);
            g_free(what);
        }
    }
}

void read_block(struct reading *reading, const struct uvk_node *block, const struct rule *rules,
                size_t count, const char *of, void *subject)
{
    check_words(reading, block, rules, count, of);
    for (size_t i = 0; i < count; i++) {
        const struct uvk_node *first = NULL;
        for (const struct uvk_node *at = block->child; at != NULL; at = at->next) {
            const struct uvk_node *word = item(at, 0);
            if (at->kind == UVK_NODE_BROKEN || word == NULL || rules[i].read == NULL ||
                rule_for(at, rules, count) != &rules[i]) {
                continue;
            }
            if (first != NULL && !rules[i].many) {
                uvk_say_other(uvk_say(reading->messages, UVK_SAYS_TWICE, word->place, NULL,
                                      "'%s' stands in %s already", rules[i].word, of),
                              first->place);
            } else {
                rules[i].read(reading, at, subject);
                first = word;
            }
        }
    }
}

static const char *one_word(size_t index, const void *data)
{
    (void)index;
    return data;
}

/* A misspelt statement is there as well: it has a message of its own. */
bool has_statement(const struct uvk_node *block, const char *word)
{
    for (const struct uvk_node *at = block->child; at != NULL; at = at->next) {
        if (keyword(at) != NULL && (strcmp(keyword(at), word) == 0 ||
                                    uvk_nearest(keyword(at), 1, one_word, word) != NULL)) {
            return true;
        }
    }
    return false;
}

void want_statements(struct reading *reading, const struct uvk_node *block,
                     struct uvk_place place, const char *const *words, const char *of)
{
    for (; *words != NULL; words++) {
        if (!has_statement(block, *words)) {
            uvk_say(reading->messages, UVK_SAYS_MISSING, place, NULL, "%s has no '%s'", of,
                    *words);
            return;
        }
    }
}
