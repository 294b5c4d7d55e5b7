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

static bool is_own_knob(const struct uvk_pair *half, uint8_t knob)
{
    return (half->knobs >> knob & 1u) != 0;
}

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
    const struct uvk_pair *half = &engine->pair;
    uint16_t size = STATE_BEFORE;

    for (uint8_t line = 0; line < uvk_image_lines(&engine->image); line++) {
        if (uvk_half_has_line(engine, line) == own) {
            size = (uint16_t)(size + sense_bytes(engine));
        }
    }
#if UVK_MAX_KNOBS > 0
    for (uint8_t knob = 0; knob < uvk_image_knobs(&engine->image); knob++) {
        size = (uint16_t)(size + (is_own_knob(half, knob) == own));
    }
#else
    (void)half;
#endif
    return (uint8_t)(size < UINT8_MAX ? size : UINT8_MAX);
}

enum uvk_status uvk_half_start(struct uvk_engine *engine, bool second, uint16_t knobs)
{
    const struct uvk_pair before = engine->pair;
    struct uvk_pair *half = &engine->pair;

    memset(half, 0, sizeof *half);
    half->linked = true;
    half->second = second;
    half->knobs = knobs;
    half->print = uvk_image_print(&engine->image);
    half->silence = UVK_HALF_GONE_MS;
    half->fresh = true;
    if (state_size(engine, true) > UVK_FRAME_BYTES_MAX ||
        state_size(engine, false) > UVK_FRAME_BYTES_MAX) {
        *half = before;
        return UVK_NO_SPACE;
    }
    return UVK_OK;
}

void uvk_half_lead(struct uvk_engine *engine, bool leads)
{
    struct uvk_pair *half = &engine->pair;

    if (leads != half->leads) {
        (void)uvk_half_start(engine, half->second, half->knobs); /* it has been, so it fits */
        half->leads = leads;
        engine->scanned = false; /* what is down now is no press */
    }
}

bool uvk_half_leads(const struct uvk_engine *engine)
{
    return engine->pair.leads;
}

static uint8_t head(const struct uvk_pair *half, uint8_t number, bool flag)
{
    return (uint8_t)(number | (half->second ? HEAD_SECOND : 0u) | (flag ? HEAD_FLAG : 0u));
}

/* ---- the main half
 * ---------------------------------------------------------------------------- */

static void lose_other_half(struct uvk_pair *half)
{
    memset(half->contacts, 0, sizeof half->contacts);
    half->met = false;
}

uint8_t uvk_half_ask(struct uvk_engine *engine, uint8_t lamps, uint8_t out[UVK_FRAME_MAX])
{
    struct uvk_pair *half = &engine->pair;
    const struct uvk_layers *layers = &engine->layers;
    uint8_t content[ASK_BYTES];

    uvk_receiver_rest(&half->receiver); /* what has not come by now does not come */
    if (half->silence < UVK_HALF_GONE_MS && ++half->silence == UVK_HALF_GONE_MS) {
        lose_other_half(half);
    }
    half->number = (uint8_t)(half->number + NUMBER_STEP);
    content[0] = head(half, half->number, half->answered);
    content[1] = lamps;
    content[2] = layers->order[layers->count - 1u];
    content[3] = (uint8_t)(half->print >> 8);
    content[4] = (uint8_t)half->print;
    half->answered = false;
    return uvk_frame_put(out, UVK_FRAME_ASK, content, ASK_BYTES);
}

/* How far the other half's knobs stand. FIRST: there is nothing to compare that with. */
static const uint8_t *take_knobs(struct uvk_engine *engine, const uint8_t *at, bool first)
{
#if UVK_MAX_KNOBS > 0
    struct uvk_pair *half = &engine->pair;

    for (uint8_t knob = 0; knob < uvk_image_knobs(&engine->image); knob++) {
        if (is_own_knob(half, knob)) {
            continue;
        }
        if (!first) {
            uvk_knob_owe(engine, knob, (int8_t)(uint8_t)(*at - half->places[knob]));
        }
        half->places[knob] = *at++;
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
static bool is_other_half(struct uvk_pair *half, uint8_t first, const uint8_t *print)
{
    half->same_half = ((first & HEAD_SECOND) != 0) == half->second;
    half->other_image = (uint16_t)(print[0] << 8 | print[1]) != half->print;
    return !half->same_half && !half->other_image;
}

static void take_state(struct uvk_engine *engine, const uint8_t *at, uint8_t size)
{
    struct uvk_pair *half = &engine->pair;
    bool first = !half->met || (at[0] & HEAD_FLAG) != 0;

    if (size < STATE_BEFORE || (at[0] & HEAD_NUMBER) != half->number) {
        return; /* to another question: it is old */
    }
    if (!is_other_half(half, at[0], at + 1) || size != state_size(engine, false)) {
        return;
    }
    half->silence = 0;
    half->answered = true;
    half->met = true;
    take_lines(engine, take_knobs(engine, at + STATE_BEFORE, first));
}

/* ---- the other half -------------------------------------------------------------------------
 */

static uint8_t *put_knobs(struct uvk_engine *engine, struct uvk_port *port, uint8_t *at)
{
#if UVK_MAX_KNOBS > 0
    struct uvk_pair *half = &engine->pair;

    for (uint8_t knob = 0; knob < uvk_image_knobs(&engine->image); knob++) {
        if (is_own_knob(half, knob)) {
            half->places[knob] =
                (uint8_t)(half->places[knob] + uvk_knob_step(engine, port, knob));
            *at++ = half->places[knob];
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
    struct uvk_pair *half = &engine->pair;
    uint8_t content[UVK_FRAME_BYTES_MAX];
    uint8_t *end;

    /* The main half has got the answer before, which said that the knobs start here. */
    if ((question[0] & HEAD_FLAG) != 0 && half->said) {
        half->fresh = false;
    }
    half->said = true;
    half->silence = 0;
    half->lamps = question[1];
    half->layer = question[2];
    (void)is_other_half(half, question[0], question + 3); /* the main half decides */
    content[0] = head(half, question[0] & HEAD_NUMBER, half->fresh);
    content[1] = (uint8_t)(half->print >> 8);
    content[2] = (uint8_t)half->print;
    end = put_lines(engine, port, put_knobs(engine, port, content + STATE_BEFORE));
    engine->scanned = true;
    return uvk_frame_put(out, UVK_FRAME_STATE, content, (uint8_t)(end - content));
}

uint8_t uvk_half_take(struct uvk_engine *engine, struct uvk_port *port, uint8_t byte,
                      uint8_t out[UVK_FRAME_MAX])
{
    struct uvk_pair *half = &engine->pair;
    const uint8_t *content;
    uint8_t size;

    if (!uvk_receiver_take(&half->receiver, byte)) {
        return 0;
    }
    content = uvk_receiver_content(&half->receiver, &size);
    if (uvk_receiver_kind(&half->receiver) == UVK_FRAME_STATE) {
        if (half->leads) {
            take_state(engine, content, size);
        }
        return 0;
    }
    if (size != ASK_BYTES) {
        return 0;
    }
    if (half->leads && half->second && (content[0] & HEAD_SECOND) == 0) {
        uvk_half_lead(engine, false); /* there is another one, and it goes before this one */
        return 0;
    }
    return half->leads ? 0 : answer(engine, port, content, out);
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
    const struct uvk_pair *half = &engine->pair;
    const struct uvk_line_health *health = &half->receiver.health;

    if (half->other_image || half->same_half) {
        return half->other_image ? UVK_HALF_OTHER_IMAGE : UVK_HALF_SAME_HALF;
    }
    if (half->silence < UVK_HALF_GONE_MS) {
        return UVK_HALF_WELL;
    }
    return health->good == 0 && health->broken + health->stray > 0 ? UVK_HALF_UNINTELLIGIBLE
                                                                   : UVK_HALF_ALONE;
}

#endif
