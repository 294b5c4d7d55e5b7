/* memory.c - the EEPROM (section 5.3): what outlives the power. A byte is erased or written in
 * a few milliseconds, and all else goes on meanwhile. */
#include "port_atmega32u4.h"

#if UVK_USE_JOURNAL

#include <avr/interrupt.h>
#include <avr/io.h>

#define ERASE_ONLY _BV(EEPM0)
#define WRITE_ONLY _BV(EEPM1)

bool uvk_port_memory_ready(struct uvk_port *self)
{
    (void)self;
    return !(EECR & _BV(EEPE));
}

UVK_ONE_COPY uint8_t uvk_port_memory_read(struct uvk_port *self, uint16_t at)
{
    while (!uvk_port_memory_ready(self)) {
    }
    EEAR = at;
    EECR = _BV(EERE);
    return EEDR;
}

/* The two writes within four cycles of one another, whatever a compiler makes of C. */
static UVK_ONE_COPY void begin(uint16_t at, uint8_t byte, uint8_t mode)
{
    EEAR = at;
    EEDR = byte;
    cli();
    __asm__ volatile("out %0, %1\n\tsbi %0, %2"
                     :
                     : "I"(_SFR_IO_ADDR(EECR)), "r"((uint8_t)(mode | _BV(EEMPE))), "I"(EEPE));
    sei();
}

void uvk_port_memory_write(struct uvk_port *self, uint16_t at, const uint8_t *bytes,
                           uint8_t size)
{
    (void)self;
    (void)size; /* a piece is a byte */
    begin(at, *bytes, WRITE_ONLY);
}

/* What is erased is spared. */
void uvk_port_memory_erase(struct uvk_port *self, uint16_t at)
{
    if (uvk_port_memory_read(self, at) != 0xFFu) {
        begin(at, 0xFFu, ERASE_ONLY);
    }
}

#endif
