/* keys.c - read the keys of a board: where they are, and where they are wired. */
#include "reading.h"

#include <math.h>
#include <string.h>

#define PLACE_MAX 100.0 /* key units */

bool key_wired_at(const struct uvk_board *board, unsigned half,
                  const struct key_address *address, unsigned *key)
{
    for (unsigned i = 0; i < board->key_count; i++) {
        const struct uvk_key_place *at = &board->keys[i];
        if (at->half == half && at->direct == address->direct && at->row == address->row &&
            at->col == address->col) {
            *key = i;
            return true;
        }
    }
    return false;
}

bool find_address(struct reading *reading, const struct uvk_node *node, unsigned *key)
{
    struct key_address address;
    int half = 0;

    if (node->kind == UVK_NODE_ADDRESS) {
        struct uvk_node name = {
            .kind = UVK_NODE_NAME, .place = node->place, .text = node->text};
        half = want_half(reading, &name);
        node = node->child;
    }
    if (half < 0 || node->kind != UVK_NODE_NAME || !parse_address(node->text, &address)) {
        return false;
    }
    return key_wired_at(reading->board, (unsigned)half, &address, key);
}

/* ---- one line after the other -------------------------------------------------------- */

/* Where the next key goes. Lines are turned about the place where `turn` stood. */
struct pen {
    unsigned half;
    double x, y;
    double turn, about_x, about_y;
    double stagger[UVK_SIDE_MAX];
    unsigned stagger_count;
    unsigned line, column;                 /* of this half; of this line */
    guint first;                           /* of the line's keys among the places */
    unsigned bars;                         /* `|` in this line so far */
    struct uvk_knob *knobs[UVK_KNOBS_MAX]; /* placed in this line */
    unsigned knob_count;
};

static bool same_address(const struct uvk_key_place *a, const struct uvk_key_place *b)
{
    return a->half == b->half && a->direct == b->direct && a->row == b->row && a->col == b->col;
}

static void check_twice(struct reading *reading, const struct uvk_key_place *key)
{
    for (guint i = 0; i < reading->places->len; i++) {
        const struct uvk_key_place *other =
            &g_array_index(reading->places, struct uvk_key_place, i);
        if (same_address(other, key)) {
            uvk_say_other(uvk_say(reading->messages, UVK_SAYS_ADDRESS_TWICE, key->place, NULL,
                                  "this address stands on the board already"),
                          other->place);
            return;
        }
    }
}

static void check_address(struct reading *reading, const struct uvk_key_place *key)
{
    if (check_wiring(reading, key->place, key)) {
        check_twice(reading, key);
    }
}

/* The middle of a key, turned about the pen's point. */
static void turn_key(const struct pen *pen, struct uvk_key_place *key)
{
    double angle = pen->turn * G_PI / 180;
    double x = key->x + key->width / 2 - pen->about_x;
    double y = key->y + key->height / 2 - pen->about_y;

    key->turn = pen->turn;
    key->x = pen->about_x + x * cos(angle) - y * sin(angle) - key->width / 2;
    key->y = pen->about_y + x * sin(angle) + y * cos(angle) - key->height / 2;
}

static bool read_address(struct reading *reading, const struct pen *pen,
                         const struct uvk_node *node, struct uvk_key_place *key)
{
    struct key_address address;

    if (node->kind == UVK_NODE_ADDRESS) {
        struct uvk_node name = {
            .kind = UVK_NODE_NAME, .place = node->place, .text = node->text};
        int half = want_half(reading, &name);
        if (half >= 0 && (unsigned)half != pen->half) {
            uvk_say(reading->messages, UVK_SAYS_OUTSIDE_MATRIX, node->place, NULL,
                    "these are the keys of the half '%s'",
                    reading->board->halves[pen->half].name);
        }
        if (half < 0 || (unsigned)half != pen->half) {
            return false;
        }
        node = node->child;
    }
    if (node->kind != UVK_NODE_NAME || !parse_address(node->text, &address)) {
        uvk_say(reading->messages, UVK_SAYS_EXPECTED, node->place, NULL,
                "expected an address such as r0c3 or d3");
        return false;
    }
    key->direct = address.direct;
    key->row = address.row;
    key->col = address.col;
    return true;
}

/* While a line is read, a hand is the part of the line: from 0 to 2. */
static enum uvk_hand part_of_line(unsigned bars)
{
    return (enum uvk_hand)bars;
}

/* Now that the line is whole: what stands before a single `|` is for the first hand, behind it
 * for the second; between two for either. */
static enum uvk_hand hand_of_part(unsigned bars, enum uvk_hand part)
{
    static const enum uvk_hand hands[3][3] = {
        {UVK_EITHER_HAND, UVK_EITHER_HAND, UVK_EITHER_HAND},
        {UVK_FIRST_HAND, UVK_SECOND_HAND, UVK_EITHER_HAND},
        {UVK_FIRST_HAND, UVK_EITHER_HAND, UVK_SECOND_HAND}};

    return hands[bars][part];
}

static void tell_hands(struct reading *reading, const struct pen *pen)
{
    for (guint i = pen->first; i < reading->places->len; i++) {
        struct uvk_key_place *key = &g_array_index(reading->places, struct uvk_key_place, i);
        key->hand = hand_of_part(pen->bars, key->hand);
    }
    for (unsigned i = 0; i < pen->knob_count; i++) {
        pen->knobs[i]->hand = hand_of_part(pen->bars, pen->knobs[i]->hand);
    }
    reading->board->has_hands |= pen->bars > 0;
}

/* | */
static void read_bar(struct reading *reading, struct pen *pen, const struct uvk_node *node)
{
    if (reading->board->half_count > 1) {
        uvk_say(reading->messages, UVK_SAYS_EXPECTED, node->place, NULL,
                "the halves of this board are its hands: '|' is for boards in one piece");
    } else if (pen->bars == 2) {
        uvk_say(reading->messages, UVK_SAYS_EXPECTED, node->place, NULL,
                "a line has at most two '|': between them stands what either hand presses");
    } else {
        pen->bars++;
    }
}

static void place_key(struct reading *reading, struct pen *pen, const struct uvk_node *node)
{
    unsigned column = pen->column++;
    struct uvk_key_place key = {.place = node->place,
                                .half = pen->half,
                                .x = pen->x,
                                .y = pen->y,
                                .width = 1,
                                .height = 1,
                                .line = pen->line,
                                .hand = part_of_line(pen->bars)};

    if (node->kind == UVK_NODE_SIZED) {
        key.width = node->number;
        key.height = node->second;
        node = node->child;
    }
    if (!read_address(reading, pen, node, &key)) {
        reading->places_unknown = reading->keys_unknown = true;
        return;
    }
    if (key.width < 0.25 || key.width > 20 || key.height < 0.25 || key.height > 20) {
        uvk_say(reading->messages, UVK_SAYS_OUT_OF_RANGE, key.place, NULL,
                "a key is from 0.25 to 20 units wide");
        reading->places_unknown = reading->keys_unknown = true;
        return;
    }
    check_address(reading, &key);
    pen->x += key.width;
    key.y += column < pen->stagger_count ? pen->stagger[column] : 0;
    turn_key(pen, &key);
    g_array_append_val(reading->places, key);
}

/* address=KNOB: the key is that knob's switch. =KNOB alone: a knob without one. */
static void place_knob(struct reading *reading, struct pen *pen, const struct uvk_node *node)
{
    struct uvk_node name = {
        .kind = UVK_NODE_NAME, .place = uvk_last_word(node), .text = node->text};
    int index = want_knob(reading, &name);
    struct uvk_knob *knob = index >= 0 ? &reading->board->knobs[index] : NULL;
    guint before = reading->places->len;

    if (knob != NULL && (knob->placed || knob->half != pen->half)) {
        uvk_say(reading->messages, knob->placed ? UVK_SAYS_TWICE : UVK_SAYS_OUTSIDE_MATRIX,
                node->place, NULL,
                knob->placed ? "the knob '%s' has its place already"
                             : "the knob '%s' is on the other half",
                knob->name);
        knob = NULL;
    }
    if (node->child != NULL) {
        place_key(reading, pen, node->child);
    }
    if (knob == NULL || (node->child != NULL && reading->places->len == before)) {
        return;
    }
    knob->placed = true;
    knob->hand = part_of_line(pen->bars);
    pen->knobs[pen->knob_count++] = knob;
    if (node->child != NULL) {
        const struct uvk_key_place *key =
            &g_array_index(reading->places, struct uvk_key_place, before);
        knob->push = (int)before;
        knob->x = key->x + (key->width - 1) / 2;
        knob->y = key->y + (key->height - 1) / 2;
    } else {
        struct uvk_key_place place = {.x = pen->x, .y = pen->y, .width = 1, .height = 1};
        turn_key(pen, &place);
        knob->x = place.x;
        knob->y = place.y;
        pen->x += 1;
    }
}

static void read_key_item(struct reading *reading, struct pen *pen,
                          const struct uvk_node *node);

/* (enter=ansi: places): only what the keymap chose is there. */
static void read_chosen(struct reading *reading, struct pen *pen, const struct uvk_node *node)
{
    const struct uvk_choice *choice = choice_named(reading->board, node->text);
    int option;

    if (choice == NULL) {
        no_such_choice(reading, node->place, node->text);
        return;
    }
    if (choice->option_count < 2) {
        return; /* that has been told */
    }
    option = want_option(reading, choice, node->child);
    reading->keys_unknown |= option < 0;
    if (option < 0 || (unsigned)option != choice->chosen) {
        return;
    }
    for (const struct uvk_node *at = node->child->next; at != NULL; at = at->next) {
        read_key_item(reading, pen, at);
    }
}

/* +G */
static void read_gap_item(struct reading *reading, struct pen *pen, const struct uvk_node *node)
{
    if (node->number < -PLACE_MAX || node->number > PLACE_MAX) {
        uvk_say(reading->messages, UVK_SAYS_OUT_OF_RANGE, node->place, NULL,
                "a gap is from %g to %g, this is %.12g", -PLACE_MAX, PLACE_MAX, node->number);
        reading->places_unknown = true;
        return;
    }
    pen->x += node->number;
}

static void read_key_item(struct reading *reading, struct pen *pen, const struct uvk_node *node)
{
    switch (node->kind) {
    case UVK_NODE_GAP:
        read_gap_item(reading, pen, node);
        break;
    case UVK_NODE_PUSH:
        place_knob(reading, pen, node);
        break;
    case UVK_NODE_BAR:
        read_bar(reading, pen, node);
        break;
    case UVK_NODE_CHOICE:
        read_chosen(reading, pen, node);
        break;
    default:
        place_key(reading, pen, node);
        break;
    }
}

/* at X Y: the next line starts there. */
static void move_pen(struct reading *reading, struct pen *pen, const struct uvk_node *statement)
{
    const struct uvk_node *x = want(reading, statement, 1, UVK_NODE_NUMBER, "X and Y");
    const struct uvk_node *y = x ? want(reading, statement, 2, UVK_NODE_NUMBER, "Y") : NULL;

    if (want_number(reading, x, -PLACE_MAX, PLACE_MAX, "a place", &pen->x) &&
        want_number(reading, y, -PLACE_MAX, PLACE_MAX, "a place", &pen->y)) {
        want_end(reading, statement, 3);
    }
}

/* turn DEG: the lines that follow are turned about the pen. */
static void turn_pen(struct reading *reading, struct pen *pen, const struct uvk_node *statement)
{
    if (want_number(reading, want(reading, statement, 1, UVK_NODE_NUMBER, "degrees"), -360, 360,
                    "a turn", &pen->turn)) {
        pen->about_x = pen->x;
        pen->about_y = pen->y;
        want_end(reading, statement, 2);
    }
}

/* stagger d0 d1 ...: how much lower each column is, from the next line on. */
static void stagger_pen(struct reading *reading, struct pen *pen,
                        const struct uvk_node *statement)
{
    pen->stagger_count = 0;
    for (const struct uvk_node *node = item(statement, 1); node != NULL; node = node->next) {
        double offset;
        if (pen->stagger_count == UVK_SIDE_MAX || node->kind != UVK_NODE_NUMBER) {
            uvk_say(reading->messages, UVK_SAYS_EXPECTED, node->place, NULL,
                    "expected how much lower each column is, in key units");
            return;
        }
        if (!want_number(reading, node, -10, 10, "an offset", &offset)) {
            return;
        }
        pen->stagger[pen->stagger_count++] = offset;
    }
}

static const struct {
    const char *word;
    void (*move)(struct reading *, struct pen *, const struct uvk_node *statement);
} moves[] = {{"at", move_pen}, {"turn", turn_pen}, {"stagger", stagger_pen}};

/* A line of cells, or a line that moves the pen. */
static void read_key_line(struct reading *reading, struct pen *pen,
                          const struct uvk_node *statement)
{
    const char *word = keyword(statement);

    for (size_t i = 0; word != NULL && i < G_N_ELEMENTS(moves); i++) {
        if (strcmp(word, moves[i].word) == 0) {
            unsigned before = reading->messages->errors;
            moves[i].move(reading, pen, statement);
            reading->places_unknown |= reading->messages->errors > before;
            return;
        }
    }
    pen->first = reading->places->len;
    pen->bars = 0;
    pen->knob_count = 0;
    for (const struct uvk_node *node = statement->child; node != NULL; node = node->next) {
        read_key_item(reading, pen, node);
    }
    tell_hands(reading, pen);
    pen->x = 0;
    pen->y += 1;
    pen->column = 0;
    pen->line++;
}

static bool half_has_keys(const struct reading *reading, unsigned half)
{
    for (guint i = 0; i < reading->places->len; i++) {
        if (g_array_index(reading->places, struct uvk_key_place, i).half == half) {
            return true;
        }
    }
    return false;
}

/* gap G: how far the second half is from the first. Turned keys may reach into each other's
 * columns. The index of the item behind it; 0: it has a mistake. */
static unsigned read_gap(struct reading *reading, const struct uvk_node *statement,
                         unsigned index)
{
    static const char *const gap[] = {"gap", NULL};
    const struct uvk_node *word = item(statement, index);

    if (word == NULL || word->kind == UVK_NODE_BLOCK) {
        return index;
    }
    if (want_word(reading, word, UVK_SAYS_EXPECTED, gap, "word here") < 0 ||
        !want_number(reading, want(reading, statement, index + 1, UVK_NODE_NUMBER, "key units"),
                     -20, 50, "a gap", &reading->gap)) {
        return 0;
    }
    return index + 2;
}

/* keys RIGHT mirror LEFT gap 3 */
static void mirror_keys(struct reading *reading, const struct uvk_node *statement,
                        unsigned half)
{
    const struct uvk_node *of = want(reading, statement, 3, UVK_NODE_NAME, "the other half");
    int from = of != NULL ? want_half(reading, of) : -1;
    unsigned next;

    if (from < 0) {
        reading->places_unknown = reading->keys_unknown = true;
        return;
    }
    if ((unsigned)from == half) {
        reading->places_unknown = reading->keys_unknown = true;
        uvk_say(reading->messages, UVK_SAYS_NO_HALF, of->place, NULL,
                "a half is no mirror of itself");
        return;
    }
    reading->mirrored = true;
    reading->mirror_place = statement->child->place;
    next = read_gap(reading, statement, 4);
    if (next > 0) {
        want_end(reading, statement, next);
    }
}

void read_keys(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    const struct uvk_node *second = item(statement, 2);
    const struct uvk_node *block;
    struct which_halves which;

    (void)subject;
    if (!want_halves(reading, statement, 1, &which)) {
        reading->places_unknown = reading->keys_unknown = true;
        return;
    }
    for (unsigned half = which.first; half <= which.last; half++) {
        if (half_has_keys(reading, half) || (half == 1 && reading->mirrored)) {
            uvk_say(reading->messages, UVK_SAYS_TWICE, statement->child->place, NULL,
                    "these keys have their places already");
            return;
        }
    }
    if (second != NULL && second->kind == UVK_NODE_NAME &&
        strcmp(second->text, "mirror") == 0) {
        mirror_keys(reading, statement, which.first);
        return;
    }
    if (which.first == 1) { /* it is the second one that is put beside the first */
        which.next = read_gap(reading, statement, which.next);
    }
    if (which.next > 0) { /* else the gap has had its message */
        want_end(reading, statement, which.next);
    }
    block = want_block(reading, statement);
    if (block != NULL && block->child == NULL) {
        uvk_say(reading->messages, UVK_SAYS_MISSING, statement->child->place, NULL,
                "this board has no keys");
    }
    for (unsigned half = which.first; block != NULL && half <= which.last; half++) {
        struct pen pen = {.half = half};
        for (const struct uvk_node *at = block->child; at != NULL; at = at->next) {
            if (at->kind != UVK_NODE_BROKEN) {
                read_key_line(reading, &pen, at);
            }
        }
        reading->board->line_count = MAX(reading->board->line_count, pen.line);
    }
}
