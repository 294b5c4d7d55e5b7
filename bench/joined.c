/* joined.c - see joined.h. A frame takes as long as its bytes need at the link's speed. */
#include "joined.h"

#include <string.h>

#define BITS_A_BYTE 10u /* a start bit, eight, a stop bit */

enum { MAIN, OTHER };

struct joined {
    const struct uvk_board *board;
    struct uvk_engine *engines[2]; /* MAIN is the caller's */
    struct uvk_port *ports[2];
    struct uvk_engine engine;
    struct uvk_port port;
    const uint8_t *image;
    uint16_t image_size;
    bool second; /* the main half is the second one of the board */
    bool pulled;
    unsigned noise;
    uint32_t random;
    /* what is on the wire */
    uint8_t frame[UVK_FRAME_MAX];
    uint8_t size; /* 0: nothing */
    unsigned to;
    uint64_t due;
};

/* With `main usb`, `pin` and `stored` the host is at the first half. */
static bool second_leads(const struct uvk_board *board)
{
    return board->main == UVK_MAIN_SECOND;
}

static uint16_t knobs_of(const struct uvk_board *board, unsigned half)
{
    unsigned knobs = 0;

    for (unsigned i = 0; i < board->knob_count; i++) {
        knobs |= board->knobs[i].half == half ? 1u << i : 0u;
    }
    return (uint16_t)knobs;
}

static enum uvk_status start_half(struct joined *joined, unsigned which)
{
    bool second = joined->second == (which == MAIN);

    return uvk_half_start(joined->engines[which], second, knobs_of(joined->board, second));
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
    uvk_half_lead(joined->engines[MAIN], true);
    joined->size = 0;
}

struct joined *joined_new(const struct uvk_program *program, struct uvk_engine *engine,
                          struct uvk_port *port, const uint8_t *image, uint16_t size,
                          GError **error)
{
    struct joined *joined = g_new0(struct joined, 1);
    enum uvk_status status;

    joined->board = program->board;
    joined->image = image;
    joined->image_size = size;
    joined->random = 1;
    joined->second = second_leads(program->board);
    joined->engines[MAIN] = engine;
    joined->engines[OTHER] = &joined->engine;
    joined->ports[MAIN] = port;
    joined->ports[OTHER] = &joined->port;
    joined->port = *port;
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

static uint32_t random_below(struct joined *joined, uint32_t limit)
{
    joined->random ^= joined->random << 13;
    joined->random ^= joined->random >> 17;
    joined->random ^= joined->random << 5;
    return joined->random % limit;
}

/* A frame goes onto the cable, if there is one. */
static void send(struct joined *joined, unsigned to, uint8_t size, uint64_t now)
{
    if (random_below(joined, 100) < joined->noise) {
        joined->frame[random_below(joined, size)] ^= (uint8_t)(1u << random_below(joined, 8));
    }
    joined->to = to;
    joined->size = joined->pulled ? 0 : size;
    joined->due =
        now + (uint64_t)size * BITS_A_BYTE * G_USEC_PER_SEC / joined->board->link.speed;
}

void joined_ask(struct joined *joined, uint64_t now)
{
    if (joined->size == 0) {
        uint8_t size =
            uvk_half_ask(joined->engines[MAIN], joined->ports[MAIN]->lamps, joined->frame);
        send(joined, OTHER, size, now);
    }
}

uint64_t joined_due(const struct joined *joined)
{
    return joined->size > 0 ? joined->due : UINT64_MAX;
}

void joined_arrive(struct joined *joined)
{
    uint8_t frame[UVK_FRAME_MAX];
    uint8_t size = joined->size;
    unsigned to = joined->to;

    memcpy(frame, joined->frame, size);
    joined->size = 0;
    for (uint8_t i = 0; i < size; i++) {
        uint8_t answer =
            uvk_half_take(joined->engines[to], joined->ports[to], frame[i], joined->frame);
        if (answer > 0) {
            send(joined, MAIN, answer, joined->due);
        }
    }
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

void joined_restart_other(struct joined *joined)
{
    (void)start_other(joined); /* it has been, so it can be */
    joined->size = 0;
}

const char *joined_trouble(const struct joined *joined)
{
    static const char *const sentences[] = {
        [UVK_HALF_WELL] = NULL,
        [UVK_HALF_ALONE] =
            "nothing comes from the other half: the cable is out, or crossed, or "
            "the other half is off",
        [UVK_HALF_UNINTELLIGIBLE] = "what comes from the other half cannot be understood: the "
                                    "halves have different speeds, or the cable is bad",
        [UVK_HALF_OTHER_IMAGE] =
            "the other half has another firmware: flash both with the same",
        [UVK_HALF_SAME_HALF] = "both halves have been told that they are the same half: flash "
                               "one of them as the other",
    };

    return sentences[uvk_half_trouble(joined->engines[MAIN])];
}
