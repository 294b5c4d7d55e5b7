/* link.c - the cable to the other half: the USART (section 18). On one wire it only receives;
 * what goes out is timed by timer 3, for the USART cannot let go of a line. */
#include "port_atmega32u4.h"

#if UVK_USE_LINK

#include <avr/interrupt.h>
#include <avr/io.h>
#include <string.h>

#ifndef F_CPU
#define F_CPU 16000000UL
#endif

/* Twice the speed: eight cycles times (divider + 1) make a bit (table 18-1). */
#define DIVIDER    ((F_CPU / 4u / UVK_LINK_SPEED + 1u) / 2u - 1u)
#define BIT_CYCLES (8u * (DIVIDER + 1u))

/* What has come, and has not been taken: more than arrives during the longest pass. */
#define RING 32u /* a power of two */
static volatile uint8_t ring[RING];
static volatile uint8_t ring_end;
static uint8_t ring_start;

/* A byte with a broken frame is passed on too: a CRC will tell. A full ring drops what comes.
 */
ISR(USART1_RX_vect)
{
    uint8_t byte = UDR1;
    uint8_t next = (uint8_t)(ring_end + 1u) & (RING - 1u);

    if (next != ring_start) {
        ring[ring_end] = byte;
        ring_end = next;
    }
}

bool uvk_link_has_come(void)
{
    return ring_start != ring_end;
}

bool uvk_port_link_take(struct uvk_port *self, uint8_t *byte)
{
    (void)self;
    if (!uvk_link_has_come()) {
        return false;
    }
    *byte = ring[ring_start];
    ring_start = (uint8_t)(ring_start + 1u) & (RING - 1u);
    return true;
}

#define PULL_UP(index, port, bit)                                                              \
    DDR##port &= (uint8_t)~_BV(bit);                                                           \
    PORT##port |= _BV(bit);

#if UVK_LINK_ONE_WIRE

#define PULL_DOWN(index, port, bit)                                                            \
    PORT##port &= (uint8_t)~_BV(bit);                                                          \
    DDR##port |= _BV(bit);

#define LISTENING (uint8_t)(_BV(RXCIE1) | _BV(RXEN1))

void uvk_link_start(void)
{
    UVK_LINK_RECEIVES(PULL_UP)
    TCCR3B = _BV(CS30); /* it counts cycles */
    UBRR1 = DIVIDER;
    UCSR1A = _BV(U2X1);
    UCSR1B = LISTENING;
}

/* Eight bits between a low one and a high one, each for BIT_CYCLES. */
static void send_byte(uint8_t byte)
{
    uint16_t bits = (uint16_t)((uint16_t)byte << 1 | 0x200u);
    uint16_t next = TCNT3;

    for (uint8_t i = 0; i < 10; i++) {
        if ((bits & 1u) != 0) {
            UVK_LINK_RECEIVES(PULL_UP)
        } else {
            UVK_LINK_RECEIVES(PULL_DOWN)
        }
        bits >>= 1;
        next = (uint16_t)(next + BIT_CYCLES);
        while ((int16_t)(TCNT3 - next) < 0) {
        }
    }
}

/* A byte at a time without interrupts: between two, the clock's tick gets its turn. */
UVK_ONE_COPY void uvk_port_link_send(struct uvk_port *self, const uint8_t *bytes, uint8_t size)
{
    (void)self;
    UCSR1B = 0; /* it does not hear itself */
    for (; size > 0; size--) {
        cli();
        send_byte(*bytes++);
        sei();
    }
    UCSR1B = LISTENING;
}

#else

static uint8_t frame[UVK_FRAME_MAX];
static const uint8_t *volatile next;
static volatile uint8_t left;

ISR(USART1_UDRE_vect)
{
    UDR1 = *next++;
    if (--left == 0) {
        UCSR1B &= (uint8_t)~_BV(UDRIE1);
    }
}

void uvk_link_start(void)
{
    UVK_LINK_RECEIVES(PULL_UP) /* a cable that is out says nothing */
    UBRR1 = DIVIDER;
    UCSR1A = _BV(U2X1);
    UCSR1B = _BV(RXCIE1) | _BV(RXEN1) | _BV(TXEN1);
}

void uvk_port_link_send(struct uvk_port *self, const uint8_t *bytes, uint8_t size)
{
    (void)self;
    if (left > 0) {
        return;
    }
    memcpy(frame, bytes, size);
    next = frame;
    left = size;
    UCSR1B |= _BV(UDRIE1);
}

#endif
#endif
