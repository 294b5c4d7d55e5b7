/* names.c - a key is named by what it taps. When it taps something else, whoever named it so
 * names it by its address. */
#include "uvrek/edit.h"
#include "uvrek/explain.h"
#include "uvrek/program.h"

#include <string.h>

#define ROUNDS 100u /* each sees so many mistakes as are told of one text */

/* The one key of PROGRAM that VALUE names; -1: none, or several. */
static int key_tapping(const struct uvk_program *program, const struct uvk_value *value)
{
    const struct uvk_value *cells = program->keymap->layers[0].cells;
    unsigned count = 0;
    int key = -1;

    for (unsigned i = 0; i < program->board->key_count; i++) {
        if (uvk_value_equal(uvk_value_tap(&cells[i]), uvk_value_tap(value))) {
            key = (int)i;
            count++;
        }
    }
    return count == 1 ? key : -1;
}

/* What the name at PLACE of the new text named in PROGRAM. -1: nothing. */
static int named_before(struct uvk_program *program, struct uvk_place place)
{
    char *name = g_strndup(place.source->text + place.at, place.length);
    struct uvk_messages messages;
    struct uvk_value value;
    int key;

    uvk_messages_init(&messages);
    key = uvk_cell_read(program, name, &messages, &value) ? key_tapping(program, &value) : -1;
    uvk_messages_clear(&messages);
    g_free(name);
    return key;
}

/* Is it about a name of a key, in the text itself? */
static bool is_lost_name(const struct uvk_message *message, const struct uvk_source *source)
{
    return (message->code == UVK_SAYS_NOTHING_TAPS || message->code == UVK_SAYS_SEVERAL_TAP) &&
           message->place.source == source;
}

/* TEXT with addresses for names that are lost, as far as they are told of; their number is
 * added to *COUNT. NULL: there are none. */
static char *with_addresses(struct uvk_program *program, const char *text, size_t *size,
                            unsigned *count)
{
    const struct uvk_source *old = program->sources->pdata[0];
    struct uvk_program *next = uvk_program_read(old->path, text, *size);
    struct uvk_edits *edits = uvk_edits_new(next->sources->pdata[0]);
    char *better = NULL;

    for (guint i = 0; i < next->messages.list->len; i++) {
        const struct uvk_message *message = next->messages.list->pdata[i];
        int key = is_lost_name(message, next->sources->pdata[0])
                      ? named_before(program, message->place)
                      : -1;
        if (key >= 0) {
            char *address = uvk_cell_place(program->board, (unsigned)key);
            uvk_edits_replace(edits, message->place.at, message->place.length, address);
            g_free(address);
        }
    }
    if (uvk_edits_count(edits) > 0) {
        *count += uvk_edits_count(edits);
        better = uvk_edits_apply(edits, size);
    }
    uvk_edits_free(edits);
    uvk_program_free(next);
    return better;
}

char *uvk_edit_name_keys(struct uvk_program *program, const char *text, size_t *size,
                         unsigned *count)
{
    char *now = g_strndup(text, *size);
    unsigned changed = 0;
    char *better;

    for (unsigned round = 0; round < ROUNDS; round++) {
        better = with_addresses(program, now, size, &changed);
        if (better == NULL) {
            break;
        }
        g_free(now);
        now = better;
    }
    if (count != NULL) {
        *count = changed;
    }
    return now;
}
