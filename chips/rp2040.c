/* rp2040.c - Raspberry Pi RP2040, datasheet of 2024-10-15: pins (section 1.4), memories (2.6),
 * start (2.8). Its flash is a chip of its own; 2 MiB is the least that is used. */
#include "uvrek/chips.h"

#define GPIO(number)                                                                           \
    {                                                                                          \
        "GP" #number, 'G', number                                                              \
    }

static const struct uvk_pin pins[] = {
    GPIO(0),  GPIO(1),  GPIO(2),  GPIO(3),  GPIO(4),  GPIO(5),  GPIO(6),  GPIO(7),
    GPIO(8),  GPIO(9),  GPIO(10), GPIO(11), GPIO(12), GPIO(13), GPIO(14), GPIO(15),
    GPIO(16), GPIO(17), GPIO(18), GPIO(19), GPIO(20), GPIO(21), GPIO(22), GPIO(23),
    GPIO(24), GPIO(25), GPIO(26), GPIO(27), GPIO(28), GPIO(29),
};

static const struct uvk_reserved_pin reserved[] = {
    {"RUN", "it restarts the chip"},
    {"XIN", "the crystal is on it"},
    {"XOUT", "the crystal is on it"},
    {"USB_DP", "the USB cable is on it"},
    {"USB_DM", "the USB cable is on it"},
    {"QSPI_SS", "the flash memory is on it"},
    {"QSPI_SCLK", "the flash memory is on it"},
    {"SWCLK", "it is for debuggers"},
    {"SWD", "it is for debuggers"},
    {NULL, NULL},
};

static const char *const boots[] = {"uf2", NULL};

const struct uvk_chip uvk_chip_rp2040 = {
    .name = "rp2040",
    .title = "RP2040",
    .compiler = "arm-none-eabi-gcc",
    .compiler_chip = "cortex-m0plus",
    .port = NULL,
    .clock_hz = 125000000,
    .flash = 2097152,
    .pulls_down = true,
    .bootloader = 0, /* it is in a ROM of its own */
    .page = 256,
    .ram = 270336,
    .ram_start = 0x20000000,
    .stack = 4096,
    .line_bits = 30,
    .boots = boots,
    .pins = pins,
    .pin_count = sizeof pins / sizeof pins[0],
    .reserved = reserved,
};
