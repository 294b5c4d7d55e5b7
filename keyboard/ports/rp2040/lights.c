/* lights.c - the backlight's pin, by a slice of PWM (4.5); the strip's, by a state machine of
 * PIO0; lamps. */
#include "port_rp2040.h"
#include "registers.h"

#if UVK_USE_LIGHTS

#include "uvrek/lights.h"

#define PIN_OF(index, port, bit) (bit)

bool uvk_port_host_sleeps(struct uvk_port *self)
{
    return self->usb.suspended;
}

/* ---- the backlight ----------------------------------------------------------------------- */

#if UVK_USE_BACKLIGHT

#define SLICE    (UVK_BACKLIGHT_PIN(PIN_OF) / 2u % 8u)
#define UPPER    (UVK_BACKLIGHT_PIN(PIN_OF) % 2u) /* channel B is the upper half of a register */
#define A_PERIOD 255u                             /* steps; 1922 of them a second */
#define DIVIDER  (255u << 4)

static void start_backlight(void)
{
    uvk_unreset(RESET_PWM);
    UVK_REG(PWM_DIV(SLICE)) = DIVIDER;
    UVK_REG(PWM_TOP(SLICE)) = A_PERIOD - 1u;
    UVK_REG(PWM_CC(SLICE)) = 0;
    UVK_REG(PWM_CSR(SLICE)) = PWM_ENABLE;
    uvk_pin_start(UVK_BACKLIGHT_PIN(PIN_OF), PAD_OUTPUT, FUNCTION_PWM);
}

void uvk_port_backlight(struct uvk_port *self, uint8_t brightness)
{
    (void)self;
    UVK_REG(PWM_CC(SLICE)) = (uint32_t)brightness << (16u * UPPER);
}

#else

static void start_backlight(void)
{
}

#endif

/* ---- the strip --------------------------------------------------------------------------- */

#if UVK_USE_STRIP

#define MACHINE  2u
#define FIRST    16u /* of the instructions: those of the cable stand before them */
#define A_LAMP   (8u * UVK_STRIP_BYTES)
#define RESTS_US 600u /* the FIFO's eight lamps, and 280 us at rest */

/* Cycles of 0.1 us: high for 3 of 11 or for 7, then low. */
#define HERTZ         10000000u
#define DELAY(cycles) ((uint32_t)(cycles) << 8)
#define SET_PINS(v)   (0xE000u | (v))
#define SET_DIRS(v)   (0xE080u | (v))

static const uint16_t program[] = {
    0x80A0u,                 /* pull: low until there is a lamp */
    0xE020u | (A_LAMP - 1u), /* x: its bits, less one */
    SET_PINS(1u) | DELAY(2), /* 2: high */
    0x6001u | DELAY(3),      /* out: as the bit is */
    SET_PINS(0u) | DELAY(2), /* low */
    0x0040u | (FIRST + 2u),  /* the next bit */
};
#define LAST (FIRST + 5u)

static const uint8_t *next; /* lamp; NULL: all are on their way */
static uint8_t left, scale_now;
static uint32_t sent_at;

/* As many as there is room for; the others go when there is room again. */
static void feed(void)
{
    uint8_t data[UVK_STRIP_BYTES];

    while (left > 0 && (UVK_REG(PIO_FSTAT) & PIO_TX_FULL(MACHINE)) == 0) {
        uint32_t word = 0;
        uvk_strip_data(next, scale_now, data);
        for (uint32_t i = 0; i < UVK_STRIP_BYTES; i++) {
            word |= (uint32_t)data[i] << (24u - 8u * i);
        }
        UVK_REG(PIO_TX(MACHINE)) = word;
        next += 3;
        left--;
        sent_at = UVK_REG(TIMER_TIMERAWL);
    }
}

bool uvk_port_strip_ready(struct uvk_port *self)
{
    (void)self;
    return left == 0 && UVK_REG(TIMER_TIMERAWL) - sent_at > RESTS_US;
}

void uvk_port_strip_send(struct uvk_port *self, const uint8_t *colours, uint8_t count,
                         uint8_t scale)
{
    (void)self;
    next = colours;
    left = count;
    scale_now = scale;
    feed();
}

void uvk_lights_task(void)
{
    feed();
}

void uvk_lights_before_sleep(void)
{
    if (left > 0) {
        UVK_SET(PIO_IRQ0_INTE) = PIO_HAS_ROOM(MACHINE);
    } else {
        UVK_CLEAR(PIO_IRQ0_INTE) = PIO_HAS_ROOM(MACHINE);
    }
    UVK_REG(NVIC_ICPR) = IRQ_PIO0; /* if there is still a reason, it is pending again */
}

/* While the host sleeps the lamps have to be told to be dark, by a slower clock. */
void uvk_lights_clock(uint32_t hertz)
{
    UVK_REG(PIO_CLKDIV(MACHINE)) = hertz / (HERTZ / 256u) << 8;
}

static void start_strip(void)
{
    uint32_t pin = UVK_STRIP_PIN(PIN_OF);

    uvk_unreset(RESET_PIO0);
    for (uint32_t i = 0; i < sizeof program / sizeof program[0]; i++) {
        UVK_REG(PIO_MEMORY(FIRST + i)) = program[i];
    }
    uvk_lights_clock(UVK_CLOCK_FAST);
    UVK_REG(PIO_EXECCTRL(MACHINE)) = LAST << 12 | FIRST << 7;
    UVK_REG(PIO_SHIFTCTRL(MACHINE)) = PIO_JOIN_TX;
    UVK_REG(PIO_PINCTRL(MACHINE)) = 1u << 26 | 1u << 20 | pin << 5 | pin;
    UVK_REG(PIO_INSTR(MACHINE)) = SET_PINS(0u);
    UVK_REG(PIO_INSTR(MACHINE)) = SET_DIRS(1u);
    UVK_REG(PIO_INSTR(MACHINE)) = FIRST; /* jump there */
    uvk_pin_start(pin, PAD_OUTPUT, FUNCTION_PIO0);
    UVK_SET(PIO_CTRL) = 1u << MACHINE;
    UVK_REG(NVIC_ISER) = IRQ_PIO0;
}

#else

void uvk_lights_task(void)
{
}

void uvk_lights_before_sleep(void)
{
}

void uvk_lights_clock(uint32_t hertz)
{
    (void)hertz;
}

static void start_strip(void)
{
}

#endif

/* ---- lamps ------------------------------------------------------------------------------- */

#if UVK_MAX_LAMPS > 0

#define START(index, port, bit)  uvk_pin_start(bit, PAD_OUTPUT, FUNCTION_SIO);
#define OR_BIT(index, port, bit) | 1u << (bit)
#define TAKE(index, port, bit)   | ((uint32_t)(lit >> (index)&1u) << (bit))

#define ALL (0u UVK_LAMP_PINS(OR_BIT))

void uvk_port_lamps_light(struct uvk_port *self, uint8_t lit)
{
    uint32_t high;

    (void)self;
    lit ^= UVK_LAMPS_TO_POWER;
    high = 0u UVK_LAMP_PINS(TAKE);
    UVK_REG(SIO_GPIO_OUT_SET) = high;
    UVK_REG(SIO_GPIO_OUT_CLR) = ALL & ~high;
}

static void start_lamps(struct uvk_port *self)
{
    uvk_port_lamps_light(self, 0);
    UVK_REG(SIO_GPIO_OE_SET) = ALL;
    UVK_LAMP_PINS(START)
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
