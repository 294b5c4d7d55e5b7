/* usart.c - the serial line (section 18), bit by bit on the cable to the other half. The
 * simulator's own has no bits, and no second byte behind the one that is on its way. */
#include "avr.h"

#include <sim_interrupts.h>
#include <sim_io.h>
#include <string.h>

#define UCSR1A 0xC8u
#define UCSR1B 0xC9u
#define UBRR1L 0xCCu
#define UBRR1H 0xCDu
#define UDR1   0xCEu
#define PIND   0x29u

#define RXC1   0x80u
#define UDRE1  0x20u
#define FE1    0x10u
#define DOR1   0x08u
#define U2X1   0x02u
#define RXCIE1 0x80u
#define UDRIE1 0x20u
#define RXEN1  0x10u
#define TXEN1  0x08u

#define RECEIVED_VECTOR 25u
#define EMPTY_VECTOR    26u

#define FRAME_BITS 10u /* a start bit, eight, a stop bit */
#define LINE_BIT   2u  /* D2 */

static uint64_t bit_ns(const struct sim *sim)
{
    const uint8_t *data = sim->chip->avr->data;
    unsigned divider = (unsigned)(data[UBRR1H] << 8 | data[UBRR1L]) + 1u;

    return (uint64_t)divider * (sim->chip->usart.fast ? 8u : 16u) * 1000u / CYCLES_PER_US;
}

static bool hears(const struct sim *sim)
{
    return sim->line.other != NULL && (sim->chip->usart.control & RXEN1) != 0;
}

/* ---- what comes in ---------------------------------------------------------------------- */

static void take_byte(struct sim *sim)
{
    struct usart *usart = &sim->chip->usart;

    if (usart->count == 2) {
        usart->lost = true;
    } else {
        usart->in[usart->count++] = (struct received){
            (uint8_t)(usart->shift >> 1), (usart->shift >> 9 & 1u) == 0, usart->lost};
        usart->lost = false;
    }
    if ((usart->control & RXCIE1) != 0) {
        raise_interrupt(sim, RECEIVED_VECTOR);
    }
}

/* A start bit that is over in its middle was none. */
static void look(struct sim *sim, bool high)
{
    struct usart *usart = &sim->chip->usart;

    if (usart->bits == 0 && high) {
        usart->sample = 0;
        return;
    }
    usart->shift = (uint16_t)(usart->shift | (high ? 1u << usart->bits : 0u));
    usart->sample += bit_ns(sim);
    if (++usart->bits == FRAME_BITS) {
        usart->sample = 0;
        take_byte(sim);
    }
}

static void listen(struct sim *sim, uint64_t at)
{
    struct usart *usart = &sim->chip->usart;
    bool high = line_is_high(&sim->line, at);

    if (usart->sample != 0 && usart->sample <= at) {
        look(sim, high);
    } else if (usart->sample == 0 && !high) {
        usart->bits = 0;
        usart->shift = 0;
        usart->sample = at + bit_ns(sim) / 2;
    }
}

/* ---- what goes out ---------------------------------------------------------------------- */

static void tell_empty(struct sim *sim)
{
    struct usart *usart = &sim->chip->usart;

    if (!usart->is_full && (usart->control & UDRIE1) != 0) {
        raise_interrupt(sim, EMPTY_VECTOR);
    }
}

/* The byte in the buffer goes out, all its bits. */
static void shift_out(struct sim *sim, uint64_t now)
{
    struct usart *usart = &sim->chip->usart;
    unsigned bits = (unsigned)usart->sends << 1 | 1u << (FRAME_BITS - 1u);

    for (unsigned i = 0; i < FRAME_BITS; i++) {
        line_post(&sim->line, now + i * bit_ns(sim), (bits >> i & 1u) == 0);
    }
    usart->is_full = false;
    usart->sent = now + FRAME_BITS * bit_ns(sim);
    tell_empty(sim);
}

/* ---- as time passes --------------------------------------------------------------------- */

static uint64_t next_of(const struct sim *sim)
{
    const struct usart *usart = &sim->chip->usart;
    uint64_t next = UINT64_MAX;

    if (hears(sim)) {
        next = usart->sample != 0 ? usart->sample : line_next(&sim->line);
    }
    return usart->is_full && usart->sent < next ? usart->sent : next;
}

void usart_advance(struct sim *sim, uint64_t now)
{
    struct usart *usart = &sim->chip->usart;
    uint64_t at;

    if (sim->other == NULL) {
        usart->next = UINT64_MAX;
        return;
    }
    while ((at = next_of(sim)) <= now) {
        if (usart->is_full && usart->sent <= at) {
            shift_out(sim, at);
        } else {
            listen(sim, at);
        }
    }
    usart->next = at;
}

/* ---- registers -------------------------------------------------------------------------- */

static uint8_t read_status(avr_t *avr, avr_io_addr_t address, void *param)
{
    const struct usart *usart = &((struct sim *)param)->chip->usart;
    uint8_t status = usart->fast ? U2X1 : 0;

    (void)avr;
    (void)address;
    status |= usart->is_full ? 0 : UDRE1;
    if (usart->count > 0) {
        status |= RXC1;
        status |= usart->in[0].broken ? FE1 : 0;
        status |= usart->in[0].lost ? DOR1 : 0;
    }
    return status;
}

static void write_status(avr_t *avr, avr_io_addr_t address, uint8_t value, void *param)
{
    ((struct sim *)param)->chip->usart.fast = (value & U2X1) != 0;
    avr->data[address] = value;
}

/* A receiver that is switched off forgets what it has (18.7.6). */
static void write_control(avr_t *avr, avr_io_addr_t address, uint8_t value, void *param)
{
    struct sim *sim = param;
    struct usart *usart = &sim->chip->usart;

    avr->data[address] = value;
    if ((value & RXEN1) == 0 || (usart->control & RXEN1) == 0) {
        usart->count = 0;
        usart->sample = 0;
        (void)line_is_high(&sim->line, chip_ns(sim)); /* what was before is over */
    }
    usart->control = value;
    tell_empty(sim);
    usart->next = 0;
}

static uint8_t read_data(avr_t *avr, avr_io_addr_t address, void *param)
{
    struct sim *sim = param;
    struct usart *usart = &sim->chip->usart;
    uint8_t byte = usart->in[0].byte;

    (void)avr;
    (void)address;
    if (usart->count > 0) {
        usart->in[0] = usart->in[1];
        usart->count--;
    }
    if (usart->count > 0 && (usart->control & RXCIE1) != 0) {
        raise_interrupt(sim, RECEIVED_VECTOR);
    }
    return byte;
}

static void write_data(avr_t *avr, avr_io_addr_t address, uint8_t value, void *param)
{
    struct sim *sim = param;
    struct usart *usart = &sim->chip->usart;

    (void)avr;
    (void)address;
    if ((usart->control & TXEN1) == 0 || usart->is_full) {
        return; /* it is lost (18.6) */
    }
    usart->sends = value;
    usart->is_full = true;
    if (usart->sent <= chip_ns(sim)) {
        shift_out(sim, chip_ns(sim));
    }
    usart->next = 0;
}

void usart_reset(struct sim *sim)
{
    memset(&sim->chip->usart, 0, sizeof sim->chip->usart);
    sim->chip->avr->data[UCSR1B] = 0;
    line_post(&sim->line, chip_ns(sim), false);
}

/* On one wire the program may pull the line low itself, while it does not listen (18.3.1). */
void usart_pin(struct sim *sim)
{
    const uint8_t *data = sim->chip->avr->data;
    bool output = (data[PIND + 1] >> LINE_BIT & 1u) != 0;
    bool level = (data[PIND + 2] >> LINE_BIT & 1u) != 0;

    if (sim->line.one_wire) {
        line_post(&sim->line, chip_ns(sim),
                  output && !level && (sim->chip->usart.control & RXEN1) == 0);
        sim->chip->usart.next = 0;
    }
}

void usart_attach(struct sim *sim)
{
    avr_t *avr = sim->chip->avr;
    const struct {
        avr_io_addr_t address;
        avr_io_read_t read;
        avr_io_write_t write;
    } registers[] = {{UCSR1A, read_status, write_status},
                     {UCSR1B, NULL, write_control},
                     {UDR1, read_data, write_data}};

    for (size_t i = 0; i < sizeof registers / sizeof registers[0]; i++) {
        avr->io[AVR_DATA_TO_IO(registers[i].address)].r.c = registers[i].read;
        avr->io[AVR_DATA_TO_IO(registers[i].address)].r.param = sim;
        avr->io[AVR_DATA_TO_IO(registers[i].address)].w.c = registers[i].write;
        avr->io[AVR_DATA_TO_IO(registers[i].address)].w.param = sim;
    }
}
