/* pins.c - pins, the names that are printed on a module, and what uses them. */
#include "reading.h"

#include <string.h>

#define PIN_NAMES_MAX 64u

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

/* The one of PLACES that belongs to PIN among PINS. */
static struct uvk_place place_among(const struct uvk_pin *const *pins,
                                    const struct uvk_place *places, unsigned count,
                                    const struct uvk_pin *pin)
{
    for (unsigned i = 0; i < count; i++) {
        if (pins[i] == pin) {
            return places[i];
        }
    }
    return (struct uvk_place){NULL, 0, 0};
}

/* Where the text uses PIN for a wire or a knob of HALF. */
static struct uvk_place place_in_half(const struct uvk_board *board, unsigned half,
                                      const struct uvk_pin *pin)
{
    const struct uvk_half *wires = &board->halves[half];
    struct uvk_place place = place_among(wires->rows, wires->row_places, wires->row_count, pin);

    if (place.source == NULL) {
        place = place_among(wires->cols, wires->col_places, wires->col_count, pin);
    }
    if (place.source == NULL) {
        place = place_among(wires->direct, wires->direct_places, wires->direct_count, pin);
    }
    for (unsigned i = 0; i < board->knob_count && place.source == NULL; i++) {
        const struct uvk_knob *knob = &board->knobs[i];
        if (knob->half == half) {
            place = place_among(knob->pins, knob->pin_places, 2, pin);
        }
    }
    return place;
}

/* The same of the controller that HALF is on; elsewhere the message says enough. */
static struct uvk_place place_of_use(const struct uvk_board *board, unsigned half,
                                     const struct uvk_pin *pin)
{
    struct uvk_place place = {NULL, 0, 0};

    for (unsigned i = 0; i < board->half_count && place.source == NULL; i++) {
        if (i == half || uvk_one_controller(board)) {
            place = place_in_half(board, i, pin);
        }
    }
    return place;
}

static bool is_lamp(const struct uvk_board *board, const struct uvk_pin *pin)
{
    for (unsigned i = 0; i < board->lamp_count; i++) {
        if (board->lamps[i].pin == pin) {
            return true;
        }
    }
    return false;
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
           : is_lamp(board, pin)                                     ? "a lamp"
                                                                     : NULL;
}

bool uvk_board_lights_up(const struct uvk_board *board)
{
    return board->backlight.place.source != NULL || board->strip.place.source != NULL;
}

unsigned uvk_board_strips(const struct uvk_board *board)
{
    return board->strip.place.source == NULL ? 0 : uvk_one_controller(board) ? 1 : 2;
}

bool uvk_one_controller(const struct uvk_board *board)
{
    return board->link.place.source == NULL;
}

/* What a pin is on one half, it is on the other, or nothing. */
bool uvk_halves_alike(const struct uvk_board *board)
{
    const struct uvk_half *halves = board->halves;

    for (size_t i = 0; i < board->chip->pin_count; i++) {
        const char *first = wire_use(board, 0, &board->chip->pins[i]);
        const char *second = wire_use(board, 1, &board->chip->pins[i]);
        if (first != NULL && second != NULL && strcmp(first, second) != 0) {
            return false;
        }
    }
    return halves[0].flow == halves[1].flow && halves[0].to_power == halves[1].to_power;
}

bool uvk_halves_by_host(const struct uvk_board *board)
{
    return (board->main == UVK_MAIN_FIRST || board->main == UVK_MAIN_SECOND) &&
           uvk_halves_alike(board);
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

const struct uvk_pin *take_pin(struct reading *reading, unsigned half, bool for_both,
                               const struct uvk_node *node)
{
    const struct uvk_pin *pin = find_pin(reading, node);
    const char *use = pin != NULL ? uvk_pin_use(reading->board, half, pin) : NULL;

    if (use != NULL && half > 0 && for_both && uvk_one_controller(reading->board)) {
        tell_link_missing(reading, node, pin);
    } else if (use != NULL) {
        uvk_say_other(uvk_say(reading->messages, UVK_SAYS_PIN_TWICE, node->place, NULL,
                              "pin %s is used already: %s", pin->name, use),
                      place_of_use(reading->board, half, pin));
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
void read_pin_names(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    struct uvk_board *board = reading->board;
    const struct uvk_node *node = item(statement, 1);

    (void)subject;
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
