/* half.c - what two halves of a keyboard say to one another: the main one asks, the other one
 * answers with the state of its contacts and knobs. docs/link.md goes through it byte by byte.
 */
#include "parts.h"

#if UVK_USE_LINK

#include "uvrek/half.h"
#include "uvrek/port.h"

#include <string.h>

/* Questions: a head, lamps, the layer on top, the image's print. Answers: a head, the print, a
 * count for each knob, the lines. In the head stand a number and two flags. */
#define ASK_BYTES    5u
#define STATE_BEFORE 3u
#define HEAD_FLAG    1u /* question: the answer before has come; answer: the counts are new */
#define HEAD_SECOND  2u /* of the second half of the board */
#define HEAD_NUMBER  0xFCu
#define NUMBER_STEP  4u

/* ---- what this half is ----------------------------------------------------------------------
 */

#if UVK_MAX_KNOBS > 0
/* Without a link all knobs are here. */
bool uvk_half_has_knob(const struct uvk_engine *engine, uint8_t knob)
{
    return !engine->pair.linked ||
           ((engine->pair.second_knobs >> knob & 1u) != 0) == engine->pair.second;
}
#endif

/* Without a link all lines are here. */
bool uvk_half_has_line(const struct uvk_engine *engine, uint8_t line)
{
    return !engine->pair.linked ||
           (line >= uvk_image_second_line(&engine->image)) == engine->pair.second;
}

static uint8_t sense_bytes(const struct uvk_engine *engine)
{
    return (uint8_t)((uvk_image_senses(&engine->image) + 7u) / 8u);
}

/* Bytes of an answer of this half, or of the other one; more than 255 count as 255. */
static uint8_t state_size(const struct uvk_engine *engine, bool own)
{
    uint16_t size = STATE_BEFORE;

    for (uint8_t line = 0; line < uvk_image_lines(&engine->image); line++) {
        if (uvk_half_has_line(engine, line) == own) {
            size = (uint16_t)(size + sense_bytes(engine));
        }
    }
#if UVK_MAX_KNOBS > 0
    for (uint8_t knob = 0; knob < uvk_image_knobs(&engine->image); knob++) {
        size = (uint16_t)(size + (uvk_half_has_knob(engine, knob) == own));
    }
#endif
    return (uint8_t)(size < UINT8_MAX ? size : UINT8_MAX);
}

enum uvk_status uvk_half_start(struct uvk_engine *engine, const struct uvk_half_setup *setup)
{
    const struct uvk_pair before = engine->pair;
    struct uvk_pair *pair = &engine->pair;

    memset(pair, 0, sizeof *pair);
    pair->linked = true;
    pair->role = (uint8_t)setup->role;
    pair->second_wins = setup->second_wins;
    pair->second = setup->role < UVK_HALF_HOST_FIRST ? setup->second
                                                     : setup->role == UVK_HALF_HOST_FIRST;
    pair->second_knobs = setup->second_knobs;
    pair->print = uvk_image_print(&engine->image);
    pair->silence = UVK_HALF_GONE_MS;
    pair->fresh = true;
    if (state_size(engine, true) > UVK_FRAME_BYTES_MAX ||
        state_size(engine, false) > UVK_FRAME_BYTES_MAX) {
        *pair = before;
        return UVK_NO_SPACE;
    }
    return UVK_OK;
}

/* Begin anew as one half or the other, as the main one or not. */
static void become(struct uvk_engine *engine, bool second, bool leads)
{
    struct uvk_pair *pair = &engine->pair;
    const struct uvk_half_setup setup = {second, pair->second_wins,
                                         (enum uvk_half_role)pair->role, pair->second_knobs};

    (void)uvk_half_start(engine, &setup); /* it has been, so it fits */
    pair->second = second;
    pair->leads = leads;
    engine->scanned = false; /* what is down now is no press */
}

void uvk_half_lead(struct uvk_engine *engine, bool leads)
{
    struct uvk_pair *pair = &engine->pair;
    bool with_host = pair->role == UVK_HALF_HOST_SECOND;

    if (leads == pair->leads) {
        return;
    }
    become(engine, pair->role < UVK_HALF_HOST_FIRST ? pair->second : leads == with_host, leads);
}

bool uvk_half_leads(const struct uvk_engine *engine)
{
    return engine->pair.leads;
}

bool uvk_half_is_second(const struct uvk_engine *engine)
{
    return engine->pair.second;
}

static uint8_t head(const struct uvk_pair *pair, uint8_t number, bool flag)
{
    return (uint8_t)(number | (pair->second ? HEAD_SECOND : 0u) | (flag ? HEAD_FLAG : 0u));
}

/* ---- the main half
 * ---------------------------------------------------------------------------- */

static void lose_other_half(struct uvk_pair *pair)
{
    memset(pair->contacts, 0, sizeof pair->contacts);
    pair->met = false;
}

uint8_t uvk_half_ask(struct uvk_engine *engine, uint8_t lamps, uint8_t out[UVK_FRAME_MAX])
{
    struct uvk_pair *pair = &engine->pair;
    const struct uvk_layers *layers = &engine->layers;
    uint8_t content[ASK_BYTES];

    uvk_receiver_rest(&pair->receiver); /* what has not come by now does not come */
    if (pair->silence < UVK_HALF_GONE_MS && ++pair->silence == UVK_HALF_GONE_MS) {
        lose_other_half(pair);
    }
    pair->number = (uint8_t)(pair->number + NUMBER_STEP);
    content[0] = head(pair, pair->number, pair->answered);
    content[1] = lamps;
    content[2] = layers->order[layers->count - 1u];
    content[3] = (uint8_t)(pair->print >> 8);
    content[4] = (uint8_t)pair->print;
    pair->answered = false;
    return uvk_frame_put(out, UVK_FRAME_ASK, content, ASK_BYTES);
}

/* How far the other half's knobs stand. FIRST: there is nothing to compare that with. */
static const uint8_t *take_knobs(struct uvk_engine *engine, const uint8_t *at, bool first)
{
#if UVK_MAX_KNOBS > 0
    struct uvk_pair *pair = &engine->pair;

    for (uint8_t knob = 0; knob < uvk_image_knobs(&engine->image); knob++) {
        if (uvk_half_has_knob(engine, knob)) {
            continue;
        }
        if (!first) {
            uvk_knob_owe(engine, knob, (int8_t)(uint8_t)(*at - pair->places[knob]));
        }
        pair->places[knob] = *at++;
    }
#else
    (void)engine;
    (void)first;
#endif
    return at;
}

static void take_lines(struct uvk_engine *engine, const uint8_t *at)
{
    for (uint8_t line = 0; line < uvk_image_lines(&engine->image); line++) {
        uvk_bits closed = 0;
        if (uvk_half_has_line(engine, line)) {
            continue;
        }
        for (uint8_t i = 0; i < sense_bytes(engine); i++) {
            closed |= (uvk_bits)((uvk_bits)*at++ << 8u * i);
        }
        engine->pair.contacts[line] = closed;
        if (!engine->pair.known) { /* what is down when they first meet is no press */
            engine->debounce.down[line] = closed;
        }
    }
    engine->pair.known = true;
}

/* Is what follows the HEAD and the PRINT to be believed? If not, it is known why. */
static bool is_other_half(struct uvk_pair *pair, uint8_t first, const uint8_t *print)
{
    pair->same_half = ((first & HEAD_SECOND) != 0) == pair->second;
    pair->other_image = (uint16_t)(print[0] << 8 | print[1]) != pair->print;
    return !pair->same_half && !pair->other_image;
}

static void take_state(struct uvk_engine *engine, const uint8_t *at, uint8_t size)
{
    struct uvk_pair *pair = &engine->pair;
    bool first = !pair->met || (at[0] & HEAD_FLAG) != 0;

    if (size < STATE_BEFORE || (at[0] & HEAD_NUMBER) != pair->number) {
        return; /* to another question: it is old */
    }
    if (!is_other_half(pair, at[0], at + 1) || size != state_size(engine, false)) {
        return;
    }
    pair->silence = 0;
    pair->answered = true;
    pair->met = true;
    take_lines(engine, take_knobs(engine, at + STATE_BEFORE, first));
}

/* ---- the other half -------------------------------------------------------------------------
 */

static uint8_t *put_knobs(struct uvk_engine *engine, struct uvk_port *port, uint8_t *at)
{
#if UVK_MAX_KNOBS > 0
    struct uvk_pair *pair = &engine->pair;

    for (uint8_t knob = 0; knob < uvk_image_knobs(&engine->image); knob++) {
        if (uvk_half_has_knob(engine, knob)) {
            pair->places[knob] =
                (uint8_t)(pair->places[knob] + uvk_knob_step(engine, port, knob));
            *at++ = pair->places[knob];
        }
    }
#else
    (void)engine;
    (void)port;
#endif
    return at;
}

static uint8_t *put_lines(struct uvk_engine *engine, struct uvk_port *port, uint8_t *at)
{
    for (uint8_t line = 0; line < uvk_image_lines(&engine->image); line++) {
        if (uvk_half_has_line(engine, line)) {
            uvk_bits closed = uvk_port_read_line(port, line);
            for (uint8_t i = 0; i < sense_bytes(engine); i++) {
                *at++ = (uint8_t)(closed >> 8u * i);
            }
        }
    }
    return at;
}

static uint8_t answer(struct uvk_engine *engine, struct uvk_port *port, const uint8_t *question,
                      uint8_t out[UVK_FRAME_MAX])
{
    struct uvk_pair *pair = &engine->pair;
    uint8_t content[UVK_FRAME_BYTES_MAX];
    uint8_t *end;

    /* The main half has got the answer before, which said that the knobs start here. */
    if ((question[0] & HEAD_FLAG) != 0 && pair->said) {
        pair->fresh = false;
    }
    pair->said = true;
    pair->silence = 0;
    pair->lamps = question[1];
    pair->layer = question[2];
    (void)is_other_half(pair, question[0], question + 3); /* the main half decides */
    content[0] = head(pair, question[0] & HEAD_NUMBER, pair->fresh);
    content[1] = (uint8_t)(pair->print >> 8);
    content[2] = (uint8_t)pair->print;
    end = put_lines(engine, port, put_knobs(engine, port, content + STATE_BEFORE));
    engine->scanned = true;
    return uvk_frame_put(out, UVK_FRAME_STATE, content, (uint8_t)(end - content));
}

/* Both halves see a host: one of them gives way. */
static void meet_other_main(struct uvk_engine *engine, bool second)
{
    struct uvk_pair *pair = &engine->pair;

    pair->same_half = second == pair->second;
    if (second != pair->second && second == pair->second_wins) {
        uvk_half_lead(engine, false);
        pair->silence = 0;
    }
}

uint8_t uvk_half_take(struct uvk_engine *engine, struct uvk_port *port, uint8_t byte,
                      uint8_t out[UVK_FRAME_MAX])
{
    struct uvk_pair *pair = &engine->pair;
    const uint8_t *content;
    uint8_t size;

    if (!uvk_receiver_take(&pair->receiver, byte)) {
        return 0;
    }
    content = uvk_receiver_content(&pair->receiver, &size);
    if (uvk_receiver_kind(&pair->receiver) == UVK_FRAME_STATE) {
        if (pair->leads) {
            take_state(engine, content, size);
        }
        return 0;
    }
    if (size != ASK_BYTES) {
        return 0;
    }
    if (pair->leads) {
        meet_other_main(engine, (content[0] & HEAD_SECOND) != 0);
        return 0;
    }
    return answer(engine, port, content, out);
}

/* ---- what is known -------------------------------------------------------------------------
 */

uint8_t uvk_half_lamps(const struct uvk_engine *engine)
{
    return engine->pair.lamps;
}

uint8_t uvk_half_layer(const struct uvk_engine *engine)
{
    return engine->pair.layer;
}

enum uvk_half_trouble uvk_half_trouble(const struct uvk_engine *engine)
{
    const struct uvk_pair *pair = &engine->pair;
    const struct uvk_line_health *health = &pair->receiver.health;

    if (pair->other_image || pair->same_half) {
        return pair->other_image ? UVK_HALF_OTHER_IMAGE : UVK_HALF_SAME_HALF;
    }
    if (pair->silence < UVK_HALF_GONE_MS) {
        return UVK_HALF_WELL;
    }
    return health->good == 0 && health->broken + health->stray > 0 ? UVK_HALF_UNINTELLIGIBLE
                                                                   : UVK_HALF_ALONE;
}

#endif
