/* main.c - the firmware's main loop: a scan pass each millisecond, asleep in between. */
#include "port_rp2040.h"
#include "registers.h"

extern const UVK_ROM uint8_t uvk_keymap_image[];
extern const UVK_ROM uint16_t uvk_keymap_image_size;
extern const UVK_ROM uint16_t uvk_keymap_note_size;

struct uvk_engine uvk_keyboard; /* found by the bench by its name */
static struct uvk_port port;

#define PASS_US 1000u
#define NAP_US  16000u /* between two passes while the host sleeps */

/* SCRATCH0 marks the pass for whoever measures it. */
static void pass(uint32_t now)
{
    UVK_REG(WATCHDOG_SCRATCH0) = 1;
    uvk_engine_pass(&uvk_keyboard, &port, now);
    UVK_REG(WATCHDOG_SCRATCH0) = 0;
}

static void one_pass(uint32_t now)
{
    uvk_usb_tick(&port.usb);
    uvk_kept_tick(&port.usb, &port);
    uvk_live_tick(&port.usb, &port);
    if (uvk_pair_tick(&port.usb, &port, now)) {
        pass(now);
    }
    uvk_power_alive(now);
    if ((port.wants_restart || port.wants_bootloader) && uvk_kept_all(&port.usb)) {
        uvk_power_reset(port.wants_bootloader);
    }
}

/* True when the time of NEXT has come. */
static bool is_due(uint32_t next)
{
    return (int32_t)(UVK_REG(TIMER_TIMERAWL) - next) >= 0;
}

static void start_journal(void)
{
#if UVK_USE_JOURNAL
    port.usb.journal = &port.journal;
    (void)uvk_journal_open(&port.journal, &port, UVK_BOARD_PRINT);
#endif
}

static void start_live(void)
{
#if UVK_USE_LIVE
    uvk_live_start(&port.usb, &port, uvk_keymap_image + uvk_keymap_image_size,
                   uvk_keymap_note_size);
#endif
}

/* ---- two halves ------------------------------------------------------------------------- */

#if UVK_USE_LINK

/* Which half it has been told to be: by a pin, joined to ground on the first half, by what it
 * has kept, or by the build. A pin that is open takes a while to come up. */
#define SET_UP(index, port, bit)  uvk_pin_start(bit, PAD_PULLED_UP, FUNCTION_SIO);
#define IS_OPEN(index, port, bit) || (UVK_REG(SIO_GPIO_IN) >> (bit)&1u) != 0
#define RISES_US                  100u

static bool is_second(void)
{
#if UVK_USE_JOURNAL
    return uvk_half_stored(&port.journal, &port, (char)uvk_this_half);
#else
    uint32_t start = UVK_REG(TIMER_TIMERAWL);

    UVK_HALF_PIN(SET_UP)
    while (UVK_REG(TIMER_TIMERAWL) - start < RISES_US) {
    }
    return (!UVK_HALF_BY_PIN && uvk_this_half == UVK_HALF_SECOND) UVK_HALF_PIN(IS_OPEN);
#endif
}

static void start_halves(void)
{
    bool second = is_second();

    uvk_pair_start(&port.usb, second);
    uvk_matrix_start(uvk_pair_has(&port.usb, false), uvk_pair_has(&port.usb, true));
    uvk_link_start(second);
}

static void before_sleep(void)
{
    uvk_link_before_sleep();
}

#else

static void start_halves(void)
{
    uvk_matrix_start(true, true);
}

static void before_sleep(void)
{
}

#endif

/* Until NEXT, or until a cable has something. The alarm fires at that very microsecond only,
 * so the time is looked at once more when it is set. */
static void sleep_until(uint32_t next)
{
    UVK_REG(TIMER_ALARM0) = next;
    before_sleep();
    uvk_lights_before_sleep();
    if (!is_due(next)) {
        __asm__ volatile("wfi");
    }
    UVK_REG(TIMER_INTR) = 1;
    UVK_REG(NVIC_ICPR) = IRQ_TIMER0;
}

int main(void)
{
    uint32_t next;

    uvk_clocks_start();
    uvk_power_start();
    uvk_unreset(RESET_IO_BANK0 | RESET_PADS_BANK0);
    /* The build has looked at the image. If its sum is wrong here, the flash is damaged: the
     * bootloader is the only way on. */
    if (uvk_engine_start(&uvk_keyboard, sizeof uvk_keyboard, uvk_keymap_image,
                         uvk_keymap_image_size, UVK_REG(TIMER_TIMERAWL)) != UVK_OK) {
        uvk_power_reset(true);
    }
    port.usb.engine = &uvk_keyboard;
    start_journal();
    start_halves();
    uvk_lights_setup(&port);
    start_live();
    uvk_kept_start(&port.usb, &port);
    uvk_bus_start();
    UVK_REG(TIMER_INTE) = 1;
    UVK_REG(NVIC_ISER) = IRQ_TIMER0;
    next = UVK_REG(TIMER_TIMERAWL);
    for (;;) {
        uvk_bus_task(&port.usb);
        uvk_pair_hear(&port.usb, &port);
        uvk_lights_task();
        if (is_due(next)) {
            one_pass(UVK_REG(TIMER_TIMERAWL));
            next += port.usb.suspended ? NAP_US : PASS_US;
        } else if (!uvk_live_spare(&port.usb)) {
            sleep_until(next);
        }
    }
}

uint32_t uvk_port_time(struct uvk_port *self)
{
    (void)self;
    return UVK_REG(TIMER_TIMERAWL);
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

uint8_t uvk_port_lamps(struct uvk_port *self)
{
    return self->usb.lamps;
}

void uvk_port_wake_host(struct uvk_port *self)
{
    uvk_usb_wake_host(&self->usb);
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
