/* firmware.h - from a program to machine code for its chip, and the files that carry it.
 *
 * 1. uvk_build compiles engine, port and image with the chip's compiler. Objects are kept
 *    by the hash of everything that went into them, so only what changed is compiled.
 * 2. What the keymap does not use is not compiled: the configuration is derived from the
 *    image.
 * 3. Files are written whole or not at all.
 */
#ifndef UVREK_FIRMWARE_H
#define UVREK_FIRMWARE_H

#include "uvrek/problem.h"
#include "uvrek/text.h"

#ifdef __cplusplus
extern "C" {
#endif

struct uvk_build_options {
    const char *folder; /* where NAME.hex, NAME.bin and NAME.elf go; NULL: nowhere */
    const char *name;
    const char *cache; /* folder of kept objects; NULL: the user's cache folder */
};

/* What a part of the firmware takes, in bytes. */
struct uvk_part {
    const char *name;
    uint32_t flash, ram;
};

struct uvk_firmware {
    uint8_t *code;                        /* from address 0 on */
    size_t size;                          /* bytes of flash that are used */
    size_t flash_room;                    /* bytes of flash before the bootloader */
    size_t ram_used;                      /* variables */
    size_t stack;                         /* bytes that the port wants for the stack */
    size_t ram_room;                      /* bytes of RAM of the chip */
    GArray *parts;                        /* of struct uvk_part, largest first */
    unsigned compiled;                    /* files that had to be compiled */
    bool linked;                          /* it had to be linked */
    char *elf;                            /* the file with the symbols, in the cache */
    char *hex_path, *bin_path, *elf_path; /* what was written; NULL if nothing was */
};

/* Is there a firmware for BOARD? False: *ERROR says for what there is none. */
bool uvk_can_build(const struct uvk_board *board, GError **error);

/* Build PROGRAM (without errors, with board and keymap). NULL: *ERROR. */
struct uvk_firmware *uvk_build(struct uvk_program *program,
                               const struct uvk_build_options *options, GError **error);

/* The same, but one that is too large for its chip comes back as well, and nothing is written:
 * to show what takes the room. */
struct uvk_firmware *uvk_build_of_any_size(struct uvk_program *program,
                                           const struct uvk_build_options *options,
                                           GError **error);
void uvk_firmware_free(struct uvk_firmware *firmware);

/* What the firmware would be smaller by, in bytes, without a feature that the keymap uses. */
struct uvk_cost {
    const char *feature;
    uint32_t flash, ram;
};

/* All of them, of struct uvk_cost, largest first; freed with g_array_free. Each is measured by
 * building without it, which takes a second or two for each the first time. NULL: *ERROR. */
GArray *uvk_build_costs(struct uvk_program *program, const struct uvk_build_options *options,
                        GError **error);

/* About how many bytes of flash the firmware of PROGRAM with IMAGE will take, without building
 * it: within 5 %. 0: there is no firmware for its board yet. */
size_t uvk_estimate(const struct uvk_program *program, const uint8_t *image, uint16_t size);

/* The configuration header for IMAGE on the program's board. Freed with g_free. */
char *uvk_config_text(const struct uvk_program *program, const uint8_t *image, uint16_t size);

/* ---- what building needs ---------------------------------------------------------- */

struct uvk_need {
    const char *name;    /* "avr-gcc" */
    const char *what;    /* what it is for */
    const char *package; /* Debian's package */
    bool there;
    char *version; /* NULL if it is not there or does not tell */
};

/* All needs of building for CHIP and flashing it; NULL: of all chips. Freed with
 * uvk_needs_free. */
GArray *uvk_needs(const struct uvk_chip *chip); /* of struct uvk_need */
void uvk_needs_free(GArray *needs);

/* ---- files ------------------------------------------------------------------------ */

/* Intel HEX (Intel, Hexadecimal Object File Format, 1988): records of 16 bytes, types 00,
 * 01 and 04. The text is freed with g_free. */
char *uvk_hex_write(const uint8_t *bytes, size_t size);

/* The bytes of a HEX text from address 0 on, gaps as 0xFF; at most MOST bytes. NULL and
 * *ERROR, with the line, if it is broken. */
uint8_t *uvk_hex_read(const char *text, size_t most, size_t *size, GError **error);

/* A UF2 file (Microsoft, UF2 File Format): blocks of 512 bytes that say where their bytes go.
 */
struct uvk_uf2 {
    uint32_t family;  /* which chips it is for; 0: it does not say */
    uint32_t address; /* of the first byte, as the chip counts */
    uint8_t *bytes;   /* end to end */
    size_t size;
};
#define UVK_UF2_BLOCK 512u

/* The blocks of SIZE bytes that go to ADDRESS, 256 a block, the last one filled with zeros;
 * freed with g_free, their size into *BLOCKS. */
uint8_t *uvk_uf2_write(const uint8_t *bytes, size_t size, uint32_t address, uint32_t family,
                       size_t *blocks);

/* What a UF2 file has for the chip's main flash, at most MOST bytes; blocks for elsewhere are
 * passed over. False and *ERROR, with the number of the block, if a block is damaged, missing,
 * there twice or of another family than the first, or if there are gaps. UF2->bytes are freed
 * with g_free. */
bool uvk_uf2_read(const uint8_t *file, size_t size, size_t most, struct uvk_uf2 *uf2,
                  GError **error);

/* The folder with the sources of the firmware; NULL and *ERROR if it cannot be found. It
 * is UVREK_HOME, or beside this program, or where Uvrek was installed. */
char *uvk_source_folder(GError **error);

#ifdef __cplusplus
}
#endif

#endif
