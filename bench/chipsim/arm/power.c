/* power.c - after power-on, the button or the watchdog: everything begins anew but RAM, the
 * watchdog's scratch, and time. */
#include "arm.h"

void arm_reset(struct sim *sim, uint32_t reason, uint32_t cause)
{
    struct chip *chip = sim->chip;
    uint32_t start;

    chip->reset_reason = reason;
    chip->reset_cause = cause;
    chip->reset_wanted = false;
    chip->sleeps = false;
    chip->counted = false;
    if (chip->flash_hidden) {
        rom_show_flash(sim);
    }
    chip->end = NULL;
    system_reset(sim);
    pins_reset(sim);
    usb_state_reset(sim);
    pio_reset(sim);
    pwm_reset(sim);
    start = rom_boot(sim);
    if (start == 0) {
        arm_end(sim, "bootloader", "the second stage of booting has a wrong checksum");
        return;
    }
    start |= 1u;
    uc_reg_write(chip->uc, UC_ARM_REG_PC, &start);
}
