/* matrix.c - the pins of matrix, direct switches and knobs, as straight code made from the
 * configuration: of each half n UVK_LINES_n(X), UVK_SENSES_n(X), UVK_DIRECT_n(X) and
 * UVK_KNOBS_n(X) name index, port letter and bit of every pin; of knob k the pins 2k and 2k
 * + 1. The second half's lines begin at UVK_SECOND_LINE. */
#include "port_atmega32u4.h"

#include <avr/io.h>
#ifndef F_CPU
#define F_CPU 16000000UL
#endif
#include <util/delay.h>

#define PULL_UP(index, port, bit)                                                              \
    DDR##port &= (uint8_t)~_BV(bit);                                                           \
    PORT##port |= _BV(bit);

/* A switch to power has a resistor to ground beside it; its pin is not pulled. */
#define NO_PULL(index, port, bit) DDR##port &= (uint8_t)~_BV(bit);

#define SELECT(index, port, bit)                                                               \
    if (line == (index)) {                                                                     \
        PORT##port &= (uint8_t)~_BV(bit);                                                      \
        DDR##port |= _BV(bit);                                                                 \
    }

#define LET_GO(index, port, bit)                                                               \
    if (line == (index)) {                                                                     \
        DDR##port &= (uint8_t)~_BV(bit);                                                       \
        PORT##port |= _BV(bit);                                                                \
    }

#define READ_LOW(index, port, bit)                                                             \
    if (!(PIN##port & _BV(bit))) {                                                             \
        bits |= (uvk_bits)((uvk_bits)1 << (index));                                            \
    }

#define READ_HIGH(index, port, bit)                                                            \
    if (PIN##port & _BV(bit)) {                                                                \
        bits |= (uvk_bits)((uvk_bits)1 << (index));                                            \
    }

#define READ_PHASE(index, port, bit)                                                           \
    if (knob == (index) / 2 && !(PIN##port & _BV(bit))) {                                      \
        phases |= (uint8_t)(1u << ((index)&1u));                                               \
    }

#if UVK_TO_POWER_0
#define PULL_DIRECT_0 NO_PULL
#define READ_DIRECT_0 READ_HIGH
#else
#define PULL_DIRECT_0 PULL_UP
#define READ_DIRECT_0 READ_LOW
#endif

#if UVK_HALVES > 1 && UVK_TO_POWER_1
#define PULL_DIRECT_1 NO_PULL
#define READ_DIRECT_1 READ_HIGH
#else
#define PULL_DIRECT_1 PULL_UP
#define READ_DIRECT_1 READ_LOW
#endif

void uvk_matrix_start(bool first, bool second)
{
    if (first) {
        UVK_LINES_0(PULL_UP)
        UVK_SENSES_0(PULL_UP)
        UVK_DIRECT_0(PULL_DIRECT_0)
        UVK_KNOBS_0(PULL_UP)
    }
#if UVK_HALVES > 1
    if (second) {
        UVK_LINES_1(PULL_UP)
        UVK_SENSES_1(PULL_UP)
        UVK_DIRECT_1(PULL_DIRECT_1)
        UVK_KNOBS_1(PULL_UP)
    }
#endif
    (void)second;
}

/* A wire that a switch has pulled low comes up again by its pull-up alone: 10 us at 50 kOhm and
 * 400 pF. Until then the next line would see the keys of this one. It is looked at before every
 * line, whatever was read: a contact may have closed since. A sense that stays low, shorted
 * say, is not waited for longer than this many rounds, of 8 cycles each at least. */
#define ROUNDS_MOST 40u

/* The senses in a port, as a mask that the compiler works out. */
#define IN_B(index, port, bit) | (#port[0] == 'B' ? _BV(bit) : 0)
#define IN_C(index, port, bit) | (#port[0] == 'C' ? _BV(bit) : 0)
#define IN_D(index, port, bit) | (#port[0] == 'D' ? _BV(bit) : 0)
#define IN_E(index, port, bit) | (#port[0] == 'E' ? _BV(bit) : 0)
#define IN_F(index, port, bit) | (#port[0] == 'F' ? _BV(bit) : 0)

#define ARE_UP(levels, mask) ((mask) == 0 || ((levels) & (mask)) == (mask))
#define ALL_UP(SENSES)                                                                         \
    (ARE_UP(PINB, (0 SENSES(IN_B))) && ARE_UP(PINC, (0 SENSES(IN_C))) &&                       \
     ARE_UP(PIND, (0 SENSES(IN_D))) && ARE_UP(PINE, (0 SENSES(IN_E))) &&                       \
     ARE_UP(PINF, (0 SENSES(IN_F))))

static bool senses_are_up(uint8_t line)
{
    (void)line;
#if UVK_HALVES > 1
    if (line >= UVK_SECOND_LINE) {
        return ALL_UP(UVK_SENSES_1);
    }
#endif
    return ALL_UP(UVK_SENSES_0);
}

static void wait_for_senses(uint8_t line)
{
    for (uint8_t round = ROUNDS_MOST; !senses_are_up(line) && round > 0; round--) {
    }
}

uvk_bits uvk_port_read_line(struct uvk_port *self, uint8_t line)
{
    uvk_bits bits = 0;

    (void)self;
#if UVK_DIRECT_COUNT_0 > 0
    if (line == UVK_DIRECT_LINE_0) {
        UVK_DIRECT_0(READ_DIRECT_0)
        return bits;
    }
#endif
#if UVK_HALVES > 1 && UVK_DIRECT_COUNT_1 > 0
    if (line == UVK_DIRECT_LINE_1) {
        UVK_DIRECT_1(READ_DIRECT_1)
        return bits;
    }
#endif
    wait_for_senses(line);
    UVK_LINES_0(SELECT)
    UVK_LINES_1(SELECT)
    _delay_us(UVK_SETTLE_US);
#if UVK_HALVES > 1
    if (line >= UVK_SECOND_LINE) {
        UVK_SENSES_1(READ_LOW)
    } else
#endif
    {
        UVK_SENSES_0(READ_LOW)
    }
    UVK_LINES_0(LET_GO)
    UVK_LINES_1(LET_GO)
    return bits;
}

#if UVK_USE_PROBE
void uvk_port_hold_line(struct uvk_port *self, uint8_t line, bool low)
{
    (void)self;
    if (low) {
        UVK_LINES_0(SELECT)
    } else {
        UVK_LINES_0(LET_GO)
    }
}
#endif

#if UVK_MAX_KNOBS > 0
uint8_t uvk_port_read_knob(struct uvk_port *self, uint8_t knob)
{
    uint8_t phases = 0;

    (void)self;
    UVK_KNOBS_0(READ_PHASE)
    UVK_KNOBS_1(READ_PHASE)
    return phases;
}
#endif
