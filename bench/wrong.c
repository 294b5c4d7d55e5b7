/* wrong.c - faults of a board that are ordered in words. */
#include "uvrek/wrong.h"

#include <string.h>

enum words { TWO_WIRES, ONE_WIRE, A_KEY, A_KNOB, NOTHING };

static const struct {
    const char *name;
    enum words words;
    const char *usage;
} forms[UVK_WRONGS] = {
    [UVK_WRONG_SWAP] = {"swap", TWO_WIRES, "swap c1 c2: two wires are exchanged"},
    [UVK_WRONG_OPEN] = {"open", ONE_WIRE, "open r2: a wire reaches no pin"},
    [UVK_WRONG_SHORT] = {"short", TWO_WIRES, "short c1 c2: two wires are joined"},
    [UVK_WRONG_DIODE] = {"diode", A_KEY, "diode r1c2: a diode is the wrong way round"},
    [UVK_WRONG_DIODES] = {"diodes", NOTHING, "diodes: all of them are"},
    [UVK_WRONG_BRIDGED] = {"bridged", NOTHING, "bridged: wires stand in place of all diodes"},
    [UVK_WRONG_CHATTER] = {"chatter", A_KEY, "chatter r0c0: a contact opens while it is held"},
    [UVK_WRONG_DEAD] = {"dead", A_KEY, "dead r2c1: a switch never closes"},
    [UVK_WRONG_STUCK] = {"stuck", A_KEY, "stuck r2c1: a switch never opens"},
    [UVK_WRONG_HALVES] = {"halves", NOTHING, "halves: the wires of the halves are exchanged"},
    [UVK_WRONG_CABLE] = {"cable", NOTHING,
                         "cable: the two lines between the halves cross the wrong way"},
    [UVK_WRONG_STRAP] = {"strap", NOTHING,
                         "strap: the pin of the main half is to ground on the other half"},
    [UVK_WRONG_KNOB] = {"knob", A_KNOB, "knob jog: its two contacts are exchanged"},
};

/* ---- keys and knobs ---------------------------------------------------------------------- */

static bool find_key(const struct uvk_board *board, const char *name, unsigned *key)
{
    int cell = uvk_cell_at(board, name);

    *key = (unsigned)MAX(cell, 0);
    return cell >= 0 && *key < board->key_count;
}

static bool find_knob(const struct uvk_board *board, const char *name, unsigned *knob)
{
    for (*knob = 0; *knob < board->knob_count; (*knob)++) {
        if (strcmp(board->knobs[*knob].name, name) == 0) {
            return true;
        }
    }
    return false;
}

/* ---- reading ----------------------------------------------------------------------------- */

static bool unknown(GError **error, const char *what, const char *name)
{
    g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "the board has no %s '%s'", what, name);
    return false;
}

static bool take_words(const struct uvk_board *board, enum words words, char *const *names,
                       struct uvk_wrong *wrong, GError **error)
{
    switch (words) {
    case TWO_WIRES:
        return (uvk_wire_named(board, names[1], &wrong->a) ||
                unknown(error, "wire", names[1])) &&
               (uvk_wire_named(board, names[2], &wrong->b) || unknown(error, "wire", names[2]));
    case ONE_WIRE:
        return uvk_wire_named(board, names[1], &wrong->a) || unknown(error, "wire", names[1]);
    case A_KEY:
        return find_key(board, names[1], &wrong->key) || unknown(error, "key", names[1]);
    case A_KNOB:
        return find_knob(board, names[1], &wrong->key) || unknown(error, "knob", names[1]);
    default:
        return true;
    }
}

/* Wires of two controllers are not exchanged, nor joined: a cable is between them. */
static bool is_possible(const struct uvk_board *board, const struct uvk_wrong *wrong,
                        GError **error)
{
    const struct uvk_half *first = &board->halves[0];
    const struct uvk_half *second = &board->halves[1];
    const char *why = NULL;

    if (wrong->kind == UVK_WRONG_HALVES &&
        (board->half_count < 2 || !uvk_one_controller(board) ||
         first->row_count != second->row_count || first->col_count != second->col_count ||
         first->direct_count != second->direct_count)) {
        why = "the board has no two halves on one controller, with as many wires each";
    } else if (forms[wrong->kind].words == TWO_WIRES && wrong->a.half != wrong->b.half &&
               !uvk_one_controller(board)) {
        why = "these two wires are on two controllers";
    }
    if (wrong->kind == UVK_WRONG_CABLE && (uvk_one_controller(board) || board->link.one_wire)) {
        why = "the board has no cable of two lines between its halves";
    } else if (wrong->kind == UVK_WRONG_STRAP && board->main != UVK_MAIN_PIN) {
        why = "no pin says which half of the board is the main one";
    }
    if (why != NULL) {
        g_set_error_literal(error, UVK_PROBLEM, UVK_NOT_DONE, why);
    }
    return why == NULL;
}

static bool say_forms(GError **error, const char *text)
{
    GString *out = g_string_new(NULL);

    for (unsigned i = 0; i < UVK_WRONGS; i++) {
        g_string_append_printf(out, "\n  %s", forms[i].usage);
    }
    g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "'%s' is no fault; they are written so:%s",
                text, out->str);
    g_string_free(out, TRUE);
    return false;
}

bool uvk_wrong_read(const struct uvk_board *board, const char *text, struct uvk_wrong *wrong,
                    GError **error)
{
    static const unsigned wanted[] = {
        [TWO_WIRES] = 3, [ONE_WIRE] = 2, [A_KEY] = 2, [A_KNOB] = 2, [NOTHING] = 1};
    char **names = g_strsplit(text, " ", -1);
    bool found = false;
    bool good = false;

    memset(wrong, 0, sizeof *wrong);
    for (unsigned i = 0; i < UVK_WRONGS && !found; i++) {
        found = g_strcmp0(names[0], forms[i].name) == 0 &&
                g_strv_length(names) == wanted[forms[i].words];
        wrong->kind = (enum uvk_wrong_kind)i;
    }
    if (!found) {
        (void)say_forms(error, text);
    } else {
        good = take_words(board, forms[wrong->kind].words, names, wrong, error) &&
               is_possible(board, wrong, error);
    }
    g_strfreev(names);
    return good;
}

bool uvk_wrong_is_among(const struct uvk_wrong *wrongs, unsigned count,
                        enum uvk_wrong_kind kind)
{
    for (unsigned i = 0; i < count; i++) {
        if (wrongs[i].kind == kind) {
            return true;
        }
    }
    return false;
}
