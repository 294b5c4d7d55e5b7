/* half.c - what two halves of a keyboard say to one another: the main one asks, the other one
 * answers with the state of its contacts and knobs. docs/link.md goes through it byte by byte.
 */
#include "lit.h"

#if UVK_USE_LINK

#include "uvrek/half.h"
#include "uvrek/port.h"

#include <string.h>

/* Questions: a head, a byte of the status, what the computer has lit. Answers: a head, a byte
 * of the print, a count for each knob, a bit for each switch. In the head stand a number and
 * two flags; of the status and of the print, the number says which byte it is. */
#if UVK_USE_LIGHTS && UVK_LINK_BYTES < 7
#error "UVK_LINK_BYTES: a question has up to 7"
#endif
#define STATE_BEFORE 2u
#define HEAD_FLAG    1u /* question: the answer before has come; answer: the counts are new */
#define HEAD_SECOND  2u /* of the second half of the board */
#define HEAD_NUMBER  0xFCu
#define NUMBER_STEP  4u
#define STATUS_FEW   4u
#define STATUS_ALL   8u /* where something lights up */
enum { STATUS_PRINT_LOW, STATUS_PRINT_HIGH, STATUS_LAMPS, STATUS_LAYER, STATUS_LIGHTS };
#define PRINT_BYTES 2u /* the first ones of the status */
#define PRINT_SEEN  3u /* a bit for each */

/* ---- what this half is ------------------------------------------------------------------ */

/* Bytes of an answer of this half, or of the other one; more than 255 count as 255. */
static uint8_t state_size(const struct uvk_engine *engine, bool own)
{
    uint16_t bits = 0;
    uint16_t size;

    for (uint8_t line = 0; line < uvk_image_lines(&engine->image); line++) {
        if (uvk_half_has_line(engine, line) == own) {
            bits = (uint16_t)(bits + uvk_image_senses(&engine->image));
        }
    }
    size = (uint16_t)(STATE_BEFORE + (bits + 7u) / 8u);
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
    pair->answer_ms = setup->answer_ms;
    pair->second =
        setup->role < UVK_HALF_HOST_FIRST ? setup->second : setup->role == UVK_HALF_HOST_FIRST;
    pair->second_knobs = setup->second_knobs;
    pair->print = uvk_image_print(&engine->image);
    pair->silence = UVK_HALF_GONE;
    pair->waited = setup->answer_ms;
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
                                         (enum uvk_half_role)pair->role, pair->second_knobs,
                                         pair->answer_ms};

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

/* Which byte of COUNT, 2, 4 or 8, goes with the question of that HEAD. Even if every second
 * question is lost, or three of four, each has its turn. */
static uint8_t turn_of(uint8_t head, uint8_t count)
{
    uint8_t number = (uint8_t)((head & HEAD_NUMBER) / NUMBER_STEP);

    return (uint8_t)(number + number / 2u + number / 4u + number / 8u) & (uint8_t)(count - 1u);
}

static uint8_t print_byte(const struct uvk_pair *pair, uint8_t index)
{
    return (uint8_t)(pair->print >> 8u * index);
}

/* A byte of the other half's print. */
static void compare_print(struct uvk_pair *pair, uint8_t index, uint8_t byte)
{
    uint8_t bit = (uint8_t)(1u << index);

    pair->print_seen |= bit;
    pair->print_differs &= (uint8_t)~bit;
    if (byte != print_byte(pair, index)) {
        pair->print_differs |= bit;
    }
}

/* ---- the main half ---------------------------------------------------------------------- */

static void lose_other_half(struct uvk_pair *pair)
{
    memset(pair->contacts, 0, sizeof pair->contacts);
    pair->met = false;
    pair->print_seen = 0;
}

/* Both halves run the same image, so they agree on this. */
static uint8_t status_bytes(const struct uvk_engine *engine)
{
#if UVK_USE_LIGHTS
    if (uvk_image_has_light(&engine->image)) {
        return STATUS_ALL;
    }
#endif
    (void)engine;
    return STATUS_FEW;
}

static uint8_t status_byte(const struct uvk_engine *engine, uint8_t index, uint8_t lamps)
{
    const struct uvk_layers *layers = &engine->layers;

    return index == STATUS_LAMPS    ? lamps
           : index == STATUS_LAYER  ? layers->order[layers->count - 1u]
           : index >= STATUS_LIGHTS ? uvk_lights_tell(engine, (uint8_t)(index - STATUS_LIGHTS))
                                    : print_byte(&engine->pair, index);
}

uint8_t uvk_half_ask(struct uvk_engine *engine, uint8_t lit, uint8_t out[UVK_FRAME_MAX])
{
    struct uvk_pair *pair = UVK_NEAR(&engine->pair);
    uint8_t content[UVK_ASK_BYTES + UVK_ASK_SHOWN];
    uint8_t shown = uvk_lights_tell_shown(engine, content + UVK_ASK_BYTES);

    uvk_receiver_rest(&pair->receiver); /* what has not come by now does not come */
    pair->number = (uint8_t)(pair->number + NUMBER_STEP);
    content[0] = head(pair, pair->number, pair->answered);
    content[1] = status_byte(engine, turn_of(pair->number, status_bytes(engine)), lit);
    pair->answered = false;
    pair->waited = 0;
    return uvk_frame_put(out, UVK_FRAME_ASK, content, (uint8_t)(UVK_ASK_BYTES + shown));
}

/* A keyboard that was busy counts milliseconds faster than they pass: an answer that is on its
 * way is waited for. */
void uvk_half_wait(struct uvk_engine *engine)
{
    struct uvk_pair *pair = UVK_NEAR(&engine->pair);
    bool heard = pair->heard;

    pair->heard = false;
    if (!(heard && uvk_receiver_is_within(&pair->receiver)) && pair->waited < UINT8_MAX) {
        pair->waited++;
    }
    if (pair->silence < UVK_HALF_GONE) {
        pair->silence = (uint8_t)(pair->silence + (heard ? 1u : 2u));
        if (pair->silence >= UVK_HALF_GONE && pair->leads) {
            lose_other_half(pair);
        }
    }
}

/* How far the other half's knobs stand. FIRST: there is nothing to compare that with. */
static uint8_t *take_knobs(struct uvk_engine *engine, uint8_t *at, bool first)
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

/* Bits one behind the other, from the lowest of AT on. */
struct bits {
    uint8_t *at;
    uint8_t mask; /* of the next one */
};

static void next_bit(struct bits *bits)
{
    bits->mask = (uint8_t)(bits->mask << 1);
    if (bits->mask == 0) {
        bits->mask = 1;
        bits->at++;
    }
}

static uvk_bits take_line(const struct uvk_engine *engine, struct bits *bits)
{
    uvk_bits closed = 0;

    for (uint8_t sense = 0; sense < uvk_image_senses(&engine->image); sense++) {
        if ((*bits->at & bits->mask) != 0) {
            closed = (uvk_bits)(closed | (uvk_bits)1 << sense);
        }
        next_bit(bits);
    }
    return closed;
}

static void take_lines(struct uvk_engine *engine, uint8_t *at)
{
    struct bits bits = {at, 1};

    for (uint8_t line = 0; line < uvk_image_lines(&engine->image); line++) {
        if (!uvk_half_has_line(engine, line)) {
            uvk_bits closed = take_line(engine, &bits);
            engine->pair.contacts[line] = closed;
            if (!engine->pair.known) { /* what is down when they first meet is no press */
                engine->debounce.down[line] = closed;
            }
        }
    }
    engine->pair.known = true;
}

/* Is what stands behind FIRST and the byte of the print to be believed? If not, it is known
 * why. */
static bool is_other_half(struct uvk_pair *pair, uint8_t first, uint8_t print)
{
    pair->same_half = ((first & HEAD_SECOND) != 0) == pair->second;
    compare_print(pair, turn_of(first, PRINT_BYTES), print);
    return !pair->same_half && pair->print_seen == PRINT_SEEN && pair->print_differs == 0;
}

static void take_state(struct uvk_engine *engine, uint8_t *at, uint8_t size)
{
    struct uvk_pair *pair = UVK_NEAR(&engine->pair);
    bool first = !pair->met || (at[0] & HEAD_FLAG) != 0;

    if (size < STATE_BEFORE || (at[0] & HEAD_NUMBER) != pair->number) {
        return; /* to another question: it is old */
    }
    pair->waited = pair->answer_ms; /* the line is free */
    if (!is_other_half(pair, at[0], at[1]) || size != state_size(engine, false)) {
        return;
    }
    pair->silence = 0;
    pair->answered = true;
    pair->met = true;
    take_lines(engine, take_knobs(engine, at + STATE_BEFORE, first));
}

/* ---- the other half --------------------------------------------------------------------- */

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

static void put_line(const struct uvk_engine *engine, struct bits *bits, uvk_bits closed)
{
    for (uint8_t sense = 0; sense < uvk_image_senses(&engine->image); sense++) {
        if ((closed & 1u) != 0) {
            *bits->at |= bits->mask;
        }
        closed >>= 1;
        next_bit(bits);
    }
}

/* From AT on, where zeros stand. */
static void put_lines(struct uvk_engine *engine, struct uvk_port *port, uint8_t *at)
{
    struct bits bits = {at, 1};

    for (uint8_t line = 0; line < uvk_image_lines(&engine->image); line++) {
        if (uvk_half_has_line(engine, line)) {
            uvk_bits closed = uvk_port_read_line(port, line);
            uvk_strip_touch(engine, line, closed);
            put_line(engine, &bits, closed);
        }
    }
}

/* What the main half tells, a byte with each question. */
static void take_status(struct uvk_engine *engine, uint8_t first, uint8_t byte)
{
    struct uvk_pair *pair = &engine->pair;
    uint8_t index = turn_of(first, status_bytes(engine));

    if (index == STATUS_LAMPS) {
        pair->lamps = byte;
    } else if (index == STATUS_LAYER) {
        pair->layer = byte;
    } else if (index >= STATUS_LIGHTS) {
        uvk_lights_hear(engine, (uint8_t)(index - STATUS_LIGHTS), byte);
    } else {
        compare_print(pair, index, byte);
    }
}

/* To a QUESTION of SIZE bytes. */
static uint8_t answer(struct uvk_engine *engine, struct uvk_port *port, const uint8_t *question,
                      uint8_t size, uint8_t out[UVK_FRAME_MAX])
{
    struct uvk_pair *pair = &engine->pair;
    uint8_t content[UVK_FRAME_BYTES_MAX];

    /* The main half has got the answer before, which said that the knobs start here. */
    if ((question[0] & HEAD_FLAG) != 0 && pair->said) {
        pair->fresh = false;
    }
    pair->said = true;
    pair->silence = 0;
    pair->same_half = ((question[0] & HEAD_SECOND) != 0) == pair->second;
    take_status(engine, question[0], question[1]);
    uvk_lights_hear_shown(engine, question + UVK_ASK_BYTES, (uint8_t)(size - UVK_ASK_BYTES));
    memset(content, 0, sizeof content);
    content[0] = head(pair, question[0] & HEAD_NUMBER, pair->fresh);
    content[1] = print_byte(pair, turn_of(question[0], PRINT_BYTES));
    put_lines(engine, port, put_knobs(engine, port, content + STATE_BEFORE));
    engine->scanned = true;
    return uvk_frame_put(out, UVK_FRAME_STATE, content, state_size(engine, true));
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
    struct uvk_pair *pair = UVK_NEAR(&engine->pair);
    uint8_t *content;
    uint8_t size;

    pair->heard = true;
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
    if (pair->leads) {
        meet_other_main(engine, (content[0] & HEAD_SECOND) != 0);
        return 0;
    }
    return answer(engine, port, content, size, out);
}

/* ---- what is known ---------------------------------------------------------------------- */

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
    const struct uvk_pair *pair = UVK_NEAR(&engine->pair);
    const struct uvk_line_health *health = &pair->receiver.health;

    if (pair->print_differs != 0 || pair->same_half) {
        return pair->print_differs != 0 ? UVK_HALF_OTHER_IMAGE : UVK_HALF_SAME_HALF;
    }
    if (pair->silence < UVK_HALF_GONE) {
        return UVK_HALF_WELL;
    }
    return health->good == 0 && health->broken + health->stray > 0 ? UVK_HALF_UNINTELLIGIBLE
                                                                   : UVK_HALF_ALONE;
}

static void put_count(uint8_t *out, uint16_t count)
{
    out[0] = (uint8_t)count;
    out[1] = (uint8_t)(count >> 8);
}

void uvk_half_tell(const struct uvk_engine *engine, uint16_t erased, uint8_t out[UVK_HALF_TOLD])
{
    const struct uvk_pair *pair = UVK_NEAR(&engine->pair);

    out[0] = (uint8_t)(pair->leads | pair->second << 1);
    out[1] = (uint8_t)uvk_half_trouble(engine);
    put_count(out + 2, pair->receiver.health.good);
    put_count(out + 4, pair->receiver.health.broken);
    put_count(out + 6, pair->receiver.health.stray);
    put_count(out + 8, erased);
}

#endif
