/* phrases.c - a cell or a step by itself, read with the names of a program. */
#include "reading.h"

#include "uvrek/explain.h"

#include <string.h>

/* The one statement of TEXT, which AS names in messages; NULL: it has none, or mistakes. */
static const struct uvk_node *read_one(struct reading *reading, const char *as,
                                       const char *text)
{
    size_t size = MIN(strlen(text), UVK_SOURCE_MAX + 1);
    const struct uvk_place nowhere = {NULL, 0, 0};
    struct uvk_source *source = add_source(reading, as, g_strndup(text, size), size, nowhere);
    struct uvk_node *block;
    unsigned before;

    if (source == NULL) {
        return NULL;
    }
    before = reading->messages->errors;
    block = uvk_parse(source, reading->arena, reading->messages);
    if (reading->messages->errors > before || block->child == NULL ||
        block->child->kind == UVK_NODE_BROKEN) {
        return NULL;
    }
    if (block->child->next != NULL) {
        uvk_say(reading->messages, UVK_SAYS_EXPECTED, block->child->next->place, NULL,
                "one %s at a time", as);
        return NULL;
    }
    return block->child;
}

bool uvk_cell_read(struct uvk_program *program, const char *text, struct uvk_messages *messages,
                   struct uvk_value *value)
{
    struct reading reading = begin_reading(program, messages);
    const struct uvk_node *statement = read_one(&reading, "cell", text);

    *value = (struct uvk_value){.kind = UVK_VALUE_BROKEN};
    if (statement != NULL && statement->child->next != NULL) {
        uvk_say(messages, UVK_SAYS_EXPECTED, statement->child->next->place, NULL,
                "one cell at a time");
    } else if (statement != NULL) {
        *value = cell_value(&reading, statement->child);
    }
    end_reading(&reading);
    return value->kind != UVK_VALUE_BROKEN;
}

const struct uvk_step *uvk_step_read(struct uvk_program *program, const char *text,
                                     struct uvk_messages *messages)
{
    struct reading reading = begin_reading(program, messages);
    const struct uvk_node *statement = read_one(&reading, "step", text);
    const struct uvk_step *step = statement != NULL ? read_step(&reading, statement) : NULL;

    end_reading(&reading);
    return step;
}
