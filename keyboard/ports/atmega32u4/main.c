/* main.c - the firmware's main loop: a scan pass each millisecond, asleep in between. */
#include "port_atmega32u4.h"

#include <avr/interrupt.h>
#include <avr/io.h>
#include <avr/sleep.h>
#ifndef F_CPU
#define F_CPU 16000000UL
#endif
#include <util/delay.h>

extern const UVK_ROM uint8_t uvk_keymap_image[];
extern const UVK_ROM uint16_t uvk_keymap_image_size;
extern const UVK_ROM uint16_t uvk_keymap_note_size;

struct uvk_engine uvk_keyboard; /* found by the bench by its name */
static struct uvk_port port;
static volatile uint8_t ticks;
#if UVK_USE_STRIP
volatile uint8_t uvk_milliseconds;
#endif

ISR(TIMER0_COMPA_vect)
{
    ticks++;
#if UVK_USE_STRIP
    uvk_milliseconds++;
#endif
}

/* 16 MHz / 64 / 250 = 1 kHz (section 13). */
static void start_timer(void)
{
    TCCR0A = _BV(WGM01);
    TCCR0B = _BV(CS01) | _BV(CS00);
    OCR0A = 249;
    TIMSK0 = _BV(OCIE0A);
}

/* With interrupts off: one between the reading and the writing would be lost. */
static void take_tick(void)
{
    cli();
    ticks--;
    sei();
}

/* GPIOR0 marks the pass for whoever measures it; it costs two cycles. */
static void pass(void)
{
    GPIOR0 = 1;
    uvk_engine_pass(&uvk_keyboard, &port, port.time_us);
    GPIOR0 = 0;
}

static UVK_ONE_COPY void one_millisecond(void)
{
    port.time_us += 1000;
    uvk_usb_tick(UVK_NEAR(&port.usb));
    uvk_kept_tick(&port.usb, &port);
    uvk_live_tick(&port.usb, &port);
    if (uvk_pair_tick(&port.usb, &port, port.time_us)) {
        pass();
    }
    uvk_lights_task();
    uvk_power_alive();
    if ((port.wants_restart || port.wants_bootloader) && uvk_kept_all(&port.usb)) {
        uvk_power_reset(port.wants_bootloader);
    }
}

static UVK_ONE_COPY void start_journal(void)
{
#if UVK_USE_JOURNAL
    port.usb.journal = &port.journal;
    (void)uvk_journal_open(UVK_NEAR(&port.journal), &port, UVK_BOARD_PRINT);
#endif
}

static void start_live(void)
{
#if UVK_USE_LIVE
    uvk_live_start(&port.usb, &port, uvk_keymap_image + uvk_keymap_image_size,
                   uvk_keymap_note_size);
#endif
}

#if UVK_USE_LINK

#define ANSWER_TICKS 2u /* a question and its answer take less */

/* Which half it has been told to be: by a pin, joined to ground on the first half, by what it
 * has kept, or by the build. A pin that is open takes a while to come up. */
#define IS_OPEN(index, port, bit) || (PIN##port & _BV(bit)) != 0
#define PULL_UP(index, port, bit)                                                              \
    DDR##port &= (uint8_t)~_BV(bit);                                                           \
    PORT##port |= _BV(bit);
#define RISES_US 50u

static bool is_second(void)
{
#if UVK_USE_JOURNAL
    return uvk_half_stored(&port.journal, &port, (char)uvk_this_half);
#else
    UVK_HALF_PIN(PULL_UP)
    _delay_us(RISES_US);
    return (!UVK_HALF_BY_PIN && uvk_this_half == UVK_HALF_SECOND) UVK_HALF_PIN(IS_OPEN);
#endif
}

static UVK_ONE_COPY void start_halves(void)
{
    uvk_pair_start(&port.usb, is_second());
    uvk_matrix_start(uvk_pair_has(&port.usb, false), uvk_pair_has(&port.usb, true));
    uvk_link_start();
}

static bool has_come(void)
{
    return uvk_link_has_come();
}

/* After a nap the other half is asked, and has the time to answer. */
static void ask_sleepily(void)
{
    ticks = 0;
    (void)uvk_pair_tick(&port.usb, &port, port.time_us);
    while (ticks < ANSWER_TICKS) {
        uvk_pair_hear(&port.usb, &port);
    }
    ticks = 0;
}

#else

static void start_halves(void)
{
    uvk_matrix_start(true, true);
}

static bool has_come(void)
{
    return false;
}

static void ask_sleepily(void)
{
}

#endif

/* Until the timer or a cable has something. Interrupts are off between the question
 * and the sleep, so that none comes in between unseen. */
static void sleep_until_needed(void)
{
    uvk_bus_before_sleep(&port.usb);
    cli();
    if (ticks == 0 && !has_come()) {
        SMCR = _BV(SE); /* idle: timers, USART and USB controller go on (section 7) */
        sei();
        sleep_cpu();
        SMCR = 0;
    }
    sei();
}

int main(void)
{
    uvk_power_start();
    /* The build has looked at the image. If its sum is wrong here, the flash is damaged: the
     * bootloader is the only way on. */
    if (uvk_engine_start(&uvk_keyboard, sizeof uvk_keyboard, uvk_keymap_image,
                         uvk_keymap_image_size, 0) != UVK_OK) {
        uvk_power_reset(true);
    }
    port.usb.engine = &uvk_keyboard;
    start_journal();
    start_halves();
    uvk_lights_setup(&port);
    start_live();
    uvk_kept_start(&port.usb, &port);
    uvk_bus_start();
    start_timer();
    sei();
    for (;;) {
        uvk_bus_task(&port.usb);
        uvk_pair_hear(&port.usb, &port);
        if (port.usb.suspended) {
            uvk_power_suspended(&port);
            ask_sleepily();
            pass();
            uvk_lights_task();
        } else if (ticks != 0) {
            take_tick();
            one_millisecond();
        } else if (!uvk_live_spare(&port.usb)) {
            sleep_until_needed();
        }
    }
}

uint32_t uvk_port_time(struct uvk_port *self)
{
    return self->time_us;
}

bool uvk_port_send(struct uvk_port *self, uint8_t interface, const uint8_t *report,
                   uint8_t size)
{
    return uvk_usb_send(&self->usb, interface, report, size);
}

bool uvk_port_boot_protocol(struct uvk_port *self)
{
    return self->usb.protocol == 0;
}

void uvk_port_wake_host(struct uvk_port *self)
{
    uvk_usb_wake_host(&self->usb);
}

uint8_t uvk_port_lamps(struct uvk_port *self)
{
    return self->usb.lamps;
}

#if UVK_USE_PROBE
bool uvk_port_has_host(struct uvk_port *self)
{
    return self->usb.configuration != 0;
}
#endif

void uvk_port_restart(struct uvk_port *self, bool forget)
{
    self->wants_restart = true;
    if (forget) {
        uvk_kept_forget(&self->usb);
    }
}

void uvk_port_enter_bootloader(struct uvk_port *self)
{
    self->wants_bootloader = true;
}
