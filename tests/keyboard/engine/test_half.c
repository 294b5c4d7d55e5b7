/* Two halves and the cable between them: whatever the cable does, no key is stuck, doubled or
 * invented, and the state is whole again soon. */
#include "keyboard.h"

#include "uvrek/half.h"
#include "uvrek/lights.h"

#include <string.h>

/* Two by two keys a half, a knob on each. */
#define SPLIT                                                                                  \
    "board pair {\n chip rp2040\n usb { vendor 0x1209; product 0x0009; maker \"T\" }\n"        \
    " halves left right { main usb; link uart GP0 GP1 }\n"                                     \
    " matrix { rows GP2 GP3; cols GP4 GP5; flow row->col }\n"                                  \
    " knob wheel left { pins GP6 GP7 }\n knob dial right { pins GP6 GP7 }\n"                   \
    " keys left {\n r0c0 r0c1\n r1c0 r1c1 =wheel\n }\n"                                        \
    " keys right {\n r0c0 r0c1\n r1c0 r1c1 =dial\n }\n}\n"
#define KEYMAP                                                                                 \
    SPLIT "keymap k {\n host linux us\n layer base {\n a b c d\n e f g h\n"                    \
          " knob wheel 1 2\n knob dial 3 4\n }\n}\n"

/* ---- a cable ----------------------------------------------------------------------------- */

/* Chances in a thousand, of a frame and of a byte. */
struct cable {
    bool pulled, mute; /* nothing comes over; only questions do */
    unsigned loses_frame, doubles_frame, keeps_frame, loses_byte, garbles_byte, adds_byte;
    uint8_t kept[2][UVK_FRAME_MAX]; /* each way: to come behind the next one */
    uint8_t kept_size[2];
    GRand *random;
};

static bool chance(struct cable *cable, unsigned in_thousand)
{
    return in_thousand > 0 && (unsigned)g_rand_int_range(cable->random, 0, 1000) < in_thousand;
}

static uint8_t any_byte(struct cable *cable)
{
    return (uint8_t)g_rand_int_range(cable->random, 0, 256);
}

/* ---- two halves -------------------------------------------------------------------------- */

struct side {
    struct uvk_engine engine;
    struct uvk_port port;
    uint32_t contacts[LINES_MAX];
    uint8_t phases[2];
};

struct pair {
    struct uvk_program *program;
    uint8_t *image;
    uint16_t size;
    struct side sides[2]; /* the first one leads */
    struct cable cable;
    GString *seen;    /* reports of the main half, as hex, a line each */
    uint8_t down[32]; /* the host: bits of usages */
    unsigned presses[256];
};

static uvk_bits read_line(void *owner, uint8_t line)
{
    return ((const struct side *)owner)->contacts[line];
}

static uint8_t read_knob(void *owner, uint8_t knob)
{
    return ((const struct side *)owner)->phases[knob];
}

static void start_as(struct pair *pair, unsigned index, bool second)
{
    const struct uvk_half_setup setup = {second, false, UVK_HALF_WITH_HOST, 2, 1};

    assert_int_equal(uvk_half_start(&pair->sides[index].engine, &setup), UVK_OK);
}

static void start_side(struct pair *pair, unsigned index)
{
    struct side *side = &pair->sides[index];
    uint32_t now = side->port.time_us;

    assert_int_equal(
        uvk_engine_start(&side->engine, sizeof side->engine, pair->image, pair->size, now),
        UVK_OK);
    start_as(pair, index, index == 1);
    side->port.read_line = read_line;
    side->port.read_knob = read_knob;
    side->port.owner = side;
    side->port.configured = true;
    if (index == 0) {
        uvk_half_lead(&side->engine, true);
    }
}

static void pair_open(struct pair *pair, const char *text)
{
    memset(pair, 0, sizeof *pair);
    pair->program = good_program(text);
    pair->image = uvk_lower(pair->program, &pair->size);
    pair->cable.random = g_rand_new_with_seed(3);
    pair->seen = g_string_new(NULL);
    start_side(pair, 0);
    start_side(pair, 1);
}

static void pair_close(struct pair *pair)
{
    g_string_free(pair->seen, TRUE);
    g_rand_free(pair->cable.random);
    g_free(pair->image);
    uvk_program_free(pair->program);
}

/* The host takes the reports of the main half, and counts presses. */
static void fetch(struct pair *pair)
{
    struct uvk_endpoint *endpoint = &pair->sides[0].port.endpoints[1];

    if (endpoint->size > 0 && endpoint->report[0] == UVK_REPORT_KEYS) {
        for (unsigned usage = 0; usage < 8u * (endpoint->size - 2u); usage++) {
            unsigned byte = usage / 8;
            unsigned bit = 1u << usage % 8;
            bool now = (endpoint->report[2 + byte] & bit) != 0;
            pair->presses[usage] += now && !(pair->down[byte] & bit);
            pair->down[byte] =
                (uint8_t)(now ? pair->down[byte] | bit : pair->down[byte] & ~bit);
        }
    }
    endpoint->size = 0;
    pair->sides[0].port.endpoints[0].size = 0;
}

static void carry_frame(struct pair *pair, unsigned to, const uint8_t *bytes, uint8_t size);

static void give_byte(struct pair *pair, unsigned to, uint8_t byte)
{
    struct side *side = &pair->sides[to];
    uint8_t answer[UVK_FRAME_MAX];
    uint8_t size = uvk_half_take(&side->engine, &side->port, byte, answer);

    if (size > 0) {
        carry_frame(pair, 1 - to, answer, size);
    }
}

static void carry_bytes(struct pair *pair, unsigned to, const uint8_t *bytes, uint8_t size)
{
    struct cable *cable = &pair->cable;

    for (uint8_t i = 0; i < size && !cable->pulled && !(cable->mute && to == 0); i++) {
        if (chance(cable, cable->adds_byte)) {
            give_byte(pair, to, any_byte(cable));
        }
        if (!chance(cable, cable->loses_byte)) {
            give_byte(pair, to,
                      chance(cable, cable->garbles_byte) ? any_byte(cable) : bytes[i]);
        }
    }
}

/* A frame: lost, doubled, or late, behind the next one. */
static void carry_frame(struct pair *pair, unsigned to, const uint8_t *bytes, uint8_t size)
{
    struct cable *cable = &pair->cable;
    uint8_t kept[UVK_FRAME_MAX];
    uint8_t kept_size = cable->kept_size[to];

    memcpy(kept, cable->kept[to], kept_size);
    cable->kept_size[to] = 0;
    if (chance(cable, cable->keeps_frame)) {
        memcpy(cable->kept[to], bytes, size);
        cable->kept_size[to] = size;
    } else if (!chance(cable, cable->loses_frame)) {
        carry_bytes(pair, to, bytes, size);
        if (chance(cable, cable->doubles_frame)) {
            carry_bytes(pair, to, bytes, size);
        }
    }
    if (kept_size > 0) {
        carry_bytes(pair, to, kept, kept_size);
    }
}

static void pass(struct pair *pair, unsigned milliseconds)
{
    struct side *main_side = &pair->sides[0];

    for (; milliseconds > 0; milliseconds--) {
        uint8_t question[UVK_FRAME_MAX];
        uint8_t size;
        fetch(pair);
        main_side->port.time_us += 1000;
        pair->sides[1].port.time_us += 1000;
        uvk_half_wait(&main_side->engine);
        uvk_half_wait(&pair->sides[1].engine);
        if (uvk_half_leads(&main_side->engine)) {
            size = uvk_half_ask(&main_side->engine, 2, question);
            carry_frame(pair, 1, question, size);
        }
        uvk_engine_pass(&main_side->engine, &main_side->port, main_side->port.time_us);
    }
    fetch(pair);
}

/* Key NUMBER: 0..3 are the left half's a b e f, 4..7 the right half's c d g h. */
static const uint8_t usages[8] = {4, 5, 8, 9, 6, 7, 10, 11};

static void contact(struct pair *pair, unsigned number, bool closed)
{
    struct uvk_scan_plan scan = uvk_board_scan(pair->program->board);
    unsigned half = number / 4;
    unsigned row = number / 2 % 2;
    unsigned col = number % 2;
    bool rows = uvk_rows_are_lines(&pair->program->board->halves[half]);
    unsigned line = 0;

    while (scan.lines[line].half != half || scan.lines[line].index != (rows ? row : col)) {
        line++;
    }
    if (closed) {
        pair->sides[half].contacts[line] |= 1u << (rows ? col : row);
    } else {
        pair->sides[half].contacts[line] &= ~(1u << (rows ? col : row));
    }
}

static bool is_down(const struct pair *pair, unsigned number)
{
    return (pair->down[usages[number] / 8] >> usages[number] % 8 & 1u) != 0;
}

/* ---- a good cable ------------------------------------------------------------------------ */

static void keys_of_both_halves_reach_the_host(void **state)
{
    struct pair pair;

    (void)state;
    pair_open(&pair, KEYMAP);
    pass(&pair, 20);
    for (unsigned i = 0; i < 8; i++) {
        contact(&pair, i, true);
        pass(&pair, 2);
        assert_true(is_down(&pair, i));
        contact(&pair, i, false);
        pass(&pair, 8);
        assert_false(is_down(&pair, i));
        assert_int_equal(pair.presses[usages[i]], 1);
    }
    assert_int_equal(uvk_half_trouble(&pair.sides[0].engine), UVK_HALF_WELL);
    assert_int_equal(uvk_half_trouble(&pair.sides[1].engine), UVK_HALF_WELL);
    assert_int_equal(uvk_half_lamps(&pair.sides[1].engine), 2);
    pair_close(&pair);
}

/* A detent to the right, as a finger turns it. */
static void turn(struct pair *pair, unsigned half, unsigned ms)
{
    static const uint8_t cycle[] = {1, 3, 2, 0};

    for (unsigned i = 0; i < 4; i++) {
        pair->sides[half].phases[half] = cycle[i];
        pass(pair, ms);
    }
}

static void knobs_of_both_halves_turn(void **state)
{
    struct pair pair;

    (void)state;
    pair_open(&pair, KEYMAP);
    pass(&pair, 20);
    for (unsigned i = 0; i < 300; i++) { /* beyond what a byte can count */
        turn(&pair, 0, 2);
        turn(&pair, 1, 2);
    }
    pass(&pair, 100);
    assert_int_equal(pair.presses[0x1F], 300); /* 2 */
    assert_int_equal(pair.presses[0x21], 300); /* 4 */
    assert_int_equal(pair.presses[0x1E], 0);
    assert_int_equal(pair.presses[0x20], 0);
    pair_close(&pair);
}

/* ---- the cable is pulled, and a half restarts -------------------------------------------- */

static void pulled_keys_come_up_and_come_back(void **state)
{
    struct pair pair;
    unsigned waited = 0;

    (void)state;
    pair_open(&pair, KEYMAP);
    pass(&pair, 20);
    contact(&pair, 5, true);
    contact(&pair, 1, true);
    pass(&pair, 5);
    assert_true(is_down(&pair, 5));
    pair.cable.pulled = true;
    while (is_down(&pair, 5)) {
        pass(&pair, 1);
        waited++;
        assert_true(waited <= 30);
    }
    assert_true(is_down(&pair, 1)); /* one's own goes on */
    assert_int_equal(uvk_half_trouble(&pair.sides[0].engine), UVK_HALF_ALONE);
    contact(&pair, 6, true);
    turn(&pair, 1, 2); /* is nothing: nobody hears it */
    pass(&pair, 50);
    pair.cable.pulled = false;
    pass(&pair, 20);
    assert_true(is_down(&pair, 5));
    assert_true(is_down(&pair, 6));
    assert_int_equal(pair.presses[0x21], 0);
    turn(&pair, 1, 2);
    pass(&pair, 20);
    assert_int_equal(pair.presses[0x21], 1);
    pair_close(&pair);
}

/* At any moment, so at any byte: restart one half; what is held there stays or comes back. */
static void either_half_may_restart(void **state)
{
    (void)state;
    for (unsigned which = 0; which < 2; which++) {
        struct pair pair;
        pair_open(&pair, KEYMAP);
        pass(&pair, 20);
        for (unsigned i = 0; i < 40; i++) {
            turn(&pair, 1, 2);
        }
        contact(&pair, 4, true);
        pass(&pair, 20);
        assert_int_equal(pair.presses[0x21], 40);
        start_side(&pair, which);
        pair.cable.pulled =
            which == 0; /* the first scan is over when the other half is heard */
        pass(&pair, 3);
        pair.cable.pulled = false;
        memset(pair.down, 0, sizeof pair.down); /* the host meets it again */
        pass(&pair, 100);
        assert_int_equal(pair.presses[0x21], 40); /* its knob has not turned */
        assert_int_equal(pair.presses[0x20], 0);
        if (which == 0) {
            assert_false(is_down(&pair, 4)); /* down when it began: no press before it was up */
            contact(&pair, 4, false);
            pass(&pair, 20);
            contact(&pair, 4, true);
            pass(&pair, 20);
            assert_true(is_down(&pair, 4));
        }
        turn(&pair, 1, 2);
        pass(&pair, 20);
        assert_int_equal(pair.presses[0x21], 41);
        pair_close(&pair);
    }
}

/* ---- what does not fit together ---------------------------------------------------------- */

/* Questions come over, answers do not: what is turned meanwhile is no burst of steps later. */
static void steps_that_nobody_heard_are_gone(void **state)
{
    struct pair pair;

    (void)state;
    pair_open(&pair, KEYMAP);
    pass(&pair, 20);
    turn(&pair, 1, 2);
    pair.cable.mute = true;
    for (unsigned i = 0; i < 10; i++) {
        turn(&pair, 1, 2);
    }
    pass(&pair, 40);
    pair.cable.mute = false;
    pass(&pair, 100);
    assert_int_equal(pair.presses[0x21], 1);
    /* a short silence loses none */
    pair.cable.mute = true;
    turn(&pair, 1, 2);
    pair.cable.mute = false;
    pass(&pair, 20);
    assert_int_equal(pair.presses[0x21], 2);
    assert_int_equal(pair.presses[0x20], 0);
    pair_close(&pair);
}

/* An answer to an older question is none, and a frame that was cut delays no other. */
static void old_and_cut_answers_are_passed_over(void **state)
{
    struct pair pair;
    uint8_t question[UVK_FRAME_MAX];
    uint8_t old[UVK_FRAME_MAX];
    uint8_t out[UVK_FRAME_MAX];
    struct side *sides;
    uint8_t size;
    uint8_t old_size = 0;

    (void)state;
    pair_open(&pair, KEYMAP);
    sides = pair.sides;
    pass(&pair, 20);
    contact(&pair, 4, true);
    size = uvk_half_ask(&sides[0].engine, 0, question);
    for (uint8_t i = 0; i < size; i++) {
        old_size = uvk_half_take(&sides[1].engine, &sides[1].port, question[i], old);
    }
    assert_true(old_size > 0); /* it says that the key is down, and comes later */
    contact(&pair, 4, false);
    pass(&pair, 1);
    for (unsigned i = 0; i < 40; i++) {
        for (uint8_t at = 0; at < old_size; at++) {
            (void)uvk_half_take(&sides[0].engine, &sides[0].port, old[at], out);
        }
        sides[0].port.time_us += 1000;
        uvk_engine_pass(&sides[0].engine, &sides[0].port, sides[0].port.time_us);
        fetch(&pair);
        assert_false(is_down(&pair, 4));
    }
    pass(&pair, 1);
    give_byte(&pair, 0, UVK_FRAME_STATE); /* the beginning of a long frame */
    give_byte(&pair, 0, UVK_FRAME_BYTES_MAX);
    contact(&pair, 4, true);
    pass(&pair, 2);
    assert_true(is_down(&pair, 4));
    pair_close(&pair);
}

static void halves_that_differ_say_so(void **state)
{
    struct pair pair;
    struct pair other;

    (void)state;
    pair_open(&pair, KEYMAP);
    pair_open(&other,
              SPLIT "keymap k { host linux us; layer base { a b c d; e f g h; knob wheel 1 2; "
                    "knob dial 3 5 } }\n");
    pair.sides[1].engine.image = other.sides[1].engine.image;
    start_as(&pair, 1, true);
    contact(&pair, 4, true);
    pass(&pair, 50);
    assert_false(is_down(&pair, 4));
    assert_int_equal(uvk_half_trouble(&pair.sides[0].engine), UVK_HALF_OTHER_IMAGE);
    assert_int_equal(uvk_half_trouble(&pair.sides[1].engine), UVK_HALF_OTHER_IMAGE);
    /* two left halves */
    start_side(&pair, 1);
    start_as(&pair, 1, false);
    pass(&pair, 50);
    assert_int_equal(uvk_half_trouble(&pair.sides[0].engine), UVK_HALF_SAME_HALF);
    assert_int_equal(uvk_half_trouble(&pair.sides[1].engine), UVK_HALF_SAME_HALF);
    pair_close(&other);
    pair_close(&pair);
}

/* Both see a host: the second half gives way when it hears the first one's question. */
static void the_second_of_two_main_halves_gives_way(void **state)
{
    struct pair pair;
    uint8_t question[UVK_FRAME_MAX];
    uint8_t size;

    (void)state;
    pair_open(&pair, KEYMAP);
    uvk_half_lead(&pair.sides[1].engine, true);
    size = uvk_half_ask(&pair.sides[1].engine, 0, question);
    for (uint8_t i = 0; i < size; i++) {
        give_byte(&pair, 0, question[i]);
    }
    assert_true(uvk_half_leads(&pair.sides[0].engine));
    pass(&pair, 20);
    assert_false(uvk_half_leads(&pair.sides[1].engine));
    contact(&pair, 7, true);
    pass(&pair, 3);
    assert_true(is_down(&pair, 7));
    pair_close(&pair);
}

/* It becomes the main half while a key of its own is down: that is no press. */
static void who_begins_to_lead_presses_nothing(void **state)
{
    struct pair pair;
    struct side *side = &pair.sides[1];

    (void)state;
    pair_open(&pair, KEYMAP);
    contact(&pair, 6, true);
    pass(&pair, 20);
    uvk_half_lead(&side->engine, true);
    for (unsigned i = 0; i < 10; i++) {
        side->port.time_us += 1000;
        uvk_engine_pass(&side->engine, &side->port, side->port.time_us);
    }
    assert_int_equal(side->port.endpoints[1].size, 0);
    assert_true(uvk_engine_idle(&side->engine));
    pair_close(&pair);
}

static void noise_alone_is_told_apart_from_silence(void **state)
{
    struct pair pair;
    uint8_t out[UVK_FRAME_MAX];

    (void)state;
    pair_open(&pair, KEYMAP);
    pair.cable.pulled = true;
    pass(&pair, 100);
    assert_int_equal(uvk_half_trouble(&pair.sides[0].engine), UVK_HALF_ALONE);
    for (unsigned i = 0; i < 200; i++) {
        (void)uvk_half_take(&pair.sides[0].engine, &pair.sides[0].port, (uint8_t)(i * 7), out);
    }
    assert_int_equal(uvk_half_trouble(&pair.sides[0].engine), UVK_HALF_UNINTELLIGIBLE);
    pair_close(&pair);
}

/* ---- a bad cable ------------------------------------------------------------------------- */

/* Fingers at random on all keys for so many events; then all up. Each press is one press at the
 * host, and none stays. */
static void type_over(const struct cable *bad, unsigned events)
{
    struct pair pair;
    unsigned pressed[8] = {0};
    bool closed[8] = {false};
    GRand *random = g_rand_new_with_seed(11);

    pair_open(&pair, KEYMAP);
    pass(&pair, 20);
    g_rand_free(pair.cable.random);
    pair.cable = *bad;
    pair.cable.random = g_rand_new_with_seed(5);
    for (unsigned i = 0; i < events; i++) {
        unsigned key = (unsigned)g_rand_int_range(random, 0, 8);
        closed[key] = !closed[key];
        pressed[key] += closed[key];
        contact(&pair, key, closed[key]);
        pass(&pair, 40); /* longer than any run of losses that these cables have */
        assert_int_equal(is_down(&pair, key), closed[key]);
    }
    for (unsigned key = 0; key < 8; key++) {
        contact(&pair, key, false);
    }
    pass(&pair, 60);
    for (unsigned key = 0; key < 8; key++) {
        assert_false(is_down(&pair, key));
        assert_int_equal(pair.presses[usages[key]], pressed[key]);
    }
    g_rand_free(random);
    pair_close(&pair);
}

static void bad_cables_cost_time_and_no_keys(void **state)
{
    static const struct cable cables[] = {
        {.loses_frame = 10},
        {.loses_frame = 100},
        {.loses_frame = 300},
        {.doubles_frame = 300},
        {.keeps_frame = 300},
        {.loses_byte = 10},
        {.garbles_byte = 10},
        {.adds_byte = 20},
        {.loses_frame = 50,
         .doubles_frame = 50,
         .keeps_frame = 50,
         .loses_byte = 5,
         .garbles_byte = 5,
         .adds_byte = 5},
    };

    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(cables); i++) {
        type_over(&cables[i], few_rounds() ? 300 : 3000);
    }
}

/* Bytes at random for ever: no key, no crash; and then the cable is good again. */
static void random_bytes_are_no_keys(void **state)
{
    struct pair pair;

    (void)state;
    pair_open(&pair, KEYMAP);
    pass(&pair, 20);
    for (unsigned i = 0; i < (few_rounds() ? 20000u : 1000000u); i++) {
        give_byte(&pair, i / 7 % 2, any_byte(&pair.cable));
        if (i % 5000 == 0) {
            pass(&pair, 1);
        }
    }
    pass(&pair, 50);
    for (unsigned usage = 0; usage < 256; usage++) {
        assert_int_equal(pair.presses[usage], 0);
    }
    contact(&pair, 4, true);
    pass(&pair, 5);
    assert_true(is_down(&pair, 4));
    pair_close(&pair);
}

/* ---- frames ------------------------------------------------------------------------------ */

static void frames_are_what_they_are(void **state)
{
    struct uvk_receiver receiver = {.count = 0};
    uint8_t frame[UVK_FRAME_MAX];
    uint8_t content[UVK_FRAME_BYTES_MAX];

    (void)state;
    for (uint8_t size = 0; size <= UVK_FRAME_BYTES_MAX; size++) {
        uint8_t length;
        uint8_t got;
        for (uint8_t i = 0; i < size; i++) {
            content[i] = (uint8_t)(i % 3 == 0 ? UVK_FRAME_STATE : i * 37); /* marks inside */
        }
        length = uvk_frame_put(frame, UVK_FRAME_STATE, content, size);
        assert_int_equal(length, size + 4);
        for (uint8_t i = 0; i < length; i++) {
            assert_int_equal(uvk_receiver_take(&receiver, frame[i]), i == length - 1);
        }
        assert_memory_equal(uvk_receiver_content(&receiver, &got), content, size);
        assert_int_equal(got, size);
    }
    assert_int_equal(receiver.health.good, UVK_FRAME_BYTES_MAX + 1);
    assert_int_equal(receiver.health.broken + receiver.health.stray, 0);
    /* "123456789" with its CRC as tables have it */
    (void)uvk_frame_put(frame, UVK_FRAME_ASK, (const uint8_t *)"123456789", 9);
    assert_int_equal(frame[0], 0x9A);
    assert_int_equal(frame[1], 9);
}

/* A frame behind the beginning of another one is found, whatever was lost of that. */
static void a_cut_frame_hides_none(void **state)
{
    uint8_t frame[UVK_FRAME_MAX];
    const uint8_t content[] = {1, UVK_FRAME_ASK, 3, UVK_FRAME_STATE, 5};
    uint8_t length = uvk_frame_put(frame, UVK_FRAME_STATE, content, sizeof content);

    (void)state;
    for (uint8_t cut = 0; cut < length; cut++) {
        for (uint8_t from = 0; from < length; from++) {
            struct uvk_receiver receiver = {.count = 0};
            unsigned found = 0;
            for (uint8_t i = 0; i < cut; i++) {
                (void)uvk_receiver_take(&receiver, frame[(from + i) % length]);
            }
            uvk_receiver_rest(&receiver); /* the line was quiet */
            for (uint8_t i = 0; i < length; i++) {
                found += uvk_receiver_take(&receiver, frame[i]);
            }
            assert_int_equal(found, 1);
        }
    }
}

/* ---- which half leads ------------------------------------------------------------------- */

/* Two halves with the port's own calls: what one sends, the other hears, unless it is mute. */
struct ends {
    struct pair pair;
    struct wire {
        uint8_t bytes[UVK_FRAME_MAX];
        uint8_t count, taken;
        struct wire *other;
        bool *mute;
    } wires[2];
    bool host[2], mute;
};

static void wire_send(void *link, const uint8_t *bytes, uint8_t size)
{
    struct wire *wire = link;

    if (!*wire->mute) {
        memcpy(wire->other->bytes, bytes, size);
        wire->other->count = size;
        wire->other->taken = 0;
    }
}

static bool wire_take(void *link, uint8_t *byte)
{
    struct wire *wire = link;

    if (wire->taken == wire->count) {
        return false;
    }
    *byte = wire->bytes[wire->taken++];
    return true;
}

static void ends_open_text(struct ends *ends, const char *text, enum uvk_half_role role,
                           bool second_wins)
{
    memset(ends, 0, sizeof *ends);
    pair_open(&ends->pair, text);
    for (unsigned i = 0; i < 2; i++) {
        const struct uvk_half_setup setup = {i == 1, second_wins, role, 2, 1};
        struct uvk_port *port = &ends->pair.sides[i].port;
        assert_int_equal(uvk_half_start(&ends->pair.sides[i].engine, &setup), UVK_OK);
        ends->wires[i].other = &ends->wires[1 - i];
        ends->wires[i].mute = &ends->mute;
        port->link_send = wire_send;
        port->link_take = wire_take;
        port->link = &ends->wires[i];
    }
}

static void ends_open(struct ends *ends, enum uvk_half_role role, bool second_wins)
{
    ends_open_text(ends, KEYMAP, role, second_wins);
}

/* The two are not in step: each has its turn first. */
static void run(struct ends *ends, unsigned milliseconds)
{
    for (unsigned ms = 0; ms < milliseconds; ms++) {
        for (unsigned turn = 0; turn < 2; turn++) {
            unsigned i = (turn + ms) % 2;
            struct side *side = &ends->pair.sides[i];
            side->port.time_us += 1000;
            uvk_half_tick(&side->engine, &side->port, side->port.time_us, ends->host[i]);
            uvk_half_hear(&ends->pair.sides[1 - i].engine, &ends->pair.sides[1 - i].port);
            uvk_half_hear(&side->engine, &side->port);
            if (uvk_half_leads(&side->engine)) {
                uvk_engine_pass(&side->engine, &side->port, side->port.time_us);
            }
        }
    }
}

static void assert_leads(const struct ends *ends, bool first, bool second)
{
    assert_int_equal(uvk_half_leads(&ends->pair.sides[0].engine), first);
    assert_int_equal(uvk_half_leads(&ends->pair.sides[1].engine), second);
}

static void the_half_that_sees_a_host_leads(void **state)
{
    struct ends ends;

    (void)state;
    for (unsigned i = 0; i < 2; i++) {
        ends_open(&ends, UVK_HALF_WITH_HOST, false);
        run(&ends, 50);
        assert_leads(&ends, false, false);
        ends.host[i] = true;
        run(&ends, 50);
        assert_leads(&ends, i == 0, i == 1);
        assert_int_equal(uvk_half_trouble(&ends.pair.sides[i].engine), UVK_HALF_WELL);
        assert_int_equal(uvk_half_is_second(&ends.pair.sides[i].engine), i == 1);
        /* the USB cable goes to the other one */
        ends.host[i] = false;
        ends.host[1 - i] = true;
        run(&ends, 50);
        assert_leads(&ends, i == 1, i == 0);
        pair_close(&ends.pair);
    }
}

/* The main half's next millisecond; does it ask? */
static bool asks(struct ends *ends)
{
    struct side *side = &ends->pair.sides[0];

    ends->wires[1].count = 0;
    side->port.time_us += 1000;
    uvk_half_tick(&side->engine, &side->port, side->port.time_us, true);
    return ends->wires[1].count > 0;
}

/* A keyboard that was busy makes up for its milliseconds in no time. */
static void an_answer_on_its_way_is_waited_for(void **state)
{
    struct ends ends;
    struct side *sides;
    const struct uvk_line_health *health;
    uint16_t good;
    uint8_t size;

    (void)state;
    ends_open(&ends, UVK_HALF_WITH_HOST, false);
    sides = ends.pair.sides;
    health = &sides[0].engine.pair.receiver.health;
    ends.host[0] = true;
    run(&ends, 50);
    while (!asks(&ends)) {
    }
    uvk_half_hear(&sides[1].engine, &sides[1].port);
    size = ends.wires[0].count;
    assert_in_range(size, 6, UVK_FRAME_MAX);
    good = health->good;
    for (uint8_t come = 1; come < size; come++) {
        ends.wires[0].count = come;
        uvk_half_hear(&sides[0].engine, &sides[0].port);
        assert_false(asks(&ends));
    }
    ends.wires[0].count = size;
    uvk_half_hear(&sides[0].engine, &sides[0].port);
    assert_int_equal(health->good, good + 1);
    assert_int_equal(health->broken, 0);
    /* one that is cut off is not waited for */
    assert_true(asks(&ends));
    uvk_half_hear(&sides[1].engine, &sides[1].port);
    ends.wires[0].count = 3;
    uvk_half_hear(&sides[0].engine, &sides[0].port);
    assert_false(asks(&ends));
    assert_true(asks(&ends));
    assert_int_equal(health->broken, 1);
    pair_close(&ends.pair);
}

static void of_two_that_see_a_host_one_gives_way(void **state)
{
    struct ends ends;

    (void)state;
    for (unsigned wins = 0; wins < 2; wins++) {
        ends_open(&ends, UVK_HALF_WITH_HOST, wins == 1);
        ends.host[0] = true;
        ends.host[1] = true;
        run(&ends, 100);
        assert_leads(&ends, wins == 0, wins == 1);
        run(&ends, 5000); /* and keeps to it */
        assert_leads(&ends, wins == 0, wins == 1);
        ends.mute = true; /* parted, each is a keyboard of its own */
        run(&ends, 100);
        assert_leads(&ends, true, true);
        ends.mute = false;
        run(&ends, 100);
        assert_leads(&ends, wins == 0, wins == 1);
        pair_close(&ends.pair);
    }
}

/* Told by the host which half it is: the one that is plugged in is the one that the board
 * names. */
static void the_host_may_say_which_half_it_is(void **state)
{
    struct ends ends;

    (void)state;
    for (unsigned i = 0; i < 4; i++) {
        bool second = i % 2 == 1;
        unsigned plugged = i / 2;
        ends_open(&ends, second ? UVK_HALF_HOST_SECOND : UVK_HALF_HOST_FIRST, second);
        ends.host[plugged] = true;
        run(&ends, 50);
        assert_leads(&ends, plugged == 0, plugged == 1);
        assert_int_equal(uvk_half_is_second(&ends.pair.sides[plugged].engine), second);
        assert_int_equal(uvk_half_is_second(&ends.pair.sides[1 - plugged].engine), !second);
        assert_int_equal(uvk_half_trouble(&ends.pair.sides[plugged].engine), UVK_HALF_WELL);
        ends.host[1 - plugged] = true; /* too late: it stays what it is */
        run(&ends, 100);
        assert_leads(&ends, plugged == 0, plugged == 1);
        assert_int_equal(uvk_half_is_second(&ends.pair.sides[1 - plugged].engine), !second);
        pair_close(&ends.pair);
    }
}

/* ---- one light, to look at it ------------------------------------------------------------ */

#define LIT_WITH(lights)                                                                       \
    "board wings {\n chip rp2040\n halves left right { main usb; link uart GP0 GP1 }\n"        \
    " matrix { rows GP2 GP3; cols GP4 GP5; flow row->col }\n"                                  \
    " strip GP8 { count 2; limit 400mA }\n lamp num-lock GP10\n lamp caps-lock GP11\n"         \
    " keys left {\n r0c0 r0c1\n r1c0 r1c1\n }\n keys right mirror left gap 1\n}\n"             \
    "keymap k {\n lights { " lights " }\n layer base {\n a b c d\n e f g h\n }\n}\n"

/* The red of both lamps of the half SIDE. */
static void assert_red(const struct ends *ends, unsigned side, uint8_t first, uint8_t second)
{
    const struct uvk_port *port = &ends->pair.sides[side].port;

    assert_int_equal(port->strip_count, 2);
    assert_int_equal(port->strip[0], first);
    assert_int_equal(port->strip[3], second);
}

static void assert_as_ever(const struct ends *ends, unsigned side)
{
    const uint8_t green[] = {0, 64, 0, 0, 64, 0}; /* half as bright, as the eye sees it */

    assert_memory_equal(ends->pair.sides[side].port.strip, green, sizeof green);
}

static void one_light_of_the_other_half(void **state)
{
    const struct uvk_colour red = {200, 0, 0};
    struct uvk_engine *leader;
    struct ends ends;

    (void)state;
    ends_open_text(&ends, LIT_WITH("colour #00ff00"), UVK_HALF_WITH_HOST, false);
    leader = &ends.pair.sides[0].engine;
    ends.host[0] = true;
    run(&ends, 50);
    uvk_lights_show(leader, UVK_SHOWN_STRIP, 3, red, 2);
    run(&ends, 100);
    assert_red(&ends, 0, 0, 0);
    assert_red(&ends, 1, 0, 200);
    assert_int_equal(uvk_half_trouble(leader), UVK_HALF_WELL);
    run(&ends, 2000);
    assert_as_ever(&ends, 0);
    assert_as_ever(&ends, 1);
    uvk_lights_show(leader, UVK_SHOWN_LAMP, 1, red, 60);
    run(&ends, 20);
    assert_int_equal(ends.pair.sides[0].port.lit, 2);
    assert_int_equal(ends.pair.sides[1].port.lit, 2);
    ends.mute = true; /* a cable that is pulled does not keep it lit */
    run(&ends, 1100);
    assert_int_equal(ends.pair.sides[1].port.lit, 0);
    pair_close(&ends.pair);
}

/* The other half breathes as smoothly as the main one, and with it. */
static void both_halves_breathe_as_one(void **state)
{
    struct ends ends;
    int most = 0;

    (void)state;
    ends_open_text(&ends, LIT_WITH("effect breathe; colour #00ff00; speed 2s"),
                   UVK_HALF_WITH_HOST, false);
    ends.host[0] = true;
    run(&ends, 100);
    for (unsigned ms = 0; ms < 2000; ms++) {
        int green[2];
        run(&ends, 1);
        for (unsigned side = 0; side < 2; side++) {
            green[side] = ends.pair.sides[side].port.strip[1];
        }
        assert_in_range(green[0] - green[1] + 2, 0, 4);
        most = MAX(most, green[1]);
    }
    assert_in_range(most, 60, 64);
    pair_close(&ends.pair);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(one_light_of_the_other_half),
        cmocka_unit_test(both_halves_breathe_as_one),
        cmocka_unit_test(keys_of_both_halves_reach_the_host),
        cmocka_unit_test(knobs_of_both_halves_turn),
        cmocka_unit_test(pulled_keys_come_up_and_come_back),
        cmocka_unit_test(either_half_may_restart),
        cmocka_unit_test(the_half_that_sees_a_host_leads),
        cmocka_unit_test(an_answer_on_its_way_is_waited_for),
        cmocka_unit_test(of_two_that_see_a_host_one_gives_way),
        cmocka_unit_test(the_host_may_say_which_half_it_is),
        cmocka_unit_test(steps_that_nobody_heard_are_gone),
        cmocka_unit_test(old_and_cut_answers_are_passed_over),
        cmocka_unit_test(halves_that_differ_say_so),
        cmocka_unit_test(the_second_of_two_main_halves_gives_way),
        cmocka_unit_test(who_begins_to_lead_presses_nothing),
        cmocka_unit_test(noise_alone_is_told_apart_from_silence),
        cmocka_unit_test(bad_cables_cost_time_and_no_keys),
        cmocka_unit_test(random_bytes_are_no_keys),
        cmocka_unit_test(frames_are_what_they_are),
        cmocka_unit_test(a_cut_frame_hides_none),
    };

    return cmocka_run_group_tests(tests, NULL, NULL);
}
