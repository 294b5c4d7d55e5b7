/* lights.c - the backlight's pin, by timer 1; the strip's, timed by instructions; lamps. */
#include "port_atmega32u4.h"

#if UVK_USE_LIGHTS

#include "uvrek/lights.h"

#include <avr/interrupt.h>
#include <avr/io.h>

#define GOES_OUT(index, port, bit)  DDR##port |= _BV(bit);
#define GOES_HIGH(index, port, bit) PORT##port |= _BV(bit);
#define GOES_LOW(index, port, bit)  PORT##port &= (uint8_t)~_BV(bit);

bool uvk_port_host_sleeps(struct uvk_port *self)
{
    return self->usb.suspended;
}

/* ---- the backlight ----------------------------------------------------------------------- */

#if UVK_USE_BACKLIGHT

/* Any pin will do: two interrupts in each of 244 periods a second switch it. */
ISR(TIMER1_OVF_vect)
{
    if (TCNT1L < OCR1AL) { /* else the other interrupt was first: both were late */
        UVK_BACKLIGHT_PIN(GOES_HIGH)
    }
}

ISR(TIMER1_COMPA_vect)
{
    UVK_BACKLIGHT_PIN(GOES_LOW)
}

static void start_backlight(void)
{
    UVK_BACKLIGHT_PIN(GOES_LOW)
    UVK_BACKLIGHT_PIN(GOES_OUT)
    TCCR1A = _BV(WGM10); /* fast PWM of 8 bits, by the clock's 256th (section 14) */
    TCCR1B = _BV(WGM12) | _BV(CS12);
}

/* Dark and in full, nothing has to be switched. */
void uvk_port_backlight(struct uvk_port *self, uint8_t brightness)
{
    (void)self;
    OCR1A = brightness;
    if (brightness != 0 && brightness != UINT8_MAX) {
        TIMSK1 = _BV(TOIE1) | _BV(OCIE1A);
        return;
    }
    TIMSK1 = 0;
    if (brightness == 0) {
        UVK_BACKLIGHT_PIN(GOES_LOW)
    } else {
        UVK_BACKLIGHT_PIN(GOES_HIGH)
    }
}

#else

static void start_backlight(void)
{
}

#endif

/* ---- the strip --------------------------------------------------------------------------- */

#if UVK_USE_STRIP

#define RESTS_MS 2u /* whole ones: the lamps take over what came after 280 us at rest */

#define PORT_OF(index, port, bit) PORT##port
#define BIT_OF(index, port, bit)  _BV(bit)

static const uint8_t *waiting; /* NULL: nothing */
static uint8_t waiting_count, waiting_scale;
static uint8_t sent_at; /* ms */
static bool rests;

bool uvk_port_strip_ready(struct uvk_port *self)
{
    (void)self;
    if (rests && (uint8_t)(uvk_milliseconds - sent_at) >= RESTS_MS) {
        rests = false;
    }
    return waiting == (const uint8_t *)0 && !rests;
}

/* Behind the pass: that is not made longer. */
void uvk_port_strip_send(struct uvk_port *self, const uint8_t *colours, uint8_t count,
                         uint8_t scale)
{
    (void)self;
    waiting = colours;
    waiting_count = count;
    waiting_scale = scale;
}

/* Eight bits of 19 cycles, 1.19 us: high for 5 of them, 0.31 us, or for 12, 0.75 us. HIGH and
 * LOW are all of the port. */
static inline void send_byte(uint8_t byte, uint8_t high, uint8_t low)
{
    uint8_t bits = 8;

    __asm__ volatile(
        "1: out %[port], %[high]\n"
        "   nop\n   nop\n   nop\n"
        "   sbrs %[byte], 7\n"
        "   out %[port], %[low]\n"
        "   lsl %[byte]\n"
        "   nop\n   nop\n   nop\n   nop\n   nop\n"
        "   out %[port], %[low]\n"
        "   nop\n   nop\n   nop\n"
        "   dec %[bits]\n"
        "   brne 1b\n"
        : [byte] "+r"(byte), [bits] "+d"(bits)
        : [port] "I"(_SFR_IO_ADDR(UVK_STRIP_PIN(PORT_OF))), [high] "r"(high), [low] "r"(low));
}

/* A lamp at a time without interrupts: between two of them, they have their turn. */
static void send_lamp(const uint8_t *data)
{
    uint8_t low;

    cli();
    low = UVK_STRIP_PIN(PORT_OF) & (uint8_t)~UVK_STRIP_PIN(BIT_OF);
    for (uint8_t i = 0; i < UVK_STRIP_BYTES; i++) {
        send_byte(data[i], (uint8_t)(low | UVK_STRIP_PIN(BIT_OF)), low);
    }
    sei();
}

void uvk_lights_task(void)
{
    uint8_t data[UVK_STRIP_BYTES];

    if (waiting == (const uint8_t *)0) {
        return;
    }
    for (; waiting_count > 0; waiting_count--, waiting += 3) {
        uvk_strip_data(waiting, waiting_scale, data);
        send_lamp(data);
    }
    waiting = (const uint8_t *)0;
    sent_at = uvk_milliseconds;
    rests = true;
}

static void start_strip(void)
{
    UVK_STRIP_PIN(GOES_LOW)
    UVK_STRIP_PIN(GOES_OUT)
}

#else

void uvk_lights_task(void)
{
}

static void start_strip(void)
{
}

#endif

/* ---- lamps ------------------------------------------------------------------------------- */

#if UVK_MAX_LAMPS > 0

#define SHOW(index, port, bit)                                                                 \
    if ((lit & (1u << (index))) != 0) {                                                        \
        PORT##port |= _BV(bit);                                                                \
    } else {                                                                                   \
        PORT##port &= (uint8_t)~_BV(bit);                                                      \
    }

void uvk_port_lamps_light(struct uvk_port *self, uint8_t lit)
{
    (void)self;
    lit ^= UVK_LAMPS_TO_POWER;
    UVK_LAMP_PINS(SHOW)
}

static void start_lamps(struct uvk_port *self)
{
    uvk_port_lamps_light(self, 0);
    UVK_LAMP_PINS(GOES_OUT)
}

#else

static void start_lamps(struct uvk_port *self)
{
    (void)self;
}

#endif

void uvk_lights_setup(struct uvk_port *self)
{
    start_backlight();
    start_strip();
    start_lamps(self);
}

#endif
