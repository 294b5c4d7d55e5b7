/* atmega32u4.c - Atmel ATmega32U4, datasheet 7766: pins (section 1), memories (5),
 * signature (28.3). */
#include "uvrek/chips.h"

/* What else a pin is: section 10.3. */
static const struct uvk_pin pins[] = {
    {"B0", 'B', 0, "SPI select (SS)"},
    {"B1", 'B', 1, "SPI clock (SCLK)"},
    {"B2", 'B', 2, "SPI data in (MOSI)"},
    {"B3", 'B', 3, "SPI data out (MISO)"},
    {"B4", 'B', 4, "analog input ADC11"},
    {"B5", 'B', 5, "timer output OC1A, analog input ADC12"},
    {"B6", 'B', 6, "timer outputs OC1B and OC4B, analog input ADC13"},
    {"B7", 'B', 7, "timer outputs OC0A and OC1C"},
    {"C6", 'C', 6, "timer output OC3A"},
    {"C7", 'C', 7, "timer output OC4A"},
    {"D0", 'D', 0, "I2C clock (SCL), timer output OC0B"},
    {"D1", 'D', 1, "I2C data (SDA)"},
    {"D2", 'D', 2, "serial line in (RXD1)"},
    {"D3", 'D', 3, "serial line out (TXD1)"},
    {"D4", 'D', 4, "analog input ADC8"},
    {"D5", 'D', 5, "serial clock (XCK1)"},
    {"D6", 'D', 6, "analog input ADC9"},
    {"D7", 'D', 7, "timer output OC4D, analog input ADC10"},
    {"E2", 'E', 2, "low at reset it starts the bootloader (HWB)"},
    {"E6", 'E', 6, "comparator input AIN0"},
    {"F0", 'F', 0, "analog input ADC0"},
    {"F1", 'F', 1, "analog input ADC1"},
    {"F4", 'F', 4, "analog input ADC4, debugger (TCK)"},
    {"F5", 'F', 5, "analog input ADC5, debugger (TMS)"},
    {"F6", 'F', 6, "analog input ADC6, debugger (TDO)"},
    {"F7", 'F', 7, "analog input ADC7, debugger (TDI)"},
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

/* Beside the first two, each pays, tried one by one with keyboards of 12 and of 64 keys. */
static const char *const options[] = {
    "-mmcu=atmega32u4",
    "-Werror=addr-space-convert",
    "-mstrict-X",
    "-fno-guess-branch-probability",
    "-fno-inline-small-functions",
    "-fno-move-loop-invariants",
    "-fno-tree-dominator-opts",
    "-fno-tree-pre",
    "-mcall-prologues",
    "-fno-ipa-sra",
    "-fno-tree-scev-cprop",
    "-fno-ipa-icf",
    NULL,
};

static const char *const linker_options[] = {"-mrelax", NULL};

const struct uvk_chip uvk_chip_atmega32u4 = {
    .name = "atmega32u4",
    .title = "ATmega32U4",
    .compiler = "avr-gcc",
    .compiler_options = options,
    .linker_options = linker_options,
    .simulator = "avr",
    .port = "atmega32u4",
    .clock_hz = 16000000,
    .flash = 32768,
    .bootloader = 4096,
    .page = 128,
    .ram = 2560,
    .machine = 83,
    .call_type = 18,   /* R_AVR_CALL */
    .near_call = 4094, /* the instruction set's RCALL */
    .ram_at = 0x800000,
    .stack = 384,
    .vectors = 43,
    .signature = {0x1E, 0x95, 0x87},
    /* section 29.2 at 5 V: 0.7 V at 10 mA, 50 kOhm, 0.9 V and 1.9 V */
    .levels = {70, 50000, 180, 380},
    .line_bits = 32,
    .boots = boots,
    .link_sends = "D3",
    .link_receives = "D2",
    .link_speed_most = 500000,
    .bank = 512,
    .memory_piece = 1,
    .erases = 1,
    .check_rows = 1,
    .live_most = 352,
    .dfu_vendor = 0x03EB, /* document 7618, section 5.3 */
    .dfu_product = 0x2FF4,
    .pins = pins,
    .pin_count = sizeof pins / sizeof pins[0],
    .reserved = reserved,
};
