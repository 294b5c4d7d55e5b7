/* lead.c - which half is the main one, and how questions and answers reach the cable. */
#include "lit.h"
#include "uvrek/half.h"
#include "uvrek/port.h"

#if UVK_USE_LINK

/* Where both see a host, this is the one that leads. */
static bool wins(const struct uvk_pair *pair)
{
    return pair->second == pair->second_wins;
}

/* The other one does not lead before this one has been silent for a while. */
static bool may_lead(const struct uvk_pair *pair, bool host)
{
    return host && (pair->leads || wins(pair) || pair->silence >= UVK_HALF_GONE);
}

/* Not while the answer to the question before may still come. On one wire, two main halves that
 * ask at the same moment never hear one another: the one that gives way, unanswered, keeps
 * quiet three times of four. */
static bool is_to_ask(const struct uvk_engine *engine)
{
    const struct uvk_pair *pair = UVK_NEAR(&engine->pair);

    return pair->waited >= pair->answer_ms &&
           (wins(pair) || pair->silence < UVK_HALF_GONE || (engine->now & 3u) == 0);
}

void uvk_half_tick(struct uvk_engine *engine, struct uvk_port *port, uint32_t now_us, bool host)
{
    struct uvk_pair *pair = &engine->pair;
    uint8_t question[UVK_FRAME_MAX];

    uvk_engine_clock(engine, now_us);
    uvk_half_wait(engine);
    uvk_half_lead(engine, may_lead(pair, host));
    if (pair->leads && is_to_ask(engine)) {
        uvk_port_link_send(
            port, question,
            uvk_half_ask(engine, uvk_lights_lit(engine, uvk_port_lamps(port)), question));
    }
#if UVK_USE_LIGHTS
    if (!pair->leads) {
        uvk_lights_follow(engine, port);
    }
#endif
}

void uvk_half_hear(struct uvk_engine *engine, struct uvk_port *port)
{
    uint8_t answer[UVK_FRAME_MAX];
    uint8_t byte;

    while (uvk_port_link_take(port, &byte)) {
        uint8_t size = uvk_half_take(engine, port, byte, answer);
        if (size > 0) {
            uvk_port_link_send(port, answer, size);
        }
    }
}

#endif
