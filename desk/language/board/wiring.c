/* wiring.c - pins and their printed names, matrix, direct switches, and how they are scanned.
 */
#include "reading.h"

#include <string.h>

#define PIN_NAMES_MAX 64u

/* ---- pins ----------------------------------------------------------------------------- */

static const char *pin_name(size_t index, const void *data)
{
    const struct uvk_board *board = data;

    return index < board->chip->pin_count
               ? board->chip->pins[index].name
               : board->pin_names[index - board->chip->pin_count].name;
}

static const struct uvk_pin *printed_pin(const struct uvk_board *board, const char *name)
{
    for (unsigned i = 0; i < board->pin_name_count; i++) {
        if (strcmp(board->pin_names[i].name, name) == 0) {
            return board->pin_names[i].pin;
        }
    }
    return NULL;
}

static const struct uvk_reserved_pin *reserved_pin(const struct uvk_chip *chip,
                                                   const char *name)
{
    for (const struct uvk_reserved_pin *pin = chip->reserved; pin->name != NULL; pin++) {
        if (strcmp(pin->name, name) == 0) {
            return pin;
        }
    }
    return NULL;
}

const struct uvk_pin *find_pin(struct reading *reading, const struct uvk_node *node)
{
    const struct uvk_board *board = reading->board;
    const struct uvk_reserved_pin *reserved;
    const struct uvk_pin *pin;
    char *fix;

    if (node->kind != UVK_NODE_NAME && node->kind != UVK_NODE_STRING &&
        node->kind != UVK_NODE_NUMBER) {
        uvk_say(reading->messages, UVK_SAYS_EXPECTED, node->place, NULL, "expected a pin");
        return NULL;
    }
    pin = printed_pin(board, node->text);
    if (pin == NULL && node->kind == UVK_NODE_NAME) {
        pin = uvk_chip_pin(board->chip, node->text);
    }
    if (pin != NULL) {
        return pin;
    }
    reserved = reserved_pin(board->chip, node->text);
    if (reserved != NULL) {
        uvk_say(reading->messages, UVK_SAYS_PIN_RESERVED, node->place, NULL,
                "pin %s is not free: %s", reserved->name, reserved->why);
        return NULL;
    }
    fix = did_you_mean(node->text, board->chip->pin_count + board->pin_name_count, pin_name,
                       board);
    fix = fix != NULL ? fix
                      : g_strdup_printf("'uvrek explain %s' lists its pins", board->chip->name);
    uvk_say(reading->messages, UVK_SAYS_NO_PIN, node->place, fix, "the %s has no pin '%s'",
            board->chip->title, node->text);
    g_free(fix);
    return NULL;
}

static bool among(const struct uvk_pin *const *pins, unsigned count, const struct uvk_pin *pin)
{
    for (unsigned i = 0; i < count; i++) {
        if (pins[i] == pin) {
            return true;
        }
    }
    return false;
}

/* What the wires of HALF use PIN for; NULL: nothing. */
static const char *wire_use(const struct uvk_board *board, unsigned half,
                            const struct uvk_pin *pin)
{
    const struct uvk_half *wires = &board->halves[half];

    for (unsigned i = 0; i < board->knob_count; i++) {
        if (board->knobs[i].half == half && among(board->knobs[i].pins, 2, pin)) {
            return board->knobs[i].name;
        }
    }
    return among(wires->rows, wires->row_count, pin)        ? "a row"
           : among(wires->cols, wires->col_count, pin)      ? "a column"
           : among(wires->direct, wires->direct_count, pin) ? "a switch"
                                                            : NULL;
}

const char *uvk_pin_use(const struct uvk_board *board, unsigned half, const struct uvk_pin *pin)
{
    for (unsigned i = 0; i < board->half_count; i++) {
        const char *use =
            i == half || uvk_one_controller(board) ? wire_use(board, i, pin) : NULL;
        if (use != NULL) {
            return use;
        }
    }
    return board->link.transmit == pin || board->link.receive == pin ? "the link"
           : board->main_pin == pin                                  ? "'main pin'"
           : board->backlight.pin == pin                             ? "the backlight"
           : board->strip.pin == pin                                 ? "the strip"
                                                                     : NULL;
}

bool uvk_one_controller(const struct uvk_board *board)
{
    return board->link.place.source == NULL;
}

/* A statement for both halves uses each of its pins twice, unless each half has a controller:
 * that is one mistake, not one for each pin. */
static void tell_link_missing(struct reading *reading, const struct uvk_node *node,
                              const struct uvk_pin *pin)
{
    if (!reading->link_missed) {
        uvk_say(
            reading->messages, UVK_SAYS_PIN_TWICE, node->place,
            "if each half has a controller of its own, write `link uart TX RX` in `halves`",
            "one controller reads both halves, so pin %s and the others here are used twice",
            pin->name);
    }
    reading->link_missed = true;
}

const struct uvk_pin *take_pin(struct reading *reading, unsigned half,
                               const struct uvk_node *node)
{
    const struct uvk_pin *pin = find_pin(reading, node);
    const char *use = pin != NULL ? uvk_pin_use(reading->board, half, pin) : NULL;

    if (use != NULL && half > 0 && reading->for_both && uvk_one_controller(reading->board)) {
        tell_link_missing(reading, node, pin);
    } else if (use != NULL) {
        uvk_say(reading->messages, UVK_SAYS_PIN_TWICE, node->place, NULL,
                "pin %s is used already: %s", pin->name, use);
    }
    return use == NULL ? pin : NULL;
}

const char *uvk_pin_label(const struct uvk_board *board, const struct uvk_pin *pin)
{
    for (unsigned i = 0; i < board->pin_name_count; i++) {
        if (board->pin_names[i].pin == pin) {
            return board->pin_names[i].name;
        }
    }
    return pin->name;
}

/* pins "3" D0, "A0" F7 */
void read_pin_names(struct reading *reading, const struct uvk_node *statement)
{
    struct uvk_board *board = reading->board;
    const struct uvk_node *node = item(statement, 1);

    if (board->chip == NULL) {
        return;
    }
    if (board->pin_names == NULL) {
        board->pin_names =
            uvk_arena_take(reading->arena, PIN_NAMES_MAX * sizeof *board->pin_names);
    }
    for (unsigned i = 1; node != NULL; node = item(statement, i)) {
        const struct uvk_node *name =
            want(reading, statement, i, UVK_NODE_STRING, "a printed name, as in \"A0\" F7");
        const struct uvk_node *which =
            name != NULL ? want(reading, statement, i + 1, UVK_NODE_NAME, "its pin") : NULL;
        const struct uvk_pin *pin = which != NULL ? find_pin(reading, which) : NULL;
        if (which == NULL || !want_visible(reading, name, "a printed name")) {
            return;
        }
        if (printed_pin(board, name->text) != NULL || board->pin_name_count == PIN_NAMES_MAX) {
            uvk_say(reading->messages, UVK_SAYS_TWICE, name->place, NULL,
                    "'%s' names a pin already", name->text);
        } else if (pin != NULL) {
            board->pin_names[board->pin_name_count++] = (struct uvk_pin_name){name->text, pin};
        }
        i += 2;
        node = item(statement, i);
        if (node != NULL && node->kind == UVK_NODE_COMMA) {
            i++;
        }
    }
    if (item(statement, 1) == NULL) {
        want(reading, statement, 1, UVK_NODE_STRING, "a printed name, as in \"A0\" F7");
    }
}

/* ---- the matrix ------------------------------------------------------------------------ */

static struct uvk_half *current(struct reading *reading)
{
    return &reading->board->halves[reading->half];
}

/* PLACES may be NULL. */
static void read_side(struct reading *reading, const struct uvk_node *statement,
                      const struct uvk_pin **pins, struct uvk_place *places, unsigned *count,
                      unsigned most)
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
        pins[*count] = take_pin(reading, reading->half, node);
        if (places != NULL) {
            places[*count] = node->place;
        }
        (*count)++;
    }
    if (item(statement, 1) == NULL) {
        want(reading, statement, 1, UVK_NODE_NAME, "a pin");
    }
}

static void read_rows(struct reading *reading, const struct uvk_node *statement)
{
    read_side(reading, statement, current(reading)->rows, current(reading)->row_places,
              &current(reading)->row_count, UVK_SIDE_MAX);
}

static void read_cols(struct reading *reading, const struct uvk_node *statement)
{
    read_side(reading, statement, current(reading)->cols, current(reading)->col_places,
              &current(reading)->col_count, UVK_SIDE_MAX);
}

static bool is_name(const struct uvk_node *node, const char *name)
{
    return node != NULL && node->kind == UVK_NODE_NAME && strcmp(node->text, name) == 0;
}

static void read_flow(struct reading *reading, const struct uvk_node *statement)
{
    const struct uvk_node *from = item(statement, 1);
    const struct uvk_node *arrow = item(statement, 2);
    const struct uvk_node *to = item(statement, 3);
    bool is_arrow = arrow != NULL && arrow->kind == UVK_NODE_ARROW;

    if (is_name(from, "none") && arrow == NULL) {
        current(reading)->flow = UVK_NO_DIODES;
        current(reading)->flow_place = from->place;
    } else if (is_name(from, "row") && is_arrow && is_name(to, "col")) {
        current(reading)->flow = UVK_ROW_TO_COL;
        want_end(reading, statement, 4);
    } else if (is_name(from, "col") && is_arrow && is_name(to, "row")) {
        current(reading)->flow = UVK_COL_TO_ROW;
        want_end(reading, statement, 4);
    } else {
        struct uvk_place place = from != NULL ? from->place : statement->place;
        uvk_say(reading->messages, UVK_SAYS_EXPECTED, place, "write row->col, col->row or none",
                "expected which way the diodes conduct");
    }
}

static void read_debounce(struct reading *reading, const struct uvk_node *statement)
{
    const struct uvk_node *node = want(reading, statement, 1, UVK_NODE_TIME, "a time");
    struct uvk_setting_text *setting = &reading->board->settings[UVK_SET_DEBOUNCE];

    if (want_time(reading, node, 0, UVK_DEBOUNCE_MAX * 1000.0, &setting->value)) {
        setting->place = statement->place;
    }
}

static void read_settle(struct reading *reading, const struct uvk_node *statement)
{
    const struct uvk_node *node = want(reading, statement, 1, UVK_NODE_TIME, "a time");

    want_time(reading, node, 0, 100, &reading->board->settle);
}

static const struct rule matrix_rules[] = {
    {"rows", read_rows, false},     {"cols", read_cols, false},
    {"flow", read_flow, false},     {"debounce", read_debounce, false},
    {"settle", read_settle, false}, {"spare", read_spare, true},
};

void read_matrix(struct reading *reading, const struct uvk_node *statement)
{
    static const char *const needed[] = {"rows", "cols", "flow", NULL};
    const struct uvk_node *block = want_block(reading, statement);
    struct which_halves which;

    if (block == NULL || !want_halves(reading, statement, 1, &which)) {
        reading->wires_unknown = true;
        return;
    }
    want_end(reading, statement, which.next);
    want_statements(reading, block, statement->child->place, needed, "the matrix");
    reading->for_both = which.first < which.last;
    for (reading->half = which.first; reading->half <= which.last; reading->half++) {
        if (current(reading)->row_count + current(reading)->col_count > 0) {
            uvk_say(reading->messages, UVK_SAYS_TWICE, statement->child->place, NULL,
                    "there is a matrix already");
            return;
        }
        current(reading)->matrix_place = statement->child->place;
        read_block(reading, block, matrix_rules, G_N_ELEMENTS(matrix_rules), "the matrix");
    }
    reading->for_both = false;
}

/* ---- direct switches ------------------------------------------------------------------- */

static void read_direct_pins(struct reading *reading, const struct uvk_node *statement)
{
    current(reading)->direct_place = statement->place;
    read_side(reading, statement, current(reading)->direct, NULL,
              &current(reading)->direct_count, UVK_DIRECT_MAX);
}

static void read_to(struct reading *reading, const struct uvk_node *statement)
{
    static const char *const words[] = {"ground", "power", NULL};
    int word = want_word(
        reading,
        want(reading, statement, UVK_SAYS_UNREADABLE, UVK_NODE_NAME, "ground or power"), 12,
        words, "side of a switch");

    if (word >= 0) {
        current(reading)->direct_place = statement->place;
        current(reading)->to_power = word == 1;
        want_end(reading, statement, 2);
    }
}

static const struct rule direct_rules[] = {
    {"pins", read_direct_pins, false},
    {"to", read_to, false},
};

void read_direct(struct reading *reading, const struct uvk_node *statement)
{
    static const char *const needed[] = {"pins", NULL};
    const struct uvk_node *block = want_block(reading, statement);
    struct which_halves which;

    if (block == NULL || !want_halves(reading, statement, 1, &which)) {
        reading->wires_unknown = true;
        return;
    }
    want_end(reading, statement, which.next);
    want_statements(reading, block, statement->child->place, needed, "this");
    reading->for_both = which.first < which.last;
    for (reading->half = which.first; reading->half <= which.last; reading->half++) {
        if (current(reading)->direct_count > 0) {
            uvk_say(reading->messages, UVK_SAYS_TWICE, statement->child->place, NULL,
                    "there are direct switches already");
            return;
        }
        read_block(reading, block, direct_rules, G_N_ELEMENTS(direct_rules), "direct switches");
    }
    reading->for_both = false;
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
