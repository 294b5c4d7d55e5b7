/* atmega32u4.c - Atmel ATmega32U4, datasheet 7766: pins (section 1), memories (5),
 * signature (28.3). */
#include "uvrek/chips.h"

static const struct uvk_pin pins[] = {
    {"B0", 'B', 0}, {"B1", 'B', 1}, {"B2", 'B', 2}, {"B3", 'B', 3}, {"B4", 'B', 4},
    {"B5", 'B', 5}, {"B6", 'B', 6}, {"B7", 'B', 7}, {"C6", 'C', 6}, {"C7", 'C', 7},
    {"D0", 'D', 0}, {"D1", 'D', 1}, {"D2", 'D', 2}, {"D3", 'D', 3}, {"D4", 'D', 4},
    {"D5", 'D', 5}, {"D6", 'D', 6}, {"D7", 'D', 7}, {"E2", 'E', 2}, {"E6", 'E', 6},
    {"F0", 'F', 0}, {"F1", 'F', 1}, {"F4", 'F', 4}, {"F5", 'F', 5}, {"F6", 'F', 6},
    {"F7", 'F', 7},
};

static const struct uvk_reserved_pin reserved[] = {
    {"RESET", "it restarts the chip"},
    {"XTAL1", "the crystal is on it"},
    {"XTAL2", "the crystal is on it"},
    {"UCAP", "USB's own supply is on it"},
    {"UVCC", "it supplies USB"},
    {"VBUS", "it senses the USB cable"},
    {"AREF", "it is the reference of the analog inputs"},
    {NULL, NULL},
};

static const char *const boots[] = {"serial", "dfu", NULL};

const struct uvk_chip uvk_chip_atmega32u4 = {
    .name = "atmega32u4",
    .title = "ATmega32U4",
    .compiler = "avr-gcc",
    .compiler_chip = "atmega32u4",
    .port = "atmega32u4",
    .clock_hz = 16000000,
    .flash = 32768,
    .bootloader = 4096,
    .page = 128,
    .ram = 2560,
    .ram_start = 0x100,
    .stack = 256,
    .signature = {0x1E, 0x95, 0x87},
    .line_bits = 32,
    .boots = boots,
    .pins = pins,
    .pin_count = sizeof pins / sizeof pins[0],
    .reserved = reserved,
};
