/* rig.c - fingers and contacts, the same for every kind of rig. */
#include "rig.h"

#include "uvrek/halves.h"

#include <string.h>

#define SETTLE_QUIET 50000u           /* microseconds without a report, and more, see below */
#define SETTLE_MOST  (60u * 1000000u) /* a keyboard that never rests is broken */
#define SETTLE_STEP  5000u

static double longest_wait(const struct uvk_macro_act *act)
{
    double longest = 0;

    for (; act != NULL; act = act->next) {
        longest = act->part == UVK_MACRO_WAIT ? MAX(longest, act->time) : longest;
    }
    return longest;
}

/* The longest time that the keymap can be silent with something still to come. */
static uint64_t longest_silence(const struct uvk_keymap *keymap)
{
    double longest = 0;

    for (unsigned i = 0; i < keymap->feel_count; i++) {
        longest = MAX(longest, keymap->feels[i].hold_after);
    }
    for (unsigned i = 0; i < keymap->dance_count; i++) {
        longest = MAX(longest, keymap->dances[i].within);
    }
    if (keymap->sequences != NULL) {
        longest = MAX(longest, keymap->settings[UVK_SET_LEADER_WITHIN].value);
    }
    for (const struct uvk_combo_text *combo = keymap->combos; combo != NULL;
         combo = combo->next) {
        longest = MAX(longest, combo->within);
    }
    for (unsigned i = 0; i < keymap->macro_count; i++) {
        longest = MAX(longest, longest_wait(keymap->macros[i].pressed));
        longest = MAX(longest, longest_wait(keymap->macros[i].released));
    }
    longest = MAX(longest, keymap->settings[UVK_SET_TYPE_PACE].value);
    return (uint64_t)longest;
}

/* From the first moment on. */
static void close_stuck(struct uvk_rig *rig)
{
    for (unsigned key = 0; key < rig->program->board->key_count; key++) {
        struct contact_change change = {0, key, true};
        if (rig_finger_fault(&rig->options, key) == UVK_WRONG_STUCK) {
            g_array_append_val(rig->changes, change);
        }
    }
}

void rig_init(struct uvk_rig *rig, const struct rig_kind *kind,
              const struct uvk_program *program, const struct uvk_rig_options *options)
{
    rig->kind = kind;
    rig->program = program;
    rig->options = *options;
    rig->silence = longest_silence(program->keymap);
    rig->host = uvk_host_new(program->keymap->layout, program->keymap->by_number);
    rig->changes = g_array_new(FALSE, TRUE, sizeof(struct contact_change));
    rig->touches = g_array_new(FALSE, TRUE, sizeof(struct uvk_moment));
    rig->reports = g_array_new(FALSE, TRUE, sizeof(struct rig_report));
    rig->film = g_array_new(FALSE, TRUE, sizeof(struct uvk_frame));
    rig->film_step = options->film;
    rig->random = options->seed * 2654435761u | 1u;
    close_stuck(rig);
}

void rig_clear(struct uvk_rig *rig)
{
    uvk_host_free(rig->host);
    g_array_free(rig->changes, TRUE);
    g_array_free(rig->touches, TRUE);
    g_array_free(rig->reports, TRUE);
    g_array_free(rig->film, TRUE);
}

static uint32_t random_below(struct uvk_rig *rig, uint32_t limit)
{
    rig->random ^= rig->random << 13;
    rig->random ^= rig->random >> 17;
    rig->random ^= rig->random << 5;
    return limit > 0 ? rig->random % limit : 0;
}

static gint by_time(gconstpointer a, gconstpointer b)
{
    const struct contact_change *left = a;
    const struct contact_change *right = b;

    return (left->at > right->at) - (left->at < right->at);
}

/* A finger that comes back ends the chatter of what it did before. */
static void forget_changes(struct uvk_rig *rig, unsigned key)
{
    for (guint i = rig->changes->len; i-- > 0;) {
        if (g_array_index(rig->changes, struct contact_change, i).key == key) {
            g_array_remove_index(rig->changes, i);
        }
    }
}

/* From START nanoseconds on: the contact makes or breaks, then chatters for up to MOST
 * microseconds: closed and open for 20 to 300 microseconds in turn. */
static void chatter(struct uvk_rig *rig, uint64_t start, unsigned key, bool down, uint32_t most)
{
    uint64_t end = start + (uint64_t)random_below(rig, most + 1) * 1000u;
    struct contact_change change = {start, key, down};

    for (;;) {
        g_array_append_val(rig->changes, change);
        change.at += 20000u + random_below(rig, 280000u);
        if (change.at >= end) {
            break;
        }
        change.closed = !change.closed;
    }
    if (change.closed != down) {
        change.closed = down;
        g_array_append_val(rig->changes, change);
    }
    g_array_sort(rig->changes, by_time);
}

static void touch(struct uvk_rig *rig, uint64_t time, unsigned source, bool down)
{
    struct uvk_moment moment = {
        .time = time, .kind = UVK_MOMENT_TOUCH, .source = source, .down = down};

    g_array_append_val(rig->touches, moment);
}

#define OPENS_AFTER_NS 3000000u /* a contact that chatters was closed for so long */
#define OPENS_MS_MORE  2u       /* than debouncing covers, */
#define OPENS_MS_MOST  3u       /* and up to this more */

/* It opens once, for longer than the keyboard takes for bouncing. */
static void open_a_while(struct uvk_rig *rig, unsigned key)
{
    unsigned covered = (unsigned)rig->program->keymap->settings[UVK_SET_DEBOUNCE].value;
    uint64_t start = rig->now * 1000u + OPENS_AFTER_NS;
    uint64_t open = (covered / 1000u + OPENS_MS_MORE + random_below(rig, OPENS_MS_MOST)) *
                    (uint64_t)1000000;
    const struct contact_change changes[] = {{start, key, false}, {start + open, key, true}};

    g_array_append_vals(rig->changes, changes, 2);
    g_array_sort(rig->changes, by_time);
}

void uvk_rig_press(struct uvk_rig *rig, unsigned key, bool down)
{
    enum uvk_wrong_kind fault = rig_finger_fault(&rig->options, key);

    rig->touched = rig->now;
    touch(rig, rig->now, key, down);
    if (fault == UVK_WRONG_DEAD || fault == UVK_WRONG_STUCK) {
        return;
    }
    forget_changes(rig, key);
    if (fault == UVK_WRONG_CHATTER && down) {
        open_a_while(rig, key);
    }
    chatter(rig, rig->now * 1000u, key, down, rig->together ? 0 : rig->options.bounce);
    rig->together = false;
}

/* Clockwise the first contact closes, the second closes, the first opens, the second opens.
 * Which one is the first follows from `flipped`. */
uint64_t uvk_rig_turn(struct uvk_rig *rig, unsigned knob, int detents)
{
    const struct uvk_board *board = rig->program->board;
    unsigned count = (unsigned)ABS(detents) * board->knobs[knob].detent;
    unsigned contact = board->key_count + 2 * knob;
    uint32_t bounce = MIN(rig->options.bounce, UVK_PHASE_US / 2);
    uint64_t start = MAX(rig->now, rig->turning[knob]); /* behind what it still has to do */
    unsigned way = detents > 0 ? 1 : 3;

    rig->touched = rig->now;
    for (unsigned i = 0; i < count; i++) {
        unsigned before = rig->phases[knob];
        unsigned after = (before + way) & 3u;
        unsigned changed = (detents > 0 ? before : after) & 1u; /* which contact it is */
        bool closed = changed == 0 ? after == 1 || after == 2 : after == 2 || after == 3;
        bool second = (changed == 1) !=
                      (board->knobs[knob].flipped != rig_knob_is_wrong(&rig->options, knob));
        chatter(rig, (start + (uint64_t)i * UVK_PHASE_US) * 1000u, contact + second, closed,
                bounce);
        rig->phases[knob] = (uint8_t)after;
        if ((i + 1) % board->knobs[knob].detent == 0) {
            touch(rig, start + (uint64_t)i * UVK_PHASE_US, contact + (detents > 0), true);
        }
    }
    rig->turning[knob] = start + (uint64_t)count * UVK_PHASE_US;
    return rig->turning[knob] - rig->now;
}

bool rig_next_change(struct uvk_rig *rig, uint64_t until, struct contact_change *change)
{
    if (rig->changes->len == 0) {
        return false;
    }
    *change = g_array_index(rig->changes, struct contact_change, 0);
    if (change->at > until) {
        return false;
    }
    g_array_remove_index(rig->changes, 0);
    return true;
}

unsigned rig_pin(const struct uvk_board *board, unsigned half, enum rig_side side,
                 unsigned index)
{
    const struct uvk_half *wires = &board->halves[half];
    unsigned base = 0;

    for (unsigned i = 0; i < half; i++) {
        base += board->halves[i].row_count + board->halves[i].col_count +
                board->halves[i].direct_count;
    }
    base += side == RIG_ROW   ? 0
            : side == RIG_COL ? wires->row_count
                              : wires->row_count + wires->col_count;
    return base + index;
}

unsigned rig_knob_pin(const struct uvk_board *board, unsigned contact)
{
    unsigned last = board->half_count - 1;

    return rig_pin(board, last, RIG_DIRECT, board->halves[last].direct_count) + contact;
}

unsigned rig_ground(const struct uvk_board *board)
{
    return rig_knob_pin(board, 2 * board->knob_count);
}

unsigned rig_power(const struct uvk_board *board)
{
    return rig_ground(board) + 1;
}

/* As the net of the whole board counts. */
static unsigned pin_of(const struct uvk_board *board, const struct rig_end *end)
{
    return end->side == RIG_GROUND  ? rig_ground(board)
           : end->side == RIG_POWER ? rig_power(board)
                                    : rig_pin(board, end->half, end->side, end->index);
}

unsigned rig_picofarads(const struct uvk_rig_options *options)
{
    return options->picofarads != 0 ? options->picofarads : UVK_WIRE_DEFAULT;
}

static void join_shorts(struct uvk_electric *net, const struct uvk_board *board,
                        const struct uvk_rig_options *options)
{
    struct rig_end ends[2];

    for (unsigned i = 0; i < options->wrong_count; i++) {
        if (rig_short(options, i, ends)) {
            unsigned contact = uvk_electric_add(net, pin_of(board, &ends[0]),
                                                pin_of(board, &ends[1]), UVK_NO_DIODE);
            uvk_electric_contact(net, contact, true, 0);
        }
    }
}

struct uvk_electric *rig_wire(const struct uvk_board *board,
                              const struct uvk_rig_options *options)
{
    struct uvk_electric *net = uvk_electric_new(rig_power(board) + 1, &board->chip->levels,
                                                rig_picofarads(options), options->seed);

    for (unsigned i = 0; i < board->key_count; i++) {
        struct rig_switch wires = rig_switch(board, i, options);
        uvk_electric_add(net, pin_of(board, &wires.a), pin_of(board, &wires.b), wires.diode);
    }
    for (unsigned i = 0; i < 2 * board->knob_count; i++) {
        uvk_electric_add(net, rig_knob_pin(board, i), rig_ground(board), UVK_NO_DIODE);
    }
    join_shorts(net, board, options);
    return net;
}

bool uvk_rig_run(struct uvk_rig *rig, uint64_t time, GError **error)
{
    uint64_t until = rig->now + time;
    bool well = true;

    rig->together = false;
    rig_tell_lamps(rig);
    while (well && rig_film_due(rig) <= until) {
        well = rig->kind->run(rig, rig_film_due(rig), error);
        rig_film_take(rig);
    }
    well = well && rig->kind->run(rig, until, error);
    rig_tell_lamps(rig);
    return well;
}

bool uvk_rig_settle(struct uvk_rig *rig, GError **error)
{
    uint64_t start = rig->now;
    uint64_t latest = 0;

    do {
        if (!uvk_rig_run(rig, SETTLE_STEP, error)) {
            return false;
        }
        uvk_host_reports(rig->host, &latest);
    } while ((rig->changes->len > 0 ||
              rig->now < MAX(latest, start) + SETTLE_QUIET + rig->silence) &&
             rig->now < start + SETTLE_MOST);
    return true;
}

bool uvk_rig_protocol(struct uvk_rig *rig, bool boot, GError **error)
{
    return rig->kind->protocol(rig, boot, error);
}

/* A contact that was touched just now makes or breaks without chatter. */
static void touch_cleanly(struct uvk_rig *rig)
{
    for (guint i = 0; i < rig->changes->len; i++) {
        struct contact_change now = g_array_index(rig->changes, struct contact_change, i);
        if (now.at != rig->now * 1000u) {
            continue;
        }
        for (guint j = rig->changes->len; j-- > i + 1;) {
            if (g_array_index(rig->changes, struct contact_change, j).key == now.key) {
                g_array_remove_index(rig->changes, j);
            }
        }
    }
}

void uvk_rig_together(struct uvk_rig *rig)
{
    rig->together = true;
    touch_cleanly(rig);
}

bool uvk_rig_is_together(const struct uvk_rig *rig)
{
    return rig->together;
}

struct uvk_host *uvk_rig_host(struct uvk_rig *rig)
{
    return rig->host;
}

uint64_t uvk_rig_now(const struct uvk_rig *rig)
{
    return rig->now;
}

uint64_t uvk_rig_touched(const struct uvk_rig *rig)
{
    return rig->touched;
}

unsigned uvk_rig_restarts(const struct uvk_rig *rig)
{
    return rig->restarts;
}

bool uvk_rig_in_bootloader(const struct uvk_rig *rig)
{
    return rig->in_bootloader;
}

unsigned uvk_rig_layers(struct uvk_rig *rig, uint8_t *order, unsigned room)
{
    return rig->kind->layers(rig, order, room);
}

int64_t uvk_rig_measure(struct uvk_rig *rig, const char *name)
{
    return rig->kind->measure(rig, name);
}

enum uvk_transfer uvk_rig_control(struct uvk_rig *rig, const uint8_t setup[8], uint8_t *data,
                                  size_t *size)
{
    return rig->kind->control != NULL ? rig->kind->control(rig, setup, data, size)
                                      : UVK_TRANSFER_FAILED;
}

enum uvk_transfer uvk_rig_give(struct uvk_rig *rig, unsigned endpoint, const uint8_t *packet,
                               size_t size)
{
    return rig->kind->give != NULL ? rig->kind->give(rig, endpoint, packet, size)
                                   : UVK_TRANSFER_FAILED;
}

void rig_keep_report(struct uvk_rig *rig, unsigned endpoint, const uint8_t *packet, size_t size)
{
    struct rig_report report = {.endpoint = endpoint, .size = MIN(size, sizeof report.packet)};

    memcpy(report.packet, packet, report.size);
    if (rig->reports->len == UVK_REPORTS_KEPT) {
        g_array_remove_index(rig->reports, 0);
    }
    g_array_append_val(rig->reports, report);
}

bool uvk_rig_take_report(struct uvk_rig *rig, unsigned endpoint, uint8_t packet[64],
                         size_t *size)
{
    for (guint i = 0; i < rig->reports->len; i++) {
        const struct rig_report *report = &g_array_index(rig->reports, struct rig_report, i);
        if (report->endpoint == endpoint) {
            memcpy(packet, report->packet, report->size);
            *size = report->size;
            g_array_remove_index(rig->reports, i);
            return true;
        }
    }
    return false;
}

void uvk_rig_forget_reports(struct uvk_rig *rig)
{
    g_array_set_size(rig->reports, 0);
}

void uvk_rig_bus(struct uvk_rig *rig, enum uvk_bus_event event)
{
    if (rig->kind->bus != NULL) {
        rig->kind->bus(rig, event);
    }
}

void uvk_rig_reset_button(struct uvk_rig *rig)
{
    if (rig->kind->button != NULL) {
        rig->kind->button(rig);
    }
}

/* ---- halves ----------------------------------------------------------------------- */

void uvk_rig_cable(struct uvk_rig *rig, enum uvk_rig_cable cable)
{
    struct uvk_moment moment = {.time = rig->now, .kind = UVK_MOMENT_CABLE, .cable = cable};

    g_array_append_val(rig->touches, moment);
    rig_join(rig, cable);
}

void rig_join(struct uvk_rig *rig, enum uvk_rig_cable cable)
{
    bool wrong =
        cable == UVK_CABLE_IN &&
        uvk_wrong_is_among(rig->options.wrongs, rig->options.wrong_count, UVK_WRONG_CABLE);

    if (wrong) {
        cable = UVK_CABLE_CROSSED;
    }
    if (cable == UVK_CABLE_CROSSED && rig->program->board->link.one_wire) {
        cable = UVK_CABLE_IN;
    }
    rig->kind->cable(rig, cable);
}

void uvk_rig_noise(struct uvk_rig *rig, unsigned percent)
{
    rig->kind->noise(rig, percent);
}

void uvk_rig_restart_half(struct uvk_rig *rig, unsigned half)
{
    rig->kind->restart(rig, half);
}

char *uvk_rig_memory(struct uvk_rig *rig, unsigned half)
{
    return rig->kind->memory != NULL ? rig->kind->memory(rig, half) : NULL;
}

const char *uvk_rig_trouble(struct uvk_rig *rig)
{
    return uvk_half_trouble_text(rig->kind->trouble(rig));
}

void uvk_rig_free(struct uvk_rig *rig)
{
    if (rig != NULL) {
        rig->kind->free(rig);
    }
}
