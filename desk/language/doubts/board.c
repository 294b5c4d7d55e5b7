/* board_doubts.c - what is no mistake of a board, but probably not meant; and mistakes that
 * show only with another layout choice than the one in force. */
#include "reading.h"

#include <string.h>

/* Which places of the matrix have a key, with any layout choice. */
struct used {
    bool key[UVK_HALVES][UVK_SIDE_MAX][UVK_SIDE_MAX];
};

static void note_used(struct used *used, const struct uvk_board *board)
{
    for (unsigned i = 0; i < board->key_count; i++) {
        const struct uvk_key_place *key = &board->keys[i];
        if (!key->direct) {
            used->key[key->half][key->row][key->col] = true;
        }
    }
}

/* ---- other layout choices ---------------------------------------------------------------- */

/* The same place in a source of PROGRAM. */
static struct uvk_place place_here(const struct uvk_program *program, struct uvk_place place)
{
    for (guint i = 0; place.source != NULL && i < program->sources->len; i++) {
        const struct uvk_source *source = g_ptr_array_index(program->sources, i);
        if (strcmp(source->path, place.source->path) == 0 &&
            source->size == place.source->size) {
            place.source = source;
            return place;
        }
    }
    return (struct uvk_place){NULL, 0, 0};
}

static void tell_mistakes(struct reading *reading, const struct uvk_program *other,
                          const struct uvk_choice *choice, unsigned option)
{
    for (guint i = 0; i < other->messages.list->len; i++) {
        const struct uvk_message *message = g_ptr_array_index(other->messages.list, i);
        if (message->severity == UVK_ERROR) {
            uvk_say_other(uvk_say(reading->messages, message->code,
                                  place_here(reading->program, message->place), message->fix,
                                  "with %s=%s: %s", choice->name, choice->options[option],
                                  message->text),
                          place_here(reading->program, message->other));
        }
    }
}

/* Every option that is not in force, with all other choices as they are. */
static void look_at_choices(struct reading *reading, struct used *used)
{
    const struct uvk_board *board = reading->board;
    unsigned *options = g_new(unsigned, board->choice_count + 1);

    for (unsigned i = 0; i < board->choice_count; i++) {
        const struct uvk_choice *choice = &board->choices[i];
        for (unsigned j = 0; j < board->choice_count; j++) {
            options[j] = board->choices[j].chosen;
        }
        for (unsigned option = 0; option < choice->option_count; option++) {
            struct uvk_program *other;
            if (option == choice->chosen) {
                continue;
            }
            options[i] = option;
            other = uvk_program_choosing(reading->program, options);
            if (other->messages.errors > 0) {
                tell_mistakes(reading, other, choice, option);
            } else if (other->board != NULL) {
                note_used(used, other->board);
            }
            uvk_program_free(other);
        }
    }
    g_free(options);
}

/* ---- places without a key --------------------------------------------------------------- */

static bool row_used(const struct used *used, unsigned half, unsigned row)
{
    const bool none[UVK_SIDE_MAX] = {false};

    return memcmp(used->key[half][row], none, sizeof none) != 0;
}

static bool column_used(const struct used *used, unsigned half, unsigned column)
{
    for (unsigned row = 0; row < UVK_SIDE_MAX; row++) {
        if (used->key[half][row][column]) {
            return true;
        }
    }
    return false;
}

static void doubt_pins(struct reading *reading, const struct used *used, unsigned half)
{
    const struct uvk_half *wires = &reading->board->halves[half];

    for (unsigned row = 0; row < wires->row_count; row++) {
        if (!row_used(used, half, row)) {
            uvk_say(reading->messages, UVK_SAYS_IDLE_PIN, wires->row_places[row], NULL,
                    "no key uses this pin, row r%u", row);
        }
    }
    for (unsigned column = 0; column < wires->col_count; column++) {
        if (!column_used(used, half, column)) {
            uvk_say(reading->messages, UVK_SAYS_IDLE_PIN, wires->col_places[column], NULL,
                    "no key uses this pin, column c%u", column);
        }
    }
}

/* Single places without a key, where row and column have others. */
static void hint_empty(struct reading *reading, const struct used *used, unsigned half)
{
    const struct uvk_half *wires = &reading->board->halves[half];
    GString *empty = g_string_new(NULL);
    GString *taken = g_string_new(NULL);

    for (unsigned row = 0; row < wires->row_count; row++) {
        for (unsigned column = 0; column < wires->col_count; column++) {
            bool spare = (wires->spare[row] >> column & 1) != 0;
            bool key = used->key[half][row][column];
            bool wired = row_used(used, half, row) && column_used(used, half, column);
            GString *list = !key && wired && !spare ? empty : key && spare ? taken : NULL;
            if (list != NULL) {
                g_string_append_printf(list, "%sr%uc%u", list->len > 0 ? " " : "", row, column);
            }
        }
    }
    if (empty->len > 0) {
        char *statement = g_strdup_printf("spare %s", empty->str);
        char *fix = g_strdup_printf("`%s` says that it is meant so", statement);
        uvk_say_mend(uvk_say(reading->messages, UVK_SAYS_SPARE, wires->matrix_place, fix,
                             "no key stands at %s", empty->str),
                     UVK_MEND_ADD, statement);
        g_free(fix);
        g_free(statement);
    }
    if (taken->len > 0) {
        uvk_say(reading->messages, UVK_SAYS_SPARE, wires->matrix_place, NULL,
                "a key stands at what is called spare: %s", taken->str);
    }
    g_string_free(empty, TRUE);
    g_string_free(taken, TRUE);
}

/* ---- wires
 * ----------------------------------------------------------------------------------- */

static void hint_wires(struct reading *reading, unsigned half)
{
    const struct uvk_half *wires = &reading->board->halves[half];

    if (wires->row_count == 1 || wires->col_count == 1) {
        uvk_say(
            reading->messages, UVK_SAYS_MATRIX_FOR_NOTHING, wires->matrix_place,
            "direct { pins ... }",
            "%u switches need %u pins this way; with a pin each they need no diodes, and one "
            "pin less",
            MAX(wires->row_count, wires->col_count), wires->row_count + wires->col_count);
    }
    if (wires->to_power && !reading->board->chip->pulls_down) {
        uvk_say(reading->messages, UVK_SAYS_RESISTORS, wires->direct_place, "to ground",
                "the %s cannot hold an open pin at ground: each switch needs a resistor",
                reading->board->chip->title);
    }
}

void tell_board_doubts(struct reading *reading)
{
    struct used *used;

    if (reading->board == NULL || reading->messages->errors > 0) {
        return;
    }
    used = g_new0(struct used, 1);
    note_used(used, reading->board);
    look_at_choices(reading, used);
    for (unsigned half = 0; half < reading->board->half_count; half++) {
        doubt_pins(reading, used, half);
        hint_empty(reading, used, half);
        hint_wires(reading, half);
    }
    g_free(used);
}
