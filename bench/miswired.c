/* miswired.c - what the faults that were ordered do to the wires of a board. */
#include "rig.h"

#include <string.h>

static struct rig_end end_of(const struct uvk_wire *wire)
{
    static const enum rig_side sides[] = {
        [UVK_WIRE_ROW] = RIG_ROW, [UVK_WIRE_COL] = RIG_COL, [UVK_WIRE_DIRECT] = RIG_DIRECT};

    return (struct rig_end){wire->half, sides[wire->side], wire->index};
}

static bool same(const struct rig_end *a, const struct rig_end *b)
{
    return a->half == b->half && a->side == b->side && a->index == b->index;
}

/* Where the wire goes that should go to END. False: to no pin. */
static bool move_end(const struct uvk_wrong *wrong, struct rig_end *end)
{
    struct rig_end a = end_of(&wrong->a);
    struct rig_end b = end_of(&wrong->b);

    if (end->side >= RIG_GROUND) {
        return true;
    }
    if (wrong->kind == UVK_WRONG_SWAP && (same(end, &a) || same(end, &b))) {
        *end = same(end, &a) ? b : a;
    } else if (wrong->kind == UVK_WRONG_HALVES) {
        end->half = 1u - end->half;
    }
    return wrong->kind != UVK_WRONG_OPEN || !same(end, &a);
}

static enum uvk_diode other_way(enum uvk_diode diode)
{
    return diode == UVK_A_TO_B ? UVK_B_TO_A : diode == UVK_B_TO_A ? UVK_A_TO_B : diode;
}

/* As the file says. */
static struct rig_switch written(const struct uvk_board *board, unsigned key)
{
    const struct uvk_key_place *place = &board->keys[key];
    const struct uvk_half *half = &board->halves[place->half];
    struct rig_switch wires = {{place->half, RIG_ROW, place->row},
                               {place->half, RIG_COL, place->col},
                               half->flow == UVK_NO_DIODES    ? UVK_NO_DIODE
                               : half->flow == UVK_ROW_TO_COL ? UVK_A_TO_B
                                                              : UVK_B_TO_A};

    if (place->direct) {
        wires.a.side = RIG_DIRECT;
        wires.a.index = place->col;
        wires.b.side = half->to_power ? RIG_POWER : RIG_GROUND;
        wires.diode = UVK_NO_DIODE;
    }
    return wires;
}

struct rig_switch rig_switch(const struct uvk_board *board, unsigned key,
                             const struct uvk_rig_options *options)
{
    struct rig_switch wires = written(board, key);

    for (unsigned i = 0; i < options->wrong_count; i++) {
        const struct uvk_wrong *wrong = &options->wrongs[i];
        if (wrong->kind == UVK_WRONG_DIODES ||
            (wrong->kind == UVK_WRONG_DIODE && wrong->key == key)) {
            wires.diode = other_way(wires.diode);
        }
        if (wrong->kind == UVK_WRONG_BRIDGED) {
            wires.diode = UVK_NO_DIODE;
        }
        if (!move_end(wrong, &wires.a) || !move_end(wrong, &wires.b)) {
            wires.a.side = RIG_GROUND;
            wires.b.side = RIG_GROUND;
        }
    }
    return wires;
}

bool rig_knob_is_wrong(const struct uvk_rig_options *options, unsigned knob)
{
    bool is_wrong = false;

    for (unsigned i = 0; i < options->wrong_count; i++) {
        is_wrong ^= options->wrongs[i].kind == UVK_WRONG_KNOB && options->wrongs[i].key == knob;
    }
    return is_wrong;
}

enum uvk_wrong_kind rig_finger_fault(const struct uvk_rig_options *options, unsigned key)
{
    for (unsigned i = 0; i < options->wrong_count; i++) {
        const struct uvk_wrong *wrong = &options->wrongs[i];
        if (wrong->key == key &&
            (wrong->kind == UVK_WRONG_DEAD || wrong->kind == UVK_WRONG_STUCK ||
             wrong->kind == UVK_WRONG_CHATTER)) {
            return wrong->kind;
        }
    }
    return UVK_WRONGS;
}

bool rig_short(const struct uvk_rig_options *options, unsigned at, struct rig_end ends[2])
{
    const struct uvk_wrong *wrong = &options->wrongs[at];

    ends[0] = end_of(&wrong->a);
    ends[1] = end_of(&wrong->b);
    return wrong->kind == UVK_WRONG_SHORT;
}
