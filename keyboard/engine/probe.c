/* probe.c - every pin of a chip against all others, to learn how a board is wired; and which
 * pins a cable joins to those of another one.
 *
 * Lines and senses are the same pins; the last line selects none. A pin that is low without any
 * help is joined to ground, by a switch of its own or a knob: it is told there, once, and of no
 * line. */
#include "parts.h"
#include "uvrek/call.h"
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

static void look(struct uvk_engine *engine, struct uvk_port *port)
{
    uvk_bits low[PINS];
    uvk_bits grounded;

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
}

/* A probe without a host calls: each pin says its own number, all of them at once, in pulses
 * like those of call.h. A cable to another probe brings them to a pin of that one, which tells
 * its host that it is joined to ground, and not any more. */
static void call(struct uvk_engine *engine, struct uvk_port *port)
{
    uint8_t slot = (uint8_t)(engine->now / UVK_CALL_SLOT_MS % UVK_CALL_SLOTS);
    uint8_t part = (uint8_t)(engine->now % UVK_CALL_SLOT_MS / UVK_CALL_SHORT_MS);

    for (uint8_t pin = 0; pin < PINS; pin++) {
        bool one = (pin >> slot & 1u) != 0;
        uvk_port_hold_line(port, pin, slot < UVK_CALL_BITS && part < (one ? UVK_CALL_ONE : 1u));
    }
}

static void let_go(struct uvk_port *port)
{
    for (uint8_t pin = 0; pin < PINS; pin++) {
        uvk_port_hold_line(port, pin, false);
    }
}

void uvk_scan(struct uvk_engine *engine, struct uvk_port *port)
{
    bool has_host = uvk_port_has_host(port);

    if (!has_host) {
        call(engine, port);
    } else if (!engine->scanned) {
        let_go(port); /* and the pins have time to come up */
    } else if ((engine->now & (SCAN_MS - 1u)) == 0) {
        look(engine, port);
    }
    engine->scanned = has_host;
}

#endif
