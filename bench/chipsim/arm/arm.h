/* arm.h - an RP2040 on libunicorn: what the files of this folder share.
 *
 * 1. The processor is libunicorn's; the peripherals are ours, and strict: what silicon would
 * not forgive, or what is not modelled here, stops the program with a word about it.
 * 2. Time is counted in picoseconds, from the cycles of the clock that the program has chosen:
 *    one a word of code that runs, and one more where it jumps.
 * 3. No interrupt is ever taken: a program that lets one through is stopped. They wake it from
 * WFI.
 * 4. Section numbers are those of the RP2040 datasheet (2024-10-15).
 */
#ifndef UVREK_CHIPSIM_ARM_H
#define UVREK_CHIPSIM_ARM_H

#include "../chipsim.h"

#include <unicorn/unicorn.h>

#define FLASH_AT  0x10000000u
#define RAM_AT    0x20000000u
#define RAM_SIZE  0x42000u
#define GPIO_PINS 30u

/* A peripheral on the bus: 16 KiB of addresses, the last three quarters of which change bits.
 */
struct peripheral {
    const char *name;
    uint32_t base;
    unsigned reset_bit; /* in RESETS; NEVER_RESET: it has none */
    /* False: there is no such register here. */
    bool (*read)(struct sim *, uint32_t offset, uint32_t *value);
    bool (*write)(struct sim *, uint32_t offset, uint32_t value);
};
#define NEVER_RESET 32u

struct usb_state {
    uint8_t memory[4096];
    uint32_t address, main_control, sie_control, status, buffers_done, stall_armed, muxing,
        power, enabled;
    uint8_t host_address;     /* what the host calls it */
    uint16_t host_data1;      /* of each IN endpoint: the host waits for DATA1 */
    uint16_t host_out1;       /* of each OUT endpoint but 0: the host sends DATA1 next */
    uint8_t ep0_size;         /* of its packets, as it has told the host */
    bool suspend_after_reset; /* when the reset's flag is cleared */
};

struct clock_state {
    uint64_t crystal_at, pll_sys_at, pll_usb_at; /* picoseconds: stable from then on; 0: off */
    uint32_t crystal_control, crystal_startup;
    uint32_t ref_control, sys_control, usb_control;
    uint32_t pll[2][4];
};

#define PWM_SLICES 8u

#define PIO_CODE 32u /* instructions */

struct pio_fifo {
    uint32_t words[8];
    unsigned count;
};

struct pio_machine {
    uint32_t divider, exec_control, shift_control, pin_control;
    uint32_t pc, x, isr, osr;
    struct pio_fifo in, out;
    bool stalls;
    uint64_t at; /* picoseconds: its next cycle */
};

struct pio_state {
    uint32_t control, enabled; /* its machines, its reasons for an interrupt */
    uint32_t memory[PIO_CODE];
    uint32_t levels, directions; /* of its pins */
    struct pio_machine machines[4];
};

struct pwm_state {
    uint32_t registers[PWM_SLICES][5];
    unsigned shares[PWM_SLICES][2]; /* thousandths of the time that each channel is high */
};

struct chip {
    uc_engine *uc;
    uint64_t ps;           /* time */
    uint64_t instructions; /* run so far */
    uint32_t ps_a_cycle;
    uint64_t limit; /* picoseconds: stop there */
    bool sleeps, reset_wanted;
    bool counted;    /* the block that runs next has had its time */
    const char *end; /* what ended the program: sim_stop's WHAT; NULL: nothing has */
    char why[160];
    /* RESETS, watchdog, timer, NVIC */
    uint32_t in_reset, reset_reason, reset_cause;
    uint32_t watchdog, scratch[8], tick, psm_reset;
    uint64_t watchdog_at; /* picoseconds: it bites; 0: it is off */
    uint64_t timer_start;
    uint32_t alarm, timer_pending, timer_enabled;
    bool alarm_armed;
    uint64_t alarm_at; /* picoseconds; UINT64_MAX: it is not set */
    uint32_t irq_enabled, irq_pending;
    /* pins */
    uint32_t pads[GPIO_PINS], functions[GPIO_PINS], out, out_enabled;
    struct clock_state clock;
    struct usb_state usb;
    uint32_t noise; /* of the ring oscillator */
    struct pio_state pio;
    struct pwm_state pwm;
    bool flash_hidden; /* it cannot be read just now */
    unsigned sectors_erased;
    uint8_t *memory;      /* a copy of the end of the flash, for who asks */
    struct block *blocks; /* of code that are known, see run.c */
};

#define POISON 0xC5u /* what is in RAM after power-on: who relies on zeros must fail */

/* state.c: the program ends, WHAT it says and why; the first word counts. */
void arm_end(struct sim *sim, const char *what, const char *format, ...)
    __attribute__((format(printf, 3, 4)));

/* state.c: an interrupt of the processor is asserted, or not any more. */
void system_interrupt(struct sim *sim, unsigned number, bool asserted);

/* power.c */
void arm_reset(struct sim *sim, uint32_t reason, uint32_t cause);

/* run.c: look at each block of code before it runs. */
bool run_watch(struct sim *sim);

/* bus.c: memory-mapped peripherals */
bool bus_map(struct sim *sim);

/* system.c: RESETS, clocks, watchdog, timer, interrupts */
extern const struct peripheral ring_peripheral; /* ring.c */
extern const struct peripheral system_peripherals[];
extern const size_t system_peripheral_count;
void system_reset(struct sim *sim);
bool system_has_usb_clock(const struct sim *sim);
/* Alarms and the watchdog, up to now; and when the next of them comes, picoseconds. */
void system_advance(struct sim *sim);
uint64_t system_next(const struct sim *sim);

/* pins.c: pads, functions and SIO */
extern const struct peripheral pin_peripherals[];
extern const size_t pin_peripheral_count;
void pins_reset(struct sim *sim);
bool pins_read_sio(struct sim *sim, uint32_t offset, uint32_t *value);
bool pins_write_sio(struct sim *sim, uint32_t offset, uint32_t value);

/* pio.c: what its machines have done by now; when one of them does something next, picoseconds;
 * its interrupt, as it is. */
extern const struct peripheral pio_peripheral;
void pio_reset(struct sim *sim);
void pio_advance(struct sim *sim);
uint64_t pio_next(const struct sim *sim);
void pio_interrupt(struct sim *sim);

/* pwm.c */
extern const struct peripheral pwm_peripheral;
void pwm_reset(struct sim *sim);

/* shown.c: the pins that light something and are SIO's or PWM's are as they are now. And: PIO
 * has changed PIN, AT that moment. */
void shown_look(struct sim *sim);
void shown_by_pio(struct sim *sim, unsigned pin, bool high, uint64_t at);

/* usb.c */
extern const struct peripheral usb_peripheral;
void usb_state_reset(struct sim *sim);
bool usb_read_memory(struct sim *sim, uint32_t offset, unsigned size, uint32_t *value);
bool usb_write_memory(struct sim *sim, uint32_t offset, unsigned size, uint32_t value);

/* rom.c: a ROM of ours in place of the chip's, which has the same doors (2.8). */
#define ROM_SIZE   0x4000u
#define ROM_TO_USB 0x200u
#define ROM_FLASH  0x240u /* from here on, four bytes each */
void rom_make(uint8_t rom[ROM_SIZE]);
/* After a reset it can be read again. */
void rom_show_flash(struct sim *sim);
/* The function AT that address, if there is one, is carried out. */
void rom_run(struct sim *sim, uint32_t address);
/* The second stage of booting, checked and copied; the address where it begins. 0: it is bad.
 */
uint32_t rom_boot(struct sim *sim);

#endif
