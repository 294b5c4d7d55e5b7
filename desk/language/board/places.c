/* places.c - from keys as they were read to the board as a whole: halves side by side, the
 * order of the eye, and what cannot be. */
#include "reading.h"

#include <math.h>
#include <string.h>

#define BOARD_MAX 500u /* key units: pictures end somewhere */

#define TOUCH 0.02 /* key units that keys may overlap: turned ones are drawn by hand */

void uvk_key_corners(const struct uvk_key_place *key, struct uvk_point corners[4])
{
    static const double signs[4][2] = {{-1, -1}, {1, -1}, {1, 1}, {-1, 1}};
    double angle = key->turn * G_PI / 180;
    double x = key->x + key->width / 2;
    double y = key->y + key->height / 2;

    for (unsigned i = 0; i < 4; i++) {
        double dx = signs[i][0] * key->width / 2;
        double dy = signs[i][1] * key->height / 2;
        corners[i].x = x + dx * cos(angle) - dy * sin(angle);
        corners[i].y = y + dx * sin(angle) + dy * cos(angle);
    }
}

static struct uvk_key_place *key_at(const struct reading *reading, guint index)
{
    return &g_array_index(reading->places, struct uvk_key_place, index);
}

/* ---- halves --------------------------------------------------------------------------- */

struct extent {
    double left, top, right, bottom;
};

static void include(struct extent *extent, const struct uvk_key_place *key)
{
    struct uvk_point corners[4];

    uvk_key_corners(key, corners);
    for (unsigned i = 0; i < 4; i++) {
        extent->left = MIN(extent->left, corners[i].x);
        extent->top = MIN(extent->top, corners[i].y);
        extent->right = MAX(extent->right, corners[i].x);
        extent->bottom = MAX(extent->bottom, corners[i].y);
    }
}

static struct uvk_key_place knob_place(const struct uvk_knob *knob)
{
    struct uvk_key_place place = {.x = knob->x, .y = knob->y, .width = 1, .height = 1};

    return place;
}

static struct extent extent_of(const struct reading *reading, unsigned half)
{
    struct extent extent = {1e9, 1e9, -1e9, -1e9};

    for (guint i = 0; i < reading->places->len; i++) {
        if (key_at(reading, i)->half == half) {
            include(&extent, key_at(reading, i));
        }
    }
    for (unsigned i = 0; i < reading->board->knob_count; i++) {
        if (reading->board->knobs[i].placed && reading->board->knobs[i].half == half) {
            struct uvk_key_place place = knob_place(&reading->board->knobs[i]);
            include(&extent, &place);
        }
    }
    return extent;
}

/* The second half is the first one seen in a mirror: each line backwards. */
static void mirror(struct reading *reading)
{
    struct extent extent = extent_of(reading, 0);
    double axis = extent.right + reading->gap / 2;
    guint count = reading->places->len;
    bool good = true; /* the first one that is not wired is told for all */

    for (guint i = count; i-- > 0;) {
        struct uvk_key_place key = *key_at(reading, i);
        if (key.half != 0) {
            continue;
        }
        key.half = 1;
        key.x = 2 * axis - key.x - key.width;
        key.turn = -key.turn;
        good = good && check_wiring(reading, reading->mirror_place, &key);
        g_array_append_val(reading->places, key);
    }
}

/* A second half with places of its own begins to the right of the first. */
static void move_second(struct reading *reading)
{
    struct extent first = extent_of(reading, 0);
    struct extent second = extent_of(reading, 1);
    double by = first.right + reading->gap - second.left;

    for (guint i = 0; i < reading->places->len; i++) {
        if (key_at(reading, i)->half == 1) {
            key_at(reading, i)->x += by;
        }
    }
    for (unsigned i = 0; i < reading->board->knob_count; i++) {
        if (reading->board->knobs[i].half == 1) {
            reading->board->knobs[i].x += by;
        }
    }
}

/* Nothing lies left of 0 or above it. */
static void move_to_origin(struct reading *reading)
{
    struct uvk_board *board = reading->board;
    struct extent all = extent_of(reading, 0);

    if (board->half_count > 1) {
        struct extent second = extent_of(reading, 1);
        all = (struct extent){MIN(all.left, second.left), MIN(all.top, second.top),
                              MAX(all.right, second.right), MAX(all.bottom, second.bottom)};
    }
    for (guint i = 0; i < reading->places->len; i++) {
        key_at(reading, i)->x -= MIN(all.left, 0);
        key_at(reading, i)->y -= MIN(all.top, 0);
    }
    for (unsigned i = 0; i < board->knob_count; i++) {
        board->knobs[i].x -= MIN(all.left, 0);
        board->knobs[i].y -= MIN(all.top, 0);
    }
    board->width = all.right - MIN(all.left, 0);
    board->height = all.bottom - MIN(all.top, 0);
}

/* ---- the order of a layer's cells ------------------------------------------------------- */

/* The first line of every half, then the second line, and so on. */
static void order_keys(struct reading *reading)
{
    struct uvk_board *board = reading->board;
    int *moved = g_new(int, reading->places->len + 1);

    board->keys =
        uvk_arena_take(reading->arena, (reading->places->len + 1) * sizeof *board->keys);
    for (unsigned line = 0; line < board->line_count; line++) {
        for (unsigned half = 0; half < board->half_count; half++) {
            for (guint i = 0; i < reading->places->len; i++) {
                if (key_at(reading, i)->line == line && key_at(reading, i)->half == half) {
                    moved[i] = (int)board->key_count;
                    board->keys[board->key_count++] = *key_at(reading, i);
                }
            }
        }
    }
    for (unsigned i = 0; i < board->knob_count; i++) {
        if (board->knobs[i].push >= 0) {
            board->knobs[i].push = moved[board->knobs[i].push];
        }
    }
    g_free(moved);
}

/* ---- what cannot be ---------------------------------------------------------------------- */

/* Do A and B lie apart along one of A's sides? */
static bool apart_along(const struct uvk_point *a, const struct uvk_point *b)
{
    for (unsigned side = 0; side < 2; side++) {
        double x = a[side + 1].x - a[side].x;
        double y = a[side + 1].y - a[side].y;
        double length = sqrt(x * x + y * y);
        double start = a[side].x * x + a[side].y * y;
        double least = 1e9;
        double most = -1e9;
        for (unsigned i = 0; i < 4; i++) {
            double at = (b[i].x * x + b[i].y * y - start) / length;
            least = MIN(least, at);
            most = MAX(most, at);
        }
        if (least > length - TOUCH || most < TOUCH) {
            return true;
        }
    }
    return false;
}

static bool overlap(const struct uvk_key_place *a, const struct uvk_key_place *b)
{
    struct uvk_point one[4];
    struct uvk_point two[4];

    uvk_key_corners(a, one);
    uvk_key_corners(b, two);
    return !apart_along(one, two) && !apart_along(two, one);
}

/* The first key that KEY lies over, -1: none. */
static int lies_over(const struct uvk_board *board, unsigned key)
{
    for (unsigned other = 0; other < key; other++) {
        if (overlap(&board->keys[key], &board->keys[other])) {
            return (int)other;
        }
    }
    return -1;
}

/* Of a line of a half the first one is told: the others lie wrong with it. */
static void check_overlaps(struct reading *reading)
{
    const struct uvk_board *board = reading->board;
    const struct uvk_key_place *told = NULL;

    for (unsigned i = 0; i < board->key_count && !reading->places_unknown; i++) {
        const struct uvk_key_place *key = &board->keys[i];
        int over = lies_over(board, i);
        if (over >= 0 && (told == NULL || told->line != key->line || told->half != key->half)) {
            char *other = uvk_cell_place(board, (unsigned)over);
            uvk_say_other(uvk_say(reading->messages, UVK_SAYS_OVERLAP, key->place, NULL,
                                  "this key lies over %s", other),
                          board->keys[over].place);
            g_free(other);
            told = key;
        }
    }
}

/* Keys, and two for each knob, share their numbers. */
static void check_total(struct reading *reading, struct uvk_place place)
{
    const struct uvk_board *board = reading->board;

    if (uvk_board_cells(board) > UVK_KEYS_MAX) {
        uvk_say(reading->messages, UVK_SAYS_NO_ROOM, place, NULL,
                "%u keys and %u knobs; a board has at most %u, a knob counting as two keys",
                board->key_count, board->knob_count, UVK_KEYS_MAX);
    }
    for (unsigned i = 0; i < board->knob_count; i++) {
        if (!board->knobs[i].placed && !reading->knobs_unknown && !reading->places_unknown) {
            uvk_say(reading->messages, UVK_SAYS_MISSING, board->knobs[i].place,
                    "write =NAME behind the address of its switch, or alone",
                    "the knob '%s' has no place among the keys", board->knobs[i].name);
        }
    }
    if (MAX(board->width, board->height) > BOARD_MAX) {
        uvk_say(reading->messages, UVK_SAYS_OUT_OF_RANGE, place, NULL,
                "a board is at most %u key units wide and high, this one is %.4g by %.4g",
                BOARD_MAX, board->width, board->height);
    }
    if (board->key_count == 0 && board->knob_count > 0 && !reading->places_unknown &&
        !reading->knobs_unknown) {
        uvk_say(reading->messages, UVK_SAYS_MISSING, place, NULL,
                "this board has knobs but no key: it needs at least one");
    }
    for (unsigned half = 0; half < board->half_count; half++) {
        bool any = false;
        for (unsigned i = 0; i < board->key_count; i++) {
            any |= board->keys[i].half == half;
        }
        if (!any && board->half_count > 1 && board->key_count > 0 && !reading->places_unknown) {
            uvk_say(reading->messages, UVK_SAYS_MISSING, board->halves[half].place,
                    "keys NAME { ... }, or keys NAME mirror OTHER", "the half '%s' has no keys",
                    board->halves[half].name);
        }
    }
}

static bool has_key(const struct uvk_board *board, unsigned half, unsigned row, unsigned col)
{
    for (unsigned i = 0; i < board->key_count; i++) {
        const struct uvk_key_place *key = &board->keys[i];
        if (key->half == half && !key->direct && key->row == row && key->col == col) {
            return true;
        }
    }
    return false;
}

/* Three keys on the corners of a rectangle make the fourth appear. */
static unsigned count_ghosts(const struct uvk_board *board, unsigned half, char **example)
{
    const struct uvk_half *wires = &board->halves[half];
    unsigned ghosts = 0;

    for (unsigned row = 0; row < wires->row_count; row++) {
        for (unsigned col = 0; col < wires->col_count; col++) {
            bool found = false;
            for (unsigned r = 0; r < wires->row_count && !found; r++) {
                for (unsigned c = 0; c < wires->col_count && !found; c++) {
                    found = r != row && c != col && has_key(board, half, row, col) &&
                            has_key(board, half, r, c) && has_key(board, half, row, c) &&
                            has_key(board, half, r, col);
                    if (found && *example == NULL) {
                        *example = g_strdup_printf("r%uc%u, r%uc%u and r%uc%u together press "
                                                   "r%uc%u as well",
                                                   row, c, r, c, r, col, row, col);
                    }
                }
            }
            ghosts += found;
        }
    }
    return ghosts;
}

static void warn_of_ghosts(struct reading *reading, unsigned half)
{
    const struct uvk_half *wires = &reading->board->halves[half];
    char *example = NULL;
    unsigned ghosts;

    if (wires->flow != UVK_NO_DIODES || wires->row_count == 0) {
        return;
    }
    ghosts = count_ghosts(reading->board, half, &example);
    if (ghosts > 0) {
        uvk_say(reading->messages, UVK_SAYS_GHOSTS, wires->flow_place,
                "give each switch a diode",
                "without diodes %u keys can appear that nobody pressed: %s", ghosts, example);
    }
    g_free(example);
}

/* The halves of a split board are its hands. */
static void halves_are_hands(struct reading *reading)
{
    struct uvk_board *board = reading->board;

    board->has_hands = true;
    for (guint i = 0; i < reading->places->len; i++) {
        key_at(reading, i)->hand =
            key_at(reading, i)->half == 0 ? UVK_FIRST_HAND : UVK_SECOND_HAND;
    }
    for (unsigned i = 0; i < board->knob_count; i++) {
        board->knobs[i].hand = board->knobs[i].half == 0 ? UVK_FIRST_HAND : UVK_SECOND_HAND;
    }
}

void finish_keys(struct reading *reading, struct uvk_place place)
{
    struct uvk_board *board = reading->board;

    if (reading->mirrored) {
        mirror(reading);
    } else if (board->half_count > 1 && reading->places->len > 0) {
        move_second(reading);
    }
    if (reading->places->len > 0) {
        move_to_origin(reading);
    }
    if (board->half_count > 1) {
        halves_are_hands(reading);
    }
    order_keys(reading);
    check_total(reading, place);
    check_overlaps(reading);
    for (unsigned half = 0; half < board->half_count && reading->messages->errors == 0;
         half++) {
        warn_of_ghosts(reading, half);
    }
}

unsigned uvk_board_cells(const struct uvk_board *board)
{
    return board->key_count + 2 * board->knob_count;
}
