/* matrix.c - the pins of matrix and knobs, as straight code made from the configuration:
 * UVK_LINES(X), UVK_SENSES(X), UVK_DIRECT(X) and UVK_KNOBS(X) name index, port letter and bit
 * of every pin; of knob n the pins 2n and 2n + 1. */
#include "port_atmega32u4.h"

#include <avr/io.h>
#ifndef F_CPU
#define F_CPU 16000000UL
#endif
#include <util/delay.h>

#define PULL_UP(index, port, bit)                                                              \
    DDR##port &= (uint8_t)~_BV(bit);                                                           \
    PORT##port |= _BV(bit);

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

#define READ(index, port, bit)                                                                 \
    if (!(PIN##port & _BV(bit))) {                                                             \
        bits |= (uvk_bits)((uvk_bits)1 << (index));                                            \
    }

#define READ_PHASE(index, port, bit)                                                           \
    if (knob == (index) / 2 && !(PIN##port & _BV(bit))) {                                      \
        phases |= (uint8_t)(1u << ((index)&1u));                                               \
    }

#define READ_HIGH(index, port, bit)                                                            \
    if (PIN##port & _BV(bit)) {                                                                \
        bits |= (uvk_bits)((uvk_bits)1 << (index));                                            \
    }

/* A switch to power has a resistor to ground beside it; its pin is not pulled. */
#if UVK_DIRECT_TO_POWER
#define PULL_DIRECT(index, port, bit) DDR##port &= (uint8_t)~_BV(bit);
#define READ_DIRECT                   READ_HIGH
#else
#define PULL_DIRECT PULL_UP
#define READ_DIRECT READ
#endif

void uvk_matrix_start(void){UVK_LINES(PULL_UP) UVK_SENSES(PULL_UP) UVK_DIRECT(PULL_DIRECT)
                                UVK_KNOBS(PULL_UP)}

uvk_bits uvk_port_read_line(struct uvk_port *self, uint8_t line)
{
    uvk_bits bits = 0;

    (void)self;
#if UVK_DIRECT_COUNT > 0
    if (line == UVK_DIRECT_LINE) {
        UVK_DIRECT(READ_DIRECT)
        return bits;
    }
#endif
    UVK_LINES(SELECT)
    _delay_us(UVK_SETTLE_US);
    UVK_SENSES(READ)
    UVK_LINES(LET_GO)
    return bits;
}

#if UVK_MAX_KNOBS > 0
uint8_t uvk_port_read_knob(struct uvk_port *self, uint8_t knob)
{
    uint8_t phases = 0;

    (void)self;
    UVK_KNOBS(READ_PHASE)
    return phases;
}
#endif
