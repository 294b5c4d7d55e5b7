/* rp2040.c - Raspberry Pi RP2040, datasheet of 2024-10-15: pins (section 1.4), memories (2.6),
 * start (2.8). Its flash is a chip of its own; 2 MiB is the least that is used. */
#include "uvrek/chips.h"

/* What else a pin is: section 1.4.3. */
static const struct uvk_pin pins[] = {
    {"GP0", 'G', 0, "PWM, serial line out (UART0 TX)"},
    {"GP1", 'G', 1, "PWM, serial line in (UART0 RX)"},
    {"GP2", 'G', 2, "PWM"},
    {"GP3", 'G', 3, "PWM"},
    {"GP4", 'G', 4, "PWM, serial line out (UART1 TX)"},
    {"GP5", 'G', 5, "PWM, serial line in (UART1 RX)"},
    {"GP6", 'G', 6, "PWM"},
    {"GP7", 'G', 7, "PWM"},
    {"GP8", 'G', 8, "PWM, serial line out (UART1 TX)"},
    {"GP9", 'G', 9, "PWM, serial line in (UART1 RX)"},
    {"GP10", 'G', 10, "PWM"},
    {"GP11", 'G', 11, "PWM"},
    {"GP12", 'G', 12, "PWM, serial line out (UART0 TX)"},
    {"GP13", 'G', 13, "PWM, serial line in (UART0 RX)"},
    {"GP14", 'G', 14, "PWM"},
    {"GP15", 'G', 15, "PWM"},
    {"GP16", 'G', 16, "PWM, serial line out (UART0 TX)"},
    {"GP17", 'G', 17, "PWM, serial line in (UART0 RX)"},
    {"GP18", 'G', 18, "PWM"},
    {"GP19", 'G', 19, "PWM"},
    {"GP20", 'G', 20, "PWM, serial line out (UART1 TX)"},
    {"GP21", 'G', 21, "PWM, serial line in (UART1 RX)"},
    {"GP22", 'G', 22, "PWM"},
    {"GP23", 'G', 23, "PWM"},
    {"GP24", 'G', 24, "PWM, serial line out (UART1 TX)"},
    {"GP25", 'G', 25, "PWM, serial line in (UART1 RX)"},
    {"GP26", 'G', 26, "PWM, analog input ADC0"},
    {"GP27", 'G', 27, "PWM, analog input ADC1"},
    {"GP28", 'G', 28, "PWM, serial line out (UART0 TX), analog input ADC2"},
    {"GP29", 'G', 29, "PWM, serial line in (UART0 RX), analog input ADC3"},
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

static const char *const options[] = {
    "-mcpu=cortex-m0plus", "-mthumb", "-masm-syntax-unified",
    "-flinker-output=nolto-rel", /* engine and port joined become machine code at once */
    NULL};
static const char *const linker_options[] = {"-nostartfiles", "--specs=nano.specs",
                                             "-Wl,--no-enum-size-warning", NULL};

const struct uvk_chip uvk_chip_rp2040 = {
    .name = "rp2040",
    .title = "RP2040",
    .compiler = "arm-none-eabi-gcc",
    .compiler_options = options,
    .linker_options = linker_options,
    .linker_script = "memory.ld",
    .simulator = "arm",
    .port = "rp2040",
    .clock_hz = 125000000,
    .flash = 2097152,
    .pulls_down = true,
    /* section 5.5.3.4 at 3.3 V: 0.5 V at 4 mA, 80 kOhm, 0.8 V and 2.0 V */
    .levels = {125, 80000, 242, 606},
    .bootloader = 0, /* it is in a ROM of its own */
    .page = 256,
    .ram = 270336,
    .machine = 40,
    .flash_at = 0x10000000,
    .ram_at = 0x20000000,
    .stack = 4096,
    .line_bits = 30,
    .boots = boots,
    .link_speed_most = 1000000,
    .bank = 4096,
    .memory_piece = 32,
    .erases = 4096,
    .check_rows = 4,
    .live_most = 3072,
    .stands_still = true,
    .memory_in_flash = true,
    .uf2_family = 0xE48BFF56,
    .drive = "RPI-RP2", /* section 2.8.5 */
    .pins = pins,
    .pin_count = sizeof pins / sizeof pins[0],
    .reserved = reserved,
};
