/* matrix.c - the pins of the matrix, as straight code made from the configuration:
 * UVK_LINES(X) and UVK_SENSES(X) name index, port letter and bit of every pin. */
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

void uvk_matrix_start(void){UVK_LINES(PULL_UP) UVK_SENSES(PULL_UP)}

uvk_bits uvk_port_read_line(struct uvk_port *self, uint8_t line)
{
    uvk_bits bits = 0;

    (void)self;
    UVK_LINES(SELECT)
    _delay_us(UVK_SETTLE_US);
    UVK_SENSES(READ)
    UVK_LINES(LET_GO)
    return bits;
}
