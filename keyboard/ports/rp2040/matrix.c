/* matrix.c - the pins of matrix, direct switches and knobs, as the configuration lists them:
 * see docs/porting.md. A line is low while it is selected and pulled up otherwise: its output
 * stays low, and is switched on and off. */
#include "port_rp2040.h"
#include "registers.h"

#define PIN(index, port, bit)    [index] = (bit),
#define MASK(index, port, bit)   [index] = 1u << (bit),
#define OR_BIT(index, port, bit) | 1u << (bit)

void uvk_pin_start(uint32_t pin, uint32_t pad, uint32_t function)
{
    UVK_REG(PADS_BANK0_PIN(pin)) = pad;
    UVK_REG(IO_BANK0_CTRL(pin)) = function;
}

#define PULL_UP(index, port, bit)   uvk_pin_start(bit, PAD_PULLED_UP, FUNCTION_SIO);
#define PULL_DOWN(index, port, bit) uvk_pin_start(bit, PAD_PULLED_DOWN, FUNCTION_SIO);

#if UVK_TO_POWER_0
#define PULL_DIRECT_0 PULL_DOWN
#else
#define PULL_DIRECT_0 PULL_UP
#endif
#if UVK_HALVES > 1 && UVK_TO_POWER_1
#define PULL_DIRECT_1 PULL_DOWN
#else
#define PULL_DIRECT_1 PULL_UP
#endif

void uvk_matrix_start(bool first, bool second)
{
    UVK_REG(SIO_GPIO_OUT_CLR) = 0u UVK_LINES_0(OR_BIT) UVK_LINES_1(OR_BIT);
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

/* From the levels of all pins to a bit for each sense. */
#define TAKE(index, port, bit) bits |= (uvk_bits)((levels >> (bit)&1u) << (index));

/* The senses that a line of the half of LINE may pull low: a bit for each that is. */
static uvk_bits read_senses(uint8_t line)
{
    uint32_t levels = ~UVK_REG(SIO_GPIO_IN);
    uvk_bits bits = 0;

    (void)line;
    (void)levels;
#if UVK_HALVES > 1
    if (line >= UVK_SECOND_LINE) {
        UVK_SENSES_1(TAKE)
        return bits;
    }
#endif
    UVK_SENSES_0(TAKE)
    return bits;
}

/* A wire that a switch has pulled low comes up again by its pull-up alone: 30 us at 80 kOhm and
 * 400 pF (5.5.3.4). Until then the next line would see the keys of this one. It is looked at
 * before every line, whatever was read: a contact may have closed since. A sense that stays
 * low, shorted say, is not waited for longer than this many readings, of 24 cycles at least. */
#define READINGS_MOST 240u

static void wait_for_senses(uint8_t line)
{
    for (uint8_t i = 0; read_senses(line) != 0 && i < READINGS_MOST; i++) {
    }
}

/* At 125 MHz, three cycles a round. */
static void settle(void)
{
    uint32_t rounds = UVK_SETTLE_US * 125u / 3u + 1u;

    __asm__ volatile("1: subs %0, %0, #1\n bne 1b" : "+l"(rounds) : : "cc");
}

/* Those of direct switches select nothing. */
static const uint32_t lines[] = {UVK_LINES_0(MASK) UVK_LINES_1(MASK)[UVK_MAX_LINES] = 0};

uvk_bits uvk_port_read_line(struct uvk_port *self, uint8_t line)
{
    uint32_t levels;
    uvk_bits bits = 0;

    (void)self;
    (void)levels;
#if UVK_DIRECT_COUNT_0 > 0
    if (line == UVK_DIRECT_LINE_0) {
        levels = UVK_REG(SIO_GPIO_IN) ^ (UVK_TO_POWER_0 ? 0u : ~0u);
        UVK_DIRECT_0(TAKE)
        return bits;
    }
#endif
#if UVK_HALVES > 1 && UVK_DIRECT_COUNT_1 > 0
    if (line == UVK_DIRECT_LINE_1) {
        levels = UVK_REG(SIO_GPIO_IN) ^ (UVK_TO_POWER_1 ? 0u : ~0u);
        UVK_DIRECT_1(TAKE)
        return bits;
    }
#endif
    wait_for_senses(line);
    UVK_REG(SIO_GPIO_OE_SET) = lines[line];
    settle();
    bits = read_senses(line);
    UVK_REG(SIO_GPIO_OE_CLR) = lines[line];
    return bits;
}

#if UVK_USE_PROBE
void uvk_port_hold_line(struct uvk_port *self, uint8_t line, bool low)
{
    (void)self;
    if (low) {
        UVK_REG(SIO_GPIO_OE_SET) = lines[line];
    } else {
        UVK_REG(SIO_GPIO_OE_CLR) = lines[line];
    }
}
#endif

#if UVK_MAX_KNOBS > 0
static const uint8_t knob_pins[2u * UVK_MAX_KNOBS] = {UVK_KNOBS_0(PIN) UVK_KNOBS_1(PIN)};

uint8_t uvk_port_read_knob(struct uvk_port *self, uint8_t knob)
{
    uint32_t levels = ~UVK_REG(SIO_GPIO_IN);
    const uint8_t *pins = &knob_pins[2u * knob];

    (void)self;
    return (uint8_t)((levels >> pins[0] & 1u) | (levels >> pins[1] & 1u) << 1);
}
#endif
