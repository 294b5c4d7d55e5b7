/* wires.c - the wires of a board, by name and by pin, and which keys hang on them. */
#include "uvrek/board.h"

#include <string.h>

static const struct {
    char letter;
    const char *title;
} sides[UVK_WIRE_SIDES] = {[UVK_WIRE_ROW] = {'r', "row"},
                           [UVK_WIRE_COL] = {'c', "column"},
                           [UVK_WIRE_DIRECT] = {'d', "wire"}};

unsigned uvk_wire_count(const struct uvk_half *half, enum uvk_wire_side side)
{
    return side == UVK_WIRE_ROW   ? half->row_count
           : side == UVK_WIRE_COL ? half->col_count
                                  : half->direct_count;
}

static const struct uvk_pin *const *pins_of(const struct uvk_half *half,
                                            enum uvk_wire_side side)
{
    return side == UVK_WIRE_ROW ? half->rows : side == UVK_WIRE_COL ? half->cols : half->direct;
}

struct uvk_place uvk_wire_place(const struct uvk_board *board, const struct uvk_wire *wire)
{
    const struct uvk_half *half = &board->halves[wire->half];

    return (wire->side == UVK_WIRE_ROW   ? half->row_places
            : wire->side == UVK_WIRE_COL ? half->col_places
                                         : half->direct_places)[wire->index];
}

const struct uvk_pin *uvk_wire_pin(const struct uvk_board *board, const struct uvk_wire *wire)
{
    return pins_of(&board->halves[wire->half], wire->side)[wire->index];
}

char *uvk_wire_name(const struct uvk_board *board, const struct uvk_wire *wire)
{
    const char *half = board->half_count > 1 ? board->halves[wire->half].name : "";

    return g_strdup_printf("%s%s%c%u", half, half[0] != '\0' ? "." : "",
                           sides[wire->side].letter, wire->index);
}

char *uvk_wire_text(const struct uvk_board *board, const struct uvk_wire *wire)
{
    char *name = uvk_wire_name(board, wire);
    char *text = g_strdup_printf("%s %s (%s)", sides[wire->side].title, name,
                                 uvk_pin_label(board, uvk_wire_pin(board, wire)));

    g_free(name);
    return text;
}

bool uvk_key_wire(const struct uvk_board *board, unsigned key, enum uvk_wire_side side,
                  struct uvk_wire *wire)
{
    const struct uvk_key_place *place = &board->keys[key];

    *wire =
        (struct uvk_wire){place->half, side, side == UVK_WIRE_ROW ? place->row : place->col};
    return place->direct == (side == UVK_WIRE_DIRECT);
}

char *uvk_key_wires_text(const struct uvk_board *board, unsigned key)
{
    GString *out = g_string_new(NULL);
    struct uvk_wire wire;

    for (enum uvk_wire_side side = UVK_WIRE_ROW; side < UVK_WIRE_SIDES; side++) {
        if (uvk_key_wire(board, key, side, &wire)) {
            char *text = uvk_wire_text(board, &wire);
            g_string_append_printf(out, "%s%s", out->len > 0 ? " and " : "", text);
            g_free(text);
        }
    }
    return g_string_free(out, FALSE);
}

bool uvk_wire_has_key(const struct uvk_board *board, const struct uvk_wire *wire, unsigned key)
{
    struct uvk_wire own;

    return uvk_key_wire(board, key, wire->side, &own) && uvk_same_wire(&own, wire);
}

bool uvk_same_wire(const struct uvk_wire *a, const struct uvk_wire *b)
{
    return a->half == b->half && a->side == b->side && a->index == b->index;
}

/* ---- by name ----------------------------------------------------------------------------- */

/* r0, c3, d2. */
static bool is_numbered(const char *name, const struct uvk_wire *wire)
{
    char *end;

    return name[0] == sides[wire->side].letter && g_ascii_isdigit(name[1]) &&
           g_ascii_strtoull(name + 1, &end, 10) == wire->index && *end == '\0';
}

static bool is_called(const struct uvk_board *board, const char *name,
                      const struct uvk_wire *wire)
{
    const struct uvk_pin *pin = uvk_wire_pin(board, wire);

    return is_numbered(name, wire) || strcmp(pin->name, name) == 0 ||
           strcmp(uvk_pin_label(board, pin), name) == 0;
}

/* NAME behind "left."; NULL: it is not of that half. */
static const char *name_in(const struct uvk_board *board, unsigned half, const char *name)
{
    const char *own = board->halves[half].name;
    size_t size = strlen(own);

    if (board->half_count < 2) {
        return name;
    }
    return strncmp(name, own, size) == 0 && name[size] == '.' ? name + size + 1 : NULL;
}

static bool find_in_half(const struct uvk_board *board, unsigned half, const char *name,
                         struct uvk_wire *wire)
{
    wire->half = half;
    for (wire->side = UVK_WIRE_ROW; wire->side < UVK_WIRE_SIDES; wire->side++) {
        unsigned count = uvk_wire_count(&board->halves[half], wire->side);
        for (wire->index = 0; wire->index < count; wire->index++) {
            if (is_called(board, name, wire)) {
                return true;
            }
        }
    }
    return false;
}

bool uvk_wire_named(const struct uvk_board *board, const char *name, struct uvk_wire *wire)
{
    for (unsigned half = 0; half < board->half_count; half++) {
        const char *inside = name_in(board, half, name);
        if (inside != NULL && find_in_half(board, half, inside, wire)) {
            return true;
        }
    }
    return false;
}
