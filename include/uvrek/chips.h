/* chips.h - what Uvrek knows of each chip. Tables only. */
#ifndef UVREK_CHIPS_H
#define UVREK_CHIPS_H

#include <stdbool.h>
#include <stddef.h>
#include <stdint.h>

#ifdef __cplusplus
extern "C" {
#endif

#define UVK_PINS_MAX 32u /* that a chip has at the most */

struct uvk_pin {
    const char *name; /* as in the chip's datasheet */
    char port;        /* 'B'..'F' on AVR */
    uint8_t bit;
    const char *also; /* what else the datasheet has it for */
};

/* A pin that has a name and a purpose of its own. */
struct uvk_reserved_pin {
    const char *name, *why;
};

/* How its pins drive and read, as the datasheet has it at the worst. */
struct uvk_levels {
    unsigned driver_ohms;   /* of a pin that drives */
    unsigned pull_ohms;     /* of its weakest pull-up or pull-down */
    unsigned low_permille;  /* of the supply: what is surely read as low */
    unsigned high_permille; /* what is surely read as high */
};

struct uvk_chip {
    const char *name;     /* as the language says it */
    const char *title;    /* as its maker writes it */
    const char *compiler; /* the command that compiles for it */
    /* Which chip that compiler compiles for, and what makes its code smaller, beside -Os; what
     * its linker needs besides. NULL ends a list. */
    const char *const *compiler_options;
    const char *const *linker_options;
    const char *linker_script; /* in the port's folder; NULL: the compiler knows the chip */
    const char
        *simulator;   /* the program that runs its machine code is uvrek-chipsim-SIMULATOR */
    const char *port; /* folder under keyboard/ports/ */
    uint32_t clock_hz;
    uint32_t flash;      /* bytes, bootloader included */
    uint32_t bootloader; /* bytes at the end of flash that belong to the bootloader */
    uint32_t page;       /* bytes that are written at once */
    uint32_t ram;        /* bytes */
    uint16_t machine;    /* as ELF files name it (e_machine) */
    uint8_t call_type;   /* and a call (r_info); of no account where NEAR_CALL is 0 */
    uint16_t near_call;  /* bytes that a shorter call reaches either way; 0: all are alike */
    uint32_t flash_at;   /* where flash and RAM begin in files of its compiler */
    uint32_t ram_at;
    uint32_t stack;       /* bytes kept for the stack where it cannot be told from the code */
    uint8_t vectors;      /* interrupt vectors at the start of AVR code; 0: no AVR */
    uint8_t signature[3]; /* as the serial bootloader tells it, high byte first */
    struct uvk_levels levels;
    bool pulls_down;          /* it can hold an open pin at ground */
    uint8_t line_bits;        /* the most sense pins that one scan can read */
    const char *const *boots; /* bootloaders that it is used with; NULL ends the list */
    /* The pins of its serial line, where nothing else can be one; NULL: any pin can. One wire
     * is on the pin that receives. And the most bits a second that its port keeps up with. */
    const char *link_sends, *link_receives;
    uint32_t link_speed_most;
    /* Memory that outlives the power: of each of its two banks, what it takes at once, what is
     * erased at once, in bytes; and nothing else runs while that is done. In flash, it is the
     * end of it. */
    uint16_t bank, memory_piece, erases;
    bool stands_still, memory_in_flash;
    uint16_t check_rows; /* of live changes, that even the longest pass leaves the time for */
    uint16_t live_most;  /* bytes of the most live changes that a bank has room for */
    uint32_t uf2_family; /* as UF2 files name it; 0: its bootloaders take none */
    const char
        *drive; /* the Board-ID and the label of its bootloader's drive; NULL: it has none */
    uint16_t dfu_vendor; /* of the DFU bootloader that its maker puts into it; 0: none */
    uint16_t dfu_product;
    const struct uvk_pin *pins;
    size_t pin_count;
    const struct uvk_reserved_pin *reserved; /* a NULL name ends the list */
};

/* All chips; their number into *COUNT. */
const struct uvk_chip *const *uvk_chips(size_t *count);
const struct uvk_chip *uvk_chip_named(const char *name); /* NULL: unknown */
const struct uvk_pin *uvk_chip_pin(const struct uvk_chip *chip, const char *name);

#ifdef __cplusplus
}
#endif

#endif
