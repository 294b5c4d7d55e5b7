/* same.c - do actions of two images do the same? Desk side. */
#include "uvrek/fit.h"

#include "layout.h"

/* Deeper than that, no keyboard goes into what an action is made of. */
#define DEPTH_MOST 32u

struct pair {
    const struct uvk_image *a, *b;
};

static bool same_word(const struct pair *pair, uvk_action one, uvk_action other,
                      unsigned depth);

bool uvk_same_feel(const struct uvk_feel *one, const struct uvk_feel *other)
{
    return one->hold_after == other->hold_after && one->rest == other->rest &&
           one->again == other->again && one->flags == other->flags;
}

static bool same_chord(const struct pair *pair, uint16_t one, uint16_t other, unsigned depth)
{
    uint8_t mods_a;
    uint8_t mods_b;
    uvk_action a = uvk_image_chord(pair->a, one, &mods_a);
    uvk_action b = uvk_image_chord(pair->b, other, &mods_b);

    return mods_a == mods_b && same_word(pair, a, b, depth);
}

static bool same_hold(const struct pair *pair, uint16_t one, uint16_t other, unsigned depth)
{
    struct uvk_tap_hold a;
    struct uvk_tap_hold b;
    struct uvk_feel feel_a;
    struct uvk_feel feel_b;

    uvk_image_hold(pair->a, one, &a);
    uvk_image_hold(pair->b, other, &b);
    uvk_image_feel(pair->a, a.feel, &feel_a);
    uvk_image_feel(pair->b, b.feel, &feel_b);
    return uvk_same_feel(&feel_a, &feel_b) && same_word(pair, a.tap, b.tap, depth) &&
           same_word(pair, a.held, b.held, depth);
}

static bool same_dance(const struct pair *pair, uint16_t one, uint16_t other, unsigned depth)
{
    struct uvk_dance a;
    struct uvk_dance b;

    uvk_image_dance(pair->a, one, &a);
    uvk_image_dance(pair->b, other, &b);
    if (a.within != b.within || a.taps != b.taps) {
        return false;
    }
    for (unsigned i = 0; i < 2u * a.taps; i++) {
        if (!same_word(pair, uvk_image_line(pair->a, (uint16_t)(a.first + i)),
                       uvk_image_line(pair->b, (uint16_t)(b.first + i)), depth)) {
            return false;
        }
    }
    return true;
}

/* Bytes of a text, its end included. */
static unsigned text_length(const struct uvk_image *image, uint16_t row)
{
    unsigned length = 0;

    for (;;) {
        uint8_t byte = uvk_image_text(image, (uint16_t)(row + length));
        length += byte == UVK_TEXT_MODS ? 3u : byte == UVK_TEXT_KEEP ? 2u : 1u;
        if (byte == UVK_TEXT_END) {
            return length;
        }
    }
}

static bool same_text(const struct pair *pair, uint16_t one, uint16_t other)
{
    unsigned length = text_length(pair->a, one);

    if (length != text_length(pair->b, other)) {
        return false;
    }
    for (unsigned i = 0; i < length; i++) {
        if (uvk_image_text(pair->a, (uint16_t)(one + i)) !=
            uvk_image_text(pair->b, (uint16_t)(other + i))) {
            return false;
        }
    }
    return true;
}

static bool same_macro(const struct pair *pair, uint16_t one, uint16_t other, unsigned depth);

static bool same_step(const struct pair *pair, const struct uvk_macro_step *a,
                      const struct uvk_macro_step *b, unsigned depth)
{
    if (a->op != b->op) {
        return false;
    }
    switch (a->op) {
    case UVK_OP_PRESS:
    case UVK_OP_RELEASE:
        return same_word(pair, a->operand, b->operand, depth);
    case UVK_OP_TYPE:
        return same_text(pair, a->operand, b->operand);
    case UVK_OP_RELEASE_PART:
        return same_macro(pair, a->operand, b->operand, depth);
    default:
        return a->operand == b->operand;
    }
}

static bool same_macro(const struct pair *pair, uint16_t one, uint16_t other, unsigned depth)
{
    struct uvk_macro_step a;

    if (depth == 0) {
        return false;
    }
    do {
        struct uvk_macro_step b = uvk_image_step(pair->b, other++);
        a = uvk_image_step(pair->a, one++);
        if (!same_step(pair, &a, &b, depth - 1)) {
            return false;
        }
    } while (a.op != UVK_OP_END);
    return true;
}

static bool same_word(const struct pair *pair, uvk_action one, uvk_action other, unsigned depth)
{
    uint16_t a = uvk_action_value(one);
    uint16_t b = uvk_action_value(other);
    bool dances = uvk_action_is_dance(one);

    if (depth == 0 || uvk_action_kind(one) != uvk_action_kind(other) ||
        dances != uvk_action_is_dance(other)) {
        return false;
    }
    depth--;
    switch (one == UVK_SEE_THROUGH ? UVK_MODS : uvk_action_kind(one)) {
    case UVK_CHORD:
        return same_chord(pair, a, b, depth);
    case UVK_HOLD:
        return dances ? same_dance(pair, uvk_action_row(one), uvk_action_row(other), depth)
                      : same_hold(pair, uvk_action_row(one), uvk_action_row(other), depth);
    case UVK_MACRO:
        return same_macro(pair, a, b, depth);
    default:
        return one == other;
    }
}

bool uvk_same_action(const struct uvk_image *a, uvk_action one, const struct uvk_image *b,
                     uvk_action other)
{
    const struct pair pair = {a, b};

    return same_word(&pair, one, other, DEPTH_MOST);
}

/* ---- images ----------------------------------------------------------------------------- */

static bool same_cells(const struct uvk_image *a, const struct uvk_image *b)
{
    for (unsigned layer = 0; layer < a->layers; layer++) {
        for (unsigned key = 0; key < a->keys; key++) {
            if (!uvk_same_action(a, uvk_image_cell(a, (uint8_t)layer, (uint8_t)key), b,
                                 uvk_image_cell(b, (uint8_t)layer, (uint8_t)key))) {
                return false;
            }
        }
    }
    return true;
}

static bool same_parts(const struct uvk_image *a, unsigned one, const struct uvk_image *b,
                       unsigned other, unsigned count)
{
    for (unsigned i = 0; i < count; i++) {
        if (uvk_image_part(a, (uint16_t)(one + i)) !=
            uvk_image_part(b, (uint16_t)(other + i))) {
            return false;
        }
    }
    return true;
}

/* Keys, how many layers, those. */
static unsigned parts_of(const struct uvk_image *image, const struct uvk_combo *combo)
{
    return combo->keys + 1u + uvk_image_part(image, (uint16_t)(combo->first + combo->keys));
}

static bool same_combos(const struct uvk_image *a, const struct uvk_image *b)
{
    if (a->rows[UVK_TABLE_COMBOS] != b->rows[UVK_TABLE_COMBOS]) {
        return false;
    }
    for (unsigned row = 0; row < a->rows[UVK_TABLE_COMBOS]; row++) {
        struct uvk_combo one;
        struct uvk_combo other;
        unsigned parts;
        uvk_image_combo(a, (uint8_t)row, &one);
        uvk_image_combo(b, (uint8_t)row, &other);
        parts = parts_of(a, &one);
        if (one.within != other.within || one.flags != other.flags || one.keys != other.keys ||
            parts != parts_of(b, &other) || !same_parts(a, one.first, b, other.first, parts) ||
            !uvk_same_action(a, one.action, b, other.action)) {
            return false;
        }
    }
    return true;
}

static bool same_sequences(const struct uvk_image *a, const struct uvk_image *b)
{
    if (a->rows[UVK_TABLE_SEQUENCES] != b->rows[UVK_TABLE_SEQUENCES]) {
        return false;
    }
    for (unsigned row = 0; row < a->rows[UVK_TABLE_SEQUENCES]; row++) {
        struct uvk_sequence one;
        struct uvk_sequence other;
        uvk_image_sequence(a, (uint16_t)row, &one);
        uvk_image_sequence(b, (uint16_t)row, &other);
        if (one.keys != other.keys || !same_parts(a, one.first, b, other.first, one.keys) ||
            !uvk_same_action(a, one.action, b, other.action)) {
            return false;
        }
    }
    return true;
}

/* Rows without references: as they are. */
static bool same_rows(const struct uvk_image *a, const struct uvk_image *b, unsigned table)
{
    unsigned rows = a->rows[table];

    for (unsigned i = 0; i < rows * uvk_row_size[table] && rows == b->rows[table]; i++) {
        if (uvk_image_byte_at(a, (uint16_t)(a->table[table] + i)) !=
            uvk_image_byte_at(b, (uint16_t)(b->table[table] + i))) {
            return false;
        }
    }
    return rows == b->rows[table];
}

/* The first feel is everybody's, also of what is no tap-hold. An image without any needs none.
 */
static bool same_first_feel(const struct uvk_image *a, const struct uvk_image *b)
{
    struct uvk_feel one;
    struct uvk_feel other;

    if (a->rows[UVK_TABLE_FEELS] == 0 || b->rows[UVK_TABLE_FEELS] == 0) {
        return true;
    }
    uvk_image_feel(a, 0, &one);
    uvk_image_feel(b, 0, &other);
    return uvk_same_feel(&one, &other);
}

bool uvk_same_image(const struct uvk_image *a, const struct uvk_image *b)
{
    return a->keys == b->keys && a->layers == b->layers && a->lines == b->lines &&
           a->senses == b->senses && same_rows(a, b, UVK_TABLE_SETTINGS) &&
           same_rows(a, b, UVK_TABLE_WHENS) && same_rows(a, b, UVK_TABLE_SWITCHES) &&
           same_rows(a, b, UVK_TABLE_LIGHT) && same_rows(a, b, UVK_TABLE_COLOURS) &&
           same_rows(a, b, UVK_TABLE_LAMPS) && same_rows(a, b, UVK_TABLE_STRIP) &&
           same_rows(a, b, UVK_TABLE_KNOBS) && same_rows(a, b, UVK_TABLE_HANDS) &&
           same_first_feel(a, b) && same_cells(a, b) && same_combos(a, b) &&
           same_sequences(a, b);
}
