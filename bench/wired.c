/* wired.c - see wired.h. A part's net: of each of its halves rows, columns, direct switches;
 * two pins for each of its knobs; the pin that says which half it is; those of the cable to
 * the other half; ground; power. Contacts: its keys, then two for each of its knobs, then the
 * one that joins that pin to ground, then one for each two pins that are joined. */
#include "wired.h"

#include <string.h>

static bool has_half(const struct wired *wired, unsigned half)
{
    return wired->half < 0 || (unsigned)wired->half == half;
}

static bool has_half_pin(const struct wired *wired)
{
    return wired->half >= 0 && wired->board->main == UVK_MAIN_PIN;
}

static bool has_link(const struct wired *wired)
{
    return wired->half >= 0;
}

/* Is that pin to ground here? */
static bool is_strapped(const struct wired *wired, const struct uvk_rig_options *options)
{
    int strapped = uvk_wrong_is_among(options->wrongs, options->wrong_count, UVK_WRONG_STRAP);

    return has_half_pin(wired) && wired->half == strapped;
}

/* ---- numbers ---------------------------------------------------------------------------- */

static unsigned pins_of_half(const struct uvk_half *half)
{
    return half->row_count + half->col_count + half->direct_count;
}

static unsigned pin_of(const struct wired *wired, unsigned half, enum rig_side side,
                       unsigned index)
{
    const struct uvk_half *wires = &wired->board->halves[half];
    unsigned pin = side == RIG_ROW   ? 0
                   : side == RIG_COL ? wires->row_count
                                     : wires->row_count + wires->col_count;

    for (unsigned i = 0; i < half; i++) {
        pin += has_half(wired, i) ? pins_of_half(&wired->board->halves[i]) : 0;
    }
    return pin + index;
}

/* Behind the halves; KNOB may be one more than there are. */
static unsigned knob_pin(const struct wired *wired, unsigned knob)
{
    unsigned pin = pin_of(wired, wired->board->half_count, RIG_ROW, 0);

    for (unsigned i = 0; i < knob; i++) {
        pin += has_half(wired, wired->board->knobs[i].half) ? 2 : 0;
    }
    return pin;
}

static unsigned half_pin(const struct wired *wired)
{
    return knob_pin(wired, wired->board->knob_count);
}

static unsigned ground(const struct wired *wired)
{
    unsigned link = !has_link(wired) ? 0 : wired->board->link.one_wire ? 1 : 2;

    return half_pin(wired) + has_half_pin(wired) + link;
}

bool wired_contact(const struct wired *wired, unsigned contact, unsigned *index)
{
    const struct uvk_board *board = wired->board;
    unsigned at = 0;

    for (unsigned i = 0; i < board->key_count; i++) {
        bool here = has_half(wired, board->keys[i].half);
        if (i == contact) {
            *index = at;
            return here;
        }
        at += here;
    }
    for (unsigned i = 0; i < 2 * board->knob_count; i++) {
        bool here = has_half(wired, board->knobs[i / 2].half);
        if (board->key_count + i == contact) {
            *index = at;
            return here;
        }
        at += here;
    }
    return false;
}

/* ---- lines ------------------------------------------------------------------------------ */

struct telling {
    const struct wired *wired;
    const struct uvk_rig_options *options;
    wired_say *say;
    void *simulator;
};

static bool tell(const struct telling *telling, const char *format, ...) G_GNUC_PRINTF(2, 3);

static bool tell(const struct telling *telling, const char *format, ...)
{
    va_list arguments;
    char *line;
    bool good;

    va_start(arguments, format);
    line = g_strdup_vprintf(format, arguments);
    va_end(arguments);
    good = telling->say(telling->simulator, line);
    g_free(line);
    return good;
}

static void append_names(GString *out, const struct uvk_pin *const *pins, unsigned count)
{
    for (unsigned i = 0; i < count; i++) {
        g_string_append_printf(out, " %s", pins[i]->name);
    }
}

static bool tell_pins(const struct telling *telling)
{
    const struct wired *wired = telling->wired;
    const struct uvk_board *board = wired->board;
    GString *pins = g_string_new("pins");
    bool good;

    for (unsigned i = 0; i < board->half_count; i++) {
        const struct uvk_half *half = &board->halves[i];
        if (has_half(wired, i)) {
            append_names(pins, half->rows, half->row_count);
            append_names(pins, half->cols, half->col_count);
            append_names(pins, half->direct, half->direct_count);
        }
    }
    for (unsigned i = 0; i < board->knob_count; i++) {
        append_names(pins, board->knobs[i].pins, has_half(wired, board->knobs[i].half) ? 2 : 0);
    }
    append_names(pins, &board->main_pin, has_half_pin(wired) ? 1 : 0);
    if (has_link(wired)) {
        append_names(pins, &board->link.transmit, 1);
        append_names(pins, &board->link.receive, board->link.one_wire ? 0 : 1);
    }
    good = tell(telling, "%s", pins->str);
    g_string_free(pins, TRUE);
    return good;
}

static unsigned end_pin(const struct wired *wired, const struct rig_end *end)
{
    return end->side == RIG_POWER    ? ground(wired) + 1
           : end->side == RIG_GROUND ? ground(wired)
                                     : pin_of(wired, end->half, end->side, end->index);
}

static bool tell_key(const struct telling *telling, unsigned key)
{
    const struct wired *wired = telling->wired;
    struct rig_switch wires = rig_switch(wired->board, key, telling->options);

    return tell(telling, "switch %u %u %d", end_pin(wired, &wires.a), end_pin(wired, &wires.b),
                (int)wires.diode);
}

/* Fault number AT joins two pins of this part. */
static bool has_short(const struct wired *wired, const struct uvk_rig_options *options,
                      unsigned at, struct rig_end ends[2])
{
    return rig_short(options, at, ends) && has_half(wired, ends[0].half);
}

static bool tell_shorts(const struct telling *telling)
{
    struct rig_end ends[2];
    bool good = true;

    for (unsigned i = 0; good && i < telling->options->wrong_count; i++) {
        good = !has_short(telling->wired, telling->options, i, ends) ||
               tell(telling, "switch %u %u %d", end_pin(telling->wired, &ends[0]),
                    end_pin(telling->wired, &ends[1]), (int)UVK_NO_DIODE);
    }
    return good;
}

static bool tell_switches(const struct telling *telling)
{
    const struct wired *wired = telling->wired;
    const struct uvk_board *board = wired->board;
    bool good = true;

    for (unsigned i = 0; good && i < board->key_count; i++) {
        good = !has_half(wired, board->keys[i].half) || tell_key(telling, i);
    }
    for (unsigned i = 0; good && i < 2 * board->knob_count; i++) {
        good = !has_half(wired, board->knobs[i / 2].half) ||
               tell(telling, "switch %u %u %d", knob_pin(wired, i / 2) + i % 2, ground(wired),
                    (int)UVK_NO_DIODE);
    }
    return good;
}

/* A switch to power has a resistor to ground beside it. */
static bool tell_resistors(const struct telling *telling)
{
    const struct wired *wired = telling->wired;
    bool good = true;

    for (unsigned half = 0; half < wired->board->half_count; half++) {
        const struct uvk_half *wires = &wired->board->halves[half];
        unsigned count = has_half(wired, half) && wires->to_power ? wires->direct_count : 0;
        for (unsigned i = 0; good && i < count; i++) {
            good = tell(telling, "resistor %u", pin_of(wired, half, RIG_DIRECT, i));
        }
    }
    return good;
}

#define NS_A_SECOND 1000000000ull

/* Behind the load: whose pins they are, the chip has to know. */
static bool tell_link(const struct telling *telling)
{
    const struct uvk_link *link = &telling->wired->board->link;
    bool swapped = link->straight && telling->wired->half == 1;

    return !has_link(telling->wired) ||
           tell(telling, "link %s %s %llu", (swapped ? link->receive : link->transmit)->name,
                (swapped ? link->transmit : link->receive)->name, NS_A_SECOND / link->speed);
}

static bool tell_half_pin(const struct telling *telling)
{
    const struct wired *wired = telling->wired;

    return !is_strapped(wired, telling->options) ||
           tell(telling, "switch %u %u %d", half_pin(wired), ground(wired), (int)UVK_NO_DIODE);
}

bool wired_tell(const struct wired *wired, const struct uvk_rig_options *options,
                wired_say *say, void *simulator)
{
    const struct telling telling = {wired, options, say, simulator};
    const struct uvk_levels *levels = &wired->board->chip->levels;

    return tell(&telling, "seed %u", options->seed) &&
           tell(&telling, "wires %u %u %u %u %u", rig_picofarads(options), levels->driver_ohms,
                levels->pull_ohms, levels->low_permille, levels->high_permille) &&
           tell_pins(&telling) && tell_switches(&telling) && tell_half_pin(&telling) &&
           tell_shorts(&telling) && tell_resistors(&telling) && tell_link(&telling);
}

unsigned wired_closed(const struct wired *wired, const struct uvk_rig_options *options,
                      unsigned *first)
{
    const struct uvk_board *board = wired->board;
    bool half = is_strapped(wired, options);
    struct rig_end ends[2];
    unsigned count = half;

    *first = 0;
    for (unsigned i = 0; i < board->key_count; i++) {
        *first += has_half(wired, board->keys[i].half);
    }
    for (unsigned i = 0; i < board->knob_count; i++) {
        *first += has_half(wired, board->knobs[i].half) ? 2 : 0;
    }
    for (unsigned i = 0; i < options->wrong_count; i++) {
        count += has_short(wired, options, i, ends);
    }
    return count;
}
