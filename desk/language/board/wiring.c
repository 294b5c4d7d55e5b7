/* wiring.c - matrix and direct switches, whether an address is among them, and how they are
 * scanned. */
#include "reading.h"

#include "uvrek/pair.h"

#include <string.h>

/* ---- the matrix ------------------------------------------------------------------------ */

static void read_side(struct reading *reading, const struct uvk_node *statement,
                      const struct wired *wired, const struct uvk_pin **pins,
                      struct uvk_place *places, unsigned *count, unsigned most)
{
    if (reading->board->chip == NULL) {
        reading->wires_unknown = true;
        return;
    }
    for (const struct uvk_node *node = item(statement, 1);
         node != NULL && node->kind != UVK_NODE_BLOCK; node = node->next) {
        if (*count == most) {
            uvk_say(reading->messages, UVK_SAYS_OUT_OF_RANGE, node->place, NULL,
                    "more than %u pins here", most);
            return;
        }
        /* NULL for a mistake: the addresses still count right */
        pins[*count] = take_pin(reading, wired->number, wired->for_both, node);
        places[*count] = node->place;
        (*count)++;
    }
    if (item(statement, 1) == NULL) {
        want(reading, statement, 1, UVK_NODE_NAME, "a pin");
    }
}

static void read_rows(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    const struct wired *wired = subject;

    read_side(reading, statement, wired, wired->half->rows, wired->half->row_places,
              &wired->half->row_count, UVK_SIDE_MAX);
}

static void read_cols(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    const struct wired *wired = subject;

    read_side(reading, statement, wired, wired->half->cols, wired->half->col_places,
              &wired->half->col_count, UVK_SIDE_MAX);
}

static bool is_name(const struct uvk_node *node, const char *name)
{
    return node != NULL && node->kind == UVK_NODE_NAME && strcmp(node->text, name) == 0;
}

static void read_flow(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    const struct wired *wired = subject;
    const struct uvk_node *from = item(statement, 1);
    const struct uvk_node *arrow = item(statement, 2);
    const struct uvk_node *to = item(statement, 3);
    bool is_arrow = arrow != NULL && arrow->kind == UVK_NODE_ARROW;

    if (is_name(from, "none") && arrow == NULL) {
        wired->half->flow = UVK_NO_DIODES;
        wired->half->flow_place = from->place;
    } else if (is_name(from, "row") && is_arrow && is_name(to, "col")) {
        wired->half->flow = UVK_ROW_TO_COL;
        wired->half->flow_place = uvk_place_span(from->place, to->place);
        want_end(reading, statement, 4);
    } else if (is_name(from, "col") && is_arrow && is_name(to, "row")) {
        wired->half->flow = UVK_COL_TO_ROW;
        wired->half->flow_place = uvk_place_span(from->place, to->place);
        want_end(reading, statement, 4);
    } else {
        struct uvk_place place = from != NULL ? from->place : statement->place;
        uvk_say(reading->messages, UVK_SAYS_EXPECTED, place, "write row->col, col->row or none",
                "expected which way the diodes conduct");
    }
}

static void read_debounce(struct reading *reading, const struct uvk_node *statement,
                          void *subject)
{
    const struct uvk_node *node = want(reading, statement, 1, UVK_NODE_TIME, "a time");
    struct uvk_setting_text *setting = &reading->board->settings[UVK_SET_DEBOUNCE];

    (void)subject;
    if (want_time(reading, node, 0, UVK_DEBOUNCE_MAX * 1000.0, &setting->value)) {
        setting->place = statement->place;
    }
}

static void read_settle(struct reading *reading, const struct uvk_node *statement,
                        void *subject)
{
    const struct uvk_node *node = want(reading, statement, 1, UVK_NODE_TIME, "a time");

    (void)subject;
    want_time(reading, node, 0, 100, &reading->board->settle);
}

static const struct rule matrix_rules[] = {
    {"rows", read_rows, false},     {"cols", read_cols, false},
    {"flow", read_flow, false},     {"debounce", read_debounce, false},
    {"settle", read_settle, false}, {"spare", read_spare, true},
};

void read_matrix(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    static const char *const needed[] = {"rows", "cols", "flow", NULL};
    const struct uvk_node *block = want_block(reading, statement);
    struct which_halves which;

    (void)subject;
    if (block == NULL || !want_halves(reading, statement, 1, &which)) {
        reading->wires_unknown = true;
        return;
    }
    want_end(reading, statement, which.next);
    want_statements(reading, block, statement->child->place, needed, "the matrix");
    for (unsigned number = which.first; number <= which.last; number++) {
        struct wired wired = {&reading->board->halves[number], number,
                              which.first < which.last};
        if (wired.half->row_count + wired.half->col_count > 0) {
            uvk_say_other(uvk_say(reading->messages, UVK_SAYS_TWICE, statement->child->place,
                                  NULL, "there is a matrix already"),
                          wired.half->matrix_place);
            break;
        }
        wired.half->matrix_place = statement->child->place;
        read_block(reading, block, matrix_rules, G_N_ELEMENTS(matrix_rules), "the matrix",
                   &wired);
    }
}

/* ---- direct switches ------------------------------------------------------------------- */

static void read_direct_pins(struct reading *reading, const struct uvk_node *statement,
                             void *subject)
{
    const struct wired *wired = subject;

    wired->half->direct_place = statement->place;
    read_side(reading, statement, wired, wired->half->direct, wired->half->direct_places,
              &wired->half->direct_count, UVK_DIRECT_MAX);
}

static void read_to(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    const struct wired *wired = subject;
    static const char *const words[] = {"ground", "power", NULL};
    int word = want_word(reading, want(reading, statement, 1, UVK_NODE_NAME, "ground or power"),
                         UVK_SAYS_EXPECTED, words, "side of a switch");

    if (word >= 0) {
        wired->half->direct_place = statement->place;
        wired->half->to_power = word == 1;
        want_end(reading, statement, 2);
    }
}

static const struct rule direct_rules[] = {
    {"pins", read_direct_pins, false},
    {"to", read_to, false},
};

void read_direct(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    static const char *const needed[] = {"pins", NULL};
    const struct uvk_node *block = want_block(reading, statement);
    struct which_halves which;

    (void)subject;
    if (block == NULL || !want_halves(reading, statement, 1, &which)) {
        reading->wires_unknown = true;
        return;
    }
    want_end(reading, statement, which.next);
    want_statements(reading, block, statement->child->place, needed, "this");
    for (unsigned number = which.first; number <= which.last; number++) {
        struct wired wired = {&reading->board->halves[number], number,
                              which.first < which.last};
        if (wired.half->direct_count > 0) {
            uvk_say_other(uvk_say(reading->messages, UVK_SAYS_TWICE, statement->child->place,
                                  NULL, "there are direct switches already"),
                          wired.half->direct_place);
            break;
        }
        read_block(reading, block, direct_rules, G_N_ELEMENTS(direct_rules), "direct switches",
                   &wired);
    }
}

/* ---- addresses ------------------------------------------------------------------------- */

/* Has the half of KEY what an address of this kind needs? */
static bool is_wired(const struct uvk_half *half, const struct uvk_key_place *key)
{
    return key->direct ? half->direct_count > 0 : half->row_count > 0 && half->col_count > 0;
}

static bool is_outside(const struct uvk_half *half, const struct uvk_key_place *key)
{
    return key->direct ? key->col >= half->direct_count
                       : key->row >= half->row_count || key->col >= half->col_count;
}

/* Is anything wired at all, and told without a mistake? If not, that is the message. */
static bool knows_wires(const struct reading *reading)
{
    unsigned wires = 0;

    for (unsigned i = 0; i < reading->board->half_count; i++) {
        wires += reading->board->halves[i].row_count + reading->board->halves[i].direct_count;
    }
    return !reading->wires_unknown && wires > 0;
}

static void tell_not_wired(struct reading *reading, struct uvk_place place,
                           const struct uvk_key_place *key)
{
    const char *what = key->direct ? "direct switches" : "matrix";

    if (!knows_wires(reading)) {
        return;
    }
    if (reading->board->half_count > 1) {
        uvk_say(reading->messages, UVK_SAYS_OUTSIDE_MATRIX, place, NULL,
                "the half '%s' has no %s", reading->board->halves[key->half].name, what);
    } else {
        uvk_say(reading->messages, UVK_SAYS_OUTSIDE_MATRIX, place, NULL, "this board has no %s",
                what);
    }
}

static void tell_outside(struct reading *reading, struct uvk_place place,
                         const struct uvk_key_place *key)
{
    const struct uvk_half *half = &reading->board->halves[key->half];

    bool split = reading->board->half_count > 1;
    char *whose = split ? g_strdup_printf(" of the half '%s'", half->name) : g_strdup("");

    if (key->direct) {
        uvk_say(reading->messages, UVK_SAYS_OUTSIDE_MATRIX, place, NULL,
                "the direct switches%s are d0..d%u", whose, half->direct_count - 1);
    } else {
        uvk_say(reading->messages, UVK_SAYS_OUTSIDE_MATRIX, place, NULL,
                "the matrix%s has rows r0..r%u and columns c0..c%u", whose, half->row_count - 1,
                half->col_count - 1);
    }
    g_free(whose);
}

bool check_wiring(struct reading *reading, struct uvk_place place,
                  const struct uvk_key_place *key)
{
    const struct uvk_half *half = &reading->board->halves[key->half];

    if (!is_wired(half, key)) {
        tell_not_wired(reading, place, key);
        return false;
    }
    if (is_outside(half, key)) {
        tell_outside(reading, place, key);
        return false;
    }
    return true;
}

/* ---- scanning -------------------------------------------------------------------------- */

#define DIRECT_A_LINE 32u /* sense pins of one line */

bool uvk_rows_are_lines(const struct uvk_half *half)
{
    /* A selected pin is pulled low: the current has to flow into it. */
    return half->flow != UVK_ROW_TO_COL;
}

struct uvk_scan_plan uvk_board_scan(const struct uvk_board *board)
{
    struct uvk_scan_plan plan = {.line_count = 0, .sense_count = 0};

    for (unsigned i = 0; i < board->half_count; i++) {
        const struct uvk_half *half = &board->halves[i];
        bool rows = uvk_rows_are_lines(half);
        unsigned lines = rows ? half->row_count : half->col_count;
        unsigned senses = rows ? half->col_count : half->row_count;
        for (unsigned line = 0; line < lines; line++) {
            plan.lines[plan.line_count++] =
                (struct uvk_scan_line){i, rows ? half->rows[line] : half->cols[line], line, 0};
        }
        plan.sense_count = MAX(plan.sense_count, senses);
        for (unsigned first = 0; first < half->direct_count; first += DIRECT_A_LINE) {
            plan.lines[plan.line_count++] = (struct uvk_scan_line){i, NULL, 0, first};
            plan.sense_count =
                MAX(plan.sense_count, MIN(half->direct_count - first, DIRECT_A_LINE));
        }
    }
    return plan;
}

void uvk_scan_switch(const struct uvk_scan_plan *plan, const struct uvk_board *board,
                     unsigned key, unsigned *line, unsigned *sense)
{
    const struct uvk_key_place *place = &board->keys[key];
    bool rows = uvk_rows_are_lines(&board->halves[place->half]);
    unsigned index = rows ? place->row : place->col;

    for (*line = 0; *line < plan->line_count; (*line)++) {
        const struct uvk_scan_line *at = &plan->lines[*line];
        if (at->half != place->half) {
            continue;
        }
        if (place->direct && at->select == NULL && place->col >= at->first &&
            place->col < at->first + DIRECT_A_LINE) {
            *sense = place->col - at->first;
            return;
        }
        if (!place->direct && at->select != NULL && at->index == index) {
            *sense = rows ? place->col : place->row;
            return;
        }
    }
}
#define LINK_BYTES_HEAD 2u /* of an answer, before the knobs and the lines */

static unsigned bytes_of_half(const struct uvk_board *board, const struct uvk_scan_plan *scan,
                              unsigned half)
{
    unsigned bits = 0;
    unsigned knobs = 0;

    for (unsigned i = 0; i < scan->line_count; i++) {
        bits += scan->lines[i].half == half ? scan->sense_count : 0;
    }
    for (unsigned i = 0; i < board->knob_count; i++) {
        knobs += board->knobs[i].half == half;
    }
    return LINK_BYTES_HEAD + knobs + (bits + 7u) / 8u;
}

/* Of the longest question. */
static unsigned ask_bytes(const struct uvk_board *board)
{
    bool has_light = uvk_board_lights_up(board) || board->lamp_count > 0;

    return UVK_ASK_BYTES + (has_light ? UVK_ASK_SHOWN : 0);
}

/* Of the longest answer. */
static unsigned answer_bytes(const struct uvk_board *board)
{
    struct uvk_scan_plan scan = uvk_board_scan(board);

    return MAX(bytes_of_half(board, &scan, 0), bytes_of_half(board, &scan, 1));
}

unsigned uvk_link_bytes(const struct uvk_board *board)
{
    return MAX(ask_bytes(board), answer_bytes(board));
}

uint8_t uvk_link_waits_ms(const struct uvk_board *board)
{
    return uvk_link_answer_ms(board->link.speed, (uint8_t)ask_bytes(board),
                              (uint8_t)answer_bytes(board));
}
