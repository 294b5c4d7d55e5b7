/* main.c - the firmware's main loop: a scan pass each millisecond, asleep in between. */
#include "port_atmega32u4.h"

#include <avr/interrupt.h>
#include <avr/io.h>
#include <avr/sleep.h>

extern const UVK_ROM uint8_t uvk_keymap_image[];
extern const UVK_ROM uint16_t uvk_keymap_image_size;

struct uvk_engine uvk_keyboard; /* found by the bench by its name */
static struct uvk_port port;
static volatile uint8_t ticks;

ISR(TIMER0_COMPA_vect)
{
    ticks++;
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

static void one_millisecond(void)
{
    port.time_us += 1000;
    uvk_usb_tick(&port.usb);
    pass();
    uvk_power_alive();
    if (port.wants_restart || port.wants_bootloader) {
        uvk_power_reset(port.wants_bootloader);
    }
}

/* Until the timer or the cable has something. Interrupts are off between the question
 * and the sleep, so that none comes in between unseen. */
static void sleep_until_needed(void)
{
    uvk_bus_before_sleep(&port.usb);
    cli();
    if (ticks == 0) {
        SMCR = _BV(SE); /* idle: the timer and the USB controller go on (section 7) */
        sei();
        sleep_cpu();
        SMCR = 0;
    }
    sei();
}

int main(void)
{
    uvk_power_start();
    uvk_matrix_start();
    /* The build has looked at the image. If its sum is wrong here, the flash is damaged: the
     * bootloader is the only way on. */
    if (uvk_engine_start(&uvk_keyboard, sizeof uvk_keyboard, uvk_keymap_image,
                         uvk_keymap_image_size, 0) != UVK_OK) {
        uvk_power_reset(true);
    }
    port.usb.engine = &uvk_keyboard;
    uvk_bus_start();
    start_timer();
    sei();
    for (;;) {
        uvk_bus_task(&port.usb);
        if (port.usb.suspended) {
            uvk_power_suspended(&port);
            pass();
        } else if (ticks != 0) {
            take_tick();
            one_millisecond();
        } else {
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

void uvk_port_restart(struct uvk_port *self)
{
    self->wants_restart = true;
}

void uvk_port_enter_bootloader(struct uvk_port *self)
{
    self->wants_bootloader = true;
}
