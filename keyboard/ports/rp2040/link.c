/* link.c - the cable to the other half: two state machines of PIO0 are a serial line on any
 * pins (3.6.3, 3.6.4), or one that only pulls low, on one pin for both directions. */
#include "port_rp2040.h"
#include "registers.h"

#if UVK_USE_LINK

#include <string.h>

#define RECEIVER 0u
#define SENDER   1u

#define PIN_OF(index, port, bit) (bit)

/* Each bit takes eight cycles. Side-set is optional: of five bits the first says that it is
 * there, the second is its value, the others are the delay (3.4.1). */
#define SIDE(value, delay) ((uint32_t)(1u << 4 | (value) << 3 | (delay)) << 8)
#define DELAY(cycles)      ((uint32_t)(cycles) << 8)

#define PULL_BLOCK    0x80A0u
#define PUSH          0x8000u /* where there is room, else it is lost */
#define SET_X(value)  (0xE020u | (value))
#define SET_PINS(v)   (0xE000u | (v))
#define SET_DIRS(v)   (0xE080u | (v))
#define OUT_PINS_1    0x6001u
#define OUT_DIRS_1    0x6081u
#define IN_PINS_1     0x4001u
#define WAIT_PIN(v)   (0x2020u | (v) << 7)
#define JMP(to)       (0x0000u | (to))
#define JMP_X_DEC(to) (0x0040u | (to))
#define JMP_PIN(to)   (0x00C0u | (to))

/* On one wire a line that is let go is high, and a pin that is an output is low. */
#if UVK_LINK_ONE_WIRE
#define HIGH     0u
#define OUT_1    OUT_DIRS_1
#define INVERTED 0xFFu
#define SIDE_IS  (1u << 30 | 1u << 29) /* it is there, and sets directions */
#else
#define HIGH     1u
#define OUT_1    OUT_PINS_1
#define INVERTED 0u
#define SIDE_IS  (1u << 30)
#endif
#define LOW (1u - HIGH)

static const uint16_t program[] = {
    /* 0, the sender: high until there is a byte, and the stop bit before the next */
    PULL_BLOCK | SIDE(HIGH, 7u),
    SET_X(7u) | SIDE(LOW, 7u), /* start bit, low */
    OUT_1,
    JMP_X_DEC(2u) | DELAY(6),
    /* 4, the receiver */
    WAIT_PIN(0u),
    SET_X(7u) | DELAY(10), /* to the middle of the first bit */
    IN_PINS_1,
    JMP_X_DEC(6u) | DELAY(6),
    JMP_PIN(11u), /* a stop bit is high */
    WAIT_PIN(1u), /* else this is no byte: until the line is at rest */
    JMP(4u),
    PUSH,
};
#define SENDER_FIRST   0u
#define SENDER_LAST    3u
#define RECEIVER_FIRST 4u
#define RECEIVER_LAST  11u

static uint8_t frame[UVK_FRAME_MAX]; /* what goes out */
static uint8_t next, end;
static uint8_t echo; /* one wire: so many bytes of our own are still to come back */

static uint32_t wrap(uint32_t first, uint32_t last)
{
    return last << 12 | first << 7;
}

void uvk_link_clock(uint32_t hertz)
{
    uint32_t divider = hertz * 32u / UVK_LINK_SPEED << 8;

    UVK_REG(PIO_CLKDIV(RECEIVER)) = divider;
    UVK_REG(PIO_CLKDIV(SENDER)) = divider;
}

static void start_receiver(uint32_t pin)
{
    UVK_REG(PIO_EXECCTRL(RECEIVER)) = pin << 24 | wrap(RECEIVER_FIRST, RECEIVER_LAST);
    UVK_REG(PIO_SHIFTCTRL(RECEIVER)) = PIO_JOIN_RX | PIO_IN_RIGHT;
    UVK_REG(PIO_PINCTRL(RECEIVER)) = pin << 15;
    UVK_REG(PIO_INSTR(RECEIVER)) = JMP(RECEIVER_FIRST);
}

/* At rest before anybody sees it: high, or let go with a low behind it. */
static void start_sender(uint32_t pin)
{
    UVK_REG(PIO_EXECCTRL(SENDER)) = SIDE_IS | wrap(SENDER_FIRST, SENDER_LAST);
    UVK_REG(PIO_SHIFTCTRL(SENDER)) = PIO_JOIN_TX | PIO_OUT_RIGHT;
    UVK_REG(PIO_PINCTRL(SENDER)) = 2u << 29 | 1u << 26 | 1u << 20 | pin << 10 | pin << 5 | pin;
    UVK_REG(PIO_INSTR(SENDER)) = SET_PINS(HIGH);
    UVK_REG(PIO_INSTR(SENDER)) = SET_DIRS(HIGH);
    UVK_REG(PIO_INSTR(SENDER)) = JMP(SENDER_FIRST);
}

void uvk_link_start(bool second)
{
    bool swapped = UVK_LINK_STRAIGHT && second;
    uint32_t sends = swapped ? UVK_LINK_RECEIVES(PIN_OF) : UVK_LINK_SENDS(PIN_OF);
    uint32_t receives = swapped ? UVK_LINK_SENDS(PIN_OF) : UVK_LINK_RECEIVES(PIN_OF);

    uvk_unreset(RESET_PIO0);
    for (uint32_t i = 0; i < sizeof program / sizeof program[0]; i++) {
        UVK_REG(PIO_MEMORY(i)) = program[i];
    }
    uvk_link_clock(UVK_CLOCK_FAST);
    start_receiver(receives);
    start_sender(sends);
    uvk_pin_start(receives, PAD_PULLED_UP, FUNCTION_PIO0);
    uvk_pin_start(sends, PAD_PULLED_UP, FUNCTION_PIO0);
    UVK_REG(PIO_CTRL) = 1u << RECEIVER | 1u << SENDER;
    UVK_REG(NVIC_ISER) = IRQ_PIO0;
}

/* As many as there is room for; the others go when there is room again. */
static void feed(void)
{
    while (next < end && (UVK_REG(PIO_FSTAT) & PIO_TX_FULL(SENDER)) == 0) {
        UVK_REG(PIO_TX(SENDER)) = (uint32_t)frame[next++] ^ INVERTED;
    }
}

void uvk_link_before_sleep(void)
{
    UVK_REG(PIO_IRQ0_INTE) = PIO_HAS_COME(RECEIVER) | (next < end ? PIO_HAS_ROOM(SENDER) : 0u);
    UVK_REG(NVIC_ICPR) = IRQ_PIO0; /* if there is still a reason, it is pending again */
}

void uvk_port_link_send(struct uvk_port *self, const uint8_t *bytes, uint8_t size)
{
    (void)self;
    if (next < end) {
        return;
    }
    memcpy(frame, bytes, size);
    next = 0;
    end = size;
    echo = UVK_LINK_ONE_WIRE ? size : 0u;
    feed();
}

bool uvk_port_link_take(struct uvk_port *self, uint8_t *byte)
{
    (void)self;
    feed();
    while ((UVK_REG(PIO_FSTAT) & PIO_RX_EMPTY(RECEIVER)) == 0) {
        *byte = (uint8_t)(UVK_REG(PIO_RX(RECEIVER)) >> 24);
        if (echo == 0) {
            return true;
        }
        echo--;
    }
    return false;
}

#endif
