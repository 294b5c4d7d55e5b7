/* probe.c - every pin of a chip against all others, to learn how a board is wired.
 *
 * Lines and senses are the same pins; the last line selects none. A pin that is low without any
 * help is joined to ground, by a switch of its own or a knob: it is told there, once, and of no
 * line. */
#include "parts.h"
#include "uvrek/port.h"

#if UVK_USE_PROBE

#define PINS (UVK_MAX_LINES - 1u)

/* Milliseconds between two scans, a power of two: fingers are not faster, and the chip has time
 * for its host. */
#define SCAN_MS 4u

static uvk_bits bit_of(uint8_t pin)
{
    return (uvk_bits)((uvk_bits)1 << pin);
}

void uvk_scan(struct uvk_engine *engine, struct uvk_port *port)
{
    uvk_bits low[PINS];
    uvk_bits grounded;

    if ((engine->now & (SCAN_MS - 1u)) != 0) {
        return;
    }
    grounded = uvk_port_read_line(port, PINS);
    for (uint8_t pin = 0; pin < PINS; pin++) {
        low[pin] = (uvk_bits)(uvk_port_read_line(port, pin) & ~bit_of(pin));
    }
    grounded |= uvk_port_read_line(port, PINS); /* it may have closed meanwhile */
    for (uint8_t pin = 0; pin < PINS; pin++) {
        (void)uvk_line_take(
            engine, pin, (grounded & bit_of(pin)) != 0 ? 0 : (uvk_bits)(low[pin] & ~grounded));
    }
    (void)uvk_line_take(engine, PINS, grounded);
    engine->scanned = true;
}

#endif
