/* noise.c - what nobody can foresee: the thermometer's last bits, read faster than it is good
 * at (section 24.5 wants 200 kHz for ten bits; this is 2 MHz). */
#include "port_atmega32u4.h"

#if UVK_USE_LIVE

#include <avr/io.h>

#define THERMOMETER (_BV(REFS1) | _BV(REFS0) | 7) /* 2.56 V; with MUX5 the channel 100111 */
#define CLOCK_BY_8  (_BV(ADPS1) | _BV(ADPS0))

/* Takes 25 clocks of the converter, 13 us, as it has just been switched on. The timer's count
 * says when that was asked for, which is up to the host's clock. */
uint8_t uvk_port_noise(struct uvk_port *self)
{
    uint8_t noise;

    (void)self;
    ADMUX = THERMOMETER;
    ADCSRB = _BV(MUX5);
    ADCSRA = (uint8_t)(_BV(ADEN) | _BV(ADSC) | CLOCK_BY_8);
    while (ADCSRA & _BV(ADSC)) {
    }
    noise = (uint8_t)(ADCL ^ TCNT0);
    (void)ADCH; /* the two are read in this order */
    ADCSRA = 0;
    return noise;
}

#endif
