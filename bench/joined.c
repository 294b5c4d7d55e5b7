/* joined.c - see joined.h. A frame takes as long as its bytes need at the link's speed. */
#include "joined.h"

#include "uvrek/scan.h"

#include <string.h>

#define BITS_A_BYTE 10u /* a start bit, eight, a stop bit */

enum { MAIN, OTHER };

/* One end of the cable, and what has come out of it. */
struct end {
    struct joined *joined;
    unsigned which;
    uint8_t bytes[UVK_FRAME_MAX];
    uint8_t count, taken;
};

struct joined {
    const struct uvk_board *board;
    struct uvk_engine *engines[2]; /* MAIN is the caller's */
    struct uvk_port *ports[2];
    struct uvk_engine engine;
    struct uvk_port port;
    struct end ends[2];
    const uint8_t *image;
    uint16_t image_size;
    bool second; /* the main half is the second one of the board */
    bool pulled;
    unsigned noise;
    uint32_t random;
    uint8_t answer_ms;
    uint64_t now; /* microseconds */
    /* what is on the wire */
    uint8_t frame[UVK_FRAME_MAX];
    uint8_t size; /* 0: nothing */
    unsigned to;
    uint64_t due;
};

static uint16_t second_knobs(const struct uvk_board *board)
{
    unsigned knobs = 0;

    for (unsigned i = 0; i < board->knob_count; i++) {
        knobs |= board->knobs[i].half == 1 ? 1u << i : 0u;
    }
    return (uint16_t)knobs;
}

/* The host is at the main half, so the other one has no reason to lead. */
static enum uvk_status start_half(struct joined *joined, unsigned which)
{
    const struct uvk_half_setup setup = {joined->second == (which == MAIN), joined->second,
                                         UVK_HALF_WITH_HOST, second_knobs(joined->board),
                                         joined->answer_ms};

    return uvk_half_start(joined->engines[which], &setup);
}

static enum uvk_status start_other(struct joined *joined)
{
    enum uvk_status status = uvk_engine_start(&joined->engine, sizeof joined->engine,
                                              joined->image, joined->image_size, 0);

    return status == UVK_OK ? start_half(joined, OTHER) : status;
}

void joined_restarted(struct joined *joined)
{
    (void)start_half(joined, MAIN); /* it has been, so it fits */
    joined->size = 0;
}

static uint32_t random_below(struct joined *joined, uint32_t limit)
{
    joined->random ^= joined->random << 13;
    joined->random ^= joined->random >> 17;
    joined->random ^= joined->random << 5;
    return joined->random % limit;
}

/* A frame goes onto the cable, if there is one, and it is free. */
static void send(void *link, const uint8_t *bytes, uint8_t size)
{
    const struct end *end = link;
    struct joined *joined = end->joined;

    if (joined->size > 0 || joined->pulled) {
        return;
    }
    memcpy(joined->frame, bytes, size);
    if (random_below(joined, 100) < joined->noise) {
        joined->frame[random_below(joined, size)] ^= (uint8_t)(1u << random_below(joined, 8));
    }
    joined->to = 1 - end->which;
    joined->size = size;
    joined->due =
        joined->now + (uint64_t)size * BITS_A_BYTE * G_USEC_PER_SEC / joined->board->link.speed;
}

static bool take(void *link, uint8_t *byte)
{
    struct end *end = link;

    if (end->taken == end->count) {
        return false;
    }
    *byte = end->bytes[end->taken++];
    return true;
}

void joined_tick(struct joined *joined, uint64_t now)
{
    joined->now = now;
    uvk_half_tick(joined->engines[MAIN], joined->ports[MAIN], (uint32_t)now, true);
    uvk_half_tick(joined->engines[OTHER], joined->ports[OTHER], (uint32_t)now, false);
}

uint64_t joined_due(const struct joined *joined)
{
    return joined->size > 0 ? joined->due : UINT64_MAX;
}

void joined_arrive(struct joined *joined)
{
    struct end *end = &joined->ends[joined->to];

    memcpy(end->bytes, joined->frame, joined->size);
    end->count = joined->size;
    end->taken = 0;
    joined->size = 0;
    joined->now = joined->due;
    uvk_half_hear(joined->engines[end->which], joined->ports[end->which]);
}

/* ---- made, pulled, damaged
 * -------------------------------------------------------------------
 */

static void plug_in(struct joined *joined, unsigned which, struct uvk_engine *engine,
                    struct uvk_port *port)
{
    joined->ends[which] = (struct end){.joined = joined, .which = which};
    joined->engines[which] = engine;
    joined->ports[which] = port;
    port->link_send = send;
    port->link_take = take;
    port->link = &joined->ends[which];
}

struct joined *joined_new(const struct uvk_program *program, struct uvk_engine *engine,
                          struct uvk_port *port, const uint8_t *image, uint16_t size,
                          GError **error)
{
    struct joined *joined = g_new0(struct joined, 1);
    enum uvk_status status;

    joined->board = program->board;
    joined->answer_ms = uvk_link_waits_ms(program->board);
    joined->image = image;
    joined->image_size = size;
    joined->random = 1;
    joined->second = uvk_main_half(program->board);
    joined->port = *port;
    plug_in(joined, MAIN, engine, port);
    plug_in(joined, OTHER, &joined->engine, &joined->port);
    status = start_other(joined);
    if (status != UVK_OK) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "the halves cannot be joined: %s",
                    uvk_status_text(status));
        g_free(joined);
        return NULL;
    }
    joined_restarted(joined);
    return joined;
}

void joined_free(struct joined *joined)
{
    g_free(joined);
}

void joined_pull(struct joined *joined, bool pulled)
{
    joined->pulled = pulled;
    joined->size = pulled ? 0 : joined->size;
}

void joined_noise(struct joined *joined, unsigned percent)
{
    joined->noise = percent;
}

bool joined_is_main(const struct joined *joined, unsigned half)
{
    return joined->second == (half == 1);
}

const struct uvk_port *joined_port(const struct joined *joined, unsigned half)
{
    return joined->ports[joined_is_main(joined, half) ? MAIN : OTHER];
}

void joined_restart_other(struct joined *joined)
{
    (void)start_other(joined); /* it has been, so it can be */
    joined->size = 0;
}

enum uvk_half_trouble joined_trouble(const struct joined *joined)
{
    return uvk_half_trouble(joined->engines[MAIN]);
}
