/* stack.c - the most stack that machine code can take, by walking through all of it.
 *
 * Every way through the code is followed with what is on the stack; what a call takes is found
 * once. Code that calls through pointers, or itself, cannot be told: then the answer is 0.
 * Instruction codes: AVR Instruction Set Manual; frames as avr-gcc makes them. */
#include "parts.h"

#include <string.h>

#define DEPTH_MOST   4096 /* more than any of these chips has */
#define STATES_MOST  200000u
#define RETURN_BYTES 2
#define UNKNOWN      (-1)

struct walk {
    const uint8_t *code;
    uint32_t size;
    GHashTable *calls; /* of struct called, by their addresses */
    unsigned states;
    bool failed;
};

/* What the code from an address on takes, when it is called. */
struct called {
    int depth;    /* without the return address; UNKNOWN: it is being walked through */
    bool returns; /* else nothing behind the call is reached by it */
};

/* A place in the code, and what is known of the registers there. */
struct state {
    uint32_t at;   /* bytes */
    int depth;     /* bytes on the stack since the function began */
    int framing;   /* 1: the stack pointer is in Y, to be changed; 2: it was, by X */
    int frame;     /* where Y points to then, as a depth */
    int frame_low; /* the low byte of what Y is about to be lowered by */
    int reg[6];    /* r26..r31 as they were loaded with a constant last, else UNKNOWN */
};

static guint hash_state(gconstpointer key)
{
    const struct state *state = key;

    return state->at * 31u + (guint)state->depth * 7919u + (guint)state->reg[4] * 257u +
           (guint)state->reg[5] * 65537u + (guint)state->reg[0] * 8191u;
}

static gboolean same_state(gconstpointer a, gconstpointer b)
{
    return memcmp(a, b, sizeof(struct state)) == 0;
}

static unsigned word_at(const struct walk *walk, uint32_t at)
{
    return at + 1 < walk->size ? walk->code[at] | (unsigned)walk->code[at + 1] << 8 : 0;
}

/* LDS, STS, JMP, CALL. */
static bool is_long(unsigned word)
{
    return (word & 0xFC0Fu) == 0x9000u || (word & 0xFE0Cu) == 0x940Cu;
}

static uint32_t long_target(const struct walk *walk, uint32_t at, unsigned word)
{
    unsigned high = (word >> 3 & 0x3Eu) | (word & 1u);

    return (high << 16 | word_at(walk, at + 2)) * 2u;
}

/* BITS of a word as a signed number of words, from the instruction behind AT. */
static uint32_t near_target(uint32_t at, unsigned word, unsigned shift, unsigned bits)
{
    int offset = (int)(word >> shift & ((1u << bits) - 1u));

    if (offset >> (bits - 1u)) {
        offset -= 1 << bits;
    }
    return (uint32_t)((int)at + 2 + 2 * offset);
}

static struct called find_called(struct walk *walk, uint32_t address);

/* ---- what an instruction does to the state ---------------------------------------------- */

/* LDI of X or Z. Nothing else is looked at: avr-gcc loads them right before it needs them so.
 */
static void load_constant(struct state *state, unsigned word)
{
    unsigned reg = 16u + (word >> 4 & 15u);

    if (reg >= 26 && (reg & ~1u) != 28) {
        state->reg[reg - 26] = (int)((word >> 4 & 0xF0u) | (word & 0x0Fu));
    }
}

/* Where ways part no constant is carried along: there would be too many of them. */
static void forget(struct state *state)
{
    for (size_t i = 0; i < G_N_ELEMENTS(state->reg); i++) {
        state->reg[i] = UNKNOWN;
    }
}

/* Between IN and OUT of the stack pointer Y goes down by a constant, in two instructions or
 * one, or by X. False: by who knows what. */
static bool move_frame(struct state *state, unsigned word)
{
    int constant = (int)((word >> 4 & 0xF0u) | (word & 0x0Fu));

    if ((word & 0xF0F0u) == 0x50C0u) { /* SUBI r28 */
        state->frame_low = constant;
    } else if ((word & 0xF0F0u) == 0x40D0u) { /* SBCI r29 */
        state->frame += (int16_t)(constant << 8 | state->frame_low);
    } else if (word == 0x09D1u) { /* SBC r29, r1, which is zero */
        state->frame += state->frame_low;
    } else if ((word & 0xFF30u) == 0x9720u) { /* SBIW r28 */
        state->frame += (int)((word >> 2 & 0x30u) | (word & 0x0Fu));
    } else if ((word & 0xFF30u) == 0x9620u) { /* ADIW r28: the end of a frame that calls made */
        state->framing = 0;
    } else if (word == 0x1BCAu) { /* SUB r28, r26 */
        state->frame_low = state->reg[0];
    } else if (word == 0x0BDBu) { /* SBC r29, r27 */
        if (state->reg[0] == UNKNOWN || state->reg[1] == UNKNOWN) {
            return false;
        }
        state->frame += state->reg[1] << 8 | state->frame_low;
        state->framing = 2;       /* perhaps by nothing */
    } else if (word == 0x0FCEu) { /* ADD r28, r30: what the library gives back at an end */
        state->framing = 0;
    } else if (word == 0xBFCDu) { /* OUT SPL, r28 */
        if (state->frame == state->depth && state->framing != 2) {
            return false; /* Y has moved, and not in a way that is known here */
        }
        state->depth = state->frame;
        state->framing = 0;
        state->frame = 0;
        state->frame_low = 0;
    }
    return true;
}

/* What a function gives back at its end is not counted: it has been deepest before. False: what
 * the instruction does to the stack cannot be told. */
static bool change(struct state *state, unsigned word)
{
    if ((word & 0xFE0Fu) == 0x920Fu) { /* PUSH */
        state->depth++;
    } else if ((word & 0xFE0Fu) == 0x900Fu) { /* POP */
        state->depth--;
    } else if ((word & 0xF000u) == 0xE000u) { /* LDI */
        load_constant(state, word);
    } else if (word == 0xB7CDu) { /* IN r28, SPL */
        state->framing = 1;
        state->frame = state->depth;
    } else if (state->framing) {
        return move_frame(state, word);
    }
    return true;
}

/* ---- where it goes on ------------------------------------------------------------------- */

/* States that are still to be looked at, and those that were. */
struct ways {
    GArray *open;
    GHashTable *seen;
    struct called found; /* so far */
};

static void go(const struct walk *walk, struct ways *ways, const struct state *from,
               uint32_t to)
{
    struct state next = *from;

    next.at = to;
    if (to == 0 || to >= walk->size) {
        return; /* the chip starts anew, or its bootloader does */
    }
    if (!g_hash_table_contains(ways->seen, &next)) {
        g_hash_table_add(ways->seen, g_memdup2(&next, sizeof next));
        g_array_append_val(ways->open, next);
    }
}

static void call(struct walk *walk, struct ways *ways, struct state *state, uint32_t target,
                 uint32_t behind)
{
    struct called called = {0, true};

    if (target == behind) { /* how avr-gcc makes room for two bytes */
        state->depth += RETURN_BYTES;
    } else {
        called = find_called(walk, target);
        forget(state);
        ways->found.depth = MAX(ways->found.depth, state->depth + RETURN_BYTES + called.depth);
    }
    if (called.returns) {
        go(walk, ways, state, behind);
    }
}

/* CPSE, SBRC, SBRS, SBIC, SBIS. */
static bool is_skip(unsigned word)
{
    return (word & 0xFC00u) == 0x1000u || (word & 0xFC08u) == 0xFC00u ||
           (word & 0xFD00u) == 0x9900u;
}

static void step(struct walk *walk, struct ways *ways, struct state state)
{
    unsigned word = word_at(walk, state.at);
    uint32_t behind = state.at + (is_long(word) ? 4u : 2u);

    if (word == 0x9508u || word == 0x9518u) { /* RET, RETI */
        ways->found.returns = true;
        return;
    }
    if (word == 0x9509u || (word == 0x9409u && (state.reg[4] | state.reg[5]) < 0)) {
        walk->failed = true; /* ICALL, or IJMP to who knows where */
    } else if (word == 0x9409u) {
        go(walk, ways, &state, (uint32_t)(state.reg[5] << 8 | state.reg[4]) * 2u);
    } else if ((word & 0xFE0Eu) == 0x940Cu) {
        go(walk, ways, &state, long_target(walk, state.at, word));
    } else if ((word & 0xF000u) == 0xC000u) {
        go(walk, ways, &state, near_target(state.at, word, 0, 12));
    } else if ((word & 0xFE0Eu) == 0x940Eu) {
        call(walk, ways, &state, long_target(walk, state.at, word), behind);
    } else if ((word & 0xF000u) == 0xD000u) {
        call(walk, ways, &state, near_target(state.at, word, 0, 12), behind);
    } else {
        walk->failed |= !change(&state, word);
        if ((word & 0xF800u) == 0xF000u) {
            forget(&state);
            go(walk, ways, &state, near_target(state.at, word, 3, 7));
        } else if (is_skip(word)) {
            forget(&state);
            go(walk, ways, &state, behind + (is_long(word_at(walk, behind)) ? 4u : 2u));
        }
        go(walk, ways, &state, behind);
    }
    ways->found.depth = MAX(ways->found.depth, state.depth);
}

/* What the code from ADDRESS on takes. */
static struct called walk_from(struct walk *walk, uint32_t address)
{
    struct state state = {.at = address,
                          .reg = {UNKNOWN, UNKNOWN, UNKNOWN, UNKNOWN, UNKNOWN, UNKNOWN}};
    struct ways ways = {g_array_new(FALSE, FALSE, sizeof(struct state)),
                        g_hash_table_new_full(hash_state, same_state, g_free, NULL),
                        {0, false}};

    g_array_append_val(ways.open, state);
    while (ways.open->len > 0 && !walk->failed) {
        state = g_array_index(ways.open, struct state, ways.open->len - 1);
        g_array_set_size(ways.open, ways.open->len - 1);
        step(walk, &ways, state);
        walk->failed |= ++walk->states > STATES_MOST || state.depth > DEPTH_MOST;
    }
    g_array_free(ways.open, TRUE);
    g_hash_table_unref(ways.seen);
    return ways.found;
}

static struct called find_called(struct walk *walk, uint32_t address)
{
    struct called *called = g_hash_table_lookup(walk->calls, GUINT_TO_POINTER(address));

    if (called != NULL) {
        walk->failed |= called->depth == UNKNOWN; /* it calls itself */
        return *called;
    }
    called = g_new(struct called, 1);
    *called = (struct called){UNKNOWN, false};
    g_hash_table_insert(walk->calls, GUINT_TO_POINTER(address), called);
    *called = walk_from(walk, address);
    return *called;
}

unsigned stack_most(const uint8_t *code, size_t size, unsigned vectors)
{
    struct walk walk = {code, (uint32_t)size, g_hash_table_new_full(NULL, NULL, NULL, g_free),
                        0, false};
    int most = walk_from(&walk, 0).depth;
    int interrupt = 0;

    for (uint32_t vector = 1; vector < vectors; vector++) {
        interrupt = MAX(interrupt, RETURN_BYTES + find_called(&walk, vector * 4u).depth);
    }
    g_hash_table_unref(walk.calls);
    return walk.failed ? 0 : (unsigned)(most + interrupt);
}
