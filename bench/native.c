/* native.c - a rig whose engine runs in this process, on the Linux port. */
#include "joined.h"
#include "rig.h"

#include "uvrek/port_linux.h"

#define PASS_US 1000u /* between scan passes, and between the host's polls */

#define RISE_STEP_NS 250u
#define RISE_NS_MOST 50000u

/* A decision, and when it took effect. */
struct made {
    struct uvk_decision decision;
    uint64_t at; /* microseconds */
    uint16_t engine_now;
};

struct native {
    struct uvk_rig rig;
    struct uvk_engine engine;
    struct uvk_port port;
    struct joined *joined; /* the other half; NULL: all is in one, or has one controller */
    struct uvk_electric *net;
    struct uvk_scan_plan scan;
    uint64_t pin_time; /* nanoseconds, as the wires see it */
    uint64_t next_pass;
    const uint8_t *image;
    uint16_t image_size;
    GArray *decisions; /* of struct made: all that the engine has decided */
    uint32_t traced;   /* of the engine's trace */
};

/* ---- the wires -------------------------------------------------------------------- */

/* Direct switches are there to be read. */
static uvk_bits read_direct(struct native *native, const struct uvk_scan_line *line)
{
    const struct uvk_board *board = native->rig.program->board;
    const struct uvk_half *half = &board->halves[line->half];
    uvk_bits bits = 0;

    for (unsigned i = line->first; i < half->direct_count && i < line->first + 32; i++) {
        unsigned pin = rig_pin(board, line->half, RIG_DIRECT, i);
        if (uvk_electric_read(native->net, pin, native->pin_time) == half->to_power) {
            bits |= (uvk_bits)1u << (i - line->first);
        }
    }
    return bits;
}

static uvk_bits read_senses(struct native *native, const struct uvk_scan_line *line)
{
    const struct uvk_board *board = native->rig.program->board;
    const struct uvk_half *half = &board->halves[line->half];
    bool rows = uvk_rows_are_lines(half);
    unsigned senses = rows ? half->col_count : half->row_count;
    uvk_bits bits = 0;

    for (unsigned sense = 0; sense < senses; sense++) {
        unsigned pin = rig_pin(board, line->half, rows ? RIG_COL : RIG_ROW, sense);
        if (!uvk_electric_read(native->net, pin, native->pin_time)) {
            bits |= (uvk_bits)1u << sense;
        }
    }
    return bits;
}

/* Until the senses are up again, a while at the most: see docs/porting.md. */
static void wait_for_senses(struct native *native, const struct uvk_scan_line *line)
{
    for (unsigned waited = 0; waited < RISE_NS_MOST && read_senses(native, line) != 0;
         waited += RISE_STEP_NS) {
        native->pin_time += RISE_STEP_NS;
    }
}

/* Select, settle, read, let go: what every port does, on the electrical net. */
static uvk_bits read_line(void *owner, uint8_t index)
{
    struct native *native = owner;
    const struct uvk_board *board = native->rig.program->board;
    const struct uvk_scan_line *line = &native->scan.lines[index];
    bool rows = uvk_rows_are_lines(&board->halves[line->half]);
    unsigned selected;
    uvk_bits bits;

    if (line->select == NULL) {
        return read_direct(native, line);
    }
    selected = rig_pin(board, line->half, rows ? RIG_ROW : RIG_COL, line->index);
    wait_for_senses(native, line);
    uvk_electric_drive(native->net, selected, UVK_DRIVE_LOW, native->pin_time);
    native->pin_time += (uint64_t)(board->settle * 1000);
    bits = read_senses(native, line);
    uvk_electric_drive(native->net, selected, UVK_PULL_UP, native->pin_time);
    return bits;
}

/* The two contacts of a knob, which pull their pins to ground. */
static uint8_t read_knob(void *owner, uint8_t knob)
{
    struct native *native = owner;
    const struct uvk_board *board = native->rig.program->board;
    bool flipped = board->knobs[knob].flipped;
    uint8_t phases = 0;

    for (unsigned i = 0; i < 2; i++) {
        unsigned pin = rig_knob_pin(board, 2u * knob + (flipped ? 1 - i : i));
        if (!uvk_electric_read(native->net, pin, native->pin_time)) {
            phases |= (uint8_t)(1u << i);
        }
    }
    return phases;
}

/* ---- running ---------------------------------------------------------------------- */

/* The host takes what stands in the endpoints. */
static void poll_endpoints(struct native *native)
{
    for (unsigned i = 0; i < UVK_INTERFACES; i++) {
        struct uvk_endpoint *endpoint = &native->port.endpoints[i];
        if (endpoint->size > 0) {
            uvk_host_report(native->rig.host, i, endpoint->report, endpoint->size,
                            native->rig.now);
            endpoint->size = 0;
        }
    }
}

/* The chip starts again: the keyboard forgets what was held. */
static void restart(struct native *native)
{
    native->port.wants_restart = false;
    native->rig.restarts++;
    native->traced = 0;
    (void)uvk_engine_start(&native->engine, sizeof native->engine, native->image,
                           native->image_size, native->port.time_us);
    if (native->joined != NULL) {
        joined_restarted(native->joined);
    }
    uvk_engine_repeat(&native->engine, UVK_REPORT_BOOT);
    for (enum uvk_report report = UVK_REPORT_KEYS; report < UVK_REPORTS; report++) {
        uvk_engine_repeat(&native->engine, report);
    }
}

/* Take over what the engine has decided since, before its memory forgets. */
static void collect_decisions(struct native *native)
{
    const struct uvk_trace *trace = &native->engine.trace;

    for (; native->traced < trace->count; native->traced++) {
        struct made made = {trace->list[native->traced % UVK_TRACE], native->rig.now,
                            native->engine.now};
        g_array_append_val(native->decisions, made);
    }
}

static void pass(struct native *native)
{
    poll_endpoints(native);
    native->port.time_us = (uint32_t)native->rig.now;
    if (native->joined != NULL) {
        joined_tick(native->joined, native->rig.now);
    }
    uvk_engine_pass(&native->engine, &native->port, native->port.time_us);
    collect_decisions(native);
    native->next_pass = native->rig.now + PASS_US;
    native->rig.in_bootloader = native->port.wants_bootloader;
    if (native->port.wants_restart) {
        restart(native);
    }
}

static void apply_changes(struct native *native, uint64_t until_ns)
{
    struct contact_change change;

    while (rig_next_change(&native->rig, until_ns, &change)) {
        native->pin_time = MAX(native->pin_time, change.at);
        uvk_electric_contact(native->net, change.key, change.closed, native->pin_time);
    }
    native->pin_time = MAX(native->pin_time, until_ns);
}

static uint64_t next_frame(const struct native *native)
{
    return native->joined != NULL ? joined_due(native->joined) : UINT64_MAX;
}

static bool native_run(struct uvk_rig *rig, uint64_t until, GError **error)
{
    struct native *native = (struct native *)rig;

    (void)error;
    while (MIN(native->next_pass, next_frame(native)) <= until) {
        bool frame = next_frame(native) <= native->next_pass;
        rig->now = frame ? next_frame(native) : native->next_pass;
        apply_changes(native, rig->now * 1000u);
        if (frame) {
            joined_arrive(native->joined);
        } else if (rig->in_bootloader) {
            native->next_pass += PASS_US; /* the chip's own code no longer runs */
        } else {
            pass(native);
        }
    }
    rig->now = until;
    return true;
}

static unsigned native_layers(struct uvk_rig *rig, uint8_t *order, unsigned room)
{
    const struct uvk_layers *layers = &((struct native *)rig)->engine.layers;
    unsigned count = MIN(layers->count, room);

    for (unsigned i = 0; i < count; i++) {
        order[i] = layers->order[i];
    }
    return count;
}

static bool native_protocol(struct uvk_rig *rig, bool boot, GError **error)
{
    (void)error;
    ((struct native *)rig)->port.boot_protocol = boot;
    return true;
}

/* Lines that are crossed say nothing. */
static void native_cable(struct uvk_rig *rig, enum uvk_rig_cable cable)
{
    struct joined *joined = ((const struct native *)rig)->joined;

    if (joined != NULL) {
        joined_pull(joined, cable != UVK_CABLE_IN);
    }
}

static void native_noise(struct uvk_rig *rig, unsigned percent)
{
    struct joined *joined = ((const struct native *)rig)->joined;

    if (joined != NULL) {
        joined_noise(joined, percent);
    }
}

static enum uvk_half_trouble native_trouble(struct uvk_rig *rig)
{
    struct joined *joined = ((const struct native *)rig)->joined;

    return joined != NULL ? joined_trouble(joined) : UVK_HALF_WELL;
}

static void native_restart(struct uvk_rig *rig, unsigned half)
{
    struct native *native = (struct native *)rig;

    if (native->joined != NULL && !joined_is_main(native->joined, half)) {
        joined_restart_other(native->joined);
    } else {
        restart(native);
    }
}

static int64_t native_measure(struct uvk_rig *rig, const char *name)
{
    (void)rig;
    (void)name;
    return -1;
}

/* The engine's milliseconds count from its start, and wrap. */
static uint64_t rig_time(const struct made *made, uint16_t ms)
{
    return made->at - (uint16_t)(made->engine_now - ms) * (uint64_t)1000;
}

static void native_decisions(struct uvk_rig *rig, GArray *moments)
{
    const struct native *native = (const struct native *)rig;

    for (guint i = 0; i < native->decisions->len; i++) {
        const struct made *made = &g_array_index(native->decisions, struct made, i);
        struct uvk_moment moment = {.time = made->at,
                                    .kind = UVK_MOMENT_DECISION,
                                    .source = made->decision.key,
                                    .since = rig_time(made, made->decision.pressed),
                                    .decision = made->decision,
                                    .text = uvk_decision_text(rig->program, &made->decision)};
        g_array_append_val(moments, moment);
    }
}

static void native_free(struct uvk_rig *rig)
{
    struct native *native = (struct native *)rig;

    joined_free(native->joined);
    uvk_electric_free(native->net);
    g_array_free(native->decisions, TRUE);
    rig_clear(rig);
    g_free(native);
}

/* Every input is pulled up; a switch to power has a resistor to ground beside it. */
static void pull_pins(struct native *native)
{
    const struct uvk_board *board = native->rig.program->board;

    for (unsigned i = 0; i < rig_ground(board); i++) {
        uvk_electric_drive(native->net, i, UVK_PULL_UP, 0);
    }
    for (unsigned half = 0; half < board->half_count; half++) {
        for (unsigned i = 0;
             board->halves[half].to_power && i < board->halves[half].direct_count; i++) {
            uvk_electric_drive(native->net, rig_pin(board, half, RIG_DIRECT, i), UVK_PULL_DOWN,
                               0);
        }
    }
    uvk_electric_drive(native->net, rig_ground(board), UVK_DRIVE_LOW, 0);
    uvk_electric_drive(native->net, rig_power(board), UVK_DRIVE_HIGH, 0);
}

/* The strips of both halves are one row of lamps, the first half first. */
static void copy_strip(const struct uvk_port *port, struct uvk_rig_lights *lights,
                       unsigned first)
{
    for (unsigned i = 0; i < port->strip_count && first + i < UVK_STRIP_MAX; i++) {
        const uint8_t *at = port->strip + (size_t)3 * i;
        lights->strip[first + i] = (struct uvk_colour){at[0], at[1], at[2]};
    }
}

static bool native_lights(struct uvk_rig *rig, struct uvk_rig_lights *lights)
{
    const struct native *native = (const struct native *)rig;
    const struct uvk_lit *lit = &native->engine.lit;
    const struct uvk_strip *strip = &rig->program->board->strip;
    unsigned strips = uvk_board_strips(rig->program->board);

    lights->known = true;
    lights->level = lit->off ? 0 : lit->level;
    lights->effect = lit->effect;
    lights->scale = lit->scale;
    lights->backlight = native->port.backlight;
    lights->lamps = native->port.lit;
    lights->count = strips * strip->count;
    for (unsigned half = 0; half < strips; half++) {
        copy_strip(native->joined != NULL ? joined_port(native->joined, half) : &native->port,
                   lights, half * strip->count);
    }
    return true;
}

static bool native_lamps(struct uvk_rig *rig, uint8_t lamps)
{
    ((struct native *)rig)->port.lamps = lamps;
    return true;
}

static const struct rig_kind native_kind = {.run = native_run,
                                            .layers = native_layers,
                                            .measure = native_measure,
                                            .protocol = native_protocol,
                                            .cable = native_cable,
                                            .noise = native_noise,
                                            .trouble = native_trouble,
                                            .restart = native_restart,
                                            .decisions = native_decisions,
                                            .lights = native_lights,
                                            .lamps = native_lamps,
                                            .free = native_free};

struct uvk_rig *uvk_rig_native(const struct uvk_program *program, const uint8_t *image,
                               uint16_t size, const struct uvk_rig_options *options,
                               GError **error)
{
    const struct uvk_board *board = program->board;
    struct native *native = g_new0(struct native, 1);
    enum uvk_status status =
        uvk_engine_start(&native->engine, sizeof native->engine, image, size, 0);

    if (status != UVK_OK) {
        g_set_error_literal(error, UVK_PROBLEM, UVK_NOT_DONE, uvk_status_text(status));
        g_free(native);
        return NULL;
    }
    rig_init(&native->rig, &native_kind, program, options);
    native->decisions = g_array_new(FALSE, TRUE, sizeof(struct made));
    native->image = image;
    native->image_size = size;
    native->scan = uvk_board_scan(board);
    native->net = rig_wire(board, options);
    pull_pins(native);
    native->port.read_line = read_line;
    native->port.read_knob = read_knob;
    native->port.owner = native;
    native->port.configured = true;
    native->port.boot_protocol = options->boot_protocol;
    native->next_pass = PASS_US;
    if (board->link.place.source != NULL) {
        native->joined =
            joined_new(program, &native->engine, &native->port, image, size, error);
        if (native->joined == NULL) {
            native_free(&native->rig);
            return NULL;
        }
        rig_join(&native->rig, UVK_CABLE_IN);
    }
    for (uint8_t i = 0; i < UVK_INTERFACES; i++) {
        uint16_t length;
        uvk_image_bytes descriptor = uvk_report_descriptor(i, &length);
        const char *why;
        if (!uvk_host_describe(native->rig.host, i, descriptor, length, &why)) {
            g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "report descriptor: %s", why);
            native_free(&native->rig);
            return NULL;
        }
    }
    return &native->rig;
}
